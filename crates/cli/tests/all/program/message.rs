use crate::program::folder::{Folder, Run, contract};

/// The message, read as XML: each element by its path of local names, with its text.
fn leaves(run: &Run) -> Vec<(String, String)> {
    let document =
        roxmltree::Document::parse(&run.out).unwrap_or_else(|error| panic!("{error}\n{}", run.out));
    let mut found = Vec::new();
    for node in
        document.descendants().filter(|node| node.is_element() && !node.children().any(|c| c.is_element()))
    {
        let mut names: Vec<&str> =
            node.ancestors().filter(|a| a.is_element()).map(|a| a.tag_name().name()).collect();
        names.reverse();
        found.push((names.join("/"), node.text().unwrap_or("").to_owned()));
    }
    found
}

#[test]
fn every_side_of_every_operation_of_the_demo() {
    let folder = Folder::with_demo();
    for operation in
        ["requestPilot", "amendBoarding", "listBoardings", "declareCargo", "forecastTide", "settleDues"]
    {
        for side in ["input", "output"] {
            let run =
                folder.run(&format!("message saltmere/v1/pilotage.wsdl {operation} --side {side}")).ends(0);
            assert!(
                leaves(&run).iter().all(|(path, text)| !text.contains('?') && path.starts_with("Envelope/"))
            );
            assert!(!run.out.contains("<!--"));
        }
    }
}

#[test]
fn values_are_typed_and_plausible() {
    let folder = Folder::with_demo();
    let run = folder.run("message saltmere/v1/pilotage.wsdl requestPilot").ends(0);
    let found = leaves(&run);
    let value = |path: &str| {
        let path = format!("Envelope/{path}");
        found.iter().find(|(known, _)| *known == path).map(|(_, text)| text.as_str())
    };
    let vessel = "Body/requestPilot/vessel";
    assert_eq!(value("Header/AgentCredentials/agent"), Some("tolland-reeve"));
    assert_eq!(value(&format!("{vessel}/callSign")), Some("MHRS7"));
    assert_eq!(value(&format!("{vessel}/name")), Some("Marsh Harrier"));
    assert_eq!(value(&format!("{vessel}/dimensions/draught")), Some("9.4"));
    assert_eq!(value("Body/requestPilot/eta"), Some("2026-03-14T06:30:00Z"));
    assert_eq!(value("Body/requestPilot/agent/contact/email"), Some("duty@agents.saltmere.example"));
    assert_eq!(found.iter().filter(|(path, _)| path.ends_with("hazard/class")).count(), 2);
    assert!(run.err.contains("POST https://pilotage.saltmere.example/1"));
    assert!(run.err.contains("SOAPAction: \"urn:saltmere:pilotage:1:requestPilot\""));
}

#[test]
fn names_are_in_the_namespaces_of_their_schemas() {
    let folder = Folder::with_demo();
    let run = folder.run("message saltmere/v1/pilotage.wsdl requestPilot").ends(0);
    let document = roxmltree::Document::parse(&run.out).unwrap();
    let namespace = |name: &str| {
        let node =
            document.descendants().find(|node| node.has_tag_name(name) || node.tag_name().name() == name);
        node.unwrap().tag_name().namespace().unwrap_or("").to_owned()
    };
    assert_eq!(namespace("vessel"), "urn:saltmere:pilotage:1");
    assert_eq!(namespace("callSign"), "urn:saltmere:vessel:1");
    assert_eq!(namespace("Body"), "http://schemas.xmlsoap.org/soap/envelope/");
}

#[test]
fn faults_and_soap_versions() {
    let folder = Folder::with_demo();
    let message = |rest: &str| folder.run(&format!("message saltmere/v1/pilotage.wsdl {rest}"));
    let run = message("requestPilot --fault NoPilotFree").ends(0);
    assert!(leaves(&run).contains(&(
        "Envelope/Body/Fault/detail/NoPilotFree/nextFree".to_owned(),
        "2026-03-14T06:30:00Z".to_owned()
    )));
    let run = message("operation/requestPilot --fault VesselRefused --port PilotagePort12 --format json")
        .ends(0)
        .json();
    assert_eq!(
        (&run["soap"], &run["side"], &run["status"]),
        (&"1.2".into(), &"fault VesselRefused".into(), &500.into())
    );
    assert!(run["envelope"].as_str().unwrap().contains("<env:Detail>"));
    let run = message("settleDues --side fault").ends(0);
    assert!(run.out.contains("<UnknownBooking"));
    let run = message("settleDues --port PilotagePort12 --format json").ends(0).json();
    let content_type = run["headers"][0]["value"].as_str().unwrap();
    assert!(content_type.contains("action=\"urn:saltmere:pilotage:1:settleDues\""), "{content_type}");
}

#[test]
fn what_is_asked_for_must_be_there() {
    let folder = Folder::with_demo();
    let message = |rest: &str| folder.run(&format!("message saltmere/v1/pilotage.wsdl {rest}")).ends(2);
    assert!(
        message("requestPilots")
            .complains("operation/requestPilots")
            .err
            .contains("operation/requestPilot\"?")
    );
    assert!(
        message("requestPilot --side fault")
            .complains("has 2 faults")
            .err
            .contains("NoPilotFree, VesselRefused")
    );
    message("requestPilot --fault NoPilotsFree").complains("no fault \"NoPilotsFree\"");
    message("reportPassage --side output").complains("the operation has no output");
    message("listPilots --side fault").complains("the operation has no faults");
    assert!(
        message("listPilots --port Port")
            .complains("no port \"Port\"")
            .err
            .contains("PilotagePort, PilotagePort12")
    );
    message("type/Agent").complains("\"type/Agent\" is no operation");
}

#[test]
fn rpc_style_wraps_the_parts() {
    let folder = Folder::empty();
    let rpc = [
        ("style=\"document\"", "style=\"rpc\""),
        ("use=\"literal\"/>", "use=\"literal\" namespace=\"urn:saltmere:rpc\"/>"),
        (
            "<wsdl:part name=\"parameters\" element=\"tns:nextTide\"/>",
            "<wsdl:part name=\"gauge\" type=\"tns:Gauge\"/><wsdl:part name=\"day\" type=\"xs:date\"/>",
        ),
        (
            "<wsdl:part name=\"parameters\" element=\"tns:nextTideResponse\"/>",
            "<wsdl:part name=\"tide\" type=\"tns:Tide\"/>",
        ),
    ];
    folder.write("tides.wsdl", contract(&rpc));
    let run = folder.run("message tides.wsdl nextTide").ends(0);
    let names: Vec<String> = leaves(&run).into_iter().map(|(path, _)| path).collect();
    assert_eq!(names, ["Envelope/Body/nextTide/gauge", "Envelope/Body/nextTide/day"]);
    let document = roxmltree::Document::parse(&run.out).unwrap();
    let gauge = document.descendants().find(|node| node.tag_name().name() == "gauge").unwrap();
    assert_eq!(gauge.tag_name().namespace(), None);
    assert_eq!(gauge.parent().unwrap().tag_name().namespace(), Some("urn:saltmere:rpc"));
    let run = folder.run("message tides.wsdl nextTide --side output").ends(0);
    assert!(run.out.contains("nextTideResponse"));
    let reply = roxmltree::Document::parse(&run.out).unwrap();
    let high = reply.descendants().find(|node| node.tag_name().name() == "high").unwrap();
    assert_eq!(high.tag_name().namespace(), Some("urn:saltmere:tides:1"));
}

#[test]
fn what_the_schema_asks_for_is_kept() {
    let folder = Folder::empty();
    let fields = r#"
            <xs:element name="twelve"><xs:simpleType><xs:restriction base="xs:string"><xs:length value="12"/></xs:restriction></xs:simpleType></xs:element>
            <xs:element name="tight"><xs:simpleType><xs:restriction base="xs:decimal"><xs:minExclusive value="4.1"/><xs:maxInclusive value="4.2"/></xs:restriction></xs:simpleType></xs:element>
            <xs:element name="below"><xs:simpleType><xs:restriction base="xs:int"><xs:maxExclusive value="-7"/></xs:restriction></xs:simpleType></xs:element>
            <xs:element name="hex"><xs:simpleType><xs:restriction base="xs:hexBinary"><xs:length value="3"/></xs:restriction></xs:simpleType></xs:element>
            <xs:element name="three"><xs:simpleType><xs:restriction><xs:simpleType><xs:list itemType="xs:int"/></xs:simpleType><xs:length value="3"/></xs:restriction></xs:simpleType></xs:element>
            <xs:element name="either"><xs:simpleType><xs:union memberTypes="xs:date xs:int"/></xs:simpleType></xs:element>
            <xs:element name="fixed" type="xs:string" fixed="as ever"/>
            <xs:element name="many" type="xs:boolean" minOccurs="3" maxOccurs="5"/>
            <xs:element name="pick"><xs:complexType><xs:choice><xs:element name="left" type="xs:int"/><xs:element name="right" type="xs:int"/></xs:choice></xs:complexType></xs:element>
            <xs:any processContents="lax" namespace="urn:saltmere:other"/>
"#;
    let gauge = "            <xs:element name=\"gauge\" type=\"tns:Gauge\"/>\n";
    folder.write("tides.wsdl", contract(&[(gauge, fields)]));
    let found = leaves(&folder.run("message tides.wsdl nextTide").ends(0));
    let all = |name: &str| -> Vec<&str> {
        let end = format!("/{name}");
        found.iter().filter(|(path, _)| path.ends_with(&end)).map(|(_, text)| text.as_str()).collect()
    };
    assert_eq!(all("twelve")[0].chars().count(), 12);
    let tight: f64 = all("tight")[0].parse().unwrap();
    assert!(tight > 4.1 && tight <= 4.2, "{tight}");
    assert!(all("below")[0].parse::<i32>().unwrap() < -7);
    assert_eq!(all("hex")[0].len(), 6);
    assert_eq!(all("three")[0].split(' ').count(), 3);
    assert_eq!(all("either"), ["2026-03-14"]);
    assert_eq!(all("fixed"), ["as ever"]);
    assert_eq!(all("many").len(), 3);
    assert_eq!((all("left").len(), all("right").len()), (1, 0));
    assert_eq!(all("anything").len(), 1);
}

#[test]
fn recursion_ends_where_it_may_and_is_refused_where_it_must_not() {
    let folder = Folder::empty();
    let height = "<xs:element name=\"height\" type=\"xs:decimal\" minOccurs=\"0\"/>";
    folder.write(
        "tides.wsdl",
        contract(&[(height, "<xs:element name=\"later\" type=\"tns:Tide\" minOccurs=\"0\"/>")]),
    );
    let run = folder.run("message tides.wsdl nextTide --side output").ends(0);
    assert!(!run.out.contains("later"), "{}", run.out);
    folder.write("tides.wsdl", contract(&[(height, "<xs:element name=\"later\" type=\"tns:Tide\"/>")]));
    folder
        .run("message tides.wsdl nextTide --side output")
        .ends(2)
        .complains("every message would be endless");
}

#[test]
fn abstract_types_and_substitution_groups_are_filled() {
    let folder = Folder::empty();
    let changes = [(
        "<xs:complexType name=\"Tide\">",
        "<xs:complexType name=\"SpringTide\"><xs:complexContent><xs:extension base=\"tns:Tide\"><xs:sequence><xs:element name=\"moon\" type=\"xs:date\"/><xs:element ref=\"tns:mark\"/></xs:sequence></xs:extension></xs:complexContent></xs:complexType><xs:element name=\"mark\" abstract=\"true\"/><xs:element name=\"post\" type=\"xs:int\" substitutionGroup=\"tns:mark\"/><xs:complexType name=\"Tide\" abstract=\"true\">",
    )];
    folder.write("tides.wsdl", contract(&changes));
    let run = folder.run("message tides.wsdl nextTide --side output").ends(0);
    let document = roxmltree::Document::parse(&run.out).unwrap();
    let reply = document.descendants().find(|node| node.tag_name().name() == "nextTideResponse").unwrap();
    let ty = reply.attribute(("http://www.w3.org/2001/XMLSchema-instance", "type")).unwrap();
    assert!(ty.ends_with("SpringTide"), "{}", run.out);
    assert!(run.out.contains("<post>12</post>"), "{}", run.out);
}

#[test]
fn what_does_not_travel_by_http_has_no_http_around_it() {
    let folder = Folder::empty();
    let mail = [("http://schemas.xmlsoap.org/soap/http", "urn:saltmere:mail")];
    folder.write("tides.wsdl", contract(&mail));
    let run = folder.run("message tides.wsdl nextTide").ends(0);
    assert!(run.err.contains("by urn:saltmere:mail to "), "{}", run.err);
    assert!(!run.err.contains("POST"), "{}", run.err);
    folder
        .run("message tides.wsdl nextTide --as http")
        .ends(2)
        .complains("the binding sends it by urn:saltmere:mail");
}

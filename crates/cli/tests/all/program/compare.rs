use serde_json::Value;

use crate::program::folder::{Folder, contract};

/// The comparison of the sound contract with a changed one: verdict, then rule and verdict of each change.
fn compared(changes: &[(&str, &str)], options: &str) -> (String, Vec<(String, String)>) {
    compared_from(&[], changes, options)
}

fn compared_from(
    old: &[(&str, &str)],
    new: &[(&str, &str)],
    options: &str,
) -> (String, Vec<(String, String)>) {
    let folder = Folder::empty();
    folder.write("old.wsdl", contract(old));
    folder.write("new.wsdl", contract(new));
    let run = folder.run(&format!("compare old.wsdl new.wsdl --format json{options}"));
    let json = run.json();
    let text = |value: &Value| value.as_str().unwrap().to_owned();
    assert_eq!(run.status, i32::from(json["verdict"] == "breaks"));
    let changes = json["changes"].as_array().unwrap();
    (text(&json["verdict"]), changes.iter().map(|c| (text(&c["rule"]), text(&c["verdict"]))).collect())
}

/// One change, its verdict on a request, and the verdict when the versions are swapped.
#[track_caller]
fn judges(from: &str, to: &str, expected: (&str, &str), back: (&str, &str)) {
    let one = |rule: &str, verdict: &str| (verdict.to_owned(), vec![(rule.to_owned(), verdict.to_owned())]);
    assert_eq!(compared(&[(from, to)], ""), one(expected.0, expected.1));
    assert_eq!(compared_from(&[(from, to)], &[], ""), one(back.0, back.1));
}

/// An element of the request, and one of the reply.
const ASKED: &str = "<xs:element name=\"gauge\" type=\"tns:Gauge\"/>";
const HIGH: &str = "<xs:element name=\"high\" type=\"xs:dateTime\"/>";
const HEIGHT: &str = "<xs:element name=\"height\" type=\"xs:decimal\" minOccurs=\"0\"/>";

#[test]
fn a_contract_against_itself_has_not_changed() {
    assert_eq!(compared(&[], ""), ("keeps".to_owned(), vec![]));
    let folder = Folder::with_demo();
    for version in ["v1", "v2", "v3"] {
        let file = format!("saltmere/{version}/pilotage.wsdl");
        folder
            .run(&format!("compare {file} {file}"))
            .ends(0)
            .says("nothing that consumers can see has changed");
    }
}

#[test]
fn the_demo_versions() {
    let folder = Folder::with_demo();
    let run = folder.run("compare saltmere/v1/pilotage.wsdl saltmere/v2/pilotage.wsdl").ends(0);
    run.says("keeps  all that consumers of the old version do still works").lacks("breaks").lacks("bends");
    let run = folder.run("compare saltmere/v2/pilotage.wsdl saltmere/v3/pilotage.wsdl").ends(1);
    run.says("breaks 5 of 11 operations no longer work as they did")
        .says("breaks type/BoardingPoint: \"outer anchorage\" is no longer allowed")
        .says("in requestPilot (input), amendBoarding (input), estimateDues (input)")
        .says("breaks type/Boarding/assignedPilot: \"pilot\" is now \"assignedPilot\"")
        .says("breaks element/PortClearance: the header \"PortClearance\" must now be sent")
        .says("breaks type/PageSize: the value may now go up to 100, not 500")
        .says("- type PageSize = int range 1..500")
        .says("saltmere/v2/pilotage.wsdl:102:28 -> saltmere/v3/pilotage.wsdl:101:28")
        .says("bends  type/Hazard/packing: \"packing\" is new, and may be left out");
}

#[test]
fn a_request_may_be_loosened() {
    let optional = "<xs:element name=\"gauge\" type=\"tns:Gauge\" minOccurs=\"0\"/>";
    judges(ASKED, optional, ("occurrence-loosened", "keeps"), ("occurrence-tightened", "breaks"));
    let many = "<xs:element name=\"gauge\" type=\"tns:Gauge\" maxOccurs=\"4\"/>";
    judges(ASKED, many, ("occurrence-loosened", "keeps"), ("occurrence-tightened", "breaks"));
    let nil = "<xs:element name=\"gauge\" type=\"tns:Gauge\" nillable=\"true\"/>";
    judges(ASKED, nil, ("nil-allowed", "keeps"), ("nil-refused", "breaks"));
    let more = format!("{ASKED}<xs:element name=\"day\" type=\"xs:date\" minOccurs=\"0\"/>");
    judges(ASKED, &more, ("element-added", "keeps"), ("element-removed", "breaks"));
    let must = format!("{ASKED}<xs:element name=\"day\" type=\"xs:date\"/>");
    judges(ASKED, &must, ("element-added", "breaks"), ("element-removed", "breaks"));
    let wider = "<xs:element name=\"gauge\" type=\"xs:string\"/>";
    let (verdict, changes) = compared(&[(ASKED, wider)], "");
    assert_eq!((verdict.as_str(), changes[0].0.as_str()), ("keeps", "value-added"));
}

#[test]
fn a_reply_may_be_tightened() {
    let must = "<xs:element name=\"height\" type=\"xs:decimal\"/>";
    judges(HEIGHT, must, ("occurrence-tightened", "keeps"), ("occurrence-loosened", "breaks"));
    let integer = "<xs:element name=\"height\" type=\"xs:integer\" minOccurs=\"0\"/>";
    let (verdict, _) = compared(&[(HEIGHT, integer)], "");
    assert_eq!(verdict, "keeps");
    let (verdict, _) = compared_from(&[(HEIGHT, integer)], &[], "");
    assert_eq!(verdict, "breaks");
    let ranged = "<xs:element name=\"height\" minOccurs=\"0\"><xs:simpleType><xs:restriction base=\"xs:decimal\"><xs:maxInclusive value=\"12\"/></xs:restriction></xs:simpleType></xs:element>";
    judges(HEIGHT, ranged, ("range-narrowed", "keeps"), ("range-widened", "breaks"));
    judges(
        "<xs:attribute name=\"gauge\" type=\"tns:Gauge\"/>",
        "<xs:attribute name=\"gauge\" type=\"tns:Gauge\" use=\"required\"/>",
        ("attribute-required", "keeps"),
        ("attribute-optional", "breaks"),
    );
}

#[test]
fn what_is_new_in_a_reply_depends_on_the_reader() {
    let more = format!("{HEIGHT}<xs:element name=\"low\" type=\"xs:dateTime\" minOccurs=\"0\"/>");
    let verdict = |options: &str| compared(&[(HEIGHT, &more)], options).0;
    assert_eq!(verdict(""), "bends");
    assert_eq!(verdict(" --reader strict"), "breaks");
    assert_eq!(verdict(" --reader lenient"), "keeps");
}

#[test]
fn a_renamed_element_is_said_to_be_renamed() {
    let renamed = "<xs:element name=\"highWater\" type=\"xs:dateTime\"/>";
    judges(HIGH, renamed, ("element-renamed", "breaks"), ("element-renamed", "breaks"));
    // Another type is another element.
    let other = "<xs:element name=\"highWater\" type=\"xs:token\"/>";
    let (_, changes) = compared(&[(HIGH, other)], "");
    let rules: Vec<&str> = changes.iter().map(|(rule, _)| rule.as_str()).collect();
    assert_eq!(rules, ["element-removed", "element-added"]);
}

#[test]
fn enumerations_by_direction() {
    // The type is part of request and reply: a value more harms the reader, a value less the sender.
    let lock = "          <xs:enumeration value=\"lock\"/>\n";
    judges(lock, "", ("value-removed", "breaks"), ("value-added", "breaks"));
    let folder = Folder::empty();
    folder.write("old.wsdl", contract(&[]));
    folder.write("new.wsdl", contract(&[(lock, "")]));
    let json = folder.run("compare old.wsdl new.wsdl --format json").ends(1).json();
    let change = &json["changes"][0];
    assert_eq!((&change["path"], &change["old_place"]["line"]), (&"type/Gauge".into(), &7.into()));
    let sides: Vec<(&str, &str)> = change["operations"]
        .as_array()
        .unwrap()
        .iter()
        .map(|side| (side["side"].as_str().unwrap(), side["verdict"].as_str().unwrap()))
        .collect();
    assert_eq!(sides, [("input", "breaks"), ("output", "keeps")]);
}

#[test]
fn order_and_content() {
    let swapped = [(HIGH, "<!---->"), (HEIGHT, &*format!("{HEIGHT}{HIGH}"))];
    assert_eq!(compared(&swapped, ""), ("breaks".into(), vec![("order-changed".into(), "breaks".into())]));
    let choice = format!("<xs:choice>{HIGH}<xs:element name=\"low\" type=\"xs:dateTime\"/></xs:choice>");
    let (verdict, changes) = compared(&[(HIGH, &choice)], "");
    assert_eq!(verdict, "breaks");
    assert!(changes.iter().any(|(rule, _)| rule == "choice-added"));
    // A group by reference and its content written out are the same on the wire.
    let group = [
        (HIGH, "<xs:group ref=\"tns:Water\"/>"),
        (
            "<xs:complexType name=\"Tide\">",
            &*format!(
                "<xs:group name=\"Water\"><xs:sequence>{HIGH}</xs:sequence></xs:group><xs:complexType name=\"Tide\">"
            ),
        ),
    ];
    assert_eq!(compared(&group, ""), ("keeps".into(), vec![]));
}

#[test]
fn operations_faults_and_ports() {
    let ports = "<wsdl:port name=\"TidesPort\"";
    judges(
        ports,
        "<wsdl:port name=\"Other\" binding=\"tns:TidesOverSoap11\"><soap:address location=\"https://tides.saltmere.example/2\"/></wsdl:port><wsdl:port name=\"TidesPort\"",
        ("port-added", "keeps"),
        ("port-removed", "breaks"),
    );
    judges(
        "https://tides.saltmere.example/1",
        "https://tides.saltmere.example/2",
        ("address-changed", "bends"),
        ("address-changed", "bends"),
    );
    judges(
        "soapAction=\"urn:saltmere:tides:1:nextTide\"",
        "soapAction=\"urn:other\"",
        ("action-changed", "breaks"),
        ("action-changed", "breaks"),
    );
    let fault = [
        (
            "<wsdl:output message=\"tns:nextTideOutput\"/>",
            "<wsdl:output message=\"tns:nextTideOutput\"/><wsdl:fault name=\"Fog\" message=\"tns:nextTideInput\"/>",
        ),
        (
            "<wsdl:output><soap:body use=\"literal\"/></wsdl:output>",
            "<wsdl:output><soap:body use=\"literal\"/></wsdl:output><wsdl:fault name=\"Fog\"><soap:fault name=\"Fog\" use=\"literal\"/></wsdl:fault>",
        ),
    ];
    assert_eq!(compared(&fault, ""), ("bends".into(), vec![("fault-added".into(), "bends".into())]));
    assert_eq!(
        compared_from(&fault, &[], ""),
        ("keeps".into(), vec![("fault-removed".into(), "keeps".into())])
    );
    let (verdict, changes) = compared(&[("\"nextTide\"", "\"tideAfter\"")], "");
    assert_eq!(verdict, "breaks");
    assert!(changes.contains(&("operation-removed".into(), "breaks".into())));
    assert!(changes.contains(&("operation-added".into(), "keeps".into())));
}

#[test]
fn soap_version_style_and_namespace() {
    let (verdict, changes) =
        compared(&[("http://schemas.xmlsoap.org/wsdl/soap/", "http://schemas.xmlsoap.org/wsdl/soap12/")], "");
    assert_eq!(verdict, "breaks");
    assert!(changes.contains(&("soap-version-changed".into(), "breaks".into())));
    let (verdict, _) = compared(&[("urn:saltmere:tides:1", "urn:saltmere:tides:2")], "");
    assert_eq!(verdict, "breaks");
}

#[test]
fn a_version_with_faults_is_compared_as_far_as_it_goes() {
    let folder = Folder::empty();
    folder.write("old.wsdl", contract(&[]));
    folder.write(
        "new.wsdl",
        contract(&[
            (HIGH, "<xs:element name=\"high\" type=\"xs:dateTime\" minOccurs=\"0\"/>"),
            ("type=\"xs:decimal\"", "type=\"tns:Gone\""),
        ]),
    );
    let run = folder.run("compare old.wsdl new.wsdl").ends(1).says("breaks type/Tide/high");
    assert!(run.err.contains("new.wsdl has faults"), "{}", run.err);
}

#[test]
fn both_versions_must_be_contracts() {
    let folder = Folder::with_demo();
    folder
        .run("compare saltmere/v1/pilotage.wsdl gone.wsdl")
        .ends(2)
        .complains("gone.wsdl: there is no such file");
    folder
        .run("compare saltmere/v1/vessel.xsd saltmere/v1/pilotage.wsdl")
        .ends(2)
        .complains("not a contract");
}

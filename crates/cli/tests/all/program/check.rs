use crate::program::folder::{Folder, contract};

/// The rules found in a contract with its text changed, with the text that each points at.
fn findings(changes: &[(&str, &str)]) -> Vec<(String, String)> {
    let folder = Folder::empty();
    let text = contract(changes);
    folder.write("tides.wsdl", &text);
    let run = folder.run("check tides.wsdl --format json");
    let json = run.json();
    let found = json["findings"].as_array().unwrap();
    let errors = found.iter().filter(|finding| finding["severity"] == "error").count();
    assert_eq!(json["errors"], errors);
    assert_eq!(run.status, i32::from(errors > 0));
    found
        .iter()
        .map(|finding| {
            let line = text.lines().nth(finding["line"].as_u64().unwrap() as usize - 1).unwrap();
            let column = finding["column"].as_u64().unwrap() as usize;
            let rest: String = line.chars().skip(column - 1).collect();
            let word = rest.split(['"', ' ', '>', '/']).find(|word| !word.is_empty()).unwrap_or("");
            (finding["rule"].as_str().unwrap().to_owned(), word.to_owned())
        })
        .collect()
}

#[track_caller]
fn only(changes: &[(&str, &str)], rule: &str, at: &str) {
    assert_eq!(findings(changes), [(rule.to_owned(), at.to_owned())]);
}

#[test]
fn a_sound_contract_has_no_findings() {
    assert!(findings(&[]).is_empty());
    let folder = Folder::with_demo();
    for version in ["v1", "v2", "v3"] {
        folder.run(&format!("check saltmere/{version}/pilotage.wsdl")).ends(0).says("no findings");
    }
}

#[test]
fn names_that_lead_nowhere() {
    only(&[("type=\"xs:dateTime\"", "type=\"xs:datetime\"")], "src-resolve", "datetime");
    only(&[("element=\"tns:nextTide\"", "element=\"tns:nextTides\"")], "element-unknown", "nextTides");
    only(
        &[("message=\"tns:nextTideOutput\"", "message=\"tns:nextTideOutputs\"")],
        "message-unknown",
        "nextTideOutputs",
    );
    only(
        &[("binding=\"tns:TidesOverSoap11\"", "binding=\"tns:TideOverSoap11\"")],
        "binding-unknown",
        "TideOverSoap11",
    );
    only(&[("type=\"tns:Tides\"", "type=\"tns:Tide\"")], "port-type-unknown", "Tide");
    only(
        &[("<xs:attribute name=\"gauge\" type=\"tns:Gauge\"/>", "<xs:attribute ref=\"tns:gauge\"/>")],
        "src-resolve",
        "gauge",
    );
    only(
        &[(
            "<wsdl:input><soap:body use=\"literal\"/>",
            "<wsdl:input><soap:body parts=\"parameter\" use=\"literal\"/>",
        )],
        "part-unknown",
        "parameter",
    );
    only(&[("type=\"xs:decimal\"", "type=\"xsd:decimal\"")], "xml-prefix", "decimal");
}

#[test]
fn the_nearest_name_is_suggested() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[("type=\"tns:Tide\"", "type=\"tns:Tyde\"")]));
    folder.run("check tides.wsdl").ends(1).says("did you mean \"Tide\"?");
    folder.write("tides.wsdl", contract(&[("type=\"tns:Tide\"", "type=\"xs:Tide\"")]));
    folder.run("check tides.wsdl").ends(1).says("there is one in urn:saltmere:tides:1: is the prefix right?");
    folder.write(
        "tides.wsdl",
        contract(&[("type=\"tns:Tide\"", "type=\"soap:Tide\""), ("name=\"Tide\"", "name=\"Tidal\"")]),
    );
    folder.run("check tides.wsdl").ends(1).says("no type in http://schemas.xmlsoap.org/wsdl/soap/ was read");
}

#[test]
fn what_stands_twice() {
    only(
        &[(
            "<xs:complexType name=\"Tide\">",
            "<xs:simpleType name=\"Tide\"><xs:restriction base=\"xs:string\"/></xs:simpleType><xs:complexType name=\"Tide\">",
        )],
        "sch-props-correct",
        "Tide",
    );
    only(
        &[(
            "<wsdl:portType",
            "<wsdl:message name=\"nextTideInput\"><wsdl:part name=\"a\" element=\"tns:nextTide\"/></wsdl:message><wsdl:portType",
        )],
        "duplicate-name",
        "nextTideInput",
    )
}

#[test]
fn binding_and_port_type_must_agree() {
    let bound = "<wsdl:operation name=\"nextTide\">\n      <soap:operation";
    assert_eq!(
        findings(&[(bound, "<wsdl:operation name=\"nextTyde\">\n      <soap:operation")]),
        [
            ("binding-operation-missing".to_owned(), "TidesOverSoap11".to_owned()),
            ("binding-operation-unknown".to_owned(), "nextTyde".to_owned()),
        ]
    );
    only(
        &[("      <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n", "")],
        "binding-operation-missing",
        "nextTide",
    );
    only(
        &[(
            "    </wsdl:operation>\n  </wsdl:binding>",
            "      <wsdl:fault name=\"Fog\"><soap:fault name=\"Fog\" use=\"literal\"/></wsdl:fault>\n    </wsdl:operation>\n  </wsdl:binding>",
        )],
        "binding-operation-unknown",
        "Fog",
    );
}

#[test]
fn parts_and_styles() {
    only(
        &[("<wsdl:part name=\"parameters\" element=\"tns:nextTide\"/>", "<wsdl:part name=\"parameters\"/>")],
        "part-content",
        "<wsdl:part",
    );
    only(
        &[(
            "<wsdl:part name=\"parameters\" element=\"tns:nextTide\"/>",
            "<wsdl:part name=\"parameters\" type=\"tns:Gauge\"/>",
        )],
        "R2204",
        "<wsdl:part",
    );
    only(
        &[
            ("style=\"document\"", "style=\"rpc\""),
            (
                "<soap:body use=\"literal\"/>",
                "<soap:body use=\"literal\" namespace=\"urn:saltmere:tides:1\"/>",
            ),
            (
                "<wsdl:part name=\"parameters\" element=\"tns:nextTide\"/>",
                "<wsdl:part name=\"gauge\" type=\"tns:Gauge\"/>",
            ),
        ],
        "R2203",
        "<wsdl:part",
    );
    // The only operation of a binding is of one style with itself, but its parts are of the other.
    let rpc = ("soapAction=\"urn:saltmere:tides:1:nextTide\"", "soapAction=\"\" style=\"rpc\"");
    assert!(findings(&[rpc]).contains(&("R2203".to_owned(), "<wsdl:part".to_owned())));
    let rpc = [
        ("style=\"document\"", "style=\"rpc\""),
        ("<soap:body use=\"literal\"/>", "<soap:body use=\"literal\" namespace=\"urn:saltmere:tides:1\"/>"),
        (
            "<wsdl:part name=\"parameters\" element=\"tns:nextTide\"/>",
            "<wsdl:part name=\"tide\" type=\"tns:Gauge\"/>",
        ),
        (
            "<wsdl:part name=\"parameters\" element=\"tns:nextTideResponse\"/>",
            "<wsdl:part name=\"tide\" type=\"tns:Tide\"/>",
        ),
    ];
    only(&rpc, "in-out-part", "tide");
}

#[test]
fn addresses() {
    let address = "https://tides.saltmere.example/1";
    only(&[(address, "tides.saltmere.example/1")], "address-scheme", "tides.saltmere.example");
    only(&[(address, "/tides")], "address-scheme", "tides");
    only(&[(address, "https://${host}/tides")], "address-placeholder", "https:");
    only(&[(address, "")], "address-missing", "<soap:address");
    only(
        &[("<soap:address location=\"https://tides.saltmere.example/1\"/>", "")],
        "address-missing",
        "<wsdl:port",
    );
}

#[test]
fn what_nobody_uses_is_a_warning() {
    only(
        &[(
            "<wsdl:portType",
            "<wsdl:message name=\"ebb\"><wsdl:part name=\"a\" element=\"tns:nextTide\"/></wsdl:message><wsdl:portType",
        )],
        "message-unused",
        "ebb",
    );
    only(&[("type=\"tns:Tide\"", "type=\"xs:token\"")], "type-unused", "Tide");
}

#[test]
fn the_draft_shows_each_usual_mistake_at_its_place() {
    let folder = Folder::with_demo();
    let run = folder.run("check saltmere/draft/towage.wsdl").ends(1);
    for (rule, place, path) in [
        ("import-not-found", "10:68", "contract"),
        ("type-unused", "16:28", "type/BollardPull"),
        ("src-resolve", "22:46", "element/sendTug/tug"),
        ("element-unknown", "35:47", "message/sendTugOutput/part/parameters"),
        ("in-out-part", "41:22", "message/releaseTugOutput/part/tug"),
        ("part-content", "44:5", "message/tugListInput/part/day"),
        ("message-unknown", "57:32", "operation/moveTug/input"),
        ("binding-operation-missing", "61:23", "binding/TowageOverSoap11"),
        ("R2705", "69:7", "binding/TowageOverSoap11/operation/releaseTug"),
        ("binding-operation-unknown", "73:27", "binding/TowageOverSoap11/operation/callTug"),
        ("address-placeholder", "81:31", "service/TowageService/port/TowagePort"),
    ] {
        let block = run.out.split("\n\n").find(|block| block.contains(&format!(" {rule}  ")));
        let block = block.unwrap_or_else(|| panic!("{rule} is not in\n{}", run.out));
        assert!(block.contains(&format!(" saltmere/draft/towage.wsdl:{place} ")), "{block}");
        let head = block.lines().next().unwrap();
        assert!(head[8..].starts_with(&format!("{path}: ")), "{block}");
    }
    run.says("9 errors, 3 warnings");
}

#[test]
fn several_files_are_summed_up() {
    let folder = Folder::with_demo();
    let run = folder
        .run("check saltmere/v1/pilotage.wsdl saltmere/draft/towage.wsdl saltmere/v1/vessel.xsd")
        .ends(1);
    run.says("saltmere/v1/pilotage.wsdl: no findings").says("all: 9 errors, 3 warnings");
    // One that cannot be read leaves no answer, but the others are judged.
    let run =
        folder.run("check saltmere/v1/pilotage.wsdl gone.wsdl").ends(2).says("v1/pilotage.wsdl: no findings");
    run.complains("gone.wsdl: there is no such file");
}

#[test]
fn references_lead_through_imported_contracts() {
    let folder = Folder::with_parts();
    folder.run("check tides.wsdl").ends(0).says("no findings");
    folder.run("message tides.wsdl nextTide").ends(0).says("<gauge>pier</gauge>");
    folder.run("rename tides.wsdl message/nextTideInput tideQuestion").ends(0).says("parts/desk.wsdl");
    folder.run("check tides.wsdl").ends(0);
}

//! One fault planted in the demo contract: the check names it at its line, and does not bury it.

use crate::folder::Folder;

/// The rule that a planted fault breaks, what it replaces, and what stands there instead. The text is unique in
/// the contract, or its first occurrence is meant.
const PLANTS: &[(&str, &str, &str)] = &[
    ("src-resolve", "type=\"tns:Agent\"", "type=\"tns:Agents\""),
    ("src-resolve", "base=\"tns:Person\"", "base=\"tns:Human\""),
    ("src-resolve", "type=\"v:Vessel\"", "type=\"tns:Vessel\""),
    ("element-unknown", "element=\"tns:declareCargo\"", "element=\"tns:declareCargoes\""),
    ("src-resolve", "ref=\"tns:Revision\"", "ref=\"tns:Revisions\""),
    ("xml-prefix", "type=\"xs:token\"", "type=\"xsd:token\""),
    ("message-unknown", "message=\"tns:listPilotsOutput\"", "message=\"tns:listPilotsReply\""),
    ("message-unknown", "message=\"tns:AgentCredentialsHeader\"", "message=\"tns:Credentials\""),
    ("part-unknown", "part=\"credentials\"", "part=\"credential\""),
    ("binding-unknown", "binding=\"tns:PilotageSoap12\"", "binding=\"tns:PilotageSoap13\""),
    ("sch-props-correct", "<xs:simpleType name=\"PilotNumber\">", "<xs:simpleType name=\"BookingNumber\">"),
    ("duplicate-member", "<wsdl:port name=\"PilotagePort12\"", "<wsdl:port name=\"PilotagePort\""),
    ("schema-occurs", "minOccurs=\"0\" maxOccurs=\"unbounded\"", "minOccurs=\"0\" maxOccurs=\"many\""),
    ("name-syntax", "name=\"nextFree\"", "name=\"next free\""),
    (
        "schema-structure",
        "<xs:element name=\"fee\" type=\"tns:Money\" minOccurs=\"0\"/>",
        "<xs:elements name=\"fee\"/>",
    ),
    ("src-element", "<xs:element name=\"due\" type=\"xs:date\"/>", "<xs:element type=\"xs:date\"/>"),
    (
        "part-content",
        "<wsdl:part name=\"fault\" element=\"tns:CargoRefused\"/>",
        "<wsdl:part name=\"fault\"/>",
    ),
    ("R2705", "soapAction=\"urn:saltmere:pilotage:1:listPilots\"", "soapAction=\"\" style=\"rpc\""),
    ("address-scheme", "https://pilotage.saltmere.example/1", "pilotage.saltmere.example/1"),
    ("address-placeholder", "https://pilotage.saltmere.example/1", "https://@HOST@/1"),
    ("address-missing", "<soap:address location=\"https://pilotage.saltmere.example/1\"/>", ""),
    ("import-not-found", "schemaLocation=\"vessel.xsd\"", "schemaLocation=\"vessels.xsd\""),
    (
        "src-import",
        "<xs:import namespace=\"urn:saltmere:vessel:1\"",
        "<xs:import namespace=\"urn:saltmere:vessel:2\"",
    ),
    (
        "binding-operation-missing",
        "<wsdl:fault name=\"NoPilotFree\">\n        <soap:fault name=\"NoPilotFree\" use=\"literal\"/>\n      </wsdl:fault>",
        "",
    ),
    (
        "binding-protocol",
        "<soap12:binding style=\"document\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>",
        "",
    ),
    (
        "wsdl-structure",
        "<wsdl:portType name=\"Pilotage\">",
        "<wsdl:message name=\"M\"/><wsdl:porttype/><wsdl:portType name=\"Pilotage\">",
    ),
    ("ct-props-correct", "<xs:extension base=\"tns:Person\">", "<xs:extension base=\"tns:Contact\">"),
    ("xml-well-formed", "</wsdl:portType>", "</wsdl:portTypes>"),
];

#[test]
fn each_planted_fault_is_named_at_its_line() {
    let folder = Folder::with_demo();
    let sound = folder.read("saltmere/v1/pilotage.wsdl");
    let mut others = 0;
    for (rule, from, to) in PLANTS {
        let at = sound.find(from).unwrap_or_else(|| panic!("{from:?} is not in the contract"));
        folder.write("saltmere/v1/pilotage.wsdl", sound.replacen(from, to, 1));
        let json = folder.run("check saltmere/v1/pilotage.wsdl --format json").ends(1).json();
        let found = json["findings"].as_array().unwrap();
        let named = found.iter().find(|finding| finding["rule"] == *rule);
        let named = named.unwrap_or_else(|| panic!("{rule}: {found:#?}"));
        let line = sound[..at].lines().count();
        let off = named["line"].as_u64().unwrap().abs_diff(line as u64);
        // What is missing is found missing at what should hold it, a few lines above.
        assert!(off <= 12 || *rule == "binding-protocol", "{rule}: line {line}, found at {}", named["line"]);
        others += found.len() - 1;
        assert!(found.len() < 60, "{rule}: {found:#?}");
    }
    // An import that is gone takes all its types along; all other faults together bring hardly any more.
    let average = others as f64 / PLANTS.len() as f64;
    assert!(average <= 2.0, "{average}");
}

use crate::program::folder::{Folder, contract};

#[test]
fn the_demo_contract_in_the_notation() {
    let folder = Folder::with_demo();
    let run = folder.run("show saltmere/v1/pilotage.wsdl").ends(0);
    assert!(run.out.lines().count() < 260);
    for line in [
        "contract Pilotage \"urn:saltmere:pilotage:1\" {",
        "  prefix v = \"urn:saltmere:vessel:1\"",
        "  type LicenceGrade = string one-of \"first\", \"second\", \"third\"",
        "  type Longitude = decimal range -180<..180",
        "  type RadioChannels = list of unsignedByte range 1..88",
        "    @revision: unsignedInt",
        "  type Contact extends Person {",
        "    choice {",
        "    lastPort: string nillable",
        "      tonnes: decimal range 0<.. digits 8",
        "    header credentials: AgentCredentials",
        "    input { vessel: v:Vessel, point: BoardingPoint, eta: dateTime, agent: Agent, remark: string? }",
        "    fault NoPilotFree { nextFree: dateTime }",
        "    one-way",
        "  binding PilotageOverSoap12 = soap 1.2 document literal",
        "    port PilotagePort = PilotageOverSoap11 at \"https://pilotage.saltmere.example/1\"",
    ] {
        assert!(run.out.lines().any(|shown| shown.trim_start() == line.trim_start()), "{line}\n{}", run.out);
    }
}

#[test]
fn one_component_of_each_kind() {
    let folder = Folder::with_demo();
    let shown = |path: &str| folder.run(&format!("show saltmere/v1/pilotage.wsdl {path}")).ends(0).out;
    assert_eq!(
        shown("type/BoardingPoint"),
        "type BoardingPoint = string one-of \"north buoy\", \"south roads\", \"outer anchorage\" about \"Where a pilot can come aboard.\"\n"
    );
    assert_eq!(shown("type/Vessel/hazard"), "hazard: Hazard*\n");
    assert_eq!(shown("type/Vessel/@verified"), "@verified: boolean?\n");
    assert_eq!(shown("element/requestPilot/vessel"), "vessel: v:Vessel\n");
    assert_eq!(
        shown("message/requestPilotInput"),
        "message requestPilotInput (parameters: element requestPilot)\n"
    );
    assert_eq!(shown("message/requestPilotInput/part/parameters"), "parameters: element requestPilot\n");
    assert_eq!(shown("operation/settleDues/output"), "output { statement: Statement }\n");
    assert_eq!(
        shown("operation/settleDues/fault/UnknownBooking"),
        "fault UnknownBooking { booking: BookingNumber }\n"
    );
    assert_eq!(
        shown("binding/PilotageOverSoap11"),
        "binding PilotageOverSoap11 = soap 1.1 document literal\n"
    );
    assert_eq!(
        shown("binding/PilotageOverSoap11/operation/settleDues"),
        "operation settleDues action \"urn:saltmere:pilotage:1:settleDues\"\n"
    );
    assert_eq!(
        shown("service/PilotageService/port/PilotagePort"),
        "port PilotagePort = PilotageOverSoap11 at \"https://pilotage.saltmere.example/1\"\n"
    );
    assert!(shown("port-type/Pilotage").starts_with("port-type Pilotage {\n"));
    assert!(shown("attribute-group/Revision").starts_with("attributes Revision {\n"));
}

#[test]
fn what_departs_from_the_convention_is_said() {
    let folder = Folder::empty();
    let text = contract(&[
        ("nextTideInput", "TideQuestion"),
        (
            "name=\"parameters\" element=\"tns:nextTideResponse\"",
            "name=\"answer\" element=\"tns:nextTideResponse\"",
        ),
        ("soapAction=\"urn:saltmere:tides:1:nextTide\"", "soapAction=\"urn:tide\""),
        ("elementFormDefault=\"qualified\"", ""),
        ("portType name=\"Tides\"", "portType name=\"TideDesk\""),
        ("type=\"tns:Tides\"", "type=\"tns:TideDesk\""),
    ]);
    folder.write("tides.wsdl", text);
    folder
        .run("show tides.wsdl")
        .ends(0)
        .says("input message TideQuestion { gauge: Gauge }")
        .says("output part answer: Tide")
        .says("operation nextTide action \"urn:tide\"")
        .says("elements unqualified")
        .says("port-type TideDesk {");
}

#[test]
fn extensions_without_words_stand_as_they_are_written() {
    let folder = Folder::empty();
    let policy = "<p:Secured xmlns:p=\"urn:saltmere:policy\" level=\"2\"/>";
    folder.write("tides.wsdl", contract(&[("<soap:binding", &format!("{policy}<soap:binding"))]));
    let shown = "xml <p:Secured level=\"2\" xmlns:p=\"urn:saltmere:policy\"/>";
    folder.run("show tides.wsdl").ends(0).says(shown);
}

#[test]
fn a_path_that_names_nothing_is_answered_with_the_nearest() {
    let folder = Folder::with_demo();
    let show = |path: &str| folder.run(&format!("show saltmere/v1/pilotage.wsdl {path}")).ends(2);
    assert!(
        show("type/Vesel")
            .complains("there is no \"type/Vesel\"")
            .err
            .contains("did you mean \"type/Vessel\"?")
    );
    assert!(
        show("type/Vessel/naem")
            .complains("type/Vessel/naem")
            .err
            .contains("did you mean \"type/Vessel/name\"?")
    );
    show("operation/requestPilot/fault/NoPilot")
        .complains("there is no \"operation/requestPilot/fault/NoPilot\"");
    show("vessel").complains("\"vessel\" is not a component path");
    show("tipe/Vessel").complains("\"tipe/Vessel\" is not a component path");
}

#[test]
fn names_in_two_namespaces_need_their_namespace() {
    let folder = Folder::with_demo();
    let more = "<xs:complexType name=\"Vessel\"><xs:sequence/></xs:complexType>\n      <xs:element name=\"requestPilot\">";
    let text =
        folder.read("saltmere/v1/pilotage.wsdl").replacen("<xs:element name=\"requestPilot\">", more, 1);
    folder.write("saltmere/v1/pilotage.wsdl", text);
    folder
        .run("show saltmere/v1/pilotage.wsdl type/Vessel")
        .ends(2)
        .complains("could be type/{urn:saltmere:pilotage:1}Vessel or type/{urn:saltmere:vessel:1}Vessel");
    folder
        .run("show saltmere/v1/pilotage.wsdl type/{urn:saltmere:vessel:1}Vessel/callSign")
        .ends(0)
        .says("callSign:");
}

#[test]
fn a_schema_by_itself_and_json() {
    let folder = Folder::with_demo();
    folder.run("show saltmere/v1/vessel.xsd").ends(0).says("schema \"urn:saltmere:vessel:1\" {");
    let run = folder.run("show saltmere/v1/vessel.xsd type/VesselName --format json").ends(0);
    assert_eq!(run.json()["path"], "type/VesselName");
    assert_eq!(run.json()["notation"], "type VesselName = string length 1..60\n");
}

#[test]
fn overloaded_operations_have_paths_of_their_own() {
    let folder = Folder::empty();
    let twice = "<wsdl:operation name=\"nextTide\">\n      <wsdl:input name=\"byDay\" message=\"tns:nextTideInput\"/>\n    </wsdl:operation>\n  </wsdl:portType>";
    folder.write("tides.wsdl", contract(&[("</wsdl:portType>", twice)]));
    folder.run("show tides.wsdl operation/nextTide(byDay)").ends(0).says("named byDay").says("one-way");
    folder.run("show tides.wsdl operation/nextTide").ends(2).complains("operation/nextTide(nextTideRequest)");
}

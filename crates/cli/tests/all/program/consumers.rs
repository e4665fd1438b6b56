//! Who is affected by a new version: consumer records, what they say, what they learn, and what they are told.

use serde_json::Value;

use crate::program::folder::{Folder, Run};

const V2: &str = "saltmere/v2/pilotage.wsdl";
const V3: &str = "saltmere/v3/pilotage.wsdl";

/// A contract with one operation, bound to two ports, with pieces of its text replaced.
fn slots(changes: &[(&str, &str)]) -> String {
    let mut text = String::from(
        r#"<w:definitions xmlns:w="http://schemas.xmlsoap.org/wsdl/" xmlns:s="http://schemas.xmlsoap.org/wsdl/soap/"
    xmlns:x="http://www.w3.org/2001/XMLSchema" xmlns:t="urn:saltmere:slots:1" targetNamespace="urn:saltmere:slots:1">
<w:types><x:schema targetNamespace="urn:saltmere:slots:1" elementFormDefault="qualified">
<x:complexType name="Window"><x:sequence><x:element name="from" type="x:dateTime"/><x:element name="until" type="x:dateTime"/></x:sequence><x:attribute name="zone" type="x:string"/></x:complexType>
<x:complexType name="Tide"><x:sequence><x:element name="high" type="x:dateTime"/><x:element name="height" type="x:decimal"/></x:sequence></x:complexType>
<x:complexType name="Draught"><x:simpleContent><x:extension base="x:decimal"><x:attribute name="unit" type="x:string"/></x:extension></x:simpleContent></x:complexType>
<x:element name="reserve"><x:complexType><x:sequence>
<x:choice><x:element name="callSign" type="x:string"/><x:element name="number" type="x:int"/></x:choice>
<x:element name="draught" type="t:Draught" minOccurs="0"/><x:element name="tugs" type="x:int" minOccurs="0"/>
</x:sequence></x:complexType></x:element>
<x:element name="reserved"><x:complexType><x:sequence><x:element name="lock" type="x:string"/><x:element name="window" type="t:Window"/><x:element name="basin" type="x:string"/></x:sequence></x:complexType></x:element>
<x:element name="noSlot"><x:complexType><x:sequence><x:element name="nextFree" type="x:dateTime"/><x:element name="reason" type="x:string"/></x:sequence></x:complexType></x:element>
</x:schema></w:types>
<w:message name="Reserve"><w:part name="p" element="t:reserve"/></w:message><w:message name="Reserved"><w:part name="p" element="t:reserved"/></w:message><w:message name="NoSlot"><w:part name="p" element="t:noSlot"/></w:message>
<w:portType name="Slots"><w:operation name="reserve"><w:input message="t:Reserve"/><w:output message="t:Reserved"/><w:fault name="NoSlot" message="t:NoSlot"/></w:operation></w:portType>
<w:binding name="SlotsOverSoap11" type="t:Slots"><s:binding transport="http://schemas.xmlsoap.org/soap/http"/><w:operation name="reserve"><s:operation soapAction="urn:saltmere:slots:1:reserve"/><w:input><s:body use="literal"/></w:input><w:output><s:body use="literal"/></w:output><w:fault name="NoSlot"><s:fault name="NoSlot" use="literal"/></w:fault></w:operation></w:binding>
<w:service name="SlotsService"><w:port name="East" binding="t:SlotsOverSoap11"><s:address location="https://east.saltmere.example/"/></w:port><w:port name="West" binding="t:SlotsOverSoap11"><s:address location="https://west.saltmere.example/"/></w:port></w:service>
</w:definitions>"#,
    );
    for (from, to) in changes {
        assert!(text.contains(from), "{from:?} is not in the contract");
        text = text.replace(from, to);
    }
    text
}

/// A folder with the contract before and after some changes, and the records of consumers, of which each is called by its
/// name.
fn folder(changes: &[(&str, &str)], records: &[(&str, &str)]) -> Folder {
    let folder = Folder::empty();
    folder.write("old.wsdl", slots(&[]));
    folder.write("new.wsdl", slots(changes));
    for (name, record) in records {
        folder.write(&format!("consumers/{name}.toml"), format!("name = \"{name}\"\n{record}"));
    }
    folder
}

fn compared(folder: &Folder) -> Run {
    folder.run("compare old.wsdl new.wsdl --consumers consumers --format json")
}

/// What each consumer is told, as `verdict path`.
fn told(run: &Run, consumer: &str) -> Vec<String> {
    because(run, consumer)
        .iter()
        .map(|one| format!("{} {}", one["verdict"].as_str().unwrap(), one["path"].as_str().unwrap()))
        .collect()
}

fn because(run: &Run, consumer: &str) -> Vec<Value> {
    let json = run.json();
    let mut all = json["consumers"].as_array().unwrap().iter();
    let one = all.find(|one| one["name"] == consumer).unwrap_or_else(|| panic!("no {consumer} in {json:#}"));
    one["because"].as_array().unwrap().clone()
}

#[test]
fn what_a_record_names_in_vain_is_told_with_its_place() {
    let record = "ports = [\"Est\"]
[operations.reserve]
sends = [\"callSing\", \"draught/@units\", \"draught/@unit\", \"tugs\", \"reserve/tugs\"]
reads = [\"window\", \"window/til\", \"window/@zone\", \"$fault/NoSlots/reason\", \"$fault/NoSlot/reasons\", \"$fault/NoSlot/reason\", \"$header/x\"]
[operations.reserv]
sends = [\"anything\"]
";
    let folder = folder(&[], &[("Desk", record)]);
    // No gate passes on a record that is wrong.
    let run = folder.run("compare old.wsdl new.wsdl --consumers consumers").ends(2);
    let expected = [
        "consumers/Desk.toml:2:10 the old version has no port \"Est\"; did you mean \"East\"?",
        "consumers/Desk.toml:4:10 reserve sends \"callSing\": there is no \"callSing\" in the old version; did you mean \"callSign\"?",
        "consumers/Desk.toml:4:22 reserve sends \"draught/@units\": there is no \"@units\" in the old version; did you mean \"@unit\"?",
        "consumers/Desk.toml:5:20 reserve reads \"window/til\": there is no \"til\" in the old version; there are from, until",
        "consumers/Desk.toml:5:50 reserve reads \"$fault/NoSlots/reason\": it has no fault \"NoSlots\"; did you mean \"NoSlot\"?",
        "consumers/Desk.toml:5:75 reserve reads \"$fault/NoSlot/reasons\": there is no \"reasons\" in the old version; did you mean \"reason\"?",
        "consumers/Desk.toml:5:124 reserve reads \"$header/x\": there is no \"x\" in the old version; leave it out",
        "consumers/Desk.toml:6:13 the old version has no operation \"reserv\"; did you mean \"reserve\"?",
    ];
    assert_eq!(run.err.lines().collect::<Vec<_>>(), expected);
}

#[test]
fn what_there_is_beside_a_name_in_vain_is_said_once() {
    // A ship is told of by one of several types that derive from one, and each has what that one has.
    let folder = Folder::with_demo();
    let record = "name = \"Desk\"\n[operations.requestPilot]\nsends = [\"vessel/tonnage\"]\n";
    folder.write("consumers/desk.toml", record);
    let run = folder
        .run("compare saltmere/v2/pilotage.wsdl saltmere/v3/pilotage.wsdl --consumers consumers")
        .ends(2);
    let all = "there are callSign, name, kind, dimensions, lastPort, hazard, tanks, inerted\n";
    assert!(run.err.ends_with(all), "{}", run.err);
}

#[test]
fn a_record_about_another_contract_of_several_is_no_slip() {
    let folder = folder(&[], &[("Desk", "[operations.findBoarding]\nreads = [\"boarding\"]\n")]);
    for version in ["then", "now"] {
        folder.write(&format!("{version}/slots.wsdl"), slots(&[]));
        folder.write(&format!("{version}/tides.wsdl"), crate::program::folder::contract(&[]));
    }
    let run = folder.run("compare then now --consumers consumers").ends(0);
    assert_eq!(run.err, "");
    let run = folder.run("compare then/slots.wsdl now/slots.wsdl --consumers consumers").ends(2);
    assert!(run.err.contains("the old version has no operation \"findBoarding\""), "{}", run.err);
}

#[test]
fn a_record_says_which_contract_it_is_about() {
    for (about, status) in
        [("slots.wsdl", 0), ("urn:saltmere:slots:1", 0), ("urn:saltmere:tides", 2), ("tides.wsdl", 2)]
    {
        let folder = folder(&[], &[("Desk", &format!("about = \"{about}\"\n[operations.reserve]\n"))]);
        folder.write("then/slots.wsdl", slots(&[]));
        folder.write("now/slots.wsdl", slots(&[]));
        let run = folder.run("compare then/slots.wsdl now/slots.wsdl --consumers consumers").ends(status);
        if status == 2 {
            let said = format!(
                "consumers/Desk.toml:2:9 the record is about \"{about}\", which this contract is not\n"
            );
            assert_eq!(run.err, said);
        }
        // Of several contracts, it meets those that it is about.
        folder.write("then/others.wsdl", crate::program::folder::contract(&[]));
        folder.write("now/others.wsdl", crate::program::folder::contract(&[]));
        let json = folder.run("compare then now --consumers consumers --format json").ends(0).json();
        let met = json["contracts"].as_array().unwrap().iter();
        let met: usize = met.map(|one| one["consumers"].as_array().unwrap().len()).sum();
        assert_eq!(met, usize::from(status == 0), "{json:#}");
    }
}

#[test]
fn a_gate_goes_by_all_changes_or_by_what_they_do_to_consumers() {
    let gone = [("<x:element name=\"tugs\"", "<x:element name=\"tows\"")];
    for (sends, status) in [("[\"callSign\"]", 0), ("[\"callSign\", \"tugs\"]", 1)] {
        let folder =
            folder(&gone, &[("Desk", &format!("[operations.reserve]\nsends = {sends}\nreads = []\n"))]);
        folder.run("compare old.wsdl new.wsdl --consumers consumers").ends(1);
        folder.run("compare old.wsdl new.wsdl --consumers consumers --gate consumers").ends(status);
    }
    let folder = folder(&gone, &[]);
    folder
        .run("compare old.wsdl new.wsdl --gate consumers")
        .ends(2)
        .complains("there are no consumers to go by");
}

#[test]
fn a_path_that_ends_at_an_element_with_a_content_stands_for_all_of_it() {
    let records = [
        ("Window", "[operations.reserve]\nreads = [\"window\"]\n"),
        ("Until", "[operations.reserve]\nreads = [\"window/until\"]\n"),
        ("From", "[operations.reserve]\nreads = [\"window/from\", \"lock\"]\n"),
        ("Zone", "[operations.reserve]\nreads = [\"window/@zone\"]\n"),
    ];
    let until =
        ("<x:element name=\"until\" type=\"x:dateTime\"/>", "<x:element name=\"until\" type=\"x:date\"/>");
    let run = compared(&folder(&[until], &records)).ends(1);
    for (name, expected) in [
        ("Window", &["breaks type/Window/until"][..]),
        ("Until", &["breaks type/Window/until"]),
        ("From", &[]),
        ("Zone", &[]),
    ] {
        assert_eq!(told(&run, name), expected, "{name}");
    }
    let zone = ("<x:attribute name=\"zone\" type=\"x:string\"/>", "");
    let run = compared(&folder(&[zone], &records));
    for (name, expected) in [
        ("Window", &["breaks type/Window/@zone"][..]),
        ("Until", &[]),
        ("From", &[]),
        ("Zone", &["breaks type/Window/@zone"]),
    ] {
        assert_eq!(told(&run, name), expected, "{name}");
    }
}

#[test]
fn a_value_and_what_stands_beside_it_are_two_things() {
    let records = [
        ("Value", "[operations.reserve]\nsends = [\"draught\"]\n"),
        ("Unit", "[operations.reserve]\nsends = [\"draught\", \"draught/@unit\"]\n"),
    ];
    let gone = ("<x:attribute name=\"unit\" type=\"x:string\"/>", "");
    let run = compared(&folder(&[gone], &records)).ends(1);
    assert!(told(&run, "Value").is_empty());
    assert_eq!(told(&run, "Unit"), ["breaks type/Draught/@unit"]);
    // What must be there is missed in every draught that is sent.
    let required = (
        "<x:attribute name=\"unit\" type=\"x:string\"/>",
        "<x:attribute name=\"unit\" type=\"x:string\" use=\"required\"/>",
    );
    let run = compared(&folder(&[required], &records)).ends(1);
    assert_eq!(told(&run, "Value"), ["breaks type/Draught/@unit"]);
}

#[test]
fn whoever_does_not_send_what_must_now_be_there_is_met() {
    let records = [
        ("Tugs", "[operations.reserve]\nsends = [\"callSign\", \"tugs\"]\n"),
        ("None", "[operations.reserve]\nsends = [\"callSign\"]\n"),
        ("Reads", "[operations.reserve]\nsends = []\nreads = [\"lock\"]\n"),
    ];
    let tugs = "<x:element name=\"tugs\" type=\"x:int\" minOccurs=\"0\"/>";
    let run = compared(&folder(&[(tugs, "<x:element name=\"tugs\" type=\"x:int\"/>")], &records)).ends(1);
    assert_eq!(told(&run, "None"), ["breaks element/reserve/tugs"]);
    let loosened = format!("{}{tugs}", "<x:element name=\"berth\" type=\"x:int\"/>");
    let run = compared(&folder(&[(tugs, &loosened)], &records)).ends(1);
    assert_eq!(told(&run, "None"), ["breaks element/reserve/berth"]);
    assert_eq!(told(&run, "Tugs"), ["breaks element/reserve/berth"]);
    // Nothing is known to be sent, and the reply is the same.
    assert!(told(&run, "Reads").is_empty());
}

#[test]
fn faults_are_read_by_their_own_paths() {
    let records = [
        ("Reason", "[operations.reserve]\nreads = [\"lock\", \"$fault/NoSlot/reason\"]\n"),
        ("Whole", "[operations.reserve]\nreads = [\"$fault/NoSlot\"]\n"),
        ("Next", "[operations.reserve]\nreads = [\"$fault/NoSlot/nextFree\"]\n"),
        ("Other", "[operations.reserve]\nreads = [\"lock\"]\n"),
        ("All", "[operations.reserve]\n"),
    ];
    let run = compared(&folder(
        &[("<x:element name=\"reason\" type=\"x:string\"/>", "<x:element name=\"cause\" type=\"x:int\"/>")],
        &records,
    ))
    .ends(1);
    let gone = "breaks element/noSlot/reason";
    for name in ["Reason", "Whole", "All"] {
        assert!(told(&run, name).iter().any(|one| one == gone), "{name}: {:?}", told(&run, name));
    }
    for name in ["Next", "Other"] {
        assert!(told(&run, name).iter().all(|one| one != gone), "{name}: {:?}", told(&run, name));
    }
}

#[test]
fn a_fault_is_learned_by_its_own_paths() {
    let folder = folder(&[], &[]);
    folder.write("seen/.hidden", "");
    folder.run("message old.wsdl operation/reserve/fault/NoSlot --as envelope -o seen/fault.xml").ends(0);
    folder.run("message old.wsdl operation/reserve/output --as envelope -o seen/reply.xml").ends(0);
    folder.write("consumers/desk.toml", "name = \"Desk\"\n");
    folder.run("match old.wsdl seen --learn consumers/desk.toml").ends(0);
    let record = folder.read("consumers/desk.toml");
    for path in ["$fault/NoSlot/nextFree", "$fault/NoSlot/reason", "window/from", "basin"] {
        assert!(record.contains(&format!("\n  \"{path}\",\n")), "{path} is not in\n{record}");
    }
    // What was learned is what there is.
    let run = folder.run("compare old.wsdl new.wsdl --consumers consumers").ends(0);
    assert_eq!(run.err, "");
}

#[test]
fn a_consumer_is_told_of_the_ports_that_it_calls() {
    let records = [
        ("Everywhere", "[operations.reserve]\n"),
        ("Eastern", "ports = [\"East\"]\n[operations.reserve]\n"),
        ("Western", "ports = [\"West\"]\n[operations.reserve]\n"),
        ("Nowhere", "ports = []\n[operations.reserve]\n"),
    ];
    let moved = ("https://east.saltmere.example/", "https://east.saltmere.example/2");
    let run = compared(&folder(&[moved], &records)).ends(0);
    let east = "bends service/SlotsService/port/East";
    assert_eq!(told(&run, "Everywhere"), [east]);
    assert_eq!(told(&run, "Eastern"), [east]);
    assert!(told(&run, "Western").is_empty() && told(&run, "Nowhere").is_empty());
    let gone = (
        "<w:port name=\"West\" binding=\"t:SlotsOverSoap11\"><s:address location=\"https://west.saltmere.example/\"/></w:port>",
        "",
    );
    let run = compared(&folder(&[gone], &records)).ends(1);
    assert!(told(&run, "Eastern").is_empty());
    assert_eq!(told(&run, "Western"), ["breaks service/SlotsService/port/West"]);
}

#[test]
fn the_example_for_a_consumer_is_made_of_what_it_sends() {
    let records = [
        ("Sign", "[operations.reserve]\nsends = [\"callSign\", \"tugs\"]\n"),
        ("Number", "[operations.reserve]\nsends = [\"number\", \"tugs\"]\n"),
    ];
    let tugs = (
        "<x:element name=\"tugs\" type=\"x:int\" minOccurs=\"0\"/>",
        "<x:element name=\"tugs\" type=\"x:byte\" minOccurs=\"0\"/>",
    );
    let gone = ("<x:element name=\"tugs\" type=\"x:int\" minOccurs=\"0\"/>", "");
    for change in [tugs, gone] {
        let folder = folder(&[change], &records);
        let run = compared(&folder).ends(1);
        for (consumer, own, other) in [("Sign", "callSign", "number"), ("Number", "number", "callSign")] {
            let body = because(&run, consumer)[0]["witness"]["body"].as_str().unwrap().to_owned();
            assert!(body.contains(&format!("<{own}>")) && !body.contains(other), "{consumer}: {body}");
            // It is right by the one version and wrong by the other, as every example is.
            folder.write("body.xml", &body);
            folder.run("match old.wsdl body.xml").ends(0);
            folder.run("match new.wsdl body.xml").ends(1);
        }
    }
}

/// Requests in which the same names stand in two places: a vessel and its tender, each with a choice.
const ABOARD: (&str, &str) = (
    "<x:element name=\"tugs\" type=\"x:int\" minOccurs=\"0\"/>",
    "<x:element name=\"vessel\" type=\"t:Vessel\"/><x:element name=\"tender\" type=\"t:Vessel\"/><x:element name=\"tugs\" type=\"x:int\"/>",
);
const VESSEL: (&str, &str) = (
    "<x:complexType name=\"Window\">",
    "<x:complexType name=\"Vessel\"><x:sequence><x:choice><x:element name=\"flag\" type=\"x:string\"/><x:element name=\"imo\" type=\"x:int\"/></x:choice><x:element name=\"draught\" type=\"x:decimal\" minOccurs=\"0\"/></x:sequence></x:complexType><x:complexType name=\"Window\">",
);

#[test]
fn the_example_for_a_consumer_has_each_name_where_it_sends_it() {
    let folder = Folder::empty();
    folder.write("old.wsdl", slots(&[ABOARD, VESSEL]));
    let tugs = ("<x:element name=\"tugs\" type=\"x:int\"/>", "<x:element name=\"tugs\" type=\"x:byte\"/>");
    folder.write("new.wsdl", slots(&[ABOARD, VESSEL, tugs]));
    let record = |name: &str, vessel: &str, tender: &str| {
        let record = format!(
            "name = \"{name}\"\n[operations.reserve]\nsends = [\"number\", \"vessel/{vessel}\", \"tender/{tender}\", \"tugs\"]\n"
        );
        folder.write(&format!("consumers/{name}.toml"), record);
    };
    record("Flagged", "flag", "imo");
    record("Numbered", "imo", "flag");
    let run = compared(&folder).ends(1);
    for (consumer, vessel, tender) in [("Flagged", "flag", "imo"), ("Numbered", "imo", "flag")] {
        let body = because(&run, consumer)[0]["witness"]["body"].as_str().unwrap().to_owned();
        let lines: Vec<&str> = body.lines().map(str::trim).collect();
        let after = |name: &str| {
            let at = lines.iter().position(|line| *line == format!("<{name}>")).unwrap();
            lines[at + 1].to_owned()
        };
        assert!(after("vessel").starts_with(&format!("<{vessel}>")), "{consumer}: {body}");
        assert!(after("tender").starts_with(&format!("<{tender}>")), "{consumer}: {body}");
        assert!(body.contains("<number>") && !body.contains("draught"), "{consumer}: {body}");
    }
}

#[test]
fn what_is_no_matter_of_schemas_is_shown_by_what_the_consumer_sends() {
    let records = [
        ("Sign", "[operations.reserve]\nsends = [\"callSign\"]\n"),
        ("Number", "[operations.reserve]\nsends = [\"number\"]\n"),
        ("All", "[operations.reserve]\n"),
    ];
    let version = (
        "xmlns:s=\"http://schemas.xmlsoap.org/wsdl/soap/\"",
        "xmlns:s=\"http://schemas.xmlsoap.org/wsdl/soap12/\"",
    );
    let run = compared(&folder(&[version], &records)).ends(1);
    for (consumer, own) in [("Sign", "callSign"), ("Number", "number"), ("All", "callSign")] {
        let all = because(&run, consumer);
        let sent =
            all.iter().find(|one| one["witness"]["side"] == "input").unwrap_or_else(|| panic!("{all:#?}"));
        let body = sent["witness"]["body"].as_str().unwrap();
        assert!(body.contains(&format!("<{own}>")), "{consumer}: {body}");
        assert_eq!(body.matches("</").count(), 2, "{consumer}: {body}");
    }
}

#[test]
fn faults_about_header_blocks_are_read_by_their_own_paths() {
    let notice = "<x:element name=\"pass\" type=\"x:string\"/><x:element name=\"noPass\"><x:complexType><x:sequence><x:element name=\"office\" type=\"x:string\"/><x:element name=\"opens\" type=\"x:time\"/></x:sequence></x:complexType></x:element>";
    let schema = ("<x:element name=\"reserve\">", &*format!("{notice}<x:element name=\"reserve\">"));
    let message = (
        "<w:message name=\"Reserve\">",
        "<w:message name=\"Pass\"><w:part name=\"pass\" element=\"t:pass\"/></w:message><w:message name=\"NoPass\"><w:part name=\"noPass\" element=\"t:noPass\"/></w:message><w:message name=\"Reserve\">",
    );
    let header = (
        "<w:input><s:body use=\"literal\"/></w:input>",
        "<w:input><s:body use=\"literal\"/><s:header message=\"t:Pass\" part=\"pass\" use=\"literal\"><s:headerfault message=\"t:NoPass\" part=\"noPass\" use=\"literal\"/></s:header></w:input>",
    );
    let folder = Folder::empty();
    folder.write("old.wsdl", slots(&[schema, message, header]));
    let opens =
        ("<x:element name=\"opens\" type=\"x:time\"/>", "<x:element name=\"opens\" type=\"x:date\"/>");
    folder.write("new.wsdl", slots(&[schema, message, header, opens]));
    for (name, reads) in [
        ("Opens", "$fault/noPass/$header/noPass/opens"),
        ("Office", "$fault/noPass/$header/noPass/office"),
        ("Slip", "$fault/noPass/$header/noPass/opening"),
        ("Lock", "lock"),
    ] {
        folder.write(
            &format!("consumers/{name}.toml"),
            format!("name = \"{name}\"\n[operations.reserve]\nsends = []\nreads = [\"{reads}\"]\n"),
        );
    }
    let run = compared(&folder).ends(2);
    assert_eq!(told(&run, "Opens"), ["breaks element/noPass/opens"]);
    assert!(told(&run, "Office").is_empty() && told(&run, "Lock").is_empty());
    let lines: Vec<&str> = run.err.lines().collect();
    assert!(
        matches!(lines[..], [line] if line.starts_with("consumers/Slip.toml:4:10 ") && line.contains("opening")),
        "{lines:?}"
    );
    // What such a fault says is learned under the same path.
    folder.write("seen/.hidden", "");
    folder.write("learned/desk.toml", "name = \"Desk\"\n");
    folder.run("message old.wsdl reserve --header-fault noPass --as envelope -o seen/fault.xml").ends(0);
    folder.run("match old.wsdl seen --learn learned/desk.toml");
    let learned = folder.read("learned/desk.toml");
    assert!(learned.contains("\"$fault/noPass/$header/noPass/opens\""), "{learned}");
}

#[test]
fn how_a_consumer_reads_decides_what_meets_it() {
    let records = ["strict", "lenient", "position", "name"].map(|word| {
        (
            word,
            format!(
                "reading = \"{word}\"\n[operations.reserve]\nsends = []\nreads = [\"lock\", \"basin\"]\n"
            ),
        )
    });
    let records: Vec<(&str, &str)> = records.iter().map(|(name, record)| (*name, record.as_str())).collect();
    let met = |change: (&str, &str)| -> Vec<String> {
        let run = compared(&folder(&[change], &records));
        let met = |(name, _): &&(&str, &str)| !told(&run, name).is_empty();
        records.iter().filter(met).map(|(name, _)| (*name).to_owned()).collect()
    };
    let window = "<x:element name=\"window\" type=\"t:Window\"/>";
    let basin = "<x:element name=\"basin\" type=\"x:string\"/>";
    // Something new before what is read: who counts is off by one.
    let new = "<x:element name=\"quay\" type=\"x:string\" minOccurs=\"0\"/>";
    assert_eq!(met((window, &format!("{new}{window}"))), ["strict", "position"]);
    // The same under another name: who counts does not notice.
    assert_eq!(met((basin, "<x:element name=\"dock\" type=\"x:string\"/>")), ["strict", "lenient", "name"]);
    // Another order: who goes by names does not notice.
    assert_eq!(
        met((&format!("{window}{basin}"), &format!("{basin}{window}"))),
        ["strict", "lenient", "position"]
    );
    // What is not read may do as it likes, unless replies are judged as a whole.
    let until = "<x:element name=\"until\" type=\"x:dateTime\"/>";
    assert_eq!(met((until, "<x:element name=\"until\" type=\"x:date\"/>")), ["strict"]);
}

#[test]
fn another_type_in_the_place_of_one_is_one_change_and_meets_who_uses_what_differs() {
    let records = [
        ("From", "[operations.reserve]\nreads = [\"window/from\"]\n"),
        ("Lock", "[operations.reserve]\nreads = [\"lock\"]\n"),
    ];
    let window =
        ("<x:element name=\"window\" type=\"t:Window\"/>", "<x:element name=\"window\" type=\"t:Tide\"/>");
    let folder = folder(&[window], &records);
    let run = compared(&folder).ends(1);
    assert_eq!(told(&run, "From"), ["breaks element/reserved/window"]);
    assert!(told(&run, "Lock").is_empty());
    let changes = run.json()["changes"].as_array().unwrap().clone();
    assert_eq!(changes.len(), 1, "{changes:#?}");
    let change = &changes[0];
    assert_eq!(change["rule"], "type-changed");
    assert_eq!((&change["old"], &change["new"]), (&"window: Window".into(), &"window: Tide".into()));
    let message = change["message"].as_str().unwrap();
    assert!(message.starts_with("it is of type Tide now, not Window: "), "{message}");
    assert!(message.ends_with("; and 1 more"), "{message}");
}

#[test]
fn consumers_are_met_by_what_they_use() {
    let folder = Folder::with_demo();
    folder.write(
        "consumers/buoy-watch.toml",
        "name = \"Buoy Watch\"\nreading = \"strict\"\n[operations.findBoarding]\nreads = [\"boarding/state\"]\n",
    );
    folder.write(
        "consumers/quay-board.toml",
        "name = \"Quay Board\"\n[operations.findBoarding]\nreads = [\"boarding/state\"]\n[operations.listBoardings]\nsends = [\"after\"]\nreads = []\n",
    );
    folder.write(
        "consumers/tolland.toml",
        "name = \"Tolland and Reeve\"\ncontact = \"desk@tolland.example\"\n[operations.findBoarding]\nreads = [\"boarding/pilot/name\"]\n[operations.listBoardings]\nsends = [\"pageSize\"]\nreads = []\n",
    );
    let json = folder.run(&format!("compare {V2} {V3} --consumers consumers --format json")).ends(1).json();
    let of = |name: &str| -> Vec<(String, String)> {
        let consumer = json["consumers"].as_array().unwrap().iter().find(|one| one["name"] == name).unwrap();
        let because = consumer["because"].as_array().unwrap().iter();
        let text = |value: &Value| value.as_str().unwrap().to_owned();
        let of_schema = because.filter(|one| one["rule"] != "address-changed");
        of_schema.map(|one| (text(&one["path"]), text(&one["verdict"]))).collect()
    };
    let breaks = |path: &str| (path.to_owned(), "breaks".to_owned());
    // Who is strict refuses what is new, though it does not read it.
    assert_eq!(of("Buoy Watch"), [breaks("type/Boarding/assignedPilot"), breaks("type/Hazard/packing")]);
    // Who reads and sends nothing of what changed does not notice.
    assert_eq!(of("Quay Board"), []);
    assert_eq!(of("Tolland and Reeve"), [breaks("type/PageSize"), breaks("type/Boarding/assignedPilot")]);
    // The message that shows it is one of an operation that the consumer uses.
    let tolland = json["consumers"]
        .as_array()
        .unwrap()
        .iter()
        .find(|one| one["contact"] == "desk@tolland.example")
        .unwrap();
    assert_eq!(tolland["because"][0]["witness"]["operation"], "listBoardings");
    assert_eq!(tolland["because"][1]["witness"]["operation"], "findBoarding");
    folder
        .run(&format!("compare {V2} {V3} --consumers consumers"))
        .says("Buoy Watch")
        .says("it refuses what it does not know");
}

#[test]
fn records_are_learned_and_captures_replayed() {
    let folder = Folder::with_demo();
    folder.write("seen/.hidden", "");
    folder.run(&format!("message {V2} listBoardings pageSize=250 --as envelope -o seen/list.xml")).ends(0);
    folder.run(&format!("message {V2} cancelBoarding --as envelope -o seen/cancel.xml")).ends(0);
    folder
        .run(&format!("match {V2} seen --learn consumers/desk.toml"))
        .ends(2)
        .complains("could not be written");
    folder.write(
        "consumers/desk.toml",
        "# The harbour desk.\nname = \"Harbour desk\"\ncaptured = [\"../seen\"]\n",
    );
    let run = folder.run(&format!("match {V2} seen --learn consumers/desk.toml")).ends(0);
    assert!(run.err.contains("paths added from 2 messages"), "{}", run.err);
    let record = folder.read("consumers/desk.toml");
    assert!(record.starts_with("# The harbour desk.\nname = \"Harbour desk\"\n"), "{record}");
    assert!(
        record.contains("[operations.listBoardings]\nsends = [\n") && record.contains("\"pageSize\""),
        "{record}"
    );
    // Nothing is added twice.
    folder.run(&format!("match {V2} seen --learn consumers/desk.toml")).ends(0);
    assert_eq!(folder.read("consumers/desk.toml"), record);
    let run = folder.run(&format!("compare {V2} {V3} --consumers consumers")).ends(1);
    run.says("1 of 2 fit")
        .says("seen/list.xml (listBoardings input) no longer fits: \"250\" is not at most 100");
}

#[test]
fn broken_records_are_told_with_their_place() {
    let folder = Folder::with_demo();
    let compare = format!("compare {V2} {V3} --consumers consumers");
    folder.run(&compare).ends(2).complains("there is no such folder of consumer records");
    folder.write("consumers/notes.txt", "");
    folder.run(&compare).ends(2).complains("there is no consumer record in this folder");
    for (text, place) in [
        ("name = \"Desk\"\nreading = \"fast\"\n", "desk.toml:2:11"),
        ("name = \"Desk\"\nreads = []\n", "desk.toml:2:1"),
        ("name = \"Desk\n", "desk.toml:1:"),
        ("reading = \"strict\"\n", "missing field `name`"),
    ] {
        folder.write("consumers/desk.toml", text);
        folder.run(&compare).ends(2).complains(place);
    }
}

#[test]
fn a_table_of_many_changes_is_no_wider_than_its_lines_may_be() {
    let fields = |ty: &str| -> String {
        (0..30).map(|n| format!("<x:element name=\"mark{n}\" type=\"x:{ty}\" minOccurs=\"0\"/>")).collect()
    };
    let tugs = "<x:element name=\"tugs\" type=\"x:int\" minOccurs=\"0\"/>";
    let folder = Folder::empty();
    folder.write("old.wsdl", slots(&[(tugs, &fields("int"))]));
    folder.write("new.wsdl", slots(&[(tugs, &fields("short"))]));
    folder.write("consumers/desk.toml", "name = \"Desk\"\n[operations.reserve]\n");
    folder.write(
        "consumers/quay.toml",
        "name = \"Quay\"\n[operations.reserve]\nsends = [\"number\", \"mark17\"]\nreads = []\n",
    );
    let run = folder.run("compare old.wsdl new.wsdl --consumers consumers").ends(1);
    let (_, table) = run.out.split_once("\nconsumers\n").unwrap();
    let (table, of_each) = table.split_once("\nbreaks Desk").unwrap();
    assert!(table.lines().all(|line| line.chars().count() <= 110), "{table}");
    let rows: Vec<&str> = table.lines().filter(|line| line.trim_start().starts_with("Desk")).collect();
    assert_eq!(rows.len(), 3, "{table}");
    assert_eq!(rows.iter().map(|row| row.matches("breaks").count()).sum::<usize>(), 30, "{table}");
    let quay: Vec<&str> = table.lines().filter(|line| line.trim_start().starts_with("Quay")).collect();
    assert_eq!(quay.iter().map(|row| row.matches("breaks").count()).sum::<usize>(), 1, "{table}");
    // What was replayed is said once, in the last column.
    assert_eq!(table.matches("replay").count(), 1, "{table}");
    let (desk, _) = of_each.split_once("\nbreaks Quay").unwrap();
    assert_eq!(desk.matches("the old version accepts").count(), 5, "{desk}");
    assert!(desk.contains("25 more have a message that shows it: --as page"), "{desk}");
}

#[test]
fn a_record_without_operations_is_met_by_nothing() {
    let gone = ("<x:element name=\"basin\" type=\"x:string\"/>", "");
    let run = compared(&folder(&[gone], &[("Desk", "")])).ends(1);
    assert!(told(&run, "Desk").is_empty());
    let json = run.json();
    assert_eq!(json["consumers"][0]["verdict"], "keeps");
}

#[test]
fn an_operation_that_is_gone_meets_those_who_call_it() {
    let records = [("Desk", "[operations.reserve]\n"), ("Quay", "[operations.other]\n"), ("Lock", "")];
    let gone = [
        (
            "<w:operation name=\"reserve\"><w:input message=\"t:Reserve\"/>",
            "<w:operation name=\"book\"><w:input message=\"t:NoSlot\"/>",
        ),
        ("<w:operation name=\"reserve\"><s:operation", "<w:operation name=\"book\"><s:operation"),
    ];
    let run = compared(&folder(&gone, &records)).ends(2);
    assert_eq!(told(&run, "Desk")[0], "breaks operation/reserve");
    assert!(told(&run, "Quay").is_empty());
    assert!(told(&run, "Lock").is_empty());
    assert_eq!(because(&run, "Desk")[0]["reason"], "it calls this operation");
}

#[test]
fn broken_records_are_told_in_words_of_their_own() {
    let folder = folder(&[], &[]);
    for (text, words) in [
        ("name = \"Desk\"\nreading = \"fast\"\n", "consumers/desk.toml:2:11: \"fast\" is no way of reading"),
        ("name = \"Desk\"\nreading = 7\n", "consumers/desk.toml:2:11"),
        ("name = \"Desk\"\nports = \"East\"\n", "consumers/desk.toml:2:9"),
        ("name = \"Desk\"\n[operations.reserve]\nsends = [7]\n", "consumers/desk.toml:3:10"),
        ("name = \"Desk\"\n[operations.reserve]\nwants = []\n", "consumers/desk.toml:3:1"),
        ("name = \"Desk\"\nname = \"Quay\"\n", "consumers/desk.toml:2:1"),
        ("\u{feff}name = 1\n", "consumers/desk.toml:1:"),
    ] {
        folder.write("consumers/desk.toml", text);
        folder.run("compare old.wsdl new.wsdl --consumers consumers").ends(2).complains(words);
    }
    folder.write("consumers/desk.toml", [0xff, 0xfe, 0x00]);
    folder
        .run("compare old.wsdl new.wsdl --consumers consumers")
        .ends(2)
        .complains("the record cannot be read");
}

#[test]
fn paths_that_make_no_sense_are_told() {
    let record = "[operations.reserve]\nsends = [\"\", \"draught//@unit\", \"tugs[0]\", \"{urn:saltmere:slots:1}tugs\", \"draught[1]/@unit\"]\n";
    let run = folder(&[], &[("Desk", record)]).run("compare old.wsdl new.wsdl --consumers consumers").ends(2);
    let lines: Vec<&str> = run.err.lines().collect();
    assert_eq!(lines.len(), 3, "{}", run.err);
    assert!(lines[0].starts_with("consumers/Desk.toml:3:10 reserve sends \"\": "), "{}", run.err);
    assert!(lines[1].contains("a step of the path is empty"), "{}", run.err);
    assert!(lines[2].contains("the number of a step counts from 1"), "{}", run.err);
}

#[test]
fn a_page_says_of_each_consumer_why() {
    let folder = Folder::with_demo();
    folder.run(&format!("compare {V2} {V3} --consumers saltmere/consumers --as page -o report.html")).ends(1);
    let page = folder.read("report.html");
    let of = |name: &str| {
        let start =
            page.find(&format!("{name}</span>: why")).unwrap_or_else(|| panic!("no {name} in {page}"));
        page[start..].split("</ul></details>").next().unwrap().to_owned()
    };
    let tolland = of("Tolland and Reeve");
    for words in [
        "it sends this",
        "it reads this",
        "a message that shows it: requestPilot (input)",
        "outer anchorage",
        "captured&#x2f;request-pilot.xml",
        "no longer fits",
    ] {
        assert!(tolland.contains(words), "{words} is not in\n{tolland}");
    }
    assert!(of("Buoy Watch").contains("it refuses what it does not know"));
    assert!(!of("Quay board").contains("a message that shows it"));
    // Nothing of a template is left, and nothing is missing.
    assert!(!page.contains("{{") && !page.contains("{%") && !page.contains("None"), "{page}");
    assert_eq!(page.matches("<details").count(), page.matches("</details>").count());
}

#[test]
fn what_an_array_holds_is_read_with_and_without_its_members() {
    let folder = Folder::with_demo();
    let office = folder.read("saltmere/office/harbour.wsdl");
    folder.write("old.wsdl", &office);
    let depth = "<xs:element name=\"depth\" type=\"tns:Metres\"/>";
    assert!(office.contains(depth));
    folder.write("new.wsdl", office.replace(depth, "<xs:element name=\"depth\" type=\"xs:string\"/>"));
    folder.write("seen/.hidden", "");
    folder.run("message old.wsdl operation/listBerths/output --as envelope -o seen/reply.xml").ends(0);
    folder.write("consumers/learned.toml", "name = \"learned\"\n");
    folder.run("match old.wsdl seen --learn consumers/learned.toml").ends(0);
    for (name, path) in
        [("member", "berths/item/depth"), ("second", "berths/item[2]/depth"), ("other", "berths/quay")]
    {
        folder.write(
            &format!("consumers/{name}.toml"),
            format!("name = \"{name}\"\n[operations.listBerths]\nreads = [\"{path}\"]\n"),
        );
    }
    let run = compared(&folder).ends(1);
    assert_eq!(run.err, "");
    for name in ["learned", "member", "second"] {
        assert_eq!(told(&run, name), ["breaks type/Berth/depth"], "{name}");
    }
    assert!(told(&run, "other").is_empty());
}

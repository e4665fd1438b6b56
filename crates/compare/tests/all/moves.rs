//! Contracts that move to another namespace: the move comes first, and all else is judged beyond it.

use charter_compare::{Because, Change, Kind, Report, UnknownContent, Verdict, Version, Witness, compare};
use charter_contract::Contract;
use charter_source::{Limits, Location, Overlay};

/// A contract of the berths of a port, with its schema in a file beside it; pieces of both replaced.
fn contract(changes: &[(&str, &str)]) -> Contract {
    let mut wsdl = String::from(
        r#"<w:definitions xmlns:w="http://schemas.xmlsoap.org/wsdl/" xmlns:s="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:x="http://www.w3.org/2001/XMLSchema"
  xmlns:t="urn:saltmere:berths:v16" xmlns:d="urn:saltmere:berths:v16:data" targetNamespace="urn:saltmere:berths:v16">
<w:types><x:schema><x:import namespace="urn:saltmere:berths:v16:data" schemaLocation="data.xsd"/></x:schema></w:types>
<w:message name="Assign"><w:part name="body" element="d:assign"/><w:part name="head" element="d:version"/></w:message>
<w:message name="Assigned"><w:part name="body" element="d:assigned"/></w:message>
<w:portType name="Berths"><w:operation name="assign"><w:input message="t:Assign"/><w:output message="t:Assigned"/></w:operation></w:portType>
<w:binding name="BerthsOverSoap11" type="t:Berths"><s:binding transport="http://schemas.xmlsoap.org/soap/http"/>
<w:operation name="assign"><s:operation soapAction="urn:saltmere:berths:v16/assign"/>
<w:input><s:header message="t:Assign" part="head" use="literal"/><s:body parts="body" use="literal"/></w:input><w:output><s:body use="literal"/></w:output></w:operation></w:binding>
<w:service name="BerthService"><w:port name="BerthPort" binding="t:BerthsOverSoap11"><s:address location="http://localhost:8080/berths"/></w:port></w:service>
</w:definitions>"#,
    );
    let mut schema = String::from(
        r#"<x:schema xmlns:x="http://www.w3.org/2001/XMLSchema" xmlns="urn:saltmere:berths:v16:data" targetNamespace="urn:saltmere:berths:v16:data" elementFormDefault="qualified">
<x:element name="assign" type="Ship"/>
<x:element name="assigned" type="Berth"/>
<x:element name="version"><x:complexType><x:attribute name="number" type="x:string" fixed="16.2"/></x:complexType></x:element>
<x:complexType name="Ship"><x:sequence><x:element name="name" type="x:string"/><x:element name="draught" type="x:decimal" minOccurs="0"/></x:sequence></x:complexType>
<x:complexType name="Berth"><x:sequence><x:element name="number" type="x:int"/></x:sequence></x:complexType>
</x:schema>"#,
    );
    for (from, to) in changes {
        assert!(wsdl.contains(from) || schema.contains(from), "{from}");
        wsdl = wsdl.replace(from, to);
        schema = schema.replace(from, to);
    }
    let store = Overlay::of(&[("berths.wsdl", &wsdl), ("data.xsd", &schema)]);
    let contract =
        Contract::load(&store, &Location::from_argument("berths.wsdl"), Limits::default()).unwrap();
    assert!(contract.faults().is_empty(), "{:?}", contract.faults());
    contract
}

/// What moves a contract to the next version.
const MOVE: [(&str, &str); 2] = [("v16", "v24"), ("16.2", "24.2")];

fn told(report: &Report) -> Vec<String> {
    let line = |it: &Change| format!("{} {} {}", it.verdict.name(), it.kind, it.path);
    report.changes.iter().map(line).collect()
}

fn moved(changes: &[(&str, &str)]) -> Report {
    compare(&contract(&[]), &contract(&[changes, &MOVE].concat()), UnknownContent::Open)
}

#[test]
fn a_move_is_one_change_with_all_that_follows() {
    let report = moved(&[]);
    assert_eq!(told(&report), ["breaks namespace-moved contract"]);
    let change = &report.changes[0];
    assert!(change.is_migration());
    assert_eq!(
        change.what.to_string(),
        "\"urn:saltmere:berths:v16:data\" is now \"urn:saltmere:berths:v24:data\", and \"urn:saltmere:berths:v16\" is now \"urn:saltmere:berths:v24\", \
with 3 elements, 2 types, 1 header block, 1 action and 1 fixed value"
    );
    assert_eq!(change.operations.len(), 2);
    assert_eq!((report.broken, report.operations), (1, 1));
    let Some(Witness { body: Some(body), accepted_by: Version::Old, because, .. }) = &change.witness else {
        panic!("{:?}", change.witness)
    };
    assert!(body.contains("urn:saltmere:berths:v16:data"), "{body}");
    assert!(matches!(because, Because::Changed(_)), "{because:?}");
}

#[test]
fn what_changed_beside_it_is_judged_beyond_it() {
    let report = moved(&[
        (r#"type="x:decimal" minOccurs="0"/>"#, r#"type="x:decimal"/>"#),
        (
            r#"<x:element name="number" type="x:int"/>"#,
            r#"<x:element name="number" type="x:int"/><x:element name="quay" type="x:string" minOccurs="0"/>"#,
        ),
    ]);
    let expected = [
        "breaks namespace-moved contract",
        "breaks occurrence-tightened type/Ship/draught",
        "bends element-added type/Berth/quay",
    ];
    assert_eq!(told(&report), expected);
    // Each is shown by a message in the new names, which is wrong in one respect.
    for change in &report.changes[1..] {
        let witness = change.witness.as_ref().unwrap();
        assert!(witness.body.as_ref().unwrap().contains("urn:saltmere:berths:v24:data"), "{witness:?}");
        assert_eq!(witness.refused.len(), 1, "{witness:?}");
    }
    // Places are those of the old version as it is written.
    let old = contract(&[]);
    let place = report.changes[1].old_place.unwrap();
    assert!(
        old.files.slice(place).contains("draught") || old.files.slice(place).starts_with("<x:element"),
        "{}",
        old.files.slice(place)
    );
}

#[test]
fn places_of_the_old_version_stand_where_they_stood() {
    let report = moved(&[(
        r#"<x:element name="number" type="x:int"/>"#,
        r#"<x:element name="number" type="x:string"/>"#,
    )]);
    let change = report.changes.iter().find(|change| change.kind == Kind::TypeChanged).unwrap();
    let old = contract(&[]);
    let place = change.old_place.unwrap();
    let text = old.files.get(place.file).text().content();
    let line = text[..place.span.start as usize].lines().count();
    let expected = text.lines().position(|line| line.contains("name=\"number\" type=\"x:int\"")).unwrap();
    assert_eq!(line, expected + 1, "{}", old.files.slice(place));
}

#[test]
fn what_goes_by_another_name_is_found_beyond_it() {
    let report = moved(&[
        ("name=\"assign\"", "name=\"allot\""),
        ("d:assign\"", "d:allot\""),
        ("v16/assign", "v16/allot"),
    ]);
    assert_eq!(
        told(&report),
        ["breaks namespace-moved contract", "breaks operation-renamed operation/allot"]
    );
    assert_eq!((report.broken, report.operations), (1, 1));
}

#[test]
fn a_namespace_that_no_message_knows_is_no_matter_of_the_wire() {
    let report =
        compare(&contract(&[]), &contract(&[("berths:v16\"", "berths:v24\"")]), UnknownContent::Open);
    assert_eq!(told(&report), Vec::<String>::new());
}

#[test]
fn what_only_looks_like_a_move_is_none() {
    // Another contract altogether has none of the names.
    let other = contract(&[
        ("v16", "v24"),
        ("16.2", "24.2"),
        ("assign", "moor"),
        ("Assign", "Moor"),
        ("Berth", "Quay"),
        ("Ship", "Hull"),
        ("\"version\"", "\"release\""),
        ("d:version", "d:release"),
    ]);
    let report = compare(&contract(&[]), &other, UnknownContent::Open);
    assert!(report.changes.iter().all(|change| !change.is_migration()), "{:?}", told(&report));
    // A namespace that the old version spoke of is no new one.
    let speaks = [("xmlns:x=", "xmlns:later=\"urn:saltmere:berths:v24:data\" xmlns:x=")];
    let report = compare(&contract(&speaks), &contract(&MOVE), UnknownContent::Open);
    let first = report.changes.iter().find(|change| change.is_migration());
    assert!(first.is_none_or(|change| !change.what.to_string().contains("v24:data")), "{:?}", told(&report));
    assert_eq!(report.verdict, Verdict::Breaks);
}

#[test]
fn values_follow_only_where_the_new_version_has_them() {
    // The version number stayed, so it did not follow; the action went elsewhere.
    let report =
        compare(&contract(&[]), &contract(&[("v16", "v24"), ("v24/assign", "other")]), UnknownContent::Open);
    let expected = ["breaks namespace-moved contract", "breaks action-changed"];
    let told = told(&report);
    assert!(told.len() == 2 && told[0] == expected[0] && told[1].starts_with(expected[1]), "{told:?}");
    assert!(report.changes[0].what.to_string().ends_with("with 3 elements, 2 types and 1 header block"));
}

/// What puts the local elements of the schema out of its namespace.
const OUT: (&str, &str) = (r#" elementFormDefault="qualified""#, "");

#[test]
fn local_names_that_go_out_of_their_namespace_or_into_it_are_a_move() {
    let (out, within) = (contract(&[OUT]), contract(&[]));
    let optional = (r#"type="x:decimal" minOccurs="0"/>"#, r#"type="x:decimal"/>"#);
    for (old, new, said) in [
        (
            &within,
            contract(&[OUT, optional]),
            "3 local elements are no longer in \"urn:saltmere:berths:v16:data\"",
        ),
        (&out, contract(&[optional]), "3 local elements are in \"urn:saltmere:berths:v16:data\" now"),
    ] {
        let report = compare(old, &new, UnknownContent::Open);
        assert_eq!(
            told(&report),
            ["breaks namespace-moved contract", "breaks occurrence-tightened type/Ship/draught"]
        );
        assert_eq!(report.changes[0].what.to_string(), said);
        assert!(report.changes[0].is_migration() && report.changes[0].witness.is_some());
        assert_eq!(report.changes[0].operations.len(), 2);
        // The witness of the other is a message in the new names.
        let witness = report.changes[1].witness.as_ref().unwrap();
        let body = witness.body.as_ref().unwrap();
        assert_eq!(body.starts_with("<assign xmlns="), said.ends_with("now"), "{body}");
    }
}

#[test]
fn a_namespace_and_the_local_names_in_it_move_as_one() {
    let report = moved(&[OUT]);
    assert_eq!(told(&report), ["breaks namespace-moved contract"]);
    let said = report.changes[0].what.to_string();
    assert!(
        said.contains(", and 3 local elements are no longer in \"urn:saltmere:berths:v24:data\", with"),
        "{said}"
    );
    // So do attributes.
    let attributes = (
        r#"elementFormDefault="qualified""#,
        r#"elementFormDefault="qualified" attributeFormDefault="qualified""#,
    );
    let report = compare(&contract(&[]), &contract(&[attributes]), UnknownContent::Open);
    assert_eq!(
        report.changes[0].what.to_string(),
        "1 local attribute is in \"urn:saltmere:berths:v16:data\" now"
    );
}

#[test]
fn local_names_that_say_for_themselves_what_they_are_stay() {
    // The default is another, and each name says that it is what it was.
    let form = |name: &'static str| (name, name.replace(" type=", " form=\"qualified\" type="));
    let names =
        [r#"name="name" type="#, r#"name="draught" type="#, r#"name="number" type="x:int""#].map(form);
    let mut changes = vec![OUT];
    changes.extend(names.iter().map(|(from, to)| (*from, to.as_str())));
    assert_eq!(told(&compare(&contract(&[]), &contract(&changes), UnknownContent::Open)), [] as [&str; 0]);
}

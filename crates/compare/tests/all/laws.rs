//! What holds between comparisons, whatever is compared: a contract differs in nothing from itself however it is written;
//! swapping the versions swaps the sides; what keeps, keeps step by step; and what is said to keep is accepted.

use std::sync::OnceLock;

use charter_compare::{OpenContent, Options, Report, Surface, UnknownContent, Verdict, compare, compare_by};
use charter_contract::{Contract, Side};
use charter_schema::Engine;
use charter_schema::sample::{Sampler, Size, to_document};
use charter_source::{Files, Limits, Location, Overlay};

/// What stands for the content of an element `load` in the request and in the reply: contents and values of all kinds.
const LOADS: &[&str] = &[
    "<x:element name='load' type='x:string'/>",
    "<x:element name='load' type='x:token'/>",
    "<x:element name='load' type='x:int'/>",
    "<x:element name='load' type='x:int' nillable='true'/>",
    "<x:element name='load' type='x:byte'/>",
    "<x:element name='load' type='x:decimal'/>",
    "<x:element name='load' type='x:date'/>",
    "<x:element name='load' type='x:int' fixed='7'/>",
    "<x:element name='load'><x:simpleType><x:restriction base='x:int'><x:minInclusive value='0'/><x:maxInclusive value='9'/></x:restriction></x:simpleType></x:element>",
    "<x:element name='load'><x:simpleType><x:restriction base='x:token'><x:pattern value='[0-9]'/></x:restriction></x:simpleType></x:element>",
    "<x:element name='load'><x:simpleType><x:restriction base='x:token'><x:enumeration value='7'/><x:enumeration value='8'/></x:restriction></x:simpleType></x:element>",
    "<x:element name='load'><x:simpleType><x:list itemType='x:int'/></x:simpleType></x:element>",
    "<x:element name='load'><x:simpleType><x:union memberTypes='x:int x:date'/></x:simpleType></x:element>",
    "<x:element name='load'><x:complexType/></x:element>",
    "<x:element name='load'><x:complexType><x:sequence><x:element name='a' type='x:int'/></x:sequence></x:complexType></x:element>",
    "<x:element name='load'><x:complexType mixed='true'><x:sequence><x:element name='a' type='x:int'/></x:sequence></x:complexType></x:element>",
    "<x:element name='load'><x:complexType><x:sequence><x:element name='a' type='x:int' minOccurs='0'/></x:sequence></x:complexType></x:element>",
    "<x:element name='load'><x:complexType><x:sequence><x:element name='a' type='x:int' maxOccurs='3'/></x:sequence></x:complexType></x:element>",
    "<x:element name='load'><x:complexType><x:sequence><x:element name='a' type='x:int' minOccurs='0' maxOccurs='unbounded'/></x:sequence></x:complexType></x:element>",
    "<x:element name='load'><x:complexType><x:sequence><x:element name='a' type='x:int'/><x:element name='b' type='x:int' minOccurs='0'/></x:sequence></x:complexType></x:element>",
    "<x:element name='load'><x:complexType><x:sequence><x:element name='b' type='x:int' minOccurs='0'/><x:element name='a' type='x:int'/></x:sequence></x:complexType></x:element>",
    "<x:element name='load'><x:complexType><x:all><x:element name='a' type='x:int'/><x:element name='b' type='x:int' minOccurs='0'/></x:all></x:complexType></x:element>",
    "<x:element name='load'><x:complexType><x:choice><x:element name='a' type='x:int'/><x:element name='b' type='x:int'/></x:choice></x:complexType></x:element>",
    "<x:element name='load'><x:complexType><x:choice maxOccurs='unbounded'><x:element name='a' type='x:int'/><x:element name='b' type='x:int'/></x:choice></x:complexType></x:element>",
    "<x:element name='load'><x:complexType><x:sequence><x:any processContents='lax' minOccurs='0' maxOccurs='unbounded'/></x:sequence></x:complexType></x:element>",
    "<x:element name='load'><x:complexType><x:sequence><x:element name='a' type='x:int'/></x:sequence><x:attribute name='id' type='x:int'/></x:complexType></x:element>",
    "<x:element name='load'><x:complexType><x:sequence><x:element name='a' type='x:int'/></x:sequence><x:attribute name='id' type='x:int' use='required'/></x:complexType></x:element>",
    "<x:element name='load'><x:complexType><x:sequence><x:element name='a' type='x:int'/></x:sequence><x:anyAttribute processContents='lax'/></x:complexType></x:element>",
    "<x:element name='load' type='t:Base'/>",
    "<x:element name='load' type='t:Base' block='extension'/>",
    "<x:element name='load'><x:complexType><x:sequence><x:element ref='t:head'/></x:sequence></x:complexType></x:element>",
    "<x:element name='load'><x:complexType><x:sequence><x:element name='load' type='x:int' minOccurs='0'/><x:element ref='t:nest' minOccurs='0'/></x:sequence></x:complexType></x:element>",
    "<x:element name='load' type='x:anyType'/>",
];

const SURROUNDINGS: &str = "<x:complexType name='Base'><x:sequence><x:element name='a' type='x:int'/></x:sequence></x:complexType>\
    <x:complexType name='More'><x:complexContent><x:extension base='t:Base'><x:sequence><x:element name='b' type='x:int' minOccurs='0'/></x:sequence></x:extension></x:complexContent></x:complexType>\
    <x:element name='head' type='x:int'/><x:element name='other' type='x:byte' substitutionGroup='t:head'/>\
    <x:element name='nest'><x:complexType><x:sequence><x:element ref='t:nest' minOccurs='0' maxOccurs='2'/></x:sequence></x:complexType></x:element>";

fn contract(load: &str) -> Contract {
    let text = format!(
        "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:saltmere:load:1' targetNamespace='urn:saltmere:load:1'>\
        <w:types><x:schema targetNamespace='urn:saltmere:load:1'>{load}{SURROUNDINGS}</x:schema></w:types>\
        <w:message name='Load'><w:part name='load' element='t:load'/></w:message>\
        <w:portType name='Loads'><w:operation name='load'><w:input message='t:Load'/><w:output message='t:Load'/></w:operation></w:portType>\
        <w:binding name='LoadsOverSoap11' type='t:Loads'><s:binding transport='http://schemas.xmlsoap.org/soap/http'/><w:operation name='load'><s:operation soapAction='load'/><w:input><s:body use='literal'/></w:input><w:output><s:body use='literal'/></w:output></w:operation></w:binding>\
        <w:service name='LoadService'><w:port name='LoadPort' binding='t:LoadsOverSoap11'><s:address location='http://localhost:8080/load'/></w:port></w:service></w:definitions>"
    );
    load_text(&[("load.wsdl", &text)])
}

fn load_text(files: &[(&str, &str)]) -> Contract {
    let store = Overlay::of(files);
    let contract = Contract::load(&store, &Location::from_argument(files[0].0), Limits::default()).unwrap();
    assert!(contract.files.iter().all(|file| file.root().is_some()));
    contract
}

fn contracts() -> &'static [Contract] {
    static ALL: OnceLock<Vec<Contract>> = OnceLock::new();
    ALL.get_or_init(|| LOADS.iter().map(|load| contract(load)).collect())
}

/// All ways from one contract to another: what the comparison says of the request, and of the reply.
fn verdicts() -> &'static Vec<Vec<[Verdict; 2]>> {
    static ALL: OnceLock<Vec<Vec<[Verdict; 2]>>> = OnceLock::new();
    let side = |report: &Report, side: Side| {
        let touched = report.changes.iter().flat_map(|change| &change.operations);
        touched.filter(|it| it.at.side == side).map(|it| it.verdict).max().unwrap_or(Verdict::Keeps)
    };
    let both = |old: &Contract, new: &Contract| {
        let report = compare(old, new, UnknownContent::Refused);
        [side(&report, Side::Input), side(&report, Side::Output)]
    };
    ALL.get_or_init(|| {
        contracts().iter().map(|old| contracts().iter().map(|new| both(old, new)).collect()).collect()
    })
}

#[test]
fn swapping_the_versions_swaps_the_sides() {
    let all = verdicts();
    for (old, row) in all.iter().enumerate() {
        for (new, [request, _]) in row.iter().enumerate() {
            let [_, reply] = all[new][old];
            let breaks = |verdict: Verdict| verdict == Verdict::Breaks;
            assert_eq!(breaks(*request), breaks(reply), "from\n{}\nto\n{}", LOADS[old], LOADS[new]);
        }
    }
}

#[test]
fn what_keeps_step_by_step_keeps() {
    let all = verdicts();
    let keeps = |a: usize, b: usize| all[a][b][0] == Verdict::Keeps;
    let count = all.len();
    let mut chains = 0;
    for (a, b, c) in (0..count).flat_map(|a| (0..count).flat_map(move |b| (0..count).map(move |c| (a, b, c))))
    {
        if keeps(a, b) && keeps(b, c) {
            chains += usize::from(a != b && b != c);
            assert!(keeps(a, c), "{}\n{}\n{}", LOADS[a], LOADS[b], LOADS[c]);
        }
    }
    assert!(chains > 50, "{chains} chains are too few to show anything");
}

#[test]
fn what_keeps_is_accepted() {
    let mut messages = 0;
    for (old, row) in verdicts().iter().enumerate() {
        let engine = engine_of(&contracts()[old]);
        let root = root(&contracts()[old]);
        let sizes = [Size::Least, Size::Typical, Size::Most].into_iter().chain((1..16).map(Size::Random));
        let texts: Vec<String> = sizes
            .filter_map(|size| Sampler::new(&engine, size).element(root).ok())
            .map(|sample| to_document(&sample))
            .filter(|text| refused(&engine, text).is_none())
            .collect();
        assert!(!texts.is_empty(), "{}", LOADS[old]);
        for (new, _) in row.iter().enumerate().filter(|(_, [request, _])| *request == Verdict::Keeps) {
            let engine = engine_of(&contracts()[new]);
            for text in &texts {
                messages += 1;
                assert_eq!(refused(&engine, text), None, "{}\n{}\n{text}", LOADS[old], LOADS[new]);
            }
        }
    }
    assert!(messages > 1_000, "{messages} messages are too few to show anything");
}

/// Where open content is left out of account, what keeps is accepted all the same, as long as nobody puts anything there.
#[test]
fn what_keeps_apart_from_open_content_is_accepted_without_any() {
    let options =
        Options { reader: UnknownContent::Refused, open: OpenContent::Ignored, ..Options::default() };
    let (mut messages, mut more) = (0, 0);
    for (old, row) in verdicts().iter().enumerate() {
        let engine = engine_of(&contracts()[old]);
        let root = root(&contracts()[old]);
        // Wildcards and `anyType` are empty in these.
        let samples = [Size::Least, Size::Typical].into_iter();
        let texts: Vec<String> = samples
            .filter_map(|size| Sampler::new(&engine, size).element(root).ok())
            .map(|mut sample| {
                if LOADS[old].contains("anyType") {
                    sample.children.clear();
                }
                to_document(&sample)
            })
            .collect();
        for (new, [request, _]) in row.iter().enumerate() {
            let report = compare_by(&contracts()[old], &contracts()[new], options);
            let touched = report.changes.iter().flat_map(|change| &change.operations);
            let worst = touched.filter(|it| it.at.side == Side::Input).map(|it| it.verdict).max();
            if worst.unwrap_or(Verdict::Keeps) != Verdict::Keeps {
                continue;
            }
            more += usize::from(*request != Verdict::Keeps);
            let engine = engine_of(&contracts()[new]);
            for text in &texts {
                messages += 1;
                assert_eq!(refused(&engine, text), None, "{}\n{}\n{text}", LOADS[old], LOADS[new]);
            }
        }
    }
    assert!(messages > 100 && more > 10, "{messages} messages and {more} pairs are too few to show anything");
}

fn engine_of(contract: &Contract) -> Engine<'_> {
    Engine::new(&contract.files, &contract.schemas)
}

fn root(contract: &Contract) -> charter_schema::ElementId {
    let name = contract.schemas.element_names().find(|name| &*name.local == "load").cloned().unwrap();
    contract.schemas.element_named(&name).unwrap()
}

/// What is wrong with a document.
fn refused(engine: &Engine<'_>, text: &str) -> Option<String> {
    let store = Overlay::of(&[("m.xml", text)]);
    let files = Files::load(&store, &Location::from_argument("m.xml"), Limits::default()).unwrap();
    let report = engine.validate(files.first().id, files.first().root().unwrap(), 1);
    report.wrong.into_iter().next().map(|wrong| wrong.fault.message)
}

/// The office of the harbour: every kind of binding, a policy, header faults.
const OFFICE: &str = include_str!("../../../cli/demo/office/harbour.wsdl");

/// That the two differ in nothing, not even for generated code.
fn same(old: &Contract, new: &Contract) {
    for (a, b) in [(old, new), (new, old)] {
        let report = compare_by(
            a,
            b,
            Options { reader: UnknownContent::Refused, surface: Surface::Code, open: OpenContent::Named },
        );
        let found: Vec<String> = report.changes.iter().map(|it| format!("{} {}", it.kind, it.what)).collect();
        assert!(found.is_empty(), "{found:?}");
        assert!(report.operations > 0);
    }
}

#[test]
fn a_contract_is_itself() {
    let office = load_text(&[("harbour.wsdl", OFFICE)]);
    same(&office, &load_text(&[("harbour.wsdl", OFFICE)]));
    contracts().iter().for_each(|contract| same(contract, contract));
}

#[test]
fn a_contract_that_was_tidied_is_itself() {
    let office = load_text(&[("harbour.wsdl", OFFICE)]);
    // Comments gone, all on one line, another prefix, and other quotes where no other quotes stand inside.
    let mut text = String::new();
    let mut rest = OFFICE;
    while let Some((before, after)) = rest.split_once("<!--") {
        text.push_str(before);
        rest = after.split_once("-->").unwrap().1;
    }
    text.push_str(rest);
    let text = text.lines().map(str::trim).collect::<Vec<_>>().join(" ");
    let text = text.replace("tns:", "harbour:").replace("xmlns:tns=", "xmlns:harbour=");
    assert!(text.contains("xmlns:harbour=") && !text.contains("tns"));
    same(&office, &load_text(&[("harbour.wsdl", &text.replace('"', "'"))]));
}

#[test]
fn a_contract_that_was_put_in_another_order_is_itself() {
    let office = load_text(&[("harbour.wsdl", OFFICE)]);
    let messages: Vec<&str> = OFFICE.split_inclusive("</wsdl:message>").collect();
    let (first, last) = (messages[0], messages[messages.len() - 1]);
    let start = first.rfind("<wsdl:message").unwrap();
    let mut between: Vec<&str> = vec![&first[start..]];
    between.extend(&messages[1..messages.len() - 1]);
    assert!(between.len() > 3);
    between.reverse();
    same(&office, &load_text(&[("harbour.wsdl", &format!("{}{}{last}", &first[..start], between.concat()))]));
}

#[test]
fn a_contract_that_was_split_or_joined_is_itself() {
    let joined = contract(LOADS[21]);
    let text = joined.files.first().text().content().to_owned();
    let (before, rest) = text.split_once("<w:types>").unwrap();
    let (types, after) = rest.split_once("</w:types>").unwrap();
    let names = "xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:saltmere:load:1'";
    let schema = types.replacen("<x:schema ", &format!("<x:schema {names} "), 1);
    // Surroundings in a file of their own, included; the schema imported; the messages in a contract that is imported.
    let own = schema.replace(SURROUNDINGS, "").replacen('>', "><x:include schemaLocation='rest.xsd'/>", 1);
    let rest = format!("<x:schema {names} targetNamespace='urn:saltmere:load:1'>{SURROUNDINGS}</x:schema>");
    let (message, bindings) = after.split_once("<w:binding").unwrap();
    let wsdl = "xmlns:w='http://schemas.xmlsoap.org/wsdl/'";
    let abstract_part = format!(
        "<w:definitions {wsdl} {names} targetNamespace='urn:saltmere:load:1'><w:types><x:schema><x:import namespace='urn:saltmere:load:1' schemaLocation='load.xsd'/></x:schema></w:types>{message}</w:definitions>"
    );
    let concrete = format!(
        "{before}<w:import namespace='urn:saltmere:load:1' location='abstract.wsdl'/><w:binding{bindings}"
    );
    let split = load_text(&[
        ("concrete.wsdl", &concrete),
        ("abstract.wsdl", &abstract_part),
        ("load.xsd", &own),
        ("rest.xsd", &rest),
    ]);
    assert_eq!(split.files.iter().count(), 4);
    same(&joined, &split);
}

/// What shows a change is chosen among many, and always the same.
#[test]
fn the_same_comparison_gives_the_same_messages() {
    let named = "<x:element name='a' type='x:decimal' minOccurs='0'/><x:element name='b' type='x:int' minOccurs='0' maxOccurs='unbounded'/><x:element name='c' type='x:int' minOccurs='0'/><x:element name='d' type='x:string'/>";
    let open = "<x:element name='a' type='x:decimal' minOccurs='0'/><x:any processContents='lax' minOccurs='0' maxOccurs='unbounded'/><x:element name='c' type='x:int' minOccurs='0'/><x:element name='d' type='x:string'/>";
    let load = |content: &str| {
        contract(&format!(
            "<x:element name='load'><x:complexType><x:sequence>{content}</x:sequence></x:complexType></x:element>"
        ))
    };
    let (old, new) = (load(named), load(open));
    let shown = || -> Vec<Option<String>> {
        let report = compare_by(&old, &new, Options { open: OpenContent::Named, ..Options::default() });
        report.changes.iter().map(|it| it.witness.as_ref().and_then(|it| it.body.clone())).collect()
    };
    let first = shown();
    assert!(first.iter().any(Option::is_some));
    for _ in 0..24 {
        assert_eq!(shown(), first);
    }
}

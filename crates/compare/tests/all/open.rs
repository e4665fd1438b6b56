//! Open content: what no declaration names is told apart, once, and never hides what is named.

use charter_compare::{
    Change, Kind, OpenContent, Options, Report, UnknownContent, Usage, UsedOperation, Verdict, compare_by,
    compare_for,
};
use charter_contract::Contract;
use charter_source::{Limits, Location, Overlay};

/// A contract with a request and a reply whose contents are `ask` and `tell`, and more in its schema.
fn contract(ask: &str, tell: &str, more: &str) -> Contract {
    let text = format!(
        "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:saltmere:notes' targetNamespace='urn:saltmere:notes'>
<w:types><x:schema targetNamespace='urn:saltmere:notes' elementFormDefault='qualified'>
<x:element name='ask'><x:complexType><x:sequence>{ask}</x:sequence></x:complexType></x:element>
<x:element name='tell'><x:complexType><x:sequence>{tell}</x:sequence></x:complexType></x:element>{more}</x:schema></w:types>
<w:message name='Ask'><w:part name='p' element='t:ask'/></w:message><w:message name='Tell'><w:part name='p' element='t:tell'/></w:message>
<w:portType name='Notes'><w:operation name='note'><w:input message='t:Ask'/><w:output message='t:Tell'/></w:operation></w:portType>
<w:binding name='NotesOverSoap11' type='t:Notes'><s:binding transport='http://schemas.xmlsoap.org/soap/http'/><w:operation name='note'><s:operation soapAction='note'/><w:input><s:body use='literal'/></w:input><w:output><s:body use='literal'/></w:output></w:operation></w:binding>
<w:service name='S'><w:port name='Q' binding='t:NotesOverSoap11'><s:address location='http://localhost:8080/notes'/></w:port></w:service></w:definitions>"
    );
    let store = Overlay::of(&[("notes.wsdl", &text)]);
    let contract = Contract::load(&store, &Location::from_argument("notes.wsdl"), Limits::default()).unwrap();
    assert!(contract.faults().is_empty(), "{:?}", contract.faults());
    contract
}

fn by(old: &Contract, new: &Contract, open: OpenContent) -> Report {
    compare_by(old, new, Options { open, reader: UnknownContent::Refused, ..Options::default() })
}

fn told(report: &Report) -> Vec<String> {
    let line = |it: &Change| format!("{} {} {}", it.verdict.name(), it.kind, it.path);
    report.changes.iter().filter(|it| it.verdict != Verdict::Keeps).map(line).collect()
}

const LAX: &str = "<x:any processContents='lax' minOccurs='0' maxOccurs='unbounded'/>";
const STRICT: &str = "<x:any minOccurs='0' maxOccurs='unbounded'/>";
const NAME: &str = "<x:element name='name' type='x:string'/>";
const SHIP: &str = "<x:element name='ship' type='x:string'/>";

#[test]
fn what_differs_in_open_content_alone_bends_and_is_told_once() {
    let old = contract(&format!("{NAME}{LAX}"), NAME, SHIP);
    let new = contract(&format!("{NAME}{LAX}"), NAME, &SHIP.replace("x:string", "x:int"));
    let report = by(&old, &new, OpenContent::Apart);
    assert_eq!(told(&report), ["bends open-content-changed element/ask"]);
    let open = report.changes[0].open.as_ref().unwrap();
    assert_eq!(open.points.len(), 1);
    assert_eq!(open.differences.iter().map(|it| it.path.as_str()).collect::<Vec<_>>(), ["element/ship"]);
    assert_eq!(report.changes[0].operations.len(), 1);
    assert_eq!(told(&by(&old, &new, OpenContent::Ignored)), Vec::<String>::new());
    assert_eq!(told(&by(&old, &new, OpenContent::Named)), ["breaks type-changed element/ship"]);
    // What is judged as if it were named is told there alone; what is left out of account is told as what keeps.
    let kinds = |open| by(&old, &new, open).changes.iter().map(|it| it.kind).collect::<Vec<_>>();
    assert_eq!(kinds(OpenContent::Named), [Kind::TypeChanged]);
    assert_eq!(kinds(OpenContent::Ignored), [Kind::OpenContentChanged]);
}

#[test]
fn a_type_that_is_named_must_be_known_where_anything_may_stand() {
    let code = "<x:simpleType name='Code'><x:restriction base='x:token'/></x:simpleType>";
    let more = "<x:simpleType name='Short'><x:restriction base='t:Code'><x:maxLength value='3'/></x:restriction></x:simpleType>";
    let old = contract(
        &format!("{NAME}<x:element name='code' type='t:Code' minOccurs='0'/>"),
        NAME,
        &format!("{code}{more}"),
    );
    let same = contract(&format!("{NAME}{LAX}"), NAME, &format!("{code}{more}"));
    assert_eq!(by(&old, &same, OpenContent::Apart).verdict, Verdict::Keeps);
    let gone = contract(&format!("{NAME}{LAX}"), NAME, code);
    assert_eq!(by(&old, &gone, OpenContent::Apart).verdict, Verdict::Breaks);
}

#[test]
fn what_shows_in_named_content_as_well_is_told_there() {
    let ask = format!("{NAME}<x:element ref='t:ship'/>{LAX}");
    let other = |ty: &str| SHIP.replace("x:string", ty);
    let old = contract(&ask, &format!("{NAME}{LAX}"), &other("x:string"));
    let new = contract(&ask, &format!("{NAME}{LAX}"), &other("x:token"));
    let report = by(&old, &new, OpenContent::Apart);
    assert!(
        report.changes.iter().any(|it| it.kind == Kind::TypeChanged && it.path.as_str() == "element/ship"),
        "{:?}",
        told(&report)
    );
}

#[test]
fn one_cause_at_many_places_is_one_change() {
    let content =
        format!("{NAME}<x:element name='more' type='t:More'/><x:element name='rest' type='t:Rest'/>");
    let types = |ty: &str| {
        format!(
            "<x:complexType name='More'><x:sequence>{LAX}</x:sequence></x:complexType><x:complexType name='Rest'><x:sequence>{NAME}{LAX}</x:sequence></x:complexType>{}",
            SHIP.replace("x:string", ty)
        )
    };
    let (old, new) =
        (contract(&content, &content, &types("x:string")), contract(&content, &content, &types("x:int")));
    let report = by(&old, &new, OpenContent::Apart);
    assert_eq!(told(&report), ["bends open-content-changed contract"]);
    let change = &report.changes[0];
    let points: Vec<&str> = change.open.as_ref().unwrap().points.iter().map(|it| it.as_str()).collect();
    assert_eq!(points, ["type/More", "type/Rest"]);
    assert_eq!(
        change.what.to_string(),
        "what may stand where no declaration names it differs at 2 places, in one component"
    );
}

#[test]
fn what_the_old_version_never_heard_of_is_nobodys() {
    for wildcard in [LAX, "<x:element name='any' type='x:anyType' minOccurs='0'/>"] {
        let content = format!("{NAME}{wildcard}");
        let old = contract(&content, &content, "");
        let more = "<x:element name='ship' type='t:Ship'/><x:complexType name='Ship'><x:sequence><x:element name='draught' type='x:decimal'/></x:sequence></x:complexType>";
        let new = contract(&content, &content, more);
        assert_eq!(told(&by(&old, &new, OpenContent::Apart)), Vec::<String>::new(), "{wildcard}");
        assert_ne!(told(&by(&old, &new, OpenContent::Named)), Vec::<String>::new(), "{wildcard}");
        // What it knew and the new version does not may have been put there.
        let back = by(&new, &old, OpenContent::Apart);
        let strict = by(&new, &old, OpenContent::Named);
        assert!(told(&back).len() <= told(&strict).len().max(1), "{:?}", told(&back));
    }
    // The way in which contracts are extended: a new element before the wildcard.
    let old = contract(&format!("{NAME}{LAX}"), &format!("{NAME}{LAX}"), "");
    let grown = format!("{NAME}<x:element name='since' type='x:date' minOccurs='0'/>{LAX}");
    let new = contract(&grown, &grown, "");
    assert_eq!(told(&by(&old, &new, OpenContent::Apart)), Vec::<String>::new());
}

#[test]
fn a_wildcard_that_is_gone_or_narrower_bends_and_one_that_must_be_filled_breaks() {
    let with = |wildcard: &str| contract(&format!("{NAME}{wildcard}"), NAME, SHIP);
    for (old, new) in [
        (LAX, ""),
        (LAX, "<x:any namespace='##other' processContents='lax' minOccurs='0' maxOccurs='unbounded'/>"),
        (LAX, STRICT),
    ] {
        let report = by(&with(old), &with(new), OpenContent::Apart);
        assert_eq!(told(&report), ["bends open-content-changed element/ask"], "{new}");
    }
    // Who puts nothing there is refused now: that is named.
    let report =
        by(&with(LAX), &with("<x:any processContents='lax' maxOccurs='unbounded'/>"), OpenContent::Apart);
    assert_eq!(report.verdict, Verdict::Breaks, "{:?}", told(&report));
}

#[test]
fn anything_that_becomes_something_is_open_but_for_what_must_be_there() {
    let of = |ty: &str| {
        contract(
            &format!("<x:element name='load' {ty}/>"),
            NAME,
            "<x:complexType name='May'><x:sequence><x:element name='a' type='x:int' minOccurs='0'/></x:sequence></x:complexType><x:complexType name='Must'><x:sequence><x:element name='a' type='x:int'/></x:sequence></x:complexType>",
        )
    };
    let verdict = |to: &str| by(&of("type='x:anyType'"), &of(to), OpenContent::Apart).verdict;
    assert_eq!(verdict("type='t:May'"), Verdict::Bends);
    assert_eq!(verdict("type='t:Must'"), Verdict::Breaks);
    assert_eq!(verdict("type='x:string'"), Verdict::Bends);
    assert_eq!(verdict("type='x:int'"), Verdict::Breaks);
    // A named type that becomes anything keeps all that was sent.
    let back = by(&of("type='t:Must'"), &of("type='x:anyType'"), OpenContent::Apart);
    assert_eq!(back.verdict, Verdict::Keeps, "{:?}", told(&back));
}

#[test]
fn attributes_of_wildcards_are_open_too() {
    let of = |attributes: &str| {
        contract(
            "<x:element name='load' type='t:Load'/>",
            NAME,
            &format!("<x:complexType name='Load'>{attributes}</x:complexType>"),
        )
    };
    let open = of("<x:anyAttribute processContents='lax'/>");
    assert_eq!(told(&by(&open, &of(""), OpenContent::Apart)), ["bends open-content-changed type/Load"]);
    // An attribute that is declared beside the wildcard is one that nobody has sent.
    let grown = of("<x:attribute name='since' type='x:float'/><x:anyAttribute processContents='lax'/>");
    assert_eq!(told(&by(&open, &grown, OpenContent::Apart)), Vec::<String>::new());
    // One that must be there breaks whoever sends none.
    let must = of(
        "<x:attribute name='since' type='x:float' use='required'/><x:anyAttribute processContents='lax'/>",
    );
    assert_eq!(by(&open, &must, OpenContent::Apart).verdict, Verdict::Breaks);
}

#[test]
fn a_consumer_is_met_by_what_it_puts_there_itself() {
    let old = contract(&format!("{NAME}{LAX}"), NAME, SHIP);
    let new = contract(&format!("{NAME}{LAX}"), NAME, &SHIP.replace("x:string", "x:int"));
    let usage = |sends: Option<&[&str]>| {
        let paths = |all: &[&str]| all.iter().map(|path| vec![(*path).to_owned()]).collect();
        let operation =
            UsedOperation { name: "note".to_owned(), sends: sends.map(paths), reads: Some(Vec::new()) };
        Usage { operations: vec![operation], ..Usage::default() }
    };
    let usages = [usage(Some(&["name"])), usage(Some(&["name", "ship"])), usage(None)];
    let (report, consequences) = compare_for(&old, &new, Options::default(), &usages);
    assert_eq!(told(&report), ["bends open-content-changed element/ask"]);
    let met: Vec<Option<(Verdict, bool)>> =
        consequences.iter().map(|all| all.first().map(|one| (one.verdict, one.witness.is_some()))).collect();
    assert_eq!(met, [None, Some((Verdict::Breaks, true)), Some((Verdict::Bends, false))]);
    let witness = consequences[1][0].witness.as_ref().unwrap();
    assert!(
        witness.body.as_ref().unwrap().contains(":ship>") || witness.body.as_ref().unwrap().contains("<ship"),
        "{witness:?}"
    );
}

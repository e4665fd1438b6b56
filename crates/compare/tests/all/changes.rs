//! Each kind of change, in a request and in a reply, there and back.

use charter_compare::{
    Change, Kind, OpenContent, Options, Report, UnknownContent, Verdict, Versions, compare_by,
};
use charter_contract::Contract;
use charter_source::{Limits, Location, Overlay};

/// Compares with open content judged as strictly as what is named.
fn compare(old: &Contract, new: &Contract, reader: UnknownContent) -> Report {
    compare_by(old, new, Options { reader, open: OpenContent::Named, ..Options::default() })
}

fn load(text: &str) -> Contract {
    let contract = Contract::load(
        &Overlay::of(&[("c.wsdl", text)]),
        &Location::from_argument("c.wsdl"),
        Limits::default(),
    );
    let contract = contract.unwrap();
    assert!(contract.faults().is_empty(), "{:?}\n{text}", contract.faults());
    contract
}

/// A contract with two one-sided operations: `send` takes the type `T` as a request, `tell` gives it as a reply.
pub fn contract(types: &str) -> Contract {
    load(&format!(
        "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' targetNamespace='urn:t'>
<w:types><x:schema targetNamespace='urn:t' elementFormDefault='qualified'>
<x:element name='send' type='t:T'/><x:element name='tell' type='t:T'/><x:element name='other' type='x:int'/>
{types}</x:schema></w:types>
<w:message name='Send'><w:part name='p' element='t:send'/></w:message><w:message name='Tell'><w:part name='p' element='t:tell'/></w:message>
<w:portType name='P'><w:operation name='send'><w:input message='t:Send'/></w:operation><w:operation name='tell'><w:output message='t:Tell'/></w:operation></w:portType>
<w:binding name='B' type='t:P'><s:binding transport='http://schemas.xmlsoap.org/soap/http'/><w:operation name='send'><s:operation soapAction='a'/><w:input><s:body use='literal'/></w:input></w:operation><w:operation name='tell'><s:operation soapAction='b'/><w:output><s:body use='literal'/></w:output></w:operation></w:binding>
<w:service name='S'><w:port name='Q' binding='t:B'><s:address location='https://t.example/'/></w:port></w:service></w:definitions>"
    ))
}

/// The verdict on the request and on the reply, each the worst of all changes that reach it.
fn verdicts(names: Versions<'_>, report: &Report) -> (Verdict, Verdict) {
    let worst = |operation: &str| {
        let touched = report.changes.iter().flat_map(|change| &change.operations);
        touched
            .filter(|t| names.operation_name(t.at) == operation)
            .map(|t| t.verdict)
            .max()
            .unwrap_or(Verdict::Keeps)
    };
    (worst("send"), worst("tell"))
}

/// A change of `T`, what it does to a request and to a reply, and what its reverse does.
struct Row {
    rule: &'static str,
    old: &'static str,
    new: &'static str,
    there: (Verdict, Verdict),
    back: (Verdict, Verdict),
}

const K: Verdict = Verdict::Keeps;
const N: Verdict = Verdict::Bends;
const B: Verdict = Verdict::Breaks;

/// Loosened: a request keeps, a reply breaks; and the other way round.
const LOOSER: ((Verdict, Verdict), (Verdict, Verdict)) = ((K, B), (B, K));
const OTHER: ((Verdict, Verdict), (Verdict, Verdict)) = ((B, B), (B, B));
const OPEN: ((Verdict, Verdict), (Verdict, Verdict)) = ((N, N), (N, N));

/// Loosened to values of another kind: what was right is accepted, and read as something else.
const READ_AS: ((Verdict, Verdict), (Verdict, Verdict)) = ((N, B), (B, N));

const fn row(
    rule: &'static str,
    old: &'static str,
    new: &'static str,
    (there, back): ((Verdict, Verdict), (Verdict, Verdict)),
) -> Row {
    Row { rule, old, new, there, back }
}

/// Rows whose `T` is a simple type.
const VALUES: &[Row] = &[
    row(
        "value-added",
        "<x:restriction base='x:string'><x:enumeration value='a'/></x:restriction>",
        "<x:restriction base='x:string'><x:enumeration value='a'/><x:enumeration value='b'/></x:restriction>",
        LOOSER,
    ),
    row(
        "value-added",
        "<x:restriction base='x:string'><x:enumeration value='a'/></x:restriction>",
        "<x:restriction base='x:string'/>",
        LOOSER,
    ),
    row(
        "value-removed",
        "<x:restriction base='x:string'><x:enumeration value='a'/></x:restriction>",
        "<x:restriction base='x:string'><x:enumeration value='b'/></x:restriction>",
        OTHER,
    ),
    row(
        "range-widened",
        "<x:restriction base='x:decimal'><x:maxInclusive value='9.50'/></x:restriction>",
        "<x:restriction base='x:decimal'><x:maxInclusive value='10'/></x:restriction>",
        LOOSER,
    ),
    row(
        "range-widened",
        "<x:restriction base='x:decimal'><x:maxExclusive value='10'/></x:restriction>",
        "<x:restriction base='x:decimal'><x:maxInclusive value='10.0'/></x:restriction>",
        LOOSER,
    ),
    row(
        "range-widened",
        "<x:restriction base='x:date'><x:minInclusive value='2026-03-14'/></x:restriction>",
        "<x:restriction base='x:date'><x:minInclusive value='2026-01-01'/></x:restriction>",
        LOOSER,
    ),
    row(
        "range-widened",
        "<x:restriction base='x:int'><x:minInclusive value='0'/></x:restriction>",
        "<x:restriction base='x:int'/>",
        LOOSER,
    ),
    row(
        "range-changed",
        "<x:restriction base='x:date'><x:minInclusive value='2026-03-14Z'/></x:restriction>",
        "<x:restriction base='x:date'><x:minInclusive value='2026-03-14'/></x:restriction>",
        OTHER,
    ),
    row(
        "length-changed",
        "<x:restriction base='x:string'><x:maxLength value='9'/></x:restriction>",
        "<x:restriction base='x:string'><x:maxLength value='10'/></x:restriction>",
        LOOSER,
    ),
    row(
        "length-changed",
        "<x:restriction base='x:string'><x:length value='9'/></x:restriction>",
        "<x:restriction base='x:string'><x:minLength value='9'/></x:restriction>",
        LOOSER,
    ),
    row(
        "length-changed",
        "<x:restriction base='x:string'><x:minLength value='1'/></x:restriction>",
        "<x:restriction base='x:string'/>",
        LOOSER,
    ),
    row(
        "pattern-changed",
        "<x:restriction base='x:string'><x:pattern value='a+'/></x:restriction>",
        "<x:restriction base='x:string'/>",
        LOOSER,
    ),
    row(
        "pattern-changed",
        "<x:restriction base='x:string'><x:pattern value='a+'/></x:restriction>",
        "<x:restriction base='x:string'><x:pattern value='a*'/></x:restriction>",
        LOOSER,
    ),
    row(
        "digits-changed",
        "<x:restriction base='x:decimal'><x:fractionDigits value='2'/></x:restriction>",
        "<x:restriction base='x:decimal'><x:fractionDigits value='3'/></x:restriction>",
        LOOSER,
    ),
    row(
        "digits-changed",
        "<x:restriction base='x:decimal'><x:totalDigits value='5'/></x:restriction>",
        "<x:restriction base='x:decimal'/>",
        LOOSER,
    ),
    row("type-changed", "<x:restriction base='x:int'/>", "<x:restriction base='x:long'/>", LOOSER),
    row("type-changed", "<x:restriction base='x:int'/>", "<x:restriction base='x:decimal'/>", LOOSER),
    row("type-changed", "<x:restriction base='x:int'/>", "<x:restriction base='x:unsignedInt'/>", OTHER),
    row("type-changed", "<x:restriction base='x:unsignedByte'/>", "<x:restriction base='x:short'/>", LOOSER),
    row(
        "range-narrowed",
        "<x:restriction base='x:int'/>",
        "<x:restriction base='x:long'><x:maxInclusive value='9'/></x:restriction>",
        OTHER,
    ),
    row("type-changed", "<x:restriction base='x:token'/>", "<x:restriction base='x:string'/>", OPEN),
    row("type-changed", "<x:restriction base='x:date'/>", "<x:restriction base='x:dateTime'/>", OTHER),
    row("type-changed", "<x:restriction base='x:boolean'/>", "<x:restriction base='x:string'/>", READ_AS),
    row("type-changed", "<x:restriction base='x:int'/>", "<x:list itemType='x:int'/>", READ_AS),
    row("type-changed", "<x:list itemType='x:int'/>", "<x:list itemType='x:long'/>", LOOSER),
    row(
        "type-changed",
        "<x:union memberTypes='x:int x:date'/>",
        "<x:union memberTypes='x:int x:date x:token'/>",
        LOOSER,
    ),
    row(
        "length-changed",
        "<x:restriction><x:simpleType><x:list itemType='x:int'/></x:simpleType><x:maxLength value='2'/></x:restriction>",
        "<x:restriction><x:simpleType><x:list itemType='x:int'/></x:simpleType><x:maxLength value='3'/></x:restriction>",
        LOOSER,
    ),
];

/// Rows whose `T` is a complex type: what stands in its sequence, unless the row brings its own.
const CONTENTS: &[Row] = &[
    row(
        "occurrence-loosened",
        "<x:element name='a' type='x:int'/>",
        "<x:element name='a' type='x:int' minOccurs='0'/>",
        LOOSER,
    ),
    row(
        "occurrence-loosened",
        "<x:element name='a' type='x:int'/>",
        "<x:element name='a' type='x:int' maxOccurs='unbounded'/>",
        LOOSER,
    ),
    row(
        "occurrence-loosened",
        "<x:element name='a' type='x:int' minOccurs='2' maxOccurs='3'/>",
        "<x:element name='a' type='x:int' minOccurs='1' maxOccurs='4'/>",
        LOOSER,
    ),
    row(
        "occurrence-tightened",
        "<x:element name='a' type='x:int' minOccurs='0' maxOccurs='3'/>",
        "<x:element name='a' type='x:int' minOccurs='1' maxOccurs='4'/>",
        OTHER,
    ),
    row(
        "nil-allowed",
        "<x:element name='a' type='x:int'/>",
        "<x:element name='a' type='x:int' nillable='true'/>",
        LOOSER,
    ),
    row(
        "element-added",
        "<x:element name='a' type='x:int'/>",
        "<x:element name='a' type='x:int'/><x:element name='b' type='x:int' minOccurs='0'/>",
        ((K, N), (B, N)),
    ),
    row(
        "element-added",
        "<x:element name='a' type='x:int'/>",
        "<x:element name='a' type='x:int'/><x:element name='b' type='x:int'/>",
        ((B, N), (B, B)),
    ),
    row("element-renamed", "<x:element name='a' type='x:int'/>", "<x:element name='b' type='x:int'/>", OTHER),
    row(
        "order-changed",
        "<x:element name='a' type='x:int'/><x:element name='b' type='x:date'/>",
        "<x:element name='b' type='x:date'/><x:element name='a' type='x:int'/>",
        OTHER,
    ),
    row(
        "value-removed",
        "<x:element name='a' type='x:string'/>",
        "<x:element name='a'><x:simpleType><x:restriction base='x:string'><x:enumeration value='v'/></x:restriction></x:simpleType></x:element>",
        ((B, K), (K, B)),
    ),
    row(
        "default-changed",
        "<x:element name='a' type='x:int' default='1'/>",
        "<x:element name='a' type='x:int' default='2'/>",
        OTHER,
    ),
    row(
        "fixed-changed",
        "<x:element name='a' type='x:int'/>",
        "<x:element name='a' type='x:int' fixed='2'/>",
        // Where a value is fixed, an empty element stands for it, which was no number before.
        OTHER,
    ),
    row(
        "type-changed",
        "<x:element name='a' type='x:int'/>",
        "<x:element name='a'><x:complexType><x:sequence/></x:complexType></x:element>",
        OTHER,
    ),
    row("type-changed", "<x:element name='a' type='t:E'/>", "<x:element name='a'/>", LOOSER),
    row(
        "choice-added",
        "<x:choice><x:element name='a' type='x:int'/><x:element name='b' type='x:int'/></x:choice>",
        "<x:choice><x:element name='a' type='x:int'/><x:element name='b' type='x:int'/><x:element name='c' type='x:int'/></x:choice>",
        LOOSER,
    ),
    // An element that stands alone is a choice of one.
    row(
        "choice-added",
        "<x:element name='a' type='x:int' minOccurs='0'/><x:element name='z' type='x:int'/>",
        "<x:choice minOccurs='0'><x:element name='a' type='x:int'/><x:element name='b' type='x:int'/></x:choice><x:element name='z' type='x:int'/>",
        ((K, N), (B, K)),
    ),
    row(
        "choice-added",
        "<x:choice maxOccurs='unbounded'><x:element name='a' type='x:int'/></x:choice>",
        "<x:choice maxOccurs='unbounded'><x:element name='a' type='x:int'/><x:element name='b' type='x:int'/></x:choice>",
        LOOSER,
    ),
    row(
        "occurrence-loosened",
        "<x:choice><x:element name='a' type='x:int'/><x:element name='b' type='x:int'/></x:choice>",
        "<x:choice minOccurs='0'><x:element name='a' type='x:int'/><x:element name='b' type='x:int'/></x:choice>",
        LOOSER,
    ),
    row(
        "content-changed",
        "<x:any minOccurs='0'/>",
        "<x:choice><x:element name='a' type='x:int'/><x:element name='b' type='x:int'/></x:choice>",
        OTHER,
    ),
    row(
        "wildcard-changed",
        "<x:any minOccurs='0'/>",
        "<x:any minOccurs='0' namespace='##other'/>",
        ((B, K), (K, N)),
    ),
    row("occurrence-loosened", "<x:any/>", "<x:any maxOccurs='2'/>", LOOSER),
    row(
        "occurrence-loosened",
        "<x:sequence><x:element name='a' type='x:int'/><x:element name='b' type='x:int'/></x:sequence><x:element name='c' type='x:int'/>",
        "<x:sequence><x:element name='a' type='x:int' minOccurs='0'/><x:element name='b' type='x:int'/></x:sequence><x:element name='c' type='x:int'/>",
        LOOSER,
    ),
    row(
        "element-added",
        "<x:sequence minOccurs='0'><x:element name='a' type='x:int'/><x:element name='b' type='x:int'/></x:sequence>",
        "<x:sequence minOccurs='0'><x:element name='a' type='x:int'/><x:element name='b' type='x:int'/><x:element name='c' type='x:int' minOccurs='0'/></x:sequence>",
        ((K, N), (B, N)),
    ),
];

/// Rows whose `T` is a whole type definition.
const TYPES: &[Row] = &[
    row(
        "attribute-added",
        "<x:complexType name='T'/>",
        "<x:complexType name='T'><x:attribute name='a' type='x:int'/></x:complexType>",
        ((K, N), (B, N)),
    ),
    row(
        "attribute-added",
        "<x:complexType name='T'/>",
        "<x:complexType name='T'><x:attribute name='a' type='x:int' use='required'/></x:complexType>",
        ((B, N), (B, B)),
    ),
    row(
        "attribute-optional",
        "<x:complexType name='T'><x:attribute name='a' type='x:int' use='required'/></x:complexType>",
        "<x:complexType name='T'><x:attribute name='a' type='x:int'/></x:complexType>",
        LOOSER,
    ),
    row(
        "type-changed",
        "<x:complexType name='T'><x:attribute name='a' type='x:int'/></x:complexType>",
        "<x:complexType name='T'><x:attribute name='a' type='x:integer'/></x:complexType>",
        LOOSER,
    ),
    row(
        "default-changed",
        "<x:complexType name='T'><x:attribute name='a' default='1'/></x:complexType>",
        "<x:complexType name='T'><x:attribute name='a' default='2'/></x:complexType>",
        OTHER,
    ),
    row(
        "mixed-changed",
        "<x:complexType name='T'><x:sequence/></x:complexType>",
        "<x:complexType name='T' mixed='true'><x:sequence/></x:complexType>",
        LOOSER,
    ),
    row(
        "order-changed",
        "<x:complexType name='T'><x:sequence><x:element name='a' type='x:int'/><x:element name='b' type='x:int'/></x:sequence></x:complexType>",
        "<x:complexType name='T'><x:all><x:element name='a' type='x:int'/><x:element name='b' type='x:int'/></x:all></x:complexType>",
        LOOSER,
    ),
    row(
        "element-added",
        "<x:complexType name='T'><x:sequence/></x:complexType>",
        "<x:complexType name='Base'><x:sequence><x:element name='a' type='x:int' minOccurs='0'/></x:sequence></x:complexType><x:complexType name='T'><x:complexContent><x:extension base='t:Base'/></x:complexContent></x:complexType>",
        ((K, N), (B, N)),
    ),
    row(
        "range-widened",
        "<x:complexType name='T'><x:simpleContent><x:restriction base='t:S'><x:maxInclusive value='4'/></x:restriction></x:simpleContent></x:complexType><x:complexType name='S'><x:simpleContent><x:extension base='x:int'/></x:simpleContent></x:complexType>",
        "<x:complexType name='T'><x:simpleContent><x:extension base='t:S'/></x:simpleContent></x:complexType><x:complexType name='S'><x:simpleContent><x:extension base='x:int'/></x:simpleContent></x:complexType>",
        LOOSER,
    ),
];

/// What is written differently and is the same on the wire.
const SAME: &[(&str, &str)] = &[
    (
        "<x:complexType name='T'><x:sequence><x:element name='a' type='x:int'/></x:sequence></x:complexType>",
        "<x:complexType name='T'><x:sequence><x:sequence><x:element name='a' type='x:int'/></x:sequence></x:sequence></x:complexType>",
    ),
    (
        "<x:complexType name='T'><x:sequence><x:element name='a' type='x:int'/></x:sequence></x:complexType>",
        "<x:complexType name='T'><x:choice><x:element name='a' type='x:int'/></x:choice></x:complexType>",
    ),
    (
        "<x:complexType name='T'><x:sequence minOccurs='0'><x:element name='a' type='x:int'/></x:sequence></x:complexType>",
        "<x:complexType name='T'><x:sequence><x:element name='a' type='x:int' minOccurs='0'/></x:sequence></x:complexType>",
    ),
    (
        "<x:complexType name='T'><x:sequence><x:element ref='t:other'/></x:sequence></x:complexType>",
        "<x:complexType name='T'><x:sequence><x:element name='other' type='x:int'/></x:sequence></x:complexType>",
    ),
    (
        "<x:complexType name='T'><x:attribute name='a'/></x:complexType>",
        "<x:attributeGroup name='G'><x:attribute name='a'/></x:attributeGroup><x:complexType name='T'><x:attributeGroup ref='t:G'/></x:complexType>",
    ),
    (
        "<x:simpleType name='T'><x:restriction base='x:int'><x:maxInclusive value='9'/></x:restriction></x:simpleType>",
        "<x:simpleType name='T'><x:annotation><x:documentation>New words.</x:documentation></x:annotation><x:restriction base='x:int'><x:maxInclusive value='9.0'/></x:restriction></x:simpleType>",
    ),
];

/// What is not as a row says.
fn judge(row: &Row, wrap: impl Fn(&str) -> String) -> Vec<String> {
    let (old, new) = (contract(&wrap(row.old)), contract(&wrap(row.new)));
    let mut wrong = Vec::new();
    for (old, new, expected, way) in [(&old, &new, row.there, "there"), (&new, &old, row.back, "back")] {
        let report = compare(old, new, UnknownContent::Open);
        let found = verdicts(Versions { old, new }, &report);
        let seen: Vec<String> = report.changes.iter().map(shown).collect();
        if found != expected {
            wrong.push(format!(
                "{} -> {} {way}: {found:?}, not {expected:?}\n  {}",
                row.old,
                row.new,
                seen.join("\n  ")
            ));
        }
        if way == "there" && !report.changes.iter().any(|change| change.kind.name() == row.rule) {
            wrong.push(format!("{} -> {}: no {}\n  {}", row.old, row.new, row.rule, seen.join("\n  ")));
        }
        for change in &report.changes {
            assert!(change.old_place.is_some() || change.new_place.is_some(), "{change:?}");
            assert!(change.verdict != Verdict::Breaks || change.witness.is_some(), "{}", shown(change));
            assert!(change.verdict != Verdict::Bends || change.depends.is_some(), "{}", shown(change));
        }
    }
    wrong
}

/// A change with its witness, in a line.
fn shown(change: &Change) -> String {
    let witness = change.witness.as_ref().map(|witness| {
        let body = witness.body.as_deref().unwrap_or_default();
        format!(
            "{} {}: {}",
            witness.accepted_by.name(),
            witness.because(),
            body.split_whitespace().collect::<Vec<_>>().join(" ")
        )
    });
    format!("{:?} {} {} [{:?}] {witness:?}", change.verdict, change.kind, change.what, change.depends)
}

#[track_caller]
fn all_as_said(rows: &[Row], wrap: impl Fn(&str) -> String) {
    let wrong: Vec<String> = rows.iter().flat_map(|row| judge(row, &wrap)).collect();
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn values() {
    all_as_said(VALUES, |body| format!("<x:simpleType name='T'>{body}</x:simpleType>"));
}

#[test]
fn contents() {
    let empty = "<x:complexType name='E'><x:sequence/></x:complexType><x:element name='unused' type='t:E'/>";
    all_as_said(CONTENTS, |body| {
        format!("<x:complexType name='T'><x:sequence>{body}</x:sequence></x:complexType>{empty}")
    });
}

#[test]
fn whole_types() {
    all_as_said(TYPES, str::to_owned);
}

#[test]
fn what_is_the_same_on_the_wire_is_no_change() {
    for (old, new) in SAME {
        let report = compare(&contract(old), &contract(new), UnknownContent::Refused);
        let touched: Vec<_> = report.changes.iter().filter(|change| !change.operations.is_empty()).collect();
        assert!(touched.is_empty(), "{old} -> {new}\n{touched:#?}");
    }
}

#[test]
fn recursive_types_come_to_an_end() {
    let types = |last: &str| {
        format!(
            "<x:complexType name='T'><x:sequence><x:element name='next' type='t:U' minOccurs='0'/></x:sequence></x:complexType><x:complexType name='U'><x:sequence><x:element name='back' type='t:T'/><x:element name='v' type='{last}'/></x:sequence></x:complexType>"
        )
    };
    let (old, new) = (&contract(&types("x:int")), &contract(&types("x:long")));
    let report = compare(old, new, UnknownContent::Open);
    assert_eq!(verdicts(Versions { old, new }, &report), (K, B));
    assert_eq!(report.changes.len(), 1, "{:#?}", report.changes);
}

#[test]
fn one_cause_is_one_change_however_many_fields_it_reaches() {
    let types = |value: &str| {
        format!(
            "<x:simpleType name='Depth'><x:restriction base='x:decimal'><x:maxInclusive value='{value}'/></x:restriction></x:simpleType><x:complexType name='T'><x:sequence><x:element name='a' type='t:Depth'/><x:element name='b' type='t:Depth'/></x:sequence><x:attribute name='c' type='t:Depth'/></x:complexType>"
        )
    };
    let (old, new) = (&contract(&types("30")), &contract(&types("18")));
    let report = compare(old, new, UnknownContent::Open);
    assert_eq!(report.changes.len(), 1, "{:#?}", report.changes);
    let change = &report.changes[0];
    assert_eq!((change.path.as_str(), change.kind), ("type/Depth", Kind::RangeNarrowed));
    assert_eq!(change.old.as_deref(), Some("type Depth = decimal range ..30"));
    assert_eq!(change.operations.len(), 2);
    let names = Versions { old, new };
    assert_eq!(change.worst().map(|it| names.operation_name(it.at)).collect::<Vec<_>>(), ["send"]);
    assert_eq!((report.broken, report.operations), (1, 2));
}

#[test]
fn each_place_where_another_type_stands_is_a_change() {
    let types = |ty: &str| {
        format!(
            "<x:complexType name='Leg'><x:sequence><x:element name='at' type='x:{ty}'/></x:sequence></x:complexType><x:complexType name='T'><x:sequence><x:element name='eta' type='x:{ty}'/><x:element name='etd' type='x:{ty}'/><x:element name='leg' type='t:Leg' maxOccurs='2'/><x:element name='way' type='t:Leg'/></x:sequence></x:complexType>"
        )
    };
    let report = compare(&contract(&types("dateTime")), &contract(&types("date")), UnknownContent::Open);
    let found: Vec<(&str, usize)> =
        report.changes.iter().map(|change| (change.path.as_str(), change.operations.len())).collect();
    assert_eq!(found, [("type/Leg/at", 2), ("type/T/eta", 2), ("type/T/etd", 2)]);
}

#[test]
fn a_type_that_was_renamed_is_one_type_and_one_that_was_replaced_is_not() {
    let leg = |name: &str, ty: &str| format!("<x:complexType name='{name}' mixed='{}'/>", ty == "mixed");
    let fields = |name: &str| {
        format!(
            "<x:complexType name='T'><x:sequence><x:element name='in' type='t:{name}'/><x:element name='out' type='t:{name}'/></x:sequence></x:complexType>"
        )
    };
    let mixed = |old: &str, new: &str| -> Vec<String> {
        let report = compare(&contract(old), &contract(new), UnknownContent::Open);
        let found = report.changes.iter().filter(|change| change.kind == Kind::MixedChanged);
        found.map(|change| change.path.to_string()).collect()
    };
    let renamed = mixed(&(leg("Leg", "") + &fields("Leg")), &(leg("Passage", "mixed") + &fields("Passage")));
    assert_eq!(renamed, ["type/Passage"]);
    let both = leg("Leg", "") + &leg("Passage", "mixed");
    let replaced = mixed(&(both.clone() + &fields("Leg")), &(both + &fields("Passage")));
    assert_eq!(replaced, ["type/T/in", "type/T/out"]);
}

#[test]
fn all_that_differs_between_a_type_and_the_one_in_its_place_is_one_change() {
    let field = |name: &str, ty: &str| format!("<x:element name='{name}' type='x:{ty}'/>");
    let ty = |name: &str, fields: &str| {
        format!("<x:complexType name='{name}'><x:sequence>{fields}</x:sequence></x:complexType>")
    };
    let berth = field("quay", "string") + &field("depth", "decimal") + &field("free", "boolean");
    let stay = field("ship", "string") + &field("since", "date");
    let both = ty("Berth", &berth)
        + &ty("Stay", &stay)
        + "<x:simpleType name='Code'><x:restriction base='x:token'><x:maxLength value='4'/><x:pattern value='[A-Z]*'/></x:restriction></x:simpleType>";
    let at = |name: &str| both.clone() + &ty("T", &format!("<x:element name='at' type='{name}'/>"));
    let changes = |old: &str, new: &str| -> Vec<(String, &'static str, usize)> {
        let report = compare(&contract(&at(old)), &contract(&at(new)), UnknownContent::Open);
        report
            .changes
            .into_iter()
            .map(|change| (change.path.to_string(), change.kind.name(), change.operations.len()))
            .collect()
    };
    let one = |path: &str| vec![(path.to_owned(), "type-changed", 2)];
    assert_eq!(changes("t:Berth", "t:Stay"), one("type/T/at"));
    assert_eq!(changes("t:Stay", "t:Berth"), one("type/T/at"));
    // A type of the standard that is cut down to a type of one's own, length and pattern at once.
    assert_eq!(changes("x:token", "t:Code"), one("type/T/at"));
    // What changed within a type of the same name is told by itself.
    let grown = at("t:Berth").replace(&field("depth", "decimal"), "").replace(&field("free", "boolean"), "");
    let report = compare(&contract(&at("t:Berth")), &contract(&grown), UnknownContent::Open);
    assert_eq!(report.changes.len(), 2, "{:#?}", report.changes);
}

#[test]
fn readers_decide_on_what_is_new_alone() {
    let old = contract("<x:complexType name='T'><x:sequence/></x:complexType>");
    let new = contract(
        "<x:complexType name='T'><x:sequence><x:element name='a' type='x:int' minOccurs='0'/></x:sequence></x:complexType>",
    );
    let reply = |reader| verdicts(Versions { old: &old, new: &new }, &compare(&old, &new, reader)).1;
    assert_eq!(
        (reply(UnknownContent::Ignored), reply(UnknownContent::Open), reply(UnknownContent::Refused)),
        (K, N, B)
    );
    // What is gone and was there always breaks every reader.
    let must = contract(
        "<x:complexType name='T'><x:sequence><x:element name='a' type='x:int'/></x:sequence></x:complexType>",
    );
    let gone = |reader| verdicts(Versions { old: &must, new: &old }, &compare(&must, &old, reader)).1;
    assert_eq!((gone(UnknownContent::Ignored), gone(UnknownContent::Refused)), (B, B));
}

#[test]
fn what_changed_in_a_base_is_told_at_the_base_and_once() {
    let types = |most: &str, own: &str| {
        format!(
            "<x:simpleType name='Metres'><x:restriction base='x:decimal'><x:maxInclusive value='{most}'/></x:restriction></x:simpleType>
            <x:simpleType name='Depth'><x:restriction base='t:Metres'><x:fractionDigits value='{own}'/></x:restriction></x:simpleType>
            <x:simpleType name='Draught'><x:restriction base='t:Metres'/></x:simpleType>
            <x:complexType name='Sounding'><x:simpleContent><x:extension base='t:Depth'><x:attribute name='at' type='x:string'/></x:extension></x:simpleContent></x:complexType>
            <x:complexType name='T'><x:sequence><x:element name='a' type='t:Depth'/><x:element name='b' type='t:Draught'/><x:element name='c' type='t:Sounding'/></x:sequence><x:attribute name='d' type='t:Draught'/></x:complexType>"
        )
    };
    let paths = |old: String, new: String| -> Vec<(String, &'static str)> {
        let report = compare(&contract(&old), &contract(&new), UnknownContent::Open);
        report.changes.into_iter().map(|change| (change.path.to_string(), change.kind.name())).collect()
    };
    let one = |path: &str, rule| vec![(path.to_owned(), rule)];
    assert_eq!(paths(types("30", "1"), types("18", "1")), one("type/Metres", "range-narrowed"));
    assert_eq!(paths(types("18", "1"), types("30", "1")), one("type/Metres", "range-widened"));
    assert_eq!(paths(types("30", "1"), types("30", "2")), one("type/Depth", "digits-changed"));
    // What both levels changed is told where it stands nearest.
    let both = paths(types("30", "1"), types("18", "2"));
    assert!(both.contains(&("type/Depth".to_owned(), "digits-changed")), "{both:?}");
    assert!(both.contains(&("type/Metres".to_owned(), "range-narrowed")), "{both:?}");
}

#[test]
fn attributes_that_move_together_are_named_as_attributes() {
    let types = |form: &str| {
        format!(
            "<x:complexType name='T'><x:attribute name='quay' type='x:int' form='{form}'/><x:attribute name='pier' type='x:date' form='{form}'/></x:complexType>"
        )
    };
    let report =
        compare(&contract(&types("qualified")), &contract(&types("unqualified")), UnknownContent::Open);
    let said: Vec<String> = report.changes.iter().map(|it| it.what.to_string()).collect();
    assert_eq!(
        said,
        ["\"@quay\" and \"@pier\" are in no namespace now, and no longer in \"urn:t\""],
        "{:#?}",
        report.changes
    );
    // The names are no facts of the move, so a mark outlasts one more of them; the namespaces are.
    assert_eq!(report.changes[0].what.facts(), ["5:urn:t0:"]);
}

//! Never a *keeps* without proof: changes that are easily passed over.

use charter_compare::{Change, OpenContent, Options, Report, UnknownContent, Verdict, compare, compare_by};
use charter_contract::Contract;
use charter_source::{Limits, Location, Overlay};

/// A contract whose one operation sends and answers the type `T`, with the schema and the body extension given.
fn contract(types: &str, changes: &[(&str, &str)]) -> Contract {
    let mut text = format!(
        "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' xmlns:h='http://schemas.xmlsoap.org/wsdl/http/' xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' targetNamespace='urn:t'>
<w:types><x:schema targetNamespace='urn:t' elementFormDefault='qualified'><x:element name='ask' type='t:T'/><x:element name='tell' type='t:T'/>{types}</x:schema></w:types>
<w:message name='Ask'><w:part name='p' element='t:ask'/></w:message><w:message name='Tell'><w:part name='p' element='t:tell'/></w:message>
<w:portType name='P'><w:operation name='o'><w:input message='t:Ask'/><w:output message='t:Tell'/></w:operation></w:portType>
<w:binding name='B' type='t:P'><s:binding transport='http://schemas.xmlsoap.org/soap/http'/><w:operation name='o'><s:operation soapAction='o'/><w:input><s:body use='literal'/></w:input><w:output><s:body use='literal'/></w:output></w:operation></w:binding>
<w:service name='S'><w:port name='Q' binding='t:B'><s:address location='https://t.example/'/></w:port></w:service></w:definitions>"
    );
    for (from, to) in changes {
        assert!(text.contains(from), "{from}");
        text = text.replace(from, to);
    }
    let store = Overlay::of(&[("c.wsdl", &text)]);
    let contract = Contract::load(&store, &Location::from_argument("c.wsdl"), Limits::default()).unwrap();
    assert!(contract.faults().is_empty(), "{:?}\n{text}", contract.faults());
    contract
}

/// The verdict, having seen that each version keeps itself.
#[track_caller]
fn verdict(old: &Contract, new: &Contract) -> (Verdict, Report) {
    for same in [old, new] {
        let report = compare(same, same, UnknownContent::Refused);
        assert!(report.changes.is_empty(), "{:#?}", report.changes);
    }
    let report = compare_by(old, new, Options { open: OpenContent::Named, ..Options::default() });
    (report.verdict, report)
}

#[test]
fn changes_of_types_that_are_not_in_their_content() {
    let mut wrong = Vec::new();
    for (rule, least, old, new) in [
        // Moved past a group and past a wildcard.
        (
            "order-changed",
            Verdict::Breaks,
            "<x:complexType name='T'><x:sequence><x:element name='a' type='x:int'/><x:choice><x:element name='b' type='x:int'/><x:element name='c' type='x:int'/></x:choice></x:sequence></x:complexType>",
            "<x:complexType name='T'><x:sequence><x:choice><x:element name='b' type='x:int'/><x:element name='c' type='x:int'/></x:choice><x:element name='a' type='x:int'/></x:sequence></x:complexType>",
        ),
        (
            "order-changed",
            Verdict::Breaks,
            "<x:complexType name='T'><x:sequence><x:element name='a' type='x:int'/><x:any namespace='##other' processContents='lax'/></x:sequence></x:complexType>",
            "<x:complexType name='T'><x:sequence><x:any namespace='##other' processContents='lax'/><x:element name='a' type='x:int'/></x:sequence></x:complexType>",
        ),
        // Nothing is declared that the wildcard could hold, so there is no message to prove it with.
        (
            "order-changed",
            Verdict::Bends,
            "<x:complexType name='T'><x:sequence><x:element name='a' type='x:int'/><x:any namespace='##other'/></x:sequence></x:complexType>",
            "<x:complexType name='T'><x:sequence><x:any namespace='##other'/><x:element name='a' type='x:int'/></x:sequence></x:complexType>",
        ),
        (
            "abstract-changed",
            Verdict::Breaks,
            "<x:complexType name='T'/>",
            "<x:complexType name='T' abstract='true'/>",
        ),
        (
            "wildcard-changed",
            Verdict::Breaks,
            "<x:complexType name='T'><x:anyAttribute processContents='lax'/></x:complexType>",
            "<x:complexType name='T'><x:anyAttribute namespace='##other' processContents='lax'/></x:complexType>",
        ),
        (
            "wildcard-changed",
            Verdict::Breaks,
            "<x:complexType name='T'><x:anyAttribute processContents='skip'/></x:complexType>",
            "<x:complexType name='T'/>",
        ),
        // No attribute is declared that it could hold.
        (
            "wildcard-changed",
            Verdict::Keeps,
            "<x:complexType name='T'><x:anyAttribute/></x:complexType>",
            "<x:complexType name='T'/>",
        ),
        (
            "derived-changed",
            Verdict::Breaks,
            "<x:complexType name='T'/>",
            "<x:complexType name='T'/><x:complexType name='D'><x:complexContent><x:extension base='t:T'/></x:complexContent></x:complexType>",
        ),
        (
            "derived-changed",
            Verdict::Keeps,
            "<x:complexType name='T'/>",
            "<x:complexType name='T' block='extension'/>",
        ),
        (
            "derived-changed",
            Verdict::Breaks,
            "<x:complexType name='T'/><x:complexType name='D'><x:complexContent><x:extension base='t:T'/></x:complexContent></x:complexType>",
            "<x:complexType name='T' block='extension'/><x:complexType name='D'><x:complexContent><x:extension base='t:T'/></x:complexContent></x:complexType>",
        ),
        (
            "substitutes-changed",
            Verdict::Breaks,
            "<x:complexType name='T'><x:sequence><x:element ref='t:h'/></x:sequence></x:complexType><x:element name='h' type='x:int'/>",
            "<x:complexType name='T'><x:sequence><x:element ref='t:h'/></x:sequence></x:complexType><x:element name='h' type='x:int'/><x:element name='m' type='x:int' substitutionGroup='t:h'/>",
        ),
        (
            "identity-changed",
            // One alone is not the same as another.
            Verdict::Keeps,
            "<x:complexType name='T'><x:sequence><x:element name='a' type='t:U'/></x:sequence></x:complexType><x:complexType name='U'><x:attribute name='i'/></x:complexType>",
            "<x:complexType name='T'><x:sequence><x:element name='a' type='t:U'><x:unique name='u'><x:selector xpath='.'/><x:field xpath='@i'/></x:unique></x:element></x:sequence></x:complexType><x:complexType name='U'><x:attribute name='i'/></x:complexType>",
        ),
        (
            "identity-changed",
            Verdict::Breaks,
            "<x:complexType name='T'><x:sequence><x:element name='a' type='t:U'/></x:sequence></x:complexType><x:complexType name='U'><x:sequence><x:element name='b' type='x:int' maxOccurs='2'/></x:sequence></x:complexType>",
            "<x:complexType name='T'><x:sequence><x:element name='a' type='t:U'><x:unique name='u'><x:selector xpath='t:b'/><x:field xpath='.'/></x:unique></x:element></x:sequence></x:complexType><x:complexType name='U'><x:sequence><x:element name='b' type='x:int' maxOccurs='2'/></x:sequence></x:complexType>",
        ),
    ] {
        let (found, report) = verdict(&contract(old, &[]), &contract(new, &[]));
        let ruled = report.changes.iter().any(|change| change.kind.name() == rule);
        if found != least || !ruled {
            wrong.push(format!("{found:?} {old} -> {new}\n{}", shown(&report)));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

fn shown(report: &Report) -> String {
    let line = |change: &Change| {
        let witness = change.witness.as_ref().map(|witness| {
            let body = witness.body.as_deref().unwrap_or_default();
            format!(
                "{} {}: {}",
                witness.accepted_by.name(),
                witness.because(),
                body.split_whitespace().collect::<Vec<_>>().join(" ")
            )
        });
        format!("  {:?} {} {} [{:?}] {witness:?}", change.verdict, change.kind, change.what, change.depends)
    };
    report.changes.iter().map(line).collect::<Vec<_>>().join("\n")
}

#[test]
fn the_element_in_the_body_counts_itself() {
    let types = "<x:complexType name='T'/>";
    for (rule, to) in [
        ("nil-refused", "<x:element name='ask' type='t:T'/>"),
        (
            "abstract-changed",
            "<x:element name='ask' type='t:T' nillable='true' abstract='true'/><x:element name='other' type='t:T' substitutionGroup='t:ask'/>",
        ),
    ] {
        let old = contract(
            types,
            &[("<x:element name='ask' type='t:T'/>", "<x:element name='ask' type='t:T' nillable='true'/>")],
        );
        let new = contract(types, &[("<x:element name='ask' type='t:T'/>", to)]);
        let (found, report) = verdict(&old, &new);
        assert_eq!(found, Verdict::Breaks);
        assert!(report.changes.iter().any(|change| change.kind.name() == rule), "{:#?}", report.changes);
    }
}

#[test]
fn another_transport_breaks() {
    let types = "<x:complexType name='T'/>";
    let new = contract(types, &[("http://schemas.xmlsoap.org/soap/http", "urn:saltmere:queue")]);
    let (found, report) = verdict(&contract(types, &[]), &new);
    assert_eq!(found, Verdict::Breaks);
    assert!(
        report.changes.iter().all(|change| change.kind.name() == "transport-changed"),
        "{:#?}",
        report.changes
    );
}

#[test]
fn sides_without_a_wire_shape_are_compared_as_far_as_they_go() {
    let types =
        "<x:complexType name='T'><x:sequence><x:element name='a' type='x:int'/></x:sequence></x:complexType>";
    let narrower = "<x:complexType name='T'><x:sequence><x:element name='a' type='x:short'/></x:sequence></x:complexType>";
    let encoded = ("use='literal'", "use='encoded'");
    // The types that both carry are compared all the same.
    let (found, report) = verdict(&contract(types, &[encoded]), &contract(narrower, &[encoded]));
    assert_eq!(found, Verdict::Breaks, "{:#?}", report.changes);
    // Another encoding is another message.
    let other = [
        encoded,
        ("<w:output><s:body use='encoded'", "<w:output><s:body encodingStyle='urn:e' use='encoded'"),
    ];
    let (found, report) = verdict(&contract(types, &[encoded]), &contract(types, &other));
    assert_eq!(found, Verdict::Breaks, "{:#?}", report.changes);
    // A port that cannot be shaped is not hidden behind one that can.
    let http = |location: &str| {
        let binding = format!(
            "<w:binding name='G' type='t:P'><h:binding verb='GET'/><w:operation name='o'><h:operation location='{location}'/><w:input><h:urlEncoded/></w:input><w:output/></w:operation></w:binding><w:service name='S'><w:port name='G' binding='t:G'><h:address location='https://t.example/'/></w:port>"
        );
        contract(types, &[("<w:service name='S'>", binding.as_str())])
    };
    assert_eq!(verdict(&http("/a"), &http("/b")).0, Verdict::Bends);
}

//! The grammar of WSDL 1.1 and of its bindings (appendix A): what may stand where, how often, with which attributes.

use charter_contract::Contract;
use charter_source::{Limits, Location, Overlay};

/// A sound contract; a case puts something in the place of a piece of it.
const SOUND: &str = "<w:definitions name='Tides' xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' \
xmlns:h='http://schemas.xmlsoap.org/wsdl/http/' xmlns:m='http://schemas.xmlsoap.org/wsdl/mime/' xmlns:x='http://www.w3.org/2001/XMLSchema' \
xmlns:q='urn:saltmere:quay' xmlns:t='urn:saltmere:tides' targetNamespace='urn:saltmere:tides'>\
<w:documentation>Tides of Saltmere.</w:documentation>\
<w:types><x:schema targetNamespace='urn:saltmere:tides'><x:element name='ask' type='x:string'/><x:element name='tell' type='x:int'/></x:schema></w:types>\
<w:message name='In'><w:part name='body' element='t:ask'/></w:message>\
<w:message name='Out'><w:part name='body' element='t:tell'/></w:message>\
<w:portType name='Tides'><w:operation name='next'><w:input message='t:In'/><w:output message='t:Out'/><w:fault name='Fog' message='t:Out'/></w:operation></w:portType>\
<w:binding name='TidesOverSoap11' type='t:Tides'><s:binding style='document' transport='http://schemas.xmlsoap.org/soap/http'/>\
<w:operation name='next'><s:operation soapAction='urn:saltmere:tides:next'/><w:input><s:body use='literal'/></w:input>\
<w:output><s:body use='literal'/></w:output><w:fault name='Fog'><s:fault name='Fog' use='literal'/></w:fault></w:operation></w:binding>\
<w:service name='TidesService'><w:port name='TidesPort' binding='t:TidesOverSoap11'><s:address location='https://tides.saltmere.example/'/></w:port></w:service>\
</w:definitions>";

/// The rules that the contract breaks with one piece in the place of another.
fn broken(piece: &str, other: &str) -> Vec<String> {
    assert_eq!(SOUND.matches(piece).count(), 1, "{piece}");
    let text = SOUND.replace(piece, other);
    let store = Overlay::of(&[("tides.wsdl", &text)]);
    let contract = Contract::load(&store, &Location::from_argument("tides.wsdl"), Limits::default()).unwrap();
    let faults = contract.faults();
    // Whatever is wrong says where, and what to do.
    for fault in &faults {
        assert!((fault.place.span.end as usize) <= text.len(), "{}", fault.message);
        assert!(!fault.message.is_empty() && fault.help.is_some(), "{}", fault.message);
    }
    faults.iter().map(|fault| fault.rule.to_owned()).collect()
}

#[test]
fn the_contract_itself_is_sound() {
    assert!(broken("Tides of Saltmere.", "Tides.").is_empty());
}

#[test]
fn documentation_may_stand_first_in_every_element() {
    for tag in [
        "<w:types>",
        "<w:message name='In'>",
        "<w:portType name='Tides'>",
        "<w:binding name='TidesOverSoap11' type='t:Tides'>",
        "<w:service name='TidesService'>",
        "<w:port name='TidesPort' binding='t:TidesOverSoap11'>",
        "<w:operation name='next'><s:operation soapAction='urn:saltmere:tides:next'/>",
    ] {
        let cut = tag.find('>').unwrap() + 1;
        let documented =
            format!("{}<w:documentation>What it is.</w:documentation>{}", &tag[..cut], &tag[cut..]);
        assert!(broken(tag, &documented).is_empty(), "{tag}: {:?}", broken(tag, &documented));
    }
}

#[test]
fn extensions_of_others_may_stand_where_the_standard_leaves_room() {
    for tag in [
        "<w:binding name='TidesOverSoap11' type='t:Tides'>",
        "<w:service name='TidesService'>",
        "<w:port name='TidesPort' binding='t:TidesOverSoap11'>",
    ] {
        let extended = format!("{tag}<q:buoy/>");
        assert!(broken(tag, &extended).is_empty(), "{tag}: {:?}", broken(tag, &extended));
    }
}

#[test]
fn what_stands_in_a_wrong_place_is_told() {
    for (piece, other) in [
        // Elements that have no place there.
        ("<w:input message='t:In'/>", "<w:port/><w:input message='t:In'/>"),
        ("<w:part name='body' element='t:ask'/>", "<w:input message='t:In'/>"),
        ("<w:service name='TidesService'>", "<w:operation name='lost'/><w:service name='TidesService'>"),
        ("<w:portType name='Tides'>", "<w:portType name='Tides'><w:part name='p'/>"),
        (
            "<s:address location='https://tides.saltmere.example/'/>",
            "<s:address location='https://tides.saltmere.example/'/><w:part name='p'/>",
        ),
        // Elements of WSDL that there are none of.
        ("<w:service name='TidesService'>", "<w:endpoint/><w:service name='TidesService'>"),
        ("<w:service name='TidesService'>", "<w:interface name='Tides'/><w:service name='TidesService'>"),
        // Text between elements.
        ("<w:message name='In'>", "<w:message name='In'>fog"),
        ("<w:types>", "fog<w:types>"),
        // What may stand once.
        ("<w:input message='t:In'/>", "<w:input message='t:In'/><w:input message='t:In'/>"),
        ("<w:output message='t:Out'/>", "<w:output message='t:Out'/><w:output message='t:Out'/>"),
        ("<w:types>", "<w:types/><w:types>"),
    ] {
        assert!(!broken(piece, other).is_empty(), "{other}");
    }
}

#[test]
fn attributes_are_those_of_the_standard() {
    for (piece, other) in [
        // Such as there are none of.
        ("<w:message name='In'>", "<w:message name='In' style='rpc'>"),
        ("<w:service name='TidesService'>", "<w:service name='TidesService' type='t:Tides'>"),
        ("<w:part name='body' element='t:ask'/>", "<w:part name='body' element='t:ask' use='literal'/>"),
        (
            "<s:address location='https://tides.saltmere.example/'/>",
            "<s:address location='https://tides.saltmere.example/' url='x'/>",
        ),
        (
            "<s:operation soapAction='urn:saltmere:tides:next'/>",
            "<s:operation soapaction='urn:saltmere:tides:next'/>",
        ),
        // Such as must be there.
        ("<w:message name='In'>", "<w:message>"),
        ("<w:portType name='Tides'>", "<w:portType>"),
        ("<w:binding name='TidesOverSoap11' type='t:Tides'>", "<w:binding name='TidesOverSoap11'>"),
        ("<w:port name='TidesPort' binding='t:TidesOverSoap11'>", "<w:port name='TidesPort'>"),
        ("<w:input message='t:In'/>", "<w:input/>"),
        // Values that are none.
        ("<w:message name='In'>", "<w:message name='In in'>"),
        ("<w:message name='In'>", "<w:message name='4'>"),
        ("<w:input message='t:In'/>", "<w:input message='t:In t:Out'/>"),
        ("<w:input message='t:In'/>", "<w:input message='fog:In'/>"),
        ("style='document'", "style='documents'"),
        ("<w:input><s:body use='literal'/></w:input>", "<w:input><s:body use='literally'/></w:input>"),
    ] {
        assert!(!broken(piece, other).is_empty(), "{other}");
    }
}

#[test]
fn references_that_lead_nowhere_are_told_with_what_they_may_have_meant() {
    for (piece, other, rule) in [
        ("<w:input message='t:In'/>", "<w:input message='t:Inn'/>", "message-unknown"),
        ("type='t:Tides'", "type='t:Tidse'", "port-type-unknown"),
        ("binding='t:TidesOverSoap11'", "binding='t:TidesOverSoap'", "binding-unknown"),
        ("element='t:ask'", "element='t:asks'", "src-resolve"),
    ] {
        let found = broken(piece, other);
        assert!(!found.is_empty(), "{other}");
        let like = |known: &String| known == rule || known.contains("unknown") || known.contains("resolve");
        assert!(found.iter().any(like), "{other}: {found:?}");
    }
}

#[test]
fn names_that_come_twice_are_told() {
    for (piece, other) in [
        ("<w:message name='Out'>", "<w:message name='In'>"),
        (
            "<w:service name='TidesService'>",
            "<w:service name='TidesService'/><w:service name='TidesService'>",
        ),
    ] {
        assert!(!broken(piece, other).is_empty(), "{other}");
    }
}

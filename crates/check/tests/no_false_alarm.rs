//! Sound contracts of unusual kinds: nothing is said about them.

use charter_check::{Level, Settings, check_by};
use charter_contract::Contract;
use charter_source::{Limits, Location, Overlay};

const HEAD: &str = "xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' xmlns:s12='http://schemas.xmlsoap.org/wsdl/soap12/' xmlns:h='http://schemas.xmlsoap.org/wsdl/http/' xmlns:m='http://schemas.xmlsoap.org/wsdl/mime/' xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' targetNamespace='urn:t'";
const SCHEMA: &str = "<w:types><x:schema targetNamespace='urn:t'><x:element name='ask' type='x:string'/><x:element name='tell' type='t:Row'/><x:complexType name='Row'><x:sequence/></x:complexType></x:schema></w:types>";
const TRANSPORT: &str = "transport='http://schemas.xmlsoap.org/soap/http'";

/// The rules that the files break, the first of them checked.
fn broken(texts: &[(&str, &str)]) -> Vec<String> {
    let store = Overlay::of(texts);
    let contract = Contract::load(&store, &Location::from_argument(texts[0].0), Limits::default()).unwrap();
    // What profiles ask is another question than what the standards allow.
    let settings = Settings { profiles: Some(Vec::new()), ..Settings::default() };
    check_by(&contract, &settings)
        .findings
        .into_iter()
        .filter(|finding| finding.level != Level::Note)
        .map(|finding| format!("{}: {}", finding.rule.name, finding.message))
        .collect()
}

#[track_caller]
fn quiet(definitions: &str) {
    let text = format!("<w:definitions {HEAD}>{SCHEMA}{definitions}</w:definitions>");
    assert_eq!(broken(&[("t.wsdl", &text)]), Vec::<String>::new(), "{definitions}");
}

#[test]
fn a_contract_that_has_only_begun() {
    assert!(broken(&[("t.wsdl", &format!("<w:definitions {HEAD}/>"))]).is_empty());
    quiet("");
    quiet("<w:portType name='P'/>");
    quiet("<w:service name='S'/>");
}

#[test]
fn http_bindings_take_parts_with_types() {
    quiet(
        "<w:message name='In'><w:part name='day' type='x:date'/></w:message><w:message name='Out'><w:part name='b' element='t:tell'/></w:message>
<w:portType name='P'><w:operation name='o'><w:input message='t:In'/><w:output message='t:Out'/></w:operation></w:portType>
<w:binding name='G' type='t:P'><h:binding verb='GET'/><w:operation name='o'><h:operation location='/o'/><w:input><h:urlEncoded/></w:input><w:output><m:mimeXml part='b'/></w:output></w:operation></w:binding>
<w:service name='S'><w:port name='Q' binding='t:G'><h:address location='https://t.saltmere.example/'/></w:port></w:service>",
    );
}

#[test]
fn rpc_with_parts_named_apart() {
    quiet(&format!(
        "<w:message name='In'><w:part name='day' type='x:date'/></w:message><w:message name='Out'><w:part name='row' type='t:Row'/></w:message>
<w:portType name='P'><w:operation name='o' parameterOrder='day row'><w:input message='t:In'/><w:output message='t:Out'/></w:operation></w:portType>
<w:binding name='B' type='t:P'><s:binding style='rpc' {TRANSPORT}/><w:operation name='o'><s:operation soapAction=''/><w:input><s:body use='literal' namespace='urn:t'/></w:input><w:output><s:body use='literal' namespace='urn:t'/></w:output></w:operation></w:binding>"
    ));
}

#[test]
fn header_parts_in_the_message_of_the_body() {
    quiet(&format!(
        "<w:message name='In'><w:part name='b' element='t:ask'/><w:part name='h' type='x:token'/></w:message>
<w:portType name='P'><w:operation name='o'><w:input message='t:In'/></w:operation></w:portType>
<w:binding name='B' type='t:P'><s12:binding {TRANSPORT}/><w:operation name='o'><s12:operation/><w:input><s12:header message='t:In' part='h' use='literal'/><s12:body parts='b' use='literal'/></w:input></w:operation></w:binding>"
    ));
}

#[test]
fn operations_from_the_provider() {
    quiet(&format!(
        "<w:message name='Out'><w:part name='b' element='t:tell'/></w:message>
<w:portType name='P'><w:operation name='warn'><w:output message='t:Out'/></w:operation><w:operation name='ring'><w:output message='t:Out'/><w:input message='t:Out'/></w:operation></w:portType>
<w:binding name='B' type='t:P'><s:binding {TRANSPORT}/><w:operation name='warn'><w:output><s:body use='literal'/></w:output></w:operation><w:operation name='ring'><w:output><s:body use='literal'/></w:output><w:input><s:body use='literal'/></w:input></w:operation></w:binding>"
    ));
}

#[test]
fn several_bindings_and_services_of_one_port_type() {
    let binding = |name: &str, prefix: &str| {
        format!(
            "<w:binding name='{name}' type='t:P'><{prefix}:binding {TRANSPORT}/><w:operation name='o'><{prefix}:operation soapAction='o'/><w:input><{prefix}:body use='literal'/></w:input></w:operation></w:binding>"
        )
    };
    quiet(&format!(
        "<w:message name='In'><w:part name='b' element='t:ask'/></w:message><w:portType name='P'><w:operation name='o'><w:input message='t:In'/></w:operation></w:portType>{}{}
<w:service name='S1'><w:port name='Q' binding='t:A'><s:address location='https://t.saltmere.example/1'/></w:port></w:service><w:service name='S2'><w:port name='Q' binding='t:B'><s12:address location='jms:queue:tides'/></w:port></w:service>",
        binding("A", "s"),
        binding("B", "s12")
    ));
}

#[test]
fn extensions_that_nobody_knows() {
    quiet(
        "<p:Policy xmlns:p='urn:policy'><p:Secured/></p:Policy><w:portType name='P' xmlns:p='urn:policy' p:use='secured'/>",
    );
}

#[test]
fn types_of_a_schema_of_its_own_need_no_user_here() {
    let schema = "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema' targetNamespace='urn:v'><x:simpleType name='Idle'><x:restriction base='x:int'/></x:simpleType><x:simpleType name='Busy'><x:restriction base='x:int'/></x:simpleType></x:schema>";
    let text = format!(
        "<w:definitions {HEAD}><w:types><x:schema targetNamespace='urn:t'><x:import namespace='urn:v' schemaLocation='v.xsd'/><x:element name='e' type='v:Busy' xmlns:v='urn:v'/></x:schema></w:types></w:definitions>"
    );
    assert!(broken(&[("t.wsdl", &text), ("v.xsd", schema)]).is_empty());
    assert!(broken(&[("v.xsd", schema)]).is_empty());
}

#[test]
fn a_type_is_used_by_what_derives_from_it_by_attributes_unions_and_lists() {
    let types = "<x:simpleType name='A'><x:restriction base='x:int'/></x:simpleType><x:simpleType name='B'><x:list itemType='t:A'/></x:simpleType><x:simpleType name='C'><x:union memberTypes='t:B x:token'/></x:simpleType>
<x:attributeGroup name='G'><x:attribute name='c' type='t:C'/></x:attributeGroup><x:complexType name='D'><x:attributeGroup ref='t:G'/></x:complexType><x:complexType name='E'><x:complexContent><x:extension base='t:D'/></x:complexContent></x:complexType><x:element name='e' type='t:D'/>";
    let text = format!(
        "<w:definitions {HEAD}><w:types><x:schema targetNamespace='urn:t'>{types}</x:schema></w:types></w:definitions>"
    );
    assert_eq!(broken(&[("t.wsdl", &text)]), Vec::<String>::new());
}

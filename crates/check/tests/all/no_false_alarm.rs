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

/// What the standards print as examples, in the port of Saltmere: nothing is an error, whatever profiles think of it.
#[track_caller]
fn no_errors(texts: &[(&str, &str)]) {
    let store = Overlay::of(texts);
    let contract = Contract::load(&store, &Location::from_argument(texts[0].0), Limits::default()).unwrap();
    let findings = check_by(&contract, &Settings::default()).findings;
    let errors: Vec<_> = findings.into_iter().filter(|finding| finding.level == Level::Error).collect();
    assert!(errors.is_empty(), "{errors:#?}");
}

/// A contract with these elements, and no prefix declared in vain.
fn in_saltmere(content: &str) -> String {
    format!("<w:definitions name='Tides' {HEAD}>{content}</w:definitions>")
}

#[test]
fn a_request_with_its_reply_over_http() {
    // WSDL 1.1, example 1.
    no_errors(&[(
        "t.wsdl",
        &in_saltmere(&format!(
            "<w:types><x:schema targetNamespace='urn:t'><x:element name='TideRequest'><x:complexType><x:all><x:element name='gauge' type='x:string'/></x:all></x:complexType></x:element><x:element name='TideReply'><x:complexType><x:all><x:element name='height' type='x:float'/></x:all></x:complexType></x:element></x:schema></w:types>
<w:message name='In'><w:part name='body' element='t:TideRequest'/></w:message><w:message name='Out'><w:part name='body' element='t:TideReply'/></w:message>
<w:portType name='P'><w:operation name='lastTide'><w:input message='t:In'/><w:output message='t:Out'/></w:operation></w:portType>
<w:binding name='B' type='t:P'><s:binding style='document' {TRANSPORT}/><w:operation name='lastTide'><s:operation soapAction='http://t.saltmere.example/lastTide'/><w:input><s:body use='literal'/></w:input><w:output><s:body use='literal'/></w:output></w:operation></w:binding>
<w:service name='S'><w:documentation>The gauges of the port.</w:documentation><w:port name='Q' binding='t:B'><s:address location='http://t.saltmere.example/tides'/></w:port></w:service>"
        )),
    )]);
}

#[test]
fn a_contract_in_three_files() {
    // WSDL 1.1, section 2.1.2: a schema by wsdl:import, and the abstract part by another.
    no_errors(&[
        (
            "service.wsdl",
            &in_saltmere(&format!(
                "<w:import namespace='urn:t' location='tides.wsdl'/><w:binding name='B' type='t:P'><s:binding style='document' {TRANSPORT}/><w:operation name='ask'><s:operation soapAction='urn:t:ask'/><w:input><s:body use='literal'/></w:input></w:operation></w:binding><w:service name='S'><w:port name='Q' binding='t:B'><s:address location='https://t.saltmere.example/'/></w:port></w:service>"
            )),
        ),
        (
            "tides.wsdl",
            &format!(
                "<w:definitions {HEAD} xmlns:c='urn:c'><w:import namespace='urn:c' location='common.xsd'/><w:message name='In'><w:part name='b' element='c:ask'/></w:message><w:portType name='P'><w:operation name='ask'><w:input message='t:In'/></w:operation></w:portType></w:definitions>"
            ),
        ),
        (
            "common.xsd",
            "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema' targetNamespace='urn:c'><x:element name='ask' type='x:string'/></x:schema>",
        ),
    ]);
}

#[test]
fn one_way_by_mail_with_a_header() {
    // WSDL 1.1, examples 2 and 3: another transport needs no action.
    no_errors(&[(
        "t.wsdl",
        &in_saltmere(
            "<w:types><x:schema targetNamespace='urn:t'><x:element name='Subscribe' type='x:string'/><x:element name='Header' type='x:anyURI'/></x:schema></w:types>
<w:message name='In'><w:part name='body' element='t:Subscribe'/><w:part name='head' element='t:Header'/></w:message>
<w:portType name='P'><w:operation name='subscribe'><w:input message='t:In'/></w:operation></w:portType>
<w:binding name='B' type='t:P'><s:binding style='document' transport='http://mail.saltmere.example/smtp'/><w:operation name='subscribe'><w:input message='t:In'><s:body parts='body' use='literal'/><s:header message='t:In' part='head' use='literal'/></w:input></w:operation></w:binding>
<w:service name='S'><w:port name='Q' binding='t:B'><s:address location='mailto:tides@saltmere.example'/></w:port></w:service>"
                .replace(" message='t:In'><s:body", "><s:body")
                .as_str(),
        ),
    )]);
}

#[test]
fn rpc_with_encoded_arrays() {
    // WSDL 1.1, example 5.
    no_errors(&[(
        "t.wsdl",
        &format!(
            "<w:definitions {HEAD} xmlns:e='http://schemas.xmlsoap.org/soap/encoding/'><w:types><x:schema targetNamespace='urn:t'><x:import namespace='http://schemas.xmlsoap.org/soap/encoding/'/><x:complexType name='Period'><x:all><x:element name='from' type='x:dateTime'/><x:element name='to' type='x:dateTime'/></x:all></x:complexType><x:complexType name='Heights'><x:complexContent><x:restriction base='e:Array'><x:attribute ref='e:arrayType' w:arrayType='x:float[]'/></x:restriction></x:complexContent></x:complexType></x:schema></w:types>
<w:message name='In'><w:part name='gauge' type='x:string'/><w:part name='period' type='t:Period'/></w:message><w:message name='Out'><w:part name='result' type='t:Heights'/><w:part name='frequency' type='x:float'/></w:message>
<w:portType name='P'><w:operation name='heights' parameterOrder='gauge period frequency'><w:input message='t:In'/><w:output message='t:Out'/></w:operation></w:portType>
<w:binding name='B' type='t:P'><s:binding style='rpc' {TRANSPORT}/><w:operation name='heights'><s:operation soapAction='http://t.saltmere.example/heights'/><w:input><s:body use='encoded' namespace='urn:t' encodingStyle='http://schemas.xmlsoap.org/soap/encoding/'/></w:input><w:output><s:body use='encoded' namespace='urn:t' encodingStyle='http://schemas.xmlsoap.org/soap/encoding/'/></w:output></w:operation></w:binding>
<w:service name='S'><w:port name='Q' binding='t:B'><s:address location='http://t.saltmere.example/heights'/></w:port></w:service></w:definitions>"
        ),
    )]);
}

#[test]
fn plain_http_in_three_ways() {
    // WSDL 1.1, section 4.1: GET with both encodings, POST of a form.
    let binding = |name: &str, verb: &str, location: &str, input: &str| {
        format!(
            "<w:binding name='{name}' type='t:P'><h:binding verb='{verb}'/><w:operation name='o1'><h:operation location='{location}'/><w:input>{input}</w:input><w:output><m:content type='image/gif'/><m:content type='image/jpeg'/></w:output></w:operation></w:binding>"
        )
    };
    let port = |name: &str| {
        format!(
            "<w:port name='{name}Port' binding='t:{name}'><h:address location='https://t.saltmere.example/'/></w:port>"
        )
    };
    no_errors(&[(
        "t.wsdl",
        &in_saltmere(&format!(
            "<w:message name='In'><w:part name='part1' type='x:string'/><w:part name='part2' type='x:int'/><w:part name='part3' type='x:string'/></w:message><w:message name='Out'><w:part name='chart' type='x:base64Binary'/></w:message>
<w:portType name='P'><w:operation name='o1'><w:input message='t:In'/><w:output message='t:Out'/></w:operation></w:portType>{}{}{}<w:service name='S'>{}{}{}</w:service>",
            binding("A", "GET", "o1/A(part1)B(part2)/(part3)", "<h:urlReplacement/>"),
            binding("B", "GET", "o1", "<h:urlEncoded/>"),
            binding("C", "POST", "o1", "<m:content type='application/x-www-form-urlencoded'/>"),
            port("A"),
            port("B"),
            port("C")
        )),
    )]);
}

#[test]
fn a_reply_with_attachments() {
    // WSDL 1.1, example 7: an envelope, two documents in alternative types, and a picture.
    no_errors(&[(
        "t.wsdl",
        &in_saltmere(&format!(
            "<w:types><x:schema targetNamespace='urn:t'><x:element name='Ask' type='x:string'/><x:element name='Tell' type='x:string'/><x:complexType name='Pictures'><x:sequence><x:element name='picture' type='x:base64Binary' maxOccurs='unbounded'/></x:sequence></x:complexType></x:schema></w:types>
<w:message name='In'><w:part name='body' element='t:Ask'/></w:message><w:message name='Out'><w:part name='body' element='t:Tell'/><w:part name='docs' type='x:string'/><w:part name='logo' type='t:Pictures'/></w:message>
<w:portType name='P'><w:operation name='info'><w:input message='t:In'/><w:output message='t:Out'/></w:operation></w:portType>
<w:binding name='B' type='t:P'><s:binding style='document' {TRANSPORT}/><w:operation name='info'><s:operation soapAction='http://t.saltmere.example/info'/><w:input><s:body use='literal'/></w:input><w:output><m:multipartRelated><m:part><s:body parts='body' use='literal'/></m:part><m:part><m:content part='docs' type='text/html'/></m:part><m:part><m:content part='logo' type='image/gif'/><m:content part='logo' type='image/jpeg'/></m:part></m:multipartRelated></w:output></w:operation></w:binding>
<w:service name='S'><w:port name='Q' binding='t:B'><s:address location='https://t.saltmere.example/info'/></w:port></w:service>"
        )),
    )]);
}

#[test]
fn bindings_to_soap_1_2_with_addressing_and_a_policy() {
    // WS-Addressing 1.0 Metadata, example 3-1; WS-Policy 1.5 Attachment, section 4.
    no_errors(&[(
        "t.wsdl",
        &format!(
            "<w:definitions {HEAD} xmlns:p='http://www.w3.org/ns/ws-policy' xmlns:a='http://www.w3.org/2007/05/addressing/metadata' xmlns:u='http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-utility-1.0.xsd'>
<p:Policy u:Id='Addressed'><a:Addressing><p:Policy><p:ExactlyOne><p:All><a:AnonymousResponses/></p:All><p:All><a:NonAnonymousResponses/></p:All></p:ExactlyOne></p:Policy></a:Addressing></p:Policy>{SCHEMA}
<w:message name='In'><w:part name='b' element='t:ask'/></w:message><w:message name='Out'><w:part name='b' element='t:tell'/></w:message>
<w:portType name='P'><w:operation name='ask'><w:input message='t:In' a:Action='urn:t:ask'/><w:output message='t:Out' a:Action='urn:t:tell'/></w:operation></w:portType>
<w:binding name='B' type='t:P'><p:PolicyReference URI='#Addressed'/><s12:binding {TRANSPORT}/><w:operation name='ask'><s12:operation soapAction='urn:t:ask'/><w:input><s12:body use='literal'/></w:input><w:output><s12:body use='literal'/></w:output></w:operation></w:binding></w:definitions>"
        ),
    )]);
}

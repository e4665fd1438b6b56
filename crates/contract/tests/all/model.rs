//! Reading contracts: components, paths, wire shapes.

use charter_contract::{
    Body, Component, Contract, DocumentKind, ExtensionKind, Lookup, OperationId, PathError, Pattern, Side,
    SoapVersion, Style, UseKind, WireElement,
};
use charter_source::{Limits, Location, Overlay};

fn load_files(texts: &[(&str, &str)]) -> Contract {
    Contract::load(&Overlay::of(texts), &Location::from_argument(texts[0].0), Limits::default()).unwrap()
}

/// A contract with these definitions after a schema with two elements and a type.
fn load(definitions: &str) -> Contract {
    load_files(&[("t.wsdl", &whole(definitions))])
}

fn whole(definitions: &str) -> String {
    format!(
        "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' xmlns:s12='http://schemas.xmlsoap.org/wsdl/soap12/' xmlns:h='http://schemas.xmlsoap.org/wsdl/http/' xmlns:m='http://schemas.xmlsoap.org/wsdl/mime/' xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' targetNamespace='urn:t'>
<w:types><x:schema targetNamespace='urn:t'><x:element name='ask' type='x:string'/><x:element name='tell' type='x:int'/><x:element name='mark' type='x:token'/><x:complexType name='Row'><x:sequence><x:element name='cell' type='x:int'/><x:choice><x:element name='cell' type='x:string'/><x:element ref='t:tell'/></x:choice></x:sequence><x:attribute name='id' type='x:ID'/></x:complexType></x:schema></w:types>
<w:message name='Ask'><w:part name='body' element='t:ask'/><w:part name='head' element='t:mark'/></w:message>
<w:message name='Tell'><w:part name='body' element='t:tell'/></w:message>
<w:message name='Typed'><w:part name='n' type='x:int'/><w:part name='row' type='t:Row'/></w:message>
<w:message name='One'><w:part name='row' type='t:Row'/></w:message>
{definitions}</w:definitions>"
    )
}

fn faults(contract: &Contract) -> Vec<&str> {
    contract.faults().into_iter().map(|fault| fault.rule).collect()
}

fn operation(contract: &Contract, path: &str) -> OperationId {
    match contract.find(path) {
        Ok(Component::Operation(id)) => id,
        other => panic!("{path}: {other:?}"),
    }
}

/// A port type with one operation, and a SOAP binding for it.
fn bound(style: &str, input: &str, output: &str, message: &str) -> String {
    format!(
        "<w:portType name='P'><w:operation name='o'><w:input message='t:{message}'/><w:output message='t:Tell'/><w:fault name='F' message='t:Tell'/></w:operation></w:portType>
<w:binding name='B' type='t:P'><s:binding style='{style}' transport='http://schemas.xmlsoap.org/soap/http'/><w:operation name='o'><s:operation soapAction='urn:t:o'/><w:input>{input}</w:input><w:output>{output}</w:output><w:fault name='F'><s:fault name='F' use='literal'/></w:fault></w:operation></w:binding>
<w:service name='S'><w:port name='Q' binding='t:B'><s:address location='https://t.example/'/></w:port></w:service>"
    )
}

#[test]
fn the_four_transmission_patterns_and_default_names() {
    let contract = load(
        "<w:portType name='P'>
<w:operation name='one'><w:input message='t:Ask'/></w:operation>
<w:operation name='both' parameterOrder='body head'><w:input message='t:Ask'/><w:output message='t:Tell'/></w:operation>
<w:operation name='solicit'><w:output message='t:Tell'/><w:input message='t:Ask'/></w:operation>
<w:operation name='notify'><w:output message='t:Tell'/></w:operation>
<w:operation name='none'/>
<w:operation name='named'><w:input name='in' message='t:Ask'/><w:output name='out' message='t:Tell'/></w:operation>
</w:portType>",
    );
    assert!(faults(&contract).is_empty());
    let shown: Vec<_> = contract
        .operations()
        .map(|(_, operation)| (operation.pattern, operation.input_name(), operation.output_name()))
        .collect();
    let name = |text: &str| Some(text.to_owned());
    assert_eq!(
        shown,
        [
            (Pattern::OneWay, name("one"), None),
            (Pattern::RequestResponse, name("bothRequest"), name("bothResponse")),
            (Pattern::SolicitResponse, name("solicitResponse"), name("solicitSolicit")),
            (Pattern::Notification, None, name("notify")),
            (Pattern::Empty, None, None),
            (Pattern::RequestResponse, name("in"), name("out")),
        ]
    );
    let both = contract.operation(operation(&contract, "operation/both"));
    assert_eq!(both.parameter_order.iter().map(|label| &*label.text).collect::<Vec<_>>(), ["body", "head"]);
}

#[test]
fn soap_extensions_are_understood_in_both_versions() {
    let contract = load(
        "<w:portType name='P'><w:operation name='o'><w:input message='t:Ask'/></w:operation></w:portType>
<w:binding name='B' type='t:P'><s12:binding transport='urn:queue'/><w:operation name='o'><s12:operation soapAction='urn:a' style='rpc'/><w:input><s12:header message='t:Ask' part='head' use='literal'><s12:headerfault message='t:Tell' part='body' use='literal'/></s12:header><s12:body parts='body' use='encoded' encodingStyle='urn:e' namespace='urn:n'/></w:input></w:operation></w:binding>",
    );
    assert!(faults(&contract).is_empty(), "{:?}", contract.faults());
    let (_, binding) = contract.bindings.iter().next().unwrap();
    assert!(
        matches!(&binding.extensions[0].kind, ExtensionKind::SoapBinding { version: SoapVersion::V12, style: None, transport: Some(t) } if &*t.text == "urn:queue")
    );
    let operation = &binding.operations[0];
    assert!(
        matches!(&operation.extensions[0].kind, ExtensionKind::SoapOperation { style: Some(Style::Rpc), action: Some(a), .. } if &*a.text == "urn:a")
    );
    let input = operation.input.as_ref().unwrap();
    let ExtensionKind::SoapHeader(header) = &input.extensions[0].kind else { panic!("no header") };
    assert_eq!(header.faults.len(), 1);
    assert!(header.message.target.is_some() && header.faults[0].message.target.is_some());
    let ExtensionKind::SoapBody(body) = &input.extensions[1].kind else { panic!("no body") };
    assert_eq!(body.use_kind, Some(UseKind::Encoded));
    assert_eq!(body.parts.as_ref().unwrap().len(), 1);
    assert_eq!(
        (&*body.encoding_style.as_ref().unwrap().text, &*body.namespace.as_ref().unwrap().text),
        ("urn:e", "urn:n")
    );
}

#[test]
fn http_and_mime_extensions_are_understood_and_others_kept() {
    let contract = load(
        "<p:Policy xmlns:p='urn:policy' w:required='true'/><w:portType name='P'><w:operation name='o'><w:input message='t:Typed'/><w:output message='t:Tell'/></w:operation></w:portType>
<w:binding name='B' type='t:P'><h:binding verb='GET'/><w:operation name='o'><h:operation location='/o/(n)'/><w:input><h:urlReplacement/></w:input><w:output><m:multipartRelated><m:part name='a'><m:content part='body' type='image/png'/></m:part><m:part><m:mimeXml part='body'/><s:header message='t:Tell' part='body' use='literal'/></m:part></m:multipartRelated></w:output></w:operation></w:binding>
<w:service name='S'><w:port name='Q' binding='t:B'><h:address location='https://t.example/'/></w:port></w:service>",
    );
    assert!(faults(&contract).is_empty(), "{:?}", contract.faults());
    let (_, definitions) = contract.definitions.iter().next().unwrap();
    assert!(definitions.extensions[0].required);
    assert!(
        matches!(&definitions.extensions[0].kind, ExtensionKind::Other(name) if name.is("urn:policy", "Policy"))
    );
    let (_, binding) = contract.bindings.iter().next().unwrap();
    assert!(
        matches!(&binding.extensions[0].kind, ExtensionKind::HttpBinding { verb: Some(verb) } if &*verb.text == "GET")
    );
    let operation = &binding.operations[0];
    assert!(
        matches!(&operation.extensions[0].kind, ExtensionKind::HttpOperation { location: Some(l) } if &*l.text == "/o/(n)")
    );
    assert!(matches!(
        operation.input.as_ref().unwrap().extensions[0].kind,
        ExtensionKind::HttpUrlReplacement
    ));
    let ExtensionKind::MimeMultipart(parts) = &operation.output.as_ref().unwrap().extensions[0].kind else {
        panic!()
    };
    assert_eq!(parts.len(), 2);
    assert!(
        matches!(&parts[0].extensions[0].kind, ExtensionKind::MimeContent { media_type: Some(t), .. } if &*t.text == "image/png")
    );
    assert!(matches!(&parts[1].extensions[0].kind, ExtensionKind::MimeXml { .. }));
    let (_, port) = contract.ports().next().unwrap();
    assert_eq!(&*port.address().unwrap().text, "https://t.example/");
}

#[test]
fn document_shapes() {
    let contract = load(&bound(
        "document",
        "<s:header message='t:Ask' part='head' use='literal'/><s:body parts='body' use='literal'/>",
        "<s:body use='literal'/>",
        "Ask",
    ));
    let id = operation(&contract, "operation/o");
    let input = contract.wire_shape(id, Side::Input, None).unwrap();
    let soap = input.soap().unwrap();
    assert_eq!((input.method, soap.version, soap.style), ("POST", SoapVersion::V11, Style::Document));
    assert_eq!(
        (soap.action.as_deref(), input.address.as_deref()),
        (Some("urn:t:o"), Some("https://t.example/"))
    );
    assert_eq!((soap.headers.len(), soap.headers[0].part.as_str()), (1, "head"));
    assert!(input.is_request() && soap.is_plain());
    let named = |body: &Body| -> Vec<String> {
        let Body::Elements(elements) = body else { panic!("{body:?}") };
        let name = |element: &WireElement| match element {
            WireElement::Declared(id) => contract.schemas.elements[*id].name.to_string(),
            WireElement::Typed { name, .. } => name.to_string(),
        };
        elements.iter().map(name).collect()
    };
    assert_eq!(named(&soap.body), ["{urn:t}ask"]);
    let output = contract.wire_shape(id, Side::Output, None).unwrap();
    let soap = output.soap().unwrap();
    assert_eq!((named(&soap.body), soap.action.clone()), (vec!["{urn:t}tell".to_owned()], None));
    assert!(!output.is_request());
    let fault = contract.wire_shape(id, Side::Fault(0), None).unwrap();
    assert_eq!(
        (fault.fault().unwrap().name.as_str(), named(&fault.soap().unwrap().body)),
        ("F", vec!["{urn:t}tell".to_owned()])
    );
}

#[test]
fn a_single_typed_part_is_the_body_itself_in_document_style() {
    let contract = load(&bound("document", "<s:body use='literal'/>", "<s:body use='literal'/>", "One"));
    let shape = contract.wire_shape(operation(&contract, "operation/o"), Side::Input, None).unwrap();
    assert!(matches!(shape.soap().unwrap().body, Body::Content(_)));
}

#[test]
fn rpc_shapes_wrap_the_parts_that_the_body_names() {
    let contract = load(&bound(
        "rpc",
        "<s:body parts='row n' use='literal' namespace='urn:rpc'/>",
        "<s:body use='literal'/>",
        "Typed",
    ));
    let id = operation(&contract, "operation/o");
    let body = |side| contract.wire_shape(id, side, None).unwrap().soap().unwrap().body.clone();
    let Body::Wrapper { name, parts } = body(Side::Input) else { panic!() };
    assert_eq!(name.to_string(), "{urn:rpc}o");
    assert_eq!(parts.iter().map(|part| part.name.as_str()).collect::<Vec<_>>(), ["row", "n"]);
    let Body::Wrapper { name, .. } = body(Side::Output) else { panic!() };
    assert_eq!(name.to_string(), "oResponse");
}

#[test]
fn what_has_no_shape_says_why() {
    let reason = |definitions: &str| {
        let contract = load(definitions);
        let id = contract.operations().next().unwrap().0;
        contract.wire_shape(id, Side::Input, None).unwrap_err().reason
    };
    assert_eq!(
        reason(
            "<w:portType name='P'><w:operation name='o'><w:input message='t:Ask'/></w:operation></w:portType>"
        ),
        "no binding offers the operation \"o\""
    );
    assert_eq!(
        reason(&bound("document", "<m:multipartRelated/>", "", "Ask")),
        "no part of the multipart message holds the envelope"
    );
    let protocol = "<s:binding style='document' transport='http://schemas.xmlsoap.org/soap/http'/>";
    let unknown = bound("document", "<s:body/>", "", "Tell").replace(protocol, "");
    assert_eq!(reason(&unknown), "the binding \"B\" is neither to SOAP nor to HTTP");
    assert_eq!(reason(&bound("document", "<s:body/>", "", "Gone")), "the message of this input is not known");
    assert_eq!(
        reason(&bound("document", "<s:header message='t:Ask' part='gone'/><s:body/>", "", "Tell")),
        "the part of this header is not known"
    );
}

#[test]
fn the_first_soap_port_decides_unless_one_is_named() {
    let two = bound("document", "<s:body use='literal'/>", "<s:body use='literal'/>", "Tell").replace(
        "<w:service name='S'>",
        "<w:binding name='H' type='t:P'><h:binding verb='POST'/><w:operation name='o'><h:operation location='o'/><w:input><h:urlEncoded/></w:input><w:output/></w:operation></w:binding><w:service name='S'><w:port name='First' binding='t:H'><h:address location='https://h.example/'/></w:port>",
    );
    let contract = load(&two);
    let id = operation(&contract, "operation/o");
    let ports: Vec<_> = contract.bound(id).filter_map(|bound| bound.port).collect();
    assert_eq!(ports.len(), 2);
    assert_eq!(contract.wire_shape(id, Side::Input, None).unwrap().port, Some(ports[1]));
    let plain = contract.wire_shape(id, Side::Input, Some(ports[0])).unwrap();
    assert_eq!((plain.method, plain.address.as_deref()), ("POST", Some("https://h.example/o")));
    assert!(plain.soap().is_none());
}

#[test]
fn overloaded_operations_are_bound_by_the_names_of_their_sides() {
    let contract = load(
        "<w:portType name='P'><w:operation name='o'><w:input name='a' message='t:Ask'/></w:operation><w:operation name='o'><w:input name='b' message='t:Tell'/></w:operation></w:portType>
<w:binding name='B' type='t:P'><s:binding/><w:operation name='o'><w:input name='b'><s:body/></w:input></w:operation><w:operation name='o'><w:input name='a'><s:body/></w:input></w:operation></w:binding>",
    );
    let (_, binding) = contract.bindings.iter().next().unwrap();
    assert_eq!(
        binding.operations.iter().map(|bound| bound.operation).collect::<Vec<_>>(),
        [Some(1), Some(0)]
    );
    assert_eq!(
        contract.path(Component::Operation(operation(&contract, "operation/o(b)"))).as_str(),
        "operation/o(b)"
    );
    let second = Component::BindingOperation(contract.bindings.ids().next().unwrap(), 1);
    assert_eq!(contract.path(second).as_str(), "binding/B/operation/o[2]");
    assert_eq!(contract.find("binding/B/operation/o[2]"), Ok(second));
}

#[test]
fn paths_both_ways() {
    let contract = load(&bound("document", "<s:body use='literal'/>", "<s:body use='literal'/>", "Ask"));
    for path in [
        "contract",
        "message/Ask",
        "message/Ask/part/head",
        "port-type/P",
        "operation/o",
        "operation/o/input",
        "operation/o/output",
        "operation/o/fault/F",
        "binding/B",
        "binding/B/operation/o",
        "binding/B/operation/o/input",
        "binding/B/operation/o/fault/F",
        "service/S",
        "service/S/port/Q",
        "type/Row",
        "type/Row/cell",
        "type/Row/cell[2]",
        "type/Row/tell",
        "type/Row/@id",
        "element/ask",
    ] {
        let component = contract.find(path).unwrap_or_else(|error| panic!("{path}: {error}"));
        assert_eq!(contract.path(component).as_str(), path);
    }
    // A port type's own operations may also be named through it.
    assert_eq!(contract.find("port-type/P/operation/o"), contract.find("operation/o"));
    for (path, nearest) in [
        ("type/Rows", Some("type/Row")),
        ("type/Row/cel", Some("type/Row/cell")),
        ("operation/o/imput", Some("operation/o/input")),
        ("service/S/port/Z", Some("service/S/port/Q")),
        ("message/Nothing", None),
    ] {
        let Err(PathError::Missing { nearest: found, .. }) = contract.find(path) else { panic!("{path}") };
        assert_eq!(found.as_deref(), nearest, "{path}");
    }
    assert!(matches!(contract.find(""), Err(PathError::Kind(_))));
    assert!(matches!(contract.find("operation"), Err(PathError::Kind(_))));
}

#[test]
fn every_place_knows_its_component() {
    let text = whole(&bound("document", "<s:body use='literal'/>", "<s:body use='literal'/>", "Ask"));
    let contract = load_files(&[("t.wsdl", &text)]);
    let at = |needle: &str| {
        let start = text.find(needle).unwrap();
        let span = charter_source::Span::new(start, start + needle.len());
        let place = charter_source::Place { file: contract.files.first().id, span };
        contract.path(contract.component_at(place)).to_string()
    };
    assert_eq!(at("<w:definitions"), "contract");
    assert_eq!(at("<w:part name='head'"), "message/Ask/part/head");
    assert_eq!(at("<x:element ref='t:tell'"), "type/Row/tell");
    assert_eq!(at("name='id'"), "type/Row/@id");
    assert_eq!(at("<s:operation soapAction"), "binding/B/operation/o");
    assert_eq!(at("<s:fault name='F'"), "binding/B/operation/o/fault/F");
    assert_eq!(at("<s:address"), "service/S/port/Q");
    assert_eq!(at("</w:definitions>"), "contract");
}

#[test]
fn schemas_of_one_contract_see_each_other() {
    let contract = load_files(&[
        (
            "main.wsdl",
            "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:a='urn:a' xmlns:b='urn:b' xmlns:c='urn:c' targetNamespace='urn:a'>
<w:import namespace='urn:c' location='c.wsdl'/><w:import namespace='urn:d' location='d.xsd'/>
<w:types><x:schema targetNamespace='urn:a'><x:import namespace='urn:b'/><x:element name='ea' type='b:B'/></x:schema>
<x:schema targetNamespace='urn:b'><x:import namespace='urn:c'/><x:complexType name='B'><x:sequence><x:element name='c' type='c:C'/></x:sequence></x:complexType></x:schema></w:types>
<w:message name='M'><w:part name='p' element='c:ec'/><w:part name='q' xmlns:d='urn:d' element='d:ed'/></w:message></w:definitions>",
        ),
        (
            "c.wsdl",
            "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' targetNamespace='urn:c'><w:types><x:schema xmlns:x='http://www.w3.org/2001/XMLSchema' targetNamespace='urn:c'><x:simpleType name='C'><x:restriction base='x:int'/></x:simpleType><x:element name='ec'/></x:schema></w:types></w:definitions>",
        ),
        ("d.xsd", "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema' targetNamespace='urn:d'><x:element name='ed'/></x:schema>"),
    ]);
    assert!(faults(&contract).is_empty(), "{:?}", contract.faults());
    assert_eq!((contract.schemas.documents.len(), contract.definitions.len()), (4, 2));
}

#[test]
fn faults_of_contracts() {
    for (definitions, rule) in [
        ("<w:message name='Ask'/>", "duplicate-name"),
        ("<w:message/>", "wsdl-name"),
        ("<w:message name='a b'/>", "name-syntax"),
        ("<w:tide/>", "wsdl-structure"),
        (
            "<w:portType name='P'><w:operation name='o'><w:input/></w:operation></w:portType>",
            "message-unknown",
        ),
        (
            "<w:portType name='P'><w:operation name='o'><w:input message='t:Ask'/><w:input message='t:Ask'/></w:operation></w:portType>",
            "wsdl-structure",
        ),
        (
            "<w:portType name='P'><w:operation name='o' parameterOrder='gone'><w:input message='t:Ask'/></w:operation></w:portType>",
            "part-unknown",
        ),
        ("<w:binding name='B'/>", "port-type-unknown"),
        ("<w:binding name='B' type='t:P'/>", "port-type-unknown"),
        ("<w:service name='S'><w:port name='Q'/></w:service>", "binding-unknown"),
        ("<w:message name='M'><w:part name='p' type='z:T'/></w:message>", "xml-prefix"),
        ("<w:import namespace='urn:i'/>", "import-not-found"),
        (
            "<w:portType name='P'/><w:binding name='B' type='t:P'><s:binding style='letter'/></w:binding>",
            "wsdl-value",
        ),
    ] {
        // These stand where they are easily read, and not in the order that WSDL asks for.
        let contract = load(definitions);
        let mut found = faults(&contract);
        found.retain(|found| *found != "wsdl-order");
        assert_eq!(found, [rule], "{definitions}");
    }
}

#[test]
fn what_a_file_is() {
    let kind = |text: &str| load_files(&[("x", text)]).kind();
    assert_eq!(kind("<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/'/>"), DocumentKind::Contract);
    assert_eq!(kind("<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema'/>"), DocumentKind::Schema);
    assert!(matches!(kind("<definitions/>"), DocumentKind::Other(_)));
    assert_eq!(kind("<definitions>"), DocumentKind::Unreadable);
}

#[test]
fn usage_follows_derivation_substitution_and_headers() {
    let contract = load(
        "<w:types><x:schema targetNamespace='urn:u' xmlns:u='urn:u'><x:complexType name='Base'/><x:complexType name='Derived'><x:complexContent><x:extension base='u:Base'/></x:complexContent></x:complexType><x:complexType name='Idle'/><x:element name='head' type='u:Base'/><x:element name='member' substitutionGroup='u:head'/><x:element name='alone'/></x:schema></w:types>
<w:message name='Head'><w:part name='h' element='u:head' xmlns:u='urn:u'/></w:message><w:message name='Idle'><w:part name='p' element='t:ask'/></w:message>
<w:portType name='P'><w:operation name='o'><w:input message='t:Ask'/></w:operation></w:portType><w:binding name='B' type='t:P'><s:binding/><w:operation name='o'><w:input><s:header message='t:Head' part='h'/><s:body/></w:input></w:operation></w:binding>",
    );
    let usage = contract.usage();
    let message = |path: &str| match contract.find(path) {
        Ok(Component::Message(id)) => usage.messages.contains(&id),
        other => panic!("{path}: {other:?}"),
    };
    assert!(message("message/Head") && message("message/Ask") && !message("message/Idle"));
    let element = |path: &str| match contract.find(path) {
        Ok(Component::Element(id)) => usage.elements.contains(&id),
        other => panic!("{path}: {other:?}"),
    };
    assert!(element("element/head") && element("element/member") && !element("element/alone"));
    let ty = |path: &str| match contract.find(path) {
        Ok(Component::Type(id)) => usage.types.contains(&id),
        other => panic!("{path}: {other:?}"),
    };
    assert!(ty("type/Base") && ty("type/Derived") && !ty("type/Idle"));
}

#[test]
fn a_bound_fault_is_the_first_of_its_name() {
    let contract = load(
        "<w:portType name='P'><w:operation name='o'><w:input message='t:Ask'/><w:fault name='A' message='t:Tell'/><w:fault name='B' message='t:Ask'/><w:fault name='A' message='t:Ask'/><w:fault message='t:Tell'/></w:operation></w:portType>
<w:binding name='B' type='t:P'><w:operation name='o'><w:fault name='B'/><w:fault name='C'/><w:fault/><w:fault name='A'/></w:operation><w:operation name='none'><w:fault name='A'/></w:operation></w:binding>",
    );
    let (_, binding) = contract.bindings.iter().next().unwrap();
    let faults = |at: usize| -> Vec<Option<u32>> {
        binding.operations[at].faults.iter().map(|fault| fault.fault).collect()
    };
    assert_eq!(faults(0), [Some(1), None, None, Some(0)]);
    assert_eq!(faults(1), [None]);
}

/// Of components that go by one name a path says which it means; a table of many finds what a single search finds.
#[test]
fn namesakes_and_many_paths_at_once() {
    let contract = load_files(&[
        (
            "t.wsdl",
            &whole(
                "<w:import namespace='urn:u' location='u.wsdl'/><w:portType name='P'><w:operation name='o'><w:input message='t:Ask'/><w:output message='t:Tell'/></w:operation><w:operation name='o'><w:input name='second' message='t:One'/></w:operation></w:portType>",
            ),
        ),
        (
            "u.wsdl",
            "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' targetNamespace='urn:u'><w:message name='Ask'/><w:message name='Only'/></w:definitions>",
        ),
    ]);
    let Err(PathError::Ambiguous { candidates, .. }) = contract.find("message/Ask") else {
        panic!("there are two");
    };
    assert_eq!(candidates, ["message/{urn:t}Ask", "message/{urn:u}Ask"]);
    for candidate in &candidates {
        let component = contract.find(candidate).unwrap();
        assert_eq!(contract.path(component).to_string(), *candidate);
    }
    assert_eq!(contract.path(contract.find("message/Only").unwrap()).to_string(), "message/Only");
    let second = contract.find("operation/o(second)").unwrap();
    assert_ne!(contract.find("operation/o(oRequest)").unwrap(), second);
    assert!(matches!(contract.find("operation/o"), Err(PathError::Ambiguous { .. })));
    let mut lookup = Lookup::of(&contract);
    for path in [
        "contract",
        "message/Ask",
        "message/{urn:u}Ask",
        "message/{urn:v}Ask",
        "message/{urn:t}Ask/part/head",
        "message/{urn:t}Ask/part/tail",
        "operation/o",
        "operation/o(second)/input",
        "operation/o(second)/output",
        "type/Row/cell",
        "type/Row/cell[2]",
        "type/Row/cell[3]",
        "type/Row/@id",
        "type/Row/@none",
        "type/string",
        "type/strong",
        "message",
        "message/",
        "",
        "nothing/here",
    ] {
        assert_eq!(lookup.has(path), contract.find(path).is_ok(), "{path}");
    }
}

//! Wire shapes of every kind of binding, on the contract of the harbour office, which has one of each.

use charter_contract::{
    Body, Carrier, Component, Contract, Direction, HttpContent, MediaPart, OperationId, PortId, RpcPart,
    Side, SoapVersion, WireElement, WireShape,
};
use charter_source::{Limits, Location, Overlay};

const HARBOUR: &str = include_str!("../../../cli/demo/office/harbour.wsdl");

fn load(changes: &[(&str, &str)]) -> Contract {
    let text = changes.iter().fold(HARBOUR.to_owned(), |text, (from, to)| {
        assert!(text.contains(from), "{from}");
        text.replace(from, to)
    });
    let store = Overlay::of(&[("harbour.wsdl", &text)]);
    let contract =
        Contract::load(&store, &Location::from_argument("harbour.wsdl"), Limits::default()).unwrap();
    assert!(contract.faults().is_empty(), "{:?}", contract.faults());
    contract
}

fn operation(contract: &Contract, name: &str) -> OperationId {
    match contract.find(&format!("operation/{name}")) {
        Ok(Component::Operation(id)) => id,
        other => panic!("{other:?}"),
    }
}

fn port(contract: &Contract, name: &str) -> PortId {
    contract.ports().find(|(_, port)| &*port.name.text == name).unwrap().0
}

fn shape(contract: &Contract, name: &str, side: Side, by: &str) -> WireShape {
    contract.wire_shape(operation(contract, name), side, Some(port(contract, by))).unwrap()
}

fn names(parts: &[RpcPart]) -> Vec<&str> {
    parts.iter().map(|part| part.name.as_str()).collect()
}

#[test]
fn encoded_bodies_and_header_blocks_name_their_encoding() {
    let contract = load(&[]);
    let input = shape(&contract, "reserveBerth", Side::Input, "BerthingPort");
    let soap = input.soap().unwrap();
    assert_eq!(soap.encoding.as_deref(), Some("http://schemas.xmlsoap.org/soap/encoding/"));
    let Body::Wrapper { name, parts } = &soap.body else { panic!("{:?}", soap.body) };
    assert_eq!(name.to_string(), "{urn:saltmere:harbour:1}reserveBerth");
    assert_eq!(names(parts), ["berth", "stay"]);
    let [block] = soap.headers.as_slice() else { panic!() };
    assert_eq!(block.content.name(&contract.schemas).to_string(), "{urn:saltmere:harbour:1}desk");
    assert!(block.encoding.is_some() && !soap.is_plain());
    assert_eq!((0..3).map(|at| input.is_encoded(at)).collect::<Vec<_>>(), [true, true, true]);
}

#[test]
fn faults_follow_their_own_use_and_header_faults_stand_in_the_header() {
    let contract = load(&[]);
    let encoded = shape(&contract, "reserveBerth", Side::Fault(0), "BerthingPort");
    let Body::Elements(elements) = &encoded.soap().unwrap().body else { panic!() };
    assert_eq!(elements[0].name(&contract.schemas).to_string(), "{urn:saltmere:harbour:1}taken");
    let literal = shape(&contract, "reserveBerth", Side::Fault(0), "BerthingPort12");
    assert!(matches!(literal.soap().unwrap().body, Body::Content(_)));
    assert_eq!(literal.soap().unwrap().version, SoapVersion::V12);

    let id = operation(&contract, "reserveBerth");
    let bound = contract.bound(id).next().unwrap();
    let faults = contract.header_faults(id, Side::Input, bound).unwrap();
    let [fault] = faults.as_slice() else { panic!("{faults:?}") };
    assert_eq!(fault.direction, Direction::Reply);
    let about = fault.fault().unwrap();
    assert!(about.of_header && about.name == "closed");
    assert_eq!(fault.soap().unwrap().headers.len(), 1);
}

#[test]
fn what_goes_along_with_an_envelope_is_not_in_its_body() {
    // Without a list of parts, the body has all that nothing else takes.
    let contract =
        load(&[("<soap:body parts=\"parameters\" use=\"literal\"/>", "<soap:body use=\"literal\"/>")]);
    let input = shape(&contract, "fileChart", Side::Input, "ChartsPort");
    let soap = input.soap().unwrap();
    let Body::Elements(elements) = &soap.body else { panic!() };
    assert_eq!(elements.len(), 1);
    let [MediaPart { name, media_type, xml: false, .. }] = soap.attachments.as_slice() else { panic!() };
    assert_eq!((name.as_str(), media_type.as_str()), ("chart", "image/png"));
    assert_eq!(input.contents().len(), 2);
}

#[test]
fn plain_http_has_its_values_in_the_query_the_path_or_a_form() {
    let contract = load(&[]);
    let input = |by: &str| shape(&contract, "nextTide", Side::Input, by);
    let content = |shape: &WireShape| match &shape.carrier {
        Carrier::Http(http) => http.content.clone(),
        Carrier::Soap(_) => panic!(),
    };
    let get = input("TidesGetPort");
    assert_eq!(
        (get.method, get.address.as_deref()),
        ("GET", Some("https://harbour.saltmere.example/tides/next"))
    );
    assert!(matches!(content(&get), HttpContent::Form(parts) if names(&parts) == ["berth", "day"]));
    let path = input("TidesPathPort");
    assert_eq!(path.address.as_deref(), Some("https://harbour.saltmere.example/tides/at/(berth)/on/(day)"));
    assert!(matches!(content(&path), HttpContent::InPath(parts) if parts.len() == 2));
    let form = input("TidesFormPort");
    assert_eq!(form.method, "POST");
    assert!(matches!(content(&form), HttpContent::Form(_)));
    let reply = shape(&contract, "nextTide", Side::Output, "TidesGetPort");
    assert_eq!((reply.direction, reply.address.as_deref()), (Direction::Reply, None));
    let HttpContent::Part(part) = content(&reply) else { panic!() };
    assert!(part.xml && matches!(part.content, WireElement::Declared(_)));
}

#[test]
fn an_address_holds_no_structure_and_a_fault_over_http_has_no_form() {
    let contract = load(&[(
        "<wsdl:part name=\"berth\" type=\"xs:string\"/>\n    <wsdl:part name=\"day\"",
        "<wsdl:part name=\"berth\" type=\"tns:Berth\"/>\n    <wsdl:part name=\"day\"",
    )]);
    let id = operation(&contract, "nextTide");
    let error = contract.wire_shape(id, Side::Input, None).unwrap_err();
    assert!(error.reason.starts_with("the part \"berth\" has elements or attributes"), "{error}");
    let fault = "<wsdl:output message=\"tns:nextTideOutput\"/>";
    let with = format!("{fault}<wsdl:fault name=\"NoTide\" message=\"tns:BerthTaken\"/>");
    let contract = load(&[(fault, &with)]);
    let id = operation(&contract, "nextTide");
    let error = contract.wire_shape(id, Side::Fault(0), None).unwrap_err();
    assert_eq!(error.reason, "the HTTP binding does not say what a fault looks like");
}

#[test]
fn whoever_speaks_first_begins_the_exchange() {
    let pattern = "<wsdl:input message=\"tns:listBerthsInput\"/>\n      <wsdl:output message=\"tns:listBerthsOutput\"/>";
    let turned = "<wsdl:output message=\"tns:listBerthsOutput\"/>\n      <wsdl:input message=\"tns:listBerthsInput\"/>";
    let contract = load(&[(pattern, turned)]);
    let spoken = shape(&contract, "listBerths", Side::Output, "BerthingPort");
    assert!(spoken.is_request() && spoken.soap().unwrap().action.is_some());
    assert!(!shape(&contract, "listBerths", Side::Input, "BerthingPort").is_request());
}

#[test]
fn actions_of_addressing_are_named_or_follow_from_the_names() {
    let contract = load(&[(
        "<wsdl:fault name=\"BerthTaken\" message",
        "<wsdl:fault wsam:Action=\"urn:saltmere:taken\" name=\"BerthTaken\" message",
    )]);
    let id = operation(&contract, "reserveBerth");
    let action = |side, soap| contract.addressing_action(id, side, soap);
    assert_eq!(action(Side::Input, Some("urn:saltmere:reserve")), "urn:saltmere:reserve");
    assert_eq!(action(Side::Input, Some("")), "urn:saltmere:harbour:1:Berthing:reserveBerthRequest");
    assert_eq!(action(Side::Output, None), "urn:saltmere:harbour:1:Berthing:reserveBerthResponse");
    assert_eq!(action(Side::Fault(0), None), "urn:saltmere:taken");
}

#[test]
fn media_types_that_a_part_may_have() {
    let part = |allowed: &[&str]| MediaPart {
        name: "chart".to_owned(),
        content: charter_contract::WireElement::Typed {
            name: charter_source::QName::new("", "chart"),
            ty: charter_schema::Builtin::Base64Binary.id(),
        },
        media_type: "image/png".to_owned(),
        allowed: allowed.iter().map(|text| (*text).to_owned()).collect(),
        xml: false,
    };
    let images = part(&["image/*"]);
    assert!(images.allows("image/png") && images.allows("IMAGE/gif; q=1") && images.allows("image/*"));
    assert!(!images.allows("text/plain") && !images.allows("*/*"));
    let two = part(&["image/png", "text/xml; charset=utf-8"]);
    assert!(two.allows("image/png") && two.allows("text/xml") && !two.allows("image/*"));
    assert!(part(&["*/*"]).allows("application/pdf"));
}

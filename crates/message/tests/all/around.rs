//! What stands around a message: media types, actions and statuses as they are written in the wild; values in addresses and forms.

use charter_contract::{Contract, Side, WireShape};
use charter_message::blocks::{TimeAndIds, Wanted};
use charter_message::captured::Captured;
use charter_message::http::{HttpMessage, Start};
use charter_message::matching::{Matcher, Severity};
use charter_message::{Element, Size, WireContent, assemble, sample};
use charter_schema::Engine;
use charter_source::{Limits, Location, Overlay, QName};
use proptest::prelude::*;

const OFFICE: &str = include_str!("../../../cli/demo/office/harbour.wsdl");
const PILOTAGE: &str = include_str!("../../../cli/demo/v1/pilotage.wsdl");
const VESSEL: &str = include_str!("../../../cli/demo/v1/vessel.xsd");

fn load(text: &str) -> Contract {
    let store = Overlay::of(&[("c.wsdl", text), ("vessel.xsd", VESSEL)]);
    Contract::load(&store, &Location::from_argument("c.wsdl"), Limits::default()).unwrap()
}

/// The shape of a side by a port.
fn shape(contract: &Contract, operation: &str, side: Side, port: &str) -> WireShape {
    let (id, _) = contract.operations().find(|(_, it)| &*it.name.text == operation).unwrap();
    let (port, _) = contract.ports().find(|(_, it)| &*it.name.text == port).unwrap();
    contract.wire_shape(id, side, Some(port)).unwrap()
}

/// The typical message of a shape.
fn typical(contract: &Contract, engine: &Engine<'_>, shape: &WireShape) -> HttpMessage {
    let content = sample(engine, shape, Size::Typical).unwrap();
    let blocks = Wanted::of(contract, shape).blocks(contract, shape, &TimeAndIds::default());
    assemble(engine, shape, content, &blocks).http(contract)
}

/// The rules that a message breaks, and those that it is warned of.
fn told(matcher: &Matcher<'_>, message: HttpMessage) -> (Vec<&'static str>, Vec<&'static str>) {
    let matched = matcher.judge(&Captured::received("message", message));
    let of = |severity| {
        matched.found.iter().filter(|it| it.severity == severity).map(|it| it.fault.rule).collect::<Vec<_>>()
    };
    (of(Severity::Error), of(Severity::Warning))
}

/// The rules that a request of the pilotage contract breaks with one of its fields otherwise.
fn with_field(port: &str, name: &str, value: Option<&str>) -> Vec<&'static str> {
    let contract = load(PILOTAGE);
    let engine = Engine::new(&contract.files, &contract.schemas);
    let matcher = Matcher::new(&contract, &engine, 10);
    let shape = shape(&contract, "requestPilot", Side::Input, port);
    let mut message = typical(&contract, &engine, &shape);
    assert!(message.headers.get(name).is_some(), "{name}");
    match value {
        Some(value) => message.headers.set(name, value),
        None => {
            let kept = message.headers.iter().filter(|(known, _)| !known.eq_ignore_ascii_case(name));
            message.headers = kept.collect();
        }
    }
    told(&matcher, message).0
}

#[test]
fn media_types_mean_the_same_however_they_are_written() {
    for value in [
        "text/xml",
        "text/xml;charset=utf-8",
        "text/xml; charset=\"utf-8\"",
        "TEXT/XML; Charset=UTF-8",
        "text/xml ; charset=utf-8; other=1",
    ] {
        assert_eq!(with_field("PilotagePort", "Content-Type", Some(value)), [""; 0], "{value}");
    }
    for value in ["text/plain", "application/soap+xml; charset=utf-8", "application/xml", "application/json"]
    {
        let found = with_field("PilotagePort", "Content-Type", Some(value));
        assert!(!found.is_empty(), "{value}");
    }
    for value in [
        "application/soap+xml",
        "Application/SOAP+XML;charset=utf-8",
        "application/soap+xml; action=\"urn:saltmere:pilotage:1:requestPilot\"",
    ] {
        assert_eq!(with_field("PilotagePort12", "Content-Type", Some(value)), [""; 0], "{value}");
    }
    assert_eq!(with_field("PilotagePort12", "Content-Type", Some("text/xml")), ["content-type"]);
}

#[test]
fn actions_are_compared_without_their_quotes() {
    for value in [
        "\"urn:saltmere:pilotage:1:requestPilot\"",
        "urn:saltmere:pilotage:1:requestPilot",
        " \"urn:saltmere:pilotage:1:requestPilot\" ",
    ] {
        assert_eq!(with_field("PilotagePort", "SOAPAction", Some(value)), [""; 0], "{value}");
    }
    for value in ["", "\"\"", "\"urn:saltmere:pilotage:1:requestpilot\"", "\"requestPilot\""] {
        assert_eq!(with_field("PilotagePort", "SOAPAction", Some(value)), ["action-wrong"], "{value}");
    }
    assert_eq!(with_field("PilotagePort", "SOAPAction", None), ["action-missing"]);
    let wrong = "application/soap+xml; action=\"urn:saltmere:pilotage:1:other\"";
    assert_eq!(with_field("PilotagePort12", "Content-Type", Some(wrong)), ["action-wrong"]);
}

#[test]
fn statuses_and_methods_are_those_of_their_sides() {
    let contract = load(PILOTAGE);
    let engine = Engine::new(&contract.files, &contract.schemas);
    let matcher = Matcher::new(&contract, &engine, 10);
    let reply = typical(&contract, &engine, &shape(&contract, "requestPilot", Side::Output, "PilotagePort"));
    let fault =
        typical(&contract, &engine, &shape(&contract, "requestPilot", Side::Fault(0), "PilotagePort"));
    let with_status =
        |message: &HttpMessage, status| HttpMessage { start: Start::Reply { status }, ..message.clone() };
    for status in [200, 201, 203, 299] {
        assert_eq!(told(&matcher, with_status(&reply, status)), (Vec::new(), Vec::new()), "{status}");
    }
    for status in [199, 301, 404, 500] {
        assert_eq!(
            told(&matcher, with_status(&reply, status)),
            (Vec::new(), vec!["http-status"]),
            "{status}"
        );
    }
    assert_eq!(told(&matcher, with_status(&fault, 500)), (Vec::new(), Vec::new()));
    assert_eq!(told(&matcher, with_status(&fault, 200)), (Vec::new(), vec!["http-status"]));
    let mut request =
        typical(&contract, &engine, &shape(&contract, "requestPilot", Side::Input, "PilotagePort"));
    for method in ["PUT", "GET", "DELETE"] {
        request.start = Start::Request { method: method.to_owned(), target: "/1".to_owned() };
        assert_eq!(told(&matcher, request.clone()).0, ["http-method"], "{method}");
    }
}

#[test]
fn an_answer_without_a_body_may_be_one() {
    let contract = load(PILOTAGE);
    let engine = Engine::new(&contract.files, &contract.schemas);
    let matcher = Matcher::new(&contract, &engine, 10);
    for (status, fine) in [(202, true), (204, true), (200, false), (500, false)] {
        let message = HttpMessage::read(format!("HTTP/1.1 {status} x\r\n\r\n").as_bytes()).unwrap();
        assert_eq!(told(&matcher, message).0.is_empty(), fine, "{status}");
    }
    let nobody = HttpMessage::read(b"GET /nowhere HTTP/1.1\r\nHost: quay\r\n\r\n").unwrap();
    assert!(!told(&matcher, nobody).0.is_empty());
}

/// A request for the next tide by a port over plain HTTP, with these values.
fn tide(contract: &Contract, engine: &Engine<'_>, port: &str, values: [&str; 2]) -> (WireShape, HttpMessage) {
    let shape = shape(contract, "nextTide", Side::Input, port);
    let contents = sample(engine, &shape, Size::Typical).unwrap();
    let named = contents.elements.iter().zip(values);
    let elements =
        named.map(|(element, value)| Element::new(QName::new("", &element.name.local)).text(value));
    let content = WireContent { elements: elements.collect() };
    let message = assemble(engine, &shape, content, &[]).http(contract);
    (shape, message)
}

const PORTS: [&str; 3] = ["TidesGetPort", "TidesPathPort", "TidesFormPort"];

#[test]
fn values_that_are_none_are_told_by_their_names() {
    let contract = load(OFFICE);
    let engine = Engine::new(&contract.files, &contract.schemas);
    let matcher = Matcher::new(&contract, &engine, 10);
    for port in PORTS {
        let (shape, sound) = tide(&contract, &engine, port, ["N4", "2026-03-14"]);
        assert_eq!(told(&matcher, sound.clone()).0, [""; 0], "{port}: {sound:?}");
        let matched = matcher.judge(&Captured::received("message", sound));
        assert_eq!(matcher.operation(&matched).unwrap().0, shape.operation, "{port}");
        let (_, wrong) = tide(&contract, &engine, port, ["N4", "tomorrow"]);
        assert_eq!(told(&matcher, wrong).0.len(), 1, "{port}");
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(200))]

    #[test]
    fn any_text_arrives_in_an_address_and_in_a_form(berth in "[^\\p{C}]{1,12}", port in 0usize..3) {
        // What has no characters but blanks is none that a path could hold.
        prop_assume!(!berth.trim().is_empty() && berth != "." && berth != "..");
        let contract = load(OFFICE);
        let engine = Engine::new(&contract.files, &contract.schemas);
        let matcher = Matcher::new(&contract, &engine, 10);
        let (shape, message) = tide(&contract, &engine, PORTS[port], [&berth, "2026-03-14"]);
        // Nothing of it ends the head, and all of it is ASCII there.
        let Start::Request { target, .. } = &message.start else { panic!() };
        prop_assert!(target.is_ascii() && !target.contains(char::is_whitespace), "{}", target);
        let read = HttpMessage::read(&message.to_bytes());
        prop_assert_eq!(read.as_ref(), Some(&message));
        let captured = Captured::received("message", message);
        let matched = matcher.judge(&captured);
        prop_assert!(matched.is_valid(), "{:?}", matched.found);
        prop_assert_eq!(matcher.operation(&matched).unwrap().0, shape.operation);
    }
}

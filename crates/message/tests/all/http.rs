//! Messages as HTTP: what is written is read back, and matched however it came.

use std::io::Write as _;

use charter_contract::{Contract, Side, WireShape};
use charter_message::blocks::{TimeAndIds, Wanted};
use charter_message::captured::{Captured, split};
use charter_message::http::{Headers, HttpMessage, Start};
use charter_message::matching::{Matcher, Severity};
use charter_message::{Size, assemble, sample};
use charter_schema::Engine;
use charter_source::{Limits, Location, Overlay};
use flate2::Compression;
use flate2::write::{GzEncoder, ZlibEncoder};

const OFFICE: &str = include_str!("../../../cli/demo/office/harbour.wsdl");
const PILOTAGE: &str = include_str!("../../../cli/demo/v1/pilotage.wsdl");
const VESSEL: &str = include_str!("../../../cli/demo/v1/vessel.xsd");

fn contracts() -> [Contract; 2] {
    [[("c.wsdl", OFFICE), ("none.xsd", "")], [("c.wsdl", PILOTAGE), ("vessel.xsd", VESSEL)]].map(|files| {
        Contract::load(&Overlay::of(&files), &Location::from_argument("c.wsdl"), Limits::default()).unwrap()
    })
}

/// Does something with every message of a contract, by every port.
fn each(
    contract: &Contract,
    mut work: impl FnMut(&Engine<'_>, &Matcher<'_>, &WireShape, HttpMessage),
) -> usize {
    let engine = Engine::new(&contract.files, &contract.schemas);
    let matcher = Matcher::new(contract, &engine, 20);
    let mut count = 0;
    for (id, operation) in contract.operations() {
        for (side, _) in operation.sides() {
            for offer in contract.bound(id) {
                let Ok(shape) = contract.shape_of(id, side, offer) else { continue };
                let Ok(content) = sample(&engine, &shape, Size::Typical) else { continue };
                let blocks = Wanted::of(contract, &shape).blocks(contract, &shape, &TimeAndIds::default());
                let message = assemble(&engine, &shape, content, &blocks);
                count += 1;
                work(&engine, &matcher, &shape, message.http(contract));
            }
        }
    }
    count
}

/// The rules that a message breaks.
fn errors(matcher: &Matcher<'_>, captured: &Captured) -> Vec<&'static str> {
    let matched = matcher.judge(captured);
    let errors = matched.found.iter().filter(|found| found.severity == Severity::Error);
    errors.map(|found| found.fault.rule).collect()
}

#[test]
fn what_is_written_is_read_back() {
    for contract in &contracts() {
        let count = each(contract, |_, _, _, http| {
            assert_eq!(HttpMessage::read(&http.to_bytes()), Some(http));
        });
        assert!(count > 15, "{count}");
    }
}

#[test]
fn requests_say_where_they_go_and_how_long_they_are() {
    for contract in &contracts() {
        each(contract, |_, _, shape, http| {
            let length = http.headers.get("content-length");
            let is_get = http.start.method() == Some("GET");
            assert_eq!(length.is_none(), is_get && http.body.is_empty(), "{http:?}");
            assert!(length.is_none_or(|length| length == http.body.len().to_string()));
            match &http.start {
                Start::Request { target, .. } => {
                    assert!(shape.is_request() && target.starts_with('/'), "{target}");
                    assert!(http.headers.get("Host").unwrap().ends_with(".saltmere.example"));
                }
                Start::Reply { status } => {
                    assert_eq!(*status, if matches!(shape.side, Side::Fault(_)) { 500 } else { 200 });
                    assert_eq!(http.headers.get("Host"), None);
                }
            }
        });
    }
}

#[test]
fn every_message_matches_as_it_was_written_and_as_it_was_received() {
    for contract in &contracts() {
        each(contract, |_, matcher, shape, http| {
            let kept = split("m", &http.to_bytes())[0].open();
            assert_eq!(errors(matcher, &kept), [""; 0], "{http:?}");
            let (operation, side) = matcher.operation(&matcher.judge(&kept)).unwrap();
            assert_eq!(side == Side::Input, shape.side == Side::Input);
            // Replies and faults may look the same for several operations.
            assert!(operation == shape.operation || !shape.is_request());
            assert_eq!(errors(matcher, &Captured::received("m", http)), [""; 0]);
        });
    }
}

/// The same message, sent in another way.
fn sent(http: &HttpMessage, fields: &[(&str, &str)], body: Vec<u8>) -> HttpMessage {
    let kept = http.headers.iter().filter(|(name, _)| !name.eq_ignore_ascii_case("content-length"));
    let mut headers: Headers = kept.map(|(name, value)| (name.to_ascii_uppercase(), value)).collect();
    fields.iter().for_each(|(name, value)| headers.push(*name, *value));
    HttpMessage { start: http.start.clone(), headers, body }
}

fn chunked(body: &[u8]) -> Vec<u8> {
    let mut text = Vec::new();
    for chunk in body.chunks(37) {
        text.extend(format!("{:x}\r\n", chunk.len()).into_bytes());
        text.extend(chunk);
        text.extend(b"\r\n");
    }
    text.extend(b"0\r\n\r\n");
    text
}

#[test]
fn how_a_body_was_sent_does_not_matter() {
    for contract in &contracts() {
        each(contract, |_, matcher, _, http| {
            let before = errors(matcher, &Captured::received("m", http.clone()));
            let mut gzip = GzEncoder::new(Vec::new(), Compression::fast());
            gzip.write_all(&http.body).unwrap();
            let gzip = gzip.finish().unwrap();
            let mut zlib = ZlibEncoder::new(Vec::new(), Compression::fast());
            zlib.write_all(&http.body).unwrap();
            let zlib = zlib.finish().unwrap();
            for (fields, body) in [
                (vec![("Transfer-Encoding", "chunked")], chunked(&http.body)),
                (vec![("content-encoding", "gzip")], gzip.clone()),
                (vec![("Content-Encoding", "deflate")], zlib),
                (vec![("Content-Encoding", "gzip"), ("transfer-encoding", "Chunked")], chunked(&gzip)),
            ] {
                // Nothing is packed in a message without a body.
                if http.body.is_empty() {
                    continue;
                }
                let other = sent(&http, &fields, body);
                assert_eq!(errors(matcher, &Captured::received("m", other.clone())), before, "{fields:?}");
                let kept = split("m", &other.to_bytes())[0].open();
                assert_eq!(errors(matcher, &kept), before, "{fields:?}");
            }
        });
    }
}

#[test]
fn a_message_that_is_cut_off_is_no_message() {
    let [_, contract] = contracts();
    let mut refused = 0;
    each(&contract, |_, matcher, _, http| {
        let bytes = http.to_bytes();
        for at in (0..bytes.len()).step_by(211) {
            for raw in split("m", &bytes[..at]) {
                refused += usize::from(!matcher.judge(&raw.open()).is_valid());
            }
        }
    });
    assert!(refused > 200, "{refused}");
}

#[test]
fn several_messages_in_a_file_are_parted() {
    let [_, contract] = contracts();
    let mut all = Vec::new();
    let count = each(&contract, |_, _, _, http| all.extend(http.to_bytes()));
    let raw = split("log", &all);
    assert_eq!(raw.len(), count);
    assert_eq!(raw.last().unwrap().label, format!("log#{count}"));
    let engine = Engine::new(&contract.files, &contract.schemas);
    let matcher = Matcher::new(&contract, &engine, 5);
    assert!(raw.iter().all(|raw| errors(&matcher, &raw.open()).is_empty()));
}

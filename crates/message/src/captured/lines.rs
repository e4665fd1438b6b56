//! JSON Lines: a message or an exchange a line. A message is the envelope as a string, or an object with `body` or
//! `envelope`, and, where they are known, `method` and `target` or `address`, `status`, and `headers`. An exchange is an
//! object with `request` and `reply`, each such an object, as a journal has them.

use std::sync::Arc;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use charter_source::{Fault, FileId, Place};
use serde_json::{Map as Object, Value as Json};

use super::{Captured, Raw, Source};
use crate::http::{Headers, HttpMessage, Start};

/// The lines that hold something.
pub(super) fn split<'b>(name: &str, bytes: &'b [u8]) -> Vec<Raw<'b>> {
    let lines = bytes.split(|byte| *byte == b'\n').enumerate();
    let filled = lines.filter(|(_, line)| line.iter().any(|byte| !byte.is_ascii_whitespace()));
    let mut found = Vec::new();
    for (number, line) in filled {
        let label = format!("{name}#{}", number + 1);
        match sides(line) {
            Some(sides) => found.extend(sides.into_iter().map(|(side, message)| Raw {
                label: format!("{label} {side}"),
                source: Source::Kept(Arc::new(message)),
            })),
            None => found.push(Raw { label, source: Source::Line(line) }),
        }
    }
    found
}

/// The two messages of an exchange, if that is what a line holds. What was not answered has one.
fn sides(line: &[u8]) -> Option<Vec<(&'static str, HttpMessage)>> {
    // Most lines are single messages, and are not read twice for this.
    memchr::memmem::find(line, b"\"request\"")?;
    let exchange: Json = serde_json::from_slice(line).ok()?;
    let side = |name| Some((name, of_object(exchange.get(name)?.as_object()?)?));
    let found: Vec<_> = [side("request"), side("reply")].into_iter().flatten().collect();
    (!found.is_empty()).then_some(found)
}

/// A message with its headers. Its body is as it was before it was packed for its way.
fn of_object(object: &Object<String, Json>) -> Option<HttpMessage> {
    let text = |key: &str| object.get(key).and_then(Json::as_str);
    let target = || text("target").or_else(|| text("address")).or_else(|| text("url")).unwrap_or("/");
    let status = || object.get("status").and_then(Json::as_u64).and_then(|status| u16::try_from(status).ok());
    let start = match text("method") {
        Some(method) => Start::Request { method: method.to_owned(), target: target().to_owned() },
        None => Start::Reply { status: status()? },
    };
    let body = match text("base64") {
        Some(octets) => STANDARD.decode(octets).ok()?,
        None => text("body").unwrap_or("").as_bytes().to_vec(),
    };
    Some(HttpMessage { start, headers: headers(object.get("headers")).unpacked(), body })
}

/// Takes a line apart.
pub(super) fn open(label: &str, line: &[u8]) -> Captured {
    let value: Json = match serde_json::from_slice(line) {
        Ok(value) => value,
        Err(error) => return broken(label, &format!("this line is not JSON: {error}")),
    };
    let object = match value {
        Json::String(text) => return Captured::of(label, text.into_bytes(), true),
        Json::Object(object) => object,
        _ => return broken(label, "this line is neither a string nor an object"),
    };
    let text = |key: &str| object.get(key).and_then(Json::as_str);
    let method = text("method");
    let status = object.get("status").and_then(Json::as_u64);
    let Some(body) = text("body").or_else(|| text("envelope")).or((method == Some("GET")).then_some(""))
    else {
        return broken(
            label,
            "this line has no message: neither \"body\" nor \"envelope\" is a string in it",
        );
    };
    let headers = headers(object.get("headers"));
    let must_be_xml = !body.is_empty() && headers.get("Content-Type").is_none_or(|kind| kind.contains("xml"));
    let mut captured = Captured::of(label, body.as_bytes().to_vec(), must_be_xml);
    let target = text("target").or_else(|| text("address")).or_else(|| text("url"));
    captured.start = match (method, status) {
        (Some(method), _) => {
            Some(Start::Request { method: method.to_owned(), target: target.unwrap_or("/").to_owned() })
        }
        (None, Some(status)) => Some(Start::Reply { status: u16::try_from(status).unwrap_or(0) }),
        (None, None) => None,
    };
    captured.headers = headers;
    captured
}

/// Headers as an object, or as a list of names and values.
pub(super) fn headers(value: Option<&Json>) -> Headers {
    let text = |value: &Json| value.as_str().map_or_else(|| value.to_string(), str::to_owned);
    match value {
        Some(Json::Object(object)) => {
            object.iter().map(|(name, value)| (name.clone(), text(value))).collect()
        }
        Some(Json::Array(list)) => list
            .iter()
            .filter_map(|entry| Some((entry.get("name")?.as_str()?.to_owned(), text(entry.get("value")?))))
            .collect(),
        _ => Headers::default(),
    }
}

/// A line that holds no message.
fn broken(label: &str, message: &str) -> Captured {
    let mut captured = Captured::of(label, Vec::new(), true);
    let place = Place { file: FileId(0), span: charter_source::Span::default() };
    let help = "write the envelope as a string, or {\"body\": \"…\"}";
    captured.fault = Some(Fault::new("message-unreadable", place, message).help(help));
    captured
}

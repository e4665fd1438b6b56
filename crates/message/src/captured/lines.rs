//! JSON Lines: a message a line. A line is the envelope as a string, or an object with `body` or `envelope`, and, where
//! they are known, `method` and `target` or `address`, `status`, and `headers`.

use charter_source::{Fault, FileId, Place};
use serde_json::Value as Json;

use super::{Captured, Raw, Source};
use crate::http::{Headers, Start};

/// The lines that hold something.
pub(super) fn split<'b>(name: &str, bytes: &'b [u8]) -> Vec<Raw<'b>> {
    let lines = bytes.split(|byte| *byte == b'\n').enumerate();
    let filled = lines.filter(|(_, line)| line.iter().any(|byte| !byte.is_ascii_whitespace()));
    filled
        .map(|(number, line)| Raw { label: format!("{name}#{}", number + 1), source: Source::Line(line) })
        .collect()
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
fn headers(value: Option<&Json>) -> Headers {
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

//! HTTP archives (HAR 1.2): what many tools keep of exchanges. Of each entry, the request and the response are messages.

use std::sync::Arc;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::Value as Json;

use super::lines::headers;
use super::{Raw, Source};
use crate::http::{HttpMessage, Start};

/// The messages of an archive; `None` if the text is something else.
pub(super) fn split<'b>(name: &str, bytes: &[u8]) -> Option<Vec<Raw<'b>>> {
    // JSON Lines can be long; an archive says what it is at its beginning.
    let head = &bytes[..bytes.len().min(4096)];
    memchr::memmem::find(head, b"\"log\"")?;
    let archive: Json = serde_json::from_slice(bytes).ok()?;
    let entries = archive.get("log")?.get("entries")?.as_array()?;
    let mut found = Vec::new();
    for (number, entry) in entries.iter().enumerate() {
        let sides = [("request", request(entry)), ("reply", response(entry))];
        for (side, message) in sides {
            if let Some(message) = message {
                let label = format!("{name}#{} {side}", number + 1);
                found.push(Raw { label, source: Source::Kept(Arc::new(message)) });
            }
        }
    }
    Some(found)
}

fn request(entry: &Json) -> Option<HttpMessage> {
    let request = entry.get("request")?;
    let text = |key: &str| request.get(key).and_then(Json::as_str);
    let start = Start::Request { method: text("method")?.to_owned(), target: text("url")?.to_owned() };
    let data = request.get("postData");
    let body = data.and_then(|data| octets(data, "text")).unwrap_or_default();
    Some(HttpMessage { start, headers: headers(request.get("headers")).unpacked(), body })
}

fn response(entry: &Json) -> Option<HttpMessage> {
    let response = entry.get("response")?;
    let status = response.get("status").and_then(Json::as_u64)?;
    // What was never answered has the status 0.
    let status = u16::try_from(status).ok().filter(|status| *status > 0)?;
    let body = response.get("content").and_then(|content| octets(content, "text")).unwrap_or_default();
    let headers = headers(response.get("headers")).unpacked();
    Some(HttpMessage { start: Start::Reply { status }, headers, body })
}

/// A body: as text, or in base64 where `encoding` says so.
fn octets(value: &Json, key: &str) -> Option<Vec<u8>> {
    let text = value.get(key)?.as_str()?;
    match value.get("encoding").and_then(Json::as_str) {
        Some("base64") => STANDARD.decode(text).ok(),
        _ => Some(text.as_bytes().to_vec()),
    }
}

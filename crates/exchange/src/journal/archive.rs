//! HTTP archives (HAR 1.2).

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use charter_message::http::{HttpMessage, Start};
use serde_json::{Value as Json, json};

use super::lines::{fields, millis};
use super::secrets;
use crate::Exchange;

/// What stands before the first entry.
pub(super) const HEAD: &str = concat!(
    r#"{"log":{"version":"1.2","creator":{"name":"Neat Charter","version":""#,
    env!("CARGO_PKG_VERSION"),
    "\"},\"entries\":[\n"
);
/// What stands behind the last.
pub(super) const TAIL: &str = "\n]}}\n";

/// An archive of some exchanges.
pub fn archive(exchanges: &[Exchange]) -> String {
    let entries: Vec<String> = exchanges.iter().map(entry).collect();
    format!("{HEAD}{}{TAIL}", entries.join(",\n"))
}

/// An entry.
pub(super) fn entry(exchange: &Exchange) -> String {
    let time = millis(exchange.took);
    let entry = json!({
        "startedDateTime": exchange.began.to_string(),
        "time": time,
        "request": request(&exchange.request),
        "response": response(exchange.reply.as_ref()),
        "cache": {},
        "timings": { "send": 0, "wait": time, "receive": 0 },
        "_operation": exchange.about.operation.as_deref(),
        "_outcome": exchange.about.outcome.word(),
    });
    entry.to_string()
}

fn request(message: &HttpMessage) -> Json {
    let (method, target) = match &message.start {
        Start::Request { method, target } => (method.as_str(), target.as_str()),
        Start::Reply { .. } => ("", ""),
    };
    let host = message.headers.get("Host").unwrap_or("localhost");
    let url = if target.starts_with('/') { format!("http://{host}{target}") } else { target.to_owned() };
    let query = target.split_once('?').map_or("", |(_, query)| query);
    let pairs = query.split('&').filter(|pair| !pair.is_empty()).map(|pair| {
        let (name, value) = pair.split_once('=').unwrap_or((pair, ""));
        json!({ "name": name, "value": value })
    });
    let mut request = json!({
        "method": method,
        "url": url,
        "httpVersion": "HTTP/1.1",
        "cookies": [],
        "headers": fields(message),
        "queryString": pairs.collect::<Vec<_>>(),
        "headersSize": -1,
        "bodySize": message.body.len(),
    });
    let body = secrets::body(message);
    if !body.is_empty() {
        let kind = message.headers.get("Content-Type").unwrap_or_default();
        request["postData"] = text(body, json!({ "mimeType": kind, "params": [] }));
    }
    request
}

fn response(message: Option<&HttpMessage>) -> Json {
    let status = message.and_then(|message| message.start.status()).unwrap_or(0);
    let empty = json!({ "size": 0, "mimeType": "" });
    let content = message.map_or(empty, |message| {
        let body = secrets::body(message);
        let kind = message.headers.get("Content-Type").unwrap_or_default();
        let size = body.len();
        text(body, json!({ "size": size, "mimeType": kind }))
    });
    json!({
        "status": status,
        "statusText": "",
        "httpVersion": "HTTP/1.1",
        "cookies": [],
        "headers": message.map(fields).unwrap_or_default(),
        "content": content,
        "redirectURL": message.and_then(|message| message.headers.get("Location")).unwrap_or_default(),
        "headersSize": -1,
        "bodySize": message.map_or(-1, |message| message.body.len() as i64),
    })
}

/// A body beside what is said of it; in base64 where it is no text.
fn text(body: Vec<u8>, mut about: Json) -> Json {
    match String::from_utf8(body) {
        Ok(text) => about["text"] = text.into(),
        Err(error) => {
            about["text"] = STANDARD.encode(error.as_bytes()).into();
            about["encoding"] = "base64".into();
        }
    }
    about
}

//! JSON Lines: an exchange a line. `docs/exchanges.md` explains the form.

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use charter_message::http::{HttpMessage, Start};
use charter_message::matching::Severity;
use serde::Serialize;

use super::secrets;
use crate::{Exchange, Finding};

#[derive(Serialize)]
struct Line<'l> {
    began: String,
    ms: f64,
    #[serde(skip_serializing_if = "Option::is_none")]
    peer: Option<&'l str>,
    outcome: &'static str,
    #[serde(skip_serializing_if = "Option::is_none")]
    operation: Option<&'l str>,
    #[serde(skip_serializing_if = "Option::is_none")]
    port: Option<&'l str>,
    findings: Vec<FindingLine<'l>>,
    request: MessageLine,
    #[serde(skip_serializing_if = "Option::is_none")]
    reply: Option<MessageLine>,
}

#[derive(Serialize)]
struct FindingLine<'l> {
    side: &'static str,
    severity: &'static str,
    rule: &'static str,
    message: &'l str,
    #[serde(skip_serializing_if = "Option::is_none")]
    help: Option<&'l str>,
    path: &'l str,
    line: usize,
    column: usize,
}

#[derive(Serialize)]
struct MessageLine {
    #[serde(skip_serializing_if = "Option::is_none")]
    method: Option<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    target: Option<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    status: Option<u16>,
    headers: Vec<Field>,
    #[serde(skip_serializing_if = "Option::is_none")]
    body: Option<String>,
    /// The body, where it is no text.
    #[serde(skip_serializing_if = "Option::is_none")]
    base64: Option<String>,
}

#[derive(Serialize)]
pub(super) struct Field {
    name: String,
    value: String,
}

/// An exchange as a line of JSON, without its end.
pub fn line(exchange: &Exchange) -> String {
    let about = &exchange.about;
    let of = |side, findings: &'_ [Finding]| -> Vec<(&'static str, Finding)> {
        findings.iter().map(|finding| (side, finding.clone())).collect()
    };
    let all = [of("request", &about.request), of("reply", &about.reply)].concat();
    let line = Line {
        began: exchange.began.to_string(),
        ms: millis(exchange.took),
        peer: exchange.peer.as_deref(),
        outcome: about.outcome.word(),
        operation: about.operation.as_deref(),
        port: about.port.as_deref(),
        findings: all.iter().map(|(side, finding)| finding_line(side, finding)).collect(),
        request: message_line(&exchange.request),
        reply: exchange.reply.as_ref().map(message_line),
    };
    serde_json::to_string(&line).unwrap_or_default()
}

/// Milliseconds, to a thousandth.
pub(super) fn millis(took: std::time::Duration) -> f64 {
    took.as_micros() as f64 / 1000.0
}

fn finding_line<'l>(side: &'static str, finding: &'l Finding) -> FindingLine<'l> {
    FindingLine {
        side,
        severity: match finding.severity {
            Severity::Error => "error",
            Severity::Warning => "warning",
            Severity::Note => "note",
        },
        rule: finding.rule,
        message: &finding.message,
        help: finding.help.as_deref(),
        path: &finding.path,
        line: finding.line,
        column: finding.column,
    }
}

fn message_line(message: &HttpMessage) -> MessageLine {
    let (method, target, status) = match &message.start {
        Start::Request { method, target } => (Some(method.clone()), Some(target.clone()), None),
        Start::Reply { status } => (None, None, Some(*status)),
    };
    let octets = secrets::body(message);
    let (body, base64) = match String::from_utf8(octets) {
        Ok(text) => (Some(text), None),
        Err(error) => (None, Some(STANDARD.encode(error.as_bytes()))),
    };
    MessageLine { method, target, status, headers: fields(message), body, base64 }
}

/// The header fields, without what nobody else may know.
pub(super) fn fields(message: &HttpMessage) -> Vec<Field> {
    let field =
        |(name, value): (&str, &str)| Field { name: name.to_owned(), value: secrets::field(name, value) };
    message.headers.iter().map(field).collect()
}

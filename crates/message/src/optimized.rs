//! Messages whose binary content goes in parts of its own (MTOM; XOP 1.0): the envelope only includes it.

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use charter_contract::SoapVersion;
use charter_schema::{Builtin, Engine};
use charter_source::{QName, ns};

use crate::http::Headers;
use crate::{Element, Message, Node, Payload, Piece, Text};

/// The name of the envelope among the parts.
const ROOT: &str = "<envelope@message.invalid>";

impl Message {
    /// The same message with its base64 content in parts of their own. One that has no envelope, or goes in several parts
    /// anyway, stays as it is.
    pub fn optimized(mut self, engine: &Engine<'_>) -> Message {
        let version = match self.envelope() {
            Some(envelope) if &*envelope.name.namespace == ns::SOAP11_ENVELOPE => SoapVersion::V11,
            Some(_) => SoapVersion::V12,
            None => return self,
        };
        let envelope = match self.payload {
            Payload::Xml(ref mut envelope) => envelope,
            _ => return self,
        };
        let mut parts: Vec<Piece> = Vec::new();
        take_out(engine, envelope, &mut parts);
        let envelope = std::mem::replace(envelope, Element::new(QName::new("", "")));
        let boundary = boundary(&parts);
        let of_envelope = self.headers.get("Content-Type").unwrap_or_default();
        let kind = match version {
            SoapVersion::V11 => "text/xml".to_owned(),
            // The action travels with the type of the envelope (SOAP 1.2 MTOM, 4.3.1).
            SoapVersion::V12 => of_envelope.replace("; charset=utf-8", ""),
        };
        let quoted = kind.replace('"', "\\\"");
        let of_root = format!("application/xop+xml; charset=utf-8; type=\"{quoted}\"");
        let whole = format!(
            "multipart/related; type=\"application/xop+xml\"; start=\"{ROOT}\"; start-info=\"{quoted}\"; boundary=\"{boundary}\""
        );
        self.headers.set("Content-Type", whole);
        let headers =
            [("Content-Type", of_root.as_str()), ("Content-ID", ROOT), ("Content-Transfer-Encoding", "8bit")];
        parts.insert(0, Piece { headers: headers.into_iter().collect(), payload: Payload::Xml(envelope) });
        self.payload = Payload::Parts { boundary, pieces: parts };
        self
    }
}

/// Takes the octets out of an element and what it holds, and leaves inclusions.
fn take_out(engine: &Engine<'_>, element: &mut Element, parts: &mut Vec<Piece>) {
    let binary = element.ty.and_then(|ty| engine.datatype(ty)).and_then(|datatype| datatype.builtin());
    if binary.map(Builtin::primitive) == Some(Builtin::Base64Binary) {
        let text: String = element.value().chars().filter(|c| !c.is_ascii_whitespace()).collect();
        if let Some(octets) = STANDARD.decode(&text).ok().filter(|octets| !octets.is_empty()) {
            let id = format!("binary-{}@message.invalid", parts.len() + 1);
            let mut headers = Headers::default();
            headers.push("Content-Type", "application/octet-stream");
            headers.push("Content-ID", format!("<{id}>"));
            headers.push("Content-Transfer-Encoding", "binary");
            parts.push(Piece { headers, payload: Payload::Plain(octets) });
            let include = Element::new(QName::new(ns::XOP, "Include"));
            let include = include.attribute(QName::new("", "href"), format!("cid:{id}"));
            element.children = vec![Node::Element(include)];
        }
        return;
    }
    for child in &mut element.children {
        match child {
            Node::Element(child) => take_out(engine, child, parts),
            Node::Text(Text::Plain(_) | Text::Name(_) | Text::Names(_)) => {}
        }
    }
}

/// A line that stands in none of the parts.
fn boundary(parts: &[Piece]) -> String {
    let is_in = |line: &str, piece: &Piece| match &piece.payload {
        Payload::Plain(octets) => memchr::memmem::find(octets, line.as_bytes()).is_some(),
        _ => false,
    };
    let mut line = "=_part_7f3a41702".to_owned();
    while parts.iter().any(|piece| is_in(&line, piece)) {
        line.push('b');
    }
    line
}

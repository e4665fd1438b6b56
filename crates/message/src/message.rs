//! A message as it goes over the wire: HTTP head and what it holds.

use crate::Element;

/// A message as it goes over the wire.
#[derive(Debug, Clone)]
pub struct Message {
    /// The HTTP method of a request; `None` for a reply.
    pub method: Option<&'static str>,
    /// Where a request goes, its query included.
    pub address: Option<String>,
    /// The HTTP status of a reply.
    pub status: Option<u16>,
    /// The HTTP headers, without those about length and host.
    pub headers: Vec<(&'static str, String)>,
    /// What it holds.
    pub payload: Payload,
}

impl Message {
    /// The envelope, if there is one.
    pub fn envelope(&self) -> Option<&Element> {
        let first = match &self.payload {
            Payload::Parts { pieces, .. } => pieces.first().map(|piece| &piece.payload),
            payload => Some(payload),
        };
        match first {
            Some(Payload::Xml(element)) if &*element.name.local == "Envelope" => Some(element),
            _ => None,
        }
    }
}

/// What a message holds.
#[derive(Debug, Clone)]
pub enum Payload {
    /// Nothing.
    Empty,
    /// An envelope, or another XML document.
    Xml(Element),
    /// A value by itself, or a form.
    Plain(Vec<u8>),
    /// Several parts.
    Parts {
        /// The line that parts them.
        boundary: String,
        /// The parts, the envelope first if there is one.
        pieces: Vec<Piece>,
    },
}

/// A part of a multipart message.
#[derive(Debug, Clone)]
pub struct Piece {
    /// Its headers.
    pub headers: Vec<(&'static str, String)>,
    /// What it holds: no parts again.
    pub payload: Payload,
}

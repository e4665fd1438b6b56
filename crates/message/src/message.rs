//! A message as it goes over the wire, before it is text: its first line, its header fields and what it holds.

use crate::Element;
use crate::http::{Headers, Start};

/// A message as it goes over the wire. [`Message::http`] makes bytes of it.
#[derive(Debug, Clone)]
pub struct Message {
    /// How it begins. The target of a request is its whole address, or nothing if the contract has none.
    pub start: Start,
    /// The header fields, without those about length and host.
    pub headers: Headers,
    /// What it holds.
    pub payload: Payload,
}

impl Message {
    /// Where a request goes, its query included.
    pub fn address(&self) -> Option<&str> {
        match &self.start {
            Start::Request { target, .. } => Some(target.as_str()).filter(|address| !address.is_empty()),
            Start::Reply { .. } => None,
        }
    }

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
    /// Its header fields.
    pub headers: Headers,
    /// What it holds: no parts again.
    pub payload: Payload,
}

//! Multipart messages: an envelope and what goes along with it (WSDL 1.1, section 5; RFC 2387; SOAP Messages with
//! Attachments; Attachments Profile 1.0 for the names of the parts).

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use charter_contract::{MediaPart, SoapShape, SoapVersion};
use charter_schema::{Builtin, Engine};

use crate::http::{Headers, media_type};
use crate::{Element, Message, Payload, Piece};

/// The line between parts. It holds characters that no base64 has and no XML begins a line with.
const BOUNDARY: &str = "=_part_7f3a41702";
/// The name of the envelope among the parts.
const ROOT: &str = "<envelope@message.invalid>";

/// The name of a part by that of its message part (Attachments Profile 1.0, R2933).
pub(crate) fn content_id(part: &str) -> String {
    format!("<{part}=7f3a41702@message.invalid>")
}

/// Makes an envelope and its attachments a `multipart/related` message.
pub(crate) fn related(
    message: &mut Message,
    soap: &SoapShape,
    mut headers: Headers,
    envelope: Element,
    mut pieces: Vec<Piece>,
) {
    let kind = match soap.version {
        SoapVersion::V11 => "text/xml",
        SoapVersion::V12 => "application/soap+xml",
    };
    let of_root = headers.get("Content-Type").unwrap_or_default().to_owned();
    let whole = format!("multipart/related; type=\"{kind}\"; start=\"{ROOT}\"; boundary=\"{BOUNDARY}\"");
    headers.set("Content-Type", whole);
    message.headers = headers;
    let of_root =
        [("Content-Type", of_root.as_str()), ("Content-ID", ROOT), ("Content-Transfer-Encoding", "8bit")];
    let root = Piece { headers: of_root.into_iter().collect(), payload: Payload::Xml(envelope) };
    pieces.insert(0, root);
    message.payload = Payload::Parts { boundary: BOUNDARY.to_owned(), pieces };
}

/// Makes parts without an envelope a `multipart/related` message; the first is its root.
pub(crate) fn mixed(message: &mut Message, pieces: Vec<Piece>) {
    let first = pieces.first().and_then(|piece| piece.headers.get("Content-Type"));
    let kind = first.map_or("text/plain".to_owned(), media_type);
    message
        .headers
        .set("Content-Type", format!("multipart/related; type=\"{kind}\"; boundary=\"{BOUNDARY}\""));
    message.payload = Payload::Parts { boundary: BOUNDARY.to_owned(), pieces };
}

/// The value of a part as octets: those that it stands for, if its type is a binary one.
pub(crate) fn octets(engine: &Engine<'_>, part: &MediaPart, content: &Element) -> Vec<u8> {
    let text = content.value();
    let builtin = engine.datatype(part.content.ty(engine.schemas())).and_then(|datatype| datatype.builtin());
    match builtin.map(Builtin::primitive) {
        Some(Builtin::Base64Binary) => {
            let bare: String = text.chars().filter(|c| !c.is_ascii_whitespace()).collect();
            STANDARD.decode(bare).unwrap_or_else(|_| text.into_bytes())
        }
        Some(Builtin::HexBinary) => {
            let digit = |byte: u8| (byte as char).to_digit(16).unwrap_or(0) as u8;
            text.trim()
                .as_bytes()
                .chunks(2)
                .map(|pair| pair.iter().fold(0, |sum, byte| sum << 4 | digit(*byte)))
                .collect()
        }
        _ => text.into_bytes(),
    }
}

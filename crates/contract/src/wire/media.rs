//! Parts that travel as documents of some media type (WSDL 1.1, section 5).

use charter_source::Place;

use super::{MediaPart, Unshaped, unshaped};
use crate::{Contract, Extension, ExtensionKind, Message, MimePart};

/// The parts of a multipart message, and where it is called for.
pub(super) fn multipart(extensions: &[Extension]) -> Option<(&[MimePart], Place)> {
    extensions.iter().find_map(|extension| match &extension.kind {
        ExtensionKind::MimeMultipart(parts) => Some((parts.as_slice(), extension.place)),
        _ => None,
    })
}

impl Contract {
    /// The message part that the extensions call for, in the first of the media types that they allow.
    pub(super) fn media_part(
        &self,
        extensions: &[Extension],
        message: &Message,
        place: Place,
    ) -> Result<Option<MediaPart>, Unshaped> {
        let wanted = extensions.iter().find_map(|extension| match &extension.kind {
            ExtensionKind::MimeContent { part, media_type } => {
                Some((part.as_ref(), media_type.as_ref().map(|label| &*label.text), false, extension.place))
            }
            ExtensionKind::MimeXml { part } => Some((part.as_ref(), Some("text/xml"), true, extension.place)),
            _ => None,
        });
        let Some((label, media_type, xml, at)) = wanted else { return Ok(None) };
        let part = match label {
            Some(label) => message.parts.iter().find(|part| part.name.text == label.text),
            // Without a name, it is the only part (5.3).
            None => message.parts.first(),
        };
        let Some(part) = part else {
            return match label {
                Some(label) => unshaped(format!("the message has no part \"{}\"", label.text), at),
                None => unshaped("the message has no parts", place),
            };
        };
        // Several of one part are ways to choose from (5.3).
        let of_part = |own: Option<&crate::Label>| {
            own.map_or(message.parts.first().map(|part| &part.name.text), |own| Some(&own.text))
                == Some(&part.name.text)
        };
        let also = extensions.iter().filter_map(|extension| match &extension.kind {
            ExtensionKind::MimeContent { part, media_type } if of_part(part.as_ref()) => {
                Some(media_type.as_ref().map_or("*/*", |label| &*label.text).trim().to_owned())
            }
            ExtensionKind::MimeXml { part } if of_part(part.as_ref()) => Some("text/xml".to_owned()),
            _ => None,
        });
        let allowed = also.collect();
        let content = self.wire_element(part, "")?;
        let media_type = concrete(media_type.unwrap_or("*/*"), xml || part.element.is_some());
        let xml = xml || is_xml(&media_type);
        Ok(Some(MediaPart { name: part.name.text.to_string(), content, media_type, allowed, xml }))
    }
}

/// A media type in place of a pattern of several.
fn concrete(media_type: &str, xml: bool) -> String {
    let (kind, subtype) = media_type.split_once('/').unwrap_or((media_type, "*"));
    match (kind.trim(), subtype.trim()) {
        ("*" | "", _) | ("text", "*") if xml => "text/xml".to_owned(),
        ("*" | "", _) | ("application", "*") => "application/octet-stream".to_owned(),
        ("text", "*") => "text/plain".to_owned(),
        ("image", "*") => "image/png".to_owned(),
        (kind, "*") => format!("{kind}/octet-stream"),
        _ => media_type.trim().to_owned(),
    }
}

/// Whether a document of the media type is XML (RFC 7303).
fn is_xml(media_type: &str) -> bool {
    let bare = media_type.split(';').next().unwrap_or("").trim().to_ascii_lowercase();
    matches!(bare.as_str(), "text/xml" | "application/xml") || bare.ends_with("+xml")
}

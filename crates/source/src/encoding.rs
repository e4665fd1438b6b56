//! How the characters of a file were written as bytes, so that an edit can write them the same way again.

use std::borrow::Cow;
use std::sync::Arc;

use crate::Span;

/// The form in which text units stand in the file.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum CodeUnits {
    /// UTF-8.
    Utf8,
    /// UTF-16, least significant byte first.
    Utf16Le,
    /// UTF-16, most significant byte first.
    Utf16Be,
    /// An encoding that the XML declaration names, such as ISO-8859-1.
    Named(&'static encoding_rs::Encoding),
}

/// A form, and whether a byte-order mark stood before the text.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Encoding {
    /// The form of the text units.
    pub units: CodeUnits,
    /// Whether the file begins with a byte-order mark.
    pub bom: bool,
}

/// Text as it was decoded, and where the bytes were not what the encoding allows.
pub(crate) struct Decoded {
    pub content: String,
    pub encoding: Encoding,
    pub fault: Option<(Span, String)>,
    /// Whether it comes back byte for byte.
    pub faithful: bool,
}

impl Encoding {
    /// The name that an XML declaration would use.
    pub fn name(self) -> &'static str {
        match self.units {
            CodeUnits::Utf8 => "UTF-8",
            CodeUnits::Utf16Le | CodeUnits::Utf16Be => "UTF-16",
            CodeUnits::Named(encoding) => encoding.name(),
        }
    }

    /// Text as bytes of this encoding; `None` if a character has no place in it.
    pub fn encode(self, text: &str) -> Option<Vec<u8>> {
        let marked = |mark: &[u8]| if self.bom { mark.to_vec() } else { Vec::new() };
        match self.units {
            CodeUnits::Utf8 => {
                let mut bytes = marked(&[0xEF, 0xBB, 0xBF]);
                bytes.extend_from_slice(text.as_bytes());
                Some(bytes)
            }
            CodeUnits::Utf16Le => {
                let mut bytes = marked(&[0xFF, 0xFE]);
                bytes.extend(text.encode_utf16().flat_map(u16::to_le_bytes));
                Some(bytes)
            }
            CodeUnits::Utf16Be => {
                let mut bytes = marked(&[0xFE, 0xFF]);
                bytes.extend(text.encode_utf16().flat_map(u16::to_be_bytes));
                Some(bytes)
            }
            CodeUnits::Named(encoding) => {
                let (bytes, _, unmappable) = encoding.encode(text);
                (!unmappable).then(|| bytes.into_owned())
            }
        }
    }
}

/// The whole text of a file, and how it is encoded: every character has its place in that encoding.
///
/// ```
/// use charter_source::{CodeUnits, Encoded, Encoding};
///
/// let utf16 = Encoding { units: CodeUnits::Utf16Be, bom: true };
/// let text = Encoded::new("quay".to_owned(), utf16).unwrap();
/// assert_eq!(*text.bytes(), *b"\xFE\xFF\0q\0u\0a\0y");
/// ```
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Encoded {
    text: Arc<String>,
    encoding: Encoding,
}

/// A text in UTF-8.
impl From<String> for Encoded {
    fn from(text: String) -> Encoded {
        Encoded { text: Arc::new(text), encoding: Encoding { units: CodeUnits::Utf8, bom: false } }
    }
}

impl Encoded {
    /// A text in an encoding; `None` if a character has no place in it.
    pub fn new(text: String, encoding: Encoding) -> Option<Encoded> {
        Encoded::shared_of(Arc::new(text), encoding)
    }

    pub(crate) fn shared_of(text: Arc<String>, encoding: Encoding) -> Option<Encoded> {
        let fits = match encoding.units {
            CodeUnits::Named(_) => encoding.encode(&text).is_some(),
            CodeUnits::Utf8 | CodeUnits::Utf16Le | CodeUnits::Utf16Be => true,
        };
        fits.then_some(Encoded { text, encoding })
    }

    /// The characters.
    pub fn text(&self) -> &str {
        &self.text
    }

    pub(crate) fn shared(&self) -> Arc<String> {
        self.text.clone()
    }

    /// The encoding.
    pub fn encoding(&self) -> Encoding {
        self.encoding
    }

    /// What the file holds.
    pub fn bytes(&self) -> Cow<'_, [u8]> {
        match self.encoding {
            Encoding { units: CodeUnits::Utf8, bom: false } => Cow::Borrowed(self.text.as_bytes()),
            encoding => Cow::Owned(encoding.encode(&self.text).unwrap_or_default()),
        }
    }
}

/// Finds the encoding as XML 1.0, appendix F, describes it, and decodes.
pub(crate) fn decode(bytes: Vec<u8>) -> Decoded {
    let mut decoded = by_bytes(bytes);
    if decoded.fault.is_none() {
        decoded.fault = misdeclared(&decoded);
    }
    decoded
}

/// Where the XML declaration names another encoding than the first bytes show (XML 1.0, section 4.3.3).
fn misdeclared(decoded: &Decoded) -> Option<(Span, String)> {
    let shown = match decoded.encoding.units {
        CodeUnits::Utf16Le | CodeUnits::Utf16Be => "UTF-16",
        CodeUnits::Utf8 if decoded.encoding.bom => "UTF-8",
        _ => return None,
    };
    let label = declared(decoded.content.as_bytes())?;
    // The two kinds of UTF-16 are told apart by their bytes anyway.
    if label.to_ascii_uppercase().starts_with(shown) {
        return None;
    }
    let at = decoded.content.find(&label)?;
    let message = format!("the file declares {label}, but is in {shown}");
    Some((Span::new(at, at + label.len()), message))
}

fn by_bytes(bytes: Vec<u8>) -> Decoded {
    match bytes.as_slice() {
        [0xEF, 0xBB, 0xBF, ..] => utf8(bytes[3..].to_vec(), true),
        [0xFF, 0xFE, ..] => utf16(&bytes[2..], CodeUnits::Utf16Le, true),
        [0xFE, 0xFF, ..] => utf16(&bytes[2..], CodeUnits::Utf16Be, true),
        [b'<', 0, ..] => utf16(&bytes, CodeUnits::Utf16Le, false),
        [0, b'<', ..] => utf16(&bytes, CodeUnits::Utf16Be, false),
        _ => match declared(&bytes).filter(|label| !label.eq_ignore_ascii_case("utf-8")) {
            None => utf8(bytes, false),
            Some(label) => named(bytes, &label),
        },
    }
}

/// Whether bytes are taken for UTF-8 without a mark.
pub(crate) fn is_plain(bytes: &[u8]) -> bool {
    let marked = matches!(bytes, [0xEF, 0xBB, 0xBF, ..] | [0xFF, 0xFE, ..] | [0xFE, 0xFF, ..]);
    let wide = matches!(bytes, [b'<', 0, ..] | [0, b'<', ..]);
    !marked && !wide && declared(bytes).is_none_or(|label| label.eq_ignore_ascii_case("utf-8"))
}

/// The encoding that the XML declaration names, read from its bytes, which are ASCII in every encoding
/// that can come here.
fn declared(bytes: &[u8]) -> Option<String> {
    let head = &bytes[..bytes.len().min(200)];
    if !head.starts_with(b"<?xml") {
        return None;
    }
    let head = String::from_utf8_lossy(head);
    let declaration = head.split("?>").next()?;
    let rest = declaration.split("encoding").nth(1)?.trim_start().strip_prefix('=')?.trim_start();
    let quote = rest.chars().next().filter(|c| matches!(c, '"' | '\''))?;
    rest[1..].split(quote).next().map(str::to_owned)
}

fn utf8(bytes: Vec<u8>, bom: bool) -> Decoded {
    let encoding = Encoding { units: CodeUnits::Utf8, bom };
    match String::from_utf8(bytes) {
        Ok(content) => Decoded { content, encoding, fault: None, faithful: true },
        Err(error) => {
            let at = error.utf8_error().valid_up_to();
            let byte = error.as_bytes()[at];
            let content = String::from_utf8_lossy(error.as_bytes()).into_owned();
            let width = content[at..].chars().next().map_or(0, char::len_utf8);
            let message = format!("the byte 0x{byte:02X} is not part of any UTF-8 character");
            Decoded { content, encoding, fault: Some((Span::new(at, at + width), message)), faithful: false }
        }
    }
}

fn utf16(bytes: &[u8], units: CodeUnits, bom: bool) -> Decoded {
    let unit = |pair: &[u8]| match units {
        CodeUnits::Utf16Be => u16::from_be_bytes([pair[0], pair[1]]),
        _ => u16::from_le_bytes([pair[0], pair[1]]),
    };
    let mut content = String::with_capacity(bytes.len());
    let mut fault = None;
    let mut note = |content: &String, message: &str| {
        fault.get_or_insert_with(|| (Span::new(content.len(), content.len() + 3), message.to_owned()));
    };
    for decoded in char::decode_utf16(bytes.chunks_exact(2).map(unit)) {
        let c = decoded.unwrap_or_else(|_| {
            note(&content, "half a surrogate pair: this is not UTF-16");
            char::REPLACEMENT_CHARACTER
        });
        content.push(c);
    }
    if bytes.len() % 2 == 1 {
        note(&content, "the last character of this UTF-16 file has only one of its two bytes");
        content.push(char::REPLACEMENT_CHARACTER);
    }
    let faithful = fault.is_none();
    Decoded { content, encoding: Encoding { units, bom }, fault, faithful }
}

fn named(bytes: Vec<u8>, label: &str) -> Decoded {
    let found = encoding_rs::Encoding::for_label(label.as_bytes());
    let Some(encoding) = found.filter(|e| *e != encoding_rs::UTF_16LE && *e != encoding_rs::UTF_16BE) else {
        let mut decoded = utf8(bytes, false);
        let at = decoded.content.find(label).unwrap_or(0);
        let message = match found {
            Some(_) => format!("the file declares {label}, but its characters are single bytes"),
            None => format!("the encoding \"{label}\" is not known"),
        };
        decoded.fault = Some((Span::new(at, at + label.len()), message));
        return decoded;
    };
    let (content, _, malformed) = encoding.decode(&bytes);
    let content = content.into_owned();
    let fault = malformed.then(|| {
        let at = content.find(char::REPLACEMENT_CHARACTER).unwrap_or(0);
        (Span::new(at, at + 3), format!("a byte here has no meaning in {}", encoding.name()))
    });
    let written = Encoding { units: CodeUnits::Named(encoding), bom: false };
    let faithful = written.encode(&content).is_some_and(|again| again == bytes);
    Decoded { content, encoding: written, fault, faithful }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[track_caller]
    fn comes_back(bytes: &[u8], units: CodeUnits, bom: bool) {
        let decoded = decode(bytes.to_vec());
        assert!(decoded.fault.is_none(), "{:?}", decoded.fault);
        assert_eq!(decoded.encoding, Encoding { units, bom });
        assert_eq!(decoded.encoding.encode(&decoded.content).as_deref(), Some(bytes));
    }

    #[test]
    fn every_form_comes_back_byte_for_byte() {
        comes_back(b"<a>\xC3\xBC</a>\r\n", CodeUnits::Utf8, false);
        comes_back(b"\xEF\xBB\xBF<a/>", CodeUnits::Utf8, true);
        comes_back(b"\xFF\xFE<\0a\0/\0>\0", CodeUnits::Utf16Le, true);
        comes_back(b"\xFE\xFF\0<\0a\0/\0>", CodeUnits::Utf16Be, true);
        comes_back(b"<\0a\0/\0>\0", CodeUnits::Utf16Le, false);
        comes_back(
            b"<?xml version='1.0' encoding='ISO-8859-1'?><a>\xFC</a>",
            CodeUnits::Named(encoding_rs::WINDOWS_1252),
            false,
        );
        comes_back(
            b"<?xml version=\"1.0\" encoding = \"iso-8859-2\"?><a>\xE8</a>",
            CodeUnits::Named(encoding_rs::ISO_8859_2),
            false,
        );
    }

    #[test]
    fn what_cannot_be_decoded_is_placed() {
        let at = |bytes: &[u8]| decode(bytes.to_vec()).fault.map(|(span, _)| span.start);
        assert_eq!(at(b"<a>\xFF</a>"), Some(3));
        assert_eq!(at(b"\xFF\xFE<\0a"), Some(1));
        assert_eq!(at(b"<?xml version='1.0' encoding='SEA-7'?><a/>"), Some(30));
        assert_eq!(at(b"<?xml version='1.0' encoding='UTF-16'?><a/>"), Some(30));
        assert_eq!(at(b"\xEF\xBB\xBF<?xml version='1.0' encoding='ISO-8859-1'?><a/>"), Some(30));
        assert_eq!(at(b"\xEF\xBB\xBF<?xml version='1.0' encoding='utf-8'?><a/>"), None);
        let wide: Vec<u8> = "\u{FEFF}<?xml version='1.0' encoding='UTF-8'?><a/>"
            .encode_utf16()
            .flat_map(u16::to_le_bytes)
            .collect();
        assert_eq!(at(&wide), Some(30));
    }
}

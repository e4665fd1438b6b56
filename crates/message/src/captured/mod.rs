//! Messages that were caught on the wire: an envelope or another document by itself, raw HTTP exchanges, and JSON Lines
//! with a message a line. [`split`] finds the messages in a file, [`Raw::open`] takes one apart.
//!
//! The text of a body remembers how many lines stand before it, so that a line in it is the line of the file.

mod http;
mod lines;
mod packed;

use std::path::PathBuf;

use charter_source::{Fault, File, FileId, Limits, Location, Text, Tree};

/// How a message begins.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Start {
    /// A request.
    Request {
        /// The HTTP method.
        method: String,
        /// Its target: the path and the query, or the whole address.
        target: String,
    },
    /// A reply.
    Reply {
        /// The HTTP status.
        status: u16,
    },
}

/// A message in a file, not yet taken apart.
#[derive(Debug, Clone)]
pub struct Raw<'b> {
    /// What messages call it: the file, with a number where it holds several.
    pub label: String,
    form: Form<'b>,
}

#[derive(Debug, Clone)]
enum Form<'b> {
    /// A document by itself.
    Document(&'b [u8]),
    /// A stretch of a file of raw HTTP: the head from `from`, before which so many lines stand, the body from `body` to `to`.
    Http { whole: &'b [u8], from: usize, lines: usize, body: usize, to: usize },
    /// A line of JSON.
    Line(&'b [u8]),
}

/// A message, taken apart.
pub struct Captured {
    /// The first line, if it was caught with its HTTP headers.
    pub start: Option<Start>,
    /// The HTTP headers.
    pub headers: Vec<(String, String)>,
    /// The text that holds the body, with its tree if it is XML.
    pub file: File,
    /// Why it is no XML, if it looks as if it were meant to be.
    pub fault: Option<Fault>,
    /// The body as octets, where it is no XML.
    pub octets: Vec<u8>,
    /// What came along with an envelope.
    pub attachments: Vec<Attachment>,
}

/// A part of a multipart message beside its root.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Attachment {
    /// Its name among the parts, without its angle brackets.
    pub id: String,
    /// Its media type.
    pub media_type: String,
    /// What it holds.
    pub octets: Vec<u8>,
}

/// The messages in a file.
pub fn split<'b>(name: &str, bytes: &'b [u8]) -> Vec<Raw<'b>> {
    let shown = bytes.strip_prefix(b"\xef\xbb\xbf").unwrap_or(bytes);
    let first = shown.iter().position(|byte| !byte.is_ascii_whitespace()).map_or(0, |at| shown[at]);
    if matches!(first, b'{' | b'"') {
        return lines::split(name, shown);
    }
    let begin = bytes.iter().position(|byte| !byte.is_ascii_whitespace()).unwrap_or(0);
    if http::starts_at(bytes, begin) {
        return http::split(name, bytes);
    }
    vec![Raw { label: name.to_owned(), form: Form::Document(bytes) }]
}

/// The name of one of several messages in a file.
fn numbered(name: &str, number: usize, many: bool) -> String {
    if many { format!("{name}#{number}") } else { name.to_owned() }
}

impl Raw<'_> {
    /// Takes the message apart.
    pub fn open(&self) -> Captured {
        match self.form {
            Form::Document(bytes) => Captured::of(&self.label, bytes.to_vec(), false),
            Form::Http { whole, from, lines, body, to } => {
                http::open(&self.label, whole, (from, lines), body, to)
            }
            Form::Line(line) => lines::open(&self.label, line),
        }
    }
}

impl Captured {
    /// A message that is a document by itself. Where it need not be XML, only what looks like it is read as such.
    fn of(label: &str, bytes: Vec<u8>, must_be_xml: bool) -> Captured {
        Captured::behind(label, bytes, 0, must_be_xml)
    }

    /// The same for a piece of a file, in which so many lines stand before it.
    fn behind(label: &str, bytes: Vec<u8>, lines: usize, must_be_xml: bool) -> Captured {
        let begins = bytes.iter().find(|byte| !byte.is_ascii_whitespace());
        let looks_like_xml = must_be_xml
            || bytes.starts_with(b"\xef\xbb\xbf")
            || bytes.starts_with(b"\xff\xfe")
            || bytes.starts_with(b"\xfe\xff")
            || begins == Some(&b'<');
        let location = if label == "-" { Location::Standard } else { Location::Path(PathBuf::from(label)) };
        let (text, octets) = if looks_like_xml { (bytes, Vec::new()) } else { (Vec::new(), bytes) };
        let text = Text::decode(text).behind_lines(lines);
        let (tree, fault) = Tree::parse(text, FileId(0), Limits::default().depth);
        Captured {
            start: None,
            headers: Vec::new(),
            file: File { id: FileId(0), location, tree },
            fault: fault.filter(|_| looks_like_xml),
            octets,
            attachments: Vec::new(),
        }
    }

    /// The value of an HTTP header.
    pub fn header(&self, name: &str) -> Option<&str> {
        let found = self.headers.iter().find(|(known, _)| known.eq_ignore_ascii_case(name));
        found.map(|(_, value)| value.as_str())
    }

    /// The media type of the body, without its parameters.
    pub fn media_type(&self) -> Option<String> {
        let value = self.header("Content-Type")?;
        Some(value.split(';').next().unwrap_or(value).trim().to_ascii_lowercase())
    }

    /// Whether the text declares a document type.
    pub fn has_document_type(&self) -> bool {
        let text = self.file.text().content();
        let root = self.file.root().map_or(text.len(), |root| root.range().start);
        text[..root].contains("<!DOCTYPE")
    }
}

/// A parameter of a header's value: `boundary` in `multipart/related; boundary="x"`.
pub(crate) fn parameter(value: &str, name: &str) -> Option<String> {
    let mut rest = value.split_once(';')?.1;
    loop {
        let (key, after) = rest.split_once('=')?;
        let after = after.trim_start();
        let (content, next) = match after.strip_prefix('"') {
            Some(quoted) => {
                let end = quoted.find('"')?;
                (&quoted[..end], quoted[end + 1..].split_once(';').map(|(_, next)| next))
            }
            None => match after.split_once(';') {
                Some((content, next)) => (content, Some(next)),
                None => (after, None),
            },
        };
        if key.trim().eq_ignore_ascii_case(name) {
            return Some(content.trim().to_owned());
        }
        rest = next?;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn parameters_are_found_quoted_or_not() {
        let value = "multipart/related; type=\"text/xml; a=b\"; start=\"<e@s>\"; Boundary=x-1";
        assert_eq!(parameter(value, "type").as_deref(), Some("text/xml; a=b"));
        assert_eq!(parameter(value, "boundary").as_deref(), Some("x-1"));
        assert_eq!(parameter(value, "charset"), None);
    }
}

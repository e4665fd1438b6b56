//! Messages that were caught on the wire: an envelope or another document by itself, raw HTTP exchanges, JSON Lines
//! with a message or an exchange a line, and HTTP archives. [`split`] finds the messages in a file, [`Raw::open`] takes one apart.
//!
//! The text of a body remembers how many lines stand before it, so that a line in it is the line of the file.

mod archive;
mod http;
mod lines;
mod xop;

use std::path::PathBuf;
use std::sync::Arc;

use charter_source::{Fault, File, FileId, Limits, Location, Node, Text, Tree, elements};

use crate::http::{Headers, HttpMessage, Start};

/// A message in a file, not yet taken apart.
#[derive(Debug, Clone)]
pub struct Raw<'b> {
    /// What messages call it: the file, with a number where it holds several.
    pub label: String,
    source: Source<'b>,
}

#[derive(Debug, Clone)]
enum Source<'b> {
    /// A document by itself.
    Document(&'b [u8]),
    /// A stretch of a file of raw HTTP: the head from `from`, before which so many lines stand, the body from `body` to `to`.
    Http { whole: &'b [u8], from: usize, lines: usize, body: usize, to: usize },
    /// A line of JSON.
    Line(&'b [u8]),
    /// A message that a journal has kept with its headers.
    Kept(Arc<HttpMessage>),
}

/// A message, taken apart.
pub struct Captured {
    /// The first line, if it was caught with its HTTP headers.
    pub start: Option<Start>,
    /// The header fields.
    pub headers: Headers,
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
        return archive::split(name, shown).unwrap_or_else(|| lines::split(name, shown));
    }
    let begin = bytes.iter().position(|byte| !byte.is_ascii_whitespace()).unwrap_or(0);
    if crate::http::begins_at(bytes, begin) {
        return http::split(name, bytes);
    }
    vec![Raw { label: name.to_owned(), source: Source::Document(bytes) }]
}

/// The name of one of several messages in a file.
fn numbered(name: &str, number: usize, many: bool) -> String {
    if many { format!("{name}#{number}") } else { name.to_owned() }
}

impl Raw<'_> {
    /// Takes the message apart.
    pub fn open(&self) -> Captured {
        match &self.source {
            Source::Document(bytes) => Captured::of(&self.label, bytes.to_vec(), false),
            Source::Http { whole, from, lines, body, to } => {
                http::open(&self.label, whole, (*from, *lines), *body, *to)
            }
            Source::Line(line) => lines::open(&self.label, line),
            Source::Kept(message) => Captured::received(&self.label, HttpMessage::clone(message)),
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
            headers: Headers::default(),
            file: File { id: FileId(0), location, tree },
            fault: fault.filter(|_| looks_like_xml),
            octets,
            attachments: Vec::new(),
        }
    }

    /// The same with its first line and its header fields.
    fn with(mut self, start: Start, headers: Headers) -> Captured {
        self.start = Some(start);
        self.headers = headers;
        self
    }

    /// A message that was received, whose body begins in line 1. What was done to the body on its way is undone.
    pub fn received(label: &str, message: HttpMessage) -> Captured {
        http::received(label, message, 0)
    }

    /// Whether it is an envelope that holds a fault.
    pub fn has_fault(&self) -> bool {
        self.fault_element().is_some()
    }

    /// What the fault in it says: its code and its reason, in one line (SOAP 1.1, section 4.4; SOAP 1.2 Part 1, section 5.4).
    pub fn fault_words(&self) -> Option<String> {
        let fault = self.fault_element()?;
        let inner = |names: [&str; 2]| {
            let found = elements(fault).find(|child| names.contains(&child.tag_name().name()))?;
            // In SOAP 1.2, the words stand one level deeper.
            let text = elements(found).next().unwrap_or(found).text().unwrap_or_default();
            Some(text.split_whitespace().collect::<Vec<_>>().join(" "))
        };
        let code = inner(["faultcode", "Code"]).unwrap_or_default();
        let code = code.rsplit(':').next().unwrap_or_default().to_owned();
        let reason = inner(["faultstring", "Reason"]).unwrap_or_default();
        Some(format!("{code}, {reason}").trim_matches([',', ' ']).to_owned())
    }

    fn fault_element(&self) -> Option<Node<'_>> {
        let root = self.file.root().filter(|root| root.tag_name().name() == "Envelope")?;
        let namespace = root.tag_name().namespace().unwrap_or_default();
        let body = elements(root).find(|child| child.has_tag_name((namespace, "Body")))?;
        elements(body).find(|child| child.has_tag_name((namespace, "Fault")))
    }

    /// Whether the text declares a document type.
    pub fn has_document_type(&self) -> bool {
        let text = self.file.text().content();
        let root = self.file.root().map_or(text.len(), |root| root.range().start);
        text[..root].contains("<!DOCTYPE")
    }
}

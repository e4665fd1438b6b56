//! Says in plain words why a text is not well-formed XML.

use roxmltree::{Error, TextPos};

use crate::{Fault, FileId, Place, Position, Span, Text};

const WELL_FORMED: &str = "xml-well-formed";

/// The fault of a text that was not decoded, or is no text at all.
pub(crate) fn encoding_fault(text: &Text, file: FileId) -> Option<Fault> {
    let content = text.content();
    let whole_start = Place { file, span: Span::new(0, 0) };
    if content.trim().is_empty() {
        return Some(Fault::new(WELL_FORMED, whole_start, "the file is empty").help("write a root element"));
    }
    let head = &content.as_bytes()[..content.len().min(4096)];
    if head.contains(&0) {
        let fault = Fault::new(WELL_FORMED, whole_start, "this is a binary file, not XML");
        return Some(fault.help("give the file of a contract or a schema"));
    }
    let (span, why) = text.fault()?;
    let fault = Fault::new("xml-encoding", Place { file, span }, why);
    Some(fault.help(format!(
        "save the file as {}, or name its real encoding in the XML declaration",
        text.encoding().name()
    )))
}

pub(crate) fn too_deep(place: Place, depth: usize) -> Fault {
    let message = format!("elements are nested more than {depth} deep here");
    Fault::new("xml-depth", place, message).help("no contract needs this; the file was not read further")
}

/// A parser's error as a fault with a place.
pub(crate) fn explain(error: &Error, text: &Text, file: FileId) -> Fault {
    let end = text.content().trim_end().len() as u32;
    let offset = match error {
        Error::NoRootNode | Error::UnclosedRootNode | Error::UnexpectedEndOfStream => end,
        Error::DtdDetected
        | Error::NodesLimitReached
        | Error::AttributesLimitReached
        | Error::NamespacesLimitReached => 0,
        other => offset(text, other.pos()),
    };
    let span = Span { start: offset, end: offset + width(&text.content()[offset as usize..]) as u32 };
    let (rule, message, help) = words(error, text);
    let fault = Fault::new(rule, Place { file, span }, message);
    if looks_like_html(text.content()) {
        return fault
            .help("this looks like an HTML page: was it saved from an address that answers with one?");
    }
    fault.help(help)
}

/// How many bytes the trouble covers: a name, a tag, or else one character.
fn width(rest: &str) -> usize {
    let named = |c: char| c.is_alphanumeric() || matches!(c, ':' | '-' | '_' | '.' | '/');
    let tag = usize::from(rest.starts_with('<'));
    let name = rest[tag..].find(|c: char| !named(c)).unwrap_or(rest.len() - tag);
    match (tag, name) {
        (0, 0) => rest.chars().next().filter(|c| *c != '\n').map_or(0, char::len_utf8),
        (tag, name) => tag + name + usize::from(tag == 1 && rest[tag + name..].starts_with('>')),
    }
}

fn looks_like_html(content: &str) -> bool {
    let head = content.trim_start().get(..15).unwrap_or("").to_ascii_lowercase();
    head.starts_with("<!doctype html") || head.starts_with("<html")
}

fn offset(text: &Text, at: TextPos) -> u32 {
    text.offset(Position { line: at.row as usize, column: at.col as usize })
}

type Words = (&'static str, String, String);

fn words(error: &Error, text: &Text) -> Words {
    let well_formed = |message: String, help: &str| (WELL_FORMED, message, help.to_owned());
    match error {
        Error::UnknownNamespace(prefix, _) => (
            "xml-prefix",
            format!("the prefix \"{prefix}\" is not declared"),
            format!("add xmlns:{prefix}=\"…\" to this element or to one around it"),
        ),
        Error::UnexpectedCloseTag(open, close, _) => well_formed(
            format!("</{close}> stands where </{open}> must"),
            "close the elements in the reverse order of their opening",
        ),
        Error::UnknownEntityReference(name, _) if is_external(text.content(), name) => (
            "xml-entity",
            format!("the entity \"{name}\" lies outside this file"),
            "external entities are never read: write its content into the file".to_owned(),
        ),
        Error::UnknownEntityReference(name, _) => (
            "xml-entity",
            format!("the entity \"{name}\" is not declared"),
            "write &amp; for an ampersand, or declare the entity".to_owned(),
        ),
        Error::MalformedEntityReference(_) => {
            well_formed("an ampersand that begins no entity reference".into(), "write &amp; for an ampersand")
        }
        Error::EntityReferenceLoop(_) => (
            "xml-entity",
            "entities refer to entities without end, or too many times".to_owned(),
            "the file was not expanded; write the text out instead".to_owned(),
        ),
        Error::DuplicatedAttribute(name, _) => well_formed(
            format!("the attribute \"{name}\" stands twice on this element"),
            "remove one of the two",
        ),
        Error::DuplicatedNamespace(prefix, _) => well_formed(
            format!("the prefix \"{prefix}\" is declared twice on this element"),
            "remove one of the two declarations",
        ),
        Error::NoRootNode => well_formed("there is no root element".into(), "write a root element"),
        Error::UnclosedRootNode | Error::UnexpectedEndOfStream => well_formed(
            "the file ends before all its elements are closed".into(),
            "it may have been cut off: get it again, or close what is open",
        ),
        Error::NodesLimitReached | Error::AttributesLimitReached | Error::NamespacesLimitReached => {
            ("xml-depth", "the file holds more nodes than can be read".into(), "split it".into())
        }
        other => {
            // The parser's words end in the position, which a finding shows by itself.
            let words = other.to_string();
            let message = words.split(" at ").next().unwrap_or(&words).to_owned();
            well_formed(message, "mend the markup here")
        }
    }
}

/// Whether the text declares this entity to lie elsewhere.
fn is_external(content: &str, name: &str) -> bool {
    content.match_indices("<!ENTITY").any(|(at, _)| {
        let mut words = content[at + "<!ENTITY".len()..].split_ascii_whitespace();
        words.next() == Some(name) && matches!(words.next(), Some("SYSTEM" | "PUBLIC"))
    })
}

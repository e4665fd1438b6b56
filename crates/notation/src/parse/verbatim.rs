//! Reads XML that stands in the notation as it is.

use charter_source::xml::{Bounds, Document, Escape, MarkupKind, escaped, markup};
use charter_source::{Interner, Node, Span};

use super::cursor::{Cursor, Parsed};
use crate::info::ElementInfo;
use crate::vocabulary::USUAL;
use crate::xml_reader::{Settings, XmlReader};

/// Whether XML comes next: the word `xml` before an element.
pub(crate) fn is_next(cursor: &mut Cursor<'_>) -> bool {
    cursor.word() == Some("xml") && cursor.after_word() == Some('<')
}

/// The element that comes next. `qualified` says what holds for local elements and attributes around it.
pub(crate) fn xml(cursor: &mut Cursor<'_>, qualified: (bool, bool)) -> Parsed<ElementInfo> {
    cursor.keyword("xml");
    cursor.blanks();
    let start = cursor.at;
    let Some(length) = element_length(cursor.rest()) else {
        let line = cursor.rest().find('\n').unwrap_or(cursor.rest().len());
        let span = Span::new(start, start + line);
        let help = "close every element that is opened".to_owned();
        cursor.at += line;
        return Err(cursor.fail(span, "this XML has no end".to_owned(), Some(help)));
    };
    let source = &cursor.text[start..start + length];
    cursor.at += length;
    let mut wrapper = "<w".to_owned();
    let declared: Vec<(String, String)> =
        cursor.prefixes.all().map(|(prefix, namespace)| (prefix.to_owned(), namespace.to_owned())).collect();
    let usual = USUAL.iter().map(|(prefix, namespace)| ((*prefix).to_owned(), (*namespace).to_owned()));
    let usual = usual.filter(|(prefix, _)| !declared.iter().any(|(known, _)| known == prefix));
    for (prefix, namespace) in declared.iter().cloned().chain(usual) {
        wrapper.push_str(&format!(" xmlns:{prefix}=\"{}\"", escaped(&namespace, Escape::Value('"'))));
    }
    let text = format!("{wrapper}>{source}</w>");
    let document = match Document::parse(&text, Bounds::default()) {
        Ok(document) => document,
        Err(error) => {
            let at = error.at.saturating_sub(wrapper.len() + 1).min(length);
            let span = Span::new(start + at, start + at);
            return Err(cursor.fail(span, format!("this XML is not well-formed: {}", error.problem), None));
        }
    };
    let settings = Settings {
        elements: (qualified.0, qualified.0),
        attributes: (qualified.1, qualified.1),
        ..Settings::default()
    };
    let mut names = Interner::default();
    let mut reading = XmlReader { names: &mut names, file: None, settings };
    match document.root_element().children().find(Node::is_element) {
        Some(node) => Ok(reading.info(node)),
        None => Err(cursor.expected("an element")),
    }
}

/// How far the element goes that begins here.
fn element_length(text: &str) -> Option<usize> {
    let mut depth = 0usize;
    for piece in markup(text) {
        match piece.kind {
            _ if !piece.ends => return None,
            MarkupKind::Start => depth += 1,
            MarkupKind::End => depth = depth.checked_sub(1)?,
            MarkupKind::Empty | MarkupKind::Other => {}
        }
        if depth == 0 && piece.kind != MarkupKind::Other {
            return Some(piece.range.end);
        }
    }
    None
}

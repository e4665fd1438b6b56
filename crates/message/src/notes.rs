//! Notes behind the values of a message, written as comments.

use charter_schema::TypeId;
use charter_source::QName;

use crate::{Element, Message, Node, Payload};

/// The name of the elements that stand for notes until the text is written; no contract can have it.
const NOTE: &str = "urn:note";

/// Says what may stand in an element, given the type of the one that holds it.
pub type Noting<'n> = &'n dyn Fn(Option<TypeId>, &Element) -> Option<String>;

impl Message {
    /// The message with a note behind each element for which there is one.
    pub fn with_notes(mut self, note: Noting<'_>) -> Message {
        match &mut self.payload {
            Payload::Xml(element) => *element = annotated(element, note),
            Payload::Parts { pieces, .. } => {
                for piece in pieces {
                    if let Payload::Xml(element) = &mut piece.payload {
                        *element = annotated(element, note);
                    }
                }
            }
            Payload::Empty | Payload::Plain(_) => {}
        }
        self
    }
}

fn annotated(element: &Element, note: Noting<'_>) -> Element {
    let mut result = Element { children: Vec::new(), ..element.clone() };
    let mixed = element.elements().next().is_some()
        && element.children.iter().any(|child| matches!(child, Node::Text(_)));
    if mixed {
        // Between pieces of text, a comment would be hard to tell from what is around it.
        return element.clone();
    }
    for child in &element.children {
        match child {
            Node::Text(_) => result.children.push(child.clone()),
            Node::Element(child) => {
                result.children.push(Node::Element(annotated(child, note)));
                if let Some(words) = note(element.ty, child) {
                    let name = QName::new(&child.name.namespace, NOTE);
                    result.children.push(Node::Element(Element::new(name).text(words)));
                }
            }
        }
    }
    result
}

/// The text with every note as a comment behind the line before it. A note on an element that holds others stands behind
/// its start tag.
pub(crate) fn as_comments(text: String) -> String {
    if !text.contains(NOTE) {
        return text;
    }
    let mut lines: Vec<String> = Vec::new();
    for line in text.split_inclusive('\n') {
        let trimmed = line.trim();
        let is_note = trimmed.starts_with('<') && trimmed.contains(NOTE) && trimmed.ends_with('>');
        let words =
            is_note.then(|| trimmed.split_once('>')?.1.rsplit_once("</").map(|(words, _)| words)).flatten();
        let Some(words) = words else {
            lines.push(line.to_owned());
            continue;
        };
        let words =
            words.replace("--", "- -").replace("&lt;", "<").replace("&gt;", ">").replace("&amp;", "&");
        let comment = format!("  <!-- {words} -->\n");
        let target = match lines.last() {
            // The note stands behind an end tag: find the start of the element.
            Some(last) if last.trim_start().starts_with("</") => {
                let indent = last.len() - last.trim_start().len();
                lines.iter().rposition(|it| {
                    it.len() - it.trim_start().len() == indent && !it.trim_start().starts_with("</")
                })
            }
            Some(_) => Some(lines.len() - 1),
            None => None,
        };
        if let Some(at) = target {
            let end = lines[at].trim_end().len();
            lines[at].truncate(end);
            lines[at].push_str(&comment);
        }
    }
    lines.concat()
}

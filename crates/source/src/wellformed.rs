//! Says in plain words why a text is not well-formed XML.

use crate::xml::{Problem, XmlError};
use crate::{Fault, FileId, Place, Span, Text};

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

/// A parser's error as a fault with a place.
pub(crate) fn explain(error: &XmlError, text: &Text, file: FileId) -> Fault {
    let end = text.content().trim_end().len();
    let offset = match error.problem {
        // The last line that holds anything, not the empty one behind it.
        Problem::Ends | Problem::NoRoot => end,
        _ => error.at.min(text.content().len()),
    };
    let span = Span::new(offset, offset + width(&text.content()[offset..]));
    let (rule, help) = advice(&error.problem);
    let fault = Fault::new(rule, Place { file, span }, error.problem.to_string());
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

/// Whether a text begins as a page for a browser does.
pub fn looks_like_html(content: &str) -> bool {
    let head: String = content.trim_start().chars().take(15).collect();
    let head = head.to_ascii_lowercase();
    head.starts_with("<!doctype html") || head.starts_with("<html")
}

/// The rule that a problem breaks, and what to do about it.
fn advice(problem: &Problem) -> (&'static str, String) {
    let (rule, help) = match problem {
        Problem::UnknownPrefix(prefix) => {
            return ("xml-prefix", format!("add xmlns:{prefix}=\"…\" to this element or to one around it"));
        }
        Problem::ReservedNamespace(_) => ("xml-prefix", "take another prefix, or leave the declaration out"),
        Problem::PrefixTwice(_) => (WELL_FORMED, "remove one of the two declarations"),
        Problem::AttributeTwice(_) => (WELL_FORMED, "remove one of the two"),
        Problem::ExternalEntity(_) => {
            ("xml-entity", "external entities are never read: write its content into the file")
        }
        Problem::UnknownEntity(_) => ("xml-entity", "write &amp; for an ampersand, or declare the entity"),
        Problem::EntityLoop(_) | Problem::EntityBudget(_) => {
            ("xml-entity", "the file was not expanded; write the text out instead")
        }
        Problem::BrokenEntity(_) => ("xml-entity", "let it open and close the same elements"),
        Problem::Doctype => ("xml-entity", "write the text out, and leave the declaration away"),
        Problem::LoneAmpersand => (WELL_FORMED, "write &amp; for an ampersand"),
        Problem::NoCharacter(_) | Problem::BadCharacter(_) => {
            (WELL_FORMED, "leave it out: XML has no way to write it")
        }
        Problem::WrongEndTag { .. } => {
            (WELL_FORMED, "close the elements in the reverse order of their opening")
        }
        Problem::LoneEndTag(_) => (WELL_FORMED, "remove it, or open the element"),
        Problem::NoRoot => (WELL_FORMED, "write a root element"),
        Problem::Ends => (WELL_FORMED, "it may have been cut off: get it again, or close what is open"),
        Problem::NoXml => (WELL_FORMED, "give a file of XML"),
        Problem::OutsideRoot => (WELL_FORMED, "move it into the root element, or remove it"),
        Problem::Hyphens => (WELL_FORMED, "write the comment without two hyphens in a row"),
        Problem::CdataEnd => (WELL_FORMED, "write ]]&gt;"),
        Problem::LessThan => (WELL_FORMED, "write &lt;, or close the value before it"),
        Problem::LateDeclaration => (WELL_FORMED, "move it to the first character of the file, or remove it"),
        Problem::TooDeep(_) => ("xml-depth", "no contract needs this; the file was not read further"),
        Problem::LongName | Problem::TooLarge => ("xml-depth", "no contract needs this; split the file"),
        _ => (WELL_FORMED, "mend the markup here"),
    };
    (rule, help.to_owned())
}

//! Derives types from examples: messages, rows of a table, the columns of a table definition.
//!
//! What comes out accepts all that went in, and says as much as the examples bear out: how often, which type,
//! which values where few repeat.

mod condition;
mod messages;
mod sql;
mod table;
mod values;

use charter_notation::{Child, Convention, ElementInfo, Prefixes, components_of, text_of};
use charter_source::Span;

use crate::distinct::Distinct;

pub use messages::from_messages;
pub use sql::from_table_definitions;
pub use table::from_rows;

/// Types that were derived.
#[derive(Debug, Clone)]
pub struct Derived {
    /// A `types` element that holds them, in one schema for each namespace.
    pub info: ElementInfo,
    /// The prefixes of the namespaces.
    pub prefixes: Prefixes,
    /// What the author should know, in one line each.
    pub notes: Vec<String>,
}

impl Derived {
    /// The types in the notation. Those in no namespace are without a block around them, ready to be added to a contract.
    pub fn notation(&self) -> String {
        let schemas: Vec<&ElementInfo> = self.info.elements().collect();
        match schemas.as_slice() {
            [only] if only.text("targetNamespace").is_none() => components_of(only, &self.prefixes),
            _ => text_of(&self.info, &self.prefixes, &Convention::default()),
        }
    }
}

/// Why nothing could be derived.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{message}")]
pub struct DeriveError {
    /// What is wrong.
    pub message: String,
    /// Where in the text.
    pub span: Option<Span>,
    /// What to do about it.
    pub help: Option<String>,
}

impl DeriveError {
    fn new(message: impl Into<String>) -> DeriveError {
        DeriveError { message: message.into(), span: None, help: None }
    }

    fn help(mut self, help: impl Into<String>) -> DeriveError {
        self.help = Some(help.into());
        self
    }

    fn at(mut self, start: usize, end: usize) -> DeriveError {
        self.span = Some(Span::new(start, end));
        self
    }
}

/// The schema of one namespace with these components.
fn schema(namespace: &str, qualified: bool, components: Vec<ElementInfo>) -> ElementInfo {
    let mut info = ElementInfo::xsd("schema");
    if !namespace.is_empty() {
        info = info.with("targetNamespace", namespace);
    }
    if qualified {
        info = info.with("elementFormDefault", "qualified");
    }
    info.children = components.into_iter().map(Child::Element).collect();
    info
}

/// A complex type of fields in sequence.
fn record(name: &str, fields: Vec<ElementInfo>) -> ElementInfo {
    let mut sequence = ElementInfo::xsd("sequence");
    sequence.children = fields.into_iter().map(Child::Element).collect();
    ElementInfo::xsd("complexType").with("name", name).holding(sequence)
}

/// A name in the way of types: each word with a capital.
fn type_name(text: &str) -> String {
    let name: String = words(text).iter().map(|word| capital(word)).collect();
    named(&name, "Record")
}

/// A name in the way of fields: the first word small, each other with a capital.
fn field_name(text: &str) -> String {
    let mut words = words(text).into_iter();
    let first = words.next().unwrap_or_default();
    // A word of capitals alone is small as a whole.
    let first = if first.chars().any(char::is_lowercase) {
        let mut characters = first.chars();
        let initial = characters.next().map(|c| c.to_lowercase().to_string()).unwrap_or_default();
        format!("{initial}{}", characters.as_str())
    } else {
        first.to_lowercase()
    };
    let rest: String = words.map(|word| capital(&word)).collect();
    named(&format!("{first}{rest}"), "field")
}

fn words(text: &str) -> Vec<String> {
    let pieces = text.split(|c: char| !c.is_alphanumeric());
    pieces.filter(|piece| !piece.is_empty()).map(str::to_owned).collect()
}

fn capital(word: &str) -> String {
    let all_capitals = word.len() > 1 && !word.chars().any(char::is_lowercase);
    let mut characters = word.chars();
    let first = characters.next().map(|c| c.to_uppercase().to_string()).unwrap_or_default();
    let rest = characters.as_str();
    if all_capitals { format!("{first}{}", rest.to_lowercase()) } else { format!("{first}{rest}") }
}

/// A name that can stand in XML.
fn named(name: &str, otherwise: &str) -> String {
    if charter_source::is_ncname(name) {
        return name.to_owned();
    }
    let marked = format!("_{name}");
    if !name.is_empty() && charter_source::is_ncname(&marked) { marked } else { otherwise.to_owned() }
}

/// The names of the columns of a table, as fields.
fn field_names<'n>(columns: impl Iterator<Item = &'n str>) -> Vec<String> {
    let mut distinct = Distinct::default();
    columns.map(|column| distinct.name(field_name(column))).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_are_made_of_words() {
        for (text, ty, field) in [
            ("call_sign", "CallSign", "callSign"),
            ("CALL SIGN", "CallSign", "callSign"),
            ("draughtInMetres", "DraughtInMetres", "draughtInMetres"),
            ("ETA", "Eta", "eta"),
            ("1st", "_1st", "_1st"),
            ("", "Record", "field"),
            ("Länge (m)", "LängeM", "längeM"),
        ] {
            assert_eq!((type_name(text), field_name(text)), (ty.to_owned(), field.to_owned()), "{text}");
        }
        assert_eq!(field_names(["a", "b", "a", "a"].into_iter()), ["a", "b", "a2", "a3"]);
        assert_eq!(field_names(["a", "a3", "a", "a", "a"].into_iter()), ["a", "a3", "a2", "a4", "a5"]);
    }
}

//! A fault: something wrong at a place, found while reading.

use crate::Place;

/// Something that the reading crates found wrong. The catalogue of rules in `charter-check` knows the level,
/// the standard and the explanation that belong to `rule`.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Fault {
    /// The name of the rule in the catalogue.
    pub rule: &'static str,
    /// Where it stands.
    pub place: Place,
    /// What is wrong, in one line.
    pub message: String,
    /// What to do about it, in one line.
    pub help: Option<String>,
}

impl Fault {
    /// A fault without advice.
    pub fn new(rule: &'static str, place: Place, message: impl Into<String>) -> Self {
        Fault { rule, place, message: message.into(), help: None }
    }

    /// The same fault, with advice.
    pub fn help(mut self, help: impl Into<String>) -> Self {
        self.help = Some(help.into());
        self
    }
}

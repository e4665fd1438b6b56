//! What is wrong with a document, kept within bounds.

use charter_source::{Fault, Place};

/// Something wrong with a document.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Wrong {
    /// The clause, the place and the words.
    pub fault: Fault,
    /// The path in the document: `arrival/cargo[2]/@class`.
    pub path: String,
}

/// What is wrong with a document: the first things found, and how many there are in all.
#[derive(Debug, Clone, Default)]
pub struct Report {
    /// The first of them, in the order in which they were found.
    pub wrong: Vec<Wrong>,
    /// How many there are, those included that were not kept.
    pub count: usize,
    most: usize,
}

impl Report {
    pub(super) fn new(most: usize) -> Report {
        Report { wrong: Vec::new(), count: 0, most }
    }

    /// Whether nothing is wrong.
    pub fn is_valid(&self) -> bool {
        self.count == 0
    }

    /// Whether another one will be kept; if not, its words need not be found.
    pub(super) fn admits(&self) -> bool {
        self.wrong.len() < self.most
    }

    pub(super) fn keep(
        &mut self,
        rule: &'static str,
        place: Place,
        path: String,
        message: String,
        help: String,
    ) {
        self.count += 1;
        let fault = Fault { rule, place, message, help: Some(help).filter(|help| !help.is_empty()) };
        self.wrong.push(Wrong { fault, path });
    }
}

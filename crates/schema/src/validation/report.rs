//! What is wrong with a document, kept within bounds.

use charter_source::{Fault, Node};

use super::Paths;
use crate::Violation;

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
    /// How many of them are no faults, but were not judged, because that would take too long.
    pub open: usize,
}

impl Report {
    /// Whether nothing is wrong.
    pub fn is_valid(&self) -> bool {
        self.count == 0
    }

    /// Whether something is wrong for certain.
    pub fn is_refused(&self) -> bool {
        self.count > self.open
    }
}

/// What is found while a document is judged. Paths are made at the end, for those that are kept.
#[derive(Debug)]
pub(super) struct Findings<'d> {
    found: Vec<Found<'d>>,
    pub count: usize,
    pub open: usize,
    pub most: usize,
}

#[derive(Debug)]
struct Found<'d> {
    fault: Fault,
    node: Node<'d>,
    attribute: Option<String>,
}

impl<'d> Findings<'d> {
    /// Nothing yet, and `most` to be kept.
    pub fn new(most: usize) -> Self {
        Findings { found: Vec::new(), count: 0, open: 0, most }
    }

    /// Whether another one will be kept; if not, its words need not be found.
    pub fn admits(&self) -> bool {
        self.found.len() < self.most
    }

    pub fn keep(&mut self, fault: Fault, node: Node<'d>, attribute: Option<&str>) {
        self.count += 1;
        self.open += usize::from(fault.rule == Violation::OPEN);
        self.found.push(Found { fault, node, attribute: attribute.map(str::to_owned) });
    }

    /// Adds what was found in a part that comes after.
    pub fn append(&mut self, mut others: Findings<'d>) {
        self.count += others.count;
        self.open += others.open;
        others.found.truncate(self.most - self.found.len());
        self.found.append(&mut others.found);
    }

    pub fn report(self) -> Report {
        let mut paths = Paths::default();
        let wrong = self.found.into_iter().map(|found| {
            let mut path = paths.of(found.node);
            if let Some(name) = found.attribute {
                path.push_str("/@");
                path.push_str(&name);
            }
            Wrong { fault: found.fault, path }
        });
        Report { wrong: wrong.collect(), count: self.count, open: self.open }
    }
}

//! What is expected of an exchange, and what is not as expected.

use std::time::Duration;

use charter_contract::{Contract, Side};
use serde_json::Value as Json;

use super::{Condition, Expected};
use crate::terms::{Given, NotFilled, at};
use crate::{About, Finding, Outcome, SendError};

/// What is to come.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// The reply of the operation, or nothing where it has none.
    Reply,
    /// The fault of that number.
    Fault(usize),
    /// A fault of SOAP itself, or a status that refuses.
    Refused,
}

impl Kind {
    /// The side of what comes; none for a fault of SOAP itself.
    pub(crate) fn side(self) -> Option<Side> {
        match self {
            Kind::Reply => Some(Side::Output),
            Kind::Fault(number) => Some(Side::Fault(number)),
            Kind::Refused => None,
        }
    }

    /// The name of the fault, if it is one of an operation.
    pub fn name(self, contract: &Contract, operation: charter_contract::OperationId) -> Option<String> {
        let Kind::Fault(number) = self else { return None };
        let fault = contract.operation(operation).faults.get(number)?;
        Some(fault.name.as_ref().map_or_else(String::new, |name| name.text.to_string()))
    }
}

/// Something that is not as expected.
#[derive(Debug, Clone)]
pub enum Unlike {
    /// There is no request.
    NotAsked(NotAsked),
    /// Nothing came back.
    Unsent(SendError),
    /// Another kind of thing came.
    Kind {
        /// What was expected.
        expected: Kind,
        /// What came.
        came: Outcome,
        /// The fault of the contract that came, if it was one.
        fault: Option<usize>,
        /// What the fault says.
        words: Option<String>,
    },
    /// A value.
    Value {
        /// Its wire path.
        path: String,
        /// What was to hold for it.
        expected: Condition,
        /// What it is.
        found: Option<Json>,
    },
    /// What came is not what the contract says.
    Invalid(Finding),
    /// It took too long.
    Late {
        /// How long it might have taken.
        within: Duration,
        /// How long it took.
        took: Duration,
    },
    /// A request that breaks the contract was taken.
    Swallowed {
        /// The rule that it breaks.
        rule: &'static str,
        /// Where: the wire path.
        path: String,
        /// What is wrong with it.
        words: String,
    },
    /// Two providers reply different values.
    Beside {
        /// The wire path.
        path: String,
        /// What the first has.
        here: Option<Json>,
        /// What the second has.
        there: Option<Json>,
    },
    /// Two providers reply different kinds of thing.
    OtherKind {
        /// What the first does.
        here: Outcome,
        /// What the second does.
        there: Outcome,
        /// What a fault says, if one of them is one.
        words: Option<String>,
    },
}

/// Why there is no request.
#[derive(Debug, Clone)]
pub enum NotAsked {
    /// A row of values is none.
    Row(String),
    /// The values make none.
    NotMade(String),
    /// It needs a value that no exchange before it has kept.
    NotKept(String),
}

/// What came.
pub(super) struct Came<'c> {
    pub about: &'c About,
    /// The fault of the contract, if it is one.
    pub fault: Option<usize>,
    /// What a fault says.
    pub words: Option<String>,
    /// Its values.
    pub values: Option<&'c Json>,
    pub took: Duration,
}

impl Expected {
    /// What is not as expected. `given` is what texts are filled from, `cells` what a row expects.
    pub(super) fn unlike(&self, came: &Came<'_>, given: &Given<'_>, cells: &[(&str, &str)]) -> Vec<Unlike> {
        let mut found = Vec::new();
        if !self.kind.is(came) {
            let (fault, words) = (came.fault, came.words.clone());
            found.push(Unlike::Kind { expected: self.kind, came: came.about.outcome, fault, words });
        } else {
            self.values(came, given, cells, &mut found);
        }
        if self.valid {
            let errors = came.about.reply.iter();
            let errors =
                errors.filter(|finding| finding.severity == charter_message::matching::Severity::Error);
            found.extend(errors.cloned().map(Unlike::Invalid));
        }
        if let Some(within) = self.within.filter(|within| came.took > *within) {
            found.push(Unlike::Late { within, took: came.took });
        }
        found
    }

    fn values(&self, came: &Came<'_>, given: &Given<'_>, cells: &[(&str, &str)], found: &mut Vec<Unlike>) {
        let value = |path: &str| came.values.and_then(|values| at(values, path));
        for (path, condition) in &self.values {
            match condition.filled(given) {
                Ok(condition) if condition.holds(value(path)) => {}
                Ok(expected) => {
                    found.push(Unlike::Value { path: path.clone(), expected, found: value(path).cloned() });
                }
                Err(error) => found.push(Unlike::NotAsked(not_filled(error))),
            }
        }
        for (path, text) in cells.iter().filter(|(_, text)| !text.is_empty()) {
            let expected = Condition::Is((*text).to_owned());
            if !expected.holds(value(path)) {
                let path = (*path).to_owned();
                found.push(Unlike::Value { found: value(&path).cloned(), path, expected });
            }
        }
    }

    /// Whether it says the same each time.
    pub fn is_fixed(&self) -> bool {
        self.values.iter().all(|(_, condition)| condition.fillings().iter().all(|filling| filling.is_fixed()))
    }
}

impl Kind {
    fn is(self, came: &Came<'_>) -> bool {
        match (self, came.about.outcome) {
            (Kind::Reply, Outcome::Replied | Outcome::Taken) => true,
            (Kind::Fault(wanted), Outcome::Fault) => came.fault == Some(wanted),
            (Kind::Refused, Outcome::Fault | Outcome::Refused) => came.fault.is_none(),
            _ => false,
        }
    }
}

/// A name that leads nowhere was not kept: names and paths were held against the contract already.
pub(super) fn not_filled(error: NotFilled) -> NotAsked {
    match error {
        NotFilled::Missing(name) if !name.contains('/') => NotAsked::NotKept(name),
        error => NotAsked::NotMade(error.to_string()),
    }
}

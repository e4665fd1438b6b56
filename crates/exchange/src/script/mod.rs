//! Scripts: what a stand-in replies instead of what is typical. `docs/exchanges.md` explains the format, `answers.toml`.
//!
//! `read.rs` reads one and holds it against the contract, so that what makes no sense is said before anybody asks.

mod access;
mod read;
mod tables;

use std::path::PathBuf;
use std::sync::atomic::{AtomicU64, Ordering};
use std::time::Duration;

use charter_contract::OperationId;
use serde_json::Value as Json;

use crate::terms::{Condition, Filling, at};
pub(crate) use access::{Access, Entry, Proof};
pub(crate) use read::EACH;
pub(crate) use tables::{From, Then, Uses};

/// What a stand-in replies instead of what is typical.
#[derive(Debug, Default)]
pub struct Script {
    rules: Vec<Rule>,
    /// Who may ask for what.
    pub(crate) access: Access,
    /// The files that it was made of, beside its own.
    pub(crate) files: Vec<PathBuf>,
}

/// A reply, and the requests that it is meant for.
#[derive(Debug)]
pub(crate) struct Rule {
    /// Where it stands in the script, from 1.
    pub number: usize,
    operation: OperationId,
    /// The port, if it is meant for one alone.
    port: Option<String>,
    /// What must hold for the values of a request, by their wire paths.
    conditions: Vec<(String, Condition)>,
    /// For how many requests it is meant.
    times: Option<u64>,
    /// How many it has answered.
    answered: AtomicU64,
    /// How long it takes: from, to.
    pub after: (Duration, Duration),
    pub reply: Reply,
    /// What it does with rows.
    pub uses: Option<Uses>,
}

/// What is replied.
#[derive(Debug)]
pub(crate) enum Reply {
    /// The output of the operation, or the fault of that number, with values by wire path over those of a sample.
    Values {
        /// The number of a fault.
        fault: Option<usize>,
        /// What is set.
        values: Vec<(String, Filling)>,
        /// Whether values are taken that the contract does not allow.
        anyway: bool,
    },
    /// A fault of SOAP itself, in these words: the provider refuses.
    Refused(Filling),
    /// A fault of SOAP itself: the operation is declared, and nobody has built it.
    NotImplemented,
    /// No reply.
    Lost(Lost),
}

/// How a reply gets lost.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Lost {
    /// The connection ends without one.
    Whole,
    /// The connection ends in the middle of it.
    Half,
}

impl Script {
    /// The replies that are meant for a request with these values, as far as its values say.
    pub(crate) fn replies<'s>(
        &'s self,
        operation: OperationId,
        port: &'s str,
        values: &'s Json,
    ) -> impl Iterator<Item = &'s Rule> {
        self.rules.iter().filter(move |rule| {
            let of_port = rule.port.as_deref().is_none_or(|wanted| wanted == port);
            let holds = |(path, condition): &(String, Condition)| condition.holds(at(values, path));
            rule.operation == operation && of_port && rule.conditions.iter().all(holds)
        })
    }

    /// Whether its replies keep rows.
    pub(crate) fn keeps_rows(&self) -> bool {
        self.rules.iter().any(|rule| match &rule.uses {
            Some(Uses::Add { .. }) => true,
            Some(Uses::One { table, .. } | Uses::All { table, .. }) => matches!(table, From::Kept(_)),
            None => false,
        })
    }

    /// Whether it says anything of an operation.
    pub(crate) fn is_about(&self, operation: OperationId) -> bool {
        self.rules.iter().any(|rule| rule.operation == operation)
    }
}

impl Rule {
    /// Takes one of the requests that it is meant for: the so-many-th; none if it has answered enough of them.
    pub fn take(&self) -> Option<u64> {
        let before = self.answered.fetch_add(1, Ordering::Relaxed);
        self.times.is_none_or(|times| before < times).then_some(before + 1)
    }

    /// How long this reply takes.
    pub fn delay(&self) -> Duration {
        let (from, to) = self.after;
        let more = to.saturating_sub(from).as_micros() as u64;
        from + Duration::from_micros(if more == 0 { 0 } else { fastrand::u64(0..=more) })
    }
}

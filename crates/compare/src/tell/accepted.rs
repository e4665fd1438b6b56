//! Changes that somebody has accepted for a reason: they are still what they are, and stop nobody at a gate.

use sha2::{Digest, Sha256};

use crate::report::{Change, Report, Verdict};
use crate::versions::Version;

/// An acceptance, as it was written down.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Accepted {
    /// The component that changed.
    pub path: String,
    /// The name of the kind of change.
    pub kind: String,
    /// What was accepted: the mark of the change as it was then.
    pub mark: Mark,
    /// Why.
    pub reason: String,
    /// The last day on which it holds, as `2027-03-31`; nothing if it holds for good.
    pub until: Option<String>,
}

/// Why an acceptance holds no longer.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Over {
    /// What it accepts has changed again.
    Changed,
    /// Its time is over.
    Ended,
}

/// A short text that stands for what exactly changed: another change of the same component has another.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Mark {
    /// Made of the facts ([`Change::mark`]).
    Facts(String),
    /// Made of the words in which the change was told, as files of the first version have it ([`Change::mark_of_words`]).
    Words(String),
}

impl Change {
    /// A short text that stands for what exactly changed, whatever the words for it are.
    ///
    /// It is made of kind, path, facts, and what stood and stands there: the first 64 bits of their SHA-256, in hexadecimal
    /// digits.
    pub fn mark(&self) -> String {
        let mut hash = Sha256::new();
        let facts = self.what.facts();
        let lines = [self.old.as_deref().unwrap_or(""), self.new.as_deref().unwrap_or("")];
        let pieces = [self.kind.name(), self.path.as_str(), self.what.id()].into_iter();
        for piece in pieces.chain(facts.iter().map(String::as_str)).chain(lines) {
            // Each behind its length, so that no two changes have one text.
            hash.update((piece.len() as u64).to_be_bytes());
            hash.update(piece);
        }
        hash.finalize().iter().take(8).map(|byte| format!("{byte:02x}")).collect()
    }

    /// What stood for a change in the first version of the files: the FNV-1a hash, 64 bits, of kind, path, words, and what
    /// stood and stands there.
    pub fn mark_of_words(&self) -> String {
        use std::hash::Hasher;
        let words = self.what.to_string();
        let old_name = self.kind.first_name();
        let lines = [self.old.as_deref().unwrap_or(""), self.new.as_deref().unwrap_or("")];
        let mut hash = fnv::FnvHasher::default();
        for piece in [old_name, self.path.as_str(), &words].into_iter().chain(lines) {
            hash.write(piece.as_bytes());
            hash.write_u8(0);
        }
        format!("{:016x}", hash.finish())
    }

    fn has(&self, mark: &Mark) -> bool {
        match mark {
            Mark::Facts(mark) => self.mark() == *mark,
            Mark::Words(mark) => self.mark_of_words() == *mark,
        }
    }
}

impl Accepted {
    /// Whether it is about a change of that component and kind, whatever exactly changed.
    pub fn is_about(&self, change: &Change) -> bool {
        let kind = match &self.mark {
            Mark::Facts(_) => change.kind.name(),
            Mark::Words(_) => change.kind.first_name(),
        };
        change.path.as_str() == self.path && kind == self.kind
    }
}

impl Report {
    /// Leaves out where things stand in a version whose text nobody wrote.
    pub fn forget_places(&mut self, version: Version) {
        for change in &mut self.changes {
            match version {
                Version::Old => change.old_place = None,
                Version::New => change.new_place = None,
            }
        }
    }

    /// Notes which changes are accepted on a day, written as `2027-03-31`; the verdict stays what it is. What comes back are the
    /// acceptances that hold no longer, since what they accept has changed again or their time is over.
    pub fn accept<'a>(&mut self, accepted: &'a [Accepted], today: &str) -> Vec<(&'a Accepted, Over)> {
        let mut outdated = Vec::new();
        for one in accepted {
            let about = |change: &&mut Change| one.is_about(change);
            let mut all: Vec<&mut Change> = self.changes.iter_mut().filter(about).collect();
            let any = !all.is_empty();
            // Days are written so that their order is that of their texts.
            let is_over = one.until.as_deref().is_some_and(|until| until < today);
            match all.iter_mut().find(|change| change.has(&one.mark)) {
                Some(_) if is_over => outdated.push((one, Over::Ended)),
                Some(change) => change.accepted = Some(one.reason.clone()),
                None if any => outdated.push((one, Over::Changed)),
                None => {}
            }
        }
        outdated
    }

    /// How many changes that do harm are accepted.
    pub fn accepted(&self) -> usize {
        self.changes.iter().filter(|it| it.accepted.is_some() && it.verdict != Verdict::Keeps).count()
    }

    /// The worst verdict of what nobody has accepted.
    pub fn unaccepted(&self) -> Verdict {
        let counting = self.changes.iter().filter(|change| change.accepted.is_none());
        counting.map(|change| change.verdict).max().unwrap_or(Verdict::Keeps)
    }
}

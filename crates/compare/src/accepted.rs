//! Changes that somebody has accepted for a reason: they are still shown, and no longer count.

use crate::report::{Change, Report, Verdict, Version};

/// An acceptance, as it was written down.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Accepted {
    /// The component that changed.
    pub path: String,
    /// The kind of change.
    pub rule: String,
    /// What was accepted: [`Change::mark`] of the change as it was then.
    pub change: String,
    /// Why.
    pub reason: String,
}

impl Change {
    /// A short text that stands for what exactly changed: another change of the same component has another.
    ///
    /// It is the FNV-1a hash, 64 bits, of kind, path, and what stood and stands there, in hexadecimal digits.
    pub fn mark(&self) -> String {
        let pieces = [
            self.rule,
            &self.path,
            &self.message,
            self.old.as_deref().unwrap_or(""),
            self.new.as_deref().unwrap_or(""),
        ];
        let mut hash: u64 = 0xcbf2_9ce4_8422_2325;
        for piece in pieces {
            for byte in piece.bytes().chain([0]) {
                hash = (hash ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3);
            }
        }
        format!("{hash:016x}")
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

    /// Takes accepted changes out of the verdict. What comes back are the acceptances that hold no longer, since what they
    /// accept has changed again.
    pub fn accept<'a>(&mut self, accepted: &'a [Accepted]) -> Vec<&'a Accepted> {
        let mut outdated = Vec::new();
        for one in accepted {
            let same = |change: &&mut Change| change.path == one.path && change.rule == one.rule;
            let mut all: Vec<&mut Change> = self.changes.iter_mut().filter(same).collect();
            let any = !all.is_empty();
            match all.iter_mut().find(|change| change.mark() == one.change) {
                Some(change) => change.accepted = Some(one.reason.clone()),
                None if any => outdated.push(one),
                None => {}
            }
        }
        let counting = self.changes.iter().filter(|change| change.accepted.is_none());
        self.verdict = counting.map(|change| change.verdict).max().unwrap_or(Verdict::Keeps);
        outdated
    }
}

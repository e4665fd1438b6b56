//! Keeps a selection of pairs of schemas with what was found out about them, for the tests: for each kind of change the
//! smallest, of those where something is refused and of those where nothing is.

use std::collections::{BTreeMap, HashSet};
use std::fmt::Write;
use std::path::Path;

/// Bytes of both schemas of a pair that is still kept.
const MOST: usize = 3_000;
/// Bytes of a message that is kept.
const LONG: usize = 700;

/// What the comparison says of one direction.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Said {
    /// All instances are included.
    Within,
    /// Some are not, and one was shown.
    Beyond,
    /// That was not decided.
    Open,
}

impl Said {
    fn word(self) -> &'static str {
        match self {
            Said::Within => "within",
            Said::Beyond => "beyond",
            Said::Open => "open",
        }
    }
}

/// A pair with one change of a kind.
pub struct Candidate {
    pub number: usize,
    pub kind: &'static str,
    /// The schemas, and whether all of each is within the other.
    pub schemas: [String; 2],
    pub said: [Said; 2],
    /// Messages of the old and of the new version, each with whether the other accepts it.
    pub messages: [Vec<(bool, String)>; 2],
}

#[derive(Default)]
pub struct Selection {
    /// Those about which the other validator was not asked yet.
    waiting: Vec<Candidate>,
    kept: BTreeMap<(&'static str, bool), Candidate>,
}

impl Selection {
    pub fn offer(&mut self, candidate: Candidate) {
        if size(&candidate) <= MOST && !candidate.said.contains(&Said::Open) {
            self.waiting.push(candidate);
        }
    }

    /// The other validator was asked; about some pairs it said something else.
    pub fn settle(&mut self, differing: &HashSet<usize>) {
        for candidate in std::mem::take(&mut self.waiting) {
            let key = (candidate.kind, candidate.said.contains(&Said::Beyond));
            let smaller = self.kept.get(&key).is_none_or(|known| size(&candidate) < size(known));
            if smaller && !differing.contains(&candidate.number) {
                self.kept.insert(key, candidate);
            }
        }
    }

    /// Writes what was kept, each piece under a heading.
    pub fn write(&self, file: &Path) -> std::io::Result<()> {
        let mut text = String::new();
        for ((kind, _), candidate) in &self.kept {
            let [old, new] = &candidate.schemas;
            let [there, back] = candidate.said.map(Said::word);
            let kind = kind.replace(' ', "-");
            let _ = write!(
                text,
                "%% old {kind}\n{}\n%% new {there} {back}\n{}\n",
                old.trim_end(),
                new.trim_end()
            );
            for (version, messages) in ["old", "new"].iter().zip(&candidate.messages) {
                for (both, message) in messages.iter().filter(|(_, text)| text.len() < LONG) {
                    let by = if *both { "both" } else { version };
                    let _ = write!(text, "%% message {by}\n{}\n", message.trim_end());
                }
            }
        }
        std::fs::write(file, text)
    }
}

fn size(candidate: &Candidate) -> usize {
    candidate.schemas.iter().map(String::len).sum()
}

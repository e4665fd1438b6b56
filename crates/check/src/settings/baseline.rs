//! Findings that are known already, so that a team can start on an old contract: what is in the file is not said again,
//! what is new is.

use charter_source::Map;
use serde::{Deserialize, Serialize};

use crate::Finding;

/// Findings that are known already, and how often each of them.
#[derive(Debug, Clone, Default)]
pub struct Baseline {
    known: Map<Known, usize>,
}

/// What a finding is known by: not its line, which any edit moves.
#[derive(Debug, Clone, PartialEq, Eq, Hash, PartialOrd, Ord)]
struct Known {
    rule: String,
    path: String,
    message: String,
}

#[derive(Serialize, Deserialize)]
struct Entry {
    rule: String,
    path: String,
    message: String,
    #[serde(default = "once", skip_serializing_if = "is_once")]
    times: usize,
}

#[derive(Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct Document {
    #[serde(default, rename = "finding")]
    findings: Vec<Entry>,
}

fn once() -> usize {
    1
}

fn is_once(times: &usize) -> bool {
    *times == 1
}

impl Known {
    fn of(finding: &Finding) -> Known {
        Known {
            rule: finding.rule.name.to_owned(),
            path: finding.path.to_string(),
            message: finding.message.clone(),
        }
    }
}

impl Baseline {
    /// All of these findings.
    pub fn of<'f>(findings: impl IntoIterator<Item = &'f Finding>) -> Baseline {
        let mut known: Map<Known, usize> = Map::default();
        for finding in findings {
            *known.entry(Known::of(finding)).or_default() += 1;
        }
        Baseline { known }
    }

    /// Reads the text of a file of known findings.
    ///
    /// # Errors
    /// What makes no sense in it.
    pub fn read(text: &str) -> Result<Baseline, super::SettingsError> {
        let document: Document = toml::from_str(text).map_err(|error| super::SettingsError {
            span: error.span().unwrap_or(0..0),
            message: error.message().to_owned(),
            help: "write the file anew with --write-baseline".to_owned(),
        })?;
        let mut known: Map<Known, usize> = Map::default();
        for Entry { rule, path, message, times } in document.findings {
            *known.entry(Known { rule, path, message }).or_default() += times;
        }
        Ok(Baseline { known })
    }

    /// The text of its file, in a fixed order.
    pub fn text(&self) -> String {
        let mut all: Vec<(&Known, &usize)> = self.known.iter().collect();
        all.sort();
        let findings = all.into_iter().map(|(known, times)| Entry {
            rule: known.rule.clone(),
            path: known.path.clone(),
            message: known.message.clone(),
            times: *times,
        });
        let document = Document { findings: findings.collect() };
        let body = toml::to_string(&document).unwrap_or_default();
        format!("# Findings that were known when this was written. Take out what has been mended.\n\n{body}")
    }

    /// How many there are.
    pub fn len(&self) -> usize {
        self.known.values().sum()
    }

    /// Whether there are none.
    pub fn is_empty(&self) -> bool {
        self.known.is_empty()
    }

    /// Whether a finding is known, which it is as often as it stands in the file.
    pub fn takes(&mut self, finding: &Finding) -> bool {
        match self.known.get_mut(&Known::of(finding)) {
            Some(left) if *left > 0 => {
                *left -= 1;
                true
            }
            _ => false,
        }
    }
}

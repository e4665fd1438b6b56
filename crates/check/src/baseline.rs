//! Findings that are known already, so that a team can start on an old contract: what is in the file is not said again,
//! what is new is.

use charter_source::Map;
use serde::{Deserialize, Serialize};

use crate::finding::Finding;
use crate::settings::SettingsError;

/// Findings that are known already, and how often each of them.
#[derive(Debug, Clone, Default)]
pub struct Baseline {
    known: Map<Known, usize>,
}

/// What a finding is known by: not its line, which any edit moves, nor its words, which another version of the program may
/// have for it.
#[derive(Debug, Clone, PartialEq, Eq, Hash, PartialOrd, Ord)]
struct Known {
    rule: String,
    path: String,
    sign: Sign,
}

/// What tells findings of one rule at one component apart.
#[derive(Debug, Clone, PartialEq, Eq, Hash, PartialOrd, Ord)]
enum Sign {
    /// What stands there.
    At(String),
    /// The words for it, as files of the first form have it.
    Words(String),
}

#[derive(Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct KnownFinding {
    rule: String,
    path: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    at: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    message: Option<String>,
    #[serde(default = "once", skip_serializing_if = "is_once")]
    times: usize,
}

/// The form in which files are written; the first did not say which it was.
const FORMAT: u32 = 2;

fn first() -> u32 {
    1
}

#[derive(Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct Document {
    #[serde(default = "first")]
    format: u32,
    #[serde(default, rename = "finding")]
    findings: Vec<KnownFinding>,
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
            rule: finding.name.to_owned(),
            path: finding.path.to_string(),
            sign: Sign::At(finding.at.clone()),
        }
    }

    /// What files of the first form have for it.
    fn by_words(finding: &Finding) -> Known {
        Known { sign: Sign::Words(finding.message.clone()), ..Known::of(finding) }
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
    pub fn read(text: &str) -> Result<Baseline, SettingsError> {
        let document: Document = toml::from_str(text).map_err(|error| SettingsError {
            span: error.span().unwrap_or(0..0),
            message: error.message().to_owned(),
            help: "write the file anew with --write-baseline".to_owned(),
        })?;
        let wrong =
            |message: String, help: &str| SettingsError { span: 0..0, message, help: help.to_owned() };
        if document.format > FORMAT {
            let message =
                format!("the file has the format {}, and this program knows up to {FORMAT}", document.format);
            return Err(wrong(message, "take a newer version of the program"));
        }
        let mut known: Map<Known, usize> = Map::default();
        for KnownFinding { rule, path, at, message, times } in document.findings {
            let sign = match (at, message) {
                (Some(at), _) => Sign::At(at),
                (None, Some(message)) => Sign::Words(message),
                (None, None) => {
                    let message = format!("a finding of {rule} at {path} says neither at nor message");
                    return Err(wrong(message, "write the file anew with --write-baseline"));
                }
            };
            *known.entry(Known { rule, path, sign }).or_default() += times;
        }
        Ok(Baseline { known })
    }

    /// The text of its file, in a fixed order.
    pub fn text(&self) -> String {
        let mut all: Vec<(&Known, &usize)> = self.known.iter().collect();
        all.sort();
        let entry = |(known, times): (&Known, &usize)| {
            let (at, message) = match &known.sign {
                Sign::At(at) => (Some(at.clone()), None),
                Sign::Words(message) => (None, Some(message.clone())),
            };
            KnownFinding { rule: known.rule.clone(), path: known.path.clone(), at, message, times: *times }
        };
        let document = Document { format: FORMAT, findings: all.into_iter().map(entry).collect() };
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
        [Known::of(finding), Known::by_words(finding)].iter().any(|known| match self.known.get_mut(known) {
            Some(left) if *left > 0 => {
                *left -= 1;
                true
            }
            _ => false,
        })
    }
}

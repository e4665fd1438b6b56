//! The file of accepted changes that lies beside a contract: `pilotage.accepted.toml` for `pilotage.wsdl`.

use std::path::{Path, PathBuf};

use charter_compare::{Accepted, Mark, Report, Verdict};
use charter_session::files::{self, Writers};
use charter_session::read;
use charter_source::{ReadError, Text};
use serde::{Deserialize, Serialize};

use crate::console::Failure;

#[derive(Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct File {
    /// The version of the form that the file has; the first did not say so.
    #[serde(default = "first")]
    format: u32,
    #[serde(default)]
    accepted: Vec<AcceptedChange>,
}

/// The version of the form in which files are written. In the first, a mark was made of the words for a change.
const FORMAT: u32 = 2;

fn first() -> u32 {
    1
}

#[derive(Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct AcceptedChange {
    path: String,
    rule: String,
    change: String,
    reason: String,
    /// The last day on which it holds.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    until: Option<String>,
    /// Whether the mark is still one of words, in a file of the second form.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    by_words: bool,
}

/// The head of a file that is made.
const HEAD: &str = "# Changes that were accepted for a reason, and so stop nobody. Each holds for that very change: once what it\n\
                    # accepts changes again, it is to be accepted anew.\n\n";

/// Where the accepted changes of a contract stand.
pub fn beside(contract: &Path) -> PathBuf {
    contract.with_extension("accepted.toml")
}

/// A day as it is written, if it is one.
fn day(text: &str) -> Result<String, Failure> {
    let date: Result<jiff::civil::Date, _> = text.parse();
    date.map(|date| date.to_string())
        .map_err(|_| Failure::new(format!("\"{text}\" is no day")).help("write it as 2027-03-31"))
}

/// The accepted changes of a contract; none if there is no such file.
pub fn read(contract: &Path) -> Result<Vec<Accepted>, Failure> {
    let path = beside(contract);
    let shown = path.display().to_string();
    let text = match read::small(&path) {
        Ok(text) => text,
        Err(ReadError::Missing) => return Ok(Vec::new()),
        Err(error) => {
            return Err(Failure::new(format!("the accepted changes cannot be read: {error}"))
                .at(shown)
                .help("mend the file, or move it away"));
        }
    };
    let file: File = toml::from_str(&text).map_err(|error: toml::de::Error| {
        let position = Text::from(text.as_str()).position(error.span().map_or(0, |span| span.start) as u32);
        let words = error.message().lines().next().unwrap_or("it is no TOML").to_owned();
        Failure::new(words)
            .at(format!("{shown}:{}:{}", position.line, position.column))
            .help("each [[accepted]] has path, rule, change and reason; charter compare --accept writes them")
    })?;
    if file.format > FORMAT {
        return Err(Failure::new(format!(
            "the file has the format {}, and this program knows up to {FORMAT}",
            file.format
        ))
        .at(shown)
        .help("take a newer version of the program"));
    }
    let accepted = |entry: AcceptedChange| Accepted {
        path: entry.path,
        kind: entry.rule,
        mark: match file.format == 1 || entry.by_words {
            true => Mark::Words(entry.change),
            false => Mark::Facts(entry.change),
        },
        reason: entry.reason,
        until: entry.until,
    };
    for entry in &file.accepted {
        if let Some(until) = &entry.until {
            day(until).map_err(|failure| failure.at(shown.clone()).of(&entry.path))?;
        }
    }
    Ok(file.accepted.into_iter().map(accepted).collect())
}

/// Writes down what is accepted now, each as `PATH=REASON`, beside what was before.
pub fn accept(
    writers: &Writers,
    contract: &Path,
    (wanted, until): (&[String], Option<&str>),
    report: &Report,
    known: Vec<Accepted>,
) -> Result<Vec<Accepted>, Failure> {
    let until = until.map(day).transpose()?;
    let mut all = known;
    for one in wanted {
        let Some((path, reason)) = one.split_once('=').filter(|(_, reason)| !reason.trim().is_empty()) else {
            return Err(Failure::new(format!("\"{one}\" gives no reason")).help(
                "write --accept PATH=REASON, such as --accept type/PageSize='agreed with all on 3 March'",
            ));
        };
        let changes: Vec<_> = report.changes.iter().filter(|change| change.path.as_str() == path).collect();
        if changes.iter().all(|change| change.verdict == Verdict::Keeps) {
            let paths: Vec<&str> = report
                .changes
                .iter()
                .filter(|change| change.verdict != Verdict::Keeps)
                .map(|change| change.path.as_str())
                .collect();
            let near = charter_source::nearest(path, paths.iter().copied());
            let help = match near {
                Some(near) => format!("did you mean \"{near}\"?"),
                None => format!(
                    "there is {}",
                    if paths.is_empty() { "nothing to accept".to_owned() } else { paths.join(", ") }
                ),
            };
            return Err(Failure::new("nothing there bends or breaks").of(path).help(help));
        }
        for change in changes.into_iter().filter(|change| change.verdict != Verdict::Keeps) {
            all.retain(|known| !known.is_about(change));
            all.push(Accepted {
                path: change.path.to_string(),
                kind: change.kind.name().to_owned(),
                mark: Mark::Facts(change.mark()),
                reason: reason.trim().to_owned(),
                until: until.clone(),
            });
        }
    }
    let entries = all.iter().map(|one| {
        let (change, by_words) = match &one.mark {
            Mark::Facts(mark) => (mark.clone(), false),
            Mark::Words(mark) => (mark.clone(), true),
        };
        AcceptedChange {
            path: one.path.clone(),
            rule: one.kind.clone(),
            change,
            reason: one.reason.clone(),
            until: one.until.clone(),
            by_words,
        }
    });
    let text = toml::to_string(&File { format: FORMAT, accepted: entries.collect() }).unwrap_or_default();
    files::save(writers, &beside(contract), format!("{HEAD}{text}").as_bytes())?;
    Ok(all)
}

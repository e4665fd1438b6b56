//! The file of accepted changes that lies beside a contract: `pilotage.accepted.toml` for `pilotage.wsdl`.

use std::path::{Path, PathBuf};

use charter_compare::{Accepted, Report, Verdict};
use charter_source::{ReadError, Text};
use serde::{Deserialize, Serialize};

use crate::console::Failure;
use crate::files::{self, Writers};
use crate::read;

#[derive(Serialize, Deserialize, Default)]
#[serde(deny_unknown_fields)]
struct File {
    #[serde(default)]
    accepted: Vec<Entry>,
}

#[derive(Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct Entry {
    path: String,
    rule: String,
    change: String,
    reason: String,
}

/// The head of a file that is made.
const HEAD: &str = "# Changes that were accepted for a reason, and so no longer count. Each holds for that very change: once what it\n\
                    # accepts changes again, it is to be accepted anew.\n\n";

/// Where the accepted changes of a contract stand.
pub fn beside(contract: &Path) -> PathBuf {
    contract.with_extension("accepted.toml")
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
    let accepted = |entry: Entry| Accepted {
        path: entry.path,
        rule: entry.rule,
        change: entry.change,
        reason: entry.reason,
    };
    Ok(file.accepted.into_iter().map(accepted).collect())
}

/// Writes down what is accepted now, each as `PATH=REASON`, beside what was before.
pub fn accept(
    writers: &Writers,
    contract: &Path,
    wanted: &[String],
    report: &Report,
    known: Vec<Accepted>,
) -> Result<Vec<Accepted>, Failure> {
    let mut all = known;
    for one in wanted {
        let Some((path, reason)) = one.split_once('=').filter(|(_, reason)| !reason.trim().is_empty()) else {
            return Err(Failure::new(format!("\"{one}\" gives no reason")).help(
                "write --accept PATH=REASON, such as --accept type/PageSize='agreed with all on 3 March'",
            ));
        };
        let changes: Vec<_> = report.changes.iter().filter(|change| change.path == path).collect();
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
            all.retain(|known| {
                (known.path.as_str(), known.rule.as_str()) != (change.path.as_str(), change.rule)
            });
            all.push(Accepted {
                path: change.path.clone(),
                rule: change.rule.to_owned(),
                change: change.mark(),
                reason: reason.trim().to_owned(),
            });
        }
    }
    let entries = all.iter().map(|one| Entry {
        path: one.path.clone(),
        rule: one.rule.clone(),
        change: one.change.clone(),
        reason: one.reason.clone(),
    });
    let text = toml::to_string(&File { accepted: entries.collect() }).unwrap_or_default();
    files::save(writers, &beside(contract), format!("{HEAD}{text}").as_bytes())?;
    Ok(all)
}

//! Consumer records: what one consumer uses of a contract, in TOML.

use std::collections::BTreeMap;
use std::path::{Component, Path, PathBuf};

use charter_compare::{Reading, Usage, UsedOperation};
use charter_source::Text;
use serde::Deserialize;

use crate::console::Failure;

/// A consumer record, read.
pub struct Record {
    /// The name of the consumer.
    pub name: String,
    /// Whom to tell.
    pub contact: Option<String>,
    /// The version of the contract that it was built for, as its people call it.
    pub contract: Option<String>,
    /// What it uses.
    pub usage: Usage,
    /// Files and folders of messages that it sent and was sent.
    pub captured: Vec<PathBuf>,
}

/// The file as it is written.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Written {
    name: String,
    contact: Option<String>,
    contract: Option<String>,
    #[serde(default)]
    reading: ReadingWord,
    #[serde(default)]
    captured: Vec<String>,
    #[serde(default)]
    operations: BTreeMap<String, WrittenOperation>,
}

#[derive(Deserialize, Default)]
#[serde(deny_unknown_fields)]
struct WrittenOperation {
    sends: Option<Vec<String>>,
    reads: Option<Vec<String>>,
}

#[derive(Deserialize, Default, Clone, Copy)]
#[serde(rename_all = "lowercase")]
enum ReadingWord {
    Strict,
    #[default]
    Lenient,
    Position,
    Name,
}

impl ReadingWord {
    fn reading(self) -> Reading {
        match self {
            ReadingWord::Strict => Reading::Strict,
            ReadingWord::Lenient => Reading::Lenient,
            ReadingWord::Position => Reading::Position,
            ReadingWord::Name => Reading::Name,
        }
    }
}

/// All records in a folder, in the order of their names.
pub fn all(folder: &Path) -> Result<Vec<Record>, Failure> {
    let shown = folder.display().to_string();
    let entries = std::fs::read_dir(folder).map_err(|error| {
        Failure::new(format!("the folder of consumer records cannot be read: {error}"))
            .at(shown.clone())
            .help("give the folder that holds the records, files such as harbour-desk.toml")
    })?;
    let mut paths: Vec<PathBuf> = entries.flatten().map(|entry| entry.path()).collect();
    paths.retain(|path| path.extension().is_some_and(|end| end == "toml"));
    paths.sort();
    if paths.is_empty() {
        return Err(Failure::new("there is no consumer record in this folder")
            .at(shown)
            .help("charter match CONTRACT MESSAGES --learn RECORD.toml makes one of captured messages"));
    }
    paths.iter().map(|path| read(path)).collect()
}

fn read(path: &Path) -> Result<Record, Failure> {
    let shown = path.display().to_string();
    let text = std::fs::read_to_string(path).map_err(|error| {
        Failure::new(format!("the record cannot be read: {error}"))
            .at(shown.clone())
            .help("give a text file in UTF-8")
    })?;
    let written: Written = toml::from_str(&text).map_err(|error| broken(&shown, &text, &error))?;
    let steps = |paths: Option<Vec<String>>| {
        paths.map(|paths| paths.iter().map(|path| path.split('/').map(str::to_owned).collect()).collect())
    };
    let operations = written.operations.into_iter().map(|(name, operation)| UsedOperation {
        name,
        sends: steps(operation.sends),
        reads: steps(operation.reads),
    });
    let folder = path.parent().unwrap_or(Path::new(""));
    Ok(Record {
        name: written.name,
        contact: written.contact,
        contract: written.contract,
        usage: Usage { reading: written.reading.reading(), operations: operations.collect() },
        captured: written.captured.iter().map(|path| tidy(&folder.join(path))).collect(),
    })
}

/// A path without steps that lead back.
fn tidy(path: &Path) -> PathBuf {
    let mut result = PathBuf::new();
    for step in path.components() {
        match step {
            Component::CurDir => {}
            Component::ParentDir if matches!(result.components().next_back(), Some(Component::Normal(_))) => {
                result.pop();
            }
            other => result.push(other),
        }
    }
    result
}

/// What is wrong with a record, at its line and column.
pub fn broken(shown: &str, text: &str, error: &toml::de::Error) -> Failure {
    let at = error.span().map_or(0, |span| span.start);
    let position = Text::from(text).position(at as u32);
    Failure::new(error.message().lines().next().unwrap_or("it is no TOML").to_owned())
        .at(format!("{shown}:{}:{}", position.line, position.column))
        .help("a record has name, contact, contract, reading, captured, and [operations.NAME] with sends and reads")
}

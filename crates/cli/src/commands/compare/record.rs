//! Consumer records: what one consumer uses of a contract, in TOML.

use std::collections::BTreeMap;
use std::path::{Component, Path, PathBuf};

use charter_compare::{ReadsReplies, Usage, UsedOperation};
use charter_contract::Contract;
use charter_source::{Location, Text};
use serde::Deserialize;
use toml::Spanned;

use crate::console::Failure;

/// A consumer record, read.
pub struct Record {
    /// The name of the consumer.
    pub name: String,
    /// Whom to tell.
    pub contact: Option<String>,
    /// The version of the contract that it was built for, as its people call it.
    pub contract: Option<String>,
    /// The contract that it is about: its target namespace, or the name of its file; nothing if it may be about any.
    pub about: Option<String>,
    /// What it uses.
    pub usage: Usage,
    /// Files and folders of messages that it sent and was sent.
    pub captured: Vec<PathBuf>,
    /// Everything that it names of a contract, in the order of the file.
    pub mentions: Vec<Mention>,
}

/// Something that a record names of a contract.
pub struct Mention {
    /// Where, as `file:line:column`.
    pub at: String,
    /// What it is.
    pub what: Mentioned,
}

/// What a record names of a contract.
pub enum Mentioned {
    /// The contract.
    Contract(String),
    /// A port.
    Port(String),
    /// An operation.
    Operation(String),
    /// A wire path, of the request or else of a reply of an operation.
    Path { operation: String, sent: bool, path: String },
}

/// The file as it is written.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Written {
    name: String,
    contact: Option<String>,
    contract: Option<String>,
    about: Option<Spanned<String>>,
    reading: Option<Spanned<String>>,
    ports: Option<Vec<Spanned<String>>>,
    #[serde(default)]
    captured: Vec<String>,
    #[serde(default)]
    operations: BTreeMap<Spanned<String>, WrittenOperation>,
}

#[derive(Deserialize, Default)]
#[serde(deny_unknown_fields)]
struct WrittenOperation {
    sends: Option<Vec<Spanned<String>>>,
    reads: Option<Vec<Spanned<String>>>,
}

impl Written {
    /// How the consumer reads, if it is said by a word that is known.
    fn reading(&self, source: &Source<'_>) -> Result<ReadsReplies, Failure> {
        let Some(word) = &self.reading else { return Ok(ReadsReplies::default()) };
        let known = ReadsReplies::ALL.iter().find(|(_, name)| name == word.get_ref());
        known.map(|(reading, _)| *reading).ok_or_else(|| {
            Failure::new(format!("\"{}\" is no way of reading", word.get_ref()))
                .at(source.place(word.span().start))
                .help("there is strict, lenient, position, name")
        })
    }

    fn usage(&self, reading: ReadsReplies) -> Usage {
        let steps = |paths: &Option<Vec<Spanned<String>>>| -> Option<Vec<Vec<String>>> {
            paths.as_ref().map(|paths| paths.iter().map(|path| steps(path.get_ref())).collect())
        };
        let used = |(name, operation): (&Spanned<String>, &WrittenOperation)| UsedOperation {
            name: name.get_ref().clone(),
            sends: steps(&operation.sends),
            reads: steps(&operation.reads),
        };
        let names = |ports: &Vec<Spanned<String>>| ports.iter().map(|port| port.get_ref().clone()).collect();
        let ports = self.ports.as_ref().map(names);
        let operations = self.operations.iter().map(used).collect();
        Usage { reading, ports, operations }
    }

    fn mentions(&self, source: &Source<'_>) -> Vec<Mention> {
        let mut found: Vec<(usize, Mentioned)> = Vec::new();
        if let Some(about) = &self.about {
            found.push((about.span().start, Mentioned::Contract(about.get_ref().clone())));
        }
        for port in self.ports.iter().flatten() {
            found.push((port.span().start, Mentioned::Port(port.get_ref().clone())));
        }
        for (name, operation) in &self.operations {
            found.push((name.span().start, Mentioned::Operation(name.get_ref().clone())));
            for (sent, paths) in [(true, &operation.sends), (false, &operation.reads)] {
                for path in paths.iter().flatten() {
                    let (operation, text) = (name.get_ref().clone(), path.get_ref().clone());
                    found.push((path.span().start, Mentioned::Path { operation, sent, path: text }));
                }
            }
        }
        found.sort_by_key(|(at, _)| *at);
        found.into_iter().map(|(at, what)| Mention { at: source.place(at), what }).collect()
    }
}

/// The steps of a wire path; of one that makes no sense, which is told elsewhere, the whole.
fn steps(path: &str) -> Vec<String> {
    match charter_message::values::steps(path) {
        Ok(steps) => steps.iter().map(|step| local(&step.key)).collect(),
        Err(_) => vec![path.to_owned()],
    }
}

/// A key without its namespace.
fn local(key: &str) -> String {
    match key.strip_prefix('@') {
        Some(name) => format!("@{}", name.rsplit(['}', ':']).next().unwrap_or(name)),
        None => key.rsplit('}').next().unwrap_or(key).to_owned(),
    }
}

/// The file of a record.
struct Source<'s> {
    shown: &'s str,
    text: Text,
}

impl Source<'_> {
    fn place(&self, at: usize) -> String {
        let position = self.text.position(at as u32);
        format!("{}:{}:{}", self.shown, position.line, position.column)
    }
}

impl Record {
    /// Whether it may be about a contract.
    pub fn is_about(&self, contract: &Contract) -> bool {
        self.about.as_deref().is_none_or(|about| goes_by(contract, about))
    }
}

/// Whether a contract goes by a name: its target namespace, or the name of its file.
pub fn goes_by(contract: &Contract, name: &str) -> bool {
    let file = match &contract.files.first().location {
        Location::Path(path) => path.file_name().is_some_and(|file| file == name) || path.as_os_str() == name,
        other => other.to_string() == name,
    };
    file || contract.definitions.iter().any(|(_, definitions)| *definitions.namespace == *name)
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
    let text = charter_session::read::small(path).map_err(|error| {
        Failure::new(format!("the record cannot be read: {error}"))
            .at(shown.clone())
            .help("give a text file in UTF-8")
    })?;
    let source = Source { shown: &shown, text: Text::from(text.as_str()) };
    let written: Written = toml::from_str(&text).map_err(|error| broken(&source, &error))?;
    let usage = written.usage(written.reading(&source)?);
    let folder = path.parent().unwrap_or(Path::new(""));
    Ok(Record {
        usage,
        captured: written.captured.iter().map(|path| tidy(&folder.join(path))).collect(),
        mentions: written.mentions(&source),
        name: written.name,
        contact: written.contact,
        contract: written.contract,
        about: written.about.map(Spanned::into_inner),
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
fn broken(source: &Source<'_>, error: &toml::de::Error) -> Failure {
    let at = error.span().map_or(0, |span| span.start);
    Failure::new(error.message().lines().next().unwrap_or("it is no TOML").to_owned())
        .at(source.place(at))
        .help("a record has name, contact, contract, about, reading, ports, captured, and [operations.NAME] with sends and reads")
}

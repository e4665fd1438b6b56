//! Adds what captured messages use to a consumer record: the operations, and the wire paths of what is sent and read.

use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;

use charter_compare::FAULT;
use charter_session::files::{self, Writers};
use charter_session::read;
use charter_source::ReadError;
use serde_json::Value;
use toml_edit::{Array, DocumentMut, Item, Table, value};

use crate::console::Failure;

/// A message, as far as a record learns from it.
pub struct Lesson {
    /// Whether the consumer sent it.
    pub is_request: bool,
    /// The name of the fault that it is.
    pub fault: Option<String>,
    /// What it says.
    pub values: Value,
}

/// What was seen of one operation.
#[derive(Default)]
pub struct Seen {
    sends: BTreeSet<String>,
    reads: BTreeSet<String>,
}

/// What was seen, by operation.
#[derive(Default)]
pub struct Learned {
    operations: BTreeMap<String, Seen>,
    messages: usize,
}

impl Learned {
    /// Takes in a message; says whether there was anything new in it.
    pub fn add(&mut self, operation: &str, message: &Lesson) -> bool {
        self.messages += 1;
        let seen = self.operations.entry(operation.to_owned()).or_default();
        let into = if message.is_request { &mut seen.sends } else { &mut seen.reads };
        let before = message.fault.as_ref().map_or_else(String::new, |name| format!("{FAULT}/{name}"));
        let known = into.len();
        paths(&message.values, &before, into);
        into.len() > known
    }

    /// Writes what is new into a record, which is made if there is none; what it says so far stays as it is. In words,
    /// what was added.
    pub fn write(&self, writers: &Writers, record: &Path, contract: &str) -> Result<String, Failure> {
        let shown = record.display().to_string();
        writers.enter(record.parent().filter(|it| !it.as_os_str().is_empty()).unwrap_or(Path::new(".")))?;
        let text = match read::small(record) {
            Ok(text) => text,
            Err(ReadError::Missing) => fresh(record, contract),
            Err(error) => {
                return Err(Failure::new(format!("the record cannot be read: {error}"))
                    .at(shown)
                    .help("give a text file in UTF-8, or the name of a new one"));
            }
        };
        let mut document: DocumentMut = text.parse().map_err(|error: toml_edit::TomlError| {
            let at = error.span().map_or(0, |span| span.start);
            let position = charter_source::Text::from(text.as_str()).position(at as u32);
            let words = error.message().lines().next().unwrap_or("it is no TOML").to_owned();
            Failure::new(words)
                .at(format!("{shown}:{}:{}", position.line, position.column))
                .help("mend the record; nothing was added")
        })?;
        let mut added = 0;
        let operations = document.entry("operations").or_insert_with(implicit);
        let Some(operations) = operations.as_table_mut() else {
            return Err(Failure::new("\"operations\" is no table")
                .at(shown)
                .help("write [operations.NAME] for each"));
        };
        for (name, seen) in &self.operations {
            let known = operations.entry(name).or_insert_with(|| Item::Table(Table::new()));
            let Some(known) = known.as_table_mut() else { continue };
            added += put(known, "sends", &seen.sends) + put(known, "reads", &seen.reads);
        }
        files::save(writers, record, document.to_string().as_bytes())?;
        let paths = if added == 1 { "1 path".to_owned() } else { format!("{added} paths") };
        let messages =
            if self.messages == 1 { "1 message".to_owned() } else { format!("{} messages", self.messages) };
        Ok(format!("{shown}: {paths} added from {messages}\n"))
    }
}

fn implicit() -> Item {
    let mut table = Table::new();
    table.set_implicit(true);
    Item::Table(table)
}

/// A record that says nothing yet but a name, and which contract it is about: by its file, which revisions mostly leave.
fn fresh(record: &Path, contract: &str) -> String {
    let name = record
        .file_stem()
        .map_or_else(|| "consumer".into(), |stem| stem.to_string_lossy().replace(['-', '_'], " "));
    let file = Path::new(contract).file_name().filter(|_| contract != "-");
    let about = file.map_or_else(String::new, |file| {
        format!("about = {}\n", Value::String(file.to_string_lossy().into_owned()))
    });
    format!("name = {}\n{about}reading = \"lenient\"\n", Value::String(name))
}

/// Adds paths to a list, in the order of their names; how many were new.
fn put(table: &mut Table, key: &str, paths: &BTreeSet<String>) -> usize {
    if paths.is_empty() {
        return 0;
    }
    let mut known: Vec<String> = table
        .get(key)
        .and_then(Item::as_array)
        .map(|list| list.iter().filter_map(|path| path.as_str().map(str::to_owned)).collect())
        .unwrap_or_default();
    let before = known.len();
    known.extend(paths.iter().filter(|path| !known.contains(path)).cloned().collect::<Vec<_>>());
    let added = known.len() - before;
    if added > 0 {
        let mut list = Array::new();
        for path in known {
            list.push_formatted(toml_edit::Value::from(path).decorated("\n  ", ""));
        }
        list.set_trailing_comma(true);
        list.set_trailing("\n");
        table.insert(key, value(list));
    }
    added
}

/// The paths of all single values.
fn paths(values: &Value, before: &str, into: &mut BTreeSet<String>) {
    match values {
        Value::Object(fields) => {
            for (key, inner) in fields {
                let key = key.as_str();
                // What a value is, and in which order, is no path of its own.
                let path = match key {
                    "$text" | "$nil" | "$type" | "$content" => before.to_owned(),
                    _ if before.is_empty() => key.to_owned(),
                    _ => format!("{before}/{key}"),
                };
                paths(inner, &path, into);
            }
        }
        Value::Array(items) => items.iter().for_each(|item| paths(item, before, into)),
        _ if before.is_empty() => {}
        _ => {
            into.insert(before.to_owned());
        }
    }
}

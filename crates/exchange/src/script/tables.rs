//! Tables of a script: those that it reads, and those whose rows its replies keep.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};
use std::sync::Arc;

use charter_check::SettingsError;
use charter_session::settings::table::{Table, Value};
use charter_source::nearest;

use crate::store::ReadOnly;
use crate::terms::Filling;

/// What a reply does with rows.
#[derive(Debug)]
pub(crate) enum Uses {
    /// It adds one.
    Add {
        /// The table.
        table: String,
        /// What stands in its columns.
        columns: Vec<(String, Filling)>,
    },
    /// It is meant only for requests to which there is one.
    One {
        /// The table.
        table: From,
        /// What its columns must have.
        wanted: Vec<(String, Filling)>,
        /// What becomes of it.
        then: Then,
    },
    /// It tells all that there are.
    All {
        /// The table.
        table: From,
        /// What their columns must have.
        wanted: Vec<(String, Filling)>,
    },
}

/// What becomes of a row.
#[derive(Debug)]
pub(crate) enum Then {
    /// It stays what it is.
    Stay,
    /// Columns become something else.
    Change(Vec<(String, Filling)>),
    /// It is taken out.
    Remove,
}

/// Where rows come from.
#[derive(Debug, Clone)]
pub(crate) enum From {
    /// The store, by the name of the table.
    Kept(String),
    /// A table of others.
    Others(Arc<ReadOnly>),
}

/// The tables of a script, by name.
#[derive(Default)]
pub(super) struct Tables {
    others: BTreeMap<String, Arc<ReadOnly>>,
    /// The files that were read for them, and are read again when they change.
    pub files: Vec<PathBuf>,
    /// Those that replies add to, with their columns.
    kept: BTreeMap<String, BTreeSet<String>>,
}

impl Tables {
    /// Reads the table `[tables]`. Files are found from `folder`.
    pub fn of_others(&mut self, value: Value<'_>, folder: &Path) -> Result<(), SettingsError> {
        for (name, value) in value.table("tables")?.entries(&[])? {
            let (table, file) = one(name, &value.table(name)?, value, folder)?;
            self.files.extend(file);
            self.others.insert(name.to_owned(), Arc::new(table));
        }
        Ok(())
    }

    /// Takes in what a reply adds to, and which columns it fills: other replies may speak of them, wherever they stand.
    pub fn take(&mut self, entries: &[(&str, Value<'_>)]) -> Result<(), SettingsError> {
        let of = |wanted: &str| entries.iter().find(|(key, _)| *key == wanted).map(|(_, value)| *value);
        let Some(value) = of("add").or(of("row")) else { return Ok(()) };
        let name = value.text()?;
        if self.others.contains_key(name) {
            return match of("add").or(of("columns")).or(of("remove")) {
                Some(value) => Err(value.wrong(
                    format!("the table \"{name}\" is only read"),
                    "name another one: replies keep rows in tables of their own",
                )),
                None => Ok(()),
            };
        }
        if of("add").is_none() && of("columns").is_none() {
            return Ok(());
        }
        let known = self.kept.entry(name.to_owned()).or_default();
        if let Some(columns) = of("columns") {
            known
                .extend(columns.table("columns")?.entries(&[])?.into_iter().map(|(name, _)| name.to_owned()));
        }
        Ok(())
    }

    /// A table, by its name.
    pub fn from(&self, value: Value<'_>) -> Result<From, SettingsError> {
        let name = value.text()?;
        if let Some(others) = self.others.get(name) {
            return Ok(From::Others(Arc::clone(others)));
        }
        if self.kept.contains_key(name) {
            return Ok(From::Kept(name.to_owned()));
        }
        let names = || self.others.keys().chain(self.kept.keys()).map(String::as_str);
        let help = match nearest(name, names()) {
            Some(near) => format!("did you mean \"{near}\"?"),
            None => format!("write [tables.{name}], or add = \"{name}\" in the reply that adds its rows"),
        };
        Err(value.wrong(format!("there is no table \"{name}\""), help))
    }

    /// Whether a table has a column.
    pub fn has(&self, table: &str, column: &str, value: Value<'_>) -> Result<(), SettingsError> {
        let others = self.others.get(table).map(|others| others.heads().to_vec());
        let kept = || self.kept.get(table).into_iter().flatten().cloned().collect();
        let known: Vec<String> = others.unwrap_or_else(kept);
        if known.iter().any(|known| known == column) {
            return Ok(());
        }
        let help = match nearest(column, known.iter().map(String::as_str)) {
            Some(near) => format!("did you mean \"{near}\"?"),
            None => format!("there is {}", known.join(", ")),
        };
        Err(value.wrong(format!("the table \"{table}\" has no column \"{column}\""), help))
    }
}

fn one(
    name: &str,
    table: &Table<'_>,
    whole: Value<'_>,
    folder: &Path,
) -> Result<(ReadOnly, Option<PathBuf>), SettingsError> {
    let (mut csv, mut sqlite, mut own) = (None, None, name);
    for (key, value) in table.entries(&["csv", "sqlite", "table"])? {
        match key {
            "csv" => csv = Some(value),
            "sqlite" => sqlite = Some(value),
            _ => own = value.text()?,
        }
    }
    match (csv, sqlite) {
        (Some(value), None) => {
            let path = folder.join(value.text()?);
            let limits = charter_source::Limits::default();
            let octets = charter_session::read::bytes(&path.to_string_lossy(), limits).map_err(|error| {
                let help =
                    charter_session::read::advice(&error, "files are found from the folder of the script");
                value.wrong(format!("the file cannot be read: {error}"), help)
            })?;
            let table = ReadOnly::csv(&octets).map_err(|words| {
                value.wrong(words, "the first row names the columns, and each other has a value for each")
            });
            Ok((table?, Some(path)))
        }
        (None, Some(value)) => {
            let path = folder.join(value.text()?);
            // A database is asked each time.
            let table = ReadOnly::sqlite(&path, own).map_err(|error| {
                value.wrong(
                    error.to_string(),
                    "files are found from the folder of the script; table = \"…\" names another table of it",
                )
            });
            Ok((table?, None))
        }
        _ => Err(whole.wrong(
            format!("nobody knows where the table \"{name}\" is"),
            "write csv = \"FILE\", or sqlite = \"FILE\"",
        )),
    }
}

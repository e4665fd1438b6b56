//! Rows that a reply has to do with: looked up, added, changed and taken out.

use std::collections::BTreeMap;

use serde_json::Value as Json;

use crate::script::{From, Rule, Then, Uses};
use crate::store::{Columns, Store, StoreError, Stored};
use crate::terms::{Filling, Given, NotFilled, Row};

/// How many rows a reply may tell.
const MOST: usize = 1000;

/// Rows that a reply may speak of.
#[derive(Debug, Default)]
pub(super) struct Spoken {
    /// The one that it is about.
    pub one: Option<Stored>,
    /// All that there are, if it is about all.
    pub all: Option<Vec<Stored>>,
}

/// What a reply does with rows comes to nothing.
pub(super) enum Wrong {
    /// There is no row as it is wanted: the reply is not meant.
    None,
    /// In words.
    Because(String),
}

impl std::convert::From<StoreError> for Wrong {
    fn from(error: StoreError) -> Wrong {
        Wrong::Because(error.to_string())
    }
}

impl std::convert::From<NotFilled> for Wrong {
    fn from(error: NotFilled) -> Wrong {
        Wrong::Because(error.to_string())
    }
}

/// Whether there are the rows that a reply needs; nothing is changed yet.
pub(super) fn are_there(rule: &Rule, given: &Given<'_>, store: Option<&Store>) -> Result<(), Wrong> {
    let Some(Uses::One { table, wanted, .. }) = &rule.uses else { return Ok(()) };
    match found(table, wanted, given, store, 1)?.is_empty() {
        true => Err(Wrong::None),
        false => Ok(()),
    }
}

/// Does what a reply does with rows.
pub(super) fn used(rule: &Rule, given: &Given<'_>, store: Option<&Store>) -> Result<Spoken, Wrong> {
    let Some(uses) = &rule.uses else { return Ok(Spoken::default()) };
    let one = |row: Stored| Spoken { one: Some(row), all: None };
    match uses {
        Uses::Add { table, columns } => {
            let rows = rows(store)?;
            let made = rows.add(table, &mut |row| filled(columns, given, row));
            made.map(one).map_err(|error| Wrong::Because(error.to_string()))
        }
        Uses::One { table: From::Kept(table), wanted, then: Then::Change(columns) } => {
            let wanted = texts(wanted, given)?;
            let changed = rows(store)?.change(table, &wanted, &mut |before| {
                let mut row = before.columns.clone();
                let changed = filled(columns, given, before)?;
                for (name, _) in columns {
                    row.remove(name);
                }
                row.extend(changed);
                Ok(row)
            });
            changed.map_err(|error| Wrong::Because(error.to_string()))?.map(one).ok_or(Wrong::None)
        }
        Uses::One { table: From::Kept(table), wanted, then: Then::Remove } => {
            rows(store)?.remove(table, &texts(wanted, given)?)?.map(one).ok_or(Wrong::None)
        }
        Uses::One { table, wanted, .. } => {
            found(table, wanted, given, store, 1)?.pop().map(one).ok_or(Wrong::None)
        }
        Uses::All { table, wanted } => {
            Ok(Spoken { one: None, all: Some(found(table, wanted, given, store, MOST)?) })
        }
    }
}

fn rows(store: Option<&Store>) -> Result<&dyn crate::store::Keeps, Wrong> {
    store.map(Store::rows).ok_or_else(|| Wrong::Because("there is no store for its rows".to_owned()))
}

fn found(
    table: &From,
    wanted: &[(String, Filling)],
    given: &Given<'_>,
    store: Option<&Store>,
    most: usize,
) -> Result<Vec<Stored>, Wrong> {
    let wanted = texts(wanted, given)?;
    Ok(match table {
        From::Kept(name) => rows(store)?.find(name, &wanted, most)?,
        From::Others(table) => table.find(&wanted, most)?,
    })
}

/// What is wanted, in texts.
fn texts(wanted: &[(String, Filling)], given: &Given<'_>) -> Result<Vec<(String, String)>, Wrong> {
    let text = |(name, filling): &(String, Filling)| match filling.filled(given) {
        // No row has what the request does not have.
        Err(NotFilled::Missing(_)) => Err(Wrong::None),
        text => Ok((name.clone(), text?)),
    };
    wanted.iter().map(text).collect()
}

/// The columns of a row; what the request does not have is not in it.
fn filled(columns: &[(String, Filling)], given: &Given<'_>, row: &Stored) -> Result<Columns, NotFilled> {
    let row = Row { number: row.number, columns: &row.columns };
    let given = Given { row: Some(row), ..*given };
    let mut made = Columns::new();
    for (name, filling) in columns {
        if let Some(value) = filling.value(&given)? {
            made.insert(name.clone(), value);
        }
    }
    Ok(made)
}

/// What texts are filled from, of a request and a row.
pub(super) fn given<'g>(
    values: &'g Json,
    named: &'g BTreeMap<String, Json>,
    row: Option<&'g Stored>,
    count: u64,
) -> Given<'g> {
    let row = row.map(|row| Row { number: row.number, columns: &row.columns });
    Given { values, named, row, count }
}

//! Walks a TOML document with the places of its keys and values.

use std::ops::Range;

use charter_check::SettingsError;
use charter_source::nearest;
use toml::Spanned;
use toml::de::{DeTable, DeValue};

/// A table, and what it is called.
pub(super) struct Table<'t> {
    table: &'t DeTable<'t>,
    name: String,
}

/// A value with its place.
#[derive(Clone, Copy)]
pub(super) struct Value<'t> {
    pub value: &'t DeValue<'t>,
    start: usize,
    end: usize,
}

impl<'t> Value<'t> {
    fn of(value: &'t Spanned<DeValue<'t>>) -> Value<'t> {
        let Range { start, end } = value.span();
        Value { value: value.get_ref(), start, end }
    }

    pub fn wrong(self, message: impl Into<String>, help: impl Into<String>) -> SettingsError {
        SettingsError { span: self.start..self.end, message: message.into(), help: help.into() }
    }

    pub fn text(self) -> Result<&'t str, SettingsError> {
        self.value.as_str().ok_or_else(|| self.wrong("this is no text", "write it in quotes"))
    }

    /// A list, or one value that stands for a list of one.
    pub fn list(self) -> Vec<Value<'t>> {
        match self.value.as_array() {
            Some(array) => array.iter().map(Value::of).collect(),
            None => vec![self],
        }
    }

    pub fn texts(self) -> Result<Vec<(Value<'t>, &'t str)>, SettingsError> {
        self.list().into_iter().map(|value| Ok((value, value.text()?))).collect()
    }

    pub fn table(self, name: &str) -> Result<Table<'t>, SettingsError> {
        match self.value.as_table() {
            Some(table) => Ok(Table { table, name: name.to_owned() }),
            None => Err(self.wrong(
                format!("\"{name}\" is no table"),
                format!("write [{name}] on a line of its own, and what belongs to it below"),
            )),
        }
    }
}

impl<'t> Table<'t> {
    pub fn root(table: &'t DeTable<'t>) -> Table<'t> {
        Table { table, name: String::new() }
    }

    /// Its keys with their values, each of which must be one of `known`, if any are given.
    pub fn entries(&self, known: &[&str]) -> Result<Vec<(&'t str, Value<'t>)>, SettingsError> {
        let mut found = Vec::new();
        for (key, value) in self.table.iter() {
            let name: &str = key.get_ref();
            if !known.is_empty() && !known.contains(&name) {
                let place = if self.name.is_empty() { String::new() } else { format!(" in [{}]", self.name) };
                let help = nearest(name, known.iter().copied()).map_or_else(
                    || format!("there is {}", known.join(", ")),
                    |near| format!("did you mean \"{near}\"?"),
                );
                let message = format!("there is nothing named \"{name}\" to settle{place}");
                return Err(SettingsError { span: key.span(), message, help });
            }
            found.push((name, Value::of(value)));
        }
        Ok(found)
    }

    /// The place of a key.
    pub fn key(&self, wanted: &str) -> Range<usize> {
        let found = self.table.iter().find(|(key, _)| key.get_ref() == wanted);
        found.map_or(0..0, |(key, _)| key.span())
    }

    pub fn full(&self, key: &str) -> String {
        if self.name.is_empty() { key.to_owned() } else { format!("{}.{key}", self.name) }
    }
}

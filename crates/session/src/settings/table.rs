//! Walks a TOML document with the places of its keys and values: settings, and what else people write in TOML.

use std::ops::Range;

use charter_check::SettingsError;
use charter_source::nearest;
use toml::Spanned;
use toml::de::{DeTable, DeValue};

/// Reads a document; `help` says what one looks like.
///
/// # Errors
/// If it is not TOML.
pub fn parse<'t>(text: &'t str, help: &str) -> Result<Spanned<DeTable<'t>>, SettingsError> {
    DeTable::parse(text).map_err(|error| SettingsError {
        span: error.span().unwrap_or(0..0),
        message: error.message().to_owned(),
        help: format!("the file is in TOML: {help}"),
    })
}

/// A table, and what it is called.
pub struct Table<'t> {
    table: &'t DeTable<'t>,
    name: String,
}

/// A value with its place.
#[derive(Clone, Copy)]
pub struct Value<'t> {
    /// The value.
    pub value: &'t DeValue<'t>,
    start: usize,
    end: usize,
}

impl<'t> Value<'t> {
    fn of(value: &'t Spanned<DeValue<'t>>) -> Value<'t> {
        let Range { start, end } = value.span();
        Value { value: value.get_ref(), start, end }
    }

    /// Says what is wrong with it.
    pub fn wrong(self, message: impl Into<String>, help: impl Into<String>) -> SettingsError {
        SettingsError { span: self.start..self.end, message: message.into(), help: help.into() }
    }

    /// Its text.
    ///
    /// # Errors
    /// If it is none.
    pub fn text(self) -> Result<&'t str, SettingsError> {
        self.value.as_str().ok_or_else(|| self.wrong("this is no text", "write it in quotes"))
    }

    /// Its text, or the text of a number or a truth value.
    ///
    /// # Errors
    /// If it is a list or a table.
    pub fn plain(self) -> Result<String, SettingsError> {
        match self.value {
            DeValue::String(text) => Ok(text.to_string()),
            DeValue::Integer(number) => Ok(number.to_string()),
            DeValue::Float(number) => Ok(number.to_string()),
            DeValue::Boolean(truth) => Ok(truth.to_string()),
            DeValue::Datetime(time) => Ok(time.to_string()),
            DeValue::Array(_) | DeValue::Table(_) => {
                Err(self.wrong("one value is wanted here", "write a text, a number, or true or false"))
            }
        }
    }

    /// A list, or one value that stands for a list of one.
    pub fn list(self) -> Vec<Value<'t>> {
        match self.value.as_array() {
            Some(array) => array.iter().map(Value::of).collect(),
            None => vec![self],
        }
    }

    /// The texts of a list, or the one that stands for it.
    ///
    /// # Errors
    /// If one of them is none.
    pub fn texts(self) -> Result<Vec<(Value<'t>, &'t str)>, SettingsError> {
        self.list().into_iter().map(|value| Ok((value, value.text()?))).collect()
    }

    /// Its table, which messages call by a name.
    ///
    /// # Errors
    /// If it is none.
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
    /// The table of a whole document.
    pub fn root(table: &'t DeTable<'t>) -> Table<'t> {
        Table { table, name: String::new() }
    }

    /// Its keys with their values, each of which must be one of `known`, if any are given.
    ///
    /// # Errors
    /// If a key is none of them.
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

    /// A key with the names of the tables around it.
    pub fn full(&self, key: &str) -> String {
        if self.name.is_empty() { key.to_owned() } else { format!("{}.{key}", self.name) }
    }
}

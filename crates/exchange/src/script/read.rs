//! Reads a script, and holds it against the contract.

use std::path::Path;
use std::time::Duration;

use charter_check::SettingsError;
use charter_contract::{Contract, OperationId, Side};
use charter_schema::Engine;
use charter_session::settings::table::{Table, Value, parse};

use super::tables::{Tables, Then, Uses};
use super::{Lost, Reply, Rule, Script};
use crate::terms::read::{Reader, condition, times, truth, whole_number};
use crate::terms::{Condition, Filling};

const KEYS: [&str; 17] = [
    "operation",
    "port",
    "when",
    "times",
    "after",
    "values",
    "fault",
    "anyway",
    "refuse",
    "not-implemented",
    "lose",
    "add",
    "row",
    "rows",
    "where",
    "columns",
    "remove",
];

/// What stands in a wire path for the number of each row.
pub(crate) const EACH: &str = "[*]";

impl Script {
    /// Reads the text of a script for a contract. Files that it names are found from `folder`.
    ///
    /// # Errors
    /// The first thing in it that makes no sense, or that the contract does not have.
    pub fn read(
        text: &str,
        folder: &Path,
        contract: &Contract,
        engine: &Engine<'_>,
    ) -> Result<Script, SettingsError> {
        let document = parse(text, "write [[reply]], and below it operation = \"…\"")?;
        let mut script = Script::default();
        let mut tables = Tables::default();
        let mut replies = Vec::new();
        let entries = Table::root(document.get_ref()).entries(&["users", "access", "tables", "reply"])?;
        let reader = Reader { contract, engine };
        for (_, value) in entries.iter().filter(|(key, _)| *key == "users") {
            script.access.read_users(*value)?;
        }
        for (_, value) in entries.iter().filter(|(key, _)| *key == "access") {
            for one in value.list() {
                script.access.read_entry(one, &reader)?;
            }
        }
        for (_, value) in entries.iter().filter(|(key, _)| *key == "tables") {
            tables.of_others(*value, folder)?;
        }
        for (_, value) in entries.iter().filter(|(key, _)| *key == "reply") {
            for one in value.list() {
                let entries = one.table("reply")?.entries(&KEYS)?;
                tables.take(&entries)?;
                replies.push((one, entries));
            }
        }
        script.files.clone_from(&tables.files);
        let rules = Rules { reader, tables };
        for (at, (whole, entries)) in replies.into_iter().enumerate() {
            script.rules.push(rules.rule(at + 1, entries, whole)?);
        }
        Ok(script)
    }
}

/// Reads replies.
struct Rules<'r> {
    reader: Reader<'r>,
    tables: Tables,
}

/// What the keys of a reply say of what is replied.
#[derive(Default)]
struct Said<'t> {
    fault: Option<Value<'t>>,
    values: Option<Value<'t>>,
    anyway: bool,
    refuse: Option<Value<'t>>,
    not_implemented: bool,
    lose: Option<Value<'t>>,
    add: Option<Value<'t>>,
    row: Option<Value<'t>>,
    rows: Option<Value<'t>>,
    wanted: Option<Value<'t>>,
    columns: Option<Value<'t>>,
    remove: Option<Value<'t>>,
}

impl Rules<'_> {
    fn rule(
        &self,
        number: usize,
        entries: Vec<(&str, Value<'_>)>,
        whole: Value<'_>,
    ) -> Result<Rule, SettingsError> {
        let of = |wanted: &str| entries.iter().find(|(key, _)| *key == wanted).map(|(_, value)| *value);
        let operation = of("operation")
            .ok_or_else(|| whole.wrong("the reply names no operation", "add operation = \"…\""))
            .and_then(|value| self.reader.operation(value, of("port")))?;
        let mut rule = Rule {
            number,
            operation,
            port: None,
            conditions: Vec::new(),
            times: None,
            answered: Default::default(),
            after: (Duration::ZERO, Duration::ZERO),
            reply: Reply::NotImplemented,
            uses: None,
        };
        let mut said = Said::default();
        for (key, value) in entries {
            match key {
                "port" => rule.port = Some(self.reader.port(operation, value)?),
                "when" => rule.conditions = self.conditions(operation, value)?,
                "times" => rule.times = Some(whole_number(value, "requests")?),
                "after" => rule.after = times(value)?,
                "values" => said.values = Some(value),
                "fault" => said.fault = Some(value),
                "anyway" => said.anyway = truth(value)?,
                "refuse" => said.refuse = Some(value),
                "not-implemented" => said.not_implemented = truth(value)?,
                "lose" => said.lose = Some(value),
                "add" => said.add = Some(value),
                "row" => said.row = Some(value),
                "rows" => said.rows = Some(value),
                "where" => said.wanted = Some(value),
                "columns" => said.columns = Some(value),
                "remove" => said.remove = Some(value),
                _ => {}
            }
        }
        rule.uses = self.uses(operation, &said)?;
        rule.reply = self.reply(operation, &said)?;
        Ok(rule)
    }

    /// What a reply does with rows.
    fn uses(&self, operation: OperationId, said: &Said<'_>) -> Result<Option<Uses>, SettingsError> {
        let named = [said.add, said.row, said.rows];
        let Some(value) = named.into_iter().flatten().next() else {
            return match said.wanted.or(said.columns).or(said.remove) {
                Some(value) => Err(value.wrong(
                    "this is of a row, and no table is named",
                    "write add = \"TABLE\", row = \"TABLE\" or rows = \"TABLE\"",
                )),
                None => Ok(None),
            };
        };
        if let Some(value) = named.into_iter().flatten().nth(1) {
            return Err(
                value.wrong("a reply has to do with one table", "write add, row or rows, one of them")
            );
        }
        let table = value.text()?;
        let fillings = |value: Option<Value<'_>>, name: &str| {
            let Some(value) = value else { return Ok(Vec::new()) };
            let mut found = Vec::new();
            for (column, value) in value.table(name)?.entries(&[])? {
                self.tables.has(table, column, value)?;
                found.push((column.to_owned(), self.filling(operation, value, &value.plain()?, said)?));
            }
            Ok(found)
        };
        let wanted = fillings(said.wanted, "where")?;
        let columns = fillings(said.columns, "columns")?;
        if said.add.is_some() {
            return Ok(Some(Uses::Add { table: table.to_owned(), columns }));
        }
        let from = self.tables.from(value)?;
        if said.rows.is_some() {
            return Ok(Some(Uses::All { table: from, wanted }));
        }
        let then = match said.remove.map(truth).transpose()? {
            Some(true) => Then::Remove,
            _ if columns.is_empty() => Then::Stay,
            _ => Then::Change(columns),
        };
        Ok(Some(Uses::One { table: from, wanted, then }))
    }

    fn conditions(
        &self,
        operation: OperationId,
        value: Value<'_>,
    ) -> Result<Vec<(String, Condition)>, SettingsError> {
        let table = value.table("when")?;
        let mut found = Vec::new();
        for (path, value) in table.entries(&[])? {
            self.reader
                .leads(operation, Side::Input, path)
                .map_err(|error| value.wrong(error.message, error.help))?;
            found.push((path.to_owned(), condition(value, &plain)?));
        }
        Ok(found)
    }

    fn reply(&self, operation: OperationId, said: &Said<'_>) -> Result<Reply, SettingsError> {
        if said.not_implemented {
            return Ok(Reply::NotImplemented);
        }
        if let Some(value) = said.lose {
            return match value.text()? {
                "reply" => Ok(Reply::Lost(Lost::Whole)),
                "half" => Ok(Reply::Lost(Lost::Half)),
                other => {
                    Err(value.wrong(format!("\"{other}\" cannot be lost"), "write \"reply\" or \"half\""))
                }
            };
        }
        if let Some(value) = said.refuse {
            return Ok(Reply::Refused(self.filling(operation, value, value.text()?, said)?));
        }
        let fault = said
            .fault
            .map(|value| self.reader.fault(operation, value, "refuse = \"…\" has one of SOAP itself"))
            .transpose()?;
        let side = fault.map_or(Side::Output, Side::Fault);
        let mut values = Vec::new();
        if let Some(value) = said.values {
            for (path, value) in value.table("values")?.entries(&[])? {
                let first = path.replace(EACH, "[1]");
                if first != path && said.rows.is_none() {
                    return Err(value.wrong(
                        format!("\"{path}\" is of each row, and no rows are spoken of"),
                        "add rows = \"TABLE\"",
                    ));
                }
                if !said.anyway {
                    self.reader
                        .leads(operation, side, &first)
                        .map_err(|error| value.wrong(error.message, error.help))?;
                }
                values.push((
                    self.below(operation, side, path),
                    self.filling(operation, value, &value.plain()?, said)?,
                ));
            }
        }
        Ok(Reply::Values { fault, values, anyway: said.anyway })
    }

    /// A wire path without the name of the body element.
    fn below(&self, operation: OperationId, side: Side, path: &str) -> String {
        let below = self.reader.below_body(operation, side, &path.replace(EACH, "[1]"));
        // What was taken off stood at the beginning.
        let taken = path.replace(EACH, "[1]").len() - below.len();
        path[taken..].to_owned()
    }

    fn filling(
        &self,
        operation: OperationId,
        value: Value<'_>,
        text: &str,
        said: &Said<'_>,
    ) -> Result<Filling, SettingsError> {
        let filling = self.reader.filling(operation, value, text, &|_| false)?;
        let Some(table) = said.add.or(said.row).or(said.rows) else {
            return match filling.needs_row() {
                true => Err(value.wrong(
                    "this is of a row, and no table is named",
                    "write add = \"TABLE\", row = \"TABLE\" or rows = \"TABLE\"",
                )),
                false => Ok(filling),
            };
        };
        for column in filling.columns() {
            self.tables.has(table.text()?, column, value)?;
        }
        Ok(filling)
    }
}

fn plain(value: Value<'_>) -> Result<String, SettingsError> {
    value.plain()
}

//! Reads a script, and holds it against the contract.

use std::time::Duration;

use charter_check::SettingsError;
use charter_contract::{Contract, OperationId, Side};
use charter_message::values::{ByPath, ValueError};
use charter_schema::Engine;
use charter_session::settings::table::{Table, Value, parse};
use charter_source::nearest;

use super::{Condition, Filling, Lost, Reply, Rule, Script};

const KEYS: [&str; 11] = [
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
];

impl Script {
    /// Reads the text of a script for a contract.
    ///
    /// # Errors
    /// The first thing in it that makes no sense, or that the contract does not have.
    pub fn read(text: &str, contract: &Contract, engine: &Engine<'_>) -> Result<Script, SettingsError> {
        let document = parse(text, "write [[reply]], and below it operation = \"…\"")?;
        let mut script = Script::default();
        let reader = Reader { contract, engine };
        for (_, value) in Table::root(document.get_ref()).entries(&["reply"])? {
            for (at, one) in value.list().into_iter().enumerate() {
                script.rules.push(reader.rule(at + 1, &one.table("reply")?, one)?);
            }
        }
        Ok(script)
    }
}

struct Reader<'r> {
    contract: &'r Contract,
    engine: &'r Engine<'r>,
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
}

impl Reader<'_> {
    fn rule(&self, number: usize, table: &Table<'_>, whole: Value<'_>) -> Result<Rule, SettingsError> {
        let entries = table.entries(&KEYS)?;
        let operation = entries.iter().find(|(key, _)| *key == "operation").map(|(_, value)| *value);
        let operation = operation
            .ok_or_else(|| whole.wrong("the reply names no operation", "add operation = \"…\""))
            .and_then(|value| self.operation(value))?;
        let mut rule = Rule {
            number,
            operation,
            port: None,
            conditions: Vec::new(),
            times: None,
            answered: Default::default(),
            after: (Duration::ZERO, Duration::ZERO),
            reply: Reply::NotImplemented,
        };
        let mut said = Said::default();
        for (key, value) in entries {
            match key {
                "port" => rule.port = Some(self.port(operation, value)?),
                "when" => rule.conditions = self.conditions(operation, value)?,
                "times" => rule.times = Some(whole_number(value)?),
                "after" => rule.after = after(value)?,
                "values" => said.values = Some(value),
                "fault" => said.fault = Some(value),
                "anyway" => said.anyway = truth(value)?,
                "refuse" => said.refuse = Some(value),
                "not-implemented" => said.not_implemented = truth(value)?,
                "lose" => said.lose = Some(value),
                _ => {}
            }
        }
        rule.reply = self.reply(operation, &said)?;
        Ok(rule)
    }

    fn operation(&self, value: Value<'_>) -> Result<OperationId, SettingsError> {
        let name = value.text()?;
        let all = || self.contract.operations();
        all().find(|(_, operation)| *operation.name.text == *name).map(|(id, _)| id).ok_or_else(|| {
            let help = match nearest(name, all().map(|(_, operation)| &*operation.name.text)) {
                Some(near) => format!("did you mean \"{near}\"?"),
                None => "charter show lists the operations of the contract".to_owned(),
            };
            value.wrong(format!("there is no operation \"{name}\""), help)
        })
    }

    fn port(&self, operation: OperationId, value: Value<'_>) -> Result<String, SettingsError> {
        let name = value.text()?;
        let ports = self.contract.bound(operation).filter_map(|bound| bound.port);
        let names: Vec<&str> = ports.map(|port| &*self.contract.port(port).name.text).collect();
        if names.contains(&name) {
            return Ok(name.to_owned());
        }
        let help = match nearest(name, names.iter().copied()) {
            Some(near) => format!("did you mean \"{near}\"?"),
            None => format!("there is {}", names.join(", ")),
        };
        Err(value.wrong(format!("no port \"{name}\" offers the operation"), help))
    }

    fn conditions(
        &self,
        operation: OperationId,
        value: Value<'_>,
    ) -> Result<Vec<(String, Condition)>, SettingsError> {
        let table = value.table("when")?;
        let mut found = Vec::new();
        for (path, value) in table.entries(&[])? {
            self.leads(operation, Side::Input, path)
                .map_err(|error| value.wrong(error.message, error.help))?;
            found.push((path.to_owned(), condition(value)?));
        }
        Ok(found)
    }

    /// Whether messages of a side hold something at a wire path.
    fn leads(&self, operation: OperationId, side: Side, path: &str) -> Result<(), ValueError> {
        match self.contract.wire_shape(operation, side, None) {
            Ok(shape) => ByPath::of(self.engine, &shape).leads(path),
            // What has no shape is said when somebody asks for it.
            Err(_) => Ok(()),
        }
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
            return Ok(Reply::Refused(self.filling(operation, value, value.text()?)?));
        }
        let fault = said.fault.map(|value| self.fault(operation, value)).transpose()?;
        let side = fault.map_or(Side::Output, Side::Fault);
        let mut values = Vec::new();
        if let Some(value) = said.values {
            for (path, value) in value.table("values")?.entries(&[])? {
                if !said.anyway {
                    self.leads(operation, side, path)
                        .map_err(|error| value.wrong(error.message, error.help))?;
                }
                values.push((path.to_owned(), self.filling(operation, value, &value.plain()?)?));
            }
        }
        Ok(Reply::Values { fault, values, anyway: said.anyway })
    }

    fn fault(&self, operation: OperationId, value: Value<'_>) -> Result<usize, SettingsError> {
        let name = value.text()?;
        let faults = &self.contract.operation(operation).faults;
        let names: Vec<&str> =
            faults.iter().map(|fault| fault.name.as_ref().map_or("", |name| &name.text)).collect();
        names.iter().position(|known| *known == name).ok_or_else(|| {
            let help = match nearest(name, names.iter().copied()) {
                Some(near) => format!("did you mean \"{near}\"?"),
                None if names.is_empty() => {
                    "the operation has no faults; refuse = \"…\" has one of SOAP itself".into()
                }
                None => format!("there is {}", names.join(", ")),
            };
            value.wrong(format!("the operation has no fault \"{name}\""), help)
        })
    }

    /// A text whose braces make sense for requests of an operation.
    fn filling(
        &self,
        operation: OperationId,
        value: Value<'_>,
        text: &str,
    ) -> Result<Filling, SettingsError> {
        let help =
            "in braces stand a wire path of the request, now, today, counter, random or uuid; {{ is a brace";
        let filling = Filling::parse(text).map_err(|error| value.wrong(error.to_string(), help))?;
        for path in filling.paths() {
            self.leads(operation, Side::Input, path)
                .map_err(|error| value.wrong(format!("{}: {}", error.path, error.message), error.help))?;
        }
        Ok(filling)
    }
}

fn condition(value: Value<'_>) -> Result<Condition, SettingsError> {
    if value.value.as_table().is_none() {
        return Ok(Condition::Is(value.plain()?));
    }
    let known = ["is", "not", "one-of", "above", "below", "begins", "there"];
    let mut all = Vec::new();
    for (key, value) in value.table("when")?.entries(&known)? {
        all.push(match key {
            "is" => Condition::Is(value.plain()?),
            "not" => Condition::Not(value.plain()?),
            "one-of" => {
                Condition::OneOf(value.list().into_iter().map(Value::plain).collect::<Result<_, _>>()?)
            }
            "above" => Condition::Above(number(value)?),
            "below" => Condition::Below(number(value)?),
            "begins" => Condition::Begins(value.text()?.to_owned()),
            _ => Condition::There(truth(value)?),
        });
    }
    Ok(Condition::All(all))
}

fn truth(value: Value<'_>) -> Result<bool, SettingsError> {
    value.value.as_bool().ok_or_else(|| value.wrong("this is neither true nor false", "write true or false"))
}

fn number(value: Value<'_>) -> Result<f64, SettingsError> {
    value.plain()?.parse().map_err(|_| value.wrong("this is no number", "write one such as 12.5"))
}

fn whole_number(value: Value<'_>) -> Result<u64, SettingsError> {
    let number = value.plain()?.parse().ok().filter(|number| *number > 0);
    number.ok_or_else(|| value.wrong("this is no number of requests", "write a whole number from 1 on"))
}

/// A time, or a range of times: `200ms`, `1s..3s`.
fn after(value: Value<'_>) -> Result<(Duration, Duration), SettingsError> {
    let text = value.text()?;
    let (from, to) = text.split_once("..").unwrap_or((text, text));
    match (duration(from), duration(to)) {
        (Some(from), Some(to)) if from <= to => Ok((from, to)),
        _ => Err(value.wrong(
            format!("\"{text}\" is no time"),
            "write it like \"200ms\", \"3s\" or \"1s..3s\"; an hour at most",
        )),
    }
}

fn duration(text: &str) -> Option<Duration> {
    let text = text.trim();
    let (number, factor) = match text.strip_suffix("ms") {
        Some(number) => (number, 1),
        None => (text.strip_suffix('s')?, 1000),
    };
    let millis = number.trim().parse::<u64>().ok()?.checked_mul(factor)?;
    (millis <= 3_600_000).then(|| Duration::from_millis(millis))
}

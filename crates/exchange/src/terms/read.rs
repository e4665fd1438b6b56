//! Reads what scripts and rehearsals have in common, and holds it against the contract.

use std::time::Duration;

use charter_check::SettingsError;
use charter_contract::{Bound, Contract, OperationId, Side};
use charter_message::values::{ByPath, ValueError};
use charter_schema::Engine;
use charter_session::settings::table::Value;
use charter_source::nearest;

use super::{Condition, Filling, Like};

/// The words of conditions.
const CONDITIONS: [&str; 10] =
    ["is", "not", "one-of", "above", "below", "between", "begins", "like", "there", "varies"];

/// Reads on behalf of a contract.
#[derive(Clone, Copy)]
pub(crate) struct Reader<'r> {
    pub contract: &'r Contract,
    pub engine: &'r Engine<'r>,
}

impl Reader<'_> {
    /// An operation, by its name; of several port types that have one of that name, the one that a port offers.
    pub fn operation(&self, value: Value<'_>, port: Option<Value<'_>>) -> Result<OperationId, SettingsError> {
        let name = value.text()?;
        let all = || self.contract.operations();
        let named = || all().filter(|(_, operation)| *operation.name.text == *name).map(|(id, _)| id);
        let port = port.and_then(|port| port.text().ok());
        let offered = |id: &OperationId| {
            self.contract.bound(*id).any(|bound| port.is_none_or(|port| port == self.offered_by(&bound)))
        };
        named().find(offered).or_else(|| named().next()).ok_or_else(|| {
            let help = match nearest(name, all().map(|(_, operation)| &*operation.name.text)) {
                Some(near) => format!("did you mean \"{near}\"?"),
                None => "charter show lists the operations of the contract".to_owned(),
            };
            value.wrong(format!("there is no operation \"{name}\""), help)
        })
    }

    /// A port that offers an operation, by its name; a binding that no port uses, by its own.
    pub fn port(&self, operation: OperationId, value: Value<'_>) -> Result<String, SettingsError> {
        let name = value.text()?;
        let names: Vec<&str> = self.contract.bound(operation).map(|bound| self.offered_by(&bound)).collect();
        if names.contains(&name) {
            return Ok(name.to_owned());
        }
        let help = match nearest(name, names.iter().copied()) {
            Some(near) => format!("did you mean \"{near}\"?"),
            None if names.is_empty() => "no binding of the contract offers it".to_owned(),
            None => format!("there is {}", names.join(", ")),
        };
        Err(value.wrong(format!("no port \"{name}\" offers the operation"), help))
    }

    /// The name of the port by which an operation is offered; of the binding, if there is none.
    pub fn offered_by(&self, bound: &Bound<'_>) -> &str {
        self.contract.offered_by(bound.port, bound.binding)
    }

    /// A fault of an operation, by its name: its number.
    pub fn fault(
        &self,
        operation: OperationId,
        value: Value<'_>,
        without: &str,
    ) -> Result<usize, SettingsError> {
        let name = value.text()?;
        let faults = &self.contract.operation(operation).faults;
        let names: Vec<&str> =
            faults.iter().map(|fault| fault.name.as_ref().map_or("", |name| &name.text)).collect();
        names.iter().position(|known| *known == name).ok_or_else(|| {
            let help = match nearest(name, names.iter().copied()) {
                Some(near) => format!("did you mean \"{near}\"?"),
                None if names.is_empty() => format!("the operation has no faults; {without}"),
                None => format!("there is {}", names.join(", ")),
            };
            value.wrong(format!("the operation has no fault \"{name}\""), help)
        })
    }

    /// Whether messages of a side hold something at a wire path.
    pub fn leads(&self, operation: OperationId, side: Side, path: &str) -> Result<(), ValueError> {
        match self.contract.wire_shape(operation, side, None) {
            Ok(shape) => ByPath::of(self.engine, &shape).leads(path),
            // What has no shape is said when somebody asks for it.
            Err(_) => Ok(()),
        }
    }

    /// A text whose braces make sense for requests of an operation; `named` says which words in braces are names.
    pub fn filling(
        &self,
        operation: OperationId,
        value: Value<'_>,
        text: &str,
        named: &dyn Fn(&str) -> bool,
    ) -> Result<Filling, SettingsError> {
        let help =
            "in braces stand a wire path of the request, now, today, counter, random or uuid; {{ is a brace";
        let filling = Filling::parse(text).map_err(|error| value.wrong(error.to_string(), help))?;
        for path in filling.paths().filter(|path| !named(path)) {
            self.leads(operation, Side::Input, path)
                .map_err(|error| value.wrong(format!("{}: {}", error.path, error.message), error.help))?;
        }
        Ok(filling)
    }
}

/// A condition: a value, or a table of words that must all hold. `text` reads what a value is compared with.
pub(crate) fn condition<T>(
    value: Value<'_>,
    text: &dyn Fn(Value<'_>) -> Result<T, SettingsError>,
) -> Result<Condition<T>, SettingsError> {
    if value.value.as_table().is_none() {
        return Ok(Condition::Is(text(value)?));
    }
    let mut all = Vec::new();
    for (key, value) in value.table("when")?.entries(&CONDITIONS)? {
        all.push(match key {
            "is" => Condition::Is(text(value)?),
            "not" => Condition::Not(text(value)?),
            "one-of" => Condition::OneOf(value.list().into_iter().map(text).collect::<Result<_, _>>()?),
            "above" => Condition::Above(number(value)?),
            "below" => Condition::Below(number(value)?),
            "between" => between(value)?,
            "begins" => Condition::Begins(text(value)?),
            "like" => {
                let like = Like::parse(value.text()?);
                Condition::Like(like.map_err(|error| {
                    value.wrong(format!("this is no pattern: {error}"), "patterns are those of XML Schema")
                })?)
            }
            "varies" if truth(value)? => Condition::Varies,
            "varies" => {
                return Err(value.wrong("what does not vary is equal to something", "write its value"));
            }
            _ => Condition::There(truth(value)?),
        });
    }
    Ok(if all.len() == 1 { all.remove(0) } else { Condition::All(all) })
}

fn between<T>(value: Value<'_>) -> Result<Condition<T>, SettingsError> {
    match value.list().as_slice() {
        [from, to] => {
            let (from, to) = (number(*from)?, number(*to)?);
            (from <= to)
                .then_some(Condition::Between(from, to))
                .ok_or_else(|| value.wrong("nothing lies between these", "write the smaller one first"))
        }
        _ => Err(value.wrong("these are not two numbers", "write them like [9, 12.5]")),
    }
}

/// True or false.
pub(crate) fn truth(value: Value<'_>) -> Result<bool, SettingsError> {
    value.value.as_bool().ok_or_else(|| value.wrong("this is neither true nor false", "write true or false"))
}

fn number(value: Value<'_>) -> Result<f64, SettingsError> {
    value.plain()?.parse().map_err(|_| value.wrong("this is no number", "write one such as 12.5"))
}

/// So many of something.
pub(crate) fn whole_number(value: Value<'_>, of: &str) -> Result<u64, SettingsError> {
    let number = value.plain()?.parse().ok().filter(|number| *number > 0);
    number.ok_or_else(|| value.wrong(format!("this is no number of {of}"), "write a whole number from 1 on"))
}

/// A time: `200ms`, `3s`.
pub(crate) fn time(value: Value<'_>) -> Result<Duration, SettingsError> {
    let text = value.text()?;
    duration(text).ok_or_else(|| {
        value.wrong(format!("\"{text}\" is no time"), "write it like \"200ms\" or \"3s\"; an hour at most")
    })
}

/// A time, or a range of times: `200ms`, `1s..3s`.
pub(crate) fn times(value: Value<'_>) -> Result<(Duration, Duration), SettingsError> {
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

/// A time as it is written: `200ms`, `3s`, `5m`; an hour at most.
pub fn duration(text: &str) -> Option<Duration> {
    let text = text.trim();
    let (number, factor) = match (text.strip_suffix("ms"), text.strip_suffix('m')) {
        (Some(number), _) => (number, 1),
        (None, Some(number)) => (number, 60_000),
        (None, None) => (text.strip_suffix('s')?, 1000),
    };
    let millis = number.trim().parse::<u64>().ok()?.checked_mul(factor)?;
    (millis <= 3_600_000).then(|| Duration::from_millis(millis))
}

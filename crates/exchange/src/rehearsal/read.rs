//! Reads a rehearsal, and holds it against the contract.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

use charter_check::SettingsError;
use charter_contract::{Contract, OperationId, Side, WireShape};
use charter_message::Size;
use charter_message::values::{ByPath, steps};
use charter_schema::Engine;
use charter_session::Rows;
use charter_session::settings::table::{Table, Value, parse};
use serde_json::Value as Json;

use super::{Content, Expected, Kind, Planned, Rehearsal};
use crate::exchange::offered_by;
use crate::terms::read::{Reader, condition, time, truth};
use crate::terms::{Condition, Filling};

const KEYS: [&str; 15] = [
    "name",
    "operation",
    "port",
    "size",
    "seed",
    "values",
    "file",
    "message",
    "rows",
    "anyway",
    "keep",
    "fault",
    "refused",
    "reply",
    "within",
];

/// What a column of a row stands for, if it is no value of the request.
pub(super) const REPLY: &str = "reply ";

impl Rehearsal {
    /// Reads the text of a rehearsal for a contract. Files that it names are found from `folder`, and `variables` are names that
    /// it may speak of from its beginning.
    ///
    /// # Errors
    /// The first thing in it that makes no sense, or that the contract does not have.
    pub fn read(
        text: &str,
        folder: &Path,
        (contract, engine): (&Contract, &Engine<'_>),
        variables: &BTreeMap<String, Json>,
    ) -> Result<Rehearsal, SettingsError> {
        let document = parse(text, "write [[exchange]], and below it operation = \"…\"")?;
        let mut rehearsal = Rehearsal { variables: variables.clone(), ..Rehearsal::default() };
        let kept = variables.keys().cloned().collect();
        let mut planner = Planner { reader: Reader { contract, engine }, folder, kept };
        for (key, value) in Table::root(document.get_ref()).entries(&["about", "exchange"])? {
            if key == "about" {
                rehearsal.about = Some(value.text()?.to_owned());
                continue;
            }
            for (at, one) in value.list().into_iter().enumerate() {
                rehearsal.exchanges.push(planner.planned(at + 1, &one.table("exchange")?, one)?);
            }
        }
        Ok(rehearsal)
    }

    /// An exchange of each operation by each port, with a typical request.
    pub fn of_all(contract: &Contract, port: Option<&str>) -> Rehearsal {
        let mut exchanges = Vec::new();
        for (id, operation) in contract.operations() {
            for bound in contract.bound(id) {
                let Ok(shape) = contract.shape_of(id, Side::Input, bound) else { continue };
                let by = offered_by(contract, &shape);
                if operation.input.is_none()
                    || shape.other_transport().is_some()
                    || port.is_some_and(|port| *port != *by)
                {
                    continue;
                }
                exchanges.push(Planned {
                    number: exchanges.len() + 1,
                    name: format!("{} by {by}", operation.name.text),
                    shape,
                    content: Content::Values {
                        size: Size::Typical,
                        file: None,
                        set: Vec::new(),
                        anyway: false,
                    },
                    rows: None,
                    keep: Vec::new(),
                    expected: Expected { kind: Kind::Reply, values: Vec::new(), within: None, valid: true },
                });
            }
        }
        Rehearsal { exchanges, ..Rehearsal::default() }
    }
}

/// Reads exchanges, one after the other.
struct Planner<'p> {
    reader: Reader<'p>,
    folder: &'p Path,
    /// The names by which values were kept so far.
    kept: BTreeSet<String>,
}

/// What the keys of an exchange say, as far as it depends on others.
#[derive(Default)]
struct Said<'t> {
    name: Option<Value<'t>>,
    port: Option<Value<'t>>,
    size: Option<Size>,
    values: Option<Value<'t>>,
    file: Option<Value<'t>>,
    message: Option<Value<'t>>,
    rows: Option<Value<'t>>,
    anyway: bool,
    keep: Option<Value<'t>>,
    fault: Option<Value<'t>>,
    refused: bool,
    reply: Option<Value<'t>>,
    within: Option<Value<'t>>,
}

impl Planner<'_> {
    fn planned(
        &mut self,
        number: usize,
        table: &Table<'_>,
        whole: Value<'_>,
    ) -> Result<Planned, SettingsError> {
        let entries = table.entries(&KEYS)?;
        let of = |wanted: &str| entries.iter().find(|(key, _)| *key == wanted).map(|(_, value)| *value);
        let operation = of("operation")
            .ok_or_else(|| whole.wrong("the exchange names no operation", "add operation = \"…\""))?;
        let operation = (self.reader.operation(operation, of("port"))?, operation);
        let said = said(&entries)?;
        let port = said.port.map(|value| self.reader.port(operation.0, value)).transpose()?;
        let shape = self.shape(operation, port.as_deref())?;
        let own = &self.reader.contract.operation(operation.0).name.text;
        let name = said.name.map(Value::text).transpose()?.map_or_else(|| own.to_string(), str::to_owned);
        let rows = said.rows.map(|value| self.rows(operation.0, value)).transpose()?;
        let content = self.content(&shape, &said)?;
        let kind = match said.fault {
            Some(value) => Kind::Fault(self.reader.fault(
                operation.0,
                value,
                "refused = true expects one of SOAP itself",
            )?),
            None if said.refused => Kind::Refused,
            None => Kind::Reply,
        };
        let expected = self.expected(operation.0, kind, &said)?;
        let side = kind.side();
        let mut keep = Vec::new();
        if let Some(value) = said.keep {
            for (name, value) in value.table("keep")?.entries(&[])? {
                keep.push((name.to_owned(), self.path(operation.0, side, value.text()?, value)?));
            }
        }
        self.kept.extend(keep.iter().map(|(name, _)| name.clone()));
        Ok(Planned { number, name, shape, content, rows, keep, expected })
    }

    /// The shape of the request by a port, or by the first that HTTP reaches.
    fn shape(
        &self,
        (operation, value): (OperationId, Value<'_>),
        port: Option<&str>,
    ) -> Result<WireShape, SettingsError> {
        let contract = self.reader.contract;
        let mut reason = "no binding offers it".to_owned();
        for bound in contract.bound(operation) {
            if port.is_some_and(|port| port != self.reader.offered_by(&bound)) {
                continue;
            }
            match contract.shape_of(operation, Side::Input, bound) {
                Ok(shape) if shape.other_transport().is_none() => return Ok(shape),
                Ok(_) => "no port that HTTP reaches offers it".clone_into(&mut reason),
                Err(error) => reason = error.to_string(),
            }
        }
        let message = format!("no request of this operation can be sent: {reason}");
        Err(value.wrong(message, "charter check says what is wrong with the contract"))
    }

    fn content(&self, shape: &WireShape, said: &Said<'_>) -> Result<Content, SettingsError> {
        if let Some(value) = said.message {
            return Ok(Content::Octets(self.octets(value)?));
        }
        let file = said.file.map(|value| {
            let octets = self.octets(value)?;
            serde_json::from_slice(&octets).map_err(|error| {
                value.wrong(format!("the file is not JSON: {error}"), "charter message --as json writes one")
            })
        });
        let mut set = Vec::new();
        if let Some(value) = said.values {
            let by_path = ByPath::of(self.reader.engine, shape);
            for (path, value) in value.table("values")?.entries(&[])? {
                if !said.anyway {
                    by_path.leads(path).map_err(|error| value.wrong(error.message, error.help))?;
                }
                set.push((path.to_owned(), self.filling(shape.operation, value, &value.plain()?)?));
            }
        }
        Ok(Content::Values {
            size: said.size.unwrap_or(Size::Typical),
            file: file.transpose()?,
            set,
            anyway: said.anyway,
        })
    }

    fn expected(
        &self,
        operation: OperationId,
        kind: Kind,
        said: &Said<'_>,
    ) -> Result<Expected, SettingsError> {
        let mut values: Vec<(String, Condition<Filling>)> = Vec::new();
        if let Some(value) = said.reply {
            for (path, value) in value.table("reply")?.entries(&[])? {
                let text = |value: Value<'_>| self.filling(operation, value, &value.plain()?);
                let condition = condition(value, &text)?;
                values.push((self.path(operation, kind.side(), path, value)?, condition));
            }
        }
        let within = said.within.map(time).transpose()?;
        Ok(Expected { kind, values, within, valid: true })
    }

    fn filling(
        &self,
        operation: OperationId,
        value: Value<'_>,
        text: &str,
    ) -> Result<Filling, SettingsError> {
        let filling = self.reader.filling(operation, value, text, &|name| self.kept.contains(name))?;
        match filling.needs_row() {
            true => Err(value.wrong(
                "there are no rows here",
                "a column is spoken of by its head, as the value of the request that it is",
            )),
            false => Ok(filling),
        }
    }

    /// A wire path of what comes, without the name of the body element.
    fn path(
        &self,
        operation: OperationId,
        side: Option<Side>,
        path: &str,
        value: Value<'_>,
    ) -> Result<String, SettingsError> {
        let Some(side) = side else {
            return Err(value.wrong(
                "a fault of SOAP itself has no values",
                "leave it out, or expect a fault of the contract: fault = \"…\"",
            ));
        };
        self.reader.leads(operation, side, path).map_err(|error| value.wrong(error.message, error.help))?;
        Ok(self.reader.below_body(operation, side, path))
    }

    fn rows(&self, operation: OperationId, value: Value<'_>) -> Result<Rows, SettingsError> {
        let rows = Rows::read(&self.octets(value)?)
            .ok_or_else(|| value.wrong("the file is empty", "its first row names wire paths"))?;
        for head in &rows.heads {
            let led = match head.strip_prefix(REPLY) {
                Some(path) => self.reader.leads(operation, Side::Output, path.trim()),
                None => self.reader.leads(operation, Side::Input, head),
            };
            led.map_err(|error| {
                value.wrong(format!("column \"{head}\" of the file: {}", error.message), error.help)
            })?;
        }
        Ok(rows)
    }

    /// What stands in a file that is named.
    fn octets(&self, value: Value<'_>) -> Result<Vec<u8>, SettingsError> {
        let path: PathBuf = self.folder.join(value.text()?);
        let text = path.to_string_lossy();
        charter_session::read::bytes(&text, charter_source::Limits::default()).map_err(|error| {
            let help =
                charter_session::read::advice(&error, "files are found from the folder of the rehearsal");
            value.wrong(format!("the file cannot be read: {error}"), help)
        })
    }
}

fn said<'t>(entries: &[(&'t str, Value<'t>)]) -> Result<Said<'t>, SettingsError> {
    let mut said = Said::default();
    for (key, value) in entries.iter().copied() {
        match key {
            "name" => said.name = Some(value),
            "port" => said.port = Some(value),
            "size" => said.size = Some(size(value)?),
            "seed" => {
                let seed = value.plain()?.parse();
                let seed = seed.map_err(|_| value.wrong("this is no seed", "write a whole number"))?;
                said.size = Some(Size::Random(seed));
            }
            "values" => said.values = Some(value),
            "file" => said.file = Some(value),
            "message" => said.message = Some(value),
            "rows" => said.rows = Some(value),
            "anyway" => said.anyway = truth(value)?,
            "keep" => said.keep = Some(value),
            "fault" => said.fault = Some(value),
            "refused" => said.refused = truth(value)?,
            "reply" => said.reply = Some(value),
            "within" => said.within = Some(value),
            _ => {}
        }
    }
    Ok(said)
}

fn size(value: Value<'_>) -> Result<Size, SettingsError> {
    match value.text()? {
        "least" => Ok(Size::Least),
        "typical" => Ok(Size::Typical),
        "most" => Ok(Size::Most),
        other => {
            Err(value.wrong(format!("\"{other}\" is no size"), "write \"least\", \"typical\" or \"most\""))
        }
    }
}

impl Reader<'_> {
    /// A wire path without the name of the body element, which may stand before it.
    pub fn below_body(&self, operation: OperationId, side: Side, path: &str) -> String {
        let Ok(shape) = self.contract.wire_shape(operation, side, None) else { return path.to_owned() };
        let body = shape
            .contents()
            .iter()
            .map(|content| content.name(self.engine.schemas()).local.to_string())
            .last();
        let (Ok(steps), Some(body)) = (steps(path), body) else { return path.to_owned() };
        let rest = path.strip_prefix(&format!("{body}/"));
        match rest.filter(|_| steps.len() > 1 && steps[0].key == body) {
            // The element may hold one of its own name.
            Some(rest) if ByPath::of(self.engine, &shape).leads(rest).is_ok() => rest.to_owned(),
            _ => path.to_owned(),
        }
    }
}

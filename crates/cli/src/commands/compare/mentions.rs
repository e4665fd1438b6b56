//! What a consumer record names that the version which it knows does not have: a slip there would hide what breaks.

use charter_compare::FAULT;
use charter_contract::{Contract, Direction};
use charter_message::matching::Matcher;
use charter_message::values;
use charter_schema::Engine;
use charter_source::nearest;

use super::record::{Mention, Mentioned, Record};

/// What each record names in vain, in a line each. If `several` contracts are compared, a record may well be about
/// operations and ports of another one.
pub fn unknown(records: &[Record], old: &Contract, several: bool) -> Vec<String> {
    let engine = Engine::new(&old.files, &old.schemas);
    let known = Known { old, engine: &engine, matcher: Matcher::new(old, &engine, 1), several };
    let mentions = records.iter().flat_map(|record| &record.mentions);
    let line = |mention: &Mention| Some(format!("{} {}", mention.at, known.lacks(&mention.what)?));
    mentions.filter_map(line).collect()
}

struct Known<'k> {
    old: &'k Contract,
    engine: &'k Engine<'k>,
    matcher: Matcher<'k>,
    several: bool,
}

impl Known<'_> {
    /// What the old version lacks, if it does.
    fn lacks(&self, what: &Mentioned) -> Option<String> {
        let names = |what: &str, name: &str, all: &[&str]| -> Option<String> {
            let lacking = !self.several && !all.contains(&name);
            lacking.then(|| format!("the old version has no {what} \"{name}\"{}", hint(name, all)))
        };
        match what {
            Mentioned::Port(name) => {
                let all: Vec<&str> = self.old.ports().map(|(_, port)| &*port.name.text).collect();
                names("port", name, &all)
            }
            Mentioned::Operation(name) => names("operation", name, &self.operations()),
            Mentioned::Path { operation, sent, path } => {
                // An operation that is not there was told once.
                let there = self.operations().contains(&operation.as_str());
                there.then(|| self.leads_nowhere(operation, *sent, path)).flatten()
            }
        }
    }

    fn operations(&self) -> Vec<&str> {
        self.old.operations().map(|(_, operation)| &*operation.name.text).collect()
    }

    fn leads_nowhere(&self, operation: &str, sent: bool, path: &str) -> Option<String> {
        let verb = if sent { "sends" } else { "reads" };
        let told = |why: &str| Some(format!("{operation} {verb} \"{path}\": {why}"));
        let fault = path.strip_prefix(FAULT).and_then(|rest| rest.strip_prefix('/'));
        let (fault, below) = match fault {
            Some(rest) => {
                let (name, below) = rest.split_once('/').unwrap_or((rest, ""));
                (Some(name), below)
            }
            None => (None, path),
        };
        let of_operation = self.matcher.known().iter().map(|known| &known.shape).filter(|shape| {
            let direction = if sent { Direction::Request } else { Direction::Reply };
            *self.old.operation(shape.operation).name.text == *operation && shape.direction == direction
        });
        let shapes: Vec<_> = of_operation.collect();
        let faults: Vec<&str> =
            shapes.iter().filter_map(|shape| shape.fault()).map(|fault| &*fault.name).collect();
        if let Some(name) = fault
            && !faults.contains(&name)
        {
            return told(&format!("it has no fault \"{name}\"{}", hint(name, &faults)));
        }
        let mut wrong = None;
        for shape in shapes.iter().filter(|shape| shape.fault().map(|fault| &*fault.name) == fault) {
            if below.is_empty() && fault.is_some() {
                return None;
            }
            match values::leads(self.engine, shape, below) {
                Ok(()) => return None,
                Err(error) => wrong = wrong.or(Some(error)),
            }
        }
        match wrong {
            Some(error) => told(&format!("{} in the old version; {}", error.message, error.help)),
            None => told("the old version has no such message"),
        }
    }
}

fn hint(name: &str, all: &[&str]) -> String {
    nearest(name, all.iter().copied()).map_or_else(String::new, |near| format!("; did you mean \"{near}\"?"))
}

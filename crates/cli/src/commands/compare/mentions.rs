//! What a consumer record names that the version which it knows does not have: a slip there would hide what breaks.

use std::cell::OnceCell;

use charter_compare::FAULT;
use charter_contract::{Contract, Direction, WireShape};
use charter_message::matching::Matcher;
use charter_message::values::ByPath;
use charter_schema::Engine;
use charter_source::{Map, Set, Suggestions};

use super::record::{Mention, Mentioned, Record, goes_by};

/// What each record names in vain, in a line each. If `several` contracts are compared, a record may well be about
/// operations and ports of another one.
pub fn unknown(records: &[&Record], old: &Contract, several: bool) -> Vec<String> {
    let engine = Engine::new(&old.files, &old.schemas);
    let matcher = Matcher::new(old, &engine, 1);
    let mut known = Known::of(old, &engine, &matcher, several);
    let mentions = records.iter().flat_map(|record| &record.mentions);
    let line = |mention: &Mention| Some(format!("{} {}", mention.at, known.lacks(&mention.what)?));
    mentions.filter_map(line).collect()
}

/// What the old version has, by the names that records give it. There may be thousands of both.
struct Known<'k> {
    ports: Names<'k>,
    operations: Names<'k>,
    shapes: Map<(&'k str, Direction), Vec<Shape<'k>>>,
    contract: &'k Contract,
    engine: &'k Engine<'k>,
    several: bool,
    suggestions: Suggestions,
}

/// Characters of a path that are shown.
const LONGEST: usize = 200;

/// Names in their order, and each of them.
struct Names<'k> {
    in_order: Vec<&'k str>,
    each: Set<&'k str>,
}

impl<'k> Names<'k> {
    fn of(names: impl Iterator<Item = &'k str>) -> Names<'k> {
        let in_order: Vec<&str> = names.collect();
        let each = in_order.iter().copied().collect();
        Names { in_order, each }
    }
}

/// A wire shape, and the values of its messages when they are first asked for.
struct Shape<'k> {
    shape: &'k WireShape,
    values: OnceCell<ByPath<'k>>,
}

impl<'k> Known<'k> {
    fn of(old: &'k Contract, engine: &'k Engine<'k>, matcher: &'k Matcher<'k>, several: bool) -> Known<'k> {
        let mut shapes: Map<(&str, Direction), Vec<Shape<'k>>> = Map::default();
        for shape in matcher.known().iter().map(|known| &known.shape) {
            let name = &*old.operation(shape.operation).name.text;
            let of = shapes.entry((name, shape.direction)).or_default();
            of.push(Shape { shape, values: OnceCell::new() });
        }
        Known {
            ports: Names::of(old.ports().map(|(_, port)| &*port.name.text)),
            operations: Names::of(old.operations().map(|(_, operation)| &*operation.name.text)),
            shapes,
            contract: old,
            engine,
            several,
            suggestions: Suggestions::default(),
        }
    }

    /// What the old version lacks, if it does.
    fn lacks(&mut self, what: &Mentioned) -> Option<String> {
        let (kind, all, name) = match what {
            Mentioned::Contract(name) => {
                let other = !self.several && !goes_by(self.contract, name);
                return other.then(|| format!("the record is about \"{name}\", which this contract is not"));
            }
            Mentioned::Port(name) => ("port", &self.ports, name),
            Mentioned::Operation(name) => ("operation", &self.operations, name),
            Mentioned::Path { operation, sent, path } => {
                // An operation that is not there was told once.
                let there = self.operations.each.contains(operation.as_str());
                return there.then(|| self.leads_nowhere(operation, *sent, path)).flatten();
            }
        };
        let lacking = !self.several && !all.each.contains(name.as_str());
        lacking.then(|| {
            let hint = hint(self.suggestions.nearest(name, all.in_order.iter().copied()));
            format!("the old version has no {kind} \"{name}\"{hint}")
        })
    }

    fn leads_nowhere(&mut self, operation: &str, sent: bool, path: &str) -> Option<String> {
        let verb = if sent { "sends" } else { "reads" };
        let mut shown: String = path.chars().take(LONGEST).collect();
        if shown.len() < path.len() {
            shown.push('…');
        }
        let told = |why: &str| Some(format!("{operation} {verb} \"{shown}\": {why}"));
        let fault = path.strip_prefix(FAULT).and_then(|rest| rest.strip_prefix('/'));
        let (fault, below) = match fault {
            Some(rest) => {
                let (name, below) = rest.split_once('/').unwrap_or((rest, ""));
                (Some(name), below)
            }
            None => (None, path),
        };
        let direction = if sent { Direction::Request } else { Direction::Reply };
        let shapes = self.shapes.get(&(operation, direction)).map_or(&[][..], Vec::as_slice);
        let mut faults = shapes.iter().filter_map(|it| it.shape.fault()).map(|fault| &*fault.name);
        if let Some(name) = fault
            && !faults.clone().any(|known| known == name)
        {
            let hint = hint(self.suggestions.nearest(name, &mut faults));
            return told(&format!("it has no fault \"{name}\"{hint}"));
        }
        let mut wrong = None;
        for it in shapes.iter().filter(|it| it.shape.fault().map(|fault| &*fault.name) == fault) {
            if below.is_empty() && fault.is_some() {
                return None;
            }
            match it.values.get_or_init(|| ByPath::of(self.engine, it.shape)).leads(below) {
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

fn hint(near: Option<&str>) -> String {
    near.map_or_else(String::new, |near| format!("; did you mean \"{near}\"?"))
}

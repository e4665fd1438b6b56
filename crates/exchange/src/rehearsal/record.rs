//! Writes down what came, as what is expected from then on. A person looks over it.

use std::collections::BTreeMap;

use charter_contract::Contract;
use serde_json::Value as Json;
use toml_edit::{DocumentMut, Formatted, InlineTable, Item, Table, Value};

use super::{Kind, Rehearsal, Rehearsed};
use crate::Outcome;

/// Texts longer than this are expected to be there, whatever they are.
const LONGEST: usize = 200;

/// What a recorded rehearsal begins with.
#[derive(Debug, Clone, Copy)]
pub enum Beginning<'b> {
    /// The text of a rehearsal: all of it stays, but for what is expected.
    Text(&'b str),
    /// Nothing: an exchange for each of the rehearsal, with its operation and port.
    Nothing,
}

/// The text of a rehearsal that expects what came. What differs between two runs is marked as such.
///
/// # Errors
/// If the text that it begins with is not TOML, which it was a moment ago.
pub fn recorded(
    beginning: Beginning<'_>,
    contract: &Contract,
    rehearsal: &Rehearsal,
    first: &[Rehearsed],
    second: &[Rehearsed],
) -> Result<String, toml_edit::TomlError> {
    let mut document = match beginning {
        Beginning::Text(text) => text.parse::<DocumentMut>()?,
        Beginning::Nothing => DocumentMut::new(),
    };
    if matches!(beginning, Beginning::Nothing) {
        let mut all = toml_edit::ArrayOfTables::new();
        for one in first {
            let mut table = Table::new();
            table["name"] = toml_edit::value(&one.name);
            table["operation"] = toml_edit::value(&*one.operation);
            table["port"] = toml_edit::value(&*one.port);
            all.push(table);
        }
        document["exchange"] = Item::ArrayOfTables(all);
    }
    let Some(Item::ArrayOfTables(tables)) = document.get_mut("exchange") else {
        return Ok(document.to_string());
    };
    for (planned, table) in rehearsal.exchanges.iter().zip(tables.iter_mut()) {
        let of = |all: &[Rehearsed]| -> Vec<Rehearsed> {
            all.iter().filter(|one| one.number == planned.number && one.exchange.is_some()).cloned().collect()
        };
        let (first, second) = (of(first), of(second));
        // What did not come is not expected from now on.
        let Some(one) = first.first() else { continue };
        let name = one.fault.and_then(|fault| Kind::Fault(fault).name(contract, planned.shape.operation));
        table.remove("fault");
        table.remove("refused");
        match (one.exchange.as_ref().map(|exchange| exchange.about.outcome), name) {
            (_, Some(name)) => table["fault"] = toml_edit::value(name),
            (Some(Outcome::Fault | Outcome::Refused), None) => table["refused"] = toml_edit::value(true),
            _ => {}
        }
        put(table, &first, &second);
    }
    Ok(document.to_string())
}

/// Puts the values that came into an exchange, where it does not say anything of them already.
fn put(table: &mut Table, first: &[Rehearsed], second: &[Rehearsed]) {
    let Some(values) = first.first().and_then(|one| one.values.as_ref()) else {
        table.remove("reply");
        return;
    };
    let known = match table.remove("reply") {
        Some(Item::Table(known)) => known,
        Some(Item::Value(Value::InlineTable(known))) => known.into_table(),
        _ => Table::new(),
    };
    let mut reply = Table::new();
    for (path, value) in leaves(values) {
        let all = first.iter().chain(second).filter_map(|one| one.values.as_ref());
        let text = |value: &Json| crate::terms::text(value);
        let same = all.clone().all(|values| crate::terms::at(values, &path).and_then(text) == text(&value));
        let item = match known.get(&path) {
            // What a person has said is not said again, unless it is a mere value, which may be another now.
            Some(said) if said.as_str().is_none_or(|said| said.contains('{')) && !is_plain(said) => {
                said.clone()
            }
            _ if same => plain(&value),
            _ => marked("varies"),
        };
        reply.insert(&path, item);
    }
    if reply.is_empty() {
        return;
    }
    table.insert("reply", Item::Table(reply));
}

/// Whether an item is a value and no condition.
fn is_plain(item: &Item) -> bool {
    item.is_integer() || item.is_float() || item.is_bool()
}

/// A value as it is written.
fn plain(value: &Json) -> Item {
    match value {
        Json::Bool(truth) => toml_edit::value(*truth),
        Json::Number(number) => match number.to_string().parse::<i64>() {
            Ok(whole) => toml_edit::value(whole),
            Err(_) => match number.to_string().parse::<f64>() {
                // As long as nothing is rounded.
                Ok(float) if float.to_string() == number.to_string() => toml_edit::value(float),
                _ => toml_edit::value(number.to_string()),
            },
        },
        Json::String(text) if text.chars().count() > LONGEST => marked("there"),
        // Braces would be filled.
        Json::String(text) => toml_edit::value(text.replace('{', "{{").replace('}', "}}")),
        _ => marked("there"),
    }
}

/// `{ varies = true }`, or another word.
fn marked(word: &str) -> Item {
    let mut table = InlineTable::new();
    table.insert(word, Value::Boolean(Formatted::new(true)));
    Item::Value(Value::InlineTable(table))
}

/// The single values in others, with their wire paths.
pub(super) fn leaves(values: &Json) -> Vec<(String, Json)> {
    let mut found = Vec::new();
    add(values, String::new(), &mut found);
    found
}

fn add(value: &Json, path: String, found: &mut Vec<(String, Json)>) {
    match value {
        Json::Object(object) => {
            for (key, value) in object {
                let below = match key.as_str() {
                    // Attributes stand beside a list, which is one value all the same.
                    "$text" if value.is_array() => {
                        found.extend(as_text(value, path.clone()));
                        continue;
                    }
                    "$text" => path.clone(),
                    "$content" => {
                        in_order(value, &path, found);
                        continue;
                    }
                    // What has no wire path of its own.
                    "$type" | "$nil" => continue,
                    key if path.is_empty() => key.to_owned(),
                    key => format!("{path}/{key}"),
                };
                add(value, below, found);
            }
        }
        // One of several that is a list itself has no paths of its own in it.
        Json::Array(_) if path.ends_with(']') => found.extend(as_text(value, path)),
        Json::Array(several) => {
            for (number, value) in several.iter().enumerate() {
                add(value, format!("{path}[{}]", number + 1), found);
            }
        }
        Json::Null => {}
        single => found.push((path, single.clone())),
    }
}

/// A list as one value.
fn as_text(value: &Json, path: String) -> Option<(String, Json)> {
    crate::terms::text(value).map(|text| (path, Json::String(text)))
}

/// Elements whose order counts: each goes by its name, and by its number among those of its name.
fn in_order(content: &Json, path: &str, found: &mut Vec<(String, Json)>) {
    let elements = || content.as_array().into_iter().flatten().filter_map(Json::as_object).flatten();
    let mut all: BTreeMap<&str, usize> = BTreeMap::new();
    elements().for_each(|(name, _)| *all.entry(name).or_default() += 1);
    let mut seen: BTreeMap<&str, usize> = BTreeMap::new();
    for (name, value) in elements() {
        let number = seen.entry(name).or_default();
        *number += 1;
        let below = if path.is_empty() { name.clone() } else { format!("{path}/{name}") };
        // A list has a number too, so that it is not taken for several.
        let numbered = all[name.as_str()] > 1 || value.is_array();
        let below = if numbered { format!("{below}[{number}]") } else { below };
        match value {
            Json::Array(_) => found.extend(as_text(value, below)),
            value => add(value, below, found),
        }
    }
}

#[cfg(test)]
mod tests {
    use serde_json::json;

    use super::*;

    #[test]
    fn leaves_have_their_wire_paths() {
        let values = json!({
            "boarding": { "@state": "booked", "pilot": { "$text": "Ines", "@rank": 2 }, "step": [{ "n": 1 }, { "n": null }] },
            "plain": [true],
            "lists": [["en", "nl"], ["fr"]],
            "scopes": { "@rule": "whole", "$text": ["north", "south"] },
            "dimensions": { "$content": [{ "draught": 9.4 }, { "mark": { "n": 1 } }, "ft", { "mark": { "n": 2 } }, { "sides": ["port", "bow"] }] }
        });
        let paths: Vec<String> = leaves(&values).into_iter().map(|(path, _)| path).collect();
        let expected = [
            "boarding/@state",
            "boarding/pilot",
            "boarding/pilot/@rank",
            "boarding/step[1]/n",
            "plain[1]",
            "lists[1]",
            "lists[2]",
            "scopes/@rule",
            "scopes",
            "dimensions/draught",
            "dimensions/mark[1]/n",
            "dimensions/mark[2]/n",
            "dimensions/sides[1]",
        ];
        assert_eq!(paths, expected);
        // Each is found where it is said to be.
        for (path, value) in leaves(&values) {
            let there = crate::terms::at(&values, &path).and_then(crate::terms::text);
            assert_eq!(there, crate::terms::text(&value), "{path}");
        }
    }
}

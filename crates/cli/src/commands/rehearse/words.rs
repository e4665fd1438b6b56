//! Words for what is not as expected.

use charter_contract::Contract;
use charter_exchange::Outcome;
use charter_exchange::rehearsal::{Condition, Kind, NotAsked, Rehearsed, Unlike};
use serde_json::Value as Json;

use crate::commands::send::shown_time;

/// How much of a value is shown.
const LONGEST: usize = 120;

/// What is not as expected, in one line.
pub fn of(contract: &Contract, one: &Rehearsed, unlike: &Unlike) -> String {
    match unlike {
        Unlike::NotAsked(why) => not_asked(one, why),
        Unlike::Unsent(error) => error.to_string(),
        Unlike::Kind { expected, came, fault, words } => {
            let wanted = kind(contract, one, *expected);
            let name = fault.map(Kind::Fault).map(|fault| kind(contract, one, fault));
            let came = name.unwrap_or_else(|| outcome(*came).to_owned());
            format!("expected {wanted}, came {came}{}", said(words.as_deref()))
        }
        Unlike::Value { path, expected, found } => {
            format!("{path}: expected {}, came {}", condition(expected), value(found.as_ref()))
        }
        Unlike::Invalid(finding) => format!("{}: {}", finding.path, finding.message),
        Unlike::Late { within, took } => {
            format!("it took {}, and {} is allowed", shown_time(*took), shown_time(*within))
        }
        Unlike::Swallowed { rule, path, words } => format!("{path}: {words} ({rule}), and it was taken"),
        Unlike::Beside { path, here, there } => {
            format!("{path}: here {}, there {}", value(here.as_ref()), value(there.as_ref()))
        }
        Unlike::OtherKind { here, there, words } => {
            format!("here {}, there {}{}", outcome(*here), outcome(*there), said(words.as_deref()))
        }
    }
}

/// Why there is no request.
fn not_asked(one: &Rehearsed, why: &NotAsked) -> String {
    match why {
        NotAsked::Row(words) => format!("row {}: {words}", one.row.unwrap_or_default()),
        NotAsked::NotMade(words) => format!("the request cannot be made: {words}"),
        NotAsked::NotKept(name) => format!("\"{name}\" was not kept: see the exchange that is to keep it"),
    }
}

/// The wire path that it is about, if there is one.
pub fn path(unlike: &Unlike) -> Option<&str> {
    match unlike {
        Unlike::Value { path, .. } | Unlike::Swallowed { path, .. } | Unlike::Beside { path, .. } => {
            Some(path)
        }
        Unlike::Invalid(finding) => Some(&finding.path),
        _ => None,
    }
}

/// What was expected, and what came, where both are values.
pub fn pair(unlike: &Unlike) -> Option<(String, String)> {
    match unlike {
        Unlike::Value { expected, found, .. } => Some((condition(expected), value(found.as_ref()))),
        Unlike::Beside { here, there, .. } => Some((value(here.as_ref()), value(there.as_ref()))),
        _ => None,
    }
}

/// The word for a kind of thing that is not as expected, as programs know it.
pub fn kind_word(unlike: &Unlike) -> &'static str {
    match unlike {
        Unlike::NotAsked(NotAsked::Row(_)) => "row",
        Unlike::NotAsked(_) => "not-made",
        Unlike::Unsent(_) => "unsent",
        Unlike::Kind { .. } | Unlike::OtherKind { .. } => "outcome",
        Unlike::Value { .. } | Unlike::Beside { .. } => "value",
        Unlike::Invalid(_) => "invalid",
        Unlike::Late { .. } => "late",
        Unlike::Swallowed { .. } => "swallowed",
    }
}

fn said(words: Option<&str>) -> String {
    words.map_or(String::new(), |words| format!(": {}", short(words)))
}

fn kind(contract: &Contract, one: &Rehearsed, kind: Kind) -> String {
    let operation = contract.operations().find(|(_, operation)| operation.name.text == one.operation);
    let name = operation.and_then(|(id, _)| kind.name(contract, id));
    match (kind, name) {
        (Kind::Fault(_), Some(name)) => format!("the fault {name}"),
        (Kind::Reply, _) => "a reply".to_owned(),
        _ => "a refusal".to_owned(),
    }
}

/// What came, in words.
pub fn outcome(outcome: Outcome) -> &'static str {
    match outcome {
        Outcome::Replied => "a reply",
        Outcome::Taken => "an empty reply",
        Outcome::Fault => "a fault of SOAP itself",
        Outcome::Refused => "a refusal without a fault",
        Outcome::Other => "something else",
        Outcome::Lost => "nothing",
    }
}

fn condition(condition: &Condition) -> String {
    match condition {
        Condition::Is(text) => quoted(text),
        Condition::Not(text) => format!("anything but {}", quoted(text)),
        Condition::OneOf(all) => {
            let all: Vec<String> = all.iter().map(|text| quoted(text)).collect();
            format!("one of {}", all.join(", "))
        }
        Condition::Above(bound) => format!("more than {bound}"),
        Condition::Below(bound) => format!("less than {bound}"),
        Condition::Between(from, to) => format!("from {from} to {to}"),
        Condition::Begins(start) => format!("what begins with {}", quoted(start)),
        Condition::Like(like) => format!("what is like {}", quoted(&like.text)),
        Condition::There(true) | Condition::Varies => "any value".to_owned(),
        Condition::There(false) => "none".to_owned(),
        Condition::All(all) => {
            let all: Vec<String> = all.iter().map(self::condition).collect();
            all.join(" and ")
        }
    }
}

fn value(value: Option<&Json>) -> String {
    match value {
        None => "none".to_owned(),
        Some(Json::String(text)) => quoted(text),
        Some(other) => short(&other.to_string()),
    }
}

fn quoted(text: &str) -> String {
    format!("\"{}\"", short(text))
}

fn short(text: &str) -> String {
    match text.char_indices().nth(LONGEST) {
        Some((end, _)) => format!("{}…", &text[..end]),
        None => text.to_owned(),
    }
}

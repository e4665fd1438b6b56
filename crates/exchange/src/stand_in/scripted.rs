//! Replies by a script.

use std::collections::BTreeMap;

use charter_contract::{Side, WireShape};
use charter_message::http::HttpMessage;
use charter_message::values::{self, ByPath, ValueError};
use charter_message::{Size, sample};
use serde_json::Value as Json;

use super::fault::Code;
use super::replying::{Refusing, bound, taken};
use super::rows::{self, Spoken, Wrong};
use super::typical::Made;
use super::{Answered, Answering, put};
use crate::script::{EACH, Reply, Rule};
use crate::store::Store;
use crate::terms::{Filling, Given, Lone, Row};
use crate::{About, Finding, Outcome};

/// What is answered to a request with these values, if the script says so.
pub(super) fn answer(
    refusing: &Refusing<'_>,
    store: Option<&Store>,
    shape: &WireShape,
    values: &Json,
    about: &About,
) -> Option<Answered> {
    let port = about.port.as_deref().unwrap_or_default();
    let named = BTreeMap::new();
    for rule in refusing.answering.script.replies(shape.operation, port, values) {
        let before = rows::given(values, &named, None, 1);
        match rows::are_there(rule, &before, store) {
            Ok(()) => {}
            Err(Wrong::None) => continue,
            Err(Wrong::Because(reason)) => return Some(failed(refusing, rule, &reason, about)),
        }
        let Some(count) = rule.take() else { continue };
        let spoken = match rows::used(rule, &Given { count, ..before }, store) {
            Ok(spoken) => spoken,
            // Somebody else was quicker.
            Err(Wrong::None) => continue,
            Err(Wrong::Because(reason)) => return Some(failed(refusing, rule, &reason, about)),
        };
        let given = rows::given(values, &named, spoken.one.as_ref(), count);
        return Some(replied(refusing, shape, rule, &With { given, spoken: &spoken }, about));
    }
    None
}

/// What a reply is filled from.
struct With<'w> {
    given: Given<'w>,
    spoken: &'w Spoken,
}

/// The reply of a rule.
fn replied(
    refusing: &Refusing<'_>,
    shape: &WireShape,
    rule: &Rule,
    with: &With<'_>,
    about: &About,
) -> Answered {
    let mut about = about.clone();
    about.outcome = Outcome::Fault;
    let mut lost = None;
    let reply = match &rule.reply {
        Reply::NotImplemented => {
            let name = &refusing.answering.contract.operation(shape.operation).name.text;
            Ok(refusing.fault(Code::Receiver, format!("the operation {name} is not implemented"), &[]))
        }
        Reply::Refused(words) => words
            .filled(&with.given)
            .map(|words| refusing.fault(Code::Receiver, words, &[]))
            .map_err(|error| error.to_string()),
        Reply::Lost(how) => {
            let reply = taken(refusing, shape, &mut about);
            about.outcome = Outcome::Lost;
            lost = Some(*how);
            Ok(reply)
        }
        // Whoever is told nothing needs no reply.
        Reply::Values { fault: None, .. } if nothing_is_replied(refusing, shape) => {
            Ok(taken(refusing, shape, &mut about))
        }
        Reply::Values { fault, values: set, anyway } => {
            if fault.is_none() {
                about.outcome = Outcome::Replied;
            }
            let side = fault.map_or(Side::Output, Side::Fault);
            made(refusing, shape, side, &Set { with, set, anyway: *anyway })
        }
    };
    let reply = reply.unwrap_or_else(|reason| wrong(refusing, rule, &reason, &mut about));
    Answered { reply, about, after: rule.delay(), lost }
}

/// Whether an operation has no output.
fn nothing_is_replied(refusing: &Refusing<'_>, shape: &WireShape) -> bool {
    refusing.answering.contract.operation(shape.operation).output.is_none()
}

fn failed(refusing: &Refusing<'_>, rule: &Rule, reason: &str, about: &About) -> Answered {
    let mut about = about.clone();
    let reply = wrong(refusing, rule, reason, &mut about);
    Answered::at_once(reply, about)
}

/// What a script that cannot be followed comes to: a fault, and a word about it.
fn wrong(refusing: &Refusing<'_>, rule: &Rule, reason: &str, about: &mut About) -> HttpMessage {
    about.outcome = Outcome::Fault;
    let words = format!("reply {} of the script cannot be made: {reason}", rule.number);
    about.reply.push(Finding::of_whole("message-unreadable", words.clone(), "correct the script"));
    refusing.fault(Code::Receiver, words, &[])
}

/// A fault of an operation as it is typical, if one can be made.
pub(super) fn fault(refusing: &Refusing<'_>, shape: &WireShape, fault: usize) -> Option<HttpMessage> {
    let (values, named) = (Json::Null, BTreeMap::new());
    let given = rows::given(&values, &named, None, 1);
    let with = With { given, spoken: &Spoken::default() };
    made(refusing, shape, Side::Fault(fault), &Set { with: &with, set: &[], anyway: false }).ok()
}

/// What a reply is made of.
struct Set<'s> {
    with: &'s With<'s>,
    /// What is set, by wire path.
    set: &'s [(String, Filling)],
    anyway: bool,
}

/// A reply with values, over those of a sample.
fn made(
    refusing: &Refusing<'_>,
    request: &WireShape,
    side: Side,
    set: &Set<'_>,
) -> Result<HttpMessage, String> {
    let Answering { contract, engine, .. } = refusing.answering;
    let offered = bound(contract, request).ok_or("no binding offers the operation")?;
    let shape = contract.shape_of(request.operation, side, offered).map_err(|error| error.to_string())?;
    let content = match set.set {
        [] => sample(engine, &shape, Size::Typical).map_err(|error| error.to_string())?,
        _ => {
            let mut all = Json::clone(&*refusing.answering.typical.values(engine, &shape)?);
            filled(&ByPath::of(engine, &shape), &mut all, set)?;
            let read = if set.anyway { values::read_anyway } else { values::read };
            read(engine, &shape, &all).map_err(|mut errors| errors.pop().map_or(String::new(), in_words))?
        }
    };
    Ok(Made::of(contract, engine, shape, content).to(contract, engine, refusing.asked))
}

/// Sets all values of a reply.
fn filled(by_path: &ByPath<'_>, all: &mut Json, set: &Set<'_>) -> Result<(), String> {
    let each: Vec<&(String, Filling)> = set.set.iter().filter(|(path, _)| path.contains(EACH)).collect();
    let rows = set.with.spoken.all.as_deref().unwrap_or_default();
    let mut spread: Vec<&str> =
        each.iter().filter_map(|(path, _)| path.split_once(EACH)).map(|(before, _)| before).collect();
    spread.dedup();
    for path in spread {
        put::spread(all, path, rows.len());
    }
    for (path, filling) in set.set {
        if !path.contains(EACH) {
            one(by_path, all, path, filling, &set.with.given)?;
            continue;
        }
        for (at, row) in rows.iter().enumerate() {
            let path = path.replacen(EACH, &format!("[{}]", at + 1), 1);
            let row = Row { number: row.number, columns: &row.columns };
            one(by_path, all, &path, filling, &Given { row: Some(row), ..set.with.given })?;
        }
    }
    Ok(())
}

/// Sets one value.
fn one(
    by_path: &ByPath<'_>,
    all: &mut Json,
    path: &str,
    filling: &Filling,
    given: &Given<'_>,
) -> Result<(), String> {
    match filling.lone() {
        // A value with all that is in it, as it was sent or kept.
        Some(Lone::Column) => match filling.value(given).map_err(|error| error.to_string())? {
            Some(value) => put::put(all, path, value),
            // What was not sent when the row was kept is not replied.
            None => put::take(all, path),
        },
        Some(Lone::Value) => match filling.value(given).map_err(|error| error.to_string())? {
            Some(value) => put::put(all, path, value),
            None => return Err(filling.filled(given).err().map_or(String::new(), |error| error.to_string())),
        },
        None => {
            let text = filling.filled(given).map_err(|error| error.to_string())?;
            by_path.set(all, path, &text).map_err(in_words)?;
        }
    }
    Ok(())
}

fn in_words(error: ValueError) -> String {
    format!("{}: {}", error.path, error.message)
}

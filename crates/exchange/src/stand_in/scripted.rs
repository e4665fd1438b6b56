//! Replies by a script.

use charter_contract::{Side, WireShape};
use charter_message::http::HttpMessage;
use charter_message::values::{self, ByPath, ValueError};
use charter_message::{Size, sample};
use serde_json::Value as Json;

use super::fault::Code;
use super::replying::{Refusing, bound, taken};
use super::typical::Made;
use super::{Answered, Answering};
use crate::script::{Filling, NotFilled, Reply, Rule};
use crate::{About, Finding, Outcome};

/// What is answered to a request with these values, if the script says so.
pub(super) fn answer(
    refusing: &Refusing<'_>,
    shape: &WireShape,
    values: &Json,
    about: &About,
) -> Option<Answered> {
    let Answering { script, contract, .. } = refusing.answering;
    let port = about.port.as_deref().unwrap_or_default();
    let (rule, count) = script.reply(shape.operation, port, values)?;
    let mut about = about.clone();
    about.outcome = Outcome::Fault;
    let mut lost = None;
    let reply = match &rule.reply {
        Reply::NotImplemented => {
            let name = &contract.operation(shape.operation).name.text;
            Ok(refusing.fault(Code::Receiver, format!("the operation {name} is not implemented"), &[]))
        }
        Reply::Refused(words) => words
            .filled(values, count)
            .map(|words| refusing.fault(Code::Receiver, words, &[]))
            .map_err(|error| error.to_string()),
        Reply::Lost(how) => {
            let reply = taken(refusing, shape, &mut about);
            about.outcome = Outcome::Lost;
            lost = Some(*how);
            Ok(reply)
        }
        Reply::Values { fault, values: set, anyway } => {
            if fault.is_none() {
                about.outcome = Outcome::Replied;
            }
            let side = fault.map_or(Side::Output, Side::Fault);
            let with = With { values, count, set, anyway: *anyway };
            made(refusing, shape, side, &with)
        }
    };
    let reply = reply.unwrap_or_else(|reason| wrong(refusing, rule, &reason, &mut about));
    Some(Answered { reply, about, after: rule.delay(), lost })
}

/// What a script that cannot be followed comes to: a fault, and a word about it.
fn wrong(refusing: &Refusing<'_>, rule: &Rule, reason: &str, about: &mut About) -> HttpMessage {
    about.outcome = Outcome::Fault;
    let words = format!("reply {} of the script cannot be made: {reason}", rule.number);
    about.reply.push(Finding::of_whole("message-unreadable", words.clone(), "correct the script"));
    refusing.fault(Code::Receiver, words, &[])
}

/// What a reply is made of.
struct With<'w> {
    /// The values of the request.
    values: &'w Json,
    /// The so-many-th that this reply answers.
    count: u64,
    /// What is set, by wire path.
    set: &'w [(String, Filling)],
    anyway: bool,
}

/// A reply with values, over those of a sample.
fn made(
    refusing: &Refusing<'_>,
    request: &WireShape,
    side: Side,
    with: &With<'_>,
) -> Result<HttpMessage, String> {
    let Answering { contract, engine, .. } = refusing.answering;
    let offered = bound(contract, request).ok_or("no binding offers the operation")?;
    let shape = contract.shape_of(request.operation, side, offered).map_err(|error| error.to_string())?;
    let content = sample(engine, &shape, Size::Typical).map_err(|error| error.to_string())?;
    let content = match with.set {
        [] => content,
        set => {
            let mut all = values::write(engine, &shape, &content);
            let by_path = ByPath::of(engine, &shape);
            for (path, filling) in set {
                let text =
                    filling.filled(with.values, with.count).map_err(|error: NotFilled| error.to_string())?;
                by_path.set(&mut all, path, &text).map_err(in_words)?;
            }
            let read = if with.anyway { values::read_anyway } else { values::read };
            read(engine, &shape, &all).map_err(|mut errors| errors.pop().map_or(String::new(), in_words))?
        }
    };
    Ok(Made::of(contract, engine, shape, content).to(contract, engine, refusing.asked))
}

fn in_words(error: ValueError) -> String {
    format!("{}: {}", error.path, error.message)
}

//! What an exchange with a real provider is by the contract: both sides, and whether they belong together.

use std::sync::Arc;

use charter_contract::{Contract, WireShape};
use charter_message::captured::Captured;
use charter_message::http::HttpMessage;
use charter_message::matching::{Matched, Matcher};
use charter_message::{WireContent, values};
use charter_schema::Engine;
use charter_source::looks_like_html;
use serde_json::Value as Json;

use crate::exchange::offered_by;
use crate::{About, Finding, Outcome, findings};

/// A reply as the contract knows it.
#[derive(Debug, Clone)]
pub(crate) struct KnownReply {
    /// What fills it.
    pub content: WireContent,
    /// Its shape, among those of the matcher.
    pub shape: usize,
}

/// What an exchange is: `reply` is what came, if anything did.
pub fn judged(
    contract: &Contract,
    matcher: &Matcher<'_>,
    request: &HttpMessage,
    reply: Option<&HttpMessage>,
) -> About {
    judged_with(contract, matcher, request, reply, &mut |_, _| ())
}

/// The same, with the reply as the contract knows it.
pub(crate) fn judged_whole(
    contract: &Contract,
    matcher: &Matcher<'_>,
    request: &HttpMessage,
    reply: Option<&HttpMessage>,
) -> (About, Option<KnownReply>) {
    let mut known = None;
    let about = judged_with(contract, matcher, request, reply, &mut |captured, matched| {
        let shape = matched.shape.filter(|_| !matched.nearest);
        let content = matcher.wire_content(captured, matched);
        known = shape.zip(content).map(|(shape, content)| KnownReply { content, shape });
    });
    (about, known)
}

/// Judges an exchange; `seen` sees the reply before what was found in it is taken out.
fn judged_with(
    contract: &Contract,
    matcher: &Matcher<'_>,
    request: &HttpMessage,
    reply: Option<&HttpMessage>,
    seen: &mut dyn FnMut(&Captured, &Matched),
) -> About {
    let captured = Captured::received("request", request.clone());
    let matched = matcher.judge(&captured);
    let shape = known(matcher, &matched);
    let name = |shape: &WireShape| contract.operation(shape.operation).name.text.clone();
    let mut about = About {
        outcome: Outcome::Lost,
        operation: shape.map(name),
        port: shape.map(|shape| offered_by(contract, shape)),
        request: findings(&captured, matched),
        reply: Vec::new(),
    };
    // Whoever reads the contract, or a page, asks for no operation.
    if shape.is_none() && matches!(request.start.method(), Some("GET" | "HEAD")) {
        return About {
            outcome: if reply.is_some() { Outcome::Other } else { Outcome::Lost },
            ..About::default()
        };
    }
    let Some(reply) = reply else { return about };
    let captured = Captured::received("reply", reply.clone());
    about.outcome = outcome(&captured, reply);
    let expected = shape;
    // What is silent is right where nothing is to be said.
    let silent = captured.file.root().is_none() && captured.octets.is_empty() && captured.fault.is_none();
    if silent && about.outcome == Outcome::Taken {
        if expected.is_some_and(|shape| contract.operation(shape.operation).output.is_some()) {
            let help = "the operation has an output, which is missing";
            about.reply.push(Finding::of_whole("envelope-missing", "the reply is empty", help));
        }
        return about;
    }
    if let Some(words) = no_message(&captured, reply) {
        about.reply.push(Finding::of_whole("envelope-missing", words, "is this the address of the service?"));
        return about;
    }
    let matched = match expected {
        Some(shape) => matcher.judge_reply(&captured, shape),
        None => matcher.judge(&captured),
    };
    if let (Some(asked), Some(came)) = (expected, known(matcher, &matched))
        && asked.operation != came.operation
    {
        let words = format!("this is the reply of {}, and the request is one of {}", name(came), name(asked));
        about.reply.push(Finding::of_whole("no-operation", words, "is the right operation called?"));
    }
    seen(&captured, &matched);
    about.reply.extend(findings(&captured, matched));
    about
}

/// The shape that a message was found to have.
fn known<'m>(matcher: &'m Matcher<'_>, matched: &Matched) -> Option<&'m WireShape> {
    matched.shape.filter(|_| !matched.nearest).map(|at| &matcher.known()[at].shape)
}

/// What a reply says by its status and its form.
fn outcome(captured: &Captured, reply: &HttpMessage) -> Outcome {
    let status = reply.start.status().unwrap_or_default();
    let empty = captured.file.root().is_none() && captured.octets.is_empty() && captured.fault.is_none();
    match status {
        _ if captured.has_fault() => Outcome::Fault,
        200..=299 if empty => Outcome::Taken,
        200..=299 => Outcome::Replied,
        _ => Outcome::Refused,
    }
}

/// Why a reply is no message at all, where that is plain to see.
fn no_message(captured: &Captured, reply: &HttpMessage) -> Option<String> {
    let status = reply.start.status().unwrap_or_default();
    // Some send their pages as if they were messages.
    let is_page = || std::str::from_utf8(&reply.body).is_ok_and(looks_like_html);
    if captured.headers.media_type().is_some_and(|kind| kind == "text/html") || is_page() {
        return Some(format!("the reply is a page for a browser, with the status {status}"));
    }
    let refused = !(200..=299).contains(&status);
    (refused && captured.file.root().is_none())
        .then(|| format!("the reply is no message; its status is {status}"))
}

/// What one side of an exchange says, if it is what the contract asks for.
#[derive(Debug, Clone, PartialEq)]
pub struct Said {
    /// The operation.
    pub operation: Arc<str>,
    /// Whether it is the request.
    pub is_request: bool,
    /// The name of the fault that it is.
    pub fault: Option<String>,
    /// Its values.
    pub values: Json,
}

/// What both sides of an exchange say; what is wrong says nothing.
pub(crate) fn said(
    contract: &Contract,
    (matcher, engine): (&Matcher<'_>, &Engine<'_>),
    request: &HttpMessage,
    reply: Option<&HttpMessage>,
) -> Vec<Said> {
    let captured = Captured::received("request", request.clone());
    let matched = matcher.judge(&captured);
    let Some(asked) = known(matcher, &matched) else { return Vec::new() };
    let of = |captured: &Captured, matched: &Matched| {
        let shape = known(matcher, matched).filter(|_| matched.is_valid())?;
        let content = matcher.wire_content(captured, matched)?;
        Some(Said {
            operation: contract.operation(shape.operation).name.text.clone(),
            is_request: shape.is_request(),
            fault: shape.fault().map(|fault| fault.name.to_string()),
            values: values::write(engine, shape, &content),
        })
    };
    let mut all: Vec<Said> = of(&captured, &matched).into_iter().collect();
    if let Some(reply) = reply {
        let captured = Captured::received("reply", reply.clone());
        all.extend(of(&captured, &matcher.judge_reply(&captured, asked)));
    }
    all
}

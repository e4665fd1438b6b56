//! Requests of operations: judged, and answered by the script, with what is typical, or with a fault.

use charter_contract::{SoapVersion, WireShape};
use charter_message::blocks::Wanted;
use charter_message::captured::Captured;
use charter_message::http::{Headers, HttpMessage, Start};
use charter_message::values;

use super::access::{self, Asking, Refusal};
use super::asked::{Asked, ReplyTo};
use super::fault::Code;
use super::replying::{Refusing, taken};
use super::routes::Route;
use super::{Answered, Answering, Caller, plain, refused, scripted};
use crate::exchange::offered_by;
use crate::script::Entry;
use crate::store::Store;
use crate::{About, Finding, Outcome, findings};

/// What a request comes with, beside what it is.
pub(super) struct With<'w> {
    pub caller: &'w Caller<'w>,
    pub store: Option<&'w Store>,
}

/// What is answered to a request at a path.
pub(super) fn answer(
    answering: &Answering<'_>,
    route: &Route<'_>,
    with: &With<'_>,
    request: &HttpMessage,
    target: &str,
) -> Answered {
    if let Some(reply) = unsupported(route, &request.headers) {
        return refused(reply);
    }
    let mut message = request.clone();
    if let Start::Request { target: own, .. } = &mut message.start {
        target.clone_into(own);
    }
    let captured = Captured::received("request", message);
    let matched = route.matcher.judge(&captured);
    let shape = matched.shape.filter(|_| !matched.nearest).map(|at| &route.matcher.known()[at].shape);
    let contract = answering.contract;
    let mut about = About {
        operation: shape.map(|shape| contract.operation(shape.operation).name.text.clone()),
        port: shape.map(|shape| offered_by(contract, shape)),
        ..About::default()
    };
    let asked = Asked::of(&captured);
    let refusing = Refusing { answering, route, asked: &asked, version: version(&captured) };
    let (valid, shape) = (matched.is_valid(), shape.cloned());
    let script = &answering.script;
    let needs = shape.as_ref().filter(|_| valid).filter(|shape| {
        script.is_about(shape.operation) || entry(answering, Some(shape)).is_some_and(Entry::needs_values)
    });
    let content = needs.and_then(|_| route.matcher.wire_content(&captured, &matched));
    let values = shape.as_ref().zip(content);
    let values = values.map(|(shape, content)| values::write(answering.engine, shape, &content));
    let values = values.unwrap_or_default();
    about.request = findings(&captured, matched);
    let asking =
        Asking { caller: with.caller, headers: &request.headers, captured: &captured, values: &values };
    if let Err(refusal) = may(answering, shape.as_ref(), valid, &asking) {
        return not_allowed(&refusing, shape.as_ref(), &refusal, about);
    }
    let Some(shape) = shape.filter(|_| valid) else {
        about.outcome = Outcome::Refused;
        let reply = refusing.wrong(&about.request);
        return Answered::at_once(reply, about);
    };
    if let ReplyTo::Elsewhere(address) = &asked.reply_to {
        about.outcome = Outcome::Refused;
        let words = format!("replies go back on the same connection, and not to {address}");
        let reply = refusing.fault(Code::Addressing("OnlyAnonymousAddressSupported"), words, &[]);
        return Answered::at_once(reply, about);
    }
    match scripted::answer(&refusing, with.store, &shape, &values, &about) {
        Some(answered) => answered,
        None => {
            let reply = taken(&refusing, &shape, &mut about);
            Answered::at_once(reply, about)
        }
    }
}

/// What the script says of who may ask for an operation.
fn entry<'a>(answering: &'a Answering<'_>, shape: Option<&WireShape>) -> Option<&'a Entry> {
    let contract = answering.contract;
    let port = shape.and_then(|shape| shape.port);
    let service = port.map_or("", |port| &contract.services[port.service].name.local);
    let name = port.map_or("", |port| &contract.port(port).name.text);
    answering.script.access.of(service, name, shape.map(|shape| shape.operation))
}

/// Whether somebody may ask for what he asks for.
fn may(
    answering: &Answering<'_>,
    shape: Option<&WireShape>,
    valid: bool,
    asking: &Asking<'_>,
) -> Result<(), Refusal> {
    let Answering { script, nonces, contract, .. } = answering;
    let entry = entry(answering, shape);
    // What a wrong request holds is not known; it is refused for what it is.
    if !valid && entry.is_some_and(Entry::needs_values) {
        return Ok(());
    }
    let wanted = shape.map(|shape| Wanted::of(contract, shape));
    access::may(&script.access, nonces, entry, wanted.as_ref(), asking)
}

/// How somebody is told that he may not.
fn not_allowed(
    refusing: &Refusing<'_>,
    shape: Option<&WireShape>,
    refusal: &Refusal,
    mut about: About,
) -> Answered {
    about.outcome = Outcome::Refused;
    let help = "who may ask, the script says, or a policy of the contract";
    about.request.push(Finding::of_whole("credentials-missing", refusal.words(), help));
    let answering = refusing.answering;
    let reply = match refusal {
        Refusal::Unauthorized(words) => {
            let mut reply = plain(401, &format!("{words}\n"));
            let service = answering.contract.services.iter().next();
            let realm = service.map_or("charter", |(_, service)| &service.name.local);
            reply.headers.push("WWW-Authenticate", format!("Basic realm=\"{realm}\", charset=\"UTF-8\""));
            reply
        }
        Refusal::Forbidden(words) => plain(403, &format!("{words}\n")),
        Refusal::Token(code, words) => refusing.fault(Code::Security(code), words.clone(), &[]),
        Refusal::Values(words) => {
            let fault = entry(answering, shape).and_then(|entry| entry.fault);
            let own = shape.zip(fault).and_then(|(shape, fault)| scripted::fault(refusing, shape, fault));
            own.unwrap_or_else(|| refusing.fault(Code::Sender, words.clone(), &[]))
        }
    };
    Answered::at_once(reply, about)
}

/// The version of an envelope, if it is of one.
fn version(captured: &Captured) -> Option<SoapVersion> {
    let namespace = captured.file.root()?.tag_name().namespace()?;
    [SoapVersion::V11, SoapVersion::V12].into_iter().find(|version| version.envelope() == namespace)
}

/// Where only envelopes are taken, nothing else is (Basic Profile 1.1, R1115; SOAP 1.2 Part 2, section 7.5.2).
fn unsupported(route: &Route<'_>, headers: &Headers) -> Option<HttpMessage> {
    if route.plain {
        return None;
    }
    let kind = headers.media_type().unwrap_or_default();
    let known = ["text/xml", "application/soap+xml", "application/xop+xml", "multipart/related", ""];
    if known.contains(&kind.as_str()) {
        return None;
    }
    let words = format!(
        "the content type is {kind}\nan envelope of SOAP 1.1 has text/xml, one of SOAP 1.2 application/soap+xml\n"
    );
    Some(plain(415, &words))
}

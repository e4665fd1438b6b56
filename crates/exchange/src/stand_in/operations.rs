//! Requests of operations: judged, and answered by the script, with what is typical, or with a fault.

use charter_contract::SoapVersion;
use charter_message::captured::Captured;
use charter_message::http::{Headers, HttpMessage, Start};
use charter_message::values;

use super::asked::{Asked, ReplyTo};
use super::fault::Code;
use super::replying::{Refusing, taken};
use super::routes::Route;
use super::{Answered, Answering, plain, refused, scripted};
use crate::exchange::offered_by;
use crate::store::Store;
use crate::{About, Outcome, findings};

/// What is answered to a request at a path.
pub(super) fn answer(
    answering: &Answering<'_>,
    route: &Route<'_>,
    store: Option<&Store>,
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
    let scripted = shape.as_ref().filter(|shape| valid && answering.script.is_about(shape.operation));
    let content = scripted.and_then(|_| route.matcher.wire_content(&captured, &matched));
    about.request = findings(&captured, matched);
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
    let values = content.map(|content| values::write(answering.engine, &shape, &content));
    match scripted::answer(&refusing, store, &shape, &values.unwrap_or_default(), &about) {
        Some(answered) => answered,
        None => {
            let reply = taken(&refusing, &shape, &mut about);
            Answered::at_once(reply, about)
        }
    }
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

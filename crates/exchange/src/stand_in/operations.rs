//! Requests of operations: judged, and answered with a reply, a fault, or nothing.

use charter_contract::{Bound, Contract, SoapVersion, WireShape};
use charter_message::captured::Captured;
use charter_message::http::{Headers, HttpMessage, Start};
use charter_message::matching::Severity;
use charter_message::values;

use super::asked::{Asked, ReplyTo};
use super::fault::{Code, Fault};
use super::routes::Route;
use super::{Answered, Answering, plain, refused, scripted};
use crate::exchange::offered_by;
use crate::{About, Finding, Outcome, findings};

/// What is answered to a request at a path.
pub(super) fn answer(
    answering: &Answering<'_>,
    route: &Route<'_>,
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
    match scripted::answer(&refusing, &shape, &values.unwrap_or_default(), &about) {
        Some(answered) => answered,
        None => {
            let reply = taken(&refusing, &shape, &mut about);
            Answered::at_once(reply, about)
        }
    }
}

/// What is answered to a request that is right: what is typical.
pub(super) fn taken(refusing: &Refusing<'_>, shape: &WireShape, about: &mut About) -> HttpMessage {
    let Refusing { answering: Answering { contract, engine, typical, .. }, asked, .. } = refusing;
    if asked.reply_to == ReplyTo::Nowhere {
        about.outcome = Outcome::Taken;
        return accepted();
    }
    about.outcome = Outcome::Refused;
    if contract.operation(shape.operation).output.is_none() {
        about.outcome = Outcome::Taken;
        return accepted();
    }
    let made = match bound(contract, shape) {
        Some(bound) => typical.reply(contract, engine, (shape.operation, bound)),
        None => Err("no binding offers the operation".to_owned()),
    };
    match made {
        Ok(made) => {
            about.outcome = Outcome::Replied;
            made.to(contract, engine, asked)
        }
        Err(reason) => {
            refusing.fault(Code::Receiver, format!("no reply can be made by the contract: {reason}"), &[])
        }
    }
}

/// The way in which a message is offered.
pub(super) fn bound<'c>(contract: &'c Contract, shape: &WireShape) -> Option<Bound<'c>> {
    let is_same = |bound: &Bound<'_>| bound.binding == shape.binding && bound.port == shape.port;
    contract.bound(shape.operation).find(is_same)
}

/// Taken, with nothing to say (Basic Profile 1.1, R2714 and R1112).
fn accepted() -> HttpMessage {
    HttpMessage { start: Start::Reply { status: 202 }, headers: Headers::default(), body: Vec::new() }
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

/// How a request is refused.
pub(super) struct Refusing<'r> {
    pub answering: &'r Answering<'r>,
    route: &'r Route<'r>,
    pub asked: &'r Asked,
    /// The version of its envelope.
    version: Option<SoapVersion>,
}

impl Refusing<'_> {
    /// What is answered to a request that is not what the contract asks for.
    fn wrong(&self, found: &[Finding]) -> HttpMessage {
        let errors = || found.iter().filter(|finding| finding.severity == Severity::Error);
        let of_rule = |rule: &str| errors().find(|finding| finding.rule == rule);
        let first = errors().next();
        let words = |finding: Option<&Finding>| {
            finding.map_or("the request is not what the contract asks for".to_owned(), |finding| {
                format!("{}: {}", finding.path, finding.message)
            })
        };
        // Over plain HTTP, a status and words are all there is.
        if self.route.versions.is_empty() || (self.route.plain && self.version.is_none()) {
            let mut text = String::new();
            for finding in errors() {
                text.push_str(&format!("{}: {}\n", finding.path, finding.message));
                finding.help.iter().for_each(|help| text.push_str(&format!("  {help}\n")));
            }
            let status = if of_rule("envelope-missing").is_some() { 404 } else { 400 };
            return plain(status, &text);
        }
        if let Some(finding) = of_rule("envelope-version") {
            return self.fault(
                Code::VersionMismatch(self.route.versions.clone()),
                words(Some(finding)),
                found,
            );
        }
        if let Some(finding) = of_rule("header-not-understood") {
            return self.fault(Code::MustUnderstand, words(Some(finding)), found);
        }
        if let Some(finding) = of_rule("addressing-missing") {
            return self.fault(
                Code::Addressing("MessageAddressingHeaderRequired"),
                words(Some(finding)),
                found,
            );
        }
        let action = errors().find(|finding| finding.rule == "action-wrong" && finding.path != "message");
        if let Some(finding) = action {
            return self.fault(Code::Addressing("ActionNotSupported"), words(Some(finding)), found);
        }
        self.fault(Code::Sender, words(first), found)
    }

    /// A fault in the version of the request, or in one that is offered here.
    pub fn fault(&self, code: Code, words: String, findings: &[Finding]) -> HttpMessage {
        let offered = self.route.versions.first().copied().unwrap_or(SoapVersion::V11);
        let version = match (&code, self.version) {
            // Whoever knows only the older version must be able to read it (SOAP 1.2 Part 1, appendix A).
            (Code::VersionMismatch(versions), Some(SoapVersion::V12))
                if !versions.contains(&SoapVersion::V12) =>
            {
                SoapVersion::V11
            }
            (_, Some(version)) => version,
            (_, None) => offered,
        };
        let asked = self.asked;
        let relates_to = asked.addressed.then_some(asked.message_id.as_deref());
        let fault = Fault { version, code, words, findings, relates_to };
        fault.message(self.answering.contract)
    }
}

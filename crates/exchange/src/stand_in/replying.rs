//! How a request is answered: refused with the fault that it deserves, or taken, with what is typical.

use charter_contract::{Bound, Contract, SoapVersion, WireShape};
use charter_message::http::{Headers, HttpMessage, Start};
use charter_message::matching::Severity;

use super::asked::{Asked, ReplyTo};
use super::fault::{Code, Fault};
use super::routes::Route;
use super::{Answering, plain};
use crate::{About, Finding, Outcome};

/// How a request is refused.
pub(super) struct Refusing<'r> {
    pub answering: &'r Answering<'r>,
    pub route: &'r Route<'r>,
    pub asked: &'r Asked,
    /// The version of its envelope.
    pub version: Option<SoapVersion>,
}

impl Refusing<'_> {
    /// What is answered to a request that is not what the contract asks for.
    pub fn wrong(&self, found: &[Finding]) -> HttpMessage {
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
        if let Some(finding) = of_rule("credentials-missing") {
            return self.fault(Code::Security("InvalidSecurity"), words(Some(finding)), found);
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

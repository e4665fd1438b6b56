//! The faults of SOAP itself: what a receiver answers that cannot take a message (SOAP 1.1, section 4.4; SOAP 1.2 Part 1,
//! section 5.4).

use charter_contract::{Contract, SoapVersion};
use charter_message::http::{Headers, HttpMessage, Start};
use charter_message::{Element, Node, Text, as_document};
use charter_source::{QName, ns};

use crate::Finding;
use crate::clock::message_id;

/// The namespace of what a stand-in says in the detail of a fault.
pub const FINDING: &str = "urn:neat-charter:finding:1";

/// Who is to blame, as the standards name it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) enum Code {
    /// The envelope is of no version that is understood; these are.
    VersionMismatch(Vec<SoapVersion>),
    /// A header block must be understood, and is not.
    MustUnderstand,
    /// The message is not what the contract asks for.
    Sender,
    /// How the message is addressed is not what the standard or the contract asks for (WS-Addressing 1.0, SOAP Binding, 6.4).
    Addressing(&'static str),
    /// Whoever asks is not who he says, or does not say who he is (WS-Security 1.1, section 12).
    Security(&'static str),
    /// Something went wrong here.
    Receiver,
}

impl Code {
    /// Its name in a version of SOAP.
    fn local(&self, version: SoapVersion) -> &'static str {
        match (self, version) {
            (Code::VersionMismatch(_), _) => "VersionMismatch",
            (Code::MustUnderstand, _) => "MustUnderstand",
            (Code::Sender | Code::Addressing(_) | Code::Security(_), SoapVersion::V11) => "Client",
            (Code::Sender | Code::Addressing(_) | Code::Security(_), SoapVersion::V12) => "Sender",
            (Code::Receiver, SoapVersion::V11) => "Server",
            (Code::Receiver, SoapVersion::V12) => "Receiver",
        }
    }

    /// The status that goes with it (SOAP 1.1, section 6.2; SOAP 1.2 Part 2, table 20).
    fn status(&self, version: SoapVersion) -> u16 {
        match (self, version) {
            (Code::Sender | Code::Addressing(_) | Code::Security(_), SoapVersion::V12) => 400,
            _ => 500,
        }
    }
}

/// A fault to be sent.
pub(super) struct Fault<'f> {
    pub version: SoapVersion,
    pub code: Code,
    /// What is wrong, in one line.
    pub words: String,
    /// What was found, which stands in the detail.
    pub findings: &'f [Finding],
    /// The message that it answers, if that was addressed.
    pub relates_to: Option<Option<&'f str>>,
}

impl Fault<'_> {
    /// The fault as it goes over the wire.
    pub fn message(&self, contract: &Contract) -> HttpMessage {
        let document = as_document(&self.envelope(), contract);
        let mut headers = Headers::default();
        headers.push(
            "Content-Type",
            match self.version {
                SoapVersion::V11 => "text/xml; charset=utf-8",
                SoapVersion::V12 => "application/soap+xml; charset=utf-8",
            },
        );
        let start = Start::Reply { status: self.code.status(self.version) };
        HttpMessage { start, headers, body: document.into_bytes() }
    }

    fn envelope(&self) -> Element {
        let root = self.named("Envelope");
        let blocks = self.blocks();
        let root = match blocks.is_empty() {
            true => root,
            false => {
                root.with(blocks.into_iter().fold(self.named("Header"), |header, block| header.with(block)))
            }
        };
        let fault = match self.version {
            SoapVersion::V11 => self.fault_11(),
            SoapVersion::V12 => self.fault_12(),
        };
        root.with(self.named("Body").with(fault))
    }

    fn named(&self, local: &str) -> Element {
        Element::new(QName::new(self.version.envelope(), local))
    }

    /// The name of its code, as far as SOAP itself has it.
    fn code(&self) -> QName {
        QName::new(self.version.envelope(), self.code.local(self.version))
    }

    /// The code that another standard has for it.
    fn subcode(&self) -> Option<QName> {
        match self.code {
            Code::Addressing(subcode) => Some(QName::new(ns::ADDRESSING, subcode)),
            Code::Security(subcode) => Some(QName::new(ns::WSSE, subcode)),
            _ => None,
        }
    }

    fn fault_11(&self) -> Element {
        let code = self.subcode().unwrap_or_else(|| self.code());
        let faultcode = named_value(Element::new(QName::new("", "faultcode")), code);
        let words = Element::new(QName::new("", "faultstring")).text(self.words.as_str());
        let fault = self.named("Fault").with(faultcode).with(words);
        // What is wrong in the header has no detail.
        match (&self.code, self.findings) {
            (_, [])
            | (
                Code::VersionMismatch(_) | Code::MustUnderstand | Code::Addressing(_) | Code::Security(_),
                _,
            ) => fault,
            (_, findings) => fault.with(detail(Element::new(QName::new("", "detail")), findings)),
        }
    }

    fn fault_12(&self) -> Element {
        let mut code = self.named("Code").with(named_value(self.named("Value"), self.code()));
        if let Some(subcode) = self.subcode() {
            let value = named_value(self.named("Value"), subcode);
            code = code.with(self.named("Subcode").with(value));
        }
        let words = self.named("Text").attribute(QName::new(ns::XML, "lang"), "en").text(self.words.as_str());
        let fault = self.named("Fault").with(code).with(self.named("Reason").with(words));
        match self.findings {
            [] => fault,
            findings => fault.with(detail(self.named("Detail"), findings)),
        }
    }

    /// The header blocks: what a version mismatch or an addressed message asks for.
    fn blocks(&self) -> Vec<Element> {
        let mut blocks = Vec::new();
        if let Code::VersionMismatch(versions) = &self.code
            && versions.contains(&SoapVersion::V12)
        {
            blocks.push(upgrade(versions));
        }
        if let Some(relates_to) = self.relates_to {
            let named = |local: &str| Element::new(QName::new(ns::ADDRESSING, local));
            let kind = if matches!(self.code, Code::Addressing(_)) { "fault" } else { "soap/fault" };
            blocks.push(named("Action").text(format!("{}/{kind}", ns::ADDRESSING)));
            blocks.push(named("MessageID").text(message_id()));
            blocks.extend(relates_to.map(|id| named("RelatesTo").text(id)));
        }
        blocks
    }
}

/// Which envelopes are understood (SOAP 1.2 Part 1, section 5.4.7).
fn upgrade(versions: &[SoapVersion]) -> Element {
    let named = |local: &str| Element::new(QName::new(ns::SOAP12_ENVELOPE, local));
    versions.iter().fold(named("Upgrade"), |upgrade, version| {
        let mut supported = named("SupportedEnvelope");
        let name = Text::Name(QName::new(version.envelope(), "Envelope"));
        supported.attributes.push((QName::new("", "qname"), name));
        upgrade.with(supported)
    })
}

fn named_value(mut element: Element, name: QName) -> Element {
    element.children.push(Node::Text(Text::Name(name)));
    element
}

/// What was found, each with its rule and its place.
fn detail(into: Element, findings: &[Finding]) -> Element {
    findings.iter().fold(into, |detail, finding| {
        let named = |local: &str| Element::new(QName::new(FINDING, local));
        let attribute = |local: &str| QName::new("", local);
        let element = named("finding")
            .attribute(attribute("rule"), finding.rule)
            .attribute(attribute("path"), finding.path.as_str())
            .attribute(attribute("line"), finding.line.to_string())
            .attribute(attribute("column"), finding.column.to_string())
            .with(named("message").text(finding.message.as_str()));
        detail.with(match &finding.help {
            Some(help) => element.with(named("help").text(help.as_str())),
            None => element,
        })
    })
}

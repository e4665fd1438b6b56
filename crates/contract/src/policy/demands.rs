//! What policies demand of those who call.

use std::fmt;

use charter_source::{Place, QName, ns};

use super::{Alternative, Assertion, Policies};
use crate::{BindingId, Contract, ExtensionKind, PortId};

/// One thing that a policy demands of requests.
///
/// As text it is a few words, such as `user name with password`.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub enum Demand {
    /// Transport security: TLS.
    Tls,
    /// A certificate by which the client shows who it is when the connection is made; it goes with [`Demand::Tls`].
    ClientCertificate,
    /// A user name and a password by HTTP Basic (RFC 7617); it goes with [`Demand::Tls`].
    HttpBasic,
    /// A user name, with a password sent so.
    UserName(Password),
    /// An X.509 certificate in the message.
    Certificate,
    /// A SAML assertion.
    SamlAssertion,
    /// When the message was made, and until when it is valid.
    Timestamp,
    /// Signed parts or elements.
    Signature,
    /// Encrypted parts or elements.
    Encryption,
    /// The header blocks of WS-Addressing.
    Addressing(Addressing),
    /// WS-ReliableMessaging.
    ReliableMessaging,
    /// Binary content as attachments (MTOM).
    Attachments,
    /// Another assertion, of which nothing but its name is known.
    Other(QName),
}

/// How a password is sent with a user name (WS-Security, Username Token Profile 1.1, section 3).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Password {
    /// As it is.
    Text,
    /// As a digest that nobody can use a second time.
    Digest,
    /// Not at all.
    None,
}

/// How messages must be addressed (WS-Addressing 1.0, Metadata, section 3.1).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct Addressing {
    /// Whether the consumer may leave it out.
    pub need: Need,
    /// Where replies may go.
    pub replies: Replies,
}

/// Whether something is demanded or only understood.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Need {
    /// It must be there.
    Must,
    /// It may be there, as the consumer likes.
    May,
}

/// Where replies may go.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Replies {
    /// Wherever the request says.
    Anywhere,
    /// Back on the same connection (`wsam:AnonymousResponses`).
    SameConnection,
    /// To an address that the request gives (`wsam:NonAnonymousResponses`).
    OwnAddress,
}

impl Demand {
    /// Whether it may be left out.
    pub fn is_optional(&self) -> bool {
        matches!(self, Demand::Addressing(Addressing { need: Need::May, .. }))
    }

    /// The same where the consumer may leave it out, if there is such a thing.
    pub fn at_will(&self) -> Option<Demand> {
        match self {
            Demand::Addressing(addressing) => {
                Some(Demand::Addressing(Addressing { need: Need::May, ..*addressing }))
            }
            _ => None,
        }
    }

    /// Whether whoever satisfies another demand satisfies this one by the same.
    pub fn is_met_by(&self, other: &Demand) -> bool {
        match (self, other) {
            (Demand::Addressing(own), Demand::Addressing(theirs)) => {
                let anywhere = own.replies == Replies::Anywhere;
                (own.need == Need::May || theirs.need == Need::Must)
                    && (anywhere || own.replies == theirs.replies)
            }
            _ => self == other,
        }
    }

    /// Whether it gives something away that others must not see: a password, whatever hides it.
    pub fn is_secret(&self) -> bool {
        matches!(self, Demand::HttpBasic | Demand::UserName(Password::Text | Password::Digest))
    }
}

impl fmt::Display for Demand {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Demand::Tls => "https",
            Demand::ClientCertificate => "a certificate of the client",
            Demand::HttpBasic => "user name and password by HTTP Basic",
            Demand::UserName(Password::Text) => "user name with password",
            Demand::UserName(Password::Digest) => "user name with hashed password",
            Demand::UserName(Password::None) => "user name without password",
            Demand::Certificate => "an X.509 certificate",
            Demand::SamlAssertion => "a SAML assertion",
            Demand::Timestamp => "a timestamp",
            Demand::Signature => "signed parts",
            Demand::Encryption => "encrypted parts",
            Demand::ReliableMessaging => "reliable messaging",
            Demand::Attachments => "binary content as attachments",
            Demand::Other(name) => &name.local,
            Demand::Addressing(addressing) => return addressing.fmt(f),
        })
    }
}

impl fmt::Display for Addressing {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("addressing")?;
        f.write_str(match self.replies {
            Replies::Anywhere => "",
            Replies::SameConnection => ", replies on the same connection",
            Replies::OwnAddress => ", replies to an address of their own",
        })?;
        f.write_str(if self.need == Need::May { ", if the consumer likes" } else { "" })
    }
}

/// Demands in words; what goes along with something else is said with it.
pub fn demands_in_words<'d>(demands: impl IntoIterator<Item = &'d Demand>) -> Vec<String> {
    let mut words: Vec<String> = Vec::new();
    let mut before: Option<&Demand> = None;
    for demand in demands {
        match (before, demand, words.last_mut()) {
            (Some(Demand::Tls), Demand::ClientCertificate, Some(last)) => {
                last.push_str(&format!(" with {demand}"));
            }
            _ => words.push(demand.to_string()),
        }
        before = Some(demand);
    }
    words
}

/// What an operation demands of those who call it by some port.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Demands {
    /// Each way to satisfy it: all that has to be there.
    pub ways: Vec<Vec<Demand>>,
}

impl Demands {
    /// All of it in one line: what every way demands, then the choice that is left.
    pub fn words(&self) -> String {
        let Some(first) = self.ways.first() else { return "what nobody can satisfy".to_owned() };
        let common: Vec<&Demand> =
            first.iter().filter(|demand| self.ways.iter().all(|way| way.contains(demand))).collect();
        let own = |way: &Vec<Demand>| {
            demands_in_words(way.iter().filter(|demand| !common.contains(demand))).join(" and ")
        };
        let rest: Vec<String> = self.ways.iter().map(own).collect();
        let mut parts: Vec<String> = Vec::new();
        if !common.is_empty() {
            parts.push(demands_in_words(common.iter().copied()).join(", "));
        }
        let choices: Vec<&str> = rest.iter().map(String::as_str).filter(|words| !words.is_empty()).collect();
        if !choices.is_empty() {
            let free = if choices.len() < rest.len() { " if the consumer likes" } else { "" };
            parts.push(format!("{}{free}", choices.join(" or ")));
        }
        parts.join("; ")
    }

    /// Whether a user name goes with a password in one of the ways.
    pub fn has_secrets(&self) -> bool {
        self.ways.iter().flatten().any(Demand::is_secret)
    }
}

impl Contract {
    /// What an operation of a binding demands, offered by a port; `None` if it demands nothing special.
    pub fn demand(&self, binding: BindingId, bound: usize, port: Option<PortId>) -> Option<Demands> {
        let policies = self.policies();
        let places = self.places_of_policies(binding, bound, port);
        let mut extensions: Vec<_> = self.bindings[binding].extensions.iter().collect();
        if let Some(port) = port {
            extensions.extend(&self.port(port).extensions);
        }
        let mut alternatives = policies.effective(&places)?;
        // The extension element of the addressing standard says what its assertion says.
        let addressing = extensions.iter().find(|extension| {
            matches!(&extension.kind, ExtensionKind::Other(name) if &*name.namespace == ns::WSAW && &*name.local == "UsingAddressing")
        });
        let need = addressing.map(|it| if it.required { Need::Must } else { Need::May });
        let mut ways: Vec<Vec<Demand>> = alternatives.drain(..).map(|way| demands_of(&way)).collect();
        for way in &mut ways {
            if let (Some(need), false) = (need, way.iter().any(|it| matches!(it, Demand::Addressing(_)))) {
                way.push(Demand::Addressing(Addressing { need, replies: Replies::Anywhere }));
            }
        }
        ways.dedup();
        let silent = ways.iter().all(Vec::is_empty) && !ways.is_empty();
        (!silent).then_some(Demands { ways })
    }

    /// Whether it is known what an operation of a binding demands: all policies that are attached are there, and leave few
    /// enough alternatives to be looked at.
    pub fn is_demand_known(&self, binding: BindingId, bound: usize, port: Option<PortId>) -> bool {
        self.policies().is_known(&self.places_of_policies(binding, bound, port))
    }

    /// The start tags that policies for a request may be attached to.
    fn places_of_policies(&self, binding: BindingId, bound: usize, port: Option<PortId>) -> Vec<Place> {
        let definition = &self.bindings[binding];
        let operation = &definition.operations[bound];
        let mut places = vec![self.tag_of(definition.extent), operation.place];
        places.extend(operation.input.as_ref().map(|input| input.place));
        if let Some(port_type) = definition.port_type.target.map(|id| &self.port_types[id]) {
            places.push(self.tag_of(port_type.extent));
            if let Some(operation) = operation.operation.map(|index| &port_type.operations[index]) {
                places.push(operation.place);
                places.extend(operation.input.as_ref().map(|input| input.place));
                let message = operation.input.as_ref().and_then(|input| input.message.target);
                places.extend(message.map(|id| self.tag_of(self.messages[id].extent)));
            }
        }
        if let Some(port) = port {
            places.push(self.tag_of(self.services[port.service].extent));
            places.push(self.port(port).place);
        }
        places
    }

    /// The start tag of an element, as policies are kept by it.
    fn tag_of(&self, extent: Place) -> Place {
        let written = self.files.slice(extent);
        let ends = |byte: &u8| byte.is_ascii_whitespace() || matches!(byte, b'>' | b'/');
        let length = written.as_bytes().iter().position(ends).unwrap_or(written.len());
        let mut place = extent;
        place.span.end = place.span.start + length as u32;
        place
    }

    /// The policies of the contract: read when first asked for.
    pub fn policies(&self) -> &Policies {
        self.index.policies.get_or_init(|| Policies::read(&self.files))
    }
}

/// What the assertions of an alternative demand, in the order in which a reader asks for it.
fn demands_of(alternative: &Alternative) -> Vec<Demand> {
    let mut demands: Vec<Demand> = Vec::new();
    for assertion in alternative.iter().filter(|assertion| !assertion.ignorable) {
        for demand in of_assertion(assertion) {
            if !demands.contains(&demand) {
                demands.push(demand);
            }
        }
    }
    demands
}

/// What one assertion demands.
fn of_assertion(assertion: &Assertion) -> Vec<Demand> {
    let name = &assertion.name;
    if &*name.namespace == ns::WSAM && &*name.local == "Addressing" {
        let inner = |local: &str| assertion.inner().any(|it| &*it.name.local == local);
        let replies = match (inner("AnonymousResponses"), inner("NonAnonymousResponses")) {
            (true, _) => Replies::SameConnection,
            (_, true) => Replies::OwnAddress,
            _ => Replies::Anywhere,
        };
        return vec![Demand::Addressing(Addressing { need: Need::Must, replies })];
    }
    if ns::SECURITY_POLICY.contains(&&*name.namespace) {
        return of_security(assertion);
    }
    vec![match &*name.local {
        "RMAssertion" => Demand::ReliableMessaging,
        "MTOM" | "OptimizedMimeSerialization" => Demand::Attachments,
        _ => Demand::Other(name.clone()),
    }]
}

/// What an assertion of WS-SecurityPolicy demands: the tokens in it, and how the message is kept safe.
fn of_security(assertion: &Assertion) -> Vec<Demand> {
    let mut found = Vec::new();
    for inner in assertion.all() {
        let has = |local: &str| inner.inner().any(|it| &*it.name.local == local);
        let with = |wanted: &str| has(wanted) || inner.parameters.iter().any(|it| &*it.local == wanted);
        found.extend(match &*inner.name.local {
            "UsernameToken" if has("HashPassword") => vec![Demand::UserName(Password::Digest)],
            "UsernameToken" if has("NoPassword") => vec![Demand::UserName(Password::None)],
            "UsernameToken" => vec![Demand::UserName(Password::Text)],
            // What carries https speaks of it twice.
            "HttpsToken" | "TransportToken" => {
                let own = inner.name.local.starts_with("Https");
                let certificate = own && with("RequireClientCertificate");
                let basic = own && has("HttpBasicAuthentication");
                let more = [(certificate, Demand::ClientCertificate), (basic, Demand::HttpBasic)];
                let more = more.into_iter().filter(|(there, _)| *there).map(|(_, demand)| demand);
                [Demand::Tls].into_iter().chain(more).collect()
            }
            "X509Token" => vec![Demand::Certificate],
            "SamlToken" => vec![Demand::SamlAssertion],
            "IncludeTimestamp" => vec![Demand::Timestamp],
            "SignedParts" | "SignedElements" => vec![Demand::Signature],
            "EncryptedParts" | "EncryptedElements" => vec![Demand::Encryption],
            _ => continue,
        });
    }
    found
}

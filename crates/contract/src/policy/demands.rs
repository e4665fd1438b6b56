//! What a policy demands of a message, in words.

use charter_source::{Place, ns};

use super::{Alternative, Assertion, Policies};
use crate::{BindingId, Contract, ExtensionKind, PortId};

/// What an operation demands of those who call it by some port.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Demand {
    /// Each way to satisfy it: what has to be there, in words.
    pub ways: Vec<Vec<String>>,
}

impl Demand {
    /// All of it in one line: what every way demands, then the choice that is left.
    pub fn words(&self) -> String {
        let Some(first) = self.ways.first() else { return "what nobody can satisfy".to_owned() };
        let common: Vec<&String> =
            first.iter().filter(|word| self.ways.iter().all(|way| way.contains(word))).collect();
        let rest = self.ways.iter().map(|way| {
            let own: Vec<&str> =
                way.iter().filter(|word| !common.contains(word)).map(String::as_str).collect();
            own.join(" and ")
        });
        let rest: Vec<String> = rest.collect();
        let mut parts: Vec<String> = Vec::new();
        if !common.is_empty() {
            parts.push(common.iter().map(|word| word.as_str()).collect::<Vec<_>>().join(", "));
        }
        let choices: Vec<&str> = rest.iter().map(String::as_str).filter(|words| !words.is_empty()).collect();
        if !choices.is_empty() {
            let free = if choices.len() < rest.len() { " if the consumer likes" } else { "" };
            parts.push(format!("{}{free}", choices.join(" or ")));
        }
        parts.join("; ")
    }

    /// Whether credentials are sent in one of the ways.
    pub fn has_credentials(&self) -> bool {
        self.ways.iter().flatten().any(|words| words.starts_with("user name with"))
    }
}

impl Contract {
    /// What an operation of a binding demands, offered by a port; `None` if it demands nothing special.
    pub fn demand(&self, binding: BindingId, bound: usize, port: Option<PortId>) -> Option<Demand> {
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
        let word =
            addressing.map(|it| if it.required { "addressing" } else { "addressing, if the consumer likes" });
        let mut ways: Vec<Vec<String>> = alternatives.drain(..).map(|way| words_of(&way)).collect();
        for way in &mut ways {
            way.extend(
                word.filter(|_| !way.iter().any(|it| it.starts_with("addressing"))).map(str::to_owned),
            );
        }
        ways.dedup();
        let silent = ways.iter().all(Vec::is_empty) && !ways.is_empty();
        (!silent).then_some(Demand { ways })
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
        self.index.policies.get_or_init(|| Policies::read(self))
    }
}

/// What the assertions of an alternative demand, each in a few words, in the order in which a reader asks for them.
fn words_of(alternative: &Alternative) -> Vec<String> {
    let mut words: Vec<String> = Vec::new();
    for assertion in alternative.iter().filter(|assertion| !assertion.ignorable) {
        for said in said(assertion) {
            if !words.contains(&said) {
                words.push(said);
            }
        }
    }
    words
}

/// What one assertion demands.
fn said(assertion: &Assertion) -> Vec<String> {
    let name = &assertion.name;
    if &*name.namespace == ns::WSAM && &*name.local == "Addressing" {
        let inner = |local: &str| assertion.inner().any(|it| &*it.name.local == local);
        let replies = match (inner("AnonymousResponses"), inner("NonAnonymousResponses")) {
            (true, _) => ", replies on the same connection",
            (_, true) => ", replies to an address of their own",
            _ => "",
        };
        return vec![format!("addressing{replies}")];
    }
    if ns::SECURITY_POLICY.contains(&&*name.namespace) {
        return security(assertion);
    }
    vec![match &*name.local {
        "RMAssertion" => "reliable messaging".to_owned(),
        "MTOM" | "OptimizedMimeSerialization" => "binary content as attachments".to_owned(),
        local => local.to_owned(),
    }]
}

/// What an assertion of WS-SecurityPolicy demands: the tokens in it, and how the message is kept safe.
fn security(assertion: &Assertion) -> Vec<String> {
    let mut found = Vec::new();
    for inner in assertion.all() {
        let has = |local: &str| inner.inner().any(|it| &*it.name.local == local);
        let with = |wanted: &str| has(wanted) || inner.parameters.iter().any(|it| &*it.local == wanted);
        found.push(match &*inner.name.local {
            "UsernameToken" if has("HashPassword") => "user name with hashed password".to_owned(),
            "UsernameToken" if has("NoPassword") => "user name without password".to_owned(),
            "UsernameToken" => "user name with password".to_owned(),
            "HttpsToken" if with("RequireClientCertificate") => {
                "https with a certificate of the client".to_owned()
            }
            "HttpsToken" | "TransportToken" => "https".to_owned(),
            "X509Token" => "an X.509 certificate".to_owned(),
            "SamlToken" => "a SAML assertion".to_owned(),
            "IncludeTimestamp" => "a timestamp".to_owned(),
            "SignedParts" | "SignedElements" => "signed parts".to_owned(),
            "EncryptedParts" | "EncryptedElements" => "encrypted parts".to_owned(),
            _ => continue,
        });
    }
    // What carries https speaks of it twice.
    if found.iter().any(|it| it.starts_with("https with")) {
        found.retain(|it| it != "https");
    }
    found
}

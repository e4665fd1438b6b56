//! Header blocks that no message part declares: those of WS-Addressing, and the user name of WS-Security.
//!
//! [`Wanted::of`] says which of them the policies of a contract ask for.

mod addressing;
mod security;

pub use security::{Credentials, digest};

use charter_contract::{Contract, Demand, Demands, ExtensionKind, Need, Password, WireShape};
use charter_source::ns;

use crate::Element;

/// Which blocks a message is to have.
#[derive(Debug, Clone, Default)]
pub struct Wanted {
    /// Those of WS-Addressing.
    pub addressing: bool,
    /// A user name.
    pub credentials: Option<Credentials>,
    /// When the message is valid.
    pub timestamp: bool,
    /// What user name every way to satisfy the policies asks for; with any password, if they ask for several kinds.
    pub user_name: Option<Password>,
    /// Whether every way to satisfy the policies asks for a certificate of the client.
    pub client_certificate: bool,
    /// Whether every way asks for HTTP Basic.
    pub http_basic: bool,
}

/// What somebody adds to what the policies of a contract ask for.
#[derive(Debug, Clone, Default)]
pub struct Added {
    /// The blocks of WS-Addressing.
    pub addressing: bool,
    /// The user name of WS-Security.
    pub user: Option<String>,
    /// Its password.
    pub password: Option<String>,
    /// Whether the password goes as a digest.
    pub digest: bool,
}

/// What differs from one message to the next.
#[derive(Debug, Clone)]
pub struct TimeAndIds {
    /// The time, as `xsd:dateTime` in UTC.
    pub created: String,
    /// The time after which the message is no longer valid.
    pub expires: String,
    /// Octets that are used once.
    pub nonce: Vec<u8>,
    /// The identifier of the message, an absolute URI.
    pub message_id: String,
}

impl Default for TimeAndIds {
    /// The same for every sample.
    fn default() -> Self {
        TimeAndIds {
            created: "2026-03-14T06:30:00Z".to_owned(),
            expires: "2026-03-14T06:35:00Z".to_owned(),
            nonce: b"nonce-41702-0000".to_vec(),
            message_id: "urn:uuid:7f3a4170-2c1e-4b5d-9a60-54c1d2e83b17".to_owned(),
        }
    }
}

impl Wanted {
    /// What the policies of the contract ask for in a request.
    pub fn of(contract: &Contract, shape: &WireShape) -> Wanted {
        let Some(demand) = demand(contract, shape) else {
            return Wanted { addressing: uses_addressing(contract, shape), ..Wanted::default() };
        };
        let way = demand.ways.first().cloned().unwrap_or_default();
        let must_address = |it: &Demand| matches!(it, Demand::Addressing(own) if own.need == Need::Must);
        let password = way.iter().find_map(|it| match it {
            Demand::UserName(password) => Some(*password),
            _ => None,
        });
        let passwords = |way: &Vec<Demand>| {
            way.iter().find_map(|it| match it {
                Demand::UserName(password) => Some(*password),
                _ => None,
            })
        };
        let of_ways: Option<Vec<Password>> = demand.ways.iter().map(passwords).collect();
        let user_name = of_ways.filter(|all| !all.is_empty()).map(|all| match all.as_slice() {
            [first, rest @ ..] if rest.iter().all(|other| other == first) => *first,
            _ => Password::None,
        });
        let every = |wanted: &Demand| demand.ways.iter().all(|way| way.contains(wanted));
        // A reply carries no credentials of those who asked.
        let request = shape.is_request();
        Wanted {
            addressing: way.iter().any(must_address) || uses_addressing(contract, shape),
            credentials: password
                .filter(|_| request)
                .map(|kind| Credentials::sample(kind, &contract.schemas.vocabulary)),
            timestamp: way.contains(&Demand::Timestamp),
            user_name: user_name.filter(|_| request),
            client_certificate: request && every(&Demand::ClientCertificate),
            http_basic: request && every(&Demand::HttpBasic),
        }
    }

    /// The same with what somebody adds to it.
    pub fn and(mut self, contract: &Contract, shape: &WireShape, added: &Added) -> Wanted {
        self.addressing |= added.addressing;
        let kind = match (added.digest, &self.credentials) {
            (true, _) => Password::Digest,
            (false, Some(known)) => known.kind,
            (false, None) => Password::Text,
        };
        if shape.is_request() && (added.user.is_some() || added.digest) {
            let sample = Credentials::sample(kind, &contract.schemas.vocabulary);
            let user = added.user.clone().unwrap_or(sample.user);
            let password = added.password.clone().unwrap_or(sample.password);
            self.credentials = Some(Credentials { user, password, kind });
        }
        self
    }

    /// Whether its blocks differ from one message to the next.
    pub fn differs(&self) -> bool {
        self.addressing || self.timestamp || self.credentials.is_some()
    }

    /// The blocks, addressing first; those that the contract declares itself are left to it.
    pub fn blocks(&self, contract: &Contract, shape: &WireShape, time_and_ids: &TimeAndIds) -> Vec<Element> {
        let Some(soap) = shape.soap() else { return Vec::new() };
        let mut blocks = Vec::new();
        if self.addressing {
            blocks.extend(addressing::blocks(contract, shape, time_and_ids));
        }
        if self.credentials.is_some() || self.timestamp {
            let credentials = self.credentials.as_ref();
            blocks.push(security::block(soap.version, credentials, self.timestamp, time_and_ids));
        }
        let declared = |block: &Element| {
            soap.headers.iter().any(|header| *header.content.name(&contract.schemas) == block.name)
        };
        blocks.retain(|block| !declared(block));
        blocks
    }
}

fn demand(contract: &Contract, shape: &WireShape) -> Option<Demands> {
    let bound = contract.bound(shape.operation).find(|bound| bound.binding == shape.binding)?;
    let operations = &contract.bindings[shape.binding].operations;
    let index = operations.iter().position(|operation| std::ptr::eq(operation, bound.operation))?;
    contract.demand(shape.binding, index, shape.port)
}

/// Whether an extension element says that messages must be addressed (WS-Addressing 1.0, WSDL Binding, 3.1).
fn uses_addressing(contract: &Contract, shape: &WireShape) -> bool {
    let of_port = shape.port.map(|port| &contract.port(port).extensions);
    let all = contract.bindings[shape.binding].extensions.iter().chain(of_port.into_iter().flatten());
    all.into_iter().any(|extension| {
        let says =
            matches!(&extension.kind, ExtensionKind::Other(name) if name.is(ns::WSAW, "UsingAddressing"));
        says && extension.required
    })
}

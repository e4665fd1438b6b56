//! A contract: its files, and the components in them.

use std::sync::OnceLock;

use charter_schema::{Arena, Schemas};
use charter_source::{Fault, Files, Map, QName, ns};

use crate::index::Index;
use crate::{
    Binding, BindingId, Definitions, Message, MessageId, Operation, OperationId, Port, PortId, PortType,
    PortTypeId, Service, ServiceId, Usage,
};

/// A contract and everything that belongs to it.
pub struct Contract {
    /// Its files.
    pub files: Files,
    /// The components of its schemas.
    pub schemas: Schemas,
    /// Its definitions, one for each WSDL file.
    pub definitions: Arena<Definitions>,
    /// Its messages.
    pub messages: Arena<Message>,
    /// Its port types.
    pub port_types: Arena<PortType>,
    /// Its bindings.
    pub bindings: Arena<Binding>,
    /// Its services.
    pub services: Arena<Service>,
    pub(crate) names: Names,
    pub(crate) faults: Vec<Fault>,
    pub(crate) index: Index,
    pub(crate) usage: OnceLock<Usage>,
}

/// Elements of a contract that is worth a second thread.
const LARGE: usize = 5_000;

impl Drop for Contract {
    /// A large contract is a great many pieces of memory: those of its components and of its trees go side by side.
    fn drop(&mut self) {
        if self.schemas.elements.len() > LARGE {
            let (schemas, files) = (std::mem::take(&mut self.schemas), std::mem::take(&mut self.files));
            std::thread::scope(|threads| {
                threads.spawn(|| drop(files));
                drop(schemas);
            });
        }
    }
}

#[derive(Default)]
pub(crate) struct Names {
    pub messages: Map<QName, MessageId>,
    pub port_types: Map<QName, PortTypeId>,
    pub bindings: Map<QName, BindingId>,
    pub services: Map<QName, ServiceId>,
}

/// What the first file of a contract turned out to be.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum DocumentKind {
    /// A WSDL 1.1 contract.
    Contract,
    /// A schema by itself.
    Schema,
    /// Some other XML, with the name of its root element.
    Other(QName),
    /// No well-formed XML.
    Unreadable,
}

impl Contract {
    /// Everything that was wrong with the files, the schemas and the contract, in the order of the text.
    pub fn faults(&self) -> Vec<&Fault> {
        let mut faults: Vec<&Fault> =
            self.files.faults().iter().chain(self.schemas.faults()).chain(&self.faults).collect();
        faults.sort_by_key(|fault| fault.place);
        faults
    }

    /// What the first file is.
    pub fn kind(&self) -> DocumentKind {
        let file = self.files.first();
        match file.root() {
            None => DocumentKind::Unreadable,
            Some(_) if file.has_root(ns::WSDL, "definitions") => DocumentKind::Contract,
            Some(_) if file.has_root(ns::XSD, "schema") => DocumentKind::Schema,
            Some(root) => {
                let name = root.tag_name();
                DocumentKind::Other(QName::new(name.namespace().unwrap_or(""), name.name()))
            }
        }
    }

    /// The message of that name.
    pub fn message_named(&self, name: &QName) -> Option<MessageId> {
        self.names.messages.get(name).copied()
    }

    /// An operation.
    pub fn operation(&self, id: OperationId) -> &Operation {
        &self.port_types[id.port_type].operations[id.index]
    }

    /// A port.
    pub fn port(&self, id: PortId) -> &Port {
        &self.services[id.service].ports[id.index]
    }

    /// All ports, in the order of their services.
    pub fn ports(&self) -> impl Iterator<Item = (PortId, &Port)> {
        self.services.iter().flat_map(|(service, definition)| {
            let ports = definition.ports.iter().enumerate();
            ports.map(move |(index, port)| (PortId { service, index }, port))
        })
    }

    /// All operations, in the order of their port types.
    pub fn operations(&self) -> impl Iterator<Item = (OperationId, &Operation)> {
        self.port_types.iter().flat_map(|(port_type, definition)| {
            let operations = definition.operations.iter().enumerate();
            operations.map(move |(index, operation)| (OperationId { port_type, index }, operation))
        })
    }
}

//! The WSDL 1.1 component model: what a contract says, with the place where it says it.
//!
//! [`Contract::load`] reads a contract with all that it imports and resolves every reference; what is wrong is
//! kept as faults. A [`Component`] is any part of it, and a [`ComponentPath`] is its name for people. A
//! [`WireShape`] says what one side of one operation really looks like on the network: whoever deals with
//! messages looks at it, never at bindings.

mod component;
mod contract;
mod extension;
mod find;
mod index;
mod label;
mod lookup;
mod message;
mod model;
mod path;
mod place;
mod policy;
mod reached;
mod read;
mod resolve;
mod usage;
mod wire;

pub use component::{Component, Side};
pub use contract::{Contract, DocumentKind};
pub use extension::{
    BodyExtension, Extension, ExtensionKind, FaultExtension, HeaderExtension, MimePart, SoapVersion, Style,
    UseKind,
};
pub use find::Lookup;
pub use label::Label;
pub use message::{Message, Part};
pub use model::{
    Binding, BindingMessage, BindingOperation, Definitions, MessageUse, Operation, Pattern, Port, PortType,
    Service,
};
pub use path::{ComponentPath, PathError};
pub use policy::{
    Addressing, Alternative, Assertion, Demand, Demands, Expression, MOST_ALTERNATIVES, Need, Password,
    Policies, Replies, demands_in_words,
};
pub use usage::Usage;
pub use wire::{
    Body, Bound, Carrier, Direction, FaultShape, HeaderBlock, HttpContent, HttpShape, MediaPart, RpcPart,
    SoapShape, Unshaped, WireElement, WireShape,
};

use charter_schema::Id;

/// Names a definitions element.
pub type DefinitionsId = Id<Definitions>;
/// Names a message.
pub type MessageId = Id<Message>;
/// Names a port type.
pub type PortTypeId = Id<PortType>;
/// Names a binding.
pub type BindingId = Id<Binding>;
/// Names a service.
pub type ServiceId = Id<Service>;

/// Names a port: its service, and its number there.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct PortId {
    /// The service.
    pub service: ServiceId,
    /// Which of its ports.
    pub index: usize,
}

/// Names an operation: its port type, and its number there.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct OperationId {
    /// The port type.
    pub port_type: PortTypeId,
    /// Which of its operations.
    pub index: usize,
}

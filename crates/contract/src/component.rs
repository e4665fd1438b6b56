//! Any component of a contract, as one small value.

use charter_schema::{AttributeGroupId, AttributeId, ElementId, GroupId, ParticleId, TypeId};

use crate::{BindingId, MessageId, OperationId, PortId, PortTypeId, ServiceId};

/// A side of an operation.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Side {
    /// What goes to the service.
    Input,
    /// What comes from it.
    Output,
    /// One of its faults.
    Fault(usize),
}

/// A component of a contract.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Component {
    /// The contract as a whole.
    Contract,
    /// A message.
    Message(MessageId),
    /// A part of a message.
    Part(MessageId, usize),
    /// A port type.
    PortType(PortTypeId),
    /// An operation of a port type.
    Operation(OperationId),
    /// A side of an operation.
    OperationSide(OperationId, Side),
    /// A binding.
    Binding(BindingId),
    /// An operation of a binding.
    BindingOperation(BindingId, usize),
    /// A side of an operation of a binding.
    BindingSide(BindingId, usize, Side),
    /// A service.
    Service(ServiceId),
    /// A port of a service.
    Port(PortId),
    /// A type; an anonymous one goes by the path of what it stands in.
    Type(TypeId),
    /// An element, global or local.
    Element(ElementId),
    /// The use of a global element in a content model.
    ElementUse(ParticleId),
    /// An attribute, global or local.
    Attribute(AttributeId),
    /// A model group.
    Group(GroupId),
    /// An attribute group.
    AttributeGroup(AttributeGroupId),
}

impl Component {
    /// Whether it is one of a schema.
    pub fn is_of_schema(self) -> bool {
        use Component::{Attribute, AttributeGroup, Element, ElementUse, Group, Type};
        matches!(self, Type(_) | Element(_) | ElementUse(_) | Attribute(_) | Group(_) | AttributeGroup(_))
    }
}

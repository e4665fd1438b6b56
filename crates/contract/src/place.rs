//! Where components stand, and what they say about themselves.

use charter_schema::Owner;
use charter_source::{Place, Span};

use crate::{Component, Contract};

impl Contract {
    /// The place of a component: of its name in the text, or else of its start tag.
    pub fn place(&self, component: Component) -> Place {
        let start = Place { file: self.files.first().id, span: Span::default() };
        let schemas = &self.schemas;
        match component {
            Component::Contract => self.definitions.iter().next().map_or(start, |(_, first)| first.place),
            Component::Message(id) => self.messages[id].place,
            Component::Part(id, index) => self.messages[id].parts[index].name.place,
            Component::PortType(id) => self.port_types[id].place,
            Component::Operation(id) => self.operation(id).name.place,
            Component::OperationSide(id, side) => {
                let operation = self.operation(id);
                let usage = operation.side(side);
                usage.map_or(operation.place, |usage| usage.place)
            }
            Component::Binding(id) => self.bindings[id].place,
            Component::BindingOperation(id, index) => self.bindings[id].operations[index].name.place,
            Component::BindingSide(id, index, side) => {
                let operation = &self.bindings[id].operations[index];
                let message = operation.side(side);
                message.map_or(operation.place, |message| message.place)
            }
            Component::Service(id) => self.services[id].place,
            Component::Port(id) => self.port(id).place,
            Component::Type(id) => schemas.types[id].place,
            Component::Element(id) => schemas.elements[id].place,
            Component::ElementUse(id) => schemas.particles[id].place,
            Component::Attribute(id) => schemas.attribute_decls[id].place,
            Component::Group(id) => schemas.groups[id].place,
            Component::AttributeGroup(id) => schemas.attribute_groups[id].place,
        }
    }

    /// The whole element of a component; nothing for the contract as a whole.
    pub fn extent(&self, component: Component) -> Option<Place> {
        let schemas = &self.schemas;
        Some(match component {
            Component::Contract => return None,
            Component::Message(id) => self.messages[id].extent,
            Component::Part(id, index) => self.messages[id].parts[index].extent,
            Component::PortType(id) => self.port_types[id].extent,
            Component::Operation(id) => self.operation(id).extent,
            Component::OperationSide(id, side) => self.operation(id).side(side)?.extent,
            Component::Binding(id) => self.bindings[id].extent,
            Component::BindingOperation(id, index) => self.bindings[id].operations[index].extent,
            Component::BindingSide(id, index, side) => self.bindings[id].operations[index].side(side)?.extent,
            Component::Service(id) => self.services[id].extent,
            Component::Port(id) => self.port(id).extent,
            Component::Type(id) => schemas.types[id].extent,
            Component::Element(id) => schemas.elements[id].extent,
            Component::ElementUse(id) => schemas.particles[id].extent,
            Component::Attribute(id) => schemas.attribute_decls[id].extent,
            Component::Group(id) => schemas.groups[id].extent,
            Component::AttributeGroup(id) => schemas.attribute_groups[id].extent,
        })
    }

    /// The same for a component of a schema alone.
    pub fn extent_in_schema(&self, component: Component) -> Option<Place> {
        self.extent(component).filter(|_| component.is_of_schema())
    }

    /// What a component of WSDL says about itself, in the one documentation that it may have.
    pub fn documentation(&self, component: Component) -> Option<&str> {
        let documentation = match component {
            Component::Contract => &self.definitions.iter().next()?.1.documentation,
            Component::Message(id) => &self.messages[id].documentation,
            Component::Part(id, index) => &self.messages[id].parts[index].documentation,
            Component::PortType(id) => &self.port_types[id].documentation,
            Component::Operation(id) => &self.operation(id).documentation,
            Component::OperationSide(id, side) => &self.operation(id).side(side)?.documentation,
            Component::Binding(id) => &self.bindings[id].documentation,
            Component::BindingOperation(id, index) => &self.bindings[id].operations[index].documentation,
            Component::Service(id) => &self.services[id].documentation,
            Component::Port(id) => &self.port(id).documentation,
            _ => return None,
        };
        documentation.as_deref()
    }

    /// Whether a component of a schema stands in another one.
    pub fn is_local(&self, component: Component) -> bool {
        let schemas = &self.schemas;
        match component {
            Component::Type(id) => schemas.types[id].owner != Owner::Schema,
            Component::Element(id) => schemas.elements[id].owner != Owner::Schema,
            Component::Attribute(id) => schemas.attribute_decls[id].owner != Owner::Schema,
            Component::ElementUse(_) => true,
            _ => false,
        }
    }
}

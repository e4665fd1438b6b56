//! Where components stand.

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
}

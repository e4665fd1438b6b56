//! Tables beside the components, made when first needed: by name, by place, and the order among namesakes.

use std::sync::Arc;

use charter_schema::{Builtin, Owner, Term};
use charter_source::{Map, Place, Set, Span};

use crate::{BindingId, Component, Contract, OperationId, PortId};

/// The tables.
pub(crate) struct Index {
    /// Components that a path can begin with, by the word of their kind and their local name.
    /// The global components of the contract by kind and name.
    pub roots: Roots,
    /// Those that come with the program likewise.
    pub built_in: Roots,
    /// Which of several namesakes in one content model a component is, from 2; the first is not in the table.
    pub ordinals: Map<Component, u32>,
    /// The ways in which each operation is offered.
    pub offers: Map<OperationId, Vec<Offer>>,
    files: Vec<Vec<Extent>>,
}

/// Components by kind and name.
pub(crate) type Roots = Map<(&'static str, Arc<str>), Vec<Component>>;

/// An operation of a binding, and a port that offers it.
#[derive(Clone, Copy)]
pub(crate) struct Offer {
    pub binding: BindingId,
    pub bound: usize,
    pub port: Option<PortId>,
}

/// The stretch that a component covers, and the extent around it.
struct Extent {
    span: Span,
    component: Component,
    parent: Option<u32>,
}

impl Index {
    pub fn of(contract: &Contract) -> Index {
        let mut builder = Builder {
            roots: Map::default(),
            built_in: Map::default(),
            files: contract.files.iter().map(|_| Vec::new()).collect(),
        };
        builder.wsdl(contract);
        builder.schema(contract);
        for extents in &mut builder.files {
            nest(extents);
        }
        Index {
            roots: builder.roots,
            built_in: builder.built_in,
            ordinals: ordinals(contract),
            offers: offers(contract),
            files: builder.files,
        }
    }

    /// The innermost component whose element covers a place.
    pub fn component_at(&self, place: Place) -> Component {
        let Some(extents) = self.files.get(place.file.0 as usize) else { return Component::Contract };
        let before = extents.partition_point(|extent| extent.span.start <= place.span.start);
        let mut here = before.checked_sub(1);
        while let Some(at) = here {
            let extent = &extents[at];
            // The end of an insertion point may be the end of what it follows.
            if extent.span.covers(place.span) {
                return extent.component;
            }
            here = extent.parent.map(|parent| parent as usize);
        }
        Component::Contract
    }
}

/// Sorts the extents of a file by their beginning and finds the one around each.
fn nest(extents: &mut [Extent]) {
    extents.sort_by_key(|extent| (extent.span.start, std::cmp::Reverse(extent.span.end)));
    let mut open: Vec<u32> = Vec::new();
    for at in 0..extents.len() {
        while open.last().is_some_and(|last| extents[*last as usize].span.end <= extents[at].span.start) {
            open.pop();
        }
        extents[at].parent = open.last().copied();
        open.push(at as u32);
    }
}

struct Builder {
    roots: Roots,
    built_in: Roots,
    files: Vec<Vec<Extent>>,
}

impl Builder {
    fn root(&mut self, kind: &'static str, name: &Arc<str>, component: Component) {
        self.roots.entry((kind, name.clone())).or_default().push(component);
    }

    /// A global component of a schema.
    fn global(&mut self, contract: &Contract, kind: &'static str, name: &Arc<str>, component: Component) {
        let roots = if contract.is_built_in(component) { &mut self.built_in } else { &mut self.roots };
        roots.entry((kind, name.clone())).or_default().push(component);
    }

    fn extent(&mut self, extent: Place, component: Component) {
        if let Some(extents) = self.files.get_mut(extent.file.0 as usize) {
            extents.push(Extent { span: extent.span, component, parent: None });
        }
    }

    fn wsdl(&mut self, contract: &Contract) {
        for (id, message) in contract.messages.iter() {
            self.root("message", &message.name.local, Component::Message(id));
            self.extent(message.extent, Component::Message(id));
            for (index, part) in message.parts.iter().enumerate() {
                self.extent(part.extent, Component::Part(id, index));
            }
        }
        for (id, port_type) in contract.port_types.iter() {
            self.root("port-type", &port_type.name.local, Component::PortType(id));
            self.extent(port_type.extent, Component::PortType(id));
        }
        for (id, operation) in contract.operations() {
            self.root("operation", &operation.name.text, Component::Operation(id));
            self.extent(operation.extent, Component::Operation(id));
            for (side, usage) in operation.sides() {
                self.extent(usage.extent, Component::OperationSide(id, side));
            }
        }
        for (id, binding) in contract.bindings.iter() {
            self.root("binding", &binding.name.local, Component::Binding(id));
            self.extent(binding.extent, Component::Binding(id));
            for (index, operation) in binding.operations.iter().enumerate() {
                self.extent(operation.extent, Component::BindingOperation(id, index));
                for (side, message) in operation.sides() {
                    self.extent(message.extent, Component::BindingSide(id, index, side));
                }
            }
        }
        for (id, service) in contract.services.iter() {
            self.root("service", &service.name.local, Component::Service(id));
            self.extent(service.extent, Component::Service(id));
            for (index, port) in service.ports.iter().enumerate() {
                self.extent(port.extent, Component::Port(PortId { service: id, index }));
            }
        }
    }

    fn schema(&mut self, contract: &Contract) {
        let schemas = &contract.schemas;
        for (id, ty) in schemas.types.iter() {
            if let Some(name) = &ty.name {
                self.global(contract, "type", &name.local, Component::Type(id));
            }
            if Builtin::from_id(id).is_none() {
                self.extent(ty.extent, Component::Type(id));
            }
        }
        for (id, element) in schemas.elements.iter() {
            if element.owner == Owner::Schema {
                self.global(contract, "element", &element.name.local, Component::Element(id));
            }
            self.extent(element.extent, Component::Element(id));
        }
        for (id, attribute) in schemas.attribute_decls.iter() {
            if attribute.owner == Owner::Schema {
                self.global(contract, "attribute", &attribute.name.local, Component::Attribute(id));
            }
            self.extent(attribute.extent, Component::Attribute(id));
        }
        for (id, group) in schemas.groups.iter() {
            self.global(contract, "group", &group.name.local, Component::Group(id));
            self.extent(group.extent, Component::Group(id));
        }
        for (id, group) in schemas.attribute_groups.iter() {
            self.global(contract, "attribute-group", &group.name.local, Component::AttributeGroup(id));
            self.extent(group.extent, Component::AttributeGroup(id));
        }
        for (id, particle) in schemas.particles.iter() {
            if matches!(particle.term, Term::ElementRef(_)) {
                self.extent(particle.extent, Component::ElementUse(id));
            }
        }
    }
}

/// The ways in which operations are offered: by each port of each service, then by bindings without a port.
fn offers(contract: &Contract) -> Map<OperationId, Vec<Offer>> {
    let mut found: Map<OperationId, Vec<Offer>> = Map::default();
    let mut offer = |binding: BindingId, port: Option<PortId>| {
        let definition = &contract.bindings[binding];
        let Some(port_type) = definition.port_type.target else { return };
        let mut seen = Set::default();
        for (bound, operation) in definition.operations.iter().enumerate() {
            // Bound twice, an operation is bound as it is bound first.
            if let Some(index) = operation.operation.filter(|index| seen.insert(*index)) {
                let id = OperationId { port_type, index };
                found.entry(id).or_default().push(Offer { binding, bound, port });
            }
        }
    };
    let mut with_port = Set::default();
    for (id, port) in contract.ports() {
        if let Some(binding) = port.binding.target {
            with_port.insert(binding);
            offer(binding, Some(id));
        }
    }
    for binding in contract.bindings.ids().filter(|binding| !with_port.contains(binding)) {
        offer(binding, None);
    }
    found
}

/// Numbers the namesakes within each content model and each binding. Particles are read in document order.
fn ordinals(contract: &Contract) -> Map<Component, u32> {
    let schemas = &contract.schemas;
    let mut counts: Map<(Owner, &str), u32> = Map::default();
    let mut found = Map::default();
    for (id, binding) in contract.bindings.iter() {
        let mut counts: Map<&str, u32> = Map::default();
        for (index, operation) in binding.operations.iter().enumerate() {
            let count = counts.entry(&operation.name.text).or_default();
            *count += 1;
            if *count > 1 {
                found.insert(Component::BindingOperation(id, index), *count);
            }
        }
    }
    for (id, particle) in schemas.particles.iter() {
        let (component, name) = match &particle.term {
            Term::Element(element) => (Component::Element(*element), &schemas.elements[*element].name),
            Term::ElementRef(reference) => match &reference.name {
                Some(name) => (Component::ElementUse(id), name),
                None => continue,
            },
            _ => continue,
        };
        let count = counts.entry((particle.owner, &name.local)).or_default();
        *count += 1;
        if *count > 1 {
            found.insert(component, *count);
        }
    }
    found
}

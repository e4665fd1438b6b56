//! Finds components by name and by place: makes the tables beside them.

use std::sync::Arc;

use charter_schema::{Owner, Term};
use charter_source::{Map, Place, Set};

use crate::index::{Extent, Names, Offer};
use crate::{BindingId, Component, Contract, OperationId, PortId};

impl Contract {
    /// The global components by kind and name.
    pub(crate) fn names(&self) -> &Names {
        self.index.names.get_or_init(|| Names::of(self))
    }

    /// Which of several namesakes in one content model a component is, from 1.
    pub(crate) fn ordinal(&self, component: Component) -> u32 {
        self.index.ordinals.get_or_init(|| ordinals(self)).get(&component).copied().unwrap_or(1)
    }

    /// The ways in which an operation is offered.
    pub(crate) fn offers(&self, id: OperationId) -> &[Offer] {
        self.index.offers.get_or_init(|| offers(self)).get(&id).map_or(&[], Vec::as_slice)
    }

    /// The innermost component whose element covers a place.
    pub fn component_at(&self, place: Place) -> Component {
        let files = self.index.extents.get_or_init(|| extents(self));
        let Some(extents) = files.get(place.file.0 as usize) else { return Component::Contract };
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

impl Names {
    fn of(contract: &Contract) -> Names {
        let mut names = Names::default();
        for (id, message) in contract.messages.iter() {
            names.root("message", &message.name.local, Component::Message(id));
        }
        for (id, port_type) in contract.port_types.iter() {
            names.root("port-type", &port_type.name.local, Component::PortType(id));
        }
        for (id, operation) in contract.operations() {
            names.root("operation", &operation.name.text, Component::Operation(id));
        }
        for (id, binding) in contract.bindings.iter() {
            names.root("binding", &binding.name.local, Component::Binding(id));
        }
        for (id, service) in contract.services.iter() {
            names.root("service", &service.name.local, Component::Service(id));
        }
        names.schema(contract);
        names
    }

    fn schema(&mut self, contract: &Contract) {
        let schemas = &contract.schemas;
        for (id, ty) in schemas.types.iter() {
            if let Some(name) = &ty.name {
                self.global(contract, "type", &name.local, Component::Type(id));
            }
        }
        for (id, element) in schemas.elements.iter().filter(|(_, it)| it.owner == Owner::Schema) {
            self.global(contract, "element", &element.name.local, Component::Element(id));
        }
        for (id, attribute) in schemas.attribute_decls.iter().filter(|(_, it)| it.owner == Owner::Schema) {
            self.global(contract, "attribute", &attribute.name.local, Component::Attribute(id));
        }
        for (id, group) in schemas.groups.iter() {
            self.global(contract, "group", &group.name.local, Component::Group(id));
        }
        for (id, group) in schemas.attribute_groups.iter() {
            self.global(contract, "attribute-group", &group.name.local, Component::AttributeGroup(id));
        }
    }

    fn root(&mut self, kind: &'static str, name: &Arc<str>, component: Component) {
        self.roots.add(kind, name, component);
    }

    /// A global component of a schema.
    fn global(&mut self, contract: &Contract, kind: &'static str, name: &Arc<str>, component: Component) {
        let roots = if contract.is_built_in(component) { &mut self.built_in } else { &mut self.roots };
        roots.add(kind, name, component);
    }
}

/// The stretches of all components, by file.
fn extents(contract: &Contract) -> Vec<Vec<Extent>> {
    let mut files: Vec<Vec<Extent>> = contract.files.iter().map(|_| Vec::new()).collect();
    let mut see = |extent: Place, component: Component| {
        if let Some(extents) = files.get_mut(extent.file.0 as usize) {
            extents.push(Extent { span: extent.span, component, parent: None });
        }
    };
    wsdl_extents(contract, &mut see);
    schema_extents(contract, &mut see);
    files.iter_mut().for_each(|extents| nest(extents));
    files
}

fn wsdl_extents(contract: &Contract, see: &mut impl FnMut(Place, Component)) {
    for (id, message) in contract.messages.iter() {
        see(message.extent, Component::Message(id));
        for (index, part) in message.parts.iter().enumerate() {
            see(part.extent, Component::Part(id, index));
        }
    }
    contract.port_types.iter().for_each(|(id, it)| see(it.extent, Component::PortType(id)));
    for (id, operation) in contract.operations() {
        see(operation.extent, Component::Operation(id));
        for (side, usage) in operation.sides() {
            see(usage.extent, Component::OperationSide(id, side));
        }
    }
    for (id, binding) in contract.bindings.iter() {
        see(binding.extent, Component::Binding(id));
        for (index, operation) in binding.operations.iter().enumerate() {
            see(operation.extent, Component::BindingOperation(id, index));
            for (side, message) in operation.sides() {
                see(message.extent, Component::BindingSide(id, index, side));
            }
        }
    }
    for (id, service) in contract.services.iter() {
        see(service.extent, Component::Service(id));
        for (index, port) in service.ports.iter().enumerate() {
            see(port.extent, Component::Port(PortId { service: id, index }));
        }
    }
}

fn schema_extents(contract: &Contract, see: &mut impl FnMut(Place, Component)) {
    let schemas = &contract.schemas;
    schemas.own_types().for_each(|(id, it)| see(it.extent, Component::Type(id)));
    schemas.elements.iter().for_each(|(id, it)| see(it.extent, Component::Element(id)));
    schemas.attribute_decls.iter().for_each(|(id, it)| see(it.extent, Component::Attribute(id)));
    schemas.groups.iter().for_each(|(id, it)| see(it.extent, Component::Group(id)));
    schemas.attribute_groups.iter().for_each(|(id, it)| see(it.extent, Component::AttributeGroup(id)));
    let uses = schemas.particles.iter().filter(|(_, it)| matches!(it.term, Term::ElementRef(_)));
    uses.for_each(|(id, it)| see(it.extent, Component::ElementUse(id)));
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
                Some(name) => (Component::ElementUse(id), &**name),
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

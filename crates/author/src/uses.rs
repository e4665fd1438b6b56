//! Where each component is named: by reference from elsewhere.

use charter_contract::{Component, Contract, Extension, ExtensionKind, HeaderExtension};
use charter_schema::{AttributeDecl, Builtin, ElementDecl, Ref, SimpleDerivation, Term, TypeDef, TypeKind};
use charter_source::{Map, Place};

/// The places that name components, by where the name of each is declared.
///
/// A schema that is included under two namespaces is read twice, so that its components have twins; both are
/// declared at one place.
pub(crate) struct Uses {
    by_declaration: Map<Place, Vec<Place>>,
}

impl Uses {
    pub fn of(contract: &Contract) -> Uses {
        let mut uses = Uses { by_declaration: Map::default() };
        uses.wsdl(contract);
        uses.schema(contract);
        for places in uses.by_declaration.values_mut() {
            places.sort_unstable();
            places.dedup();
        }
        uses
    }

    /// The places that name what is declared at a place.
    pub fn of_declaration(&self, declaration: Place) -> &[Place] {
        self.by_declaration.get(&declaration).map_or(&[], Vec::as_slice)
    }

    /// The places that name a component.
    pub fn of_component(&self, contract: &Contract, component: Component) -> &[Place] {
        declaration(contract, component).map_or(&[], |place| self.of_declaration(place))
    }

    fn see(&mut self, declaration: Place, place: Place) {
        self.by_declaration.entry(declaration).or_default().push(place);
    }

    fn wsdl(&mut self, contract: &Contract) {
        for (_, operation) in contract.operations() {
            for (_, usage) in operation.sides() {
                if let Some(id) = usage.message.target {
                    self.see(contract.messages[id].place, usage.message.place);
                }
            }
        }
        for (_, binding) in contract.bindings.iter() {
            if let Some(id) = binding.port_type.target {
                self.see(contract.port_types[id].place, binding.port_type.place);
            }
            for bound in &binding.operations {
                bound.sides().for_each(|(_, side)| self.extensions(contract, &side.extensions));
            }
        }
        for (_, port) in contract.ports() {
            if let Some(id) = port.binding.target {
                self.see(contract.bindings[id].place, port.binding.place);
            }
        }
        for part in contract.messages.iter().flat_map(|(_, message)| &message.parts) {
            part.element.iter().for_each(|element| self.element(contract, element));
            part.ty.iter().for_each(|ty| self.ty(contract, ty));
        }
    }

    fn extensions(&mut self, contract: &Contract, extensions: &[Extension]) {
        for extension in extensions {
            match &extension.kind {
                ExtensionKind::SoapHeader(header) => self.header(contract, header),
                ExtensionKind::MimeMultipart(parts) => {
                    parts.iter().for_each(|part| self.extensions(contract, &part.extensions));
                }
                _ => {}
            }
        }
    }

    fn header(&mut self, contract: &Contract, header: &HeaderExtension) {
        if let Some(id) = header.message.target {
            self.see(contract.messages[id].place, header.message.place);
        }
        header.faults.iter().for_each(|fault| self.header(contract, fault));
    }

    fn element(&mut self, contract: &Contract, reference: &Ref<ElementDecl>) {
        if let (Some(_), Some(id)) = (&reference.name, reference.target) {
            self.see(contract.schemas.elements[id].place, reference.place);
        }
    }

    fn attribute(&mut self, contract: &Contract, reference: &Ref<AttributeDecl>) {
        if let (Some(_), Some(id)) = (&reference.name, reference.target) {
            self.see(contract.schemas.attribute_decls[id].place, reference.place);
        }
    }

    fn ty(&mut self, contract: &Contract, reference: &Ref<TypeDef>) {
        if let (Some(_), Some(id)) = (&reference.name, reference.target)
            && Builtin::from_id(id).is_none()
        {
            self.see(contract.schemas.types[id].place, reference.place);
        }
    }

    fn schema(&mut self, contract: &Contract) {
        let schemas = &contract.schemas;
        for (_, definition) in schemas.own_types() {
            match &definition.kind {
                TypeKind::Simple(simple) => match &simple.derivation {
                    SimpleDerivation::Restriction(base) | SimpleDerivation::List(base) => {
                        self.ty(contract, base)
                    }
                    SimpleDerivation::Union(members) => {
                        members.iter().for_each(|member| self.ty(contract, member))
                    }
                },
                TypeKind::Complex(complex) => {
                    self.ty(contract, &complex.base);
                    complex.attributes.iter().for_each(|usage| self.attribute(contract, &usage.attribute));
                    complex.attribute_groups.iter().for_each(|group| self.attribute_group(contract, group));
                }
            }
        }
        for (_, element) in schemas.elements.iter() {
            self.ty(contract, &element.ty);
            element.substitution_group.iter().for_each(|head| self.element(contract, head));
        }
        schemas.attribute_decls.iter().for_each(|(_, attribute)| self.ty(contract, &attribute.ty));
        for (_, group) in schemas.attribute_groups.iter() {
            group.attributes.iter().for_each(|usage| self.attribute(contract, &usage.attribute));
            group.groups.iter().for_each(|group| self.attribute_group(contract, group));
        }
        for (_, particle) in schemas.particles.iter() {
            match &particle.term {
                Term::ElementRef(element) => self.element(contract, element),
                Term::GroupRef(group) => {
                    if let Some(id) = group.target {
                        self.see(schemas.groups[id].place, group.place);
                    }
                }
                _ => {}
            }
        }
    }

    fn attribute_group(&mut self, contract: &Contract, group: &Ref<charter_schema::AttributeGroup>) {
        if let Some(id) = group.target {
            self.see(contract.schemas.attribute_groups[id].place, group.place);
        }
    }
}

/// Where the name of a component that can be referred to is declared.
pub(crate) fn declaration(contract: &Contract, component: Component) -> Option<Place> {
    use Component::{Attribute, AttributeGroup, Binding, Element, Group, Message, PortType, Type};
    let has_name = match component {
        Type(id) => contract.schemas.types[id].name.is_some(),
        Message(_) | PortType(_) | Binding(_) | Element(_) | Attribute(_) | Group(_) | AttributeGroup(_) => {
            true
        }
        _ => false,
    };
    has_name.then(|| contract.place(component))
}

//! What a complex type allows once its whole derivation is taken into account.

use charter_source::{Map, QName, Set};

use crate::{
    AttributeGroup, AttributeGroupId, AttributeId, AttributeUse, Builtin, ComplexType, Compositor, Content,
    Derivation, ElementId, NamespaceConstraint, Occurs, ParticleId, Ref, Schemas, Term, TypeId, TypeKind,
    Use, ValueConstraint, Wildcard,
};

/// An attribute that a type allows.
#[derive(Debug, Clone)]
pub struct Attribute<'s> {
    /// Its expanded name.
    pub name: &'s QName,
    /// Its declaration.
    pub decl: AttributeId,
    /// Its type.
    pub ty: TypeId,
    /// Whether it must be there.
    pub required: bool,
    /// The use that allows it.
    pub usage: &'s AttributeUse,
    /// Its default or fixed value, from its use or its declaration.
    pub value: Option<&'s ValueConstraint>,
}

impl<'s> Attribute<'s> {
    /// The attribute that a use allows, if its declaration is known.
    pub(crate) fn of(schemas: &'s Schemas, usage: &'s AttributeUse) -> Option<Attribute<'s>> {
        let decl = usage.attribute.target?;
        let declared = &schemas.attribute_decls[decl];
        Some(Attribute {
            name: &declared.name,
            decl,
            usage,
            ty: declared.ty.target.unwrap_or(Builtin::AnySimpleType.id()),
            required: usage.usage == Use::Required,
            value: usage.value.as_deref().or(declared.value.as_deref()),
        })
    }
}

/// Attributes laid over those of the base, by name.
#[derive(Default)]
struct Overlay<'s> {
    slots: Vec<Option<Attribute<'s>>>,
    places: Map<&'s QName, usize>,
}

impl<'s> Overlay<'s> {
    fn lay(&mut self, schemas: &'s Schemas, usage: &'s AttributeUse) {
        let Some(attribute) = Attribute::of(schemas, usage) else { return };
        let name = attribute.name;
        let attribute = (usage.usage != Use::Prohibited).then_some(attribute);
        match self.places.get(name) {
            Some(at) => self.slots[*at] = attribute,
            None => {
                self.places.insert(name, self.slots.len());
                self.slots.push(attribute);
            }
        }
    }
}

/// The attribute wildcard of a type, from what it writes itself and what its base has (Part 1, 3.4.2, {attribute
/// wildcard}).
pub(crate) fn complete_wildcard(
    derivation: Derivation,
    own: Option<Wildcard>,
    base: Option<Wildcard>,
) -> Option<Wildcard> {
    match (derivation, own, base) {
        (Derivation::Restriction, own, _) | (Derivation::Extension, own, None) => own,
        (Derivation::Extension, None, base) => base,
        (Derivation::Extension, Some(own), Some(base)) => {
            let both = own.namespaces.union(&base.namespaces);
            Some(own.letting(both.unwrap_or(NamespaceConstraint::Any)))
        }
    }
}

impl Schemas {
    /// The complex type that `id` names.
    pub fn complex(&self, id: TypeId) -> Option<&ComplexType> {
        match &self.types[id].kind {
            TypeKind::Complex(complex) => Some(complex),
            TypeKind::Simple(_) => None,
        }
    }

    /// The steps of a complex type's derivation that add to its content, most derived first.
    fn steps(&self, id: TypeId) -> impl Iterator<Item = (TypeId, &ComplexType)> {
        let mut next = self.complex(id).map(|complex| (id, complex));
        std::iter::from_fn(move || {
            let (here, complex) = next?;
            next = None;
            if complex.derivation == Derivation::Extension {
                next = complex.base.target.and_then(|base| Some((base, self.complex(base)?)));
            }
            Some((here, complex))
        })
    }

    /// Whether the type is simple, or a complex one with a simple content: its content is a value.
    pub fn has_simple_content(&self, id: TypeId) -> bool {
        self.complex(id).is_none_or(|complex| matches!(complex.content, Content::Simple { .. }))
    }

    /// The particles of the type's content, those of its base first; they follow each other.
    ///
    /// Empty for a type without elements. `anyType` has no particles of its own: see [`Schemas::is_any`].
    pub fn content(&self, id: TypeId) -> Vec<ParticleId> {
        let mut particles: Vec<ParticleId> = self
            .steps(id)
            .filter_map(|(_, complex)| match complex.content {
                Content::Elements(particle) => Some(particle),
                _ => None,
            })
            .collect();
        particles.reverse();
        particles
    }

    /// Whether the type is `anyType`, or extends it: any elements and attributes.
    pub fn is_any(&self, id: TypeId) -> bool {
        self.steps(id).any(|(here, _)| here == Builtin::AnyType.id())
    }

    /// Whether text may stand between the elements of the type.
    pub fn is_mixed(&self, id: TypeId) -> bool {
        self.steps(id).any(|(_, complex)| complex.mixed)
    }

    /// The attributes that the type allows, those of its base first, and the wildcard for any others
    /// (Part 1, 3.4.2, {attribute uses} and {attribute wildcard}).
    pub fn attributes(&self, id: TypeId) -> (Vec<Attribute<'_>>, Option<Wildcard>) {
        let mut chain = Vec::new();
        let mut here = Some(id);
        while let Some(complex) = here.and_then(|id| self.complex(id)) {
            chain.push(complex);
            here = complex.base.target.filter(|base| Some(*base) != here);
        }
        let mut found = Overlay::default();
        let mut wildcard: Option<Wildcard> = None;
        for complex in chain.into_iter().rev() {
            let (uses, own) = self.written_attributes(complex);
            wildcard = complete_wildcard(complex.derivation, own, wildcard);
            uses.into_iter().for_each(|usage| found.lay(self, usage));
        }
        (found.slots.into_iter().flatten().collect(), wildcard)
    }

    /// The attribute uses written in a type and in the groups it uses, and the wildcard that all of them leave.
    pub(crate) fn written_attributes<'s>(
        &'s self,
        complex: &'s ComplexType,
    ) -> (Vec<&'s AttributeUse>, Option<Wildcard>) {
        self.gathered(&complex.attributes, &complex.attribute_groups, complex.any_attribute.as_deref())
    }

    /// The same for the parts that a type or a group is written with.
    pub(crate) fn gathered<'s>(
        &'s self,
        own: &'s [AttributeUse],
        groups: &[Ref<AttributeGroup>],
        any: Option<&Wildcard>,
    ) -> (Vec<&'s AttributeUse>, Option<Wildcard>) {
        let mut uses = Vec::new();
        let mut wildcard = any.cloned();
        let mut waiting: Vec<AttributeGroupId> =
            groups.iter().rev().filter_map(|group| group.target).collect();
        // A group used by two others is taken once.
        let mut seen = Set::default();
        while let Some(id) = waiting.pop() {
            if !seen.insert(id) {
                continue;
            }
            let group: &AttributeGroup = &self.attribute_groups[id];
            uses.extend(&group.attributes);
            if let Some(any) = &group.any_attribute {
                wildcard = Some(match wildcard {
                    None => (**any).clone(),
                    Some(so_far) => {
                        let both = so_far.namespaces.intersection(&any.namespaces);
                        so_far.letting(both.unwrap_or_else(|| so_far.namespaces.clone()))
                    }
                });
            }
            waiting.extend(group.groups.iter().rev().filter_map(|group| group.target));
        }
        uses.extend(own);
        (uses, wildcard)
    }

    /// The element that a particle stands for, if it stands for one.
    pub fn particle_element(&self, id: ParticleId) -> Option<ElementId> {
        match &self.particles[id].term {
            Term::Element(element) => Some(*element),
            Term::ElementRef(element) => element.target,
            _ => None,
        }
    }

    /// The group that a particle stands for, by itself or by reference.
    pub fn particle_group(&self, id: ParticleId) -> Option<(Compositor, &[ParticleId])> {
        match &self.particles[id].term {
            Term::Group(compositor, members) => Some((*compositor, members)),
            Term::GroupRef(group) => self.particle_group(self.groups[group.target?].particle?),
            _ => None,
        }
    }

    /// Every element that may stand in the content of a type, in document order, with how often it may stand
    /// there in all; an element inside a choice may always be left out.
    pub fn children(&self, id: TypeId) -> Vec<(ElementId, Occurs)> {
        let mut found = Vec::new();
        for particle in self.content(id) {
            self.collect_children(particle, Occurs::ONCE, &mut found);
        }
        found
    }

    fn collect_children(&self, id: ParticleId, outer: Occurs, found: &mut Vec<(ElementId, Occurs)>) {
        let occurs = self.particles[id].occurs.within(outer);
        if let Some(element) = self.particle_element(id) {
            found.push((element, occurs));
        } else if let Some((compositor, members)) = self.particle_group(id) {
            let choice = compositor == Compositor::Choice && members.len() > 1;
            let outer = if choice { Occurs { min: 0, ..occurs } } else { occurs };
            for member in members {
                self.collect_children(*member, outer, found);
            }
        }
    }

    /// The type of an element; `anyType` if it is not known.
    pub fn element_type(&self, id: ElementId) -> TypeId {
        self.elements[id].ty.target.unwrap_or(Builtin::AnyType.id())
    }
}

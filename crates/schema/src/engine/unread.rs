//! Which types say less than they mean, because something that they refer to is not there: a file that could not be read, a
//! slip, something beyond the bounds. Nothing can be said for certain of what they allow.

use charter_source::Set;

use super::Engine;
use crate::particle::Term;
use crate::{
    AttributeDecl, AttributeGroup, AttributeUse, Builtin, Content, ElementId, GroupDef, ParticleId, Ref,
    Schemas, SimpleDerivation, TypeId, TypeKind,
};

/// What is found out about all components at once.
#[derive(Debug, Default)]
pub(crate) struct Unread {
    types: Vec<bool>,
    /// The elements whose substitutes were left out.
    heads: Set<ElementId>,
}

impl Engine<'_> {
    /// Whether something that a type refers to is not there.
    pub(crate) fn is_unread(&self, id: TypeId) -> bool {
        self.unread.get_or_init(|| Unread::of(self.schemas)).types.get(id.index()).copied().unwrap_or(false)
    }

    /// Whether the type of an element is not there, or something that would stand for it.
    pub(crate) fn is_element_unread(&self, id: ElementId) -> bool {
        let unread = self.unread.get_or_init(|| Unread::of(self.schemas));
        is_lost(&self.schemas.elements[id].ty) || unread.heads.contains(&id)
    }
}

/// Whether a reference leads nowhere.
fn is_lost<T>(reference: &Ref<T>) -> bool {
    reference.target.is_none() && reference.name.is_some()
}

impl Unread {
    fn of(schemas: &Schemas) -> Unread {
        let mut finder = Finder { schemas, groups: vec![None; schemas.groups.len()] };
        let mut types: Vec<Option<bool>> =
            schemas.types.ids().map(|id| finder.own(id).then_some(true)).collect();
        if types.iter().all(Option::is_none) {
            return Unread { types: Vec::new(), heads: heads(schemas) };
        }
        // What a type inherits it says as well.
        for start in schemas.types.ids() {
            let mut path = Vec::new();
            let mut here = Some(start);
            while let Some(id) = here.filter(|id| types[id.index()].is_none()) {
                path.push(id);
                here = base(schemas, id);
            }
            let found = here.and_then(|id| types[id.index()]).unwrap_or(false);
            path.into_iter().for_each(|id| types[id.index()] = Some(found));
        }
        let types = types.into_iter().map(|found| found.unwrap_or(false)).collect();
        Unread { types, heads: heads(schemas) }
    }
}

/// The elements that others name as their heads by references that lead nowhere, and those that these stand for in turn.
fn heads(schemas: &Schemas) -> Set<ElementId> {
    let mut found = Set::default();
    for (_, element) in schemas.elements.iter() {
        let lost = element.substitution_group.as_ref().filter(|head| is_lost(head));
        let mut here = lost.and_then(|head| schemas.element_named(head.name.as_ref()?));
        while let Some(id) = here.filter(|id| found.insert(*id)) {
            here = schemas.elements[id].substitution_group.as_ref().and_then(|head| head.target);
        }
    }
    found
}

fn base(schemas: &Schemas, id: TypeId) -> Option<TypeId> {
    if Builtin::from_id(id).is_some() {
        return None;
    }
    match &schemas.types[id].kind {
        TypeKind::Complex(complex) => complex.base.target,
        TypeKind::Simple(simple) => match &simple.derivation {
            SimpleDerivation::Restriction(base) | SimpleDerivation::List(base) => base.target,
            SimpleDerivation::Union(_) => None,
        },
    }
}

struct Finder<'s> {
    schemas: &'s Schemas,
    groups: Vec<Option<bool>>,
}

impl Finder<'_> {
    /// Whether a type itself refers to something that is not there.
    fn own(&mut self, id: TypeId) -> bool {
        if Builtin::from_id(id).is_some() {
            return false;
        }
        let schemas = self.schemas;
        match &schemas.types[id].kind {
            TypeKind::Simple(simple) => match &simple.derivation {
                SimpleDerivation::Restriction(base) | SimpleDerivation::List(base) => is_lost(base),
                SimpleDerivation::Union(members) => members.iter().any(is_lost),
            },
            TypeKind::Complex(complex) => {
                let content = match complex.content {
                    Content::Elements(particle) => self.particle(particle),
                    _ => false,
                };
                content
                    || is_lost(&complex.base)
                    || complex.attributes.iter().any(|it| self.attribute(it))
                    || complex.attribute_groups.iter().any(|it| self.attribute_group(it))
            }
        }
    }

    fn particle(&mut self, id: ParticleId) -> bool {
        let schemas = self.schemas;
        match &schemas.particles[id].term {
            Term::Element(_) | Term::Any(_) => false,
            Term::ElementRef(reference) => is_lost(reference),
            Term::Group(_, members) => members.iter().any(|member| self.particle(*member)),
            Term::GroupRef(reference) => is_lost(reference) || self.group(reference),
        }
    }

    fn group(&mut self, reference: &Ref<GroupDef>) -> bool {
        let Some(id) = reference.target else { return false };
        if let Some(known) = self.groups[id.index()] {
            return known;
        }
        let found = self.schemas.groups[id].particle.is_some_and(|particle| self.particle(particle));
        self.groups[id.index()] = Some(found);
        found
    }

    fn attribute(&self, attribute: &AttributeUse) -> bool {
        let declaration = |id| -> &AttributeDecl { &self.schemas.attribute_decls[id] };
        is_lost(&attribute.attribute)
            || attribute.attribute.target.is_some_and(|id| is_lost(&declaration(id).ty))
    }

    fn attribute_group(&self, reference: &Ref<AttributeGroup>) -> bool {
        is_lost(reference)
            || reference.target.is_some_and(|id| {
                let group = &self.schemas.attribute_groups[id];
                group.attributes.iter().any(|it| self.attribute(it))
                    || group.groups.iter().any(|it| self.attribute_group(it))
            })
    }
}

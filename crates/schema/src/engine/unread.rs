//! Which types say less than they mean, because something that they refer to is not there: a file that could not be read, a
//! slip, something beyond the bounds. Nothing can be said for certain of what they allow.

use charter_source::Set;

use super::Engine;
use crate::particle::Term;
use crate::{
    AttributeUse, Builtin, Content, ElementId, Id, ParticleId, Ref, Schemas, SimpleDerivation, TypeId,
    TypeKind,
};

/// What is found out about all components at once.
#[derive(Debug, Default)]
pub(crate) struct Unread {
    /// For each type, if there are any that are unread.
    types: Vec<bool>,
    /// The elements whose substitutes were left out.
    heads: Set<ElementId>,
}

impl Engine<'_> {
    /// Whether something that a type refers to is not there.
    pub(crate) fn is_unread(&self, id: TypeId) -> bool {
        self.unread.get_or_init(|| Unread::of(self.schemas)).types.get(id.index()).copied().unwrap_or(false)
    }

    /// Whether the type of an element is not there.
    pub(crate) fn is_element_typeless(&self, id: ElementId) -> bool {
        is_lost(&self.schemas.elements[id].ty)
    }

    /// Whether the type of an element is not there, or something that would stand for it.
    pub(crate) fn is_element_unread(&self, id: ElementId) -> bool {
        let unread = self.unread.get_or_init(|| Unread::of(self.schemas));
        self.is_element_typeless(id) || unread.heads.contains(&id)
    }
}

/// Whether a reference leads nowhere.
fn is_lost<T>(reference: &Ref<T>) -> bool {
    reference.target.is_none() && reference.name.is_some()
}

impl Unread {
    fn of(schemas: &Schemas) -> Unread {
        let heads = heads(schemas);
        let nodes = Nodes { schemas };
        let mut unread = vec![false; nodes.count()];
        for (node, unread) in unread.iter_mut().enumerate() {
            nodes.see(node, &mut |to| *unread |= to.is_none());
        }
        let mut waiting: Vec<usize> = (0..unread.len()).filter(|node| unread[*node]).collect();
        if waiting.is_empty() {
            return Unread { types: Vec::new(), heads };
        }
        // Whoever refers to what is unread says it as well.
        let mut users: Vec<(u32, u32)> = Vec::new();
        for node in 0..unread.len() {
            nodes.see(node, &mut |to| users.extend(to.map(|to| (to as u32, node as u32))));
        }
        users.sort_unstable();
        while let Some(node) = waiting.pop() {
            let from = users.partition_point(|(to, _)| (*to as usize) < node);
            for (_, user) in users[from..].iter().take_while(|(to, _)| *to as usize == node) {
                if !std::mem::replace(&mut unread[*user as usize], true) {
                    waiting.push(*user as usize);
                }
            }
        }
        unread.truncate(schemas.types.len());
        Unread { types: unread, heads }
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

/// Types, groups and groups of attributes, one behind the other, and what each says only together with another. The types of
/// elements are left out: these are looked at where the elements stand.
struct Nodes<'s> {
    schemas: &'s Schemas,
}

/// Takes what a node refers to: another node, or nothing if that is not there.
type Seen<'f> = &'f mut dyn FnMut(Option<usize>);

impl Nodes<'_> {
    fn count(&self) -> usize {
        let schemas = self.schemas;
        schemas.types.len() + schemas.groups.len() + schemas.attribute_groups.len()
    }

    fn see(&self, node: usize, seen: Seen<'_>) {
        let (types, groups) = (self.schemas.types.len(), self.schemas.groups.len());
        if node < types {
            self.ty(TypeId::new(node as u32), seen);
        } else if node < types + groups {
            let group = &self.schemas.groups[Id::new((node - types) as u32)];
            group.particle.iter().for_each(|particle| self.particle(*particle, seen));
        } else {
            let group = &self.schemas.attribute_groups[Id::new((node - types - groups) as u32)];
            group.attributes.iter().for_each(|attribute| self.attribute(attribute, seen));
            group.groups.iter().for_each(|group| refer(group, types + groups, seen));
        }
    }

    fn ty(&self, id: TypeId, seen: Seen<'_>) {
        if Builtin::from_id(id).is_some() {
            return;
        }
        match &self.schemas.types[id].kind {
            TypeKind::Simple(simple) => match &simple.derivation {
                SimpleDerivation::Restriction(base) | SimpleDerivation::List(base) => refer(base, 0, seen),
                SimpleDerivation::Union(members) => members.iter().for_each(|member| refer(member, 0, seen)),
            },
            TypeKind::Complex(complex) => {
                refer(&complex.base, 0, seen);
                match &complex.content {
                    Content::Elements(particle) => self.particle(*particle, seen),
                    Content::Simple { inline, .. } => inline.iter().for_each(|ty| seen(Some(ty.index()))),
                    Content::Empty => {}
                }
                complex.attributes.iter().for_each(|attribute| self.attribute(attribute, seen));
                let first = self.schemas.types.len() + self.schemas.groups.len();
                complex.attribute_groups.iter().for_each(|group| refer(group, first, seen));
            }
        }
    }

    fn particle(&self, id: ParticleId, seen: Seen<'_>) {
        match &self.schemas.particles[id].term {
            Term::Element(_) | Term::Any(_) => {}
            Term::ElementRef(reference) if is_lost(reference) => seen(None),
            Term::ElementRef(_) => {}
            Term::Group(_, members) => members.iter().for_each(|member| self.particle(*member, seen)),
            Term::GroupRef(reference) => refer(reference, self.schemas.types.len(), seen),
        }
    }

    fn attribute(&self, attribute: &AttributeUse, seen: Seen<'_>) {
        match attribute.attribute.target {
            Some(id) => refer(&self.schemas.attribute_decls[id].ty, 0, seen),
            None if is_lost(&attribute.attribute) => seen(None),
            None => {}
        }
    }
}

/// What a reference leads to, among nodes of which `first` is the first of its kind.
fn refer<T>(reference: &Ref<T>, first: usize, seen: Seen<'_>) {
    match reference.target {
        Some(id) => seen(Some(first + id.index())),
        None if is_lost(reference) => seen(None),
        None => {}
    }
}

//! Which type and which group refers to which, as far as a circle among them would never end.

use crate::particle::Term;
use crate::set::Schemas;
use crate::{Builtin, Id, ParticleId, Ref, SimpleDerivation, TypeDef, TypeId, TypeKind};

/// A reference to a group from within a content: by which particle, how deep that is nested, and what it refers to.
pub(crate) type Nested = (ParticleId, usize, Option<usize>);

/// What a type is made from.
pub(crate) fn type_edges(set: &Schemas, node: usize) -> Vec<Option<usize>> {
    let id = TypeId::new(node as u32);
    if Builtin::from_id(id).is_some() {
        return Vec::new();
    }
    let to = |reference: &Ref<TypeDef>| reference.target.map(Id::index);
    match &set.types[id].kind {
        TypeKind::Complex(complex) => vec![to(&complex.base)],
        TypeKind::Simple(simple) => match &simple.derivation {
            SimpleDerivation::Restriction(ty) | SimpleDerivation::List(ty) => vec![to(ty)],
            SimpleDerivation::Union(members) => members.iter().map(to).collect(),
        },
    }
}

/// The groups that a group refers to, with the particles that do and how deep these are nested in it.
pub(crate) fn nested_group_edges(set: &Schemas, node: usize) -> Vec<Nested> {
    let particle = set.groups[Id::new(node as u32)].particle;
    particle.map_or_else(Vec::new, |particle| nested_groups(set, particle).1)
}

/// How many particles a content has of its own, and the groups that it refers to.
pub(crate) fn nested_groups(set: &Schemas, particle: ParticleId) -> (u64, Vec<Nested>) {
    let mut found = Vec::new();
    let mut own = 0;
    let mut waiting = vec![(particle, 1)];
    while let Some((particle, nesting)) = waiting.pop() {
        own += 1;
        match &set.particles[particle].term {
            Term::Group(_, members) => waiting.extend(members.iter().map(|member| (*member, nesting + 1))),
            Term::GroupRef(group) => found.push((particle, nesting, group.target.map(Id::index))),
            _ => {}
        }
    }
    (own, found)
}

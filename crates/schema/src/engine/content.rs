//! What kind of content a type has (Part 1, 3.4.2, {content type}).

use super::Engine;
use crate::{Builtin, Compositor, Content, Derivation, ParticleId, Schemas, Term, TypeId, TypeKind};

/// What kind of content a type has.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum ContentKind {
    /// Neither elements nor text.
    Empty,
    /// A value.
    Simple,
    /// Elements alone.
    Elements,
    /// Elements with text between them.
    Mixed,
}

impl Engine<'_> {
    /// What kind of content a type has.
    pub(crate) fn content_kind(&self, id: TypeId) -> ContentKind {
        *self.kinds[id.index()].get_or_init(|| self.schemas.content_kind(id))
    }
}

impl Schemas {
    /// Whether a particle is written that says no more than that there is nothing.
    pub(crate) fn is_void(&self, id: ParticleId) -> bool {
        let particle = &self.particles[id];
        if particle.occurs.max == Some(0) {
            return true;
        }
        match &particle.term {
            Term::Group(Compositor::Choice, members) => members.is_empty() && particle.occurs.min == 0,
            Term::Group(_, members) => members.is_empty(),
            _ => false,
        }
    }

    /// What kind of content a type has, its derivation taken into account.
    pub(crate) fn content_kind(&self, id: TypeId) -> ContentKind {
        let mut here = id;
        loop {
            if here == Builtin::AnyType.id() {
                return ContentKind::Mixed;
            }
            let TypeKind::Complex(complex) = &self.types[here].kind else { return ContentKind::Simple };
            let elements = match &complex.content {
                Content::Simple { .. } => return ContentKind::Simple,
                Content::Elements(particle) => !self.is_void(*particle),
                Content::Empty => false,
            };
            match (complex.mixed, elements, complex.derivation, complex.base.target) {
                (true, ..) => return ContentKind::Mixed,
                (false, true, Derivation::Restriction, _) => return ContentKind::Elements,
                (false, true, Derivation::Extension, _) => {
                    // Text is allowed where the base allows it; that the two must agree is said elsewhere.
                    let mixed = self.is_mixed(here) || self.is_any(here);
                    return if mixed { ContentKind::Mixed } else { ContentKind::Elements };
                }
                (false, false, Derivation::Extension, Some(base)) => here = base,
                (false, false, ..) => return ContentKind::Empty,
            }
        }
    }
}

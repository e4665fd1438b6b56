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
    /// What kind of content a type has, its derivation taken into account.
    pub(crate) fn content_kind(&self, id: TypeId) -> ContentKind {
        // The bases whose kind decides, up to one that is known: derivations may be too long to recurse.
        let mut undecided = Vec::new();
        let mut here = id;
        let mut kind = loop {
            if let Some(known) = self.kinds[here.index()].get() {
                break *known;
            }
            undecided.push(here);
            match self.schemas.own_kind(here) {
                (kind, None) => break kind,
                (_, Some(base)) => here = base,
            }
        };
        for id in undecided.into_iter().rev() {
            kind = match self.schemas.own_kind(id) {
                // Text is allowed where the base allows it; that the two must agree is said elsewhere.
                (ContentKind::Elements, Some(_)) if kind != ContentKind::Mixed => ContentKind::Elements,
                (_, Some(_)) => kind,
                (own, None) => own,
            };
            kind = *self.kinds[id.index()].get_or_init(|| kind);
        }
        kind
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

    /// What kind of content a type has by what it writes itself, and the base that has a say in it too.
    fn own_kind(&self, id: TypeId) -> (ContentKind, Option<TypeId>) {
        if id == Builtin::AnyType.id() {
            return (ContentKind::Mixed, None);
        }
        let TypeKind::Complex(complex) = &self.types[id].kind else { return (ContentKind::Simple, None) };
        let kind = match &complex.content {
            Content::Simple { .. } => return (ContentKind::Simple, None),
            Content::Elements(particle) if !self.is_void(*particle) => ContentKind::Elements,
            Content::Elements(_) | Content::Empty => ContentKind::Empty,
        };
        match complex.derivation {
            _ if complex.mixed => (ContentKind::Mixed, None),
            Derivation::Restriction => (kind, None),
            Derivation::Extension => (kind, complex.base.target),
        }
    }
}

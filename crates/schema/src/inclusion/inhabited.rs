//! Which types have an instance at all: one that must contain itself has none, and cannot break anything.

use super::{Assessment, Inclusion};
use crate::engine::{Engine, stands_for};
use crate::{
    Builtin, Compositor, Content, Derivation, DerivationSet, ElementId, NamespaceConstraint, Owner,
    ParticleId, Process, Term, TypeId,
};

impl Inclusion<'_> {
    /// Whether the first side has an instance that is judged so.
    pub fn is_inhabited(&self, judged: Assessment) -> bool {
        if self.assuming {
            return judged != Assessment::Unknown;
        }
        match judged {
            // What may be nil needs no content.
            Assessment::Element(id) => {
                let holds = |ty: TypeId| {
                    let inhabited = self.inhabited.get_or_init(|| Search::new(self.sub).run());
                    self.sub.schemas.elements[id].nillable || inhabited[ty.index()]
                };
                let ty = self.sub.schemas.element_type(id);
                stands(self.sub, (ty, self.sub.schemas.elements[id].block), &holds)
            }
            Assessment::Type(id) => {
                let inhabited = self.inhabited.get_or_init(|| Search::new(self.sub).run());
                stands(self.sub, (id, DerivationSet::default()), &|ty| inhabited[ty.index()])
            }
            Assessment::Skipped => true,
            Assessment::Unknown => false,
        }
    }

    /// Whether a type itself has an instance.
    pub(super) fn is_type_inhabited(&self, id: TypeId) -> bool {
        self.assuming || self.inhabited.get_or_init(|| Search::new(self.sub).run())[id.index()]
    }
}

pub(super) fn is_abstract(engine: &Engine<'_>, id: TypeId) -> bool {
    engine.schemas.complex(id).is_some_and(|complex| complex.is_abstract)
}

/// Whether anything holds of a type, or of one that may stand for it where so much is blocked; what is abstract left out.
fn stands(engine: &Engine<'_>, (ty, block): (TypeId, DerivationSet), holds: &dyn Fn(TypeId) -> bool) -> bool {
    let block = block.with(engine.schemas.prohibited(ty));
    let mut waiting = vec![ty];
    while let Some(id) = waiting.pop() {
        let fits = !is_abstract(engine, id) && holds(id);
        if fits && (id == ty || engine.schemas.may_stand_for(id, ty, block)) {
            return true;
        }
        waiting.extend(engine.relatives().derived(id));
    }
    false
}

struct Search<'s> {
    engine: &'s Engine<'s>,
    found: Vec<bool>,
}

impl<'s> Search<'s> {
    fn new(engine: &'s Engine<'s>) -> Self {
        Search { engine, found: vec![false; engine.schemas.types.len()] }
    }

    /// Goes through all types until no more are found.
    fn run(mut self) -> Vec<bool> {
        loop {
            let mut more = false;
            // Types mostly stand after those that they use, or before: both ways, few rounds are needed.
            let all: Vec<TypeId> = self.engine.schemas.types.iter().map(|(id, _)| id).collect();
            for id in all.iter().chain(all.iter().rev()) {
                if !self.found[id.index()] && self.has_instance(*id) {
                    self.found[id.index()] = true;
                    more = true;
                }
            }
            if !more {
                return self.found;
            }
        }
    }

    fn has_instance(&self, id: TypeId) -> bool {
        let schemas = self.engine.schemas;
        if id == Builtin::AnyType.id() || schemas.has_simple_content(id) {
            return true;
        }
        let Some(complex) = schemas.complex(id) else { return true };
        // What extends another has its content too; so a long chain is not followed for each of its types.
        let base = match (complex.derivation, complex.base.target) {
            (Derivation::Extension, Some(base)) if base != id => self.found[base.index()],
            _ => true,
        };
        base && match complex.content {
            Content::Elements(particle) => self.fills(particle),
            _ => true,
        }
    }

    fn fills(&self, id: ParticleId) -> bool {
        let schemas = self.engine.schemas;
        let particle = &schemas.particles[id];
        if particle.occurs.min == 0 || particle.occurs.max == Some(0) {
            return true;
        }
        if let Some(element) = schemas.particle_element(id) {
            return self.element(element);
        }
        match schemas.particle_group(id) {
            Some((Compositor::Choice, members)) => members
                .iter()
                .any(|member| schemas.particles[*member].occurs.max != Some(0) && self.fills(*member)),
            Some((_, members)) => members.iter().all(|member| self.fills(*member)),
            None => match &particle.term {
                Term::Any(wildcard) if wildcard.process == Process::Strict => {
                    self.strict(&wildcard.namespaces)
                }
                _ => true,
            },
        }
    }

    /// Whether some element is declared that a wildcard may hold.
    fn strict(&self, namespaces: &NamespaceConstraint) -> bool {
        let schemas = self.engine.schemas;
        schemas.elements.iter().any(|(id, element)| {
            element.owner == Owner::Schema && namespaces.allows(&element.name.namespace) && self.element(id)
        })
    }

    fn element(&self, head: ElementId) -> bool {
        let (schemas, relatives) = (self.engine.schemas, self.engine.relatives());
        let mut waiting = vec![head];
        while let Some(id) = waiting.pop() {
            waiting.extend(relatives.substitutes(id));
            let element = &schemas.elements[id];
            let ty = schemas.element_type(id);
            let holds = |ty: TypeId| element.nillable || self.found[ty.index()];
            if !element.is_abstract
                && (id == head || stands_for(schemas, ty, head))
                && stands(self.engine, (ty, element.block), &holds)
            {
                return true;
            }
        }
        false
    }
}

//! Content models that are built alike: particle by particle, the second allows whatever the first does. That is what
//! nearly all types are from one version to the next, and it is seen without a walk.

use charter_source::{Map, QName, Set};

use super::wild::Wild;
use super::{Assessment, Edge, Inclusion, Outcome, Pair};
use crate::engine::{Engine, stands_for};
use crate::{Compositor, ElementId, Owner, ParticleId, Process, Term, TypeId, Wildcard};

/// Pairs that the comparison came upon.
#[derive(Default)]
struct Found {
    elements: Vec<(ElementId, ElementId)>,
    wild: Vec<Wild>,
}

impl Inclusion<'_> {
    /// Whether the content of the one type is seen to be within that of the other; then the outcome knows where it goes on.
    pub(super) fn aligned(&self, sub: TypeId, sup: TypeId, outcome: &mut Outcome) -> bool {
        let (a, b) = (self.sub.schemas.content(sub), self.sup.schemas.content(sup));
        let mut found = Found::default();
        if !self.sequences(&a, &b, &mut found) {
            return false;
        }
        let mut leads_to = Vec::new();
        let mut known: Set<Pair> = Set::default();
        for (a, b) in found.elements {
            // What can never be there may keep others from being there.
            if !self.assuming && self.standing_there(a).is_empty() {
                return false;
            }
            if self.sub.schemas.elements[a].is_abstract {
                continue;
            }
            let name = self.sub.schemas.elements[a].name.clone();
            let pair = Pair::Elements(Assessment::Element(a), Assessment::Element(b));
            let edge = Edge::Child { name, judged: Assessment::Element(a), at: None, open: false };
            if known.insert(pair) {
                leads_to.push((edge, pair));
            }
        }
        let wild = found.wild.into_iter().map(|wild| self.let_in_by_both(wild));
        leads_to.extend(wild.filter(|pair| known.insert(*pair)).map(|pair| (Edge::Same, pair)));
        outcome.leads_to.extend(leads_to);
        true
    }

    fn particles(&self, a: ParticleId, b: ParticleId, found: &mut Found) -> bool {
        let (ours, theirs) = (self.sub.schemas, self.sup.schemas);
        let (p, q) = (&ours.particles[a], &theirs.particles[b]);
        let most = |max: Option<u32>| max.unwrap_or(u32::MAX);
        if p.occurs.min < q.occurs.min || most(p.occurs.max) > most(q.occurs.max) {
            return false;
        }
        if let (Some(x), Some(y)) = (ours.particle_element(a), theirs.particle_element(b)) {
            return self.element(x, y, found);
        }
        if let (Term::Any(x), Term::Any(y)) = (&p.term, &q.term) {
            let dead = !self.assuming
                && x.process == Process::Strict
                && self.strangers(x, &Set::default()).is_empty();
            let within = x.namespaces.within(&y.namespaces) && !dead;
            if within {
                found.wild.push(Wild::of(x, y));
            }
            return within;
        }
        match (ours.particle_group(a), theirs.particle_group(b)) {
            // A group that is not there may hold anything.
            (None, None) if matches!((&p.term, &q.term), (Term::GroupRef(_), Term::GroupRef(_))) => {
                found.wild.push(Wild::of(&Wildcard::anything(), &Wildcard::anything()));
                true
            }
            (Some((Compositor::Sequence, a)), Some((Compositor::Sequence, b))) => self.sequences(a, b, found),
            (Some((Compositor::Choice, a)), Some((Compositor::Choice, b))) => self.choices(a, b, found),
            (Some((Compositor::All, a)), Some((Compositor::All, b))) => self.all(a, b, found),
            _ => false,
        }
    }

    /// Whether one element is the other, with all that may stand for it.
    fn element(&self, a: ElementId, b: ElementId, found: &mut Found) -> bool {
        if self.sub.schemas.elements[a].name != self.sup.schemas.elements[b].name {
            return false;
        }
        found.elements.push((a, b));
        let ours = stand_ins(self.sub, a);
        if ours.is_empty() {
            return true;
        }
        let mut theirs: Map<&QName, ElementId> = Map::default();
        for id in stand_ins(self.sup, b) {
            theirs.entry(&self.sup.schemas.elements[id].name).or_insert(id);
        }
        for member in ours {
            let Some(other) = theirs.get(&self.sub.schemas.elements[member].name).copied() else {
                return false;
            };
            found.elements.push((member, other));
        }
        true
    }

    /// Members in order; the second may have others that can be left out.
    fn sequences(&self, a: &[ParticleId], b: &[ParticleId], found: &mut Found) -> bool {
        let mut at = 0;
        for member in a {
            if is_void(self.sub, *member) {
                continue;
            }
            loop {
                let Some(other) = b.get(at) else { return false };
                at += 1;
                let (elements, wild) = (found.elements.len(), found.wild.len());
                if !is_void(self.sup, *other) && self.particles(*member, *other, found) {
                    break;
                }
                found.elements.truncate(elements);
                found.wild.truncate(wild);
                if !optional(self.sup, *other) {
                    return false;
                }
            }
        }
        b[at..].iter().all(|other| optional(self.sup, *other))
    }

    /// Each member of the first is a member of the second.
    fn choices(&self, a: &[ParticleId], b: &[ParticleId], found: &mut Found) -> bool {
        let mut hint = 0;
        for member in a {
            if is_void(self.sub, *member) {
                return false;
            }
            let order = (hint..b.len()).chain(0..hint);
            let mut fits = |at: &usize| {
                let (elements, wild) = (found.elements.len(), found.wild.len());
                let fits = !is_void(self.sup, b[*at]) && self.particles(*member, b[*at], found);
                if !fits {
                    found.elements.truncate(elements);
                    found.wild.truncate(wild);
                }
                fits
            };
            let Some(at) = order.into_iter().find(|at| fits(at)) else { return false };
            hint = at + 1;
        }
        // A choice of nothing has no instance, which is no matter of the second.
        !a.is_empty()
    }

    /// Members in any order.
    fn all(&self, a: &[ParticleId], b: &[ParticleId], found: &mut Found) -> bool {
        let mut taken = vec![false; b.len()];
        for (hint, member) in a.iter().enumerate() {
            if is_void(self.sub, *member) {
                continue;
            }
            let order = (hint.min(b.len())..b.len()).chain(0..hint.min(b.len()));
            let mut fits = |at: &usize| {
                let length = found.elements.len();
                let fits =
                    !taken[*at] && !is_void(self.sup, b[*at]) && self.particles(*member, b[*at], found);
                if !fits {
                    found.elements.truncate(length);
                }
                fits
            };
            let Some(at) = order.into_iter().find(|at| fits(at)) else { return false };
            taken[at] = true;
        }
        b.iter().zip(&taken).all(|(other, taken)| *taken || optional(self.sup, *other))
    }
}

/// The elements that may stand for one, itself and what is abstract not among them.
pub(super) fn stand_ins(engine: &Engine<'_>, id: ElementId) -> Vec<ElementId> {
    let mut found = Vec::new();
    if !engine.has_substitutes() || engine.schemas.elements[id].owner != Owner::Schema {
        return found;
    }
    let mut waiting = engine.relatives().substitutes(id).to_vec();
    while let Some(member) = waiting.pop() {
        waiting.extend(engine.relatives().substitutes(member));
        // What is abstract stands for nothing; and of a long chain of those, the heads would fill the memory.
        let ty = engine.schemas.element_type(member);
        if !engine.schemas.elements[member].is_abstract && stands_for(engine.schemas, ty, id) {
            found.push(member);
        }
    }
    found
}

fn is_void(engine: &Engine<'_>, id: ParticleId) -> bool {
    engine.schemas.particles[id].occurs.max == Some(0)
}

fn optional(engine: &Engine<'_>, id: ParticleId) -> bool {
    let particle = &engine.schemas.particles[id];
    if particle.occurs.min == 0 || particle.occurs.max == Some(0) {
        return true;
    }
    match engine.schemas.particle_group(id) {
        // What is there no time at all is not there, and leaves the choice to the others.
        Some((Compositor::Choice, members)) => {
            members.iter().any(|member| !is_void(engine, *member) && optional(engine, *member))
        }
        Some((_, members)) => members.iter().all(|member| optional(engine, *member)),
        None => false,
    }
}

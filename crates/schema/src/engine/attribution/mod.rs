//! Unique particle attribution (Part 1, 3.8.6: cos-nonambig).
//!
//! A content model is ambiguous if, after some elements, the next one could belong to two of its particles. What may
//! come next is followed up the tree: `first` holds the particles that may begin a part, `after` those that may
//! follow one of its last elements from within. Both are handed on to the part around and never copied except
//! into a repetition, so a model costs little more than its size.

mod search;

use charter_source::{Map, NameKey};

pub(crate) use search::is_ambiguous;

use super::{Engine, Model, ModelNode, ModelTerm};
use crate::{Compositor, NamespaceConstraint};

/// Particles by what they may begin with, so that one which overlaps is found without looking at all.
#[derive(Debug, Default, Clone)]
struct Begins {
    /// By name; for an element that others may stand for, by the name of the head.
    names: Map<NameKey, Some2>,
    /// By the names of the elements that one may stand for.
    under: Map<NameKey, Some2>,
    /// By the namespace that names come from.
    namespaces: Map<Box<str>, Some2>,
    /// The wildcards; two that do not overlap name their namespaces one by one.
    wild: Vec<u32>,
}

/// One or two particles: of more, any two will do to find one that is another than a given one.
#[derive(Debug, Clone, Copy)]
struct Some2(u32, u32);

impl Some2 {
    fn with(&mut self, id: u32) {
        if self.0 != id {
            self.1 = id;
        }
    }

    fn each(self) -> impl Iterator<Item = u32> {
        std::iter::once(self.0).chain((self.1 != self.0).then_some(self.1))
    }
}

/// What is known about a part of a model.
#[derive(Debug, Clone)]
pub(crate) struct Part {
    first: Begins,
    after: Begins,
    optional: bool,
}

/// Two particles that overlap where both may come next, by their nodes.
pub(crate) type Overlap = (u32, u32);

/// The first two particles of a model that overlap where both may come next.
pub(crate) fn overlap(engine: &Engine<'_>, model: &Model) -> Option<Overlap> {
    let root = model.root?;
    if distinct(engine, &model.nodes).is_some() {
        return None;
    }
    Attribution { engine, model, guesses: true }.part(root).err()
}

/// The names of the elements of a model in order, if each stands in it once and nothing else can: most models are
/// like that, and nothing in them is ambiguous or inconsistent.
pub(crate) fn distinct(engine: &Engine<'_>, nodes: &[ModelNode]) -> Option<Vec<NameKey>> {
    let mut keys = Vec::with_capacity(nodes.len());
    for node in nodes {
        match &node.term {
            ModelTerm::Element { element, key, global } => {
                if engine.has_substitutes() && !stands_alone(engine, *element, *key, *global) {
                    return None;
                }
                keys.push(*key);
            }
            ModelTerm::Any(_) => return None,
            ModelTerm::Group(_) => {}
        }
    }
    keys.sort_unstable();
    keys.windows(2).all(|pair| pair[0] != pair[1]).then_some(keys)
}

/// Whether an element of a model has nothing to do with substitution groups.
fn stands_alone(engine: &Engine<'_>, element: crate::ElementId, key: NameKey, global: bool) -> bool {
    let joins = |id| engine.schemas.elements[id].substitution_group.is_some();
    match global {
        true => !joins(element) && engine.relatives().substitutes(element).is_empty(),
        false => !engine.global_element(key).is_some_and(joins),
    }
}

pub(crate) struct Attribution<'m> {
    pub engine: &'m crate::Engine<'m>,
    pub model: &'m Model,
    /// Whether what refers to nothing counts as the wildcard that instances are led through in its place.
    pub guesses: bool,
}

impl Attribution<'_> {
    /// Compares what follows something with it, as the next member of a sequence does.
    pub fn meet(&self, before: &Part, next: &Part) -> Result<(), Overlap> {
        self.apart(&before.after, &next.first)?;
        match before.optional {
            true => self.disjoint(&before.first, &next.first),
            false => Ok(()),
        }
    }

    /// A sequence with one more member, which has been compared with it.
    pub fn followed(&self, mut whole: Part, next: Part) -> Part {
        if next.optional {
            // What follows the one never comes side by side with what follows the other.
            whole.after = self.either(whole.after, next.after);
            whole.after = self.either(whole.after, next.first.clone());
        } else {
            whole.after = next.after;
        }
        if whole.optional {
            whole.first = self.either(whole.first, next.first);
        }
        whole.optional &= next.optional;
        whole
    }

    /// A particle with its occurrence.
    pub fn part(&self, id: u32) -> Result<Part, Overlap> {
        let node = &self.model.nodes[id as usize];
        let mut part = self.term(id, node)?;
        if node.max > 1 {
            // What may follow from within, and what begins the next time, come side by side.
            let counted = self.repeats(&part)?;
            let exact = node.min == node.max && !node.emptiable && !counted;
            if !exact {
                part.after = self.either(std::mem::take(&mut part.after), part.first.clone());
            }
        }
        part.optional = node.optional();
        Ok(part)
    }

    /// Compares what may follow with what may begin again; whether some particle is both, so that the number of
    /// times cannot be told from the elements.
    fn repeats(&self, part: &Part) -> Result<bool, Overlap> {
        let mut counted = false;
        let mut least: Option<Overlap> = None;
        for node in part.first.all() {
            for other in self.overlapping(&part.after, node) {
                if other == node {
                    counted = true;
                } else {
                    least = Some(least.map_or((other, node), |least| least.min((other, node))));
                }
            }
        }
        least.map_or(Ok(counted), Err)
    }

    fn term(&self, id: u32, node: &ModelNode) -> Result<Part, Overlap> {
        let ModelTerm::Group(group) = &node.term else {
            let mut first = Begins::default();
            self.add(&mut first, id);
            return Ok(Part { first, after: Begins::default(), optional: false });
        };
        let mut whole = Part { first: Begins::default(), after: Begins::default(), optional: true };
        for member in &group.members {
            let part = self.part(*member)?;
            match group.compositor {
                Compositor::Sequence => {
                    self.meet(&whole, &part)?;
                    whole = self.followed(whole, part);
                }
                Compositor::Choice | Compositor::All => {
                    whole.first = self.joined(std::mem::take(&mut whole.first), part.first)?;
                    whole.after = self.either(std::mem::take(&mut whole.after), part.after);
                }
            }
        }
        // After a member of an all group, all the others may follow.
        if group.compositor == Compositor::All {
            let first = whole.first.clone();
            whole.after = self.either(whole.after, first);
        }
        Ok(whole)
    }

    /// Says so if a particle of one set overlaps one of the other.
    fn apart(&self, set: &Begins, others: &Begins) -> Result<(), Overlap> {
        if set.is_empty() {
            return Ok(());
        }
        let clashes = others.all().flat_map(|node| {
            let others = self.overlapping(set, node).into_iter().filter(move |other| *other != node);
            others.map(move |other| (other, node))
        });
        // The sets come in no order, and of several clashes the same one should be told each time.
        clashes.min().map_or(Ok(()), Err)
    }

    /// Says so if two sets overlap; the smaller is looked for in the larger.
    fn disjoint(&self, a: &Begins, b: &Begins) -> Result<(), Overlap> {
        if a.len() < b.len() { self.apart(b, a) } else { self.apart(a, b) }
    }

    /// Both sets in one, which must not overlap.
    fn joined(&self, a: Begins, b: Begins) -> Result<Begins, Overlap> {
        self.disjoint(&a, &b)?;
        Ok(self.either(a, b))
    }

    /// Both sets in one, where they never come side by side.
    fn either(&self, a: Begins, b: Begins) -> Begins {
        let (mut large, small) = if a.len() < b.len() { (b, a) } else { (a, b) };
        let mut nodes: Vec<u32> = small.all().collect();
        nodes.sort_unstable();
        nodes.into_iter().for_each(|node| self.add(&mut large, node));
        large
    }

    fn add(&self, set: &mut Begins, id: u32) {
        match &self.model.nodes[id as usize].term {
            ModelTerm::Element { element, key, global } => {
                put(&mut set.names, *key, id);
                let schemas = self.engine.schemas;
                put(&mut set.namespaces, (*schemas.elements[*element].name.namespace).into(), id);
                if *global && self.engine.has_substitutes() {
                    for (head, _) in self.engine.heads(*element) {
                        put(&mut set.under, *head, id);
                    }
                    for namespace in self.engine.substitute_namespaces(*element) {
                        put(&mut set.namespaces, (**namespace).into(), id);
                    }
                }
            }
            ModelTerm::Any(_) if self.is_guess(id) => {}
            ModelTerm::Any(_) => set.wild.push(id),
            ModelTerm::Group(_) => {}
        }
    }

    /// Whether a wildcard stands in the place of something that is not there, and is not to count.
    fn is_guess(&self, id: u32) -> bool {
        let particle = self.model.nodes[id as usize].particle;
        let written = particle.map(|particle| &self.engine.schemas.particles[particle].term);
        !self.guesses && !matches!(written, Some(crate::Term::Any(_)))
    }

    /// The particles of a set that may begin with the same element as one more.
    fn overlapping(&self, set: &Begins, id: u32) -> Vec<u32> {
        let mut found = Vec::new();
        match &self.model.nodes[id as usize].term {
            ModelTerm::Element { element, key, global } => {
                found.extend(set.names.get(key).into_iter().flat_map(|some| some.each()));
                if *global && self.engine.has_substitutes() {
                    // Those that this one may stand for, and those that may stand for it.
                    let heads = self.engine.heads(*element).iter();
                    let named =
                        heads.filter_map(|(head, _)| set.names.get(head)).flat_map(|some| some.each());
                    found.extend(named.filter(|other| self.is_global(*other)));
                    found.extend(set.under.get(key).into_iter().flat_map(|some| some.each()));
                }
                let namespace = &self.engine.schemas.elements[*element].name.namespace;
                for other in &set.wild {
                    let lets_in =
                        |namespace: &str| self.wildcard(*other).is_some_and(|any| any.allows(namespace));
                    let by_substitute = || {
                        *global
                            && self.engine.has_substitutes()
                            && self.engine.substitute_namespaces(*element).iter().any(|it| lets_in(it))
                    };
                    if lets_in(namespace) || by_substitute() {
                        found.push(*other);
                    }
                }
            }
            ModelTerm::Any(any) => {
                let names = set.namespaces.iter().filter(|(namespace, _)| any.namespaces.allows(namespace));
                found.extend(names.flat_map(|(_, some)| some.each()));
                let meets = |other: &u32| self.wildcard(*other).is_some_and(|it| it.meets(&any.namespaces));
                found.extend(set.wild.iter().copied().filter(meets));
            }
            ModelTerm::Group(_) => {}
        }
        found
    }

    fn is_global(&self, id: u32) -> bool {
        matches!(self.model.nodes[id as usize].term, ModelTerm::Element { global: true, .. })
    }

    fn wildcard(&self, id: u32) -> Option<&NamespaceConstraint> {
        match &self.model.nodes[id as usize].term {
            ModelTerm::Any(any) => Some(&any.namespaces),
            _ => None,
        }
    }
}

fn put<K: std::hash::Hash + Eq>(map: &mut Map<K, Some2>, key: K, id: u32) {
    map.entry(key).and_modify(|some| some.with(id)).or_insert(Some2(id, id));
}

impl Begins {
    fn len(&self) -> usize {
        self.names.len() + self.wild.len()
    }

    fn is_empty(&self) -> bool {
        self.len() == 0
    }

    fn all(&self) -> impl Iterator<Item = u32> + '_ {
        self.names.values().flat_map(|some| some.each()).chain(self.wild.iter().copied())
    }
}

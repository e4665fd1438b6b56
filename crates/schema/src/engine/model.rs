//! The content model of a type as a tree that elements can be led through.
//!
//! Each node knows which names its first element may have, so that the way down to the particle of an element is
//! looked up and not searched; each sequence knows the next member that cannot be left out. How often something
//! has occurred is a number in the [`Walk`](super::Walk), so a bound of a million costs no more than one of two.

use std::cell::Cell;
use std::sync::{Arc, OnceLock};

use charter_source::{Map, NameKey};

use super::Budget;
use crate::{Compositor, ElementId, Occurs, ParticleId, Schemas, Term as WrittenTerm, Wildcard};

/// Nodes of one model, once the groups that it refers to are opened.
const LARGEST: usize = 200_000;
/// Entries in all lookups of one model.
const LARGEST_LOOKUP: usize = 2_000_000;

/// A content model.
#[derive(Debug, Default)]
pub struct Model {
    pub(crate) nodes: Vec<Node>,
    /// The node of the whole content; `None` if there are no particles.
    pub(crate) root: Option<u32>,
    /// Whether a walk has never more than one way to go, so that the first one found is the one.
    pub(crate) deterministic: bool,
    /// Two particles that may both come next, if there are any.
    pub(crate) ambiguity: Option<(u32, u32)>,
    /// What walks through it may spend, where they have more than one way to go.
    pub(crate) budget: Option<Arc<Budget>>,
    /// The element declarations by name, for content that has gone astray.
    declared: OnceLock<Map<NameKey, ElementId>>,
}

/// A particle in a model.
#[derive(Debug)]
pub(crate) struct Node {
    pub particle: Option<ParticleId>,
    pub min: u32,
    /// `u32::MAX` is unbounded.
    pub max: u32,
    pub term: Term,
    /// Whether the term by itself may be empty.
    pub emptiable: bool,
}

/// What a particle of a model stands for.
#[derive(Debug)]
pub(crate) enum Term {
    Element { element: ElementId, key: NameKey, global: bool },
    Any(Wildcard),
    Group(Group),
}

/// A group in a model.
#[derive(Debug)]
pub(crate) struct Group {
    pub compositor: Compositor,
    pub members: Box<[u32]>,
    /// The names that may come first, with the member that they come first in, sorted.
    pub firsts: Box<[(NameKey, u32)]>,
    /// The members that may begin with a wildcard.
    pub wild: Box<[u32]>,
    /// For each member, and the end: the next one that must not be left out, from there on.
    pub required: Box<[u32]>,
}

/// What an element of an instance was matched to.
#[derive(Debug, Clone, Copy)]
pub enum Leaf<'m> {
    /// An element declaration.
    Element(ElementId),
    /// A wildcard.
    Any(&'m Wildcard),
}

impl Node {
    /// Whether the particle may be left out, or have nothing in it.
    pub fn optional(&self) -> bool {
        self.min == 0 || self.emptiable
    }

    pub fn group(&self) -> Option<&Group> {
        match &self.term {
            Term::Group(group) => Some(group),
            _ => None,
        }
    }
}

impl Group {
    /// The next member from `at` on that must not be left out; their number if there is none.
    pub fn required_from(&self, at: usize) -> u32 {
        self.required[at]
    }

    /// The members between two positions that may begin with a name.
    pub fn beginning_with(&self, key: NameKey, from: u32, to: u32) -> impl Iterator<Item = u32> + '_ {
        let start = self.firsts.partition_point(|first| *first < (key, from));
        let rest = self.firsts[start..].iter();
        rest.take_while(move |(name, member)| *name == key && *member <= to).map(|(_, member)| *member)
    }
}

impl Model {
    /// About how much memory it takes.
    pub(super) fn bytes(&self) -> u64 {
        let of = |node: &Node| match &node.term {
            Term::Group(group) => {
                8 * group.members.len() + size_of_val(&*group.firsts) + 4 * group.wild.len()
            }
            _ => 0,
        };
        self.nodes.iter().map(|node| (size_of::<Node>() + of(node)) as u64).sum()
    }

    /// The model of particles that follow each other; `None` if it would be too large.
    pub(crate) fn of(schemas: &Schemas, particles: &[ParticleId]) -> Option<Model> {
        let mut nodes = Vec::new();
        let mut builder =
            Builder { schemas, nodes: &mut nodes, most: LARGEST, led: true, looked_up: Cell::new(0) };
        let mut members = Vec::new();
        for particle in particles {
            members.extend(builder.particle(*particle)?);
        }
        let root = match members.len() {
            0 => None,
            1 => Some(members[0]),
            _ => Some(builder.group(None, Occurs::ONCE, Compositor::Sequence, members)),
        };
        Some(Model { nodes, root, ..Model::default() })
    }

    /// Adds the nodes of a particle beside those that are there, without what only a walk needs; the inner option is
    /// none if it never occurs, the outer one if a model that has `before` nodes already would be too large.
    #[allow(clippy::option_option, reason = "nothing there and too much of it are different things")]
    pub(crate) fn extend(
        &mut self,
        schemas: &Schemas,
        particle: ParticleId,
        before: usize,
    ) -> Option<Option<u32>> {
        let most = self.nodes.len() + LARGEST.saturating_sub(before);
        Builder { schemas, nodes: &mut self.nodes, most, led: false, looked_up: Cell::new(0) }
            .particle(particle)
    }

    /// Whether there is a choice in it that offers nothing, so that nothing gets past it.
    pub(crate) fn has_dead_end(&self) -> bool {
        let offers_nothing =
            |group: &Group| group.compositor == Compositor::Choice && group.members.is_empty();
        self.nodes.iter().any(|node| matches!(&node.term, Term::Group(group) if offers_nothing(group)))
    }

    /// Whether some of what it holds excludes other.
    pub fn has_choice(&self) -> bool {
        self.nodes.iter().any(|node| node.group().is_some_and(|group| group.compositor == Compositor::Choice))
    }

    /// What a node that is no group stands for.
    pub(crate) fn leaf(&self, id: u32) -> Option<Leaf<'_>> {
        match &self.nodes[id as usize].term {
            Term::Element { element, .. } => Some(Leaf::Element(*element)),
            Term::Any(wildcard) => Some(Leaf::Any(wildcard)),
            Term::Group(_) => None,
        }
    }

    /// The first element declaration of that name, wherever it stands.
    pub(crate) fn declared(&self, key: NameKey) -> Option<ElementId> {
        let all = self.declared.get_or_init(|| {
            let mut found = Map::default();
            for node in &self.nodes {
                if let Term::Element { element, key, .. } = &node.term {
                    found.entry(*key).or_insert(*element);
                }
            }
            found
        });
        all.get(&key).copied()
    }

    /// Whether nothing is there, or nothing need be.
    pub fn optional(&self) -> bool {
        self.root.is_none_or(|root| self.nodes[root as usize].optional())
    }
}

struct Builder<'s> {
    schemas: &'s Schemas,
    nodes: &'s mut Vec<Node>,
    /// How many nodes there may be.
    most: usize,
    /// Whether elements will be led through the model.
    led: bool,
    /// Entries in all lookups: groups in each other have the same names at each level.
    looked_up: Cell<usize>,
}

impl Builder<'_> {
    /// The node of a particle; the inner option is none if it never occurs, the outer one if there is too much.
    #[allow(clippy::option_option, reason = "nothing there and too much of it are different things")]
    fn particle(&mut self, id: ParticleId) -> Option<Option<u32>> {
        if self.nodes.len() >= self.most || self.looked_up.get() > LARGEST_LOOKUP {
            return None;
        }
        let particle = &self.schemas.particles[id];
        if particle.occurs.max == Some(0) {
            return Some(None);
        }
        let element = |element: ElementId, global| Term::Element {
            element,
            key: self.schemas.elements[element].name.key(),
            global,
        };
        let term = match &particle.term {
            WrittenTerm::Element(id) => element(*id, false),
            WrittenTerm::ElementRef(reference) => match reference.target {
                Some(target) => element(target, true),
                None => Term::Any(Wildcard::anything()),
            },
            WrittenTerm::Any(wildcard) => Term::Any((**wildcard).clone()),
            WrittenTerm::Group(..) | WrittenTerm::GroupRef(_) => {
                let Some((compositor, written)) = self.schemas.particle_group(id) else {
                    // A group that is not there may hold anything.
                    let occurs = Occurs { min: 0, max: None };
                    return Some(Some(self.add(Some(id), occurs, Term::Any(Wildcard::anything()), false)));
                };
                let mut members = Vec::with_capacity(written.len());
                for member in written {
                    members.extend(self.particle(*member)?);
                }
                return Some(Some(self.group(Some(id), particle.occurs, compositor, members)));
            }
        };
        Some(Some(self.add(Some(id), particle.occurs, term, false)))
    }

    fn add(&mut self, particle: Option<ParticleId>, occurs: Occurs, term: Term, emptiable: bool) -> u32 {
        let max = occurs.max.unwrap_or(u32::MAX);
        self.nodes.push(Node { particle, min: occurs.min.min(max), max, term, emptiable });
        self.nodes.len() as u32 - 1
    }

    fn group(
        &mut self,
        particle: Option<ParticleId>,
        occurs: Occurs,
        compositor: Compositor,
        members: Vec<u32>,
    ) -> u32 {
        let optional = |member: &u32| self.nodes[*member as usize].optional();
        let emptiable = match compositor {
            Compositor::Choice => members.iter().any(optional),
            _ => members.iter().all(optional),
        };
        let members: Box<[u32]> = members.into();
        let group = match self.led {
            true => self.lookups(compositor, members),
            false => Group {
                compositor,
                members,
                firsts: Box::default(),
                wild: Box::default(),
                required: Box::default(),
            },
        };
        self.add(particle, occurs, Term::Group(group), emptiable)
    }

    /// A group with what a walk looks up in it.
    fn lookups(&self, compositor: Compositor, members: Box<[u32]>) -> Group {
        let optional = |member: &u32| self.nodes[*member as usize].optional();
        let mut firsts = Vec::new();
        let mut wild = Vec::new();
        for (at, member) in members.iter().enumerate() {
            let at = at as u32;
            match &self.nodes[*member as usize].term {
                Term::Element { key, .. } => firsts.push((*key, at)),
                Term::Any(_) => wild.push(at),
                Term::Group(group) => {
                    let inner = group.reachable();
                    firsts.extend(inner.map(|(key, _)| (*key, at)));
                    wild.extend((!group.wild.is_empty()).then_some(at));
                }
            }
        }
        firsts.sort_unstable();
        firsts.dedup();
        self.looked_up.set(self.looked_up.get() + firsts.len());
        let mut required = vec![members.len() as u32; members.len() + 1];
        for at in (0..members.len()).rev() {
            required[at] = if optional(&members[at]) { required[at + 1] } else { at as u32 };
        }
        Group { compositor, members, firsts: firsts.into(), wild: wild.into(), required: required.into() }
    }
}

impl Group {
    /// The names that may come first in the whole group.
    fn reachable(&self) -> impl Iterator<Item = &(NameKey, u32)> {
        let last = match self.compositor {
            Compositor::Sequence => self.required[0],
            _ => u32::MAX,
        };
        self.firsts.iter().filter(move |(_, member)| *member <= last)
    }
}

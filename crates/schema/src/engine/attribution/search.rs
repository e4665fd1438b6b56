//! Unique particle attribution by search (Part 1, 3.8.6: cos-nonambig): the particles of a model are written out, each
//! occurrence a state of its own, and the sets of states that some elements lead to are gone through.
//!
//! It is exact where counts stand in counts, and costs too much elsewhere; so it has the last word only on what
//! the attribution takes for ambiguous.

use charter_source::{NameKey, Set};

use crate::engine::{Engine, Model, ModelTerm, Symbol, fits};
use crate::{Compositor, NamespaceConstraint};

/// States that are written out at most.
const MOST_STATES: usize = 3_000;
/// Steps from one state to another that are written out, and again that are gone along, at most.
const MOST_STEPS: usize = 2_000_000;

/// Whether after some elements the next one could belong to two particles; `None` if that takes too much to find out,
/// or if an `all` group is among them.
pub(crate) fn is_ambiguous(engine: &Engine<'_>, model: &Model) -> Option<bool> {
    let mut writer = Writer { model, leaves: Vec::new(), next: Vec::new(), steps: 0 };
    let whole = writer.part(model.root?)?;
    writer.search(engine, whole.firsts)
}

/// The elements that tell the particles of a model apart: those that it names, those that may stand for them, and one
/// that nobody names of each namespace.
fn symbols<'e>(engine: &'e Engine<'_>, model: &'e Model) -> Vec<Symbol<'e>> {
    let mut named: Set<NameKey> = Set::default();
    let mut namespaces: Set<&str> = Set::default();
    // No namespace, and one that no schema can name.
    namespaces.extend(["", "\u{1}"]);
    let mut found = Vec::new();
    for node in &model.nodes {
        match &node.term {
            ModelTerm::Element { element, global, .. } => {
                let mut elements = vec![*element];
                while let Some(id) = elements.pop() {
                    let name = &engine.schemas.elements[id].name;
                    if named.insert(name.key()) {
                        namespaces.insert(&name.namespace);
                        found.push(Symbol::of(engine, name));
                    }
                    if *global {
                        elements.extend(engine.relatives().substitutes(id));
                    }
                }
            }
            ModelTerm::Any(wildcard) => match &wildcard.namespaces {
                NamespaceConstraint::Any => {}
                NamespaceConstraint::Not(namespace) => drop(namespaces.insert(namespace)),
                NamespaceConstraint::OneOf(these) => namespaces.extend(these.iter().map(|it| &**it)),
            },
            ModelTerm::Group(_) => {}
        }
    }
    let unnamed = |namespace| Symbol { key: None, namespace, global: None, heads: &[] };
    found.extend(namespaces.into_iter().map(unnamed));
    found
}

/// A part of the written-out model.
#[derive(Debug, Clone, Default)]
struct Fragment {
    firsts: Vec<u32>,
    lasts: Vec<u32>,
    empty: bool,
}

struct Writer<'m> {
    model: &'m Model,
    /// The node that each state is an occurrence of.
    leaves: Vec<u32>,
    /// The states that may follow each state.
    next: Vec<Vec<u32>>,
    steps: usize,
}

impl Writer<'_> {
    /// A particle with its occurrence.
    fn part(&mut self, id: u32) -> Option<Fragment> {
        let node = &self.model.nodes[id as usize];
        let unbounded = node.max == u32::MAX;
        let copies = if unbounded { node.min.max(1) } else { node.max };
        let mut whole = Fragment { empty: true, ..Fragment::default() };
        for copy in 1..=copies {
            let before = self.leaves.len();
            let mut one = self.term(id)?;
            if unbounded && copy == copies {
                self.join(&one.lasts.clone(), &one.firsts)?;
            }
            one.empty |= copy > node.min;
            whole = self.followed(whole, one)?;
            // However often there is nothing, it stays nothing.
            if self.leaves.len() == before {
                break;
            }
        }
        Some(whole)
    }

    fn term(&mut self, id: u32) -> Option<Fragment> {
        let model = self.model;
        match &model.nodes[id as usize].term {
            ModelTerm::Element { .. } | ModelTerm::Any(_) => {
                let state = self.leaves.len() as u32;
                self.leaves.push(id);
                self.next.push(Vec::new());
                let fragment = Fragment { firsts: vec![state], lasts: vec![state], empty: false };
                (self.leaves.len() <= MOST_STATES).then_some(fragment)
            }
            ModelTerm::Group(group) if group.compositor == Compositor::Sequence => {
                let nothing = Fragment { empty: true, ..Fragment::default() };
                group.members.iter().try_fold(nothing, |whole, member| {
                    let part = self.part(*member)?;
                    self.followed(whole, part)
                })
            }
            ModelTerm::Group(group) if group.compositor == Compositor::Choice => {
                group.members.iter().try_fold(Fragment::default(), |mut whole, member| {
                    let part = self.part(*member)?;
                    whole.firsts.extend(part.firsts);
                    whole.lasts.extend(part.lasts);
                    whole.empty |= part.empty;
                    Some(whole)
                })
            }
            ModelTerm::Group(_) => None,
        }
    }

    fn join(&mut self, lasts: &[u32], firsts: &[u32]) -> Option<()> {
        self.steps += lasts.len() * firsts.len();
        if self.steps > MOST_STEPS {
            return None;
        }
        lasts.iter().for_each(|last| self.next[*last as usize].extend(firsts));
        Some(())
    }

    /// One part after another.
    fn followed(&mut self, mut whole: Fragment, part: Fragment) -> Option<Fragment> {
        self.join(&whole.lasts, &part.firsts)?;
        if whole.empty {
            whole.firsts.extend(&part.firsts);
        }
        if part.empty {
            whole.lasts.extend(part.lasts);
        } else {
            whole.lasts = part.lasts;
        }
        whole.empty &= part.empty;
        Some(whole)
    }

    fn search(&self, engine: &Engine<'_>, firsts: Vec<u32>) -> Option<bool> {
        let symbols = symbols(engine, self.model);
        let mut seen: Set<Vec<u32>> = Set::default();
        let mut waiting = vec![firsts];
        let mut gone = 0;
        while let Some(open) = waiting.pop() {
            for symbol in &symbols {
                gone += open.len();
                if gone > MOST_STEPS {
                    return None;
                }
                let leaf = |state: &u32| self.leaves[*state as usize];
                let takes = |state: &u32| fits(&self.model.nodes[leaf(state) as usize].term, symbol);
                let mut states: Vec<u32> = open.iter().copied().filter(takes).collect();
                states.sort_unstable();
                states.dedup();
                if states.iter().any(|state| leaf(state) != leaf(&states[0])) {
                    return Some(true);
                }
                if states.is_empty() || seen.contains(&states) {
                    continue;
                }
                let follow = states.iter().flat_map(|state| &self.next[*state as usize]);
                let mut follow: Vec<u32> = follow.copied().collect();
                gone += follow.len();
                follow.sort_unstable();
                follow.dedup();
                waiting.push(follow);
                seen.insert(states);
            }
        }
        Some(false)
    }
}

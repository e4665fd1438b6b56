//! A walk through a content model, an element at a time.
//!
//! `symbol.rs` is what the model sees of an element, `configuration.rs` where the walk is. `moves.rs` searches the steps on from
//! there, `expected.rs` what could have come instead.

mod configuration;
mod expected;
mod moves;
mod symbol;

use std::ops::Range;

use charter_source::Set;

use self::configuration::{Configuration, Frame, Step};
use self::expected::Leaves;
use super::model::{Leaf, Model, Term};
use crate::Occurs;

pub use symbol::Symbol;
pub(crate) use symbol::fits;

/// Ways that are followed side by side; a model in which more are open is not followed any further.
const MOST_WAYS: usize = 2_000;
/// Frames in all moves that one element may make.
const MOST_MOVED: usize = 200_000;

/// A walk through a model.
#[derive(Debug, Clone)]
pub struct Walk<'m> {
    model: &'m Model,
    configurations: Vec<Configuration>,
    begun: bool,
    /// Whether there were more ways than can be followed.
    lost: bool,
    /// The frames of the step that is being made.
    scratch: Vec<Frame>,
}

/// A step that was found: the way it is of, and where in the frames that were found those stand that follow.
struct Move {
    configuration: usize,
    step: Step,
    rest: Range<usize>,
}

impl<'m> Walk<'m> {
    /// A walk that has not begun.
    pub fn new(model: &'m Model) -> Walk<'m> {
        Walk { model, configurations: Vec::new(), begun: false, lost: false, scratch: Vec::new() }
    }

    /// Leads an element through; what it was matched to, or nothing, and the walk stays where it was.
    pub fn step(&mut self, symbol: &Symbol<'_>) -> Option<Leaf<'m>> {
        if self.lost {
            return None;
        }
        if self.model.deterministic {
            return self.only_step(symbol);
        }
        let model = self.model;
        let mut moves: Vec<Move> = Vec::new();
        let mut frames = std::mem::take(&mut self.scratch);
        frames.clear();
        let mut add = |configuration, step, rest: &[Frame]| {
            moves.push(Move { configuration, step, rest: frames.len()..frames.len() + rest.len() });
            frames.extend_from_slice(rest);
            moves.len() + frames.len() > MOST_MOVED
        };
        if !self.begun {
            model.enter(model.root?, symbol, &mut Vec::new(), &mut |rest| add(0, Step::FIRST, rest));
        } else {
            for (number, configuration) in self.configurations.iter().enumerate() {
                let mut enough = false;
                model.onward(configuration, symbol, &mut |step, rest| {
                    enough = add(number, step, rest);
                    enough
                });
                if enough {
                    break;
                }
            }
        }
        let moved = moves.len() + frames.len();
        let leaf = moves.first().and_then(|first| match frames[first.rest.clone()].last() {
            Some(frame) => Some(frame.node),
            None => self.configurations[first.configuration]
                .frames
                .get(first.step.keep - 1)
                .map(|frame| frame.node),
        });
        if leaf.is_some() {
            // What it costs to look for the moves, and to tell them apart.
            let cost = moved as u64 + self.weight();
            let paid = model.budget.as_ref().is_none_or(|budget| budget.step(cost));
            match moved > MOST_MOVED || !paid {
                true => self.lost = true,
                false => self.take(&moves, &frames),
            }
        }
        self.scratch = frames;
        model.matched(leaf?, symbol)
    }

    /// A step where the first way found is the only one: made in place.
    fn only_step(&mut self, symbol: &Symbol<'_>) -> Option<Leaf<'m>> {
        let model = self.model;
        if let Some(leaf) = self.near_step(symbol) {
            return model.matched(leaf, symbol);
        }
        let scratch = &mut self.scratch;
        scratch.clear();
        let mut found = None;
        if !self.begun {
            model.enter(model.root?, symbol, &mut Vec::new(), &mut |rest| {
                scratch.extend_from_slice(rest);
                found = Some(Step::FIRST);
                true
            });
            found?;
            self.begun = true;
            self.configurations.push(Configuration::default());
        } else {
            model.onward(&self.configurations[0], symbol, &mut |step, rest| {
                scratch.extend_from_slice(rest);
                found = Some(step);
                true
            });
        }
        let configuration = &mut self.configurations[0];
        configuration.make(model, found?, scratch);
        let leaf = configuration.frames.last()?.node;
        model.matched(leaf, symbol)
    }

    /// The steps that nearly all elements take, found without a search: the same element once more, or a later one of
    /// the same sequence. They are those that the search would find first.
    fn near_step(&mut self, symbol: &Symbol<'_>) -> Option<u32> {
        let model = self.model;
        let key = symbol.key.filter(|_| symbol.heads.is_empty())?;
        let Some(configuration) = self.configurations.first_mut() else {
            let root = model.root?;
            let at = model.next_in_sequence(root, key, 0)?;
            let leaf = model.nodes[root as usize].group()?.members[at as usize];
            let mut frames = Vec::with_capacity(4);
            frames.extend([Frame { node: root, count: 1, at }, Frame { node: leaf, count: 1, at: 0 }]);
            self.begun = true;
            self.configurations.push(Configuration::of(frames));
            return Some(leaf);
        };
        let [.., outer, last] = configuration.frames.as_slice() else { return None };
        let (outer, last, depth) = (*outer, *last, configuration.frames.len());
        let node = &model.nodes[last.node as usize];
        if last.count < node.max && matches!(node.term, Term::Element { key: own, .. } if own == key) {
            configuration.make(model, Step { keep: depth, again: true, member: 0 }, &[]);
            return Some(last.node);
        }
        if last.count < node.min {
            return None;
        }
        let at = model.next_in_sequence(outer.node, key, outer.at + 1)?;
        let leaf = model.nodes[outer.node as usize].group()?.members[at as usize];
        let step = Step { keep: depth - 1, again: false, member: at };
        configuration.make(model, step, &[Frame { node: leaf, count: 1, at: 0 }]);
        Some(leaf)
    }

    /// Makes the moves: one in place, several as ways of their own.
    fn take(&mut self, moves: &[Move], frames: &[Frame]) {
        let first = !self.begun;
        self.begun = true;
        if first {
            self.configurations.push(Configuration::default());
        }
        let apply = |configuration: &mut Configuration, it: &Move| {
            configuration.make(self.model, it.step, &frames[it.rest.clone()]);
        };
        if let [only] = moves
            && let [configuration] = &mut *self.configurations
        {
            return apply(configuration, only);
        }
        let mut seen: Set<Configuration> = Set::default();
        let mut configurations: Vec<Configuration> = Vec::new();
        for found in moves {
            let mut configuration = self.configurations[found.configuration].clone();
            apply(&mut configuration, found);
            if seen.insert(configuration.clone()) {
                configurations.push(configuration);
            }
            if configurations.len() > MOST_WAYS {
                self.lost = true;
                break;
            }
        }
        self.configurations = configurations;
    }

    /// Whether the content may end here.
    pub fn complete(&self) -> bool {
        if self.lost {
            return true;
        }
        if !self.begun {
            return self.model.optional();
        }
        self.configurations.iter().any(|configuration| configuration.may_end(self.model))
    }

    /// What tells this place in the model from others: equal keys, equal ways on.
    pub(crate) fn key(&self) -> Vec<u32> {
        let mut configurations: Vec<Vec<u32>> = self.configurations.iter().map(Configuration::key).collect();
        configurations.sort_unstable();
        let mut key = vec![u32::from(self.begun) + 2 * u32::from(self.lost)];
        configurations.iter().for_each(|configuration| key.extend(configuration));
        key
    }

    /// Whether the walk was given up because there were too many ways.
    pub fn lost(&self) -> bool {
        self.lost
    }

    /// What a step may cost: about the moves that there are to look for.
    pub(crate) fn weight(&self) -> u64 {
        match self.model.deterministic {
            true => 1,
            false => self
                .configurations
                .iter()
                .map(|configuration| (configuration.frames.len() as u64).pow(2))
                .sum::<u64>()
                .max(1),
        }
    }

    /// How many groups the ways stand in.
    pub(crate) fn size(&self) -> usize {
        self.configurations.iter().map(|configuration| configuration.frames.len()).sum::<usize>() + 1
    }

    /// What may come next: the leaves with how often they may stand, at most `most` of them.
    pub fn expected(&self, most: usize) -> Vec<Leaf<'m>> {
        let mut found = Leaves::most(most);
        match (self.begun, self.model.root) {
            (false, Some(root)) => self.model.first_leaves(root, &mut found),
            _ => self
                .configurations
                .iter()
                .for_each(|configuration| self.model.next_leaves(configuration, &mut found)),
        }
        let leaf = |node: u32| match &self.model.nodes[node as usize].term {
            Term::Element { element, .. } => Some(Leaf::Element(*element)),
            Term::Any(wildcard) => Some(Leaf::Any(wildcard)),
            Term::Group(_) => None,
        };
        found.list.into_iter().filter_map(leaf).collect()
    }

    /// How often the last element may occur at the place where it stands.
    pub fn bounds(&self) -> Option<Occurs> {
        let frame = self.configurations.first()?.frames.last()?;
        let node = &self.model.nodes[frame.node as usize];
        Some(Occurs { min: node.min, max: (node.max < u32::MAX).then_some(node.max) })
    }
}

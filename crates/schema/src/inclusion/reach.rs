//! All pairs that are reached from one, each by a shortest way.

use charter_source::Set;

use super::{Edge, Inclusion, Pair};
use crate::TypeId;

/// A pair that was reached.
#[derive(Debug, Clone, Copy)]
pub struct Reached {
    /// The pair.
    pub pair: Pair,
    /// From which of the pairs reached before, and by which of its edges; nothing for the first.
    pub from: Option<(usize, usize)>,
}

impl Inclusion<'_> {
    /// The pairs of types that have been looked into so far.
    pub fn types_met(&self) -> Vec<(TypeId, TypeId)> {
        let known = self.known.borrow();
        let types = known.keys().filter_map(|pair| match pair {
            Pair::Types(sub, sup) => Some((*sub, *sup)),
            _ => None,
        });
        types.collect()
    }

    /// All pairs that are reached from one, nearest first.
    pub fn reach(&self, root: Pair) -> Vec<Reached> {
        let mut found = vec![Reached { pair: root, from: None }];
        let mut seen: Set<Pair> = Set::default();
        seen.insert(root);
        let mut at = 0;
        while at < found.len() {
            let outcome = self.outcome(found[at].pair);
            for (number, (_, pair)) in outcome.leads_to.iter().enumerate() {
                if seen.insert(*pair) {
                    found.push(Reached { pair: *pair, from: Some((at, number)) });
                }
            }
            at += 1;
        }
        found
    }

    /// The way to one of the pairs that were reached: each pair before it, with the edge that leads on.
    pub fn way(&self, reached: &[Reached], to: usize) -> Vec<(Pair, Edge)> {
        let mut way = Vec::new();
        let mut here = to;
        while let Some((before, number)) = reached[here].from {
            let pair = reached[before].pair;
            way.push((pair, self.outcome(pair).leads_to[number].0.clone()));
            here = before;
        }
        way.reverse();
        way
    }
}

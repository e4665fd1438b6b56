//! Places in a content model from which no instance comes to an end, since something must stand there that has no instance.

use std::collections::VecDeque;

use charter_source::{Map, Set};

use super::Inclusion;
use super::bounds::{MOST_PLACES, MOST_WORK, ROOM};
use super::words::Wanted;
use crate::engine::Walk;

/// Places by whether they lead to an end, as far as that was found out.
#[derive(Default)]
pub(super) struct Ends {
    known: Map<Vec<u32>, bool>,
}

/// A place on the way, with the one before it.
struct Place<'m> {
    walk: Walk<'m>,
    before: Option<usize>,
}

impl Ends {
    /// Whether some instance of the first side goes on from a place to the end. Where that takes too long, it is taken for granted.
    pub fn are_reached<'m>(&mut self, inclusion: &Inclusion<'_>, from: &Walk<'m>) -> bool {
        if let Some(known) = self.known.get(&from.key()) {
            return *known;
        }
        let mut places = vec![Place { walk: from.clone(), before: None }];
        let mut seen: Set<Vec<u32>> = Set::from_iter([from.key()]);
        let mut waiting = VecDeque::from([0]);
        let mut work = 0;
        while let Some(at) = waiting.pop_front() {
            let walk = places[at].walk.clone();
            if walk.complete() || self.known.get(&walk.key()) == Some(&true) {
                self.mark(&places, at);
                return true;
            }
            for (name, _) in
                walk.expected(usize::MAX).into_iter().flat_map(|leaf| inclusion.ways(leaf, &Wanted::Anything))
            {
                work += walk.weight() + ROOM * walk.size() as u64;
                if places.len() > MOST_PLACES || work > MOST_WORK || walk.lost() {
                    return true;
                }
                let mut next = walk.clone();
                let goes_on = next.step(&inclusion.sub.symbol(&name.namespace, &name.local)).is_some();
                let key = next.key();
                if goes_on && self.known.get(&key) != Some(&false) && seen.insert(key) {
                    waiting.push_back(places.len());
                    places.push(Place { walk: next, before: Some(at) });
                }
            }
        }
        self.known.extend(seen.into_iter().map(|key| (key, false)));
        false
    }

    /// All on the way to a place that leads to an end do so.
    fn mark(&mut self, places: &[Place<'_>], end: usize) {
        let mut here = Some(end);
        while let Some(at) = here {
            self.known.insert(places[at].walk.key(), true);
            here = places[at].before;
        }
    }
}

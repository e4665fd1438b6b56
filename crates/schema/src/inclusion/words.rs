//! Sequences of elements that the first side allows: the shortest that goes a certain way.

use std::cmp::Reverse;
use std::collections::BinaryHeap;

use charter_source::{Map, QName, Set};

use super::bounds::{MOST_WORK, ROOM};
use super::wild::{ELSEWHERE, unheard_of};
use super::{Assessment, EFFORT_OF_STEP, Inclusion, Passed, let_in};
use crate::TypeId;
use crate::engine::{Leaf, Walk};
use crate::sample::SenderHabits;

/// Places in a model that are looked at.
const MOST: usize = 200_000;

/// A sequence of elements, and which of them it is about.
pub(super) struct Word {
    pub elements: Vec<(QName, Assessment)>,
    pub at: Option<usize>,
}

/// A step of the search: the one before it, the element that leads on, and whether what is wanted is there.
type Step = (Option<usize>, Option<(QName, Assessment)>, bool);

/// What a sequence must hold.
pub(super) enum Wanted<'w> {
    /// Nothing in particular.
    Anything,
    /// Some element.
    Something,
    /// An element of that name, judged so.
    Element(&'w QName, Assessment),
}

impl Inclusion<'_> {
    /// The shortest sequence that begins with the elements up to a place in a trail, and ends as it may.
    pub(super) fn completed(&self, ty: TypeId, trail: &[Passed], at: Option<u32>) -> Option<Word> {
        let mut prefix = Vec::new();
        let mut here = at;
        while let Some(at) = here {
            let passed = &trail[at as usize];
            prefix.push((passed.name.clone(), passed.judged));
            here = passed.before;
        }
        prefix.reverse();
        self.word(ty, prefix, &Wanted::Anything, None)
    }

    /// The shortest sequence with what is wanted: of `habits` names, as far as there is a choice.
    pub(super) fn holding(
        &self,
        ty: TypeId,
        wanted: &Wanted<'_>,
        habits: Option<&SenderHabits>,
    ) -> Option<Word> {
        self.word(ty, Vec::new(), wanted, habits)
    }

    fn word(
        &self,
        ty: TypeId,
        prefix: Vec<(QName, Assessment)>,
        wanted: &Wanted<'_>,
        habits: Option<&SenderHabits>,
    ) -> Option<Word> {
        if self.encoded
            && let Some(array) = self.sub.encoded_array(ty)
        {
            let member = (array.member, Assessment::Type(array.item));
            let count = match wanted {
                Wanted::Anything => array.occurs.min,
                _ => array.occurs.min.max(1),
            };
            return Some(Word { elements: vec![member; count.min(10_000) as usize], at: Some(0) });
        }
        if self.sub.schemas.is_any(ty) {
            let mut elements = prefix;
            match wanted {
                Wanted::Element(name, judged) => elements.push(((*name).clone(), *judged)),
                Wanted::Something => elements.push((unheard_of(ELSEWHERE), Assessment::Skipped)),
                Wanted::Anything => {}
            }
            let at = elements.len().checked_sub(1);
            return Some(Word { elements, at });
        }
        let model = self.sub.model(ty)?;
        let mut walk = Walk::new(model);
        let mut work = 0;
        for (name, _) in &prefix {
            work += walk.weight();
            if work > MOST_WORK {
                return None;
            }
            walk.step(&self.sub.symbol(&name.namespace, &name.local))?;
        }
        let about = prefix.len().checked_sub(1);
        // What each place has cost at least: the names that are not familiar, then the length.
        let mut seen: Map<(Vec<u32>, bool), (usize, usize)> = Map::default();
        let mut steps: Vec<Step> = Vec::new();
        let mut walks = vec![Some(walk)];
        let there = matches!(wanted, Wanted::Anything);
        let mut waiting = BinaryHeap::from([Reverse((0, 0, 0))]);
        steps.push((None, None, there));
        while let Some(Reverse((strange, length, at))) = waiting.pop() {
            let Some(walk) = walks[at].take() else { continue };
            let there = steps[at].2;
            if there && walk.complete() {
                return Some(spelled(prefix, about, &steps, at));
            }
            if steps.len() > MOST || work > MOST_WORK {
                return None;
            }
            let leaves = walk.expected(usize::MAX);
            if !self.spend((leaves.len() + walk.size()) as u64) {
                return None;
            }
            for leaf in leaves {
                for (name, judged) in self.ways(leaf, wanted) {
                    let mut next = walk.clone();
                    work += walk.weight() + ROOM * walk.size() as u64;
                    if !self.spend(EFFORT_OF_STEP * walk.size() as u64) {
                        return None;
                    }
                    if next.step(&self.sub.symbol(&name.namespace, &name.local)).is_none() {
                        continue;
                    }
                    let now = there
                        || match wanted {
                            Wanted::Element(name_wanted, judged_wanted) => {
                                **name_wanted == name && *judged_wanted == judged
                            }
                            _ => true,
                        };
                    let is_strange = habits.is_some_and(|habits| !habits.knows(&name.local));
                    let cost = (strange + usize::from(is_strange), length + 1);
                    let known = seen.entry((next.key(), now)).or_insert((usize::MAX, 0));
                    if cost < *known {
                        *known = cost;
                        waiting.push(Reverse((cost.0, cost.1, steps.len())));
                        steps.push((Some(at), Some((name, judged)), now));
                        walks.push(Some(next));
                    }
                }
            }
        }
        None
    }

    /// The elements that a leaf stands for, as far as they are needed.
    pub(super) fn ways(&self, leaf: Leaf<'_>, wanted: &Wanted<'_>) -> Vec<(QName, Assessment)> {
        match leaf {
            Leaf::Element(id) => self.standing_there(id),
            Leaf::Any(wildcard) => {
                let mut found = self.strangers(wildcard, &Set::default());
                if let Wanted::Element(name, _) = wanted
                    && wildcard.namespaces.allows(&name.namespace)
                {
                    found.push(((*name).clone(), let_in(self.sub, wildcard.process, name)));
                }
                found
            }
        }
    }
}

/// The sequence that leads to a step, and in it the first element that was wanted, or the last of the prefix.
fn spelled(prefix: Vec<(QName, Assessment)>, about: Option<usize>, steps: &[Step], end: usize) -> Word {
    let mut tail = Vec::new();
    let mut found = None;
    let mut here = Some(end);
    while let Some(at) = here {
        let (before, element, there) = &steps[at];
        if let Some(element) = element {
            tail.push(element.clone());
            let new = *there && before.is_none_or(|before| !steps[before].2);
            if new {
                found = Some(tail.len());
            }
        }
        here = *before;
    }
    tail.reverse();
    let found = found.map(|back| prefix.len() + tail.len() - back);
    let mut elements = prefix;
    elements.extend(tail);
    Word { elements, at: found.or(about) }
}

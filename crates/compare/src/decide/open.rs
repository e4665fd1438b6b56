//! Open content: what no declaration names, since a wildcard or `anyType` lets it in, and all that stands below that.
//!
//! Whether anybody puts something there is not known from the contract. So what differs there alone is told once for each place
//! where it begins, an extension point, and apart from what is named.

use std::sync::Arc;

use charter_contract::Component;
use charter_schema::{
    Assessment, Builtin, Counterexample, CounterexampleKind, Edge, Outcome, Pair as Met, Undecided, Weight,
};
use charter_source::{QName, Set};

use crate::decide::resolve::{Charged, Counts, charge};
use crate::decide::survey::Survey;
use crate::describe::types::Types;
use crate::difference::{Beyond, Difference, OpenDifferences};
use crate::effect::MessageFlow;
use crate::report::{Depends, OpenContent};
use crate::what::Doubt;

impl Survey<'_> {
    /// Whether an edge is followed when everything is looked at that declarations name.
    pub(crate) fn follows(&self, from: Met, edge: &Edge, to: Met) -> bool {
        self.open.counts == OpenContent::Named || !Outcome::leads_into_the_open(from, edge, to)
    }

    /// Where a counterexample counts: for all if it shows in named content, else for its extension point.
    pub(crate) fn counts(&self, counterexample: &Counterexample) -> Counts {
        match (self.open.counts, counterexample.open) {
            (OpenContent::Named, _) | (_, false) => Counts::Here,
            _ if self.is_about_unheard_of(counterexample) => Counts::Nowhere,
            _ => Counts::Apart,
        }
    }

    /// What is told of open content at a pair where it begins: `own` is what differs at the pair itself, in open content alone.
    pub(crate) fn extension_point(
        &self,
        types: &Types<'_>,
        pair: Met,
        outcome: &Outcome,
        own: Vec<Arc<Difference>>,
    ) -> Option<Beyond> {
        // What was not read leads anywhere, and nothing follows from that; what is judged as if it were named is told there.
        let is_apart = self.open.is_told && self.open.counts != OpenContent::Named;
        if !is_apart || outcome.undecided.contains(&Undecided::Unread) {
            return None;
        }
        let begins = |(edge, to): &(Edge, Met)| Outcome::leads_into_the_open(pair, edge, *to);
        if own.is_empty() && !outcome.leads_to.iter().any(begins) {
            return None;
        }
        let starts: Vec<Met> = outcome.leads_to.iter().filter(|to| begins(to)).map(|(_, to)| *to).collect();
        // What a wildcard lets in is the same wherever the wildcard stands.
        let below = match starts.as_slice() {
            [only @ Met::Wild(_)] => self.known_beyond(types, *only, &starts),
            _ => self.known_beyond(types, pair, &starts),
        };
        (!own.is_empty() || !below.is_empty()).then_some(Beyond { own, below })
    }

    fn known_beyond(&self, types: &Types<'_>, key: Met, starts: &[Met]) -> OpenDifferences {
        if let Some(known) = self.beyond.borrow().get(&key) {
            return known.clone();
        }
        let found = self.beyond(types, key, starts);
        self.beyond.borrow_mut().insert(key, found.clone());
        found
    }

    /// Everything that differs in what some pairs lead to.
    fn beyond(&self, types: &Types<'_>, from: Met, starts: &[Met]) -> OpenDifferences {
        let mut seen: Set<Met> = Set::default();
        // Each pair with the declarations nearest to it.
        let mut waiting = Vec::new();
        let mut found = Vec::new();
        for start in starts {
            if !self.is_unheard_of(from, *start) && seen.insert(*start) {
                waiting.push((*start, None));
            }
        }
        let mut at = 0;
        while let Some((pair, declared)) = waiting.get(at).copied() {
            at += 1;
            self.tell_renamed(types, pair);
            let declared = self.components(pair).or(declared);
            let outcome = self.inclusion.outcome(pair);
            if !outcome.counterexamples.is_empty() || !outcome.is_decided() {
                found.extend(self.differing(types, (pair, declared), &outcome));
            }
            for (_, to) in &outcome.leads_to {
                if !self.is_unheard_of(pair, *to) && seen.insert(*to) {
                    waiting.push((*to, declared));
                }
            }
        }
        Arc::new(found)
    }

    /// Whether the old version does not know what stands there: nobody who uses it puts that there, or waits for it.
    fn is_unheard_of(&self, from: Met, to: Met) -> bool {
        let by_wildcard = matches!(from, Met::Wild(_));
        let anything = Assessment::Type(Builtin::AnyType.id());
        match (self.way, to) {
            (MessageFlow::Sent, Met::Elements(sub, Assessment::Element(_))) => by_wildcard && sub == anything,
            (MessageFlow::Read, Met::Elements(Assessment::Element(_), sup)) => {
                by_wildcard && (sup == anything || sup == Assessment::Unknown)
            }
            _ => false,
        }
    }

    /// Whether a counterexample at an extension point itself is about something that the old version does not know.
    pub(crate) fn is_about_unheard_of(&self, counterexample: &Counterexample) -> bool {
        match (self.way, &counterexample.kind) {
            (MessageFlow::Read, CounterexampleKind::TypeName(id)) => {
                let (ours, theirs) = (self.inclusion.sub().schemas(), self.inclusion.sup().schemas());
                ours.types[*id].name.as_ref().is_some_and(|name| theirs.type_named(name).is_none())
            }
            (_, CounterexampleKind::Attribute { name, .. }) => self.is_strange_attribute(name),
            (_, CounterexampleKind::AttributeValue { name, .. }) => self.is_strange_to_senders(name),
            (_, CounterexampleKind::Unexpected { name, decl: None, .. }) => {
                !self.inclusion.stands_for_many(name)
                    && self.inclusion.sub().schemas().element_named(name).is_none()
            }
            _ => false,
        }
    }

    /// What was not decided at a pair: what counts for all, and what counts for its extension point.
    pub(crate) fn undecided(&self, outcome: &Outcome) -> (Vec<Undecided>, Option<Doubt>) {
        match self.open.counts {
            OpenContent::Named => (self.all_undecided(outcome), None),
            _ => {
                let known = |(_, name): &&(Undecided, QName)| !self.is_strange_to_senders(name);
                let open = outcome.open_undecided.iter().find(known);
                (outcome.undecided.clone(), open.map(|(reason, _)| Doubt::Schemas(*reason)))
            }
        }
    }

    pub(crate) fn all_undecided(&self, outcome: &Outcome) -> Vec<Undecided> {
        let known = |(_, name): &&(Undecided, QName)| {
            self.open.counts == OpenContent::Named || !self.is_strange_to_senders(name)
        };
        let open = outcome.open_undecided.iter().filter(known).map(|(reason, _)| *reason);
        outcome.undecided.iter().copied().chain(open).collect()
    }

    /// The same for what is sent; what is read was declared.
    fn is_strange_to_senders(&self, name: &QName) -> bool {
        self.way == MessageFlow::Sent && self.is_strange_attribute(name)
    }

    /// Whether consumers cannot know an attribute that a wildcard of the old version lets in: it declares none of that name.
    fn is_strange_attribute(&self, name: &QName) -> bool {
        let (old, _) = self.oriented(self.inclusion.sub(), self.inclusion.sup());
        !self.inclusion.stands_for_many(name) && old.schemas().attribute_named(name).is_none()
    }

    /// What is told of a pair below an extension point: what messages suffer from.
    fn differing(
        &self,
        types: &Types<'_>,
        (pair, declared): (Met, Option<(Component, Component)>),
        outcome: &Outcome,
    ) -> Vec<Arc<Difference>> {
        let Some((site, described)) = self.described(types, pair, declared) else { return Vec::new() };
        let counts = |found: &Counterexample| match self.counts(found) {
            Counts::Nowhere => Counts::Nowhere,
            _ if found.weight() == Weight::Depends => Counts::Nowhere,
            _ => Counts::Here,
        };
        let undecided = self.all_undecided(outcome);
        let charged = charge(types, site, described.differences, outcome, self.way, &counts, &undecided);
        let suffers = |it: &Charged| {
            !it.counterexamples.is_empty() || matches!(it.depends, Some(Depends::Undecided(_)))
        };
        charged.named.into_iter().filter(suffers).map(|it| it.difference).collect()
    }

    /// What is told of an extension point, at the type or declaration that has it.
    pub(crate) fn open_difference(&self, at: Difference, beyond: Beyond) -> Charged {
        let difference = Difference { beyond: Some(beyond), ..at };
        let depends = (self.open.counts == OpenContent::Apart).then_some(Depends::OpenContent);
        Charged { difference: Arc::new(difference), counterexamples: Vec::new(), depends, alone: true }
    }
}

//! What policies demand of those who call: credentials, transport security, addressing. Who satisfied one of the old
//! ways must satisfy one of the new ones.

use charter_contract::{Bound, Component, Contract, Side};

use crate::operations::{Both, Comparison};
use crate::report::{Aspect, Difference, Effect};

/// What is appended to a demand that may be left out.
const IF_LIKED: &str = ", if the consumer likes";

/// The ways to satisfy what is demanded, each with what has to be there.
type Ways = Vec<Vec<String>>;

impl Comparison<'_> {
    /// Compares what two ports demand of the requests of an operation.
    pub(crate) fn demands(&mut self, both: Both, offers: (Bound<'_>, Bound<'_>)) {
        let known = |contract: &Contract, offer: Bound<'_>| {
            contract.is_demand_known(offer.binding, offer.index, offer.port)
        };
        if !known(self.old, offers.0) || !known(self.new, offers.1) {
            let message = "what the policies demand is not known: one that is referred to is not there, or they leave too many alternatives";
            let place = self.new.place(Component::Binding(offers.1.binding));
            return self.not_compared(both, Side::Input, "not-compared", message.to_owned(), Some(place));
        }
        let (was, is) = (ways(self.old, offers.0), ways(self.new, offers.1));
        if was == is {
            return;
        }
        let missing = was.iter().filter_map(|way| missing(way, &is)).max_by_key(Vec::len);
        let (rule, message, effect) = match missing {
            Some(words) if words.is_empty() => {
                ("demand-added", "requests must now have what nobody can satisfy".to_owned(), Effect::LESS)
            }
            Some(words) => {
                ("demand-added", format!("requests must now have: {}", words.join(", ")), Effect::LESS)
            }
            None => {
                let surplus = surplus(&was, &is);
                let free = left_free(&was, &is);
                if !surplus.is_empty() {
                    let message = format!("requests need no longer have: {}", surplus.join(", "));
                    ("demand-removed", message, Effect::SURPLUS)
                } else if free.is_empty() {
                    let message = "there is another way to satisfy what is demanded".to_owned();
                    ("demand-loosened", message, Effect::MORE)
                } else {
                    let message = format!("requests may now leave out: {}", free.join(", "));
                    ("demand-loosened", message, Effect::MORE)
                }
            }
        };
        let (a, b) = (Component::Binding(offers.0.binding), Component::Binding(offers.1.binding));
        let difference = Difference {
            path: self.new.path(b).to_string(),
            rule,
            message,
            aspect: Aspect::Whole,
            effect,
            old: Some(words(self.old, offers.0)),
            new: Some(words(self.new, offers.1)),
            old_place: Some(self.old.place(a)),
            new_place: Some(self.new.place(b)),
            confidence: None,
        };
        self.record(both, Side::Input, difference);
    }
}

/// The ways to satisfy an operation; who demands nothing is satisfied by nothing.
fn ways(contract: &Contract, offer: Bound<'_>) -> Ways {
    let demand = contract.demand(offer.binding, offer.index, offer.port);
    demand.map_or_else(|| vec![Vec::new()], |demand| demand.ways)
}

fn words(contract: &Contract, offer: Bound<'_>) -> String {
    let demand = contract.demand(offer.binding, offer.index, offer.port);
    demand.map_or_else(|| "no demands".to_owned(), |demand| format!("demands {}", demand.words()))
}

/// What somebody who satisfies one way lacks for the new way that is nearest; `None` if some way lacks nothing.
fn missing(way: &[String], new: &Ways) -> Option<Vec<String>> {
    let lacking = |wanted: &Vec<String>| -> Vec<String> {
        let needed = wanted.iter().filter(|word| !word.ends_with(IF_LIKED));
        needed.filter(|word| !way.contains(word)).cloned().collect()
    };
    let nearest = new.iter().map(lacking).min_by_key(Vec::len).unwrap_or_default();
    (!nearest.is_empty() || new.is_empty()).then_some(nearest)
}

/// What was demanded in some way and is not even known any more.
fn surplus(old: &Ways, new: &Ways) -> Vec<String> {
    let known = |word: &String| {
        let bare = word.trim_end_matches(IF_LIKED);
        new.iter().flatten().any(|other| other.trim_end_matches(IF_LIKED) == bare)
    };
    let mut found: Vec<String> = Vec::new();
    for word in old.iter().flatten().filter(|word| !known(word)) {
        if !found.contains(word) {
            found.push(word.clone());
        }
    }
    found
}

/// What every old way demanded, and what a new way may have or not.
fn left_free(old: &Ways, new: &Ways) -> Vec<String> {
    let always = |word: &&String| old.iter().all(|way| way.contains(word));
    let free = |word: &&String| {
        let without =
            |way: &Vec<String>| way.iter().filter(|it| it != word).cloned().collect::<Vec<String>>();
        new.iter().any(|way| way.contains(word) && new.contains(&without(way)))
            || new.iter().all(|way| way.contains(&format!("{word}{IF_LIKED}")))
    };
    let first = old.first().map_or(&[][..], Vec::as_slice);
    first.iter().filter(always).filter(free).cloned().collect()
}

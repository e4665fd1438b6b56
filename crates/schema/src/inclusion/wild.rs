//! What wildcards let in.

use std::sync::Arc;

use charter_source::{Map, QName, Set};

use super::{Assessment, Edge, Inclusion, Outcome, Pair, let_in};
use crate::engine::Engine;
use crate::{NamespaceConstraint, Owner, Process, Wildcard};

/// A namespace that no schema knows.
pub(super) const ELSEWHERE: &str = "urn:example:elsewhere";
/// A name that no schema knows.
const UNHEARD_OF: &str = "unheardOf";

/// Two wildcards that meet.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub(super) struct Wild {
    namespaces: NamespaceConstraint,
    sub: Process,
    sup: Process,
}

/// All wildcards that met, each once.
#[derive(Default)]
pub(super) struct Wilds {
    list: Vec<Wild>,
    numbers: Map<Wild, u32>,
}

impl Wild {
    pub fn of(sub: &Wildcard, sup: &Wildcard) -> Wild {
        Wild { namespaces: sub.namespaces.clone(), sub: sub.process, sup: sup.process }
    }
}

impl Inclusion<'_> {
    /// The pair that elements which wildcards on both sides let in are a matter of.
    pub(super) fn let_in_by_both(&self, wild: Wild) -> Pair {
        let Wilds { list, numbers } = &mut *self.wilds.borrow_mut();
        let number = numbers.entry(wild).or_insert_with_key(|wild| {
            list.push(wild.clone());
            list.len() as u32 - 1
        });
        Pair::Wild(*number)
    }

    /// Whether a name is one that no schema knows, which stands for all of its kind.
    pub fn stands_for_many(&self, name: &QName) -> bool {
        &*name.local == UNHEARD_OF
    }

    /// The elements that two wildcards let in.
    pub(super) fn wild(&self, index: u32, outcome: &mut Outcome) {
        let wild = self.wilds.borrow().list[index as usize].clone();
        let mut known: Set<Pair> = Set::default();
        let mut add = |name: QName| {
            let judged = let_in(self.sub, wild.sub, &name);
            let pair = Pair::Elements(judged, let_in(self.sup, wild.sup, &name));
            if known.insert(pair) && !is_abstract(self.sub, judged) {
                outcome.leads_to.push((Edge::Child { name, judged, at: None, open: true }, pair));
            }
        };
        for namespace in self.namespaces(&wild.namespaces) {
            add(unheard_of(&namespace));
        }
        // What both skip is the same whatever it is called.
        if (wild.sub, wild.sup) != (Process::Skip, Process::Skip) {
            self.globals(&wild.namespaces).into_iter().for_each(add);
        }
    }

    /// The global elements of either side that a wildcard lets in.
    fn globals(&self, namespaces: &NamespaceConstraint) -> Vec<QName> {
        let mut found = Vec::new();
        let mut known: Set<QName> = Set::default();
        for engine in [self.sup, self.sub] {
            for (_, element) in engine.schemas.elements.iter() {
                let own = element.owner == Owner::Schema && namespaces.allows(&element.name.namespace);
                if own && !engine.schemas.is_known(element.place) && known.insert(element.name.clone()) {
                    found.push(element.name.clone());
                }
            }
        }
        found
    }

    /// Namespaces that stand for all that a wildcard lets in: those that either side speaks of, and one of which no
    /// one has heard.
    pub(super) fn namespaces(&self, of: &NamespaceConstraint) -> Vec<Arc<str>> {
        let mut found: Vec<Arc<str>> = vec![ELSEWHERE.into()];
        let these = if let NamespaceConstraint::OneOf(these) = of { &**these } else { &[] };
        for namespace in these.iter().chain(self.spoken_of.get_or_init(|| self.all_spoken_of())) {
            if !found.contains(namespace) {
                found.push(namespace.clone());
            }
        }
        found.retain(|namespace| of.allows(namespace));
        found
    }

    /// The namespaces that either side speaks of, and none.
    fn all_spoken_of(&self) -> Vec<Arc<str>> {
        let mut found: Vec<Arc<str>> = vec!["".into()];
        let mut add = |namespace: &Arc<str>| {
            if !found.contains(namespace) {
                found.push(namespace.clone());
            }
        };
        for engine in [self.sub, self.sup] {
            engine.schemas.documents.iter().for_each(|document| add(&document.namespace));
            for (_, particle) in engine.schemas.particles.iter() {
                if let crate::Term::Any(wildcard) = &particle.term {
                    named(&wildcard.namespaces).iter().for_each(&mut add);
                }
            }
        }
        found
    }

    /// Elements that a wildcard of the first side lets in, of which each stands for many: names that no schema knows, one
    /// of each namespace, and where it asks for declarations, one that there is. None of them is among the `known`, which
    /// stand for themselves alone.
    pub(super) fn strangers(&self, wildcard: &Wildcard, known: &Set<QName>) -> Vec<(QName, Assessment)> {
        let mut found = Vec::new();
        for namespace in self.namespaces(&wildcard.namespaces) {
            let mut name = unheard_of(&namespace);
            if wildcard.process == Process::Strict {
                let only = NamespaceConstraint::OneOf(vec![namespace.clone()]);
                let declared = self.globals(&only).into_iter().find(|name| {
                    let judged = let_in(self.sub, Process::Strict, name);
                    !known.contains(name)
                        && judged != Assessment::Unknown
                        && self.is_inhabited(judged)
                        && !is_abstract(self.sub, judged)
                });
                let Some(declared) = declared else {
                    if self.assuming {
                        found.push((name, Assessment::Skipped));
                    }
                    continue;
                };
                name = declared;
            }
            let judged = let_in(self.sub, wildcard.process, &name);
            found.push((name, judged));
        }
        found
    }
}

pub(super) fn is_abstract(engine: &Engine<'_>, judged: Assessment) -> bool {
    matches!(judged, Assessment::Element(id) if engine.schemas.elements[id].is_abstract)
}

fn named(namespaces: &NamespaceConstraint) -> &[Arc<str>] {
    match namespaces {
        NamespaceConstraint::Any => &[],
        NamespaceConstraint::Not(not) => std::slice::from_ref(not),
        NamespaceConstraint::OneOf(these) => these,
    }
}

pub(super) fn unheard_of(namespace: &str) -> QName {
    QName::new(namespace, UNHEARD_OF)
}

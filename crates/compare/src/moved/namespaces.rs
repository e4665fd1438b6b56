//! Which namespace of the old version became which of the new one.

use std::sync::Arc;

use charter_contract::Contract;
use charter_schema::Owner;
use charter_source::{Map, Set};

use super::written::written_as;

/// Of the names of a namespace, one in so many must be in the other, or it is another namespace and not the same one moved.
const ENOUGH: usize = 3;

/// A namespace in the place of another.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Move {
    pub was: Arc<str>,
    pub is: Arc<str>,
}

/// Namespaces that stand in the place of others.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub(crate) struct Moves(pub Vec<Move>);

impl Moves {
    /// Where a namespace of the old version went.
    pub fn target(&self, namespace: &str) -> Option<&Arc<str>> {
        self.0.iter().find(|it| *it.was == *namespace).map(|it| &it.is)
    }
}

/// The namespaces that moved as a whole: those of the old version alone, each with that of the new version alone that has the
/// most of its names.
pub(super) fn moved(old: &Contract, new: &Contract) -> Moves {
    let (olds, news) = (Names::of(old), Names::of(new));
    let gone = olds.alone(&news);
    let come = news.alone(&olds);
    let mut fitting = Vec::new();
    for was in &gone {
        for is in &come {
            let (a, b) = (&olds.by_namespace[*was], &news.by_namespace[*is]);
            let shared = a.intersection(b).count();
            if shared > 0 && shared * ENOUGH >= a.len().min(b.len()) && !mentions(old, is) {
                fitting.push((shared, likeness(was, is), *was, *is));
            }
        }
    }
    // The most names first; of as many, the names that are most alike.
    fitting.sort_by(|a, b| (b.0, b.1).cmp(&(a.0, a.1)).then_with(|| (a.2, a.3).cmp(&(b.2, b.3))));
    let mut taken: Set<&str> = Set::default();
    let mut moves = Vec::new();
    for (_, _, was, is) in fitting {
        if !taken.contains(&**was) && !taken.contains(&**is) {
            taken.extend([&**was, &**is]);
            moves.push(Move { was: was.clone(), is: is.clone() });
        }
    }
    Moves(moves)
}

/// What a name is the name of; names of different kinds are different names.
type Named<'c> = (&'static str, &'c str);

/// The names that a contract gives, by namespace, in the order in which the namespaces come.
struct Names<'c> {
    in_order: Vec<&'c Arc<str>>,
    by_namespace: Map<&'c Arc<str>, Set<Named<'c>>>,
}

impl<'c> Names<'c> {
    fn of(contract: &'c Contract) -> Names<'c> {
        let mut names = Names { in_order: Vec::new(), by_namespace: Map::default() };
        let schemas = &contract.schemas;
        for (_, ty) in schemas.own_types() {
            ty.name.iter().for_each(|name| names.add(&name.namespace, "type", &name.local));
        }
        for (_, element) in schemas.elements.iter() {
            if element.owner == Owner::Schema && !schemas.is_known(element.place) {
                names.add(&element.name.namespace, "element", &element.name.local);
            }
        }
        for (_, message) in contract.messages.iter() {
            names.add(&message.name.namespace, "message", &message.name.local);
        }
        for (_, port_type) in contract.port_types.iter() {
            names.add(&port_type.name.namespace, "port type", &port_type.name.local);
            for operation in &port_type.operations {
                names.add(&port_type.name.namespace, "operation", &operation.name.text);
            }
        }
        names
    }

    fn add(&mut self, namespace: &'c Arc<str>, kind: &'static str, local: &'c str) {
        // What is in no namespace has nothing to be written otherwise.
        if namespace.is_empty() {
            return;
        }
        let in_order = &mut self.in_order;
        let names = self.by_namespace.entry(namespace).or_insert_with(|| {
            in_order.push(namespace);
            Set::default()
        });
        names.insert((kind, local));
    }

    /// The namespaces that another version has not.
    fn alone(&self, other: &Names<'_>) -> Vec<&'c Arc<str>> {
        self.in_order.iter().copied().filter(|it| !other.by_namespace.contains_key(*it)).collect()
    }
}

/// Whether a contract speaks of a namespace, though it gives no names in it.
fn mentions(contract: &Contract, namespace: &str) -> bool {
    contract.files.iter().any(|file| written_as(file.text().content(), namespace).next().is_some())
}

/// How many characters two texts share at their beginnings and ends.
fn likeness(a: &str, b: &str) -> usize {
    let from_start = a.bytes().zip(b.bytes()).take_while(|(a, b)| a == b).count();
    let most = a.len().min(b.len()) - from_start;
    let from_end = a.bytes().rev().zip(b.bytes().rev()).take(most).take_while(|(a, b)| a == b).count();
    from_start + from_end
}

//! Which component of the new version is which of the old: by name, and where the name is another, by what it is on the
//! wire.

use std::hash::Hash;

use charter_contract::{Body, Carrier, Contract, OperationId, PortId, Side};
use charter_schema::{Inclusion, TypeId};
use charter_source::{Map, QName, Set};

use crate::describe::names::{borrow, pair};

/// Components of two versions.
#[derive(Debug, Clone)]
pub(crate) struct Paired<T> {
    /// Those that have one name in both.
    pub both: Vec<(T, T)>,
    /// Those that are one thing under two names.
    pub renamed: Vec<(T, T)>,
    /// Those of the old version alone.
    pub gone: Vec<T>,
    /// Those of the new version alone.
    pub come: Vec<T>,
}

impl<T: Copy> Paired<T> {
    /// Pairs by name, then the rest by what they are, where that is told of one alone on either side.
    fn of<K: Eq + Hash>(
        old: &[(String, T)],
        new: &[(String, T)],
        old_is: impl Fn(T) -> Option<K>,
        new_is: impl Fn(T) -> Option<K>,
    ) -> Paired<T> {
        let (both, gone, come) = pair(&borrow(old), &borrow(new));
        let keyed = |all: Vec<T>, is: &dyn Fn(T) -> Option<K>| -> Vec<(Option<K>, T)> {
            all.into_iter().map(|id| (is(id), id)).collect()
        };
        let (gone, come) = (keyed(gone, &old_is), keyed(come, &new_is));
        let (of_gone, of_come) = (by_key(&gone), by_key(&come));
        let mut paired = Paired { both, renamed: Vec::new(), gone: Vec::new(), come: Vec::new() };
        let mut taken: Set<&K> = Set::default();
        for (key, id) in &gone {
            let met = key
                .as_ref()
                .and_then(|key| Some((key, of_gone.get(key)?.as_slice(), of_come.get(key)?.as_slice())));
            match met {
                Some((key, [_], [other])) => {
                    taken.insert(key);
                    paired.renamed.push((*id, *other));
                }
                _ => paired.gone.push(*id),
            }
        }
        let left = come.iter().filter(|(key, _)| key.as_ref().is_none_or(|key| !taken.contains(key)));
        paired.come = left.map(|(_, id)| *id).collect();
        paired
    }

    /// Those that both versions have, under whatever name.
    pub fn pairs(&self) -> Vec<(T, T)> {
        self.both.iter().chain(&self.renamed).copied().collect()
    }
}

/// What has a key, by it.
fn by_key<K: Eq + Hash, T: Copy>(all: &[(Option<K>, T)]) -> Map<&K, Vec<T>> {
    let mut found: Map<&K, Vec<T>> = Map::default();
    for (key, id) in all {
        if let Some(key) = key {
            found.entry(key).or_default().push(*id);
        }
    }
    found
}

/// The ports of two versions; a port of another name is the same if it answers at the same address in the same way.
pub(crate) fn ports(old: &Contract, new: &Contract) -> Paired<PortId> {
    let key = |contract: &Contract, id: PortId| {
        let port = contract.port(id);
        let binding = port.binding.target?;
        Some((port.address()?.text.to_string(), contract.protocol(binding)))
    };
    Paired::of(&port_names(old), &port_names(new), |id| key(old, id), |id| key(new, id))
}

/// The operations of two versions; one of another name is the same if its messages cannot be told from the old ones.
pub(crate) fn operations(old: &Contract, new: &Contract) -> Paired<OperationId> {
    let (old_names, new_names) = (operation_names(old, new), operation_names(new, old));
    Paired::of(&old_names, &new_names, |id| on_the_wire(old, id), |id| on_the_wire(new, id))
}

/// What tells the messages of an operation from those of others: its action, and what its bodies begin with.
fn on_the_wire(contract: &Contract, id: OperationId) -> Option<Vec<SideOnWire>> {
    let offer = contract.bound(id).next()?;
    let mut sides = Vec::new();
    for side in contract.sides(id) {
        let shape = contract.shape_of(id, side, offer).ok()?;
        let Carrier::Soap(soap) = &shape.carrier else { return None };
        let Body::Elements(elements) = &soap.body else { return None };
        sides.push(SideOnWire {
            is_request: shape.is_request(),
            action: soap.action.clone().filter(|_| side == Side::Input),
            elements: elements.iter().map(|element| element.name(&contract.schemas).clone()).collect(),
        });
    }
    (!sides.is_empty()).then_some(sides)
}

/// What tells the messages of a side from those of others.
#[derive(PartialEq, Eq, Hash)]
struct SideOnWire {
    is_request: bool,
    action: Option<String>,
    elements: Vec<QName>,
}

/// The types that go by another name now: an old one that is gone, and a new one that was not there, which meet on the
/// wire and meet no other there.
pub(crate) fn types(
    old: &Contract,
    new: &Contract,
    sent: &Inclusion<'_>,
    read: &Inclusion<'_>,
) -> Vec<(TypeId, TypeId)> {
    let name = |contract: &Contract, id: TypeId| contract.schemas.types[id].name.clone();
    let mut met: Map<TypeId, Set<TypeId>> = Map::default();
    let mut back: Map<TypeId, Set<TypeId>> = Map::default();
    let all = sent.types_met().into_iter().chain(read.types_met().into_iter().map(|(sub, sup)| (sup, sub)));
    for (was, is) in all {
        let (Some(from), Some(to)) = (name(old, was), name(new, is)) else { continue };
        let moved = new.schemas.type_named(&from).is_none() && old.schemas.type_named(&to).is_none();
        if moved && !old.schemas.is_known(old.schemas.types[was].place) {
            met.entry(was).or_default().insert(is);
            back.entry(is).or_default().insert(was);
        }
    }
    let sole = |set: &Set<TypeId>| (set.len() == 1).then(|| set.iter().next().copied()).flatten();
    let mut found: Vec<(TypeId, TypeId)> = met
        .iter()
        .filter_map(|(was, all)| sole(all).map(|is| (*was, is)))
        .filter(|(_, is)| back.get(is).is_some_and(|all| all.len() == 1))
        .collect();
    found.sort_unstable_by_key(|(was, _)| was.index());
    found
}

/// All operations, by names that both versions share: the name alone where it is the only one of its kind in
/// either version, else with its port type and the names of its sides, which tell overloaded ones apart.
fn operation_names(contract: &Contract, other: &Contract) -> Vec<(String, OperationId)> {
    let mut counts: Map<&str, usize> = Map::default();
    for contract in [contract, other] {
        let mut here: Map<&str, usize> = Map::default();
        for (_, operation) in contract.operations() {
            *here.entry(&operation.name.text).or_default() += 1;
        }
        for (name, count) in here {
            let most = counts.entry(name).or_default();
            *most = count.max(*most);
        }
    }
    let key = |id: OperationId| {
        let operation = contract.operation(id);
        let name = &operation.name.text;
        if counts.get(&**name) == Some(&1) {
            return name.to_string();
        }
        let port_type = &contract.port_types[id.port_type].name.local;
        let side = |name: Option<String>| name.unwrap_or_default();
        format!("{port_type}/{name}/{}/{}", side(operation.input_name()), side(operation.output_name()))
    };
    contract.operations().map(|(id, _)| (key(id), id)).collect()
}

/// All ports, by the names of service and port.
fn port_names(contract: &Contract) -> Vec<(String, PortId)> {
    let name = |id: PortId| &contract.services[id.service].name.local;
    contract.ports().map(|(id, port)| (format!("{}/{}", name(id), port.name.text), id)).collect()
}

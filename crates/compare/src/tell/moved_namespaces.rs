//! Names that went from one namespace to another together: that is one change, whatever it reaches.

use charter_contract::{Component, Contract};
use charter_source::Map;

use crate::comparison::Comparison;
use crate::kind::Kind;
use crate::report::{Change, Confidence};
use crate::what::{Together, What};

/// From how many names on they are told together.
const TOGETHER: usize = 2;

/// An old and a new namespace.
type Namespaces = (String, String);

impl Comparison<'_> {
    /// Puts one change in the place of all that say that names moved from one namespace to another.
    pub(crate) fn gather_moved(&mut self) {
        let mut groups: Vec<(Namespaces, Vec<usize>)> = Vec::new();
        let mut places: Map<Namespaces, usize> = Map::default();
        for (at, change) in self.ledger.all.iter().enumerate() {
            let Some((was, is)) = change.what.as_move() else { continue };
            let key = (was.namespace.to_string(), is.namespace.to_string());
            let place = *places.entry(key.clone()).or_insert_with(|| {
                groups.push((key, Vec::new()));
                groups.len() - 1
            });
            groups[place].1.push(at);
        }
        groups.retain(|(_, members)| members.len() >= TOGETHER);
        for (namespaces, members) in &mut groups {
            let all = self.ledger.all.iter().enumerate();
            members.extend(all.filter(|(_, change)| follows(change, namespaces)).map(|(at, _)| at));
        }
        let gathered: Vec<Change> =
            groups.iter().map(|(namespaces, members)| self.gathered(namespaces, members)).collect();
        let gone = groups.into_iter().flat_map(|(_, members)| members).collect();
        self.replace(gone, gathered);
    }

    /// The change that stands for some.
    fn gathered(&self, (from, to): &Namespaces, members: &[usize]) -> Change {
        let all = || members.iter().map(|at| &self.ledger.all[*at]);
        let names: Vec<String> = all().filter_map(|change| change.what.moved_name()).collect();
        let names = Together::of(names.iter().map(String::as_str), from, to);
        let place = |contract: &Contract| Some(contract.place(Component::Contract));
        let shown =
            |namespace: &str| if namespace.is_empty() { "none".to_owned() } else { namespace.to_owned() };
        Change {
            old: Some(format!("namespace {}", shown(from))),
            new: Some(format!("namespace {}", shown(to))),
            old_place: place(self.old),
            new_place: place(self.new),
            confidence: Some(Confidence::Sure),
            ..self.merged(members, (Kind::NamespaceMoved, What::MovedTogether { names }))
        }
    }
}

/// Whether a change says that an action moved along: actions begin with the namespace, as a rule.
fn follows(change: &Change, (from, to): &Namespaces) -> bool {
    let What::Action { was: Some(was), is: Some(is) } = &change.what else { return false };
    !from.is_empty() && !to.is_empty() && was.contains(&**from) && was.replace(&**from, to) == *is
}

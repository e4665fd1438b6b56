//! Names that went from one namespace to another together: that is one change, whatever it reaches.

use charter_contract::Component;
use charter_source::{Map, QName, Set};

use crate::operations::Comparison;
use crate::report::{Change, Confidence, Touched, Verdict};

/// From how many names on they are told together.
const TOGETHER: usize = 2;

impl Comparison<'_> {
    /// Puts one change in the place of all that say that names moved from one namespace to another.
    pub(crate) fn gather_moved(&mut self) {
        let mut groups: Vec<((String, String), Vec<usize>)> = Vec::new();
        let mut places: Map<(String, String), usize> = Map::default();
        for (at, change) in self.changes.iter().enumerate() {
            let Some((_, from, to)) = read(&change.message) else { continue };
            let key = (from.to_owned(), to.to_owned());
            let place = *places.entry(key.clone()).or_insert_with(|| {
                groups.push((key, Vec::new()));
                groups.len() - 1
            });
            groups[place].1.push(at);
        }
        groups.retain(|(_, members)| members.len() >= TOGETHER);
        for ((from, to), members) in &mut groups {
            // Actions begin with the namespace, as a rule.
            let follows = |change: &Change| {
                let action = |text: &Option<String>| text.clone().unwrap_or_default();
                let was = action(&change.old);
                let both_there = !from.is_empty() && !to.is_empty() && was.contains(&**from);
                change.rule == "action-changed"
                    && both_there
                    && was.replace(&**from, to) == action(&change.new)
            };
            members.extend((0..self.changes.len()).filter(|at| follows(&self.changes[*at])));
        }
        let gathered: Vec<Change> =
            groups.iter().map(|((from, to), members)| self.gathered((from, to), members)).collect();
        let mut gone: Vec<usize> = groups.into_iter().flat_map(|(_, members)| members).collect();
        gone.sort_unstable();
        let mut at = 0;
        self.changes.retain(|_| {
            at += 1;
            gone.binary_search(&(at - 1)).is_err()
        });
        self.changes.extend(gathered);
    }

    /// The change that stands for some.
    fn gathered(&self, (from, to): (&str, &str), members: &[usize]) -> Change {
        let all = || members.iter().map(|at| &self.changes[*at]);
        let names: Vec<&str> = all().filter_map(|change| Some(read(&change.message)?.0)).collect();
        let verdict = all().map(|change| change.verdict).max().unwrap_or(Verdict::Keeps);
        let worst = || all().filter(|change| change.verdict == verdict);
        let witness = worst().filter_map(|change| change.witness.as_ref());
        let witness = witness.min_by_key(|witness| witness.body.as_ref().map_or(0, String::len)).cloned();
        let mut operations: Vec<Touched> = Vec::new();
        let mut places: Map<(&str, &str), usize> = Map::default();
        for touched in all().flat_map(|change| &change.operations) {
            let at = *places.entry((&touched.operation, &touched.side)).or_insert_with(|| {
                operations.push(touched.clone());
                operations.len() - 1
            });
            operations[at].verdict = operations[at].verdict.max(touched.verdict);
        }
        let place = |contract: &charter_contract::Contract| Some(contract.place(Component::Contract));
        let shown =
            |namespace: &str| if namespace.is_empty() { "none".to_owned() } else { namespace.to_owned() };
        Change {
            path: self.new.path(Component::Contract).to_string(),
            verdict,
            rule: "namespace-moved",
            message: words(&names, from, to),
            old: Some(format!("namespace {}", shown(from))),
            new: Some(format!("namespace {}", shown(to))),
            old_place: place(self.old),
            new_place: place(self.new),
            operations,
            witness,
            depends: worst().find_map(|change| change.depends),
            confidence: Some(Confidence::Sure),
            accepted: None,
        }
    }
}

/// That a name is in another namespace now.
pub(crate) fn moved(kind: &str, was: &QName, is: &QName) -> String {
    let before = if kind.is_empty() { String::new() } else { format!("the {kind} ") };
    format!("{before}\"{}\" moved from the namespace \"{}\" to \"{}\"", is.local, was.namespace, is.namespace)
}

/// Whether a message says that.
pub(crate) fn is_move(message: &str) -> bool {
    read(message).is_some()
}

/// The name, and the namespaces, of a message that says so.
fn read(message: &str) -> Option<(&str, &str, &str)> {
    let (before, rest) = message.split_once("\" moved from the namespace \"")?;
    let (from, to) = rest.strip_suffix('"')?.split_once("\" to \"")?;
    Some((before.rsplit('"').next().unwrap_or(before), from, to))
}

fn words(names: &[&str], from: &str, to: &str) -> String {
    let mut seen: Set<&str> = Set::default();
    let distinct: Vec<&str> = names.iter().copied().filter(|name| seen.insert(name)).collect();
    let count = match distinct.len() {
        1 => format!("\"{}\"", distinct[0]),
        2 => format!("\"{}\" and \"{}\"", distinct[0], distinct[1]),
        many => format!("\"{}\", \"{}\" and {} more names", distinct[0], distinct[1], many - 2),
    };
    let verb = if distinct.len() == 1 { "is" } else { "are" };
    match (from, to) {
        (from, "") => format!("{count} {verb} in no namespace now, and no longer in \"{from}\""),
        ("", to) => format!("{count} {verb} in the namespace \"{to}\" now, and in none before"),
        (from, to) => format!("{count} moved from the namespace \"{from}\" to \"{to}\" together"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_said_of_one_name_is_read_again() {
        let (was, is) = (QName::new("urn:a", "berth"), QName::new("", "berth"));
        for kind in ["", "type"] {
            assert_eq!(read(&moved(kind, &was, &is)), Some(("berth", "urn:a", "")));
        }
        assert_eq!(read("\"berth\" is now \"quay\""), None);
        // What is said of several is not gathered again.
        assert_eq!(read(&words(&["berth", "quay"], "urn:a", "urn:b")), None);
    }

    #[test]
    fn few_names_are_named_and_many_are_counted() {
        assert_eq!(
            words(&["a", "a"], "urn:a", ""),
            "\"a\" is in no namespace now, and no longer in \"urn:a\""
        );
        assert_eq!(
            words(&["a", "b"], "", "urn:b"),
            "\"a\" and \"b\" are in the namespace \"urn:b\" now, and in none before"
        );
        let many = words(&["a", "b", "c", "d"], "urn:a", "urn:b");
        assert_eq!(
            many,
            "\"a\", \"b\" and 2 more names moved from the namespace \"urn:a\" to \"urn:b\" together"
        );
    }
}

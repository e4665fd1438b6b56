//! One cause, one entry: what differs in the same way in many places is told once, with all that it reaches.

use charter_contract::Component;
use charter_source::Map;

use crate::comparison::Comparison;
use crate::kind::Kind;
use crate::moved::Piece;
use crate::report::{Change, Touched, Verdict};
use crate::versions::{SideOf, Subject};
use crate::what::{Count, Everywhere, What};

/// From how many on they are told together.
const TOGETHER: usize = 2;

/// What makes changes one: the kind, and what is the same in all of them.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
enum Cause {
    /// One piece in the place of another.
    Piece(Kind, Piece),
    /// A side of that name.
    Side(Kind, String),
}

impl Cause {
    fn of(change: &Change) -> Option<Cause> {
        match &change.what {
            What::Action { was: Some(was), is: Some(is) } => {
                Piece::between(was, is).into_iter().next().map(|piece| Cause::Piece(change.kind, piece))
            }
            What::AddressOther { addresses } => {
                let (was, is) = (addresses.was.as_deref()?, addresses.is.as_deref()?);
                let whole = || Piece { was: was.to_owned(), is: is.to_owned() };
                Some(Cause::Piece(change.kind, differing_host(was, is).unwrap_or_else(whole)))
            }
            What::SideNew { side, .. } | What::SideGone { side, .. }
                if matches!(change.kind, Kind::FaultAdded | Kind::FaultRemoved) =>
            {
                Some(Cause::Side(change.kind, side.clone()))
            }
            _ => None,
        }
    }

    fn what(&self, places: usize) -> What {
        let count = Count(places);
        match self {
            Cause::Piece(kind, Piece { was, is }) => {
                let everywhere = Everywhere { was: was.clone(), is: is.clone() };
                match kind {
                    Kind::ActionChanged => What::ActionsOther { everywhere, operations: count },
                    _ => What::AddressesOther { everywhere, ports: count },
                }
            }
            Cause::Side(Kind::FaultAdded, side) => What::SideNewIn { side: side.clone(), operations: count },
            Cause::Side(_, side) => What::SideGoneIn { side: side.clone(), operations: count },
        }
    }
}

/// Where two addresses differ before the path that both have at their ends.
fn differing_host(was: &str, is: &str) -> Option<Piece> {
    let same = was.bytes().rev().zip(is.bytes().rev()).take_while(|(a, b)| a == b).count();
    // The path is the same from a slash on.
    let path = was[was.len().checked_sub(same)?..].find('/')?;
    let end = same - path;
    let piece = Piece { was: was[..was.len() - end].to_owned(), is: is[..is.len() - end].to_owned() };
    (!piece.was.is_empty() && !piece.is.is_empty()).then_some(piece)
}

impl Comparison<'_> {
    /// Puts one change in the place of all that have one cause.
    pub(crate) fn gather_together(&mut self) {
        let mut groups: Vec<(Cause, Vec<usize>)> = Vec::new();
        let mut places: Map<Cause, usize> = Map::default();
        for (at, change) in self.ledger.all.iter().enumerate() {
            let Some(cause) = Cause::of(change) else { continue };
            let place = *places.entry(cause.clone()).or_insert_with(|| {
                groups.push((cause, Vec::new()));
                groups.len() - 1
            });
            groups[place].1.push(at);
        }
        groups.retain(|(_, members)| members.len() >= TOGETHER);
        let gathered: Vec<Change> = groups
            .iter()
            .map(|(cause, members)| {
                let kind = self.ledger.all[members[0]].kind;
                self.merged(members, (kind, cause.what(members.len())))
            })
            .collect();
        self.replace(groups.into_iter().flat_map(|(_, members)| members).collect(), gathered);
    }

    /// Takes changes out, and puts others there.
    pub(crate) fn replace(&mut self, mut gone: Vec<usize>, come: Vec<Change>) {
        gone.sort_unstable();
        let mut at = 0;
        self.ledger.all.retain(|_| {
            at += 1;
            gone.binary_search(&(at - 1)).is_err()
        });
        self.ledger.all.extend(come);
    }

    /// A change of the whole contract that stands for some: as bad as the worst of them, with all that they reach and the
    /// shortest of their messages.
    pub(crate) fn merged(&self, members: &[usize], (kind, what): (Kind, What)) -> Change {
        let all = || members.iter().map(|at| &self.ledger.all[*at]);
        let verdict = all().map(|change| change.verdict).max().unwrap_or(Verdict::Keeps);
        let worst = || all().filter(|change| change.verdict == verdict);
        let witness = worst().filter_map(|change| change.witness.as_ref());
        let witness = witness.min_by_key(|witness| witness.length()).cloned();
        let mut operations: Vec<Touched> = Vec::new();
        let mut places: Map<SideOf, usize> = Map::default();
        for touched in all().flat_map(|change| &change.operations) {
            let at = *places.entry(touched.at).or_insert_with(|| {
                operations.push(*touched);
                operations.len() - 1
            });
            operations[at].verdict = operations[at].verdict.max(touched.verdict);
        }
        let first = all().next();
        let subject = Subject::new(Component::Contract);
        Change {
            verdict,
            old: first.and_then(|change| change.old.clone()),
            new: first.and_then(|change| change.new.clone()),
            old_place: first.and_then(|change| change.old_place),
            new_place: first.and_then(|change| change.new_place),
            operations,
            witness,
            depends: worst().find_map(|change| change.depends),
            members: all().map(|change| change.subject).collect(),
            ..Change::bare(subject, self.versions().path(subject), kind, what)
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn hosts_differ_before_the_path() {
        let between = |was, is| differing_host(was, is).map(|piece| (piece.was, piece.is));
        let piece = |was: &str, is: &str| Some((was.to_owned(), is.to_owned()));
        assert_eq!(
            between("http://localhost:8080/berths", "https://port.example/berths"),
            piece("http://localhost:8080", "https://port.example")
        );
        assert_eq!(
            between("http://localhost/a/berths", "http://localhost/b/berths"),
            piece("http://localhost/a", "http://localhost/b")
        );
        assert_eq!(between("http://localhost/a", "http://localhost/b"), None);
    }
}

//! What differs in open content: one entry for all extension points where the same may stand and differs.

use std::sync::Arc;

use charter_contract::Component;
use charter_source::{Map, Set};

use crate::comparison::Comparison;
use crate::difference::{Beyond, Difference};
use crate::kind::Kind;
use crate::report::{Change, Open, OpenDifference, Verdict};
use crate::versions::Subject;
use crate::what::{OpenKinds, What};

/// What makes two extension points have one cause: how they let in what stands there, if that is judged otherwise; and
/// otherwise whatever is declared and may stand there.
type Cause = Vec<(Kind, What)>;

fn cause(beyond: &[Beyond]) -> Cause {
    let mut own: Cause = Vec::new();
    for difference in beyond.iter().flat_map(|it| &it.own) {
        let said = (difference.kind, difference.what.clone());
        if !own.contains(&said) {
            own.push(said);
        }
    }
    own.sort_by_key(|(kind, what)| (*kind, what.facts()));
    own
}

impl Comparison<'_> {
    /// Puts one change in the place of all that tell of extension points with one cause.
    pub(crate) fn gather_open(&mut self) {
        let beyond = std::mem::take(&mut self.ledger.beyond);
        if beyond.is_empty() {
            return;
        }
        let mut groups: Vec<Vec<usize>> = Vec::new();
        let mut known: Map<Cause, usize> = Map::default();
        let mut numbers: Vec<usize> = beyond.keys().copied().collect();
        numbers.sort_unstable();
        for number in numbers {
            let at = *known.entry(cause(&beyond[&number])).or_insert_with(|| {
                groups.push(Vec::new());
                groups.len() - 1
            });
            groups[at].push(number);
        }
        let gathered: Vec<Change> = groups.iter().map(|members| self.opened(members, &beyond)).collect();
        self.replace(beyond.into_keys().collect(), gathered);
    }

    /// The change that stands for those of some extension points.
    fn opened(&self, members: &[usize], beyond: &Map<usize, Vec<Beyond>>) -> Change {
        let all = || members.iter().map(|at| &self.ledger.all[*at]);
        let mut seen: Set<(&str, &What)> = Set::default();
        let mut differences = Vec::new();
        let of_members: Vec<&Beyond> = members.iter().flat_map(|at| &beyond[at]).collect();
        let own = of_members.iter().flat_map(|it| &it.own);
        // Mostly, the same may stand at all of them.
        let mut lists: Set<*const Vec<Arc<Difference>>> = Set::default();
        let below = of_members.iter().filter(|it| lists.insert(Arc::as_ptr(&it.below)));
        for difference in own.chain(below.flat_map(|it| it.below.iter())) {
            if seen.insert((difference.path.as_str(), &difference.what)) {
                differences.push(OpenDifference {
                    path: difference.path.clone(),
                    kind: difference.kind,
                    what: difference.what.clone(),
                });
            }
        }
        let kinds: Set<&str> = differences.iter().map(|it| it.path.as_str()).collect();
        let points: Vec<_> = all().map(|change| change.path.clone()).collect();
        let what = What::OpenContent { open: OpenKinds { kinds: kinds.len(), points: points.len() } };
        let whole = Subject::new(Component::Contract);
        let first = all().next();
        let alone = first.filter(|_| members.len() == 1);
        let mut change = Change {
            verdict: all().map(|change| change.verdict).max().unwrap_or(Verdict::Keeps),
            depends: all().find_map(|change| change.depends),
            old: alone.and_then(|change| change.old.clone()),
            new: alone.and_then(|change| change.new.clone()),
            old_place: first.and_then(|change| change.old_place),
            new_place: first.and_then(|change| change.new_place),
            open: Some(Open { points, differences }),
            ..Change::bare(whole, self.versions().path(whole), Kind::OpenContentChanged, what)
        };
        if let Some(alone) = alone {
            (change.subject, change.path) = (alone.subject, alone.path.clone());
        }
        let touched = all().flat_map(|change| &change.operations);
        let mut known = Set::default();
        change.operations = touched.filter(|touched| known.insert(touched.at)).copied().collect();
        change
    }
}

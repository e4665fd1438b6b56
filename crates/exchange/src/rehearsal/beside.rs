//! Two providers beside each other: what one replies otherwise than the other.

use std::collections::BTreeMap;

use serde_json::Value as Json;

use super::record::leaves;
use super::run::words;
use super::{Condition, Planned, Rehearsed, Runner, Unlike};
use crate::{Client, Outcome};

/// Goes through a rehearsal at two addresses, and says where the replies of the second differ in their values. What already
/// differs between two runs at the first is left out; so is what the rehearsal says varies.
///
/// Gives what came of the first, in which `unlike` holds the differences, each with what came of the second; and how many
/// values were left out.
pub async fn beside(
    here: &Runner<'_>,
    there: &Runner<'_>,
    client: &Client,
) -> (Vec<(Rehearsed, Rehearsed)>, usize) {
    let (mut first, mut second, mut again) = (Vec::new(), Vec::new(), Vec::new());
    here.once(client, &mut |rehearsed| first.push(rehearsed)).await;
    there.once(client, &mut |rehearsed| second.push(rehearsed)).await;
    here.once(client, &mut |rehearsed| again.push(rehearsed)).await;
    let mut left_out = 0;
    let mut all = Vec::new();
    for ((mut first, second), again) in first.into_iter().zip(second).zip(again) {
        let planned = &here.rehearsal.exchanges[first.number - 1];
        let nothing = |unlike: &Unlike| matches!(unlike, Unlike::NotAsked(_) | Unlike::Unsent(_));
        first.unlike.retain(nothing);
        if first.unlike.is_empty() {
            first.unlike.extend(second.unlike.iter().filter(|unlike| nothing(unlike)).cloned());
        }
        left_out += differences(planned, &mut first, &second, &again);
        all.push((first, second));
    }
    (all, left_out)
}

/// Puts the differences into the first; gives how many values vary by themselves.
fn differences(planned: &Planned, first: &mut Rehearsed, second: &Rehearsed, again: &Rehearsed) -> usize {
    let outcome = |rehearsed: &Rehearsed| {
        rehearsed.exchange.as_ref().map_or(Outcome::Lost, |exchange| exchange.about.outcome)
    };
    let (here, there) = (outcome(first), outcome(second));
    if first.exchange.is_none() || second.exchange.is_none() {
        return 0;
    }
    if here != there || first.fault != second.fault {
        let of = if here == Outcome::Fault { &first.exchange } else { &second.exchange };
        let words = of.as_ref().and_then(words);
        first.unlike.push(Unlike::OtherKind { here, there, words });
        return 0;
    }
    let values = |rehearsed: &Rehearsed| rehearsed.values.as_ref().map(by_path).unwrap_or_default();
    let (mine, other, repeated) = (values(first), values(second), values(again));
    let varies = |path: &String| {
        planned
            .expected
            .values
            .iter()
            .any(|(known, condition)| known == path && matches!(condition, Condition::Varies))
    };
    let mut left_out = 0;
    for path in mine.keys().chain(other.keys().filter(|path| !mine.contains_key(*path))) {
        let (mine, other) = (mine.get(path), other.get(path));
        if mine == other {
            continue;
        }
        if varies(path) || mine != repeated.get(path) {
            left_out += 1;
            continue;
        }
        let (here, there) = (mine.cloned(), other.cloned());
        first.unlike.push(Unlike::Beside { path: path.clone(), here, there });
    }
    left_out
}

fn by_path(values: &Json) -> BTreeMap<String, Json> {
    leaves(values).into_iter().collect()
}

//! Whether ways out lead out: revisions of several edits, each with all the edits that its comparison proposes against what
//! breaks. What has a way out must not break afterwards, and nothing may break that did not before.

use std::collections::BTreeMap;

use charter_compare::{Options, Report, UnknownContent, Verdict, compare_by, compare_whole};
use charter_contract::Contract;
use charter_remedy::{WayOut, ways_out};
use fastrand::Rng;

use crate::alone::{Revision, revised};

const READERS: [UnknownContent; 3] = [UnknownContent::Refused, UnknownContent::Open, UnknownContent::Ignored];

#[derive(Default)]
struct Tally {
    revisions: usize,
    breaking: usize,
    with_way: usize,
    none: BTreeMap<String, usize>,
    wrong: usize,
}

/// Tries the ways out of so many revisions; whether all lead out.
pub fn ways(count: usize, rng: &mut Rng) -> bool {
    let mut tally = Tally::default();
    while tally.revisions < count {
        let seed = rng.u64(..);
        let Some(Revision { old, new, .. }) = revised(&mut Rng::with_seed(seed)) else { continue };
        tally.revisions += 1;
        for reader in READERS {
            tally.one(&old, &new, Options { reader, ..Options::default() }, seed);
        }
    }
    let Tally { revisions, breaking, with_way, none, wrong } = &tally;
    println!(
        "{revisions} revisions, {breaking} changes that break: {with_way} have a way out, {wrong} do not lead out"
    );
    none.iter().for_each(|(kind, count)| println!("  {count} {kind} without one"));
    *wrong == 0
}

impl Tally {
    fn one(&mut self, old: &Contract, new: &Contract, options: Options, seed: u64) {
        let compared = compare_whole(old, new, options, &[]);
        let ways = ways_out(old, new, &compared, options);
        let before = &compared.report;
        let edited = new.files.rewritten(&ways.edits).map(Contract::read);
        let after = edited.map(|edited| compare_by(old, &edited, options));
        for (number, change) in before.changes.iter().enumerate() {
            if change.verdict != Verdict::Breaks {
                continue;
            }
            self.breaking += 1;
            match ways.of(number) {
                Some(WayOut::Edit(_)) => {
                    self.with_way += 1;
                    let same = |it: &&charter_compare::Change| {
                        (&it.path, it.kind, &it.what) == (&change.path, change.kind, &change.what)
                    };
                    let left = after.as_ref().and_then(|after| after.changes.iter().find(same));
                    if left.is_some_and(|left| left.verdict == Verdict::Breaks) || after.is_none() {
                        self.wrong(seed, &format!("{} {}: {}", change.path, change.kind, change.what));
                    }
                }
                _ => {
                    let none = self.none.entry(change.kind.name().to_owned()).or_default();
                    *none += 1;
                    if *none == 1 {
                        println!(
                            "{seed} {:?}: no way out of {} {}",
                            options.reader, change.path, change.what
                        );
                    }
                }
            }
        }
        for what in after.iter().flat_map(|after| new_breaks(before, after)) {
            self.wrong(seed, &what);
        }
    }

    fn wrong(&mut self, seed: u64, what: &str) {
        self.wrong += 1;
        if self.wrong <= 10 {
            println!("{seed}: {what}");
        }
    }
}

/// What breaks afterwards and did not.
fn new_breaks(before: &Report, after: &Report) -> Vec<String> {
    let breaking = after.changes.iter().filter(|change| change.verdict == Verdict::Breaks);
    let is_new = |change: &&charter_compare::Change| {
        !before.changes.iter().any(|it| {
            it.verdict == Verdict::Breaks
                && (&it.path, it.kind, &it.what) == (&change.path, change.kind, &change.what)
        })
    };
    breaking.filter(is_new).map(|it| format!("now breaks: {} {}: {}", it.path, it.kind, it.what)).collect()
}

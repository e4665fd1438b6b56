//! Whether each change is judged alone: revisions that consist of several edits, each of which was also made by itself. What a
//! comparison says of a change that one edit makes must be what it says of that edit alone, for every kind of reader.

use std::collections::BTreeMap;

use charter_compare::{Change, OpenContent, Options, Report, UnknownContent, Verdict, compare_by};
use charter_contract::Contract;
use charter_source::{Limits, Location, Overlay};
use fastrand::Rng;

use crate::revise;
use crate::schemas::Maker;

/// Edits of one revision, at least and at most.
const EDITS: std::ops::RangeInclusive<usize> = 2..=12;
const READERS: [UnknownContent; 3] = [UnknownContent::Refused, UnknownContent::Open, UnknownContent::Ignored];
/// Examples of each kind of disagreement that are printed.
const MOST_SHOWN: usize = 3;

/// An edit of the lines of a schema: those that it takes away, and those that it puts there.
#[derive(Clone)]
struct Hunk {
    kind: &'static str,
    from: usize,
    to: usize,
    lines: Vec<String>,
}

impl Hunk {
    fn between(kind: &'static str, old: &[String], new: &[String]) -> Option<Hunk> {
        let same = old.iter().zip(new).take_while(|(a, b)| a == b).count();
        let most = old.len().min(new.len()) - same;
        let end = old.iter().rev().zip(new.iter().rev()).take(most).take_while(|(a, b)| a == b).count();
        let (from, to) = (same, old.len() - end);
        let lines = new[same..new.len() - end].to_vec();
        (from < to || !lines.is_empty()).then_some(Hunk { kind, from, to, lines })
    }

    /// Whether two edits have nothing to do with each other's lines.
    fn is_apart(&self, other: &Hunk) -> bool {
        self.to < other.from || other.to < self.from
    }
}

#[derive(Default)]
struct Tally {
    revisions: usize,
    entries: usize,
    judged: usize,
    together: usize,
    wrong: BTreeMap<String, usize>,
    shown: BTreeMap<String, usize>,
}

/// Compares so many revisions of several edits with each edit alone; whether nothing was judged otherwise.
pub fn alone(count: usize, rng: &mut Rng) -> bool {
    let mut tally = Tally::default();
    while tally.revisions < count {
        let seed = rng.u64(..);
        one(&mut Rng::with_seed(seed), seed, &mut tally);
    }
    let Tally { revisions, entries, judged, together, wrong, .. } = &tally;
    println!(
        "{revisions} revisions, {entries} changes: {judged} that one edit makes, {together} of several together"
    );
    println!("judged otherwise than alone: {}", wrong.values().sum::<usize>());
    wrong.iter().for_each(|(what, count)| println!("  {count} {what}"));
    wrong.is_empty()
}

fn lines(text: &str) -> Vec<String> {
    text.replace("><", ">\n<").lines().map(str::to_owned).collect()
}

fn load(name: &str, text: &str) -> Option<Contract> {
    let store = Overlay::of(&[(name, text)]);
    Contract::load(&store, &Location::from_argument(name), Limits::default()).ok()
}

/// A schema by itself, if nothing is wrong with it.
fn sound(text: &str) -> Option<Contract> {
    load("s.xsd", text).filter(|schema| crate::judged(schema).is_none())
}

/// A revision of several edits, and each of its edits by itself.
pub struct Revision {
    pub old: Contract,
    pub new: Contract,
    singles: Vec<Contract>,
    edits: Vec<Hunk>,
}

/// A random revision; nothing, if what came of it is not sound.
pub fn revised(rng: &mut Rng) -> Option<Revision> {
    let schema = Maker::new(rng).schema();
    let text = schema.to_text();
    let alone = sound(&text)?;
    let (whole, _) = crate::messages::contract(&text, &alone.schemas, rng);
    let old_lines = lines(&text);
    let wanted = rng.usize(EDITS);
    let mut edits: Vec<Hunk> = Vec::new();
    for _ in 0..wanted * 3 {
        let mut revised = schema.clone();
        let Some(kind) = revise::revise(rng, &mut revised) else { continue };
        let Some(hunk) = Hunk::between(kind, &old_lines, &lines(&revised.to_text())) else { continue };
        if edits.len() < wanted && edits.iter().all(|known| known.is_apart(&hunk)) {
            edits.push(hunk);
        }
    }
    let revision = |edits: &[Hunk]| {
        let mut edits = edits.to_vec();
        edits.sort_by_key(|edit| std::cmp::Reverse(edit.from));
        let mut all = old_lines.clone();
        for edit in edits {
            all.splice(edit.from..edit.to, edit.lines);
        }
        let schema = all.join("\n");
        sound(&schema)?;
        load("c.wsdl", &whole.replacen(&text, &schema, 1))
    };
    let old = revision(&[])?;
    let singles: Option<Vec<Contract>> =
        edits.iter().map(|edit| revision(std::slice::from_ref(edit))).collect();
    let (new, singles) = (revision(&edits)?, singles?);
    (edits.len() >= 2).then_some(Revision { old, new, singles, edits })
}

fn one(rng: &mut Rng, seed: u64, tally: &mut Tally) {
    let Some(Revision { old, new, singles, edits }) = revised(rng) else { return };
    tally.revisions += 1;
    for reader in READERS {
        let options = Options { reader, open: OpenContent::Named, ..Options::default() };
        let reports: Vec<Report> = singles.iter().map(|single| compare_by(&old, single, options)).collect();
        let report = compare_by(&old, &new, options);
        let worst = reports.iter().map(|report| report.verdict).max().unwrap_or(Verdict::Keeps);
        // Two edits may undo each other; then less is told than of each.
        if report.verdict < worst {
            let kinds: Vec<&str> = edits.iter().map(|edit| edit.kind).collect();
            tally.wrong(format!("less than its worst edit: {}", kinds.join("; ")), || {
                format!("{seed} {reader:?}")
            });
        }
        for change in &report.changes {
            tally.entries += 1;
            tally.judge(change, &reports, &edits, &|| format!("{seed} {reader:?}"));
        }
    }
}

impl Tally {
    /// Holds a change against the edit that makes it, if there is one alone.
    fn judge(&mut self, change: &Change, reports: &[Report], edits: &[Hunk], place: &dyn Fn() -> String) {
        let same = |it: &&Change| (&it.path, it.kind, &it.what) == (&change.path, change.kind, &change.what);
        let found: Vec<(usize, &Change)> = reports
            .iter()
            .enumerate()
            .filter_map(|(at, report)| report.changes.iter().find(same).map(|it| (at, it)))
            .collect();
        match found.as_slice() {
            [] => self.together += 1,
            all => {
                self.judged += 1;
                let verdict = all.iter().map(|(_, it)| it.verdict).max().unwrap_or(Verdict::Keeps);
                if verdict != change.verdict {
                    let kinds: Vec<&str> = all.iter().map(|(at, _)| edits[*at].kind).collect();
                    let what =
                        format!("{}: {:?} alone, {:?} with others", change.kind, verdict, change.verdict);
                    self.wrong(what, || {
                        format!("{} {} [{}] {}", change.path, change.what, kinds.join(", "), place())
                    });
                }
            }
        }
    }

    fn wrong(&mut self, what: String, example: impl Fn() -> String) {
        let shown = self.shown.entry(what.clone()).or_default();
        if *shown < MOST_SHOWN {
            *shown += 1;
            println!("{what}\n  {}", example());
        }
        *self.wrong.entry(what).or_default() += 1;
    }
}

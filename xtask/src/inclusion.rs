//! Random schemas and revisions of them: what the comparison says of each pair, against instances of both.

use std::collections::BTreeMap;
use std::path::Path;

use charter_contract::Contract;
use charter_schema::sample::{Sampler, Size, to_document};
use charter_schema::{Engine, Inclusion, Judged, Pair, Weight, way};
use charter_source::{Files, Limits, Location, Overlay};
use fastrand::Rng;

use crate::{change, schemas};

/// What came of all pairs.
#[derive(Default)]
struct Tally {
    pairs: usize,
    included: usize,
    instances: usize,
    clashes: usize,
    witnessed: usize,
    undecided: BTreeMap<String, usize>,
    unwitnessed: BTreeMap<String, usize>,
    wrong: usize,
    /// Directions of which it is not known.
    open: usize,
    broken: usize,
}

/// Compares `count` random schemas with revisions of them, with so many instances where all are included.
pub fn inclusion(count: usize, messages: usize, rng: &mut Rng, folder: &Path) -> std::io::Result<()> {
    std::fs::create_dir_all(folder)?;
    let mut tally = Tally::default();
    let mut tried = 0;
    while tally.pairs < count {
        tried += 1;
        let old = schemas::Maker::new(rng).schema();
        let mut new = old.clone();
        for _ in 0..rng.usize(1..4) {
            change::schema(rng, &mut new);
        }
        let (old, new) = (old.to_text(), new.to_text());
        let (Some(a), Some(b)) = (sound(&old), sound(&new)) else { continue };
        for (sub, sup, way) in [(&a, &b, "forth"), (&b, &a, "back")] {
            let case = Case { sub, sup, name: format!("{tried}-{way}") };
            if case.run(messages, &mut tally) {
                std::fs::write(folder.join(format!("{tried}-old.xsd")), &old)?;
                std::fs::write(folder.join(format!("{tried}-new.xsd")), &new)?;
            }
        }
        tally.pairs += 1;
    }
    println!("{} pairs, {} directions included, {} instances", tally.pairs, tally.included, tally.instances);
    println!("{} directions broken, {} open", tally.broken, tally.open);
    println!("{} clashes, {} with a witness; {} wrong", tally.clashes, tally.witnessed, tally.wrong);
    for (what, all) in [("undecided", &tally.undecided), ("without a witness", &tally.unwitnessed)] {
        for (reason, count) in all {
            println!("  {what}: {count:6} {reason}");
        }
    }
    Ok(())
}

fn sound(schema: &str) -> Option<Contract> {
    let store = Overlay::of(&[("s.xsd", schema)]);
    let contract = Contract::load(&store, &Location::from_argument("s.xsd"), Limits::default()).ok()?;
    crate::judged(&contract).is_none().then_some(contract)
}

struct Case<'c> {
    sub: &'c Contract,
    sup: &'c Contract,
    name: String,
}

impl Case<'_> {
    /// Whether something was wrong with the answer.
    fn run(&self, messages: usize, tally: &mut Tally) -> bool {
        let (sub, sup) =
            (Engine::new(&self.sub.files, &self.sub.schemas), Engine::new(&self.sup.files, &self.sup.schemas));
        let root = |contract: &Contract| {
            let all = contract.schemas.element_names().find(|name| &*name.local == "root").cloned()?;
            Some((contract.schemas.element_named(&all)?, all))
        };
        let (Some((a, name)), Some((b, other))) = (root(self.sub), root(self.sup)) else { return false };
        if name != other {
            return false;
        }
        // What has no instance cannot show anything.
        let sound = |size| {
            let sample = Sampler::new(&sub, size).element(a);
            sample.is_ok_and(|sample| valid(&sub, &to_document(&sample)).is_none())
        };
        if !sound(Size::Least) && !sound(Size::Typical) && !sound(Size::Random(7)) {
            return false;
        }
        let inclusion = Inclusion::new(&sub, &sup);
        let pair = Pair::Elements(Judged::Element(a), Judged::Element(b));
        let reached = inclusion.reach(pair);
        let (mut refused, mut shown, mut open, mut bad) = (0, 0, false, false);
        for (at, here) in reached.iter().enumerate() {
            let outcome = inclusion.outcome(here.pair);
            for reason in &outcome.undecided {
                open = true;
                *tally.undecided.entry((*reason).to_owned()).or_default() += 1;
            }
            for clash in &outcome.clashes {
                refused += usize::from(clash.weight() == Weight::Refused);
                tally.clashes += 1;
                if inclusion.witness(&name, &way(&reached, at), here.pair, clash).is_some() {
                    tally.witnessed += 1;
                    shown += usize::from(clash.weight() == Weight::Refused);
                } else if !clash.behind {
                    let kind = format!("{:?}", clash.kind);
                    let kind = kind.split([' ', '(', '{']).next().unwrap_or("").to_owned();
                    let count = tally.unwitnessed.entry(kind.clone()).or_default();
                    *count += 1;
                    if *count <= 6 {
                        bad = true;
                        println!("{}: no witness of {:?} at {:?}", self.name, clash, here.pair);
                    }
                }
            }
        }
        if refused > 0 || open {
            tally.broken += usize::from(shown > 0);
            tally.open += usize::from(shown == 0);
            if shown == 0 {
                println!("{}: open", self.name);
            }
            return bad;
        }
        tally.included += 1;
        for seed in 0..messages as u64 {
            let size = match seed {
                0 => Size::Least,
                1 => Size::Most,
                seed => Size::Random(seed),
            };
            let Ok(sample) = Sampler::new(&sub, size).element(a) else { continue };
            let text = to_document(&sample);
            if valid(&sub, &text).is_some() {
                continue;
            }
            tally.instances += 1;
            if let Some(message) = valid(&sup, &text) {
                tally.wrong += 1;
                println!("{}: said to be included, but {message}\n{text}", self.name);
                return true;
            }
        }
        bad
    }
}

/// What is wrong with a document.
fn valid(engine: &Engine<'_>, text: &str) -> Option<String> {
    let store = Overlay::of(&[("m.xml", text)]);
    let files = Files::load(&store, &Location::from_argument("m.xml"), Limits::default());
    let Ok(files) = files else { return Some("it is not well-formed".to_owned()) };
    let Some(root) = files.first().root() else { return Some("it is empty".to_owned()) };
    let report = engine.validate(files.first().id, root, 1);
    report.wrong.into_iter().next().map(|wrong| wrong.fault.message)
}

//! Random schemas and revisions of them: what the comparison says of each pair, against instances of both.

use std::collections::{BTreeMap, HashSet};
use std::path::Path;

use charter_contract::Contract;
use charter_schema::sample::{Sampler, Size, to_document};
use charter_schema::{Assessment, ElementId, Engine, Inclusion, Pair, Weight};
use charter_source::{Files, Limits, Location, Overlay, QName};
use fastrand::Rng;

use crate::oracle::{self, Question};
use crate::selection::{Candidate, Said, Selection};
use crate::{revise, schemas};

/// Pairs whose files are written and asked about together.
const AT_ONCE: usize = 250;

/// Of how many of the messages of a pair the other validator is also asked whether they are what they were drawn as.
const OF_BOTH: usize = 20;

/// How many messages of a pair are kept with it, of each version.
const KEPT: usize = 3;

/// A run over so many pairs.
pub struct Run<'r> {
    pub pairs: usize,
    /// Instances for each pair where all are included, judged here.
    pub messages: usize,
    /// How many of them the other validator judges as well.
    pub asked: usize,
    pub folder: &'r Path,
    pub oracle: Option<&'r Path>,
    /// A file to keep a selection in.
    pub keep: Option<&'r Path>,
}

/// What came of all pairs.
#[derive(Default)]
struct Tally {
    pairs: usize,
    kinds: BTreeMap<&'static str, usize>,
    included: usize,
    broken: usize,
    open: usize,
    instances: usize,
    counterexamples: usize,
    witnessed: usize,
    behind: usize,
    undecided: BTreeMap<String, usize>,
    unwitnessed: BTreeMap<String, usize>,
    wrong: usize,
    /// What the other validator is to say.
    questions: Vec<(Question, bool)>,
    agreed: usize,
    differing: usize,
    selection: Selection,
}

impl Run<'_> {
    /// Compares random schemas with revisions of them, both ways.
    pub fn inclusion(&self, rng: &mut Rng) -> std::io::Result<()> {
        std::fs::create_dir_all(self.folder)?;
        let mut tally = Tally::default();
        let mut number = 0;
        while tally.pairs < self.pairs {
            number += 1;
            let mut old = schemas::Maker::new(rng).schema();
            // Constraints that nothing can satisfy would leave nothing to compare.
            revise::without_constraints(&mut old);
            if rng.u8(..8) == 0 {
                revise::constrain(rng, &mut old);
            }
            let mut new = old.clone();
            // Mostly one change, of each kind in its turn; sometimes several.
            let mut kinds = Vec::new();
            kinds.extend(revise::of_kind(rng, &mut new, number));
            if kinds.is_empty() || rng.u8(..3) == 0 {
                (0..rng.usize(1..4)).for_each(|_| kinds.extend(revise::revise(rng, &mut new)));
            }
            let (old, new) = (old.to_text(), new.to_text());
            let (Some(a), Some(b)) = (sound(&old), sound(&new)) else { continue };
            std::fs::write(self.folder.join(format!("{number}-old.xsd")), &old)?;
            std::fs::write(self.folder.join(format!("{number}-new.xsd")), &new)?;
            let mut messages = [Vec::new(), Vec::new()];
            let [there, back] = &mut messages;
            let there =
                Case { run: self, sub: &a, sup: &b, number, name: ["old", "new"] }.run(&mut tally, there)?;
            let back =
                Case { run: self, sub: &b, sup: &a, number, name: ["new", "old"] }.run(&mut tally, back)?;
            if let (Some(there), Some(back), [kind]) = (there, back, kinds.as_slice()) {
                let (schemas, said) = ([old, new], [there, back]);
                tally.selection.offer(Candidate { number, kind, schemas, said, messages });
            }
            if there.is_some() || back.is_some() {
                tally.pairs += 1;
                kinds.iter().for_each(|kind| *tally.kinds.entry(kind).or_default() += 1);
                if tally.pairs.is_multiple_of(AT_ONCE) {
                    self.ask(&mut tally)?;
                }
            }
        }
        self.ask(&mut tally)?;
        report(&tally);
        match self.keep {
            Some(file) => tally.selection.write(file),
            None => Ok(()),
        }
    }

    /// Asks the other validator, and clears the folder.
    fn ask(&self, tally: &mut Tally) -> std::io::Result<()> {
        let asked = std::mem::take(&mut tally.questions);
        let mut differing = HashSet::new();
        if let Some(program) = self.oracle {
            let questions: Vec<Question> = asked.iter().map(|(question, _)| question.clone()).collect();
            let answers = oracle::ask(program, self.folder, &questions)?;
            for ((question, valid), answer) in asked.iter().zip(&answers) {
                if answer.is_none() == *valid {
                    tally.agreed += 1;
                    continue;
                }
                tally.differing += 1;
                let number =
                    question.schema.split('-').next().and_then(|number| number.parse::<usize>().ok());
                differing.extend(number);
                let message = question.message.as_deref().unwrap_or("");
                println!("differs: {} {message} wanted valid={valid}: {answer:?}", question.schema);
                let kept = self.folder.join("differing");
                std::fs::create_dir_all(&kept)?;
                for file in [question.schema.as_str(), message] {
                    let _ = std::fs::copy(self.folder.join(file), kept.join(file));
                }
            }
            for entry in std::fs::read_dir(self.folder)?.flatten() {
                if entry.path().is_file() {
                    std::fs::remove_file(entry.path())?;
                }
            }
        }
        tally.selection.settle(&differing);
        println!("after {} pairs: {} as expected, {} not", tally.pairs, tally.agreed, tally.differing);
        Ok(())
    }
}

fn report(tally: &Tally) {
    println!("{} pairs of {} kinds of changes", tally.pairs, tally.kinds.len());
    let least = tally.kinds.iter().min_by_key(|(_, count)| **count);
    if let Some((kind, count)) = least {
        println!("the rarest kind: {kind}, {count} times");
    }
    let all = tally.included + tally.broken + tally.open;
    println!("{all} directions: {} included, {} broken, {} open", tally.included, tally.broken, tally.open);
    println!("{} instances of what is included, {} of them refused", tally.instances, tally.wrong);
    println!(
        "{} clashes, {} with a witness, {} behind others",
        tally.counterexamples, tally.witnessed, tally.behind
    );
    println!("the other validator: {} as expected, {} not", tally.agreed, tally.differing);
    for (what, all) in [("undecided", &tally.undecided), ("without a witness", &tally.unwitnessed)] {
        for (reason, count) in all {
            println!("  {what}: {count:6} {reason}");
        }
    }
}

fn sound(schema: &str) -> Option<Contract> {
    let store = Overlay::of(&[("s.xsd", schema)]);
    let contract = Contract::load(&store, &Location::from_argument("s.xsd"), Limits::default()).ok()?;
    crate::judged(&contract).is_none().then_some(contract)
}

struct Case<'c> {
    run: &'c Run<'c>,
    sub: &'c Contract,
    sup: &'c Contract,
    number: usize,
    /// The names of the two versions.
    name: [&'c str; 2],
}

impl Case<'_> {
    /// What is said, if there was something to compare; adds some messages that show it.
    fn run(&self, tally: &mut Tally, kept: &mut Vec<(bool, String)>) -> std::io::Result<Option<Said>> {
        let (sub, sup) = (
            Engine::new(&self.sub.files, &self.sub.schemas),
            Engine::new(&self.sup.files, &self.sup.schemas),
        );
        let (Some((a, name)), Some((b, other))) = (root(self.sub), root(self.sup)) else { return Ok(None) };
        // What has no instance cannot show anything.
        let sound = |size| {
            let sample = Sampler::new(&sub, size).element(a);
            sample.is_ok_and(|sample| wrong(&sub, &to_document(&sample)).is_none())
        };
        let alive = [Size::Least, Size::Typical, Size::Random(7)].into_iter().any(sound);
        if name != other || !alive {
            return Ok(None);
        }
        let inclusion = Inclusion::new(&sub, &sup);
        let pair = Pair::Elements(Assessment::Element(a), Assessment::Element(b));
        let reached = inclusion.reach(pair);
        let (mut refused, mut shown, mut open) = (0, 0, false);
        for (at, here) in reached.iter().enumerate() {
            let outcome = inclusion.outcome(here.pair);
            for reason in
                outcome.undecided.iter().chain(outcome.open_undecided.iter().map(|(reason, _)| reason))
            {
                open = true;
                let count = tally.undecided.entry(reason.to_string()).or_default();
                *count += 1;
                if *count <= 3 {
                    println!("{} {}: {reason}", self.number, self.name[0]);
                }
            }
            for counterexample in &outcome.counterexamples {
                let weighs = counterexample.weight() == Weight::Refused;
                refused += usize::from(weighs);
                tally.counterexamples += 1;
                if let Some(witness) =
                    inclusion.witness(&name, &inclusion.way(&reached, at), here.pair, counterexample)
                {
                    tally.witnessed += 1;
                    shown += usize::from(weighs);
                    let file = format!("{}-{}-w{}.xml", self.number, self.name[0], tally.counterexamples);
                    let [own, other] = self.name;
                    if kept.len() < KEPT {
                        kept.push((!weighs, witness.text.clone()));
                    }
                    self.question(&file, &witness.text, &[(own, true), (other, !weighs)], tally)?;
                } else if counterexample.behind {
                    tally.behind += 1;
                } else if weighs {
                    let kind = format!("{:?}", counterexample.kind);
                    let kind = kind.split([' ', '(', '{']).next().unwrap_or("").to_owned();
                    let count = tally.unwitnessed.entry(kind).or_default();
                    *count += 1;
                    if *count <= 12 {
                        println!("{} {}: no witness of {:?}", self.number, self.name[0], counterexample.kind);
                    }
                }
            }
        }
        if refused > 0 || open {
            tally.broken += usize::from(shown > 0);
            tally.open += usize::from(shown == 0);
            return Ok(Some(if shown > 0 { Said::Beyond } else { Said::Open }));
        }
        tally.included += 1;
        self.instances((&sub, &sup), a, tally, kept)?;
        Ok(Some(Said::Within))
    }

    /// Draws instances of the one and has them judged by the other.
    fn instances(
        &self,
        (sub, sup): (&Engine<'_>, &Engine<'_>),
        element: ElementId,
        tally: &mut Tally,
        kept: &mut Vec<(bool, String)>,
    ) -> std::io::Result<()> {
        let mut asked = HashSet::new();
        for seed in 0..self.run.messages as u64 {
            let size = match seed {
                0 => Size::Least,
                1 => Size::Most,
                seed => Size::Random(seed),
            };
            let Ok(sample) = Sampler::new(sub, size).element(element) else { continue };
            let text = to_document(&sample);
            let Ok(files) = read(&text) else { continue };
            if judged(sub, &files).is_some() {
                continue;
            }
            tally.instances += 1;
            if let Some(message) = judged(sup, &files) {
                tally.wrong += 1;
                println!("{} {}: said to be included, but {message}\n{text}", self.number, self.name[0]);
                let kept = self.run.folder.join("wrong");
                std::fs::create_dir_all(&kept)?;
                for version in self.name {
                    let file = format!("{}-{version}.xsd", self.number);
                    std::fs::copy(self.run.folder.join(&file), kept.join(&file))?;
                }
                return Ok(());
            }
            if kept.len() < KEPT && !kept.iter().any(|(_, known)| *known == text) {
                kept.push((true, text.clone()));
            }
            if (seed as usize) < self.run.asked && asked.insert(text.clone()) {
                let file = format!("{}-{}-i{seed}.xml", self.number, self.name[0]);
                let [own, other] = self.name;
                let both = [(other, true), (own, true)];
                let versions = if asked.len() <= OF_BOTH { &both[..] } else { &both[..1] };
                self.question(&file, &text, versions, tally)?;
            }
        }
        Ok(())
    }

    /// Writes a message, and asks whether versions accept it, which are wanted to or not.
    fn question(
        &self,
        file: &str,
        text: &str,
        versions: &[(&str, bool)],
        tally: &mut Tally,
    ) -> std::io::Result<()> {
        if self.run.oracle.is_none() {
            return Ok(());
        }
        std::fs::write(self.run.folder.join(file), text)?;
        for (version, valid) in versions {
            let schema = format!("{}-{version}.xsd", self.number);
            tally.questions.push((Question { schema, message: Some(file.to_owned()) }, *valid));
        }
        Ok(())
    }
}

/// The element that messages begin with.
fn root(contract: &Contract) -> Option<(ElementId, QName)> {
    let name = contract.schemas.element_names().find(|name| &*name.local == "root").cloned()?;
    Some((contract.schemas.element_named(&name)?, name))
}

/// What is wrong with a document.
fn wrong(engine: &Engine<'_>, text: &str) -> Option<String> {
    match read(text) {
        Ok(files) => judged(engine, &files),
        Err(message) => Some(message),
    }
}

fn read(text: &str) -> Result<Files, String> {
    let store = Overlay::of(&[("m.xml", text)]);
    let files = Files::load(&store, &Location::from_argument("m.xml"), Limits::default());
    files.map_err(|_| "it is not well-formed".to_owned())
}

fn judged(engine: &Engine<'_>, files: &Files) -> Option<String> {
    let Some(root) = files.first().root() else { return Some("it is empty".to_owned()) };
    let report = engine.validate(files.first().id, root, 1);
    report.wrong.into_iter().next().map(|wrong| wrong.fault.message)
}

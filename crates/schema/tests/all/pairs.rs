//! Pairs of schemas of a random run, one or two for each kind of change, on which another validator agreed: whether all of
//! the one is within the other, and messages of both.
//!
//! `cargo run --release -p charter-xtask -- --revisions 2000 --messages 200 --asked 200 --seed 5 --keep FILE --oracle
//! PROGRAM` makes such a selection.

use charter_schema::{Assessment, Engine, Inclusion, Pair, Schemas, Weight};
use charter_source::{Files, Limits, Location, Overlay};

/// A pair of schemas, with what is known of it.
struct Case<'t> {
    kind: &'t str,
    old: &'t str,
    new: &'t str,
    /// Whether all of the old is within the new, and the other way round.
    within: [bool; 2],
    /// Messages, each with whether the old and the new version accept it.
    messages: Vec<([bool; 2], &'t str)>,
}

fn cases() -> Vec<Case<'static>> {
    let mut cases: Vec<Case<'static>> = Vec::new();
    for piece in include_str!("pairs.txt").split("%% ").skip(1) {
        let (heading, text) = piece.split_once('\n').unwrap();
        let words: Vec<&str> = heading.split(' ').collect();
        match *words.as_slice() {
            ["old", kind] => {
                cases.push(Case { kind, old: text, new: "", within: [true; 2], messages: Vec::new() });
            }
            ["new", there, back] => {
                let case = cases.last_mut().unwrap();
                case.new = text;
                case.within = [there, back].map(|word| word == "within");
            }
            ["message", by] => {
                cases.last_mut().unwrap().messages.push(([by != "new", by != "old"], text));
            }
            _ => panic!("{heading}"),
        }
    }
    cases
}

fn files(text: &str) -> Files {
    let store = Overlay::of(&[("f.xml", text)]);
    Files::load(&store, &Location::from_argument("f.xml"), Limits::default()).unwrap()
}

fn read(files: &Files) -> Schemas {
    Schemas::read(files, [(files.first().id, files.first().root().unwrap().id())])
}

/// Whether everything of the one is within the other; each refusal is shown by an instance.
fn within(sub: &Engine<'_>, sup: &Engine<'_>, kind: &str) -> bool {
    let name = sub.schemas().element_names().find(|name| &*name.local == "root").unwrap().clone();
    let (Some(a), Some(b)) = (sub.schemas().element_named(&name), sup.schemas().element_named(&name)) else {
        panic!("{kind}: no root");
    };
    let inclusion = Inclusion::new(sub, sup);
    let reached = inclusion.reach(Pair::Elements(Assessment::Element(a), Assessment::Element(b)));
    let mut within = true;
    for (at, here) in reached.iter().enumerate() {
        let outcome = inclusion.outcome(here.pair);
        assert!(outcome.undecided.is_empty(), "{kind}: {:?}", outcome.undecided);
        for counterexample in
            outcome.counterexamples.iter().filter(|counterexample| counterexample.weight() == Weight::Refused)
        {
            let witness = inclusion.witness(&name, &inclusion.way(&reached, at), here.pair, counterexample);
            assert!(
                witness.is_some() || counterexample.behind,
                "{kind}: no witness of {:?}",
                counterexample.kind
            );
            within &= witness.is_none();
        }
    }
    within
}

#[test]
fn pairs_are_within_each_other_as_another_validator_agreed() {
    let cases = cases();
    assert!(cases.len() > 150, "{}", cases.len());
    for case in &cases {
        let (a, b) = (files(case.old), files(case.new));
        let (ours, theirs) = (read(&a), read(&b));
        let (old, new) = (Engine::new(&a, &ours), Engine::new(&b, &theirs));
        let found = [within(&old, &new, case.kind), within(&new, &old, case.kind)];
        assert_eq!(found, case.within, "{}\n{}\n{}", case.kind, case.old, case.new);
        for (wanted, text) in &case.messages {
            let message = files(text);
            let accepts = |engine: &Engine<'_>| {
                engine.validate(message.first().id, message.first().root().unwrap(), 1).is_valid()
            };
            assert_eq!([accepts(&old), accepts(&new)], *wanted, "{}\n{text}", case.kind);
        }
    }
}

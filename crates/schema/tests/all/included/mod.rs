//! Asks whether one schema is within another.

use charter_schema::sample::{Sampler, Size, to_document};
use charter_schema::{Assessment, ElementId, Engine, Inclusion, Pair, Reached, Schemas, Weight};
use charter_source::{Files, Limits, Location, Overlay, QName};

/// What was found out about two schemas.
#[derive(Debug, PartialEq)]
pub enum Found {
    Within,
    /// The shortest instance that the first allows and the second does not.
    Beyond(String),
    Undecided,
}

pub fn files(text: &str) -> Files {
    let whole = format!(
        "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' targetNamespace='urn:t' elementFormDefault='qualified'>{text}</x:schema>"
    );
    Files::load(&Overlay::of(&[("s.xsd", &whole)]), &Location::from_argument("s.xsd"), Limits::default())
        .unwrap()
}

/// What is worked out of the elements `r` of two schemas.
fn between<T>(
    sub: &str,
    sup: &str,
    act: impl FnOnce(&Inclusion<'_>, &[Reached], (&Engine<'_>, &Engine<'_>), ElementId) -> T,
) -> T {
    let (a, b) = (files(sub), files(sup));
    let read = |files: &Files| Schemas::read(files, [(files.first().id, files.first().root().unwrap().id())]);
    let (ours, theirs) = (read(&a), read(&b));
    let (sub, sup) = (Engine::new(&a, &ours), Engine::new(&b, &theirs));
    let (x, y) = (ours.element_named(&root()).unwrap(), theirs.element_named(&root()).unwrap());
    let inclusion = Inclusion::new(&sub, &sup);
    let reached = inclusion.reach(Pair::Elements(Assessment::Element(x), Assessment::Element(y)));
    act(&inclusion, &reached, (&sub, &sup), x)
}

/// The name of the element that is asked about.
fn root() -> QName {
    QName::new("urn:t", "r")
}

/// The witness of each counterexample between the elements `r` of two schemas, as far as one was made; asking twice changes nothing.
#[allow(dead_code, reason = "not all tests ask for it")]
pub fn witnessed(sub: &str, sup: &str) -> Vec<Option<String>> {
    between(sub, sup, |inclusion, reached, _, _| {
        let mut found = Vec::new();
        for (at, here) in reached.iter().enumerate() {
            let (outcome, again) = (inclusion.outcome(here.pair), inclusion.outcome(here.pair));
            assert_eq!(format!("{:?}", outcome.counterexamples), format!("{:?}", again.counterexamples));
            for counterexample in &outcome.counterexamples {
                let witness =
                    inclusion.witness(&root(), &inclusion.way(reached, at), here.pair, counterexample);
                found.push(witness.map(|witness| witness.text));
            }
        }
        found
    })
}

/// Whether all instances of the element `r` of the one are instances of that of the other.
pub fn asked(sub: &str, sup: &str) -> Found {
    between(sub, sup, |inclusion, reached, (sub, sup), x| {
        let mut shortest: Option<String> = None;
        let mut open = false;
        for (at, here) in reached.iter().enumerate() {
            let outcome = inclusion.outcome(here.pair);
            open |= !outcome.is_decided();
            for counterexample in outcome
                .counterexamples
                .iter()
                .filter(|counterexample| counterexample.weight() == Weight::Refused)
            {
                match inclusion.witness(&root(), &inclusion.way(reached, at), here.pair, counterexample) {
                    Some(witness)
                        if shortest.as_ref().is_none_or(|known| witness.text.len() < known.len()) =>
                    {
                        shortest = Some(witness.text);
                    }
                    Some(_) => {}
                    None => open |= !counterexample.behind,
                }
            }
        }
        match (shortest, open) {
            (Some(text), _) => Found::Beyond(text.split_whitespace().collect::<Vec<_>>().join(" ")),
            (None, true) => Found::Undecided,
            (None, false) => {
                // What is said to be within is tried.
                for seed in 0..40 {
                    let size = if seed == 0 { Size::Most } else { Size::Random(seed) };
                    let Ok(sample) = Sampler::new(sub, size).element(x) else { continue };
                    let text = to_document(&sample);
                    let store = Overlay::of(&[("m.xml", &text)]);
                    let file =
                        Files::load(&store, &Location::from_argument("m.xml"), Limits::default()).unwrap();
                    let judged = |engine: &Engine<'_>| {
                        engine.validate(file.first().id, file.first().root().unwrap(), 1)
                    };
                    // In a model that is ambiguous, a sample may be judged by another particle than it was made of.
                    if !judged(sub).is_valid() {
                        continue;
                    }
                    let report = judged(sup);
                    assert!(report.is_valid(), "{text}\n{:?}", report.wrong);
                }
                Found::Within
            }
        }
    })
}

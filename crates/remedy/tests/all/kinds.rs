//! Every kind of change that breaks has a way out that leads out, or says why there is none.

use std::collections::BTreeSet;

use charter_compare::{Change, Compared, Options, UnknownContent, Verdict, compare_by, compare_whole, kinds};
use charter_contract::Contract;
use charter_remedy::{NoWay, WayOut, WaysOut, ways_out};
use charter_source::{Limits, Location, Overlay, apply};

pub fn load(text: &str) -> Contract {
    let store = Overlay::of(&[("c.wsdl", text)]);
    Contract::load(&store, &Location::from_argument("c.wsdl"), Limits::default()).unwrap()
}

/// The comparison of two texts, its ways out, and the new text with all of them.
pub fn with_ways(old: &str, new: &str, options: Options) -> (Compared, WaysOut, String) {
    let (a, b) = (load(old), load(new));
    let compared = compare_whole(&a, &b, options, &[]);
    let ways = ways_out(&a, &b, &compared, options);
    let after = apply(new, &ways.edits).unwrap();
    (compared, ways, after)
}

fn is_same(a: &Change, b: &Change) -> bool {
    (&a.path, a.kind, &a.what) == (&b.path, b.kind, &b.what)
}

#[test]
fn every_kind_that_breaks_has_a_way_out_or_says_why_not() {
    let mut without: BTreeSet<&str> = BTreeSet::new();
    for entry in kinds() {
        let texts = [entry.example.old_whole(), entry.example.new_whole()];
        for (old, new) in [(&texts[0], &texts[1]), (&texts[1], &texts[0])] {
            for reader in [UnknownContent::Open, UnknownContent::Refused] {
                let options = Options { reader, ..Options::default() };
                let (compared, ways, text) = with_ways(old, new, options);
                let after = compare_by(&load(old), &load(&text), options);
                for (number, change) in compared.report.changes.iter().enumerate() {
                    let left = after.changes.iter().find(|it| is_same(it, change)).map(|it| it.verdict);
                    match ways.of(number) {
                        Some(WayOut::Edit(way)) => {
                            assert!(way.verdict < Verdict::Breaks);
                            assert_ne!(left, Some(Verdict::Breaks), "{}: {}", change.kind, way.remedy);
                        }
                        Some(WayOut::None(_)) => drop(without.insert(change.kind.name())),
                        None => assert_ne!(change.verdict, Verdict::Breaks, "{}", change.kind),
                    }
                }
            }
        }
    }
    let expected = ["default-changed", "namespace-moved", "side-added", "side-removed"];
    assert_eq!(without, BTreeSet::from(expected));
}

#[test]
fn where_there_is_none_it_says_why() {
    let entry = |name: &str| kinds().find(|entry| entry.kind.name() == name).unwrap();
    for (kind, why) in [
        ("default-changed", NoWay::OneMeaning),
        ("namespace-moved", NoWay::Moved),
        ("side-added", NoWay::OneExchange),
    ] {
        let example = &entry(kind).example;
        let (compared, ways, text) =
            with_ways(&example.old_whole(), &example.new_whole(), Options::default());
        let number = compared.report.changes.iter().position(|it| it.verdict == Verdict::Breaks).unwrap();
        assert_eq!(ways.of(number), Some(&WayOut::None(why)), "{kind}");
        assert_eq!(text, example.new_whole());
    }
}

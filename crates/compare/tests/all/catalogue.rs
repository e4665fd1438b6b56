//! The catalogue of kinds of change: every kind has its entry, and the example of each shows it and nothing else.

use std::collections::BTreeSet;

use charter_compare::{Change, Concerns, Kind, KindEntry, Options, Surface, What, compare_by, kinds};
use charter_contract::Contract;
use charter_source::{Limits, Location, Overlay};

fn load(text: &str) -> Contract {
    let store = Overlay::of(&[("berths.wsdl", text)]);
    Contract::load(&store, &Location::from_argument("berths.wsdl"), Limits::default()).unwrap()
}

/// The changes between the two versions of an example; what only code sees is looked at where the kind is about that alone.
fn changes(entry: &KindEntry) -> Vec<Change> {
    let (old, new) = (load(&entry.example.old_whole()), load(&entry.example.new_whole()));
    let surface = if entry.concerns == Concerns::Code { Surface::Code } else { Surface::Wire };
    compare_by(&old, &new, Options { surface, ..Options::default() }).changes
}

#[test]
fn every_kind_has_one_entry() {
    for kind in Kind::ALL {
        assert_eq!(kinds().filter(|entry| entry.kind == *kind).count(), 1, "{kind}");
        assert_eq!(Kind::named(kind.name()), Some(*kind));
    }
    assert_eq!(Kind::named("tide-turned"), None);
    assert_eq!(kinds().count(), Kind::ALL.len());
}

#[test]
fn every_example_shows_its_kind_alone() {
    let mut wrong = Vec::new();
    for entry in kinds() {
        let found: Vec<String> =
            changes(entry).iter().map(|it| format!("{} {}: {}", it.kind, it.path, it.what)).collect();
        let all = changes(entry).iter().all(|change| change.kind == entry.kind);
        if found.is_empty() || !all {
            wrong.push(format!("{}: {found:#?}", entry.kind));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn examples_have_no_faults_but_those_that_they_are_about() {
    for entry in kinds().filter(|entry| !matches!(entry.kind, Kind::NotRead | Kind::NotCompared)) {
        for text in [entry.example.old_whole(), entry.example.new_whole()] {
            let contract = load(&text);
            assert!(contract.faults().is_empty(), "{}: {:?}", entry.kind, contract.faults());
        }
    }
}

#[test]
fn what_is_said_is_told_in_whole_sentences() {
    for entry in kinds() {
        assert!(entry.says.ends_with('.') && entry.why.ends_with('.'), "{}", entry.kind);
        assert!(!entry.says.contains("  ") && !entry.why.contains("  "), "{}", entry.kind);
    }
}

#[test]
fn statements_go_by_names_that_differ() {
    let names: BTreeSet<&str> = What::IDS.iter().copied().collect();
    assert_eq!(names.len(), What::IDS.len());
}

#[test]
fn a_mark_rests_on_facts_and_tells_changes_apart() {
    let mut marks = BTreeSet::new();
    for entry in kinds() {
        for change in changes(entry) {
            assert_eq!(change.mark().len(), 16);
            assert_eq!(change.mark(), change.clone().mark());
            assert!(marks.insert((change.path.to_string(), change.mark())), "{}", entry.kind);
        }
    }
    // What it reaches, how sure it is and whether it is accepted are no facts of the change.
    let entry = Kind::RangeNarrowed.entry();
    let change = changes(entry).remove(0);
    let mut other = change.clone();
    other.operations.clear();
    other.witness = None;
    other.accepted = Some("agreed".to_owned());
    assert_eq!(change.mark(), other.mark());
    other.new = Some("draught: decimal range ..10".to_owned());
    assert_ne!(change.mark(), other.mark());
}

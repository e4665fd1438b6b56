//! What holds for every kind of change, on the two versions that show it: how strictly consumers read, what code sees, the way
//! back, witnesses, marks.

use std::collections::BTreeMap;

use charter_compare::{
    Because, Change, Kind, KindEntry, Options, Report, Surface, UnknownContent, Verdict, Version, compare_by,
    kinds,
};
use charter_contract::{Contract, DocumentKind};
use charter_message::captured::split;
use charter_message::matching::{Matcher, Severity};
use charter_schema::Engine;
use charter_source::{Limits, Location, Overlay};

fn load(text: &str) -> Contract {
    let store = Overlay::of(&[("berths.wsdl", text)]);
    let contract =
        Contract::load(&store, &Location::from_argument("berths.wsdl"), Limits::default()).unwrap();
    assert_eq!(contract.kind(), DocumentKind::Contract);
    contract
}

fn versions(entry: &KindEntry) -> (Contract, Contract) {
    (load(&entry.example.old_whole()), load(&entry.example.new_whole()))
}

fn compared(entry: &KindEntry, reader: UnknownContent, surface: Surface) -> Report {
    let (old, new) = versions(entry);
    compare_by(&old, &new, Options { reader, surface, ..Options::default() })
}

const READERS: [UnknownContent; 3] = [UnknownContent::Ignored, UnknownContent::Open, UnknownContent::Refused];

#[test]
fn nothing_differs_from_itself() {
    for entry in kinds() {
        for text in [entry.example.old_whole(), entry.example.new_whole()] {
            let (one, other) = (load(&text), load(&text));
            for surface in [Surface::Wire, Surface::Code] {
                let report = compare_by(&one, &other, Options { surface, ..Options::default() });
                let told: Vec<String> = report.changes.iter().map(|it| it.what.to_string()).collect();
                // What could not be read, nothing is known about.
                let unread = report.changes.iter().all(|change| change.verdict != Verdict::Breaks);
                assert!(told.is_empty() || unread, "{}: {told:?}", entry.kind);
                assert!(!report.changed || unread, "{}", entry.kind);
            }
        }
    }
}

#[test]
fn the_stricter_consumers_read_the_worse_it_is() {
    for entry in kinds() {
        for surface in [Surface::Wire, Surface::Code] {
            let verdicts = READERS.map(|reader| compared(entry, reader, surface).verdict);
            assert!(verdicts.is_sorted(), "{}: {verdicts:?}", entry.kind);
        }
    }
}

#[test]
fn code_sees_whatever_the_wire_shows() {
    for entry in kinds() {
        let wire = compared(entry, UnknownContent::Open, Surface::Wire);
        let code = compared(entry, UnknownContent::Open, Surface::Code);
        assert!(code.verdict >= wire.verdict, "{}: {:?} {:?}", entry.kind, code.verdict, wire.verdict);
        assert!(code.changes.len() >= wire.changes.len(), "{}", entry.kind);
        for change in &wire.changes {
            let same = code.changes.iter().find(|it| it.path == change.path && it.kind == change.kind);
            assert!(same.is_some_and(|it| it.verdict >= change.verdict), "{}: {}", entry.kind, change.path);
        }
    }
}

#[test]
fn the_report_is_as_bad_as_its_worst_change() {
    for entry in kinds() {
        for reader in READERS {
            let report = compared(entry, reader, Surface::Code);
            let worst = report.changes.iter().map(|change| change.verdict).max().unwrap_or(Verdict::Keeps);
            assert_eq!(report.verdict, worst, "{}", entry.kind);
            for change in &report.changes {
                let of_operations = change.operations.iter().map(|touched| touched.verdict).max();
                assert!(of_operations.is_none_or(|worst| worst <= change.verdict), "{}", entry.kind);
                assert_eq!(
                    change.worst().count() > 0,
                    of_operations == Some(change.verdict),
                    "{}",
                    entry.kind
                );
                // What bends says what it depends on.
                let said = change.verdict != Verdict::Bends || change.depends.is_some();
                assert!(said, "{}: {} {}", entry.kind, change.path, change.what);
                let words = change.depends.map(|depends| depends.words()).unwrap_or_default();
                assert!(change.depends.is_none() || !words.is_empty());
            }
        }
    }
}

#[test]
fn every_change_stands_in_the_version_that_has_it() {
    for entry in kinds() {
        let (old, new) = versions(entry);
        for change in compare_by(&old, &new, Options { surface: Surface::Code, ..Options::default() }).changes
        {
            for (place, contract) in [(change.old_place, &old), (change.new_place, &new)] {
                let Some(place) = place else { continue };
                let text = contract.files.get(place.file).text().content();
                assert!((place.span.end as usize) <= text.len(), "{}: {}", entry.kind, change.what);
            }
            assert!(
                change.old_place.is_some() || change.new_place.is_some(),
                "{}: {}",
                entry.kind,
                change.what
            );
            let path = change.path.as_str();
            let known = old.find(path).is_ok() || new.find(path).is_ok();
            assert!(known || path == "contract" || path.contains('/'), "{}: {path}", entry.kind);
        }
    }
}

#[test]
fn marks_tell_changes_apart_and_stay_the_same() {
    let mut marks: BTreeMap<String, String> = BTreeMap::new();
    for entry in kinds() {
        let all = |reader| compared(entry, reader, Surface::Code).changes;
        let (first, second) = (all(UnknownContent::Open), all(UnknownContent::Open));
        let of = |changes: &[Change]| changes.iter().map(Change::mark).collect::<Vec<_>>();
        assert_eq!(of(&first), of(&second), "{}", entry.kind);
        // How strictly consumers read changes what comes of it, and not what it is.
        let strict = of(&all(UnknownContent::Refused));
        assert!(of(&first).iter().all(|mark| strict.contains(mark)), "{}", entry.kind);
        for change in &first {
            let mark = change.mark();
            assert!(mark.len() == 16 && mark.bytes().all(|byte| byte.is_ascii_hexdigit()), "{mark}");
            let told =
                format!("{} {} {} {:?} {:?}", change.kind, change.path, change.what, change.old, change.new);
            let before = marks.insert(mark, told.clone());
            assert!(before.is_none_or(|before| before == told), "{told}");
        }
    }
    assert!(marks.len() > 80, "{}", marks.len());
}

#[test]
fn a_witness_is_right_by_one_version_and_wrong_by_the_other() {
    let mut seen = 0;
    for entry in kinds() {
        let (old, new) = versions(entry);
        let engines = [&old, &new].map(|it| Engine::new(&it.files, &it.schemas));
        let matchers = [Matcher::new(&old, &engines[0], 5), Matcher::new(&new, &engines[1], 5)];
        for change in compare_by(&old, &new, Options::default()).changes {
            let Some(witness) = &change.witness else { continue };
            let Some(body) = &witness.body else { continue };
            // Only what is seen in the body itself can be asked of a judge of bodies.
            if !matches!(witness.because, Because::Refused) || !body.starts_with('<') {
                continue;
            }
            seen += 1;
            let errors = |at: usize| {
                let matched = matchers[at].judge(&split("witness", body.as_bytes())[0].open());
                let all = matched.found.into_iter().filter(|found| found.severity == Severity::Error);
                all.map(|found| found.fault.message).collect::<Vec<_>>()
            };
            let (accepting, refusing) = match witness.accepted_by {
                Version::Old => (0, 1),
                Version::New => (1, 0),
            };
            assert!(errors(accepting).is_empty(), "{}: {:?}\n{body}", entry.kind, errors(accepting));
            assert!(!errors(refusing).is_empty(), "{}: {}\n{body}", entry.kind, witness.because());
        }
    }
    assert!(seen > 15, "{seen}");
}

#[test]
fn what_came_one_way_goes_the_other() {
    // What is bound for the first time has nobody whom it could concern; what may stand in open content alone is told only
    // where it does harm.
    let one_way = [Kind::OperationUnbound, Kind::OpenContentChanged];
    for entry in kinds().filter(|entry| !one_way.contains(&entry.kind)) {
        let (old, new) = versions(entry);
        let options = Options { surface: Surface::Code, ..Options::default() };
        let (forth, back) = (compare_by(&old, &new, options), compare_by(&new, &old, options));
        assert_eq!(forth.changed, back.changed, "{}", entry.kind);
        assert_eq!(forth.changes.is_empty(), back.changes.is_empty(), "{}", entry.kind);
    }
}

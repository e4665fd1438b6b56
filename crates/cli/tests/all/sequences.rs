//! The laws of the notation and of edits, on random contracts and random sequences of edits.

use crate::generated::contracts;
use charter_author::{
    Change, EditFailure, Editing, ReadBack, Renaming, SchemaPlace, add, edit, fresh, remove, rename, set,
    text_of,
};
use charter_compare::{UnknownContent, compare};
use charter_contract::{Component, Contract};
use charter_notation::{Convention, Prefixes, info_of, merged, read, text_of as notation_of};
use charter_source::{Limits, Location, Overlay};
use proptest::prelude::*;

fn store(bytes: &[u8]) -> Overlay<charter_source::Nowhere> {
    let mut store = Overlay::of(&[]);
    store.put(&Location::from_argument("g.wsdl"), bytes.to_vec());
    store
}

fn load(bytes: &[u8]) -> Contract {
    Contract::load(&store(bytes), &Location::from_argument("g.wsdl"), Limits::default()).unwrap()
}

/// A step of an edit, with the numbers that it draws from.
type Draw = (u8, prop::sample::Index, u16);

/// Makes one random edit; the path that it is about, and the change.
fn step(contract: &Contract, bytes: &[u8], draw: &Draw) -> (String, Result<Change, EditFailure>) {
    step_read_back(contract, bytes, draw, ReadBack::BySize)
}

fn step_read_back(
    contract: &Contract,
    bytes: &[u8],
    (kind, place, number): &Draw,
    read_back: ReadBack,
) -> (String, Result<Change, EditFailure>) {
    let store = store(bytes);
    let convention = Convention::default();
    let editing = Editing { read_back, ..Editing::of(contract, &store, &convention) };
    let schemas = &contract.schemas;
    let types: Vec<Component> = schemas
        .own_types()
        .filter(|(_, ty)| ty.name.as_ref().is_some_and(|name| name.local.starts_with('T')))
        .map(|(id, _)| Component::Type(id))
        .collect();
    let fields: Vec<Component> = schemas
        .elements
        .iter()
        .filter(|(_, element)| element.owner != charter_schema::Owner::Schema)
        .map(|(id, _)| Component::Element(id))
        .collect();
    let operations: Vec<Component> = contract.operations().map(|(id, _)| Component::Operation(id)).collect();
    let pick =
        |list: &[Component]| list.get(place.index(list.len().max(1))).copied().unwrap_or(Component::Contract);
    let path = |component: Component| contract.path(component).to_string();
    match kind % 10 {
        0 => (
            String::new(),
            add(editing, Component::Contract, &format!("type N{number} {{ a: string, @b: int? }}")),
        ),
        1 => {
            let text =
                format!("operation n{number} {{ input {{ x: Code? }} output: Grade, fault F{number} {{}} }}");
            (String::new(), add(editing, Component::Contract, &text))
        }
        2 => (path(pick(&types)), add(editing, pick(&types), &format!("n{number}: Grade*"))),
        3 => (path(pick(&types)), add(editing, pick(&types), &format!("@n{number}: decimal? default \"1\""))),
        4 => {
            let name = format!("r{number}");
            let renaming = Renaming { name: &name, only: false };
            let component = pick(&operations);
            (path(component), rename(editing, component, renaming))
        }
        5 => (
            path(pick(&fields)),
            set(editing, pick(&fields), &[("type", "token"), ("about", "Says <more> & \"all\".")]),
        ),
        6 => (path(pick(&fields)), remove(editing, pick(&fields), true)),
        7 => (path(pick(&operations)), remove(editing, pick(&operations), false)),
        8 => {
            let component = pick(&types);
            let result = text_of(editing, component).and_then(|text| {
                let text = text.replacen(
                    "}",
                    &format!("  # noted\n  e{number}: {{ in: string? length ..9, @a: boolean }}*\n}}"),
                    1,
                );
                edit(editing, component, &text)
            });
            (path(component), result)
        }
        _ => {
            let component = pick(&operations);
            let result = text_of(editing, component).and_then(|text| {
                let text = text.replacen("{\n", &format!("{{\n  about \"Noted {number}.\nTwice.\"\n"), 1);
                edit(editing, component, &text)
            });
            (path(component), result)
        }
    }
}

#[test]
fn every_word_of_the_notation_is_read_and_written_as_it_was() {
    let convention = Convention::default();
    let text = include_str!("notation.charter");
    let written = read(text, &convention).unwrap_or_else(|errors| panic!("{errors:#?}"));
    let shown = notation_of(&written.info, &written.prefixes, &convention);
    let back = read(&shown, &convention).unwrap();
    assert_eq!(back.info, written.info);
    assert_eq!(notation_of(&back.info, &back.prefixes, &convention), shown);
    for line in [
        "any* from other namespaces, \"urn:x\" lax",
        "type Shallow = restricting Depth as (decimal digits 3) range ..5",
        "content of p as \"image/png\"",
        "output: Tide about \"What comes.\"",
    ] {
        assert!(shown.lines().any(|shown| shown.trim() == line), "{line}\n{shown}");
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn a_contract_goes_through_the_notation_and_comes_back(text in contracts()) {
        let convention = Convention::default();
        let contract = load(text.as_bytes());
        let notation = notation_of(&info_of(&contract), &Prefixes::of(&contract), &convention);
        let written = read(&notation, &convention).unwrap();
        prop_assert_eq!(&notation_of(&written.info, &written.prefixes, &convention), &notation);
        let files = fresh(written.info, &written.prefixes, SchemaPlace::Embedded);
        let back = load(files[0].text.as_bytes());
        prop_assert!(back.faults().is_empty(), "{:?}\n{}", back.faults(), files[0].text);
        prop_assert_eq!(charter_check::check(&back).len(), charter_check::check(&contract).len());
        for report in [compare(&contract, &back, UnknownContent::Refused), compare(&back, &contract, UnknownContent::Refused)] {
            prop_assert!(report.changes.is_empty(), "{:?}", report.changes);
        }
        prop_assert_eq!(&charter_notation::contract(&back, &convention), &notation);
    }

    #[test]
    fn edits_in_any_order_leave_contracts_that_are_what_was_meant(
        text in contracts(),
        draws in prop::collection::vec((any::<u8>(), any::<prop::sample::Index>(), any::<u16>()), 1..8),
    ) {
        let convention = Convention::default();
        let mut bytes = text.into_bytes();
        for draw in &draws {
            let contract = load(&bytes);
            let (path, result) = step(&contract, &bytes, draw);
            // Read back in part or as a whole, an edit comes to the same.
            let [part, whole] = [ReadBack::Affected, ReadBack::Whole]
                .map(|how| step_read_back(&contract, &bytes, draw, how).1)
                .map(|result| result.map(|change| (change.account, change.files[0].after.clone())))
                .map(|result| result.map_err(|error| error.to_string()));
            prop_assert_eq!(part, whole);
            let change = match result {
                Ok(change) => change,
                // A name may be taken, a type may be the base of one that has such a field, a contract may be empty.
                Err(EditFailure::Taken(_) | EditFailure::Harm(_) | EditFailure::Unsupported(_) | EditFailure::Nothing | EditFailure::Used(_)) => continue,
                Err(error) => return Err(TestCaseError::fail(format!("{draw:?} {path}: {error}"))),
            };
            prop_assert!(!change.account.is_empty());
            bytes = change.files[0].after.bytes().into_owned();
            let after = load(&bytes);
            prop_assert!(after.files.first().root().is_some());
            prop_assert!(after.faults().len() <= contract.faults().len(), "{:?}", after.faults());
            // The notation of what came out is read again as the same.
            let notation = charter_notation::contract(&after, &convention);
            let written = read(&notation, &convention).unwrap();
            prop_assert_eq!(notation_of(&written.info, &written.prefixes, &convention), notation);
        }
    }

    #[test]
    fn comments_and_layout_outlast_any_edit(
        text in contracts(),
        draws in prop::collection::vec((any::<u8>(), any::<prop::sample::Index>(), any::<u16>()), 1..4),
        remarks in prop::collection::vec(any::<prop::sample::Index>(), 0..12),
    ) {
        let convention = Convention::default();
        let mut bytes = text.into_bytes();
        let lines: Vec<String> = charter_notation::contract(&load(&bytes), &convention).lines().map(str::to_owned).collect();
        let at: Vec<usize> = remarks.iter().map(|it| it.index(lines.len())).collect();
        let commented: String = lines
            .iter()
            .enumerate()
            .map(|(n, line)| {
                let line = line.replace("  ", "\t");
                // A text or a block of XML may go over several lines.
                let plain = !line.contains(['"', '<']);
                if at.contains(&n) && plain { format!("{line}\t# remark {n}\n") } else { format!("{line}\n") }
            })
            .collect();
        let mut removed = false;
        for draw in &draws {
            let contract = load(&bytes);
            if let (_, Ok(change)) = step(&contract, &bytes, draw) {
                bytes = change.files[0].after.bytes().into_owned();
                removed |= matches!(draw.0 % 10, 6 | 7);
            }
        }
        let canonical = charter_notation::contract(&load(&bytes), &convention);
        let merged = merged(&commented, &canonical);
        let back = read(&merged, &convention);
        prop_assert!(back.is_ok(), "{:?}\n{}", back, merged);
        prop_assert_eq!(back.unwrap().info, read(&canonical, &convention).unwrap().info, "{}\n{}", commented, merged);
        let count = |text: &str| text.matches("# remark").count();
        prop_assert!(removed || count(&merged) == count(&commented), "{}\n{}", commented, merged);
    }

    #[test]
    fn damaged_notation_does_no_harm(
        damage in prop::collection::vec((any::<prop::sample::Index>(), any::<prop::sample::Index>(), 0..4u8), 1..8),
    ) {
        let pieces = ["{", "}", "\"", "xml <a>", "(", ")", "..", "?", "[", "#", "`", "\\", ",", "about", "é", "\n", "<", "with", "one-of", "{urn:x}", "to"];
        let text = include_str!("notation.charter");
        let mut text: Vec<char> = text.chars().collect();
        for (place, piece, how) in damage {
            let at = place.index(text.len());
            match how {
                0 => drop(text.remove(at)),
                1 => drop(text.drain(at..(at + 20).min(text.len()))),
                _ => drop(text.splice(at..at, piece.get(&pieces).chars()).collect::<Vec<_>>()),
            }
        }
        let text: String = text.into_iter().collect();
        let convention = Convention::default();
        match read(&text, &convention) {
            Ok(written) => {
                // What can be read can be written, and read again as the same.
                let again = notation_of(&written.info, &written.prefixes, &convention);
                let back = read(&again, &convention).unwrap();
                prop_assert_eq!(notation_of(&back.info, &back.prefixes, &convention), again);
                fresh(written.info, &written.prefixes, SchemaPlace::Beside);
            }
            Err(errors) => {
                prop_assert!(!errors.is_empty());
                for error in errors {
                    prop_assert!(error.span.start <= error.span.end && error.span.end as usize <= text.len());
                    prop_assert!(text.is_char_boundary(error.span.start as usize));
                }
            }
        }
        let bytes = include_bytes!("../../demo/v1/pilotage.wsdl");
        let contract = load(bytes);
        let store = store(bytes);
        let editing = Editing::of(&contract, &store, &convention);
        let start = text.len() / 3;
        let start = (start..).find(|at| text.is_char_boundary(*at)).unwrap();
        let _ = add(editing, Component::Contract, &text[start..]);
        let _ = add(editing, contract.find("operation/requestPilot").unwrap(), &text[start..]);
        let _ = edit(editing, contract.find("type/Contact").unwrap(), &text[start..]);
    }

    #[test]
    fn what_is_added_and_removed_again_leaves_no_trace(text in contracts(), draw in (0..2u8, any::<prop::sample::Index>(), any::<u16>())) {
        let bytes = text.into_bytes();
        let contract = load(&bytes);
        let (_, result) = step(&contract, &bytes, &draw);
        let there = result.unwrap().files[0].after.bytes().into_owned();
        let between = load(&there);
        let store = store(&there);
        let convention = Convention::default();
        let editing = Editing::of(&between, &store, &convention);
        let path = if draw.0 == 0 { format!("type/N{}", draw.2) } else { format!("operation/n{}", draw.2) };
        let back = remove(editing, between.find(&path).unwrap(), false).unwrap();
        prop_assert!(*back.files[0].after.bytes() == *bytes, "{}", back.files[0].after.text());
    }
}

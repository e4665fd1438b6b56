//! What must hold whatever the contract.

use crate::generated::{contract, contracts, shapes};
use charter_author::{Beginning, Editing, Renaming, SchemaPlace, new_contract, rename};
use charter_compare::{UnknownContent, Verdict, compare};
use charter_contract::{Component, Contract, WireShape};
use charter_notation::Convention;
use charter_schema::Engine;
use charter_source::{Disk, Limits, Location, Overlay, apply};
use proptest::prelude::*;

fn load(text: &[u8]) -> Contract {
    let location = Location::Path("memory/property.wsdl".into());
    let mut store = Overlay::new(Disk);
    store.put(&location, text.to_vec());
    Contract::load(&store, &location, Limits::default()).unwrap()
}

/// The typical message of a shape.
fn sampled(contract: &Contract, shape: &WireShape) -> Option<charter_message::Message> {
    let engine = Engine::new(&contract.files, &contract.schemas);
    let wire_content = charter_message::sample(&engine, shape, charter_message::Size::Typical).ok()?;
    Some(charter_message::assemble(&engine, shape, wire_content, &[]))
}

/// All components that a path can name.
fn components(contract: &Contract) -> Vec<Component> {
    let schemas = &contract.schemas;
    let mut all: Vec<Component> = contract.operations().map(|(id, _)| Component::Operation(id)).collect();
    all.extend(contract.messages.ids().map(Component::Message));
    all.extend(contract.bindings.ids().map(Component::Binding));
    all.extend(schemas.own_types().filter(|(_, ty)| ty.name.is_some()).map(|(id, _)| Component::Type(id)));
    all.extend(schemas.elements.ids().map(Component::Element));
    all
}

/// Does with a contract all that the program can do.
fn use_everywhere(contract: &Contract) {
    for finding in charter_check::check(contract) {
        contract.files.get(finding.place.file).text().position(finding.place.span.end);
    }
    charter_notation::contract(contract, &Convention::default());
    for component in components(contract) {
        // Two components of one name share a path, so it may not be found; it must be written all the same.
        let _ = contract.find(contract.path(component).as_str());
        charter_notation::component(contract, component, &Convention::default());
    }
    for (id, _) in contract.operations() {
        for side in contract.sides(id) {
            if let Ok(shape) = contract.wire_shape(id, side, None) {
                // Whether there is a message depends on the damage; a panic does not.
                let _ = sampled(contract, &shape);
            }
        }
    }
    compare(contract, contract, UnknownContent::Open);
    let sound = load(include_bytes!("../../demo/v1/pilotage.wsdl"));
    compare(&sound, contract, UnknownContent::Open);
    compare(contract, &sound, UnknownContent::Open);
}

/// The stretches of all attribute values, where the text is well-formed.
fn attribute_values(text: &str) -> Vec<std::ops::Range<usize>> {
    let document = roxmltree::Document::parse(text).unwrap();
    let elements = document.descendants().filter(|node| node.is_element());
    elements
        .flat_map(|node| node.attributes().map(|attribute| attribute.range_value()).collect::<Vec<_>>())
        .collect()
}

/// The stretches of all elements but the root; none if the text is no longer well-formed.
fn element_ranges(text: &str) -> Vec<std::ops::Range<usize>> {
    let Ok(document) = roxmltree::Document::parse(text) else { return Vec::new() };
    let elements = document.root_element().descendants().skip(1).filter(|node| node.is_element());
    elements.map(|node| node.range()).collect()
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 96, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn generated_contracts_are_sound(text in contracts()) {
        let contract = load(text.as_bytes());
        let findings = charter_check::check(&contract);
        prop_assert!(findings.is_empty(), "{:?}", findings[0].message);
    }

    #[test]
    fn paths_lead_back_to_their_components(text in contracts()) {
        let contract = load(text.as_bytes());
        for component in components(&contract) {
            let path = contract.path(component);
            prop_assert_eq!(contract.find(path.as_str()), Ok(component), "{}", path);
        }
    }

    #[test]
    fn a_rename_and_its_inverse_give_the_same_bytes(text in contracts(), pick in any::<prop::sample::Index>()) {
        let contract = load(text.as_bytes());
        let all = components(&contract);
        let component = all[pick.index(all.len())];
        let path = contract.path(component).to_string();
        let (outer, old) = path.rsplit_once('/').unwrap();
        let convention = Convention::default();
        let renaming = |name| Renaming { name, only: false };
        let change = rename(Editing::of(&contract, &Disk, &convention), component, renaming("somethingElse")).unwrap();
        prop_assert_eq!(change.files.len(), 1);
        let between = load(&change.files[0].after.bytes());
        prop_assert!(between.faults().is_empty());
        let renamed = between.find(&format!("{outer}/somethingElse")).unwrap();
        let back = rename(Editing::of(&between, &Disk, &convention), renamed, renaming(old)).unwrap();
        prop_assert_eq!(back.files[0].after.text(), text.as_str());
        // Only lines that hold the name have changed.
        for (before, after) in text.lines().zip(change.files[0].after.text().lines()) {
            prop_assert!(before == after || (before.contains(old) && after.contains("somethingElse")));
        }
    }

    #[test]
    fn a_contract_keeps_itself(text in contracts()) {
        let report = compare(&load(text.as_bytes()), &load(text.as_bytes()), UnknownContent::Refused);
        prop_assert!(report.changes.is_empty(), "{:?}", report.changes);
        prop_assert_eq!(report.verdict, Verdict::Keeps);
    }

    #[test]
    fn swapped_versions_touch_the_same_operations(a in shapes(), b in shapes()) {
        let (old, new) = (load(contract(&a, true, "soap").as_bytes()), load(contract(&b, true, "soap").as_bytes()));
        let there = compare(&old, &new, UnknownContent::Ignored);
        let back = compare(&new, &old, UnknownContent::Ignored);
        prop_assert_eq!(there.operation_pairs.len(), back.operation_pairs.len());
        prop_assert_eq!((there.operations, back.operations), (old.operations().count(), new.operations().count()));
        prop_assert_eq!(there.changes.is_empty(), back.changes.is_empty());
    }

    #[test]
    fn every_sample_is_well_formed_and_shows_in_the_notation(text in contracts()) {
        let contract = load(text.as_bytes());
        let notation = charter_notation::contract(&contract, &Convention::default());
        prop_assert!(notation.trim_end().ends_with('}'), "{}", notation);
        for (id, operation) in contract.operations() {
            for side in contract.sides(id) {
                let shape = contract.wire_shape(id, side, None).unwrap();
                let sample = sampled(&contract, &shape).unwrap().text(&contract);
                let document = roxmltree::Document::parse(&sample).unwrap();
                let body = document.root_element().last_element_child().unwrap();
                let name = body.first_element_child().unwrap().tag_name();
                prop_assert!(name.name().starts_with(&*operation.name.text));
                prop_assert_eq!(name.namespace(), Some("urn:saltmere:g"));
            }
        }
    }

    #[test]
    fn new_contracts_are_sound(name in "[A-Z][a-zA-Z0-9]{0,12}", operations in prop::collection::btree_set("[a-z][a-zA-Z0-9_.-]{0,12}", 0..5)) {
        let operations: Vec<String> = operations.into_iter().collect();
        let beginning = Beginning {
            name: &name,
            namespace: "urn:saltmere:new:1",
            operations: &operations,
            address: None,
            soap: &[],
            rpc: false,
            schema: SchemaPlace::Embedded,
            convention: &Convention::default(),
        };
        let contract = load(new_contract(&beginning).unwrap()[0].text.as_bytes());
        let rules: Vec<_> = charter_check::check(&contract).iter().map(|finding| finding.rule.name).collect();
        prop_assert_eq!(rules, ["address-localhost"]);
        prop_assert_eq!(contract.operations().count(), operations.len().max(1));
    }

    #[test]
    fn damaged_contracts_do_no_harm(
        damage in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>(), 0..3u8), 1..12),
    ) {
        let mut bytes = include_bytes!("../../demo/v1/pilotage.wsdl").to_vec();
        for (place, byte, how) in damage {
            let at = place.index(bytes.len());
            match how {
                0 => bytes[at] = byte,
                1 => bytes.insert(at, byte),
                _ => drop(bytes.remove(at)),
            }
        }
        use_everywhere(&load(&bytes));
    }

    #[test]
    fn values_and_elements_in_wrong_places_do_no_harm(
        swaps in prop::collection::vec((any::<prop::sample::Index>(), any::<prop::sample::Index>()), 1..6),
        cuts in prop::collection::vec(any::<prop::sample::Index>(), 0..3),
    ) {
        let mut text = include_str!("../../demo/v1/pilotage.wsdl").to_owned();
        for (to, from) in swaps {
            let values = attribute_values(&text);
            let value = text[values[from.index(values.len())].clone()].to_owned();
            text.replace_range(values[to.index(values.len())].clone(), &value);
        }
        for cut in cuts {
            let elements = element_ranges(&text);
            if !elements.is_empty() {
                text.replace_range(elements[cut.index(elements.len())].clone(), "");
            }
        }
        use_everywhere(&load(text.as_bytes()));
    }

    #[test]
    fn edits_leave_the_rest_alone(text in "[a-zü\r\n]{0,60}", cuts in prop::collection::vec((0..60usize, 0..4usize), 0..4)) {
        use charter_source::{FileId, Place, Span, TextEdit};
        let edits: Vec<TextEdit> = cuts
            .into_iter()
            .map(|(start, length)| {
                let place = Place { file: FileId(0), span: Span::new(start, start + length) };
                TextEdit { place, replacement: "X".into() }
            })
            .collect();
        if let Ok(after) = apply(&text, &edits) {
            let distinct: std::collections::BTreeSet<_> = edits.iter().map(|edit| edit.place.span).collect();
            prop_assert_eq!(after.matches('X').count(), distinct.len());
            let kept = text.len() - distinct.iter().map(|span| (span.end - span.start) as usize).sum::<usize>();
            prop_assert_eq!(after.len(), kept + distinct.len());
        }
    }
}

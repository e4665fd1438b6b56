//! What must hold for the messages of any contract.

use crate::generated::all_contracts;
use charter_contract::{Contract, WireShape};
use charter_message::captured::split;
use charter_message::matching::{Matcher, Severity};
use charter_message::{Size, WireContent, assemble, hostile, sample, values};
use charter_schema::Engine;
use charter_source::{Limits, Location, Overlay};
use proptest::prelude::*;

fn load(text: &str) -> Contract {
    let store = Overlay::of(&[("g.wsdl", text)]);
    let contract = Contract::load(&store, &Location::from_argument("g.wsdl"), Limits::default()).unwrap();
    assert!(contract.faults().is_empty(), "{:?}", contract.faults());
    contract
}

fn sizes() -> impl Strategy<Value = Size> {
    prop_oneof![
        Just(Size::Least),
        Just(Size::Typical),
        Just(Size::Most),
        any::<u64>().prop_map(Size::Random),
        any::<u64>().prop_map(Size::Random),
    ]
}

/// The message of wire content as it is caught on the wire.
fn wire(contract: &Contract, engine: &Engine<'_>, shape: &WireShape, wire_content: &WireContent) -> Vec<u8> {
    assemble(engine, shape, wire_content.clone(), &[]).http(contract).to_bytes()
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, cases: 40, ..ProptestConfig::default() })]

    #[test]
    fn every_message_matches_and_gives_its_values(text in all_contracts(), size in sizes()) {
        let contract = load(&text);
        let engine = Engine::new(&contract.files, &contract.schemas);
        let matcher = Matcher::new(&contract, &engine, 10);
        prop_assert!(!matcher.known().is_empty());
        for known in matcher.known() {
            let shape = &known.shape;
            let wire_content = sample(&engine, shape, size).unwrap();
            let bytes = wire(&contract, &engine, shape, &wire_content);
            let captured = split("m", &bytes)[0].open();
            let matched = matcher.judge(&captured);
            let words: Vec<&str> = matched.found.iter().map(|found| found.fault.message.as_str()).collect();
            prop_assert!(matched.is_valid(), "{:?}\n{}", words, String::from_utf8_lossy(&bytes));
            let other = &matcher.known()[matched.shape.unwrap()].shape;
            let alike = shape.soap().is_none() && !shape.is_request();
            prop_assert!(alike || (other.operation, other.side) == (shape.operation, shape.side));
            let given = values::write(&engine, shape, &wire_content);
            if let Some(back) = matcher.wire_content(&captured, &matched) {
                prop_assert_eq!(&values::write(&engine, other, &back), &given);
            }
        }
    }

    #[test]
    fn values_make_the_message_that_they_came_from(text in all_contracts(), size in sizes()) {
        let contract = load(&text);
        let engine = Engine::new(&contract.files, &contract.schemas);
        let matcher = Matcher::new(&contract, &engine, 10);
        for known in matcher.known() {
            let given = values::write(&engine, &known.shape, &sample(&engine, &known.shape, size).unwrap());
            // As a person would keep them: as text.
            let text = serde_json::to_string_pretty(&given).unwrap();
            let read = values::read(&engine, &known.shape, &serde_json::from_str(&text).unwrap());
            let wire_content = read.unwrap_or_else(|errors| panic!("{errors:?}\n{text}"));
            prop_assert_eq!(values::write(&engine, &known.shape, &wire_content), given);
        }
    }

    #[test]
    fn hostile_messages_are_refused_for_their_reason_alone(text in all_contracts()) {
        let contract = load(&text);
        let engine = Engine::new(&contract.files, &contract.schemas);
        let matcher = Matcher::new(&contract, &engine, 10);
        for known in matcher.known() {
            for it in hostile(&engine, &known.shape, &[]).unwrap() {
                let bytes = it.message.http(&contract).to_bytes();
                let matched = matcher.judge(&split("m", &bytes)[0].open());
                let errors: Vec<&str> = matched
                    .found
                    .iter()
                    .filter(|found| found.severity == Severity::Error)
                    .map(|found| found.fault.rule)
                    .collect();
                prop_assert_eq!(errors, [it.rule], "{}", String::from_utf8_lossy(&bytes));
            }
        }
    }

    #[test]
    fn damaged_messages_do_no_harm(
        damage in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>(), 0..3u8), 1..12),
        pick in any::<prop::sample::Index>(),
    ) {
        let contract = load(include_str!("../../demo/office/harbour.wsdl"));
        let engine = Engine::new(&contract.files, &contract.schemas);
        let matcher = Matcher::new(&contract, &engine, 10);
        let known = &matcher.known()[pick.index(matcher.known().len())];
        let wire_content = sample(&engine, &known.shape, Size::Most).unwrap();
        let mut bytes = wire(&contract, &engine, &known.shape, &wire_content);
        for (place, byte, how) in damage {
            let at = place.index(bytes.len());
            match how {
                0 => bytes[at] = byte,
                1 => bytes.insert(at, byte),
                _ => drop(bytes.remove(at)),
            }
        }
        for raw in split("m", &bytes) {
            let captured = raw.open();
            let matched = matcher.judge(&captured);
            for found in &matched.found {
                captured.file.text().position(found.fault.place.span.end);
            }
            matcher.wire_content(&captured, &matched);
        }
    }

    #[test]
    fn any_values_at_all_do_no_harm(text in "[\\[\\]{}:,\"a-z@$0-9. ]{0,60}", key in "(vessel|hazard|@verified|\\$content|\\$nil|\\$type|callSign)", number in any::<i64>()) {
        let contract = load_demo();
        let engine = Engine::new(&contract.files, &contract.schemas);
        let (id, _) = contract.operations().next().unwrap();
        let shape = contract.wire_shape(id, charter_contract::Side::Input, None).unwrap();
        let mut all = values::write(&engine, &shape, &sample(&engine, &shape, Size::Typical).unwrap());
        if let Ok(value) = serde_json::from_str::<serde_json::Value>(&text) {
            let _ = values::read(&engine, &shape, &value);
            all["vessel"][key.as_str()] = value;
        } else {
            all["vessel"][key.as_str()] = number.into();
        }
        if let Ok(wire_content) = values::read(&engine, &shape, &all) {
            wire(&contract, &engine, &shape, &wire_content);
        }
        let by_path = values::ByPath::of(&engine, &shape);
        let _ = by_path.set(&mut all, &text, "x");
        let _ = by_path.set(&mut all, &format!("vessel/{key}/{text}"), "x");
    }
}

fn load_demo() -> Contract {
    let store = Overlay::of(&[
        ("pilotage.wsdl", include_str!("../../demo/v1/pilotage.wsdl")),
        ("vessel.xsd", include_str!("../../demo/v1/vessel.xsd")),
    ]);
    Contract::load(&store, &Location::from_argument("pilotage.wsdl"), Limits::default()).unwrap()
}

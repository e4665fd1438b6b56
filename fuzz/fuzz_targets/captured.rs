//! Any bytes as captured messages of a contract that has every kind of binding: they are split, judged, and their
//! values taken out and put in again.
#![no_main]

use std::sync::LazyLock;

use charter_contract::Contract;
use charter_message::captured::split;
use charter_message::matching::Matcher;
use charter_message::values;
use charter_schema::Engine;
use charter_source::{Limits, Location, Overlay};
use libfuzzer_sys::fuzz_target;

const CONTRACT: &str = include_str!("../../crates/cli/demo/office/harbour.wsdl");

/// Loading the contract would take longer than all that is done with a message.
static LOADED: LazyLock<Contract> = LazyLock::new(|| {
    let store = Overlay::of(&[("harbour.wsdl", CONTRACT)]);
    Contract::load(&store, &Location::from_argument("harbour.wsdl"), Limits::default()).expect("it is there")
});

fuzz_target!(|bytes: &[u8]| {
    let contract = &*LOADED;
    let engine = Engine::new(&contract.files, &contract.schemas);
    let matcher = Matcher::new(contract, &engine, 20);
    for raw in split("captured", bytes) {
        let captured = raw.open();
        let matched = matcher.judge(&captured);
        for found in &matched.found {
            captured.file.text().position(found.fault.place.span.end);
        }
        let Some(filling) = matcher.filling(&captured, &matched) else { continue };
        let Some(at) = matched.shape else { continue };
        let shape = &matcher.known()[at].shape;
        let given = values::write(&engine, shape, &filling);
        if matched.is_valid() {
            // What is right can be said in values, and these make the same again.
            if let Ok(again) = values::read(&engine, shape, &given) {
                assert_eq!(values::write(&engine, shape, &again), given);
            }
        }
    }
});

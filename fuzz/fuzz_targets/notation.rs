//! Any text as notation: what can be read can be written, and read again as the same; and as what is to be added to a
//! contract, and as the laid-out text that an edit is carried into. Nothing may panic.
#![no_main]

use charter_author::{Editing, SchemaPlace, add, edit, fresh};
use charter_contract::{Component, Contract};
use charter_notation::{Convention, merged, read, text_of};
use charter_source::{Limits, Location, Overlay};
use libfuzzer_sys::fuzz_target;

const TIDES: &str = include_str!("../tides.wsdl");

fuzz_target!(|text: &str| {
    let convention = Convention::default();
    if let Ok(written) = read(text, &convention) {
        let canonical = text_of(&written.form, &written.prefixes, &convention);
        let again = read(&canonical, &convention).expect("what was written can be read");
        assert_eq!(text_of(&again.form, &again.prefixes, &convention), canonical);
        fresh(&written.form, &written.prefixes, SchemaPlace::Beside);
        // The comments and the layout of a text never change what it says.
        if let Ok(kept) = read(&merged(text, &canonical), &convention) {
            assert_eq!(text_of(&kept.form, &kept.prefixes, &convention), canonical);
        }
    }
    let store = Overlay::of(&[("tides.wsdl", TIDES)]);
    let location = Location::from_argument("tides.wsdl");
    let contract = Contract::load(&store, &location, Limits::default()).expect("the contract is there");
    let editing = Editing::of(&contract, &store, &convention);
    for path in ["operation/nextTide", "type/Gauge"] {
        let component = contract.find(path).expect("the component is there");
        let _ = add(editing, component, text);
        let _ = edit(editing, component, text);
    }
    let _ = add(editing, Component::Contract, text);
});

//! Any bytes as an instance of a schema that uses much of the language. Nothing may panic.
#![no_main]

use charter_contract::Contract;
use charter_schema::Engine;
use charter_source::{Files, Limits, Location, Nowhere, Overlay};
use libfuzzer_sys::fuzz_target;

const SCHEMA: &str = include_str!("../port.xsd");

fuzz_target!(|bytes: &[u8]| {
    let load = |name: &str, bytes: Vec<u8>| {
        let location = Location::from_argument(name);
        let mut store = Overlay::new(Nowhere);
        store.put(&location, bytes);
        Files::load(&store, &location, Limits::default())
    };
    let (Ok(schema), Ok(instance)) = (load("port.xsd", SCHEMA.into()), load("visit.xml", bytes.to_vec())) else { return };
    let contract = Contract::read(schema);
    let engine = Engine::new(&contract.files, &contract.schemas);
    if let Some(root) = instance.first().root() {
        engine.validate(instance.first().id, root, 10);
    }
});

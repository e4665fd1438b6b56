//! Any bytes as a schema: it is loaded, checked, and samples are made of its elements. Nothing may panic.
#![no_main]

use charter_contract::Contract;
use charter_schema::Engine;
use charter_schema::sample::{Sampler, Size};
use charter_source::{Limits, Location, Nowhere, Overlay};
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    let location = Location::from_argument("port.xsd");
    let mut store = Overlay::new(Nowhere);
    store.put(&location, bytes.to_vec());
    let Ok(contract) = Contract::load(&store, &location, Limits::default()) else { return };
    charter_check::check(&contract);
    let engine = Engine::new(&contract.files, &contract.schemas);
    for id in contract.schemas.elements.ids().take(3) {
        for size in [Size::Least, Size::Most, Size::Random(4)] {
            let _ = Sampler::new(&engine, size).element(id);
        }
    }
});

//! Every kind of input, changed at random from a fixed seed: a short run of what `cargo fuzz` does for as long as one likes.

use std::path::Path;
use std::time::{Duration, Instant};

#[path = "../../../../fuzz/changes.rs"]
mod changes;
#[path = "../../../../fuzz/targets.rs"]
mod targets;

/// Tries so many inputs, each of which must be done in good time.
fn run(name: &str, times: usize, target: fn(&[u8])) {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../fuzz/seeds").join(name);
    let mut paths: Vec<_> = std::fs::read_dir(folder).unwrap().map(|entry| entry.unwrap().path()).collect();
    paths.sort();
    let seeds: Vec<Vec<u8>> = paths.iter().map(|path| std::fs::read(path).unwrap()).collect();
    seeds.iter().for_each(|seed| target(seed));
    let mut random = fastrand::Rng::with_seed(19);
    for number in 0..times {
        let mut seed = || &seeds[random.usize(..seeds.len())];
        let (bytes, other) = (seed().clone(), seed());
        let bytes = changes::changed(bytes, other, &mut random);
        let started = Instant::now();
        let outcome = std::panic::catch_unwind(|| target(&bytes));
        let shown = || String::from_utf8_lossy(&bytes).into_owned();
        assert!(outcome.is_ok(), "{name} {number}: {}", shown());
        assert!(started.elapsed() < Duration::from_secs(20), "{name} {number}: {}", shown());
    }
}

macro_rules! fuzzed {
    ($($name:ident $times:literal)*) => {
        $(
            #[test]
            fn $name() {
                run(stringify!($name), $times, targets::$name);
            }
        )*
    };
}

fuzzed! {
    xml 100000
    schema 2000
    instance 3000
    notation 1200
    settings 4000
    record 600
    tables 3000
    captured 5000
    given 3000
    edits 1200
    versions 1500
}

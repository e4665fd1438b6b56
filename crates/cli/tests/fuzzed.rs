//! Every kind of input, changed at random from a fixed seed: a short run of what `cargo fuzz` does for as long as one likes.

use std::path::Path;
use std::time::{Duration, Instant};

#[path = "../../../fuzz/targets.rs"]
mod targets;

/// Words that mean something in one kind of input or another.
const WORDS: [&str; 40] = [
    "<",
    ">",
    "&",
    "\"",
    "'",
    "{",
    "}",
    "(",
    ")",
    "[",
    "]",
    "=",
    "/",
    ":",
    "\n",
    "\r\n",
    "#",
    "%%",
    "\n%%\n",
    "&#0;",
    "<!--",
    "]]>",
    "<xs:element",
    "minOccurs=\"99999999999\"",
    "type=\"xs:int\"",
    "ref=\"g\"",
    "base=\"t\"",
    "@",
    "$nil",
    "[9999999999]",
    "..",
    "*",
    "18446744073709551615",
    "-1",
    "\u{1b}",
    "\u{202e}",
    "é",
    "\0",
    "Content-Length: 99\r\n",
    "xmlns:x=\"u\"",
];

/// Some bytes, changed in a few places.
fn changed(seeds: &[Vec<u8>], random: &mut fastrand::Rng) -> Vec<u8> {
    let mut bytes = seeds[random.usize(..seeds.len())].clone();
    for _ in 0..1 + random.usize(..6) {
        let at = random.usize(..=bytes.len());
        let to = (at + random.usize(..30)).min(bytes.len());
        match random.u8(..6) {
            0 => drop(bytes.splice(at..at, WORDS[random.usize(..WORDS.len())].bytes())),
            1 => drop(bytes.splice(at..to, WORDS[random.usize(..WORDS.len())].bytes())),
            2 => drop(bytes.drain(at..to)),
            3 => {
                let piece = bytes[at..to].to_vec();
                let other = random.usize(..=bytes.len());
                drop(bytes.splice(other..other, piece));
            }
            4 if at < bytes.len() => bytes[at] = random.u8(..),
            _ => {
                let other = &seeds[random.usize(..seeds.len())];
                let from = random.usize(..=other.len());
                let piece = other[from..(from + random.usize(..200)).min(other.len())].to_vec();
                drop(bytes.splice(at..to, piece));
            }
        }
    }
    bytes
}

/// Tries so many inputs, each of which must be done in good time.
fn run(name: &str, times: usize, target: fn(&[u8])) {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../fuzz/seeds").join(name);
    let mut paths: Vec<_> = std::fs::read_dir(folder).unwrap().map(|entry| entry.unwrap().path()).collect();
    paths.sort();
    let seeds: Vec<Vec<u8>> = paths.iter().map(|path| std::fs::read(path).unwrap()).collect();
    seeds.iter().for_each(|seed| target(seed));
    let mut random = fastrand::Rng::with_seed(19);
    for number in 0..times {
        let bytes = changed(&seeds, &mut random);
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
    notation 3000
    settings 4000
    record 600
    tables 8000
    captured 10000
    given 8000
    edits 3000
    versions 1500
}

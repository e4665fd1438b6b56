//! What matching costs: 10,000 captured envelopes of 4 KB each, on all cores, as a ratio to the bare tree parse of the same
//! bytes on one core; then the whole program on them, as files and as JSON Lines.
//!
//! `cargo bench --bench messages` prints the medians.

mod common;

use std::fs;
use std::hint::black_box;
use std::path::Path;
use std::process::Command;
use std::time::Duration;

use charter_contract::{Component, Contract, Side};
use charter_message::captured::split;
use charter_message::matching::Matcher;
use charter_message::{Size, assemble, sample, values};
use charter_schema::Engine;
use charter_source::{Disk, Limits, Location};
use rayon::prelude::*;

use common::{median, time};

const CONTRACT: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/demo/v1/pilotage.wsdl");

fn main() {
    // `cargo test --benches` only wants to know that this runs.
    let quick = std::env::args().any(|argument| argument == "--test");
    let (count, rounds) = if quick { (20, 1) } else { (10_000, 11) };
    let location = Location::Path(CONTRACT.into());
    let contract = Contract::load(&Disk, &location, Limits::default()).unwrap();
    let engine = Engine::new(&contract.files, &contract.schemas);
    let envelopes = envelopes(&contract, &engine, count);
    let bytes: usize = envelopes.iter().map(String::len).sum();
    println!("{count} envelopes, {:.1} MB", bytes as f64 / 1e6);
    let (mut parse, mut matched) = (Vec::new(), Vec::new());
    // In turn, so that a change of the machine's speed meets both alike.
    for _ in 0..rounds {
        parse.push(time(|| {
            for text in &envelopes {
                black_box(roxmltree::Document::parse(black_box(text)).unwrap());
            }
        }));
        matched.push(time(|| {
            let matcher = Matcher::new(&contract, &engine, 100);
            let judge = |text: &String| matcher.judge(&split("m", text.as_bytes())[0].open()).is_valid();
            assert!(envelopes.par_iter().with_min_len(16).all(judge));
        }));
    }
    let (parse, matched) = (median(parse), median(matched));
    let ratio = |time: Duration| time.as_secs_f64() / parse.as_secs_f64();
    println!("{:>28} {parse:>12.2?}", "bare parse, one core");
    println!("{:>28} {matched:>12.2?} {:>8.2}", "match, in memory", ratio(matched));
    let folder = std::env::temp_dir().join(format!("charter-bench-messages-{}", std::process::id()));
    for (name, time) in whole_program(&envelopes, &folder, rounds) {
        println!("{name:>28} {time:>12.2?} {:>8.2}", ratio(time));
    }
    let _ = fs::remove_dir_all(&folder);
}

/// Requests for a pilot, each a little different, with so many hazards that it has 4 KB.
fn envelopes(contract: &Contract, engine: &Engine<'_>, count: usize) -> Vec<String> {
    let Ok(Component::Operation(id)) = contract.find("operation/requestPilot") else { unreachable!() };
    let shape = contract.wire_shape(id, Side::Input, None).unwrap();
    let mut all = values::write(engine, &shape, &sample(engine, &shape, Size::Typical).unwrap());
    let hazard = all["vessel"]["hazard"][0].clone();
    let envelope = |number: usize| {
        all["vessel"]["callSign"] = format!("S{:05}", number % 100_000).into();
        all["vessel"]["hazard"] = vec![hazard.clone(); 14 + number % 5].into();
        let wire_content = values::read(engine, &shape, &all).unwrap();
        assemble(engine, &shape, wire_content.clone(), &[]).text(contract)
    };
    (0..count).map(envelope).collect()
}

fn whole_program(envelopes: &[String], folder: &Path, rounds: usize) -> Vec<(&'static str, Duration)> {
    let (files, lines) = (folder.join("files"), folder.join("messages.jsonl"));
    fs::create_dir_all(&files).unwrap();
    for (number, text) in envelopes.iter().enumerate() {
        fs::write(files.join(format!("{number:05}.xml")), text).unwrap();
    }
    let text: Vec<String> =
        envelopes.iter().map(|text| serde_json::Value::from(text.as_str()).to_string()).collect();
    fs::write(&lines, text.join("\n")).unwrap();
    let run = |path: &Path| {
        let output =
            Command::new(env!("CARGO_BIN_EXE_charter")).arg("match").arg(CONTRACT).arg(path).output();
        assert!(output.unwrap().status.success());
    };
    let mut found = Vec::new();
    for (name, path) in [("program, a folder of files", &files), ("program, JSON Lines", &lines)] {
        run(path);
        found.push((name, median((0..rounds).map(|_| time(|| run(path))).collect())));
    }
    found
}

//! Attacks on the built program: mutants, hostile input, kills, failing writes, readers and writers at once. What must hold for
//! every run: it ends by itself with 0, 1 or 2, within a time and a size that go by its input, and no file is half or lost.

mod edits;
mod generated;
mod generators;
mod mutants;
mod run;
mod shapes;

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};
use std::time::Duration;

use fastrand::Rng;

pub use run::{Input, Outcome, Program};

/// What came of all runs of one kind.
#[derive(Debug, Default)]
struct Tally {
    runs: usize,
    failures: Vec<String>,
    slowest: (Duration, String),
    /// The most memory beyond twelve times the input, in bytes.
    largest: (i64, String),
}

/// All that was found.
pub struct Attack {
    pub program: Program,
    /// Where the files lie, and those of runs that failed are kept.
    pub folder: PathBuf,
    tallies: BTreeMap<&'static str, Tally>,
}

impl Attack {
    /// Attacks a program with about so many runs.
    pub fn run(program: &Path, folder: &Path, runs: usize, seed: u64) -> std::io::Result<()> {
        std::fs::create_dir_all(folder)?;
        let program = Program::at(program.canonicalize()?);
        let mut attack = Attack { program, folder: folder.canonicalize()?, tallies: BTreeMap::new() };
        let mut random = Rng::with_seed(seed);
        attack.mutants(runs * 8 / 10, &mut random)?;
        attack.generators(runs / 20, &mut random)?;
        attack.kills(runs / 20, &mut random)?;
        attack.system_calls(runs / 15)?;
        attack.crowds(runs / 600)?;
        attack.report();
        Ok(())
    }

    /// Takes note of a run.
    fn note(&mut self, kind: &'static str, outcome: &Outcome, input: impl Into<Input>, shown: &str) {
        let input = input.into();
        let wrong = outcome.wrong(input);
        let tally = self.tallies.entry(kind).or_default();
        tally.runs += 1;
        if outcome.took > tally.slowest.0 {
            tally.slowest = (outcome.took, shown.to_owned());
        }
        let beyond = outcome.memory as i64 - 12 * input.stands_for as i64;
        if tally.largest.1.is_empty() || beyond > tally.largest.0 {
            tally.largest = (beyond, shown.to_owned());
        }
        if let Some(wrong) = wrong {
            println!("{kind}: {wrong}: {shown}");
            tally.failures.push(format!("{wrong}: {shown}"));
        }
    }

    /// Takes note of something that must hold and does or does not.
    fn hold(&mut self, kind: &'static str, holds: bool, shown: &str) {
        let tally = self.tallies.entry(kind).or_default();
        tally.runs += 1;
        if !holds {
            println!("{kind}: {shown}");
            tally.failures.push(shown.to_owned());
        }
    }

    fn report(&self) {
        println!(
            "\n| what | runs | failed | slowest | memory beyond 12 × input |\n| --- | --- | --- | --- | --- |"
        );
        for (kind, tally) in &self.tallies {
            println!(
                "| {kind} | {} | {} | {:.2} s | {} MB |",
                tally.runs,
                tally.failures.len(),
                tally.slowest.0.as_secs_f64(),
                (tally.largest.0 / (1 << 20)).max(0)
            );
        }
        for (kind, tally) in &self.tallies {
            println!("{kind}: slowest {}; largest {}", tally.slowest.1, tally.largest.1);
        }
        let all: usize = self.tallies.values().map(|tally| tally.runs).sum();
        let failed: usize = self.tallies.values().map(|tally| tally.failures.len()).sum();
        println!("{all} runs, {failed} failed");
    }
}

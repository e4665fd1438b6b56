//! Development runs: comparison with another validator.
#![allow(clippy::print_stdout, missing_docs, reason = "a program for those who work on the project")]

mod change;
mod oracle;
mod schemas;
mod xml;

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use charter_check::{Level, check};
use charter_contract::Contract;
use charter_source::{Disk, Limits, Location};
use clap::Parser;
use fastrand::Rng;

use oracle::Question;

/// Compare verdicts on random schemas and messages with those of another validator.
#[derive(Debug, Parser)]
struct Args {
    /// The other validator: reads lines "S schema" or "I schema message", answers each with its verdict
    #[arg(long)]
    oracle: PathBuf,
    /// Where the files are written
    #[arg(long, default_value = "target/second-opinion")]
    folder: PathBuf,
    /// How many schemas
    #[arg(long, default_value_t = 1000)]
    schemas: usize,
    /// The seed of everything random
    #[arg(long, default_value_t = 1)]
    seed: u64,
}

fn main() -> std::io::Result<()> {
    let mut args = Args::parse();
    args.oracle = args.oracle.canonicalize()?;
    std::fs::create_dir_all(&args.folder)?;
    let mut rng = Rng::with_seed(args.seed);
    let mut questions = Vec::new();
    for number in 0..args.schemas {
        let mut schema = schemas::Maker::new(&mut rng).schema();
        if number % 2 == 1 {
            change::schema(&mut rng, &mut schema);
        }
        let name = format!("s{number}.xsd");
        std::fs::write(args.folder.join(&name), schema.to_text())?;
        questions.push(Question { schema: name, message: None });
    }
    let answers = oracle::ask(&args.oracle, &args.folder, &questions)?;
    report(&args.folder, &questions, &answers);
    Ok(())
}

/// Our verdict on a schema: nothing for valid, else the rules that it breaks.
fn verdict(path: &Path) -> Option<String> {
    let contract = Contract::load(&Disk, &Location::Path(path.into()), Limits::default()).ok()?;
    let findings = check(&contract);
    let errors = findings.iter().filter(|finding| finding.level == Level::Error);
    let words: Vec<String> = errors.map(|finding| format!("{}: {}", finding.rule.name, finding.message)).collect();
    (!words.is_empty()).then(|| words.join("; "))
}

fn report(folder: &Path, questions: &[Question], answers: &[Option<String>]) {
    let mut classes: BTreeMap<String, (usize, Vec<String>)> = BTreeMap::new();
    let (mut agree, mut both_valid) = (0, 0);
    for (question, theirs) in questions.iter().zip(answers) {
        let ours = verdict(&folder.join(&question.schema));
        if ours.is_some() == theirs.is_some() {
            agree += 1;
            both_valid += usize::from(ours.is_none());
            continue;
        }
        let class = match (&ours, theirs) {
            (Some(ours), _) => format!("only ours: {}", ours.split(':').next().unwrap_or("")),
            (_, Some(theirs)) => {
                let reason = theirs.splitn(3, ": ").nth(2).unwrap_or(theirs);
                format!("only theirs: {}", reason.split(':').next().unwrap_or(""))
            }
            _ => String::new(),
        };
        let entry = classes.entry(class).or_default();
        entry.0 += 1;
        if entry.1.len() < 3 {
            entry.1.push(format!("{} | {} | {}", question.schema, ours.unwrap_or_default(), theirs.clone().unwrap_or_default()));
        }
    }
    println!("{agree} of {} agree, {both_valid} of them valid", questions.len());
    for (class, (count, examples)) in classes {
        println!("{count:>6} {class}");
        examples.iter().for_each(|example| println!("         {example}"));
    }
}

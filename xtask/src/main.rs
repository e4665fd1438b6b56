//! Development runs: verdicts on random schemas and messages, beside those of another validator.
#![allow(clippy::print_stdout, missing_docs, reason = "a program for those who work on the project")]

mod alone;
mod attack;
mod change;
mod inclusion;
mod keep;
mod layers;
mod messages;
mod notation;
mod oldest;
mod oracle;
mod pairs;
mod read_back;
mod revise;
mod schemas;
mod selection;
mod versions;
mod ways;
mod xml;

use std::collections::{BTreeMap, BTreeSet};

use std::path::PathBuf;

use charter_check::{Example, Family, Level, Slot, check};
use charter_contract::Contract;
use charter_schema::Engine;
use charter_schema::sample::{Sampler, Size, to_document};
use charter_source::{Disk, Files, Limits, Location, QName};
use clap::Parser;
use fastrand::Rng;

use oracle::Question;
use xml::Xml;

/// Compare verdicts on random schemas and messages with those of another validator.
#[derive(Debug, Parser)]
struct Args {
    /// The other validator: reads lines "S schema" or "I schema message", answers each with its verdict
    #[arg(long, default_value = "charter-oracle")]
    oracle: PathBuf,
    /// Instead: how many random schemas to send through the notation and back
    #[arg(long)]
    round_trips: Option<usize>,
    /// Instead: how many random schemas to edit, each result read back in part and as a whole
    #[arg(long)]
    read_back: Option<usize>,
    /// Instead: of how many random contracts to make and match all messages
    #[arg(long)]
    contracts: Option<usize>,
    /// With --contracts: the program, which rehearses every operation of each contract with a stand-in of its own
    #[arg(long, requires = "contracts")]
    rehearse: Option<PathBuf>,
    /// Instead: how many random schemas to compare with revisions of them
    #[arg(long)]
    revisions: Option<usize>,
    /// Instead: how many random contracts to compare with revisions of their messages, bindings and ports
    #[arg(long)]
    versions: Option<usize>,
    /// Instead: of how many random revisions of several edits to hold each change against the edit alone
    #[arg(long)]
    alone: Option<usize>,
    /// Instead: of how many random revisions of several edits to try messages without open content, which is set apart
    #[arg(long)]
    apart: Option<usize>,
    /// Instead: of how many random revisions of several edits to try the ways out of what breaks
    #[arg(long)]
    ways: Option<usize>,
    /// Instead: say which modules use each other in a circle; it fails if any do
    #[arg(long)]
    layers: bool,
    /// Instead: say whether all that is built builds with the oldest Rust that is promised; it fails if anything does not
    #[arg(long)]
    oldest: bool,
    /// Instead: how many random contracts to write into the folder, each with a revision of it
    #[arg(long)]
    pairs: Option<usize>,
    /// Instead: with about how many runs to attack the built program
    #[arg(long)]
    attack: Option<usize>,
    /// The program that is attacked
    #[arg(long, default_value = "target/release/charter")]
    program: PathBuf,
    /// Of how many of the messages of each pair of revisions the other validator is asked too
    #[arg(long, default_value_t = 20)]
    asked: usize,
    /// Where the files are written
    #[arg(long, default_value = "target/second-opinion")]
    folder: PathBuf,
    /// How many schemas, half of them with something changed
    #[arg(long, default_value_t = 1000)]
    schemas: usize,
    /// How many messages for each schema that is sound
    #[arg(long, default_value_t = 12)]
    messages: usize,
    /// A file to keep a selection in, with the verdicts: for every clause the smallest cases that break it
    #[arg(long)]
    keep: Option<PathBuf>,
    /// The seed of everything random
    #[arg(long, default_value_t = 1)]
    seed: u64,
}

/// A verdict: nothing for valid, else the rules that are broken and the words.
pub type Verdict = Option<(BTreeSet<&'static str>, String)>;

fn main() -> std::io::Result<()> {
    let mut args = Args::parse();
    if args.layers {
        let root = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("..");
        let sound = layers::layers(&root)?;
        std::process::exit(i32::from(!sound));
    }
    if args.oldest {
        let root = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("..");
        std::process::exit(i32::from(!oldest::oldest(&root)?));
    }
    if let Some(count) = args.round_trips {
        notation::round_trips(count, &mut Rng::with_seed(args.seed));
        return Ok(());
    }
    if let Some(runs) = args.attack {
        return attack::Attack::run(&args.program, &args.folder.join("attack"), runs, args.seed);
    }
    if let Some(count) = args.read_back {
        read_back::read_back(count, &mut Rng::with_seed(args.seed));
        return Ok(());
    }
    if let Some(count) = args.versions {
        versions::versions(count, &mut Rng::with_seed(args.seed));
        return Ok(());
    }
    if let Some(count) = args.alone {
        std::process::exit(i32::from(!alone::alone(count, &mut Rng::with_seed(args.seed))));
    }
    if let Some(count) = args.apart {
        std::process::exit(i32::from(!versions::apart(count, &mut Rng::with_seed(args.seed))));
    }
    if let Some(count) = args.ways {
        std::process::exit(i32::from(!ways::ways(count, &mut Rng::with_seed(args.seed))));
    }
    if let Some(count) = args.pairs {
        return pairs::pairs(count, &mut Rng::with_seed(args.seed), &args.folder);
    }
    if let Some(count) = args.revisions {
        let oracle = args.oracle.canonicalize().ok();
        let run = inclusion::Run {
            pairs: count,
            messages: args.messages,
            asked: args.asked,
            folder: &args.folder,
            oracle: oracle.as_deref(),
            keep: args.keep.as_deref(),
        };
        return run.inclusion(&mut Rng::with_seed(args.seed));
    }
    if let Some(count) = args.contracts {
        let oracle = args.oracle.canonicalize().ok();
        let program = args.rehearse.map(|program| program.canonicalize()).transpose()?;
        let others = messages::Others { oracle: oracle.as_deref(), program: program.as_deref() };
        return messages::messages(count, &mut Rng::with_seed(args.seed), &args.folder, &others);
    }
    args.oracle = args.oracle.canonicalize()?;
    std::fs::create_dir_all(&args.folder)?;
    let mut rng = Rng::with_seed(args.seed);
    let mut asked: Vec<(Question, Verdict)> = Vec::new();
    examples(&args, &mut asked)?;
    for number in 0..args.schemas {
        let mut schema = schemas::Maker::new(&mut rng).schema();
        if number % 2 == 1 {
            change::schema(&mut rng, &mut schema);
        }
        let name = format!("s{number}.xsd");
        std::fs::write(args.folder.join(&name), schema.to_text())?;
        let Ok(contract) = Contract::load(&Disk, &Location::Path(args.folder.join(&name)), Limits::default())
        else {
            continue;
        };
        let verdict = judged(&contract);
        if verdict.is_none() {
            messages(&args, &contract, &name, &mut rng, &mut asked)?;
        }
        asked.push((Question { schema: name, message: None }, verdict));
    }
    let questions: Vec<Question> = asked.iter().map(|(question, _)| question.clone()).collect();
    let answers = oracle::ask(&args.oracle, &args.folder, &questions)?;
    report(&asked, &answers);
    match &args.keep {
        Some(file) => keep::keep(&args.folder, file, &asked, &answers),
        None => Ok(()),
    }
}

/// The examples of the catalogue: a wrong and a right one for each clause.
fn examples(args: &Args, asked: &mut Vec<(Question, Verdict)>) -> std::io::Result<()> {
    let write = |name: &str, text: &str| std::fs::write(args.folder.join(name), text);
    write("visit.xsd", Example::message_schema())?;
    write(
        "vessel.xsd",
        "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema' targetNamespace='urn:saltmere:vessel:1'/>",
    )?;
    let load = |name: &str| Files::load(&Disk, &Location::Path(args.folder.join(name)), Limits::default());
    for rule in charter_check::rules() {
        let Some(example) = &rule.example else { continue };
        for (kind, text) in [("wrong", example.wrong_whole()), ("right", example.right_whole())] {
            if example.slot == Slot::Exchange {
                continue;
            }
            if example.slot == Slot::Message {
                let name = format!("{}-{kind}.xml", rule.name);
                write(&name, &text)?;
                let (Ok(schema), Ok(files)) = (load("visit.xsd"), load(&name)) else { continue };
                let contract = Contract::read(schema);
                let engine = Engine::new(&contract.files, &contract.schemas);
                let Some(root) = files.first().root() else { continue };
                let report = engine.validate(files.first().id, root, 20);
                let verdict =
                    (!report.is_valid()).then(|| (BTreeSet::from([rule.name]), rule.name.to_owned()));
                asked.push((Question { schema: "visit.xsd".into(), message: Some(name) }, verdict));
            } else if rule.family == Family::Schema {
                // The schema alone, as a file of its own.
                let Some(schema) =
                    text.find("<xs:schema").and_then(|at| Some(&text[at..text.find("</xs:schema>")? + 12]))
                else {
                    continue;
                };
                let declared = "xmlns:tns=\"urn:saltmere:berths:1\" xmlns:v=\"urn:saltmere:vessel:1\" xmlns:xs=\"http://www.w3.org/2001/XMLSchema\"";
                let own = schema.contains("xmlns:xs=");
                let schema = if own {
                    schema.to_owned()
                } else {
                    schema.replacen("<xs:schema", &format!("<xs:schema {declared}"), 1)
                };
                let name = format!("{}-{kind}.xsd", rule.name);
                write(&name, &schema)?;
                let Ok(files) = load(&name) else { continue };
                asked.push((Question { schema: name, message: None }, judged(&Contract::read(files))));
            }
        }
    }
    Ok(())
}

/// Our verdict on a schema.
fn judged(contract: &Contract) -> Verdict {
    let findings = check(contract);
    let errors: Vec<_> = findings.iter().filter(|finding| finding.level == Level::Error).collect();
    let words = errors.iter().map(|finding| format!("{}: {}", finding.rule.name, finding.message));
    let words = words.collect::<Vec<_>>().join("; ");
    (!errors.is_empty()).then(|| (errors.iter().map(|finding| finding.rule.name).collect(), words))
}

/// Writes messages for a schema, sound ones and changed ones, and judges each.
fn messages(
    args: &Args,
    contract: &Contract,
    schema: &str,
    rng: &mut Rng,
    asked: &mut Vec<(Question, Verdict)>,
) -> std::io::Result<()> {
    let engine = Engine::new(&contract.files, &contract.schemas);
    let names = [QName::new("urn:t", "root"), QName::new("", "root")];
    let Some(root) = names.iter().find_map(|name| contract.schemas.element_named(name)) else {
        return Ok(());
    };
    for number in 0..args.messages {
        let size = match number {
            0 => Size::Least,
            1 => Size::Typical,
            2 => Size::Most,
            _ => Size::Random(rng.u64(..)),
        };
        let Ok(sample) = Sampler::new(&engine, size).element(root) else { continue };
        let text = to_document(&sample);
        let mut tree = match roxmltree::Document::parse(&text) {
            Ok(document) => Xml::read(document.root_element()),
            Err(error) => panic!("a sample for {schema} cannot be read: {error}\n{text}"),
        };
        let sound = number < 3 || number % 3 == 0;
        let mut text = text;
        if !sound {
            for (name, value) in [
                ("xmlns:xsi", "http://www.w3.org/2001/XMLSchema-instance"),
                ("xmlns:t", "urn:t"),
                ("xmlns:xs", "http://www.w3.org/2001/XMLSchema"),
            ] {
                if !tree.attributes.iter().any(|(known, _)| known == name) {
                    tree.attributes.push((name.into(), value.into()));
                }
            }
            (0..rng.usize(1..3)).for_each(|_| change::message(rng, &mut tree));
            text = tree.to_text();
        }
        let name = format!("{}-{number}.xml", schema.trim_end_matches(".xsd"));
        let path = args.folder.join(&name);
        std::fs::write(&path, &text)?;
        let Ok(files) = Files::load(&Disk, &Location::Path(path), Limits::default()) else { continue };
        let first = files.first();
        let verdict = match first.root() {
            None => Some((BTreeSet::from(["xml-well-formed"]), "not well-formed".to_owned())),
            Some(root) => {
                let report = engine.validate(first.id, root, 20);
                let words = report
                    .wrong
                    .iter()
                    .map(|wrong| format!("{} {}: {}", wrong.fault.rule, wrong.path, wrong.fault.message));
                let words = words.collect::<Vec<_>>().join("; ");
                (!report.is_valid())
                    .then(|| (report.wrong.iter().map(|wrong| wrong.fault.rule).collect(), words))
            }
        };
        if sound && verdict.is_some() {
            println!("a sample is not valid: {name}: {}", verdict.as_ref().map_or("", |verdict| &verdict.1));
        }
        asked.push((Question { schema: schema.to_owned(), message: Some(name) }, verdict));
    }
    Ok(())
}

#[derive(Default)]
struct Tally {
    agree_valid: usize,
    agree_invalid: usize,
    differ: usize,
}

fn report(asked: &[(Question, Verdict)], answers: &[Option<String>]) {
    let mut classes: BTreeMap<String, (usize, Vec<String>)> = BTreeMap::new();
    let mut tallies = [Tally::default(), Tally::default()];
    let mut clauses: BTreeMap<&str, usize> = BTreeMap::new();
    for ((question, ours), theirs) in asked.iter().zip(answers) {
        // A message cannot be judged by a schema that is refused; that difference is counted with the schema.
        if theirs.as_ref().is_some_and(|theirs| theirs.starts_with("noschema")) {
            continue;
        }
        let tally = &mut tallies[usize::from(question.message.is_some())];
        match (ours, theirs) {
            (None, None) => tally.agree_valid += 1,
            (Some((rules, _)), Some(_)) => {
                tally.agree_invalid += 1;
                rules.iter().for_each(|rule| *clauses.entry(rule).or_default() += 1);
            }
            _ => {
                tally.differ += 1;
                let class = match (ours, theirs) {
                    (Some((rules, _)), _) => {
                        format!("only ours: {}", rules.iter().copied().collect::<Vec<_>>().join(" "))
                    }
                    (_, Some(theirs)) => {
                        let reason = theirs.splitn(3, ": ").nth(2).unwrap_or(theirs);
                        format!("only theirs: {}", reason.split(':').next().unwrap_or(""))
                    }
                    _ => String::new(),
                };
                let entry = classes.entry(class).or_default();
                entry.0 += 1;
                if entry.1.len() < 4 {
                    let words = ours.as_ref().map_or("", |ours| &ours.1);
                    let name = question.message.as_ref().unwrap_or(&question.schema);
                    entry.1.push(format!("{name} | {words} | {}", theirs.as_deref().unwrap_or("")));
                }
            }
        }
    }
    for (what, tally) in ["schemas", "messages"].iter().zip(&tallies) {
        let all = tally.agree_valid + tally.agree_invalid + tally.differ;
        println!(
            "{what}: {} of {all} verdicts agree ({} valid, {} not)",
            all - tally.differ,
            tally.agree_valid,
            tally.agree_invalid
        );
    }
    for (class, (count, examples)) in classes {
        println!("{count:>6} {class}");
        examples.iter().for_each(|example| println!("         {example:.400}"));
    }
    let clauses: Vec<String> = clauses.iter().map(|(clause, count)| format!("{clause} {count}")).collect();
    println!("refused by both: {}", clauses.join(", "));
}

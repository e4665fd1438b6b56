//! `charter demo`

use std::fs;
use std::path::Path;
use std::sync::{Arc, Mutex, PoisonError, mpsc};

use charter_author::{Beginning, SchemaPlace, new_contract};
use charter_exchange::relay::Relay;
use charter_exchange::server::{Aside, Desk, Told};
use charter_exchange::tls::Trust;
use charter_exchange::{Bounds, Exchange, StandIn};
use charter_notation::Convention;
use charter_session::files::{self, Writers};
use charter_session::{Options, Session};
use charter_source::{ReadError, read_file};
use clap::Parser;

use super::Outcome;
use super::answer::lines::Happened;
use crate::args::{AnswerArgs, Args, Command, Format};
use crate::console::{Console, Failure, Status};
use crate::{demo_data, paint};

/// A step of the story.
struct Step {
    /// What it shows.
    words: &'static str,
    /// The command that shows it. `DIR` stands for the demo folder.
    command: &'static str,
    /// How many lines of what the command says are shown in the short story; none: the step is not in it.
    lines: usize,
    meanwhile: Meanwhile,
}

/// What goes on while a step is told. In its command, `HOST` stands for where a stand-in answers.
#[derive(Clone, Copy)]
enum Meanwhile {
    Nothing,
    /// A stand-in answers for a contract.
    Answering(&'static str),
    /// A stand-in answers for a contract, and the command is a relay to it, by which another command sends.
    Relayed(&'static str, &'static str),
}

const fn step(words: &'static str, command: &'static str, lines: usize) -> Step {
    Step { words, command, lines, meanwhile: Meanwhile::Nothing }
}

/// Where the stand-in of a story is, as it is told: really, it takes a port that is free.
const HOST: &str = "http://localhost:8080";

const STORY: &[Step] = &[
    step(
        "Begin a contract.",
        "new Berths --namespace urn:saltmere:berths:1 --operation assignBerth --operation freeBerth --output DIR/berths.wsdl",
        2,
    ),
    step("It is valid at once.", "check DIR/berths.wsdl", 2),
    step("Read one: ten operations that fill 850 lines of XML, in 240.", "show DIR/v1/pilotage.wsdl", 8),
    step("Or only the piece you ask for.", "show DIR/v1/vessel.xsd type/Vessel", 0),
    step(
        "Change a name: every reference follows, in every file, and no other byte moves.",
        "rename DIR/v1/pilotage.wsdl type/BoardingPoint MeetingPoint --dry-run",
        7,
    ),
    step("Check a draft that holds the usual mistakes.", "check DIR/draft/towage.wsdl", 6),
    step("Ask why a rule is there.", "explain in-out-part", 5),
    step("See the exact message that goes over the wire.", "message DIR/v1/pilotage.wsdl requestPilot", 7),
    step(
        "And the fault that may come back, in SOAP 1.2.",
        "message DIR/v1/pilotage.wsdl requestPilot --fault NoPilotFree --port PilotagePort12",
        0,
    ),
    step(
        "The values alone, to change one and send it: PATH=VALUE sets it, --values reads them again.",
        "message DIR/v1/pilotage.wsdl declareCargo hazard[2]/class=3 --as json",
        0,
    ),
    step(
        "A contract of the old days: rpc, encoded, with an array.",
        "message DIR/office/harbour.wsdl listBerths --side output",
        0,
    ),
    step(
        "Two bodies that agents sent: is each what the contract asks for?",
        "match DIR/v1/pilotage.wsdl DIR/sent/declare-cargo.xml DIR/sent/declare-cargo-late.xml",
        6,
    ),
    step(
        "An exchange, caught after the platform was upgraded: what is wrong with the reply?",
        "match DIR/v1/pilotage.wsdl DIR/sent/amend-boarding.http",
        0,
    ),
    step(
        "That reply as two contracts have it, side by side.",
        "message DIR/v1/pilotage.wsdl amendBoarding --side output --against DIR/v3/pilotage.wsdl",
        0,
    ),
    Step {
        words: "Try it before a provider exists: a stand-in answers, and each operation is called once.",
        command: "send DIR/v1/pilotage.wsdl --all --port PilotagePort --to HOST",
        lines: 2,
        meanwhile: Meanwhile::Answering("DIR/v1/pilotage.wsdl"),
    },
    step(
        "Rehearse what a consumer lives on: the stand-in keeps what it is sent, and every reply is what was expected.",
        "rehearse DIR/v1/pilotage.wsdl DIR/rehearsals/booking.toml --script DIR/answers.toml",
        3,
    ),
    Step {
        words: "The provider was upgraded in silence: a relay before it says which replies no longer fit, and where.",
        command: "answer DIR/v1/pilotage.wsdl --relay HOST/3",
        lines: 5,
        meanwhile: Meanwhile::Relayed(
            "DIR/v3/pilotage.wsdl",
            "send DIR/v1/pilotage.wsdl --all --port PilotagePort --to HOST",
        ),
    },
    step(
        "Revise it with care: version 2 keeps every consumer.",
        "compare DIR/v1/pilotage.wsdl DIR/v2/pilotage.wsdl",
        4,
    ),
    step(
        "Version 3 does not: here is what breaks, for whom, and the message that proves it.",
        "compare DIR/v2/pilotage.wsdl DIR/v3/pilotage.wsdl --consumers DIR/consumers",
        15,
    ),
    step(
        "Version 4 moves to a namespace of its own: the move comes first, then what changed beyond it.",
        "compare DIR/v3/pilotage.wsdl DIR/v4/pilotage.wsdl",
        2,
    ),
];

pub fn run(folder: &Path, all: bool, args: &Args, console: &mut Console) -> Outcome {
    if args.format == Format::Json {
        let failure = Failure::new("the demo is for people: it has no JSON");
        return Err(failure.help("give --format json to the commands that it shows"));
    }
    write(folder)?;
    forget(&folder.join("berths.wsdl"));
    let name = folder.display().to_string();
    console.out(&format!("The port of Saltmere lies in {}.\n", paint::strong(&name)));
    for step in STORY.iter().filter(|step| all || step.lines > 0) {
        tell(step, all, &name, args, console)?;
    }
    console.out(&ending(&quoted(&name), all));
    Ok(Status::Yes)
}

/// Tells a step of the story: what it shows, the command, and what that says.
fn tell(step: &Step, all: bool, name: &str, args: &Args, console: &mut Console) -> Result<(), Failure> {
    let in_place = |text: &str, host: &str| text.replace("DIR", name).replace("HOST", host);
    // The folder may have a space in its name, so it is put into words already apart.
    let told: Vec<String> = step.command.split(' ').map(|word| quoted(&in_place(word, HOST))).collect();
    let line = format!("charter {}", told.join(" "));
    console.out(&format!("\n{}\n", step.words));
    if let Meanwhile::Answering(contract) = step.meanwhile {
        let line = format!("charter answer {} &", quoted(&in_place(contract, HOST)));
        console.out(&format!("{} {}\n", paint::good("$"), paint::strong(&line)));
    }
    console.out(&format!("{} {}\n", paint::good("$"), paint::strong(&line)));
    let inner = |command: &str, host: &str| {
        let mut full = vec!["charter".to_owned()];
        full.extend(command.split(' ').map(|word| in_place(word, host)));
        let inner = Args::try_parse_from(&full).map_err(|error| Failure::new(error.to_string()))?;
        Ok::<Args, Failure>(Args { color: args.color, ..inner })
    };
    let (status, said) = match step.meanwhile {
        Meanwhile::Nothing => run_kept(&inner(step.command, HOST)?, console),
        Meanwhile::Answering(contract) => {
            let answering = answering(&in_place(contract, HOST))?;
            run_kept(&inner(step.command, answering.base())?, console)
        }
        Meanwhile::Relayed(contract, sending) => {
            let provider = answering(&in_place(contract, HOST))?;
            let answer = inner(step.command, provider.base())?;
            relayed(&answer, |base| inner(sending, base), console)?
        }
    };
    console.bytes(&if all { said } else { beginning(&said, step.lines) });
    match status {
        Status::NoAnswer => Err(Failure::new(format!("the demo stopped at: {line}"))),
        _ => Ok(()),
    }
}

/// Runs a command, and keeps what it says.
fn run_kept(args: &Args, console: &Console) -> (Status, Vec<u8>) {
    let mut kept = console.keeping();
    let status = super::run(args, &mut kept);
    (status, kept.kept())
}

/// Begins the relay that a command asks for, sends through it, and gives what the relay says.
fn relayed(
    answer: &Args,
    sending: impl FnOnce(&str) -> Result<Args, Failure>,
    console: &Console,
) -> Result<(Status, Vec<u8>), Failure> {
    let Command::Answer(AnswerArgs { contract, relay: Some(to), .. }) = &answer.command else {
        return Err(Failure::new("this step of the story has no relay"));
    };
    let (told, heard) = mpsc::channel();
    let told = Mutex::new(told);
    let told: Told = Arc::new(move |exchange| {
        // Whoever would hear of it hears until the relay has ended.
        let _ = told.lock().unwrap_or_else(PoisonError::into_inner).send(exchange);
    });
    let relay = Relay::to(to, &Bounds::default(), &Trust::default());
    let relay = relay.map_err(|error| Failure::new(error.to_string()))?;
    let loaded = Session::begin(&Options::default())?.open(contract)?;
    let relay = Aside::at(Desk::relay(StandIn::of(loaded), relay), told)
        .map_err(|error| Failure::new(error.to_string()))?;
    let (status, _) = run_kept(&sending(relay.base())?, console);
    drop(relay);
    // They are judged side by side, and told as they came.
    let mut exchanges: Vec<Exchange> = heard.try_iter().collect();
    exchanges.sort_by_key(|exchange| exchange.began);
    let lines: String = exchanges.iter().map(|exchange| Happened::of(exchange).text()).collect();
    let mut kept = console.keeping();
    kept.out(&lines);
    Ok((status, kept.kept()))
}

/// A stand-in that answers while a step is told.
fn answering(contract: &str) -> Result<Aside, Failure> {
    let loaded = Session::begin(&Options::default())?.open(contract)?;
    Aside::begin(StandIn::of(loaded)).map_err(|error| Failure::new(error.to_string()))
}

/// The first lines of what a command said, with a word about the rest.
fn beginning(said: &[u8], lines: usize) -> Vec<u8> {
    let all: Vec<&[u8]> = said.split_inclusive(|byte| *byte == b'\n').collect();
    // One line more takes no more room than a word about it.
    if all.len() <= lines + 1 {
        return said.to_vec();
    }
    let blank = |line: &&&[u8]| line.iter().all(u8::is_ascii_whitespace);
    let lines = lines - all[..lines].iter().rev().take_while(blank).count();
    let mut shown = all[..lines].concat();
    shown.extend(format!("... {} more lines\n", all.len() - lines).bytes());
    shown
}

/// Writes the demo data. What is there already must be the same.
fn write(folder: &Path) -> Result<(), Failure> {
    let mut wanted = Vec::new();
    for (name, text) in demo_data::FILES {
        let path = folder.join(name);
        match read_file(&path, text.len() as u64) {
            Ok(found) if found == text.as_bytes() => {}
            Ok(_) => return Err(taken(&path)),
            Err(ReadError::Missing) => wanted.push((path, text)),
            Err(_) => return Err(taken(&path)),
        }
    }
    let writers = Writers::default();
    for (path, text) in wanted {
        if let Some(parent) = path.parent() {
            fs::create_dir_all(parent).map_err(|error| {
                Failure::new(format!("the folder could not be made: {error}"))
                    .at(parent.display().to_string())
                    .help("give the demo a folder that may be written: charter demo FOLDER")
            })?;
        }
        files::create(&writers, &path, text)?;
    }
    Ok(())
}

fn taken(path: &Path) -> Failure {
    Failure::new("this file is there already, with another text")
        .at(path.display().to_string())
        .help("give the demo a folder of its own: charter demo FOLDER")
}

/// Removes the contract that an earlier run began, if nobody has worked on it since.
fn forget(path: &Path) {
    let operations = ["assignBerth".to_owned(), "freeBerth".to_owned()];
    let beginning = Beginning {
        name: "Berths",
        namespace: "urn:saltmere:berths:1",
        operations: &operations,
        address: None,
        soap: &[],
        rpc: false,
        schema: SchemaPlace::Embedded,
        convention: &Convention::default(),
    };
    if let (Ok(begun), Ok(found)) = (new_contract(&beginning), read_file(path, 1 << 20))
        && begun.first().is_some_and(|begun| found == begun.text.as_bytes())
    {
        // If it stays, the command that begins it says so.
        let _ = fs::remove_file(path);
    }
}

fn ending(name: &str, all: bool) -> String {
    let commands = [
        format!("message {name}/v1/pilotage.wsdl requestPilot --as curl"),
        format!("message {name}/v1/pilotage.wsdl element/declareCargo --hostile"),
        format!("message {name}/v1/pilotage.wsdl --all {name}/messages --as http"),
        format!("add {name}/v1/pilotage.wsdl --to type/Passage 'draught: v:Metres?' --dry-run"),
        format!("compare {name}/v2/pilotage.wsdl {name}/v3/pilotage.wsdl --as page -o report.html"),
        format!("check {name}/*/*.wsdl --format json"),
        "explain".to_owned(),
    ];
    let lines: String = commands.iter().map(|command| format!("  charter {command}\n")).collect();
    let more = match all {
        true => String::new(),
        false => format!(
            "{} shows all of it, and more steps.\n",
            paint::strong(&format!("charter demo {name} --all"))
        ),
    };
    let hint = "In a checkout, write cargo run --release -- in place of charter, or install it: cargo install --path crates/cli\n";
    format!("\n{more}{}\n{lines}{hint}", paint::strong("Try next"))
}

/// A word as a shell needs it.
fn quoted(word: &str) -> String {
    let plain = |c: char| c.is_ascii_alphanumeric() || "-_./:=@%+,".contains(c);
    if word.chars().all(plain) { word.to_owned() } else { format!("'{}'", word.replace('\'', "'\\''")) }
}

//! `charter demo`

use std::fs;
use std::path::Path;

use charter_author::{Beginning, SchemaPlace, new_contract};
use charter_notation::Convention;
use charter_source::{ReadError, read_file};
use clap::Parser;

use super::Outcome;
use crate::args::{Args, Format};
use crate::console::{Console, Failure, Status};
use crate::files::Writers;
use crate::{demo_data, files, paint};

/// A step of the story: what it shows, and the command that shows it. `DIR` stands for the demo folder.
const STORY: &[(&str, &str)] = &[
    (
        "Begin a contract.",
        "new Berths --namespace urn:saltmere:berths:1 --operation assignBerth --operation freeBerth --output DIR/berths.wsdl",
    ),
    ("It is valid at once.", "check DIR/berths.wsdl"),
    ("Read one: ten operations that fill 850 lines of XML, on two screens.", "show DIR/v1/pilotage.wsdl"),
    ("Or only the piece you ask for.", "show DIR/v1/vessel.xsd type/Vessel"),
    (
        "Change a name: every reference follows, in every file, and no other byte moves.",
        "rename DIR/v1/pilotage.wsdl type/BoardingPoint MeetingPoint --dry-run",
    ),
    ("Check a draft that holds the usual mistakes.", "check DIR/draft/towage.wsdl"),
    ("Ask why a rule is there.", "explain in-out-part"),
    ("See the exact message that goes over the wire.", "message DIR/v1/pilotage.wsdl requestPilot"),
    (
        "And the fault that may come back, in SOAP 1.2.",
        "message DIR/v1/pilotage.wsdl requestPilot --fault NoPilotFree --port PilotagePort12",
    ),
    (
        "The values alone, to change one and send it: PATH=VALUE sets it, --values reads them again.",
        "message DIR/v1/pilotage.wsdl declareCargo hazard[2]/class=3 --as json",
    ),
    (
        "A contract of the old days: rpc, encoded, with an array.",
        "message DIR/office/harbour.wsdl listBerths --side output",
    ),
    (
        "Two bodies that agents sent: is each what the contract asks for?",
        "match DIR/v1/pilotage.wsdl DIR/sent/declare-cargo.xml DIR/sent/declare-cargo-late.xml",
    ),
    (
        "An exchange, caught after the platform was upgraded: what is wrong with the reply?",
        "match DIR/v1/pilotage.wsdl DIR/sent/amend-boarding.http",
    ),
    (
        "That reply as two contracts have it, side by side.",
        "message DIR/v1/pilotage.wsdl amendBoarding --side output --against DIR/v3/pilotage.wsdl",
    ),
    (
        "Revise it with care: version 2 keeps every consumer.",
        "compare DIR/v1/pilotage.wsdl DIR/v2/pilotage.wsdl",
    ),
    (
        "Version 3 does not: here is what breaks, for whom, and the message that proves it.",
        "compare DIR/v2/pilotage.wsdl DIR/v3/pilotage.wsdl --consumers DIR/consumers",
    ),
];

pub fn run(folder: &Path, args: &Args, console: &mut Console) -> Outcome {
    if args.format == Format::Json {
        let failure = Failure::new("the demo is for people: it has no JSON");
        return Err(failure.help("give --format json to the commands that it shows"));
    }
    write(folder)?;
    forget(&folder.join("berths.wsdl"));
    let name = folder.display().to_string();
    console.out(&format!("The port of Saltmere lies in {}.\n", paint::strong(&name)));
    for (words, line) in STORY {
        // The folder may have a space in its name, so it is put into words already apart.
        let words_apart: Vec<String> = line.split(' ').map(|word| word.replace("DIR", &name)).collect();
        let shown: Vec<String> = words_apart.iter().map(|word| quoted(word)).collect();
        console.out(&format!(
            "\n\n{words}\n{} {}\n\n",
            paint::good("$"),
            paint::strong(&format!("charter {}", shown.join(" ")))
        ));
        let mut full = vec!["charter".to_owned()];
        full.extend(words_apart);
        let inner = Args::try_parse_from(&full).map_err(|error| Failure::new(error.to_string()))?;
        let inner = Args { color: args.color, ..inner };
        if super::run(&inner, console) == Status::NoAnswer {
            return Err(Failure::new(format!("the demo stopped at: charter {}", shown.join(" "))));
        }
    }
    console.out(&ending(&quoted(&name)));
    Ok(Status::Yes)
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

fn ending(name: &str) -> String {
    let commands = [
        format!("show {name}/v1/pilotage.wsdl operation/requestPilot"),
        format!("message {name}/v1/pilotage.wsdl settleDues --side output"),
        format!("message {name}/v1/pilotage.wsdl requestPilot --as curl"),
        format!("message {name}/v1/pilotage.wsdl requestPilot --comments"),
        format!("message {name}/v1/pilotage.wsdl --all {name}/messages --as http"),
        format!("message {name}/v1/pilotage.wsdl element/declareCargo --hostile"),
        format!("add {name}/v1/pilotage.wsdl --to type/Passage 'draught: v:Metres?' --dry-run"),
        format!("rename {name}/v1/pilotage.wsdl type/Vessel Ship --dry-run"),
        format!("compare {name}/v2/pilotage.wsdl {name}/v3/pilotage.wsdl --as page -o report.html"),
        format!("check {name}/*/*.wsdl --format json"),
        "explain".to_owned(),
    ];
    let lines: String = commands.iter().map(|command| format!("  charter {command}\n")).collect();
    let hint = "In a checkout, write cargo run --release -- in place of charter, or install it first:\n";
    let install = "  cargo install --path crates/cli\n";
    format!("\n\n{}\n{lines}\n{hint}{install}", paint::strong("Try next"))
}

/// A word as a shell needs it.
fn quoted(word: &str) -> String {
    let plain = |c: char| c.is_ascii_alphanumeric() || "-_./:=@%+,".contains(c);
    if word.chars().all(plain) { word.to_owned() } else { format!("'{}'", word.replace('\'', "'\\''")) }
}

//! `charter new`

use std::path::{Path, PathBuf};

use charter_author::{
    Beginning, EditFailure, Likeness, NewFile, SchemaPlace, like, new_contract, written_contract,
};
use charter_notation::NotationError;
use charter_session::Spot;
use charter_session::files;
use serde::Serialize;

use super::Outcome;
use crate::args::{Format, NewArgs, SchemaArg, StyleArg};
use crate::common::Common;
use crate::console::{Console, Failure, Status};
use crate::paint;
use crate::slips;

#[derive(Serialize)]
struct Begun<'b> {
    file: Option<String>,
    written: bool,
    text: &'b str,
    /// The files beside it.
    beside: Vec<Beside<'b>>,
}

#[derive(Serialize)]
struct Beside<'b> {
    file: String,
    text: &'b str,
}

pub fn run(args: &NewArgs, common: &Common, console: &mut Console) -> Outcome {
    let schema = args.schema.map(|schema| match schema {
        SchemaArg::Embedded => SchemaPlace::Embedded,
        SchemaArg::Beside => SchemaPlace::Beside,
    });
    let made = match (&args.from, &args.like) {
        (Some(from), _) => written(from, schema, common)?,
        (None, Some(other)) => like_other(other, schema, args, common)?,
        (None, None) => begun(schema, args, common)?,
    };
    let made = match made {
        Made::Files(made) => made,
        Made::NoNotation(name, text, errors) => {
            console.note(&slips::errors_in_file(&name, &text, &errors));
            return Ok(Status::NoAnswer);
        }
    };
    let status = finish(&made, args, common, console)?;
    if let (Some(_), Some(path), false) = (&args.from, &args.output, args.dry_run) {
        tell_faults(path, common, console)?;
    }
    Ok(status)
}

/// What came of the wish for a contract.
enum Made {
    Files(Vec<NewFile>),
    /// The name of a text, the text, and what is wrong with it.
    NoNotation(String, String, Vec<NotationError>),
}

impl Made {
    /// The files, or why there are none. `text` is the notation that was given, and its name.
    fn of(made: Result<Vec<NewFile>, EditFailure>, name: &str, text: &str) -> Result<Made, Failure> {
        let error = match made {
            Ok(files) => return Ok(Made::Files(files)),
            Err(EditFailure::Notation(errors)) => {
                return Ok(Made::NoNotation(name.to_owned(), text.to_owned(), errors));
            }
            Err(error) => error,
        };
        let help = match error {
            EditFailure::Name(_) => "contracts and operations take names such as Pilotage or requestPilot",
            EditFailure::Namespace(_) => "it stays the same for as long as consumers need nothing new",
            EditFailure::Twice(_) => "give each operation once",
            _ => "nothing was written",
        };
        Err(Failure::new(error.to_string()).help(help))
    }
}

/// The contract that a file of notation stands for.
fn written(from: &str, schema: Option<SchemaPlace>, common: &Common) -> Result<Made, Failure> {
    let text = common.session.notation(from)?;
    let convention = common.session.settings(from)?.names.clone();
    let name = if from == "-" { "standard input" } else { from };
    Made::of(written_contract(&text, &convention, schema.unwrap_or(SchemaPlace::Embedded)), name, &text)
}

/// A contract like another.
fn like_other(
    other: &str,
    schema: Option<SchemaPlace>,
    args: &NewArgs,
    common: &Common,
) -> Result<Made, Failure> {
    let (name, namespace) = named(args)?;
    let contract = common.session.contract(other)?;
    let folder = args.output.as_deref().and_then(Path::parent).unwrap_or(Path::new(""));
    let folder = if folder.as_os_str().is_empty() { Path::new(".") } else { folder };
    let likeness = Likeness { name, namespace, keep_operations: args.keep_operations, schema, folder };
    Made::of(like(&contract, &likeness), other, "")
}

/// A contract from the words of the command line.
fn begun(schema: Option<SchemaPlace>, args: &NewArgs, common: &Common) -> Result<Made, Failure> {
    let (name, namespace) = named(args)?;
    let convention = common.session.settings(".")?.names.clone();
    let beginning = Beginning {
        name,
        namespace,
        operations: &args.operations,
        address: args.address.as_deref(),
        soap: &args.soap,
        rpc: args.style == StyleArg::Rpc,
        schema: schema.unwrap_or(SchemaPlace::Embedded),
        convention: &convention,
    };
    Made::of(new_contract(&beginning), "operation", &args.operations.join("\n"))
}

/// A text may name what is not there: whoever wrote it should know.
fn tell_faults(path: &Path, common: &Common, console: &mut Console) -> Result<(), Failure> {
    let name = path.display().to_string();
    if name == "-" {
        return Ok(());
    }
    let contract = common.session.load(&name)?;
    if let Some(fault) = contract.faults().first() {
        let place = Spot::of(&contract, fault.place);
        console.note(&format!("{place}: {}\nmore: charter check {name}\n", fault.message));
    }
    Ok(())
}

fn named(args: &NewArgs) -> Result<(&str, &str), Failure> {
    match (&args.name, &args.namespace) {
        (Some(name), Some(namespace)) => Ok((name, namespace)),
        _ => Err(Failure::new("a new contract needs a name and a namespace").help(
            "charter new Pilotage --namespace urn:saltmere:pilotage:1, or --from with a file of notation",
        )),
    }
}

fn finish(made: &[NewFile], args: &NewArgs, common: &Common, console: &mut Console) -> Outcome {
    let [main, beside @ ..] = made else { return Err(Failure::new("there is nothing to write")) };
    let output = args.output.as_deref().filter(|path| *path != Path::new("-"));
    if output.is_none() && !beside.is_empty() {
        return Err(Failure::new("the contract is several files").help("say where it goes, with -o FILE"));
    }
    let folder = output.and_then(Path::parent).unwrap_or(Path::new(""));
    let all: Vec<(PathBuf, &str)> = output
        .map(|path| (path.to_path_buf(), main.text.as_str()))
        .into_iter()
        .chain(
            beside.iter().map(|file| (folder.join(file.name.as_deref().unwrap_or("")), file.text.as_str())),
        )
        .collect();
    if !args.dry_run {
        files::create_all(&common.session.writers, &all)?;
    }
    let name = output.map(|path| path.display().to_string());
    if common.format == Format::Json {
        let written = output.is_some() && !args.dry_run;
        let beside = all.iter().skip(1);
        let beside = beside.map(|(path, text)| Beside { file: path.display().to_string(), text }).collect();
        console.json(&Begun { file: name, written, text: &main.text, beside });
        return Ok(Status::Yes);
    }
    match name {
        None => console.data(&main.text),
        Some(_) if args.dry_run => {
            for (path, text) in &all {
                console.data(&paint::diff(&files::diff(&path.display().to_string(), "", text)));
            }
        }
        Some(name) => {
            let names: Vec<String> = all.iter().map(|(path, _)| path.display().to_string()).collect();
            console.note(&format!("wrote {}\nnext: charter show {name}\n", names.join(", ")));
        }
    }
    Ok(Status::Yes)
}

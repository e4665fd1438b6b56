//! The commands.

mod add;
mod answer;
mod change;
mod check;
mod compare;
mod demo;
mod derive;
mod edit;
mod explain;
mod matching;
mod message;
mod new;
mod rehearse;
mod remove;
mod rename;
pub mod send;
mod set;
mod show;

use percent_encoding::{AsciiSet, NON_ALPHANUMERIC, utf8_percent_encode};

use crate::args::{Args, Command, Format};
use crate::common::Common;
use crate::console::{Console, Failure, Status};

/// What a command comes to.
type Outcome = Result<Status, Failure>;

/// Runs a command.
pub fn run(args: &Args, console: &mut Console) -> Status {
    run_command(args, console).unwrap_or_else(|failure| console.fail(&failure))
}

fn run_command(args: &Args, console: &mut Console) -> Outcome {
    let common = &Common::of(args)?;
    let format = args.format;
    let writes = match args.command {
        Command::Check(_) => true,
        Command::Rehearse(_) => format != Format::Sarif,
        Command::Compare(_) => format != Format::Junit,
        _ => !matches!(format, Format::Sarif | Format::Junit),
    };
    if !writes {
        let failure =
            Failure::new("only check and rehearse write JUnit, and only check and compare write SARIF");
        return Err(failure.help("use --format text or --format json"));
    }
    match &args.command {
        Command::New(args) => new::run(args, common, console),
        Command::Show { file, path } => show::run(file, path.as_deref(), common, console),
        Command::Add { file, notation, to, edit } => {
            add::run(file, to.as_deref(), notation, edit, common, console)
        }
        Command::Edit { file, path, with, edit } => {
            edit::run(file, path.as_deref(), with.as_deref(), edit, common, console)
        }
        Command::Derive { files, kind, name } => derive::run(files, *kind, name.as_deref(), common, console),
        Command::Rename { file, path, name, only, edit } => {
            rename::run(file, path, name, *only, edit, common, console)
        }
        Command::Set { file, path, settings, edit } => set::run(file, path, settings, edit, common, console),
        Command::Remove { file, path, with_references, unused, edit } => {
            let wanted =
                remove::Wanted { path: path.as_deref(), references: *with_references, unused: *unused };
            remove::run(file, &wanted, edit, common, console)
        }
        Command::Check(args) => check::run(args, format, common, console),
        Command::Explain { rule } => explain::run(rule.as_deref(), format, console),
        Command::Message(args) => message::run(args, common, console),
        Command::Match(args) => matching::run(args, common, console),
        Command::Send(args) => send::run(args, common, console),
        Command::Answer(args) => answer::run(args, common, console),
        Command::Rehearse(args) => rehearse::run(args, format, common, console),
        Command::Compare(args) => compare::run(args, common, console),
        Command::Demo { folder, all } => demo::run(folder, *all, args, console),
    }
}

/// Characters that stand in the path of a URI as they are (RFC 3986, 3.3). An address that was imported has a scheme; a
/// colon elsewhere does no harm.
const IN_PATH: &AsciiSet =
    &NON_ALPHANUMERIC.remove(b'-').remove(b'.').remove(b'_').remove(b'~').remove(b'/').remove(b':');

/// A path as a relative or absolute URI reference (RFC 3986).
pub fn uri(path: &str) -> String {
    let scheme = if path.starts_with('/') { "file://" } else { "" };
    format!("{scheme}{}", utf8_percent_encode(&path.replace('\\', "/"), IN_PATH))
}

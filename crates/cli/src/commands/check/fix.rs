//! Mends what can be mended safely.

use charter_check::{Level, Settings};
use charter_session::files;

use super::each::Options;
use super::rounds::Rounds;
use crate::args::{CheckArgs, Format};
use crate::commands::{Outcome, change};
use crate::common::Common;
use crate::console::{Console, Failure, Status};
use crate::{findings, paint};

pub fn run(args: &CheckArgs, arguments: &[String], common: &Common, console: &mut Console) -> Outcome {
    let options = Options::of(args, Format::Text, console.width())?;
    let mut status = Status::Yes;
    for file in arguments {
        if file == "-" {
            return Err(Failure::new("standard input cannot be mended").help("save it as a file first"));
        }
        // What is merely worth knowing is mended too.
        let (mut settings, _) = options.settings(file, common)?;
        settings.notes = true;
        status = status.max(mend(file, &settings, args.dry_run, common, console)?);
    }
    Ok(status)
}

/// Mends one contract with all its files, and says what was done and what is left.
fn mend(file: &str, settings: &Settings, dry_run: bool, common: &Common, console: &mut Console) -> Outcome {
    let contract = common.session.load_to_edit(file, !dry_run, |file| common.session.load(file))?;
    let convention = common.session.settings(file)?.names.clone();
    let mut rounds = Rounds::of(&common.session.store, settings, &convention);
    let left = rounds.mend(contract).findings;
    let (done, untried) = (std::mem::take(&mut rounds.done), rounds.untried);
    let change = rounds.change();
    if dry_run {
        console.data(&paint::diff(&change::diff(&change)));
    } else {
        files::replace(&common.session.writers, &change.files)?;
        for (rule, count) in &done {
            console.out(&format!("{:8}{rule}, {}\n", "mended", findings::of(*count, "place")));
        }
        for file in &change.files {
            console.out(&format!("in {}\n", file.location));
        }
    }
    let count = |level| left.iter().filter(|finding| finding.level == level).count();
    let (errors, warnings) = (count(Level::Error), count(Level::Warning));
    let words = match done.is_empty() {
        true => "nothing to mend",
        false if dry_run => "once this is done",
        false => "now",
    };
    console.note(&format!("{file}: {words}, {}\n", findings::count(errors, warnings, 0)));
    if untried {
        console.note("not every fix was tried, since that takes long with so large a contract: run it again, or mend some by hand\n");
    }
    Ok(if errors > 0 { Status::No } else { Status::Yes })
}

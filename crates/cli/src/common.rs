//! What the options settle that all commands have in common.

use std::path::PathBuf;

use charter_session::{Notice, Options, Session};

use crate::args::{Args, Format};
use crate::console::{Failure, note};

/// What the options settle that all commands have in common.
pub struct Common {
    /// The form of the result.
    pub format: Format,
    /// Where contracts are loaded from, and where may be written.
    pub session: Session,
}

impl Common {
    /// Reads the catalogs that the options name; one that cannot be used is a failure.
    pub fn of(args: &Args) -> Result<Common, Failure> {
        let options =
            Options { catalogs: args.catalogs.clone(), online: args.online, size_limit: args.size_limit };
        let session = Session::begin(&options)?.heard_by(|notice| note(&words(notice)));
        Ok(Common { format: args.format, session })
    }
}

/// What is worth telling, in words.
fn words(notice: &Notice) -> String {
    match notice {
        Notice::CutOff(path) => format!(
            "{}: an edit was cut off here, as a note beside it says; the next edit finishes or undoes it",
            path.display()
        ),
        Notice::Finished(files) => format!("an edit that was cut off is now done: {}", list(files)),
        Notice::Undone(files) => format!("an edit that was cut off has not happened: {}", list(files)),
        Notice::Foreign(note) => format!(
            "{}: this note of an edit is not known to be yours, so nothing is done about it; remove it if you do not need it",
            note.display()
        ),
    }
}

fn list(files: &[PathBuf]) -> String {
    files.iter().map(|file| file.display().to_string()).collect::<Vec<_>>().join(", ")
}

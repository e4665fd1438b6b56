//! What all commands that change files have in common: how the change is shown, written and told.

use std::mem::ManuallyDrop;

use charter_author::{Change, EditFailure, Editing};
use charter_contract::{Component, Contract};
use charter_session::{NotationFile, Spot, files, find};
use charter_source::Location;
use serde::Serialize;

use super::Outcome;
use crate::args::{EditArgs, Format};
use crate::common::Common;
use crate::console::{Console, Failure, Status};
use crate::{paint, slips};

#[derive(Serialize)]
struct Edited<'c> {
    path: &'c str,
    written: bool,
    changes: Vec<Account<'c>>,
    places: Vec<Changed>,
    notes: &'c [String],
    #[serde(skip_serializing_if = "Option::is_none")]
    diff: Option<String>,
}

#[derive(Serialize)]
struct Account<'c> {
    change: &'static str,
    path: &'c str,
}

/// A place that a change touches.
#[derive(Serialize)]
pub struct Changed {
    pub file: String,
    pub line: usize,
    pub column: usize,
}

/// A change as it is to be written, and what there is to tell of it.
pub struct ChangeToWrite {
    pub change: Change,
    /// The path of the component that it is about.
    pub path: String,
    /// The contract before it; nothing if that is kept as notation, in which its places mean nothing.
    before: Option<ManuallyDrop<Contract>>,
}

impl ChangeToWrite {
    /// The places that it touches, in the old text.
    pub fn places(&self) -> Vec<Changed> {
        let Some(contract) = &self.before else { return Vec::new() };
        let places = self.change.places.iter().map(|place| {
            let file = contract.files.get(place.file);
            let position = file.text().position(place.span.start);
            Changed { file: file.location.to_string(), line: position.line, column: position.column }
        });
        places.collect()
    }
}

/// The change as a unified diff.
pub fn diff(change: &Change) -> String {
    let files = change.files.iter();
    files.map(|file| files::diff(&file.location.to_string(), file.before.text(), file.after.text())).collect()
}

/// Writes the files of a change, unless it is only to be shown. What came in by standard input goes out by standard
/// output; whether anything did.
pub fn write(
    change: &Change,
    dry_run: bool,
    common: &Common,
    console: &mut Console,
) -> Result<bool, Failure> {
    let (streamed, stored): (Vec<_>, Vec<_>) =
        change.files.iter().cloned().partition(|file| file.location == Location::Standard);
    if dry_run {
        return Ok(!streamed.is_empty());
    }
    if !streamed.is_empty() && common.format == Format::Json {
        let failure = Failure::new("standard output cannot hold both the contract and JSON");
        return Err(failure.help("leave out --format json, or use --dry-run for the change as a diff"));
    }
    files::replace(&common.session.writers, &stored)?;
    streamed.iter().for_each(|file| console.bytes(&file.after.bytes()));
    Ok(!streamed.is_empty())
}

/// Shows or writes a change, and gives a short account of it.
pub fn finish(
    carried: &ChangeToWrite,
    options: &EditArgs,
    common: &Common,
    console: &mut Console,
) -> Outcome {
    let ChangeToWrite { change, path, .. } = carried;
    let streamed = write(change, options.dry_run, common, console)?;
    if common.format == Format::Json {
        let changes =
            change.account.iter().map(|(verb, path)| Account { change: verb.name(), path }).collect();
        let diff = options.dry_run.then(|| diff(change));
        let written = !options.dry_run;
        let places = carried.places();
        console.json(&Edited { path, written, changes, places, notes: &change.notes, diff });
        return Ok(Status::Yes);
    }
    if options.dry_run {
        console.data(&paint::diff(&diff(change)));
        change.notes.iter().for_each(|note| console.note(&format!("{note}\n")));
        return Ok(Status::Yes);
    }
    let mut text = String::new();
    for (verb, path) in &change.account {
        text.push_str(&format!("{:<8}{}\n", verb.name(), paint::path(path)));
    }
    for file in &change.files {
        text.push_str(&format!("in {}\n", file.location));
    }
    change.notes.iter().for_each(|note| text.push_str(&format!("  {note}\n")));
    if streamed {
        console.note(&text)
    } else {
        console.out(&text)
    }
    Ok(Status::Yes)
}

/// A contract that is to be changed, and the component that the change is about.
pub struct Opened<'s> {
    /// The program ends with the command, and its memory with it.
    opened: ManuallyDrop<charter_session::Opened<'s>>,
    pub component: Component,
    pub path: String,
}

impl<'s> Opened<'s> {
    /// Loads a contract, and finds a component in it; the contract as a whole without a path.
    pub fn at(
        file: &str,
        path: Option<&str>,
        options: &EditArgs,
        common: &'s Common,
    ) -> Result<Opened<'s>, Failure> {
        let opened = common.session.edit(file, !options.dry_run)?;
        let component = match path {
            Some(path) => find(&opened.contract, path).map_err(|failure| match opened.notation {
                // A file of notation shows itself.
                Some(_) => failure.help(format!("{file} says what there is")),
                None => failure,
            })?,
            None => Component::Contract,
        };
        let path = opened.contract.path(component).to_string();
        Ok(Opened { opened: ManuallyDrop::new(opened), component, path })
    }

    pub fn contract(&self) -> &Contract {
        &self.opened.contract
    }

    /// The file of notation that the contract is kept in, if it is.
    pub fn notation(&self) -> Option<&NotationFile<'s>> {
        self.opened.notation.as_ref()
    }

    /// What every edit of it needs to know.
    pub fn editing(&self, options: &EditArgs) -> Editing<'_> {
        self.opened.editing(options.force)
    }

    /// The change as it is to be written; `whole` is the text of all of it, if that was given.
    ///
    /// # Errors
    /// If it cannot be carried into the notation that the contract is kept in.
    pub fn into_change(self, change: Change, whole: Option<&str>) -> Result<ChangeToWrite, Failure> {
        let Opened { opened, path, .. } = self;
        let here = opened.contract.files.first().location.to_string();
        let (change, before) =
            ManuallyDrop::into_inner(opened).into_change(change, whole).map_err(|error| {
                Failure::new(error.to_string()).at(here).of(&*path).help("nothing was changed")
            })?;
        Ok(ChangeToWrite { change, path, before: before.map(ManuallyDrop::new) })
    }

    /// The change of nothing but how its notation is written.
    pub fn rewritten(self, change: Change) -> ChangeToWrite {
        ChangeToWrite { change, path: self.path, before: None }
    }

    /// Why an edit was not made, in words for the user.
    pub fn failure(&self, error: &EditFailure) -> Failure {
        let contract = self.contract();
        // The places of a contract that is kept as notation are in no file.
        let place = |place| match self.notation() {
            Some(_) => String::new(),
            None => Spot::of(contract, place).to_string(),
        };
        let here = match error {
            EditFailure::Disguised(at) if self.notation().is_none() => place(*at),
            _ => contract.files.first().location.to_string(),
        };
        let help = match error {
            EditFailure::Harm(_) => "nothing was changed; mend the rest first, or use --force",
            EditFailure::Used(_) => "nothing was changed; --with-references removes what uses it too",
            _ => "nothing was changed",
        };
        let mut message = error.to_string();
        if let EditFailure::Used(references) = error {
            for reference in references {
                let line = format!("{}  {}", place(reference.place), reference.path);
                message.push_str(&format!("\n  {}", line.trim_start()));
            }
        }
        Failure::new(message).at(here).of(&*self.path).help(help)
    }
}

/// The end of an edit: its account, or why it was not made. `text` is the notation that was given, and its name.
pub fn end(
    opened: Opened<'_>,
    result: Result<Change, EditFailure>,
    text: (&str, &str),
    options: &EditArgs,
    common: &Common,
    console: &mut Console,
) -> Outcome {
    match result {
        Ok(change) => finish(&opened.into_change(change, None)?, options, common, console),
        Err(EditFailure::Notation(errors)) => {
            console.note(&slips::errors_shown(text.0, text.1, &errors));
            Ok(Status::NoAnswer)
        }
        Err(EditFailure::Nothing) => {
            console.note("nothing changes: it is so already\n");
            Ok(Status::Yes)
        }
        Err(error) => Err(opened.failure(&error)),
    }
}

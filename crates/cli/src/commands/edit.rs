//! `charter edit`

use std::path::Path;
use std::process::Command;

use charter_author::{Change, EditFailure, edit, text_of};
use charter_contract::Component;
use charter_notation::NotationError;
use charter_session::read;
use charter_source::{Store, Text};

use super::{Outcome, change};
use crate::args::EditArgs;
use crate::common::Common;
use crate::console::{Console, Failure, Status};
use crate::slips;

/// Begins a line that tells of an error, and is no part of the text.
const REMARK: &str = "#!";

pub fn run(
    file: &str,
    path: Option<&str>,
    with: Option<&str>,
    options: &EditArgs,
    common: &Common,
    console: &mut Console,
) -> Outcome {
    let opened = change::Opened::at(file, path, options, common)?;
    let Some(with) = with else {
        return in_editor(opened, options, common, console);
    };
    let text = common.session.notation(with)?;
    let name = if with == "-" { "standard input" } else { with };
    match edited(&opened, &text, options) {
        Ok(made) => change::finish(&to_write(opened, made, &text)?, options, common, console),
        Err(EditFailure::Notation(errors)) => {
            console.note(&slips::errors_in_file(name, &text, &errors));
            Ok(Status::NoAnswer)
        }
        error => change::end(opened, error.map(|made| made.change), (name, &text), options, common, console),
    }
}

/// What a text makes of a contract.
struct Edited {
    change: Change,
    /// Whether nothing changes but how a file of notation is written.
    layout: bool,
}

/// The change that the text makes; all of a file of notation is replaced by it, comments included.
fn edited(opened: &change::Opened<'_>, text: &str, options: &EditArgs) -> Result<Edited, EditFailure> {
    let whole = opened.component == Component::Contract;
    match (edit(opened.editing(options), opened.component, text), opened.notation()) {
        (Err(EditFailure::Nothing), Some(notation)) if whole && text != notation.text() => {
            Ok(Edited { change: notation.rewritten(text)?, layout: true })
        }
        (result, _) => Ok(Edited { change: result?, layout: false }),
    }
}

/// The same as it is to be written.
fn to_write(opened: change::Opened<'_>, made: Edited, text: &str) -> Result<change::ChangeToWrite, Failure> {
    let whole = (opened.component == Component::Contract).then_some(text);
    match made.layout {
        true => Ok(opened.rewritten(made.change)),
        false => opened.into_change(made.change, whole),
    }
}

/// Gives the text to the user's editor until it can be read, or is left as it was.
fn in_editor(
    opened: change::Opened<'_>,
    options: &EditArgs,
    common: &Common,
    console: &mut Console,
) -> Outcome {
    let before = match opened.notation() {
        Some(notation) if opened.component == Component::Contract => notation.text().to_owned(),
        _ => text_of(opened.editing(options), opened.component).map_err(|error| opened.failure(&error))?,
    };
    let mut shown = before.clone();
    let broken = |error: std::io::Error| Failure::new(format!("the editor cannot be used: {error}"));
    let folder = tempfile::tempdir().map_err(broken)?;
    // The editor may be open for hours; whether somebody else edits meanwhile is seen in the end.
    common.session.writers.leave();
    let name: String =
        opened.path.chars().take(60).map(|c| if c.is_alphanumeric() { c } else { '-' }).collect();
    let place = folder.path().join(format!("{name}.charter"));
    loop {
        std::fs::write(&place, &shown).map_err(broken)?;
        if let Err(failure) = open(&place) {
            // What was written until then may be dear to its author.
            let touched = read::small(&place).map_or(place.exists(), |left| left != shown);
            return Err(if touched { kept(failure, folder, &place, None) } else { failure });
        }
        let left = match read::text(&place.to_string_lossy(), common.session.store.limits()) {
            Ok(left) => left,
            Err(error) => {
                let failure = Failure::new(format!("what the editor left cannot be read: {error}"));
                return Err(if place.exists() { kept(failure, folder, &place, None) } else { failure });
            }
        };
        let text = without_remarks(&left);
        if text == before {
            console.note("nothing changes\n");
            return Ok(Status::Yes);
        }
        match edited(&opened, &text, options) {
            Err(EditFailure::Notation(errors)) if left != shown => shown = with_remarks(&text, &errors),
            Ok(made) => {
                return to_write(opened, made, &text)
                    .and_then(|carried| change::finish(&carried, options, common, console))
                    .map_err(|failure| kept(failure, folder, &place, Some(&text)));
            }
            Err(error) => {
                if let EditFailure::Notation(errors) = &error {
                    console.note(&slips::errors_shown(&opened.path, &text, errors));
                }
                return Err(kept(opened.failure(&error), folder, &place, Some(&text)));
            }
        }
    }
}

/// A failure that does not take the text with it: that stays in its folder, and the user is told where.
fn kept(failure: Failure, folder: tempfile::TempDir, place: &Path, text: Option<&str>) -> Failure {
    let lost = text.is_some_and(|text| std::fs::write(place, text).is_err());
    if lost {
        return failure;
    }
    let _ = folder.keep();
    failure.help(format!("nothing was changed; the text is kept: charter edit … --with {}", place.display()))
}

fn open(place: &Path) -> Result<(), Failure> {
    let set = |name: &&str| std::env::var(name).ok().filter(|it| !it.trim().is_empty());
    let wanted = ["VISUAL", "EDITOR"].iter().find_map(set);
    let Some(wanted) = wanted else {
        let failure = Failure::new("no editor is set");
        return Err(
            failure.help("set EDITOR, or give the notation with --with FILE, or - for standard input")
        );
    };
    // As a shell would take it: a path in quotes may hold spaces.
    let words = shell_words::split(&wanted).map_err(|error| {
        Failure::new(format!("EDITOR is not understood: {error}")).help("close every quote in it")
    })?;
    let mut words = words.iter();
    let program = words.next().map_or("", String::as_str);
    let status = Command::new(program).args(words).arg(place).status().map_err(|error| {
        Failure::new(format!("the editor \"{wanted}\" cannot be started: {error}"))
            .help("set EDITOR to another one")
    })?;
    if status.success() {
        return Ok(());
    }
    Err(Failure::new(format!("the editor \"{wanted}\" ended with an error")).help("nothing was changed"))
}

/// A text with what is wrong above each line that has it.
fn with_remarks(text: &str, errors: &[NotationError]) -> String {
    let source = Text::from(text);
    let mut result = String::new();
    for (index, line) in text.split_inclusive('\n').enumerate() {
        for error in errors {
            let position = source.position(error.span.start);
            if position.line == index + 1 {
                let help = error.help.as_ref().map_or(String::new(), |help| format!("; {help}"));
                result.push_str(&format!("{REMARK} column {}: {}{help}\n", position.column, error.message));
            }
        }
        result.push_str(line);
    }
    result
}

fn without_remarks(text: &str) -> String {
    text.split_inclusive('\n').filter(|line| !line.trim_start().starts_with(REMARK)).collect()
}

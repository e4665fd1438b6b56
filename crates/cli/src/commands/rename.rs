//! `charter rename`

use charter_author::{Change, EditFailure, rename};
use charter_contract::Contract;
use charter_source::Location;
use serde::Serialize;

use super::Outcome;
use crate::args::Format;
use crate::console::{Console, Failure, Status};
use crate::load::Common;
use crate::{files, load, paint};

#[derive(Serialize)]
struct Renamed {
    path: String,
    name: String,
    written: bool,
    places: Vec<Changed>,
    notes: Vec<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    diff: Option<String>,
}

#[derive(Serialize)]
struct Changed {
    file: String,
    line: usize,
    column: usize,
}

pub fn run(
    file: &str,
    path: &str,
    name: &str,
    dry_run: bool,
    common: &Common,
    console: &mut Console,
) -> Outcome {
    let contract = load::load_readable(common, file)?;
    let component = load::find(&contract, path)?;
    let path = contract.path(component).to_string();
    let change = rename(&contract, &common.store, component, name)
        .map_err(|error| failure(&contract, &path, &error))?;
    let diff: String = change
        .files
        .iter()
        .map(|file| files::diff(&file.location.to_string(), &file.before, &file.after))
        .collect();
    // What came in by standard input goes out by standard output.
    let (streamed, stored): (Vec<_>, Vec<_>) =
        change.files.iter().cloned().partition(|file| file.location == Location::Standard);
    if !streamed.is_empty() && !dry_run && common.format == Format::Json {
        let failure = Failure::new("standard output cannot hold both the contract and JSON");
        return Err(failure.help("leave out --format json, or use --dry-run for the change as a diff"));
    }
    if !dry_run {
        files::replace(&stored)?;
        streamed.iter().for_each(|file| console.bytes(&file.new_bytes));
    }
    if common.format == Format::Json {
        let places = change.places.iter().map(|place| {
            let file = contract.files.get(place.file);
            let position = file.text().position(place.span.start);
            Changed { file: file.location.to_string(), line: position.line, column: position.column }
        });
        let places = places.collect();
        let diff = dry_run.then_some(diff);
        console.json(&Renamed {
            path,
            name: name.to_owned(),
            written: !dry_run,
            places,
            notes: change.notes,
            diff,
        });
        return Ok(Status::Yes);
    }
    if dry_run {
        console.out(&paint::diff(&diff));
        change.notes.iter().for_each(|note| console.note(&format!("{note}\n")));
    } else {
        let account = account(&contract, &path, name, &change);
        if streamed.is_empty() { console.out(&account) } else { console.note(&account) }
    }
    Ok(Status::Yes)
}

fn failure(contract: &Contract, path: &str, error: &EditFailure) -> Failure {
    let here = match error {
        EditFailure::Disguised(place) => load::place(contract, *place),
        _ => contract.files.first().location.to_string(),
    };
    Failure::new(error.to_string()).at(here).of(path).help("nothing was changed")
}

/// What changed, by file.
fn account(contract: &Contract, path: &str, name: &str, change: &Change) -> String {
    let count = |count: usize, word: &str| format!("{count} {word}{}", if count == 1 { "" } else { "s" });
    let mut text = format!(
        "{} is now named {}: {} in {}\n",
        paint::path(path),
        paint::strong(name),
        count(change.places.len(), "place"),
        count(change.files.len(), "file"),
    );
    for file in &change.files {
        let lines: Vec<String> = change
            .places
            .iter()
            .filter(|place| place.file == file.file)
            .map(|place| contract.files.get(place.file).text().position(place.span.start).line.to_string())
            .collect();
        let word = if lines.len() == 1 { "line" } else { "lines" };
        text.push_str(&format!("  {}  {word} {}\n", file.location, lines.join(", ")));
    }
    change.notes.iter().for_each(|note| text.push_str(&format!("  {note}\n")));
    text
}

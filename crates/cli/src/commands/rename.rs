//! `charter rename`

use charter_author::{Change, Renaming, rename};
use serde::Serialize;

use super::{Outcome, change};
use crate::args::{EditArgs, Format};
use crate::common::Common;
use crate::console::{Console, Status};
use crate::paint;

#[derive(Serialize)]
struct Renamed<'r> {
    path: &'r str,
    name: &'r str,
    written: bool,
    places: Vec<change::Changed>,
    notes: &'r [String],
    #[serde(skip_serializing_if = "Option::is_none")]
    diff: Option<String>,
}

pub fn run(
    file: &str,
    path: &str,
    name: &str,
    only: bool,
    options: &EditArgs,
    common: &Common,
    console: &mut Console,
) -> Outcome {
    let opened = change::Opened::at(file, Some(path), options, common)?;
    let made = rename(opened.editing(options), opened.component, Renaming { name, only })
        .map_err(|error| opened.failure(&error))?;
    let carried = opened.into_change(made, None)?;
    let (places, made) = (carried.places(), &carried.change);
    let dry_run = options.dry_run;
    let streamed = change::write(made, dry_run, common, console)?;
    let diff = change::diff(made);
    if common.format == Format::Json {
        let diff = dry_run.then_some(diff);
        console.json(&Renamed {
            path: &carried.path,
            name,
            written: !dry_run,
            places,
            notes: &made.notes,
            diff,
        });
        return Ok(Status::Yes);
    }
    if dry_run {
        console.data(&paint::diff(&diff));
        made.notes.iter().for_each(|note| console.note(&format!("{note}\n")));
    } else {
        let account = account(&carried.path, name, made, &places);
        if streamed { console.note(&account) } else { console.out(&account) }
    }
    Ok(Status::Yes)
}

/// How many lines are told by their numbers.
const LINES: usize = 20;

fn listed(lines: &[usize]) -> String {
    let shown: Vec<String> = lines.iter().take(LINES).map(usize::to_string).collect();
    let word = if lines.len() == 1 { "line" } else { "lines" };
    let more = lines.len() - shown.len();
    let more = if more > 0 { format!(" and {more} more") } else { String::new() };
    format!("{word} {}{more}", shown.join(", "))
}

/// What changed, by file.
fn account(path: &str, name: &str, change: &Change, places: &[change::Changed]) -> String {
    let count = |count: usize, word: &str| format!("{count} {word}{}", if count == 1 { "" } else { "s" });
    let mut text = format!("{} is now named {}", paint::path(path), paint::strong(name));
    if places.is_empty() {
        text.push_str(&format!(" in {}\n", change.files[0].location));
        return text;
    }
    let files = count(change.files.len(), "file");
    text.push_str(&format!(": {} in {files}\n", count(places.len(), "place")));
    for file in &change.files {
        let location = file.location.to_string();
        let here = places.iter().filter(|place| place.file == location);
        let mut lines: Vec<usize> = here.map(|place| place.line).collect();
        lines.dedup();
        text.push_str(&format!("  {location}  {}\n", listed(&lines)));
    }
    change.notes.iter().for_each(|note| text.push_str(&format!("  {note}\n")));
    text
}

//! `charter new`

use std::path::Path;

use charter_author::{Beginning, EditFailure, new_contract};
use serde::Serialize;

use super::Outcome;
use crate::args::Format;
use crate::console::{Console, Failure, Status};
use crate::{files, paint};

#[derive(Serialize)]
struct Begun<'b> {
    file: Option<String>,
    written: bool,
    text: &'b str,
}

pub fn run(
    beginning: &Beginning<'_>,
    output: Option<&Path>,
    dry_run: bool,
    format: Format,
    console: &mut Console,
) -> Outcome {
    let text = new_contract(beginning).map_err(|error| {
        let help = match error {
            EditFailure::Name(_) => "contracts and operations take names such as Pilotage or requestPilot",
            EditFailure::Namespace(_) => "it stays the same for as long as consumers need nothing new",
            _ => "give each operation once",
        };
        Failure::new(error.to_string()).help(help)
    })?;
    let output = output.filter(|path| *path != Path::new("-"));
    let name = output.map(|path| path.display().to_string());
    if let Some(path) = output.filter(|_| !dry_run) {
        files::create(path, &text)?;
    }
    if format == Format::Json {
        let written = output.is_some() && !dry_run;
        console.json(&Begun { file: name, written, text: &text });
        return Ok(Status::Yes);
    }
    match name {
        Some(name) if dry_run => console.out(&paint::diff(&files::diff(&name, "", &text))),
        Some(name) => console.note(&format!("wrote {name}\nnext: charter show {name}\n")),
        None => console.out(&text),
    }
    Ok(Status::Yes)
}

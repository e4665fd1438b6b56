//! `charter derive`

use std::path::Path;

use charter_author::{DeriveError, Derived, from_messages, from_rows, from_table_definitions};
use charter_source::{Files, Text};
use serde::Serialize;

use super::Outcome;
use crate::args::{Format, KindArg};
use crate::common::Common;
use crate::console::{Console, Failure, Status};

#[derive(Serialize)]
struct DerivedJson {
    notation: String,
    notes: Vec<String>,
}

pub fn run(
    arguments: &[String],
    kind: Option<KindArg>,
    name: Option<&str>,
    common: &Common,
    console: &mut Console,
) -> Outcome {
    let kind = kind.unwrap_or_else(|| kind_of(&arguments[0]));
    let (notation, notes) = match kind {
        KindArg::Xml => messages(arguments, common)?,
        KindArg::Csv | KindArg::Sql => (texts(arguments, kind, name, common)?, Vec::new()),
    };
    if common.format == Format::Json {
        console.json(&DerivedJson { notation, notes });
    } else {
        console.data(&notation);
        notes.iter().for_each(|note| console.note(&format!("{note}\n")));
    }
    Ok(Status::Yes)
}

fn kind_of(argument: &str) -> KindArg {
    let extension =
        Path::new(argument).extension().and_then(|it| it.to_str()).unwrap_or("").to_ascii_lowercase();
    match extension.as_str() {
        "csv" | "tsv" => KindArg::Csv,
        "sql" => KindArg::Sql,
        _ => KindArg::Xml,
    }
}

fn messages(arguments: &[String], common: &Common) -> Result<(String, Vec<String>), Failure> {
    let mut all: Vec<Files> = Vec::new();
    for argument in arguments {
        let files = common.session.files(argument)?;
        if let Some(fault) = files.faults().first().filter(|_| files.first().root().is_none()) {
            let position = files.first().text().position(fault.place.span.start);
            let place = format!("{}:{}:{}", files.first().location, position.line, position.column);
            let failure = Failure::new(fault.message.clone()).at(place);
            return Err(match &fault.help {
                Some(help) => failure.help(help.clone()),
                None => failure,
            });
        }
        all.push(files);
    }
    let derived = from_messages(&all.iter().collect::<Vec<_>>());
    let derived = derived.map_err(|error| failure(&error, &arguments.join(", "), ""))?;
    Ok((derived.notation(), derived.notes))
}

/// Each table by itself.
fn texts(
    arguments: &[String],
    kind: KindArg,
    name: Option<&str>,
    common: &Common,
) -> Result<String, Failure> {
    let mut notation = String::new();
    for argument in arguments {
        let text = common.session.notation(argument)?;
        let stem = Path::new(argument).file_stem().and_then(|it| it.to_str()).filter(|it| *it != "-");
        let derived: Result<Derived, DeriveError> = match kind {
            KindArg::Sql => from_table_definitions(&text),
            _ => from_rows(&text, name.or(stem).unwrap_or("Row")),
        };
        let derived = derived.map_err(|error| failure(&error, argument, &text))?;
        if !notation.is_empty() {
            notation.push('\n');
        }
        notation.push_str(&derived.notation());
    }
    Ok(notation)
}

fn failure(error: &DeriveError, argument: &str, text: &str) -> Failure {
    let place = match error.span {
        Some(span) => {
            let position = Text::from(text).position(span.start);
            format!("{argument}:{}:{}", position.line, position.column)
        }
        None => argument.to_owned(),
    };
    let failure = Failure::new(error.message.clone()).at(place);
    match &error.help {
        Some(help) => failure.help(help.clone()),
        None => failure,
    }
}

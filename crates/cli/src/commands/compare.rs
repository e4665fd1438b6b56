//! `charter compare`

use charter_compare::{Change, Reader, Report, Touched, Verdict, compare};
use charter_contract::Contract;
use charter_source::Place;
use serde::Serialize;

use super::Outcome;
use crate::args::{Format, ReaderArg};
use crate::console::{Console, Status};
use crate::load::Common;
use crate::{load, paint};

#[derive(Serialize)]
struct Compared {
    verdict: &'static str,
    changes: Vec<Entry>,
    consumers: [(); 0],
}

#[derive(Serialize)]
struct Entry {
    path: String,
    verdict: &'static str,
    rule: &'static str,
    message: String,
    old: Option<String>,
    new: Option<String>,
    old_place: Option<Spot>,
    new_place: Option<Spot>,
    operations: Vec<Side>,
}

#[derive(Serialize)]
struct Spot {
    file: String,
    line: usize,
    column: usize,
}

#[derive(Serialize)]
struct Side {
    operation: String,
    side: String,
    verdict: &'static str,
}

pub fn run(
    old: &str,
    new: &str,
    reader: Option<ReaderArg>,
    common: &Common,
    console: &mut Console,
) -> Outcome {
    let (old_contract, new_contract) = (load::load_contract(common, old)?, load::load_contract(common, new)?);
    let reader = match reader {
        None => Reader::Unknown,
        Some(ReaderArg::Strict) => Reader::Strict,
        Some(ReaderArg::Lenient) => Reader::Lenient,
    };
    let report = compare(&old_contract, &new_contract, reader);
    match common.format {
        Format::Json => console.json(&json(&old_contract, &new_contract, &report)),
        _ => console.out(&text(&old_contract, &new_contract, old, new, &report)),
    }
    for (name, contract) in [(old, &old_contract), (new, &new_contract)] {
        if !contract.faults().is_empty() {
            let note = format!(
                "{name} has faults and was compared as far as it could be read: charter check {name}\n"
            );
            console.note(&note);
        }
    }
    Ok(if report.verdict == Verdict::Breaks { Status::No } else { Status::Yes })
}

fn json(old: &Contract, new: &Contract, report: &Report) -> Compared {
    let spot = |contract: &Contract, place: Option<Place>| {
        place.map(|place| {
            let file = contract.files.get(place.file);
            let position = file.text().position(place.span.start);
            Spot { file: file.location.to_string(), line: position.line, column: position.column }
        })
    };
    let entry = |change: &Change| Entry {
        path: change.path.clone(),
        verdict: change.verdict.name(),
        rule: change.rule,
        message: change.message.clone(),
        old: change.old.clone(),
        new: change.new.clone(),
        old_place: spot(old, change.old_place),
        new_place: spot(new, change.new_place),
        operations: change
            .operations
            .iter()
            .map(|touched| Side {
                operation: touched.operation.clone(),
                side: touched.side.clone(),
                verdict: touched.verdict.name(),
            })
            .collect(),
    };
    let changes = report.changes.iter().map(entry).collect();
    Compared { verdict: report.verdict.name(), changes, consumers: [] }
}

fn text(old: &Contract, new: &Contract, old_name: &str, new_name: &str, report: &Report) -> String {
    let mut text = format!("{}\n\n", verdict_line(old_name, new_name, report));
    for verdict in [Verdict::Breaks, Verdict::Bends] {
        for change in report.changes.iter().filter(|change| change.verdict == verdict) {
            text.push_str(&in_full(old, new, change));
        }
    }
    let kept: Vec<&Change> =
        report.changes.iter().filter(|change| change.verdict == Verdict::Keeps).collect();
    // What keeps everybody needs no proof, only to be seen.
    for change in &kept {
        let path = paint::path(&change.path);
        text.push_str(&format!(
            "{} {path}: {}{}\n",
            paint::verdict(Verdict::Keeps),
            change.message,
            reached(change)
        ));
    }
    if kept.is_empty() && text.ends_with("\n\n") {
        text.pop();
    }
    text
}

fn verdict_line(old: &str, new: &str, report: &Report) -> String {
    let words = match report.verdict {
        Verdict::Keeps if report.changes.is_empty() => {
            "nothing that consumers can see has changed".to_owned()
        }
        Verdict::Keeps => "all that consumers of the old version do still works".to_owned(),
        Verdict::Bends => "it works on the wire; see what it depends on".to_owned(),
        Verdict::Breaks if report.broken == 0 => "consumers of the old version are cut off".to_owned(),
        Verdict::Breaks => {
            format!("{} of {} operations no longer work as they did", report.broken, report.operations)
        }
    };
    let between = paint::faint(&format!("from {old} to {new}"));
    format!("{} {}\n       {between}", paint::verdict(report.verdict), paint::strong(&words))
}

fn in_full(old: &Contract, new: &Contract, change: &Change) -> String {
    let indent = "       ";
    let mut text =
        format!("{} {}: {}\n", paint::verdict(change.verdict), paint::path(&change.path), change.message);
    if change.old != change.new {
        for (line, is_old) in [(&change.old, true), (&change.new, false)] {
            let Some(line) = line else { continue };
            let line = if is_old {
                paint::removed(&format!("- {line}"))
            } else {
                paint::added(&format!("+ {line}"))
            };
            text.push_str(&format!("{indent}{line}\n"));
        }
    }
    let operations = reached(change);
    if !operations.is_empty() {
        text.push_str(&format!("{indent}{}\n", operations.trim_start()));
    }
    let was = change.old_place.map(|place| load::place(old, place));
    let is = change.new_place.map(|place| load::place(new, place));
    let places: Vec<String> = [was, is].into_iter().flatten().collect();
    let places = paint::faint(&format!("{}  {}", change.rule, places.join(" -> ")));
    text.push_str(&format!("{indent}{places}\n\n"));
    text
}

/// The sides of operations where a change does its worst, each operation named once.
fn reached(change: &Change) -> String {
    let mut operations: Vec<(&str, Vec<&str>)> = Vec::new();
    for Touched { operation, side, .. } in change.worst() {
        match operations.iter_mut().find(|(known, _)| known == operation) {
            Some((_, sides)) => sides.push(side),
            None => operations.push((operation, vec![side])),
        }
    }
    if operations.is_empty() {
        return String::new();
    }
    let listed: Vec<String> =
        operations.iter().map(|(operation, sides)| format!("{operation} ({})", sides.join(", "))).collect();
    format!("  in {}", listed.join(", "))
}

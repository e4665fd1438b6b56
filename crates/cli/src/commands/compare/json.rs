//! A comparison for scripts.

use charter_compare::{Change, Report, Witness};
use charter_contract::Contract;
use charter_source::Place;
use serde::Serialize;

#[derive(Serialize)]
pub struct Compared {
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
    depends_on: Option<String>,
    operations: Vec<Side>,
    witness: Option<Shown>,
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

/// A message, and what the version that did not make it has against it.
#[derive(Serialize)]
struct Shown {
    side: String,
    operation: String,
    body: Option<String>,
    accepted_by: &'static str,
    misread: bool,
    because: String,
}

pub fn json(old: &Contract, new: &Contract, report: &Report) -> Compared {
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
        depends_on: change.depends.map(|depends| depends.words()),
        operations: change
            .operations
            .iter()
            .map(|touched| Side {
                operation: touched.operation.clone(),
                side: touched.side.clone(),
                verdict: touched.verdict.name(),
            })
            .collect(),
        witness: change.witness.as_ref().map(shown),
    };
    let changes = report.changes.iter().map(entry).collect();
    Compared { verdict: report.verdict.name(), changes, consumers: [] }
}

fn shown(witness: &Witness) -> Shown {
    Shown {
        side: witness.side.clone(),
        operation: witness.operation.clone(),
        body: witness.body.clone(),
        accepted_by: witness.accepted_by.name(),
        misread: witness.misread,
        because: witness.because.clone(),
    }
}

//! A comparison for scripts.

use charter_compare::{Change, Open, OpenDifference, Verdict, Versions, Witness};
use charter_contract::Contract;
use charter_remedy::WayOut;
use charter_source::Place;
use serde::Serialize;

use super::Compared;
use super::consumers::{Affected, Because, Refused};
use super::ways::Ways;

#[derive(Serialize)]
struct Several {
    verdict: &'static str,
    contracts: Vec<One>,
}

#[derive(Serialize)]
struct One {
    #[serde(skip_serializing_if = "Option::is_none")]
    contract: Option<String>,
    verdict: &'static str,
    /// The worst verdict of what nobody has accepted.
    unaccepted: &'static str,
    changes: Vec<ChangeJson>,
    consumers: Vec<Consumer>,
}

#[derive(Serialize)]
struct ChangeJson {
    path: String,
    verdict: &'static str,
    rule: &'static str,
    message: String,
    old: Option<String>,
    new: Option<String>,
    old_place: Option<Spot>,
    new_place: Option<Spot>,
    depends_on: Option<String>,
    confidence: Option<&'static str>,
    accepted: Option<String>,
    operations: Vec<Side>,
    witness: Option<WitnessJson>,
    #[serde(skip_serializing_if = "Vec::is_empty")]
    stands_for: Vec<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    open: Option<OpenJson>,
    #[serde(skip_serializing_if = "Option::is_none")]
    way_out: Option<WayOutJson>,
}

/// A consumer, and why it is affected.
#[derive(Serialize)]
struct Consumer {
    name: String,
    contact: Option<String>,
    contract: Option<String>,
    verdict: &'static str,
    because: Vec<Cause>,
    replayed: Replay,
}

#[derive(Serialize)]
struct Cause {
    path: String,
    rule: &'static str,
    verdict: &'static str,
    message: String,
    reason: String,
    witness: Option<WitnessJson>,
}

#[derive(Serialize)]
struct Replay {
    messages: usize,
    refused: Vec<Refusal>,
}

#[derive(Serialize)]
struct Refusal {
    file: String,
    operation: String,
    side: String,
    because: String,
}

fn consumer(one: &Affected, versions: Versions<'_>) -> Consumer {
    let cause = |because: &Because| Cause {
        path: because.path.to_string(),
        rule: because.kind.name(),
        verdict: because.verdict.name(),
        message: because.what.to_string(),
        reason: because.reason.to_string(),
        witness: because.witness.as_ref().map(|witness| shown(witness, versions)),
    };
    let refusal = |refused: &Refused| Refusal {
        file: refused.file.clone(),
        operation: refused.operation.clone(),
        side: refused.side.clone(),
        because: refused.because.clone(),
    };
    Consumer {
        name: one.name.clone(),
        contact: one.contact.clone(),
        contract: one.contract.clone(),
        verdict: one.verdict.name(),
        because: one.because.iter().map(cause).collect(),
        replayed: Replay {
            messages: one.replayed.messages,
            refused: one.replayed.refused.iter().map(refusal).collect(),
        },
    }
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

/// What differs in content that no declaration names.
#[derive(Serialize)]
struct OpenJson {
    /// Where it may stand.
    points: Vec<String>,
    differences: Vec<OpenDifferenceJson>,
}

#[derive(Serialize)]
struct OpenDifferenceJson {
    path: String,
    rule: &'static str,
    message: String,
}

/// What would keep a change from breaking, or why nothing does.
#[derive(Serialize)]
struct WayOutJson {
    /// What it does; nothing, if there is none.
    message: Option<String>,
    /// Why there is none.
    none_because: Option<String>,
    /// The component of the new version that it changes.
    path: Option<String>,
    /// What is left of the change.
    verdict: Option<&'static str>,
    notation: Vec<String>,
    command: Option<String>,
}

fn way_out(ways: &Ways, number: usize) -> Option<WayOutJson> {
    Some(match ways.of(number)? {
        WayOut::None(why) => WayOutJson {
            message: None,
            none_because: Some(why.to_string()),
            path: None,
            verdict: None,
            notation: Vec::new(),
            command: None,
        },
        WayOut::Edit(way) => WayOutJson {
            message: Some(way.remedy.to_string()),
            none_because: None,
            path: Some(way.path.to_string()),
            verdict: Some(way.verdict.name()),
            notation: way.notation.clone(),
            command: ways.command(way),
        },
    })
}

/// A message, and what the version that did not make it has against it.
#[derive(Serialize)]
struct WitnessJson {
    side: String,
    operation: String,
    body: Option<String>,
    accepted_by: &'static str,
    misread: bool,
    because: String,
}

/// The comparison of one contract, or of several with a verdict on all of them.
pub fn text(compared: &[Compared], (several, worst): (bool, Verdict)) -> String {
    let text = match (compared, several) {
        ([only], false) => serde_json::to_string_pretty(&one(only, false)),
        _ => {
            let contracts = compared.iter().map(|compared| one(compared, true)).collect();
            serde_json::to_string_pretty(&Several { verdict: worst.name(), contracts })
        }
    };
    text.unwrap_or_default() + "\n"
}

fn one(compared: &Compared, named: bool) -> One {
    let Compared { old, new, report, .. } = compared;
    let versions = compared.versions();
    let spot = |contract: &Contract, place: Option<Place>| {
        place.map(|place| {
            let file = contract.files.get(place.file);
            let position = file.text().position(place.span.start);
            Spot { file: file.location.to_string(), line: position.line, column: position.column }
        })
    };
    let entry = |(number, change): (usize, &Change)| ChangeJson {
        path: change.path.to_string(),
        verdict: change.verdict.name(),
        rule: change.kind.name(),
        message: change.what.to_string(),
        old: change.old.clone(),
        new: change.new.clone(),
        old_place: spot(old, change.old_place),
        new_place: spot(new, change.new_place),
        depends_on: change.depends.map(|depends| depends.words()),
        confidence: change.confidence.map(|confidence| confidence.name()),
        accepted: change.accepted.clone(),
        operations: change
            .operations
            .iter()
            .map(|touched| Side {
                operation: versions.operation_name(touched.at).to_owned(),
                side: versions.side_name(touched.at),
                verdict: touched.verdict.name(),
            })
            .collect(),
        witness: change.witness.as_ref().map(|witness| shown(witness, versions)),
        stands_for: change.members.iter().map(|member| versions.path(*member).to_string()).collect(),
        open: change.open.as_ref().map(open),
        way_out: way_out(&compared.ways, number),
    };
    let changes = report.changes.iter().enumerate().map(entry).collect();
    let contract = named.then(|| compared.name.clone());
    One {
        contract,
        verdict: report.verdict.name(),
        unaccepted: report.unaccepted().name(),
        changes,
        consumers: compared.consumers.iter().map(|one| consumer(one, versions)).collect(),
    }
}

fn open(open: &Open) -> OpenJson {
    let difference = |it: &OpenDifference| OpenDifferenceJson {
        path: it.path.to_string(),
        rule: it.kind.name(),
        message: it.what.to_string(),
    };
    OpenJson {
        points: open.points.iter().map(ToString::to_string).collect(),
        differences: open.differences.iter().map(difference).collect(),
    }
}

fn shown(witness: &Witness, versions: Versions<'_>) -> WitnessJson {
    WitnessJson {
        side: versions.side_name(witness.at),
        operation: versions.operation_name(witness.at).to_owned(),
        body: witness.body.clone(),
        accepted_by: witness.accepted_by.name(),
        misread: witness.misread,
        because: witness.because(),
    }
}

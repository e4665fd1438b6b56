//! Changes as SARIF 2.1.0 (OASIS), for programs that show them beside the source.

use charter_compare::{Change, Kind, Verdict};
use charter_contract::{Component, Contract};
use charter_source::{Location, Place};
use serde_json::{Value, json};

use super::Compared;

/// The log of one run.
pub fn log(compared: &[Compared]) -> Value {
    let mut kinds: Vec<Kind> = Vec::new();
    let mut results = Vec::new();
    for one in compared {
        for change in &one.report.changes {
            let index = kinds.iter().position(|kind| *kind == change.kind).unwrap_or_else(|| {
                kinds.push(change.kind);
                kinds.len() - 1
            });
            results.push(result(one, change, index));
        }
    }
    crate::sarif::log(kinds.iter().map(|kind| rule(*kind)).collect(), results)
}

fn rule(kind: Kind) -> Value {
    let entry = kind.entry();
    json!({
        "id": kind.name(),
        "shortDescription": { "text": entry.says },
        "fullDescription": { "text": entry.why },
        "help": { "text": format!("{} {}", entry.says, entry.why) },
    })
}

fn result(compared: &Compared, change: &Change, index: usize) -> Value {
    let level = match change.verdict {
        Verdict::Breaks => "error",
        Verdict::Bends => "warning",
        Verdict::Keeps => "note",
    };
    let mut words = format!("{}: {}", change.verdict.name(), change.what);
    if let Some(depends) = change.depends {
        words.push_str(&format!("; depends on {}", depends.words()));
    }
    let mut result = json!({
        "ruleId": change.kind.name(),
        "ruleIndex": index,
        "level": level,
        "message": { "text": words },
        "partialFingerprints": { "charterChange/v1": change.mark_of_words(), "charterChange/v2": change.mark() },
        "properties": { "verdict": change.verdict.name(), "path": change.path.as_str() },
    });
    // Who looks at it has the new version open: what is gone is missing from what was around it.
    let place = change.new_place.unwrap_or_else(|| around(&compared.new, change.path.as_str()));
    result["locations"] = json!([location(&compared.new, place, change.path.as_str())]);
    if let Some(old) = change.old_place
        && can_be_opened(&compared.old, old)
    {
        let mut related = location(&compared.old, old, change.path.as_str());
        related["message"] = json!({ "text": "what stood there in the old version" });
        result["relatedLocations"] = json!([related]);
    }
    if let Some(reason) = &change.accepted {
        result["suppressions"] = json!([{ "kind": "external", "justification": reason }]);
    }
    result
}

/// Where the nearest component stands that a path goes through, in a version that has no such component itself.
fn around(contract: &Contract, path: &str) -> Place {
    let mut before = path;
    while let Some((shorter, _)) = before.rsplit_once('/') {
        if let Ok(component) = contract.find(shorter) {
            return contract.place(component);
        }
        before = shorter;
    }
    contract.place(Component::Contract)
}

/// Whether a place is in a file, and not in a revision.
fn can_be_opened(contract: &Contract, place: Place) -> bool {
    matches!(contract.files.get(place.file).location, Location::Path(_))
}

fn location(contract: &Contract, place: Place, path: &str) -> Value {
    let file = contract.files.get(place.file);
    let (start, end) = (file.text().position(place.span.start), file.text().position(place.span.end));
    json!({
        "physicalLocation": {
            "artifactLocation": { "uri": crate::commands::uri(&file.location.to_string()) },
            "region": {
                "startLine": start.line, "startColumn": start.column, "endLine": end.line, "endColumn": end.column,
            }
        },
        "logicalLocations": [{ "fullyQualifiedName": path }],
    })
}

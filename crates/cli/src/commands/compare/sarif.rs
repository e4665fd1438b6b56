//! Changes as SARIF 2.1.0 (OASIS), for programs that show them beside the source.

use charter_compare::{Change, Kind, Verdict};
use charter_contract::Contract;
use charter_source::Place;
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
    // What is gone has a place in the old version alone.
    let place = match (change.new_place, change.old_place) {
        (Some(place), _) => Some((&compared.new, place)),
        (None, Some(place)) => Some((&compared.old, place)),
        (None, None) => None,
    };
    if let Some((contract, place)) = place {
        result["locations"] = json!([location(contract, place, change.path.as_str())]);
    }
    if let (Some(old), Some(_)) = (change.old_place, change.new_place) {
        let mut related = location(&compared.old, old, change.path.as_str());
        related["message"] = json!({ "text": "what stood there in the old version" });
        result["relatedLocations"] = json!([related]);
    }
    if let Some(reason) = &change.accepted {
        result["suppressions"] = json!([{ "kind": "external", "justification": reason }]);
    }
    result
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

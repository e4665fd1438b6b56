//! SARIF 2.1.0 (OASIS), for programs that show findings beside the source.

use charter_check::{Rule, rules};
use serde_json::{Value, json};

use super::each::{CheckedFile, Replacement, ReportedFinding};
use crate::commands::uri;
use crate::findings::FindingJson;

/// The log of one run.
pub fn log(judged: &[CheckedFile]) -> Value {
    // Only the rules that something broke are listed, in the order of the catalogue.
    let entries = || {
        judged
            .iter()
            .flat_map(|one| one.shown.iter().map(|shown| &shown.entry).chain(&one.excepted).chain(&one.known))
    };
    let used: Vec<&Rule> = rules().filter(|rule| entries().any(|entry| entry.rule() == rule.name)).collect();
    let index = |entry: &FindingJson| used.iter().position(|rule| rule.name == entry.rule());
    let mut results = Vec::new();
    for one in judged {
        results.extend(one.shown.iter().map(|shown| result(shown, index(&shown.entry))));
        results.extend(one.excepted.iter().map(|entry| muted(entry, index(entry), "an exception allows it")));
        results.extend(one.known.iter().map(|entry| muted(entry, index(entry), "it is known already")));
    }
    crate::sarif::log(used.iter().map(|rule| descriptor(rule)).collect(), results)
}

fn descriptor(rule: &Rule) -> Value {
    json!({
        "id": rule.name,
        "shortDescription": { "text": rule.asks },
        "fullDescription": { "text": rule.why },
        "help": { "text": format!("{} ({})", rule.why, rule.standard) },
        "defaultConfiguration": { "level": rule.level.name() },
        "properties": { "family": rule.family.name(), "standard": rule.standard },
    })
}

fn base(entry: &FindingJson, index: Option<usize>) -> Value {
    let (line, column, end_line, end_column) = entry.region();
    let mut result = json!({
        "ruleId": entry.rule(),
        "level": entry.severity(),
        "message": { "text": entry.message() },
        "locations": [{
            "physicalLocation": {
                "artifactLocation": { "uri": uri(entry.file()) },
                "region": {
                    "startLine": line, "startColumn": column, "endLine": end_line, "endColumn": end_column,
                }
            },
            "logicalLocations": [{ "fullyQualifiedName": entry.path() }],
        }],
    });
    if let Some(index) = index {
        result["ruleIndex"] = json!(index);
    }
    result
}

fn result(shown: &ReportedFinding, index: Option<usize>) -> Value {
    let mut result = base(&shown.entry, index);
    if !shown.fix.is_empty() {
        let words = shown.entry.help().unwrap_or("mend it");
        result["fixes"] = json!([{
            "description": { "text": words },
            "artifactChanges": changes(&shown.fix),
        }]);
    }
    result
}

/// The replacements of a fix, by file.
fn changes(fix: &[Replacement]) -> Vec<Value> {
    let mut files: Vec<&str> = fix.iter().map(|it| &*it.file).collect();
    files.dedup();
    let of = |file: &str| -> Vec<Value> {
        let own = fix.iter().filter(|it| it.file == file);
        own.map(|it| {
            json!({
                "deletedRegion": {
                    "startLine": it.line, "startColumn": it.column,
                    "endLine": it.end_line, "endColumn": it.end_column,
                },
                "insertedContent": { "text": it.text },
            })
        })
        .collect()
    };
    files
        .iter()
        .map(|file| json!({ "artifactLocation": { "uri": uri(file) }, "replacements": of(file) }))
        .collect()
}

fn muted(entry: &FindingJson, index: Option<usize>, why: &str) -> Value {
    let mut result = base(entry, index);
    result["suppressions"] = json!([{ "kind": "external", "justification": why }]);
    result
}

//! What every report in SARIF 2.1.0 has around its results.

use serde_json::{Value, json};

/// The log of one run, with the rules that its results speak of.
pub fn log(rules: Vec<Value>, results: Vec<Value>) -> Value {
    json!({
        "$schema": "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json",
        "version": "2.1.0",
        "runs": [{
            "tool": {
                "driver": {
                    "name": "charter",
                    "fullName": "Neat Charter",
                    "version": env!("CARGO_PKG_VERSION"),
                    "semanticVersion": env!("CARGO_PKG_VERSION"),
                    "rules": rules,
                }
            },
            "columnKind": "unicodeCodePoints",
            "results": results,
        }]
    })
}

//! Keeps a selection of cases on which both agree, for the tests: they need no other validator then.

use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write;
use std::path::Path;

use crate::Verdict;
use crate::oracle::Question;

/// Cases that are kept for each clause.
const EACH: usize = 2;
/// Valid ones that are kept, of schemas and of messages.
const VALID: usize = 25;

/// Writes the smallest cases of each clause, and some valid ones, each under a heading with its verdict.
pub fn keep(
    folder: &Path,
    file: &Path,
    asked: &[(Question, Verdict)],
    answers: &[Option<String>],
) -> std::io::Result<()> {
    let size = |question: &Question| {
        let length = |name: &str| std::fs::metadata(folder.join(name)).map_or(u64::MAX, |data| data.len());
        let message = question.message.as_deref().map_or(0, length);
        if question.schema == "visit.xsd" { u64::MAX } else { length(&question.schema) + message }
    };
    let mut cases: BTreeMap<(bool, String), Vec<(u64, usize)>> = BTreeMap::new();
    for (number, ((question, ours), theirs)) in asked.iter().zip(answers).enumerate() {
        let agree = ours.is_some() == theirs.as_ref().is_some_and(|theirs| !theirs.starts_with("noschema"));
        let refused = theirs.as_ref().is_some_and(|theirs| theirs.starts_with("noschema"));
        if !agree || refused || question.schema.contains("-right") || question.schema.contains("-wrong") {
            continue;
        }
        let class = match ours {
            None => "valid".to_owned(),
            // Only what breaks one clause alone says for sure which one it is.
            Some((rules, _)) if rules.len() == 1 => rules.iter().copied().collect(),
            Some(_) => continue,
        };
        cases.entry((question.message.is_some(), class)).or_default().push((size(question), number));
    }
    let mut text = String::new();
    let mut written = BTreeSet::new();
    for ((_, class), mut all) in cases {
        all.sort_unstable();
        let most = if class == "valid" { VALID } else { EACH };
        // Of the valid ones not the smallest, which hold hardly anything.
        let skip = if class == "valid" { all.len() / 4 } else { 0 };
        for (size, number) in all.into_iter().skip(skip).take(most) {
            let question = &asked[number].0;
            if size > 6_000 {
                continue;
            }
            let schema = std::fs::read_to_string(folder.join(&question.schema))?;
            if question.message.is_none() {
                let _ = write!(text, "%% schema {} {class}\n{schema}", question.schema);
                written.insert(question.schema.clone());
            } else if let Some(message) = &question.message {
                if written.insert(question.schema.clone()) {
                    let _ = write!(text, "%% schema {} valid\n{schema}", question.schema);
                }
                let content = std::fs::read_to_string(folder.join(message))?;
                let _ = write!(text, "%% message {} {class}\n{}\n", question.schema, content.trim_end());
            }
        }
    }
    std::fs::write(file, text)
}

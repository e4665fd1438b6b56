//! Kinds of change of `compare`.

use charter_compare::{KindEntry, Topic, kinds};
use serde::Serialize;
use similar::{ChangeTag, DiffOp, TextDiff};

use super::folded;
use crate::console::Console;
use crate::paint;

#[derive(Serialize)]
pub struct KindJson {
    kind: &'static str,
    topic: &'static str,
    concerns: &'static str,
    says: &'static str,
    why: &'static str,
    old: String,
    new: String,
}

impl KindJson {
    pub fn of(entry: &KindEntry) -> KindJson {
        KindJson {
            kind: entry.kind.name(),
            topic: entry.topic.name(),
            concerns: entry.concerns.words(),
            says: entry.says,
            why: entry.why,
            old: entry.example.old_piece(),
            new: entry.example.new_piece(),
        }
    }
}

pub fn list(console: &mut Console) {
    for topic in Topic::ALL {
        console.out(&format!("\n{}\n", paint::strong(&format!("Changes: {}", topic.name().to_lowercase()))));
        for entry in kinds().filter(|entry| entry.topic == topic) {
            console.out(&format!("  {:26} {}\n", entry.kind.name(), entry.says));
        }
    }
}

pub fn explanation(entry: &KindEntry) -> String {
    format!(
        "{}  {}\n{}\n\n{}\n\n{} {}\n\n{}\n{}",
        paint::strong(entry.kind.name()),
        paint::faint(&format!("a kind of change, {}", entry.topic.name().to_lowercase())),
        entry.says,
        folded(entry.why),
        paint::faint("concerns"),
        entry.concerns.words(),
        paint::faint("for example"),
        example(entry)
    )
}

/// Lines that are shown around one that differs.
const AROUND: usize = 2;

/// The two pieces of an example, where they differ.
fn example(entry: &KindEntry) -> String {
    let (old, new) = (entry.example.old_piece(), entry.example.new_piece());
    if old == new {
        return old.lines().map(|line| format!("    {line}\n")).collect();
    }
    let diff = TextDiff::from_lines(&old, &new);
    let line = |tag: ChangeTag, line: &str| match tag {
        ChangeTag::Delete => format!("  {}\n", paint::removed(&format!("- {line}"))),
        ChangeTag::Insert => format!("  {}\n", paint::added(&format!("+ {line}"))),
        ChangeTag::Equal => format!("    {line}\n"),
    };
    let group = |group: &Vec<DiffOp>| -> String {
        let changes = group.iter().flat_map(|op| diff.iter_changes(op));
        changes.map(|change| line(change.tag(), change.value().trim_end())).collect()
    };
    let groups: Vec<String> = diff.grouped_ops(AROUND).iter().map(group).collect();
    groups.join(&format!("    {}\n", paint::faint("...")))
}

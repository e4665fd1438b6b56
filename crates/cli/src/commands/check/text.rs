//! The report for people.

use super::each::{CheckedFile, Reached};
use crate::findings;
use crate::paint;

/// The findings of a file and of what it imports, and how far it gets.
pub fn of(judged: &CheckedFile) -> String {
    let mut text = String::new();
    let several = judged.shown.iter().any(|shown| shown.entry.file() != judged.shown[0].entry.file());
    let mut file = "";
    for shown in &judged.shown {
        if several && shown.entry.file() != file {
            file = shown.entry.file();
            text.push_str(&format!("{}\n", paint::strong(file)));
        }
        text.push_str(&shown.text);
    }
    let counted: usize = judged.counted.values().sum();
    if counted > 0 {
        let words = format!("and {counted} more; --format json has them all\n");
        text.push_str(&paint::faint(&words));
    }
    let count = findings::count(judged.errors(), judged.warnings(), judged.notes());
    text.push_str(&format!("{}: {count}", judged.name));
    let mut more = Vec::new();
    if !judged.known.is_empty() {
        more.push(format!("{} known already", judged.known.len()));
    }
    if !judged.excepted.is_empty() {
        more.push(format!("{} allowed by exceptions", judged.excepted.len()));
    }
    if judged.unsaid > 0 {
        more.push(format!("{} with --notes", findings::of(judged.unsaid, "note")));
    }
    if judged.fixable {
        more.push("--fix may mend some".to_owned());
    }
    if !more.is_empty() {
        text.push_str(&paint::faint(&format!("  ({})", more.join(", "))));
    }
    text.push('\n');
    text.push_str(&format!("{}\n", stages(&judged.reached)));
    text
}

/// How far the contract gets, in one line.
fn stages(reached: &Reached) -> String {
    let yes = reached.reached.iter().map(|stage| paint::good(stage));
    let no = reached.missed.iter().map(|missed| {
        let many = findings::of(missed.findings, "finding");
        format!("{} {}", paint::error(&format!("not {}", missed.stage)), paint::faint(&format!("({many})")))
    });
    let mut all: Vec<String> = yes.chain(no).collect();
    if !reached.unknown.is_empty() {
        let stages: Vec<String> = reached.unknown.iter().map(|stage| paint::warning(stage)).collect();
        let why = paint::faint("(an import was not read)");
        all.push(format!("not known: {} {why}", stages.join(", ")));
    }
    format!("  {}", all.join(", "))
}

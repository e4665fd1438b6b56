//! A comparison for people: the verdict, then what breaks, what bends, and last what keeps.

use std::cmp::Reverse;
use std::collections::BTreeMap;

use charter_compare::{Advice, Beside, Change, Depends, Report, Verdict, Versions};
use charter_session::Spot;

use super::witness::INDENT;
use super::{Compared, lines, witness};
use crate::paint;

/// Changes that are not counted by kind before they are listed.
const MANY: usize = 20;
/// Operations that are named for one change; of more, the first few are.
const MOST_NAMED: usize = 8;
const FEW: usize = 6;

pub fn text(compared: &Compared, width: usize) -> String {
    let Compared { report, names: (old_name, new_name), .. } = compared;
    let versions = compared.versions();
    let mut text = format!("{}\n\n", verdict_line(old_name, new_name, report));
    if report.changes.len() > MANY {
        text.push_str(&counts(report));
    }
    for verdict in [Verdict::Breaks, Verdict::Bends] {
        for change in report.changes.iter().filter(|change| change.verdict == verdict) {
            text.push_str(&in_full(versions, change, width));
        }
    }
    let kept: Vec<&Change> =
        report.changes.iter().filter(|change| change.verdict == Verdict::Keeps).collect();
    // What keeps everybody needs no proof, only to be seen.
    for change in &kept {
        let path = paint::path(change.path.as_str());
        text.push_str(&format!(
            "{} {path}: {}{}\n",
            paint::verdict(Verdict::Keeps),
            change.what,
            reached(versions, change, MOST_NAMED)
        ));
    }
    if kept.is_empty() && text.ends_with("\n\n") {
        text.pop();
    }
    text
}

/// How many changes there are, by verdict and kind, the most frequent first.
fn counts(report: &Report) -> String {
    let mut text = String::new();
    for verdict in [Verdict::Breaks, Verdict::Bends, Verdict::Keeps] {
        let mut kinds: BTreeMap<&str, usize> = BTreeMap::new();
        for change in report.changes.iter().filter(|change| change.verdict == verdict) {
            *kinds.entry(change.kind.name()).or_default() += 1;
        }
        if kinds.is_empty() {
            continue;
        }
        let mut kinds: Vec<(&str, usize)> = kinds.into_iter().collect();
        kinds.sort_by_key(|(_, count)| Reverse(*count));
        let all: usize = kinds.iter().map(|(_, count)| count).sum();
        let listed: Vec<String> = kinds.iter().map(|(rule, count)| format!("{count} {rule}")).collect();
        text.push_str(&format!("{} {all}: {}\n", paint::verdict(verdict), listed.join(", ")));
    }
    text + "\n"
}

fn verdict_line(old: &str, new: &str, report: &Report) -> String {
    let between = paint::faint(&format!("from {old} to {new}"));
    format!("{} {}\n       {between}", paint::verdict(report.verdict), paint::strong(&summary(report)))
}

/// The verdict in words.
pub fn summary(report: &Report) -> String {
    match report.verdict {
        Verdict::Keeps if !report.changed => "nothing that consumers can see has changed".to_owned(),
        Verdict::Keeps => "all that consumers of the old version do still works".to_owned(),
        Verdict::Bends => bends(report).to_owned(),
        Verdict::Breaks if report.broken == 0 => "consumers of the old version are cut off".to_owned(),
        Verdict::Breaks => {
            format!("{} of {} operations no longer work as they did", report.broken, report.operations)
        }
    }
}

/// What bends, in words: what was not decided must not read as if it had been.
fn bends(report: &Report) -> &'static str {
    let bending = || report.changes.iter().filter(|change| change.verdict == Verdict::Bends);
    let undecided = bending().filter(|it| matches!(it.depends, Some(Depends::Undecided(_)))).count();
    if undecided == 0 {
        "it works on the wire; see what it depends on"
    } else if undecided == bending().count() {
        "it was not decided; see what stood in the way"
    } else {
        "it works on the wire, as far as it was decided; see what was not, and what it depends on"
    }
}

/// What to do about the revision, in a line; nothing if there is nothing to be done.
pub fn advice_words(advice: &Advice) -> Option<String> {
    let mut words = Vec::new();
    match (&advice.current, &advice.next) {
        (Some(current), Some(next)) if current != next => {
            words.push(format!("version {current} becomes {next}"))
        }
        _ => {}
    }
    if let Some(namespace) = &advice.namespace {
        words.push(format!("the target namespace must be another, such as {namespace}"));
    }
    match advice.beside {
        Beside::OneAddress => words.push("old and new can be offered at one address".to_owned()),
        Beside::TwoAddresses => {
            words.push(
                "old and new can be offered side by side at two addresses, since their messages are alike"
                    .to_owned(),
            );
        }
        Beside::NoNeed => {}
    }
    (!words.is_empty()).then(|| words.join("; "))
}

fn in_full(versions: Versions<'_>, change: &Change, width: usize) -> String {
    let indent = INDENT;
    let mut text = format!(
        "{} {}: {}\n",
        paint::verdict(change.verdict),
        paint::path(change.path.as_str()),
        change.what
    );
    if change.old != change.new {
        let (was, is) = lines::shown(change.old.as_deref(), change.new.as_deref());
        for (line, is_old) in [(was, true), (is, false)] {
            let Some(line) = line else { continue };
            let line = if is_old {
                paint::removed(&format!("- {line}"))
            } else {
                paint::added(&format!("+ {line}"))
            };
            text.push_str(&format!("{indent}{line}\n"));
        }
    }
    let operations = reached(versions, change, MOST_NAMED);
    if !operations.is_empty() {
        text.push_str(&format!("{indent}{}\n", operations.trim_start()));
    }
    if let Some(confidence) = change.confidence {
        text.push_str(&format!(
            "{indent}{}\n",
            paint::faint(&format!("one thing under two names: {}", confidence.name()))
        ));
    }
    if let Some(reason) = &change.accepted {
        text.push_str(&format!("{indent}{} {reason}\n", paint::good("accepted:")));
    }
    if let Some(depends) = change.depends {
        text.push_str(&format!("{indent}depends on {}\n", depends.words()));
    }
    if let Some(witness) = &change.witness {
        text.push_str(&witness::text(witness, width));
    }
    let was = change.old_place.map(|place| Spot::of(versions.old, place));
    let is = change.new_place.map(|place| Spot::of(versions.new, place));
    let places: Vec<String> = [was, is].into_iter().flatten().map(|spot| spot.to_string()).collect();
    let places = paint::faint(&format!("{}  {}", change.kind, places.join(" -> ")));
    text.push_str(&format!("{indent}{places}\n\n"));
    text
}

/// The sides of operations where a change does its worst, each operation named once; of more than `most`, the first few.
pub fn reached(versions: Versions<'_>, change: &Change, most: usize) -> String {
    let mut operations: Vec<(&str, Vec<String>)> = Vec::new();
    for touched in change.worst() {
        let operation = versions.operation_name(touched.at);
        let side = versions.side_name(touched.at);
        match operations.iter_mut().find(|(known, _)| *known == operation) {
            Some((_, sides)) => sides.push(side),
            None => operations.push((operation, vec![side])),
        }
    }
    if operations.is_empty() {
        return String::new();
    }
    let named = if operations.len() > most { FEW.min(most) } else { operations.len() };
    let name = |(operation, sides): &(&str, Vec<String>)| format!("{operation} ({})", sides.join(", "));
    let listed: Vec<String> = operations[..named].iter().map(name).collect();
    let more = match operations.len() - named {
        0 => String::new(),
        more => format!(" and {more} more"),
    };
    format!("  in {}{more}", listed.join(", "))
}

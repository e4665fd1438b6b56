//! A comparison for people: the verdict, then what breaks and what bends, the weightiest first, and last what keeps. However
//! much differs, it stays readable: what there is no room for is told in a line, then counted.

use std::cmp::Reverse;
use std::collections::BTreeMap;

use charter_compare::what::Migration;
use charter_compare::{Advice, Beside, Change, Depends, Kind, Open, Report, Verdict, Versions, What};
use charter_remedy::NoWay;
use charter_session::Spot;

use super::consumers::Because;
use super::witness::INDENT;
use super::{Compared, lines, witness};
use crate::paint;

/// Changes that are not counted by kind before they are listed.
const MANY: usize = 20;
/// Lines of a report, lines up to which changes are told in full, and up to which they are told in a line each.
const MOST_LINES: usize = 400;
const IN_FULL: usize = 300;
const IN_A_LINE: usize = 370;
/// Lines of which what keeps is never more where there is something else.
const FEW_KEPT: usize = 12;
/// Examples of what differs in open content, and places where it may stand, that are named.
const EXAMPLES: usize = 3;
/// Operations that are named for one change; of more, the first few are.
pub const MOST_NAMED: usize = 8;
const FEW: usize = 6;

/// A report, in so many columns; cut to what fits unless `all` is wanted.
pub fn text(compared: &Compared, width: usize, all: bool) -> String {
    let Compared { report, names: (old_name, new_name), .. } = compared;
    let versions = compared.versions();
    let mut text = format!("{}\n", verdict_line(old_name, new_name, report));
    compared.asked.iter().for_each(|(name, verdict)| text.push_str(&asked_line(name, *verdict)));
    text.push('\n');
    if report.changes.len() > MANY {
        text.push_str(&counts(report));
    }
    let (mut lines, mut left) = (text.lines().count(), Vec::new());
    let mut shown_in_a_line = false;
    let mut said = Vec::new();
    for (number, change) in by_weight(compared) {
        let mut said_too = said.clone();
        let whole = in_full(compared, (number, change), width, &mut said_too);
        let line = in_a_line(versions, change);
        if all || lines + whole.lines().count() <= IN_FULL {
            lines += whole.lines().count();
            said = said_too;
            text.push_str(&whole);
        } else if lines < IN_A_LINE {
            lines += 1;
            shown_in_a_line = true;
            text.push_str(&line);
        } else {
            left.push(change);
        }
    }
    if shown_in_a_line {
        text.push('\n');
    }
    if !left.is_empty() {
        text.push_str(&format!("{} more: {}; --all shows them\n\n", left.len(), kinds(&left)));
    }
    let kept: Vec<&Change> =
        report.changes.iter().filter(|change| change.verdict == Verdict::Keeps).collect();
    let others = report.changes.len() - kept.len();
    let room = if others == 0 { MOST_LINES - lines } else { FEW_KEPT };
    // What keeps everybody needs no proof, only to be seen.
    if all || kept.len() <= room {
        kept.iter().for_each(|change| text.push_str(&in_a_line(versions, change)));
    } else if report.changes.len() > MANY {
        text.push_str(&format!(
            "{} {} changes; --all lists them\n",
            paint::verdict(Verdict::Keeps),
            kept.len()
        ));
    } else {
        let verdict = paint::verdict(Verdict::Keeps);
        text.push_str(&format!("{verdict} {}: {}; --all lists them\n", kept.len(), kinds(&kept)));
    }
    if kept.is_empty() && text.ends_with("\n\n") {
        text.pop();
    }
    text
}

/// What breaks, then what bends: what moved first, what is named before what is open; then by the consumers and the operations
/// that it reaches.
fn by_weight(compared: &Compared) -> Vec<(usize, &Change)> {
    let consumers = |change: &Change| {
        let is_this =
            |it: &Because| (&it.path, it.kind, &it.what) == (&change.path, change.kind, &change.what);
        compared.consumers.iter().filter(|one| one.because.iter().any(is_this)).count()
    };
    let mut all: Vec<(usize, &Change)> = compared.report.changes.iter().enumerate().collect();
    all.retain(|(_, change)| change.verdict != Verdict::Keeps);
    all.sort_by_cached_key(|(number, change)| {
        let operations = change.worst().map(|touched| (touched.at.version, touched.at.operation));
        let mut operations: Vec<_> = operations.collect();
        operations.sort_unstable();
        operations.dedup();
        let reached = match change.kind {
            // It cuts off all who call there.
            Kind::PortRemoved => usize::MAX,
            Kind::OperationRemoved | Kind::OperationRenamed => operations.len().max(1),
            _ => operations.len(),
        };
        (
            !change.is_migration(),
            Reverse(change.verdict),
            change.open.is_some(),
            Reverse(consumers(change)),
            Reverse(reached),
            *number,
        )
    });
    all
}

/// How many changes there are, by verdict and kind, the most frequent first.
fn counts(report: &Report) -> String {
    let mut text = String::new();
    for verdict in [Verdict::Breaks, Verdict::Bends, Verdict::Keeps] {
        let all: Vec<&Change> = report.changes.iter().filter(|change| change.verdict == verdict).collect();
        if !all.is_empty() {
            text.push_str(&format!("{} {}: {}\n", paint::verdict(verdict), all.len(), kinds(&all)));
        }
    }
    text + "\n"
}

/// Changes counted by kind, as `5 element-added, 4 type-changed`.
fn kinds(changes: &[&Change]) -> String {
    let mut kinds: BTreeMap<&str, usize> = BTreeMap::new();
    for change in changes {
        *kinds.entry(change.kind.name()).or_default() += 1;
    }
    let mut kinds: Vec<(&str, usize)> = kinds.into_iter().collect();
    kinds.sort_by_key(|(_, count)| Reverse(*count));
    let listed: Vec<String> = kinds.iter().map(|(rule, count)| format!("{count} {rule}")).collect();
    listed.join(", ")
}

/// A change in a line.
fn in_a_line(versions: Versions<'_>, change: &Change) -> String {
    let verdict = paint::verdict(change.verdict);
    let path = paint::path(change.path.as_str());
    format!("{verdict} {path}: {}{}\n", change.what, reached(versions, change, MOST_NAMED))
}

fn verdict_line(old: &str, new: &str, report: &Report) -> String {
    let between = paint::faint(&format!("from {old} to {new}"));
    let accepted = match report.accepted() {
        0 => String::new(),
        count => format!("({count} accepted) "),
    };
    let summary = paint::strong(&summary(report));
    format!("{} {accepted}{summary}\n       {between}", paint::verdict(report.verdict))
}

/// What becomes of an operation that was asked for.
fn asked_line(name: &str, verdict: Verdict) -> String {
    let words = match verdict {
        Verdict::Keeps => "all that consumers do with it still works",
        Verdict::Bends => "it works on the wire; see what it depends on",
        Verdict::Breaks => "it no longer works as it did",
    };
    format!("{} {}: {words}\n", paint::verdict(verdict), paint::strong(name))
}

/// The verdict in words.
pub fn summary(report: &Report) -> String {
    if let Some(moved) = report.changes.iter().find(|change| change.is_migration()) {
        return beyond(report, moved);
    }
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

/// The verdict where the contract moved: what everybody has to do for that, and what there is beyond it.
fn beyond(report: &Report, moved: &Change) -> String {
    let move_to = match (&moved.what, moved.verdict) {
        (What::Migrated { migration }, Verdict::Bends | Verdict::Breaks) => {
            format!("every consumer must {}", moves(migration))
        }
        (What::Migrated { migration }, Verdict::Keeps) if migration.namespaces.is_empty() => {
            "local names moved".to_owned()
        }
        _ => "the namespace moved".to_owned(),
    };
    let count = |verdict: Verdict| {
        report.changes.iter().filter(|change| change.verdict == verdict && !change.is_migration()).count()
    };
    let rest = match (count(Verdict::Breaks), count(Verdict::Bends)) {
        (0, 0) => "all else keeps".to_owned(),
        (0, bends) => format!("{bends} {} {}", changes(bends), if bends == 1 { "bends" } else { "bend" }),
        (breaks, 0) => {
            format!("{breaks} {} {}", changes(breaks), if breaks == 1 { "breaks" } else { "break" })
        }
        (breaks, bends) => format!(
            "{breaks} {} {} and {bends} {}",
            changes(breaks),
            if breaks == 1 { "breaks" } else { "break" },
            if bends == 1 { "bends" } else { "bend" },
        ),
    };
    format!("{move_to}; beyond that, {rest}")
}

/// What all have to do.
fn moves(migration: &Migration) -> String {
    let to: Vec<String> = migration.namespaces.iter().map(|(_, is)| format!("\"{is}\"")).collect();
    let whole = (!to.is_empty()).then(|| format!("move to {}", to.join(" and ")));
    let locals = migration.locals.iter().map(|locals| {
        let way = if locals.qualified { "into" } else { "out of" };
        format!("move {} {way} \"{}\"", locals.counted(), locals.namespace)
    });
    whole.into_iter().chain(locals).collect::<Vec<_>>().join(" and ")
}

fn changes(count: usize) -> &'static str {
    if count == 1 { "change" } else { "changes" }
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

fn in_full(
    compared: &Compared,
    (number, change): (usize, &Change),
    width: usize,
    said: &mut Vec<NoWay>,
) -> String {
    let (versions, indent) = (compared.versions(), INDENT);
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
    if let Some(open) = &change.open {
        text.push_str(&opened(open));
    }
    let operations = reached(versions, change, MOST_NAMED);
    if !operations.is_empty() {
        text.push_str(&format!("{indent}{}\n", operations.trim_start()));
    }
    if let Some(confidence) = change.confidence.filter(|_| !change.is_migration()) {
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
    text.push_str(&compared.ways.text(number, said));
    let was = change.old_place.map(|place| Spot::of(versions.old, place));
    let is = change.new_place.map(|place| Spot::of(versions.new, place));
    let places: Vec<String> = [was, is].into_iter().flatten().map(|spot| spot.to_string()).collect();
    let places = paint::faint(&format!("{}  {}", change.kind, places.join(" -> ")));
    text.push_str(&format!("{indent}{places}\n\n"));
    text
}

/// Where open content may stand, and some of what differs in it.
fn opened(open: &Open) -> String {
    let mut text = String::new();
    if open.points.len() > 1 {
        let named: Vec<&str> = open.points.iter().take(EXAMPLES).map(|path| path.as_str()).collect();
        let more = match open.points.len() - named.len() {
            0 => String::new(),
            more => format!(" and {more} more"),
        };
        text.push_str(&format!("{INDENT}at {}{more}\n", named.join(", ")));
    }
    for difference in open.differences.iter().take(EXAMPLES) {
        text.push_str(&format!(
            "{INDENT}such as {}: {}\n",
            paint::path(difference.path.as_str()),
            difference.what
        ));
    }
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
    let all = versions.new.operations().count();
    if operations.len() > most && operations.len() == all {
        return format!("  in all {all} operations");
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

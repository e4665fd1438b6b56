//! The whole comparison on a page, in HTML that needs nothing else.

use charter_compare::{Advice, Change, Verdict, Versions, Witness};
use charter_remedy::WayOut;
use charter_session::Spot;
use minijinja::context;
use serde::Serialize;

use super::consumers::{Affected, Because, Refused};
use super::text::{MOST_NAMED, advice_words, reached, summary};
use super::{Compared, lines, witness};

#[derive(Serialize)]
struct ChangeRow {
    message: String,
    path: String,
    rule: &'static str,
    operations: String,
    /// All of them, where some are not named.
    all_operations: Option<String>,
    depends: Option<String>,
    confidence: Option<&'static str>,
    accepted: Option<String>,
    old: Option<String>,
    new: Option<String>,
    places: String,
    witness: Option<Message>,
    way: Option<WayRow>,
    no_way: Option<String>,
}

#[derive(Serialize)]
struct Message {
    what: String,
    by: &'static str,
    other: &'static str,
    verb: &'static str,
    because: Option<String>,
    lines: Vec<Line>,
}

#[derive(Serialize)]
struct Line {
    text: String,
    wrong: Option<String>,
}

#[derive(Serialize)]
struct Group {
    verdict: &'static str,
    title: &'static str,
    changes: Vec<ChangeRow>,
}

#[derive(Serialize)]
struct Row {
    name: String,
    contact: Option<String>,
    verdict: &'static str,
    cells: Vec<Cell>,
    replay: String,
    because: Vec<Reason>,
    refused: Vec<Unfit>,
}

/// Why a change meets a consumer.
#[derive(Serialize)]
struct Reason {
    verdict: &'static str,
    message: String,
    path: String,
    reason: String,
    witness: Option<Message>,
}

/// What would keep a change from breaking.
#[derive(Serialize)]
struct WayRow {
    message: String,
    verdict: &'static str,
    lines: Vec<String>,
    command: Option<String>,
}

/// A captured message that no longer fits.
#[derive(Serialize)]
struct Unfit {
    file: String,
    what: String,
    because: String,
}

#[derive(Serialize)]
struct Cell {
    verdict: &'static str,
    reason: String,
}

/// The page of one comparison.
pub fn page(compared: &Compared, advice: Option<&Advice>) -> String {
    let report = &compared.report;
    let of = |verdict: Verdict| {
        report.changes.iter().enumerate().filter(move |(_, change)| change.verdict == verdict)
    };
    let group = |verdict: Verdict, title| Group {
        verdict: verdict.name(),
        title,
        changes: of(verdict).map(|change| shown(compared, change)).collect(),
    };
    let groups = [group(Verdict::Breaks, "Breaks"), group(Verdict::Bends, "Bends")];
    let groups: Vec<Group> = groups.into_iter().filter(|group| !group.changes.is_empty()).collect();
    let kept: Vec<ChangeRow> = of(Verdict::Keeps).map(|change| shown(compared, change)).collect();
    let counts: Vec<_> = [Verdict::Breaks, Verdict::Bends, Verdict::Keeps]
        .into_iter()
        .map(|verdict| context! { verdict => verdict.name(), number => of(verdict).count() })
        .collect();
    let (columns, consumers) = matrix(&compared.consumers, compared.versions());
    crate::escape::page(
        include_str!("page.html"),
        context! {
            title => format!("{} to {}", compared.names.0, compared.names.1),
            verdict => report.verdict.name(),
            summary => summary(report),
            old => compared.names.0,
            new => compared.names.1,
            advice => advice.and_then(advice_words),
            counts, groups, kept, columns, consumers,
        },
    )
}

fn shown(compared: &Compared, (number, change): (usize, &Change)) -> ChangeRow {
    let versions = compared.versions();
    let was = change.old_place.map(|place| Spot::of(&compared.old, place));
    let is = change.new_place.map(|place| Spot::of(&compared.new, place));
    let places: Vec<String> = [was, is].into_iter().flatten().map(|spot| spot.to_string()).collect();
    let same = change.old == change.new;
    let (old, new) = lines::shown(change.old.as_deref(), change.new.as_deref());
    ChangeRow {
        message: change.what.to_string(),
        path: change.path.to_string(),
        rule: change.kind.name(),
        operations: reached_in(versions, change, MOST_NAMED),
        all_operations: Some(reached_in(versions, change, usize::MAX))
            .filter(|all| *all != reached_in(versions, change, MOST_NAMED)),
        depends: change.depends.map(|depends| depends.words()),
        confidence: change.confidence.filter(|_| !change.is_migration()).map(|confidence| confidence.name()),
        accepted: change.accepted.clone(),
        old: old.filter(|_| !same),
        new: new.filter(|_| !same),
        places: places.join(" \u{2192} "),
        witness: change.witness.as_ref().and_then(|witness| message(witness, versions)),
        way: way(compared, number),
        no_way: match compared.ways.of(number) {
            Some(WayOut::None(why)) => Some(why.to_string()),
            _ => None,
        },
    }
}

fn way(compared: &Compared, number: usize) -> Option<WayRow> {
    let Some(WayOut::Edit(way)) = compared.ways.of(number) else { return None };
    Some(WayRow {
        message: way.remedy.to_string(),
        verdict: way.verdict.name(),
        lines: compared.ways.notation(way),
        command: compared.ways.command(way),
    })
}

/// The operations that a change reaches, at most so many of them.
fn reached_in(versions: Versions<'_>, change: &Change, most: usize) -> String {
    reached(versions, change, most).trim_start().trim_start_matches("in ").to_owned()
}

fn message(witness: &Witness, versions: Versions<'_>) -> Option<Message> {
    let body = witness.body.as_ref()?;
    let lines = witness::lines(body, witness);
    let marked = lines.iter().any(|line| line.wrong.is_some());
    let lines = lines.into_iter().map(|line| Line { text: line.text, wrong: line.wrong });
    Some(Message {
        what: format!("{} ({})", versions.operation_name(witness.at), versions.side_name(witness.at)),
        by: witness.accepted_by.name(),
        other: witness.accepted_by.other().name(),
        verb: witness::verb(witness),
        because: (!marked).then(|| witness.because()),
        lines: lines.collect(),
    })
}

fn reason(because: &Because, versions: Versions<'_>) -> Reason {
    Reason {
        verdict: because.verdict.name(),
        message: because.what.to_string(),
        path: because.path.to_string(),
        reason: because.reason.to_string(),
        witness: because.witness.as_ref().and_then(|witness| message(witness, versions)),
    }
}

fn unfit(refused: &Refused) -> Unfit {
    Unfit {
        file: refused.file.clone(),
        what: format!("{} {}", refused.operation, refused.side),
        because: refused.because.clone(),
    }
}

/// A change at the head of a column.
#[derive(Serialize)]
struct Column {
    name: String,
    path: String,
}

/// The changes that meet any consumer, and a row for each consumer.
fn matrix(affected: &[Affected], versions: Versions<'_>) -> (Vec<Column>, Vec<Row>) {
    let mut columns: Vec<(usize, String)> = affected
        .iter()
        .flat_map(|one| &one.because)
        .map(|because| (because.change, because.path.to_string()))
        .collect();
    columns.sort();
    columns.dedup();
    let row = |one: &Affected| {
        let cell = |(change, _): &(usize, String)| {
            let because = one.because.iter().find(|because| because.change == *change);
            Cell {
                verdict: because.map_or("", |because| because.verdict.name()),
                reason: because.map_or_else(String::new, |because| because.reason.to_string()),
            }
        };
        Row {
            name: one.name.clone(),
            contact: one.contact.clone(),
            verdict: one.verdict.name(),
            cells: columns.iter().map(cell).collect(),
            replay: one.replayed.words(),
            because: one.because.iter().map(|because| reason(because, versions)).collect(),
            refused: one.replayed.refused.iter().map(unfit).collect(),
        }
    };
    let rows = affected.iter().map(row).collect();
    let column = |(_, path): (usize, String)| Column {
        name: path.rsplit('/').next().unwrap_or(&path).to_owned(),
        path,
    };
    (columns.into_iter().map(column).collect(), rows)
}

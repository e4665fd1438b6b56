//! Who is affected: every consumer record against every change, and its captured messages against the new version.

use std::path::Path;

use charter_compare::{Change, Consequence, Kind, Reason, Report, Verdict, What, Witness};
use charter_contract::{ComponentPath, Contract, Direction};
use charter_message::captured::split;
use charter_message::matching::{Matcher, Severity};
use charter_schema::Engine;

use super::record::Record;
use super::witness::{self, INDENT};
use crate::commands::matching;
use crate::common::Common;
use crate::console::Failure;
use crate::paint;

/// Messages that are shown for one consumer; a page has all.
const MOST_SHOWN: usize = 5;
/// The width of a column of the table, of what was replayed, and how many columns there are at least.
const COLUMN: usize = 7;
const REPLAY: usize = 12;
const FEWEST: usize = 4;

/// What a revision does to one consumer.
pub struct Affected {
    /// Its name.
    pub name: String,
    /// Whom to tell.
    pub contact: Option<String>,
    /// The version that it was built for.
    pub contract: Option<String>,
    /// The worst of everything.
    pub verdict: Verdict,
    /// What meets it.
    pub because: Vec<Because>,
    /// What became of its captured messages.
    pub replayed: Replayed,
}

/// A change that meets a consumer.
pub struct Because {
    /// The change, by its place in the report.
    pub change: usize,
    /// The component that changed.
    pub path: ComponentPath,
    /// The kind of change.
    pub kind: Kind,
    /// What changed.
    pub what: What,
    /// What it does to this consumer.
    pub verdict: Verdict,
    /// Why.
    pub reason: Reason,
    /// A message that shows it.
    pub witness: Option<Witness>,
}

/// Captured messages, judged by the new version.
#[derive(Default)]
pub struct Replayed {
    /// How many there were that the old version accepts.
    pub messages: usize,
    /// Those that the new version refuses.
    pub refused: Vec<Refused>,
}

impl Replayed {
    /// How many of them fit, in a few words.
    pub fn words(&self) -> String {
        match self.messages {
            0 => "-".to_owned(),
            all => format!("{} of {all} fit", all - self.refused.len()),
        }
    }
}

/// A captured message that the new version refuses.
pub struct Refused {
    /// The file, with the line if it holds several.
    pub file: String,
    /// The operation.
    pub operation: String,
    /// The side.
    pub side: String,
    /// What is wrong with it now.
    pub because: String,
    /// Whether the consumer sent it.
    pub sent: bool,
}

/// Puts together what is known of each consumer.
pub fn affected(
    common: &Common,
    records: &[&Record],
    consequences: Vec<Vec<Consequence>>,
    report: &Report,
    versions: (&Contract, &Contract),
) -> Result<Vec<Affected>, Failure> {
    let mut all = Vec::new();
    for (record, found) in records.iter().zip(consequences) {
        let because: Vec<Because> = found.into_iter().map(|one| because(one, &report.changes)).collect();
        let replayed = replayed(common, record, versions)?;
        let of_replay = match &replayed.refused {
            refused if refused.iter().any(|message| message.sent) => Verdict::Breaks,
            refused if !refused.is_empty() => Verdict::Bends,
            _ => Verdict::Keeps,
        };
        let verdict = because.iter().map(|one| one.verdict).max().unwrap_or(Verdict::Keeps).max(of_replay);
        all.push(Affected {
            name: record.name.clone(),
            contact: record.contact.clone(),
            contract: record.contract.clone(),
            verdict,
            because,
            replayed,
        });
    }
    Ok(all)
}

fn because(found: Consequence, changes: &[Change]) -> Because {
    let change = &changes[found.change];
    Because {
        change: found.change,
        path: change.path.clone(),
        kind: change.kind,
        what: change.what.clone(),
        verdict: found.verdict,
        reason: found.reason,
        witness: found.witness,
    }
}

/// Judges the captured messages of a consumer by the new version, those that the old one accepts.
fn replayed(
    common: &Common,
    record: &Record,
    (old, new): (&Contract, &Contract),
) -> Result<Replayed, Failure> {
    let mut replayed = Replayed::default();
    if record.captured.is_empty() {
        return Ok(replayed);
    }
    let (old_engine, new_engine) =
        (Engine::new(&old.files, &old.schemas), Engine::new(&new.files, &new.schemas));
    let (before, after) = (Matcher::new(old, &old_engine, 1), Matcher::new(new, &new_engine, 1));
    let arguments: Vec<String> = record.captured.iter().map(|path| path.display().to_string()).collect();
    for file in matching::files(&arguments)? {
        let bytes = matching::read(common, &file)?;
        for raw in split(&file, &bytes) {
            let captured = raw.open();
            let was = before.judge(&captured);
            let Some(known) = was.shape.filter(|_| !was.nearest && was.is_valid()) else { continue };
            let shape = &before.known()[known].shape;
            replayed.messages += 1;
            let is = after.judge(&captured);
            if is.is_valid() {
                continue;
            }
            let first = is.found.iter().find(|found| found.severity == Severity::Error);
            replayed.refused.push(Refused {
                file: raw.label.clone(),
                operation: old.operation(shape.operation).name.text.to_string(),
                side: old.side_name(shape.operation, shape.side),
                because: first
                    .map_or_else(|| "it matches nothing".to_owned(), |found| found.fault.message.clone()),
                sent: shape.direction == Direction::Request,
            });
        }
    }
    Ok(replayed)
}

/// The consumers for people: who is met by what, and why.
pub fn text(affected: &[Affected], width: usize) -> String {
    let mut text = format!("{}\n", paint::strong("consumers"));
    text.push_str(&matrix(affected, width));
    text.push('\n');
    for one in affected.iter().filter(|one| one.verdict != Verdict::Keeps) {
        let contact = one.contact.as_ref().map(|contact| format!("  {contact}")).unwrap_or_default();
        let built = one.contract.as_ref().map(|version| format!(", built for {version}")).unwrap_or_default();
        let about = paint::faint(&format!("{contact}{built}"));
        text.push_str(&format!("{} {}{about}\n", paint::verdict(one.verdict), paint::strong(&one.name)));
        let mut shown = 0;
        for because in &one.because {
            text.push_str(&format!(
                "{INDENT}{} {}: {}\n",
                paint::verdict(because.verdict),
                paint::path(because.path.as_str()),
                because.what
            ));
            text.push_str(&format!("{INDENT}       {}\n", because.reason));
            if let Some(witness) = &because.witness
                && because.verdict == Verdict::Breaks
            {
                shown += 1;
                if shown <= MOST_SHOWN {
                    text.push_str(&witness::text(witness, width));
                }
            }
        }
        if shown > MOST_SHOWN {
            let more = shown - MOST_SHOWN;
            text.push_str(&format!("{INDENT}{more} more have a message that shows it: --as page\n"));
        }
        for refused in &one.replayed.refused {
            text.push_str(&format!(
                "{INDENT}{} {} ({} {}) no longer fits: {}\n",
                paint::error(">"),
                refused.file,
                refused.operation,
                refused.side,
                refused.because
            ));
        }
        text.push('\n');
    }
    text
}

/// A row for each consumer, a column for each change that meets any of them; as many beside each other as there is room
/// for.
fn matrix(affected: &[Affected], width: usize) -> String {
    let mut columns: Vec<(usize, &str, &str)> = affected
        .iter()
        .flat_map(|one| &one.because)
        .map(|because| (because.change, because.path.as_str(), because.kind.name()))
        .collect();
    columns.sort_unstable();
    columns.dedup();
    let widest = affected.iter().map(|one| one.name.chars().count()).max().unwrap_or(0);
    let mut text = String::new();
    for (number, (_, path, rule)) in columns.iter().enumerate() {
        text.push_str(&format!("{INDENT}{} {path} {}\n", number + 1, paint::faint(rule)));
    }
    let room = width.saturating_sub(INDENT.len() + widest + 2 + REPLAY) / COLUMN;
    let room = room.max(FEWEST);
    let numbered: Vec<(usize, usize)> =
        columns.iter().enumerate().map(|(number, column)| (number + 1, column.0)).collect();
    // Without any column there is still what was replayed.
    let blocks: Vec<&[(usize, usize)]> =
        if numbered.is_empty() { vec![&[]] } else { numbered.chunks(room).collect() };
    for (at, block) in blocks.iter().enumerate() {
        let is_last = at + 1 == blocks.len();
        let heads: String = block.iter().map(|(number, _)| format!("{number:<COLUMN$}")).collect();
        let head = format!("{INDENT}{:widest$}  {heads}{}", "", if is_last { "replay" } else { "" });
        text.push_str(&format!("{}\n", head.trim_end()));
        for one in affected {
            let mut row = format!("{INDENT}{:widest$}  ", one.name);
            for (_, change) in *block {
                let cell = one.because.iter().find(|because| because.change == *change);
                let cell =
                    cell.map_or_else(|| format!("{:6}", "-"), |because| paint::verdict(because.verdict));
                row.push_str(&cell);
                row.push(' ');
            }
            if is_last {
                row.push_str(&one.replayed.words());
            }
            text.push_str(&format!("{}\n", row.trim_end()));
        }
    }
    text
}

/// Whether a folder is there at all; its absence is told before anything is compared.
pub fn is_there(folder: &Path) -> Result<(), Failure> {
    if folder.is_dir() {
        return Ok(());
    }
    Err(Failure::new("there is no such folder of consumer records")
        .at(folder.display().to_string())
        .help("give the folder that holds the records, files such as harbour-desk.toml"))
}

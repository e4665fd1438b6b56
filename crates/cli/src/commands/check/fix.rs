//! Mends what can be mended safely.

use std::collections::BTreeMap;

use charter_author::{Change, Editing, replace};
use charter_check::{Finding, Level, Settings, check_by};
use charter_contract::Contract;
use charter_source::{Location, Overlay, Store, TextEdit};

use super::each::Options;
use crate::args::{CheckArgs, Format};
use crate::commands::{Outcome, change};
use crate::config;
use crate::console::{Console, Failure, Status};
use crate::load::{self, Common};
use crate::{files, findings, paint};

/// How often a contract is looked at anew: what one fix brings to light, the next round mends.
const ROUNDS: usize = 20;

pub fn run(args: &CheckArgs, arguments: &[String], common: &Common, console: &mut Console) -> Outcome {
    let options = Options::of(args, Format::Text, console.width())?;
    let mut status = Status::Yes;
    for file in arguments {
        if file == "-" {
            return Err(Failure::new("standard input cannot be mended").help("save it as a file first"));
        }
        // What is merely worth knowing is mended too.
        let (mut settings, _) = options.settings(file)?;
        settings.notes = true;
        status = status.max(mend(file, &settings, args.dry_run, common, console)?);
    }
    Ok(status)
}

/// Mends one contract with all its files, and says what was done and what is left.
fn mend(file: &str, settings: &Settings, dry_run: bool, common: &Common, console: &mut Console) -> Outcome {
    let contract = change::settled(file, common, dry_run, load::load)?;
    let mut rounds = Rounds { store: Overlay::new(&common.store), done: BTreeMap::new(), files: Vec::new() };
    let convention = config::convention(file)?;
    let mut left = check_by(&contract, settings).findings;
    let mut again: Option<Contract> = None;
    for _ in 0..ROUNDS {
        let current = again.as_ref().unwrap_or(&contract);
        let Some(made) = rounds.step(current, &left, settings, &convention) else { break };
        rounds.take(&made);
        let loaded = Contract::load(&rounds.store, &Location::from_argument(file), common.store.limits());
        let loaded = loaded.map_err(|error| Failure::new(error.to_string()).at(file.to_owned()))?;
        left = check_by(&loaded, settings).findings;
        again = Some(loaded);
    }
    let change = rounds.change();
    if dry_run {
        console.data(&paint::diff(&change::diff(&change)));
    } else {
        files::replace(&common.writers, &change.files)?;
        for (rule, count) in &rounds.done {
            console.out(&format!("{:8}{rule}, {}\n", "mended", findings::of(*count, "place")));
        }
        for file in &change.files {
            console.out(&format!("in {}\n", file.location));
        }
    }
    let count = |level| left.iter().filter(|finding| finding.level == level).count();
    let (errors, warnings) = (count(Level::Error), count(Level::Warning));
    let words = match rounds.done.is_empty() {
        true => "nothing to mend",
        false if dry_run => "once this is done",
        false => "now",
    };
    console.note(&format!("{file}: {words}, {}\n", findings::count(errors, warnings, 0)));
    Ok(if errors > 0 { Status::No } else { Status::Yes })
}

/// The rounds of mending.
struct Rounds<'s> {
    /// The texts as far as they are mended.
    store: Overlay<&'s dyn Store>,
    /// What was mended, by rule.
    done: BTreeMap<&'static str, usize>,
    /// The files that change, from the first text to the last.
    files: Vec<charter_author::FileChange>,
}

impl Rounds<'_> {
    /// One round: all fixes that go together; if these do harm together, the first that does none by itself.
    fn step(
        &mut self,
        contract: &Contract,
        findings: &[Finding],
        settings: &Settings,
        convention: &charter_notation::Convention,
    ) -> Option<Change> {
        let editing = Editing { force: true, ..Editing::of(contract, &self.store, convention) };
        let mut fixes: Vec<(&'static str, Vec<TextEdit>)> = Vec::new();
        for finding in findings {
            let Some(edits) = finding.fix(editing) else { continue };
            let taken = || fixes.iter().flat_map(|(_, edits)| edits);
            let same = fixes.iter().any(|(_, other)| *other == edits);
            if !same && !edits.iter().any(|edit| taken().any(|other| meets(edit, other))) {
                fixes.push((finding.rule.name, edits));
            }
        }
        let all: Vec<TextEdit> = fixes.iter().flat_map(|(_, edits)| edits.clone()).collect();
        if let Some(change) = self.sound(editing, all, findings, settings) {
            fixes.iter().for_each(|(rule, _)| *self.done.entry(rule).or_default() += 1);
            return Some(change);
        }
        let (rule, change) = fixes
            .into_iter()
            .find_map(|(rule, edits)| Some((rule, self.sound(editing, edits, findings, settings)?)))?;
        *self.done.entry(rule).or_default() += 1;
        Some(change)
    }

    /// The change that edits make, if there is less to find after it than before.
    fn sound(
        &self,
        editing: Editing<'_>,
        edits: Vec<TextEdit>,
        before: &[Finding],
        settings: &Settings,
    ) -> Option<Change> {
        let change = replace(editing, edits).ok()?;
        let mut store = Overlay::new(&self.store);
        change.files.iter().for_each(|file| store.put(&file.location, file.new_bytes.clone()));
        let start = &editing.contract.files.first().location;
        let contract = Contract::load(&store, start, store.limits()).ok()?;
        let after = check_by(&contract, settings).findings;
        let count = |findings: &[Finding], level| findings.iter().filter(|it| it.level <= level).count();
        let better = count(&after, Level::Error) <= count(before, Level::Error)
            && count(&after, Level::Warning) <= count(before, Level::Warning)
            && after.len() < before.len();
        better.then_some(change)
    }

    /// Takes over the texts of a change.
    fn take(&mut self, change: &Change) {
        for file in &change.files {
            self.store.put(&file.location, file.new_bytes.clone());
            match self.files.iter_mut().find(|known| known.location == file.location) {
                Some(known) => {
                    known.after.clone_from(&file.after);
                    known.new_bytes.clone_from(&file.new_bytes);
                }
                None => self.files.push(file.clone()),
            }
        }
    }

    /// All rounds as one change.
    fn change(&self) -> Change {
        Change {
            files: self.files.clone(),
            places: Vec::new(),
            notes: Vec::new(),
            account: Vec::new(),
            in_part: false,
        }
    }
}

/// Whether two edits cannot be made together: they touch, and are not both insertions.
fn meets(a: &TextEdit, b: &TextEdit) -> bool {
    let (x, y) = (a.place.span, b.place.span);
    let both_insert = x.is_empty() && y.is_empty();
    a.place.file == b.place.file && x.start <= y.end && y.start <= x.end && !both_insert
}

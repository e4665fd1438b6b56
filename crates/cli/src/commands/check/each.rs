//! Judges one file, and many of them side by side.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use charter_author::Editing;
use charter_check::{Baseline, Checked, Finding, Fixes, Level, Profile, Settings, Stage, check_by};
use charter_contract::{Contract, DocumentKind};
use charter_session::read;
use charter_source::TextEdit;
use rayon::prelude::*;
use serde::Serialize;

use crate::args::{CheckArgs, Format};
use crate::common::Common;
use crate::console::Failure;
use crate::findings::{self, FindingJson};
use crate::progress::Progress;

/// What the arguments settle for all files.
pub struct Options {
    /// The profiles that are asked for.
    profiles: Option<Vec<Profile>>,
    notes: bool,
    baseline: Option<PathBuf>,
    /// Whether every finding is wanted, and not only those that somebody may read.
    keeps_all: bool,
    format: Format,
    width: usize,
}

/// A finding as it is shown.
pub struct ReportedFinding {
    pub finding: Finding,
    pub entry: FindingJson,
    /// For people.
    pub text: String,
    /// The edits that mend it, for programs that offer them.
    pub fix: Vec<Replacement>,
}

/// A stretch of a file that a fix replaces.
#[derive(Serialize)]
pub struct Replacement {
    pub file: String,
    pub line: usize,
    pub column: usize,
    pub end_line: usize,
    pub end_column: usize,
    pub text: String,
}

/// How far a contract got, by stages.
#[derive(Serialize, Default)]
pub struct Reached {
    /// The stages that it reached.
    pub reached: Vec<&'static str>,
    /// The others, with the number of findings that keep it back.
    pub missed: Vec<Missed>,
    /// Those of which nothing can be said, because an import was not read.
    pub unknown: Vec<&'static str>,
}

/// A stage that was not reached.
#[derive(Serialize)]
pub struct Missed {
    pub stage: &'static str,
    pub findings: usize,
}

/// What a check of one file came to.
pub struct CheckedFile {
    pub name: String,
    pub shown: Vec<ReportedFinding>,
    /// How many findings of each level are only counted: nobody reads so many, and all of them would fill the memory.
    pub counted: BTreeMap<Level, usize>,
    pub reached: Reached,
    pub profiles: Vec<Profile>,
    /// What an exception allows.
    pub excepted: Vec<FindingJson>,
    /// What is known already.
    pub known: Vec<FindingJson>,
    /// How many notes were left out.
    pub unsaid: usize,
    /// Whether a rule is broken that `--fix` knows a way to mend.
    pub fixable: bool,
    /// The files that were read.
    pub read: Vec<PathBuf>,
}

impl CheckedFile {
    fn count(&self, level: Level) -> usize {
        let counted = self.counted.get(&level).copied().unwrap_or(0);
        self.shown.iter().filter(|shown| shown.finding.level == level).count() + counted
    }

    pub fn errors(&self) -> usize {
        self.count(Level::Error)
    }

    pub fn warnings(&self) -> usize {
        self.count(Level::Warning)
    }

    pub fn notes(&self) -> usize {
        self.count(Level::Note)
    }
}

impl Options {
    pub fn of(args: &CheckArgs, format: Format, width: usize) -> Result<Options, Failure> {
        Ok(Options {
            profiles: profiles(&args.profiles)?,
            notes: args.notes,
            baseline: args.baseline.clone(),
            keeps_all: args.write_baseline.is_some() || args.files.len() > 1,
            format,
            width,
        })
    }

    /// What is settled for a file, by its `charter.toml` and by the arguments.
    pub fn settings(&self, file: &str, common: &Common) -> Result<(Settings, Option<PathBuf>), Failure> {
        let settled = common.session.settings(file)?;
        let mut settings = settled.check.clone();
        settings.notes = self.notes;
        if self.profiles.is_some() {
            settings.profiles.clone_from(&self.profiles);
        }
        let folder = settled.folder.clone().unwrap_or_default();
        let baseline = settings.baseline.as_ref().map(|name| folder.join(name));
        Ok((settings, self.baseline.clone().or(baseline)))
    }
}

/// The profiles that names mean; `none` asks for none of them.
fn profiles(names: &[String]) -> Result<Option<Vec<Profile>>, Failure> {
    if names.is_empty() {
        return Ok(None);
    }
    let mut found = Vec::new();
    for name in names.iter().filter(|name| *name != "none") {
        found.push(Profile::named(name).ok_or_else(|| {
            let all: Vec<&str> = Profile::ALL.iter().map(|profile| profile.name()).collect();
            let near = charter_source::nearest(name, all.iter().copied());
            let help = near.map_or_else(
                || format!("there is {}, and none", all.join(", ")),
                |near| format!("did you mean {near}?"),
            );
            Failure::new(format!("there is no profile \"{name}\"")).help(help)
        })?);
    }
    Ok(Some(found))
}

/// Bytes of stack for each file judged: chains of definitions in schemas are followed to their ends.
const STACK: usize = 64 << 20;

/// Judges files side by side; the results come in the order of the files.
pub fn judge_all(
    files: &[String],
    options: &Options,
    common: &Common,
    progress: &Progress,
) -> Vec<Result<CheckedFile, Failure>> {
    let one = |file: &String| {
        let judged = judge(file, options, common);
        progress.step();
        judged
    };
    match files {
        [only] => vec![one(only)],
        several => {
            // A pool that is there already is as good; it has less room for schemas that are nested deep.
            let _ = rayon::ThreadPoolBuilder::new().stack_size(STACK).build_global();
            several.par_iter().map(one).collect()
        }
    }
}

fn judge(file: &str, options: &Options, common: &Common) -> Result<CheckedFile, Failure> {
    let (settings, baseline) = options.settings(file, common)?;
    let mut baseline = baseline.as_deref().map(known).transpose()?.unwrap_or_default();
    let contract = common.session.load(file)?;
    let Checked { findings, excepted, profiles, unsaid } = check_by(&contract, &settings);
    // What is known is wrong all the same.
    let reached = reached(&contract, &findings, &settings);
    let (known, mut findings): (Vec<_>, Vec<_>) =
        findings.into_iter().partition(|finding| baseline.takes(finding));
    let mut counted = BTreeMap::new();
    if options.format == Format::Text && !options.keeps_all {
        findings
            .drain(MOST_SHOWN.min(findings.len())..)
            .for_each(|it| *counted.entry(it.level).or_default() += 1);
        findings.shrink_to_fit();
    }
    let entry = |finding: &Finding| findings::entry(&contract, finding);
    let convention = common.session.settings(file)?.names.clone();
    let editing = Editing::of(&contract, &common.session.store, &convention);
    let mut showing = Showing::of(editing, options);
    let fixable = findings.iter().any(|finding| finding.rule.fix.is_some());
    Ok(CheckedFile {
        name: file.to_owned(),
        counted,
        unsaid,
        excepted: excepted.iter().map(entry).collect(),
        known: known.iter().map(entry).collect(),
        shown: findings.into_iter().map(|it| showing.shown(it)).collect(),
        reached,
        profiles,
        fixable,
        read: contract.files.iter().filter_map(|file| file.location.path()).map(Path::to_owned).collect(),
    })
}

/// How many findings of one file are shown to people.
const MOST_SHOWN: usize = 1_000;

/// How many findings of one file come with the edits that mend them.
const FIXES: usize = 200;
/// How many bytes are gone through for fixes, and written as part of them.
const FIX_BYTES: usize = 4 << 20;

/// The findings of one file as they are shown.
struct Showing<'e> {
    contract: &'e Contract,
    format: Format,
    width: usize,
    fixes: Fixes<'e>,
    /// How many findings may still have fixes, and how many bytes these may cost.
    left: (usize, usize),
}

impl<'e> Showing<'e> {
    fn of(editing: Editing<'e>, options: &Options) -> Showing<'e> {
        let contract = editing.contract;
        let with_fixes = matches!(options.format, Format::Json | Format::Sarif);
        Showing {
            contract,
            format: options.format,
            width: options.width,
            fixes: Fixes::of(editing),
            left: if with_fixes { (FIXES, FIX_BYTES) } else { (0, 0) },
        }
    }

    fn shown(&mut self, finding: Finding) -> ReportedFinding {
        let text = match self.format {
            Format::Text => findings::text(self.contract, &finding, self.width),
            _ => String::new(),
        };
        let fix = self.fix(&finding).unwrap_or_default();
        ReportedFinding { entry: findings::entry(self.contract, &finding), finding, text, fix }
    }

    /// The edits that mend a finding, as long as these cost no more than they are worth: of thousands, nobody makes one by one.
    fn fix(&mut self, finding: &Finding) -> Option<Vec<Replacement>> {
        let (findings, bytes) = self.left;
        let (findings, bytes) = (findings.checked_sub(1)?, bytes.checked_sub(self.fixes.cost(finding))?);
        self.left = (findings, bytes);
        let edits = self.fixes.fix(finding)?;
        let written = edits.iter().map(|edit| edit.replacement.len()).sum();
        self.left.1 = bytes.checked_sub(written)?;
        Some(edits.iter().map(|edit| replacement(self.contract, edit)).collect())
    }
}

fn replacement(contract: &Contract, edit: &TextEdit) -> Replacement {
    let file = contract.files.get(edit.place.file);
    let (from, to) = (file.text().position(edit.place.span.start), file.text().position(edit.place.span.end));
    Replacement {
        file: file.location.to_string(),
        line: from.line,
        column: from.column,
        end_line: to.line,
        end_column: to.column,
        text: edit.replacement.clone(),
    }
}

/// The findings that a file says are known.
fn known(path: &Path) -> Result<Baseline, Failure> {
    let shown = path.display().to_string();
    let text = read::small(path).map_err(|error| {
        let failure = Failure::new(format!("the known findings cannot be read: {error}")).at(shown.clone());
        failure.help("write the file with --write-baseline, or take it out of charter.toml")
    })?;
    Baseline::read(&text).map_err(|error| charter_session::settings::failure(&shown, &text, error))
}

/// How far a contract gets: a stage is missed if a finding of its own keeps it back. What profiles ask keeps it
/// back as a warning too, since it is an error only where the profile was asked for.
fn reached(contract: &Contract, findings: &[Finding], settings: &Settings) -> Reached {
    let mut result = Reached::default();
    let readable = contract.files.first().root().is_some();
    // What was not read may be wrong in any way.
    let unread = contract.files.imports().iter().any(|it| it.target.is_none() && it.location.is_some());
    // A message is no contract: of it, only these two can be said.
    let of_message = [Stage::WellFormed, Stage::Interoperable];
    let is_message = matches!(contract.kind(), DocumentKind::Other(_));
    for stage in Stage::ALL.into_iter().filter(|stage| !is_message || of_message.contains(stage)) {
        let wanted = |finding: &&Finding| {
            let most = if stage == Stage::Interoperable { Level::Warning } else { Level::Error };
            finding.rule.stage() == Some(stage) && finding.level <= most
        };
        let against = findings.iter().filter(wanted).count();
        if against > 0 {
            result.missed.push(Missed { stage: stage.name(), findings: against });
        } else if stage == Stage::House && !settings.has_house() || !readable {
            // Nothing was settled, or nothing could be looked at.
        } else if unread && stage != Stage::WellFormed {
            result.unknown.push(stage.name());
        } else {
            result.reached.push(stage.name());
        }
    }
    result
}

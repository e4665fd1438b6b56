//! `charter check`

mod each;
mod fix;
mod junit;
mod rounds;
mod sarif;
mod text;
mod watch;

use std::collections::HashSet;
use std::path::{Path, PathBuf};

use charter_check::{Baseline, Finding};
use charter_session::folders;
use serde::Serialize;

use super::Outcome;
use crate::args::{CheckArgs, Format};
use crate::common::Common;
use crate::console::{Console, Failure, Status};
use crate::findings::{self, FindingJson};
use crate::progress::Progress;
use each::{CheckedFile, Reached};

#[derive(Serialize)]
struct Report<'j> {
    findings: Vec<Found<'j>>,
    errors: usize,
    warnings: usize,
    notes: usize,
    files: Vec<OfFile<'j>>,
}

#[derive(Serialize)]
struct Found<'j> {
    #[serde(flatten)]
    entry: &'j FindingJson,
    #[serde(skip_serializing_if = "<[_]>::is_empty")]
    fix: &'j [each::Replacement],
}

/// How far a file got.
#[derive(Serialize)]
struct OfFile<'j> {
    file: &'j str,
    errors: usize,
    warnings: usize,
    #[serde(flatten)]
    reached: &'j Reached,
    profiles: Vec<&'static str>,
    /// Findings that exceptions allow, or that are known already.
    allowed: usize,
    known: usize,
}

pub fn run(args: &CheckArgs, format: Format, common: &Common, console: &mut Console) -> Outcome {
    if args.watch {
        return watch::run(args, format, common, console);
    }
    let (files, unread) = folders::contracts(&args.files)?;
    if args.fix && format != Format::Text {
        let failure = Failure::new("what is mended is told as text alone");
        return Err(failure.help("leave out --format; check with --format json gives the edits of each fix"));
    }
    if args.fix {
        return fix::run(args, &files, common, console);
    }
    let (status, _) = once(args, &files, format, common, console)?;
    for failure in &unread {
        console.fail(failure);
    }
    Ok(if unread.is_empty() { status } else { Status::NoAnswer })
}

/// Checks files once; what it comes to, and the files that were read for it.
fn once(
    args: &CheckArgs,
    files: &[String],
    format: Format,
    common: &Common,
    console: &mut Console,
) -> Result<(Status, Vec<PathBuf>), Failure> {
    let options = each::Options::of(args, format, console.width())?;
    let progress = Progress::over(files.len(), "files");
    let results = each::judge_all(files, &options, common, &progress);
    progress.done();
    let mut judged: Vec<CheckedFile> = Vec::new();
    let mut failures: Vec<Failure> = Vec::new();
    // What keeps many files from being judged, such as the settings that they share, is said once.
    let mut said: HashSet<(Option<String>, String)> = HashSet::new();
    for result in results {
        match result {
            Ok(one) => judged.push(one),
            Err(failure) => {
                let place = failure.place.as_ref().map(ToString::to_string);
                if said.insert((place, failure.message.clone())) {
                    failures.push(failure);
                }
            }
        }
    }
    said_once(&mut judged);
    if let Some(path) = &args.write_baseline {
        write_baseline(path, &judged, common, console)?;
        for failure in &failures {
            console.fail(failure);
        }
        return Ok((if failures.is_empty() { Status::Yes } else { Status::NoAnswer }, Vec::new()));
    }
    show(&judged, files.len(), format, console);
    for failure in &failures {
        console.fail(failure);
    }
    let errors: usize = judged.iter().map(CheckedFile::errors).sum();
    let status = match (failures.is_empty(), errors) {
        (false, _) => Status::NoAnswer,
        (true, 0) => Status::Yes,
        (true, _) => Status::No,
    };
    Ok((status, judged.into_iter().flat_map(|one| one.read).collect()))
}

/// A file that several contracts import is judged with each of them: what is wrong in it is said once.
fn said_once(judged: &mut [CheckedFile]) {
    if judged.len() < 2 {
        return;
    }
    let mut seen = HashSet::new();
    for one in judged {
        one.shown.retain(|shown| seen.insert(shown.entry.key()));
    }
}

fn show(judged: &[CheckedFile], asked: usize, format: Format, console: &mut Console) {
    let count = |of: fn(&CheckedFile) -> usize| judged.iter().map(of).sum();
    let (errors, warnings, notes) =
        (count(CheckedFile::errors), count(CheckedFile::warnings), count(CheckedFile::notes));
    match format {
        Format::Json => {
            let shown = judged.iter().flat_map(|one| &one.shown);
            let findings = shown.map(|it| Found { entry: &it.entry, fix: &it.fix }).collect();
            let files = judged.iter().map(|one| OfFile {
                file: &one.name,
                errors: one.errors(),
                warnings: one.warnings(),
                reached: &one.reached,
                profiles: one.profiles.iter().map(|profile| profile.name()).collect(),
                allowed: one.excepted.len(),
                known: one.known.len(),
            });
            console.json(&Report { findings, errors, warnings, notes, files: files.collect() });
        }
        Format::Sarif => console.json(&sarif::log(judged)),
        Format::Junit => console.out(&junit::report(judged)),
        Format::Text => {
            judged.iter().for_each(|one| console.out(&text::of(one)));
            if asked > 1 && !judged.is_empty() {
                console.out(&format!("all: {}\n", findings::count(errors, warnings, notes)));
            }
        }
    }
}

/// Writes what is known today, so that only what is new is said from now on.
fn write_baseline(
    path: &Path,
    judged: &[CheckedFile],
    common: &Common,
    console: &mut Console,
) -> Result<(), Failure> {
    let findings: Vec<&Finding> =
        judged.iter().flat_map(|one| one.shown.iter().map(|it| &it.finding)).collect();
    let baseline = Baseline::of(findings);
    charter_session::files::save(&common.session.writers, path, baseline.text().as_bytes())?;
    let many = if baseline.len() == 1 { "finding" } else { "findings" };
    console.out(&format!("{}: {} known {many}\n", path.display(), baseline.len()));
    console.note(&format!(
        "use it with --baseline {0}, or baseline = \"{0}\" in charter.toml\n",
        path.display()
    ));
    Ok(())
}

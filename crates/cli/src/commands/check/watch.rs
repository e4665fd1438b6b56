//! Checks again whenever a file of the contracts changes.

use std::collections::BTreeSet;
use std::path::{Path, PathBuf};
use std::sync::mpsc;
use std::time::Duration;

use charter_session::folders;
use notify::{RecursiveMode, Watcher};

use super::once;
use crate::args::{CheckArgs, Format};
use crate::commands::Outcome;
use crate::common::Common;
use crate::console::{Console, Failure, Status};

/// How long it must be quiet before a change counts as done: editors write a file in several steps.
const QUIET: Duration = Duration::from_millis(80);

pub fn run(args: &CheckArgs, format: Format, common: &Common, console: &mut Console) -> Outcome {
    if args.files.iter().any(|file| file == "-") {
        return Err(Failure::new("standard input cannot be watched").help("save it as a file first"));
    }
    let (send, changes) = mpsc::channel();
    let mut watcher = notify::recommended_watcher(send).map_err(|error| unwatched(&error))?;
    let mut watched: BTreeSet<PathBuf> = BTreeSet::new();
    loop {
        let (files, unread) = folders::contracts(&args.files)?;
        for failure in &unread {
            console.fail(failure);
        }
        let (_, read) = once(args, &files, format, common, console)?;
        let read: BTreeSet<PathBuf> = read.into_iter().chain(files.iter().map(PathBuf::from)).collect();
        // Folders are watched, since an editor may put a new file in the place of the old one.
        for folder in read.iter().map(|file| folder_of(file)).collect::<BTreeSet<_>>() {
            if watched.insert(folder.clone()) {
                watcher.watch(&folder, RecursiveMode::NonRecursive).map_err(|error| unwatched(&error))?;
            }
        }
        console.note(&format!("watching {} files; stop with Ctrl-C\n", read.len()));
        if console.finish(Status::Yes) != Status::Yes {
            return Ok(Status::NoAnswer);
        }
        let read: BTreeSet<PathBuf> = read.iter().map(|file| absolute(file)).collect();
        wait(&changes, &read)?;
    }
}

fn folder_of(file: &Path) -> PathBuf {
    match file.parent() {
        Some(folder) if folder != Path::new("") => folder.to_owned(),
        _ => PathBuf::from("."),
    }
}

fn absolute(file: &Path) -> PathBuf {
    std::fs::canonicalize(file).or_else(|_| std::path::absolute(file)).unwrap_or_else(|_| file.to_owned())
}

/// Waits until one of the files, or a `charter.toml`, has changed, and all is quiet again.
fn wait(
    changes: &mpsc::Receiver<notify::Result<notify::Event>>,
    files: &BTreeSet<PathBuf>,
) -> Result<(), Failure> {
    let counts = |event: &notify::Result<notify::Event>| match event {
        Ok(event) => {
            !event.kind.is_access()
                && event.paths.iter().any(|path| {
                    files.contains(&absolute(path))
                        || path.file_name().is_some_and(|name| name == "charter.toml")
                })
        }
        Err(_) => true,
    };
    loop {
        let event = changes.recv().map_err(|_| Failure::new("the files can no longer be watched"))?;
        if counts(&event) {
            break;
        }
    }
    while changes.recv_timeout(QUIET).is_ok() {}
    Ok(())
}

fn unwatched(error: &notify::Error) -> Failure {
    Failure::new(format!("the files cannot be watched: {error}")).help("check without --watch")
}

//! Writes files: whole or not at all, each as it was in every other respect.
//!
//! `lock` keeps other edits out, `place` knows what belongs to a file besides its text, `note` what becomes of an edit that is
//! cut off.

mod lock;
mod note;
mod place;

use std::borrow::Cow;
use std::fs;
use std::io;
use std::path::{Path, PathBuf};

use charter_author::FileChange;

use crate::{Failure, Notice};
pub use lock::Writers;
use note::{Found, Note, Replacement};
pub use note::{age, is_open};
use place::Lasting;

/// What tells a file from every other, and from itself after any change; nothing if there is none.
pub fn stamp(path: &Path) -> Option<String> {
    fs::metadata(path).ok().map(|facts| place::stamp(&facts))
}

/// Writes a file, whatever it held before: a new one by the user's mask, an old one with its rights, owner and names. What is
/// no regular file, such as a pipe, is written to.
///
/// # Errors
/// If it cannot be written, or somebody else goes on editing in its folder.
pub fn save(writers: &Writers, path: &Path, bytes: &[u8]) -> Result<(), Failure> {
    saved(writers, path, bytes, Lasting::AtOnce)
}

/// Writes one of many results, each of which can be made again. They last once [`keep_results`] has been called for their folder:
/// to wait for the disk after each would take most of the time.
///
/// # Errors
/// As [`save`].
pub fn save_result(writers: &Writers, path: &Path, bytes: &[u8]) -> Result<(), Failure> {
    saved(writers, path, bytes, Lasting::InTheEnd)
}

/// Waits until all results in a folder are on disk.
pub fn keep_results(folder: &Path) {
    place::sync_around(folder);
}

fn saved(writers: &Writers, path: &Path, bytes: &[u8], lasting: Lasting) -> Result<(), Failure> {
    let failed = |error: io::Error| {
        let failure = Failure::new(format!("it could not be written: {error}")).at(show(path));
        failure.help("check the folder, and that it may be written to")
    };
    let real = place::resolved(path).map_err(failed)?;
    let before = match fs::metadata(&real) {
        Ok(facts) if facts.is_dir() => return Err(failed(io::ErrorKind::IsADirectory.into())),
        Ok(facts) if !facts.is_file() => return fs::write(&real, bytes).map_err(failed),
        Ok(_) => Some(fs::read(&real).map_err(failed)?),
        Err(_) => None,
    };
    // The same once more: a thousand files put in the place of others make the disk wait for each.
    if lasting == Lasting::InTheEnd && before.as_deref() == Some(bytes) {
        return Ok(());
    }
    writers.enter(place::folder_of(&real))?;
    let entry = Replacement::prepare(&real, before.as_deref(), bytes, lasting).map_err(failed)?;
    carry_out(vec![entry], &[before.map(Cow::Owned)]).map_err(|(error, _)| failed(error))
}

/// Replaces the files of a change. All new texts are on disk before the first file is replaced, and a file that
/// somebody else has changed since it was read stops everything. Several files are replaced together, even if the
/// program is cut off in between: then the next edit brings it to its end.
///
/// # Errors
/// If one of them cannot be written, or is not what it was when it was read; then nothing was changed, or it is said what was.
pub fn replace(writers: &Writers, changes: &[FileChange]) -> Result<(), Failure> {
    let failure = |path: &Path, error: io::Error| {
        Failure::new(format!("it could not be written: {error}"))
            .at(show(path))
            .help("nothing was changed; see that the file and its folder may be written")
    };
    let mut entries: Vec<Replacement> = Vec::new();
    let prepared = changes.iter().try_for_each(|change| {
        let Some(path) = change.location.path() else {
            let failure = Failure::new("only a file can be changed").at(change.location.to_string());
            return Err(failure.help("save it as a file first"));
        };
        // A link stays a link: what it leads to is replaced.
        let real = place::resolved(path).map_err(|error| failure(path, error))?;
        writers.enter(place::folder_of(&real))?;
        let (old, new) = (change.before.bytes(), change.after.bytes());
        refuse_changed(&real, path, &old)?;
        let entry = Replacement::prepare(&real, Some(&old), &new, Lasting::AtOnce);
        entries.push(entry.map_err(|error| failure(path, error))?);
        Ok(())
    });
    if let Err(failure) = prepared {
        entries.iter().for_each(Replacement::clear);
        return Err(failure);
    }
    let before: Vec<_> = changes.iter().map(|change| Some(change.before.bytes())).collect();
    carry_out(entries, &before).map_err(|(error, changed)| {
        let failure = Failure::new(format!("it could not be written: {error}"));
        let failure = failure.at(changes.first().map_or_else(String::new, |it| it.location.to_string()));
        match changed {
            None => failure.help("nothing was changed"),
            Some(lost) => failure.help(format!("{} was changed already", show(&lost))),
        }
    })
}

/// A file that may not be written, or that somebody else has written since, is left alone.
fn refuse_changed(real: &Path, path: &Path, old: &[u8]) -> Result<(), Failure> {
    let failure = |error: io::Error| {
        Failure::new(format!("it could not be written: {error}")).at(show(path)).help("nothing was changed")
    };
    if fs::read(real).map_err(failure)? != old {
        return Err(Failure::new("somebody else has changed the file since it was read")
            .at(show(path))
            .help("nothing was changed; run the command again"));
    }
    if fs::metadata(real).map_err(failure)?.permissions().readonly() {
        return Err(Failure::new("the file may only be read").at(show(path)).help("nothing was changed"));
    }
    Ok(())
}

/// Writes files that must not be there yet: all, or none.
///
/// # Errors
/// If one is there, or cannot be written.
pub fn create_all(writers: &Writers, files: &[(PathBuf, &str)]) -> Result<(), Failure> {
    let failed = |path: &Path, error: io::Error| match error.kind() {
        io::ErrorKind::AlreadyExists => Failure::new("there is such a file already")
            .at(show(path))
            .help("nothing was written; choose another name or remove the file"),
        _ => Failure::new(format!("it could not be written: {error}"))
            .at(show(path))
            .help("see that the folder is there and may be written"),
    };
    let mut entries: Vec<Replacement> = Vec::new();
    let prepared = files.iter().try_for_each(|(path, text)| {
        let folder = fs::canonicalize(place::folder_of(path)).map_err(|error| failed(path, error))?;
        writers.enter(&folder)?;
        let real = folder.join(path.file_name().unwrap_or_default());
        if fs::symlink_metadata(&real).is_ok() {
            return Err(failed(path, io::ErrorKind::AlreadyExists.into()));
        }
        let entry = Replacement::prepare(&real, None, text.as_bytes(), Lasting::AtOnce);
        entries.push(entry.map_err(|error| failed(path, error))?);
        Ok(())
    });
    if let Err(failure) = prepared {
        entries.iter().for_each(Replacement::clear);
        return Err(failure);
    }
    // The first is the one that leads to the others, so it comes last.
    entries.reverse();
    let before = vec![None; entries.len()];
    let first = files.first().map_or(Path::new(""), |(path, _)| path);
    carry_out(entries, &before).map_err(|(error, _)| failed(first, error))
}

/// Creates a file that nobody else on the machine may read.
///
/// # Errors
/// If it is there already, or cannot be written.
pub fn create_private(path: &Path, text: &str) -> Result<(), Failure> {
    use std::io::Write;
    let mut options = fs::OpenOptions::new();
    options.write(true).create_new(true);
    #[cfg(unix)]
    std::os::unix::fs::OpenOptionsExt::mode(&mut options, 0o600);
    let written = options.open(path).and_then(|mut file| {
        file.write_all(text.as_bytes())?;
        file.sync_all()
    });
    written.map_err(|error| {
        let failure = Failure::new(format!("it could not be written: {error}")).at(show(path));
        failure.help("check the folder, and that it may be written to")
    })
}

/// Writes a file that must not be there yet.
///
/// # Errors
/// If it is there, or cannot be written.
pub fn create(writers: &Writers, path: &Path, text: &str) -> Result<(), Failure> {
    create_all(writers, &[(path.to_owned(), text)])
}

/// Gives each file its new text. Should one fail, those before it get back what they held; the error comes with the one
/// that could not be put back.
fn carry_out(
    entries: Vec<Replacement>,
    before: &[Option<Cow<'_, [u8]>>],
) -> Result<(), (io::Error, Option<PathBuf>)> {
    let note =
        (entries.len() > 1 || entries.iter().any(Replacement::takes_steps)).then(|| Note::of(&entries));
    if let Some(Err(error)) = note.as_ref().map(Note::write) {
        entries.iter().for_each(Replacement::clear);
        return Err((error, None));
    }
    let clear = || {
        entries.iter().for_each(Replacement::clear);
        note.iter().for_each(Note::remove);
    };
    for (done, entry) in entries.iter().enumerate() {
        if let Err(error) = entry.apply() {
            // The one that failed may be written in part, if it is written over.
            let begun = done + usize::from(entry.takes_steps());
            let lost =
                entries.iter().zip(before).take(begun).find(|(entry, old)| !undone(entry, old.as_deref()));
            let lost = lost.map(|(entry, _)| entry.path());
            if lost.is_none() {
                clear();
            }
            return Err((error, lost));
        }
    }
    clear();
    Ok(())
}

/// Whether a file could be given back what it held.
fn undone(entry: &Replacement, before: Option<&[u8]>) -> bool {
    let path = entry.path();
    match before {
        None => fs::remove_file(path).is_ok(),
        Some(before) if entry.takes_steps() => place::overwrite(&path, before).is_ok(),
        Some(before) => {
            let again = fs::read(&path)
                .and_then(|now| Replacement::prepare(&path, Some(&now), before, Lasting::AtOnce));
            again.is_ok_and(|again| again.apply().is_ok())
        }
    }
}

/// Finishes or undoes what edits that were cut off have left among these files, before they are edited anew. What was found, and
/// whether files are others now.
///
/// # Errors
/// If it can be neither.
pub fn settle(writers: &Writers, files: &[PathBuf]) -> Result<(Vec<Notice>, bool), Failure> {
    let files: Vec<PathBuf> = files.iter().filter_map(|file| place::resolved(file).ok()).collect();
    let mut folders: Vec<PathBuf> = files.iter().map(|file| place::folder_of(file).to_owned()).collect();
    folders.sort();
    folders.dedup();
    folders.iter().try_for_each(|folder| writers.enter(folder))?;
    let found = note::settle(&files, &folders).map_err(|error| {
        Failure::new(format!("an edit was cut off, and cannot be brought to its end: {error}"))
            .at(files.first().map_or_else(String::new, |file| show(file)))
            .help("see that the files and their folders may be written")
    })?;
    let mut notices = Vec::new();
    for one in found {
        notices.push(match one {
            Found::Finished(files) => Notice::Finished(sorted(files)),
            Found::Undone(files) => Notice::Undone(sorted(files)),
            Found::Foreign(note) => Notice::Foreign(note),
            Found::Stuck(file, new) => {
                let failure =
                    Failure::new("an edit of several files was cut off, and this one has been changed since");
                return Err(failure.at(show(&file)).help(format!(
                    "put into it what you need of {}, then remove that and {}",
                    show(&new),
                    show(&note::beside(&file))
                )));
            }
        });
    }
    let changed = notices.iter().any(|notice| matches!(notice, Notice::Finished(_)));
    Ok((notices, changed))
}

fn sorted(mut files: Vec<PathBuf>) -> Vec<PathBuf> {
    files.sort();
    files
}

/// A unified diff of a text before and after.
pub fn diff(name: &str, before: &str, after: &str) -> String {
    let diff = similar::TextDiff::from_lines(before, after);
    diff.unified_diff().context_radius(2).header(name, name).to_string()
}

fn show(path: &Path) -> String {
    path.display().to_string()
}

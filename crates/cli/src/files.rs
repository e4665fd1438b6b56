//! Writes files: whole or not at all.

use std::fs;
use std::io::Write;
use std::path::{Path, PathBuf};

use charter_author::FileChange;

use crate::console::Failure;
use crate::unfinished::Note;

/// Writes a file of the tool's own, whole or not at all.
pub fn write(path: &Path, bytes: &[u8]) -> Result<(), Failure> {
    let failed = |error: &std::io::Error| {
        let failure = Failure::new(format!("it could not be written: {error}")).at(show(path));
        failure.help("check the folder, and that it may be written to")
    };
    let folder = path.parent().filter(|folder| *folder != Path::new("")).unwrap_or(Path::new("."));
    let mut temporary = tempfile::NamedTempFile::new_in(folder).map_err(|error| failed(&error))?;
    temporary.write_all(bytes).map_err(|error| failed(&error))?;
    temporary.persist(path).map(drop).map_err(|error| failed(&error.error))
}

/// Replaces the files of a change. All new texts are on disk before the first file is replaced, and a file that
/// somebody else has changed since it was read stops everything. Several files are replaced together, even if the
/// program is cut off in between: then whoever reads one of them next brings the edit to its end.
pub fn replace(changes: &[FileChange]) -> Result<(), Failure> {
    let mut ready = Vec::new();
    for change in changes {
        let Some(path) = change.location.path() else {
            let failure = Failure::new("only a file can be changed").at(change.location.to_string());
            return Err(failure.help("save it as a file first"));
        };
        ready.push(prepare(path, change)?);
    }
    if ready.len() == 1 {
        let (temporary, path) = ready.remove(0);
        return temporary.persist(&path).map(drop).map_err(|error| {
            let failure = Failure::new(format!("it could not be written: {}", error.error));
            failure.at(show(&path)).help("nothing was changed")
        });
    }
    replace_together(changes, ready)
}

fn replace_together(
    changes: &[FileChange],
    ready: Vec<(tempfile::NamedTempFile, PathBuf)>,
) -> Result<(), Failure> {
    let failed = |error: &std::io::Error, path: &Path| {
        Failure::new(format!("it could not be written: {error}")).at(show(path))
    };
    // From here on the new texts outlive the program.
    let mut texts: Vec<(PathBuf, PathBuf)> = Vec::new();
    for (temporary, path) in ready {
        let kept = temporary.into_temp_path().keep().map_err(|error| failed(&error.error, &path))?;
        texts.push((kept, path));
    }
    let files = texts.iter().zip(changes);
    let note =
        Note::of(files.map(|((new, file), change)| (file.as_path(), new.as_path(), &*change.old_bytes)));
    let drop_texts = || {
        texts.iter().for_each(|(new, _)| _ = fs::remove_file(new));
        note.remove();
    };
    if let Err(error) = note.write() {
        drop_texts();
        return Err(failed(&error, &texts[0].1).help("nothing was changed"));
    }
    let mut done: Vec<(&FileChange, PathBuf)> = Vec::new();
    for ((new, path), change) in texts.iter().zip(changes) {
        if let Err(error) = fs::rename(new, path) {
            let failure = failed(&error, path);
            let undone = undo(&done);
            drop_texts();
            return Err(match undone {
                Ok(()) => failure.help("nothing was changed"),
                Err(lost) => failure.help(format!("{} was changed already", show(&lost))),
            });
        }
        done.push((change, path.clone()));
    }
    note.remove();
    Ok(())
}

/// Puts back the files of a change that could not be finished; the one that could not be put back.
fn undo(done: &[(&FileChange, PathBuf)]) -> Result<(), PathBuf> {
    for (change, path) in done {
        let folder = path.parent().unwrap_or(Path::new("."));
        let put_back = || -> std::io::Result<()> {
            let permissions = fs::metadata(path)?.permissions();
            let mut temporary = tempfile::NamedTempFile::new_in(folder)?;
            temporary.write_all(&change.old_bytes)?;
            temporary.as_file().set_permissions(permissions)?;
            temporary.as_file().sync_all()?;
            temporary.persist(path).map(drop).map_err(|error| error.error)
        };
        put_back().map_err(|_| path.clone())?;
    }
    Ok(())
}

fn prepare(path: &Path, change: &FileChange) -> Result<(tempfile::NamedTempFile, PathBuf), Failure> {
    let failure = |error: std::io::Error| {
        Failure::new(format!("it could not be written: {error}"))
            .at(show(path))
            .help("nothing was changed; see that the file and its folder may be written")
    };
    // A link stays a link: what it leads to is replaced.
    let path = fs::canonicalize(path).map_err(failure)?;
    if fs::read(&path).map_err(failure)? != change.old_bytes {
        return Err(Failure::new("somebody else has changed the file since it was read")
            .at(show(&path))
            .help("nothing was changed; run the command again"));
    }
    let permissions = fs::metadata(&path).map_err(failure)?.permissions();
    if permissions.readonly() {
        return Err(Failure::new("the file may only be read").at(show(&path)).help("nothing was changed"));
    }
    let folder = path.parent().unwrap_or(Path::new("."));
    let mut temporary = tempfile::NamedTempFile::new_in(folder).map_err(failure)?;
    temporary.write_all(&change.new_bytes).map_err(failure)?;
    temporary.as_file().set_permissions(permissions).map_err(failure)?;
    temporary.as_file().sync_all().map_err(failure)?;
    Ok((temporary, path))
}

/// Writes files that must not be there yet: all, or none.
pub fn create_all(files: &[(PathBuf, &str)]) -> Result<(), Failure> {
    let mut written: Vec<&Path> = Vec::new();
    for (path, text) in files {
        if let Err(failure) = create(path, text) {
            for path in written {
                // It was made a moment ago, so that nothing of anybody's is lost.
                let _ = fs::remove_file(path);
            }
            return Err(failure);
        }
        written.push(path);
    }
    Ok(())
}

/// Writes a file that must not be there yet.
pub fn create(path: &Path, text: &str) -> Result<(), Failure> {
    let failure = |error: std::io::Error| {
        let failure = Failure::new(format!("it could not be written: {error}")).at(show(path));
        failure.help("see that the folder is there and may be written")
    };
    let folder = path.parent().filter(|folder| !folder.as_os_str().is_empty()).unwrap_or(Path::new("."));
    let mut temporary = tempfile::NamedTempFile::new_in(folder).map_err(failure)?;
    temporary.write_all(text.as_bytes()).map_err(failure)?;
    temporary.as_file().sync_all().map_err(failure)?;
    // A temporary file is its owner's alone; a contract is for everybody, as far as the system lets it be.
    open_to_all(temporary.as_file()).map_err(failure)?;
    temporary.persist_noclobber(path).map_err(|error| match error.error.kind() {
        std::io::ErrorKind::AlreadyExists => Failure::new("there is such a file already")
            .at(show(path))
            .help("nothing was written; choose another name or remove the file"),
        _ => failure(error.error),
    })?;
    Ok(())
}

#[cfg(unix)]
fn open_to_all(file: &fs::File) -> std::io::Result<()> {
    use std::os::unix::fs::PermissionsExt;
    file.set_permissions(fs::Permissions::from_mode(0o644))
}

#[cfg(not(unix))]
fn open_to_all(_: &fs::File) -> std::io::Result<()> {
    Ok(())
}

/// A unified diff of a text before and after.
pub fn diff(name: &str, before: &str, after: &str) -> String {
    let diff = similar::TextDiff::from_lines(before, after);
    diff.unified_diff().context_radius(2).header(name, name).to_string()
}

fn show(path: &Path) -> String {
    path.display().to_string()
}

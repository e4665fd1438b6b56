//! What git knows about a folder: revisions, and the files in them. Git itself is asked.

use std::ffi::OsStr;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};

use charter_source::ReadError;

use crate::console::Failure;

/// The output of git, should it have nothing against what it is asked.
fn ask<I: AsRef<OsStr>>(words: impl IntoIterator<Item = I>) -> Result<Option<Vec<u8>>, Failure> {
    let asked = Command::new("git")
        .args(words)
        .env("GIT_OPTIONAL_LOCKS", "0")
        .stdin(Stdio::null())
        .stderr(Stdio::null())
        .output();
    match asked {
        Ok(output) => Ok(output.status.success().then_some(output.stdout)),
        Err(error) => Err(Failure::new(format!("git cannot be run: {error}"))
            .help("install git, or compare files instead of revisions")),
    }
}

fn line(bytes: &[u8]) -> String {
    String::from_utf8_lossy(bytes).trim_end_matches(['\n', '\r']).to_owned()
}

/// The top of the repository around the current folder; nothing if there is none.
pub fn top() -> Result<Option<PathBuf>, Failure> {
    Ok(ask(["rev-parse", "--show-toplevel"])?.map(|bytes| PathBuf::from(line(&bytes))))
}

/// The path of the current folder from the top.
pub fn here() -> Result<PathBuf, Failure> {
    Ok(ask(["rev-parse", "--show-prefix"])?.map_or_else(PathBuf::new, |bytes| PathBuf::from(line(&bytes))))
}

/// Whether there is a revision of that name.
pub fn is_revision(name: &str) -> Result<bool, Failure> {
    if name.is_empty() || name.starts_with('-') {
        return Ok(false);
    }
    let commit = format!("{name}^{{commit}}");
    Ok(ask(["rev-parse", "--verify", "--quiet", "--end-of-options", &commit])?.is_some())
}

/// What a revision has at a path.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// A file.
    File,
    /// A folder.
    Folder,
}

/// What a revision has at a path; nothing if there is nothing.
pub fn kind(revision: &str, path: &Path) -> Result<Option<Kind>, Failure> {
    let found = ask(["cat-file", "-t", &object(revision, path)])?;
    Ok(found.and_then(|bytes| match line(&bytes).as_str() {
        "blob" => Some(Kind::File),
        "tree" | "commit" => Some(Kind::Folder),
        _ => None,
    }))
}

/// The paths of all files of a revision below a folder, from the top.
pub fn files(revision: &str, below: &Path) -> Result<Vec<PathBuf>, Failure> {
    let listed = ask(["ls-tree", "-r", "-z", "--name-only", "--full-tree", revision])?;
    let text = listed.unwrap_or_default();
    let names = text.split(|byte| *byte == 0).filter(|name| !name.is_empty());
    let paths = names.map(|name| PathBuf::from(String::from_utf8_lossy(name).into_owned()));
    Ok(paths.filter(|path| path.starts_with(below)).collect())
}

/// The bytes of a file in a revision.
///
/// # Errors
/// If there is none, or it is larger than `limit` bytes.
pub fn read(revision: &str, path: &Path, limit: u64) -> Result<Vec<u8>, ReadError> {
    let system = |failure: Failure| ReadError::System(std::io::Error::other(failure.message));
    match kind(revision, path).map_err(system)? {
        None => return Err(ReadError::Missing),
        Some(Kind::Folder) => return Err(ReadError::Folder),
        Some(Kind::File) => {}
    }
    let bytes =
        ask(["cat-file", "blob", &object(revision, path)]).map_err(system)?.ok_or(ReadError::Missing)?;
    if bytes.len() as u64 > limit {
        return Err(ReadError::TooLarge { limit });
    }
    Ok(bytes)
}

/// What git calls a file of a revision; its paths have slashes everywhere.
fn object(revision: &str, path: &Path) -> String {
    let steps: Vec<String> = path.iter().map(|step| step.to_string_lossy().into_owned()).collect();
    format!("{revision}:{}", steps.join("/"))
}

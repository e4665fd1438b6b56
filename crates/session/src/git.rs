//! What git knows about a folder: revisions, and the files in them. Git itself is asked, and this is the only place that starts
//! it: without hooks, without a network, and without a command that the configuration of a repository names, since
//! the repository may be somebody else's.

use std::ffi::OsStr;
use std::io::{BufRead, BufReader, Read, Write};
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use std::sync::OnceLock;

use charter_source::ReadError;

use crate::Failure;

/// What git prints at most where it does not print a file.
const MOST: u64 = 64 << 20;
/// How many repositories may lie in each other.
const NESTED: usize = 8;

/// Git, asked in a folder; the current one without.
fn git(folder: Option<&Path>) -> Command {
    let mut command = Command::new("git");
    if let Some(folder) = folder {
        command.arg("-C").arg(folder);
    }
    // What a repository may configure to be run, or fetched from elsewhere.
    for setting in [
        "core.fsmonitor=false",
        "core.hooksPath=/dev/null",
        "core.sshCommand=false",
        "core.alternateRefsCommand=false",
        "core.pager=cat",
        "credential.helper=",
        "protocol.allow=never",
    ] {
        command.arg("-c").arg(setting);
    }
    command
        .env("GIT_OPTIONAL_LOCKS", "0")
        .env("GIT_NO_LAZY_FETCH", "1")
        .env("GIT_ALLOW_PROTOCOL", "none")
        .env("GIT_TERMINAL_PROMPT", "0")
        .env("LC_ALL", "C")
        .stdin(Stdio::null())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped());
    command
}

/// What git has said.
struct Answer {
    fine: bool,
    out: Vec<u8>,
    /// The first line of what it has against it.
    complaint: String,
}

fn ask<I: AsRef<OsStr>>(
    folder: Option<&Path>,
    words: impl IntoIterator<Item = I>,
) -> Result<Answer, Failure> {
    let output = git(folder).args(words).output().map_err(|error| cannot_run(&error))?;
    let said = String::from_utf8_lossy(&output.stderr);
    let complaint = said.lines().next().unwrap_or("").trim_start_matches("fatal: ").to_owned();
    if output.stdout.len() as u64 > MOST {
        return Err(Failure::new("git has more to say than can be read").help("name a folder, not all"));
    }
    Ok(Answer { fine: output.status.success(), out: output.stdout, complaint })
}

fn cannot_run(error: &std::io::Error) -> Failure {
    Failure::new(format!("git cannot be run: {error}"))
        .help("install git, or compare files instead of revisions")
}

fn line(bytes: &[u8]) -> String {
    String::from_utf8_lossy(bytes).trim_end_matches(['\n', '\r']).to_owned()
}

/// The top of the repository around the current folder; nothing if there is none.
pub fn top() -> Result<Option<PathBuf>, Failure> {
    let answer = ask(None, ["rev-parse", "--show-toplevel"])?;
    if answer.fine {
        return Ok(Some(path(answer.out.strip_suffix(b"\n").unwrap_or(&answer.out))));
    }
    if answer.complaint.contains("dubious ownership") {
        return Err(Failure::new("the repository here belongs to somebody else, so git does not read it")
            .help("if you trust it: git config --global --add safe.directory PATH"));
    }
    if answer.complaint.contains("work tree") {
        return Err(Failure::new("the repository here is bare: it has revisions, and no files")
            .help("clone it, and compare in the clone"));
    }
    Ok(None)
}

/// The path of the current folder from the top.
pub fn here() -> Result<PathBuf, Failure> {
    let answer = ask(None, ["rev-parse", "--show-prefix"])?;
    let prefix = answer.out.strip_suffix(b"\n").unwrap_or(&answer.out);
    Ok(if answer.fine { path(prefix) } else { PathBuf::new() })
}

/// Whether there is a revision of that name.
pub fn is_revision(name: &str) -> Result<bool, Failure> {
    if name.is_empty() || name.starts_with('-') {
        return Ok(false);
    }
    let commit = format!("{name}^{{commit}}");
    let answer = ask(None, ["rev-parse", "--verify", "--quiet", "--end-of-options", &commit])?;
    // A range, or all but something, is no revision.
    Ok(answer.fine && line(&answer.out).bytes().all(|byte| byte.is_ascii_hexdigit()))
}

/// The tag that ends in a number which a revision has, or the nearest before it; nothing if there is none.
pub fn tag_of(revision: &str) -> Result<Option<String>, Failure> {
    let answer =
        ask(None, ["describe", "--tags", "--abbrev=0", "--match", "*[0-9]", "--end-of-options", revision])?;
    Ok(answer.fine.then(|| line(&answer.out)).filter(|tag| !tag.is_empty()))
}

/// All tags of the repository.
pub fn tags() -> Result<Vec<String>, Failure> {
    let answer = ask(None, ["tag", "--list"])?;
    Ok(String::from_utf8_lossy(&answer.out).lines().map(str::to_owned).collect())
}

/// What a revision has at a path.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// A file.
    File,
    /// A folder.
    Folder,
}

/// What a revision has at a path, links followed; nothing if there is nothing.
pub fn kind(revision: &str, path: &Path) -> Result<Option<Kind>, Failure> {
    let unreadable = |error: ReadError| {
        Failure::new(format!("git cannot read it: {error}")).at(format!("{revision}:{}", path.display()))
    };
    match found(revision, path).map_err(unreadable)? {
        Some(object) => Ok(object.kind),
        None => Ok(None),
    }
}

/// The paths of all files of a revision below a folder, from the top; those of repositories within it too.
pub fn files(revision: &str, below: &Path) -> Result<Vec<PathBuf>, Failure> {
    let mut all = Vec::new();
    let top = top()?.unwrap_or_default();
    list(&top, Path::new(""), revision, NESTED, &mut all)?;
    Ok(all.into_iter().filter(|path| path.starts_with(below)).collect())
}

fn list(
    top: &Path,
    within: &Path,
    revision: &str,
    nested: usize,
    all: &mut Vec<PathBuf>,
) -> Result<(), Failure> {
    let folder = top.join(within);
    let answer = ask(Some(&folder), ["ls-tree", "-r", "-z", "--full-tree", "--end-of-options", revision])?;
    if !answer.fine {
        return Err(Failure::new(format!("git cannot list the files: {}", answer.complaint))
            .at(revision.to_owned())
            .help("git fsck finds what is wrong with a repository; a part of it may not be here"));
    }
    for entry in answer.out.split(|byte| *byte == 0).filter(|entry| !entry.is_empty()) {
        let Some(TreeEntry { mode, object, name }) = TreeEntry::of(entry) else { continue };
        let path = within.join(name);
        match mode {
            // A link leads to a file that is listed by itself.
            b"120000" => {}
            b"160000" if nested > 0 && is_checked_out(&top.join(&path)) => {
                list(top, &path, &object, nested - 1, all)?;
            }
            b"160000" => {}
            _ => all.push(path),
        }
    }
    Ok(())
}

/// An entry of a tree.
struct TreeEntry<'b> {
    mode: &'b [u8],
    object: String,
    name: PathBuf,
}

impl TreeEntry<'_> {
    fn of(bytes: &[u8]) -> Option<TreeEntry<'_>> {
        let tab = bytes.iter().position(|byte| *byte == b'\t')?;
        let mut words = bytes[..tab].split(|byte| *byte == b' ');
        let (mode, _, object) = (words.next()?, words.next()?, words.next()?);
        Some(TreeEntry { mode, object: line(object), name: path(&bytes[tab + 1..]) })
    }
}

fn is_checked_out(folder: &Path) -> bool {
    folder.join(".git").exists()
}

/// Something that a revision has.
struct Object {
    /// The folder of the repository that has it, and the name of the object there.
    folder: PathBuf,
    name: String,
    kind: Option<Kind>,
    size: u64,
}

/// What a revision has at a path, links followed, and in the repositories within it.
fn found(revision: &str, path: &Path) -> Result<Option<Object>, ReadError> {
    let system = |failure: Failure| ReadError::System(std::io::Error::other(failure.message));
    // The current folder stays the same for as long as the program runs.
    static TOP: OnceLock<PathBuf> = OnceLock::new();
    let mut folder = match TOP.get() {
        Some(known) => known.clone(),
        None => {
            let found = top().map_err(system)?.unwrap_or_default();
            TOP.get_or_init(|| found).clone()
        }
    };
    let (mut revision, mut path) = (revision.to_owned(), path.to_owned());
    for _ in 0..NESTED {
        let asked = object(&revision, &path);
        let head = batch(&folder, "--batch-check", &asked, |head, _| Ok(head.to_owned()))?;
        let mut words = head.split(' ');
        if let (Some(name), Some(kind), Some(size)) = (words.next(), words.next(), words.next())
            && let Ok(size) = size.parse()
            && matches!(kind, "blob" | "tree" | "commit")
        {
            let kind = Some(if kind == "blob" { Kind::File } else { Kind::Folder });
            return Ok(Some(Object { folder, name: name.to_owned(), kind, size }));
        }
        // Perhaps it lies in a repository within this one.
        let Some((inner, commit)) = submodule(&folder, &revision, &path)? else { return Ok(None) };
        let rest = path.strip_prefix(&inner).unwrap_or(Path::new("")).to_owned();
        folder.push(&inner);
        (revision, path) = (commit, rest);
    }
    Ok(None)
}

/// The repository within another that a path leads into, and its revision, if it is there.
fn submodule(folder: &Path, revision: &str, path: &Path) -> Result<Option<(PathBuf, String)>, ReadError> {
    let system = |failure: Failure| ReadError::System(std::io::Error::other(failure.message));
    let mut here = PathBuf::new();
    for step in path.iter() {
        here.push(step);
        if !is_checked_out(&folder.join(&here)) {
            continue;
        }
        let words = ["ls-tree", "-z", "--full-tree", "--end-of-options", revision, "--"].map(OsStr::new);
        let answer = ask(Some(folder), words.into_iter().chain([here.as_os_str()])).map_err(system)?;
        let first = answer.out.split(|byte| *byte == 0).next().and_then(TreeEntry::of);
        if let Some(TreeEntry { mode: b"160000", object, .. }) = first {
            return Ok(Some((here, object)));
        }
    }
    Ok(None)
}

/// The bytes of a file in a revision, links followed.
///
/// # Errors
/// If there is none, or it is larger than `limit` bytes.
pub fn read(revision: &str, path: &Path, limit: u64) -> Result<Vec<u8>, ReadError> {
    let Some(object) = found(revision, path)? else { return Err(ReadError::Missing) };
    if object.kind == Some(Kind::Folder) {
        return Err(ReadError::Folder);
    }
    if object.size > limit {
        return Err(ReadError::TooLarge { limit });
    }
    batch(&object.folder, "--batch", object.name.as_bytes(), |_, rest| {
        let mut bytes = vec![0; object.size as usize];
        rest.read_exact(&mut bytes)?;
        Ok(bytes)
    })
}

/// Asks git about one object; its answer begins with a line.
fn batch<T>(
    folder: &Path,
    how: &str,
    asked: &[u8],
    read: impl FnOnce(&str, &mut dyn Read) -> Result<T, ReadError>,
) -> Result<T, ReadError> {
    let mut command = git(Some(folder));
    command.args(["cat-file", how, "--follow-symlinks"]).stdin(Stdio::piped()).stderr(Stdio::null());
    let mut child = command.spawn()?;
    if let Some(mut input) = child.stdin.take() {
        // An answer that never comes is seen when it is read.
        let _ = input.write_all(asked).and_then(|()| input.write_all(b"\n"));
    }
    let Some(output) = child.stdout.take() else { return Err(ReadError::Missing) };
    let mut output = BufReader::new(output);
    let mut head = Vec::new();
    output.by_ref().take(4096).read_until(b'\n', &mut head)?;
    let result = read(&line(&head), &mut output);
    drop(output);
    let _ = child.kill();
    child.wait()?;
    result
}

/// What git calls a file of a revision; its paths have slashes everywhere.
fn object(revision: &str, path: &Path) -> Vec<u8> {
    let mut name = format!("{revision}:").into_bytes();
    for (number, step) in path.iter().enumerate() {
        if number > 0 {
            name.push(b'/');
        }
        name.extend_from_slice(step.as_encoded_bytes());
    }
    // A name that would be two questions is none.
    name.retain(|byte| *byte != b'\n');
    name
}

/// A path as git writes it.
#[cfg(unix)]
fn path(bytes: &[u8]) -> PathBuf {
    use std::os::unix::ffi::OsStrExt;
    PathBuf::from(OsStr::from_bytes(bytes))
}

#[cfg(not(unix))]
fn path(bytes: &[u8]) -> PathBuf {
    PathBuf::from(String::from_utf8_lossy(bytes).into_owned())
}

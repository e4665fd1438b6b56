//! What is compared with what: files, folders, and revisions in git.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use charter_source::Location;

use crate::Failure;
use crate::{folders, git};

/// A contract in two versions; one that a version does not have is missing there.
pub struct Versions {
    /// How the contract is called, should there be several.
    pub name: String,
    /// The old version.
    pub old: Option<Location>,
    /// The new version.
    pub new: Option<Location>,
}

/// Brings together what lay elsewhere and is the same contract: one that is gone, and one that is new, which `same` tells
/// by an equal answer that no other gives.
pub fn joined(all: Vec<Versions>, same: &dyn Fn(&Location) -> Option<String>) -> Vec<Versions> {
    let (mut whole, parts): (Vec<_>, Vec<_>) =
        all.into_iter().partition(|one| one.old.is_some() && one.new.is_some());
    let told = |one: &Versions| one.old.as_ref().or(one.new.as_ref()).and_then(same);
    let (mut gone, mut come): (Vec<_>, Vec<_>) =
        parts.into_iter().map(|one| (told(&one), one)).partition(|(_, one)| one.old.is_some());
    let sole = |list: &[(Option<String>, Versions)], key: &Option<String>| {
        let mut at = list.iter().enumerate().filter(|(_, (own, _))| own.is_some() && own == key);
        let first = at.next().map(|(at, _)| at);
        first.filter(|_| at.next().is_none())
    };
    let keys: Vec<Option<String>> = gone.iter().map(|(key, _)| key.clone()).collect();
    for key in keys {
        if let (Some(was), Some(is)) = (sole(&gone, &key), sole(&come, &key)) {
            let ((_, was), (_, is)) = (gone.remove(was), come.remove(is));
            whole.push(Versions { name: is.name, old: was.old, new: is.new });
        }
    }
    whole.extend(gone.into_iter().chain(come).map(|(_, one)| one));
    whole.sort_by(|a, b| a.name.cmp(&b.name));
    whole
}

/// The tag of the revision that a contract is of, and all tags there are; nothing of a file.
///
/// # Errors
/// If git cannot be asked.
pub fn tags(of: &Location) -> Result<(Option<String>, Vec<String>), Failure> {
    match of {
        Location::Revision { revision, .. } => Ok((git::tag_of(revision)?, git::tags()?)),
        _ => Ok((None, Vec::new())),
    }
}

/// What an argument names.
enum Source {
    /// A contract.
    File(Location),
    /// All contracts in a folder.
    Folder(PathBuf),
    /// All contracts of a revision, below a path from the top.
    Revision { name: String, below: PathBuf },
}

/// The contracts that two arguments name.
///
/// # Errors
/// If one of them names nothing, or the two cannot be compared.
pub fn between(old: &str, new: &str) -> Result<Vec<Versions>, Failure> {
    paired(source(old)?, source(new)?, old, new)
}

/// The contracts of the repository, or below a folder or file of it, as they were in a revision and are now.
///
/// # Errors
/// If there is no repository, no such revision, or no such file.
pub fn since(revision: &str, path: Option<&str>) -> Result<Vec<Versions>, Failure> {
    let Some(top) = git::top()? else { return Err(no_repository()) };
    if !git::is_revision(revision)? {
        return Err(unknown(revision));
    }
    let now = path.map_or(top, PathBuf::from);
    if !now.exists() {
        return Err(Failure::new("there is no such file or folder")
            .at(now.display().to_string())
            .help("give one of the repository, as it is now"));
    }
    let shown = now.display().to_string();
    let new = if now.is_file() { Source::File(Location::Path(now)) } else { Source::Folder(now) };
    paired(Source::Revision { name: revision.to_owned(), below: PathBuf::new() }, new, revision, &shown)
}

fn source(argument: &str) -> Result<Source, Failure> {
    let path = Path::new(argument);
    if path.is_dir() {
        return Ok(Source::Folder(path.to_owned()));
    }
    if argument == "-" || path.exists() {
        return Ok(Source::File(Location::from_argument(argument)));
    }
    let location = Location::from_argument(argument);
    if matches!(location, Location::Remote(_)) {
        return Ok(Source::File(location));
    }
    // A single letter before a colon is a drive.
    if let Some((revision, inside)) = argument.split_once(':').filter(|(name, _)| name.len() > 1) {
        return in_revision(revision, inside);
    }
    if git::top()?.is_some() && git::is_revision(argument)? {
        return Ok(Source::Revision { name: argument.to_owned(), below: PathBuf::new() });
    }
    let is_named_as_file = [".wsdl", ".charter", ".xsd", ".xml"].iter().any(|end| argument.ends_with(end));
    if !is_named_as_file && git::top()?.is_some() {
        return Err(Failure::new(format!("{argument} is neither a file nor a revision that git knows"))
            .help("check the path; git log --oneline and git tag list the revisions"));
    }
    Ok(Source::File(Location::from_argument(argument)))
}

/// What a revision has at a path: from the top, or from the current folder if it begins with a dot.
fn in_revision(revision: &str, inside: &str) -> Result<Source, Failure> {
    if git::top()?.is_none() {
        return Err(no_repository());
    }
    if !git::is_revision(revision)? {
        return Err(unknown(revision));
    }
    let path = match inside.starts_with("./") || inside.starts_with("../") {
        true => from_top(&git::here()?.join(inside)),
        false => from_top(Path::new(inside)),
    };
    match git::kind(revision, &path)? {
        Some(git::Kind::File) => Ok(Source::File(Location::Revision { revision: revision.into(), path })),
        Some(git::Kind::Folder) => Ok(Source::Revision { name: revision.to_owned(), below: path }),
        None => Err(Failure::new(format!("the revision {revision} has no {}", path.display()))
            .help(format!("git ls-tree -r --name-only {revision} lists what it has"))),
    }
}

fn no_repository() -> Failure {
    Failure::new("the current folder is in no git repository, so there are no revisions")
        .help("go into the repository, or compare files")
}

fn unknown(revision: &str) -> Failure {
    Failure::new(format!("git knows no revision {revision}"))
        .help("git log --oneline and git tag list what there is")
}

/// A path without dots.
fn from_top(path: &Path) -> PathBuf {
    let mut result = PathBuf::new();
    for step in path.components() {
        match step {
            std::path::Component::Normal(name) => result.push(name),
            std::path::Component::ParentDir => _ = result.pop(),
            _ => {}
        }
    }
    result
}

fn paired(old: Source, new: Source, old_name: &str, new_name: &str) -> Result<Vec<Versions>, Failure> {
    let one = |old: Location, new: Location| {
        Ok(vec![Versions { name: new.to_string(), old: Some(old), new: Some(new) }])
    };
    match (old, new) {
        (Source::File(old), Source::File(new)) => one(old, new),
        (Source::Revision { name, below }, Source::File(new)) if below.as_os_str().is_empty() => {
            one(same_in(&name, &new, old_name)?, new)
        }
        (Source::File(old), Source::Revision { name, below }) if below.as_os_str().is_empty() => {
            let new = same_in(&name, &old, new_name)?;
            one(old, new)
        }
        (Source::File(_), _) | (_, Source::File(_)) => Err(Failure::new(format!(
            "{old_name} and {new_name} cannot be compared: one is a file, one holds many"
        ))
        .help("give two files, two folders, or a revision and a file")),
        (old, new) => many(&old, &new),
    }
}

/// The same file in a revision.
fn same_in(revision: &str, file: &Location, shown: &str) -> Result<Location, Failure> {
    let path = match file {
        Location::Revision { path, .. } => path.clone(),
        Location::Path(path) => below_top(path)?,
        _ => {
            return Err(Failure::new(format!("what comes from standard input has no place in {shown}"))
                .help("give the file by its path"));
        }
    };
    match git::kind(revision, &path)? {
        Some(git::Kind::File) => Ok(Location::Revision { revision: revision.into(), path }),
        _ => Err(Failure::new(format!("the revision {revision} has no {}", path.display()))
            .help(format!("git ls-tree -r --name-only {revision} lists what it has"))),
    }
}

/// A path on disk, from the top of the repository.
fn below_top(path: &Path) -> Result<PathBuf, Failure> {
    let Some(top) = git::top()? else { return Err(no_repository()) };
    let whole = std::fs::canonicalize(path).unwrap_or_else(|_| path.to_owned());
    let top = std::fs::canonicalize(&top).unwrap_or(top);
    whole.strip_prefix(&top).map(Path::to_owned).map_err(|_| {
        Failure::new("this file is outside the repository")
            .at(path.display().to_string())
            .help("give a file of the repository that holds the revision")
    })
}

/// All contracts on either side, by their paths below it.
fn many(old: &Source, new: &Source) -> Result<Vec<Versions>, Failure> {
    // Of a revision as a whole, what lies where the folder does.
    let within = match (old, new) {
        (Source::Revision { below, .. }, Source::Folder(folder))
        | (Source::Folder(folder), Source::Revision { below, .. })
            if below.as_os_str().is_empty() =>
        {
            Some(below_top(folder)?)
        }
        _ => None,
    };
    let mut all: BTreeMap<String, Versions> = BTreeMap::new();
    for (source, is_old) in [(old, true), (new, false)] {
        for (name, location) in contracts(source, within.as_deref())? {
            let entry = all.entry(name.clone()).or_insert_with(|| Versions { name, old: None, new: None });
            if is_old {
                entry.old = Some(location);
            } else {
                entry.new = Some(location);
            }
        }
    }
    if all.is_empty() {
        let shown = match (old, new) {
            (Source::Folder(folder), _) | (_, Source::Folder(folder)) => folder.display().to_string(),
            (Source::Revision { name, .. }, _) => name.clone(),
            (Source::File(file), _) => file.to_string(),
        };
        return Err(Failure::new("there is no contract in this folder, or in the other version of it")
            .at(shown)
            .help("contracts are files whose names end in .wsdl"));
    }
    Ok(all.into_values().collect())
}

fn contracts(source: &Source, within: Option<&Path>) -> Result<Vec<(String, Location)>, Failure> {
    let is_contract = |path: &Path| path.extension().is_some_and(|end| end.eq_ignore_ascii_case("wsdl"));
    let shown = |path: &Path| path.iter().map(|step| step.to_string_lossy()).collect::<Vec<_>>().join("/");
    Ok(match source {
        Source::Revision { name, below } => {
            let below = if below.as_os_str().is_empty() { within.unwrap_or(below) } else { below };
            let paths = git::files(name, below)?.into_iter().filter(|path| is_contract(path));
            let entry = |path: PathBuf| {
                let inside = path.strip_prefix(below).unwrap_or(&path).to_owned();
                (shown(&inside), Location::Revision { revision: name.as_str().into(), path })
            };
            paths.map(entry).collect()
        }
        Source::Folder(folder) => {
            // What was not seen may have changed. A link leads to a file that is listed by itself.
            let found: Result<Vec<PathBuf>, Failure> = folders::files_below(folder).collect();
            let mut found =
                found.map_err(|failure| failure.help("check that it is there, and may be read"))?;
            found.retain(|path| is_contract(path) && !path.is_symlink());
            found.sort();
            let paths = found.into_iter();
            let entry = |path: PathBuf| {
                let inside = path.strip_prefix(folder).unwrap_or(&path).to_owned();
                (shown(&inside), Location::Path(path))
            };
            paths.map(entry).collect()
        }
        Source::File(_) => Vec::new(),
    })
}

//! The files that arguments mean: files, folders, patterns.

use std::collections::HashSet;
use std::path::{Path, PathBuf};

use walkdir::{DirEntry, WalkDir};

use crate::Failure;

/// All files in a folder and below, in the order of their names. What is hidden is left out, and links to folders are not
/// followed: they may lead round in a circle.
///
/// # Errors
/// For each folder that cannot be read, one.
pub fn files_below(folder: &Path) -> impl Iterator<Item = Result<PathBuf, Failure>> {
    let shown = |entry: &DirEntry| entry.depth() == 0 || !is_hidden(entry);
    let entries = WalkDir::new(folder).sort_by_file_name().into_iter().filter_entry(shown);
    entries.filter_map(|entry| match entry {
        Ok(entry) => entry.path().is_file().then(|| Ok(entry.into_path())),
        Err(error) => {
            let place = error.path().unwrap_or(Path::new("")).display().to_string();
            let words = error.io_error().map_or_else(|| error.to_string(), ToString::to_string);
            Some(Err(Failure::new(format!("the folder cannot be read: {words}")).at(place)))
        }
    })
}

fn is_hidden(entry: &DirEntry) -> bool {
    entry.file_name().to_string_lossy().starts_with('.')
}

/// The contracts and schemas that arguments mean, each once, those of folders and patterns in the order of their names; and
/// what could not be looked at.
///
/// # Errors
/// If a folder holds none, or no file fits a pattern.
pub fn contracts(arguments: &[String]) -> Result<(Vec<String>, Vec<Failure>), Failure> {
    let mut unread = Vec::new();
    let mut found: Vec<String> = Vec::new();
    for argument in arguments {
        let path = Path::new(argument);
        if path.is_dir() {
            let before = found.len();
            for file in files_below(path) {
                match file {
                    Ok(file) if !is_contract(&file) => {}
                    Ok(file) => match file.to_str() {
                        Some(name) => found.push(name.to_owned()),
                        None => {
                            unread.push(unnamed(&file).help("it was not checked; give it another name"));
                        }
                    },
                    Err(failure) => unread.push(failure.help("what is in it was not checked")),
                }
            }
            if found.len() == before && unread.is_empty() {
                let failure =
                    Failure::new("there is no contract and no schema in this folder").at(argument.clone());
                return Err(
                    failure.help("files are found by their endings, .wsdl and .xsd; give others by name")
                );
            }
        } else if argument != "-"
            && !is_address(argument)
            && !path.exists()
            && argument.contains(['*', '?', '['])
        {
            found.extend(matching(argument)?);
        } else {
            found.push(argument.clone());
        }
    }
    let mut seen = HashSet::new();
    found.retain(|file| seen.insert(file.clone()));
    Ok((found, unread))
}

/// The messages that arguments mean: every file of a folder is taken for one.
///
/// # Errors
/// If a folder cannot be read, or holds none.
pub fn messages(arguments: &[String]) -> Result<Vec<String>, Failure> {
    let mut found = Vec::new();
    for argument in arguments {
        let path = Path::new(argument);
        if argument == "-" || !path.is_dir() {
            found.push(argument.clone());
            continue;
        }
        let before = found.len();
        for file in files_below(path) {
            let file = file.map_err(|failure| failure.help("check that it may be read"))?;
            match file.to_str() {
                Some(name) => found.push(name.to_owned()),
                None => return Err(unnamed(&file).help("give it another name")),
            }
        }
        if found.len() == before {
            let failure = Failure::new("there is no message in this folder").at(argument.clone());
            return Err(failure.help("every file in it is taken for one, but for hidden ones"));
        }
    }
    Ok(found)
}

fn unnamed(file: &Path) -> Failure {
    Failure::new("the name of this file is not in UTF-8").at(file.display().to_string())
}

fn is_contract(path: &Path) -> bool {
    let ending = path.extension().map(|ending| ending.to_ascii_lowercase());
    ending.is_some_and(|ending| ending == "wsdl" || ending == "xsd")
}

fn matching(pattern: &str) -> Result<Vec<String>, Failure> {
    let help = "* is anything in one name, ** any number of folders";
    let paths = glob::glob(pattern).map_err(|error| {
        Failure::new(format!("this is no pattern of files: {}", error.msg)).at(pattern).help(help)
    })?;
    let files = paths.filter_map(Result::ok).filter(|path| path.is_file());
    let mut found: Vec<String> = files.map(|path| path.to_string_lossy().into_owned()).collect();
    found.sort();
    if found.is_empty() {
        return Err(Failure::new("no file fits this pattern").at(pattern).help(help));
    }
    Ok(found)
}

/// Whether an argument is an address on the network, where a question mark begins a query.
fn is_address(argument: &str) -> bool {
    ["http://", "https://"].iter().any(|scheme| argument.starts_with(scheme))
}

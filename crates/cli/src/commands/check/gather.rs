//! The files that arguments mean: files, folders, patterns.

use std::fs;
use std::path::{Path, PathBuf};

use crate::console::Failure;

/// The files that are checked, each once, those of folders and patterns in the order of their names.
/// Folders that cannot be read are left out, and told.
pub fn files(arguments: &[String]) -> Result<(Vec<String>, Vec<Failure>), Failure> {
    let mut unread = Vec::new();
    let mut found: Vec<String> = Vec::new();
    for argument in arguments {
        let path = Path::new(argument);
        if path.is_dir() {
            let mut inside = Vec::new();
            contracts_in(path, &mut inside, &mut unread);
            if inside.is_empty() && unread.is_empty() {
                let failure =
                    Failure::new("there is no contract and no schema in this folder").at(argument.clone());
                return Err(
                    failure.help("files are found by their endings, .wsdl and .xsd; give others by name")
                );
            }
            found.extend(inside.into_iter().map(shown));
        } else if argument != "-" && !path.exists() && argument.contains(['*', '?', '[']) {
            found.extend(matching(argument)?);
        } else {
            found.push(argument.clone());
        }
    }
    let mut seen = std::collections::HashSet::new();
    found.retain(|file| seen.insert(file.clone()));
    Ok((found, unread))
}

fn shown(path: PathBuf) -> String {
    path.to_string_lossy().into_owned()
}

/// The contracts and schemas in a folder and below, without hidden folders.
fn contracts_in(folder: &Path, found: &mut Vec<PathBuf>, unread: &mut Vec<Failure>) {
    let listed = fs::read_dir(folder).and_then(|entries| {
        entries.map(|entry| entry.map(|entry| entry.path())).collect::<Result<Vec<_>, _>>()
    });
    let mut entries = match listed {
        Ok(entries) => entries,
        Err(error) => {
            let failure = Failure::new(format!("the folder cannot be read: {error}"));
            let failure = failure.at(folder.display().to_string());
            return unread.push(failure.help("what is in it was not checked"));
        }
    };
    entries.sort();
    for path in entries {
        let hidden = path.file_name().is_some_and(|name| name.to_string_lossy().starts_with('.'));
        // A link to a folder may lead round in a circle.
        if path.is_dir() && !hidden && !path.is_symlink() {
            contracts_in(&path, found, unread);
        } else if path.is_file() && is_contract(&path) {
            if path.to_str().is_none() {
                let failure =
                    Failure::new("the name of this file is not in UTF-8").at(path.display().to_string());
                unread.push(failure.help("it was not checked; give it another name"));
                continue;
            }
            found.push(path);
        }
    }
}

fn is_contract(path: &Path) -> bool {
    let ending = path.extension().map(|ending| ending.to_ascii_lowercase());
    ending.is_some_and(|ending| ending == "wsdl" || ending == "xsd")
}

fn matching(pattern: &str) -> Result<Vec<String>, Failure> {
    let paths = glob::glob(pattern).map_err(|error| {
        let failure =
            Failure::new(format!("this is no pattern of files: {}", error.msg)).at(pattern.to_owned());
        failure.help("* is anything in one name, ** any number of folders")
    })?;
    let mut found: Vec<String> =
        paths.filter_map(Result::ok).filter(|path| path.is_file()).map(shown).collect();
    found.sort();
    if found.is_empty() {
        let failure = Failure::new("no file fits this pattern").at(pattern.to_owned());
        return Err(failure.help("* is anything in one name, ** any number of folders"));
    }
    Ok(found)
}

//! The files that arguments mean: files, folders, patterns.

use std::fs;
use std::path::{Path, PathBuf};

use crate::console::Failure;

/// The files that are checked, each once, those of folders and patterns in the order of their names.
pub fn files(arguments: &[String]) -> Result<Vec<String>, Failure> {
    let mut found: Vec<String> = Vec::new();
    for argument in arguments {
        let path = Path::new(argument);
        if path.is_dir() {
            let mut inside = Vec::new();
            contracts_in(path, &mut inside).map_err(|error| {
                Failure::new(format!("the folder cannot be read: {error}")).at(argument.clone())
            })?;
            if inside.is_empty() {
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
    Ok(found)
}

fn shown(path: PathBuf) -> String {
    path.to_string_lossy().into_owned()
}

/// The contracts and schemas in a folder and below, without hidden folders.
fn contracts_in(folder: &Path, found: &mut Vec<PathBuf>) -> std::io::Result<()> {
    let mut entries: Vec<PathBuf> =
        fs::read_dir(folder)?.map(|entry| entry.map(|entry| entry.path())).collect::<Result<_, _>>()?;
    entries.sort();
    for path in entries {
        let hidden = path.file_name().is_some_and(|name| name.to_string_lossy().starts_with('.'));
        // A link to a folder may lead round in a circle.
        if path.is_dir() && !hidden && !path.is_symlink() {
            contracts_in(&path, found)?;
        } else if path.is_file() && is_contract(&path) {
            found.push(path);
        }
    }
    Ok(())
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

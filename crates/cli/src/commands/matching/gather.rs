//! The files that arguments mean: files, and folders of them.

use std::fs;
use std::path::{Path, PathBuf};

use crate::console::Failure;

/// The files, those of folders in the order of their names, hidden ones left out.
pub fn files(arguments: &[String]) -> Result<Vec<String>, Failure> {
    let mut found = Vec::new();
    for argument in arguments {
        let path = Path::new(argument);
        if argument == "-" || !path.is_dir() {
            found.push(argument.clone());
            continue;
        }
        let mut inside = Vec::new();
        messages_in(path, &mut inside).map_err(|error| {
            Failure::new(format!("the folder cannot be read: {error}"))
                .at(argument.clone())
                .help("check that it may be read")
        })?;
        if inside.is_empty() {
            let failure = Failure::new("there is no message in this folder").at(argument.clone());
            return Err(failure.help("every file in it is taken for one, but for hidden ones"));
        }
        found.extend(inside.into_iter().map(|path| path.to_string_lossy().into_owned()));
    }
    Ok(found)
}

fn messages_in(folder: &Path, found: &mut Vec<PathBuf>) -> std::io::Result<()> {
    let mut entries: Vec<PathBuf> =
        fs::read_dir(folder)?.map(|entry| entry.map(|entry| entry.path())).collect::<Result<_, _>>()?;
    entries.sort();
    for path in entries {
        if path.file_name().is_some_and(|name| name.to_string_lossy().starts_with('.')) {
            continue;
        }
        // A link to a folder may lead round in a circle.
        if path.is_dir() && !path.is_symlink() {
            messages_in(&path, found)?;
        } else if path.is_file() {
            if path.to_str().is_none() {
                let name = path.display();
                return Err(std::io::Error::other(format!("the name of {name} is not in UTF-8")));
            }
            found.push(path);
        }
    }
    Ok(())
}

//! The file `charter.toml`: what a team has settled for its contracts. It holds for the folder that it stands in, and
//! for those below.

use std::path::{Path, PathBuf};

use charter_notation::Convention;
use charter_source::{Text, is_ncname, nearest};

use crate::console::Failure;

const NAME: &str = "charter.toml";

/// The naming convention that holds for a file.
pub fn convention(file: &str) -> Result<Convention, Failure> {
    let mut convention = Convention::default();
    let Some(path) = found(Path::new(if file == "-" { "." } else { file })) else { return Ok(convention) };
    let shown = path.display().to_string();
    let text = std::fs::read_to_string(&path).map_err(|error| {
        Failure::new(format!("it cannot be read: {error}")).at(shown.clone()).help("mend it, or move it away")
    })?;
    let place = |at: usize| {
        let position = Text::from(text.as_str()).position(at as u32);
        format!("{shown}:{}:{}", position.line, position.column)
    };
    let table: toml::Table = text.parse().map_err(|error: toml::de::Error| {
        let at = error.span().map_or(0, |span| span.start);
        Failure::new(error.message().to_owned())
            .at(place(at))
            .help("the file is in TOML: [names], then lines such as service = \"*Service\"")
    })?;
    let Some(names) = table.get("names") else { return Ok(convention) };
    let Some(names) = names.as_table() else {
        return Err(Failure::new("\"names\" is no table")
            .at(shown)
            .help("write [names] on a line of its own"));
    };
    for (key, value) in names {
        let at = place(line_of(&text, key));
        let known: Vec<&'static str> = convention.table().iter().map(|(name, _)| *name).collect();
        let mut table = convention.table();
        let Some((_, pattern)) = table.iter_mut().find(|(name, _)| name == key) else {
            let near = nearest(key, known.iter().copied()).map(|near| format!("did you mean {near}?"));
            let failure = Failure::new(format!("there is no name of a \"{key}\" to settle")).at(at);
            return Err(failure.help(near.unwrap_or_else(|| format!("there are {}", known.join(", ")))));
        };
        let Some(value) = value.as_str() else {
            return Err(Failure::new(format!("{key} is no text"))
                .at(at)
                .help("write a pattern in quotes, such as \"*Service\""));
        };
        let needs_stem = !matches!(key.as_str(), "part" | "fault-part");
        if value.matches('*').count() != usize::from(needs_stem) || !is_ncname(&value.replace('*', "x")) {
            let failure = Failure::new(format!("\"{value}\" makes no names")).at(at);
            return Err(failure.help(if needs_stem {
                "write * once, for the name that it follows from: \"*Service\", \"PT_*\""
            } else {
                "a part has one name, without *"
            }));
        }
        value.clone_into(pattern);
    }
    Ok(convention)
}

/// The nearest file of settings, from the folder of a file upwards.
fn found(file: &Path) -> Option<PathBuf> {
    let whole = std::path::absolute(file).ok()?;
    let start = if whole.is_dir() { Some(whole.as_path()) } else { whole.parent() };
    start?.ancestors().map(|folder| folder.join(NAME)).find(|path| path.is_file())
}

/// Where a key stands in a text, for a message.
fn line_of(text: &str, key: &str) -> usize {
    let mut at = 0;
    for line in text.split_inclusive('\n') {
        if line.trim_start().trim_start_matches(['"', '\'']).starts_with(key) {
            return at;
        }
        at += line.len();
    }
    0
}

//! The file `charter.toml`: what a team has settled for its contracts. It holds for the folder that it stands in, and
//! for those below.

use std::path::{Path, PathBuf};

use charter_check::{Settings, SettingsError};
use charter_notation::Convention;
use charter_source::{Text, is_ncname, nearest};

use crate::console::Failure;
use crate::read;

const NAME: &str = "charter.toml";

/// The text of the settings that hold for a file, and where it stands.
pub fn text_for(file: &str) -> Result<Option<(PathBuf, String)>, Failure> {
    let Some(path) = found(Path::new(if file == "-" { "." } else { file })) else { return Ok(None) };
    match read::small(&path) {
        Ok(text) => Ok(Some((path, text))),
        Err(error) => Err(Failure::new(format!("it cannot be read: {error}"))
            .at(path.display().to_string())
            .help("mend it, or move it away")),
    }
}

/// What is settled about checks of a file, and the folder that it is settled in.
pub fn settings(file: &str) -> Result<(Settings, Option<PathBuf>), Failure> {
    let mut settings = Settings::default();
    let mut folder = None;
    if let Some((path, text)) = text_for(file)? {
        let shown = path.display().to_string();
        settings = Settings::read(&text).map_err(|error| failure(&shown, &text, &error))?;
        folder = path.parent().map(Path::to_owned);
    }
    settings.today = today();
    Ok((settings, folder))
}

/// What makes no sense in a file of settings, as the user is told.
pub fn failure(shown: &str, text: &str, error: &SettingsError) -> Failure {
    let position = Text::from(text).position(error.span.start as u32);
    Failure::new(error.message.clone())
        .at(format!("{shown}:{}:{}", position.line, position.column))
        .help(error.help.clone())
}

/// Today in the calendar of the world, as `2026-11-23`.
fn today() -> String {
    jiff::Timestamp::now().strftime("%Y-%m-%d").to_string()
}

/// The naming convention that holds for a file.
pub fn convention(file: &str) -> Result<Convention, Failure> {
    let mut convention = Convention::default();
    let Some((path, text)) = text_for(file)? else { return Ok(convention) };
    let shown = path.display().to_string();
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

//! `[check]` and `[house]`: what a team has settled about checks.

use std::ops::Range;

use charter_check::{
    Exception, House, Level, LevelChange, NamePattern, NamedKind, PathPattern, Profile, Settings,
    SettingsError, rule, rules,
};
use charter_contract::{SoapVersion, Style};
use charter_source::nearest;

use super::table::{Table, Value};

type Read<T> = Result<T, SettingsError>;

pub(super) fn check(table: &Table<'_>, settings: &mut Settings) -> Read<()> {
    for (key, value) in table.entries(&["profiles", "baseline", "levels", "at", "except"])? {
        match key {
            "profiles" => settings.profiles = Some(profiles(value)?),
            "baseline" => settings.baseline = Some(value.text()?.to_owned()),
            // What holds for some components is looked at after what holds for all.
            "levels" => {
                let all = levels(&value.table(&table.full(key))?, &[])?;
                settings.levels.splice(0..0, all);
            }
            "at" => {
                for (number, one) in value.list().into_iter().enumerate() {
                    settings.levels.extend(at(&one.table(&format!("check.at.{}", number + 1))?)?);
                }
            }
            _ => {
                for one in value.list() {
                    settings.exceptions.push(exception(&one.table("check.except")?, one)?);
                }
            }
        }
    }
    Ok(())
}

fn profiles(value: Value<'_>) -> Read<Vec<Profile>> {
    let mut found = Vec::new();
    for (place, name) in value.texts()? {
        found.push(Profile::named(name).ok_or_else(|| {
            let names: Vec<&str> = Profile::ALL.iter().map(|profile| profile.name()).collect();
            place.wrong(format!("there is no profile \"{name}\""), format!("there is {}", names.join(", ")))
        })?);
    }
    Ok(found)
}

/// The name of a rule that is there.
fn known_rule(name: &str, span: Range<usize>) -> Read<String> {
    if rule(name).is_some() {
        return Ok(name.to_owned());
    }
    let help = nearest(name, rules().map(|rule| rule.name)).map_or_else(
        || "charter explain lists them all".to_owned(),
        |near| format!("did you mean \"{near}\"?"),
    );
    Err(SettingsError { span, message: format!("there is no rule \"{name}\""), help })
}

fn levels(table: &Table<'_>, paths: &[PathPattern]) -> Read<Vec<LevelChange>> {
    let mut found = Vec::new();
    for (name, value) in table.entries(&[])? {
        let level = match value.text()? {
            "error" => Some(Level::Error),
            "warning" => Some(Level::Warning),
            "note" => Some(Level::Note),
            "off" => None,
            other => {
                let message = format!("\"{other}\" is no level");
                return Err(value.wrong(message, "write \"error\", \"warning\", \"note\" or \"off\""));
            }
        };
        found.push(LevelChange { rule: known_rule(name, table.key(name))?, level, paths: paths.to_vec() });
    }
    Ok(found)
}

fn at(table: &Table<'_>) -> Read<Vec<LevelChange>> {
    let entries = table.entries(&["paths", "levels"])?;
    let value = |wanted: &str| entries.iter().find(|(key, _)| *key == wanted).map(|(_, value)| *value);
    let paths = value("paths").map_or(Ok(Vec::new()), paths)?;
    match value("levels") {
        Some(value) => levels(&value.table(&table.full("levels"))?, &paths),
        None => Ok(Vec::new()),
    }
}

fn paths(value: Value<'_>) -> Read<Vec<PathPattern>> {
    let mut found = Vec::new();
    for (place, text) in value.texts()? {
        found.push(PathPattern::new(text).map_err(|error| {
            place.wrong(format!("\"{text}\" is no pattern of paths: {error}"), "write it like type/*/draught")
        })?);
    }
    Ok(found)
}

fn exception(table: &Table<'_>, whole: Value<'_>) -> Read<Exception> {
    let mut found = Exception { rule: String::new(), paths: Vec::new(), reason: String::new(), until: None };
    for (key, value) in table.entries(&["rule", "paths", "reason", "until"])? {
        match key {
            "rule" => {
                let span = value.wrong("", "").span;
                found.rule = known_rule(value.text()?, span)?;
            }
            "paths" => found.paths = paths(value)?,
            "reason" => found.reason = value.text()?.to_owned(),
            _ => found.until = Some(day(value)?),
        }
    }
    if found.rule.is_empty() {
        return Err(whole.wrong("this exception names no rule", "add rule = \"…\""));
    }
    if found.reason.trim().is_empty() {
        return Err(
            whole.wrong("this exception gives no reason", "add reason = \"…\": who reads it will ask")
        );
    }
    Ok(found)
}

/// A day, as a date of TOML or as text.
fn day(value: Value<'_>) -> Read<String> {
    let text = match value.value.as_datetime() {
        Some(date) => date.to_string(),
        None => value.value.as_str().unwrap_or("").to_owned(),
    };
    let digits =
        |from: usize, to: usize| text.get(from..to).is_some_and(|it| it.bytes().all(|b| b.is_ascii_digit()));
    let form = text.len() == 10 && digits(0, 4) && digits(5, 7) && digits(8, 10);
    if form && text.as_bytes()[4] == b'-' && text.as_bytes()[7] == b'-' {
        Ok(text)
    } else {
        Err(value.wrong("this is no day", "write it like 2027-03-31"))
    }
}

pub(super) fn house(table: &Table<'_>) -> Read<House> {
    let mut house = House::default();
    let known = [
        "names",
        "headers",
        "faults",
        "documented",
        "types",
        "namespaces",
        "version",
        "soap",
        "styles",
        "forbidden",
    ];
    for (key, value) in table.entries(&known)? {
        let strings =
            || -> Read<Vec<String>> { Ok(value.texts()?.into_iter().map(|(_, it)| it.to_owned()).collect()) };
        match key {
            "names" => house.names = names(&value.table("house.names")?)?,
            "headers" => house.headers = strings()?,
            "faults" => house.faults = strings()?,
            "documented" => {
                for (place, word) in value.texts()? {
                    house
                        .documented
                        .push(kind(word, |help| place.wrong(format!("there is no kind \"{word}\""), help))?);
                }
            }
            "types" => types(&value.table("house.types")?, &mut house)?,
            "namespaces" => house.namespaces = Some(paths(value)?),
            "version" => house.version = Some(pattern(value)?),
            "soap" => house.soap = Some(soap(value)?),
            "styles" => house.styles = Some(styles(value)?),
            _ => house.forbidden = paths(value)?,
        }
    }
    Ok(house)
}

fn kind(word: &str, wrong: impl Fn(String) -> SettingsError) -> Read<NamedKind> {
    let words = || NamedKind::ALL.iter().map(|(word, _)| *word);
    NamedKind::ALL.iter().find(|(known, _)| *known == word).map(|(_, kind)| *kind).ok_or_else(|| {
        wrong(nearest(word, words()).map_or_else(
            || format!("there is {}", words().collect::<Vec<_>>().join(", ")),
            |near| format!("did you mean \"{near}\"?"),
        ))
    })
}

fn names(table: &Table<'_>) -> Read<Vec<(NamedKind, NamePattern)>> {
    let mut found = Vec::new();
    for (word, value) in table.entries(&[])? {
        let kind = kind(word, |help| SettingsError {
            span: table.key(word),
            message: format!("there is no kind \"{word}\""),
            help,
        })?;
        found.push((kind, pattern(value)?));
    }
    Ok(found)
}

fn pattern(value: Value<'_>) -> Read<NamePattern> {
    let text = value.text()?;
    NamePattern::new(text).map_err(|error| {
        value.wrong(
            format!("\"{text}\" is no pattern: {error}"),
            "write a regular expression for the whole name",
        )
    })
}

fn types(table: &Table<'_>, house: &mut House) -> Read<()> {
    for (key, value) in table.entries(&["allowed", "forbidden"])? {
        let names: Vec<String> = value.texts()?.into_iter().map(|(_, it)| it.to_owned()).collect();
        match key {
            "allowed" => house.allowed_types = Some(names),
            _ => house.forbidden_types = names,
        }
    }
    Ok(())
}

fn soap(value: Value<'_>) -> Read<Vec<SoapVersion>> {
    let read = |(place, text): (Value<'_>, &str)| match text {
        "1.1" => Ok(SoapVersion::V11),
        "1.2" => Ok(SoapVersion::V12),
        _ => Err(place.wrong(format!("there is no SOAP {text}"), "write \"1.1\" or \"1.2\"")),
    };
    value.texts()?.into_iter().map(read).collect()
}

fn styles(value: Value<'_>) -> Read<Vec<Style>> {
    let read = |(place, text): (Value<'_>, &str)| match text {
        "document" => Ok(Style::Document),
        "rpc" => Ok(Style::Rpc),
        _ => Err(place.wrong(format!("there is no style \"{text}\""), "write \"document\" or \"rpc\"")),
    };
    value.texts()?.into_iter().map(read).collect()
}

//! `[compare]` and `[versions]`: what a team has settled about revisions.

use charter_check::SettingsError;
use charter_compare::{NamespaceRule, OpenContent, Policy, Step, Surface, UnknownContent, Verdict};

use super::table::{Table, Value};

/// What is settled about comparisons.
#[derive(Debug, Clone, Copy, Default)]
pub struct Revisions {
    /// The worst verdict that ends well.
    pub allow: Option<Verdict>,
    /// How consumers read.
    pub reader: Option<UnknownContent>,
    /// How open content counts.
    pub open: Option<OpenContent>,
    /// What is looked at.
    pub surface: Option<Surface>,
}

/// What one of some words stands for.
fn one_of<T: Copy>(value: Value<'_>, all: &[(&str, T)]) -> Result<T, SettingsError> {
    let word = value.text()?;
    all.iter().find(|(known, _)| *known == word).map(|(_, meant)| *meant).ok_or_else(|| {
        let words: Vec<&str> = all.iter().map(|(known, _)| *known).collect();
        value.wrong(format!("\"{word}\" is not known here"), format!("there is {}", words.join(", ")))
    })
}

const VERDICTS: [(&str, Verdict); 3] =
    [("keeps", Verdict::Keeps), ("bends", Verdict::Bends), ("breaks", Verdict::Breaks)];
const READERS: [(&str, UnknownContent); 2] =
    [("strict", UnknownContent::Refused), ("lenient", UnknownContent::Ignored)];
const OPEN: [(&str, OpenContent); 3] =
    [("apart", OpenContent::Apart), ("named", OpenContent::Named), ("ignored", OpenContent::Ignored)];
const SURFACES: [(&str, Surface); 2] = [("wire", Surface::Wire), ("code", Surface::Code)];
const STEPS: [(&str, Step); 4] =
    [("major", Step::Major), ("minor", Step::Minor), ("patch", Step::Patch), ("same", Step::Same)];
const NAMESPACES: [(&str, NamespaceRule); 3] =
    [("breaks", NamespaceRule::Breaks), ("always", NamespaceRule::Always), ("never", NamespaceRule::Never)];

pub(super) fn compare(table: &Table<'_>) -> Result<Revisions, SettingsError> {
    let mut settled = Revisions::default();
    for (key, value) in table.entries(&["allow", "reader", "open-content", "surface"])? {
        match key {
            "allow" => settled.allow = Some(one_of(value, &VERDICTS)?),
            "reader" => settled.reader = Some(one_of(value, &READERS)?),
            "open-content" => settled.open = Some(one_of(value, &OPEN)?),
            _ => settled.surface = Some(one_of(value, &SURFACES)?),
        }
    }
    Ok(settled)
}

pub(super) fn versions(table: &Table<'_>) -> Result<Policy, SettingsError> {
    let mut policy = Policy::default();
    for (key, value) in table.entries(&["breaks", "bends", "keeps", "namespace", "current"])? {
        match key {
            "breaks" => policy.breaks = one_of(value, &STEPS)?,
            "bends" => policy.bends = one_of(value, &STEPS)?,
            "keeps" => policy.keeps = one_of(value, &STEPS)?,
            "namespace" => policy.namespace = one_of(value, &NAMESPACES)?,
            _ => policy.current = Some(value.text()?.to_owned()),
        }
    }
    Ok(policy)
}

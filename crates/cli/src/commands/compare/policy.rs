//! What a team has settled about revisions, in `charter.toml`: `[compare]` and `[versions]`.

use std::path::Path;

use charter_compare::{NamespaceRule, Policy, Step, Verdict};
use charter_source::Text;
use serde::Deserialize;
use toml::Spanned;

use crate::config;
use crate::console::Failure;

/// What is settled.
#[derive(Debug, Clone, Default)]
pub struct Settled {
    /// The worst verdict that ends well.
    pub allow: Option<Verdict>,
    /// How consumers read.
    pub reader: Option<charter_compare::Reader>,
    /// What is looked at.
    pub surface: Option<charter_compare::Surface>,
    /// What happens to version numbers; nothing if nothing is said.
    pub policy: Option<Policy>,
}

#[derive(Deserialize, Default)]
struct Written {
    #[serde(default)]
    compare: WrittenCompare,
    versions: Option<WrittenVersions>,
}

#[derive(Deserialize, Default)]
#[serde(deny_unknown_fields)]
struct WrittenCompare {
    allow: Option<Spanned<String>>,
    reader: Option<Spanned<String>>,
    surface: Option<Spanned<String>>,
}

#[derive(Deserialize, Default)]
#[serde(deny_unknown_fields)]
struct WrittenVersions {
    breaks: Option<Spanned<String>>,
    bends: Option<Spanned<String>>,
    keeps: Option<Spanned<String>>,
    namespace: Option<Spanned<String>>,
    current: Option<String>,
}

/// What is settled for a contract on disk.
pub fn settled(file: &str) -> Result<Settled, Failure> {
    let Some((path, text)) = config::text_for(file)? else { return Ok(Settled::default()) };
    read(&path, &text)
}

fn read(path: &Path, text: &str) -> Result<Settled, Failure> {
    let shown = path.display().to_string();
    let at = |start: usize| {
        let position = Text::from(text).position(start as u32);
        format!("{shown}:{}:{}", position.line, position.column)
    };
    let written: Written = toml::from_str(text).map_err(|error: toml::de::Error| {
        let words = error.message().lines().next().unwrap_or("it is no TOML").to_owned();
        Failure::new(words)
            .at(at(error.span().map_or(0, |span| span.start)))
            .help("[compare] has allow, reader and surface; [versions] has breaks, bends, keeps, namespace and current")
    })?;
    let one_of =
        |word: &Spanned<String>, all: &[&str]| match all.iter().position(|known| known == word.get_ref()) {
            Some(found) => Ok(found),
            None => Err(Failure::new(format!("\"{}\" is not known here", word.get_ref()))
                .at(at(word.span().start))
                .help(format!("there is {}", all.join(", ")))),
        };
    let chosen = |word: &Option<Spanned<String>>, all: &[&str]| {
        word.as_ref().map(|word| one_of(word, all)).transpose()
    };
    let mut settled = Settled::default();
    let verdicts = [Verdict::Keeps, Verdict::Bends, Verdict::Breaks];
    settled.allow = chosen(&written.compare.allow, &["keeps", "bends", "breaks"])?.map(|at| verdicts[at]);
    let readers = [charter_compare::Reader::Strict, charter_compare::Reader::Lenient];
    settled.reader = chosen(&written.compare.reader, &["strict", "lenient"])?.map(|at| readers[at]);
    let surfaces = [charter_compare::Surface::Wire, charter_compare::Surface::Code];
    settled.surface = chosen(&written.compare.surface, &["wire", "code"])?.map(|at| surfaces[at]);
    if let Some(versions) = written.versions {
        let mut policy = Policy { current: versions.current, ..Policy::default() };
        let steps = [Step::Major, Step::Minor, Step::Patch, Step::Same];
        let step = |word: &Option<Spanned<String>>, otherwise: Step| {
            Ok::<Step, Failure>(
                chosen(word, &["major", "minor", "patch", "same"])?.map_or(otherwise, |at| steps[at]),
            )
        };
        policy.breaks = step(&versions.breaks, policy.breaks)?;
        policy.bends = step(&versions.bends, policy.bends)?;
        policy.keeps = step(&versions.keeps, policy.keeps)?;
        let rules = [NamespaceRule::Breaks, NamespaceRule::Always, NamespaceRule::Never];
        if let Some(at) = chosen(&versions.namespace, &["breaks", "always", "never"])? {
            policy.namespace = rules[at];
        }
        settled.policy = Some(policy);
    }
    Ok(settled)
}

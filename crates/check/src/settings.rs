//! What a team has settled about checks: the profiles it keeps to, the levels of rules, exceptions, what is known already,
//! and the rules of its own house. `docs/house-rules.md` describes the file that it is read from.

use std::ops::Range;

use charter_contract::{SoapVersion, Style};

use crate::level::Level;
use crate::profile::Profile;

/// The settings of a check.
#[derive(Debug, Clone, Default)]
pub struct Settings {
    /// The profiles asked for; `None`: those that the bindings let expect, and what breaks them is no error.
    pub profiles: Option<Vec<Profile>>,
    /// Levels that differ from those of the catalogue; of several that fit, the last one holds.
    pub levels: Vec<LevelChange>,
    /// Findings that are allowed for a time.
    pub exceptions: Vec<Exception>,
    /// The file of findings that are known already, as the settings name it.
    pub baseline: Option<String>,
    /// The rules of the house.
    pub house: House,
    /// Whether to say what is merely worth knowing.
    pub notes: bool,
    /// Today, as `2026-11-23`: exceptions end.
    pub today: String,
}

/// Another level for a rule, everywhere or in some components.
#[derive(Debug, Clone)]
pub struct LevelChange {
    /// The rule.
    pub rule: String,
    /// The level; `None` turns the rule off.
    pub level: Option<Level>,
    /// The components that it holds for; all of them if there are none.
    pub paths: Vec<PathPattern>,
}

/// A finding that is allowed.
#[derive(Debug, Clone)]
pub struct Exception {
    /// The rule.
    pub rule: String,
    /// Where it may be broken; everywhere if there are none.
    pub paths: Vec<PathPattern>,
    /// Why.
    pub reason: String,
    /// The last day on which it holds, as `2026-12-31`.
    pub until: Option<String>,
}

/// A pattern of component paths: `*` is anything within one step, `**` any number of steps.
#[derive(Debug, Clone)]
pub struct PathPattern(glob::Pattern);

impl PathPattern {
    /// Reads a pattern.
    ///
    /// # Errors
    /// If it makes no sense, with the reason.
    ///
    /// ```
    /// use charter_check::PathPattern;
    ///
    /// let pattern = PathPattern::new("type/*/draught").unwrap();
    /// assert!(pattern.matches("type/Vessel/draught"));
    /// assert!(!pattern.matches("type/Vessel/hull/draught"));
    /// assert!(PathPattern::new("operation/old*/**").unwrap().matches("operation/oldBerth/input"));
    /// ```
    pub fn new(pattern: &str) -> Result<PathPattern, String> {
        glob::Pattern::new(pattern).map(PathPattern).map_err(|error| error.msg.to_owned())
    }

    /// Whether a path fits; what stands in a component fits with it.
    pub fn matches(&self, path: &str) -> bool {
        let options = glob::MatchOptions { require_literal_separator: true, ..glob::MatchOptions::new() };
        self.0.matches_with(path, options)
    }
}

fn covers(paths: &[PathPattern], path: &str) -> bool {
    paths.is_empty() || paths.iter().any(|pattern| pattern.matches(path))
}

/// The rules of the house.
#[derive(Debug, Clone, Default)]
pub struct House {
    /// Patterns of the names of components, by kind.
    pub names: Vec<(NamedKind, NamePattern)>,
    /// The elements of header blocks that every input carries, by local name.
    pub headers: Vec<String>,
    /// Faults that every operation with an output declares, by name.
    pub faults: Vec<String>,
    /// Kinds of components that say what they are for.
    pub documented: Vec<NamedKind>,
    /// Types of XML Schema, or global types by local name, that nothing may use.
    pub forbidden_types: Vec<String>,
    /// The only types of XML Schema that may be used.
    pub allowed_types: Option<Vec<String>>,
    /// The only namespaces that schemas and contracts may have, or import.
    pub namespaces: Option<Vec<PathPattern>>,
    /// The pattern of the target namespace of a contract: where its version stands.
    pub version: Option<NamePattern>,
    /// The versions of SOAP that bindings may use.
    pub soap: Option<Vec<SoapVersion>>,
    /// The styles that bindings may use.
    pub styles: Option<Vec<Style>>,
    /// Components that may not be there.
    pub forbidden: Vec<PathPattern>,
}

/// A pattern of a whole name, as a regular expression.
#[derive(Debug, Clone)]
pub struct NamePattern {
    /// As it is written.
    pub text: String,
    regex: regex_automata::meta::Regex,
}

impl NamePattern {
    /// Reads a regular expression for a whole name.
    ///
    /// # Errors
    /// If it is none, with the reason.
    pub fn new(text: &str) -> Result<NamePattern, String> {
        let regex = regex_automata::meta::Regex::new(&format!("^(?:{text})$")).map_err(|error| {
            let words = error.syntax_error().map_or_else(|| error.to_string(), |error| error.to_string());
            words.lines().last().unwrap_or("it cannot be read").trim().to_owned()
        })?;
        Ok(NamePattern { text: text.to_owned(), regex })
    }

    /// Whether a name fits.
    pub fn matches(&self, name: &str) -> bool {
        self.regex.is_match(name)
    }
}

/// A kind of component that has names of its own.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum NamedKind {
    /// A global or local element.
    Element,
    /// An attribute.
    Attribute,
    /// A type.
    Type,
    /// A message.
    Message,
    /// A part of a message.
    Part,
    /// A port type.
    PortType,
    /// An operation.
    Operation,
    /// A fault of an operation.
    Fault,
    /// A binding.
    Binding,
    /// A service.
    Service,
    /// A port.
    Port,
    /// The contract as a whole.
    Contract,
}

impl NamedKind {
    /// All of them, with the words for them.
    pub const ALL: [(&'static str, NamedKind); 12] = [
        ("contract", NamedKind::Contract),
        ("service", NamedKind::Service),
        ("port", NamedKind::Port),
        ("binding", NamedKind::Binding),
        ("port-type", NamedKind::PortType),
        ("operation", NamedKind::Operation),
        ("fault", NamedKind::Fault),
        ("message", NamedKind::Message),
        ("part", NamedKind::Part),
        ("element", NamedKind::Element),
        ("attribute", NamedKind::Attribute),
        ("type", NamedKind::Type),
    ];

    /// The word for it.
    pub fn word(self) -> &'static str {
        NamedKind::ALL.iter().find(|(_, kind)| *kind == self).map_or("", |(word, _)| word)
    }
}

impl Settings {
    /// Whether any rule of the house is settled.
    pub fn has_house(&self) -> bool {
        let house = &self.house;
        !(house.names.is_empty()
            && house.headers.is_empty()
            && house.faults.is_empty()
            && house.documented.is_empty()
            && house.forbidden_types.is_empty()
            && house.forbidden.is_empty()
            && house.allowed_types.is_none()
            && house.namespaces.is_none()
            && house.version.is_none()
            && house.soap.is_none()
            && house.styles.is_none())
    }

    /// Whether the level of a rule, or whether it is allowed, depends on where it is broken.
    pub(crate) fn looks_at_paths(&self, rule: &str) -> bool {
        self.levels.iter().any(|change| change.rule == rule && !change.paths.is_empty())
            || self.exceptions.iter().any(|exception| exception.rule == rule)
    }

    /// The level that a rule has at a path, beginning with the one that it would have; `None` if it is off.
    pub(crate) fn level(&self, rule: &str, path: &str, level: Level) -> Option<Level> {
        let fits = |change: &&LevelChange| change.rule == rule && covers(&change.paths, path);
        self.levels.iter().rfind(fits).map_or(Some(level), |change| change.level)
    }

    /// The exception that allows a finding, if it has not ended; or the one that has.
    pub(crate) fn exception(&self, rule: &str, path: &str) -> Option<(&Exception, bool)> {
        let of_rule = |exception: &&Exception| exception.rule == rule && covers(&exception.paths, path);
        let mut fitting = self.exceptions.iter().filter(of_rule);
        let holds = |exception: &Exception| {
            exception.until.as_ref().is_none_or(|until| self.today.is_empty() || self.today <= *until)
        };
        let first = fitting.clone().next();
        let held = fitting.find(|exception| holds(exception));
        held.map(|exception| (exception, true)).or_else(|| first.map(|exception| (exception, false)))
    }
}

/// What makes no sense in a file of settings.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{message}")]
pub struct SettingsError {
    /// Where it stands, in bytes.
    pub span: Range<usize>,
    /// What is wrong.
    pub message: String,
    /// What to do about it.
    pub help: String,
}

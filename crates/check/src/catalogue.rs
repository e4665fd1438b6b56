//! What a rule is, and the table of all.

use charter_contract::Contract;
use charter_source::Fault;

use crate::example::Example;
use crate::rules::{hygiene, instance, schema, simple, soap, wsdl, xml};

/// How serious a finding is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Level {
    /// The contract is wrong: somebody cannot read it, or cannot use it.
    Error,
    /// The contract can be used, but somebody will be hurt.
    Warning,
}

impl Level {
    /// `error` or `warning`.
    pub fn name(self) -> &'static str {
        match self {
            Level::Error => "error",
            Level::Warning => "warning",
        }
    }
}

/// What a rule is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Family {
    /// Files, markup, namespaces.
    Xml,
    /// Schemas.
    Schema,
    /// Messages against schemas.
    Instance,
    /// Contracts.
    Wsdl,
    /// SOAP bindings and addresses.
    Soap,
    /// What is allowed but does harm.
    Hygiene,
}

impl Family {
    /// Its heading.
    pub fn name(self) -> &'static str {
        match self {
            Family::Xml => "XML",
            Family::Schema => "XML Schema",
            Family::Instance => "Messages against schemas",
            Family::Wsdl => "WSDL",
            Family::Soap => "SOAP binding",
            Family::Hygiene => "Hygiene",
        }
    }
}

/// One rule.
#[derive(Debug)]
pub struct Rule {
    /// Its name.
    pub name: &'static str,
    /// What it is about.
    pub family: Family,
    /// How serious it is.
    pub level: Level,
    /// The standard and the section that ask for it; a reason of our own where no standard does.
    pub standard: &'static str,
    /// What it asks, in one line.
    pub asks: &'static str,
    /// Why it matters and what to do, in a few sentences.
    pub why: &'static str,
    /// An example; none only where it would not fit on a screen.
    pub example: Option<Example>,
    /// What looks for it; `None` where reading the files finds it anyway.
    pub look: Option<fn(&Contract, &mut Vec<Fault>)>,
}

/// All rules, by family.
pub fn rules() -> impl Iterator<Item = &'static Rule> {
    [xml::RULES, schema::RULES, simple::RULES, instance::RULES, wsdl::RULES, soap::RULES, hygiene::RULES]
        .into_iter()
        .flatten()
}

/// The rule of that name.
pub fn rule(name: &str) -> Option<&'static Rule> {
    rules().find(|rule| rule.name == name)
}

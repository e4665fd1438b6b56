//! What a rule is.

use charter_author::Editing;
use charter_contract::Contract;
use charter_source::{Fault, Place, TextEdit};

use crate::example::Example;
use crate::level::Level;
use crate::settings::Settings;

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
    /// HTTP bindings.
    Http,
    /// MIME bindings.
    Mime,
    /// Policies, addressing and security.
    Policy,
    /// What profiles ask of contracts, so that everybody reads them alike.
    Interop,
    /// What profiles ask of envelopes.
    Envelope,
    /// What is asked of messages on the wire, and of what stands around them.
    Wire,
    /// What is allowed but does harm.
    Hygiene,
    /// What the team has settled for its own contracts.
    House,
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
            Family::Http => "HTTP binding",
            Family::Mime => "MIME binding",
            Family::Policy => "Policies and addressing",
            Family::Interop => "Interoperability",
            Family::Envelope => "Interoperability of messages",
            Family::Wire => "Messages on the wire",
            Family::Hygiene => "Hygiene",
            Family::House => "House rules",
        }
    }

    /// How much of what else is wrong may follow from what this family finds: the least number comes first.
    pub(crate) fn ground(self) -> u8 {
        self.stage().map_or(u8::MAX, |stage| stage as u8)
    }

    /// The stage that a contract does not reach which breaks a rule of this family. Hygiene keeps nobody back.
    fn stage(self) -> Option<Stage> {
        match self {
            Family::Xml => Some(Stage::WellFormed),
            Family::Schema | Family::Instance => Some(Stage::SchemaValid),
            Family::Wsdl | Family::Soap | Family::Http | Family::Mime | Family::Policy => {
                Some(Stage::Standard)
            }
            Family::Interop | Family::Envelope => Some(Stage::Interoperable),
            Family::Hygiene | Family::Wire => None,
            Family::House => Some(Stage::House),
        }
    }
}

/// What a contract can be said to be, each on the ground of the one before.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Stage {
    /// It is XML, and all of its files are there.
    WellFormed,
    /// Its schemas keep to every clause.
    SchemaValid,
    /// It keeps to the prose of WSDL and of its bindings.
    Standard,
    /// Everybody reads it alike.
    Interoperable,
    /// It keeps to the rules of the team.
    House,
}

impl Stage {
    /// All of them, in order.
    pub const ALL: [Stage; 5] =
        [Stage::WellFormed, Stage::SchemaValid, Stage::Standard, Stage::Interoperable, Stage::House];

    /// What a contract is that reaches it.
    pub fn name(self) -> &'static str {
        match self {
            Stage::WellFormed => "well-formed",
            Stage::SchemaValid => "schema-valid",
            Stage::Standard => "standard",
            Stage::Interoperable => "interoperable",
            Stage::House => "house",
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
    pub look: Option<Look>,
    /// What looks for it by what is settled.
    pub by_settings: Option<LookBySettings>,
    /// The safe way to mend what it finds, if there is one.
    pub fix: Option<Fix>,
}

/// Looks for what breaks a rule.
pub type Look = fn(&Contract, &mut Vec<Fault>);

/// Looks for what breaks a rule that depends on settings.
pub type LookBySettings = fn(&Contract, &Settings, &mut Vec<Fault>);

/// How to mend what a rule found at a place: edits, or none where it is not plain what was meant.
#[derive(Debug, Clone, Copy)]
pub struct Fix {
    edits: fn(Editing<'_>, Place) -> Option<Vec<TextEdit>>,
    /// Whether what the contract says there is written anew, which costs far more than an edit in place.
    pub through_notation: bool,
}

impl Fix {
    pub(crate) const fn in_place(edits: fn(Editing<'_>, Place) -> Option<Vec<TextEdit>>) -> Fix {
        Fix { edits, through_notation: false }
    }

    pub(crate) const fn through_notation(edits: fn(Editing<'_>, Place) -> Option<Vec<TextEdit>>) -> Fix {
        Fix { edits, through_notation: true }
    }

    pub(crate) fn edits(&self, editing: Editing<'_>, place: Place) -> Option<Vec<TextEdit>> {
        (self.edits)(editing, place)
    }
}

impl Rule {
    /// The stage that a contract does not reach which breaks it. A file that an import does not find is no matter of
    /// markup, though reading finds it.
    pub fn stage(&self) -> Option<Stage> {
        if self.name.starts_with("import-") && self.family == Family::Xml {
            return Some(Stage::Standard);
        }
        self.family.stage()
    }

    /// A rule of a family about which nothing is said yet.
    pub(crate) const fn of(family: Family, level: Level) -> Rule {
        Rule {
            name: "",
            family,
            level,
            standard: "",
            asks: "",
            why: "",
            example: None,
            look: None,
            by_settings: None,
            fix: None,
        }
    }
}

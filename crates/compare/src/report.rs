//! Verdicts, and the changes they rest on.

use charter_contract::{ComponentPath, OperationId};
use charter_schema::Wrong;
use charter_source::Place;

use crate::kind::Kind;
use crate::versions::{SideOf, Subject, Version};
use crate::what::{Doubt, What};

/// What a change does to existing consumers.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Verdict {
    /// Every message that worked still works and means the same.
    Keeps,
    /// It works on the wire, but depends on how a consumer reads or calls.
    Bends,
    /// Some message that was right before is now refused or misread.
    Breaks,
}

impl Verdict {
    /// `keeps`, `bends` or `breaks`.
    pub fn name(self) -> &'static str {
        match self {
            Verdict::Keeps => "keeps",
            Verdict::Bends => "bends",
            Verdict::Breaks => "breaks",
        }
    }
}

/// How consumers read what they do not know: an element or attribute in a reply that was not there before.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum UnknownContent {
    /// They refuse it.
    Refused,
    /// It is not known whether they do.
    #[default]
    Open,
    /// They ignore it.
    Ignored,
}

/// How what differs in open content counts: what no declaration names, since a wildcard or `anyType` lets it in, and all below.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum OpenContent {
    /// It bends, and is told once for each place where it begins: nobody knows from the contract what consumers put there.
    #[default]
    Apart,
    /// As strictly as what is named.
    Named,
    /// It keeps.
    Ignored,
}

/// One change of the contract, whatever the number of operations that it reaches.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Change {
    /// The component that changed.
    pub subject: Subject,
    /// What it is called.
    pub path: ComponentPath,
    /// What the change does at worst.
    pub verdict: Verdict,
    /// The kind of change.
    pub kind: Kind,
    /// What changed.
    pub what: What,
    /// What stood there before, in the notation.
    pub old: Option<String>,
    /// What stands there now.
    pub new: Option<String>,
    /// Where it stood.
    pub old_place: Option<Place>,
    /// Where it stands.
    pub new_place: Option<Place>,
    /// The sides of operations that it reaches.
    pub operations: Vec<Touched>,
    /// A message that proves a *breaks*, or shows on what a *bends* depends.
    pub witness: Option<Witness>,
    /// What a *bends* depends on.
    pub depends: Option<Depends>,
    /// How sure it is that two names stand for one thing, if that is what is said.
    pub confidence: Option<Confidence>,
    /// The components for which it stands, if one cause is told of many.
    pub members: Vec<Subject>,
    /// What differs in what no declaration names, if that is what the change is about.
    pub open: Option<Open>,
    /// Why somebody has accepted it, so that it stops nobody at a gate.
    pub accepted: Option<String>,
}

/// What differs in open content.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Open {
    /// The components where such content may stand.
    pub points: Vec<ComponentPath>,
    /// What differs there, the nearest first.
    pub differences: Vec<OpenDifference>,
}

/// Something that differs in open content.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct OpenDifference {
    /// What differs.
    pub path: ComponentPath,
    /// In which way.
    pub kind: Kind,
    /// What changed.
    pub what: What,
}

/// How sure it is that something goes by another name now, and is not another thing.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Confidence {
    /// The names are alike, and stand at the same place.
    Possible,
    /// It is built the same, and others are too.
    Likely,
    /// It is built the same, and nothing else is.
    Sure,
}

impl Confidence {
    /// `possible`, `likely` or `sure`.
    pub fn name(self) -> &'static str {
        match self {
            Confidence::Possible => "possible",
            Confidence::Likely => "likely",
            Confidence::Sure => "sure",
        }
    }
}

/// What is looked at.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Surface {
    /// Messages on the wire.
    #[default]
    Wire,
    /// The code that is generated from the contract as well: its names, and the shape of its types.
    Code,
}

/// How two versions are compared.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Options {
    /// How consumers read what they do not know.
    pub reader: UnknownContent,
    /// How open content counts.
    pub open: OpenContent,
    /// What is looked at.
    pub surface: Surface,
}

/// A message that one version accepts and the other does not, or reads as something else. Both were asked.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Witness {
    /// The side whose message it is.
    pub at: SideOf,
    /// Which version accepts it.
    pub accepted_by: Version,
    /// The child element of the body, or of the header, that shows it; nothing if the message holds none.
    pub body: Option<String>,
    /// What the other version finds wrong with that element, at places of its text; nothing if what is wrong stands
    /// elsewhere.
    pub refused: Vec<Wrong>,
    /// What the other version has against it.
    pub because: Because,
    /// Whether the other version accepts it too, and reads it as something else.
    pub misread: bool,
}

/// What a version has against a message.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Because {
    /// What it finds wrong in the message.
    Refused,
    /// Nothing: it accepts the message, and takes it for something else.
    Misread,
    /// What all such messages suffer.
    Changed(What),
    /// It knows no names of this namespace.
    NoNamespace(String),
    /// No operation of it takes such a message.
    NoOperation(Version),
    /// It has no such message.
    NoMessage(Version),
}

impl Witness {
    /// What the other version has against it, in a line.
    pub fn because(&self) -> String {
        match &self.because {
            Because::Refused => {
                self.refused.first().map_or_else(String::new, |wrong| wrong.fault.message.clone())
            }
            Because::Misread => "it is accepted, and means something else".to_owned(),
            Because::Changed(what) => what.to_string(),
            Because::NoNamespace(namespace) => format!("\"{namespace}\" is not known any more"),
            Because::NoOperation(version) => {
                format!("no operation of the {} version takes it", version.name())
            }
            Because::NoMessage(version) => format!("the {} version has no such message", version.name()),
        }
    }

    /// How long what it shows is; nothing, if the message is empty.
    pub(crate) fn length(&self) -> usize {
        self.body.as_ref().map_or(0, String::len)
    }
}

/// What it depends on whether a change does harm.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Depends {
    /// On readers that refuse what they do not know.
    StrictReaders,
    /// On readers that ask for what was optional.
    ReadersOfIt,
    /// On how a value is read that both versions accept.
    Meaning,
    /// On code that was generated from the old version, and would be generated anew.
    GeneratedCode,
    /// On something outside the messages: an address, a fault that nobody knows by name.
    Surroundings,
    /// On whether the provider takes what it no longer asks for.
    NoLongerAsked,
    /// On whether anybody puts there what no declaration names.
    OpenContent,
    /// It was not decided: why.
    Undecided(Doubt),
}

impl Depends {
    /// In words, to follow "depends on".
    pub fn words(self) -> String {
        match self {
            Depends::StrictReaders => "whether the reader refuses what it does not know".to_owned(),
            Depends::ReadersOfIt => "whether anybody reads it".to_owned(),
            Depends::Meaning => "how the value is read: both versions accept it".to_owned(),
            Depends::GeneratedCode => {
                "whether code is generated from the contract anew: it changes".to_owned()
            }
            Depends::Surroundings => "what consumers are told".to_owned(),
            Depends::NoLongerAsked => "whether the provider takes what it no longer asks for".to_owned(),
            Depends::OpenContent => {
                "whether anybody puts such content there: the contract leaves it open".to_owned()
            }
            Depends::Undecided(reason) => format!("what was not decided: {reason}"),
        }
    }
}

/// A side of an operation that a change reaches.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Touched {
    /// The side: of the new version, unless that has none such.
    pub at: SideOf,
    /// What the change does to this side.
    pub verdict: Verdict,
}

impl Change {
    /// Whether a message of that length would show a verdict better than what is shown so far.
    pub(crate) fn shows_less(&self, verdict: Verdict, length: Option<usize>) -> bool {
        let own = self.witness.as_ref().map(Witness::length);
        verdict > self.verdict
            || (verdict == self.verdict
                && match (length, own) {
                    (Some(length), Some(own)) => length < own,
                    (length, own) => length.is_some() && own.is_none(),
                })
    }

    /// Whether it says that the contract moved to another namespace as a whole: all other changes are told beyond it.
    pub fn is_migration(&self) -> bool {
        matches!(self.what, What::Migrated { .. })
    }

    /// The sides of operations where the change does its worst.
    pub fn worst(&self) -> impl Iterator<Item = &Touched> {
        self.operations.iter().filter(|touched| touched.verdict == self.verdict)
    }
}

/// The comparison of two versions.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Report {
    /// The worst verdict of all changes.
    pub verdict: Verdict,
    /// The changes, the worst first.
    pub changes: Vec<Change>,
    /// Whether anything changed at all, shown or not.
    pub changed: bool,
    /// Operations of the old version, and how many of them some change breaks, those that are gone among them.
    pub operations: usize,
    /// See `operations`.
    pub broken: usize,
    /// The operations that both versions have, the old one and the new one.
    pub operation_pairs: Vec<(OperationId, OperationId)>,
    /// Whether the two have anything in common: an operation, unless one of them has none at all.
    pub related: bool,
}

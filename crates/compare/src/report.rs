//! Verdicts, and the changes they rest on.

use charter_contract::OperationId;
use charter_schema::Wrong;
use charter_source::{Place, QName};

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
pub enum Reader {
    /// They refuse it.
    Strict,
    /// It is not known.
    #[default]
    Unknown,
    /// They ignore it.
    Lenient,
}

/// One change of the contract, whatever the number of operations that it reaches.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Change {
    /// The component that changed.
    pub path: String,
    /// What the change does at worst.
    pub verdict: Verdict,
    /// The name of the kind of change.
    pub rule: &'static str,
    /// What changed and what follows from it, in one line.
    pub message: String,
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
    /// Why somebody has accepted it, so that it no longer counts.
    pub accepted: Option<String>,
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
    pub reader: Reader,
    /// What is looked at.
    pub surface: Surface,
}

/// A message that one version accepts and the other does not, or reads as something else. Both were asked.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Witness {
    /// The operation.
    pub operation: String,
    /// The side.
    pub side: String,
    /// Which version accepts it.
    pub accepted_by: Version,
    /// The child element of the body, or of the header, that shows it; nothing if the message holds none.
    pub body: Option<String>,
    /// What the other version finds wrong with that element, at places of its text; nothing if what is wrong stands
    /// elsewhere.
    pub refused: Vec<Wrong>,
    /// What the other version has against it, in a line.
    pub because: String,
    /// Whether the other version accepts it too, and reads it as something else.
    pub misread: bool,
}

/// One of the two versions.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Version {
    /// The one that consumers know.
    Old,
    /// The one that is to come.
    New,
}

impl Version {
    /// `old` or `new`.
    pub fn name(self) -> &'static str {
        match self {
            Version::Old => "old",
            Version::New => "new",
        }
    }

    /// The other one.
    pub fn other(self) -> Version {
        match self {
            Version::Old => Version::New,
            Version::New => Version::Old,
        }
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
    /// It was not decided: why.
    Undecided(&'static str),
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
            Depends::Undecided(reason) => format!("what was not decided: {reason}"),
        }
    }
}

/// A side of an operation that a change reaches.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
pub struct Touched {
    /// The operation.
    pub operation: String,
    /// `input`, `output`, or `fault` and its name.
    pub side: String,
    /// What the change does to this side.
    pub verdict: Verdict,
}

impl Change {
    /// Whether a message of that length would show a verdict better than what is shown so far.
    pub(crate) fn shows_less(&self, verdict: Verdict, length: Option<usize>) -> bool {
        let own = self.witness.as_ref().map(|witness| witness.body.as_ref().map_or(0, String::len));
        verdict > self.verdict
            || (verdict == self.verdict
                && match (length, own) {
                    (Some(length), Some(own)) => length < own,
                    (length, own) => length.is_some() && own.is_none(),
                })
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
    /// Operations that both versions have, and how many of them some change breaks.
    pub operations: usize,
    /// See `operations`.
    pub broken: usize,
    /// The operations that both versions have, the old one and the new one.
    pub operation_pairs: Vec<(OperationId, OperationId)>,
    /// Whether the two have anything in common: an operation, unless one of them has none at all.
    pub related: bool,
}

/// Why what is no matter of schemas may not be decided.
pub(crate) const NOT_COMPARED: &str = "the messages could not be compared";

/// What a difference between two schemas does to the messages between them.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Effect {
    /// Some message is accepted that was not.
    pub more: bool,
    /// Some message is no longer accepted, or means something else.
    pub less: bool,
    /// What is new may be ignored by whoever reads it.
    pub ignorable: bool,
    /// It was not decided what is accepted.
    pub undecided: bool,
    /// What is gone was optional: readers had to do without, but may miss it.
    pub missed: bool,
    /// What is sent is no longer asked for.
    pub surplus: bool,
    /// What may be read was not there before, and is no part of what was.
    pub surprise: bool,
    /// Whoever does not send it, and did not have to, is refused now.
    pub demanded: bool,
}

impl Effect {
    pub const NONE: Effect = Effect {
        more: false,
        less: false,
        ignorable: false,
        undecided: false,
        missed: false,
        surplus: false,
        surprise: false,
        demanded: false,
    };
    pub const MORE: Effect = Effect { more: true, ..Effect::NONE };
    pub const LESS: Effect = Effect { less: true, ..Effect::NONE };
    pub const OTHER: Effect = Effect { more: true, less: true, ..Effect::NONE };
    pub const UNDECIDED: Effect = Effect { undecided: true, ..Effect::NONE };
    /// Something new that readers may ignore, and that need not be sent.
    pub const NEW_OPTIONAL: Effect = Effect { more: true, ignorable: true, ..Effect::NONE };
    /// Something new that must be there.
    pub const NEW_REQUIRED: Effect =
        Effect { more: true, less: true, ignorable: true, demanded: true, ..Effect::NONE };
    /// Something optional that is gone.
    pub const GONE_OPTIONAL: Effect = Effect { less: true, missed: true, ..Effect::NONE };
    /// Something that need not be sent any more.
    pub const SURPLUS: Effect = Effect { surplus: true, ..Effect::NONE };
    /// Another answer than those that were known.
    pub const SURPRISE: Effect = Effect { surprise: true, ..Effect::NONE };
    /// Something required that is gone.
    pub const GONE_REQUIRED: Effect = Effect::OTHER;

    /// The verdict where consumers send what is described so, and what it depends on.
    pub fn sent(self) -> (Verdict, Option<Depends>) {
        match self {
            Effect { less: true, .. } => (Verdict::Breaks, None),
            Effect { undecided: true, .. } => (Verdict::Bends, Some(Depends::Undecided(NOT_COMPARED))),
            Effect { surplus: true, .. } => (Verdict::Bends, Some(Depends::NoLongerAsked)),
            _ => (Verdict::Keeps, None),
        }
    }

    /// The verdict where consumers read it.
    pub fn read(self, reader: Reader) -> (Verdict, Option<Depends>) {
        match self {
            Effect { more: true, ignorable: true, .. } => match reader {
                Reader::Strict => (Verdict::Breaks, None),
                Reader::Unknown => (Verdict::Bends, Some(Depends::StrictReaders)),
                Reader::Lenient => (Verdict::Keeps, None),
            },
            Effect { more: true, .. } => (Verdict::Breaks, None),
            Effect { undecided: true, .. } => (Verdict::Bends, Some(Depends::Undecided(NOT_COMPARED))),
            Effect { surprise: true, .. } => (Verdict::Bends, Some(Depends::Surroundings)),
            Effect { missed: true, .. } => (Verdict::Bends, Some(Depends::ReadersOfIt)),
            _ => (Verdict::Keeps, None),
        }
    }

    /// Whether it claims that what goes one way is no longer all right.
    pub fn claims(self, way: Way) -> bool {
        self.undecided
            || match way {
                Way::Sent => self.less,
                Way::Read => self.more,
            }
    }
}

/// Which way a message goes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub(crate) enum Way {
    /// Consumers send it: what the old version allows, the new one must.
    Sent,
    /// Consumers read it: what the new version allows, the old one must have.
    Read,
}

impl Way {
    /// Whose messages are in question.
    pub fn from(self) -> Version {
        match self {
            Way::Sent => Version::Old,
            Way::Read => Version::New,
        }
    }
}

/// What a difference is about, seen from the types or declarations that differ.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub(crate) enum Aspect {
    /// A child element of that name.
    Member(QName),
    /// The content as a whole.
    Content,
    /// Text between elements.
    Mixed,
    /// The value.
    Value,
    /// An attribute of that name.
    Attribute(QName),
    /// An attribute under an old and a new name.
    AttributeNames(QName, QName),
    /// Attributes that a wildcard lets in.
    OtherAttributes,
    /// `xsi:nil`.
    Nil,
    /// Whether it may stand itself.
    Abstract,
    /// What stands for nothing, or is fixed.
    Stated,
    /// Identity constraints.
    Identity,
    /// What may stand in its place.
    Derived,
    /// No matter of schemas: the effect says all.
    Whole,
}

/// A difference between two schemas, whatever its direction.
#[derive(Debug, Clone)]
pub(crate) struct Difference {
    pub path: String,
    pub rule: &'static str,
    pub message: String,
    pub aspect: Aspect,
    pub effect: Effect,
    pub old: Option<String>,
    pub new: Option<String>,
    pub old_place: Option<Place>,
    pub new_place: Option<Place>,
    pub confidence: Option<Confidence>,
}

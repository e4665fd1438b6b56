//! Verdicts, and the changes they rest on.

use charter_source::Place;

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
    /// Operations that both versions have, and how many of them some change breaks.
    pub operations: usize,
    /// See `operations`.
    pub broken: usize,
}

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
}

impl Effect {
    pub const NONE: Effect =
        Effect { more: false, less: false, ignorable: false, undecided: false, missed: false };
    pub const MORE: Effect = Effect { more: true, ..Effect::NONE };
    pub const LESS: Effect = Effect { less: true, ..Effect::NONE };
    pub const OTHER: Effect = Effect { more: true, less: true, ..Effect::NONE };
    pub const UNDECIDED: Effect = Effect { undecided: true, ..Effect::NONE };
    /// Something new that readers may ignore, and that need not be sent.
    pub const NEW_OPTIONAL: Effect = Effect { more: true, ignorable: true, ..Effect::NONE };
    /// Something new that must be there.
    pub const NEW_REQUIRED: Effect = Effect { more: true, less: true, ignorable: true, ..Effect::NONE };
    /// Something optional that is gone.
    pub const GONE_OPTIONAL: Effect = Effect { less: true, missed: true, ..Effect::NONE };
    /// Something required that is gone.
    pub const GONE_REQUIRED: Effect = Effect::OTHER;

    /// The verdict where consumers send what the schemas describe.
    pub fn sent(self) -> Verdict {
        match self {
            Effect { less: true, .. } => Verdict::Breaks,
            Effect { undecided: true, .. } => Verdict::Bends,
            _ => Verdict::Keeps,
        }
    }

    /// The verdict where consumers read it.
    pub fn read(self, reader: Reader) -> Verdict {
        match self {
            Effect { more: true, ignorable: true, .. } => match reader {
                Reader::Strict => Verdict::Breaks,
                Reader::Unknown => Verdict::Bends,
                Reader::Lenient => Verdict::Keeps,
            },
            Effect { more: true, .. } => Verdict::Breaks,
            Effect { undecided: true, .. } | Effect { missed: true, .. } => Verdict::Bends,
            _ => Verdict::Keeps,
        }
    }
}

/// A difference between two schemas, whatever its direction.
#[derive(Debug, Clone)]
pub(crate) struct Difference {
    pub path: String,
    pub rule: &'static str,
    pub message: String,
    pub effect: Effect,
    pub old: Option<String>,
    pub new: Option<String>,
    pub old_place: Option<Place>,
    pub new_place: Option<Place>,
}

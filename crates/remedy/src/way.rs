//! What a way out is: what to do to the new version, in which component, and what comes of it.

use std::fmt::{self, Display, Formatter};

use charter_compare::Verdict;
use charter_contract::ComponentPath;
use charter_source::TextEdit;

/// Whether a change that breaks need not.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum WayOut {
    /// It need not, with this edit of the new version.
    Edit(Way),
    /// No edit of the new version was found that helps.
    None(NoWay),
}

/// An edit of the new version after which a change no longer breaks. It was made in memory, and compared again.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Way {
    /// What it does.
    pub remedy: Remedy,
    /// The component of the new version that it changes.
    pub path: ComponentPath,
    /// How it is made.
    pub step: Step,
    /// The lines of notation that are in the new version afterwards and were not before.
    pub notation: Vec<String>,
    /// What is left of the change.
    pub verdict: Verdict,
}

/// How an edit is made.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Step {
    /// A property is set.
    Set {
        /// The property.
        key: &'static str,
        /// Its value, in the notation; empty: it is taken away.
        value: String,
    },
    /// The component is edited as notation.
    Edit,
    /// Several components change; the edits of all ways out together show how.
    Together,
    /// A component is taken over from the old version.
    Add {
        /// The component of the old version.
        from: ComponentPath,
    },
}

/// What an edit does.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Remedy {
    /// What is gone stands there again.
    PutBack(Vec<String>),
    /// The same, but nobody has to send it.
    PutBackOptional(String),
    /// What must be there may be left out.
    LetBeLeftOut(String),
    /// What came goes again.
    TakeOut(Vec<String>),
    /// The old name stands beside the new one, which may be left out.
    Beside {
        /// The old name.
        was: String,
        /// The new name.
        is: String,
    },
    /// Either name may be used.
    Either {
        /// The old name.
        was: String,
        /// The new name.
        is: String,
    },
    /// The old port stands beside the new one.
    PortBeside(Vec<String>),
    /// Something is what it was.
    AsItWas(Respect),
}

/// In what respect something is what it was.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Respect {
    /// How often it occurs.
    Occurrence,
    /// What values it has.
    Values,
    /// Its type.
    Type,
    /// Its content.
    Content,
    /// All of it.
    Whole,
    /// The attributes that a wildcard lets in.
    OtherAttributes,
    /// It may be nil, or not.
    Nil(bool),
    /// It may stand itself, or not.
    Standing(bool),
    /// Its value is fixed, or free.
    Fixed(bool),
    /// Text may stand in it, or not.
    Mixed(bool),
    /// It must be there.
    Demanded,
    /// Its name.
    Name,
    /// Its keys.
    Keys,
    /// What may stand in its place.
    Substitutes,
    /// Its action.
    Action,
    /// The header block.
    Header,
    /// How it is bound.
    Binding,
}

/// Why there is no way out.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum NoWay {
    /// Something that is left out or empty stands for one value.
    OneMeaning,
    /// All names moved.
    Moved,
    /// The defaults of schemas put all local names elsewhere.
    LocalNames,
    /// Encoded values say the name of their type, and it is another.
    TypeNamed,
    /// The messages travel in another way.
    OtherWire,
    /// The file that it stood in is no part of the new version.
    Elsewhere,
    /// A policy demands it of all who use the port.
    Demanded,
    /// An operation answers, or it does not.
    OneExchange,
    /// Too much breaks for each to be tried.
    Many,
    /// The edits that were tried do not help, or break something else.
    NotFound,
}

impl Display for Remedy {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        const NAMED: usize = 3;
        let listed = |names: &[String]| {
            let named: Vec<String> = names.iter().take(NAMED).map(|name| format!("\"{name}\"")).collect();
            match names.len().saturating_sub(NAMED) {
                0 => named.join(", "),
                more => format!("{} and {more} more", named.join(", ")),
            }
        };
        match self {
            Remedy::PutBack(names) => write!(f, "put {} back", listed(names)),
            Remedy::PutBackOptional(name) => write!(f, "put \"{name}\" back, so that it may be left out"),
            Remedy::LetBeLeftOut(name) => write!(f, "let \"{name}\" be left out"),
            Remedy::TakeOut(names) => write!(f, "leave {} away", listed(names)),
            Remedy::Beside { was, is } => write!(f, "keep \"{was}\", and offer \"{is}\" beside it"),
            Remedy::Either { was, is } => write!(f, "let either \"{was}\" or \"{is}\" be sent"),
            Remedy::PortBeside(names) => {
                write!(f, "keep {} as it was, and offer the new one beside it", listed(names))
            }
            Remedy::AsItWas(respect) => respect.fmt(f),
        }
    }
}

impl Display for Respect {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Respect::Occurrence => "let it be there as often as it was",
            Respect::Values => "let the values be what they were",
            Respect::Type => "let its type be what it was",
            Respect::Content => "let its content be what it was",
            Respect::Whole => "let all of it be what it was",
            Respect::OtherAttributes => "let it carry the other attributes that it could",
            Respect::Nil(true) => "let it be nil again",
            Respect::Nil(false) => "let it never be nil, as it was",
            Respect::Standing(true) => "let it stand itself again",
            Respect::Standing(false) => "let only what replaces it stand, as it was",
            Respect::Fixed(true) => "let its value be fixed again",
            Respect::Fixed(false) => "let its value be free again",
            Respect::Mixed(true) => "let text stand in it again",
            Respect::Mixed(false) => "let no text stand in it, as it was",
            Respect::Demanded => "demand it, as it was",
            Respect::Name => "let its name be what it was",
            Respect::Keys => "let its identity constraints be what they were",
            Respect::Substitutes => "let the same stand in its place as before",
            Respect::Action => "let the action be what it was",
            Respect::Header => "let the header be what it was",
            Respect::Binding => "let it be bound as it was",
        })
    }
}

impl Display for NoWay {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            NoWay::OneMeaning => {
                "what is left out can mean only one value: offer the new meaning under another name"
            }
            NoWay::Moved => {
                "one contract has its messages in one namespace: keep the old contract at its own address beside it"
            }
            NoWay::LocalNames => {
                "the schema says it of all its local names: only the attribute as it was takes it back"
            }
            NoWay::TypeNamed => {
                "encoded values say the name of their type: give it the old name again, with charter rename"
            }
            NoWay::OtherWire => {
                "one port speaks in one way: keep a port with the old binding beside the new one"
            }
            NoWay::Elsewhere => {
                "the file that it stood in is not imported any more: import it again, and offer its service"
            }
            NoWay::Demanded => {
                "a policy asks the same of all who use a port: keep a port without the demand beside it"
            }
            NoWay::OneExchange => {
                "an operation answers or does not: offer the new exchange as an operation of its own"
            }
            NoWay::Many => "more than two hundred changes break, too many to try a way out of each",
            NoWay::NotFound => "no single edit of the new version was found that keeps it",
        })
    }
}

/// The ways out of a comparison.
#[derive(Debug, Clone, Default)]
pub struct WaysOut {
    /// For each change of the report that breaks, by its number there.
    pub all: Vec<(usize, WayOut)>,
    /// All edits together, of the texts of the new version.
    pub edits: Vec<TextEdit>,
}

impl WaysOut {
    /// The way out of a change of the report.
    pub fn of(&self, number: usize) -> Option<&WayOut> {
        self.all.iter().find(|(known, _)| *known == number).map(|(_, way)| way)
    }
}

//! What one side allows and the other does not.

use charter_source::QName;

use super::Meaning;
use crate::{ElementId, TypeId};

/// Something that one side allows at a pair and the other does not, or reads as something else.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Counterexample {
    /// What it is.
    pub kind: Kind,
    /// Where in the trail of elements it was met.
    pub(crate) at: Option<u32>,
    /// Whether an earlier counterexample in the same content stands before it in every instance that was found.
    pub behind: bool,
    /// Whether only instances show it that hold something which no declaration of the first side names: what an element or
    /// attribute wildcard lets in, or `anyType`.
    pub open: bool,
}

/// The kinds of counterexamples.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub enum Kind {
    /// An element that has no place there. If the other side has it nowhere in that content, it is `new`.
    Unexpected {
        /// Its name.
        name: QName,
        /// Whether the other side knows no such element there.
        new: bool,
        /// Its declaration, if it is no matter of wildcards.
        decl: Option<ElementId>,
    },
    /// An element is there under another name.
    Renamed {
        /// On the first side.
        from: QName,
        /// On the other.
        to: QName,
    },
    /// The other side wants an element that need not be there.
    Missing {
        /// Its name; `None` if it is one of several.
        name: Option<QName>,
    },
    /// Text between elements.
    Mixed,
    /// A value that is not allowed, or elements where a value is wanted.
    Value(String),
    /// Elements where the other side has a value.
    Elements,
    /// `xsi:nil`.
    Nil,
    /// The declaration is abstract on the other side.
    AbstractElement,
    /// The type is abstract on the other side.
    AbstractType,
    /// A type that `xsi:type` may name on the first side only.
    TypeName(TypeId),
    /// An element or attribute that the other side has no declaration for, and wants one.
    Undeclared,
    /// The value is fixed on the other side; this is another.
    Fixed(String),
    /// What was not looked at is judged now.
    Assessment,
    /// An identity constraint of the other side.
    Identity(String),
    /// An attribute that the other side does not allow.
    Attribute {
        /// Its name.
        name: QName,
        /// A value of it.
        value: String,
        /// Whether a declaration allows it, not a wildcard.
        declared: bool,
    },
    /// An attribute whose value the other side does not allow.
    AttributeValue {
        /// Its name.
        name: QName,
        /// The value.
        value: String,
        /// Whether the value is fixed on the other side.
        fixed: bool,
    },
    /// An attribute that must be there on the other side.
    AttributeMissing(QName),
    /// The value that stands for nothing is another.
    Default {
        /// The attribute; `None` for the element.
        attribute: Option<QName>,
        /// On the first side.
        was: Option<String>,
        /// On the other.
        is: Option<String>,
    },
    /// The same text means something else.
    Meaning {
        /// The attribute; `None` for the element.
        attribute: Option<QName>,
        /// How.
        meaning: Meaning,
    },
}

/// What a counterexample comes to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Weight {
    /// It depends on how a message is read or written.
    Depends,
    /// A message is accepted by both, and means something else.
    Misread,
    /// A message is refused.
    Refused,
}

impl Counterexample {
    pub(super) fn new(kind: Kind) -> Counterexample {
        Counterexample { kind, at: None, behind: false, open: false }
    }

    /// One that shows only in what no declaration names.
    pub(super) fn in_open_content(kind: Kind) -> Counterexample {
        Counterexample { open: true, ..Counterexample::new(kind) }
    }

    /// What it comes to.
    pub fn weight(&self) -> Weight {
        match &self.kind {
            Kind::Default { was, is, .. } if was.is_none() || is.is_none() => Weight::Depends,
            Kind::Default { .. } => Weight::Misread,
            Kind::Meaning { meaning, .. } => match meaning {
                Meaning::Other => Weight::Misread,
                _ => Weight::Depends,
            },
            _ => Weight::Refused,
        }
    }
}

//! Why there is no sample.

use charter_source::Place;

/// Why there is no message.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum SampleError {
    /// A type needs itself, without end.
    #[error("every message would be endless: \"{name}\" must contain itself")]
    Endless {
        /// The element.
        name: String,
        /// Where it is declared.
        place: Place,
    },
    /// The message would be too large or too deep to be of use.
    #[error("the message would be too large: \"{name}\" asks for too much")]
    TooLarge {
        /// The element.
        name: String,
        /// Where it is declared.
        place: Place,
    },
    /// No value could be found that the type allows.
    #[error("no value was found for \"{name}\" that its type allows")]
    NoValue {
        /// The element or attribute.
        name: String,
        /// Where it is declared.
        place: Place,
    },
    /// An abstract element or type has nothing that can stand for it.
    #[error("\"{name}\" is abstract, and nothing can stand in its place")]
    Abstract {
        /// The element.
        name: String,
        /// Where it is declared.
        place: Place,
    },
    /// No values were found that its identity constraints allow.
    #[error("no values were found for \"{name}\" that its identity constraints allow")]
    Identity {
        /// The element.
        name: String,
        /// Where it is declared.
        place: Place,
    },
    /// A choice has nothing to choose from.
    #[error("no message can be valid: a choice has nothing to choose from")]
    Nothing {
        /// The choice.
        place: Place,
    },
    /// A strict wildcard must hold an element, and none is declared.
    #[error("a wildcard must hold an element, and no schema declares one for it")]
    Wildcard {
        /// The wildcard.
        place: Place,
    },
}

impl SampleError {
    /// Where the trouble is declared.
    pub fn place(&self) -> Place {
        match self {
            SampleError::Endless { place, .. }
            | SampleError::TooLarge { place, .. }
            | SampleError::NoValue { place, .. }
            | SampleError::Abstract { place, .. }
            | SampleError::Identity { place, .. }
            | SampleError::Nothing { place }
            | SampleError::Wildcard { place } => *place,
        }
    }
}

//! Why an edit was not made.

use charter_contract::PathError;
use charter_notation::NotationError;
use charter_source::{EditError, Location, Place, ReadError};

/// Why an edit was not made.
#[derive(Debug, thiserror::Error)]
pub enum EditFailure {
    /// The component cannot be renamed.
    #[error("{0}")]
    Unsupported(String),
    /// The name is no NCName.
    #[error("\"{0}\" is not a name: begin with a letter or _, go on with letters, digits, -, _ and .")]
    Name(String),
    /// The namespace is no URI.
    #[error("\"{0}\" is not a namespace: write an absolute URI, such as urn:saltmere:pilotage:1")]
    Namespace(String),
    /// An operation is given twice.
    #[error("the operation \"{0}\" is given twice")]
    Twice(String),
    /// The name is taken.
    #[error("there is {0} already")]
    Taken(String),
    /// A place does not hold the text that it should.
    #[error("the name is not written plainly here; change it by hand")]
    Disguised(Place),
    /// The edits contradict each other.
    #[error("{0}")]
    Edits(#[from] EditError),
    /// The new text has characters that the encoding of the file has not.
    #[error("the file {location} is in {encoding}, which has no character for the new name")]
    Encoding {
        /// The file.
        location: Location,
        /// Its encoding.
        encoding: &'static str,
    },
    /// The bytes of the file would change where nothing is meant to.
    #[error(
        "the file {location} is in {encoding}, and holds bytes that would not come back as they are: save it as UTF-8"
    )]
    Unfaithful {
        /// The file.
        location: Location,
        /// Its encoding.
        encoding: &'static str,
    },
    /// The result could not be read.
    #[error("the changed contract could not be read: {0}")]
    Read(#[from] ReadError),
    /// The result is not what was meant.
    #[error("the change would do harm: {0}")]
    Harm(String),
    /// The notation does not allow what was written.
    #[error("{}", .0.first().map_or("this is no notation", |error| error.message.as_str()))]
    Notation(Vec<NotationError>),
    /// Something refers to what should be removed.
    #[error("it is still used")]
    Used(Vec<Reference>),
    /// Nothing would change.
    #[error("nothing would change: it is so already")]
    Nothing,
    /// The component could not be found again.
    #[error("{0}")]
    Path(#[from] PathError),
}

/// A use of a component by another.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Reference {
    /// The path of the component that uses it.
    pub path: String,
    /// Where.
    pub place: Place,
}

//! A word of a contract, with its place.

use std::sync::Arc;

use charter_source::Place;

/// A word in the text: a local name, a value.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Label {
    /// The word.
    pub text: Arc<str>,
    /// Where it stands.
    pub place: Place,
}

//! Why there is no answer.

use std::fmt;

use charter_contract::Contract;
use charter_notation::NotationError;
use charter_source::{Place, Position, Text};

/// Why there is no answer: what is wrong, where, and what to do about it.
///
/// ```
/// use charter_session::{Failure, Spot};
/// use charter_source::Position;
///
/// let failure = Failure::new("this is no text")
///     .at(Spot { file: "charter.toml".into(), position: Some(Position { line: 2, column: 9 }) })
///     .help("write it in quotes");
/// assert_eq!(failure.place.unwrap().to_string(), "charter.toml:2:9");
/// ```
#[derive(Debug, thiserror::Error)]
#[error("{message}")]
pub struct Failure {
    /// Where it is, if it is anywhere.
    pub place: Option<Box<Spot>>,
    /// The component path.
    pub path: Option<String>,
    /// What is wrong, in one line.
    pub message: String,
    /// What to do about it, in one line.
    pub help: Option<String>,
    /// What is wrong in a text of notation, each with its place there.
    pub slips: Option<Box<Slips>>,
}

/// A file, or a place in it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Spot {
    /// The file as the user knows it.
    pub file: String,
    /// Line and column.
    pub position: Option<Position>,
}

/// What is wrong in a text of notation.
#[derive(Debug)]
pub struct Slips {
    /// The name of the text.
    pub name: String,
    /// The text.
    pub text: String,
    /// What is wrong in it.
    pub errors: Vec<NotationError>,
}

impl Failure {
    /// A failure that stands nowhere.
    pub fn new(message: impl Into<String>) -> Failure {
        Failure { place: None, path: None, message: message.into(), help: None, slips: None }
    }

    /// The same failure at a place.
    pub fn at(mut self, place: impl Into<Spot>) -> Failure {
        self.place = Some(Box::new(place.into()));
        self
    }

    /// The same failure, with the component that it is about.
    pub fn of(mut self, path: impl Into<String>) -> Failure {
        self.path = Some(path.into());
        self
    }

    /// The same failure, with advice.
    pub fn help(mut self, help: impl Into<String>) -> Failure {
        self.help = Some(help.into());
        self
    }
}

impl Spot {
    /// A place in a contract.
    pub fn of(contract: &Contract, place: Place) -> Spot {
        let file = contract.files.get(place.file);
        let position = Some(file.text().position(place.span.start));
        Spot { file: file.location.to_string(), position }
    }

    /// A place in a text, by its offset in bytes.
    pub fn within(file: impl Into<String>, text: &str, offset: usize) -> Spot {
        let position = Some(Text::from(text).position(offset as u32));
        Spot { file: file.into(), position }
    }
}

impl From<String> for Spot {
    fn from(file: String) -> Spot {
        Spot { file, position: None }
    }
}

impl From<&str> for Spot {
    fn from(file: &str) -> Spot {
        file.to_owned().into()
    }
}

impl fmt::Display for Spot {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.position {
            Some(position) => write!(f, "{}:{}:{}", self.file, position.line, position.column),
            None => f.write_str(&self.file),
        }
    }
}

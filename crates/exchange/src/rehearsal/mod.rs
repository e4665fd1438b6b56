//! Rehearsals: exchanges, and what is expected of each. `docs/rehearsals.md` explains the format.
//!
//! `read.rs` reads one and holds it against the contract; `asking.rs` makes its requests, `expected.rs` says what is not as
//! expected. `run.rs` goes through all of it once, `hostile.rs` sends what must be refused, `beside.rs` compares what two
//! providers reply, and `load/` repeats it, many at a time. `record.rs` writes down what came.

mod asking;
mod beside;
mod expected;
mod hostile;
mod load;
mod read;
mod record;
mod run;

use std::collections::BTreeMap;
use std::time::Duration;

use charter_contract::WireShape;
use charter_message::Size;
use charter_session::Rows;
use serde_json::Value as Json;

pub use beside::beside;
pub use expected::{Kind, NotAsked, Unlike};
pub use load::{Figures, Load, Progress, Slice, load};
pub use record::{Beginning, recorded};
pub use run::{Rehearsed, Runner};

use crate::terms::Filling;
pub use crate::terms::read::duration;
pub use crate::terms::{Condition, Like};

/// Exchanges, in their order.
#[derive(Debug, Default)]
pub struct Rehearsal {
    /// What it is about.
    pub about: Option<String>,
    /// Values that have a name from the beginning.
    pub(crate) variables: BTreeMap<String, Json>,
    pub(crate) exchanges: Vec<Planned>,
}

/// An exchange that is planned.
#[derive(Debug)]
pub(crate) struct Planned {
    /// Where it stands, from 1.
    pub number: usize,
    /// What it is called.
    pub name: String,
    /// The shape of its request.
    pub shape: WireShape,
    pub content: Content,
    /// Rows of values, an exchange each.
    pub rows: Option<Rows>,
    /// Values of the reply that later exchanges know by a name: the name, and the wire path.
    pub keep: Vec<(String, String)>,
    pub expected: Expected,
}

/// What a request is made of.
#[derive(Debug)]
pub(crate) enum Content {
    /// Values.
    Values {
        /// Those of a sample of that size, on which the others lie.
        size: Size,
        /// Those of a file.
        file: Option<Json>,
        /// Single ones, by wire path.
        set: Vec<(String, Filling)>,
        /// Whether values are taken that the contract does not allow.
        anyway: bool,
    },
    /// Octets: a body, or a whole HTTP request.
    Octets(Vec<u8>),
}

/// What is expected.
#[derive(Debug)]
pub(crate) struct Expected {
    pub kind: Kind,
    /// What must hold for values of what comes, by wire path.
    pub values: Vec<(String, Condition<Filling>)>,
    pub within: Option<Duration>,
    /// Whether what comes must be what the contract says.
    pub valid: bool,
}

impl Rehearsal {
    /// The shapes of the requests, in their order.
    pub fn shapes(&self) -> impl Iterator<Item = &WireShape> {
        self.exchanges.iter().map(|planned| &planned.shape)
    }

    /// How many exchanges there are, a row each counted.
    pub fn len(&self) -> usize {
        let of = |planned: &Planned| planned.rows.as_ref().map_or(1, |rows| rows.rows.len());
        self.exchanges.iter().map(of).sum()
    }

    /// What has a name from the beginning: variables, and what is still to be kept.
    pub(crate) fn named(&self) -> BTreeMap<String, Json> {
        let kept = self.exchanges.iter().flat_map(|planned| &planned.keep);
        let kept = kept.map(|(name, _)| (name.clone(), Json::Null));
        kept.chain(self.variables.clone()).collect()
    }

    /// Whether there is none.
    pub fn is_empty(&self) -> bool {
        self.len() == 0
    }
}

//! What a revision does to those who use a contract today.
//!
//! [`compare`] takes two versions and decides on their wire shapes, for each operation and side: all that a
//! consumer may send must still be accepted, and all that the provider may now send must have been acceptable
//! before. Each [`Change`] is one cause, with everything that it reaches.
//!
//! What is written differently is *described* (`content`, `types`, `values`, `relatives`); whether it matters is *decided* on what
//! the schemas accept (`charter_schema::Inclusion`), one way for what consumers send and the other way for what they read
//! (`survey`); then each difference is charged with what it accounts for (`resolve`). Every *breaks* comes with a message that
//! shows it; what could not be decided is *bends*, with the reason.

mod accepted;
mod advice;
mod alike;
mod attributes;
mod compare;
mod comparison;
mod consumers;
mod content;
mod demands;
mod difference;
mod effect;
mod globals;
mod graph;
mod headers;
mod kind;
mod least;
mod ledger;
mod model;
mod moved;
mod names;
mod operations;
mod paths;
mod plain;
mod relatives;
mod renames;
mod report;
mod resolve;
mod shapes;
mod surface;
mod survey;
mod types;
mod unread;
mod values;
mod versions;
mod what;
mod whole;

pub use accepted::{Accepted, Mark};
pub use advice::{Advice, Beside, NamespaceRule, Policy, Step, advise};
pub use compare::{compare, compare_by, compare_for};
pub use consumers::{Consequence, Reading, Reason, Usage, UsedOperation, UsedSide};
pub use kind::{Concerns, Entry as KindEntry, Example, Kind, Slot, Topic, kinds};
pub use paths::FAULT;
pub use report::{
    Because, Change, Confidence, Depends, Options, Reader, Report, Surface, Touched, Verdict, Witness,
};
pub use versions::{SideOf, Subject, Version, Versions};
pub use what::{Doubt, What};

//! What a revision does to those who use a contract today.
//!
//! [`compare`] takes two versions and decides on their wire shapes, for each operation and side: all that a
//! consumer may send must still be accepted, and all that the provider may now send must have been acceptable
//! before. Each [`Change`] is one cause, with everything that it reaches.
//!
//! What is written differently is *described* (`describe/`); whether it matters is *decided* on what the schemas accept
//! (`charter_schema::Inclusion`), one way for what consumers send and the other way for what they read, and each difference is
//! charged with what it accounts for (`decide/`); what goes around the schemas is compared in `messages/`; what comes of it is
//! told in `tell/`. Every *breaks* comes with a message that
//! shows it; what could not be decided is *bends*, with the reason.

mod compare;
mod comparison;
mod decide;
mod describe;
mod difference;
mod effect;
mod kind;
mod ledger;
mod line;
mod messages;
mod moved;
mod report;
mod tell;
mod versions;
pub mod what;

pub use compare::{Compared, compare, compare_again, compare_by, compare_for, compare_whole};
pub use decide::paths::FAULT;
pub use kind::{Concerns, Example, Kind, KindEntry, Slot, Topic, kinds};
pub use messages::smallest::{least_body, typical_body};
pub use report::{
    Because, Change, Confidence, Depends, Open, OpenContent, OpenDifference, Options, Report, Surface,
    Touched, UnknownContent, Verdict, Witness,
};
pub use tell::accepted::{Accepted, Mark, Over};
pub use tell::advice::{Advice, Beside, NamespaceRule, Policy, Step, advise};
pub use tell::consumers::{Consequence, ReadsReplies, Reason, Usage, UsedOperation, UsedSide};
pub use versions::{SideOf, Subject, Version, Versions};
pub use what::{Doubt, What};

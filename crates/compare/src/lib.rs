//! What a revision does to those who use a contract today.
//!
//! [`compare`] takes two versions and decides on their wire shapes, for each operation and side: all that a
//! consumer may send must still be accepted, and all that the provider may now send must have been acceptable
//! before. Each [`Change`] is one cause, with everything that it reaches.
//!
//! Content models are compared as they are written, once groups and derivation are resolved. Where that does
//! not decide, the verdict is *bends*: never *keeps* without a reason.

mod content;
mod model;
mod names;
mod operations;
mod relatives;
mod report;
mod shapes;
mod types;
mod values;

pub use operations::compare;
pub use report::{Change, Reader, Report, Touched, Verdict};

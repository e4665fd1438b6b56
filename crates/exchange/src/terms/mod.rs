//! What scripts and rehearsals say of values: conditions, texts with something in braces, and how both are read.

mod condition;
mod filling;
pub(crate) mod read;

pub(crate) use condition::text;
pub use condition::{Condition, Like};
pub(crate) use filling::{Filling, Given, Lone, NotFilled, Row, at};

//! What scripts and rehearsals say of values: conditions, texts with something in braces, and how both are read.

mod condition;
mod filling;
pub(crate) mod read;
mod value;

pub use condition::{Condition, Like};
pub(crate) use filling::{Filling, Given, Lone, NotFilled, Row};
pub(crate) use value::{at, text};

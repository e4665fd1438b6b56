//! Edits of contracts: each is a set of text edits on the files that own the component.
//!
//! An edit is made in memory, the result is read again, and only if it is what was meant does it come back as
//! a [`Change`]; the caller writes it. [`new_contract`] begins a contract, [`rename`] renames a component with
//! every reference to it.

mod begin;
mod change;
mod rename;

pub use begin::{Beginning, new_contract};
pub use change::{Change, EditFailure, FileChange};
pub use rename::rename;

//! Edits of contracts: each is a set of text edits on the files that own the component.
//!
//! An edit is made in memory, the result is read again, and only if it is what was meant does it come back as
//! a [`Change`]; the caller writes it. [`new_contract`] begins a contract, [`rename`] renames a component with
//! every reference to it.

mod align;
mod begin;
mod change;
mod derive;
mod distinct;
mod edit;
mod editing;
mod failure;
mod fresh;
mod like;
mod needed;
mod patch;
mod pen;
mod reduced;
mod remove;
mod rename;
mod set;
mod style;
mod tags;
mod uses;
mod writer;

pub use begin::{Beginning, new_contract, written_contract};
pub use change::{Change, FileChange, Verb, replace};
pub use derive::{DeriveError, Derived, from_messages, from_rows, from_table_definitions};
pub use edit::{add, edit, edits_of, edits_to_add, text_of};
pub use editing::{Editing, ReadBack};
pub use failure::{EditFailure, Reference};
pub use fresh::{NewFile, SchemaPlace, fresh};
pub use like::{Likeness, like};
pub use needed::component_named;
pub use remove::{remove, remove_unused};
pub use rename::{Renaming, rename};
pub use set::set;

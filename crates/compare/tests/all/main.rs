//! Everything that the crate promises, in one program: it is linked once.

mod catalogue;
mod changes;
mod every_kind;
mod groups;
mod laws;
mod moves;
mod open;
mod operations;
mod statements;
mod together;
mod unproven;

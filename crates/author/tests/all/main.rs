//! Everything that the crate promises, in one program: it is linked once.

mod beginnings;
mod edits;
mod every_component;
mod layouts;
mod parts;
mod taken_out;

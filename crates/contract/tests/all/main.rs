//! Everything that the crate promises, in one program: it is linked once.

mod attached;
mod demo;
mod grammar;
mod model;
mod policies;
mod wire;

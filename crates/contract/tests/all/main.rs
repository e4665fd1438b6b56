//! Everything that the crate promises, in one program: it is linked once.

mod model;
mod policies;
mod wire;

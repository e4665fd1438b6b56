//! Everything that the crate promises, in one program: it is linked once.

mod deep;
mod laws;
mod writing;

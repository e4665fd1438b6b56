//! Everything that the crate promises, in one program: it is linked once.

mod captured;
mod http;
mod samples;
mod values;

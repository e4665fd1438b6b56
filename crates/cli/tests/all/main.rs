//! Everything that the program promises, in one test program: it is linked once.

mod docs;
mod fuzzed;
mod generated;
mod messages;
mod program;
mod properties;
mod sequences;

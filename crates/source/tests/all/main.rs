//! Everything that the crate promises, in one program: it is linked once.

mod catalogs;
mod files;
mod texts;
mod xml;

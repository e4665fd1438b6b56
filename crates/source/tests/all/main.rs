//! Everything that the crate promises, in one program: it is linked once.

mod addresses;
mod catalogs;
mod files;
mod markup;
mod texts;
mod xml;

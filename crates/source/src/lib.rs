//! The ground under every other crate: texts and places in them.
//!
//! A file is read once, into a [`Text`] that remembers how it was encoded and a tree whose nodes know where
//! they stand. [`Files`] loads a contract with everything it imports. A [`Span`] or a [`Place`] names a
//! piece of a text, a [`Fault`] says what is wrong there, and [`TextEdit`]s change it without disturbing
//! the bytes around it.
//!
//! What the files *mean* is left to the crates above: nothing here knows a message or a type.

mod address;
mod catalog;
mod dangling;
mod edit;
mod encoding;
mod fault;
mod file;
mod files;
mod imports;
mod known;
mod limits;
mod location;
mod name;
pub mod ns;
mod open;
mod picture;
mod read_error;
mod span;
mod store;
mod text;
mod tree;
mod wanted;
mod wellformed;
pub mod xml;

pub use address::Address;
pub use catalog::{CatalogError, Catalogs, Catalogued};
pub use dangling::Dangling;
pub use edit::{EditError, TextEdit, apply};
pub use encoding::{CodeUnits, Encoded, Encoding};
pub use fault::Fault;
pub use file::File;
pub use files::Files;
pub use imports::{Import, ImportKind, schemas_in, types_in};
pub use limits::Limits;
pub use location::Location;
pub use name::{
    Interner, NameKey, NamespaceKey, QName, Suggestions, continues_name, is_ncname, is_nmtoken, nearest,
    starts_name,
};
pub use open::{read_all, read_file};
pub use picture::{picture, pictured};
pub use read_error::ReadError;
pub use span::{FileId, Place, Position, Span};
pub use store::{Disk, Nowhere, Overlay, Store};
pub use text::{Text, mentions, places_of, words_before_colons};
pub use tree::{
    Tree, attribute_place, element_around, element_at, elements, first_qname, nodes_from, qname_tokens,
    resolve_qname, tag_place, text_of,
};
pub use wanted::Wanted;
pub use wellformed::looks_like_html;
pub use xml::{Attribute, Node, NodeId};

/// A hash map with a fast, seeded hasher.
pub type Map<K, V> = foldhash::HashMap<K, V>;
/// A hash set with a fast, seeded hasher.
pub type Set<K> = foldhash::HashSet<K>;

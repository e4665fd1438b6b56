//! XML 1.0 (fifth edition) with Namespaces in XML 1.0 (third edition): a text becomes a tree whose nodes know where they stand.
//!
//! This is a reader of our own because of what it promises: its time and its memory grow with the length of the text and with
//! nothing else, not with how many attributes an element has, how many prefixes are declared, or what entities refer to.
//! `error` says what may be wrong, `dtd` reads a document type declaration for its entities, `scopes` knows which prefix means what,
//! `parse` makes the tree, `node` is how it is looked at, `escape` is the way back. Nothing outside the text is ever fetched.

mod dtd;
mod error;
mod escape;
mod markup;
mod node;
mod parse;
mod scopes;
mod stream;

pub use error::{Problem, XmlError};
pub use escape::{Escape, escaped};
pub use markup::{Markup, MarkupKind, markup};
pub use node::{
    Ancestors, Attribute, Attributes, Children, Descendants, Document, ExpandedName, Namespace, Node, NodeId,
};
pub use parse::Bounds;

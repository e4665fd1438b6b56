//! A file that was read: its text and its tree.

use crate::{FileId, Location, Node, Text, Tree};

/// A loaded file.
pub struct File {
    /// Its number among the loaded files.
    pub id: FileId,
    /// Where it was read from, as messages show it.
    pub location: Location,
    /// Its text and tree.
    pub tree: Tree,
}

impl File {
    /// The text.
    pub fn text(&self) -> &Text {
        self.tree.text()
    }

    /// The root element, if the file is well-formed.
    pub fn root(&self) -> Option<Node<'_>> {
        self.tree.root()
    }

    /// Whether this is a schema that comes with the program, and no part of what its user wrote.
    pub fn is_known(&self) -> bool {
        matches!(self.location, Location::Known(_))
    }

    /// Whether the root is the element of that name.
    pub fn has_root(&self, namespace: &str, local: &str) -> bool {
        self.root().is_some_and(|root| {
            let name = root.tag_name();
            name.name() == local && name.namespace().unwrap_or("") == namespace
        })
    }
}

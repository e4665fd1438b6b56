//! The names of elements.

use charter_source::{Node, QName};

/// Whether an element has a name.
pub(super) fn has_name(node: Node<'_>, name: &QName) -> bool {
    let tag = node.tag_name();
    tag.name() == &*name.local && tag.namespace().unwrap_or("") == &*name.namespace
}

/// The expanded name of an element.
pub(super) fn name_of(node: Node<'_>) -> QName {
    let tag = node.tag_name();
    QName::new(tag.namespace().unwrap_or(""), tag.name())
}

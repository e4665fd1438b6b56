//! What is used: the messages, elements and types that something leads to.

use charter_schema::{ElementId, TypeId};
use charter_source::Set;

use crate::MessageId;

/// The components that something leads to.
#[derive(Debug, Default)]
pub struct Usage {
    /// Messages of operations and header blocks.
    pub messages: Set<MessageId>,
    /// Elements that messages lead to.
    pub elements: Set<ElementId>,
    /// Types that messages or global elements lead to.
    pub types: Set<TypeId>,
}

//! What is told of it, and to whom.

pub(crate) mod accepted;
pub(crate) mod advice;
pub(crate) mod consumers;
pub(crate) mod generated_code;
pub(crate) mod globals;
pub(crate) mod moved_along;
pub(crate) mod moved_namespaces;
pub(crate) mod open_content;
pub(crate) mod together;
pub(crate) mod unread;

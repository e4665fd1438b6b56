//! What is told of it, and to whom.

pub(crate) mod accepted;
pub(crate) mod advice;
pub(crate) mod consumers;
pub(crate) mod globals;
pub(crate) mod moved;
pub(crate) mod surface;
pub(crate) mod unread;

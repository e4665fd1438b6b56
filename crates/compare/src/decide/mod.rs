//! What differences come to: whether any message suffers, which of them accounts for it, and what of it lies on the paths that a consumer uses.

pub(crate) mod graph;
pub(crate) mod open;
pub(crate) mod paths;
pub(crate) mod resolve;
pub(crate) mod survey;

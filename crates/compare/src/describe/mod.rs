//! What is written differently in two schemas, as a person who reads both would say it.

pub(crate) mod attributes;
pub(crate) mod content;
pub(crate) mod groups;
pub(crate) mod model;
pub(crate) mod names;
pub(crate) mod relatives;
pub(crate) mod renames;
pub(crate) mod types;
pub(crate) mod values;

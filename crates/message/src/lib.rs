//! Messages: what goes over the wire, filled with values.
//!
//! [`message`] takes a wire shape and gives the whole [`Message`]: HTTP method and headers, and an envelope of
//! typed, plausible values. [`Element`] is a message as a tree, [`to_xml`] writes it.

mod envelope;
mod generate;
mod pattern;
mod tree;
mod values;
mod words;
mod write;

pub use envelope::{Message, message};
pub use generate::{SampleError, sample_element};
pub use tree::{Element, Node, Text};
pub use write::to_xml;

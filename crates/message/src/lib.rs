//! Messages: what goes over the wire, filled with values.
//!
//! [`message`] takes a wire shape and gives the whole [`Message`]: HTTP method and headers, and an envelope of
//! typed, plausible values. [`Element`] is a message as a tree, [`to_xml`] writes it.

mod envelope;

pub use charter_schema::sample::{Element, Node, SampleError, Size, Text, to_xml};
pub use envelope::{Message, message, sample_element};

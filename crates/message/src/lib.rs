//! Messages: what goes over the wire, and what came from it.
//!
//! A [`WireContent`] is what fills a wire shape: an element for each of its contents, made as a [`sample`] or read from
//! values ([`values`]). [`assemble`] puts it into a [`Message`]: HTTP method and headers, and an envelope, a form, a
//! document or several parts. [`captured`] takes messages apart that were caught on the wire, and [`matching`] finds out
//! which operation and side each is, and whether it is right.

mod assemble;
pub mod blocks;
pub mod captured;
mod encode;
mod form;
mod hostile;
pub mod http;
pub mod matching;
mod message;
mod multipart;
mod notes;
mod optimized;
mod template;
pub mod values;
mod wire_content;
mod written;

pub use assemble::assemble;
pub use charter_schema::sample::{Element, Node, SampleError, Size, Text, to_xml};
pub use hostile::{HostileMessage, hostile, one_of_each};
pub use message::{Message, Payload, Piece};
pub use notes::Noting;
pub use template::{Marks, template};
pub use wire_content::{WireContent, sample};
pub use written::as_document;

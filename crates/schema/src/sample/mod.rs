//! Samples: instances of element declarations, from the least that is valid to everything that is allowed.

mod attributes;
mod content;
mod draw;
mod error;
mod familiar;
mod generate;
mod habits;
mod hostile;
mod references;
mod room;
mod sampler;
mod size;
mod standing;
mod tree;
mod values;
mod words;
mod write;

pub use error::SampleError;
pub(crate) use generate::Generator;
pub use habits::SenderHabits;
pub use hostile::{Hostile, HostileKind};
pub(crate) use references::PENDING;
pub use sampler::Sampler;
pub use size::Size;
pub use tree::{Element, Node, Text};
pub(crate) use values::typical_values;
pub use words::Vocabulary;
pub use write::{to_document, to_fragment, to_xml};

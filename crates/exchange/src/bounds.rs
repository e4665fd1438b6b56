//! How much a server takes from those who connect to it.

use std::time::Duration;

/// How much a server takes. Whoever wants more is refused, and nobody else notices.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Bounds {
    /// Octets of a body, as they come over the wire.
    pub body: usize,
    /// Octets of the head of a request.
    pub head: usize,
    /// Connections at a time; others wait.
    pub connections: usize,
    /// How long a head, or a body, may take to arrive; and how long a connection may say nothing.
    pub patience: Duration,
}

impl Default for Bounds {
    fn default() -> Self {
        Bounds { body: 16 << 20, head: 64 << 10, connections: 1000, patience: Duration::from_secs(30) }
    }
}

//! How much is read of a file.

/// How much is read at most.
#[derive(Debug, Clone, Copy)]
pub struct Limits {
    /// Bytes in one file.
    pub bytes: u64,
    /// Elements nested in each other.
    pub depth: usize,
}

impl Default for Limits {
    fn default() -> Self {
        Limits { bytes: 256 << 20, depth: 500 }
    }
}

//! How serious a finding is.

/// How serious a finding is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Level {
    /// The contract is wrong: somebody cannot read it, or cannot use it.
    Error,
    /// The contract can be used, but somebody will be hurt.
    Warning,
    /// Worth knowing; said only to those who ask.
    Note,
}

impl Level {
    /// `error`, `warning` or `note`.
    pub fn name(self) -> &'static str {
        match self {
            Level::Error => "error",
            Level::Warning => "warning",
            Level::Note => "note",
        }
    }
}

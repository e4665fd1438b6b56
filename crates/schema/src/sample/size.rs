//! How much a sample holds.

use fastrand::Rng;

/// How much a sample holds.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Size {
    /// Nothing that may be left out.
    Least,
    /// What one sends first: what is optional once, what repeats twice, and less of either where that would not fit a screen.
    Typical,
    /// Every option once, and one small element for a wildcard.
    Most,
    /// A random choice of everything, drawn from a seed: the same seed gives the same sample.
    Random(u64),
}

impl Size {
    /// Where random choices come from, for a random sample.
    pub(super) fn rng(self) -> Option<Rng> {
        match self {
            Size::Random(seed) => Some(Rng::with_seed(seed)),
            _ => None,
        }
    }
}

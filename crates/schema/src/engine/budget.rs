//! What one engine may spend in all: steps of searches that have more than one way to go, and room for content models. Where
//! it is spent, what would cost more is left undecided.

use std::sync::atomic::{AtomicU64, Ordering};

/// Steps of all searches together.
const STEPS: u64 = 20_000_000;
/// Bytes of all content models: so many, and so many for each byte of the schemas.
const ROOM: u64 = 48 << 20;
const ROOM_FOR_EACH: u64 = 5;

/// What is left.
#[derive(Debug)]
pub(crate) struct Budget {
    steps: AtomicU64,
    room: AtomicU64,
}

impl Budget {
    /// The budget for schemas of so many bytes.
    pub fn of(bytes: u64) -> Budget {
        Budget { steps: AtomicU64::new(STEPS), room: AtomicU64::new(ROOM + ROOM_FOR_EACH * bytes) }
    }

    /// Pays for steps; whether there was enough left.
    pub fn step(&self, count: u64) -> bool {
        take(&self.steps, count)
    }

    /// Pays for bytes that are kept; whether there was enough left.
    pub fn room(&self, bytes: u64) -> bool {
        take(&self.room, bytes)
    }
}

/// Takes from what is left; whether there was enough.
pub(super) fn take(left: &AtomicU64, count: u64) -> bool {
    let taken = |left: u64| left.checked_sub(count);
    left.fetch_update(Ordering::Relaxed, Ordering::Relaxed, taken).is_ok()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_spent_is_spent() {
        let budget = Budget::of(0);
        assert!(budget.step(STEPS - 1) && budget.step(1) && !budget.step(1));
        assert!(budget.room(ROOM) && !budget.room(1) && budget.room(0));
    }
}

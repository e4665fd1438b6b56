//! How much of what may be left out a typical sample has.

/// How much room there is for what may be left out.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Room {
    /// How deep it may stand.
    pub depth: usize,
    /// How much of it may stand in one content.
    pub each: usize,
    /// Whether what repeats is there twice.
    pub twice: bool,
}

impl Room {
    pub const ALL: Room = Room { depth: usize::MAX, each: usize::MAX, twice: true };
    /// From the largest to the smallest.
    pub const SHRINKING: [Room; 10] = [
        Room::ALL,
        Room { depth: 4, each: 12, twice: true },
        Room { depth: 3, each: 10, twice: true },
        Room { depth: 3, each: 6, twice: true },
        Room { depth: 2, each: 8, twice: true },
        Room { depth: 3, each: 6, twice: false },
        Room { depth: 2, each: 8, twice: false },
        Room { depth: 2, each: 5, twice: false },
        Room { depth: 1, each: 6, twice: false },
        Room { depth: 1, each: 4, twice: false },
    ];
}

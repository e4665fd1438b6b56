//! How long sequences of elements are looked for.

/// Places in content models that are looked at before a search is given up.
pub(super) const MOST_PLACES: usize = 40_000;
/// What all steps may cost, where models are ambiguous and each step has many ways.
pub(super) const MOST_WORK: u64 = 20_000_000;
/// What it costs to remember one of the groups that a place stands in.
pub(super) const ROOM: u64 = 4;

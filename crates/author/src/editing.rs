//! What every edit needs to know.

use charter_contract::Contract;
use charter_notation::Convention;
use charter_source::Store;

/// What every edit needs to know.
#[derive(Clone, Copy)]
pub struct Editing<'e> {
    /// The contract as it was read.
    pub contract: &'e Contract,
    /// Where it was read from.
    pub store: &'e dyn Store,
    /// The names that need not be said.
    pub convention: &'e Convention,
    /// Whether to go on though the result would be wrong.
    pub force: bool,
    /// How much of the result is read again.
    pub read_back: ReadBack,
}

impl<'e> Editing<'e> {
    /// An edit of a contract by the usual names, that must leave nothing wrong.
    pub fn of(contract: &'e Contract, store: &'e dyn Store, convention: &'e Convention) -> Editing<'e> {
        Editing { contract, store, convention, force: false, read_back: ReadBack::BySize }
    }
}

/// How much of a changed contract is read again to find out whether it is what was meant.
///
/// What the first two find is the same; the second costs less on a large contract.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum ReadBack {
    /// All of it.
    Whole,
    /// What the change can affect.
    Affected,
    /// As its size suggests.
    #[default]
    BySize,
    /// Nothing: the edits are a proposal, and whoever makes them has what comes of it read.
    Nothing,
}

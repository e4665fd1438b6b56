//! What a comparison works with: the two versions, what was found out about their schemas, and the changes so far.

use std::cell::OnceCell;

use charter_contract::{Contract, OperationId, PortId, Side};
use charter_schema::Engine;
use charter_source::{Map, Set};

use crate::decide::survey::{Direction, Open, Root};
use crate::describe::renames::{self, Paired};
use crate::effect::MessageFlow;
use crate::ledger::Ledger;
use crate::report::{Options, UnknownContent};
use crate::versions::{SideOf, Version, Versions};

/// The versions of one operation.
pub(crate) type Both = (OperationId, OperationId);

/// Two versions that are being compared.
pub(crate) struct Comparison<'c> {
    pub old: &'c Contract,
    pub new: &'c Contract,
    pub old_engine: &'c Engine<'c>,
    pub new_engine: &'c Engine<'c>,
    /// How consumers read what they do not know.
    pub reader: UnknownContent,
    /// What consumers send, and what they read.
    pub sent: Direction<'c>,
    pub read: Direction<'c>,
    /// Ports that both versions have, by the names of service and port.
    pub ports: Paired<PortId>,
    pub sides: Sides,
    pub ledger: Ledger<'c>,
    /// What the bodies of the requests of the new version begin with.
    pub request_names: OnceCell<Set<String>>,
    /// The operations of the old version that are looked at; all, if there are none.
    pub only: Option<&'c Set<OperationId>>,
}

/// What the sides of operations hold.
#[derive(Default)]
pub(crate) struct Sides {
    /// Where the messages of each side of the new version begin.
    pub roots: Map<(OperationId, Side), Vec<Root>>,
    /// What is still to be gone through.
    pub held: Vec<Held>,
    /// The old names of faults of the new version that go by another name now.
    pub old_faults: Map<(OperationId, Side), String>,
}

/// Where the schemas of a side begin.
pub(crate) struct Held {
    pub both: Both,
    pub side: Side,
    pub roots: Vec<Root>,
}

impl<'c> Comparison<'c> {
    pub fn new(
        old: (&'c Contract, &'c Engine<'c>),
        new: (&'c Contract, &'c Engine<'c>),
        Options { reader, open: counts, .. }: Options,
        is_told: bool,
    ) -> Comparison<'c> {
        let open = Open { counts, is_told };
        Comparison {
            old: old.0,
            new: new.0,
            old_engine: old.1,
            new_engine: new.1,
            reader,
            sent: Direction::new(old, new, MessageFlow::Sent, open),
            read: Direction::new(old, new, MessageFlow::Read, open),
            ports: renames::ports(old.0, new.0),
            sides: Sides::default(),
            ledger: Ledger::new(Versions { old: old.0, new: new.0 }),
            request_names: OnceCell::new(),
            only: None,
        }
    }

    /// Both versions.
    pub fn versions(&self) -> Versions<'c> {
        Versions { old: self.old, new: self.new }
    }

    /// A version, and what is worked out of its schemas.
    pub fn version(&self, version: Version) -> (&'c Contract, &'c Engine<'c>) {
        match version {
            Version::Old => (self.old, self.old_engine),
            Version::New => (self.new, self.new_engine),
        }
    }

    /// The operations that both versions have.
    pub fn operation_pairs(&self) -> Vec<Both> {
        renames::operations(self.old, self.new).pairs()
    }

    /// The ports that both versions have.
    pub fn port_pairs(&self) -> Vec<(PortId, PortId)> {
        self.ports.pairs()
    }
}

/// A side of an operation of the new version.
pub(crate) fn side_of_new(both: Both, side: Side) -> SideOf {
    SideOf { version: Version::New, operation: both.1, side }
}

//! The two versions of a contract, and what is named in either.

use charter_contract::{Component, ComponentPath, Contract, OperationId, Side};

/// One of the two versions.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Version {
    /// The one that consumers know.
    Old,
    /// The one that is to come.
    New,
}

impl Version {
    /// `old` or `new`.
    pub fn name(self) -> &'static str {
        match self {
            Version::Old => "old",
            Version::New => "new",
        }
    }

    /// The other one.
    pub fn other(self) -> Version {
        match self {
            Version::Old => Version::New,
            Version::New => Version::Old,
        }
    }
}

/// A component of one of the two versions.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct Subject {
    /// The version that has it.
    pub version: Version,
    /// The component.
    pub component: Component,
}

impl Subject {
    /// A component of the old version.
    pub fn old(component: Component) -> Subject {
        Subject { version: Version::Old, component }
    }

    /// A component of the new version.
    pub fn new(component: Component) -> Subject {
        Subject { version: Version::New, component }
    }
}

/// A side of an operation of one of the two versions.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct SideOf {
    /// The version that has it.
    pub version: Version,
    /// The operation.
    pub operation: OperationId,
    /// The side.
    pub side: Side,
}

/// Two versions of a contract.
#[derive(Clone, Copy)]
pub struct Versions<'c> {
    /// The one that consumers know.
    pub old: &'c Contract,
    /// The one that is to come.
    pub new: &'c Contract,
}

impl<'c> Versions<'c> {
    /// The contract of a version.
    pub fn of(self, version: Version) -> &'c Contract {
        match version {
            Version::Old => self.old,
            Version::New => self.new,
        }
    }

    /// What a component is called.
    pub fn path(self, subject: Subject) -> ComponentPath {
        self.of(subject.version).path(subject.component)
    }

    /// The name of the operation of a side.
    pub fn operation_name(self, at: SideOf) -> &'c str {
        &self.of(at.version).operation(at.operation).name.text
    }

    /// A side as a person names it: `input`, `output`, or `fault` and its name.
    pub fn side_name(self, at: SideOf) -> String {
        self.of(at.version).side_name(at.operation, at.side)
    }
}

//! What a difference seems to do to the messages between two versions, and the verdict that follows.

use crate::report::{Depends, UnknownContent, Verdict};
use crate::versions::Version;
use crate::what::Doubt;

/// What a difference between two schemas does to the messages between them.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Effect {
    /// Some message is accepted that was not.
    pub more: bool,
    /// Some message is no longer accepted, or means something else.
    pub less: bool,
    /// What is new may be ignored by whoever reads it.
    pub ignorable: bool,
    /// It was not decided what is accepted.
    pub undecided: bool,
    /// What is gone was optional: readers had to do without, but may miss it.
    pub missed: bool,
    /// What is sent is no longer asked for.
    pub surplus: bool,
    /// What may be read was not there before, and is no part of what was.
    pub surprise: bool,
    /// Whoever does not send it, and did not have to, is refused now.
    pub demanded: bool,
}

impl Effect {
    pub const NONE: Effect = Effect {
        more: false,
        less: false,
        ignorable: false,
        undecided: false,
        missed: false,
        surplus: false,
        surprise: false,
        demanded: false,
    };
    pub const MORE: Effect = Effect { more: true, ..Effect::NONE };
    pub const LESS: Effect = Effect { less: true, ..Effect::NONE };
    pub const OTHER: Effect = Effect { more: true, less: true, ..Effect::NONE };
    pub const UNDECIDED: Effect = Effect { undecided: true, ..Effect::NONE };
    /// Something new that readers may ignore, and that need not be sent.
    pub const NEW_OPTIONAL: Effect = Effect { more: true, ignorable: true, ..Effect::NONE };
    /// Something new that must be there.
    pub const NEW_REQUIRED: Effect =
        Effect { more: true, less: true, ignorable: true, demanded: true, ..Effect::NONE };
    /// Something optional that is gone.
    pub const GONE_OPTIONAL: Effect = Effect { less: true, missed: true, ..Effect::NONE };
    /// Something that need not be sent any more.
    pub const SURPLUS: Effect = Effect { surplus: true, ..Effect::NONE };
    /// Another answer than those that were known.
    pub const SURPRISE: Effect = Effect { surprise: true, ..Effect::NONE };
    /// Something required that is gone.
    pub const GONE_REQUIRED: Effect = Effect::OTHER;

    /// The verdict where consumers send what is described so, and what it depends on.
    pub fn sent(self) -> (Verdict, Option<Depends>) {
        match self {
            Effect { less: true, .. } => (Verdict::Breaks, None),
            Effect { undecided: true, .. } => (Verdict::Bends, Some(Depends::Undecided(Doubt::NotCompared))),
            Effect { surplus: true, .. } => (Verdict::Bends, Some(Depends::NoLongerAsked)),
            _ => (Verdict::Keeps, None),
        }
    }

    /// The verdict where consumers read it.
    pub fn read(self, reader: UnknownContent) -> (Verdict, Option<Depends>) {
        match self {
            Effect { more: true, ignorable: true, .. } => match reader {
                UnknownContent::Refused => (Verdict::Breaks, None),
                UnknownContent::Open => (Verdict::Bends, Some(Depends::StrictReaders)),
                UnknownContent::Ignored => (Verdict::Keeps, None),
            },
            Effect { more: true, .. } => (Verdict::Breaks, None),
            Effect { undecided: true, .. } => (Verdict::Bends, Some(Depends::Undecided(Doubt::NotCompared))),
            Effect { surprise: true, .. } => (Verdict::Bends, Some(Depends::Surroundings)),
            Effect { missed: true, .. } => (Verdict::Bends, Some(Depends::ReadersOfIt)),
            _ => (Verdict::Keeps, None),
        }
    }

    /// Whether it claims that what goes one way is no longer all right.
    pub fn claims(self, way: MessageFlow) -> bool {
        self.undecided
            || match way {
                MessageFlow::Sent => self.less,
                MessageFlow::Read => self.more,
            }
    }
}

/// Which way a message goes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub(crate) enum MessageFlow {
    /// Consumers send it: what the old version allows, the new one must.
    Sent,
    /// Consumers read it: what the new version allows, the old one must have.
    Read,
}

impl MessageFlow {
    /// Whose messages are in question.
    pub fn from(self) -> Version {
        match self {
            MessageFlow::Sent => Version::Old,
            MessageFlow::Read => Version::New,
        }
    }
}

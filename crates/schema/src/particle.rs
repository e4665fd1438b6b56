//! Particles: what may stand in the content of an element, how often, and in which order.

use charter_source::Place;

use crate::{ElementDecl, ElementId, GroupDef, Owner, ParticleId, Ref, Wildcard};

/// How often a particle occurs.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct Occurs {
    /// At least.
    pub min: u32,
    /// At most; `None` is unbounded.
    pub max: Option<u32>,
}

impl Occurs {
    /// Exactly once.
    pub const ONCE: Occurs = Occurs { min: 1, max: Some(1) };

    /// Whether it may be left out.
    pub fn optional(self) -> bool {
        self.min == 0
    }

    /// Whether it may stand more than once.
    pub fn repeats(self) -> bool {
        self.max.is_none_or(|max| max > 1)
    }

    /// How often each occurrence within something that itself occurs `outer` times may stand in all.
    pub fn within(self, outer: Occurs) -> Occurs {
        Occurs {
            min: self.min.saturating_mul(outer.min),
            max: match (self.max, outer.max) {
                (Some(0), _) | (_, Some(0)) => Some(0),
                (Some(a), Some(b)) => Some(a.saturating_mul(b)),
                _ => None,
            },
        }
    }
}

/// A term with its occurrence (Part 1, 3.9).
#[derive(Debug, Clone)]
pub struct Particle {
    /// How often.
    pub occurs: Occurs,
    /// What.
    pub term: Term,
    /// The start tag that wrote it.
    pub place: Place,
    /// The whole element.
    pub extent: Place,
    /// The component that it stands in.
    pub owner: Owner,
}

/// What a particle stands for.
#[derive(Debug, Clone)]
pub enum Term {
    /// An element declared here.
    Element(ElementId),
    /// A global element referred to.
    ElementRef(Ref<ElementDecl>),
    /// A model group written here.
    Group(Compositor, Vec<ParticleId>),
    /// A named model group referred to.
    GroupRef(Ref<GroupDef>),
    /// Any element of some namespaces.
    Any(Box<Wildcard>),
}

/// How the particles of a model group go together (Part 1, 3.8).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Compositor {
    /// One after the other.
    Sequence,
    /// One of them.
    Choice,
    /// Each at most once, in any order.
    All,
}

impl Compositor {
    /// Its element name.
    pub fn name(self) -> &'static str {
        match self {
            Compositor::Sequence => "sequence",
            Compositor::Choice => "choice",
            Compositor::All => "all",
        }
    }
}

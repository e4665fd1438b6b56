//! What differs between two schemas, as far as it has been seen: which component, what of it, and what it seems to do.

use std::sync::Arc;

use charter_contract::ComponentPath;
use charter_source::{Place, QName};

use crate::effect::Effect;
use crate::kind::Kind;
use crate::line::Line;
use crate::report::Confidence;
use crate::versions::{Subject, Versions};
use crate::what::What;

/// What a difference is about, seen from the types or declarations that differ.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub(crate) enum Aspect {
    /// A child element of that name.
    Member(QName),
    /// The content as a whole.
    Content,
    /// Child elements that a wildcard lets in.
    OtherElements,
    /// Text between elements.
    Mixed,
    /// The value.
    Value,
    /// An attribute of that name.
    Attribute(QName),
    /// An attribute under an old and a new name.
    AttributeNames(QName, QName),
    /// Attributes that a wildcard lets in.
    OtherAttributes,
    /// `xsi:nil`.
    Nil,
    /// Whether it may stand itself.
    Abstract,
    /// What stands for nothing, or is fixed.
    Stated,
    /// Identity constraints.
    Identity,
    /// What may stand in its place.
    Derived,
    /// What no declaration names.
    Open,
    /// No matter of schemas: the effect says all.
    Whole,
}

/// What differs in open content: each difference once, the nearest first.
pub(crate) type OpenDifferences = Arc<Vec<Arc<Difference>>>;

/// What differs in what may stand at an extension point.
#[derive(Debug, Clone)]
pub(crate) struct Beyond {
    /// What lets it in there.
    pub own: Vec<Arc<Difference>>,
    /// Everything that is let in, the same for all extension points that let in the same.
    pub below: OpenDifferences,
}

/// A difference between two schemas, whatever its direction.
#[derive(Debug, Clone)]
pub(crate) struct Difference {
    pub subject: Subject,
    pub path: ComponentPath,
    pub kind: Kind,
    pub what: What,
    pub aspect: Aspect,
    pub effect: Effect,
    pub old: Option<Line>,
    pub new: Option<Line>,
    pub old_place: Option<Place>,
    pub new_place: Option<Place>,
    pub confidence: Option<Confidence>,
    /// What differs in open content, if that is what it is about.
    pub beyond: Option<Beyond>,
}

impl Difference {
    /// A difference of a component, whose two lines and places are told later.
    pub fn of(
        versions: Versions<'_>,
        subject: Subject,
        (kind, what): (Kind, What),
        (aspect, effect): (Aspect, Effect),
    ) -> Difference {
        Difference {
            subject,
            path: versions.path(subject),
            kind,
            what,
            aspect,
            effect,
            old: None,
            new: None,
            old_place: None,
            new_place: None,
            confidence: None,
            beyond: None,
        }
    }
}

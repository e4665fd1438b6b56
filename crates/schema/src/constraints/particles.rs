//! How often the parts of a content model may occur in all (Part 1, 3.8.6: cos-seq-range, cos-choice-range; 3.9.6:
//! range-ok).

use crate::engine::{Model, ModelTerm};
use crate::{Compositor, Occurs};

/// The occurrence of a node as it is written.
pub(super) fn occurs(model: &Model, id: u32) -> Occurs {
    let node = &model.nodes[id as usize];
    Occurs { min: node.min, max: (node.max < u32::MAX).then_some(node.max) }
}

/// Whether a content model asks for nothing (cos-group-emptiable): by its range, in which a choice of nothing counts
/// as nothing.
pub(super) fn emptiable(model: &Model) -> bool {
    model.root.is_none_or(|root| total(model, root).min == 0)
}

/// How many elements a node may stand for, at least and at most.
pub(super) fn total(model: &Model, id: u32) -> Occurs {
    let own = occurs(model, id);
    let ModelTerm::Group(group) = &model.nodes[id as usize].term else { return own };
    let members: Vec<Occurs> = group.members.iter().map(|member| total(model, *member)).collect();
    let inner = match group.compositor {
        Compositor::Choice => Occurs {
            min: members.iter().map(|member| member.min).min().unwrap_or(0),
            max: members.iter().try_fold(0, |most: u32, member| Some(most.max(member.max?))),
        },
        _ => Occurs {
            min: members.iter().fold(0, |sum: u32, member| sum.saturating_add(member.min)),
            max: members.iter().try_fold(0, |sum: u32, member| Some(sum.saturating_add(member.max?))),
        },
    };
    inner.within(own)
}

/// Whether a range lies within another (range-ok).
pub(super) fn range_ok(range: Occurs, within: Occurs) -> bool {
    range.min >= within.min
        && match (range.max, within.max) {
            (_, None) => true,
            (None, Some(_)) => false,
            (Some(max), Some(most)) => max <= most,
        }
}

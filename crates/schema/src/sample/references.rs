//! References to identifiers within a sample: made when all identifiers are known.

use charter_source::Set;

use super::{Element, Node, Text};
use crate::{Builtin, Datatype, Variety};

/// Stands for a reference to an ID until all IDs are known; no value can hold it.
pub(crate) const PENDING: &str = "\u{1}";

/// The text of a reference to an ID, or of a list of one; `None` for a type that is none.
pub(super) fn reference(datatype: &Datatype) -> Option<String> {
    let is_reference =
        |datatype: &Datatype| datatype.builtin().is_some_and(|it| it.is_within(Builtin::IdRef));
    match &datatype.variety {
        Variety::List(item) if is_reference(item) => {
            let count = datatype.length.or(datatype.min_length).unwrap_or(1).clamp(1, 100);
            Some(vec![PENDING; count as usize].join(" "))
        }
        _ => is_reference(datatype).then(|| PENDING.to_owned()),
    }
}

/// Lets references point to the IDs that there are; whether there are any for those that must point to one.
pub(super) fn point(element: &mut Element, mut ids: Vec<String>) -> bool {
    // What was begun and given up again has left its IDs behind.
    let mut there: Set<String> = Set::default();
    let made: Set<&String> = ids.iter().collect();
    walk(element, &mut |text| {
        if made.contains(text) {
            there.insert(text.clone());
        }
        true
    });
    ids.retain(|id| there.contains(id));
    let mut turn = 0;
    walk(element, &mut |text| {
        while let Some(at) = text.find(PENDING) {
            let Some(id) = ids.get(turn % ids.len().max(1)) else { return false };
            text.replace_range(at..at + PENDING.len(), id);
            turn += 1;
        }
        true
    })
}

/// Calls `each` for every plain text in an element, until it says no.
fn walk(element: &mut Element, each: &mut impl FnMut(&mut String) -> bool) -> bool {
    let attributes = element.attributes.iter_mut().map(|(_, text)| text);
    let mut fine = true;
    for text in attributes {
        if let Text::Plain(text) = text {
            fine &= each(text);
        }
    }
    for child in &mut element.children {
        fine &= match child {
            Node::Element(child) => walk(child, each),
            Node::Text(Text::Plain(text)) => each(text),
            Node::Text(_) => true,
        };
    }
    fine
}

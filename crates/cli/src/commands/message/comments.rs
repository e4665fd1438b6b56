//! Comments behind the values of a message: what may stand there, in the words of the notation.

use charter_contract::Contract;
use charter_message::{Element, Message, Node};
use charter_schema::{Occurs, TypeId};

/// The message with a note behind each value.
pub fn noted(contract: &Contract, message: Message) -> Message {
    message.with_notes(&|parent, child| note(contract, parent, child))
}

/// The note on an element in one of a type; the parts of a message stand in none.
fn note(contract: &Contract, parent: Option<TypeId>, child: &Element) -> Option<String> {
    let schemas = &contract.schemas;
    let children = parent.map(|parent| schemas.children(parent)).unwrap_or_default();
    let declared = children.iter().find(|(id, _)| schemas.elements[*id].name == child.name);
    let occurs = declared.map_or(Occurs::ONCE, |(_, occurs)| *occurs);
    let ty = child.ty.or(declared.map(|(id, _)| schemas.element_type(*id)))?;
    let leaf = child.children.iter().all(|node| matches!(node, Node::Text(_)));
    let mut parts = Vec::new();
    if leaf || occurs != Occurs::ONCE {
        parts.push(words(contract, ty, occurs));
    }
    let (attributes, _) = schemas.attributes(ty);
    for attribute in attributes {
        let once = if attribute.required { Occurs::ONCE } else { Occurs { min: 0, max: Some(1) } };
        parts.push(format!("@{}: {}", attribute.name.local, words(contract, attribute.ty, once)));
    }
    (!parts.is_empty()).then(|| parts.join(", "))
}

/// A type with its range, and how often a value of it may be there.
fn words(contract: &Contract, ty: TypeId, occurs: Occurs) -> String {
    let mark = match (occurs.min, occurs.max) {
        (1, Some(1)) => String::new(),
        (0, Some(1)) => "?".to_owned(),
        (0, None) => "*".to_owned(),
        (1, None) => "+".to_owned(),
        (min, None) => format!("[{min}..*]"),
        (min, Some(max)) => format!("[{min}..{max}]"),
    };
    let named = contract.schemas.types[ty].name.is_some();
    let name = charter_notation::type_name(contract, ty);
    let own = !contract.schemas.is_known(contract.schemas.types[ty].place);
    if named && own && contract.schemas.complex(ty).is_none() {
        let line = charter_notation::type_line(contract, ty);
        if let Some((_, definition)) = line.split_once(" = ") {
            return format!("{name}{mark} = {definition}");
        }
    }
    format!("{name}{mark}")
}

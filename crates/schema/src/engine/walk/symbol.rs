//! An element of an instance as a content model sees it, and whether a leaf of the model is meant by it.

use charter_source::{NameKey, QName};

use crate::ElementId;
use crate::engine::Engine;
use crate::engine::model::{Leaf, Model, Term};

/// An element of an instance, as a content model sees it.
#[derive(Debug, Clone, Copy)]
pub struct Symbol<'n> {
    /// Its name, if the schemas know it.
    pub key: Option<NameKey>,
    /// Its namespace.
    pub namespace: &'n str,
    /// The global element of that name.
    pub global: Option<ElementId>,
    /// The elements that it may stand for, with their keys.
    pub heads: &'n [(NameKey, ElementId)],
}

impl<'n> Symbol<'n> {
    /// An element of a name that the schemas know.
    pub(crate) fn of(engine: &'n Engine<'_>, name: &'n QName) -> Symbol<'n> {
        let global = engine.global_element(name.key()).filter(|_| engine.has_substitutes());
        Symbol {
            key: Some(name.key()),
            namespace: &name.namespace,
            global,
            heads: global.map_or(&[], |id| engine.heads(id)),
        }
    }
}

impl Model {
    /// What a leaf that was found is to the symbol.
    pub(super) fn matched(&self, leaf: u32, symbol: &Symbol<'_>) -> Option<Leaf<'_>> {
        match &self.nodes[leaf as usize].term {
            // A leaf of another name was found by the head that the element stands for.
            Term::Element { element, key, .. } if symbol.key == Some(*key) => Some(Leaf::Element(*element)),
            Term::Element { element, .. } => Some(Leaf::Element(symbol.global.unwrap_or(*element))),
            Term::Any(wildcard) => Some(Leaf::Any(wildcard)),
            Term::Group(_) => None,
        }
    }
}

/// Whether a leaf may stand for the symbol.
pub(crate) fn fits(term: &Term, symbol: &Symbol<'_>) -> bool {
    match term {
        Term::Element { element, key, global } => {
            symbol.key == Some(*key) || (*global && symbol.heads.iter().any(|(_, head)| head == element))
        }
        Term::Any(wildcard) => wildcard.namespaces.allows(symbol.namespace),
        Term::Group(_) => false,
    }
}

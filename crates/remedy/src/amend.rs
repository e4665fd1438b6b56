//! Small changes of an element info, each at an element that is known by its number in the file.

use charter_notation::{Child, ElementInfo};
use charter_source::{NodeId, QName};

/// What becomes of an element.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Amendment {
    /// It has these attributes as another element has them, and no others of these names.
    Attributes { of: NodeId, names: &'static [&'static str], like: ElementInfo },
    /// It has what stands in it under these names as another element has it, where its own first stands.
    Content { of: NodeId, names: &'static [&'static str], like: ElementInfo },
    /// An attribute has another value; `None`: it is not there.
    Set { of: NodeId, name: &'static str, value: Option<&'static str> },
    /// Another stands in its place.
    Replace { node: NodeId, by: ElementInfo },
    /// Another stands in it, behind one of its children; `None`: before all but documentation.
    Insert { into: NodeId, behind: Option<NodeId>, info: ElementInfo },
    /// It is not there.
    Remove { node: NodeId },
}

impl Amendment {
    /// The element that must be there for it.
    fn anchor(&self) -> NodeId {
        match self {
            Amendment::Attributes { of, .. } | Amendment::Content { of, .. } | Amendment::Set { of, .. } => {
                *of
            }
            Amendment::Replace { node, .. } | Amendment::Remove { node } => *node,
            Amendment::Insert { into, .. } => *into,
        }
    }

    /// What stands in the place of an element, if that is the one.
    pub fn replaces(&self, is_it: impl Fn(NodeId) -> bool) -> Option<&ElementInfo> {
        match self {
            Amendment::Replace { node, by } if is_it(*node) => Some(by),
            _ => None,
        }
    }

    /// Changes an element info; whether the element was in it.
    pub fn apply(&self, info: &mut ElementInfo) -> bool {
        let anchor = self.anchor();
        if is_at(info, anchor) {
            self.at(info);
            return true;
        }
        let here = |child: &Child| matches!(child, Child::Element(info) if is_at(info, anchor));
        match (self, info.children.iter().position(here)) {
            (Amendment::Remove { .. }, Some(at)) => {
                info.children.remove(at);
                true
            }
            _ => info.elements_mut().any(|child| self.apply(child)),
        }
    }

    /// Changes the element itself.
    fn at(&self, info: &mut ElementInfo) {
        match self {
            Amendment::Attributes { names, like, .. } => {
                info.attributes.retain(|(name, _)| !is_one(name, names));
                let others = like.attributes.iter().filter(|(name, _)| is_one(name, names));
                info.attributes.extend(others.cloned());
            }
            Amendment::Content { names, like, .. } => {
                let is_wanted = |child: &Child| matches!(child, Child::Element(info) if names.contains(&&*info.name.local));
                let first = info.children.iter().position(is_wanted);
                info.children.retain(|child| !is_wanted(child));
                let at = first.unwrap_or_else(|| begin(info));
                let others = like.children.iter().filter(|child| is_wanted(child)).cloned();
                info.children.splice(at..at, others.map(without_origin));
            }
            Amendment::Set { name, value, .. } => {
                info.attributes.retain(|(known, _)| !known.is("", name));
                if let Some(value) = value {
                    info.set(name, charter_notation::Value::Text((*value).to_owned()));
                }
            }
            Amendment::Replace { by, .. } => {
                let by = bare(by.clone());
                info.name = by.name;
                info.attributes = by.attributes;
                info.children = by.children;
            }
            Amendment::Insert { behind, info: new, .. } => {
                let is_before = |child: &Child| matches!((child, behind), (Child::Element(info), Some(node)) if is_at(info, *node));
                let at = info.children.iter().position(is_before).map_or_else(|| begin(info), |at| at + 1);
                info.children.insert(at, Child::Element(bare(new.clone())));
            }
            Amendment::Remove { .. } => {}
        }
    }
}

/// Where the first child may stand: behind documentation.
fn begin(info: &ElementInfo) -> usize {
    let is_about = |child: &Child| matches!(child, Child::Element(info) if info.is_xsd("annotation") || info.is_wsdl("documentation"));
    info.children.iter().take_while(|child| is_about(child)).count()
}

fn is_at(info: &ElementInfo, node: NodeId) -> bool {
    info.origin.is_some_and(|origin| origin.node == node)
}

fn is_one(name: &QName, names: &[&str]) -> bool {
    name.namespace.is_empty() && names.contains(&&*name.local)
}

/// The same without the places where it was read: they are those of another contract.
pub(crate) fn bare(mut info: ElementInfo) -> ElementInfo {
    info.origin = None;
    info.children = info.children.into_iter().map(without_origin).collect();
    info
}

fn without_origin(child: Child) -> Child {
    match child {
        Child::Element(info) => Child::Element(bare(info)),
        other => other,
    }
}

//! The shape that a message comes nearest to which fits none: one whose body has nearly the same name, or holds the same
//! elements under another.

use charter_contract::Body;
use charter_source::{Node, QName, Set, elements, nearest};

use super::Matcher;

/// How much of what is in the one must be in the other, at least.
const ALIKE: f64 = 0.4;

impl Matcher<'_> {
    /// The shape that comes nearest to a body element, among those that may stand there.
    pub(super) fn nearest(&self, node: Node<'_>, may: impl Fn(usize) -> bool) -> Option<(usize, QName)> {
        let tag = node.tag_name();
        let own: Set<&str> = elements(node).map(|child| child.tag_name().name()).collect();
        let mut best: Option<(f64, usize, QName)> = None;
        for name in self.shapes.names() {
            let Some(at) = self.shapes.beginning_with(name).iter().copied().find(|at| may(*at)) else {
                continue;
            };
            let inner = self.inner_names(at);
            let shared = inner.iter().filter(|name| own.contains(name.as_str())).count() as f64;
            let all = (inner.len() + own.len()) as f64 - shared;
            let mut score = if all > 0.0 { shared / all } else { 0.0 };
            if &*name.local == tag.name() {
                score += 1.0;
            } else if nearest(tag.name(), [&*name.local]).is_some() {
                score += 0.5;
            }
            if score >= ALIKE && best.as_ref().is_none_or(|(other, ..)| score > *other) {
                best = Some((score, at, name.clone()));
            }
        }
        best.map(|(_, at, name)| (at, name))
    }

    /// The names of the elements that stand in the body element of a shape.
    fn inner_names(&self, at: usize) -> Vec<String> {
        let known = &self.shapes.all[at];
        let schemas = self.engine.schemas();
        match (&known.first, known.shape.soap().map(|soap| &soap.body)) {
            (Some(element), _) => {
                let children = schemas.children(element.ty(schemas));
                children.iter().map(|(id, _)| schemas.elements[*id].name.local.to_string()).collect()
            }
            (None, Some(Body::Wrapper { parts, .. })) => parts.iter().map(|part| part.name.clone()).collect(),
            _ => Vec::new(),
        }
    }
}

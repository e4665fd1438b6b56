//! The children of an element judged side by side: large documents are mostly one element with many children, whose
//! judgements have nothing to do with each other but for IDs.

use charter_source::Node;
use rayon::prelude::*;

use super::content::is_space;
use super::{Assess, Validator};
use crate::Process;
use crate::engine::{Leaf, Model, Walk};

/// Children that are worth it.
const MANY: usize = 256;
/// Children that one thread judges before it takes others.
const AT_ONCE: usize = 128;

impl<'v, 'd> Validator<'v, 'd> {
    /// The element children of a node, each with what it is judged by, if there are many and all of them fit: content
    /// that has gone astray is followed one by one.
    pub(super) fn many_fitting(
        &self,
        node: Node<'d>,
        model: &Model,
        mixed: bool,
    ) -> Option<Vec<(Node<'d>, Assess)>> {
        let elements = || node.children().filter(Node::is_element);
        if !self.divides || elements().nth(MANY - 1).is_none() {
            return None;
        }
        let mut walk = Walk::new(model);
        let mut found = Vec::new();
        for child in node.children() {
            if child.is_text() && !mixed && !is_space(child.text().unwrap_or("")) {
                return None;
            }
            if child.is_element() {
                let assess = match walk.step(&self.symbol(child))? {
                    Leaf::Element(decl) => Assess::By(decl),
                    Leaf::Any(wildcard) => match wildcard.process {
                        Process::Skip => continue,
                        Process::Lax => Assess::Lax,
                        Process::Strict => Assess::Strict,
                    },
                };
                found.push((child, assess));
            }
        }
        walk.complete().then_some(found)
    }

    /// Judges elements side by side; what is found comes together in the order of the document.
    pub(super) fn side_by_side(&mut self, elements: &[(Node<'d>, Assess)]) {
        let (engine, file, most, depth) = (self.engine, self.file, self.report.most, self.depth);
        let entities = &self.entities;
        let judge = |elements: &[(Node<'d>, Assess)]| {
            let mut part = Validator::new(engine, file, most);
            part.entities = entities.clone();
            part.depth = depth;
            part.apart = Some(Vec::new());
            elements.iter().for_each(|(node, assess)| part.element(*node, *assess));
            (part.report, part.apart.unwrap_or_default())
        };
        let parts: Vec<_> = elements.par_chunks(AT_ONCE).map(judge).collect();
        for (findings, ids) in parts {
            self.report.append(findings);
            ids.into_iter().for_each(|id| self.remember_id(id));
        }
    }
}

//! Says where a content model is ambiguous (Part 1, 3.8.6: cos-nonambig).

use super::Judge;
use crate::engine::Leaf;
use crate::engine::attribution::Overlap;

impl Judge<'_> {
    /// cos-nonambig: says that two particles overlap where both may come next.
    pub(super) fn ambiguous(&mut self, (one, other): Overlap) {
        let place = self.node_place(&self.model, other);
        let what = |node: u32| match self.model.leaf(node) {
            Some(Leaf::Element(id)) => super::named(&self.engine.schemas.elements[id].name),
            _ => "wildcard".to_owned(),
        };
        let first = self.node_place(&self.model, one);
        let first = self.engine.files.get(first.file).text().position(first.span.start);
        let message = format!(
            "it is not clear whether an element is this {} or the {} of line {}",
            what(other),
            what(one),
            first.line
        );
        self.say("cos-nonambig", place, message, "change the content so that the next element alone decides");
    }
}

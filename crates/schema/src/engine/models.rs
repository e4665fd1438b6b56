//! Makes the content models of types, with what is to be known of each before elements are led through it.

use super::Engine;
use super::attribution::overlap;
use super::model::{Model, Node};
use crate::TypeId;

impl Model {
    pub(super) fn build(engine: &Engine<'_>, id: TypeId) -> Option<Model> {
        if engine.schemas.is_any(id) {
            return None;
        }
        let mut model = Model::of(engine.schemas, &engine.schemas.content(id))?;
        model.ambiguity = overlap(engine, &model);
        let counted = |node: &Node| node.min > 1 || (node.max > 1 && node.max < u32::MAX);
        model.deterministic = model.ambiguity.is_none() && !model.nodes.iter().any(counted);
        model.budget = Some(engine.budget().clone());
        engine.budget().room(model.bytes()).then_some(model)
    }
}

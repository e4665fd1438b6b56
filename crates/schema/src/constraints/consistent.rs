//! Consistent declarations (Part 1, 3.8.6: cos-element-consistent): elements of one name in one content model have one
//! type.

use charter_source::{Map, NameKey};

use super::Judge;
use crate::engine::{ModelNode, ModelTerm};
use crate::{ElementId, Engine};

/// The elements of a content model by name.
#[derive(Debug, Clone, Default)]
pub(super) struct Declared {
    names: Map<NameKey, ElementId>,
    /// Local elements that have the name of a global one, by the names of the elements which that one may stand for.
    under: Map<NameKey, Vec<Namesake>>,
}

/// A local element, and the global one of its name.
#[derive(Debug, Clone, Copy)]
struct Namesake {
    local: ElementId,
    /// The element that the global one may stand for.
    head: ElementId,
    global: ElementId,
}

impl Declared {
    pub fn has(&self, key: NameKey) -> bool {
        self.names.contains_key(&key)
    }

    /// Adds the elements of some nodes.
    pub fn add(&mut self, engine: &Engine<'_>, nodes: &[ModelNode]) {
        for (element, key, global) in nodes.iter().filter_map(element_of) {
            self.names.entry(key).or_insert(element);
            for namesake in namesakes(engine, element, key, global) {
                let head = engine.schemas.elements[namesake.head].name.key();
                self.under.entry(head).or_default().push(namesake);
            }
        }
    }
}

fn element_of(node: &ModelNode) -> Option<(ElementId, NameKey, bool)> {
    match node.term {
        ModelTerm::Element { element, key, global } => Some((element, key, global)),
        _ => None,
    }
}

/// What a local element must agree with, should one of the heads be in the content as well: the global element of its
/// name may stand there.
fn namesakes(engine: &Engine<'_>, local: ElementId, key: NameKey, global: bool) -> Vec<Namesake> {
    if global || !engine.has_substitutes() {
        return Vec::new();
    }
    let Some(global) = engine.global_element(key) else { return Vec::new() };
    engine.heads(global).iter().map(|(_, head)| Namesake { local, head: *head, global }).collect()
}

impl Judge<'_> {
    /// Judges the elements of the model from `start` on, among themselves and with those of the content before.
    pub(super) fn consistency(&mut self, before: &Declared, start: usize) {
        let engine = self.engine;
        let type_of = |element: ElementId| engine.schemas.elements[element].ty.target;
        let same = |a: ElementId, b: ElementId| a == b || type_of(a) == type_of(b);
        let mut own = Declared::default();
        let mut wrong = None;
        let own_nodes = &self.model.nodes[start..];
        let leaves = || own_nodes.iter().enumerate().filter_map(|(at, node)| Some((at, element_of(node)?)));
        for (at, (element, key, _)) in leaves() {
            let other = before.names.get(&key).or(own.names.get(&key));
            if other.is_some_and(|other| !same(*other, element)) {
                wrong = Some((at, element));
            }
            own.names.entry(key).or_insert(element);
        }
        // An element that stands for another is contained as well.
        if engine.has_substitutes() {
            for (at, (element, key, global)) in leaves() {
                let present = |head: ElementId| {
                    let key = engine.schemas.elements[head].name.key();
                    before.names.get(&key).or(own.names.get(&key)) == Some(&head)
                };
                let own = namesakes(engine, element, key, global);
                let clashes = own.iter().any(|it| present(it.head) && !same(it.global, it.local));
                let earlier = before.under.get(&key).map_or(&[][..], Vec::as_slice);
                if clashes || earlier.iter().any(|it| it.head == element && !same(it.global, it.local)) {
                    wrong = Some((at, element));
                }
            }
        }
        let Some((at, element)) = wrong else { return };
        let name = super::named(&engine.schemas.elements[element].name);
        let message = format!("{name} stands in this content with two different types");
        let place = self.node_place(&self.model, (start + at) as u32);
        let help = "give both the same named type, or rename one";
        self.say("cos-element-consistent", place, message, help);
    }
}

//! Paths in a document: the names from the root on, with a number where several share a name.

use charter_source::NodeId;
use charter_source::{Map, Node};

/// Finds the paths of elements. The children of an element are counted once, however many are asked for.
#[derive(Debug, Default)]
pub struct Paths {
    /// The element children of a parent by name, in document order.
    known: Map<NodeId, Map<String, Vec<NodeId>>>,
}

impl Paths {
    /// The path of an element: `arrival/vessel/cargo[2]`.
    pub fn of(&mut self, node: Node<'_>) -> String {
        let mut steps = Vec::new();
        let mut here = Some(node);
        while let Some(node) = here {
            steps.push(self.step(node));
            here = node.parent_element();
        }
        steps.reverse();
        steps.join("/")
    }

    fn step(&mut self, node: Node<'_>) -> String {
        let name = node.tag_name().name();
        let Some(parent) = node.parent_element() else { return name.to_owned() };
        let siblings = self.known.entry(parent.id()).or_insert_with(|| {
            let mut found: Map<String, Vec<NodeId>> = Map::default();
            for child in parent.children().filter(Node::is_element) {
                match found.get_mut(child.tag_name().name()) {
                    Some(list) => list.push(child.id()),
                    None => drop(found.insert(child.tag_name().name().to_owned(), vec![child.id()])),
                }
            }
            found
        });
        match siblings.get(name) {
            Some(list) if list.len() > 1 => {
                let at = list.partition_point(|id| id.get() < node.id().get()) + 1;
                format!("{name}[{at}]")
            }
            _ => name.to_owned(),
        }
    }
}

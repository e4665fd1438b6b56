//! Where something stands in a version: its element, and the component with a name around it; and where the same stands in
//! the other version.

use charter_author::component_named;
use charter_contract::{Component, Contract};
use charter_notation::{ElementInfo, own_info};
use charter_source::{FileId, Map, Node, NodeId, Place, QName, element_around, elements, ns};

/// An element of a contract.
#[derive(Clone, Copy)]
pub(crate) struct Spot<'c> {
    pub contract: &'c Contract,
    pub file: FileId,
    pub node: Node<'c>,
}

impl<'c> Spot<'c> {
    /// The element at a place.
    pub fn at(contract: &'c Contract, place: Place) -> Option<Spot<'c>> {
        let file = contract.files.get(place.file);
        let node = element_around(file.root()?, place.span)?;
        (!file.is_known()).then_some(Spot { contract, file: file.id, node })
    }

    /// The element of a number of another contract that has the same tree.
    pub fn same_in(self, contract: &'c Contract) -> Option<Spot<'c>> {
        let node = contract.files.get(self.file).tree.node(self.node.id())?;
        Some(Spot { contract, file: self.file, node })
    }

    pub fn id(self) -> NodeId {
        self.node.id()
    }

    fn with(self, node: Node<'c>) -> Spot<'c> {
        Spot { node, ..self }
    }

    pub fn place(self) -> Place {
        Place { file: self.file, span: self.node.range().into() }
    }

    pub fn is_xsd(self, names: &[&str]) -> bool {
        let name = self.node.tag_name();
        name.namespace() == Some(ns::XSD) && names.contains(&name.name())
    }

    /// What it says, apart from how it is written.
    pub fn info(self) -> Option<ElementInfo> {
        own_info(self.contract, self.place())
    }

    /// The component with a name around it, or it itself.
    pub fn unit(self) -> Spot<'c> {
        let is_unit = |node: &Node<'c>| {
            node.parent_element().is_some_and(|parent| {
                let name = parent.tag_name();
                matches!(
                    (name.namespace(), name.name()),
                    (Some(ns::XSD), "schema") | (Some(ns::WSDL), "definitions")
                )
            })
        };
        self.with(self.node.ancestors().find(is_unit).unwrap_or(self.node))
    }

    /// The first element in it, or it itself, of a name of XML Schema; not one of another declaration.
    pub fn inner(self, names: &[&str]) -> Option<Spot<'c>> {
        if self.is_xsd(names) {
            return Some(self);
        }
        let inside = elements(self.node).filter(|child| !child.has_tag_name((ns::XSD, "annotation")));
        let mut inside = inside.map(|child| self.with(child));
        inside.find_map(|child| match child.is_xsd(&["element", "attribute"]) {
            true => None,
            false => child.inner(names),
        })
    }

    pub fn parent(self) -> Option<Spot<'c>> {
        self.node.parent_element().map(|node| self.with(node))
    }

    /// The elements in it that have a local name, at any depth.
    pub fn inside(self, local: &str) -> impl Iterator<Item = Spot<'c>> {
        self.node
            .descendants()
            .filter(move |node| node.tag_name().name() == local)
            .map(move |node| self.with(node))
    }

    /// Whether it stands at a place, or within what stands there.
    pub fn is_within(self, place: Place) -> bool {
        place.file == self.file && place.span.covers(self.place().span)
    }

    /// The elements before it in the same element, the nearest first.
    pub fn before(self) -> impl Iterator<Item = Spot<'c>> {
        let parent = self.node.parent_element();
        let own = self.node.range().start;
        let all: Vec<Node<'c>> =
            parent.into_iter().flat_map(elements).take_while(|it| it.range().start < own).collect();
        all.into_iter().rev().map(move |node| self.with(node))
    }

    /// The child of another element that is the nearest of those before this one.
    pub fn nearest_before(self, other: Spot<'_>) -> Option<NodeId> {
        let there: Map<_, NodeId> = elements(other.node).map(|child| (step(child), child.id())).collect();
        self.before().find_map(|sibling| there.get(&step(sibling.node)).copied())
    }

    /// The component that a unit is, if it has a path.
    pub fn component(self) -> Option<Component> {
        let name = QName::new(self.namespace(), self.node.attribute("name")?);
        component_named(self.contract, self.node.tag_name().name(), &name)
    }

    /// The namespace of the names that its file, or its schema, declares.
    pub fn namespace(self) -> &'c str {
        match self.contract.schemas.document_of(self.place()) {
            Some(document) => &document.namespace,
            None => {
                let definitions = self.contract.definitions.iter().find(|(_, it)| it.file == self.file);
                definitions.map_or("", |(_, it)| &*it.namespace)
            }
        }
    }

    /// The same component in another version: of that kind and name.
    pub fn counterpart_unit(self, other: &'c Contract) -> Option<Spot<'c>> {
        let name = QName::new(self.namespace(), self.node.attribute("name")?);
        let component = component_named(other, self.node.tag_name().name(), &name)?;
        let extent = other.extent(component)?;
        Spot::at(other, extent).filter(|spot| spot.place() == extent)
    }

    /// The same element in another version: in the same component, by the same way.
    pub fn counterpart(self, other: &'c Contract) -> Option<Spot<'c>> {
        let unit = self.unit();
        if unit.id() == self.id() {
            return self.counterpart_unit(other);
        }
        let parent = self.parent()?.counterpart(other)?;
        let own = step(self.node);
        let nth = self.before().filter(|it| step(it.node) == own).count();
        elements(parent.node).filter(|child| step(*child) == own).nth(nth).map(|node| parent.with(node))
    }
}

/// What an element goes by among its siblings.
fn step<'c>(node: Node<'c>) -> (Option<&'c str>, &'c str, Option<&'c str>) {
    let local = |name: &'c str| name.rsplit(':').next().unwrap_or(name);
    let name = node.attribute("name").or_else(|| node.attribute("ref").map(local));
    (node.tag_name().namespace(), node.tag_name().name(), name.or_else(|| node.attribute("value")))
}

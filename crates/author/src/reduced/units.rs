//! The units of a contract: its messages, operations, and the global components of its schemas, as stretches of
//! text that can be left out one by one.

use charter_contract::Contract;
use charter_source::{File, FileId, Map, Node, Place, Span, elements, ns};

/// A component that can be left out, with the gap before it.
pub(super) struct Unit {
    pub file: FileId,
    /// Where what stands before it ends: the component before it, or the start tag around it.
    pub gap: u32,
    pub span: Span,
    /// The element that it is a child of.
    pub container: u32,
    pub in_schema: bool,
    /// The next unit with the same name.
    namesake: Option<u32>,
}

impl Unit {
    pub fn place(&self) -> Place {
        Place { file: self.file, span: self.span }
    }
}

/// An element whose children are units.
pub(super) struct Container {
    pub place: Place,
    /// From the end of its start tag to the beginning of its end tag.
    pub content: Span,
}

/// A child of a container that stays in every case.
pub(super) struct Fixed {
    pub place: Place,
    /// Whether nothing else depends on it, as on a service or documentation.
    pub apart: bool,
}

/// All units of a contract, in the order of its files and places.
pub(super) struct Units<'c> {
    pub list: Vec<Unit>,
    pub containers: Vec<Container>,
    /// The children of containers that are no units and stay in every case.
    pub fixed: Vec<Fixed>,
    first_named: Map<&'c str, u32>,
}

impl<'c> Units<'c> {
    pub fn of(contract: &'c Contract) -> Units<'c> {
        let mut units = Units {
            list: Vec::new(),
            containers: Vec::new(),
            fixed: Vec::new(),
            first_named: Map::default(),
        };
        for file in contract.files.iter().filter(|file| !file.is_known()) {
            if let Some(root) = file.root() {
                units.see(file, root);
            }
        }
        units
    }

    /// A root, or a child of a container that may be a container itself.
    fn see(&mut self, file: &'c File, node: Node<'c>) {
        let name = (node.tag_name().namespace().unwrap_or(""), node.tag_name().name());
        let apart = matches!(name, (ns::WSDL, "service" | "documentation"));
        self.fixed.push(Fixed { place: Place { file: file.id, span: node.range().into() }, apart });
        let holds_units = matches!(
            name,
            (ns::WSDL, "definitions" | "types" | "portType" | "binding") | (ns::XSD, "schema")
        );
        if holds_units {
            self.container(file, node);
        }
    }

    fn container(&mut self, file: &'c File, node: Node<'c>) {
        let (Some(first), Some(last)) = (node.first_child(), node.last_child()) else { return };
        let content = Span::new(first.range().start, last.range().end);
        let container = self.containers.len() as u32;
        let place = Place { file: file.id, span: node.range().into() };
        self.containers.push(Container { place, content });
        let mut gap = content.start;
        for child in elements(node) {
            let span = Span::from(child.range());
            match in_schema(node, child) {
                None => self.see(file, child),
                Some(in_schema) => {
                    let at = self.list.len() as u32;
                    let name = child.attribute("name").unwrap_or("");
                    let namesake = self.first_named.insert(name, at);
                    self.list.push(Unit { file: file.id, gap, span, container, in_schema, namesake });
                }
            }
            gap = span.end;
        }
    }

    /// The units of a name.
    pub fn named<'s>(&'s self, name: &str) -> impl Iterator<Item = u32> + use<'s, 'c> {
        let first = self.first_named.get(name).copied();
        std::iter::successors(first, |at| self.list[*at as usize].namesake)
    }

    /// The units that a stretch meets, with the gaps before them; one that it only borders on is met too.
    pub fn met(&self, place: Place) -> std::ops::Range<u32> {
        let before = |unit: &Unit| (unit.file, unit.span.end) < (place.file, place.span.start);
        let start = self.list.partition_point(before);
        let upto = |unit: &Unit| (unit.file, unit.gap) <= (place.file, place.span.end);
        start as u32..self.list.partition_point(upto).max(start) as u32
    }

    /// The unit that a place lies within, short of its ends.
    pub fn holding(&self, place: Place) -> Option<u32> {
        let span = place.span;
        let unit = self.at(place.file, span.start)?;
        let own = self.list[unit as usize].span;
        (own.start < span.start && span.end < own.end).then_some(unit)
    }

    /// The unit that covers an offset of a file.
    pub fn at(&self, file: FileId, offset: u32) -> Option<u32> {
        let upto = self.list.partition_point(|unit| (unit.file, unit.span.start) <= (file, offset));
        let found = upto.checked_sub(1)?;
        let unit = &self.list[found];
        (unit.file == file && offset < unit.span.end).then_some(found as u32)
    }
}

/// Whether a child of a container is a unit, and of a schema.
fn in_schema(node: Node<'_>, child: Node<'_>) -> Option<bool> {
    let is = |node: Node<'_>, namespace: &str, local: &str| {
        node.tag_name().name() == local && node.tag_name().namespace() == Some(namespace)
    };
    if is(node, ns::XSD, "schema") {
        let stays = ["import", "include", "redefine", "notation"].iter().any(|it| is(child, ns::XSD, it));
        return (!stays).then_some(true);
    }
    let message = is(node, ns::WSDL, "definitions") && is(child, ns::WSDL, "message");
    let operation = is(child, ns::WSDL, "operation") && !is(node, ns::WSDL, "definitions");
    (message || operation).then_some(false)
}

//! Every wire shape of a contract, by what its messages begin with.

use std::sync::OnceLock;

use charter_contract::{Body, Bound, Contract, WireElement, WireShape};
use charter_schema::{ElementId, Relatives};
use charter_source::{Map, QName};

use crate::blocks::Wanted;

/// A wire shape of a contract.
pub struct Known {
    /// The shape.
    pub shape: WireShape,
    /// The first element of its body or of its detail; `None` if there is none, or none of a certain name.
    pub first: Option<WireElement>,
    /// The header blocks that its policies ask for.
    pub(super) wanted: OnceLock<Wanted>,
}

/// The wire shapes of a contract.
pub(super) struct Shapes {
    pub all: Vec<Known>,
    by_name: Map<QName, Vec<usize>>,
    /// The same by what may stand for that element.
    by_substitute: Map<QName, Vec<usize>>,
    /// Those whose body is the content of a type.
    pub of_content: Vec<usize>,
    /// Those whose body is empty.
    pub empty: Vec<usize>,
    /// Those of faults about header blocks, by the name of the block.
    header_faults: Map<QName, Vec<usize>>,
    /// Those over plain HTTP.
    pub plain: Vec<usize>,
}

impl Shapes {
    /// The shapes of the ways in which operations are offered that count.
    pub fn of(contract: &Contract, relatives: &Relatives, counts: &dyn Fn(&Bound<'_>) -> bool) -> Shapes {
        let mut shapes = Shapes {
            all: Vec::new(),
            by_name: Map::default(),
            by_substitute: Map::default(),
            of_content: Vec::new(),
            empty: Vec::new(),
            header_faults: Map::default(),
            plain: Vec::new(),
        };
        for (id, _) in contract.operations() {
            for side in contract.sides(id) {
                for bound in contract.bound(id).filter(counts) {
                    if let Ok(shape) = contract.shape_of(id, side, bound) {
                        shapes.add(contract, relatives, shape);
                    }
                    if let Ok(faults) = contract.header_faults(id, side, bound) {
                        faults.into_iter().for_each(|shape| shapes.add(contract, relatives, shape));
                    }
                }
            }
        }
        shapes
    }

    fn add(&mut self, contract: &Contract, relatives: &Relatives, shape: WireShape) {
        let at = self.all.len();
        let mut first = None;
        let mut note = |name: QName| self.by_name.entry(name).or_default().push(at);
        match shape.soap() {
            None => self.plain.push(at),
            Some(soap) if soap.fault.as_ref().is_some_and(|fault| fault.of_header) => {
                if let Some(block) = soap.headers.first() {
                    let name = block.content.name(&contract.schemas).clone();
                    self.header_faults.entry(name).or_default().push(at);
                }
            }
            Some(soap) => match &soap.body {
                Body::Elements(elements) => match elements.first() {
                    Some(element) => {
                        note(element.name(&contract.schemas).clone());
                        if let WireElement::Declared(id) = element {
                            // What may stand for it by its substitution group may stand here too.
                            for name in substitutes(contract, relatives, *id) {
                                self.by_substitute.entry(name).or_default().push(at);
                            }
                        }
                        first = Some(element.clone());
                    }
                    None => self.empty.push(at),
                },
                Body::Content(_) => self.of_content.push(at),
                Body::Wrapper { name, .. } => note(name.clone()),
            },
        }
        self.all.push(Known { shape, first, wanted: OnceLock::new() });
    }

    /// The shapes whose body begins with an element of that name.
    pub fn beginning_with(&self, name: &QName) -> &[usize] {
        self.by_name.get(name).or_else(|| self.by_substitute.get(name)).map_or(&[], Vec::as_slice)
    }

    /// The faults about a header block of that name.
    pub fn header_faults(&self, name: &QName) -> &[usize] {
        self.header_faults.get(name).map_or(&[], Vec::as_slice)
    }

    /// The names that bodies begin with, in order.
    pub fn names(&self) -> Vec<&QName> {
        let mut names: Vec<&QName> = self.by_name.keys().collect();
        names.sort_unstable();
        names
    }
}

/// The names of the elements that may stand for one.
fn substitutes(contract: &Contract, relatives: &Relatives, id: ElementId) -> Vec<QName> {
    let mut found = Vec::new();
    let mut waiting = relatives.substitutes(id).to_vec();
    while let Some(member) = waiting.pop() {
        waiting.extend(relatives.substitutes(member));
        found.push(contract.schemas.elements[member].name.clone());
    }
    found
}

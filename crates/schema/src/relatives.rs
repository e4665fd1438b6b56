//! Who may stand for whom: the types derived from a type, which `xsi:type` may name, and the elements that
//! join a substitution group.

use charter_source::Map;

use crate::{Builtin, ElementId, Schemas, SimpleDerivation, TypeId, TypeKind};

/// The direct relatives of types and elements, in the order in which they were read.
#[derive(Debug, Default)]
pub struct Relatives {
    derived: Map<TypeId, Vec<TypeId>>,
    substitutes: Map<ElementId, Vec<ElementId>>,
}

impl Relatives {
    /// Finds the relatives of all types and elements.
    pub fn of(schemas: &Schemas) -> Relatives {
        let mut relatives = Relatives::default();
        for (id, ty) in schemas.types.iter().skip(Builtin::all().count()) {
            let base = match &ty.kind {
                TypeKind::Complex(complex) => complex.base.target,
                TypeKind::Simple(simple) => match &simple.derivation {
                    SimpleDerivation::Restriction(base) => base.target,
                    _ => None,
                },
            };
            // All types derive from the built-in ones in the end, which says nothing.
            if let Some(base) = base.filter(|base| Builtin::from_id(*base).is_none()) {
                relatives.derived.entry(base).or_default().push(id);
            }
        }
        for (id, element) in schemas.elements.iter() {
            if let Some(head) = element.substitution_group.as_ref().and_then(|head| head.target) {
                relatives.substitutes.entry(head).or_default().push(id);
            }
        }
        relatives
    }

    /// The types derived directly from a type.
    pub fn derived(&self, ty: TypeId) -> &[TypeId] {
        self.derived.get(&ty).map_or(&[], Vec::as_slice)
    }

    /// The elements that name this one as the head of their substitution group.
    pub fn substitutes(&self, element: ElementId) -> &[ElementId] {
        self.substitutes.get(&element).map_or(&[], Vec::as_slice)
    }
}

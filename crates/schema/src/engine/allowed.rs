//! The attributes of a type, ready to be looked up.

use charter_source::NameKey;

use crate::{Attribute, AttributeId, Builtin, Schemas, TypeId, TypeKind, ValueConstraint, Wildcard};

/// What attributes a type allows.
#[derive(Debug, Default)]
pub struct Allowed {
    /// By key, for the search.
    attributes: Vec<AllowedAttribute>,
    /// Those that must be there, by their position.
    pub required: Vec<usize>,
    /// For all others.
    pub wildcard: Option<Wildcard>,
}

/// An attribute that a type allows.
#[derive(Debug, Clone)]
pub struct AllowedAttribute {
    key: NameKey,
    /// Its declaration.
    pub decl: AttributeId,
    /// Its type.
    pub ty: TypeId,
    /// Its default or fixed value.
    pub value: Option<ValueConstraint>,
}

impl Allowed {
    pub(super) fn of(schemas: &Schemas, id: TypeId) -> Allowed {
        if !matches!(schemas.types[id].kind, TypeKind::Complex(_)) {
            return Allowed::default();
        }
        if id == Builtin::AnyType.id() {
            return Allowed { wildcard: Some(Wildcard::anything()), ..Allowed::default() };
        }
        let (mut found, wildcard) = schemas.attributes(id);
        found.sort_by_key(|attribute| attribute.name.key());
        let required =
            found.iter().enumerate().filter(|(_, attribute)| attribute.required).map(|(at, _)| at).collect();
        let ready = |attribute: Attribute<'_>| AllowedAttribute {
            key: attribute.name.key(),
            decl: attribute.decl,
            ty: attribute.ty,
            value: attribute.value.cloned(),
        };
        Allowed { attributes: found.into_iter().map(ready).collect(), required, wildcard }
    }

    /// Whether it allows none.
    pub(super) fn is_empty(&self) -> bool {
        self.attributes.is_empty() && self.wildcard.is_none()
    }

    /// The position of an attribute.
    pub fn find(&self, key: NameKey) -> Option<usize> {
        self.attributes.binary_search_by_key(&key, |attribute| attribute.key).ok()
    }

    /// The attributes.
    pub fn all(&self) -> &[AllowedAttribute] {
        &self.attributes
    }
}

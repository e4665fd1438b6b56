//! The attributes of a type, ready to be looked up.

use charter_source::{NameKey, NodeId, Place};

use crate::{Attribute, AttributeId, Builtin, Schemas, TypeId, TypeKind, ValueConstraint, Wildcard};

/// What attributes a type allows.
#[derive(Debug, Default)]
pub struct Allowed {
    /// By key, for the search.
    attributes: Vec<AllowedAttribute>,
    /// Those that must be there, by their position: those of the base first, as they are written.
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
    /// Whether it must be there.
    pub required: bool,
    /// Where the use stands that allows it.
    pub place: Place,
    /// The element there.
    pub node: NodeId,
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
        let (found, wildcard) = schemas.attributes(id);
        let must: Vec<NameKey> =
            found.iter().filter(|attribute| attribute.required).map(|it| it.name.key()).collect();
        let ready = |attribute: Attribute<'_>| AllowedAttribute {
            key: attribute.name.key(),
            decl: attribute.decl,
            ty: attribute.ty,
            required: attribute.required,
            place: attribute.usage.place,
            node: attribute.usage.node,
            value: attribute.value.cloned(),
        };
        let mut attributes: Vec<AllowedAttribute> = found.into_iter().map(ready).collect();
        attributes.sort_by_key(|attribute| attribute.key);
        let mut allowed = Allowed { attributes, required: Vec::new(), wildcard };
        allowed.required = must.into_iter().filter_map(|key| allowed.find(key)).collect();
        allowed
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

//! Whether one type is derived from another, and one element may stand for another.

use charter_source::NameKey;

use crate::{
    Builtin, Derivation, DerivationSet, ElementId, Ref, Schemas, SimpleDerivation, TypeDef, TypeId, TypeKind,
};

/// The ways of derivation between a type and one that it comes from.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub(crate) struct Path {
    /// The methods used.
    pub methods: DerivationSet,
    /// What the types in between forbid for themselves.
    pub blocked: DerivationSet,
}

impl DerivationSet {
    /// Whether the two have a way of deriving types in common.
    pub fn meets(self, other: DerivationSet) -> bool {
        (self.extension && other.extension)
            || (self.restriction && other.restriction)
            || (self.list && other.list)
            || (self.union && other.union)
    }

    /// What is in either.
    pub fn with(self, other: DerivationSet) -> DerivationSet {
        DerivationSet {
            extension: self.extension || other.extension,
            restriction: self.restriction || other.restriction,
            substitution: self.substitution || other.substitution,
            list: self.list || other.list,
            union: self.union || other.union,
        }
    }
}

impl Schemas {
    /// The type that another is made from, and how; `None` for `anyType`.
    pub fn base(&self, id: TypeId) -> Option<(TypeId, Derivation)> {
        if id == Builtin::AnyType.id() {
            return None;
        }
        Some(match &self.types[id].kind {
            TypeKind::Complex(complex) => (complex.base.target?, complex.derivation),
            TypeKind::Simple(simple) => {
                let base = match &simple.derivation {
                    SimpleDerivation::Restriction(base) => base.target?,
                    _ => Builtin::AnySimpleType.id(),
                };
                (base, Derivation::Restriction)
            }
        })
    }

    /// How `ty` comes from `base`; `None` if it does not (Part 1, 3.4.6, cos-ct-derived-ok, and 3.14.6,
    /// cos-st-derived-ok).
    pub(crate) fn derivation(&self, ty: TypeId, base: TypeId) -> Option<Path> {
        let mut path = Path::default();
        let mut here = ty;
        while here != base {
            let Some((next, how)) = self.base(here) else { return self.in_union(ty, base) };
            match how {
                Derivation::Extension => path.methods.extension = true,
                Derivation::Restriction => path.methods.restriction = true,
            }
            here = next;
            if here != base
                && let TypeKind::Complex(complex) = &self.types[here].kind
            {
                path.blocked = path.blocked.with(complex.block);
            }
        }
        Some(path)
    }

    /// Whether `base` is a union, or restricts one, and `ty` comes from one of its members (cos-st-derived-ok, 2.2.4).
    fn in_union(&self, ty: TypeId, base: TypeId) -> Option<Path> {
        let restriction = DerivationSet { restriction: true, ..DerivationSet::default() };
        // A member that is a union itself stands for its own members.
        let members = self.flattened(self.union_members(base)?);
        members
            .into_iter()
            .filter(|member| *member != base)
            .find_map(|member| self.derivation(ty, member))
            .map(|path| Path { methods: path.methods.with(restriction), ..path })
    }

    /// The members of a union, or of the one that a type restricts.
    fn union_members(&self, id: TypeId) -> Option<&[Ref<TypeDef>]> {
        let mut here = id;
        loop {
            if Builtin::from_id(here).is_some() {
                return None;
            }
            let TypeKind::Simple(simple) = &self.types[here].kind else { return None };
            match &simple.derivation {
                SimpleDerivation::Restriction(base) => here = base.target?,
                SimpleDerivation::Union(members) => return Some(members),
                SimpleDerivation::List(_) => return None,
            }
        }
    }

    /// The members of a union, with those of the unions among them in their place.
    fn flattened(&self, members: &[Ref<TypeDef>]) -> Vec<TypeId> {
        let targets = |members: &[Ref<TypeDef>]| -> Vec<TypeId> {
            let mut targets: Vec<TypeId> = crate::simple::distinct(members).collect();
            targets.reverse();
            targets
        };
        let mut found = Vec::new();
        let mut seen = charter_source::Set::default();
        let mut waiting = targets(members);
        while let Some(id) = waiting.pop() {
            if !seen.insert(id) {
                continue;
            }
            match self.union_members(id) {
                Some(inner) => waiting.extend(targets(inner)),
                None => found.push(id),
            }
        }
        found
    }

    /// Whether `ty` may take the place of `base` where some ways of derivation are blocked.
    pub fn may_stand_for(&self, ty: TypeId, base: TypeId, block: DerivationSet) -> bool {
        self.derivation(ty, base).is_some_and(|path| !path.methods.meets(block))
    }

    /// What may not stand in for a type.
    pub fn prohibited(&self, id: TypeId) -> DerivationSet {
        self.complex(id).map_or(DerivationSet::default(), |complex| complex.block)
    }
}

/// The elements that one may stand for by its substitution group (Part 1, 3.3.6, cos-equiv-derived-ok-rec).
pub(super) fn heads(schemas: &Schemas, id: ElementId) -> Box<[(NameKey, ElementId)]> {
    let mut found = Vec::new();
    let ty = schemas.element_type(id);
    let mut here = id;
    while let Some(head) = schemas.elements[here].substitution_group.as_ref().and_then(|head| head.target) {
        here = head;
        if stands_for(schemas, ty, head) {
            found.push((schemas.elements[head].name.key(), head));
        }
    }
    found.into()
}

/// Whether an element of that type may stand for a head that it is connected to.
pub(crate) fn stands_for(schemas: &Schemas, ty: TypeId, head: ElementId) -> bool {
    let declared = &schemas.elements[head];
    let head_type = schemas.element_type(head);
    if declared.block.substitution {
        return false;
    }
    schemas.derivation(ty, head_type).is_some_and(|path| {
        let blocked = declared.block.with(schemas.prohibited(head_type)).with(path.blocked);
        !path.methods.meets(blocked)
    })
}

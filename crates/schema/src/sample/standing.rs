//! What stands for what is asked for: other elements of a substitution group, and derived types.

use std::collections::VecDeque;

use charter_source::{QName, ns};

use super::generate::Generator;
use super::{Element, SampleError, Text};
use crate::{DerivationSet, ElementId, TypeId};

impl Generator<'_> {
    /// Another element of the substitution group: the nearest that can be made, or a random one.
    pub(super) fn substitute(&mut self, id: ElementId, holder: &str) -> Result<Element, SampleError> {
        let engine = self.engine;
        let declared = &self.schemas.elements[id];
        let mut found =
            Err(SampleError::Abstract { name: declared.name.local.to_string(), place: declared.place });
        let mut waiting: VecDeque<ElementId> = engine.relatives().substitutes(id).iter().copied().collect();
        while let Some(member) = waiting.pop_front() {
            waiting.extend(engine.relatives().substitutes(member));
            let allowed = engine.heads(member).iter().any(|(_, head)| *head == id);
            let skipped = !waiting.is_empty() && self.chance(2);
            if allowed && !skipped && !self.schemas.elements[member].is_abstract {
                // What stands for the member may not stand for this one.
                found = self.itself(member, holder);
                if found.is_ok() {
                    break;
                }
            }
        }
        found
    }

    /// The elements that may stand for one, the nearest first.
    pub(super) fn standing(&self, id: ElementId) -> Vec<ElementId> {
        let engine = self.engine;
        let mut found = engine.relatives().substitutes(id).to_vec();
        let mut next = 0;
        while let Some(member) = found.get(next) {
            found.extend(engine.relatives().substitutes(*member));
            next += 1;
        }
        let allowed = |member: &ElementId| engine.heads(*member).iter().any(|(_, head)| *head == id);
        found.retain(|member| allowed(member) && !self.schemas.elements[*member].is_abstract);
        found
    }

    /// The type that an element may have: its own, or one that stands for it, which the element then names.
    pub(crate) fn type_of(&mut self, id: ElementId, element: &mut Element) -> Option<TypeId> {
        self.concrete(id, element, false).ok()
    }

    /// The type that the element is given; an abstract one is replaced by the nearest derived from it.
    pub(super) fn concrete(
        &mut self,
        id: ElementId,
        element: &mut Element,
        by_chance: bool,
    ) -> Result<TypeId, SampleError> {
        let declared = &self.schemas.elements[id];
        let ty = self.schemas.element_type(id);
        let block = declared.block.with(self.schemas.prohibited(ty));
        // Its fixed value may not be one of a narrower type.
        let free = declared.value.is_none();
        self.standing_for(ty, block, (free, by_chance), element).ok_or_else(|| SampleError::Abstract {
            name: declared.name.local.to_string(),
            place: declared.place,
        })
    }

    /// The type itself, or one that stands for it, which the element then names; none if all are abstract.
    pub(super) fn standing_for(
        &mut self,
        ty: TypeId,
        block: DerivationSet,
        (free, by_chance): (bool, bool),
        element: &mut Element,
    ) -> Option<TypeId> {
        let (schemas, engine) = (self.schemas, self.engine);
        let is_abstract = |ty| schemas.complex(ty).is_some_and(|complex| complex.is_abstract);
        let drawn = by_chance && self.chance(5);
        if !is_abstract(ty) && !drawn {
            return Some(ty);
        }
        let mut waiting: VecDeque<TypeId> = engine.relatives().derived(ty).iter().copied().collect();
        while let Some(derived) = waiting.pop_front() {
            waiting.extend(engine.relatives().derived(derived));
            let name = schemas.types[derived].name.as_ref().filter(|name| !name.local.contains(' '));
            let allowed = free && schemas.may_stand_for(derived, ty, block) && !is_abstract(derived);
            if let Some(name) = name.filter(|_| allowed) {
                element.attributes.push((QName::new(ns::XSI, "type"), Text::Name(name.clone())));
                return Some(derived);
            }
        }
        (!is_abstract(ty)).then_some(ty)
    }
}

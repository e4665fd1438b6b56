//! What a sender is known to send: preferred where there is a choice.

use super::SenderHabits;
use super::generate::Generator;
use crate::{ElementId, ParticleId};

impl<'e> Generator<'e> {
    /// Prefers what is familiar where there is a choice, within the element that is made next.
    pub fn preferring(self, habits: Option<&'e SenderHabits>) -> Self {
        Generator { habits, ..self }
    }

    /// Whether an attribute of that name may be put in where it need not.
    pub(super) fn may_have(&self, attribute: &str) -> bool {
        self.habits.is_none_or(|habits| habits.knows(&format!("@{attribute}")))
    }

    /// Whether a particle holds an element with a familiar name; always, where no name is known.
    pub(super) fn is_familiar(&self, id: ParticleId) -> bool {
        let Some(habits) = self.habits else { return true };
        if let Some(element) = self.schemas.particle_element(id) {
            let own = &self.schemas.elements[element].name.local;
            return habits.knows(own) || self.familiar_substitute(element).is_some();
        }
        let group = self.schemas.particle_group(id);
        group.is_some_and(|(_, members)| members.iter().any(|member| self.is_familiar(*member)))
    }

    /// An element of a familiar name that may stand for one whose name is not familiar.
    pub(super) fn familiar_substitute(&self, id: ElementId) -> Option<ElementId> {
        let habits = self.habits?;
        if habits.knows(&self.schemas.elements[id].name.local) {
            return None;
        }
        let known = |member: &ElementId| habits.knows(&self.schemas.elements[*member].name.local);
        self.standing(id).into_iter().find(known)
    }
}

//! What a sender is known to send: samples and examples are made of it where there is a choice.

use std::collections::BTreeMap;

use super::generate::Generator;
use crate::{ElementId, ParticleId};

/// The names that a sender puts into an element, and into what stands in it: local names of elements, and of attributes
/// after an `@`.
///
/// ```
/// use charter_schema::sample::Familiar;
///
/// let mut sent = Familiar::default();
/// sent.add(&["ship", "name"]);
/// sent.add(&["berth"]);
/// assert!(sent.knows("ship") && !sent.knows("name"));
/// assert!(sent.below("ship").unwrap().knows("name"));
/// // Whoever sends a berth may send all of it.
/// assert_eq!(sent.below("berth"), None);
/// ```
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Familiar {
    /// What is known of each; `None` for one that is sent with all that it may hold.
    below: BTreeMap<String, Option<Familiar>>,
}

impl Familiar {
    /// Adds a path of names. What the last of them names is sent with all that it may hold.
    pub fn add(&mut self, path: &[impl AsRef<str>]) {
        let Some((first, rest)) = path.split_first() else { return };
        if rest.is_empty() {
            self.below.insert(first.as_ref().to_owned(), None);
            return;
        }
        let known = self.below.entry(first.as_ref().to_owned()).or_insert_with(|| Some(Familiar::default()));
        if let Some(known) = known {
            known.add(rest);
        }
    }

    /// Whether something of that name is sent here.
    pub fn knows(&self, name: &str) -> bool {
        self.below.contains_key(name)
    }

    /// What is sent within something of that name, if it is known to be less than all.
    pub fn below(&self, name: &str) -> Option<&Familiar> {
        self.below.get(name)?.as_ref()
    }

    /// What is sent around an element of that name, in which this is sent.
    pub fn within(self, name: &str) -> Familiar {
        Familiar { below: BTreeMap::from([(name.to_owned(), Some(self))]) }
    }
}

impl<'e> Generator<'e> {
    /// Prefers what is familiar where there is a choice, within the element that is made next.
    pub fn preferring(self, familiar: Option<&'e Familiar>) -> Self {
        Generator { familiar, ..self }
    }

    /// Whether an attribute of that name may be put in where it need not.
    pub(super) fn may_have(&self, attribute: &str) -> bool {
        self.familiar.is_none_or(|familiar| familiar.knows(&format!("@{attribute}")))
    }

    /// Whether a particle holds an element with a familiar name; always, where no name is known.
    pub(super) fn is_familiar(&self, id: ParticleId) -> bool {
        let Some(familiar) = self.familiar else { return true };
        if let Some(element) = self.schemas.particle_element(id) {
            let own = &self.schemas.elements[element].name.local;
            return familiar.knows(own) || self.familiar_substitute(element).is_some();
        }
        let group = self.schemas.particle_group(id);
        group.is_some_and(|(_, members)| members.iter().any(|member| self.is_familiar(*member)))
    }

    /// An element of a familiar name that may stand for one whose name is not familiar.
    pub(super) fn familiar_substitute(&self, id: ElementId) -> Option<ElementId> {
        let familiar = self.familiar?;
        if familiar.knows(&self.schemas.elements[id].name.local) {
            return None;
        }
        let known = |member: &ElementId| familiar.knows(&self.schemas.elements[*member].name.local);
        self.standing(id).into_iter().find(known)
    }
}

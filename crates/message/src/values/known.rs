//! The elements that a type may hold, by the keys that they have among values.

use std::rc::Rc;

use charter_schema::{ElementId, NamespaceConstraint, ParticleId, Term, TypeId};
use charter_source::{Map, QName};

use super::Mapper;

/// An element that a type may hold.
#[derive(Debug, Clone)]
pub(crate) struct PossibleChild {
    /// Its declaration.
    pub element: ElementId,
    /// Its name.
    pub name: QName,
    /// Whether it may be there more than once, so that its values are a list.
    pub repeats: bool,
}

/// The elements that a type may hold.
#[derive(Debug, Default)]
pub(crate) struct Known {
    /// Each name once, in the order of the content model.
    pub entries: Vec<PossibleChild>,
    by_local: Map<String, Vec<usize>>,
    /// What its wildcards let in.
    pub wildcards: Vec<NamespaceConstraint>,
}

/// What a key means.
pub(crate) enum Found {
    /// This element; its number in the order of the content model.
    PossibleChild(usize),
    /// An element that a wildcard lets in.
    Wild(QName),
    /// Elements of several namespaces: the key must say which.
    Several(Vec<String>),
    /// Nothing.
    Unknown,
}

impl Known {
    pub fn find(&self, key: &str) -> Found {
        if let Some((namespace, local)) = key.strip_prefix('{').and_then(|rest| rest.split_once('}')) {
            let name = QName::new(namespace, local);
            if let Some(at) = self.position(&name) {
                return Found::PossibleChild(at);
            }
            let wild = self.wildcards.iter().any(|wildcard| wildcard.allows(namespace));
            return if wild { Found::Wild(name) } else { Found::Unknown };
        }
        match self.by_local.get(key).map(Vec::as_slice) {
            Some([only]) => Found::PossibleChild(*only),
            Some(several) => {
                Found::Several(several.iter().map(|at| self.entries[*at].name.to_string()).collect())
            }
            None => Found::Unknown,
        }
    }

    /// The number of a name in the order of the content model.
    pub fn position(&self, name: &QName) -> Option<usize> {
        let same = self.by_local.get(&*name.local)?;
        same.iter().copied().find(|at| self.entries[*at].name.namespace == name.namespace)
    }

    /// The key of a name: the local one, if no other has it.
    pub fn key(&self, name: &QName) -> String {
        match self.by_local.get(&*name.local).map(Vec::len) {
            Some(1) if self.position(name).is_some() => name.local.to_string(),
            _ => format!("{{{}}}{}", name.namespace, name.local),
        }
    }

    pub fn keys(&self) -> impl Iterator<Item = String> {
        self.entries.iter().map(|entry| self.key(&entry.name))
    }

    fn add(&mut self, element: ElementId, name: &QName, repeats: bool) {
        match self.position(name) {
            Some(at) => self.entries[at].repeats = true,
            None => {
                let entry = PossibleChild { element, name: name.clone(), repeats };
                self.by_local.entry(name.local.to_string()).or_default().push(self.entries.len());
                self.entries.push(entry);
            }
        }
    }
}

impl Mapper<'_> {
    /// The elements that a type may hold; worked out once.
    pub fn known(&self, ty: TypeId) -> Rc<Known> {
        if let Some(known) = self.known.borrow().get(&ty) {
            return known.clone();
        }
        let mut known = Known::default();
        for (element, occurs) in self.schemas.children(ty) {
            let repeats = occurs.max != Some(1) && occurs.max != Some(0);
            let declared = &self.schemas.elements[element];
            known.add(element, &declared.name, repeats);
            let mut waiting = self.engine.relatives().substitutes(element).to_vec();
            while let Some(member) = waiting.pop() {
                waiting.extend(self.engine.relatives().substitutes(member));
                if self.engine.heads(member).iter().any(|(_, head)| *head == element) {
                    known.add(member, &self.schemas.elements[member].name, repeats);
                }
            }
        }
        for particle in self.schemas.content(ty) {
            self.wildcards(particle, &mut known.wildcards, 0);
        }
        let known = Rc::new(known);
        self.known.borrow_mut().insert(ty, known.clone());
        known
    }

    fn wildcards(&self, id: ParticleId, found: &mut Vec<NamespaceConstraint>, depth: usize) {
        if let Term::Any(wildcard) = &self.schemas.particles[id].term {
            found.push(wildcard.namespaces.clone());
        }
        if depth < 100
            && let Some((_, members)) = self.schemas.particle_group(id)
        {
            members.iter().for_each(|member| self.wildcards(*member, found, depth + 1));
        }
    }
}

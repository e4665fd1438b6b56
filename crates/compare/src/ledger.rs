//! The changes that were found so far: one entry for each cause, whatever it reaches.

use std::sync::Arc;

use charter_contract::{Component, ComponentPath, Contract};
use charter_source::{Map, Set};

use crate::difference::{Beyond, Difference};
use crate::kind::Kind;
use crate::line::Line;
use crate::report::{Change, Confidence, Depends, Touched, Verdict};
use crate::versions::{SideOf, Subject, Version, Versions};
use crate::what::What;

/// The changes of a comparison.
pub(crate) struct Ledger<'c> {
    versions: Versions<'c>,
    pub all: Vec<Change>,
    /// Changes by what tells them apart: one cause is one entry.
    known: Map<(ComponentPath, Kind, What), usize>,
    /// The same by the difference itself, which is kept so that its address stays its own.
    by_address: Map<*const Difference, (Arc<Difference>, usize)>,
    /// The sides that each change reaches.
    touched: Set<(usize, SideOf)>,
    /// What differs beyond extension points, by the changes that are about those.
    pub beyond: Map<usize, Vec<Beyond>>,
}

impl<'c> Ledger<'c> {
    pub fn new(versions: Versions<'c>) -> Ledger<'c> {
        Ledger {
            versions,
            all: Vec::new(),
            known: Map::default(),
            by_address: Map::default(),
            touched: Set::default(),
            beyond: Map::default(),
        }
    }

    /// The change that a difference belongs to, by its place.
    pub fn entry(&mut self, difference: &Arc<Difference>) -> usize {
        // Differences of schemas are found again for every message that they reach.
        let address = Arc::as_ptr(difference);
        if let Some((_, index)) = self.by_address.get(&address) {
            return *index;
        }
        let key = (difference.path.clone(), difference.kind, difference.what.clone());
        let line = |line: &Option<Line>, contract: &Contract| {
            line.as_ref().map(|line| line.text(contract)).filter(|line| !line.is_empty())
        };
        let index = *self.known.entry(key).or_insert_with(|| {
            self.all.push(Change {
                old: line(&difference.old, self.versions.old),
                new: line(&difference.new, self.versions.new),
                old_place: difference.old_place,
                new_place: difference.new_place,
                confidence: difference.confidence,
                ..Change::bare(
                    difference.subject,
                    difference.path.clone(),
                    difference.kind,
                    difference.what.clone(),
                )
            });
            self.all.len() - 1
        });
        self.by_address.insert(address, (difference.clone(), index));
        if let Some(beyond) = &difference.beyond {
            self.beyond.entry(index).or_default().push(beyond.clone());
        }
        index
    }

    /// Says what a change does to a side.
    pub fn touch(&mut self, index: usize, touched: Touched, depends: Option<Depends>) {
        let change = &mut self.all[index];
        if touched.verdict > change.verdict {
            change.depends = depends;
        }
        change.verdict = change.verdict.max(touched.verdict);
        if self.touched.insert((index, touched.at)) {
            change.operations.push(touched);
        } else if let Some(known) = change.operations.iter_mut().find(|known| known.at == touched.at) {
            known.verdict = known.verdict.max(touched.verdict);
        }
    }

    /// Adds a change of a whole component, which is what it is without regard to any message.
    pub fn component(
        &mut self,
        verdict: Verdict,
        (kind, what): (Kind, What),
        was: Option<Component>,
        is: Option<Component>,
    ) -> &mut Change {
        let subject = is.map(Subject::new).or(was.map(Subject::old));
        let subject = subject.unwrap_or(Subject::new(Component::Contract));
        let path = self.versions.path(subject);
        self.all.push(Change {
            verdict,
            old_place: was.map(|was| self.versions.old.place(was)),
            new_place: is.map(|is| self.versions.new.place(is)),
            depends: (verdict == Verdict::Bends).then_some(Depends::Surroundings),
            ..Change::bare(subject, path, kind, what)
        });
        let last = self.all.len() - 1;
        &mut self.all[last]
    }

    /// The same for a component that goes by another name.
    pub fn renamed(
        &mut self,
        verdict: Verdict,
        what: (Kind, What),
        (was, is): (Component, Component),
        confidence: Confidence,
    ) -> &mut Change {
        let change = self.component(verdict, what, Some(was), Some(is));
        change.confidence = Some(confidence);
        change
    }

    /// Whether a change of a component of the new version is known already.
    pub fn knows(&self, kind: Kind, component: Component) -> bool {
        let subject = Subject { version: Version::New, component };
        self.all.iter().any(|change| change.kind == kind && change.subject == subject)
    }
}

impl Change {
    /// A change of which nothing else is known yet.
    pub(crate) fn bare(subject: Subject, path: ComponentPath, kind: Kind, what: What) -> Change {
        Change {
            subject,
            path,
            verdict: Verdict::Keeps,
            kind,
            what,
            old: None,
            new: None,
            old_place: None,
            new_place: None,
            operations: Vec::new(),
            witness: None,
            depends: None,
            confidence: None,
            members: Vec::new(),
            open: None,
            accepted: None,
        }
    }
}

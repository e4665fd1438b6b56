//! What could not be read, in either version: told once, with every operation that leads there.

use charter_contract::{Component, Contract};
use charter_schema::Undecided;
use charter_source::{Import, ImportKind};

use crate::comparison::Comparison;
use crate::kind::Kind;
use crate::report::{Change, Depends, Verdict};
use crate::versions::Subject;
use crate::what::{Doubt, Files, What};

impl Comparison<'_> {
    /// Puts one change in the place of all that is not decided because something was not read.
    pub(crate) fn gather_unread(&mut self) {
        let is_unread = |change: &Change| {
            change.verdict == Verdict::Bends
                && matches!(change.depends, Some(Depends::Undecided(doubt)) if is_lost(doubt))
                && change.witness.is_none()
        };
        let (unread, rest): (Vec<Change>, Vec<Change>) = std::mem::take(&mut self.ledger.all)
            .into_iter()
            .partition(|change| change.kind == Kind::NotDecided && is_unread(change));
        self.ledger.all = rest;
        let missing = missing(self.old).chain(missing(self.new));
        // What another contract declares may be anything, whether something refers to it or not.
        let contract = missing.clone().any(|import| import.kind == ImportKind::Contract);
        if unread.is_empty() && !contract {
            return;
        }
        let mut files: Vec<&str> = missing.filter_map(|import| import.location.as_deref()).collect();
        files.sort_unstable();
        files.dedup();
        let mut operations = Vec::new();
        for touched in unread.iter().flat_map(|change| &change.operations) {
            if !operations.contains(touched) {
                operations.push(*touched);
            }
        }
        // Nothing that has a name of its own is to blame for a file.
        let first = unread.first().filter(|_| files.is_empty());
        let subject = first.map_or(Subject::new(Component::Contract), |it| it.subject);
        let imports = self.new.files.imports().iter();
        let place = imports.filter(|import| import.target.is_none()).map(|import| import.place).next();
        let place = place.filter(|_| !files.is_empty()).or(unread.first().and_then(|it| it.new_place));
        let doubt = Doubt::Schemas(Undecided::Unread);
        let files = files.into_iter().map(str::to_owned).collect();
        let what = What::NotRead { files: Files { files, places: unread.len() } };
        let change = Change {
            verdict: Verdict::Bends,
            new_place: place,
            operations,
            depends: Some(Depends::Undecided(doubt)),
            ..Change::bare(subject, self.versions().path(subject), Kind::NotRead, what)
        };
        self.ledger.all.push(change);
    }
}

fn is_lost(doubt: Doubt) -> bool {
    matches!(doubt, Doubt::Schemas(Undecided::Unread) | Doubt::NotCompared)
}

/// The calls for files that were not read.
fn missing(contract: &Contract) -> impl Iterator<Item = &Import> + Clone {
    contract.files.imports().iter().filter(|import| import.target.is_none() && import.location.is_some())
}

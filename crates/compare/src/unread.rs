//! What could not be read, in either version: told once, with every operation that leads there.

use charter_contract::Contract;
use charter_schema::UNREAD;
use charter_source::{Import, ImportKind};

use crate::operations::Comparison;
use crate::report::{Change, Depends, NOT_COMPARED, Verdict};

/// How many files are named.
const NAMED: usize = 3;

impl Comparison<'_> {
    /// Puts one change in the place of all that is not decided because something was not read.
    pub(crate) fn gather_unread(&mut self) {
        let is_unread = |change: &Change| {
            change.verdict == Verdict::Bends
                && matches!(change.depends, Some(Depends::Undecided(UNREAD | NOT_COMPARED)))
                && change.witness.is_none()
        };
        let (unread, rest): (Vec<Change>, Vec<Change>) = std::mem::take(&mut self.changes)
            .into_iter()
            .partition(|change| change.rule == "not-decided" && is_unread(change));
        self.changes = rest;
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
                operations.push(touched.clone());
            }
        }
        let first = unread.first();
        let place =
            self.new.files.imports().iter().find(|import| import.target.is_none()).map(|import| import.place);
        self.changes.push(Change {
            path: if files.is_empty() {
                first.map_or_else(|| "contract".into(), |it| it.path.clone())
            } else {
                "contract".into()
            },
            verdict: Verdict::Bends,
            rule: "not-read",
            message: message(&files, unread.len()),
            old: None,
            new: None,
            old_place: None,
            new_place: place.filter(|_| !files.is_empty()).or(first.and_then(|it| it.new_place)),
            operations,
            witness: None,
            depends: Some(Depends::Undecided(UNREAD)),
            confidence: None,
            accepted: None,
        });
    }
}

/// The calls for files that were not read.
fn missing(contract: &Contract) -> impl Iterator<Item = &Import> + Clone {
    contract.files.imports().iter().filter(|import| import.target.is_none() && import.location.is_some())
}

fn message(files: &[&str], places: usize) -> String {
    let named = files.iter().take(NAMED).copied().collect::<Vec<_>>().join(", ");
    let more = if files.len() > NAMED { format!(" and {} more", files.len() - NAMED) } else { String::new() };
    match (files.is_empty(), places) {
        (true, 1) => "something that this refers to is not there, so it could not be compared".to_owned(),
        (true, _) => format!(
            "in {places} places something is referred to that is not there, so it could not be compared"
        ),
        (false, _) => format!("{named}{more} could not be read, so what leads there could not be compared"),
    }
}

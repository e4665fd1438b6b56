//! A change of files, made in memory and read back.

use charter_contract::{Component, Contract, Lookup};
use charter_schema::Engine;
use charter_source::{
    Encoded, Fault, File, FileId, Files, Location, Map, Overlay, Place, Set, Span, Store, TextEdit, apply,
    nodes_from,
};

use crate::editing::{Editing, ReadBack};
use crate::failure::EditFailure;
use crate::reduced::Reduced;

/// A change that was read back and found to be what was meant.
#[derive(Debug, Clone)]
pub struct Change {
    /// The files that change.
    pub files: Vec<FileChange>,
    /// Each place that changes, in the old text.
    pub places: Vec<Place>,
    /// What the author should know, in one line each.
    pub notes: Vec<String>,
    /// What happened to which component.
    pub account: Vec<(Verb, String)>,
    /// Whether a part of the result was all that had to be read again.
    pub in_part: bool,
}

/// What happens to a component.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Verb {
    /// It was not there.
    Added,
    /// It is not what it was.
    Changed,
    /// It is there no more.
    Removed,
}

impl Verb {
    /// The word for it.
    pub fn name(self) -> &'static str {
        match self {
            Verb::Added => "added",
            Verb::Changed => "changed",
            Verb::Removed => "removed",
        }
    }
}

/// A file before and after.
#[derive(Debug, Clone)]
pub struct FileChange {
    /// The file.
    pub file: FileId,
    /// Where it is.
    pub location: Location,
    /// What it was read from.
    pub before: Encoded,
    /// What to write: in the same encoding.
    pub after: Encoded,
}

/// From how many bytes on a contract is read back in part.
const LARGE: usize = 256 << 10;

/// What part of a large contract a change may affect at most for that part to be read by itself.
const PART: usize = 3;

/// Whether a result is what was meant.
pub(crate) type Meant<'m> = &'m dyn Fn(&Contract) -> Result<(), EditFailure>;

/// The change that replaces stretches of the text of a contract.
///
/// # Errors
/// If the edits do not fit, or the result has faults that the contract did not have.
pub fn replace(editing: Editing<'_>, edits: Vec<TextEdit>) -> Result<Change, EditFailure> {
    checked_change(editing, edits, Vec::new(), &|_| Ok(()))
}

/// Applies edits to the files of a contract, reads the result, and asks whether it is what was `meant`.
///
/// # Errors
/// If the edits do not fit, the result has faults that the contract did not have, or is not what was meant.
pub(crate) fn checked_change(
    editing: Editing<'_>,
    edits: Vec<TextEdit>,
    notes: Vec<String>,
    meant: Meant<'_>,
) -> Result<Change, EditFailure> {
    let Editing { contract, store, .. } = editing;
    if edits.is_empty() {
        return Err(EditFailure::Nothing);
    }
    let mut places: Vec<Place> = edits.iter().map(|edit| edit.place).collect();
    places.sort_unstable();
    places.dedup();
    let size = || contract.files.iter().map(|file| file.text().content().len()).sum::<usize>();
    let part = || match editing.read_back {
        ReadBack::Whole | ReadBack::Nothing => None,
        ReadBack::BySize if size() < LARGE => None,
        ReadBack::BySize => Reduced::of(contract, store, &edits, PART),
        ReadBack::Affected => Reduced::of(contract, store, &edits, 1),
    };
    let (files, part) = std::thread::scope(|threads| {
        let files = threads.spawn(|| file_changes(contract, &edits));
        let part = part();
        (files.join(), part)
    });
    let files = files.unwrap_or_else(|panic| std::panic::resume_unwind(panic))?;
    // A part can only say that all is well; what is wrong is told of the whole.
    let account_of_part = part.and_then(|part| {
        let files = file_changes(&part.contract, &part.edits).ok()?;
        let trial =
            Trial { contract: &part.contract, edits: &part.edits, files: &files, context: &part.context };
        trial.account(editing, meant).ok()
    });
    if editing.read_back == ReadBack::Nothing {
        return Ok(Change { files, places, notes, account: Vec::new(), in_part: false });
    }
    let in_part = account_of_part.is_some();
    let whole = Trial { contract, edits: &edits, files: &files, context: &[] };
    let account = account_of_part.map_or_else(|| whole.account(editing, meant), Ok)?;
    Ok(Change { files, places, notes, account, in_part })
}

/// Edits of a contract, or of a part of one, that are tried out in memory.
struct Trial<'t> {
    contract: &'t Contract,
    edits: &'t [TextEdit],
    files: &'t [FileChange],
    /// Where the contract holds what cannot be judged in it, being only a part.
    context: &'t [Place],
}

impl Trial<'_> {
    /// Reads the result, and gives an account of it if it is sound and what was meant.
    fn account(&self, editing: Editing<'_>, meant: Meant<'_>) -> Result<Vec<(Verb, String)>, EditFailure> {
        let contract = self.contract;
        // What is needed of the old contract in the end is found out while the new one is read.
        let result = std::thread::scope(|threads| {
            threads.spawn(|| contract.component_at(Place::default()));
            let store = self.result_over(editing.store);
            Contract::load(&store, &contract.files.first().location, store.limits())
        })?;
        if let Some(file) = result.files.iter().find(|file| file.root().is_none()) {
            let fault = result.files.faults().iter().find(|fault| fault.place.file == file.id);
            let message =
                fault.map_or_else(|| "it could not be read".to_owned(), |fault| fault.message.clone());
            return Err(EditFailure::Harm(message));
        }
        std::thread::scope(|threads| {
            threads.spawn(|| result.component_at(Place::default()));
            if editing.force { Ok(()) } else { self.no_harm(&result) }
        })?;
        meant(&result)?;
        Ok(account(contract, &result, self.edits))
    }

    /// The result laid over what the contract was read from. What was read from standard input or a revision is not in
    /// there, so every text is laid over it.
    fn result_over<'s>(&self, store: &'s dyn Store) -> Overlay<&'s dyn Store> {
        let mut store = Overlay::new(store);
        for file in self.contract.files.iter().filter(|file| !file.is_known()) {
            let change = self.files.iter().find(|change| change.file == file.id);
            match change.map(|change| change.after.clone()).or_else(|| file.text().encoded()) {
                Some(text) => store.put_text(&file.location, text),
                // What would not come back is not changed, so whatever it is taken for stays.
                None => file.text().encoding().encode(file.text().content()).into_iter().for_each(|bytes| {
                    store.put(&file.location, bytes);
                }),
            }
        }
        store
    }

    /// Whether the result has no more wrong with it than there was.
    fn no_harm(&self, result: &Contract) -> Result<(), EditFailure> {
        let contract = self.contract;
        let added = result.schemas.documents.len() != contract.schemas.documents.len();
        let schemas = added || self.edits.iter().any(|edit| in_schema(contract, edit.place));
        let shifts = Shifts::of(self.edits);
        let context: Vec<Place> = self.context.iter().map(|place| shifts.place_after(*place)).collect();
        let (after, around) = split(faults(result, schemas), &context);
        // What is sound needs no comparison.
        if after.is_empty() && around.is_empty() {
            return Ok(());
        }
        let (before, known) = split(faults(contract, schemas), self.context);
        // What is wrong with the context only says something if the change brought it about.
        let known: Set<(&str, Place)> =
            known.iter().map(|fault| (fault.rule, shifts.place_after(fault.place))).collect();
        if let Some(fault) = around.iter().find(|fault| !known.contains(&(fault.rule, fault.place))) {
            return Err(EditFailure::Harm(fault.message.clone()));
        }
        if after.len() <= before.len() {
            return Ok(());
        }
        let known: Set<&str> = before.iter().map(|fault| fault.message.as_str()).collect();
        let added = after.iter().find(|fault| !known.contains(fault.message.as_str())).unwrap_or(&after[0]);
        let path = result.path(result.component_at(added.place));
        Err(EditFailure::Harm(format!("{} ({} in {path})", added.message, added.rule)))
    }
}

/// How far edits move what stands behind them.
struct Shifts {
    /// For each file, where each edit ends, and how much longer the text is then.
    by_file: Map<FileId, Vec<(u32, i64)>>,
}

impl Shifts {
    fn of(edits: &[TextEdit]) -> Shifts {
        let shifts = by_file(edits).into_iter().map(|(file, edits)| {
            let mut grown = 0;
            let each = edits.into_iter().map(|edit| {
                grown += edit.replacement.len() as i64 - edit.place.span.len() as i64;
                (edit.place.span.end, grown)
            });
            (file, each.collect())
        });
        Shifts { by_file: shifts.collect() }
    }

    /// Where something that is not changed itself stands afterwards.
    fn place_after(&self, place: Place) -> Place {
        let edits = self.by_file.get(&place.file).map_or(&[][..], Vec::as_slice);
        let before = edits.partition_point(|(end, _)| *end <= place.span.start);
        let grown = before.checked_sub(1).map_or(0, |at| edits[at].1);
        let start = (i64::from(place.span.start) + grown) as usize;
        Place { file: place.file, span: Span::new(start, start + place.span.len()) }
    }
}

/// Edits by their files, in the order of the text.
fn by_file(edits: &[TextEdit]) -> Map<FileId, Vec<&TextEdit>> {
    let mut by_file: Map<FileId, Vec<&TextEdit>> = Map::default();
    edits.iter().for_each(|edit| by_file.entry(edit.place.file).or_default().push(edit));
    by_file.values_mut().for_each(|edits| edits.sort_by_key(|edit| edit.place.span));
    by_file
}

/// The files that edits change, before and after.
fn file_changes(contract: &Contract, edits: &[TextEdit]) -> Result<Vec<FileChange>, EditFailure> {
    let by_file = by_file(edits);
    let files = contract.files.iter().filter_map(|file| Some((file.id, by_file.get(&file.id)?)));
    let own = |edits: &[&TextEdit]| edits.iter().map(|edit| (*edit).clone()).collect::<Vec<_>>();
    files.map(|(file, edits)| changed(&contract.files, file, &own(edits))).collect()
}

/// What happened to which component: found where the edits are, in the old text and in the new one.
fn account(contract: &Contract, result: &Contract, edits: &[TextEdit]) -> Vec<(Verb, String)> {
    let mut found: Vec<(Verb, String)> = Vec::new();
    // A prefix more, or a place where something is put in, is no news of the whole; another value is.
    let mut of_whole = false;
    let same_file = |file: FileId| {
        let location = &contract.files.get(file).location;
        result.files.iter().find(|it| it.location == *location)
    };
    let (mut old_paths, mut new_paths) = (Lookup::of(contract), Lookup::of(result));
    for (file, edits) in by_file(edits) {
        let Some(after) = same_file(file) else { continue };
        let mut moved = 0i64;
        for edit in edits {
            let old = edit.place.span;
            let start = (i64::from(old.start) + moved) as usize;
            let new = Span::new(start, start + edit.replacement.len());
            moved += edit.replacement.len() as i64 - i64::from(old.end - old.start);
            let before = tops(contract.files.get(file), old);
            let now = tops(after, new);
            let nothing = before.is_empty() && now.is_empty();
            let place = Place { file, span: old };
            of_whole |= nothing && !old.is_empty() && contract.component_at(place) == Component::Contract;
            for span in before {
                let path = contract.path(contract.component_at(Place { file, span })).to_string();
                let verb = if !new_paths.has(&path) { Verb::Removed } else { Verb::Changed };
                found.push((verb, path));
            }
            for span in now.into_iter().chain(nothing.then(|| Span::new(start, start))) {
                let path = result.path(result.component_at(Place { file: after.id, span })).to_string();
                let verb = if !old_paths.has(&path) { Verb::Added } else { Verb::Changed };
                found.push((verb, path));
            }
        }
    }
    found.sort_by(|a, b| (a.0, &a.1).cmp(&(b.0, &b.1)));
    found.dedup();
    // The parts of what is new or gone go without saying, and so does the whole.
    let whole: Set<String> = found.iter().filter(|it| it.0 != Verb::Changed).map(|it| it.1.clone()).collect();
    let within = |path: &str| path.match_indices('/').any(|(at, _)| whole.contains(&path[..at]));
    found.retain(|(_, path)| !within(path));
    if !of_whole && found.iter().any(|(_, path)| path != "contract") {
        found.retain(|(_, path)| path != "contract");
    }
    found
}

/// The outermost elements that lie within a stretch of a file, in the order of the text.
fn tops(file: &File, span: Span) -> Vec<Span> {
    let mut found: Vec<Span> = Vec::new();
    let Some(root) = file.root() else { return found };
    for node in nodes_from(root, span.start) {
        let own = Span::from(node.range());
        if own.start >= span.end {
            break;
        }
        let inside = found.last().is_some_and(|outer| outer.covers(own));
        if node.is_element() && span.covers(own) && !inside {
            found.push(own);
        }
    }
    found
}

/// Whether a place stands in a schema, so that a change there can break its clauses.
fn in_schema(contract: &Contract, place: Place) -> bool {
    let documents = contract.schemas.documents.iter().filter(|document| document.file == place.file);
    documents.into_iter().any(|document| {
        let span = document.extent.span;
        span.start <= place.span.end && place.span.start <= span.end
    })
}

/// Everything wrong with a contract that no edit may add to: what its readers found, and the clauses of XML Schema,
/// where an edit touches `schemas`.
fn faults(contract: &Contract, schemas: bool) -> Vec<Fault> {
    let mut found: Vec<Fault> = contract.faults().into_iter().cloned().collect();
    if schemas {
        found.extend(Engine::new(&contract.files, &contract.schemas).judge());
    }
    found
}

/// Splits faults into those outside of a context, whose places are in the order of the text, and those inside.
fn split(faults: Vec<Fault>, context: &[Place]) -> (Vec<Fault>, Vec<Fault>) {
    faults.into_iter().partition(|fault| {
        let before = |it: &Place| (it.file, it.span.start) <= (fault.place.file, fault.place.span.start);
        let around = context.partition_point(before).checked_sub(1).map(|at| context[at]);
        !around.is_some_and(|it| it.file == fault.place.file && it.span.covers(fault.place.span))
    })
}

fn changed(files: &Files, id: FileId, edits: &[TextEdit]) -> Result<FileChange, EditFailure> {
    let file = files.get(id);
    let (text, location) = (file.text(), || file.location.clone());
    let encoding = text.encoding();
    let after = apply(text.content(), edits)?;
    let unfaithful = || EditFailure::Unfaithful { location: location(), encoding: encoding.name() };
    let before = text.encoded().ok_or_else(unfaithful)?;
    let unwritable = || EditFailure::Encoding { location: location(), encoding: encoding.name() };
    let after = Encoded::new(after, encoding).ok_or_else(unwritable)?;
    Ok(FileChange { file: id, location: location(), before, after })
}

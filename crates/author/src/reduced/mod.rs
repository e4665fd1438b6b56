//! A large contract cut down to what a change can affect, so that only that much of the result has to be read again.
//!
//! The bytes of the rest stay as they are, so it is read as before. What is left out are whole components that the
//! change cannot affect (`affected.rs`), in files that are otherwise the same; so the small contract is as sound or as
//! wrong as the large one. Whatever does not fit this picture is not cut down, and then all of the result is read.

mod affected;
mod mentions;
mod units;

use std::ops::Range;

use charter_contract::Contract;
use charter_source::{Encoded, FileId, ImportKind, Map, Overlay, Place, Span, Store, TextEdit, apply};

use affected::affected;
use mentions::Mentions;
use units::Units;

/// The part of a contract that a change can affect.
pub(crate) struct Reduced {
    /// That part, as a contract of its own.
    pub contract: Contract,
    /// The edits, as they apply to it.
    pub edits: Vec<TextEdit>,
    /// What is only there for others to refer to, so that what is wrong with it says nothing.
    pub context: Vec<Place>,
}

/// What stays of a file: stretches of its text, in order.
struct Kept {
    stretches: Vec<Span>,
    /// Where each begins in what is left.
    starts: Vec<u32>,
}

impl Reduced {
    /// The part of a contract that edits can affect, if it is at most one part in `least` of the whole.
    pub fn of(contract: &Contract, store: &dyn Store, edits: &[TextEdit], least: usize) -> Option<Reduced> {
        if !divisible(contract) {
            return None;
        }
        let units = Units::of(contract);
        let changed = changed(contract, &units, edits)?;
        let whole: usize = own_files(contract).map(|file| file.text().content().len()).sum();
        // What changes all over is no part.
        let long = |unit: &u32| units.list[*unit as usize].span.len();
        if changed.iter().map(long).sum::<usize>() * least > whole {
            return None;
        }
        let after = texts_after(contract, &units, edits, &changed)?;
        let before = changed.iter().map(|unit| contract.files.slice(units.list[*unit as usize].place()));
        let said: Vec<Mentions<'_>> =
            before.chain(after.iter().map(String::as_str)).map(Mentions::of).collect();
        if said.iter().any(|mentions| mentions.disguised) {
            return None;
        }
        let affected = affected(contract, &units, &changed, &said);
        let kept = kept(contract, &units, &affected.kept);
        let left: usize = kept.values().map(Kept::len).sum();
        if left * least > whole {
            return None;
        }
        let mut small = Overlay::new(store);
        for file in own_files(contract) {
            let left = kept[&file.id].text(file.text().content());
            small.put_text(&file.location, Encoded::new(left, file.text().encoding())?);
        }
        let part = Contract::load(&small, &contract.files.first().location, small.limits()).ok()?;
        // The files must be the same ones, under the same numbers.
        for file in own_files(contract) {
            part.files.iter().find(|it| it.id == file.id && it.location == file.location)?;
        }
        let moved = |place: Place| kept[&place.file].place(place);
        let edits: Option<Vec<TextEdit>> = edits
            .iter()
            .map(|edit| Some(TextEdit { place: moved(edit.place)?, replacement: edit.replacement.clone() }))
            .collect();
        let context = (0..units.list.len()).filter(|unit| affected.kept[*unit] && !affected.judged[*unit]);
        let context: Option<Vec<Place>> = context.map(|unit| moved(units.list[unit].place())).collect();
        Some(Reduced { contract: part, edits: edits?, context: context? })
    }
}

fn own_files(contract: &Contract) -> impl Iterator<Item = &charter_source::File> {
    contract.files.iter().filter(|file| !file.is_known())
}

/// Whether the files of a contract can be read in parts: without entities, and without schemas that redefine others.
fn divisible(contract: &Contract) -> bool {
    let whole = own_files(contract).all(|file| {
        let root = file.root().map(|root| root.range().start);
        root.is_some_and(|root| !file.text().content()[..root].contains("<!DOCTYPE"))
    });
    whole && contract.files.imports().iter().all(|import| import.kind != ImportKind::Redefine)
}

/// The units that edits meet; nothing if one reaches beyond them into what all the rest depends on.
fn changed(contract: &Contract, units: &Units<'_>, edits: &[TextEdit]) -> Option<Vec<u32>> {
    let mut changed: Vec<u32> = Vec::new();
    for edit in edits {
        let met = units.met(edit.place);
        let alone = units.holding(edit.place).is_some()
            || is_between(contract, units, edit.place, met.clone())
            || declares_prefix(contract, units, edit);
        if !alone {
            return None;
        }
        changed.extend(met);
    }
    changed.sort_unstable();
    changed.dedup();
    Some(changed)
}

/// Whether a place lies among the children of one container, and holds nothing but whole units and what is around them;
/// or in a child that nothing depends on.
fn is_between(contract: &Contract, units: &Units<'_>, place: Place, met: Range<u32>) -> bool {
    let span = place.span;
    let fixed = units.fixed.iter().filter(|it| it.place.file == place.file);
    let strictly = |outer: Span| outer.start < span.start && span.end < outer.end;
    let Some(inner) = fixed.filter(|it| strictly(it.place.span)).min_by_key(|it| it.place.span.len()) else {
        return false;
    };
    if inner.apart {
        return true;
    }
    let container = |it: &units::Container| it.place == inner.place && it.content.covers(span);
    let Some(container) = units.containers.iter().position(container) else { return false };
    // What is left of the place once the units are taken off it must be white space or comments.
    let mut at = span.start;
    for unit in met.map(|unit| &units.list[unit as usize]).filter(|it| it.container as usize == container) {
        if span.start < unit.span.end && unit.span.start < span.end && !span.covers(unit.span) {
            return false;
        }
        if unit.span.start < span.end {
            at = at.max(unit.span.end);
        }
    }
    let rest = Span { start: at.min(span.end), end: span.end };
    let rest = contract.files.slice(Place { file: place.file, span: rest });
    crate::tags::tags(rest).next().is_none() && !rest.contains("</")
}

/// Whether an edit only declares a prefix, which no other element declares, on an element around units.
fn declares_prefix(contract: &Contract, units: &Units<'_>, edit: &TextEdit) -> bool {
    let Place { file, span } = edit.place;
    let in_tag = |it: &units::Container| {
        it.place.file == file && it.place.span.start < span.start && span.end < it.content.start
    };
    let declaration = edit.replacement.trim();
    let prefix = declaration.strip_prefix("xmlns:").and_then(|rest| rest.split_once('='));
    span.is_empty()
        && units.containers.iter().any(in_tag)
        && prefix.is_some_and(|(prefix, value)| {
            let text = contract.files.get(file).text().content();
            value.matches(['"', '\'']).count() == 2 && !text.contains(&format!("xmlns:{}", prefix.trim()))
        })
}

/// What the edits make of the units that they change, and what they put between them.
fn texts_after(
    contract: &Contract,
    units: &Units<'_>,
    edits: &[TextEdit],
    changed: &[u32],
) -> Option<Vec<String>> {
    let mut texts: Vec<String> = Vec::new();
    let mut inside: Map<u32, Vec<TextEdit>> = Map::default();
    for edit in edits {
        match units.holding(edit.place) {
            None => texts.push(edit.replacement.clone()),
            Some(unit) => {
                let start = units.list[unit as usize].span.start;
                let mut edit = edit.clone();
                edit.place.span.start -= start;
                edit.place.span.end -= start;
                inside.entry(unit).or_default().push(edit);
            }
        }
    }
    for unit in changed {
        if let Some(edits) = inside.get(unit) {
            texts.push(apply(contract.files.slice(units.list[*unit as usize].place()), edits).ok()?);
        }
    }
    Some(texts)
}

/// What stays of each file when the units that are not kept go.
fn kept(contract: &Contract, units: &Units<'_>, keep: &[bool]) -> Map<FileId, Kept> {
    let mut files: Map<FileId, Kept> = Map::default();
    let mut next = 0;
    for file in own_files(contract) {
        let mut kept = Kept { stretches: Vec::new(), starts: Vec::new() };
        let mut at = 0;
        while let Some(unit) = units.list.get(next).filter(|unit| unit.file == file.id) {
            if !keep[next] {
                kept.push(at, unit.gap);
                at = unit.span.end;
            }
            next += 1;
        }
        kept.push(at, file.text().content().len() as u32);
        files.insert(file.id, kept);
    }
    files
}

impl Kept {
    fn push(&mut self, start: u32, end: u32) {
        if start < end {
            self.starts.push(self.len() as u32);
            self.stretches.push(Span { start, end });
        }
    }

    fn len(&self) -> usize {
        match (self.starts.last(), self.stretches.last()) {
            (Some(start), Some(stretch)) => *start as usize + stretch.len(),
            _ => 0,
        }
    }

    fn text(&self, whole: &str) -> String {
        let mut text = String::with_capacity(self.len());
        self.stretches.iter().for_each(|stretch| text.push_str(&whole[stretch.range()]));
        text
    }

    /// A place in what is left, if it is there.
    fn place(&self, place: Place) -> Option<Place> {
        let at = self.stretches.partition_point(|it| it.end < place.span.start);
        let stretch = self.stretches.get(at).filter(|it| it.covers(place.span))?;
        let start = self.starts[at] + (place.span.start - stretch.start);
        let span = Span { start, end: start + place.span.len() as u32 };
        Some(Place { file: place.file, span })
    }
}

//! Rounds of mending: what one fix brings to light, the next round mends.

use std::collections::BTreeMap;
use std::ops::Range;

use charter_author::{Change, Editing, FileChange, replace};
use charter_check::{Finding, Fixes, Level, Settings, check_by};
use charter_contract::Contract;
use charter_notation::Convention;
use charter_source::{FileId, Overlay, Set, Store, TextEdit};

/// How often a contract is looked at anew.
const ROUNDS: usize = 20;
/// How many bytes may be read to try fixes. A fix that does harm is found by trying halves of all of them.
const BYTES_TRIED: usize = 8 << 20;
/// How many bytes are gone through to work out fixes.
const BYTES_GONE_THROUGH: usize = 16 << 20;
/// How many sets of fixes are tried, however large the contract is: all of them at once, and some halves.
const TRIES: usize = 6;

/// A contract, and what is wrong with it.
pub struct State {
    pub contract: Contract,
    pub findings: Vec<Finding>,
}

/// The rounds of mending.
pub struct Rounds<'s> {
    settings: &'s Settings,
    convention: &'s Convention,
    /// The texts as far as they are mended.
    store: Overlay<&'s dyn Store>,
    /// How many sets of fixes may still be tried.
    tries: usize,
    /// How many bytes may still be gone through to work out fixes.
    bytes: usize,
    /// What was mended, by rule.
    pub done: BTreeMap<&'static str, usize>,
    /// Whether fixes are left that were not tried.
    pub untried: bool,
    /// The files that change, from the first text to the last.
    files: Vec<FileChange>,
}

/// The edits that mend the findings of a rule at one place.
struct Fix {
    rule: &'static str,
    edits: Vec<TextEdit>,
}

impl<'s> Rounds<'s> {
    pub fn of(store: &'s dyn Store, settings: &'s Settings, convention: &'s Convention) -> Rounds<'s> {
        Rounds {
            settings,
            convention,
            store: Overlay::new(store),
            tries: TRIES,
            bytes: BYTES_GONE_THROUGH,
            done: BTreeMap::new(),
            untried: false,
            files: Vec::new(),
        }
    }

    /// Mends as much as goes, and says how the contract is then.
    pub fn mend(&mut self, contract: Contract) -> State {
        let size: usize = contract.files.iter().map(|file| file.text().content().len()).sum();
        self.tries = TRIES.max(BYTES_TRIED / size.max(1));
        let findings = check_by(&contract, self.settings).findings;
        let mut state = State { contract, findings };
        for _ in 0..ROUNDS {
            let Some((change, after)) = self.step(&state) else { break };
            self.take(&change);
            state = after;
        }
        state
    }

    /// One round: all fixes that go together; if these do harm together, some that do none.
    fn step(&mut self, state: &State) -> Option<(Change, State)> {
        let fixes = self.fixes(state);
        let (range, change, after) = self.sound(state, &fixes, 0..fixes.len())?;
        for fix in &fixes[range] {
            *self.done.entry(fix.rule).or_default() += 1;
        }
        Some((change, after))
    }

    fn editing<'e>(&'e self, state: &'e State) -> Editing<'e> {
        Editing { force: true, ..Editing::of(&state.contract, &self.store, self.convention) }
    }

    /// The fixes of all findings that do not meet each other.
    fn fixes(&mut self, state: &State) -> Vec<Fix> {
        let (mut left, mut untried) = (self.bytes, self.untried);
        let mut known = Fixes::of(self.editing(state));
        let (mut taken, mut same, mut fixes) = (Taken::default(), Set::default(), Vec::new());
        for finding in &state.findings {
            // What mends this as well was taken with another.
            let again = known.knows(finding);
            match left.checked_sub(known.cost(finding)) {
                Some(less) => left = less,
                None => {
                    untried = true;
                    continue;
                }
            }
            let Some(edits) = known.fix(finding).filter(|_| !again) else { continue };
            if !edits.iter().any(|edit| taken.meets(edit)) && same.insert(edits.clone()) {
                edits.iter().for_each(|edit| taken.add(edit));
                fixes.push(Fix { rule: finding.name, edits: edits.to_vec() });
            }
        }
        (self.bytes, self.untried) = (left, untried);
        fixes
    }

    /// The fixes of a range, or else of a half of it, that make the contract better.
    fn sound(
        &mut self,
        state: &State,
        fixes: &[Fix],
        range: Range<usize>,
    ) -> Option<(Range<usize>, Change, State)> {
        if range.is_empty() {
            return None;
        }
        if self.tries == 0 {
            self.untried = true;
            return None;
        }
        self.tries -= 1;
        let edits = fixes[range.clone()].iter().flat_map(|fix| fix.edits.clone()).collect();
        if let Some((change, after)) = self.tried(state, edits) {
            return Some((range, change, after));
        }
        let middle = range.start + range.len() / 2;
        if middle == range.start {
            return None;
        }
        let first = self.sound(state, fixes, range.start..middle);
        first.or_else(|| self.sound(state, fixes, middle..range.end))
    }

    /// The change that edits make, if the contract is better after it than before.
    fn tried(&self, state: &State, edits: Vec<TextEdit>) -> Option<(Change, State)> {
        let change = replace(self.editing(state), edits).ok()?;
        let mut store = Overlay::new(&self.store);
        change.files.iter().for_each(|file| store.put_text(&file.location, file.after.clone()));
        let start = &state.contract.files.first().location;
        let contract = Contract::load(&store, start, store.limits()).ok()?;
        let (before, after) = (&state.findings, check_by(&contract, self.settings).findings);
        // Notes may come of what is no error any more: they ask to be read, not to be mended.
        let (now, then) = (weight(&after), weight(before));
        let better = now[0] <= then[0] && now[1] <= then[1] && now < then;
        better.then_some((change, State { contract, findings: after }))
    }

    /// Takes over the texts of a change.
    fn take(&mut self, change: &Change) {
        for file in &change.files {
            self.store.put_text(&file.location, file.after.clone());
            match self.files.iter_mut().find(|known| known.location == file.location) {
                Some(known) => known.after = file.after.clone(),
                None => self.files.push(file.clone()),
            }
        }
    }

    /// All rounds as one change.
    pub fn change(self) -> Change {
        Change {
            files: self.files,
            places: Vec::new(),
            notes: Vec::new(),
            account: Vec::new(),
            in_part: false,
        }
    }
}

/// How many errors there are, how many errors and warnings, and how many findings at all.
fn weight(findings: &[Finding]) -> [usize; 3] {
    [Level::Error, Level::Warning, Level::Note]
        .map(|level| findings.iter().filter(|finding| finding.level <= level).count())
}

/// Stretches of files that edits replace. None touch each other, but that several insertions may be at one place.
#[derive(Default)]
struct Taken {
    /// Where each ends, by where it begins.
    ends: BTreeMap<(FileId, u32), u32>,
}

impl Taken {
    /// Whether an edit cannot be made together with those: it touches one, and not both are insertions.
    fn meets(&self, edit: &TextEdit) -> bool {
        let (file, span) = (edit.place.file, edit.place.span);
        let last = self.ends.range((file, 0)..=(file, span.end)).next_back();
        last.is_some_and(|((_, start), end)| span.start <= *end && !(span.is_empty() && start == end))
    }

    fn add(&mut self, edit: &TextEdit) {
        let span = edit.place.span;
        self.ends.insert((edit.place.file, span.start), span.end);
    }
}

#[cfg(test)]
mod tests {
    use charter_source::{Place, Span};
    use proptest::prelude::*;

    use super::*;

    fn edit(start: usize, end: usize) -> TextEdit {
        TextEdit { place: Place { file: FileId(0), span: Span::new(start, end) }, replacement: String::new() }
    }

    proptest! {
        /// What is looked up among those that were taken is what a comparison with each of them says.
        #[test]
        fn edits_meet_whatever_they_touch(spans in prop::collection::vec((0usize..60, 0usize..4), 1..30)) {
            let (mut taken, mut all) = (Taken::default(), Vec::<TextEdit>::new());
            for (start, length) in spans {
                let edit = edit(start, start + length);
                let touches = |other: &TextEdit| {
                    let (x, y) = (edit.place.span, other.place.span);
                    x.start <= y.end && y.start <= x.end && !(x.is_empty() && y.is_empty())
                };
                prop_assert_eq!(taken.meets(&edit), all.iter().any(touches));
                if !taken.meets(&edit) {
                    taken.add(&edit);
                    all.push(edit);
                }
            }
        }
    }
}

//! Tries proposals: makes them in memory, all that can be made together, and compares again.

use charter_author::{edits_of, edits_to_add};
use charter_compare::{Change, Compared, Options, Report, Verdict, Version, compare_again};
use charter_contract::{ComponentPath, Contract, OperationId};
use charter_notation::{Child, Convention, ElementInfo, Prefixes, rewriting, text_of};
use charter_source::{Map, Set, TextEdit};

use crate::propose::{Proposal, Proposer};
use crate::way::{NoWay, Step, Way, WayOut, WaysOut};

/// How often all that is left is made together, and how many are then tried one by one.
const ROUNDS: usize = 4;
const ONE_BY_ONE: usize = 8;
/// Operations of which all are looked at; of more, so many for each change that breaks.
const MANY_OPERATIONS: usize = 60;
const EXAMPLES: usize = 3;
/// Changes that break of which each is tried; whoever has more has more to do than to mend each.
const MOST: usize = 200;

/// A change that breaks, with what may help against it.
struct Candidate {
    number: usize,
    proposals: Vec<Proposal>,
    /// The proposal that is tried now.
    at: usize,
    /// Proposals that were given up for what another may have broken.
    blamed: Vec<usize>,
    why: NoWay,
}

impl Candidate {
    fn current(&self) -> Option<&Proposal> {
        self.proposals.get(self.at)
    }
}

/// Candidates that did not help, and those that may have broken something else.
#[derive(Default)]
struct Failed {
    breaks: Set<usize>,
    blamed: Set<usize>,
}

impl Failed {
    fn is_nothing(&self) -> bool {
        self.breaks.is_empty() && self.blamed.is_empty()
    }
}

/// What tells changes apart.
type Key<'r> = (&'r ComponentPath, charter_compare::Kind, &'r charter_compare::What);

fn key(change: &Change) -> Key<'_> {
    (&change.path, change.kind, &change.what)
}

/// The ways out of a comparison of two versions.
///
/// For each change that breaks, an edit of the new version is looked for after which it does not; each is made in memory and
/// compared again. What is told of one is what is left when all of them are made together.
pub fn ways_out(old: &Contract, new: &Contract, compared: &Compared, options: Options) -> WaysOut {
    let report = &compared.report;
    let beyond = compared.beyond_move.as_ref().unwrap_or(old);
    let proposer = Proposer { original: old, old: beyond, new };
    let mut ways = WaysOut::default();
    let mut open = Vec::new();
    let many = report.changes.iter().filter(|change| change.verdict == Verdict::Breaks).count() > MOST;
    for (number, change) in report.changes.iter().enumerate() {
        if change.verdict != Verdict::Breaks {
            continue;
        }
        if many {
            ways.all.push((number, WayOut::None(NoWay::Many)));
            continue;
        }
        match proposer.proposals(change) {
            Ok(proposals) if !proposals.is_empty() => {
                let why = Proposer::why_none(change.kind);
                open.push(Candidate { number, proposals, at: 0, blamed: Vec::new(), why });
            }
            Ok(_) => ways.all.push((number, WayOut::None(Proposer::why_none(change.kind)))),
            Err(why) => ways.all.push((number, WayOut::None(why))),
        }
    }
    if !open.is_empty() {
        Trial::new(&proposer, report, options).settle(open, &mut ways);
    }
    ways.all.sort_by_key(|(number, _)| *number);
    ways
}

struct Trial<'t, 'c> {
    proposer: &'t Proposer<'c>,
    report: &'t Report,
    options: Options,
    /// The operations that are looked at, if there are too many to look at all of them; and what breaks in these.
    only: Option<(Set<OperationId>, Report)>,
}

/// The new version with edits, and what differs between the old one and that.
struct Tried {
    edits: Vec<TextEdit>,
    report: Report,
}

impl<'t, 'c> Trial<'t, 'c> {
    fn new(proposer: &'t Proposer<'c>, report: &'t Report, options: Options) -> Trial<'t, 'c> {
        let many = report.operation_pairs.len() > MANY_OPERATIONS;
        let only = many.then(|| {
            let only = examples(report);
            let before = compare_again(proposer.old, proposer.new, options, Some(&only));
            (only, before)
        });
        Trial { proposer, report, options, only }
    }

    /// What is known to differ.
    fn known(&self) -> impl Iterator<Item = &Change> {
        let in_part = self.only.iter().flat_map(|(_, before)| &before.changes);
        self.report.changes.iter().chain(in_part)
    }

    fn settle(&self, mut open: Vec<Candidate>, ways: &mut WaysOut) {
        let mut again: Vec<Candidate> = Vec::new();
        let mut found: Option<Tried> = None;
        for _ in 0..ROUNDS {
            open.iter_mut().for_each(|candidate| self.skip_impossible(candidate));
            let (left, given_up): (Vec<_>, Vec<_>) =
                open.into_iter().partition(|candidate| candidate.current().is_some());
            again.extend(given_up);
            open = left;
            let all: Vec<&Proposal> = open.iter().filter_map(Candidate::current).collect();
            if all.is_empty() {
                break;
            }
            let tried = self.tried(&all);
            let failed = tried.as_ref().map(|tried| self.failed(&open, tried));
            if failed.as_ref().is_some_and(Failed::is_nothing) {
                found = tried;
                break;
            }
            for (at, candidate) in open.iter_mut().enumerate() {
                match &failed {
                    Some(failed) if failed.breaks.contains(&at) => candidate.at += 1,
                    Some(failed) if !failed.blamed.contains(&at) => {}
                    // It may have been another: it has another chance, alone.
                    _ => {
                        candidate.blamed.push(candidate.at);
                        candidate.at += 1;
                    }
                }
            }
        }
        if found.is_none() {
            // What did not come to an end together.
            again.append(&mut open);
        }
        self.one_by_one((open, found), again, ways);
    }

    /// Passes over proposals that cannot be made at all.
    fn skip_impossible(&self, candidate: &mut Candidate) {
        while let Some(proposal) = candidate.current() {
            match self.edits(&[proposal]) {
                Some(edits) if !edits.is_empty() => return,
                _ => candidate.at += 1,
            }
        }
    }

    /// Tries beside what was made together, one by one, what may have been blamed for others.
    fn one_by_one(
        &self,
        (mut made, mut best): (Vec<Candidate>, Option<Tried>),
        again: Vec<Candidate>,
        ways: &mut WaysOut,
    ) {
        let mut left = ONE_BY_ONE;
        for mut candidate in again {
            let mut open = std::mem::take(&mut candidate.blamed);
            open.extend(candidate.at..candidate.proposals.len());
            candidate.at = candidate.proposals.len();
            for at in open {
                let edits = self.edits(&[&candidate.proposals[at]]);
                if left == 0 || edits.is_none_or(|edits| edits.is_empty()) {
                    continue;
                }
                left -= 1;
                let mut all: Vec<&Proposal> = made.iter().filter_map(Candidate::current).collect();
                all.push(&candidate.proposals[at]);
                let helps = |tried: &Tried| {
                    let also = made.iter().all(|it| !self.still_breaks(it.number, tried));
                    also && !self.still_breaks(candidate.number, tried) && self.new_breaks(tried).is_empty()
                };
                if let Some(tried) = self.tried(&all).filter(helps) {
                    (best, candidate.at) = (Some(tried), at);
                    break;
                }
            }
            match candidate.current() {
                Some(_) => made.push(candidate),
                None => ways.all.push((candidate.number, WayOut::None(candidate.why))),
            }
        }
        if let Some(tried) = best {
            self.tell(&made, &tried, ways);
            ways.edits = tried.edits;
        }
    }

    fn edits(&self, all: &[&Proposal]) -> Option<Vec<TextEdit>> {
        edits_of(self.proposer.new, self.proposer.rewriting(all)?).ok()
    }

    fn tried(&self, all: &[&Proposal]) -> Option<Tried> {
        self.read(self.edits(all)?)
    }

    /// What comes of edits of the new version; nothing, if something would be wrong with it that was not.
    fn read(&self, edits: Vec<TextEdit>) -> Option<Tried> {
        let contract = Contract::read(self.proposer.new.files.rewritten(&edits)?);
        let faults = self.proposer.new.faults().len();
        if contract.faults().len() > faults {
            return None;
        }
        let old = self.proposer.old;
        let only = self.only.as_ref().map(|(only, _)| only);
        let report = compare_again(old, &contract, self.options, only);
        Some(Tried { edits, report })
    }

    fn still_breaks(&self, number: usize, tried: &Tried) -> bool {
        let known = key(&self.report.changes[number]);
        let breaks = |it: &&Change| it.verdict == Verdict::Breaks;
        tried.report.changes.iter().filter(breaks).any(|it| key(it) == known)
    }

    /// What breaks that did not.
    fn new_breaks<'r>(&self, tried: &'r Tried) -> Vec<&'r Change> {
        let breaks = |it: &&Change| it.verdict == Verdict::Breaks;
        let known: Set<Key<'_>> = self.known().filter(breaks).map(key).collect();
        tried.report.changes.iter().filter(breaks).filter(|it| !known.contains(&key(it))).collect()
    }

    /// Which of the candidates did not help, or may have broken something else.
    fn failed(&self, open: &[Candidate], tried: &Tried) -> Failed {
        let mut failed = Failed::default();
        for (at, candidate) in open.iter().enumerate() {
            if self.still_breaks(candidate.number, tried) {
                failed.breaks.insert(at);
            }
        }
        for change in self.new_breaks(tried) {
            let of_it = change.path.outermost();
            let is_near = |candidate: &Candidate| {
                let proposal = candidate.current();
                let path = proposal.map(|it| self.proposer.new.path(it.component));
                let told = &self.report.changes[candidate.number].path;
                path.is_some_and(|path| path.outermost() == of_it) || told.outermost() == of_it
            };
            let near: Vec<usize> = (0..open.len()).filter(|at| is_near(&open[*at])).collect();
            // Where nobody is to blame, all may be.
            match near.is_empty() {
                true => failed.blamed.extend(0..open.len()),
                false => failed.blamed.extend(near),
            }
        }
        failed
    }

    fn tell(&self, made: &[Candidate], tried: &Tried, ways: &mut WaysOut) {
        let mut known: Map<Key<'_>, Verdict> = Map::default();
        known.extend(self.known().map(|change| (key(change), change.verdict)));
        let mut added = 0;
        for candidate in made {
            let Some(proposal) = candidate.current() else { continue };
            let change = &self.report.changes[candidate.number];
            let own = change.path.outermost();
            // What is left of it: itself, and what its edit makes in its place.
            let left = tried.report.changes.iter().filter(|it| {
                key(it) == key(change) || (it.path.outermost() == own && !known.contains_key(&key(it)))
            });
            let verdict = left.map(|it| it.verdict).max().unwrap_or(Verdict::Keeps);
            let way = Way {
                remedy: proposal.remedy.clone(),
                notation: self.notation(proposal),
                path: self.proposer.new.path(proposal.component),
                step: self.step(candidate.number, proposal, &mut added),
                verdict,
            };
            ways.all.push((candidate.number, WayOut::Edit(way)));
        }
    }

    /// How a proposal is made: by taking the notation of the old version over, if that leads out by itself.
    fn step(&self, number: usize, proposal: &Proposal, added: &mut usize) -> Step {
        let Step::Add { from } = &proposal.step else { return proposal.step.clone() };
        *added += 1;
        let leads_out = || {
            let (original, new) = (self.proposer.original, self.proposer.new);
            let component = original.find(from.as_str()).ok()?;
            let text = charter_notation::component(original, component, &Convention::default());
            let edits = edits_to_add(new, &text, &Convention::default()).ok()?;
            Some(!self.still_breaks(number, &self.read(edits)?))
        };
        match *added <= ONE_BY_ONE && leads_out() == Some(true) {
            true => proposal.step.clone(),
            false => Step::Together,
        }
    }

    /// The lines of notation that a proposal makes.
    fn notation(&self, proposal: &Proposal) -> Vec<String> {
        let new = self.proposer.new;
        let Some(made) = self.proposer.rewriting(&[proposal]).and_then(|it| rewriting(new, it)) else {
            return Vec::new();
        };
        let prefixes = Prefixes::of(new);
        let text = |mut info: ElementInfo| {
            without_documentation(&mut info);
            text_of(&info, &prefixes, &Convention::default())
        };
        let (before, after) = (text(made.base), text(made.wanted));
        let known: Set<&str> = before.lines().map(str::trim).collect();
        let lines = after.lines().map(str::trim).filter(|line| !known.contains(line) && line.len() > 1);
        lines.map(str::to_owned).collect()
    }
}

fn without_documentation(info: &mut ElementInfo) {
    info.children.retain(|child| {
        !matches!(child, Child::Element(info) if info.is_xsd("annotation") || info.is_wsdl("documentation"))
    });
    info.elements_mut().for_each(without_documentation);
}

/// For each change that breaks some operations of the old version where it shows.
fn examples(report: &Report) -> Set<OperationId> {
    let old: Map<OperationId, OperationId> =
        report.operation_pairs.iter().map(|(old, new)| (*new, *old)).collect();
    let breaking = report.changes.iter().filter(|change| change.verdict == Verdict::Breaks);
    let sides = breaking.flat_map(|change| {
        let shown = change.witness.iter().map(|witness| witness.at);
        shown.chain(change.worst().map(|touched| touched.at).take(EXAMPLES))
    });
    let in_old = |at: charter_compare::SideOf| match at.version {
        Version::Old => Some(at.operation),
        Version::New => old.get(&at.operation).copied(),
    };
    sides.filter_map(in_old).collect()
}

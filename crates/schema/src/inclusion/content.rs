//! Leads two content models side by side through all sequences of elements that the first allows.
//!
//! Where the second refuses an element, the search goes on as if the sequence had been mended there, so that one
//! element that is gone does not hide what is amiss behind it; whatever is found then is marked as such.

use std::collections::VecDeque;

use charter_source::{Map, QName, Set};

use super::aligned::stand_ins;
use super::bounds::{MOST_PLACES, MOST_WORK, ROOM};
use super::dead_ends::Ends;
use super::wild::{ELSEWHERE, Wild, is_abstract, unheard_of};
use super::{Assessment, Counterexample, Edge, Inclusion, Kind, Outcome, Pair, Passed, Undecided, let_in};
use crate::engine::{Engine, Leaf, Model, Walk};
use crate::{ElementId, NamespaceConstraint, Owner, Process, TypeId, Wildcard};

/// Places that are looked at after a mend.
const MOST_MENDED: usize = 4_000;
/// Elements that are put in to mend a sequence, and the ways that are tried.
const MOST_PUT_IN: usize = 3;
const MOST_WAYS: usize = 200;

impl Inclusion<'_> {
    /// Compares the contents of two types that have no simple content.
    pub(super) fn content(&self, sub: TypeId, sup: TypeId, outcome: &mut Outcome) {
        let (ours, theirs) = (self.sub.schemas, self.sup.schemas);
        if theirs.is_any(sup) {
            return self.within_anything(sub, outcome);
        }
        if ours.is_any(sub) {
            let name = unheard_of(ELSEWHERE);
            let anything = Kind::Unexpected { name, new: true, decl: None };
            outcome.counterexamples.push(Counterexample::in_open_content(anything));
            // What holds nothing at all lacks what must now be there.
            if self.sup.model(sup).is_some_and(|model| !model.optional()) {
                outcome.counterexamples.push(Counterexample::new(Kind::Missing { name: None }));
            }
            return;
        }
        if self.aligned(sub, sup, outcome) {
            return;
        }
        let (Some(a), Some(b)) = (self.sub.model(sub), self.sup.model(sup)) else {
            return outcome.undecided.push(Undecided::LargeModel);
        };
        let before = (outcome.counterexamples.len(), outcome.leads_to.len());
        let mut search = Search::new(self, sub, a, b, outcome);
        let (mut done, dead) = (search.run(), search.dead);
        if dead {
            // What was found first may have been found on a way that no instance goes to the end.
            outcome.counterexamples.truncate(before.0);
            outcome.leads_to.truncate(before.1);
            outcome.trail.clear();
            let ends = Some(Ends::default());
            done = Search { ends, ..Search::new(self, sub, a, b, outcome) }.run();
        }
        if !done {
            outcome.undecided.push(Undecided::ManyWays);
        }
    }

    /// Anything is allowed there, and judged where it has a declaration.
    fn within_anything(&self, sub: TypeId, outcome: &mut Outcome) {
        let anything = Wildcard::anything();
        if self.sub.schemas.is_any(sub) {
            let pair = self.let_in_by_both(Wild::of(&anything, &anything));
            return outcome.leads_to.push((Edge::Same, pair));
        }
        let Some(model) = self.sub.model(sub) else {
            return outcome.undecided.push(Undecided::LargeModel);
        };
        let (mut known, mut met): (Set<Pair>, Set<ElementId>) = Default::default();
        for leaf in (0..model.nodes.len() as u32).filter_map(|node| model.leaf(node)) {
            match leaf {
                Leaf::Element(id) if !met.insert(id) => {}
                Leaf::Element(id) => {
                    for (name, judged) in self.standing_there(id) {
                        let pair = Pair::Elements(judged, let_in(self.sup, anything.process, &name));
                        if known.insert(pair) {
                            let edge = Edge::Child { name, judged, at: None, open: false };
                            outcome.leads_to.push((edge, pair));
                        }
                    }
                }
                Leaf::Any(wildcard) => {
                    let pair = self.let_in_by_both(Wild::of(wildcard, &anything));
                    if known.insert(pair) {
                        outcome.leads_to.push((Edge::Same, pair));
                    }
                }
            }
        }
    }

    /// The elements that may really stand where one is declared.
    pub(super) fn standing_there(&self, id: ElementId) -> Vec<(QName, Assessment)> {
        let mut all = vec![id];
        all.extend(stand_ins(self.sub, id));
        let elements = &self.sub.schemas.elements;
        let able = |id: &ElementId| !elements[*id].is_abstract && self.is_inhabited(Assessment::Element(*id));
        all.into_iter().filter(able).map(|id| (elements[id].name.clone(), Assessment::Element(id))).collect()
    }
}

/// Where both walks are.
#[derive(Clone)]
struct Spot<'m> {
    a: Walk<'m>,
    b: Walk<'m>,
    at: Option<u32>,
    mended: bool,
    /// Whether something stands before it that no declaration names.
    open: bool,
}

/// Where to look next: ways on which everything is named come first, so that what shows there is not taken for a matter of
/// wildcards; and what has been mended comes after what has not.
#[derive(Default)]
struct Waiting<'m> {
    /// By whether something before is open, and whether it has been mended.
    queues: [[VecDeque<Spot<'m>>; 2]; 2],
    /// How many mended ones were looked at.
    mended: [usize; 2],
}

impl<'m> Waiting<'m> {
    fn add(&mut self, spot: Spot<'m>) {
        self.queues[usize::from(spot.open)][usize::from(spot.mended)].push_back(spot);
    }

    fn next(&mut self) -> Option<Spot<'m>> {
        for (queues, mended) in self.queues.iter_mut().zip(&mut self.mended) {
            if let Some(spot) = queues[0].pop_front() {
                return Some(spot);
            }
            if *mended < MOST_MENDED
                && let Some(spot) = queues[1].pop_front()
            {
                *mended += 1;
                return Some(spot);
            }
        }
        None
    }
}

struct Search<'i, 'e, 'm, 'o> {
    inclusion: &'i Inclusion<'e>,
    /// The type of the first side.
    ty: TypeId,
    /// The names in the second model.
    theirs: Set<QName>,
    /// The same in the order of the model, so that the same example is found each time.
    theirs_in_order: Vec<QName>,
    start: Spot<'m>,
    outcome: &'o mut Outcome,
    /// The elements that each leaf of the first model stands for.
    symbols: Map<ElementId, Vec<(QName, Assessment)>>,
    seen: Set<(Vec<u32>, Vec<u32>, bool)>,
    waiting: Waiting<'m>,
    pairs: Set<Pair>,
    /// What was said, with its place among the counterexamples, and whether the other side could end where it was met.
    said: Map<Kind, (usize, bool)>,
    /// Whether something was met that has no instance.
    dead: bool,
    /// The places from which it goes on to the end, if others are to be left out.
    ends: Option<Ends>,
    /// What the steps so far have cost.
    work: u64,
}

impl<'i, 'e, 'm, 'o> Search<'i, 'e, 'm, 'o> {
    fn new(
        inclusion: &'i Inclusion<'e>,
        ty: TypeId,
        a: &'m Model,
        b: &'m Model,
        outcome: &'o mut Outcome,
    ) -> Self {
        let start = Spot { a: Walk::new(a), b: Walk::new(b), at: None, mended: false, open: false };
        let theirs_in_order = names(inclusion.sup, b);
        Search {
            inclusion,
            ty,
            theirs: theirs_in_order.iter().cloned().collect(),
            theirs_in_order,
            start,
            outcome,
            symbols: Map::default(),
            seen: Set::default(),
            waiting: Waiting::default(),
            pairs: Set::default(),
            said: Map::default(),
            dead: a.has_dead_end(),
            ends: None,
            work: 0,
        }
    }

    /// Whether it came to an end.
    fn run(&mut self) -> bool {
        self.go_on(self.start.clone());
        while let Some(spot) = self.waiting.next() {
            let lost = spot.a.lost() || spot.b.lost();
            if lost || self.outcome.trail.len() > MOST_PLACES || self.work > MOST_WORK {
                return false;
            }
            self.look(&spot);
        }
        true
    }

    fn go_on(&mut self, spot: Spot<'m>) {
        if self.seen.insert((spot.a.key(), spot.b.key(), spot.mended)) {
            self.waiting.add(spot);
        }
    }

    /// Everything that may come next, and the end.
    fn look(&mut self, spot: &Spot<'m>) {
        if spot.a.complete() && !spot.b.complete() {
            self.ends_too_early(spot);
        }
        // What many leaves stand for is taken once: who judges an element is found by its name, but for what is not judged.
        let mut taken: Set<(QName, bool)> = Set::default();
        let mut open: Set<(&NamespaceConstraint, Process)> = Set::default();
        // What a declaration names comes before what only a wildcard lets in.
        let mut leaves = spot.a.expected(usize::MAX);
        leaves.sort_by_key(|leaf| matches!(leaf, Leaf::Any(_)));
        for leaf in leaves {
            if let Leaf::Any(wildcard) = leaf
                && !open.insert((&wildcard.namespaces, wildcard.process))
            {
                continue;
            }
            for (name, judged) in self.symbols(leaf, spot) {
                if taken.insert((name.clone(), judged == Assessment::Skipped)) {
                    self.take(spot, name, judged);
                }
            }
        }
    }

    /// The elements that a leaf stands for.
    fn symbols(&mut self, leaf: Leaf<'m>, spot: &Spot<'m>) -> Vec<(QName, Assessment)> {
        match leaf {
            Leaf::Element(id) => {
                let inclusion = self.inclusion;
                let found = self.symbols.entry(id).or_insert_with(|| inclusion.standing_there(id)).clone();
                self.dead |= found.is_empty();
                found
            }
            Leaf::Any(wildcard) => {
                let sub = self.inclusion.sub;
                let mut found = self.inclusion.strangers(wildcard, &self.theirs);
                let allowed = |name: &&QName| wildcard.namespaces.allows(&name.namespace);
                for name in self.theirs_in_order.iter().filter(allowed) {
                    let judged = let_in(sub, wildcard.process, name);
                    if judged != Assessment::Unknown
                        && !is_abstract(sub, judged)
                        && self.inclusion.is_inhabited(judged)
                    {
                        found.push((name.clone(), judged));
                    }
                }
                // Where both let in the same, every global element is a matter of the two wildcards alone.
                let met = spot.b.expected(usize::MAX).into_iter().filter_map(|leaf| match leaf {
                    Leaf::Any(other) if wildcard.namespaces.meets(&other.namespaces) => {
                        Some(Wild::of(wildcard, other))
                    }
                    _ => None,
                });
                let met: Vec<Wild> = met.collect();
                self.dead |= found.is_empty();
                for pair in met.into_iter().map(|wild| self.inclusion.let_in_by_both(wild)) {
                    if self.pairs.insert(pair) {
                        self.outcome.leads_to.push((Edge::Same, pair));
                    }
                }
                // All names of the other side were gone through.
                self.work += self.theirs.len() as u64;
                found
            }
        }
    }

    fn take(&mut self, spot: &Spot<'m>, name: QName, judged: Assessment) {
        let sub = self.inclusion.sub;
        self.work += spot.a.weight() + spot.b.weight() + ROOM * (spot.a.size() + spot.b.size()) as u64;
        let mut a = spot.a.clone();
        // In a model that is ambiguous, another particle may have the first say.
        let step = a.step(&sub.symbol(&name.namespace, &name.local));
        let open = spot.open || matches!(step, Some(Leaf::Any(_)));
        let judged = match step {
            None => return,
            Some(Leaf::Element(id)) => Assessment::Element(id),
            Some(Leaf::Any(wildcard)) if judged != Assessment::Skipped => {
                let_in(sub, wildcard.process, &name)
            }
            Some(Leaf::Any(_)) => judged,
        };
        if let Some(ends) = &mut self.ends
            && !ends.are_reached(self.inclusion, &a)
        {
            return;
        }
        let at = self.outcome.trail.len() as u32;
        self.outcome.trail.push(Passed { before: spot.at, name: name.clone(), judged, open });
        let mut b = spot.b.clone();
        let mut mended = spot.mended;
        let met = match self.judged_by(&mut b, &name) {
            Some(met) => Some(met),
            None => {
                mended = true;
                self.mend(spot, &mut b, &name, judged, at)
            }
        };
        if let Some(met) = met {
            let pair = Pair::Elements(judged, met);
            if self.pairs.insert(pair) {
                let edge = Edge::Child { name, judged, at: Some(at), open };
                self.outcome.leads_to.push((edge, pair));
            }
        }
        self.go_on(Spot { a, b, at: Some(at), mended, open });
    }

    /// How the second side judges the next element, if it has a place.
    fn judged_by(&self, b: &mut Walk<'m>, name: &QName) -> Option<Assessment> {
        let sup = self.inclusion.sup;
        Some(match b.step(&sup.symbol(&name.namespace, &name.local))? {
            Leaf::Element(id) => Assessment::Element(id),
            Leaf::Any(wildcard) => let_in(sup, wildcard.process, name),
        })
    }

    /// Says what is wrong with an element, and goes on as if it were right.
    fn mend(
        &mut self,
        spot: &Spot<'m>,
        b: &mut Walk<'m>,
        name: &QName,
        judged: Assessment,
        at: u32,
    ) -> Option<Assessment> {
        let behind = spot.mended;
        let renamed = self.inclusion.renamed.borrow().get(&(self.ty, name.clone())).cloned();
        if let Some(to) = renamed
            && let Some(met) = self.judged_by(b, &to)
        {
            self.counterexample(Kind::Renamed { from: name.clone(), to }, at, behind);
            return Some(met);
        }
        let new = !self.theirs.contains(name);
        if !new && let Some((missing, walk, met)) = self.put_in(&spot.b, name) {
            for name in missing {
                self.counterexample(Kind::Missing { name }, at, behind);
            }
            *b = walk;
            return Some(met);
        }
        let decl = if let Assessment::Element(id) = judged { Some(id) } else { None };
        let open = self.outcome.trail[at as usize].open;
        let kind = Kind::Unexpected { name: name.clone(), new, decl };
        self.add_best(Counterexample { kind, at: Some(at), behind, open }, spot.b.complete());
        None
    }

    /// The elements that the second side wants first, should there be such: those without which it lets nothing else in.
    fn put_in(&self, from: &Walk<'m>, name: &QName) -> Option<(Vec<Option<QName>>, Walk<'m>, Assessment)> {
        let sup = self.inclusion.sup;
        let mut ways = VecDeque::from([(Vec::new(), from.clone())]);
        let mut tried = 0;
        while let Some((missing, walk)) = ways.pop_front() {
            if missing.len() >= MOST_PUT_IN {
                continue;
            }
            let expected = walk.expected(8);
            let alone = expected.len() == 1;
            for leaf in expected {
                let Leaf::Element(id) = leaf else { continue };
                let put = &sup.schemas.elements[id].name;
                let mut next = walk.clone();
                if next.step(&sup.symbol(&put.namespace, &put.local)).is_none() {
                    continue;
                }
                let mut missing = missing.clone();
                missing.push(alone.then(|| put.clone()));
                tried += 1;
                let mut after = next.clone();
                if let Some(met) = self.judged_by(&mut after, name) {
                    return Some((missing, after, met));
                }
                if tried > MOST_WAYS {
                    return None;
                }
                ways.push_back((missing, next));
            }
        }
        None
    }

    fn ends_too_early(&mut self, spot: &Spot<'m>) {
        // Each of the elements that are wanted to the end, as long as there is no choice between them.
        let mut b = spot.b.clone();
        let mut any = false;
        for _ in 0..200 {
            if b.complete() {
                break;
            }
            let expected = b.expected(8);
            let required = expected.iter().find_map(|leaf| match leaf {
                Leaf::Element(id) => Some(self.inclusion.sup.schemas.elements[*id].name.clone()),
                Leaf::Any(_) => None,
            });
            let alone = expected.len() == 1;
            any = true;
            let known = self.counterexample_of_end(required.clone().filter(|_| alone), spot);
            let Some(name) = required.filter(|_| alone && !known) else { break };
            if b.step(&self.inclusion.sup.symbol(&name.namespace, &name.local)).is_none() {
                break;
            }
        }
        debug_assert!(any);
    }

    /// Whether the same was said before.
    fn counterexample_of_end(&mut self, name: Option<QName>, spot: &Spot<'m>) -> bool {
        let count = self.outcome.counterexamples.len();
        self.add(Counterexample {
            kind: Kind::Missing { name },
            at: spot.at,
            behind: spot.mended,
            open: spot.open,
        });
        self.outcome.counterexamples.len() == count
    }

    fn counterexample(&mut self, kind: Kind, at: u32, behind: bool) {
        let open = self.outcome.trail[at as usize].open;
        self.add(Counterexample { kind, at: Some(at), behind, open });
    }

    fn add(&mut self, counterexample: Counterexample) {
        self.add_best(counterexample, false);
    }

    /// Adds a counterexample, or puts it in the place of the same one that was met where the other side could not `end`: an
    /// instance from there lacks what that side wants as well.
    fn add_best(&mut self, counterexample: Counterexample, end: bool) {
        match self.said.get_mut(&counterexample.kind) {
            None => {
                let index = self.outcome.counterexamples.len();
                self.said.insert(counterexample.kind.clone(), (index, end));
                self.outcome.counterexamples.push(counterexample);
            }
            Some((index, ended)) if end && !*ended => {
                let known = &mut self.outcome.counterexamples[*index];
                if (known.open, known.behind) == (counterexample.open, counterexample.behind) {
                    *ended = true;
                    *known = counterexample;
                }
            }
            Some(_) => {}
        }
    }
}

/// The names of all elements that may stand in a model by a declaration.
fn names(engine: &Engine<'_>, model: &Model) -> Vec<QName> {
    let (mut found, mut known, mut met) = (Vec::new(), Set::default(), Set::default());
    for node in 0..model.nodes.len() as u32 {
        if let Some(Leaf::Element(id)) = model.leaf(node)
            && met.insert(id)
        {
            let mut all = vec![id];
            if engine.schemas.elements[id].owner == Owner::Schema {
                all.extend(stand_ins(engine, id));
            }
            let names = all.into_iter().map(|id| engine.schemas.elements[id].name.clone());
            found.extend(names.filter(|name| known.insert(name.clone())));
        }
    }
    found
}

/// Whether an element that is judged so may have an attribute of which the name fits.
pub(super) fn attributes_of(engine: &Engine<'_>, judged: Assessment, fits: &dyn Fn(&QName) -> bool) -> bool {
    let mut waiting = match judged {
        Assessment::Element(id) => vec![engine.schemas.element_type(id)],
        Assessment::Type(ty) => vec![ty],
        _ => return true,
    };
    while let Some(ty) = waiting.pop() {
        waiting.extend(engine.relatives().derived(ty));
        let allowed = engine.allowed(ty);
        let own = allowed.all().iter().any(|own| fits(&engine.schemas.attribute_decls[own.decl].name));
        if own || allowed.wildcard.is_some() {
            return true;
        }
    }
    false
}

//! Goes down from what a message holds through all that may stand in it, one way, and says what differs there and what
//! that comes to.

use std::cell::{Cell, RefCell};
use std::sync::Arc;

use charter_contract::{Component, Contract};
use charter_schema::sample::SenderHabits;
use charter_schema::{Assessment, Counterexample, Edge, Engine, Inclusion, Pair as Met, TypeId, Weight};
use charter_source::{Map, QName};

use crate::decide::graph::{Graph, Looked};
use crate::decide::resolve::{AtSite, Charged, Counts, Site, charge, difference_at, open_here};
use crate::describe::types::{Described, Names, Pair, Types};
use crate::difference::{Aspect, Difference, OpenDifferences};
use crate::effect::MessageFlow;
use crate::kind::Kind;
use crate::report::{Depends, OpenContent};
use crate::versions::{SideOf, Version};
use crate::what::{Doubt, What};

/// A pair, and the components that have its types.
type Place = (Met, Option<(Component, Component)>);

/// What is made of open content.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Open {
    /// How it counts.
    pub counts: OpenContent,
    /// Whether anybody asks what differs in it.
    pub is_told: bool,
}

/// One way to look at two versions: whose messages must be among whose.
pub(crate) struct Survey<'c> {
    pub way: MessageFlow,
    pub inclusion: Inclusion<'c>,
    /// Looks where no message can go.
    unsendable: Option<Box<Survey<'c>>>,
    /// Looks at values that are written by an encoding.
    encoded: Option<Box<Survey<'c>>>,
    /// What differs, where anything does.
    sites: RefCell<Map<Place, Arc<Vec<Charged>>>>,
    proofs: RefCell<Map<(Place, usize), Proved>>,
    /// What leads to what differs.
    graph: RefCell<Graph>,
    /// What was found to go by other names, by types.
    renames: RefCell<Names>,
    /// How many places were looked at, once for each message that leads there.
    steps: Cell<usize>,
    pub open: Open,
    /// What differs in what extension points let in.
    pub beyond: RefCell<Map<Met, OpenDifferences>>,
}

/// Everything that is sent one way, with what differs between its types.
pub(crate) struct Direction<'c> {
    pub survey: Survey<'c>,
    pub types: Types<'c>,
}

impl<'c> Direction<'c> {
    pub fn new(
        old: (&'c Contract, &'c Engine<'c>),
        new: (&'c Contract, &'c Engine<'c>),
        way: MessageFlow,
        open: Open,
    ) -> Direction<'c> {
        Direction { survey: Survey::new(old.1, new.1, way, open), types: Types::new(old, new) }
    }

    /// Everything that differs in what a root leads to.
    pub fn findings(&self, root: &Root) -> Vec<Finding> {
        self.survey.all(&self.types, root, false)
    }

    /// The same, with examples that begin at this root and no other.
    pub fn own_findings(&self, root: &Root) -> Vec<Finding> {
        self.survey.all(&self.types, root, true)
    }
}

/// Sides from which an example of the same thing is looked for; the shortest is kept.
const MOST_TRIED: usize = 8;
/// Bytes of an example that need not be any shorter, and of one that costs too much to be made again and again.
const SHORT: usize = 400;
const LONG: usize = 8_000;
/// Steps by which a way is longer than another, at which its example will not be shorter: two elements.
const MUCH_DEEPER: usize = 4;

/// The shortest example so far, and how often one was looked for.
#[derive(Default, Clone)]
struct Proved {
    tried: usize,
    best: Option<Arc<Proof>>,
}

/// Where something was found.
pub(crate) struct Spot<'s> {
    /// The name of the element that the message begins with.
    pub name: &'s QName,
    pub root: &'s Root,
    /// Whether examples must begin at this root.
    pub own: bool,
    /// What the sender sends, where it is known: examples are made of it as far as there is a choice.
    pub habits: Option<&'s SenderHabits>,
    pub place: Place,
    /// How many pairs there are on the way.
    pub depth: usize,
    pub way: &'s dyn Fn() -> Vec<(Met, Edge)>,
}

/// A difference, and what it comes to.
#[derive(Debug, Clone)]
pub(crate) struct Finding {
    pub difference: Arc<Difference>,
    pub outcome: Decided,
}

/// What a difference comes to, one way.
#[derive(Debug, Clone)]
pub(crate) enum Decided {
    /// Nothing that is sent this way suffers.
    Harmless,
    /// It depends.
    Depends(Depends),
    /// Some message suffers, of which there is an example.
    Proved(Arc<Proof>),
}

/// An example of a message that suffers.
#[derive(Debug, Clone)]
pub(crate) struct Proof {
    /// The side of the new version whose message it is.
    pub side: SideOf,
    pub witness: charter_schema::Witness,
    /// Whether it is accepted and read as something else.
    pub misread: bool,
    /// What is merely read in another way.
    pub depends: Option<Depends>,
    /// How far down it goes.
    depth: usize,
}

/// Where a message begins.
#[derive(Debug, Clone)]
pub(crate) struct Root {
    pub name: QName,
    /// The side of the new version that it is in.
    pub side: SideOf,
    pub old: Assessment,
    pub new: Assessment,
    /// Whether it is written by an encoding.
    pub encoded: bool,
    /// The components that have the types, where these do not tell by themselves what they are.
    pub from: Option<(Component, Component)>,
}

impl<'c> Survey<'c> {
    pub fn new(old: &'c Engine<'c>, new: &'c Engine<'c>, way: MessageFlow, open: Open) -> Survey<'c> {
        let (sub, sup) = match way.from() {
            Version::Old => (old, new),
            Version::New => (new, old),
        };
        let over = |inclusion, unsendable, encoded| Survey {
            way,
            inclusion,
            unsendable,
            encoded,
            sites: RefCell::default(),
            proofs: RefCell::default(),
            graph: RefCell::default(),
            renames: RefCell::default(),
            steps: Cell::default(),
            open,
            beyond: RefCell::default(),
        };
        let unsendable = || over(Inclusion::new(sub, sup).assuming(), None, None);
        let encoded = over(Inclusion::new(sub, sup).encoded(), Some(Box::new(unsendable())), None);
        over(Inclusion::new(sub, sup), Some(Box::new(unsendable())), Some(Box::new(encoded)))
    }

    pub(crate) fn oriented<T>(&self, old: T, new: T) -> (T, T) {
        match self.way.from() {
            Version::Old => (old, new),
            Version::New => (new, old),
        }
    }

    fn all(&self, types: &Types<'_>, root: &Root, own: bool) -> Vec<Finding> {
        let survey = self.facing(root);
        let (sub, sup) = survey.oriented(root.old, root.new);
        let mut found = survey.below(types, (root, own), &root.name, Met::Elements(sub, sup));
        if let Assessment::Element(id) = sub {
            for (name, pair) in survey.inclusion.in_place_of(id, sup) {
                found.extend(survey.below(types, (root, own), &name, pair));
            }
        }
        survey.as_sent(found)
    }

    /// The survey that looks at a root: another one at what an encoding writes, and at what no message can be made of.
    pub(crate) fn facing(&self, root: &Root) -> &Survey<'c> {
        let survey = match (&self.encoded, root.encoded) {
            (Some(encoded), true) => encoded,
            _ => self,
        };
        let (sub, _) = survey.oriented(root.old, root.new);
        match &survey.unsendable {
            Some(unsendable) if !survey.inclusion.is_inhabited(sub) => unsendable,
            _ => survey,
        }
    }

    /// How many places were looked at so far, once for each message that leads there.
    pub(crate) fn steps(&self) -> usize {
        let others = self.unsendable.iter().chain(&self.encoded);
        self.steps.get() + others.map(|survey| survey.steps()).sum::<usize>()
    }

    /// What it found, as far as messages can be sent at all.
    pub(crate) fn as_sent(&self, found: Vec<Finding>) -> Vec<Finding> {
        if self.unsendable.is_some() { found } else { found.into_iter().map(unsent).collect() }
    }

    fn below(&self, types: &Types<'_>, (root, own): (&Root, bool), name: &QName, start: Met) -> Vec<Finding> {
        let look = |pair| {
            // What is renamed must be known before a pair is looked into.
            self.tell_renamed(types, pair);
            Looked { outcome: self.inclusion.outcome(pair), by_place: self.told_by_place(types, pair) }
        };
        let differs = |pair| self.site(types, pair, None).is_some();
        let follows = |from, edge: &Edge, to| self.follows(from, edge, to);
        self.graph.borrow_mut().explore(start, &look, &differs, &follows);
        let graph = self.graph.borrow();
        let reach = graph.reach(start);
        self.steps.set(self.steps.get() + reach.len());
        let mut found = Vec::new();
        for place in &reach.differing {
            let upwards = || self.inherited(types, root, reach.upwards(*place));
            let from = reach.is_by_place(*place).then(upwards).flatten();
            let way = || {
                let way = reach.way(*place);
                self.inclusion.way(&way, way.len() - 1)
            };
            let pair = reach.pair(*place);
            let depth = reach.depth(*place);
            let spot = Spot { name, root, own, habits: None, place: (pair, from), depth, way: &way };
            for charged in self.site(types, pair, from).iter().flat_map(|site| site.iter()) {
                found.push(self.decide(charged, &spot));
            }
        }
        found
    }

    /// The components that have the types of a pair: the declarations nearest to it on the way, which is given upwards; for
    /// what an array holds, the type of the array.
    fn inherited(
        &self,
        types: &Types<'_>,
        root: &Root,
        mut upwards: impl Iterator<Item = Met>,
    ) -> Option<(Component, Component)> {
        let mut in_array = false;
        while let Some(pair) = upwards.next() {
            match pair {
                Met::Types(..) if in_array && !self.told_by_place(types, pair) => {
                    return self.array(types, pair, None);
                }
                Met::Elements(..) => match self.components(pair) {
                    None => in_array = true,
                    found => return found,
                },
                // Nobody declares what a wildcard lets in.
                Met::Wild(_) => return root.from.filter(|_| upwards.next().is_none()),
                _ => {}
            }
        }
        // The message itself may begin with something that has no declaration.
        root.from
    }

    /// The components of what an array holds, whose types are a pair and have those components: the array types themselves,
    /// if they tell what they are.
    pub(crate) fn array(
        &self,
        types: &Types<'_>,
        pair: Met,
        from: Option<(Component, Component)>,
    ) -> Option<(Component, Component)> {
        match pair {
            Met::Types(a, b) if !self.told_by_place(types, pair) => {
                let (old, new) = self.oriented(a, b);
                Some((Component::Type(old), Component::Type(new)))
            }
            _ => from,
        }
    }

    fn told_by_place(&self, types: &Types<'_>, pair: Met) -> bool {
        let types_of = match pair {
            Met::Types(a, b) => Some(self.oriented(a, b)),
            Met::Declared(a, b) => Some(self.oriented(a.ty, b.ty)),
            _ => None,
        };
        types_of.is_some_and(|(old, new)| types.told_by_place(old, new))
    }

    /// What a pair is known by: with the components that have its types, if these do not tell by themselves what they are.
    pub(crate) fn place(&self, types: &Types<'_>, pair: Met, from: Option<(Component, Component)>) -> Place {
        (pair, from.filter(|_| self.told_by_place(types, pair)))
    }

    /// The declarations at a pair, if there are two.
    pub(crate) fn components(&self, pair: Met) -> Option<(Component, Component)> {
        let Met::Elements(Assessment::Element(a), Assessment::Element(b)) = pair else { return None };
        let (old, new) = self.oriented(a, b);
        Some((Component::Element(old), Component::Element(new)))
    }

    pub(crate) fn known_names(&self, old: TypeId, new: TypeId) -> Vec<(QName, QName)> {
        self.renames.borrow().get(&(old, new)).cloned().unwrap_or_default()
    }

    pub(crate) fn tell_renamed(&self, types: &Types<'_>, pair: Met) {
        let Met::Types(a, b) = pair else { return };
        let (old, new) = self.oriented(a, b);
        if types.old.schemas.simple(old).is_some() || types.new.schemas.simple(new).is_some() {
            return;
        }
        let names = types.other_names(old, new);
        if !names.is_empty() {
            self.renames.borrow_mut().insert((old, new), names.clone());
        }
        for (was, is) in names {
            let (from, to) = self.oriented(was, is);
            self.inclusion.rename(a, from, to);
        }
    }

    /// What differs at a pair, if anything does.
    pub(crate) fn site(
        &self,
        types: &Types<'_>,
        pair: Met,
        from: Option<(Component, Component)>,
    ) -> Option<Arc<Vec<Charged>>> {
        let key = self.place(types, pair, from);
        if let Some(known) = self.sites.borrow().get(&key) {
            return Some(known.clone());
        }
        let outcome = self.inclusion.outcome(pair);
        let found = self.described(types, pair, from).map(|(site, described)| {
            let counts = |found: &Counterexample| self.counts(found);
            let (named, open) = self.undecided(&outcome);
            let AtSite { mut named, mut rest } =
                charge(types, site, described.differences, &outcome, self.way, &counts, &named);
            rest.extend(open.map(|doubt| {
                let what = (Kind::NotDecided, What::NotDecided { doubt });
                Arc::new(difference_at(types, site, what, Aspect::Open))
            }));
            if let Some(beyond) = self.extension_point(types, pair, &outcome, rest) {
                let (what, aspect) = open_here();
                named.push(self.open_difference(difference_at(types, site, what, aspect), beyond));
            }
            named
        });
        let found = found.filter(|found| !found.is_empty()).map(Arc::new);
        // Nothing differs at nearly all, so that is found out again should anybody ask again.
        if let Some(found) = &found {
            self.sites.borrow_mut().insert(key, found.clone());
        }
        found
    }

    /// What differs at a pair in what a consumer is known to put there, though no declaration names it.
    pub(crate) fn whole_site(
        &self,
        types: &Types<'_>,
        pair: Met,
        from: Option<(Component, Component)>,
    ) -> Option<Arc<Vec<Charged>>> {
        let outcome = self.inclusion.outcome(pair);
        let (site, described) = self.described(types, pair, from)?;
        let undecided = self.all_undecided(&outcome);
        let all = &|_: &Counterexample| Counts::Here;
        let found = charge(types, site, described.differences, &outcome, self.way, all, &undecided);
        (!found.named.is_empty()).then(|| Arc::new(found.named))
    }

    pub(crate) fn described(
        &self,
        types: &Types<'_>,
        pair: Met,
        from: Option<(Component, Component)>,
    ) -> Option<(Site, Described)> {
        let typed = |a: TypeId, b: TypeId| {
            let (old, new) = self.oriented(a, b);
            types.pair(old, new, from)
        };
        Some(match pair {
            Met::Elements(a, b) => {
                let (old, new) = self.oriented(a, b);
                let described = match (old, new) {
                    (Assessment::Element(old), Assessment::Element(new)) => types.declarations(old, new),
                    _ => Described::default(),
                };
                (Site::Elements(old, new), described)
            }
            Met::Declared(a, b) => {
                let pair = typed(a.ty, b.ty);
                let mut described = Described::default();
                types.standing_in(pair, &mut described);
                (Site::Types(pair), described)
            }
            Met::Types(a, b) => {
                let pair = typed(a, b);
                (Site::Types(pair), types.types(pair))
            }
            Met::Wild(_) => return None,
        })
    }

    pub(crate) fn decide(&self, charged: &Charged, spot: &Spot<'_>) -> Finding {
        let mut best: Option<Arc<Proof>> = None;
        let mut unproved = false;
        let rank = |proof: &Proof| match (&proof.depends, proof.misread, proof.witness.ignorable) {
            (Some(_), ..) => 0,
            (None, _, true) => 1,
            (None, true, _) => 2,
            (None, false, false) => 3,
        };
        for number in &charged.counterexamples {
            match self.proof(*number, spot) {
                Some(proof) if best.as_ref().is_none_or(|best| rank(&proof) > rank(best)) => {
                    best = Some(proof)
                }
                Some(_) => {}
                // What is merely read differently needs no example.
                None => {
                    let counterexample = &self.inclusion.outcome(spot.place.0).counterexamples[*number];
                    unproved |= counterexample.weight() == Weight::Refused;
                }
            }
        }
        // Where the example is wrong in other respects too, it does not tell what readers make of this one alone.
        if let Some(proof) = &mut best
            && (!charged.alone || proof.witness.refused.count > 1)
            && self.is_merely_new(charged, spot.place.0)
        {
            Arc::make_mut(proof).witness.ignorable = true;
        }
        // Whoever reads an attribute under its old name misses it, whatever it ignores.
        if let (Some(proof), Aspect::AttributeNames(..)) = (&mut best, &charged.difference.aspect) {
            Arc::make_mut(proof).witness.ignorable = false;
        }
        let outcome = match (best, charged.depends) {
            (Some(proof), _) => Decided::Proved(proof),
            (None, _) if unproved => Decided::Depends(Depends::Undecided(Doubt::NoExample)),
            (None, Some(depends)) => Decided::Depends(depends),
            (None, None) => Decided::Harmless,
        };
        Finding { difference: charged.difference.clone(), outcome }
    }

    /// Whether a difference comes to nothing but something new that stands beside what was there.
    fn is_merely_new(&self, charged: &Charged, pair: Met) -> bool {
        let outcome = self.inclusion.outcome(pair);
        let is_new = |number: &usize| {
            use charter_schema::CounterexampleKind as Kind;
            matches!(
                outcome.counterexamples[*number].kind,
                Kind::Unexpected { new: true, .. } | Kind::Attribute { .. }
            )
        };
        charged.difference.effect.ignorable && charged.counterexamples.iter().all(is_new)
    }

    /// An example of a counterexample: the shortest of those from several sides.
    fn proof(&self, number: usize, spot: &Spot<'_>) -> Option<Arc<Proof>> {
        let key = (spot.place, number);
        let mut proved = match spot.own {
            true => Proved::default(),
            false => self.proofs.borrow().get(&key).cloned().unwrap_or_default(),
        };
        if proved.is_enough(spot) {
            return proved.best;
        }
        proved.tried += 1;
        let (pair, _) = spot.place;
        let outcome = self.inclusion.outcome(pair);
        let counterexample = &outcome.counterexamples[number];
        let way = (spot.way)();
        let witness = match spot.habits {
            Some(habits) => self.inclusion.familiar_witness(spot.name, &way, pair, counterexample, habits),
            None => self.inclusion.witness(spot.name, &way, pair, counterexample),
        };
        if let Some(witness) = witness
            && proved.best.as_ref().is_none_or(|best| witness.text.len() < best.witness.text.len())
        {
            let misread = counterexample.weight() != Weight::Refused;
            let depends = (counterexample.weight() == Weight::Depends).then_some(Depends::Meaning);
            let (side, depth) = (spot.root.side, spot.depth);
            proved.best = Some(Arc::new(Proof { side, witness, misread, depends, depth }));
        }
        let best = proved.best.clone();
        if !spot.own {
            self.proofs.borrow_mut().insert(key, proved);
        }
        best
    }
}

impl Proved {
    /// Whether no shorter example need be looked for at a spot.
    fn is_enough(&self, spot: &Spot<'_>) -> bool {
        let enough = self.best.as_ref().is_some_and(|best| {
            let length = best.witness.text.len();
            // Another port of the same operation has the same messages.
            best.side == spot.root.side
                || length < SHORT
                || (length > LONG && self.tried > 1)
                || spot.depth > best.depth + MUCH_DEEPER
        });
        enough || self.tried >= MOST_TRIED
    }
}

/// What differs where no message can be sent at all: whether that matters depends on what the schemas leave out.
fn unsent(finding: Finding) -> Finding {
    let outcome = match finding.outcome {
        Decided::Harmless => Decided::Harmless,
        _ => Decided::Depends(Depends::Undecided(Doubt::NoMessage)),
    };
    Finding { outcome, ..finding }
}

impl Types<'_> {
    /// The elements that go by another name in the content of a type: old and new names.
    fn other_names(&self, old: TypeId, new: TypeId) -> Vec<(QName, QName)> {
        if let Some(known) = self.renames.borrow().get(&(old, new)) {
            return known.clone();
        }
        let mut described = Described::default();
        if !self.old.schemas.is_any(old) && !self.new.schemas.is_any(new) {
            self.contents(Pair { old, new, from: None }, &mut described);
            if described.differences.is_empty() {
                self.alike.borrow_mut().insert((old, new));
            }
        }
        self.renames.borrow_mut().insert((old, new), described.renamed.clone());
        described.renamed
    }
}

/// How an element of a message is judged.
pub(crate) fn assessment(element: &charter_contract::WireElement) -> Assessment {
    match element {
        charter_contract::WireElement::Declared(id) => Assessment::Element(*id),
        charter_contract::WireElement::Typed { ty, .. } => Assessment::Type(*ty),
    }
}

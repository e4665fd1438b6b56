//! What each difference comes to: what a person sees, put together with what was decided.
//!
//! The inclusion of one version in the other says what counterexamples at a pair of types or declarations; the description of the
//! same pair says what is written differently there. A difference is charged with the counterexamples that it accounts for. Where
//! nothing that is written differently accounts for a counterexample, a difference is made that says it as it is.

use std::sync::Arc;

use charter_contract::{Component, ComponentPath, Contract};
use charter_schema::{
    Assessment, Builtin, Counterexample, CounterexampleKind, Outcome, TypeId, Undecided, Weight,
};
use charter_source::{Map, QName, Set};

use crate::describe::types::{Pair, Types};
use crate::difference::{Aspect, Difference};
use crate::effect::{Effect, MessageFlow};
use crate::kind::Kind;
use crate::report::Depends;
use crate::versions::Subject;
use crate::what::{Doubt, What};

/// A difference with what was decided of it.
#[derive(Debug, Clone)]
pub(crate) struct Charged {
    pub difference: Arc<Difference>,
    /// The counterexamples that it accounts for, by their place in the outcome.
    pub counterexamples: Vec<usize>,
    /// What it depends on, if there is no counterexample.
    pub depends: Option<Depends>,
    /// Whether it accounts for all that was found at its site.
    pub alone: bool,
}

/// Where differences were found.
#[derive(Debug, Clone, Copy)]
pub(crate) enum Site {
    /// At two types.
    Types(Pair),
    /// At two declarations, or at what stands for them.
    Elements(Assessment, Assessment),
}

/// Where a counterexample counts.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Counts {
    /// Where it was found.
    Here,
    /// At the extension point alone.
    Apart,
    /// Nowhere: nobody sends or reads such a thing.
    Nowhere,
}

/// The differences of a site with what was decided of them.
pub(crate) struct AtSite {
    /// Those that show in what counts, or in nothing.
    pub named: Vec<Charged>,
    /// Those that show only in what does not count here.
    pub rest: Vec<Arc<Difference>>,
}

/// Charges the differences of a site with its counterexamples, as far as they count here, and with what is `undecided`; those
/// seen from the first to the second side of `way`.
pub(crate) fn charge(
    types: &Types<'_>,
    site: Site,
    differences: Vec<Difference>,
    outcome: &Outcome,
    way: MessageFlow,
    counts: &dyn Fn(&Counterexample) -> Counts,
    undecided: &[Undecided],
) -> AtSite {
    let mut known = Known::default();
    differences.into_iter().for_each(|difference| known.add(difference));
    known.declared = known.declared_at(types, site);
    let mut apart: Set<usize> = Set::default();
    for (number, counterexample) in outcome.counterexamples.iter().enumerate() {
        let counts = counts(counterexample);
        if counts == Counts::Nowhere {
            continue;
        }
        let mut chosen = known.account(&counterexample.kind, way);
        if chosen.is_empty() {
            // What a wildcard lets in has no name that anybody wrote.
            chosen.push(known.like(unaccounted(types, site, counterexample, way)));
        }
        match counts {
            Counts::Here => chosen.into_iter().for_each(|at| known.all[at].counterexamples.push(number)),
            _ => apart.extend(chosen),
        }
    }
    let mut all = Vec::new();
    let mut rest = Vec::new();
    for (at, charged) in known.all.into_iter().enumerate() {
        match charged.counterexamples.is_empty() && apart.contains(&at) {
            true => rest.push(charged.difference),
            false => all.push(charged),
        }
    }
    for charged in all.iter_mut().filter(|charged| charged.counterexamples.is_empty()) {
        let effect = charged.difference.effect;
        if let (Some(reason), true) = (undecided.first(), effect.claims(way)) {
            charged.depends = Some(Depends::Undecided(Doubt::Schemas(*reason)));
        } else if effect.missed && way == MessageFlow::Read {
            charged.depends = Some(Depends::ReadersOfIt);
        }
    }
    let many = all.iter().filter(|charged| !charged.counterexamples.is_empty()).count() > 1;
    all.iter_mut().for_each(|charged| charged.alone = !many);
    let open = all.iter().all(|charged| charged.counterexamples.is_empty() && charged.depends.is_none());
    if let (Some(reason), true) = (undecided.first(), open) {
        let doubt = Doubt::Schemas(*reason);
        let what = (Kind::NotDecided, What::NotDecided { doubt });
        let difference = difference_at(types, site, what, Aspect::Content);
        all.push(Charged { depends: Some(Depends::Undecided(doubt)), ..Charged::of(difference) });
    }
    AtSite { named: all, rest }
}

impl Charged {
    /// A difference that nothing was decided of.
    fn of(difference: Difference) -> Charged {
        Charged { difference: Arc::new(difference), counterexamples: Vec::new(), depends: None, alone: true }
    }
}

/// The differences of a site, found by what they are about: there may be thousands, and as many counterexamples.
#[derive(Default)]
struct Known {
    all: Vec<Charged>,
    by_aspect: Map<Aspect, Vec<usize>>,
    /// Those of child elements.
    members: Vec<usize>,
    /// The child elements that declarations of either version name, where there is something to tell of others.
    declared: Option<Set<QName>>,
    /// By path and what they say.
    said: Map<(ComponentPath, What), usize>,
}

impl Known {
    fn add(&mut self, difference: Difference) {
        let at = self.all.len();
        match &difference.aspect {
            // It is an attribute that has that name, or had it.
            Aspect::AttributeNames(old, new) => {
                for name in [old, new] {
                    self.by_aspect.entry(Aspect::Attribute(name.clone())).or_default().push(at);
                }
            }
            aspect => self.by_aspect.entry(aspect.clone()).or_default().push(at),
        }
        if matches!(difference.aspect, Aspect::Member(_)) {
            self.members.push(at);
        }
        self.said.entry((difference.path.clone(), difference.what.clone())).or_insert(at);
        self.all.push(Charged::of(difference));
    }

    fn declared_at(&self, types: &Types<'_>, site: Site) -> Option<Set<QName>> {
        let Site::Types(pair) = site else { return None };
        self.by_aspect.contains_key(&Aspect::OtherElements).then(|| types.child_names(pair))
    }

    /// The difference that says the same, which is this one if there is none yet.
    fn like(&mut self, made: Difference) -> usize {
        let said = (made.path.clone(), made.what.clone());
        self.said.get(&said).copied().unwrap_or_else(|| {
            self.add(made);
            self.all.len() - 1
        })
    }

    /// The differences that account for a counterexample: those that claim something of the kind, or else any of the kind.
    fn account(&self, kind: &CounterexampleKind, way: MessageFlow) -> Vec<usize> {
        let declares = |name: &QName| self.declared.as_ref().is_none_or(|all| all.contains(name));
        let wanted = aspects(kind, declares);
        let effect = |at: usize| self.all[at].difference.effect;
        let explains = |effect: Effect| effect.claims(way) && may_cause(effect, kind, way);
        for aspect in &wanted {
            let of_kind = self.of(aspect).iter().copied();
            let explaining: Vec<usize> = of_kind.filter(|at| explains(effect(*at))).collect();
            if !explaining.is_empty() {
                return explaining;
            }
        }
        for aspect in &wanted {
            let of_kind = self.of(aspect);
            let claiming: Vec<usize> = of_kind.iter().copied().filter(|at| effect(*at).claims(way)).collect();
            if !claiming.is_empty() {
                return claiming;
            }
            if !of_kind.is_empty() && !matches!(aspect, Wanted::AnyMember) {
                return of_kind.to_vec();
            }
        }
        Vec::new()
    }

    fn of(&self, wanted: &Wanted) -> &[usize] {
        match wanted {
            Wanted::Is(aspect) => self.by_aspect.get(aspect).map_or(&[], Vec::as_slice),
            Wanted::AnyMember => &self.members,
        }
    }
}

/// Whether a difference with an effect may be what is behind a counterexample that does not name it.
fn may_cause(effect: Effect, kind: &CounterexampleKind, way: MessageFlow) -> bool {
    match (kind, way) {
        // That less may stand somewhere demands nothing.
        (CounterexampleKind::Missing { .. }, MessageFlow::Sent) => {
            effect.more || effect.demanded || effect.undecided
        }
        // What is new beside the rest may be left out of the message, and the rest would be as wrong.
        (
            CounterexampleKind::Missing { .. } | CounterexampleKind::Unexpected { new: false, .. },
            MessageFlow::Read,
        ) => !effect.ignorable,
        _ => true,
    }
}

enum Wanted {
    Is(Aspect),
    /// Any child element, if it claims to matter.
    AnyMember,
}

/// What may account for a counterexample, the likeliest first.
fn aspects(kind: &CounterexampleKind, declares: impl Fn(&QName) -> bool) -> Vec<Wanted> {
    let is = |aspects: Vec<Aspect>| aspects.into_iter().map(Wanted::Is).collect();
    let member = |name: &QName| {
        let (named, others) = (Wanted::Is(Aspect::Member(name.clone())), Wanted::Is(Aspect::OtherElements));
        let content = Wanted::Is(Aspect::Content);
        // What no declaration names, a wildcard lets in.
        match declares(name) {
            true => vec![named, content, Wanted::AnyMember, others],
            false => vec![others, content, named, Wanted::AnyMember],
        }
    };
    match kind {
        CounterexampleKind::Unexpected { name, .. } | CounterexampleKind::Missing { name: Some(name) } => {
            member(name)
        }
        CounterexampleKind::Renamed { from, to } => {
            is(vec![Aspect::Member(to.clone()), Aspect::Member(from.clone())])
        }
        CounterexampleKind::Missing { name: None } => {
            vec![Wanted::Is(Aspect::Content), Wanted::Is(Aspect::OtherElements), Wanted::AnyMember]
        }
        CounterexampleKind::Mixed => is(vec![Aspect::Mixed, Aspect::Content]),
        CounterexampleKind::Value(_) => is(vec![Aspect::Value, Aspect::Content, Aspect::Stated]),
        CounterexampleKind::Elements => is(vec![Aspect::Content, Aspect::OtherElements]),
        CounterexampleKind::Nil => is(vec![Aspect::Nil]),
        CounterexampleKind::AbstractElement | CounterexampleKind::AbstractType => is(vec![Aspect::Abstract]),
        CounterexampleKind::TypeName(_) => is(vec![Aspect::Derived]),
        CounterexampleKind::Undeclared | CounterexampleKind::Assessment => Vec::new(),
        CounterexampleKind::Fixed(_) | CounterexampleKind::Default { attribute: None, .. } => {
            is(vec![Aspect::Stated])
        }
        CounterexampleKind::Identity(_) => is(vec![Aspect::Identity]),
        CounterexampleKind::Attribute { name, .. }
        | CounterexampleKind::AttributeValue { name, .. }
        | CounterexampleKind::AttributeMissing(name) => {
            is(vec![Aspect::Attribute(name.clone()), Aspect::OtherAttributes])
        }
        CounterexampleKind::Default { attribute: Some(name), .. }
        | CounterexampleKind::Meaning { attribute: Some(name), .. } => {
            is(vec![Aspect::Attribute(name.clone())])
        }
        CounterexampleKind::Meaning { attribute: None, .. } => is(vec![Aspect::Value, Aspect::Content]),
    }
}

/// A difference that says what counterexamples, where nothing that is written differently does.
fn unaccounted(
    types: &Types<'_>,
    site: Site,
    counterexample: &Counterexample,
    way: MessageFlow,
) -> Difference {
    let (kind, aspect, what) = match &counterexample.kind {
        CounterexampleKind::Unexpected { name, .. } => {
            let name = name.local.to_string();
            let what = match way {
                MessageFlow::Sent => What::RefusedHere { name },
                MessageFlow::Read => What::SentHere { name },
            };
            (Kind::ContentChanged, Aspect::Content, what)
        }
        CounterexampleKind::Missing { name: Some(name) } => {
            let name = name.local.to_string();
            let what = match way {
                MessageFlow::Sent => What::DemandedHere { name },
                MessageFlow::Read => What::LeftOutHere { name },
            };
            (Kind::ContentChanged, Aspect::Content, what)
        }
        CounterexampleKind::Attribute { .. }
        | CounterexampleKind::AttributeValue { .. }
        | CounterexampleKind::AttributeMissing(_) => {
            (Kind::WildcardChanged, Aspect::OtherAttributes, What::AttributesDiffer {})
        }
        CounterexampleKind::Undeclared | CounterexampleKind::Assessment => {
            (Kind::WildcardChanged, Aspect::Content, What::WildcardStricter {})
        }
        CounterexampleKind::TypeName(id) => type_named(types, site, *id, way),
        CounterexampleKind::Value(_) | CounterexampleKind::Meaning { .. } | CounterexampleKind::Fixed(_) => {
            (Kind::TypeChanged, Aspect::Value, What::ValuesOther {})
        }
        _ => (Kind::ContentChanged, Aspect::Content, What::ContentCounterexamples {}),
    };
    let mut difference = difference_at(types, site, (kind, what), aspect);
    difference.effect =
        if counterexample.weight() == Weight::Refused { Effect::OTHER } else { Effect::UNDECIDED };
    difference
}

/// What is said of a type that the other side does not let stand: it may be the very type that was declared, which encoded values
/// name.
fn type_named(types: &Types<'_>, site: Site, id: TypeId, way: MessageFlow) -> (Kind, Aspect, What) {
    let name = |of: &Contract, id: TypeId| {
        let name = of.schemas.types[id].name.as_ref();
        name.map(|name| name.local.to_string())
    };
    let what = match (site, way) {
        (Site::Types(Pair { old, new, .. }), _)
            if id == if way == MessageFlow::Sent { old } else { new }
                && let (Some(was), Some(is)) = (name(types.old, old), name(types.new, new)) =>
        {
            return (Kind::TypeChanged, Aspect::Derived, What::TypeNamed { was, is });
        }
        (_, MessageFlow::Sent) => name(types.old, id).map(|name| What::TypeStandsNoMore { name }),
        (_, MessageFlow::Read) => name(types.new, id).map(|name| What::TypeStandsNow { name }),
    };
    (Kind::DerivedChanged, Aspect::Derived, what.unwrap_or(What::OthersStand {}))
}

pub(crate) fn difference_at(types: &Types<'_>, site: Site, what: (Kind, What), aspect: Aspect) -> Difference {
    let effect = Effect::UNDECIDED;
    match site {
        Site::Types(pair) => types.at_pair(pair, what, aspect, effect),
        Site::Elements(old, new) => {
            let component = |judged: Assessment| match judged {
                Assessment::Element(id) => Some(Component::Element(id)),
                Assessment::Type(id) => Some(Component::Type(id)),
                _ => None,
            };
            let (was, is) = (component(old), component(new));
            // Nobody looks for a built-in type in a contract.
            let is_own =
                |it: &Component| !matches!(it, Component::Type(id) if Builtin::from_id(*id).is_some());
            let subject = is.filter(is_own).map(Subject::new).or(was.map(Subject::old));
            let subject = subject.unwrap_or(Subject::new(Component::Contract));
            Difference {
                old_place: was.map(|it| types.old.place(it)),
                new_place: is.map(|it| types.new.place(it)),
                ..Difference::of(types.versions(), subject, what, (aspect, effect))
            }
        }
    }
}

/// Kind and words of what is told of an extension point.
pub(crate) fn open_here() -> ((Kind, What), Aspect) {
    ((Kind::OpenContentChanged, What::OpenHere {}), Aspect::Open)
}

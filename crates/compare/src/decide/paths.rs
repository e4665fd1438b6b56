//! What differs along the wire paths that a consumer uses.

use charter_contract::Component;
use charter_schema::sample::SenderHabits;
use charter_schema::{Assessment, Edge, Pair as Met, Reached};
use charter_source::{Map, Set};

use crate::decide::resolve::Charged;
use crate::decide::survey::{Direction, Finding, Root, Spot, Survey};
use crate::describe::types::Types;
use crate::difference::Aspect;
use crate::effect::MessageFlow;

/// The first step of wire paths into a fault; the next is its name.
pub const FAULT: &str = "$fault";
/// The first step of wire paths into a header block; the next is its name.
pub(crate) const HEADER: &str = "$header";

/// Arrays within arrays that a step goes through.
const MOST_ARRAYS: usize = 8;

/// What a consumer uses of an element on a path.
#[derive(Clone, Copy)]
enum Use<'p> {
    /// What the next step names: a child element, or an attribute as `@name`.
    Step(&'p str),
    /// The value, and nothing beside it.
    Value,
    /// All that it holds.
    Whole,
}

/// The pairs on a path, each with the one that led to it.
struct Trip<'t, 'c> {
    survey: &'t Survey<'c>,
    types: &'t Types<'c>,
    root: &'t Root,
    reached: Vec<Reached>,
    /// The components that have the types of each pair.
    from: Vec<Option<(Component, Component)>>,
    /// Whether no declaration names what leads to each pair: the consumer says that it is there all the same.
    open: Vec<bool>,
    /// The pairs that are about the element where the trip has come to.
    here: Vec<usize>,
    looked_at: u64,
}

/// Differences and edges that are looked at along all paths of a side, before the side is taken as a whole.
const MOST_LOOKED_AT: u64 = 200_000_000;

impl<'c> Direction<'c> {
    /// What differs along wire paths from a root: at each element on the way, at its end, and below that if one ends at an
    /// element with a content; each difference of an element once. Examples are made of what is `habits` to the sender.
    /// `None` if that would take too long.
    pub fn along(
        &self,
        root: &Root,
        paths: &[&[String]],
        habits: Option<&SenderHabits>,
    ) -> Option<Vec<Finding>> {
        let survey = self.survey.facing(root);
        let (sub, sup) = survey.oriented(root.old, root.new);
        let mut found = Vec::new();
        let mut told = Told::default();
        for path in paths {
            let mut trip = Trip {
                survey,
                types: &self.types,
                root,
                reached: Vec::new(),
                from: Vec::new(),
                open: Vec::new(),
                here: Vec::new(),
                looked_at: 0,
            };
            trip.go(Met::Elements(sub, sup), None, root.from, false);
            for (depth, step) in path.iter().enumerate() {
                told.at(&path[..depth]);
                trip.spread(&|edge, _| !matches!(edge, Edge::Child { .. }));
                let names = trip.names_for(step);
                trip.findings(Use::Step(step), &names, habits, &mut told, &mut found);
                trip.step(step, &names);
            }
            told.at(path);
            trip.spread(&|edge, _| !matches!(edge, Edge::Child { .. }));
            if trip.is_single_value() {
                trip.findings(Use::Value, &Set::default(), habits, &mut told, &mut found);
            } else {
                // What wildcards may let in further down is no part of what the consumer says.
                trip.spread(&|_, into_the_open| !into_the_open);
                trip.findings(Use::Whole, &Set::default(), habits, &mut told, &mut found);
            }
            told.looked_at += trip.looked_at;
            if told.looked_at > MOST_LOOKED_AT {
                return None;
            }
        }
        Some(survey.as_sent(found))
    }
}

/// Which differences were told, by the element on a path, the pair there, and their place in it: many paths go the same way.
#[derive(Default)]
struct Told<'p> {
    elements: Map<&'p [String], usize>,
    here: usize,
    all: Set<(usize, usize, usize)>,
    concerned: Map<(usize, usize), Concerned>,
    looked_at: u64,
}

impl<'p> Told<'p> {
    /// Goes to the element that a path leads to.
    fn at(&mut self, path: &'p [String]) {
        let next = self.elements.len();
        self.here = *self.elements.entry(path).or_insert(next);
    }

    /// Whom the differences of a pair at this element concern.
    fn concerned(&mut self, number: usize, site: &[Charged], way: MessageFlow) -> &mut Concerned {
        self.concerned.entry((self.here, number)).or_insert_with(|| Concerned::of(site, way))
    }
}

/// The differences of an element by what of it is used.
#[derive(Default)]
struct Concerned {
    members: Map<String, Vec<usize>>,
    attributes: Map<String, Vec<usize>>,
    other_attributes: Vec<usize>,
    value: Vec<usize>,
    /// Those that concern all who use the element; handed out once.
    all: Vec<usize>,
}

impl Concerned {
    fn of(site: &[Charged], way: MessageFlow) -> Concerned {
        let mut concerned = Concerned::default();
        for (which, charged) in site.iter().enumerate() {
            let difference = &charged.difference;
            let of = match &difference.aspect {
                // Whoever sends the old message lacks what must now be there, whatever else it sends.
                Aspect::Member(_) | Aspect::Attribute(_) | Aspect::AttributeNames(..)
                    if way == MessageFlow::Sent && difference.effect.demanded =>
                {
                    &mut concerned.all
                }
                Aspect::Member(name) => concerned.members.entry(name.local.to_string()).or_default(),
                Aspect::Attribute(name) | Aspect::AttributeNames(name, _) => {
                    concerned.attributes.entry(name.local.to_string()).or_default()
                }
                Aspect::Value => &mut concerned.value,
                Aspect::OtherAttributes => &mut concerned.other_attributes,
                _ => &mut concerned.all,
            };
            of.push(which);
        }
        concerned
    }

    /// Those that concern who uses the element so, in their order. `names` are the other names of the next step.
    fn by(&mut self, used: Use<'_>, names: &Set<String>) -> Vec<usize> {
        let mut found = std::mem::take(&mut self.all);
        match used {
            Use::Step(step) => match step.strip_prefix('@') {
                Some(own) => {
                    found.extend(self.attributes.get(own).into_iter().flatten());
                    found.extend(&self.other_attributes);
                }
                None => {
                    let names = names.iter().map(String::as_str).filter(|name| *name != step);
                    let members = names.chain([step]).filter_map(|name| self.members.get(name));
                    found.extend(members.flatten());
                }
            },
            Use::Value | Use::Whole => found.extend(&self.value),
        }
        found.sort_unstable();
        found
    }
}

impl Trip<'_, '_> {
    fn go(
        &mut self,
        pair: Met,
        way: Option<(usize, usize)>,
        from: Option<(Component, Component)>,
        open: bool,
    ) {
        // What is renamed must be known before a pair is looked into.
        self.survey.tell_renamed(self.types, pair);
        self.reached.push(Reached { pair, from: way });
        self.from.push(from);
        self.open.push(open);
        self.here.push(self.reached.len() - 1);
    }

    /// Goes on to all that is led to by some edges, of which it is asked with whether they lead out of what is named.
    fn spread(&mut self, follows: &dyn Fn(&Edge, bool) -> bool) {
        let mut seen: Set<Met> = self.here.iter().map(|at| self.reached[*at].pair).collect();
        let mut next = 0;
        while let Some(at) = self.here.get(next).copied() {
            self.follow(at, &mut |edge, pair, leaves| follows(edge, leaves) && seen.insert(pair));
            next += 1;
        }
    }

    /// Goes to the elements that a step names.
    fn step(&mut self, step: &str, names: &Set<String>) {
        let named = |edge: &Edge| match edge {
            Edge::Child { name, .. } => *name.local == *step || names.contains(&*name.local),
            _ => false,
        };
        // Values have no key for the members of an array, so that a path may leave them out.
        let member = |edge: &Edge| matches!(edge, Edge::Child { judged: Assessment::Type(_), .. });
        for _ in 0..MOST_ARRAYS {
            let before = std::mem::take(&mut self.here);
            // What is declared there is not what a wildcard beside it lets in.
            for open in [false, true] {
                before.iter().for_each(|at| {
                    let is_open = self.open[*at];
                    self.follow(*at, &mut |edge, _, leaves| (leaves || is_open) == open && named(edge));
                });
                if !self.here.is_empty() {
                    return;
                }
            }
            before.iter().for_each(|at| self.follow(*at, &mut |edge, _, _| member(edge)));
            self.spread(&|edge, _| !matches!(edge, Edge::Child { .. }));
        }
        self.here.clear();
    }

    fn follow(&mut self, at: usize, wanted: &mut dyn FnMut(&Edge, Met, bool) -> bool) {
        let here = self.reached[at].pair;
        let outcome = self.survey.inclusion.outcome(here);
        self.looked_at += outcome.leads_to.len() as u64;
        for (number, (edge, pair)) in outcome.leads_to.iter().enumerate() {
            let leaves = !self.survey.follows(here, edge, *pair);
            if !wanted(edge, *pair, leaves) {
                continue;
            }
            let from = match edge {
                Edge::Child { .. } => {
                    let array = || self.survey.array(self.types, self.reached[at].pair, self.from[at]);
                    self.survey.components(*pair).or_else(array)
                }
                _ => self.survey.components(self.reached[at].pair).or(self.from[at]),
            };
            let open = self.open[at] || leaves;
            self.go(*pair, Some((at, number)), from, open);
        }
    }

    /// What differs at the element, as far as it concerns who uses it so.
    fn findings(
        &mut self,
        used: Use<'_>,
        names: &Set<String>,
        habits: Option<&SenderHabits>,
        told: &mut Told<'_>,
        found: &mut Vec<Finding>,
    ) {
        for (number, at) in self.here.iter().enumerate() {
            let pair = self.reached[*at].pair;
            let way = || self.survey.inclusion.way(&self.reached, *at);
            let place = self.survey.place(self.types, pair, self.from[*at]);
            let (name, root) = (&self.root.name, self.root);
            let spot = Spot { name, root, own: true, habits, place, depth: 0, way: &way };
            let site = match self.open[*at] {
                true => self.survey.whole_site(self.types, pair, self.from[*at]),
                false => self.survey.site(self.types, pair, self.from[*at]),
            };
            let Some(site) = site else { continue };
            let which = match used {
                Use::Whole => (0..site.len()).collect(),
                _ => told.concerned(number, &site, self.survey.way).by(used, names),
            };
            self.looked_at += which.len() as u64;
            for which in which {
                if told.all.insert((told.here, number, which)) {
                    found.push(self.survey.decide(&site[which], &spot));
                }
            }
        }
    }

    /// Whether the element has a value and no content.
    fn is_single_value(&self) -> bool {
        self.here.iter().any(|at| match self.reached[*at].pair {
            Met::Types(a, b) => {
                let (old, _) = self.survey.oriented(a, b);
                self.types.old.schemas.simple(old).is_some()
            }
            _ => false,
        })
    }

    /// The other names of what a step calls by its old one.
    fn names_for(&self, step: &str) -> Set<String> {
        let mut names = Set::default();
        for at in &self.here {
            let Met::Types(a, b) = self.reached[*at].pair else { continue };
            let (old, new) = self.survey.oriented(a, b);
            for (from, to) in self.survey.known_names(old, new) {
                if *from.local == *step {
                    names.insert(to.local.to_string());
                }
            }
        }
        names
    }
}

/// What is left of the wire paths that may begin in an element of that name, or a part.
pub(crate) fn beginning_in<'p>(name: &str, paths: &[&'p [String]]) -> Vec<&'p [String]> {
    let mut found = Vec::new();
    for path in paths {
        match path {
            [head, block, rest @ ..] if head == HEADER || head == "$attached" => {
                if block == name {
                    found.push(rest);
                }
            }
            [first, rest @ ..] => {
                // Several parts go each by its own name; the content of a single element goes without.
                found.push(*path);
                if first == name {
                    found.push(rest);
                }
            }
            // What holds a single value has no steps of its own.
            [] => found.push(*path),
        }
    }
    found
}

/// What is sent, by the paths that begin where it is; nothing if one of them stands for all of it.
pub(crate) fn habits(paths: &[&[String]]) -> Option<SenderHabits> {
    if paths.iter().any(|path| path.is_empty()) {
        return None;
    }
    let mut habits = SenderHabits::default();
    paths.iter().for_each(|path| habits.add(path));
    Some(habits)
}

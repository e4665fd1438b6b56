//! Compares content models.

use charter_contract::{Component, Contract};
use charter_schema::{Compositor, ElementId, Occurs};
use charter_source::{QName, Set};

use crate::describe::groups::{Paired, group_of, grouped};
use crate::describe::model::{Model, content};
use crate::describe::names::{borrow, pair};
use crate::describe::types::{Described, Pair, Types};
use crate::difference::{Aspect, Difference};
use crate::effect::Effect;
use crate::kind::Kind;
use crate::line::Line;
use crate::report::Confidence;
use crate::versions::Subject;
use crate::what::{Occurring, Thing, What};

/// An element with its occurrence, as a side of a difference.
type Member = (ElementId, Occurs);
/// A member with its place in the list that it stands in.
type Placed = (usize, Member);

impl Types<'_> {
    /// Compares the contents of two complex types.
    pub(crate) fn contents(&self, at: Pair, outcome: &mut Described) {
        let (old, old_all) = content(&self.old.schemas, at.old);
        let (new, new_all) = content(&self.new.schemas, at.new);
        let (was, is) = (self.old.schemas.is_mixed(at.old), self.new.schemas.is_mixed(at.new));
        let mut add = |kind, what, aspect, effect| {
            outcome.differences.push(self.at_pair(at, (kind, what), aspect, effect));
        };
        match (was, is) {
            (false, true) => add(Kind::MixedChanged, What::MixedNow {}, Aspect::Mixed, Effect::MORE),
            (true, false) => add(Kind::MixedChanged, What::MixedNoMore {}, Aspect::Mixed, Effect::LESS),
            _ => {}
        }
        if old_all != new_all && old.len() > 1 && new.len() > 1 {
            let (what, effect) = match new_all {
                true => (What::AnyOrder {}, Effect::MORE),
                false => (What::OneOrder {}, Effect::LESS),
            };
            add(Kind::OrderChanged, what, Aspect::Content, effect);
        }
        let inside = if old_all && new_all { Compositor::All } else { Compositor::Sequence };
        self.list(at, &old, &new, inside, outcome);
    }

    /// The names of all elements that stand in the contents of two types.
    pub(crate) fn child_names(&self, at: Pair) -> Set<QName> {
        let mut found = Set::default();
        for (contract, ty) in [(self.old, at.old), (self.new, at.new)] {
            let mut open = content(&contract.schemas, ty).0;
            while let Some(model) = open.pop() {
                found.extend(model.element().map(|id| contract.schemas.elements[id].name.clone()));
                if let Model::Group { members, .. } = model {
                    open.extend(members);
                }
            }
        }
        found
    }

    /// Compares what follows each other, or stands in any order.
    fn list(&self, at: Pair, old: &[Model], new: &[Model], inside: Compositor, outcome: &mut Described) {
        let (old, new) = (
            &*grouped((self.old, old), (self.new, new), inside),
            &*grouped((self.new, new), (self.old, old), inside),
        );
        let (old_elements, old_others) = parted(old);
        let (new_elements, new_others) = parted(new);
        let old_keys = keys(self.old, &old_elements);
        let new_keys = keys(self.new, &new_elements);
        let (both, mut gone, mut come) = pair(&borrow(&old_keys), &borrow(&new_keys));
        let others = Paired::of((self.old, &old_others), (self.new, &new_others));
        if inside == Compositor::Sequence {
            let places = both.iter().map(|(was, is)| (was.0, is.0));
            let places = places.chain(others.both.iter().map(|(was, is)| (was.0, is.0)));
            self.order(at, places.collect(), outcome);
        }
        for (was, is) in both {
            self.kept(was.1, is.1, outcome);
        }
        self.renamed(&mut gone, &mut come, outcome);
        gone.into_iter().for_each(|(_, member)| outcome.differences.push(self.gone(member)));
        come.into_iter().for_each(|(_, member)| outcome.differences.push(self.come(member)));
        self.others(at, others, inside, outcome);
    }

    /// Says if what both versions have changed places: its old and new places in the list.
    fn order(&self, at: Pair, mut places: Vec<(usize, usize)>, outcome: &mut Described) {
        places.sort_unstable();
        if !places.is_sorted_by_key(|(_, new)| *new) {
            let what = (Kind::OrderChanged, What::OrderOther {});
            outcome.differences.push(self.at_pair(at, what, Aspect::Content, Effect::OTHER));
        }
    }

    /// An element that both versions have.
    fn kept(&self, old: Member, new: Member, outcome: &mut Described) {
        let name = &self.new.schemas.elements[new.0].name;
        let component = Component::Element(new.0);
        if let Some((kind, effect)) = occurrence_change(old.1, new.1) {
            let what = What::occurs(Occurring::Element(name.local.to_string()), old.1, new.1);
            let about = (member(name), effect);
            outcome.differences.push(self.at_element(old, new, component, (kind, what), about));
        }
        self.substitutes(old.0, new.0, outcome);
    }

    /// Takes pairs of an old and a new element out of the lists that are one element under another name: those that have
    /// one name in two namespaces, those built the same, and then those at one place whose names are alike.
    fn renamed(&self, gone: &mut Vec<Placed>, come: &mut Vec<Placed>, outcome: &mut Described) {
        for by in [By::Name, By::Build, By::Likeness] {
            let mut kept = Vec::new();
            for (at, old) in std::mem::take(gone) {
                let fits = |new: &Placed| match by {
                    By::Name => self.same_local_name(old.0, new.1.0),
                    By::Build => new.1.1 == old.1 && self.same_build(old.0, new.1.0),
                    By::Likeness => self.names_alike(old.0, new.1.0),
                };
                let fitting: Vec<usize> = (0..come.len()).filter(|index| fits(&come[*index])).collect();
                // Of several that fit, the one at the same place.
                let Some(index) = fitting.iter().copied().min_by_key(|index| come[*index].0.abs_diff(at))
                else {
                    kept.push((at, old));
                    continue;
                };
                let confidence = match (by, fitting.len()) {
                    (By::Likeness, _) => Confidence::Possible,
                    (_, 1) => Confidence::Sure,
                    _ => Confidence::Likely,
                };
                let (_, new) = come.remove(index);
                self.other_name(old, new, confidence, outcome);
            }
            *gone = kept;
        }
    }

    /// Says that an element goes by another name, and what else is different about it.
    fn other_name(&self, old: Member, new: Member, confidence: Confidence, outcome: &mut Described) {
        let (was, is) = (&self.old.schemas.elements[old.0].name, &self.new.schemas.elements[new.0].name);
        let component = Component::Element(new.0);
        let what = (Kind::ElementRenamed, What::renamed(Thing::Member, was, is));
        let about = (member(is), Effect::OTHER);
        let mut difference = self.at_element(old, new, component, what, about);
        difference.confidence = Some(confidence);
        outcome.differences.push(difference);
        outcome.renamed.push((was.clone(), is.clone()));
        self.kept(old, new, outcome);
    }

    /// Whether two elements have types that are built the same, whatever they are called.
    pub(crate) fn same_build(&self, old: ElementId, new: ElementId) -> bool {
        let (a, b) = (self.old.schemas.element_type(old), self.new.schemas.element_type(new));
        let (was, is) = (&self.old.schemas.types[a].name, &self.new.schemas.types[b].name);
        if was.is_some() && was == is {
            return true;
        }
        // A type of the standard is what its name says.
        let built_in = |id| charter_schema::Builtin::from_id(id).is_some();
        if built_in(a) || built_in(b) {
            return false;
        }
        self.same_types(a, b)
    }

    fn same_local_name(&self, old: ElementId, new: ElementId) -> bool {
        self.old.schemas.elements[old].name.local == self.new.schemas.elements[new].name.local
    }

    /// Whether one name is most likely a slip or another spelling of the other.
    fn names_alike(&self, old: ElementId, new: ElementId) -> bool {
        let (was, is) =
            (&self.old.schemas.elements[old].name.local, &self.new.schemas.elements[new].name.local);
        charter_source::nearest(was, [&**is]).is_some()
    }

    fn gone(&self, (element, occurs): Member) -> Difference {
        let declared = &self.old.schemas.elements[element];
        let what = What::ElementGone { name: declared.name.local.to_string() };
        let effect = if occurs.optional() { Effect::GONE_OPTIONAL } else { Effect::GONE_REQUIRED };
        let subject = Subject::old(Component::Element(element));
        let about = (member(&declared.name), effect);
        Difference {
            old: Some(Line::Field(element, occurs)),
            old_place: Some(declared.place),
            ..Difference::of(self.versions(), subject, (Kind::ElementRemoved, what), about)
        }
    }

    fn come(&self, (element, occurs): Member) -> Difference {
        let declared = &self.new.schemas.elements[element];
        let name = declared.name.local.to_string();
        let (what, effect) = match occurs.optional() {
            true => (What::ElementNew { name }, Effect::NEW_OPTIONAL),
            false => (What::ElementDemanded { name }, Effect::NEW_REQUIRED),
        };
        let subject = Subject::new(Component::Element(element));
        let about = (member(&declared.name), effect);
        Difference {
            new: Some(Line::Field(element, occurs)),
            new_place: Some(declared.place),
            ..Difference::of(self.versions(), subject, (Kind::ElementAdded, what), about)
        }
    }

    /// Compares groups and wildcards.
    fn others(&self, at: Pair, others: Paired<'_>, inside: Compositor, outcome: &mut Described) {
        let Paired { both, gone, come } = others;
        for ((_, was), (_, is)) in both {
            match (was, is) {
                (
                    Model::Group { compositor: a, members: old, .. },
                    Model::Group { compositor: b, members: new, .. },
                ) if a != b => {
                    let was = group_of(self.old, *a, old);
                    let is = group_of(self.new, *b, new);
                    let what = (Kind::ContentChanged, What::GroupOther { was, is });
                    outcome.differences.push(self.at_pair(at, what, Aspect::Content, Effect::UNDECIDED));
                }
                _ => self.same_group(at, was, is, outcome),
            }
        }
        let gone = gone.into_iter().map(|(_, model)| self.group_gone(at, model, inside));
        outcome.differences.extend(gone);
        let come = come.into_iter().map(|(_, model)| self.group_come(at, model, inside));
        outcome.differences.extend(come);
    }

    /// A group or a wildcard that only the old version has.
    fn group_gone(&self, at: Pair, model: &Model, inside: Compositor) -> Difference {
        let effect = match (inside, model.is_optional()) {
            (Compositor::Choice, _) => Effect::LESS,
            (_, true) => Effect::GONE_OPTIONAL,
            (_, false) => Effect::GONE_REQUIRED,
        };
        let Model::Group { compositor, members, .. } = model else {
            let what = (Kind::WildcardChanged, What::WildcardGone {});
            return self.at_pair(at, what, Aspect::OtherElements, effect);
        };
        let group = group_of(self.old, *compositor, members);
        self.at_pair(at, (Kind::ContentChanged, What::GroupGone { group }), Aspect::Content, effect)
    }

    /// A group or a wildcard that only the new version has.
    fn group_come(&self, at: Pair, model: &Model, inside: Compositor) -> Difference {
        let optional = model.is_optional();
        let effect = match (inside, optional) {
            (Compositor::Choice, _) => Effect::MORE,
            (_, true) => Effect::NEW_OPTIONAL,
            (_, false) => Effect::NEW_REQUIRED,
        };
        let Model::Group { compositor, members, .. } = model else {
            let what = (Kind::WildcardChanged, What::WildcardNew {});
            return self.at_pair(at, what, Aspect::OtherElements, effect);
        };
        let group = group_of(self.new, *compositor, members);
        let what = match (inside, optional) {
            (Compositor::Choice, _) => What::GroupAlternativeNew { group },
            (_, true) => What::GroupNew { group },
            (_, false) => What::GroupDemanded { group },
        };
        self.at_pair(at, (Kind::ContentChanged, what), Aspect::Content, effect)
    }

    /// Compares a group or a wildcard of both versions.
    fn same_group(&self, at: Pair, was: &Model, is: &Model, outcome: &mut Described) {
        if let Some((kind, effect)) = occurrence_of(was, is) {
            let (what, aspect) = match is {
                Model::Group { compositor, members, .. } => {
                    (Occurring::Group(group_of(self.new, *compositor, members)), Aspect::Content)
                }
                _ => (Occurring::Wildcard, Aspect::OtherElements),
            };
            let what = What::occurs(what, was.occurs(), is.occurs());
            outcome.differences.push(self.at_pair(at, (kind, what), aspect, effect));
        }
        match (was, is) {
            (Model::Group { compositor, members: old, .. }, Model::Group { members: new, .. }) => {
                match compositor {
                    Compositor::Choice => self.choice(at, old, new, outcome),
                    inside => self.list(at, old, new, *inside, outcome),
                }
            }
            (Model::Any { namespaces: a, process: p, .. }, Model::Any { namespaces: b, process: q, .. })
                if a != b || p != q =>
            {
                let what = (Kind::WildcardChanged, What::WildcardOther {});
                let other = self.at_pair(at, what, Aspect::OtherElements, Effect::UNDECIDED);
                outcome.differences.push(other);
            }
            _ => {}
        }
    }

    /// Compares the alternatives of a choice: a new one may be sent where it was not known before.
    fn choice(&self, at: Pair, old: &[Model], new: &[Model], outcome: &mut Described) {
        let (old, new) = (
            &*grouped((self.old, old), (self.new, new), Compositor::Choice),
            &*grouped((self.new, new), (self.old, old), Compositor::Choice),
        );
        let (old_elements, old_others) = parted(old);
        let (new_elements, new_others) = parted(new);
        let old_keys = keys(self.old, &old_elements);
        let new_keys = keys(self.new, &new_elements);
        let (both, mut gone, mut come) = pair(&borrow(&old_keys), &borrow(&new_keys));
        for (was, is) in both {
            self.kept(was.1, is.1, outcome);
        }
        self.renamed(&mut gone, &mut come, outcome);
        for (_, member) in gone {
            let mut difference = self.gone(member);
            difference.kind = Kind::ChoiceRemoved;
            difference.effect = Effect::LESS;
            outcome.differences.push(difference);
        }
        for (_, member) in come {
            let mut difference = self.come(member);
            difference.kind = Kind::ChoiceAdded;
            let name = self.new.schemas.elements[member.0].name.local.to_string();
            difference.what = What::AlternativeNew { name };
            difference.effect = Effect::MORE;
            outcome.differences.push(difference);
        }
        let others = Paired::of((self.old, &old_others), (self.new, &new_others));
        self.others(at, others, Compositor::Choice, outcome);
    }
}

fn member(name: &QName) -> Aspect {
    Aspect::Member(name.clone())
}

/// How an occurrence changed.
fn occurrence_change(was: Occurs, is: Occurs) -> Option<(Kind, Effect)> {
    if was == is {
        return None;
    }
    let at_most = |max: Option<u32>| max.unwrap_or(u32::MAX);
    let more = is.min < was.min || at_most(is.max) > at_most(was.max);
    let less = is.min > was.min || at_most(is.max) < at_most(was.max);
    let kind = if less { Kind::OccurrenceTightened } else { Kind::OccurrenceLoosened };
    let demanded = is.min > was.min;
    Some((kind, Effect { more, less, demanded, ..Effect::NONE }))
}

/// How the occurrence of a group or a wildcard changed. One that may be there with nothing in it is never missed.
fn occurrence_of(was: &Model, is: &Model) -> Option<(Kind, Effect)> {
    let (kind, _) = occurrence_change(was.occurs(), is.occurs())?;
    let real = |model: &Model, other: &Model| match model.is_empty() {
        true => Occurs { min: other.occurs().min.min(model.occurs().min), ..model.occurs() },
        false => model.occurs(),
    };
    let effect = occurrence_change(real(was, is), real(is, was)).map_or(Effect::NONE, |(_, effect)| effect);
    Some((kind, effect))
}

/// What shows that an element goes by another name.
#[derive(Clone, Copy)]
enum By {
    /// Its name, in another namespace.
    Name,
    /// How it is built.
    Build,
    /// Its name, which is like the other.
    Likeness,
}

/// The elements of a list and the rest, with their places in it.
fn parted(models: &[Model]) -> (Vec<Placed>, Vec<(usize, &Model)>) {
    let mut elements = Vec::new();
    let mut others = Vec::new();
    for (at, model) in models.iter().enumerate() {
        match model {
            Model::Element { element, occurs } => elements.push((at, (*element, *occurs))),
            other => others.push((at, other)),
        }
    }
    (elements, others)
}

fn keys(contract: &Contract, elements: &[Placed]) -> Vec<(String, Placed)> {
    let name = |id: ElementId| contract.schemas.elements[id].name.to_string();
    elements.iter().map(|member| (name(member.1.0), *member)).collect()
}

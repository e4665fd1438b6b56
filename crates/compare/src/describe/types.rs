//! Describes how two types or declarations differ: what a person who reads both would say.
//!
//! What follows from it is not decided here; each difference only claims what it seems to do.

use std::cell::{OnceCell, RefCell};

use charter_contract::{Component, Contract};
use charter_notation as notation;
use charter_schema::{ElementId, Engine, Occurs, Relatives, TypeId, ValueConstraint};
use charter_source::{Map, QName, Set, ns};

use crate::difference::{Aspect, Difference};
use crate::effect::Effect;
use crate::kind::Kind;
use crate::line::Line;
use crate::versions::{Subject, Versions};
use crate::what::{Differences, Missing, What};

/// An old and a new type that stand for the same thing on the wire, seen from what has them where the two
/// differ in name.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub(crate) struct Pair {
    pub old: TypeId,
    pub new: TypeId,
    /// The components that have the types; `None` if the types alone say what they are.
    pub from: Option<(Component, Component)>,
}

/// What differs at two types, or at two declarations.
#[derive(Debug, Default)]
pub(crate) struct Described {
    pub differences: Vec<Difference>,
    /// Elements that go by another name now: the old and the new one.
    pub renamed: Vec<(QName, QName)>,
}

impl Described {
    /// Whether nothing differs.
    pub fn is_nothing(&self) -> bool {
        self.differences.is_empty() && self.renamed.is_empty()
    }
}

/// The other names of elements in the content of two types, the old and the new one of each.
pub(crate) type Names = Map<(TypeId, TypeId), Vec<(QName, QName)>>;

/// Describes how the types of two contracts differ.
pub(crate) struct Types<'c> {
    pub old: &'c Contract,
    pub new: &'c Contract,
    pub old_relatives: &'c Relatives,
    pub new_relatives: &'c Relatives,
    /// What was found out about other names, by types.
    pub renames: RefCell<Names>,
    /// Types whose contents were found to be written alike.
    pub alike: RefCell<Set<(TypeId, TypeId)>>,
    /// Whether types are built the same, as far as that was asked.
    builds: RefCell<Map<(TypeId, TypeId), bool>>,
    /// The local names of the types of both versions.
    type_names: OnceCell<(Set<&'c str>, Set<&'c str>)>,
}

impl<'c> Types<'c> {
    pub fn new(
        (old, of_old): (&'c Contract, &'c Engine<'c>),
        (new, of_new): (&'c Contract, &'c Engine<'c>),
    ) -> Self {
        Types {
            old,
            new,
            old_relatives: of_old.relatives(),
            new_relatives: of_new.relatives(),
            renames: RefCell::default(),
            alike: RefCell::default(),
            builds: RefCell::default(),
            type_names: OnceCell::new(),
        }
    }

    /// Both versions.
    pub fn versions(&self) -> Versions<'c> {
        Versions { old: self.old, new: self.new }
    }

    /// Whether two types are built the same, whatever they are called. Each pair is looked into once; one that is being
    /// looked into is taken for the same, so that types within themselves come to an end.
    pub fn same_types(&self, old: TypeId, new: TypeId) -> bool {
        if let Some(known) = self.builds.borrow().get(&(old, new)) {
            return *known;
        }
        self.builds.borrow_mut().insert((old, new), true);
        let same = self.types(Pair { old, new, from: None }).is_nothing();
        self.builds.borrow_mut().insert((old, new), same);
        same
    }

    /// Two types, told by their own path if they are versions of one type, else by the components that have them.
    pub fn pair(&self, old: TypeId, new: TypeId, from: Option<(Component, Component)>) -> Pair {
        Pair { old, new, from: from.filter(|_| self.told_by_place(old, new)) }
    }

    /// Whether it depends on the place what the change from the one type to the other is called: they are not versions of
    /// one type, but one type was put in the place of another.
    pub fn told_by_place(&self, old: TypeId, new: TypeId) -> bool {
        let name = |contract: &'c Contract, id: TypeId| {
            contract.schemas.types[id].name.as_ref().filter(|name| &*name.namespace != ns::XSD)
        };
        match (name(self.old, old), name(self.new, new)) {
            (Some(was), Some(is)) if was.local == is.local => false,
            (Some(was), Some(is)) => {
                let (olds, news) = self.type_names.get_or_init(|| {
                    let names = |contract: &'c Contract| {
                        contract.schemas.type_names().map(|name| &*name.local).collect()
                    };
                    (names(self.old), names(self.new))
                });
                // A type that was renamed is the same type.
                olds.contains(&*is.local) || news.contains(&*was.local)
            }
            _ => true,
        }
    }

    /// What differs between two types themselves.
    pub fn types(&self, pair: Pair) -> Described {
        let mut outcome = Described::default();
        let (old, new) = (&self.old.schemas, &self.new.schemas);
        let whole = |what, effect| self.at_pair(pair, (Kind::TypeChanged, what), Aspect::Content, effect);
        match (old.simple(pair.old), new.simple(pair.new)) {
            (Some(was), Some(is)) => {
                self.values(pair, &was, &is, &mut outcome);
                self.attributes(pair, &mut outcome);
            }
            (None, None) => {
                match (old.is_any(pair.old), new.is_any(pair.new)) {
                    (true, true) => {}
                    (false, true) => outcome.differences.push(whole(What::AnythingNow {}, Effect::MORE)),
                    (true, false) => {
                        outcome.differences.push(whole(What::AnythingNoMore {}, Effect::LESS));
                    }
                    (false, false) if self.alike.borrow().contains(&(pair.old, pair.new)) => {}
                    (false, false) => self.contents(pair, &mut outcome),
                }
                self.attributes(pair, &mut outcome);
            }
            (was, _) => {
                let what = match was.is_some() {
                    true => What::TextBecameElements {},
                    false => What::ElementsBecameText {},
                };
                outcome.differences.push(whole(what, Effect::OTHER));
            }
        }
        self.as_one(pair, &mut outcome.differences);
        outcome
    }

    /// Where a type with a name was put in the place of another, all that differs has one cause, and is told as one.
    fn as_one(&self, pair: Pair, differences: &mut [Difference]) {
        let named = |contract: &Contract, id: TypeId| contract.schemas.types[id].name.is_some();
        let Some((old, new)) = pair.from.filter(|_| named(self.old, pair.old) && named(self.new, pair.new))
        else {
            return;
        };
        // A single one that is about the place itself says what there is to say.
        let of_old = self.old.path(old);
        let of_new = self.new.path(new);
        let is_here = |one: &Difference| one.path == of_old || one.path == of_new;
        if differences.is_empty() || matches!(differences, [one] if is_here(one)) {
            return;
        }
        let mut all: Vec<What> = Vec::new();
        let mut seen: Set<&What> = Set::default();
        for difference in differences.iter() {
            if seen.insert(&difference.what) {
                all.push(difference.what.clone());
            }
        }
        let (was, is) = (notation::type_name(self.old, pair.old), notation::type_name(self.new, pair.new));
        let what = What::TypeOther { was, is, how: Differences { all } };
        let cause = self.at_pair(pair, (Kind::TypeChanged, what), Aspect::Content, Effect::NONE);
        for difference in differences {
            let (aspect, effect) = (difference.aspect.clone(), difference.effect);
            *difference = Difference { aspect, effect, ..cause.clone() };
        }
    }

    /// A difference at the pair itself.
    pub fn at_pair(&self, pair: Pair, what: (Kind, What), aspect: Aspect, effect: Effect) -> Difference {
        let (of_old, of_new) = pair.from.unwrap_or((Component::Type(pair.old), Component::Type(pair.new)));
        Difference {
            old: Some(Line::Of(of_old)),
            new: Some(Line::Of(of_new)),
            old_place: Some(self.old.place(of_old)),
            new_place: Some(self.new.place(of_new)),
            ..Difference::of(self.versions(), Subject::new(of_new), what, (aspect, effect))
        }
    }

    /// A difference at an element that both versions have.
    pub fn at_element(
        &self,
        (old, was): (ElementId, Occurs),
        (new, is): (ElementId, Occurs),
        component: Component,
        what: (Kind, What),
        (aspect, effect): (Aspect, Effect),
    ) -> Difference {
        Difference {
            old: Some(Line::Field(old, was)),
            new: Some(Line::Field(new, is)),
            old_place: Some(self.old.schemas.elements[old].place),
            new_place: Some(self.new.schemas.elements[new].place),
            ..Difference::of(self.versions(), Subject::new(component), what, (aspect, effect))
        }
    }

    /// What two declarations of an element say beside their types.
    pub fn declarations(&self, old: ElementId, new: ElementId) -> Described {
        let mut outcome = Described::default();
        let (old, new) = ((old, Occurs::ONCE), (new, Occurs::ONCE));
        let (was, is) = (&self.old.schemas.elements[old.0], &self.new.schemas.elements[new.0]);
        let name = is.name.local.to_string();
        let component = Component::Element(new.0);
        let mut add = |what, aspect, effect| {
            outcome.differences.push(self.at_element(old, new, component, what, (aspect, effect)));
        };
        match (was.nillable, is.nillable) {
            (false, true) => {
                add((Kind::NilAllowed, What::NilNow { name: name.clone() }), Aspect::Nil, Effect::MORE);
            }
            (true, false) => {
                add((Kind::NilRefused, What::NilNoMore { name: name.clone() }), Aspect::Nil, Effect::LESS);
            }
            _ => {}
        }
        if was.is_abstract != is.is_abstract {
            let (what, effect) = match is.is_abstract {
                true => (What::ElementAbstract { name: name.clone() }, Effect::LESS),
                false => (What::ElementConcrete { name: name.clone() }, Effect::MORE),
            };
            add((Kind::AbstractChanged, what), Aspect::Abstract, effect);
        }
        if let Some((what, effect)) =
            value_change(&name, was.value.as_deref(), is.value.as_deref(), Missing::Empty)
        {
            add(what, Aspect::Stated, effect);
        }
        self.constraints(old, new, &mut outcome);
        outcome
    }
}

/// What a change of a default or fixed value means; a default holds where the value is missing.
pub(crate) fn value_change(
    name: &str,
    was: Option<&ValueConstraint>,
    is: Option<&ValueConstraint>,
    where_it: Missing,
) -> Option<((Kind, What), Effect)> {
    let name = name.to_owned();
    let text = |value: &str| value.to_owned();
    Some(match (was, is) {
        (a, b) if a == b => return None,
        (_, Some(ValueConstraint::Fixed(now))) => {
            ((Kind::FixedChanged, What::FixedNow { name, value: text(now) }), Effect::LESS)
        }
        (Some(ValueConstraint::Fixed(was)), _) => {
            ((Kind::FixedChanged, What::FixedNoMore { name, value: text(was) }), Effect::MORE)
        }
        (Some(ValueConstraint::Default(was)), Some(ValueConstraint::Default(now))) => {
            let what = What::DefaultOther { name, was: text(was), is: text(now), where_it };
            ((Kind::DefaultChanged, what), Effect::OTHER)
        }
        (None, Some(ValueConstraint::Default(now))) => {
            let what = What::DefaultNow { name, value: text(now), where_it };
            ((Kind::DefaultChanged, what), Effect::UNDECIDED)
        }
        (Some(ValueConstraint::Default(was)), None) => {
            let what = What::DefaultNoMore { name, value: text(was), where_it };
            ((Kind::DefaultChanged, what), Effect::OTHER)
        }
        (None, None) => return None,
    })
}

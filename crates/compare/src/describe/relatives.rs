//! Compares what may stand for something else: derived types, by `xsi:type`, and substitutes; and what else a
//! declaration asks that is not in its content.

use charter_contract::{Component, Contract};
use charter_schema::{ConstraintKind, ElementId, Occurs, TypeId};
use charter_source::QName;

use crate::describe::names::{Alike, MOST_LOOKED_AT, pair, renamed, renamed_by_key};
use crate::describe::types::{Described, Pair, Types};
use crate::difference::{Aspect, Difference};
use crate::effect::Effect;
use crate::kind::Kind;
use crate::what::{InPlace, Renaming, Thing, What};

impl Types<'_> {
    /// Whether a complex type may stand itself, and what may stand in its place.
    pub(crate) fn standing_in(&self, pair: Pair, outcome: &mut Described) {
        let (Some(was), Some(is)) = (self.old.schemas.complex(pair.old), self.new.schemas.complex(pair.new))
        else {
            return;
        };
        let old = named_types(self.old, self.old_relatives.derived(pair.old));
        let new = named_types(self.new, self.new_relatives.derived(pair.new));
        let (_, mut gone, mut come) = pair_by_name(&old, &new);
        let same = |was: TypeId, is: TypeId| self.same_types(was, is);
        let names = |contract: &Contract, id: TypeId| Some(local(contract, id));
        for Alike { old: was, new: is, confidence } in under_other_names(
            &mut gone,
            &mut come,
            (&|id| names(self.old, id), &|id| names(self.new, id)),
            &same,
        ) {
            let names = (&self.old.schemas.types[was].name, &self.new.schemas.types[is].name);
            let (Some(from), Some(to)) = names else { continue };
            let what = (Kind::DerivedChanged, standing_under(Thing::Type, from, to));
            let difference = self.at_pair(pair, what, Aspect::Derived, Effect::OTHER);
            outcome.differences.push(Difference { confidence: Some(confidence), ..difference });
        }
        let mut add = |kind, what, aspect, effect| {
            outcome.differences.push(self.at_pair(pair, (kind, what), aspect, effect));
        };
        let (standing, derived) = (Aspect::Abstract, Aspect::Derived);
        match (was.is_abstract, is.is_abstract) {
            (false, true) => add(Kind::AbstractChanged, What::TypeAbstract {}, standing, Effect::LESS),
            (true, false) => add(Kind::AbstractChanged, What::TypeConcrete {}, standing, Effect::MORE),
            _ => {}
        }
        if was.block != is.block {
            add(Kind::DerivedChanged, What::BlockOther {}, derived.clone(), Effect::UNDECIDED);
        }
        for id in gone {
            let what = What::TypeStandsNoMore { name: local(self.old, id) };
            add(Kind::DerivedChanged, what, derived.clone(), Effect::LESS);
        }
        for id in come {
            let what = What::TypeStandsNow { name: local(self.new, id) };
            add(Kind::DerivedChanged, what, derived.clone(), Effect::MORE);
        }
    }

    /// Compares what may stand for two elements.
    pub(crate) fn substitutes(&self, old: ElementId, new: ElementId, outcome: &mut Described) {
        let named = |contract: &Contract, members: &[ElementId]| -> Vec<(String, ElementId)> {
            members.iter().map(|id| (contract.schemas.elements[*id].name.to_string(), *id)).collect()
        };
        let was = named(self.old, self.old_relatives.substitutes(old));
        let is = named(self.new, self.new_relatives.substitutes(new));
        let (_, mut gone, mut come) = pair_by_name(&was, &is);
        let same = |was: ElementId, is: ElementId| self.same_build(was, is);
        let names =
            |contract: &Contract, id: ElementId| Some(contract.schemas.elements[id].name.local.to_string());
        let names: (Named<'_, _>, Named<'_, _>) = (&|id| names(self.old, id), &|id| names(self.new, id));
        let alike = under_other_names(&mut gone, &mut come, names, &same);
        let told = |name: &QName, what, effect| {
            let (old, new) = ((old, Occurs::ONCE), (new, Occurs::ONCE));
            let what = (Kind::SubstitutesChanged, what);
            let about = (Aspect::Member(name.clone()), effect);
            self.at_element(old, new, Component::Element(new.0), what, about)
        };
        for Alike { old: was, new: is, confidence } in alike {
            let name = |contract: &Contract, id: ElementId| contract.schemas.elements[id].name.clone();
            let (from, to) = (name(self.old, was), name(self.new, is));
            let difference = told(&from, standing_under(Thing::Element, &from, &to), Effect::OTHER);
            outcome.differences.push(Difference { confidence: Some(confidence), ..difference });
        }
        let mut add = |name: &QName, what, effect| outcome.differences.push(told(name, what, effect));
        for id in gone {
            let name = &self.old.schemas.elements[id].name;
            add(name, What::ElementStandsNoMore { name: name.local.to_string() }, Effect::LESS);
        }
        for id in come {
            let name = &self.new.schemas.elements[id].name;
            add(name, What::ElementStandsNow { name: name.local.to_string() }, Effect::MORE);
        }
    }

    /// Says if the identity constraints of an element are others.
    pub(crate) fn constraints(
        &self,
        old: (ElementId, Occurs),
        new: (ElementId, Occurs),
        outcome: &mut Described,
    ) {
        let written = |contract: &'_ Contract, id: ElementId| -> Vec<(ConstraintKind, Vec<String>)> {
            let all = contract.schemas.elements[id].constraints.iter();
            let all = all.map(|id| &contract.schemas.constraints[*id]);
            let paths = |constraint: &charter_schema::IdentityConstraint| {
                let paths = constraint.selector.iter().chain(&constraint.fields);
                paths.map(|path| path.text.clone()).collect()
            };
            all.map(|constraint| (constraint.kind, paths(constraint))).collect()
        };
        if written(self.old, old.0) != written(self.new, new.0) {
            let what = (Kind::IdentityChanged, What::ConstraintsOther {});
            let about = (Aspect::Identity, Effect::UNDECIDED);
            let component = Component::Element(new.0);
            outcome.differences.push(self.at_element(old, new, component, what, about));
        }
    }
}

/// The local name of something.
type Named<'n, T> = &'n dyn Fn(T) -> Option<String>;

/// Takes pairs out of two lists that have one name in two namespaces, then those that are the same, unless there are very
/// many to look at.
fn under_other_names<T: Copy>(
    gone: &mut Vec<T>,
    come: &mut Vec<T>,
    (old_name, new_name): (Named<'_, T>, Named<'_, T>),
    same: &dyn Fn(T, T) -> bool,
) -> Vec<Alike<T>> {
    let mut found = renamed_by_key(gone, come, old_name, new_name);
    if gone.len() * come.len() <= MOST_LOOKED_AT {
        found.extend(renamed(gone, come, &[same]));
    }
    found
}

/// That what stands in the place of something goes by another name.
fn standing_under(thing: Thing, from: &QName, to: &QName) -> What {
    What::RenamedInPlace {
        renaming: Renaming { thing, was: from.clone(), is: to.clone() },
        also: InPlace { renamed: from.local != to.local },
    }
}

/// The types that have names, which `xsi:type` needs.
fn named_types(contract: &Contract, types: &[TypeId]) -> Vec<(String, TypeId)> {
    let name = |id: &TypeId| Some((contract.schemas.types[*id].name.as_ref()?.to_string(), *id));
    types.iter().filter_map(name).collect()
}

fn local(contract: &Contract, id: TypeId) -> String {
    contract.schemas.types[id].name.as_ref().map_or_else(String::new, |name| name.local.to_string())
}

fn pair_by_name<T: Copy>(old: &[(String, T)], new: &[(String, T)]) -> (Vec<(T, T)>, Vec<T>, Vec<T>) {
    pair(&crate::describe::names::borrow(old), &crate::describe::names::borrow(new))
}

//! Compares what may stand for something else: derived types, by `xsi:type`, and substitutes; and what else a
//! declaration asks that is not in its content.

use charter_contract::{Component, Contract};
use charter_schema::{ElementId, Occurs, TypeId};
use charter_source::QName;

use crate::globals::{IN_ITS_PLACE, another_name};
use crate::moved::moved;
use crate::names::{Alike, MOST_LOOKED_AT, pair, renamed, renamed_by_key};
use crate::report::{Aspect, Difference, Effect};
use crate::types::{Described, Pair, Types};

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
            let words = standing_under("type", from, to);
            let difference = self.at_pair(pair, "derived-changed", Aspect::Derived, words, Effect::OTHER);
            outcome.differences.push(Difference { confidence: Some(confidence), ..difference });
        }
        let mut add = |rule, words: String, effect| {
            let aspect = if rule == "abstract-changed" { Aspect::Abstract } else { Aspect::Derived };
            outcome.differences.push(self.at_pair(pair, rule, aspect, words, effect));
        };
        match (was.is_abstract, is.is_abstract) {
            (false, true) => add("abstract-changed", "it became abstract".to_owned(), Effect::LESS),
            (true, false) => add("abstract-changed", "it is no longer abstract".to_owned(), Effect::MORE),
            _ => {}
        }
        if was.block != is.block {
            let words = "what may stand in its place is blocked in another way".to_owned();
            add("derived-changed", words, Effect::UNDECIDED);
        }
        for id in gone {
            let words = format!("the type \"{}\" no longer stands in its place", local(self.old, id));
            add("derived-changed", words, Effect::LESS);
        }
        for id in come {
            let words = format!("the type \"{}\" may now stand in its place", local(self.new, id));
            add("derived-changed", words, Effect::MORE);
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
        let told = |name: &QName, words: String, effect| {
            let (old, new) = ((old, Occurs::ONCE), (new, Occurs::ONCE));
            let rule = ("substitutes-changed", Aspect::Member(name.clone()));
            self.at_element(old, new, Component::Element(new.0), rule, words, effect)
        };
        for Alike { old: was, new: is, confidence } in alike {
            let name = |contract: &Contract, id: ElementId| contract.schemas.elements[id].name.clone();
            let (from, to) = (name(self.old, was), name(self.new, is));
            let difference = told(&from, standing_under("element", &from, &to), Effect::OTHER);
            outcome.differences.push(Difference { confidence: Some(confidence), ..difference });
        }
        let mut add = |name: &QName, words, effect| outcome.differences.push(told(name, words, effect));
        for id in gone {
            let name = &self.old.schemas.elements[id].name;
            add(name, format!("\"{}\" no longer stands in its place", name.local), Effect::LESS);
        }
        for id in come {
            let name = &self.new.schemas.elements[id].name;
            add(name, format!("\"{}\" may now stand in its place", name.local), Effect::MORE);
        }
    }

    /// Says if the identity constraints of an element are others.
    pub(crate) fn constraints(
        &self,
        old: (ElementId, Occurs),
        new: (ElementId, Occurs),
        outcome: &mut Described,
    ) {
        let written = |contract: &Contract, id: ElementId| -> Vec<String> {
            let all = contract.schemas.elements[id].constraints.iter();
            let all = all.map(|id| &contract.schemas.constraints[*id]);
            let paths = |constraint: &charter_schema::IdentityConstraint| {
                let paths = constraint.selector.iter().chain(&constraint.fields);
                paths.map(|path| path.text.as_str()).collect::<Vec<_>>().join(" | ")
            };
            all.map(|constraint| format!("{:?} {}", constraint.kind, paths(constraint))).collect()
        };
        if written(self.old, old.0) != written(self.new, new.0) {
            let words = "its identity constraints are others";
            let component = Component::Element(new.0);
            let rule = ("identity-changed", Aspect::Identity);
            let difference = self.at_element(old, new, component, rule, words.into(), Effect::UNDECIDED);
            outcome.differences.push(difference);
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
fn standing_under(kind: &str, from: &QName, to: &QName) -> String {
    match from.local == to.local {
        true => moved(kind, from, to),
        false => format!("{}{IN_ITS_PLACE}", another_name(kind, &from.local, &to.local)),
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
    pair(&crate::names::borrow(old), &crate::names::borrow(new))
}

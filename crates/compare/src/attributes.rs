//! Compares the attributes of types.

use charter_contract::{Component, Contract};
use charter_notation as notation;
use charter_schema::{Attribute, Builtin, Wildcard};
use charter_source::{QName, nearest};

use crate::moved::moved;
use crate::names::{self, Alike, borrow, renamed};
use crate::report::{Aspect, Confidence, Difference, Effect};
use crate::types::{Described, Pair, Types, value_change};

impl Types<'_> {
    /// Compares the attributes of two types.
    pub(crate) fn attributes(&self, pair: Pair, outcome: &mut Described) {
        let (was, old_any) = self.old.schemas.attributes(pair.old);
        let (is, new_any) = self.new.schemas.attributes(pair.new);
        if let Some((words, effect)) = wildcard_change(old_any.as_ref(), new_any.as_ref()) {
            outcome.differences.push(self.at_pair(
                pair,
                "wildcard-changed",
                Aspect::OtherAttributes,
                words.into(),
                effect,
            ));
        }
        let keys = |all: &'_ [Attribute<'_>]| -> Vec<(String, usize)> {
            all.iter().enumerate().map(|(at, attribute)| (attribute.name.to_string(), at)).collect()
        };
        let (both, mut gone, mut come) = names::pair(&borrow(&keys(&was)), &borrow(&keys(&is)));
        for (old, new) in both {
            self.kept_attribute(&was[old], &is[new], outcome);
        }
        self.renamed_attributes((&was, &mut gone), (&is, &mut come), outcome);
        for was in gone.into_iter().map(|at| &was[at]) {
            let message = format!("the attribute \"@{}\" is gone", was.name.local);
            let effect = if was.required { Effect::GONE_REQUIRED } else { Effect::GONE_OPTIONAL };
            let aspect = Aspect::Attribute(was.name.clone());
            let rule = "attribute-removed";
            outcome.differences.push(self.at_attribute((Some(was), None), rule, message, aspect, effect));
        }
        for is in come.into_iter().map(|at| &is[at]) {
            let words = if is.required { "is new and must be there" } else { "is new" };
            let message = format!("the attribute \"@{}\" {words}", is.name.local);
            let effect = if is.required { Effect::NEW_REQUIRED } else { Effect::NEW_OPTIONAL };
            let aspect = Aspect::Attribute(is.name.clone());
            let rule = "attribute-added";
            outcome.differences.push(self.at_attribute((None, Some(is)), rule, message, aspect, effect));
        }
    }

    /// An attribute that both versions have.
    fn kept_attribute(&self, was: &Attribute<'_>, is: &Attribute<'_>, outcome: &mut Described) {
        let name = &is.name.local;
        let mut add = |rule, message, effect| {
            let aspect = Aspect::Attribute(is.name.clone());
            outcome.differences.push(self.at_attribute((Some(was), Some(is)), rule, message, aspect, effect));
        };
        match (was.required, is.required) {
            (false, true) => {
                let effect = Effect { demanded: true, ..Effect::LESS };
                add("attribute-required", format!("\"@{name}\" must now be there"), effect)
            }
            (true, false) => {
                add("attribute-optional", format!("\"@{name}\" may now be left out"), Effect::MORE)
            }
            _ => {}
        }
        if let Some((rule, words, effect)) = value_change(was.value, is.value, "is left out") {
            add(rule, format!("\"@{name}\" {words}"), effect);
        }
        let from = (Component::Attribute(was.decl), Component::Attribute(is.decl));
        self.attribute_values(is.name, self.pair(was.ty, is.ty, Some(from)), outcome);
    }

    /// Takes pairs of an old and a new attribute out of the lists that are one under another name: those of the same type,
    /// and then those whose names are alike.
    fn renamed_attributes(
        &self,
        (was, gone): (&[Attribute<'_>], &mut Vec<usize>),
        (is, come): (&[Attribute<'_>], &mut Vec<usize>),
        outcome: &mut Described,
    ) {
        let fixed = |a: usize, b: usize| was[a].required == is[b].required && was[a].value == is[b].value;
        let by_type = |a: usize, b: usize| fixed(a, b) && self.same_values(&was[a], &is[b]);
        let by_name =
            |a: usize, b: usize| fixed(a, b) && nearest(&was[a].name.local, [&*is[b].name.local]).is_some();
        let alike = renamed(gone, come, &[&by_type]);
        let mut others = renamed(gone, come, &[&by_name]);
        others.iter_mut().for_each(|other| other.confidence = Confidence::Possible);
        for Alike { old, new, confidence } in alike.into_iter().chain(others) {
            let (old, new) = (&was[old], &is[new]);
            let message = match old.name.local == new.name.local {
                true => moved("", old.name, new.name).replacen('"', "\"@", 1),
                false => format!("\"@{}\" is now \"@{}\"", old.name.local, new.name.local),
            };
            let aspect = Aspect::AttributeNames(old.name.clone(), new.name.clone());
            let effect = Effect { demanded: new.required, ..Effect::OTHER };
            let both = (Some(old), Some(new));
            let difference = self.at_attribute(both, "attribute-renamed", message, aspect, effect);
            outcome.differences.push(Difference { confidence: Some(confidence), ..difference });
            let from = (Component::Attribute(old.decl), Component::Attribute(new.decl));
            self.attribute_values(new.name, self.pair(old.ty, new.ty, Some(from)), outcome);
        }
    }

    /// Whether two attributes have one type, by whatever name.
    fn same_values(&self, old: &Attribute<'_>, new: &Attribute<'_>) -> bool {
        let (was, is) = (&self.old.schemas.types[old.ty].name, &self.new.schemas.types[new.ty].name);
        if was.is_some() && was == is {
            return true;
        }
        let built_in = |id| Builtin::from_id(id).is_some();
        !built_in(old.ty) && !built_in(new.ty) && self.same_types(old.ty, new.ty)
    }

    /// A difference of an attribute that one version has, or both have.
    fn at_attribute(
        &self,
        (was, is): (Option<&Attribute<'_>>, Option<&Attribute<'_>>),
        rule: &'static str,
        message: String,
        aspect: Aspect,
        effect: Effect,
    ) -> Difference {
        let line = |contract: &Contract, own: &Attribute<'_>| {
            let mark = if own.required { "" } else { "?" };
            format!("@{}: {}{mark}", own.name.local, notation::type_name(contract, own.ty))
        };
        let place =
            |contract: &Contract, own: &Attribute<'_>| contract.schemas.attribute_decls[own.decl].place;
        let path = |contract: &Contract, own: &Attribute<'_>| {
            contract.path(Component::Attribute(own.decl)).to_string()
        };
        let of_old = || was.map(|was| path(self.old, was));
        Difference {
            path: is.map(|is| path(self.new, is)).or_else(of_old).unwrap_or_default(),
            rule,
            message,
            aspect,
            effect,
            old: was.map(|was| line(self.old, was)),
            new: is.map(|is| line(self.new, is)),
            old_place: was.map(|was| place(self.old, was)),
            new_place: is.map(|is| place(self.new, is)),
            confidence: None,
        }
    }

    /// What differs between the values of an attribute.
    fn attribute_values(&self, name: &QName, pair: Pair, outcome: &mut Described) {
        let (Some(was), Some(is)) = (self.old.schemas.simple(pair.old), self.new.schemas.simple(pair.new))
        else {
            return;
        };
        let mut values = Described::default();
        self.values(pair, &was, &is, &mut values);
        outcome.differences.extend(
            values
                .differences
                .into_iter()
                .map(|difference| Difference { aspect: Aspect::Attribute(name.clone()), ..difference }),
        );
    }
}

/// What a change of the wildcard for attributes means.
fn wildcard_change(was: Option<&Wildcard>, is: Option<&Wildcard>) -> Option<(&'static str, Effect)> {
    match (was, is) {
        (None, None) => None,
        (None, Some(_)) => Some(("it may now carry other attributes", Effect::NEW_OPTIONAL)),
        (Some(_), None) => Some(("it may no longer carry other attributes", Effect::LESS)),
        (Some(was), Some(is)) => {
            let same = was.namespaces == is.namespaces && was.process == is.process;
            (!same).then_some(("its wildcard lets in other attributes than before", Effect::UNDECIDED))
        }
    }
}

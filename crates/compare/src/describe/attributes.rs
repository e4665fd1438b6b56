//! Compares the attributes of types.

use charter_contract::{Component, Contract};
use charter_schema::{Attribute, Builtin, Wildcard};
use charter_source::{QName, nearest};

use crate::describe::names::{self, Alike, borrow, renamed};
use crate::describe::types::{Described, Pair, Types, value_change};
use crate::difference::{Aspect, Difference};
use crate::effect::Effect;
use crate::kind::Kind;
use crate::line::Line;
use crate::report::Confidence;
use crate::versions::Subject;
use crate::what::{Missing, Thing, What};

impl Types<'_> {
    /// Compares the attributes of two types.
    pub(crate) fn attributes(&self, pair: Pair, outcome: &mut Described) {
        let (was, old_any) = self.old.schemas.attributes(pair.old);
        let (is, new_any) = self.new.schemas.attributes(pair.new);
        if let Some((what, effect)) = wildcard_change(old_any.as_ref(), new_any.as_ref()) {
            let what = (Kind::WildcardChanged, what);
            outcome.differences.push(self.at_pair(pair, what, Aspect::OtherAttributes, effect));
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
            let effect = if was.required { Effect::GONE_REQUIRED } else { Effect::GONE_OPTIONAL };
            let aspect = Aspect::Attribute(was.name.clone());
            let what = (Kind::AttributeRemoved, What::AttributeGone { name: was.name.local.to_string() });
            outcome.differences.push(self.at_attribute((Some(was), None), what, aspect, effect));
        }
        for is in come.into_iter().map(|at| &is[at]) {
            let name = is.name.local.to_string();
            let (what, effect) = match is.required {
                true => (What::AttributeDemanded { name }, Effect::NEW_REQUIRED),
                false => (What::AttributeNew { name }, Effect::NEW_OPTIONAL),
            };
            let aspect = Aspect::Attribute(is.name.clone());
            let what = (Kind::AttributeAdded, what);
            outcome.differences.push(self.at_attribute((None, Some(is)), what, aspect, effect));
        }
    }

    /// An attribute that both versions have.
    fn kept_attribute(&self, was: &Attribute<'_>, is: &Attribute<'_>, outcome: &mut Described) {
        let name = || is.name.local.to_string();
        let mut add = |what, effect| {
            let aspect = Aspect::Attribute(is.name.clone());
            outcome.differences.push(self.at_attribute((Some(was), Some(is)), what, aspect, effect));
        };
        match (was.required, is.required) {
            (false, true) => {
                let effect = Effect { demanded: true, ..Effect::LESS };
                add((Kind::AttributeRequired, What::AttributeMust { name: name() }), effect)
            }
            (true, false) => {
                add((Kind::AttributeOptional, What::AttributeMay { name: name() }), Effect::MORE)
            }
            _ => {}
        }
        if let Some((what, effect)) =
            value_change(&format!("@{}", name()), was.value, is.value, Missing::LeftOut)
        {
            add(what, effect);
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
            let what = (Kind::AttributeRenamed, What::renamed(Thing::Attribute, old.name, new.name));
            let aspect = Aspect::AttributeNames(old.name.clone(), new.name.clone());
            let effect = Effect { demanded: new.required, ..Effect::OTHER };
            let both = (Some(old), Some(new));
            let difference = self.at_attribute(both, what, aspect, effect);
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
        what: (Kind, What),
        aspect: Aspect,
        effect: Effect,
    ) -> Difference {
        let line =
            |own: &Attribute<'_>| Line::Attribute { decl: own.decl, ty: own.ty, required: own.required };
        let place =
            |contract: &Contract, own: &Attribute<'_>| contract.schemas.attribute_decls[own.decl].place;
        let decl = |own: &Attribute<'_>| Component::Attribute(own.decl);
        let of_old = was.map(|was| Subject::old(decl(was)));
        let subject = is.map(|is| Subject::new(decl(is))).or(of_old);
        let subject = subject.unwrap_or(Subject::new(Component::Contract));
        Difference {
            old: was.map(line),
            new: is.map(line),
            old_place: was.map(|was| place(self.old, was)),
            new_place: is.map(|is| place(self.new, is)),
            ..Difference::of(self.versions(), subject, what, (aspect, effect))
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
fn wildcard_change(was: Option<&Wildcard>, is: Option<&Wildcard>) -> Option<(What, Effect)> {
    match (was, is) {
        (None, None) => None,
        (None, Some(_)) => Some((What::AttributesNow {}, Effect::NEW_OPTIONAL)),
        (Some(_), None) => Some((What::AttributesNoMore {}, Effect::LESS)),
        (Some(was), Some(is)) => {
            let same = was.namespaces == is.namespaces && was.process == is.process;
            (!same).then_some((What::AttributesWildcard {}, Effect::UNDECIDED))
        }
    }
}

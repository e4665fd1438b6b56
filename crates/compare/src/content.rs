//! Compares content models.

use charter_contract::{Component, Contract};
use charter_notation as notation;
use charter_schema::{Compositor, ElementId, Occurs};
use charter_source::QName;

use crate::model::{Model, content};
use crate::report::{Difference, Effect};
use crate::types::{Outcome, Pair, Types};

/// An element with its occurrence, as a side of a difference.
type Member = (ElementId, Occurs);
/// A member with its place in the list that it stands in.
type Placed = (usize, Member);

impl Types<'_> {
    /// Compares the contents of two complex types.
    pub(crate) fn contents(&self, pair: Pair, outcome: &mut Outcome) {
        let (old, old_all) = content(&self.old.schemas, pair.old);
        let (new, new_all) = content(&self.new.schemas, pair.new);
        let (was, is) = (self.old.schemas.is_mixed(pair.old), self.new.schemas.is_mixed(pair.new));
        match (was, is) {
            (false, true) => outcome.differences.push(self.at_pair(
                pair,
                "mixed-changed",
                "text may now stand between the elements".into(),
                Effect::MORE,
            )),
            (true, false) => outcome.differences.push(self.at_pair(
                pair,
                "mixed-changed",
                "no text may stand between the elements any more".into(),
                Effect::LESS,
            )),
            _ => {}
        }
        if old_all != new_all && old.len() > 1 && new.len() > 1 {
            let (words, effect) = match new_all {
                true => ("the elements may now come in any order", Effect::MORE),
                false => ("the elements must now come in order", Effect::LESS),
            };
            outcome.differences.push(self.at_pair(pair, "order-changed", words.into(), effect));
        }
        let ordered = !(old_all && new_all);
        self.list(pair, &old, &new, ordered, outcome);
    }

    /// Compares what follows each other, or stands in any order.
    fn list(&self, pair: Pair, old: &[Model], new: &[Model], ordered: bool, outcome: &mut Outcome) {
        let (old_elements, old_others) = parted(old);
        let (new_elements, new_others) = parted(new);
        let old_keys = keys(self.old, &old_elements);
        let new_keys = keys(self.new, &new_elements);
        let (both, mut gone, mut come) = crate::names::pair(&borrowed(&old_keys), &borrowed(&new_keys));
        if ordered {
            self.order(pair, &both, outcome);
        }
        for (was, is) in both {
            self.kept(was.1, is.1, outcome);
        }
        self.renamed(&mut gone, &mut come, outcome);
        gone.into_iter().for_each(|(_, member)| outcome.differences.push(self.gone(member)));
        come.into_iter().for_each(|(_, member)| outcome.differences.push(self.come(member)));
        self.others(pair, &old_others, &new_others, outcome);
    }

    /// Says if elements that both versions have changed places.
    fn order(&self, pair: Pair, both: &[(Placed, Placed)], outcome: &mut Outcome) {
        let mut last = None;
        for (_, (at, (element, _))) in both {
            if last.is_some_and(|last| *at < last) {
                let name = &self.new.schemas.elements[*element].name.local;
                let message = format!("\"{name}\" changed its place among the others");
                outcome.differences.push(self.at_pair(pair, "order-changed", message, Effect::OTHER));
                return;
            }
            last = Some(*at);
        }
    }

    /// An element that both versions have.
    fn kept(&self, old: Member, new: Member, outcome: &mut Outcome) {
        let name = &self.new.schemas.elements[new.0].name.local;
        let component = Component::Element(new.0);
        if let Some((rule, words, effect)) = occurrence_change(old.1, new.1) {
            let message = format!("\"{name}\" {words}");
            outcome.differences.push(self.at_element(old, new, component, rule, message, effect));
        }
        self.declarations(old, new, outcome);
    }

    /// Takes pairs of an old and a new element out of the lists that are one element under another name: the
    /// same type and occurrence, the only ones of their kind.
    fn renamed(&self, gone: &mut Vec<Placed>, come: &mut Vec<Placed>, outcome: &mut Outcome) {
        let mut kept = Vec::new();
        for (at, old) in gone.drain(..) {
            let fits = |(_, new): &Placed| new.1 == old.1 && self.same_type(old.0, new.0);
            // Of several that fit, the one at the same place.
            let found = come
                .iter()
                .enumerate()
                .filter(|(_, new)| fits(new))
                .min_by_key(|(_, (place, _))| place.abs_diff(at))
                .map(|(index, _)| index);
            let Some(index) = found else {
                kept.push((at, old));
                continue;
            };
            let (_, new) = come.remove(index);
            let (was, is) = (&self.old.schemas.elements[old.0].name, &self.new.schemas.elements[new.0].name);
            let message = renaming(was, is);
            let component = Component::Element(new.0);
            outcome.differences.push(self.at_element(
                old,
                new,
                component,
                "element-renamed",
                message,
                Effect::OTHER,
            ));
            self.declarations(old, new, outcome);
        }
        *gone = kept;
    }

    /// Whether two elements have types of one name.
    fn same_type(&self, old: ElementId, new: ElementId) -> bool {
        let name = |contract: &Contract, id: ElementId| {
            let ty = contract.schemas.element_type(id);
            contract.schemas.types[ty].name.clone()
        };
        let (old, new) = (name(self.old, old), name(self.new, new));
        old.is_some() && old == new
    }

    fn gone(&self, (element, occurs): Member) -> Difference {
        let declared = &self.old.schemas.elements[element];
        Difference {
            path: self.old.path(Component::Element(element)).to_string(),
            rule: "element-removed",
            message: format!("\"{}\" is gone", declared.name.local),
            effect: if occurs.optional() { Effect::GONE_OPTIONAL } else { Effect::GONE_REQUIRED },
            old: Some(notation::field(self.old, element, occurs)),
            new: None,
            old_place: Some(declared.place),
            new_place: None,
        }
    }

    fn come(&self, (element, occurs): Member) -> Difference {
        let declared = &self.new.schemas.elements[element];
        let words =
            if occurs.optional() { "is new, and may be left out" } else { "is new, and must be there" };
        Difference {
            path: self.new.path(Component::Element(element)).to_string(),
            rule: "element-added",
            message: format!("\"{}\" {words}", declared.name.local),
            effect: if occurs.optional() { Effect::NEW_OPTIONAL } else { Effect::NEW_REQUIRED },
            old: None,
            new: Some(notation::field(self.new, element, occurs)),
            old_place: None,
            new_place: Some(declared.place),
        }
    }

    /// Compares groups and wildcards, in the order in which they come.
    fn others(&self, pair: Pair, old: &[&Model], new: &[&Model], outcome: &mut Outcome) {
        if old.len() != new.len() {
            // A choice that came or went is a change of the content that only an automaton could judge.
            let undecidable = "the content is built differently: whether messages still fit was not decided";
            outcome.differences.push(self.at_pair(
                pair,
                "content-changed",
                undecidable.into(),
                Effect::UNDECIDED,
            ));
            return;
        }
        for (was, is) in old.iter().zip(new) {
            match (was, is) {
                (
                    Model::Group { compositor: a, members: old, occurs: was },
                    Model::Group { compositor: b, members: new, occurs: is },
                ) if a == b => {
                    if let Some((rule, words, effect)) = occurrence_change(*was, *is) {
                        let message = format!("the {} {words}", a.name());
                        outcome.differences.push(self.at_pair(pair, rule, message, effect));
                    }
                    match a {
                        Compositor::Choice => self.choice(pair, old, new, outcome),
                        Compositor::Sequence => self.list(pair, old, new, true, outcome),
                        Compositor::All => self.list(pair, old, new, false, outcome),
                    }
                }
                (
                    Model::Any { namespaces: a, process: p, occurs: was },
                    Model::Any { namespaces: b, process: q, occurs: is },
                ) => {
                    if let Some((rule, words, effect)) = occurrence_change(*was, *is) {
                        outcome.differences.push(self.at_pair(
                            pair,
                            rule,
                            format!("the wildcard {words}"),
                            effect,
                        ));
                    }
                    if a != b || p != q {
                        let words = "the wildcard lets in other elements than before";
                        outcome.differences.push(self.at_pair(
                            pair,
                            "wildcard-changed",
                            words.into(),
                            Effect::UNDECIDED,
                        ));
                    }
                }
                _ => {
                    let words =
                        "the content is built differently: whether messages still fit was not decided";
                    outcome.differences.push(self.at_pair(
                        pair,
                        "content-changed",
                        words.into(),
                        Effect::UNDECIDED,
                    ));
                }
            }
        }
    }

    /// Compares the alternatives of a choice: a new one may be sent where it was not known before.
    fn choice(&self, pair: Pair, old: &[Model], new: &[Model], outcome: &mut Outcome) {
        let (old_elements, old_others) = parted(old);
        let (new_elements, new_others) = parted(new);
        let old_keys = keys(self.old, &old_elements);
        let new_keys = keys(self.new, &new_elements);
        let (both, mut gone, mut come) = crate::names::pair(&borrowed(&old_keys), &borrowed(&new_keys));
        for (was, is) in both {
            self.kept(was.1, is.1, outcome);
        }
        self.renamed(&mut gone, &mut come, outcome);
        for (_, member) in gone {
            let mut difference = self.gone(member);
            difference.rule = "choice-removed";
            difference.effect = Effect::LESS;
            outcome.differences.push(difference);
        }
        for (_, member) in come {
            let mut difference = self.come(member);
            difference.rule = "choice-added";
            difference.message =
                format!("\"{}\" is a new alternative", self.new.schemas.elements[member.0].name.local);
            difference.effect = Effect::MORE;
            outcome.differences.push(difference);
        }
        self.others(pair, &old_others, &new_others, outcome);
    }
}

/// How an occurrence changed.
fn occurrence_change(was: Occurs, is: Occurs) -> Option<(&'static str, String, Effect)> {
    if was == is {
        return None;
    }
    let at_most = |max: Option<u32>| max.unwrap_or(u32::MAX);
    let more = is.min < was.min || at_most(is.max) > at_most(was.max);
    let less = is.min > was.min || at_most(is.max) < at_most(was.max);
    let mut words = Vec::new();
    match (was.min, is.min) {
        (0, now) if now > 0 => words.push("must now be there".to_owned()),
        (then, 0) if then > 0 => words.push("may now be left out".to_owned()),
        (then, now) if then != now => words.push(format!("must be there {now} times, not {then}")),
        _ => {}
    }
    if was.max != is.max {
        words.push(match is.max {
            None => "may now be repeated without end".to_owned(),
            Some(1) => "may no longer be repeated".to_owned(),
            Some(now) => format!("may now be there {now} times"),
        });
    }
    let rule = if less { "occurrence-tightened" } else { "occurrence-loosened" };
    let effect = Effect { more, less, ..Effect::UNDECIDED };
    Some((rule, words.join(" and "), Effect { undecided: false, ..effect }))
}

/// A change of name in words.
pub(crate) fn renaming(was: &QName, is: &QName) -> String {
    if was.local == is.local {
        return format!(
            "\"{}\" moved from the namespace \"{}\" to \"{}\"",
            is.local, was.namespace, is.namespace
        );
    }
    format!("\"{}\" is now \"{}\"", was.local, is.local)
}

/// The elements of a list with their places in it, and the rest.
fn parted(models: &[Model]) -> (Vec<Placed>, Vec<&Model>) {
    let mut elements = Vec::new();
    let mut others = Vec::new();
    for (at, model) in models.iter().enumerate() {
        match model {
            Model::Element { element, occurs } => elements.push((at, (*element, *occurs))),
            other => others.push(other),
        }
    }
    (elements, others)
}

fn keys(contract: &Contract, elements: &[Placed]) -> Vec<(String, Placed)> {
    let name = |id: ElementId| contract.schemas.elements[id].name.to_string();
    elements.iter().map(|member| (name(member.1.0), *member)).collect()
}

fn borrowed<T: Copy>(keys: &[(String, T)]) -> Vec<(&str, T)> {
    keys.iter().map(|(key, member)| (key.as_str(), *member)).collect()
}

//! Whether the content of a restriction is one of its base type (Part 1, 3.9.6, cos-particle-restrict, and the
//! `rcase-*` constraints that it is made of).

use charter_source::Place;

use super::particles::{occurs, range_ok, total};
use super::{Judge, named};
use crate::engine::{Model, ModelTerm};
use crate::{Compositor, DerivationSet, ElementId, Occurs, TypeId, ValueConstraint, Wildcard};

/// Why one particle does not restrict another: the clause, and the words.
#[derive(Debug, Clone)]
struct Refusal {
    rule: &'static str,
    message: String,
    /// The particle of the restriction that it is about.
    node: Option<u32>,
}

type Outcome = Result<(), Refusal>;

fn refuse(rule: &'static str, node: Option<u32>, message: impl Into<String>) -> Outcome {
    Err(Refusal { rule, message: message.into(), node })
}

/// A particle as it is compared: what is pointless is gone, and substitution groups are choices.
#[derive(Debug, Clone)]
struct Part {
    occurs: Occurs,
    what: What,
    node: Option<u32>,
}

#[derive(Debug, Clone)]
enum What {
    Element(ElementId),
    Any(Wildcard),
    Group(Compositor, Vec<Part>),
}

impl Judge<'_> {
    /// Judges the content of a restriction against that of its base; both have particles.
    pub(super) fn particle_restricts(&mut self, id: TypeId, base: TypeId, place: Place) {
        let engine = self.engine;
        let (Some(model), Some(old)) = (engine.model(id).cloned(), engine.model(base).cloned()) else {
            return;
        };
        if let Err(refusal) = self.compared(&model, &old) {
            let rule = refusal.rule;
            self.refused(rule, refusal, &model, place);
        }
    }

    /// Judges one content model against another, under a clause that asks for a restriction.
    pub(super) fn model_restricts(&mut self, rule: &'static str, model: &Model, old: &Model, place: Place) {
        if let Err(refusal) = self.compared(model, old) {
            self.refused(rule, refusal, model, place);
        }
    }

    fn compared(&self, model: &Model, old: &Model) -> Outcome {
        let comparison = Comparison { judge: self, model };
        // Text between no elements is an empty sequence.
        let empty =
            Part { occurs: Occurs::ONCE, what: What::Group(Compositor::Sequence, Vec::new()), node: None };
        let part = |model: &Model| model.root.and_then(|root| comparison.part(model, root));
        let (new, old) = (part(model).unwrap_or_else(|| empty.clone()), part(old).unwrap_or(empty));
        comparison.restricts(&new, &old)
    }

    fn refused(&mut self, rule: &'static str, refusal: Refusal, model: &Model, place: Place) {
        let at = refusal.node.map(|node| self.node_place(model, node));
        let at = at.filter(|at| *at != Place::default()).unwrap_or(place);
        self.say(rule, at, refusal.message, "allow no more than before, in the same order");
    }
}

struct Comparison<'j> {
    judge: &'j Judge<'j>,
    model: &'j Model,
}

impl Comparison<'_> {
    /// A node without what is pointless in it; `None` if nothing is left.
    fn part(&self, model: &Model, id: u32) -> Option<Part> {
        let node = &model.nodes[id as usize];
        let range = occurs(model, id);
        let what = match &node.term {
            ModelTerm::Element { element, global, .. } => match self.substitutes(*element, *global) {
                members if members.is_empty() => What::Element(*element),
                members => {
                    let alone =
                        |member| Part { occurs: Occurs::ONCE, what: What::Element(member), node: Some(id) };
                    What::Group(Compositor::Choice, members.into_iter().map(alone).collect())
                }
            },
            ModelTerm::Any(any) => What::Any(any.clone()),
            ModelTerm::Group(group) => {
                let mut parts = Vec::new();
                for member in &group.members {
                    let Some(part) = self.part(model, *member) else { continue };
                    match part.what {
                        // A group in a group of its kind, occurring once, says nothing of its own.
                        What::Group(inner, members)
                            if inner == group.compositor
                                && part.occurs == Occurs::ONCE
                                && inner != Compositor::All =>
                        {
                            parts.extend(members);
                        }
                        _ => parts.push(part),
                    }
                }
                let void = match group.compositor {
                    Compositor::Choice => parts.is_empty() && range.min == 0,
                    _ => parts.is_empty(),
                };
                if void {
                    return None;
                }
                if parts.len() == 1 && range == Occurs::ONCE {
                    return parts.pop();
                }
                What::Group(group.compositor, parts)
            }
        };
        Some(Part { occurs: range, what, node: Some(id) })
    }

    /// The elements that may stand where a global one is referred to, itself among them; none if no other may.
    fn substitutes(&self, head: ElementId, global: bool) -> Vec<ElementId> {
        let engine = self.judge.engine;
        if !global || !engine.has_substitutes() || engine.relatives().substitutes(head).is_empty() {
            return Vec::new();
        }
        let mut members = Vec::new();
        if !engine.schemas.elements[head].is_abstract {
            members.push(head);
        }
        let mut waiting = engine.relatives().substitutes(head).to_vec();
        while let Some(member) = waiting.pop() {
            waiting.extend(engine.relatives().substitutes(member));
            if !engine.schemas.elements[member].is_abstract
                && engine.heads(member).iter().any(|(_, it)| *it == head)
            {
                members.push(member);
            }
        }
        if members == [head] {
            return Vec::new();
        }
        // Both sides list them in one order.
        members.sort_by_key(|member| member.index());
        members
    }

    fn restricts(&self, new: &Part, old: &Part) -> Outcome {
        use Compositor::{All, Choice, Sequence};
        match (&new.what, &old.what) {
            (What::Element(a), What::Element(b)) => self.name_and_type(new, *a, old, *b),
            (What::Element(a), What::Any(any)) => self.ns_compatible(new, *a, old, any),
            (What::Element(..), What::Group(compositor, _)) => {
                let group = Part {
                    occurs: Occurs::ONCE,
                    what: What::Group(*compositor, vec![new.clone()]),
                    node: new.node,
                };
                self.restricts_group(&group, old).map_err(|refusal| Refusal {
                    rule: rule_of_group(&refusal, "rcase-RecurseAsIfGroup"),
                    ..refusal
                })
            }
            (What::Any(any), What::Any(base)) => self.ns_subset(new, any, old, base),
            (What::Any(_), _) => refuse(
                "cos-particle-restrict",
                new.node,
                "a wildcard stands where the base type names its elements",
            ),
            (What::Group(_, members), What::Any(_)) => self.ns_recurse(new, members, old),
            (What::Group(..), What::Element(id)) => {
                let name = named(&self.judge.engine.schemas.elements[*id].name);
                let message = format!("several elements stand where the base type has only {name}");
                refuse("cos-particle-restrict", new.node, message)
            }
            (What::Group(a, _), What::Group(b, _)) => match (a, b) {
                (All, All) | (Sequence, _) | (Choice, Choice) => self.restricts_group(new, old),
                _ => {
                    let message = format!("a {} cannot restrict a {}", a.name(), b.name());
                    refuse("cos-particle-restrict", new.node, message)
                }
            },
        }
    }

    fn restricts_group(&self, new: &Part, old: &Part) -> Outcome {
        use Compositor::{All, Choice, Sequence};
        let (What::Group(a, parts), What::Group(b, base)) = (&new.what, &old.what) else { return Ok(()) };
        match (a, b) {
            (All, All) | (Sequence, Sequence) => self.recurse(new, parts, old, base),
            (Sequence, All) => self.recurse_unordered(new, parts, old, base),
            (Choice, Choice) => self.recurse_lax(new, parts, old, base),
            (Sequence, Choice) => self.map_and_sum(new, parts, old, base),
            _ => refuse("cos-particle-restrict", new.node, "the two are put together in different ways"),
        }
    }

    fn in_range(&self, rule: &'static str, new: &Part, range: Occurs, old: Occurs) -> Outcome {
        if range_ok(range, old) {
            return Ok(());
        }
        let words = |occurs: Occurs| match occurs.max {
            Some(max) if max == occurs.min => format!("exactly {max}"),
            Some(max) => format!("{} to {max}", occurs.min),
            None => format!("{} or more", occurs.min),
        };
        let message =
            format!("this may occur {} times, and only {} in the base type", words(range), words(old));
        refuse(rule, new.node, message)
    }

    /// rcase-NameAndTypeOK.
    fn name_and_type(&self, new: &Part, id: ElementId, old: &Part, base: ElementId) -> Outcome {
        const RULE: &str = "rcase-NameAndTypeOK";
        let schemas = self.judge.engine.schemas;
        let (declared, before) = (&schemas.elements[id], &schemas.elements[base]);
        let name = named(&declared.name);
        if declared.name != before.name {
            let message = format!("{name} stands where the base type has {}", named(&before.name));
            return refuse(RULE, new.node, message);
        }
        self.in_range(RULE, new, new.occurs, old.occurs)?;
        if id == base {
            return Ok(());
        }
        if declared.nillable && !before.nillable {
            return refuse(RULE, new.node, format!("{name} is nillable, and is not in the base type"));
        }
        if let Some(ValueConstraint::Fixed(fixed)) = before.value.as_deref() {
            let ty = schemas.element_type(base);
            let same = matches!(declared.value.as_deref(), Some(ValueConstraint::Fixed(text)) if self.judge.same_value(ty, text, fixed));
            if !same {
                return refuse(
                    RULE,
                    new.node,
                    format!("the value of {name} is fixed to \"{fixed}\" in the base type"),
                );
            }
        }
        let known = |constraint: &crate::ConstraintId| before.constraints.contains(constraint);
        if !declared.constraints.iter().all(known) {
            return refuse(
                RULE,
                new.node,
                format!("{name} has an identity constraint that it does not have in the base type"),
            );
        }
        let (block, had) = (declared.block, before.block);
        let covers = (!had.extension || block.extension)
            && (!had.restriction || block.restriction)
            && (!had.substitution || block.substitution);
        if !covers {
            return refuse(RULE, new.node, format!("{name} blocks less than in the base type"));
        }
        let forbidden =
            DerivationSet { extension: true, list: true, union: true, ..DerivationSet::default() };
        let (ty, base_type) = (schemas.element_type(id), schemas.element_type(base));
        if !schemas.may_stand_for(ty, base_type, forbidden) {
            let message = format!(
                "the type of {name} is no restriction of {}, its type in the base type",
                self.judge.type_name(base_type)
            );
            return refuse(RULE, new.node, message);
        }
        Ok(())
    }

    /// rcase-NSCompat.
    fn ns_compatible(&self, new: &Part, id: ElementId, old: &Part, any: &Wildcard) -> Outcome {
        let name = &self.judge.engine.schemas.elements[id].name;
        if !any.namespaces.allows(&name.namespace) {
            let message = format!("the wildcard of the base type does not let in {}", named(name));
            return refuse("rcase-NSCompat", new.node, message);
        }
        self.in_range("rcase-NSCompat", new, new.occurs, old.occurs)
    }

    /// rcase-NSSubset.
    fn ns_subset(&self, new: &Part, any: &Wildcard, old: &Part, base: &Wildcard) -> Outcome {
        self.in_range("rcase-NSSubset", new, new.occurs, old.occurs)?;
        if !any.namespaces.within(&base.namespaces) {
            return refuse(
                "rcase-NSSubset",
                new.node,
                "this wildcard lets in elements that the base type does not",
            );
        }
        if !any.process.covers(base.process) {
            return refuse(
                "rcase-NSSubset",
                new.node,
                "this wildcard judges elements less strictly than the base type",
            );
        }
        Ok(())
    }

    /// rcase-NSRecurseCheckCardinality.
    fn ns_recurse(&self, new: &Part, members: &[Part], old: &Part) -> Outcome {
        const RULE: &str = "rcase-NSRecurseCheckCardinality";
        let anything = Part { occurs: Occurs { min: 0, max: None }, ..old.clone() };
        for member in members {
            self.restricts(member, &anything).map_err(|refusal| Refusal { rule: RULE, ..refusal })?;
        }
        // The choice that stands for a substitution group is one element.
        let range = new.node.map_or(new.occurs, |node| total(self.model, node));
        self.in_range(RULE, new, range, old.occurs)
    }

    /// rcase-Recurse: in the same order, leaving out only what may be left out.
    fn recurse(&self, new: &Part, parts: &[Part], old: &Part, base: &[Part]) -> Outcome {
        const RULE: &str = "rcase-Recurse";
        self.in_range(RULE, new, new.occurs, old.occurs)?;
        let mut left = base.iter();
        for part in parts {
            let mut refusal = None;
            loop {
                let Some(candidate) = left.next() else {
                    return Err(refusal.unwrap_or_else(|| self.nothing_left(RULE, part)));
                };
                match self.restricts(part, candidate) {
                    Ok(()) => break,
                    Err(found) if self.emptiable(candidate) => refusal = refusal.or(Some(found)),
                    Err(found) => return Err(found),
                }
            }
        }
        match left.find(|part| !self.emptiable(part)) {
            Some(missing) => refuse(
                RULE,
                new.node,
                format!("{} is missing, which the base type requires", self.words(missing)),
            ),
            None => Ok(()),
        }
    }

    fn nothing_left(&self, rule: &'static str, part: &Part) -> Refusal {
        let message = format!("the base type has nothing here for {}", self.words(part));
        Refusal { rule, message, node: part.node }
    }

    /// rcase-RecurseUnordered: each to one of its own.
    fn recurse_unordered(&self, new: &Part, parts: &[Part], old: &Part, base: &[Part]) -> Outcome {
        const RULE: &str = "rcase-RecurseUnordered";
        self.in_range(RULE, new, new.occurs, old.occurs)?;
        let mut taken = vec![false; base.len()];
        for part in parts {
            let found = (0..base.len()).find(|at| self.restricts(part, &base[*at]).is_ok());
            match found {
                Some(at) if !taken[at] => taken[at] = true,
                Some(_) => {
                    return refuse(
                        RULE,
                        part.node,
                        format!("{} stands twice, and once in the base type", self.words(part)),
                    );
                }
                None => return Err(self.nothing_left(RULE, part)),
            }
        }
        let missing = base.iter().zip(&taken).find(|(part, taken)| !**taken && !self.emptiable(part));
        match missing {
            Some((missing, _)) => refuse(
                RULE,
                new.node,
                format!("{} is missing, which the base type requires", self.words(missing)),
            ),
            None => Ok(()),
        }
    }

    /// rcase-RecurseLax: in the same order, leaving out what is not wanted.
    fn recurse_lax(&self, new: &Part, parts: &[Part], old: &Part, base: &[Part]) -> Outcome {
        const RULE: &str = "rcase-RecurseLax";
        self.in_range(RULE, new, new.occurs, old.occurs)?;
        let mut left = base.iter();
        for part in parts {
            if !left.any(|candidate| self.restricts(part, candidate).is_ok()) {
                return Err(self.nothing_left(RULE, part));
            }
        }
        Ok(())
    }

    /// rcase-MapAndSum: each is one of the choices, and all together are no more than the choice may stand for.
    fn map_and_sum(&self, new: &Part, parts: &[Part], old: &Part, base: &[Part]) -> Outcome {
        const RULE: &str = "rcase-MapAndSum";
        for part in parts {
            if !base.iter().any(|candidate| self.restricts(part, candidate).is_ok()) {
                return Err(self.nothing_left(RULE, part));
            }
        }
        let count = u32::try_from(parts.len()).unwrap_or(u32::MAX);
        let range = new.occurs.within(Occurs { min: count, max: Some(count) });
        self.in_range(RULE, new, range, old.occurs)
    }

    /// cos-group-emptiable.
    fn emptiable(&self, part: &Part) -> bool {
        part.occurs.min == 0
            || match &part.what {
                What::Group(Compositor::Choice, parts) => {
                    parts.is_empty() || parts.iter().any(|part| self.emptiable(part))
                }
                What::Group(_, parts) => parts.iter().all(|part| self.emptiable(part)),
                _ => false,
            }
    }

    /// What a particle stands for, in words.
    fn words(&self, part: &Part) -> String {
        match &part.what {
            What::Element(id) => named(&self.judge.engine.schemas.elements[*id].name),
            What::Any(_) => "a wildcard".into(),
            What::Group(compositor, _) => format!("a {}", compositor.name()),
        }
    }
}

/// The clause to name where a single element was compared as if it were a group: that of the group, unless the
/// element itself is at fault.
fn rule_of_group(refusal: &Refusal, rule: &'static str) -> &'static str {
    match refusal.rule {
        "rcase-Recurse" | "rcase-RecurseLax" | "rcase-RecurseUnordered" => rule,
        other => other,
    }
}

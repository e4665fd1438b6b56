//! Identity constraints that the other side has: whether they can concern any instance of the first side at all
//! (Part 1, 3.11).

use charter_source::{QName, Set};

use super::content::attributes_of;
use super::{Inclusion, Judged};
use crate::engine::Engine;
use crate::valid::{Test, Way, XPath};
use crate::{ConstraintKind, ElementId, IdentityConstraint, TypeId};

/// Elements that a path may lead to.
#[derive(Default)]
struct Selected {
    found: Vec<Judged>,
    /// Whether something that no declaration describes may be among them.
    open: bool,
}

impl Inclusion<'_> {
    /// The constraints of a declaration of the other side that this side does not hold to, and that may concern it.
    pub(super) fn new_constraints(&self, a: Option<ElementId>, b: Option<ElementId>) -> Vec<String> {
        let known = written(self.sub, a);
        let all = b.map_or(&[][..], |id| &self.sup.schemas.elements[id].constraints);
        let new = all.iter().map(|id| &self.sup.schemas.constraints[*id]).filter(|constraint| {
            let text = shown(self.sup, constraint);
            let held = known.iter().any(|own| {
                // Where a key holds, what is unique holds as well; the reverse is not so.
                *own == text
                    || text.strip_prefix("unique").is_some_and(|rest| own.strip_prefix("key") == Some(rest))
            });
            !held && a.is_none_or(|a| self.concerns(constraint, a))
        });
        new.map(|constraint| constraint.name.local.to_string()).collect()
    }

    /// Whether any instance of an element of this side has something that the constraint speaks of.
    fn concerns(&self, constraint: &IdentityConstraint, element: ElementId) -> bool {
        let path = |written, field| self.sup.xpath(written, field).ok();
        let Some(selector) = constraint.selector.as_ref().and_then(|written| path(written, false)) else {
            return true;
        };
        let selected = self.selected(&selector, Judged::Element(element));
        // One alone is not the same as another; with the value that is asked for, it is all right.
        if constraint.kind != ConstraintKind::KeyRef && self.at_most_one(&selector, element) {
            let simple =
                |judged: &Judged| self.type_of(*judged).is_some_and(|ty| self.sub.datatype(ty).is_some());
            let nil = |judged: &Judged| matches!(judged, Judged::Element(id) if self.sub.schemas.elements[*id].nillable);
            let own_value = constraint.fields.iter().all(|field| field.text.trim() == ".");
            if constraint.kind == ConstraintKind::Unique
                || (own_value && selected.found.iter().all(|judged| simple(judged) && !nil(judged)))
            {
                return false;
            }
        }
        if selected.open || constraint.kind == ConstraintKind::Key {
            return selected.open || !selected.found.is_empty();
        }
        // What has no value in one of its fields is let alone.
        constraint.fields.iter().all(|field| {
            let Some(field) = path(field, true) else { return true };
            selected.found.iter().any(|from| self.has_field(&field, *from))
        })
    }

    /// Whether a selector of single steps leads to no more than one element.
    fn at_most_one(&self, selector: &XPath, element: ElementId) -> bool {
        let [way] = selector.ways.as_slice() else { return false };
        if way.anywhere || way.steps.len() > 1 {
            return false;
        }
        let Some(step) = way.steps.first() else { return true };
        let ty = self.sub.schemas.element_type(element);
        if self.children_of(Judged::Element(element)).open || !self.sub.relatives().derived(ty).is_empty() {
            return false;
        }
        let all = self.sub.schemas.children(ty);
        let fitting = all.iter().filter(|(id, _)| {
            let heads = super::aligned::stand_ins(self.sub, *id);
            std::iter::once(*id).chain(heads).any(|id| fits(step, &self.sub.schemas.elements[id].name))
        });
        let most = fitting.map(|(_, occurs)| u64::from(occurs.max.unwrap_or(u32::MAX))).sum::<u64>();
        most <= 1
    }

    fn has_field(&self, path: &XPath, from: Judged) -> bool {
        path.ways.iter().any(|way| {
            let ends = self.led(way, from);
            let Some(test) = &way.attribute else { return ends.open || !ends.found.is_empty() };
            ends.open || ends.found.iter().any(|end| attributes_of(self.sub, *end, &|name| fits(test, name)))
        })
    }

    fn selected(&self, path: &XPath, from: Judged) -> Selected {
        let mut all = Selected::default();
        for way in &path.ways {
            let one = self.led(way, from);
            all.open |= one.open;
            all.found.extend(one.found);
        }
        all
    }

    fn led(&self, way: &Way, from: Judged) -> Selected {
        let mut here = Selected { found: vec![from], open: false };
        if way.anywhere {
            let mut seen: Set<Judged> = here.found.iter().copied().collect();
            let mut at = 0;
            while at < here.found.len() {
                let children = self.children_of(here.found[at]);
                here.open |= children.open;
                here.found
                    .extend(children.found.into_iter().map(|it| it.1).filter(|judged| seen.insert(*judged)));
                at += 1;
            }
        }
        for step in &way.steps {
            let mut next = Selected { found: Vec::new(), open: here.open };
            for judged in &here.found {
                let children = self.children_of(*judged);
                next.open |= children.open;
                for (name, child) in children.found {
                    if fits(step, &name) && !next.found.contains(&child) {
                        next.found.push(child);
                    }
                }
            }
            here = next;
        }
        here
    }

    fn children_of(&self, judged: Judged) -> Children {
        let mut children = Children::default();
        let Some(ty) = self.type_of(judged) else {
            children.open = true;
            return children;
        };
        let mut waiting = vec![ty];
        while let Some(ty) = waiting.pop() {
            waiting.extend(self.sub.relatives().derived(ty));
            self.children_of_type(ty, &mut children);
        }
        children
    }

    fn type_of(&self, judged: Judged) -> Option<TypeId> {
        match judged {
            Judged::Element(id) => Some(self.sub.schemas.element_type(id)),
            Judged::Type(ty) => Some(ty),
            _ => None,
        }
    }

    fn children_of_type(&self, ty: TypeId, children: &mut Children) {
        if self.sub.schemas.is_any(ty) {
            children.open = true;
            return;
        }
        let Some(model) = self.sub.model(ty) else { return };
        for leaf in (0..model.nodes.len() as u32).filter_map(|node| model.leaf(node)) {
            match leaf {
                crate::Leaf::Element(id) => children.found.extend(self.standing_there(id)),
                crate::Leaf::Any(_) => children.open = true,
            }
        }
    }
}

#[derive(Default)]
struct Children {
    found: Vec<(QName, Judged)>,
    open: bool,
}

fn fits(test: &Test, name: &QName) -> bool {
    test.fits(&name.namespace, &name.local)
}

fn written(engine: &Engine<'_>, id: Option<ElementId>) -> Vec<String> {
    let ids = id.map_or(&[][..], |id| &engine.schemas.elements[id].constraints);
    ids.iter().map(|id| shown(engine, &engine.schemas.constraints[*id])).collect()
}

/// A constraint with its prefixes resolved.
fn shown(engine: &Engine<'_>, constraint: &IdentityConstraint) -> String {
    let selector = constraint.selector.iter().map(|path| format!("{:?}", engine.xpath(path, false)));
    let fields = constraint.fields.iter().map(|path| format!("{:?}", engine.xpath(path, true)));
    let paths: Vec<String> = selector.chain(fields).collect();
    let refer = constraint.refer.as_ref().and_then(|refer| refer.name.as_ref());
    let refer = refer.map(|name| name.local.to_string()).unwrap_or_default();
    let kind = match constraint.kind {
        ConstraintKind::Unique => "unique",
        ConstraintKind::Key => "key",
        ConstraintKind::KeyRef => "keyref",
    };
    format!("{kind} {} {refer}", paths.join(" | "))
}

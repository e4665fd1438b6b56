//! Identity constraints that the other side has: whether they can concern any instance of the first side at all
//! (Part 1, 3.11).

use std::sync::Arc;

use charter_source::{QName, Set};

use super::content::attributes_of;
use super::{Assessment, Inclusion, meaning};
use crate::engine::Engine;
use crate::xpath::{Path, Test, XPath};
use crate::{ConstraintKind, ElementId, IdentityConstraint, TypeId};

/// What may be a field of an identity constraint, by its name.
#[derive(Default)]
pub(super) struct Fields {
    elements: Vec<Test>,
    /// The elements among them that belong to a key.
    of_keys: Vec<Test>,
    attributes: Vec<Test>,
}

/// Elements that a path may lead to.
#[derive(Default)]
struct Selected {
    found: Vec<Assessment>,
    /// Whether something that no declaration describes may be among them.
    open: bool,
}

impl Fields {
    pub(super) fn of(engine: &Engine<'_>) -> Fields {
        let mut fields = Fields::default();
        for (_, constraint) in engine.schemas.constraints.iter() {
            let selector = constraint.selector.as_ref().and_then(|path| engine.xpath(path, false).ok());
            let paths = constraint.fields.iter().filter_map(|path| engine.xpath(path, true).ok());
            for way in paths.flat_map(|path| path.paths) {
                if let Some(attribute) = way.attribute {
                    fields.attributes.push(attribute);
                    continue;
                }
                let ends = match (way.steps.last(), &selector) {
                    (Some(end), _) => vec![end.clone()],
                    // The selected element is the field itself; where no step selects it, it is any.
                    (None, Some(selector)) => selector
                        .paths
                        .iter()
                        .map(|way| way.steps.last().cloned().unwrap_or(Test::Any))
                        .collect(),
                    (None, None) => vec![Test::Any],
                };
                if constraint.kind == ConstraintKind::Key {
                    fields.of_keys.extend(ends.iter().cloned());
                }
                fields.elements.extend(ends);
            }
        }
        fields
    }
}

impl Inclusion<'_> {
    fn fields(&self) -> &Fields {
        self.fields.get_or_init(|| Fields::of(self.sup))
    }

    /// Whether an element may be a field for the other side whose values it would find equal where this side does not, or
    /// which would have no value for it.
    pub(super) fn other_field(&self, sub: Assessment, sup: Assessment) -> bool {
        let fields = self.fields();
        // What has no name of its own may be any field; but there must be one.
        if fields.elements.is_empty() {
            return false;
        }
        let element = |judged, engine: &Engine<'_>| match judged {
            Assessment::Element(id) => Some(engine.schemas.elements[id].name.clone()),
            _ => None,
        };
        let name = element(sub, self.sub).or_else(|| element(sup, self.sup));
        if !name.is_none_or(|name| fields.elements.iter().any(|test| fits(test, &name))) {
            return false;
        }
        let (Some(sub), Some(sup)) = (type_of(self.sub, sub), type_of(self.sup, sup)) else { return true };
        let mut waiting = vec![sub];
        while let Some(ty) = waiting.pop() {
            let relatives = self.sub.relatives();
            waiting.extend(relatives.derived(ty));
            // A derived type stands for itself where both know it, by its name.
            let known = self.sub.schemas.types[ty].name.as_ref().filter(|_| ty != sub);
            let other = known.map_or(Some(sup), |name| self.sup.schemas.type_named(name));
            if other.is_some_and(|other| self.compares_otherwise(ty, other)) {
                return true;
            }
        }
        false
    }

    /// Whether an attribute may be a field for the other side.
    pub(super) fn may_be_attribute_field(&self, name: &QName) -> bool {
        self.fields().attributes.iter().any(|test| fits(test, name))
    }

    /// Whether an element of the other side may be a field of a key.
    pub(super) fn may_be_key(&self, id: Option<ElementId>) -> bool {
        let name = id.map(|id| &self.sup.schemas.elements[id].name);
        name.is_some_and(|name| self.fields().of_keys.iter().any(|test| fits(test, name)))
    }

    /// Whether what differs as a value of one type may be equal as one of the other, or no value at all.
    fn compares_otherwise(&self, sub: TypeId, sup: TypeId) -> bool {
        match (self.sub.datatype(sub), self.sup.datatype(sup)) {
            (Some(a), Some(b)) => meaning::change(a, b).is_some(),
            (Some(_), None) => true,
            _ => false,
        }
    }

    /// The constraints of a declaration of the other side that this side does not hold to, and that may concern it.
    pub(super) fn new_constraints(&self, a: Option<ElementId>, b: Option<ElementId>) -> Vec<String> {
        let known = written(self.sub, a);
        let all = b.map_or(&[][..], |id| &self.sup.schemas.elements[id].constraints);
        let new = all.iter().map(|id| &self.sup.schemas.constraints[*id]).filter(|constraint| {
            let other = Written::of(self.sup, constraint);
            let held = known.iter().any(|own| own.implies(&other));
            !held && a.is_none_or(|a| self.concerns(constraint, a))
        });
        new.map(|constraint| constraint.name.local.to_string()).collect()
    }

    /// Whether any instance of an element of this side has something that the constraint speaks of.
    fn concerns(&self, constraint: &IdentityConstraint, element: ElementId) -> bool {
        let path = |written: &_, field| self.sup.xpath(written, field).ok();
        let Some(selector) = constraint.selector.as_ref().and_then(|written| path(written, false)) else {
            return true;
        };
        let selected = self.selected(&selector, Assessment::Element(element));
        // One alone is not the same as another; with the value that is asked for, it is all right.
        if constraint.kind != ConstraintKind::KeyRef && self.at_most_one(&selector, element) {
            let simple = |judged: &Assessment| {
                type_of(self.sub, *judged).is_some_and(|ty| self.sub.datatype(ty).is_some())
            };
            let nil = |judged: &Assessment| matches!(judged, Assessment::Element(id) if self.sub.schemas.elements[*id].nillable);
            let own_value = constraint.fields.iter().all(|field| field.text.trim() == ".");
            // What has elements is no value at all, also of one alone (Part 1, 3.11.4, 3).
            let is_valued = |written: &_| {
                path(written, true).is_some_and(|field| {
                    selected.found.iter().all(|from| {
                        let ways = field.paths.iter().filter(|way| way.attribute.is_none());
                        ways.into_iter().all(|way| self.led(way, *from).found.iter().all(simple))
                    })
                })
            };
            if (constraint.kind == ConstraintKind::Unique && constraint.fields.iter().all(is_valued))
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
        let [way] = selector.paths.as_slice() else { return false };
        if way.anywhere || way.steps.len() > 1 {
            return false;
        }
        let Some(step) = way.steps.first() else { return true };
        let ty = self.sub.schemas.element_type(element);
        if self.children_of(Assessment::Element(element)).open || !self.sub.relatives().derived(ty).is_empty()
        {
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

    fn has_field(&self, path: &XPath, from: Assessment) -> bool {
        path.paths.iter().any(|way| {
            let ends = self.led(way, from);
            let Some(test) = &way.attribute else { return ends.open || !ends.found.is_empty() };
            ends.open || ends.found.iter().any(|end| attributes_of(self.sub, *end, &|name| fits(test, name)))
        })
    }

    fn selected(&self, path: &XPath, from: Assessment) -> Selected {
        let mut all = Selected::default();
        for way in &path.paths {
            let one = self.led(way, from);
            all.open |= one.open;
            all.found.extend(one.found);
        }
        all
    }

    fn led(&self, way: &Path, from: Assessment) -> Selected {
        let mut here = Selected { found: vec![from], open: false };
        if way.anywhere {
            let mut seen: Set<Assessment> = here.found.iter().copied().collect();
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

    fn children_of(&self, judged: Assessment) -> Children {
        let mut children = Children::default();
        let Some(ty) = type_of(self.sub, judged) else {
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
    found: Vec<(QName, Assessment)>,
    open: bool,
}

fn type_of(engine: &Engine<'_>, judged: Assessment) -> Option<TypeId> {
    match judged {
        Assessment::Element(id) => Some(engine.schemas.element_type(id)),
        Assessment::Type(ty) => Some(ty),
        _ => None,
    }
}

fn fits(test: &Test, name: &QName) -> bool {
    test.fits(&name.namespace, &name.local)
}

fn written(engine: &Engine<'_>, id: Option<ElementId>) -> Vec<Written> {
    let ids = id.map_or(&[][..], |id| &engine.schemas.elements[id].constraints);
    ids.iter().map(|id| Written::of(engine, &engine.schemas.constraints[*id])).collect()
}

/// What a constraint says, its prefixes resolved.
struct Written {
    kind: ConstraintKind,
    /// The selector and the fields; one that makes no sense is none, and the same as nothing.
    paths: Vec<Option<XPath>>,
    /// The local name of the key that it refers to.
    refer: Option<Arc<str>>,
}

impl Written {
    fn of(engine: &Engine<'_>, constraint: &IdentityConstraint) -> Written {
        let selector = constraint.selector.iter().map(|path| engine.xpath(path, false).ok());
        let fields = constraint.fields.iter().map(|path| engine.xpath(path, true).ok());
        let refer = constraint.refer.as_ref().and_then(|refer| refer.name.as_ref());
        Written {
            kind: constraint.kind,
            paths: selector.chain(fields).collect(),
            refer: refer.map(|name| name.local.clone()),
        }
    }

    /// Whether whatever holds to this constraint holds to the other. Where a key holds, what is unique holds as well; the
    /// reverse is not so.
    fn implies(&self, other: &Written) -> bool {
        let kinds = self.kind == other.kind
            || (self.kind, other.kind) == (ConstraintKind::Key, ConstraintKind::Unique);
        kinds && self.refer == other.refer && self.paths == other.paths
    }
}

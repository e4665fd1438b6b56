//! What goes by another name, and is told by how it is built: operations, faults, header blocks.

use charter_contract::{Body, Carrier, Component, Contract, HeaderBlock, OperationId, Side, WireElement};
use charter_schema::ElementId;
use charter_source::{QName, Set, nearest};

use crate::comparison::{Both, Comparison};
use crate::describe::names::{Alike, MOST_LOOKED_AT, renamed};
use crate::effect::Effect;
use crate::kind::Kind;
use crate::messages::shapes::element_name;
use crate::report::{Because, Confidence, Touched, Verdict, Witness};
use crate::versions::{SideOf, Version};
use crate::what::{Thing, What};

impl Comparison<'_> {
    /// Takes pairs of operations out of the lists that are one under two names, elements and action included: those that are
    /// built the same, if that or their names tell them from the others.
    pub(crate) fn rebuilt_operations(&mut self, gone: &mut Vec<OperationId>, come: &mut Vec<OperationId>) {
        let few = gone.len() * come.len() <= MOST_LOOKED_AT;
        let mut found = Vec::new();
        gone.retain(|was| {
            let from = &self.old.operation(*was).name.text;
            let is_named = |is: &OperationId| nearest(from, [&*self.new.operation(*is).name.text]).is_some();
            // Of very many, only those that have a name to speak for them.
            let looked = come.iter().copied().filter(|is| few || is_named(is));
            let fitting: Vec<OperationId> = looked.filter(|is| self.built_alike(*was, *is)).collect();
            let named: Vec<OperationId> = fitting.iter().copied().filter(is_named).collect();
            let (is, confidence) = match (fitting.as_slice(), named.as_slice()) {
                ([is], _) => (*is, Confidence::Sure),
                (_, [is]) => (*is, Confidence::Likely),
                _ => return true,
            };
            come.retain(|other| *other != is);
            found.push((*was, is, confidence));
            false
        });
        for (was, is, confidence) in found {
            let from = self.old.operation(was).name.text.to_string();
            let to = self.new.operation(is).name.text.to_string();
            let what = (Kind::OperationRenamed, What::OperationRenamed { from, to });
            let components = (Component::Operation(was), Component::Operation(is));
            let sides = self.old.sides(was).into_iter();
            let gone = |side| SideOf { version: Version::Old, operation: was, side };
            let touched = sides.map(|side| Touched { at: gone(side), verdict: Verdict::Breaks }).collect();
            self.ledger.renamed(Verdict::Breaks, what, components, confidence).operations = touched;
            self.show_unknown(was);
        }
    }

    /// Shows by the least request of an operation of the old version that no operation of the new one takes it.
    pub(crate) fn show_unknown(&mut self, id: OperationId) {
        let at = SideOf { version: Version::Old, operation: id, side: Side::Input };
        let body = self.least_body(at, None).flatten();
        let known = self.request_names.get_or_init(|| self.all_request_names());
        if body.and_then(|body| body_name(&body)).is_some_and(|name| !known.contains(&name)) {
            self.show_side(at, Because::NoOperation(Version::New));
        }
    }

    /// Shows by the least message of a side what one version alone has; with the last change.
    pub(crate) fn show_side(&mut self, at: SideOf, because: Because) {
        let Some(body) = self.least_body(at, None) else { return };
        let (accepted_by, refused) = (at.version, Vec::new());
        let witness = Witness { at, accepted_by, body, refused, because, misread: false };
        if let Some(change) = self.ledger.all.last_mut() {
            change.witness = Some(witness);
        }
    }

    /// What the bodies of the requests of the new version begin with.
    fn all_request_names(&self) -> Set<String> {
        let mut names = Set::default();
        for (id, _) in self.new.operations() {
            for offer in self.new.bound(id) {
                let Ok(shape) = self.new.shape_of(id, Side::Input, offer) else { continue };
                let Carrier::Soap(soap) = &shape.carrier else { continue };
                names.extend(match &soap.body {
                    Body::Elements(all) => {
                        all.first().map(|first| element_name(self.new, first).local.to_string())
                    }
                    Body::Wrapper { name, .. } => Some(name.local.to_string()),
                    Body::Content(_) => None,
                });
            }
        }
        names
    }

    /// Whether the messages of two operations are built the same, whatever they begin with.
    fn built_alike(&self, was: OperationId, is: OperationId) -> bool {
        let sides = |contract: &Contract, id: OperationId| -> Vec<Side> {
            contract.sides(id).into_iter().filter(|side| !matches!(side, Side::Fault(_))).collect()
        };
        let (old, new) = (sides(self.old, was), sides(self.new, is));
        let elements = |(a, b): (&Side, &Side)| {
            let pair = (body_element(self.old, was, *a), body_element(self.new, is, *b));
            a == b && matches!(pair, (Some(a), Some(b)) if self.sent.types.same_build(a, b))
        };
        !old.is_empty() && old.len() == new.len() && old.iter().zip(&new).all(elements)
    }

    /// Takes pairs of faults out of the lists that are one under two names: those with one element in their details, then
    /// those whose elements are built the same.
    pub(crate) fn renamed_faults(
        &mut self,
        both: Both,
        gone: &mut Vec<Side>,
        come: &mut Vec<Side>,
    ) -> Vec<(Side, Side)> {
        let detail = |was: Side, is: Side| {
            let is_fault = |side| matches!(side, Side::Fault(_));
            let elements = (body_element(self.old, both.0, was), body_element(self.new, both.1, is));
            match elements {
                (Some(a), Some(b)) if is_fault(was) && is_fault(is) => Some((a, b)),
                _ => None,
            }
        };
        let names = |(a, b): (ElementId, ElementId)| {
            (self.old.schemas.elements[a].name.clone(), self.new.schemas.elements[b].name.clone())
        };
        let same_name = |was, is| detail(was, is).map(names).is_some_and(|(was, is)| was == is);
        let same_build = |was, is| detail(was, is).is_some_and(|(a, b)| self.sent.types.same_build(a, b));
        let tests: [&dyn Fn(Side, Side) -> bool; 2] = [&same_name, &same_build];
        let found = renamed(gone, come, &tests);
        for Alike { old, new, confidence } in &found {
            let (from, to) = (fault_name(self.old, both.0, *old), fault_name(self.new, both.1, *new));
            self.sides.old_faults.insert((both.1, *new), from.clone());
            // An element that is renamed with its fault says so itself.
            let elements = detail(*old, *new).map(names);
            if elements.is_some_and(|(was, is)| was != is && *was.local == *from && *is.local == *to) {
                continue;
            }
            let operation = self.new.operation(both.1).name.text.to_string();
            let what = (Kind::FaultRenamed, What::FaultRenamed { from, to, operation });
            let was = Component::OperationSide(both.0, *old);
            let is = Component::OperationSide(both.1, *new);
            self.ledger.renamed(Verdict::Keeps, what, (was, is), *confidence);
        }
        found.into_iter().map(|alike| (alike.old, alike.new)).collect()
    }

    /// Takes pairs of header blocks out of the lists that are one under two names: those that are built the same.
    pub(crate) fn renamed_headers(
        &mut self,
        (both, side): (Both, Side),
        (old, gone): (&[HeaderBlock], &mut Vec<usize>),
        (new, come): (&[HeaderBlock], &mut Vec<usize>),
    ) {
        let same_build = |was: usize, is: usize| match (&old[was].content, &new[is].content) {
            (WireElement::Declared(a), WireElement::Declared(b)) => self.sent.types.same_build(*a, *b),
            _ => false,
        };
        for Alike { old: was, new: is, confidence } in renamed(gone, come, &[&same_build]) {
            let (was, is) = (&old[was], &new[is]);
            let name = |contract: &Contract, block: &HeaderBlock| -> QName {
                element_name(contract, &block.content)
            };
            let (from, to) = (name(self.old, was), name(self.new, is));
            let what = (Kind::HeaderRenamed, What::renamed(Thing::Header, &from, &to));
            let blocks = (Some(was), Some(is));
            self.header(both, side, (what, Some(confidence)), Effect::OTHER, blocks);
        }
    }
}

/// What a fault is called; nothing if it has no name.
pub(crate) fn fault_name(contract: &Contract, id: OperationId, side: Side) -> String {
    let name = contract.operation(id).side(side).and_then(|usage| usage.name.as_ref());
    name.map_or_else(String::new, |name| name.text.to_string())
}

/// The element that the body of a message holds, if it is one alone.
fn body_element(contract: &Contract, id: OperationId, side: Side) -> Option<ElementId> {
    if let Some(offer) = contract.bound(id).next()
        && let Ok(shape) = contract.shape_of(id, side, offer)
        && let Some(Body::Elements(elements)) = shape.soap().map(|soap| &soap.body)
    {
        return match elements.as_slice() {
            [WireElement::Declared(element)] => Some(*element),
            _ => None,
        };
    }
    let message = contract.operation(id).side(side)?.message.target?;
    match contract.messages[message].parts.as_slice() {
        [part] => part.element.as_ref()?.target,
        _ => None,
    }
}

/// The local name that a body begins with.
fn body_name(body: &str) -> Option<String> {
    let rest = body.strip_prefix('<')?;
    let name = rest.split(|c: char| c.is_whitespace() || matches!(c, '>' | '/')).next()?;
    Some(name.rsplit(':').next().unwrap_or(name).to_owned())
}

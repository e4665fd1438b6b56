//! Operations, ports, actions and header blocks.

use charter_author::component_named;
use charter_compare::{Change, Version};
use charter_contract::{Component, OperationId};
use charter_notation::{ElementInfo, Value};
use charter_source::QName;

use super::proposal::{Both, Proposal, Proposer};
use crate::amend::Amendment;
use crate::spot::Spot;
use crate::way::{Remedy, Respect, Step};

impl<'c> Proposer<'c> {
    /// Actions as they were.
    pub(super) fn actions(&self, change: &Change, is: Spot<'c>) -> Option<Proposal> {
        let subjects = match change.members.as_slice() {
            [] => std::slice::from_ref(&change.subject),
            members => members,
        };
        let mut amendments = Vec::new();
        for subject in subjects {
            let Some(extent) = self.new.extent(subject.component) else { continue };
            let bound = Spot::at(self.new, extent).and_then(soap_operation);
            let Some((is, was)) = bound.and_then(|is| Some((is, is.counterpart(self.old)?))) else {
                continue;
            };
            let Some(like) = was.info() else { continue };
            let names = &["soapAction"];
            amendments.push((is.unit().place(), Amendment::Attributes { of: is.id(), names, like }));
        }
        let proposal = self.edited(Remedy::AsItWas(Respect::Action), is, Vec::new())?;
        let proposal = Proposal { amendments, ..proposal };
        let action = proposal.amendments.first().and_then(|(_, amendment)| match amendment {
            Amendment::Attributes { like, .. } => like.text("soapAction").map(str::to_owned),
            _ => None,
        });
        Some(match (subjects, action) {
            ([subject], Some(value)) => Proposal {
                component: subject.component,
                step: Step::Set { key: "action", value },
                ..proposal
            },
            _ => proposal,
        })
    }

    /// The ports that lead to what changed, as they were, and the new ones beside them under other names.
    pub(super) fn port_beside(&self, change: &Change, is: Spot<'c>) -> Option<Proposal> {
        let touched: Vec<_> = change.operations.iter().map(|it| it.at).collect();
        let binds = |binding: &charter_contract::Binding| {
            binding.extent == is.unit().place()
                || touched.iter().any(|at| {
                    at.version == Version::New && binding.port_type.target == Some(at.operation.port_type)
                })
        };
        let mut amendments = Vec::new();
        let mut taken = Vec::new();
        let mut beside: Vec<ElementInfo> = Vec::new();
        let mut names = Vec::new();
        let mut first = None;
        for (_, service) in self.new.services.iter() {
            for port in &service.ports {
                let Some(binding) = port.binding.target.map(|id| &self.new.bindings[id]) else { continue };
                let Some(now) = Spot::at(self.new, port.extent).filter(|_| binds(binding)) else { continue };
                let Some(was) = now.counterpart(self.old) else { continue };
                let (mut old_port, mut new_port) = (was.info()?, now.info()?);
                let bound = old_port.named("binding")?.clone();
                let old_binding = self.old.bindings.iter().find(|(_, it)| it.name == bound)?.1;
                let mut info = Spot::at(self.old, old_binding.extent)?.info()?;
                // The new version may have another binding of that name.
                let name = free_name(&bound.local, "Before", |name| {
                    self.new.bindings.iter().any(|(_, it)| *it.name.local == *name)
                });
                let renamed = QName::new(&bound.namespace, &name);
                info.set("name", Value::Text(name));
                old_port.set("binding", Value::name(&renamed));
                let own = now.node.attribute("name")?.to_owned();
                let other =
                    free_name(&own, "Next", |name| service.ports.iter().any(|it| *it.name.text == *name));
                new_port.set("name", Value::Text(other));
                names.push(own);
                let place = now.unit().place();
                let parent = now.parent()?.id();
                amendments.push((
                    place,
                    Amendment::Insert { into: parent, behind: Some(now.id()), info: new_port },
                ));
                amendments.push((place, Amendment::Replace { node: now.id(), by: old_port }));
                taken.push(info.clone());
                if !beside.contains(&info) {
                    beside.push(info);
                }
                first = first.or(Some(now));
            }
        }
        let proposal = self.edited(Remedy::PortBeside(names), first?, Vec::new())?;
        let step = Step::Together;
        Some(Proposal { amendments, taken, beside, step, ..proposal })
    }

    /// An operation that a port left out is bound again.
    pub(super) fn bound_again(&self, change: &Change) -> Option<Proposal> {
        let at = change.operations.first()?.at.operation;
        let name = &self.new.operation(at).name.text;
        let port_type = &self.new.port_types[at.port_type].name;
        let was = self
            .old
            .operations()
            .find(|(id, it)| it.name.text == *name && self.old.port_types[id.port_type].name == *port_type)?;
        let missing = self.bindings_of(was.0).filter(|bound| bound.counterpart(self.new).is_none());
        let missing: Vec<Spot<'c>> = missing.collect();
        let binding = missing.first()?.parent()?.counterpart(self.new)?;
        let mut proposal = self.edited(Remedy::PutBack(vec![name.to_string()]), binding, Vec::new())?;
        missing.into_iter().for_each(|bound| self.bind(&mut proposal, bound));
        Some(proposal)
    }

    /// A header block that goes by another name: the part that it is names what it named, which is taken over with it.
    pub(super) fn header_named(&self, both: Both<'c>) -> Option<Proposal> {
        let part = |header: Spot<'c>| {
            let info = header.info()?;
            let message = component_named(header.contract, "message", info.named("message")?)?;
            let message = Spot::at(header.contract, header.contract.extent(message)?)?;
            message.inside("part").find(|part| part.node.attribute("name") == info.text("part"))
        };
        let (was, is) = (part(both.was)?, part(both.is)?);
        let like = was.info()?;
        let amendment =
            Amendment::Attributes { of: is.id(), names: &["element", "type"], like: like.clone() };
        Some(self.edited(Remedy::AsItWas(Respect::Header), is, vec![amendment])?.taking(like))
    }

    /// A header block that nobody has to send: taken out wherever it is bound so.
    pub(super) fn header_taken_out(&self, change: &Change, is: Spot<'c>) -> Option<Proposal> {
        let own = is.info()?;
        let name = match change.subject.component {
            Component::Element(id) => self.new.schemas.elements[id].name.local.to_string(),
            _ => own.text("part")?.to_owned(),
        };
        let mut amendments = Vec::new();
        let touched = change.operations.iter().map(|touched| touched.at);
        for at in touched.filter(|at| at.version == Version::New) {
            for (_, binding) in self.new.bindings.iter() {
                let is_own = binding.port_type.target == Some(at.operation.port_type);
                let bound =
                    binding.operations.iter().filter(|it| is_own && it.operation == Some(at.operation.index));
                for side in bound.filter_map(|bound| bound.side(at.side)) {
                    let side = Spot::at(self.new, side.extent)?;
                    let place = side.unit().place();
                    // The same block, in whatever version of SOAP.
                    let is_same = |header: &Spot<'c>| {
                        header.info().is_some_and(|info| {
                            info.text("part") == own.text("part")
                                && info.named("message") == own.named("message")
                        })
                    };
                    let headers = side.inside("header").filter(is_same);
                    amendments.extend(headers.map(|it| (place, Amendment::Remove { node: it.id() })));
                }
            }
        }
        let proposal = self.edited(Remedy::TakeOut(vec![name]), is, Vec::new())?;
        let component = match change.operations.as_slice() {
            [one] if one.at.version == Version::New => Component::Operation(one.at.operation),
            _ => proposal.component,
        };
        (!amendments.is_empty()).then_some(Proposal { amendments, component, ..proposal })
    }

    /// An operation that is gone, with its messages and how it is bound.
    pub(super) fn operation(&self, was: Spot<'c>) -> Option<Proposal> {
        let (id, operation) = self.old.operations().find(|(_, it)| was.is_within(it.extent))?;
        let was = Spot::at(self.old, operation.extent)?;
        let info = was.info()?;
        let name = operation.name.text.to_string();
        let (into, insert) = self.inserted(was, info.clone())?;
        let mut proposal = self.edited(Remedy::PutBack(vec![name.clone()]), into, vec![insert])?.taking(info);
        self.bindings_of(id).for_each(|bound| self.bind(&mut proposal, bound));
        let from = self.original.path(Component::Operation(id));
        Some(Proposal { step: Step::Add { from }, ..proposal })
    }

    /// How an operation of the old version is bound.
    fn bindings_of(&self, id: OperationId) -> impl Iterator<Item = Spot<'c>> {
        let bindings = self.old.bindings.iter().map(|(_, it)| it);
        let own = bindings.filter(move |it| it.port_type.target == Some(id.port_type));
        let bound = own.flat_map(|it| &it.operations).filter(move |it| it.operation == Some(id.index));
        bound.filter_map(|it| Spot::at(self.old, it.extent))
    }

    /// Puts back how an operation is bound as well; a binding that is gone has a change of its own.
    fn bind(&self, proposal: &mut Proposal, bound: Spot<'c>) {
        let Some(info) = bound.info() else { return };
        if let Some((into, insert)) = self.inserted(bound, info.clone()) {
            proposal.amendments.push((into.unit().place(), insert));
            proposal.taken.push(info);
        }
    }
}

/// A name that nothing goes by yet, made of another.
fn free_name(name: &str, ending: &str, is_taken: impl Fn(&str) -> bool) -> String {
    let numbered = (2..).map(|number| format!("{name}{ending}{number}"));
    let mut names = std::iter::once(format!("{name}{ending}")).chain(numbered);
    names.find(|name| !is_taken(name)).unwrap_or_default()
}

/// The element of a bound operation that has its action.
fn soap_operation(bound: Spot<'_>) -> Option<Spot<'_>> {
    let mut inside = charter_source::elements(bound.node);
    let node =
        inside.find(|it| it.tag_name().name() == "operation" && it.attribute("soapAction").is_some())?;
    Some(Spot { node, ..bound })
}

//! Operations, ports, actions and header blocks.

use charter_compare::{Change, Version};
use charter_contract::{Component, Side};
use charter_notation::{ElementInfo, Value};
use charter_source::{Place, QName, ns};

use super::proposal::{Proposal, Proposer};
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
        Some(Proposal {
            amendments,
            taken,
            beside: beside.into_iter().map(crate::amend::bare).collect(),
            step,
            ..proposal
        })
    }

    /// An operation that a port left out is bound again.
    pub(super) fn bound_again(&self, change: &Change) -> Option<Proposal> {
        let touched = change.operations.first()?.at;
        let name = &self.new.operation(touched.operation).name.text;
        let mut amendments = Vec::new();
        let mut taken = Vec::new();
        let mut first = None;
        for (_, binding) in self.old.bindings.iter() {
            for bound in binding.operations.iter().filter(|it| *it.name.text == **name) {
                let was = Spot::at(self.old, bound.extent)?;
                if was.counterpart(self.new).is_some() {
                    continue;
                }
                let info = was.info()?;
                taken.push(info.clone());
                if let Some((into, insert)) = self.inserted(was, info) {
                    amendments.push((into.unit().place(), insert));
                    first = first.or(Some(into));
                }
            }
        }
        let proposal = self.edited(Remedy::PutBack(vec![name.to_string()]), first?, Vec::new())?;
        Some(Proposal { amendments, taken, ..proposal })
    }

    /// A header block that nobody has to send: taken out wherever it is bound so.
    pub(super) fn header_taken_out(&self, change: &Change, is: Spot<'c>) -> Option<Proposal> {
        let own = is.info()?;
        let name = change.path.as_str().rsplit('/').next()?.to_owned();
        let mut amendments = Vec::new();
        for (_, binding) in self.new.bindings.iter() {
            let Some(unit) = Spot::at(self.new, binding.extent) else { continue };
            let headers = unit.node.descendants().filter(|node| node.tag_name().name() == "header");
            for node in headers {
                let header = Spot { node, ..unit };
                let is_touched = || {
                    let operation = header.parent()?.parent()?.node.attribute("name")?;
                    let touched = |at: &charter_compare::Touched| {
                        at.at.version == Version::New
                            && *self.new.operation(at.at.operation).name.text == *operation
                            && (at.at.side == Side::Input) == header.parent().is_some_and(is_input)
                    };
                    Some(change.operations.iter().any(touched))
                };
                // The same block, in whatever version of SOAP.
                let is_same = header.info().is_some_and(|info| {
                    info.text("part") == own.text("part") && info.named("message") == own.named("message")
                });
                if is_same && is_touched() == Some(true) {
                    amendments.push((unit.place(), Amendment::Remove { node: header.id() }));
                }
            }
        }
        let proposal = self.edited(Remedy::TakeOut(vec![name]), is, Vec::new())?;
        let operation = change.operations.first()?.at.operation;
        let component = match change.operations.as_slice() {
            [one] if one.at.version == Version::New => Component::Operation(operation),
            _ => proposal.component,
        };
        (!amendments.is_empty()).then_some(Proposal { amendments, component, ..proposal })
    }

    /// An operation that is gone, with its messages and how it is bound.
    pub(super) fn operation(&self, was: Spot<'c>) -> Option<Proposal> {
        let was = was.node.ancestors().find(|it| it.has_tag_name((ns::WSDL, "operation")))?;
        let was = Spot::at(self.old, Place { file: self.file_of(was)?, span: was.range().into() })?;
        let name = was.node.attribute("name")?;
        let component = self.old.operations().find(|(_, it)| *it.name.text == *name)?.0;
        let info = was.info()?;
        let mut taken = vec![info.clone()];
        let (into, insert) = self.inserted(was, info)?;
        let mut proposal = self.edited(Remedy::PutBack(vec![name.to_owned()]), into, vec![insert])?;
        for (_, binding) in self.old.bindings.iter() {
            let is_own = binding.port_type.target == Some(component.port_type);
            let bound =
                binding.operations.iter().filter(|it| is_own && it.operation == Some(component.index));
            for bound in bound {
                let spot = Spot::at(self.old, bound.extent)?;
                let info = spot.info()?;
                taken.push(info.clone());
                if let Some((into, insert)) = self.inserted(spot, info) {
                    proposal.amendments.push((into.unit().place(), insert));
                }
            }
        }
        let from = self.original.path(Component::Operation(component));
        Some(Proposal { taken, step: Step::Add { from }, ..proposal })
    }

    pub(super) fn file_of(&self, node: charter_source::Node<'_>) -> Option<charter_source::FileId> {
        let own = |file: &&charter_source::File| {
            file.root().is_some_and(|root| std::ptr::eq(root.document(), node.document()))
        };
        self.old.files.iter().find(own).map(|file| file.id)
    }
}

/// A name that nothing goes by yet, made of another.
pub(super) fn free_name(name: &str, ending: &str, is_taken: impl Fn(&str) -> bool) -> String {
    let numbered = (2..).map(|number| format!("{name}{ending}{number}"));
    let mut names = std::iter::once(format!("{name}{ending}")).chain(numbered);
    names.find(|name| !is_taken(name)).unwrap_or_default()
}

pub(super) fn is_input(spot: Spot<'_>) -> bool {
    spot.node.has_tag_name((ns::WSDL, "input"))
}

/// The element of a bound operation that has its action.
pub(super) fn soap_operation(bound: Spot<'_>) -> Option<Spot<'_>> {
    let mut inside = charter_source::elements(bound.node);
    let node =
        inside.find(|it| it.tag_name().name() == "operation" && it.attribute("soapAction").is_some())?;
    Some(Spot { node, ..bound })
}

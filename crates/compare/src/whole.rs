//! Whole components that came, went or go by another name: ports, and what a schema declares for all to use.

use charter_contract::{Component, Contract, PortId};
use charter_schema::Owner;
use charter_source::Set;

use crate::names::{borrow, pair};
use crate::operations::{Both, Comparison};
use crate::renames::{self, Paired};
use crate::report::{Change, Confidence, Depends, Touched, Verdict};

impl Comparison<'_> {
    /// How sure the last change is.
    pub(crate) fn say_confidence(&mut self, confidence: Confidence) {
        if let Some(change) = self.changes.last_mut() {
            change.confidence = Some(confidence);
        }
    }

    /// A change of a whole component.
    pub(crate) fn component(
        &mut self,
        verdict: Verdict,
        rule: &'static str,
        message: String,
        was: Option<Component>,
        is: Option<Component>,
    ) {
        let path = match (was, is) {
            (_, Some(is)) => self.new.path(is),
            (Some(was), None) => self.old.path(was),
            (None, None) => self.new.path(Component::Contract),
        };
        self.changes.push(Change {
            path: path.to_string(),
            verdict,
            rule,
            message,
            old: None,
            new: None,
            old_place: was.map(|was| self.old.place(was)),
            new_place: is.map(|is| self.new.place(is)),
            operations: Vec::new(),
            witness: None,
            depends: (verdict == Verdict::Bends).then_some(Depends::Surroundings),
            confidence: None,
            accepted: None,
        });
    }

    /// Says that the last change is about a side.
    pub(crate) fn touch_last(&mut self, both: Both, side: &str) {
        let operation = self.new.operation(both.1).name.text.to_string();
        if let Some(change) = self.changes.last_mut() {
            change.operations.push(Touched { operation, side: side.to_owned(), verdict: change.verdict });
        }
    }

    /// Compares ports: whether they are there, and where.
    pub(crate) fn ports(&mut self) {
        let Paired { both, renamed, gone, come } = self.ports.clone();
        for (was, is) in &renamed {
            let (from, to) = (&self.old.port(*was).name.text, &self.new.port(*is).name.text);
            if from == to {
                self.service_renamed((*was, *is));
                continue;
            }
            let message = format!("the port \"{from}\" is now \"{to}\", at the same address");
            let (was, is) = (Some(Component::Port(*was)), Some(Component::Port(*is)));
            self.component(Verdict::Keeps, "port-renamed", message, was, is);
            self.say_confidence(Confidence::Sure);
        }
        for port in gone {
            let message = format!("the port \"{}\" is gone", self.old.port(port).name.text);
            self.component(Verdict::Breaks, "port-removed", message, Some(Component::Port(port)), None);
        }
        for port in come {
            let message = format!("the port \"{}\" is new", self.new.port(port).name.text);
            self.component(Verdict::Keeps, "port-added", message, None, Some(Component::Port(port)));
        }
        for (old, new) in both {
            let text = |label: Option<&charter_contract::Label>| label.map(|label| label.text.to_string());
            let (was, is) = (text(self.old.port(old).address()), text(self.new.port(new).address()));
            if was != is {
                let message =
                    "the address is another: consumers must be told, or the old one must go on answering";
                let (of_old, of_new) = (Some(Component::Port(old)), Some(Component::Port(new)));
                self.component(Verdict::Bends, "address-changed", message.into(), of_old, of_new);
                if let Some(change) = self.changes.last_mut() {
                    (change.old, change.new) = (was, is);
                }
            }
        }
    }

    /// The services of two ports, if their names tell them apart; each once.
    fn service_renamed(&mut self, (was, is): (PortId, PortId)) {
        let (from, to) = (&self.old.services[was.service].name, &self.new.services[is.service].name);
        let message = format!("the service \"{}\" is now \"{}\", at the same addresses", from.local, to.local);
        if !self.changes.iter().any(|change| change.message == message) {
            let (was, is) = (Component::Service(was.service), Component::Service(is.service));
            self.component(Verdict::Keeps, "service-renamed", message, Some(was), Some(is));
            self.say_confidence(Confidence::Sure);
        }
    }

    /// Global types and elements that came or went. On the wire only their use counts, which is compared
    /// above; but an architect wants to see them.
    pub(crate) fn globals(&mut self) {
        let types = |contract: &Contract| -> Vec<(String, Component)> {
            let own = contract.schemas.own_types();
            own.filter_map(|(id, ty)| Some((ty.name.as_ref()?.to_string(), Component::Type(id)))).collect()
        };
        let elements = |contract: &Contract| -> Vec<(String, Component)> {
            // An element that is a message part comes and goes with its operation or header.
            let parts = contract.messages.iter().flat_map(|(_, message)| &message.parts);
            let in_parts: Set<_> = parts.filter_map(|part| part.element.as_ref()?.target).collect();
            let all = contract.schemas.elements.iter().filter(|(_, element)| element.owner == Owner::Schema);
            all.filter(|(id, element)| !in_parts.contains(id) && !contract.schemas.is_known(element.place))
                .map(|(id, element)| (element.name.to_string(), Component::Element(id)))
                .collect()
        };
        let renamed =
            renames::types(self.old, self.new, &self.sent.survey.inclusion, &self.read.survey.inclusion);
        for (was, is) in &renamed {
            let (from, to) = (&self.old.schemas.types[*was].name, &self.new.schemas.types[*is].name);
            let (Some(from), Some(to)) = (from, to) else { continue };
            let message = match from.local == to.local {
                true => format!(
                    "the type \"{}\" was in the namespace \"{}\" and is in \"{}\"",
                    to.local, from.namespace, to.namespace
                ),
                false => format!("the type \"{}\" is now \"{}\"", from.local, to.local),
            };
            let (was, is) = (Some(Component::Type(*was)), Some(Component::Type(*is)));
            self.component(Verdict::Keeps, "type-renamed", message, was, is);
            self.say_confidence(Confidence::Sure);
        }
        let renamed_now = |component: &Component| match component {
            Component::Type(id) => renamed.iter().any(|(_, is)| is == id),
            _ => false,
        };
        let renamed_then = |component: &Component| match component {
            Component::Type(id) => renamed.iter().any(|(was, _)| was == id),
            _ => false,
        };
        // An element that became a message part, or is one no longer, was there all the time.
        let is_there = |own: &Contract, other: &Contract, component: &Component| match component {
            Component::Element(id) => other.schemas.element_named(&own.schemas.elements[*id].name).is_some(),
            _ => false,
        };
        let kinds = [
            ("type", "type-removed", "type-added", types(self.old), types(self.new)),
            ("element", "element-removed", "element-added", elements(self.old), elements(self.new)),
        ];
        for (kind, removed, added, old, new) in kinds {
            let (_, gone, come) = pair(&borrow(&old), &borrow(&new));
            let lost = |it: &Component| !renamed_then(it) && !is_there(self.old, self.new, it);
            for component in gone.into_iter().filter(lost).collect::<Vec<_>>() {
                let path = self.old.path(component);
                let name = path.as_str().rsplit('/').next().unwrap_or("").to_owned();
                let message = format!("the {kind} \"{name}\" is gone");
                self.component(Verdict::Keeps, removed, message, Some(component), None);
            }
            let found = |it: &Component| !renamed_now(it) && !is_there(self.new, self.old, it);
            for component in come.into_iter().filter(found).collect::<Vec<_>>() {
                let path = self.new.path(component);
                let name = path.as_str().rsplit('/').next().unwrap_or("").to_owned();
                let message = format!("the {kind} \"{name}\" is new");
                self.component(Verdict::Keeps, added, message, None, Some(component));
            }
        }
    }
}

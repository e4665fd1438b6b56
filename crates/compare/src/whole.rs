//! Whole components that came, went or go by another name: ports and services.

use charter_contract::{Component, PortId};

use crate::operations::{Both, Comparison};
use crate::renames::Paired;
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
        let message =
            format!("the service \"{}\" is now \"{}\", at the same addresses", from.local, to.local);
        if !self.changes.iter().any(|change| change.message == message) {
            let (was, is) = (Component::Service(was.service), Component::Service(is.service));
            self.component(Verdict::Keeps, "service-renamed", message, Some(was), Some(is));
            self.say_confidence(Confidence::Sure);
        }
    }
}

//! What generated code sees beside the messages: names that are not on the wire, and the shape of what holds a message.

use charter_contract::{Component, Contract};

use crate::operations::Comparison;
use crate::report::{Depends, Verdict};

/// Kinds of changes after which generated code is other code, though every message still fits.
const SEEN_BY_CODE: &[&str] = &[
    "type-renamed",
    "operation-renamed",
    "port-renamed",
    "part-renamed",
    "port-type-renamed",
    "service-renamed",
    "element-added",
    "element-removed",
    "choice-added",
    "choice-removed",
    "attribute-added",
    "attribute-removed",
    "attribute-required",
    "attribute-optional",
    "occurrence-loosened",
    "occurrence-tightened",
    "order-changed",
    "content-changed",
    "nil-allowed",
    "nil-refused",
    "mixed-changed",
    "abstract-changed",
    "type-changed",
    "value-added",
    "value-removed",
    "wildcard-changed",
    "derived-changed",
    "substitutes-changed",
];

impl Comparison<'_> {
    /// Looks at the names that only code sees, and lets what changes code bend.
    pub(crate) fn code(&mut self) {
        self.part_names();
        self.service_names();
        for change in &mut self.changes {
            // What nothing that was there uses does not change what was generated.
            let of_messages = !change.operations.is_empty() || change.rule.ends_with("-renamed");
            if change.verdict == Verdict::Keeps && of_messages && SEEN_BY_CODE.contains(&change.rule) {
                change.verdict = Verdict::Bends;
                change.depends = Some(Depends::GeneratedCode);
            }
        }
    }

    /// Message parts under other names: code has them as parameters.
    fn part_names(&mut self) {
        for (old, new) in self.operation_pairs() {
            for (was, is) in self.old.sides(old).into_iter().zip(self.new.sides(new)) {
                let message = |contract: &Contract, id, side| {
                    contract.operation(id).side(side).and_then(|usage| usage.message.target)
                };
                let (Some(a), Some(b)) = (message(self.old, old, was), message(self.new, new, is)) else {
                    continue;
                };
                let (before, after) = (&self.old.messages[a].parts, &self.new.messages[b].parts);
                if before.len() != after.len() {
                    continue;
                }
                let renamed: Vec<(usize, String, String)> = before
                    .iter()
                    .zip(after)
                    .enumerate()
                    .filter(|(_, (was, is))| was.element.is_some() && is.element.is_some())
                    .filter(|(_, (was, is))| was.name.text != is.name.text)
                    .map(|(at, (was, is))| (at, was.name.text.to_string(), is.name.text.to_string()))
                    .collect();
                for (at, from, to) in renamed {
                    let words = format!("the part \"{from}\" is now \"{to}\"");
                    let (was, is) = (Component::Part(a, at), Component::Part(b, at));
                    let known = self.new.path(is).to_string();
                    if !self
                        .changes
                        .iter()
                        .any(|change| change.rule == "part-renamed" && change.path == known)
                    {
                        self.component(Verdict::Keeps, "part-renamed", words, Some(was), Some(is));
                    }
                }
            }
        }
    }

    /// Port types and services that have an operation or a port in common, under other names.
    fn service_names(&mut self) {
        let mut found = Vec::new();
        for (old, new) in self.operation_pairs() {
            let (was, is) =
                (&self.old.port_types[old.port_type].name, &self.new.port_types[new.port_type].name);
            if was != is {
                let words = format!("the port type \"{}\" is now \"{}\"", was.local, is.local);
                let components = (Component::PortType(old.port_type), Component::PortType(new.port_type));
                found.push(("port-type-renamed", words, components));
            }
        }
        for (old, new) in self.port_pairs() {
            let (was, is) = (&self.old.services[old.service].name, &self.new.services[new.service].name);
            if was != is {
                let words = format!("the service \"{}\" is now \"{}\"", was.local, is.local);
                let components = (Component::Service(old.service), Component::Service(new.service));
                found.push(("service-renamed", words, components));
            }
        }
        found.dedup_by(|a, b| a.1 == b.1);
        for (rule, words, (was, is)) in found {
            if !self.changes.iter().any(|change| change.rule == rule && change.message == words) {
                self.component(Verdict::Keeps, rule, words, Some(was), Some(is));
            }
        }
    }
}

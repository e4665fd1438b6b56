//! What generated code sees beside the messages: names that are not on the wire, and the shape of what holds a message.

use charter_contract::{Component, Contract, MessageId, OperationId, Side};
use charter_schema::{Compositor, ElementId, Engine, TypeId};
use charter_source::QName;

use crate::comparison::Comparison;
use crate::kind::Kind;
use crate::report::{Depends, Verdict};
use crate::what::{Thing, What};

impl Comparison<'_> {
    /// Looks at the names that only code sees, and lets what changes code bend.
    pub(crate) fn code(&mut self) {
        for change in &mut self.ledger.all {
            // What nothing that was there uses does not change what was generated.
            let of_messages = !change.operations.is_empty() || change.kind.is_renaming();
            if change.verdict == Verdict::Keeps && of_messages && change.kind.is_seen_by_code() {
                change.verdict = Verdict::Bends;
                change.depends = Some(Depends::GeneratedCode);
            }
        }
        self.part_names();
        self.service_names();
        self.parameters();
    }

    /// A change of what is not on the wire.
    fn seen_by_code(&mut self, what: (Kind, What), was: Component, is: Component) {
        let change = self.ledger.component(Verdict::Bends, what, Some(was), Some(is));
        change.depends = Some(Depends::GeneratedCode);
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
                    let what = What::NameInCode { thing: Thing::Part, from, to };
                    let (was, is) = (Component::Part(a, at), Component::Part(b, at));
                    if !self.ledger.knows(Kind::PartRenamed, is) {
                        self.seen_by_code((Kind::PartRenamed, what), was, is);
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
            let components = (Component::PortType(old.port_type), Component::PortType(new.port_type));
            found.push((Kind::PortTypeRenamed, Thing::PortType, (was, is), components));
        }
        for (old, new) in self.port_pairs() {
            let (was, is) = (&self.old.services[old.service].name, &self.new.services[new.service].name);
            let components = (Component::Service(old.service), Component::Service(new.service));
            found.push((Kind::ServiceRenamed, Thing::Service, (was, is), components));
        }
        for (kind, thing, (from, to), (was, is)) in found {
            if from.local != to.local && !self.ledger.knows(kind, is) {
                let what = What::NameInCode { thing, from: from.local.to_string(), to: to.local.to_string() };
                self.seen_by_code((kind, what), was, is);
            }
        }
    }

    /// The namespaces of port types and services, as `original` has them: code is sorted into packages by them.
    pub(crate) fn code_namespaces(&mut self, original: &Contract) {
        let port_types = self.operation_pairs().into_iter().map(|(old, new)| {
            (&original.port_types[old.port_type].name, &self.new.port_types[new.port_type].name)
        });
        let services = self
            .port_pairs()
            .into_iter()
            .map(|(old, new)| (&original.services[old.service].name, &self.new.services[new.service].name));
        let moved = port_types.chain(services).filter(|(was, is)| was.namespace != is.namespace);
        let mut found: Vec<(String, String)> =
            moved.map(|(was, is)| (was.namespace.to_string(), is.namespace.to_string())).collect();
        found.sort_unstable();
        found.dedup();
        for (was, is) in found {
            let what = (Kind::NamespaceChanged, What::NamespaceInCode { was, is });
            self.seen_by_code(what, Component::Contract, Component::Contract);
        }
    }

    /// Operations whose parameters code takes one by one, out of the elements that wrap them: whether it still does, and
    /// which of them go in and come back.
    fn parameters(&mut self) {
        let (before, after) = (self.old, self.new);
        for (old, new) in self.operation_pairs() {
            let (was, is) = (
                Parameters::of(self.old, self.old_engine, old),
                Parameters::of(self.new, self.new_engine, new),
            );
            let name = || after.operation(new).name.text.to_string();
            let mut say = |kind, what| {
                self.seen_by_code((kind, what), Component::Operation(old), Component::Operation(new));
            };
            match (was, is) {
                (Some(_), None) => {
                    say(Kind::ParametersWrapped, What::ParametersWrapped { operation: name() })
                }
                (None, Some(_)) => {
                    say(Kind::ParametersUnwrapped, What::ParametersUnwrapped { operation: name() })
                }
                (Some(was), Some(is)) => {
                    let (was, is) = (was.shared(before), is.shared(after));
                    for name in is.iter().filter(|name| !was.contains(name)) {
                        say(Kind::ParametersShared, What::ParameterShared { name: name.clone() });
                    }
                    for name in was.iter().filter(|name| !is.contains(name)) {
                        say(Kind::ParametersParted, What::ParameterParted { name: name.clone() });
                    }
                }
                (None, None) => {}
            }
        }
    }
}

/// What an operation takes and gives, where its messages are single elements, the request named as the operation is, and
/// both hold nothing but a sequence of elements.
struct Parameters {
    request: Vec<(QName, TypeId)>,
    reply: Vec<(QName, TypeId)>,
}

impl Parameters {
    fn of(contract: &Contract, engine: &Engine<'_>, id: OperationId) -> Option<Parameters> {
        let operation = contract.operation(id);
        let request = wrapper(contract, operation.input.as_ref()?.message.target?)?;
        let name = &contract.schemas.elements[request].name.local;
        if **name != *operation.name.text {
            return None;
        }
        let reply = match &operation.output {
            None => Vec::new(),
            Some(_) => {
                let message = operation.side(Side::Output)?.message.target?;
                children(engine, wrapper(contract, message)?)?
            }
        };
        Some(Parameters { request: children(engine, request)?, reply })
    }

    /// The names of what is in both, with one type.
    fn shared(&self, contract: &Contract) -> Vec<String> {
        let ty = |id: TypeId| contract.schemas.types[id].name.clone();
        let both = self.request.iter().filter(|(name, own)| {
            self.reply
                .iter()
                .any(|(other, theirs)| name == other && ty(*own) == ty(*theirs) && ty(*own).is_some())
        });
        both.map(|(name, _)| name.local.to_string()).collect()
    }
}

/// The element that is all of a message.
fn wrapper(contract: &Contract, message: MessageId) -> Option<ElementId> {
    let [part] = contract.messages[message].parts.as_slice() else { return None };
    part.element.as_ref()?.target
}

/// The elements in another, if it holds a sequence of them and has nothing else.
fn children(engine: &Engine<'_>, element: ElementId) -> Option<Vec<(QName, TypeId)>> {
    let schemas = engine.schemas();
    let ty = schemas.element_type(element);
    let complex = schemas.complex(ty)?;
    let allowed = engine.allowed(ty);
    if complex.mixed
        || !allowed.all().is_empty()
        || allowed.wildcard.is_some()
        || schemas.has_simple_content(ty)
    {
        return None;
    }
    let mut found = Vec::new();
    let mut waiting = schemas.content(ty);
    waiting.reverse();
    while let Some(particle) = waiting.pop() {
        if let Some(child) = schemas.particle_element(particle) {
            found.push((schemas.elements[child].name.clone(), schemas.element_type(child)));
            continue;
        }
        let occurs = schemas.particles[particle].occurs;
        match schemas.particle_group(particle) {
            Some((Compositor::Sequence, members)) if (occurs.min, occurs.max) == (1, Some(1)) => {
                waiting.extend(members.iter().rev().copied());
            }
            _ => return None,
        }
    }
    Some(found)
}

//! Follows the references between WSDL components and into the schemas.

use charter_schema::{Arena, Id, Ref};
use charter_source::{Dangling, Fault, Map, QName, Suggestions};

use crate::{
    Binding, BindingMessage, BindingOperation, Contract, Extension, ExtensionKind, Label, Message, Operation,
    PortType, Side,
};

/// Resolves every reference of the contract. What is not there stays `None`, with a fault.
pub(crate) fn resolve(contract: &mut Contract) {
    let mut resolver = Resolver::default();
    contract.names.messages = resolver.claim("messages", &contract.messages, |m| (&m.name, m.place));
    contract.names.port_types = resolver.claim("port types", &contract.port_types, |p| (&p.name, p.place));
    contract.names.bindings = resolver.claim("bindings", &contract.bindings, |b| (&b.name, b.place));
    contract.names.services = resolver.claim("services", &contract.services, |s| (&s.name, s.place));
    resolver.parts(contract);
    let messages = &contract.names.messages;
    for id in contract.port_types.ids() {
        for operation in &mut contract.port_types[id].operations {
            let sides = operation.input.iter_mut().chain(&mut operation.output).chain(&mut operation.faults);
            sides.for_each(|usage| resolver.name("message-unknown", "message", &mut usage.message, messages));
        }
    }
    for id in contract.bindings.ids() {
        let binding = &mut contract.bindings[id];
        let port_types = &contract.names.port_types;
        resolver.name("port-type-unknown", "port type", &mut binding.port_type, port_types);
        for operation in &mut binding.operations {
            let sides = operation.input.iter_mut().chain(&mut operation.output).chain(&mut operation.faults);
            sides.for_each(|side| resolver.headers(&mut side.extensions, messages));
        }
    }
    for id in contract.services.ids() {
        for port in &mut contract.services[id].ports {
            resolver.name("binding-unknown", "binding", &mut port.binding, &contract.names.bindings);
        }
    }
    match_operations(&mut contract.bindings, &contract.port_types);
    resolver.part_names(contract);
    contract.faults.append(&mut resolver.dangling.faults);
}

#[derive(Default)]
struct Resolver {
    dangling: Dangling,
    suggestions: Suggestions,
}

impl Resolver {
    /// The components by name; the first of each name.
    fn claim<T>(
        &mut self,
        kind: &str,
        arena: &Arena<T>,
        name: impl Fn(&T) -> (&QName, charter_source::Place),
    ) -> Map<QName, Id<T>> {
        let mut names = Map::default();
        for (id, component) in arena.iter() {
            let (name, place) = name(component);
            if names.contains_key(name) {
                let message = format!("there are two {kind} named \"{}\" in this namespace", name.local);
                let fault = Fault::new("duplicate-name", place, message);
                self.dangling.faults.push(fault.help("rename or remove one of them"));
            } else {
                names.insert(name.clone(), id);
            }
        }
        names
    }

    fn parts(&mut self, contract: &mut Contract) {
        let schemas = &contract.schemas;
        for id in contract.messages.ids() {
            for part in &mut contract.messages[id].parts {
                if let Some(element) = &mut part.element {
                    element.target = element.name.as_ref().and_then(|name| schemas.element_named(name));
                    self.missing("element-unknown", "element", element, || schemas.element_names());
                }
                if let Some(ty) = &mut part.ty {
                    ty.target = ty.name.as_ref().and_then(|name| schemas.type_named(name));
                    self.missing("type-unknown", "type", ty, || schemas.type_names());
                }
            }
        }
    }

    fn name<T>(&mut self, rule: &'static str, kind: &str, reference: &mut Ref<T>, names: &Map<QName, Id<T>>) {
        reference.target = reference.name.as_ref().and_then(|name| names.get(name).copied());
        self.missing(rule, kind, reference, || names.keys());
    }

    /// The messages that header blocks name, also inside multipart bodies.
    fn headers(&mut self, extensions: &mut [Extension], messages: &Map<QName, Id<Message>>) {
        for extension in extensions {
            match &mut extension.kind {
                ExtensionKind::SoapHeader(header) => {
                    self.name("message-unknown", "message", &mut header.message, messages);
                    for fault in &mut header.faults {
                        self.name("message-unknown", "message", &mut fault.message, messages);
                    }
                }
                ExtensionKind::MimeMultipart(parts) => {
                    parts.iter_mut().for_each(|part| self.headers(&mut part.extensions, messages));
                }
                _ => {}
            }
        }
    }

    fn missing<'a, T, I: Iterator<Item = &'a QName>>(
        &mut self,
        rule: &'static str,
        kind: &str,
        reference: &Ref<T>,
        all: impl Fn() -> I,
    ) {
        if let (Some(name), None) = (&reference.name, reference.target) {
            self.dangling.report(rule, kind, name, reference.place, all);
        }
    }

    /// The parts that `parameterOrder`, bodies and headers name.
    fn part_names(&mut self, contract: &Contract) {
        for (_, operation) in contract.operations() {
            let uses = operation.input.iter().chain(&operation.output);
            let messages: Vec<_> = uses.filter_map(|usage| usage.message.target).collect();
            for label in &operation.parameter_order {
                let named =
                    |id: &Id<Message>| contract.messages[*id].parts.iter().any(|p| p.name.text == label.text);
                if !messages.is_empty() && !messages.iter().any(named) {
                    self.missing_part(label, messages.iter().map(|id| &contract.messages[*id]));
                }
            }
        }
        for (_, binding) in contract.bindings.iter() {
            for (operation, side, message) in contract.bound_messages(binding) {
                let bound = match side {
                    Side::Input => operation.input.as_ref(),
                    Side::Output => operation.output.as_ref(),
                    Side::Fault(_) => None,
                };
                if let Some(bound) = bound {
                    self.extension_parts(contract, &bound.extensions, message);
                }
            }
        }
    }

    fn extension_parts(&mut self, contract: &Contract, extensions: &[Extension], message: &Message) {
        for extension in extensions {
            match &extension.kind {
                ExtensionKind::SoapBody(body) => {
                    for label in body.parts.iter().flatten() {
                        if !message.parts.iter().any(|part| part.name.text == label.text) {
                            self.missing_part(label, [message].into_iter());
                        }
                    }
                }
                ExtensionKind::SoapHeader(header) => {
                    for header in header.with_faults() {
                        let (Some(id), Some(label)) = (header.message.target, &header.part) else { continue };
                        let message = &contract.messages[id];
                        if !message.parts.iter().any(|part| part.name.text == label.text) {
                            self.missing_part(label, [message].into_iter());
                        }
                    }
                }
                ExtensionKind::MimeContent { part: Some(label), .. }
                | ExtensionKind::MimeXml { part: Some(label) }
                    if !message.parts.iter().any(|part| part.name.text == label.text) =>
                {
                    self.missing_part(label, [message].into_iter());
                }
                ExtensionKind::MimeMultipart(parts) => {
                    parts.iter().for_each(|part| self.extension_parts(contract, &part.extensions, message));
                }
                _ => {}
            }
        }
    }

    fn missing_part<'a>(&mut self, label: &Label, messages: impl Iterator<Item = &'a Message> + Clone) {
        let names = messages.clone().flat_map(|message| message.parts.iter().map(|part| &*part.name.text));
        let near = self.suggestions.nearest(&label.text, names);
        let owners: Vec<String> = messages.map(|message| format!("\"{}\"", message.name.local)).collect();
        let message = format!("there is no part \"{}\" in the message {}", label.text, owners.join(" or "));
        let help = match near {
            Some(near) => format!("did you mean \"{near}\"?"),
            None => "name one of its parts".to_owned(),
        };
        self.dangling.faults.push(Fault::new("part-unknown", label.place, message).help(help));
    }
}

/// Finds for each operation of a binding the one that it binds: by name, and where the name is overloaded by
/// the names of its input and output (2.5).
fn match_operations(bindings: &mut Arena<Binding>, port_types: &Arena<PortType>) {
    for id in bindings.ids() {
        let Some(port_type) = bindings[id].port_type.target else { continue };
        let mut by_name: Map<&str, Vec<usize>> = Map::default();
        for (index, operation) in port_types[port_type].operations.iter().enumerate() {
            by_name.entry(&operation.name.text).or_default().push(index);
        }
        for bound in &mut bindings[id].operations {
            bound.operation = match by_name.get(&*bound.name.text).map(Vec::as_slice) {
                None | Some([]) => None,
                Some([only]) => Some(*only),
                Some(several) => several
                    .iter()
                    .copied()
                    .find(|index| same_sides(bound, &port_types[port_type].operations[*index])),
            };
            if let Some(index) = bound.operation {
                match_faults(bound, &port_types[port_type].operations[index]);
            }
        }
    }
}

/// Finds which fault of the operation each bound fault is: the first of its name (2.5).
fn match_faults(bound: &mut BindingOperation, operation: &Operation) {
    let named =
        (0..).zip(&operation.faults).filter_map(|(at, fault)| Some((&*fault.name.as_ref()?.text, at)));
    let mut by_name: Map<&str, u32> = Map::default();
    named.for_each(|(name, at)| _ = by_name.entry(name).or_insert(at));
    for fault in &mut bound.faults {
        fault.fault = fault.name.as_ref().and_then(|name| by_name.get(&*name.text).copied());
    }
}

fn same_sides(bound: &BindingOperation, operation: &Operation) -> bool {
    let fits = |side: &Option<BindingMessage>, name: Option<String>| {
        side.as_ref()
            .and_then(|side| side.name.as_ref())
            .is_none_or(|label| Some(label.text.to_string()) == name)
    };
    fits(&bound.input, operation.input_name()) && fits(&bound.output, operation.output_name())
}

impl Contract {
    /// Each bound side of a binding that has a message, with that message.
    pub(crate) fn bound_messages<'c>(
        &'c self,
        binding: &'c Binding,
    ) -> impl Iterator<Item = (&'c BindingOperation, Side, &'c Message)> {
        let port_type = binding.port_type.target.map(|id| &self.port_types[id]);
        binding.operations.iter().flat_map(move |bound| {
            let operation =
                port_type.zip(bound.operation).map(|(port_type, index)| &port_type.operations[index]);
            let sides = operation
                .map(|operation| [(Side::Input, &operation.input), (Side::Output, &operation.output)]);
            sides.into_iter().flatten().filter_map(move |(side, usage)| {
                let message = usage.as_ref()?.message.target?;
                Some((bound, side, &self.messages[message]))
            })
        })
    }
}

//! What the prose of WSDL asks of messages, port types and the contract as a whole.

use charter_contract::{Contract, ExtensionKind, Operation, Pattern};
use charter_source::{Fault, Map, Set};

pub(super) fn duplicate_members(contract: &Contract, faults: &mut Vec<Fault>) {
    let mut twice = |kind: &str, labels: &mut dyn Iterator<Item = &charter_contract::Label>| {
        let mut seen: Map<&str, ()> = Map::default();
        for label in labels {
            if seen.insert(&label.text, ()).is_some() {
                let message = format!("there are two {kind} named \"{}\"", label.text);
                let fault = Fault::new("duplicate-member", label.place, message);
                faults.push(fault.help("rename or remove one of them"));
            }
        }
    };
    for (_, message) in contract.messages.iter() {
        twice("parts", &mut message.parts.iter().map(|part| &part.name));
    }
    for (_, port_type) in contract.port_types.iter() {
        for operation in &port_type.operations {
            twice("faults", &mut operation.faults.iter().filter_map(|fault| fault.name.as_ref()));
        }
    }
    for (_, service) in contract.services.iter() {
        twice("ports", &mut service.ports.iter().map(|port| &port.name));
    }
}

pub(super) fn part_content(contract: &Contract, faults: &mut Vec<Fault>) {
    for part in contract.messages.iter().flat_map(|(_, message)| &message.parts) {
        let (message, help) = match (&part.element, &part.ty) {
            (Some(_), Some(_)) => {
                ("names both an element and a type", "keep the element, or the type for rpc style")
            }
            (None, None) => {
                ("names neither an element nor a type", "add an element attribute, or a type for rpc style")
            }
            _ => continue,
        };
        let fault =
            Fault::new("part-content", part.place, format!("the part \"{}\" {message}", part.name.text));
        faults.push(fault.help(help));
    }
}

/// Whether an extension that must be understood is one of those that the standards around WSDL define.
pub(super) fn required_extensions(contract: &Contract, faults: &mut Vec<Fault>) {
    let bound = contract.bindings.iter().flat_map(|(_, binding)| {
        let of_operations = binding.operations.iter().flat_map(|bound| {
            let sides = bound.sides().flat_map(|(_, side)| &side.extensions);
            bound.extensions.iter().chain(sides)
        });
        binding.extensions.iter().chain(of_operations)
    });
    let ports = contract.ports().flat_map(|(_, port)| &port.extensions);
    let definitions = contract.definitions.iter().flat_map(|(_, definitions)| &definitions.extensions);
    for extension in definitions.chain(bound).chain(ports).filter(|extension| extension.required) {
        let ExtensionKind::Other(name) = &extension.kind else { continue };
        if !is_standard(&name.namespace) {
            let message = format!("whoever does not know {} must give up this contract", name.local);
            let fault = Fault::new("extension-required", extension.place, message);
            faults.push(fault.help("take wsdl:required away, unless no consumer can do without it"));
        }
    }
}

/// Whether the elements of a namespace are defined by an open standard around WSDL.
pub(super) fn is_standard(namespace: &str) -> bool {
    charter_source::ns::POLICY.contains(&namespace)
        || [charter_source::ns::WSAW, charter_source::ns::WSAM, charter_source::ns::ADDRESSING]
            .contains(&namespace)
}

pub(super) fn target_namespace(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, definitions) in contract.definitions.iter() {
        let root = contract.files.get(definitions.file).root();
        let attribute = root.and_then(|root| root.attribute_node("targetNamespace"));
        let namespace = &*definitions.namespace;
        let (place, message) = match attribute {
            Some(attribute) if !is_absolute(namespace) => (
                charter_source::attribute_place(definitions.file, &attribute),
                format!("the target namespace \"{namespace}\" is no absolute URI"),
            ),
            None if root.is_some_and(|root| root.has_children()) => {
                (definitions.place, "this contract has no target namespace".to_owned())
            }
            _ => continue,
        };
        let fault = Fault::new("target-namespace", place, message);
        faults.push(fault.help("name one that is yours alone, such as urn:saltmere:berths:1"));
    }
}

/// Whether a URI has a scheme (RFC 3986, section 4.3).
pub(super) fn is_absolute(uri: &str) -> bool {
    uri.split_once(':').is_some_and(|(scheme, rest)| {
        !rest.is_empty()
            && scheme.starts_with(|c: char| c.is_ascii_alphabetic())
            && scheme.chars().all(|c| c.is_ascii_alphanumeric() || matches!(c, '+' | '-' | '.'))
    })
}

pub(super) fn patterns(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, operation) in contract.operations() {
        let name = &operation.name.text;
        if operation.pattern == Pattern::Empty {
            let message = format!("the operation \"{name}\" has neither an input nor an output");
            let fault = Fault::new("operation-pattern", operation.name.place, message);
            faults.push(fault.help("give it an input, an output, or both"));
        } else if matches!(operation.pattern, Pattern::OneWay | Pattern::Notification) {
            for fault in &operation.faults {
                let message = format!("\"{name}\" goes one way, so no fault can come back");
                let fault = Fault::new("operation-pattern", fault.place, message);
                faults.push(fault.help("give the operation an output, or remove the fault"));
            }
        }
    }
}

pub(super) fn overloads(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, port_type) in contract.port_types.iter() {
        let mut seen: Set<(&str, Option<String>, Option<String>)> = Set::default();
        for operation in &port_type.operations {
            let signature = (&*operation.name.text, operation.input_name(), operation.output_name());
            if !seen.insert(signature) {
                let message = format!(
                    "there are two operations \"{}\", with nothing to tell them apart",
                    operation.name.text
                );
                let fault = Fault::new("operation-overload", operation.name.place, message);
                faults.push(fault.help("rename one of them, or name its input or output otherwise"));
            }
        }
    }
}

pub(super) fn side_names(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, port_type) in contract.port_types.iter() {
        let mut seen: Set<String> = Set::default();
        let mut overloaded: Set<(&str, Option<String>, Option<String>)> = Set::default();
        for operation in &port_type.operations {
            // Two operations of one name with sides of one name are said to be that, once.
            if !overloaded.insert((&operation.name.text, operation.input_name(), operation.output_name())) {
                continue;
            }
            let sides =
                [(operation.input_name(), &operation.input), (operation.output_name(), &operation.output)];
            for (name, side) in sides {
                let (Some(name), Some(side)) = (name, side) else { continue };
                let place = side.name.as_ref().map_or(side.place, |label| label.place);
                let message = format!("another input or output of this port type is named \"{name}\" too");
                if !seen.insert(name) {
                    let fault = Fault::new("side-name-twice", place, message);
                    faults.push(fault.help("give it a name of its own, or none"));
                }
            }
        }
    }
}

pub(super) fn parameter_order(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, operation) in contract.operations().filter(|(_, it)| !it.parameter_order.is_empty()) {
        let mut seen: Set<&str> = Set::default();
        let mut wrong = |place, message: String, help: &str| {
            faults.push(Fault::new("parameter-order", place, message).help(help));
        };
        for label in &operation.parameter_order {
            if !seen.insert(&label.text) {
                wrong(label.place, format!("the order names \"{}\" twice", label.text), "name it once");
            }
        }
        let first = operation.parameter_order[0].place;
        let parts = |input: bool| part_names(contract, operation, input);
        if let Some(left_out) = parts(true).into_iter().find(|part| !seen.contains(part)) {
            let message = format!("the order leaves out \"{left_out}\", a part of the input");
            wrong(first, message, "name every part of the input");
        }
        let results: Vec<&str> = parts(false).into_iter().filter(|part| !seen.contains(part)).collect();
        if let [_, second, ..] = results[..] {
            let message = format!("the order leaves out \"{second}\" and another part of the output");
            wrong(first, message, "name all parts of the output but one, the return value");
        }
    }
}

fn part_names<'c>(contract: &'c Contract, operation: &Operation, input: bool) -> Vec<&'c str> {
    let usage = if input { operation.input.as_ref() } else { operation.output.as_ref() };
    let message = usage.and_then(|usage| usage.message.target).map(|id| &contract.messages[id]);
    message.into_iter().flat_map(|message| &message.parts).map(|part| &*part.name.text).collect()
}

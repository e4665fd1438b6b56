//! Whether a binding binds what its port type declares.

use charter_contract::{Contract, Side};
use charter_source::{Fault, Map, Set, Suggestions};

use super::bound;

pub(super) fn unknown_operations(contract: &Contract, faults: &mut Vec<Fault>) {
    let mut suggestions = Suggestions::default();
    for (_, binding) in contract.bindings.iter() {
        let Some(port_type) = binding.port_type.target.map(|id| &contract.port_types[id]) else { continue };
        let names = || port_type.operations.iter().map(|operation| &*operation.name.text);
        for bound in &binding.operations {
            let Some(index) = bound.operation else {
                let near = suggestions.nearest(&bound.name.text, names());
                let message = format!(
                    "the port type \"{}\" has no operation \"{}\"",
                    port_type.name.local, bound.name.text
                );
                let help = near.map_or_else(
                    || "remove it here, or add it to the port type".to_owned(),
                    |near| format!("did you mean \"{near}\"?"),
                );
                faults.push(Fault::new("binding-operation-unknown", bound.name.place, message).help(help));
                continue;
            };
            let operation = &port_type.operations[index];
            let names = || operation.faults.iter().filter_map(|fault| Some(&*fault.name.as_ref()?.text));
            let unknown = bound.faults.iter().filter(|fault| fault.fault.is_none());
            for fault in unknown.filter_map(|fault| fault.name.as_ref()) {
                let near = suggestions.nearest(&fault.text, names());
                let message =
                    format!("the operation \"{}\" has no fault \"{}\"", bound.name.text, fault.text);
                let help = near.map_or_else(
                    || "remove it here, or add it to the port type".to_owned(),
                    |near| format!("did you mean \"{near}\"?"),
                );
                faults.push(Fault::new("binding-operation-unknown", fault.place, message).help(help));
            }
        }
    }
}

pub(super) fn missing_operations(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, binding) in contract.bindings.iter() {
        let Some(port_type) = binding.port_type.target.map(|id| &contract.port_types[id]) else { continue };
        let bound: Map<usize, _> =
            binding.operations.iter().filter_map(|bound| Some((bound.operation?, bound))).collect();
        for (index, operation) in port_type.operations.iter().enumerate() {
            let name = &operation.name.text;
            let mut missing = |place, what: String, help: &str| {
                let message = format!("the binding \"{}\" leaves out {what}", binding.name.local);
                faults.push(Fault::new("binding-operation-missing", place, message).help(help));
            };
            let Some(bound) = bound.get(&index) else {
                missing(
                    binding.place,
                    format!("the operation \"{name}\""),
                    "bind it, or remove it from the port type",
                );
                continue;
            };
            let sides = [
                (operation.input.is_some() && bound.input.is_none(), "input"),
                (operation.output.is_some() && bound.output.is_none(), "output"),
            ];
            for (_, side) in sides.into_iter().filter(|(gone, _)| *gone) {
                missing(bound.name.place, format!("the {side} of \"{name}\""), "add it with its body");
            }
            let known = bound.faults.iter().filter_map(|fault| Some(&*fault.name.as_ref()?.text));
            let known: Set<&str> = known.collect();
            for fault in operation.faults.iter().filter_map(|fault| fault.name.as_ref()) {
                if !known.contains(&*fault.text) {
                    missing(
                        bound.name.place,
                        format!("the fault \"{}\" of \"{name}\"", fault.text),
                        "add it with its soap:fault",
                    );
                }
            }
        }
    }
}

pub(super) fn side_names(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in bound::sides(contract) {
        let (Some(label), Some(operation)) = (&side.bound.name, side.of.operation) else { continue };
        let wanted = match side.side {
            Side::Input => operation.input_name(),
            Side::Output => operation.output_name(),
            Side::Fault(_) => None,
        };
        let Some(wanted) = wanted.filter(|wanted| **wanted != *label.text) else { continue };
        let message =
            format!("{} is named \"{wanted}\" in the port type, not \"{}\"", side.of_operation(), label.text);
        let fault = Fault::new("binding-side-name", label.place, message);
        faults.push(fault.help("write the same name, or none"));
    }
}

pub(super) fn bound_twice(contract: &Contract, faults: &mut Vec<Fault>) {
    let mut seen = Set::default();
    for operation in bound::operations(contract) {
        if operation.bound.operation.is_some_and(|index| !seen.insert((operation.id, index))) {
            let name = &operation.bound.name;
            let message =
                format!("the binding \"{}\" binds \"{}\" twice", operation.binding.name.local, name.text);
            let fault = Fault::new("binding-operation-twice", name.place, message);
            faults.push(fault.help("remove one of the two"));
        }
        let mut names: Set<&str> = Set::default();
        for label in operation.bound.faults.iter().filter_map(|fault| fault.name.as_ref()) {
            if !names.insert(&label.text) {
                let message = format!("the fault \"{}\" is bound twice", label.text);
                let fault = Fault::new("binding-operation-twice", label.place, message);
                faults.push(fault.help("remove one of the two"));
            }
        }
    }
}

//! Which operation, side and port is meant.

use charter_contract::{Bound, Component, Contract, OperationId, PortId, Side, WireShape};
use charter_source::nearest;

use crate::args::{MessageArgs, SideArg};
use crate::console::Failure;
use crate::paint;

/// The wire shape that the options mean.
pub fn shape(contract: &Contract, name: &str, args: &MessageArgs) -> Result<WireShape, Failure> {
    let id = operation(contract, name)?;
    let port = args.port.as_deref().map(|name| port(contract, id, name)).transpose()?;
    if let Some(part) = &args.header_fault {
        return header_fault(contract, id, port, part);
    }
    let side = side(contract, id, name, args)?;
    let path = contract.path(Component::OperationSide(id, side));
    contract
        .wire_shape(id, side, port)
        .map_err(|error| super::unshaped(contract, path.as_str(), &args.file, &error))
}

/// The path of what a shape is of.
pub fn path(contract: &Contract, shape: &WireShape) -> String {
    let side = contract.path(Component::OperationSide(shape.operation, shape.side)).to_string();
    match shape.fault() {
        Some(fault) if fault.of_header => {
            let operation = contract.path(Component::Operation(shape.operation));
            format!("{operation}, header fault {}", fault.name)
        }
        _ => side,
    }
}

/// The side as a person names it.
pub fn side_name(contract: &Contract, shape: &WireShape) -> String {
    match shape.fault() {
        Some(fault) if fault.of_header => format!("header fault {}", fault.name),
        _ => contract.side_name(shape.operation, shape.side),
    }
}

/// The operation of that name, or at that component path.
fn operation(contract: &Contract, name: &str) -> Result<OperationId, Failure> {
    let path = if name.contains('/') { name.to_owned() } else { format!("operation/{name}") };
    match charter_session::find(contract, &path)? {
        Component::Operation(id) | Component::OperationSide(id, _) => Ok(id),
        other => Err(Failure::new(format!("\"{}\" is no operation", contract.path(other)))
            .at(contract.files.first().location.to_string())
            .help("give the name of an operation")),
    }
}

/// The side that the options mean; a path may name it as well.
fn side(contract: &Contract, id: OperationId, name: &str, args: &MessageArgs) -> Result<Side, Failure> {
    if name.contains('/')
        && let Ok(Component::OperationSide(_, side)) = contract.find(name)
    {
        return Ok(side);
    }
    let operation = contract.operation(id);
    let failure = |message: String| {
        let path = contract.path(Component::Operation(id));
        Failure::new(message).at(contract.files.first().location.to_string()).of(path.to_string())
    };
    let kind = if args.fault.is_some() { SideArg::Fault } else { args.side };
    let names: Vec<&str> =
        operation.faults.iter().map(|fault| fault.name.as_ref().map_or("", |name| &name.text)).collect();
    match kind {
        SideArg::Input if operation.input.is_none() => {
            Err(failure("the operation has no input".into()).help("see it with --side output"))
        }
        SideArg::Output if operation.output.is_none() => {
            Err(failure("the operation has no output".into()).help("see it with --side input"))
        }
        SideArg::Input => Ok(Side::Input),
        SideArg::Output => Ok(Side::Output),
        SideArg::Fault => match (args.fault.as_deref(), names.as_slice()) {
            (_, []) => {
                Err(failure("the operation has no faults".into()).help("see it with --side input or output"))
            }
            (None, [_]) => Ok(Side::Fault(0)),
            (None, several) => Err(failure(format!("the operation has {} faults", several.len()))
                .help(format!("choose with --fault: {}", several.join(", ")))),
            (Some(name), all) => match all.iter().position(|known| *known == name) {
                Some(index) => Ok(Side::Fault(index)),
                None => {
                    let near = nearest(name, all.iter().copied());
                    let list = format!("its faults are {}", all.join(", "));
                    let help = near.map_or(list, |near| format!("did you mean \"{near}\"?"));
                    Err(failure(format!("the operation has no fault \"{name}\"")).help(help))
                }
            },
        },
    }
}

/// The other ports that offer the operation of a shape, each as one asks for it.
pub fn other_ports(contract: &Contract, shape: &WireShape) -> String {
    let others: Vec<&str> = contract
        .bound(shape.operation)
        .filter_map(|bound| bound.port.filter(|port| Some(*port) != shape.port))
        .map(|port| &*contract.port(port).name.text)
        .collect();
    match others.as_slice() {
        [] => String::new(),
        others => paint::faint(&format!("  (or --port {})", others.join(", --port "))),
    }
}

/// Whether operations are offered by that name: by a port, or by a binding that no port uses.
pub fn must_offer(contract: &Contract, name: &str) -> Result<(), Failure> {
    let bound = contract.operations().flat_map(|(id, _)| contract.bound(id));
    let mut names: Vec<&str> = bound.map(|bound| &**contract.offered_by(bound.port, bound.binding)).collect();
    names.sort_unstable();
    names.dedup();
    if names.contains(&name) {
        return Ok(());
    }
    let help = match nearest(name, names.iter().copied()) {
        Some(near) => format!("did you mean \"{near}\"?"),
        None if names.is_empty() => "nothing is bound in this contract".to_owned(),
        None => format!("there is {}", names.join(", ")),
    };
    Err(Failure::new(format!("no port \"{name}\" offers anything"))
        .at(contract.files.first().location.to_string())
        .help(help))
}

/// The port of that name among those that offer the operation.
fn port(contract: &Contract, id: OperationId, name: &str) -> Result<PortId, Failure> {
    let offering: Vec<PortId> = contract.bound(id).filter_map(|bound| bound.port).collect();
    let named = |port: &PortId| -> &str { &contract.port(*port).name.text };
    offering.iter().copied().find(|port| named(port) == name).ok_or_else(|| {
        let names: Vec<&str> = offering.iter().map(named).collect();
        let help = match nearest(name, names.iter().copied()) {
            Some(near) => format!("did you mean \"{near}\"?"),
            None if names.is_empty() => "no port offers it: leave --port out".to_owned(),
            None => format!("its ports are {}", names.join(", ")),
        };
        Failure::new(format!("no port \"{name}\" offers the operation"))
            .at(contract.files.first().location.to_string())
            .of(contract.path(Component::Operation(id)).to_string())
            .help(help)
    })
}

/// The fault about a header block that goes by that part.
fn header_fault(
    contract: &Contract,
    id: OperationId,
    port: Option<PortId>,
    part: &str,
) -> Result<WireShape, Failure> {
    let ways: Vec<Bound<'_>> =
        contract.bound(id).filter(|bound| port.is_none() || bound.port == port).collect();
    let all = ways.iter().flat_map(|bound| {
        let sides = [Side::Input, Side::Output].into_iter();
        sides.flat_map(|side| contract.header_faults(id, side, *bound).unwrap_or_default())
    });
    let all: Vec<WireShape> = all.collect();
    let name = |shape: &WireShape| shape.fault().map_or(String::new(), |fault| fault.name.clone());
    let mut names: Vec<String> = all.iter().map(name).collect();
    all.into_iter().find(|shape| name(shape) == part).ok_or_else(|| {
        names.sort_unstable();
        names.dedup();
        let help = match nearest(part, names.iter().map(String::as_str)) {
            Some(near) => format!("did you mean \"{near}\"?"),
            None if names.is_empty() => "its bindings name no headerfault".to_owned(),
            None => format!("there are {}", names.join(", ")),
        };
        Failure::new(format!("the operation has no header fault \"{part}\""))
            .at(contract.files.first().location.to_string())
            .of(contract.path(Component::Operation(id)).to_string())
            .help(help)
    })
}

/// What a message is called in the name of a file: its operation and side.
pub fn file_name(contract: &Contract, shape: &WireShape) -> String {
    let operation = contract.path(Component::Operation(shape.operation)).to_string();
    let operation = operation.trim_start_matches("operation/").replace('/', ".");
    format!("{operation}.{}", side_name(contract, shape).replace(' ', "-"))
}

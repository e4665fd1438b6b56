//! `charter message`

use charter_contract::{Body, Component, Contract, OperationId, PortId, Side, WireElement, WireShape};
use charter_message::{Size, message};
use charter_schema::{ElementId, TypeId};
use charter_source::nearest;
use serde::Serialize;

use super::{Outcome, element};
use crate::args::{Format, SideArg, SizeArg};
use crate::console::{Console, Failure, Status};
use crate::load::Common;
use crate::{load, paint};

/// What the user wants to see.
pub struct Wanted<'a> {
    pub operation: &'a str,
    pub side: SideArg,
    pub fault: Option<&'a str>,
    pub port: Option<&'a str>,
    pub size: Size,
    pub hostile: bool,
}

/// The size that the options ask for: a seed asks for a random message.
pub fn size(size: Option<SizeArg>, seed: Option<u64>) -> Size {
    match (size, seed) {
        (Some(SizeArg::Least), _) => Size::Least,
        (Some(SizeArg::Most), _) => Size::Most,
        (Some(SizeArg::Random), seed) => Size::Random(seed.unwrap_or(1)),
        (None, Some(seed)) => Size::Random(seed),
        (Some(SizeArg::Typical) | None, _) => Size::Typical,
    }
}

#[derive(Serialize)]
struct Shown {
    operation: String,
    side: String,
    port: Option<String>,
    soap: &'static str,
    method: Option<&'static str>,
    address: Option<String>,
    status: Option<u16>,
    headers: Vec<Header>,
    envelope: String,
}

#[derive(Serialize)]
struct Header {
    name: &'static str,
    value: String,
}

pub fn run(file: &str, wanted: &Wanted<'_>, common: &Common, console: &mut Console) -> Outcome {
    let contract = load::load_readable(common, file)?;
    if wanted.operation.starts_with("element/") {
        return element::run(
            &contract,
            wanted.operation,
            wanted.size,
            wanted.hostile,
            common.format,
            console,
        );
    }
    if wanted.hostile {
        return Err(Failure::new("hostile messages are made for an element")
            .help("give its path, such as element/arrival"));
    }
    load::is_contract(&contract)?;
    let operation = operation(&contract, wanted.operation)?;
    let side = side(&contract, operation, wanted)?;
    let port = wanted.port.map(|name| port(&contract, operation, name)).transpose()?;
    let path = contract.path(Component::OperationSide(operation, side));
    let shape = contract.wire_shape(operation, side, port).map_err(|error| {
        Failure::new(error.to_string()).at(load::place(&contract, error.place)).of(path.as_str()).help(
            format!("charter check {file} shows what is wrong; only literal SOAP messages can be shown yet"),
        )
    })?;
    let sample = message(&contract, &shape, wanted.size).map_err(|error| {
        Failure::new(error.to_string())
            .at(load::place(&contract, error.place()))
            .of(path.as_str())
            .help("change the type so that a message can be made")
    })?;
    let envelope = sample.to_xml(&contract);
    let port = shape.port.map(|port| contract.port(port).name.text.to_string());
    if common.format == Format::Json {
        let headers = sample.headers.iter().map(|(name, value)| Header { name, value: value.clone() });
        console.json(&Shown {
            operation: contract.operation(operation).name.text.to_string(),
            side: contract.side_name(operation, side),
            port,
            soap: shape.soap.number(),
            method: sample.method,
            address: sample.address.clone(),
            status: sample.status,
            headers: headers.collect(),
            envelope,
        });
        return Ok(Status::Yes);
    }
    console.note(&summary(&contract, &shape, &sample, port.as_deref()));
    console.note(&not_understood(&contract, &shape, file));
    console.out(&paint::xml(&envelope));
    Ok(Status::Yes)
}

/// How many faults are named: the rest are for `charter check`.
const NAMED: usize = 3;

/// What of a message could not be made as it was meant, since the contract has faults there.
fn not_understood(contract: &Contract, shape: &WireShape, file: &str) -> String {
    let mut elements: Vec<ElementId> = Vec::new();
    let mut types: Vec<TypeId> = Vec::new();
    let mut see = |element: &WireElement| match element {
        WireElement::Declared(id) => elements.push(*id),
        WireElement::Typed { ty, .. } => types.push(*ty),
    };
    shape.headers.iter().for_each(|header| see(&header.content));
    match &shape.body {
        Body::Elements(all) => all.iter().for_each(see),
        Body::Content(ty) => types.push(*ty),
        Body::Wrapper { parts, .. } => types.extend(parts.iter().map(|part| part.ty)),
    }
    if contract.faults().is_empty() {
        return String::new();
    }
    let (elements, types) = contract.reachable(elements, types);
    let touches = |component: Component| match component {
        Component::Element(id) => elements.contains(&id),
        Component::Type(id) => types.contains(&id),
        _ => false,
    };
    let all = contract.faults().into_iter().map(|fault| (contract.component_at(fault.place), fault));
    let found: Vec<String> = all
        .filter(|(component, _)| touches(*component))
        .map(|(component, fault)| {
            format!("{}: {}", paint::path(contract.path(component).as_str()), fault.message)
        })
        .collect();
    let mut text: String =
        found.iter().take(NAMED).map(|line| format!("{} {line}\n", paint::warning("left out:"))).collect();
    if found.len() > NAMED {
        text.push_str(&format!("and {} more: charter check {file}\n", found.len() - NAMED));
    }
    text
}

/// How the message travels, in two lines.
fn summary(
    contract: &Contract,
    shape: &WireShape,
    sample: &charter_message::Message,
    port: Option<&str>,
) -> String {
    let path = contract.path(Component::OperationSide(shape.operation, shape.side));
    let port = port.map_or(String::new(), |port| format!(" by {port}"));
    let start = match (sample.method, sample.status) {
        (Some(method), _) => format!("{method} {}", sample.address.as_deref().unwrap_or("(no address)")),
        (None, status) => format!("HTTP {}", status.unwrap_or(200)),
    };
    let headers: Vec<String> =
        sample.headers.iter().map(|(name, value)| format!("{name}: {value}")).collect();
    let line = format!("{start}  {}", headers.join("  "));
    format!("{}{port}, SOAP {}\n{}\n", paint::path(path.as_str()), shape.soap.number(), paint::faint(&line))
}

/// The operation of that name, or at that component path.
fn operation(contract: &Contract, name: &str) -> Result<OperationId, Failure> {
    let path = if name.contains('/') { name.to_owned() } else { format!("operation/{name}") };
    match load::find(contract, &path)? {
        Component::Operation(id) | Component::OperationSide(id, _) => Ok(id),
        other => Err(Failure::new(format!("\"{}\" is no operation", contract.path(other)))
            .at(contract.files.first().location.to_string())
            .help("give the name of an operation")),
    }
}

fn side(contract: &Contract, id: OperationId, wanted: &Wanted<'_>) -> Result<Side, Failure> {
    let operation = contract.operation(id);
    let path = contract.path(Component::Operation(id)).to_string();
    let failure =
        |message: String| Failure::new(message).at(load::place(contract, operation.place)).of(path.clone());
    let names: Vec<&str> =
        operation.faults.iter().map(|fault| fault.name.as_ref().map_or("", |name| &name.text)).collect();
    let wanted_side = if wanted.fault.is_some() { SideArg::Fault } else { wanted.side };
    match wanted_side {
        SideArg::Input if operation.input.is_some() => Ok(Side::Input),
        SideArg::Output if operation.output.is_some() => Ok(Side::Output),
        SideArg::Input => Err(failure("the operation has no input".into()).help("see it with --side output")),
        SideArg::Output => Err(failure("the operation has no output".into())
            .help("it is one-way: only --side input goes over the wire")),
        SideArg::Fault => match (wanted.fault, names.as_slice()) {
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

/// The port of that name among those that offer the operation.
fn port(contract: &Contract, id: OperationId, name: &str) -> Result<PortId, Failure> {
    let offering: Vec<PortId> = contract.bound(id).filter_map(|bound| bound.port).collect();
    let named = |port: &PortId| -> &str { &contract.port(*port).name.text };
    offering.iter().copied().find(|port| named(port) == name).ok_or_else(|| {
        let names: Vec<&str> = offering.iter().map(named).collect();
        Failure::new(format!("no port \"{name}\" offers the operation"))
            .at(contract.files.first().location.to_string())
            .of(contract.path(Component::Operation(id)).to_string())
            .help(format!("its ports are {}", names.join(", ")))
    })
}

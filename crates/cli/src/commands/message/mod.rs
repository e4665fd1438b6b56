//! `charter message`

pub mod against;
mod all;
pub mod chosen;
mod comments;
mod element;
mod hostile;
pub mod making;
mod many;

use std::path::Path;

use charter_contract::{Component, Contract, WireShape};
use charter_message::http::Start;
use charter_message::{Message, Size};
use charter_session::Spot;
use charter_session::files;
use serde::Serialize;

use super::Outcome;
use crate::args::{FormArg, Format, MessageArgs, SizeArg};
use crate::common::Common;
use crate::console::{Console, Failure, Status};
use crate::paint;
use making::Making;

/// The size that the options ask for: a seed asks for a random message.
fn size(size: Option<SizeArg>, seed: Option<u64>) -> Size {
    match (size, seed) {
        (Some(SizeArg::Least), _) => Size::Least,
        (Some(SizeArg::Most), _) => Size::Most,
        (Some(SizeArg::Random), seed) => Size::Random(seed.unwrap_or(1)),
        (None, Some(seed)) => Size::Random(seed),
        (Some(SizeArg::Typical) | None, _) => Size::Typical,
    }
}

#[derive(Serialize)]
struct MessageJson {
    operation: String,
    side: String,
    port: Option<String>,
    soap: Option<&'static str>,
    style: Option<&'static str>,
    encoding: Option<String>,
    method: Option<String>,
    address: Option<String>,
    status: Option<u16>,
    headers: Vec<Header>,
    envelope: Option<String>,
    body: String,
    values: serde_json::Value,
}

#[derive(Serialize)]
struct Header {
    name: String,
    value: String,
}

pub fn run(args: &MessageArgs, common: &Common, console: &mut Console) -> Outcome {
    let loaded = common.session.open(&args.file)?;
    let (contract, engine) = (loaded.contract(), loaded.engine());
    let making = Making::of(contract, engine, args, common);
    if let Some(folder) = &args.all {
        charter_session::is_contract(contract)?;
        return all::run(&making, folder, console);
    }
    let name = args.operation.as_deref().unwrap_or_default();
    if name.starts_with("element/") {
        return element::run(&making, name, args.hostile, common.format, console);
    }
    charter_session::is_contract(contract)?;
    let shape = chosen::shape(contract, name, args)?;
    if let Some(other) = &args.against {
        return against::run(&making, &shape, other, common, console);
    }
    if args.hostile {
        let output = args.output.as_deref().filter(|path| *path != Path::new("-"));
        return hostile::run(&making, &shape, (common.format, output), console);
    }
    if let Some(rows) = making::rows(args, common)? {
        return many::run(&making, &shape, &rows, console);
    }
    let wire_content = making.wire_content(&shape, None, console)?;
    if common.format == Format::Json {
        let message = making.message(&shape, wire_content.clone());
        console.json(&shown(&making, &shape, &message, &wire_content));
        return Ok(Status::Yes);
    }
    let form = making.form(&shape);
    // A message may be as large as its contract: what is written of it takes what it was made of.
    let values = matches!(form, FormArg::Json | FormArg::Template).then(|| wire_content.clone());
    let message = making.message(&shape, wire_content);
    let about = summary(contract, &shape, &message, form);
    let bytes = match values {
        Some(wire_content) => making.rendered(&shape, &wire_content, form)?,
        None => making.written(&shape, message, form)?,
    };
    if let Some(path) = args.output.as_deref().filter(|path| *path != Path::new("-")) {
        files::save(&making.common.session.writers, path, &bytes)?;
        console.out(&format!("wrote {}\n", path.display()));
        return Ok(Status::Yes);
    }
    console.note(&about);
    console.note(&not_understood(contract, &shape, &args.file));
    let ended = bytes.ends_with(b"\n");
    match String::from_utf8(bytes) {
        Ok(text) if form == FormArg::Json || form == FormArg::Curl => console.data(&text),
        Ok(text) => console.data(&paint::xml(&text)),
        Err(error) => console.bytes(error.as_bytes()),
    }
    if !ended {
        // The message itself ends here; only what comes after it on the screen begins in a new line.
        console.note("\n");
    }
    Ok(Status::Yes)
}

fn shown(
    making: &Making<'_>,
    shape: &WireShape,
    message: &Message,
    wire_content: &charter_message::WireContent,
) -> MessageJson {
    let contract = making.contract;
    let soap = shape.soap();
    let headers = message.headers.iter();
    let headers = headers.map(|(name, value)| Header { name: name.to_owned(), value: value.to_owned() });
    let body = message.text(contract);
    MessageJson {
        operation: contract.operation(shape.operation).name.text.to_string(),
        side: chosen::side_name(contract, shape),
        port: shape.port.map(|port| contract.port(port).name.text.to_string()),
        soap: soap.map(|soap| soap.version.number()),
        style: soap.map(|soap| soap.style.name()),
        encoding: soap.and_then(|soap| soap.encoding.clone()),
        method: message.start.method().map(str::to_owned),
        address: message.address().map(str::to_owned),
        status: message.start.status(),
        headers: headers.collect(),
        envelope: message.envelope().map(|envelope| charter_message::as_document(envelope, contract)),
        body,
        values: charter_message::values::write(making.engine, shape, wire_content),
    }
}

/// How many faults are named: the rest are for `charter check`.
const NAMED: usize = 3;

/// What of a message could not be made as it was meant, since the contract has faults there.
fn not_understood(contract: &Contract, shape: &WireShape, file: &str) -> String {
    use charter_contract::WireElement;
    if contract.faults().is_empty() {
        return String::new();
    }
    let (mut elements, mut types) = (Vec::new(), Vec::new());
    for content in shape.contents() {
        match content {
            WireElement::Declared(id) => elements.push(id),
            WireElement::Typed { ty, .. } => types.push(ty),
        }
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
fn summary(contract: &Contract, shape: &WireShape, message: &Message, form: FormArg) -> String {
    let path = chosen::path(contract, shape);
    let port = shape.port.map(|port| format!(" by {}", contract.port(port).name.text)).unwrap_or_default();
    let also = chosen::other_ports(contract, shape);
    let first = format!("{}{port}, {}{also}\n", paint::path(&path), carrier(shape));
    // The whole HTTP message says the rest itself.
    if matches!(form, FormArg::Http | FormArg::Curl) {
        return first;
    }
    let start = match &message.start {
        Start::Request { method, .. } => format!("{method} {}", message.address().unwrap_or("(no address)")),
        Start::Reply { status } => format!("HTTP {status}"),
    };
    if let Some(transport) = shape.other_transport() {
        let to = message.address().map(|address| format!(" to {address}")).unwrap_or_default();
        return format!("{first}{}\n", paint::faint(&format!("by {transport}{to}")));
    }
    let headers: Vec<String> =
        message.headers.iter().map(|(name, value)| format!("{name}: {value}")).collect();
    let line = format!("{start}  {}", headers.join("  "));
    format!("{first}{}\n", paint::faint(line.trim_end()))
}

/// What carries a message, in a few words.
fn carrier(shape: &WireShape) -> String {
    match shape.soap() {
        Some(soap) => {
            let encoded = if soap.encoding.is_some() { ", encoded" } else { "" };
            let parts = if soap.attachments.is_empty() { "" } else { ", multipart" };
            format!("SOAP {}{encoded}{parts}", soap.version.number())
        }
        None => format!("HTTP {}", shape.method),
    }
}

/// Why a side has no message.
fn unshaped(contract: &Contract, path: &str, file: &str, error: &charter_contract::Unshaped) -> Failure {
    Failure::new(error.to_string())
        .at(Spot::of(contract, error.place))
        .of(path)
        .help(format!("charter check {file} shows what is wrong"))
}

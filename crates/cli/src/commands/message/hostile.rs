//! Messages that must be refused.

use std::path::Path;

use charter_contract::WireShape;
use charter_message::{HostileMessage, Message, as_document, hostile};
use charter_session::Spot;
use charter_session::files;
use serde::Serialize;

use super::making::Making;
use crate::args::Format;
use crate::commands::Outcome;
use crate::console::{Console, Failure, Status};
use crate::paint;

#[derive(Serialize)]
struct All {
    operation: String,
    hostile: Vec<HostileJson>,
}

#[derive(Serialize)]
struct HostileJson {
    rule: &'static str,
    path: String,
    message: String,
    body: String,
}

pub fn run(making: &Making<'_>, shape: &WireShape, format: Format, console: &mut Console) -> Outcome {
    let found = hostile_messages(making, shape)?;
    let path = super::chosen::path(making.contract, shape);
    if format == Format::Json {
        let entries = found.into_iter().map(|it| HostileJson {
            rule: it.rule,
            path: it.path,
            message: it.words,
            body: text(making, &it.message),
        });
        console.json(&All { operation: path, hostile: entries.collect() });
        return Ok(Status::Yes);
    }
    for it in &found {
        console.out(&format!("{} {}: {}\n", paint::error(it.rule), paint::path(&it.path), it.words));
        console.out(&paint::xml(&text(making, &it.message)));
        console.out("\n");
    }
    console.out(&format!("{path}: {} that must be refused\n", crate::findings::of(found.len(), "message")));
    Ok(Status::Yes)
}

/// Writes them into a folder, each in a file that is named after the rule that it breaks.
pub fn write(making: &Making<'_>, shape: &WireShape, folder: &Path, name: &str) -> Result<usize, Failure> {
    let found = hostile_messages(making, shape)?;
    for (number, it) in found.iter().enumerate() {
        let ending = if it.message.envelope().is_some() { "xml" } else { "http" };
        let path = folder.join(format!("{name}.{}.{}.{ending}", number + 1, it.rule));
        files::save_result(&making.common.session.writers, &path, text(making, &it.message).as_bytes())?;
    }
    Ok(found.len())
}

/// The envelope, since what goes along with it is never what is wrong; or the whole of what has none.
fn text(making: &Making<'_>, message: &Message) -> String {
    match message.envelope() {
        Some(envelope) => as_document(envelope, making.contract),
        None => String::from_utf8_lossy(&message.http(making.contract).to_bytes()).into_owned(),
    }
}

fn hostile_messages(making: &Making<'_>, shape: &WireShape) -> Result<Vec<HostileMessage>, Failure> {
    hostile(making.engine, shape, &making.blocks(shape)).map_err(|error| {
        Failure::new(error.to_string())
            .at(Spot::of(making.contract, error.place()))
            .of(super::chosen::path(making.contract, shape))
            .help("change the type so that a message can be made")
    })
}

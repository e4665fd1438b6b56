//! `charter message` for an element by itself: samples, and hostile ones.

use charter_contract::{Component, Contract};
use charter_schema::ElementId;
use charter_schema::sample::{HostileKind, Sampler, Size, to_document};
use charter_session::Spot;
use serde::Serialize;

use super::hostile::excerpt;
use super::making::Making;
use crate::args::Format;
use crate::commands::Outcome;
use crate::console::{Console, Failure, Status};
use crate::paint;

#[derive(Serialize)]
struct ElementJson {
    element: String,
    body: String,
}

#[derive(Serialize)]
struct Hostiles {
    element: String,
    hostile: Vec<HostileEntry>,
}

#[derive(Serialize)]
struct HostileEntry {
    rule: &'static str,
    path: String,
    message: String,
    body: String,
}

/// The element that a path names, if it is one of an element.
pub fn named(contract: &Contract, path: &str) -> Result<ElementId, Failure> {
    match charter_session::find(contract, path)? {
        Component::Element(id) => Ok(id),
        other => Err(Failure::new(format!("\"{}\" is no element", contract.path(other)))
            .at(contract.files.first().location.to_string())
            .help("give the path of a global element, such as element/arrival")),
    }
}

pub fn run(making: &Making<'_>, path: &str, hostile: bool, format: Format, console: &mut Console) -> Outcome {
    let contract = making.contract;
    let id = named(contract, path)?;
    let sampler = Sampler::new(making.engine, making.size);
    let failed = |error: charter_schema::sample::SampleError| {
        Failure::new(error.to_string())
            .at(Spot::of(contract, error.place()))
            .of(path)
            .help("change the type so that a message can be made")
    };
    if !hostile {
        let body = to_document(&sampler.element(id).map_err(failed)?);
        match format {
            Format::Json => console.json(&ElementJson { element: path.to_owned(), body }),
            _ => console.data(&paint::xml(&body)),
        }
        return Ok(Status::Yes);
    }
    let found = HostileKind::first_of(sampler.hostile(id).map_err(failed)?, |it| Some(&it.kind));
    if format == Format::Json {
        let entries = found.into_iter().map(|it| HostileEntry {
            rule: it.clause,
            path: it.path,
            message: it.message,
            body: to_document(&it.instance),
        });
        console.json(&Hostiles { element: path.to_owned(), hostile: entries.collect() });
        return Ok(Status::Yes);
    }
    let sound = to_document(&Sampler::new(making.engine, Size::Typical).element(id).map_err(failed)?);
    for it in &found {
        let head = format!("{} {}: {}\n", paint::error(it.clause), paint::path(&it.path), it.message);
        console.out(&head);
        console.out(&paint::xml(&excerpt(&sound, &to_document(&it.instance))));
        console.out("\n");
    }
    console.out(&format!("{path}: {} messages that must be refused\n", found.len()));
    Ok(Status::Yes)
}

//! Messages that must be refused.

use std::path::Path;

use charter_contract::WireShape;
use charter_message::{HostileMessage, Message, as_document, hostile, one_of_each};
use charter_session::Spot;
use charter_session::files;
use serde::Serialize;

use super::making::Making;
use super::many::make_folder;
use crate::alike;
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

pub fn run(
    making: &Making<'_>,
    shape: &WireShape,
    (format, output): (Format, Option<&Path>),
    console: &mut Console,
) -> Outcome {
    let found = hostile_messages(making, shape)?;
    let path = super::chosen::path(making.contract, shape);
    if let Some(folder) = output {
        make_folder(folder)?;
        let name = super::chosen::file_name(making.contract, shape);
        let written = write_all(making, &found, folder, &name)?;
        files::keep_results(folder);
        let words = crate::findings::of(written, "message");
        console.out(&format!("wrote {words} into {}\n", paint::strong(&folder.display().to_string())));
        return Ok(Status::Yes);
    }
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
    let sound = making.sample(shape).map(|content| text(making, &making.message(shape, content)))?;
    for it in &found {
        console.out(&format!("{} {}: {}\n", paint::error(it.rule), paint::path(&it.path), it.words));
        console.out(&paint::xml(&excerpt(&sound, &text(making, &it.message))));
        console.out("\n");
    }
    console.out(&format!("{path}: {} that must be refused\n", crate::findings::of(found.len(), "message")));
    Ok(Status::Yes)
}

/// Writes them into a folder, each in a file that is named after the rule that it breaks.
pub fn write(making: &Making<'_>, shape: &WireShape, folder: &Path, name: &str) -> Result<usize, Failure> {
    let found = hostile_messages(making, shape)?;
    write_all(making, &found, folder, name)
}

fn write_all(
    making: &Making<'_>,
    found: &[HostileMessage],
    folder: &Path,
    name: &str,
) -> Result<usize, Failure> {
    for (number, it) in found.iter().enumerate() {
        let ending = if it.message.envelope().is_some() { "xml" } else { "http" };
        let path = folder.join(format!("{name}.{}.{}.{ending}", number + 1, it.rule));
        files::save_result(&making.common.session.writers, &path, text(making, &it.message).as_bytes())?;
    }
    Ok(found.len())
}

/// Lines around what is wrong that are shown.
const AROUND: usize = 2;
/// Lines of one message that are shown at most.
const MOST_SHOWN: usize = 12;

/// The lines of a message that are not those of the sound one, and some around them.
pub fn excerpt(sound: &str, hostile: &str) -> String {
    let (right, wrong): (Vec<&str>, Vec<&str>) = (sound.lines().collect(), hostile.lines().collect());
    let (same, end) = alike::ends(&right, &wrong);
    let from = same.saturating_sub(AROUND);
    let to = (wrong.len() - end + AROUND).min(wrong.len());
    let mut lines: Vec<&str> = Vec::new();
    lines.extend((from > 0).then_some("..."));
    let shown = &wrong[from..to];
    // Prefixes that are declared at the top may stand far from what they are for.
    match shown.len() > MOST_SHOWN {
        true => {
            lines.extend(&shown[..MOST_SHOWN / 2]);
            lines.push("...");
            lines.extend(&shown[shown.len() - MOST_SHOWN / 2..]);
        }
        false => lines.extend(shown),
    }
    lines.extend((to < wrong.len()).then_some("..."));
    lines.iter().map(|line| format!("{line}\n")).collect()
}

/// The envelope, since what goes along with it is never what is wrong; or the whole of what has none.
fn text(making: &Making<'_>, message: &Message) -> String {
    match message.envelope() {
        Some(envelope) => as_document(envelope, making.contract),
        None => String::from_utf8_lossy(&message.http(making.contract).to_bytes()).into_owned(),
    }
}

fn hostile_messages(making: &Making<'_>, shape: &WireShape) -> Result<Vec<HostileMessage>, Failure> {
    hostile(making.engine, shape, &making.blocks(shape)).map(one_of_each).map_err(|error| {
        Failure::new(error.to_string())
            .at(Spot::of(making.contract, error.place()))
            .of(super::chosen::path(making.contract, shape))
            .help("change the type so that a message can be made")
    })
}

//! The typical message of each operation that changed, in both versions beside each other.

use charter_contract::{Contract, OperationId, Side};
use charter_message::{Size, as_document, assemble, sample};
use charter_schema::Engine;

use super::Compared;
use crate::commands::message::against;
use crate::paint;

/// All sides of operations that a change reaches, or those of the operations that were asked for.
pub fn text(compared: &Compared, operations: &[String], width: usize) -> String {
    let (old, new) = (&compared.old, &compared.new);
    let old_engine = Engine::new(&old.files, &old.schemas);
    let new_engine = Engine::new(&new.files, &new.schemas);
    let versions = compared.versions();
    let mut sides: Vec<(&str, String)> = Vec::new();
    for touched in compared.report.changes.iter().flat_map(|change| &change.operations) {
        let operation = versions.operation_name(touched.at);
        let side = (operation, versions.side_name(touched.at));
        let wanted = operations.is_empty() || operations.iter().any(|wanted| wanted == operation);
        if wanted && !sides.contains(&side) {
            sides.push(side);
        }
    }
    let mut text = String::new();
    for (operation, side) in sides {
        let pairs = compared.report.operation_pairs.iter();
        let mut pairs = pairs.filter(|(_, id)| *new.operation(*id).name.text == *operation);
        let Some((was, is)) = pairs.next() else { continue };
        let (Some(before), Some(after)) =
            (typical(old, &old_engine, *was, &side), typical(new, &new_engine, *is, &side))
        else {
            continue;
        };
        let (names, path) =
            ((compared.names.0.as_str(), compared.names.1.as_str()), format!("{operation} ({side})"));
        let (columns, same) = against::beside((&before, &after), names, width);
        if !same {
            text.push_str(&format!("{}\n{columns}", paint::path(&path)));
        }
    }
    if text.is_empty() {
        text.push_str("the typical messages are the same in both versions\n");
    }
    text
}

/// What a side of an operation typically looks like.
fn typical(contract: &Contract, engine: &Engine<'_>, id: OperationId, side: &str) -> Option<String> {
    let side: Side = contract.sides(id).into_iter().find(|own| contract.side_name(id, *own) == side)?;
    let offer = contract.bound(id).next()?;
    let shape = contract.shape_of(id, side, offer).ok()?;
    let wire_content = sample(engine, &shape, Size::Typical).ok()?;
    let message = assemble(engine, &shape, wire_content, &[]);
    Some(match message.envelope() {
        Some(envelope) => as_document(envelope, contract),
        None => String::from_utf8_lossy(&message.http(contract).to_bytes()).replace('\r', ""),
    })
}

//! Every message of a contract, in a folder.

use std::path::Path;

use charter_contract::{Component, Contract, WireShape};
use charter_session::Spot;
use charter_session::files;

use super::making::{Making, ending};
use super::many::make_folder;
use super::{chosen, hostile};
use crate::args::FormArg;
use crate::commands::Outcome;
use crate::console::{Console, Failure, Status};
use crate::paint;
use crate::progress::Progress;

pub fn run(making: &Making<'_>, folder: &Path, console: &mut Console) -> Outcome {
    if let Some(port) = &making.args.port {
        chosen::must_offer(making.contract, port)?;
    }
    make_folder(folder)?;
    let (shapes, missing) = shapes(making.contract, making.args.port.as_deref());
    for failure in &missing {
        console.fail(failure);
    }
    let mut written = 0;
    let mut failed = missing.len();
    let progress = Progress::over(shapes.len(), "messages");
    for (name, shape) in &shapes {
        let outcome = if making.args.hostile {
            hostile::write(making, shape, folder, name)
        } else {
            write(making, shape, folder, name)
        };
        match outcome {
            Ok(count) => written += count,
            Err(failure) => {
                failed += 1;
                console.fail(&failure);
            }
        }
        progress.step();
    }
    progress.done();
    files::keep_results(folder);
    let words = crate::findings::of(written, "message");
    console.out(&format!("wrote {words} into {}\n", paint::strong(&folder.display().to_string())));
    Ok(if failed == 0 { Status::Yes } else { Status::NoAnswer })
}

fn write(making: &Making<'_>, shape: &WireShape, folder: &Path, name: &str) -> Result<usize, Failure> {
    let mut form = making.form(shape);
    // A reply cannot be sent; where only requests can be shown, the others are left out.
    if form == FormArg::Curl && !shape.is_request() {
        return Ok(0);
    }
    if form == FormArg::Envelope && shape.soap().is_none() {
        form = FormArg::Http;
    }
    let wire_content = making.sample(shape)?;
    let bytes = making.rendered(shape, &wire_content, form)?;
    let ending = ending(form, &making.message(shape, wire_content));
    files::save_result(&making.common.session.writers, &folder.join(format!("{name}.{ending}")), &bytes)?;
    Ok(1)
}

/// Every shape of a contract with the name of its file, and why others have none.
fn shapes(contract: &Contract, port: Option<&str>) -> (Vec<(String, WireShape)>, Vec<Failure>) {
    let mut found: Vec<(String, WireShape)> = Vec::new();
    let mut missing = Vec::new();
    for (id, _) in contract.operations() {
        for bound in contract.bound(id) {
            let by = contract.offered_by(bound.port, bound.binding).to_string();
            if port.is_some_and(|port| port != by) {
                continue;
            }
            for side in contract.sides(id) {
                match contract.shape_of(id, side, bound) {
                    Ok(shape) => found.push((by.clone(), shape)),
                    Err(error) => {
                        let path = contract.path(Component::OperationSide(id, side));
                        missing.push(
                            Failure::new(error.to_string())
                                .at(Spot::of(contract, error.place))
                                .of(path.to_string())
                                .help("the other messages are written all the same"),
                        );
                    }
                }
                let faults = contract.header_faults(id, side, bound).unwrap_or_default();
                found.extend(faults.into_iter().map(|shape| (by.clone(), shape)));
            }
        }
    }
    let mut seen = std::collections::HashMap::new();
    let named = found.into_iter().map(|(by, shape)| {
        let name = format!("{}.{by}", chosen::file_name(contract, &shape));
        // Two services may have a port of one name.
        let count = seen.entry(name.clone()).or_insert(0);
        *count += 1;
        let name = if *count > 1 { format!("{name}.{count}") } else { name };
        (name, shape)
    });
    (named.collect(), missing)
}

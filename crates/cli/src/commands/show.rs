//! `charter show`

use serde::Serialize;

use super::Outcome;
use crate::args::Format;
use crate::console::{Console, Status};
use crate::load::Common;
use crate::{load, paint};

#[derive(Serialize)]
struct Shown {
    path: String,
    notation: String,
}

pub fn run(file: &str, path: Option<&str>, common: &Common, console: &mut Console) -> Outcome {
    let contract = load::load_readable(common, file)?;
    let component = load::find(&contract, path.unwrap_or("contract"))?;
    let notation = charter_notation::component(&contract, component, &common.convention(file)?);
    if common.format == Format::Json {
        console.json(&Shown { path: contract.path(component).to_string(), notation });
        return Ok(Status::Yes);
    }
    console.out(&paint::notation(&notation));
    let faults = contract.faults().len();
    if faults > 0 {
        let what = if faults == 1 { "is one fault".to_owned() } else { format!("are {faults} faults") };
        console.note(&format!("there {what} in what was read: charter check {file} shows more\n"));
    }
    Ok(Status::Yes)
}

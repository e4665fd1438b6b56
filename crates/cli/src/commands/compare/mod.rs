//! `charter compare`

mod json;
mod text;
mod witness;

use charter_compare::{Reader, Verdict, compare};

use super::Outcome;
use crate::args::{Format, ReaderArg};
use crate::console::{Console, Status};
use crate::load;
use crate::load::Common;

pub fn run(
    old: &str,
    new: &str,
    reader: Option<ReaderArg>,
    common: &Common,
    console: &mut Console,
) -> Outcome {
    let (old_contract, new_contract) = (load::load_contract(common, old)?, load::load_contract(common, new)?);
    let reader = match reader {
        None => Reader::Unknown,
        Some(ReaderArg::Strict) => Reader::Strict,
        Some(ReaderArg::Lenient) => Reader::Lenient,
    };
    let report = compare(&old_contract, &new_contract, reader);
    match common.format {
        Format::Json => console.json(&json::json(&old_contract, &new_contract, &report)),
        _ => console.out(&text::text(&old_contract, &new_contract, (old, new), &report, console.width())),
    }
    for (name, contract) in [(old, &old_contract), (new, &new_contract)] {
        if !contract.faults().is_empty() {
            let note = format!(
                "{name} has faults and was compared as far as it could be read: charter check {name}\n"
            );
            console.note(&note);
        }
    }
    Ok(if report.verdict == Verdict::Breaks { Status::No } else { Status::Yes })
}

//! `charter add`

use charter_author::add;

use super::{Outcome, change};
use crate::args::EditArgs;
use crate::common::Common;
use crate::console::Console;

pub fn run(
    file: &str,
    to: Option<&str>,
    notation: &str,
    options: &EditArgs,
    common: &Common,
    console: &mut Console,
) -> Outcome {
    let opened = change::Opened::at(file, to, options, common)?;
    let result = add(opened.editing(options), opened.component, notation);
    change::end(opened, result, ("notation", notation), options, common, console)
}

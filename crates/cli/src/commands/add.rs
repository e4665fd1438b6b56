//! `charter add`

use charter_author::add;

use super::{Outcome, change};
use crate::args::EditArgs;
use crate::console::Console;
use crate::load::Common;

pub fn run(
    file: &str,
    to: Option<&str>,
    notation: &str,
    options: &EditArgs,
    common: &Common,
    console: &mut Console,
) -> Outcome {
    let opened = change::Opened::at(file, to, options, common)?;
    let result = add(opened.editing(options, common), opened.component, notation);
    change::end(opened, result, ("notation", notation), options, common, console)
}

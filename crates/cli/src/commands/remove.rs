//! `charter remove`

use charter_author::{remove, remove_unused};

use super::{Outcome, change};
use crate::args::EditArgs;
use crate::common::Common;
use crate::console::{Console, Failure};

/// What is to be removed.
pub struct Wanted<'w> {
    pub path: Option<&'w str>,
    /// What refers to it too.
    pub references: bool,
    /// Everything that no service leads to.
    pub unused: bool,
}

pub fn run(
    file: &str,
    wanted: &Wanted<'_>,
    options: &EditArgs,
    common: &Common,
    console: &mut Console,
) -> Outcome {
    let opened = change::Opened::at(file, wanted.path, options, common)?;
    let editing = opened.editing(options);
    let result = match (wanted.path, wanted.unused) {
        (_, true) => remove_unused(editing),
        (Some(_), false) => remove(editing, opened.component, wanted.references),
        (None, false) => {
            let failure = Failure::new("it is not said what to remove");
            let help = "give a component path, or --unused for everything that no service leads to";
            return Err(failure.help(help));
        }
    };
    change::end(opened, result, ("", ""), options, common, console)
}

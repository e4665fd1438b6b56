//! `charter add`

use charter_author::{Editing, add};
use charter_contract::Component;

use super::{Outcome, change};
use crate::args::EditArgs;
use crate::console::Console;
use crate::load::{self, Common};

pub fn run(
    file: &str,
    to: Option<&str>,
    notation: &str,
    options: &EditArgs,
    common: &Common,
    console: &mut Console,
) -> Outcome {
    let contract = load::load_readable(common, file)?;
    let component = match to {
        Some(path) => load::find(&contract, path)?,
        None => Component::Contract,
    };
    let path = contract.path(component).to_string();
    let convention = common.convention(file)?;
    let editing =
        Editing { contract: &contract, store: &common.store, convention: &convention, force: options.force };
    let result = add(editing, component, notation);
    change::end(&contract, &path, result, ("notation", notation), options, common, console)
}

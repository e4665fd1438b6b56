//! `charter remove`

use charter_author::{Editing, remove, remove_unused};

use super::{Outcome, change};
use crate::args::EditArgs;
use crate::console::{Console, Failure};
use crate::load::{self, Common};

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
    let contract = load::load_readable(common, file)?;
    let convention = common.convention(file)?;
    let editing =
        Editing { contract: &contract, store: &common.store, convention: &convention, force: options.force };
    if wanted.unused {
        return change::end(
            &contract,
            "contract",
            remove_unused(editing),
            ("", ""),
            options,
            common,
            console,
        );
    }
    let Some(path) = wanted.path else {
        let failure = Failure::new("it is not said what to remove");
        return Err(
            failure.help("give a component path, or --unused for everything that no service leads to")
        );
    };
    let component = load::find(&contract, path)?;
    let path = contract.path(component).to_string();
    let result = remove(editing, component, wanted.references);
    change::end(&contract, &path, result, ("", ""), options, common, console)
}

//! `charter set`

use charter_author::{Editing, set};

use super::{Outcome, change};
use crate::args::EditArgs;
use crate::console::{Console, Failure};
use crate::load::{self, Common};

pub fn run(
    file: &str,
    path: &str,
    settings: &[String],
    options: &EditArgs,
    common: &Common,
    console: &mut Console,
) -> Outcome {
    let contract = load::load_readable(common, file)?;
    let component = load::find(&contract, path)?;
    let mut pairs: Vec<(&str, &str)> = Vec::new();
    for setting in settings {
        let Some((key, value)) = setting.split_once('=') else {
            let failure = Failure::new(format!("\"{setting}\" is no setting"));
            return Err(failure.help("write KEY=VALUE, such as occurs=0..1; KEY= takes it away"));
        };
        pairs.push((key.trim(), value));
    }
    let path = contract.path(component).to_string();
    let convention = common.convention(file)?;
    let editing =
        Editing { contract: &contract, store: &common.store, convention: &convention, force: options.force };
    change::end(&contract, &path, set(editing, component, &pairs), ("", ""), options, common, console)
}

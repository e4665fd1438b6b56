//! `charter set`

use charter_author::set;

use super::{Outcome, change};
use crate::args::EditArgs;
use crate::common::Common;
use crate::console::{Console, Failure};

pub fn run(
    file: &str,
    path: &str,
    settings: &[String],
    options: &EditArgs,
    common: &Common,
    console: &mut Console,
) -> Outcome {
    let opened = change::Opened::at(file, Some(path), options, common)?;
    let mut pairs: Vec<(&str, &str)> = Vec::new();
    for setting in settings {
        let Some((key, value)) = setting.split_once('=') else {
            let failure = Failure::new(format!("\"{setting}\" is no setting"));
            return Err(failure.help("write KEY=VALUE, such as occurs=0..1; KEY= takes it away"));
        };
        pairs.push((key.trim(), value));
    }
    let result = set(opened.editing(options), opened.component, &pairs);
    change::end(opened, result, ("", ""), options, common, console)
}

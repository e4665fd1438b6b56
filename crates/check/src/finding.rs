//! One thing that is wrong with a contract.

use charter_contract::{Component, ComponentPath};
use charter_source::Place;

use crate::level::Level;
use crate::profile::Profile;
use crate::rule::Rule;

/// One thing that is wrong with a contract.
#[derive(Debug, Clone)]
pub struct Finding {
    /// The name of the rule that it breaks.
    pub name: &'static str,
    /// The rule that it breaks; [`UNLISTED`](crate::UNLISTED) if the catalogue does not have it.
    pub rule: &'static Rule,
    /// How serious it is.
    pub level: Level,
    /// What is wrong, in one line.
    pub message: String,
    /// Where.
    pub place: Place,
    /// What to do about it, in one line.
    pub help: Option<String>,
    /// The component that it stands in.
    pub component: Component,
    /// What that is called.
    pub path: ComponentPath,
    /// What stands at the place: a name, a value, or the name of the element that begins there.
    pub at: String,
}

/// What a check comes to.
#[derive(Debug, Clone, Default)]
pub struct Checked {
    /// What is wrong: by file, the most serious first, and of these what others may follow from.
    pub findings: Vec<Finding>,
    /// What would be wrong, if no exception allowed it.
    pub excepted: Vec<Finding>,
    /// How many notes were left out, since nobody asked for them.
    pub unsaid: usize,
    /// The profiles that it was judged by.
    pub profiles: Vec<Profile>,
}

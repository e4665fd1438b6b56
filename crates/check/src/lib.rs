//! The catalogue of rules, and the findings they make.
//!
//! A [`Rule`] is one entry in one table: its name, its level, the standard that asks for it, what it asks in
//! plain words, an example that breaks it and one that keeps it, and the function that looks for it. Rules
//! without a function are found by the crates that read. [`check`] runs them all.

mod baseline;
mod catalogue;
mod check;
mod example;
mod finding;
mod fixes;
mod fixing;
mod level;
mod profile;
mod rule;
mod rules;
mod settings;

pub use baseline::Baseline;
pub use catalogue::{UNLISTED, rule, rules};
pub use check::{check, check_by};
pub use example::{Example, Slot};
pub use finding::{Checked, Finding};
pub use fixing::Fixes;
pub use level::Level;
pub use profile::{On, Profile, Requirement, Seen, Strength, requirements};
pub use rule::{Family, Fix, Look, LookBySettings, Rule, Stage};
pub use settings::{
    Exception, House, LevelChange, NamePattern, NamedKind, PathPattern, Settings, SettingsError,
};

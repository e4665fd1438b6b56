//! The catalogue of rules, and the findings they make.
//!
//! A [`Rule`] is one entry in one table: its name, its level, the standard that asks for it, what it asks in
//! plain words, an example that breaks it and one that keeps it, and the function that looks for it. Rules
//! without a function are found by the crates that read. [`check`] runs them all.

mod catalogue;
mod example;
mod finding;
mod fixes;
mod fixing;
mod profile;
mod rules;
mod settings;

pub use catalogue::{Family, Fix, Level, Look, LookBySettings, Rule, Stage, UNLISTED, rule, rules};
pub use example::{Example, Slot};
pub use finding::{Checked, Finding, check, check_by};
pub use fixing::Fixes;
pub use profile::{On, Profile, Requirement, Seen, Strength, requirements};
pub use settings::{
    Baseline, Exception, House, LevelChange, NamePattern, NamedKind, PathPattern, Settings, SettingsError,
};

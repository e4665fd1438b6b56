//! Everything that the crate promises, in one program: it is linked once.

mod catalogue;
mod every_rule;
mod no_false_alarm;
mod notation;
mod profiles;
mod verdicts;

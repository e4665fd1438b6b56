//! Ways out: for each change of a revision that breaks its consumers, an edit of the new version after which it does not.
//!
//! What might help is proposed for each kind of change (`propose/`), as small changes of element infos (`amend.rs`) at places
//! that both versions have (`spot.rs`). Each is made in memory and compared again before anybody hears of it (`trial.rs`).

mod amend;
mod making;
mod propose;
mod spot;
mod trial;
mod way;

pub use trial::ways_out;
pub use way::{NoWay, Remedy, Respect, Step, Way, WayOut, WaysOut};

//! A contract that is loaded: with its files, its schemas, the engine that works on them, and what a team has settled for it.
//!
//! The program, a server for editors and a stand-in all begin here. A [`Session`] says where files are read from (catalogs, the
//! network if that is allowed, revisions in git) and where may be written; it loads a contract by the name of its file. A
//! [`Loaded`] contract owns everything that works on it, and a [`Kept`] one is loaded anew when it is told of changed files.
//! [`Settings`] is the one reader of `charter.toml`. `files` writes, so that nothing is ever half written, and finishes or
//! undoes what was cut off.
//!
//! Nothing here prints, and nothing knows an argument or a colour: what is worth telling is a [`Notice`] or a [`Failure`].

mod failure;
pub mod files;
pub mod folders;
mod git;
mod kept;
mod loaded;
mod network;
mod notation_file;
mod notice;
mod opened;
pub mod read;
mod rows;
mod session;
pub mod settings;
pub mod versions;

pub use failure::{Failure, Slips, Spot};
pub use kept::{FileEvent, Kept};
pub use loaded::Loaded;
pub use network::Web;
pub use notation_file::{NotationFile, is_notation};
pub use notice::Notice;
pub use opened::Opened;
pub use rows::Rows;
pub use session::{Options, Session, find, is_contract};
pub use settings::{Environment, Revisions, Secret, Settings};

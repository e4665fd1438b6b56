//! Sessions on files in a temporary folder.

mod folders;
mod kept;
mod loading;
mod settings;
mod shared;
mod writing;

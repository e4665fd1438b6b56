//! Drives the built program on files in a temporary folder, as its users do.

mod authoring;
mod bad_input;
mod bindings;
mod captured;
mod catalog;
mod check;
mod checks;
mod compare;
mod curl;
mod demo;
mod derive;
mod explain;
mod folder;
mod matching;
mod message;
mod new;
mod notation_file;
mod office;
mod output;
mod planted;
mod rename;
mod revisions;
mod schemas;
mod show;
mod unfinished;
mod values;

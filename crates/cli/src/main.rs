//! The program `charter`: arguments, rendering, files written. What it knows about contracts is in the core.
// What stands above an argument is its help, where brackets are brackets.
#![allow(rustdoc::broken_intra_doc_links)]

mod alike;
mod args;
mod commands;
mod common;
mod console;
mod demo_data;
mod escape;
mod findings;
mod paint;
mod progress;
mod sarif;
mod slips;

use std::process::ExitCode;

use clap::Parser;

use args::Args;
use console::Console;

fn main() -> ExitCode {
    let args = match Args::try_parse() {
        Ok(args) => args,
        Err(error) => {
            // Help and version go to standard output with status 0, mistakes to standard error with 2.
            let written = if error.render().to_string().chars().any(|c| paint::picture(c).is_some()) {
                // A name that would do something to the terminal, most likely from a folder of somebody else.
                std::io::Write::write_all(
                    &mut std::io::stderr(),
                    paint::plain(&error.render().to_string()).as_bytes(),
                )
            } else {
                error.print()
            };
            return ExitCode::from(if error.use_stderr() || written.is_err() { 2 } else { 0 });
        }
    };
    let mut console = Console::new(args.color);
    let status = commands::run(&args, &mut console);
    console.finish(status).into()
}

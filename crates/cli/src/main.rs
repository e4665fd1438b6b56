//! The program `charter`: arguments, rendering, files written. What it knows about contracts is in the core.

mod args;
mod commands;
mod config;
mod console;
mod demo_data;
mod files;
mod findings;
mod git;
mod load;
mod online;
mod paint;
mod progress;
mod unfinished;

use std::process::ExitCode;

use clap::Parser;

use args::Args;
use console::Console;

fn main() -> ExitCode {
    let args = match Args::try_parse() {
        Ok(args) => args,
        Err(error) => {
            // Help and version go to standard output with status 0, mistakes to standard error with 2.
            let _ = error.print();
            return ExitCode::from(if error.use_stderr() { 2 } else { 0 });
        }
    };
    let mut console = Console::new(args.color);
    let status = commands::run(&args, &mut console);
    console.finish();
    status.into()
}

//! The arguments of `charter rehearse`.

use std::path::PathBuf;
use std::time::Duration;

use clap::ValueEnum;

use super::ReachArgs;

/// What is rehearsed, against whom, and how often.
#[derive(Debug, Clone, clap::Args)]
pub struct RehearseArgs {
    /// The contract
    pub contract: String,
    /// The rehearsal; without one, a typical request of each operation by each port
    pub rehearsal: Option<PathBuf>,
    /// Which port of the contract, where there is no rehearsal
    #[arg(long, value_name = "NAME", conflicts_with = "rehearsal")]
    pub port: Option<String>,
    /// The provider, instead of a stand-in that is started for the rehearsal
    #[arg(long, value_name = "URL", conflicts_with = "environment")]
    pub to: Option<String>,
    /// An environment of charter.toml: where its ports are, and how they are reached
    #[arg(long, short, value_name = "NAME")]
    pub environment: Option<String>,
    /// A script of replies for the stand-in
    #[arg(long, value_name = "FILE", conflicts_with_all = ["to", "environment"])]
    pub script: Option<PathBuf>,
    /// Write a rehearsal that expects what comes now: into a new file, or into the rehearsal itself
    #[arg(long, value_name = "FILE", conflicts_with_all = ["hostile", "beside", "repeat", "together", "long"])]
    pub record: Option<PathBuf>,
    /// Send wrong requests as well, each of which must be refused
    #[arg(long, conflicts_with_all = ["beside", "repeat", "together", "long"])]
    pub hostile: bool,
    /// Rehearse at a second address too, and compare what both reply
    #[arg(long, value_name = "URL", conflicts_with_all = ["repeat", "together", "long"])]
    pub beside: Option<String>,
    /// Repeat it so often, and measure
    #[arg(long, value_name = "NUMBER", value_parser = clap::value_parser!(u64).range(1..=1_000_000_000))]
    pub repeat: Option<u64>,
    /// Repeat it so many at a time, and measure
    #[arg(long, value_name = "NUMBER", value_parser = clap::value_parser!(u32).range(1..=1000))]
    pub together: Option<u32>,
    /// How long it is repeated, such as 10s or 5m; an hour at most
    #[arg(long = "for", value_name = "TIME", value_parser = time)]
    pub long: Option<Duration>,
    /// Write a report in another form
    #[arg(long = "as", value_enum, value_name = "FORM")]
    pub form: Option<ReportForm>,
    /// The file that the report is written to, instead of standard output
    #[arg(long, short, value_name = "FILE")]
    pub output: Option<PathBuf>,
    /// Keep every exchange in a file: JSON Lines, or an HTTP archive if its name ends in .har
    #[arg(long, value_name = "FILE", conflicts_with_all = ["repeat", "together", "long"])]
    pub journal: Option<PathBuf>,
    #[command(flatten)]
    pub reach: ReachArgs,
}

/// What a report is written as.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum ReportForm {
    /// A page in HTML, with both messages of each exchange
    Page,
}

fn time(text: &str) -> Result<Duration, String> {
    let long = charter_exchange::rehearsal::duration(text).filter(|long| !long.is_zero());
    long.ok_or_else(|| "write it like 10s or 5m; an hour at most".to_owned())
}

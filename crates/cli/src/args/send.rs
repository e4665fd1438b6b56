//! The arguments of `charter send`.

use std::path::PathBuf;

use clap::ValueEnum;

use super::SizeArg;

/// What is sent, where to, and how.
#[derive(Debug, Clone, clap::Args)]
pub struct SendArgs {
    /// The contract
    pub contract: String,
    /// The operation, by name or component path
    #[arg(required_unless_present = "all")]
    pub operation: Option<String>,
    /// Values to set by their wire paths, such as vessel/draught=9.4; PATH= leaves one out
    #[arg(value_name = "PATH=VALUE")]
    pub settings: Vec<String>,
    /// Send a request of each operation by each port, and show what came in a table
    #[arg(long, conflicts_with_all = ["operation", "values", "message"])]
    pub all: bool,
    /// Which port of the contract, where several offer the operation
    #[arg(long, value_name = "NAME")]
    pub port: Option<String>,
    /// Where to send it, instead of the address of the port
    #[arg(long, value_name = "URL", conflicts_with = "environment")]
    pub to: Option<String>,
    /// An environment of charter.toml: where its ports are, and how they are reached
    #[arg(long, short, value_name = "NAME")]
    pub environment: Option<String>,
    /// How much the request holds
    #[arg(long, value_enum)]
    pub size: Option<SizeArg>,
    /// Nothing that may be left out: --size least
    #[arg(long, conflicts_with = "size")]
    pub least: bool,
    /// A random request, the same for the same number
    #[arg(long, value_name = "NUMBER")]
    pub seed: Option<u64>,
    /// The values of the request, from a file of JSON; or of many, from a CSV file with a request a row
    #[arg(long, value_name = "FILE")]
    pub values: Option<String>,
    /// Take what the values leave out from a sample
    #[arg(long, requires = "values")]
    pub fill: bool,
    /// Send the message in a file: an envelope, or a whole HTTP request
    #[arg(long, value_name = "FILE", conflicts_with_all = ["values", "settings", "size", "least", "seed"])]
    pub message: Option<String>,
    /// Send it even if it is not what the contract asks for
    #[arg(long)]
    pub anyway: bool,
    /// What is shown of each exchange
    #[arg(long, value_enum, default_value_t = ShowArg::Both, value_name = "WHAT")]
    pub show: ShowArg,
    /// Write the exchanges in another form
    #[arg(long = "as", value_enum, value_name = "FORM")]
    pub form: Option<ExchangeForm>,
    /// Keep every exchange in a file: JSON Lines, or an HTTP archive if its name ends in .har
    #[arg(long, value_name = "FILE")]
    pub journal: Option<PathBuf>,
    #[command(flatten)]
    pub reach: ReachArgs,
}

/// How a provider is reached.
#[derive(Debug, Clone, Default, clap::Args)]
pub struct ReachArgs {
    /// With the header blocks of WS-Addressing, even if no policy asks for them
    #[arg(long)]
    pub addressing: bool,
    /// The user name of WS-Security
    #[arg(long, value_name = "NAME")]
    pub user: Option<String>,
    /// The user name of HTTP Basic
    #[arg(long, value_name = "NAME")]
    pub basic: Option<String>,
    /// Where the password is that goes with --user or --basic: env:NAME or file:PATH
    #[arg(long, value_name = "FROM")]
    pub password: Option<String>,
    /// Send the password of --user as a digest
    #[arg(long)]
    pub digest: bool,
    /// Where a token is that HTTP is shown: env:NAME or file:PATH
    #[arg(long, value_name = "FROM")]
    pub bearer: Option<String>,
    /// A header field that goes along; may be given several times
    #[arg(long = "header", value_name = "NAME: VALUE")]
    pub headers: Vec<String>,
    /// Certificates in PEM of those who vouch for the server, instead of those that this machine trusts
    #[arg(long, value_name = "FILE")]
    pub authorities: Option<PathBuf>,
    /// The certificate in PEM that is shown to the server, with its key in the same file
    #[arg(long, value_name = "FILE")]
    pub certificate: Option<PathBuf>,
    /// Where requests go first
    #[arg(long, value_name = "URL")]
    pub proxy: Option<String>,
    /// How long an exchange may take, in seconds; 30 if nothing is said
    #[arg(long, value_name = "SECONDS", value_parser = clap::value_parser!(u32).range(1..=3600))]
    pub timeout: Option<u32>,
    /// How often a request is sent again to which no reply came
    #[arg(long, value_name = "NUMBER", default_value_t = 0)]
    pub retries: u32,
}

/// What is shown of an exchange.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum ShowArg {
    /// The request and the reply
    Both,
    /// The reply
    Reply,
    /// The values of the reply, as JSON
    Values,
}

/// What exchanges are written as.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum ExchangeForm {
    /// An HTTP archive, HAR 1.2
    Har,
}

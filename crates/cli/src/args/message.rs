//! The arguments of `charter message` and `charter match`.

use std::path::PathBuf;

use clap::ValueEnum;

use super::{SideArg, SizeArg};

/// Which message, and how it is shown.
#[derive(Debug, Clone, clap::Args)]
pub struct MessageArgs {
    /// The contract or schema, or - for standard input
    pub file: String,
    /// The operation, by name or component path; or an element by itself, such as element/arrival
    #[arg(required_unless_present = "all")]
    pub operation: Option<String>,
    /// Values to set by their wire paths, such as vessel/draught=9.4 or 'hazard[2]/class=3'; PATH= leaves one out
    #[arg(value_name = "PATH=VALUE")]
    pub settings: Vec<String>,
    /// Which side of it
    #[arg(long, value_enum, default_value_t = SideArg::Input)]
    pub side: SideArg,
    /// Which fault, where there are several
    #[arg(long, value_name = "NAME")]
    pub fault: Option<String>,
    /// A fault about a header block, by the part that the binding names for it
    #[arg(long, value_name = "PART", conflicts_with = "fault")]
    pub header_fault: Option<String>,
    /// Which port, where several offer the operation
    #[arg(long, value_name = "NAME")]
    pub port: Option<String>,
    /// How much it holds
    #[arg(long, value_enum)]
    pub size: Option<SizeArg>,
    /// A random message, the same for the same number
    #[arg(long, value_name = "NUMBER")]
    pub seed: Option<u64>,
    /// What is shown of it
    #[arg(long = "as", value_enum, value_name = "FORM")]
    pub form: Option<FormArg>,
    /// The values of the message, from a file of JSON; or of many, from a CSV file with a message a row
    #[arg(long, value_name = "FILE")]
    pub values: Option<String>,
    /// Take what the values leave out from a sample
    #[arg(long, requires = "values")]
    pub fill: bool,
    /// Write behind each value what may stand there
    #[arg(long)]
    pub comments: bool,
    /// Where to write it, instead of standard output; with a CSV file, a folder
    #[arg(short, long, value_name = "PATH")]
    pub output: Option<PathBuf>,
    /// Write every message of the contract into a folder
    #[arg(long, value_name = "DIR", conflicts_with_all = ["operation", "values", "output", "against"])]
    pub all: Option<PathBuf>,
    /// Show it beside the same message of another contract
    #[arg(long, value_name = "FILE", conflicts_with_all = ["values", "hostile", "output"])]
    pub against: Option<String>,
    /// Messages that break one rule each
    #[arg(long)]
    pub hostile: bool,
    /// With the header blocks of WS-Addressing, even if no policy asks for them
    #[arg(long)]
    pub addressing: bool,
    /// With the user name of WS-Security, and the password of --password
    #[arg(long, value_name = "NAME")]
    pub user: Option<String>,
    /// The password that goes with --user
    #[arg(long, value_name = "WORD", requires = "user")]
    pub password: Option<String>,
    /// Send the password as a digest, even if no policy asks for it
    #[arg(long)]
    pub digest: bool,
    /// With the time of now, and an identifier that no other message has
    #[arg(long)]
    pub fresh: bool,
    /// How a template writes a place; PATH stands for the wire path
    #[arg(long, value_name = "FORM", default_value = "|PATH|")]
    pub place: String,
}

/// What is shown of a message.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum FormArg {
    /// The element in the body of the envelope
    Body,
    /// The envelope
    Envelope,
    /// The whole HTTP message, with its headers
    Http,
    /// A line for a shell that sends it with curl
    Curl,
    /// The values alone
    Json,
    /// The envelope with a named place for each value
    Template,
}

/// Which messages are matched.
#[derive(Debug, Clone, clap::Args)]
pub struct MatchArgs {
    /// The contract, or a schema alone
    pub contract: String,
    /// The messages: envelopes, HTTP exchanges, JSON Lines, folders of them; or - for standard input
    #[arg(required = true)]
    pub files: Vec<String>,
    /// Say as well what is merely worth knowing
    #[arg(long)]
    pub notes: bool,
    /// Give the values of the messages as JSON, instead of findings
    #[arg(long)]
    pub values: bool,
    /// Add what the messages use to a consumer record: operations, and the wire paths of what is sent and read
    #[arg(long, value_name = "RECORD")]
    pub learn: Option<PathBuf>,
}

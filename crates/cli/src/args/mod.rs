//! The command line.

mod answer;
mod compare;
mod message;
mod rehearse;
mod send;

use std::path::PathBuf;

use clap::{Parser, Subcommand, ValueEnum};

pub use answer::AnswerArgs;
pub use compare::{CompareArgs, FormOfReport, GateArg, OnlyArg, OpenContentArg, SurfaceArg};
pub use message::{FormArg, MatchArgs, MessageArgs};
pub use rehearse::RehearseArgs;
pub use send::{ExchangeForm, ReachArgs, SendArgs, ShowArg};

/// Author, check, try and revise WSDL contracts.
#[derive(Debug, Parser)]
#[command(name = "charter", version, arg_required_else_help = true, disable_help_subcommand = true)]
pub struct Args {
    /// What the result is written as
    #[arg(long, global = true, value_enum, default_value_t = Format::Text, value_name = "FORMAT")]
    pub format: Format,
    /// When to use colours; NO_COLOR is honoured
    #[arg(long, global = true, value_enum, default_value_t = Color::Auto, value_name = "WHEN")]
    pub color: Color,
    /// An XML catalog that says where imports are read from; may be given several times
    #[arg(long = "catalog", global = true, value_name = "FILE")]
    pub catalogs: Vec<PathBuf>,
    /// Read imports from the network too; without it, nothing is fetched
    #[arg(long, global = true)]
    pub online: bool,
    /// How large a file may be, in megabytes; 256 if nothing is said
    #[arg(long, global = true, value_name = "MB", value_parser = clap::value_parser!(u32).range(1..=2000))]
    pub size_limit: Option<u32>,
    #[command(subcommand)]
    pub command: Command,
}

/// The form of a result.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Format {
    /// For people
    Text,
    /// For programs
    Json,
    /// For programs that show findings: SARIF 2.1.0, of check and compare
    Sarif,
    /// For programs that show the results of tests: JUnit's XML, of check alone
    Junit,
}

/// When to use colours.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Color {
    /// On a terminal
    Auto,
    /// Always
    Always,
    /// Never
    Never,
}

/// A side of an operation.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum SideArg {
    /// What a consumer sends
    Input,
    /// What the provider answers
    Output,
    /// What the provider answers instead
    Fault,
}

/// How much a message holds.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum SizeArg {
    /// Nothing that may be left out
    Least,
    /// What one sends first: what is optional once, what repeats twice, as far as it fits a screen
    Typical,
    /// Every option once
    Most,
    /// A random choice of everything, by --seed
    Random,
}

/// How consumers read what they do not know.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum ReaderArg {
    /// They refuse it: what is new in a reply breaks them
    Strict,
    /// They ignore it: what is new in a reply keeps them
    Lenient,
}

/// What a new contract is to be.
#[derive(Debug, Clone, clap::Args)]
pub struct NewArgs {
    /// The name of the contract; those of port type, binding, service and port follow from it
    pub name: Option<String>,
    /// The target namespace, an absolute URI
    #[arg(long, value_name = "URI")]
    pub namespace: Option<String>,
    /// An operation, by name or as 'moor(vessel: Vessel) -> berth: string'; may be given several times
    #[arg(long = "operation", value_name = "SIGNATURE")]
    pub operations: Vec<String>,
    /// Where the service is
    #[arg(long, value_name = "URL")]
    pub address: Option<String>,
    /// A version of SOAP to offer it by; may be given several times
    #[arg(long, value_name = "VERSION", value_parser = ["1.1", "1.2"])]
    pub soap: Vec<String>,
    /// Whether messages hold elements, or parts with types
    #[arg(long, value_enum, default_value_t = StyleArg::Document)]
    pub style: StyleArg,
    /// Write the contract that a file of notation says, or - for standard input
    #[arg(long, value_name = "FILE", conflicts_with_all = ["name", "namespace", "operations", "address", "soap", "like"])]
    pub from: Option<String>,
    /// Start from another contract of the house, without its operations
    #[arg(long, value_name = "FILE", conflicts_with_all = ["operations", "address", "soap"])]
    pub like: Option<String>,
    /// With --like: keep the operations too
    #[arg(long, requires = "like")]
    pub keep_operations: bool,
    /// Where the schemas go: into the contract, which is where they go if nothing is said, or each to a file of its own;
    /// with --like, where those of the other are
    #[arg(long, value_enum)]
    pub schema: Option<SchemaArg>,
    /// Where to write it, instead of standard output; an existing file is left alone
    #[arg(short, long, value_name = "FILE")]
    pub output: Option<PathBuf>,
    /// Show what would be written as a diff, and write nothing
    #[arg(long)]
    pub dry_run: bool,
}

/// What types are derived from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum KindArg {
    /// Messages in XML
    Xml,
    /// Rows under a header
    Csv,
    /// CREATE TABLE statements
    Sql,
}

/// The style of operations.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum StyleArg {
    /// The body holds an element
    Document,
    /// The body holds the parts in a wrapper
    Rpc,
}

/// Where schemas stand.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum SchemaArg {
    /// In the contract
    Embedded,
    /// Each in a file of its own
    Beside,
}

/// What all commands that change a contract understand.
#[derive(Debug, Clone, clap::Args)]
pub struct EditArgs {
    /// Show the change as a diff, and write nothing
    #[arg(long)]
    pub dry_run: bool,
    /// Make the change even if something would be wrong afterwards
    #[arg(long)]
    pub force: bool,
}

/// What to check, and how.
#[derive(Debug, Clone, clap::Args)]
pub struct CheckArgs {
    /// Contracts, schemas and captured envelopes; folders and patterns such as 'port/**/*.wsdl'; or - for standard input
    #[arg(required = true)]
    pub files: Vec<String>,
    /// A profile that they must keep to (basic-1.1, basic-1.2, basic-2.0, simple-soap-1.0, attachments-1.0), or none;
    /// may be given several times; if none is named, they are held to what their bindings let expect
    #[arg(long = "profile", value_name = "NAME")]
    pub profiles: Vec<String>,
    /// Say as well what is merely worth knowing
    #[arg(long)]
    pub notes: bool,
    /// Mend what can be mended safely
    #[arg(long)]
    pub fix: bool,
    /// With --fix: show what would be mended as a diff, and write nothing
    #[arg(long, requires = "fix")]
    pub dry_run: bool,
    /// Check again whenever one of the files changes, until stopped
    #[arg(long, conflicts_with_all = ["fix", "write_baseline"])]
    pub watch: bool,
    /// A file of findings that are known already, and are not said again
    #[arg(long, value_name = "FILE")]
    pub baseline: Option<PathBuf>,
    /// Write all findings of today into a file for --baseline
    #[arg(long, value_name = "FILE", conflicts_with = "baseline")]
    pub write_baseline: Option<PathBuf>,
}

/// The commands, in the order of the work.
#[derive(Debug, Subcommand)]
pub enum Command {
    /// Begin a contract that is valid at once
    New(NewArgs),
    /// Show a contract, or one component of it, in the notation
    Show {
        /// The contract, or - for standard input
        file: String,
        /// A component path, such as type/Vessel or operation/requestPilot
        path: Option<String>,
    },
    /// Add to a contract: an operation, a type, a field, a header, a binding, whatever the notation can say
    Add {
        /// The contract
        file: String,
        /// What to add, in the notation, such as 'type Berth = string length 1..20'
        notation: String,
        /// The component path of what it goes to, instead of the contract as a whole
        #[arg(long, value_name = "PATH")]
        to: Option<String>,
        #[command(flatten)]
        edit: EditArgs,
    },
    /// Change a contract, or one component of it, as text in the notation
    Edit {
        /// The contract
        file: String,
        /// A component path; the whole contract if there is none
        path: Option<String>,
        /// Take the changed notation from a file, or - for standard input, instead of from $EDITOR
        #[arg(long, value_name = "FILE")]
        with: Option<String>,
        #[command(flatten)]
        edit: EditArgs,
    },
    /// Rename a component, with every reference to it
    Rename {
        /// The contract
        file: String,
        /// The component path
        path: String,
        /// The new name
        name: String,
        /// Leave the messages, elements and actions that are named after an operation or a fault
        #[arg(long)]
        only: bool,
        #[command(flatten)]
        edit: EditArgs,
    },
    /// Set properties of a component: type, occurs, length, action, address, and so on
    Set {
        /// The contract
        file: String,
        /// The component path; contract for the whole
        path: String,
        /// What to set; KEY= takes it away
        #[arg(required = true, value_name = "KEY=VALUE")]
        settings: Vec<String>,
        #[command(flatten)]
        edit: EditArgs,
    },
    /// Remove a component that nothing refers to
    Remove {
        /// The contract
        file: String,
        /// The component path
        path: Option<String>,
        /// Remove what refers to it as well
        #[arg(long)]
        with_references: bool,
        /// Remove everything that no service leads to
        #[arg(long, conflicts_with = "path")]
        unused: bool,
        #[command(flatten)]
        edit: EditArgs,
    },
    /// Derive types from examples: messages, a CSV file with a header row, a table definition in SQL
    Derive {
        /// The examples, or - for standard input
        #[arg(required = true)]
        files: Vec<String>,
        /// What they are, if their names do not say
        #[arg(long, value_enum)]
        kind: Option<KindArg>,
        /// The name of the type of the rows of a CSV file
        #[arg(long, value_name = "NAME")]
        name: Option<String>,
    },
    /// Check contracts and schemas by the rules
    Check(CheckArgs),
    /// Explain a rule, a profile or a kind of change, or list them all
    Explain {
        /// The name of a rule, a profile or a kind of change
        rule: Option<String>,
    },
    /// Show a message as it goes over the wire
    Message(Box<MessageArgs>),
    /// Say which operation and side messages are, and whether they are right
    Match(MatchArgs),
    /// Send a request to a provider, and check what comes back
    Send(Box<SendArgs>),
    /// Answer in the place of a provider that is not there yet, until stopped
    Answer(AnswerArgs),
    /// Rehearse exchanges: each against what is expected of it
    Rehearse(Box<RehearseArgs>),
    /// Compare two versions: what breaks for those who use the old one
    Compare(CompareArgs),
    /// Write the demo data and run the whole story on it
    Demo {
        /// The folder to write into
        #[arg(default_value = "saltmere")]
        folder: PathBuf,
        /// Show all of what each command says, and the steps that are left out else
        #[arg(long)]
        all: bool,
    },
}

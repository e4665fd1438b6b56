//! What `charter compare` takes.

use std::path::PathBuf;

use clap::ValueEnum;

use super::ReaderArg;

/// What is compared, and what is shown of it.
#[derive(Debug, Clone, clap::Args)]
pub struct CompareArgs {
    /// The old version: a file, a folder, or in git REVISION:PATH or a revision
    #[arg(required_unless_present = "since")]
    pub old: Option<String>,
    /// The new version; with --since, the files or folders as they are now
    #[arg(required_unless_present = "since", conflicts_with = "since")]
    pub new: Option<String>,
    /// All contracts of the repository, as they were in that revision and are now
    #[arg(long, value_name = "REVISION")]
    pub since: Option<String>,
    /// How consumers read what they do not know; not given: it is said where it matters
    #[arg(long, value_enum, value_name = "HOW")]
    pub reader: Option<ReaderArg>,
    /// How differences count that show only in content which no declaration names, since a wildcard or anyType lets it in
    #[arg(long, value_enum, value_name = "HOW")]
    pub open_content: Option<OpenContentArg>,
    /// What is looked at: messages alone, or generated code as well
    #[arg(long, value_enum, value_name = "WHAT")]
    pub surface: Option<SurfaceArg>,
    /// The folder of consumer records: say which consumer each change meets
    #[arg(long, value_name = "FOLDER")]
    pub consumers: Option<PathBuf>,
    /// What decides on the exit status: all changes, or what they do to recorded consumers
    #[arg(long, value_enum, value_name = "BY", default_value_t = GateArg::Changes)]
    pub gate: GateArg,
    /// The worst verdict that ends well; worse ones end with status 1
    #[arg(long, value_enum, value_name = "VERDICT")]
    pub allow: Option<OnlyArg>,
    /// Accept a change for a reason: PATH=REASON; it is written down beside the contract and no longer ends with status 1
    #[arg(long, value_name = "PATH=REASON")]
    pub accept: Vec<String>,
    /// The last day on which what is accepted now is accepted, such as 2027-03-31
    #[arg(long, value_name = "DATE", requires = "accept")]
    pub until: Option<String>,
    /// Show only changes of that verdict
    #[arg(long, value_enum, value_name = "VERDICT")]
    pub only: Option<OnlyArg>,
    /// Show only changes that reach that operation; may be given several times
    #[arg(long = "operation", value_name = "NAME")]
    pub operations: Vec<String>,
    /// Show the typical message of each operation that changed, in both versions beside each other
    #[arg(long)]
    pub side_by_side: bool,
    /// Print the edits of the new version that would keep what breaks, as one diff, instead of the report
    #[arg(long, conflicts_with_all = ["form", "side_by_side", "all"])]
    pub way_out: bool,
    /// Show everything, however long the report gets
    #[arg(long)]
    pub all: bool,
    /// The form for people: the report, notes for consumers in Markdown, or a page in HTML
    #[arg(long = "as", value_enum, value_name = "FORM", default_value_t = FormOfReport::Report)]
    pub form: FormOfReport,
    /// Where to write it, instead of standard output
    #[arg(short, long, value_name = "FILE")]
    pub output: Option<PathBuf>,
}

/// What is looked at.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum SurfaceArg {
    /// Messages on the wire
    Wire,
    /// What generated code sees as well: names, and the shape of types
    Code,
}

/// How open content counts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum OpenContentArg {
    /// It bends, and is told once for each place where it may stand
    Apart,
    /// As strictly as what declarations name
    Named,
    /// It keeps
    Ignored,
}

/// What decides on the exit status.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum GateArg {
    /// All changes that nobody has accepted
    Changes,
    /// What they do to recorded consumers
    Consumers,
}

/// A verdict.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum OnlyArg {
    /// Everything still works and means the same
    Keeps,
    /// It works on the wire, and depends on something
    Bends,
    /// Some message is refused or misread
    Breaks,
}

/// A form of the report for people.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum FormOfReport {
    /// Verdict and causes, each with its message
    Report,
    /// A change log for consumers, in Markdown
    Notes,
    /// The whole on a page, in HTML
    Page,
}

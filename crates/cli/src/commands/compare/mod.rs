//! `charter compare`

mod consumers;
mod json;
mod record;
mod text;
mod versions;
mod witness;

use charter_compare::{Options, Reader, Report, Surface, Usage, Verdict, compare_for};
use charter_contract::Contract;
use charter_source::Location;

use super::{Outcome, notation_file};
use crate::args::{CompareArgs, Format, OnlyArg, ReaderArg, SurfaceArg};
use crate::console::{Console, Failure, Status};
use crate::load::Common;
use crate::{load, paint};
use consumers::Affected;
use record::Record;
use versions::Versions;

/// A contract in two versions, compared.
pub struct Compared {
    /// How the contract is called, should there be several.
    pub name: String,
    /// The names of the two versions.
    pub names: (String, String),
    pub old: Contract,
    pub new: Contract,
    pub report: Report,
    /// The consumers, if there are records of any.
    pub consumers: Vec<Affected>,
}

pub fn run(args: &CompareArgs, common: &Common, console: &mut Console) -> Outcome {
    let all = match (&args.since, &args.old, &args.new) {
        (Some(revision), path, _) => versions::since(revision, path.as_deref())?,
        (None, Some(old), Some(new)) => versions::between(old, new)?,
        _ => return Err(Failure::new("two versions are wanted").help("charter compare OLD NEW")),
    };
    let several = all.len() > 1;
    let records = match &args.consumers {
        Some(folder) => {
            consumers::is_there(folder)?;
            record::all(folder)?
        }
        None => Vec::new(),
    };
    let asked = Asked { options: options(args), records: &records };
    let mut compared = Vec::new();
    for versions in all {
        match (&versions.old, &versions.new) {
            (Some(old), Some(new)) => {
                compared.push(one(&versions.name, (old, new), &asked, common, console)?);
            }
            (old, _) => console.note(&come_or_gone(&versions, old.is_some())),
        }
    }
    for one in &mut compared {
        narrow(&mut one.report, args);
    }
    match common.format {
        Format::Json => json::write(&compared, several, console),
        _ => {
            for one in &compared {
                if several {
                    console.out(&format!("{}\n", paint::strong(&one.name)));
                }
                console.out(&text::text(one, console.width()));
                if !one.consumers.is_empty() {
                    console.out(&format!("\n{}", consumers::text(&one.consumers, console.width())));
                }
                if several {
                    console.out("\n");
                }
            }
        }
    }
    let worst = compared.iter().map(|one| one.report.verdict).max().unwrap_or(Verdict::Keeps);
    let allowed = match args.allow {
        Some(OnlyArg::Keeps) => Verdict::Keeps,
        Some(OnlyArg::Bends) | None => Verdict::Bends,
        Some(OnlyArg::Breaks) => Verdict::Breaks,
    };
    Ok(if worst > allowed { Status::No } else { Status::Yes })
}

fn options(args: &CompareArgs) -> Options {
    let reader = match args.reader {
        None => Reader::Unknown,
        Some(ReaderArg::Strict) => Reader::Strict,
        Some(ReaderArg::Lenient) => Reader::Lenient,
    };
    let surface = match args.surface {
        None | Some(SurfaceArg::Wire) => Surface::Wire,
        Some(SurfaceArg::Code) => Surface::Code,
    };
    Options { reader, surface }
}

/// What is asked of every contract.
struct Asked<'a> {
    options: Options,
    records: &'a [Record],
}

fn one(
    name: &str,
    (old, new): (&Location, &Location),
    asked: &Asked<'_>,
    common: &Common,
    console: &mut Console,
) -> Result<Compared, Failure> {
    let names = (old.to_string(), new.to_string());
    let (old, new) = (contract(common, old)?, contract(common, new)?);
    for (name, contract) in [(&names.0, &old), (&names.1, &new)] {
        told_of_faults(name, contract, console);
    }
    let usages: Vec<Usage> = asked.records.iter().map(|record| record.usage.clone()).collect();
    let (report, consequences) = compare_for(&old, &new, asked.options, &usages);
    if !report.related {
        let message = format!("{} and {} have no operation in common", names.0, names.1);
        return Err(Failure::new(message).help("are these two versions of one contract?"));
    }
    let consumers = consumers::affected(asked.records, consequences, &report, (&old, &new))?;
    Ok(Compared { name: name.to_owned(), names, old, new, report, consumers })
}

/// A contract, or the one that a file of notation stands for.
fn contract(common: &Common, location: &Location) -> Result<Contract, Failure> {
    let shown = location.to_string();
    if let Location::Path(path) = location
        && notation_file::is_notation(&shown)
        && path.exists()
    {
        let convention = common.convention(&shown)?;
        return Ok(notation_file::NotationFile::open(&shown, &common.store, &convention)?.1);
    }
    let contract = Contract::read(load::files_at(common, location)?);
    load::is_contract(&contract)?;
    Ok(contract)
}

/// Says what of a version could not be read, and so is left out.
fn told_of_faults(name: &str, contract: &Contract, console: &mut Console) {
    const SHOWN: usize = 3;
    let faults = contract.faults();
    if faults.is_empty() {
        return;
    }
    let mut text = format!("{name} has faults and was compared as far as it could be read:\n");
    for fault in faults.iter().take(SHOWN) {
        text.push_str(&format!("  {} {}\n", load::place(contract, fault.place), fault.message));
    }
    let more = match faults.len() {
        count if count > SHOWN => format!("{} more: ", count - SHOWN),
        _ => String::new(),
    };
    text.push_str(&format!("  {more}charter check {name}\n"));
    console.note(&text);
}

fn come_or_gone(versions: &Versions, gone: bool) -> String {
    let words = if gone { "is gone: its consumers are cut off" } else { "is new" };
    format!("{} {words}\n", versions.name)
}

/// Leaves out of a report what was not asked for; the verdict stays that of the whole.
fn narrow(report: &mut Report, args: &CompareArgs) {
    let wanted = args.only.map(|only| match only {
        OnlyArg::Keeps => Verdict::Keeps,
        OnlyArg::Bends => Verdict::Bends,
        OnlyArg::Breaks => Verdict::Breaks,
    });
    report.changes.retain(|change| {
        let reaches = |name: &String| change.operations.iter().any(|touched| touched.operation == *name);
        wanted.is_none_or(|wanted| change.verdict == wanted)
            && (args.operations.is_empty() || args.operations.iter().any(reaches))
    });
}

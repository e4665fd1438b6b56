//! `charter compare`

mod beside;
mod consumers;
mod exceptions;
mod json;
mod lines;
mod mentions;
mod notes;
mod page;
mod record;
mod sarif;
mod text;
mod ways;
mod witness;

use std::path::Path;
use std::sync::Arc;

use charter_compare::{
    Change, OpenContent, Options, Over, Policy, Report, Surface, UnknownContent, Usage, Verdict, Version,
    Versions as Both, What, compare_whole,
};
use charter_contract::{Component, Contract};
use charter_session::files;
use charter_session::versions::{self, Versions};
use charter_session::{NotationFile, Settings, Spot, is_notation};
use charter_source::{Location, nearest};

use super::Outcome;
use crate::args::{
    CompareArgs, FormOfReport, Format, GateArg, OnlyArg, OpenContentArg, ReaderArg, SurfaceArg,
};
use crate::common::Common;
use crate::console::{Console, Failure, Status, escaped};
use crate::paint;
use consumers::Affected;
use record::Record;
use ways::Ways;

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
    /// What is settled about version numbers.
    pub policy: Option<Policy>,
    /// The worst verdict that ends well.
    pub allowed: Verdict,
    /// Whether everything is there that consumer records name.
    pub records_are_right: bool,
    /// What would keep what breaks.
    pub ways: Ways,
    /// What becomes of the operations that were asked for.
    pub asked: Vec<(String, Verdict)>,
}

impl Compared {
    /// The two versions.
    pub fn versions(&self) -> Both<'_> {
        Both { old: &self.old, new: &self.new }
    }
}

pub fn run(args: &CompareArgs, common: &Common, console: &mut Console) -> Outcome {
    if args.way_out && common.format != Format::Text {
        return Err(Failure::new("--way-out gives a diff")
            .help("leave out --format; in JSON each change that breaks has its way out"));
    }
    let all = match (&args.since, &args.old, &args.new) {
        (Some(revision), path, _) => versions::since(revision, path.as_deref())?,
        (None, Some(old), Some(new)) => versions::between(old, new)?,
        _ => return Err(Failure::new("two versions are wanted").help("charter compare OLD NEW")),
    };
    let several = all.len() > 1;
    let all = if several { versions::joined(all, &|location| identity(common, location)) } else { all };
    let records = match &args.consumers {
        Some(folder) => {
            consumers::is_there(folder)?;
            record::all(folder)?
        }
        None if args.gate == GateArg::Consumers => {
            return Err(Failure::new("there are no consumers to go by")
                .help("name the folder of their records with --consumers"));
        }
        None => Vec::new(),
    };
    if !args.accept.is_empty() && several {
        return Err(Failure::new("changes of one contract at a time are accepted")
            .help("give its two versions instead of folders"));
    }
    let mut compared = Vec::new();
    let mut any_gone = false;
    for versions in all {
        match (&versions.old, &versions.new) {
            (Some(old), Some(new)) => {
                let settled = match new {
                    Location::Path(path) => common.session.settings(&path.display().to_string())?,
                    _ => common.session.settings(".")?,
                };
                let asked = Asked { args, records: &records, several, settled };
                compared.push(one(&versions.name, (old, new), asked, common, console)?);
            }
            (old, _) => {
                any_gone |= old.is_some();
                console.note(&come_or_gone(&versions, old.is_some()));
            }
        }
    }
    known_operations(&args.operations, &compared)?;
    let worst = compared.iter().map(|one| one.report.verdict).max().unwrap_or(Verdict::Keeps);
    let worst = if any_gone { Verdict::Breaks } else { worst };
    let passes = compared.iter().all(|one| passes(one, args)) && !any_gone;
    let are_right = compared.iter().all(|one| one.records_are_right);
    for one in &mut compared {
        narrow(one, args);
    }
    show(args, &compared, (several, worst), common, console)?;
    Ok(match (are_right, passes) {
        (false, _) => Status::NoAnswer,
        (true, true) => Status::Yes,
        (true, false) => Status::No,
    })
}

/// Whether a revision passes the gate: by all changes that nobody has accepted, as far as they are about the operations that were
/// asked for; or by what they do to recorded consumers.
fn passes(one: &Compared, args: &CompareArgs) -> bool {
    let Compared { report, allowed, .. } = one;
    let worst = match (args.gate, args.operations.as_slice()) {
        (GateArg::Consumers, _) => one.consumers.iter().map(|consumer| consumer.verdict).max(),
        (GateArg::Changes, []) => Some(report.unaccepted()),
        (GateArg::Changes, names) => {
            let counting = report.changes.iter().filter(|change| change.accepted.is_none());
            counting.filter_map(|change| worst_for(one.versions(), change, names)).max()
        }
    };
    worst.unwrap_or(Verdict::Keeps) <= *allowed
}

/// What a change does to some operations at worst; nothing, if it does not reach them.
fn worst_for(both: Both<'_>, change: &Change, names: &[String]) -> Option<Verdict> {
    let is_asked = |name: &str| names.iter().any(|asked| asked == name);
    let whole = names.iter().any(|name| is_of_whole_operation(both, change, name)).then_some(change.verdict);
    let touched = change.operations.iter().filter(|touched| is_asked(both.operation_name(touched.at)));
    touched.map(|touched| touched.verdict).max().max(whole)
}

/// Writes the result in the form that was asked for, where it was asked for.
fn show(
    args: &CompareArgs,
    compared: &[Compared],
    (several, worst): (bool, Verdict),
    common: &Common,
    console: &mut Console,
) -> Result<(), Failure> {
    let text: String = match common.format {
        Format::Text if args.way_out => way_out(compared, console)?,
        Format::Json => escaped(&json::text(compared, (several, worst))),
        Format::Sarif => escaped(&format!("{:#}\n", sarif::log(compared))),
        Format::Text | Format::Junit => {
            compared.iter().map(|one| in_form(args.form, one, several, args, console.width())).collect()
        }
    };
    match &args.output {
        Some(file) => {
            files::save(&common.session.writers, file, paint::plain(&text).as_bytes())?;
            console.note(&format!("wrote {}\n", file.display()));
        }
        None => console.out(&text),
    }
    Ok(())
}

/// The edits of the new versions after which as little breaks as can be.
fn way_out(compared: &[Compared], console: &mut Console) -> Result<String, Failure> {
    let mut text = String::new();
    for one in compared {
        let (breaking, with_way) = one.ways.count(&one.report.changes);
        let words = match (breaking, with_way) {
            (0, _) => "nothing breaks".to_owned(),
            (all, some) if all == some => format!("{all} of {all} changes that break have a way out"),
            (all, some) => format!(
                "{some} of {all} changes that break have a way out; without --way-out the report says why the others have none"
            ),
        };
        console.note(&format!("{}: {words}\n", one.names.1));
        text.push_str(&one.ways.diff(&one.new)?);
    }
    Ok(paint::diff(&text))
}

fn in_form(form: FormOfReport, one: &Compared, several: bool, args: &CompareArgs, width: usize) -> String {
    let default = charter_compare::Policy::default();
    let advice = |policy| charter_compare::advise(&one.old, &one.new, &one.report, policy);
    let settled = one.policy.as_ref().map(advice);
    match form {
        FormOfReport::Notes => notes::notes(one, &settled.unwrap_or_else(|| advice(&default))),
        FormOfReport::Page => page::page(one, settled.as_ref()),
        FormOfReport::Report => {
            let mut text = if several { format!("{}\n", paint::strong(&one.name)) } else { String::new() };
            text.push_str(&text::text(one, width, args.all));
            if let Some(words) = settled.as_ref().and_then(text::advice_words) {
                text.push_str(&format!("\n{} {words}\n", paint::strong("advice:")));
            }
            if args.side_by_side {
                text.push_str(&format!("\n{}", beside::text(one, &args.operations, width)));
            }
            if !one.consumers.is_empty() {
                text.push_str(&format!("\n{}", consumers::text(&one.consumers, width)));
            }
            if several {
                text.push('\n');
            }
            text
        }
    }
}

fn options(args: &CompareArgs, settled: &Settings) -> Options {
    let reader = match args.reader {
        None => settled.compare.reader.unwrap_or_default(),
        Some(ReaderArg::Strict) => UnknownContent::Refused,
        Some(ReaderArg::Lenient) => UnknownContent::Ignored,
    };
    let surface = match args.surface {
        None => settled.compare.surface.unwrap_or_default(),
        Some(SurfaceArg::Wire) => Surface::Wire,
        Some(SurfaceArg::Code) => Surface::Code,
    };
    let open = match args.open_content {
        None => settled.compare.open.unwrap_or_default(),
        Some(OpenContentArg::Apart) => OpenContent::Apart,
        Some(OpenContentArg::Named) => OpenContent::Named,
        Some(OpenContentArg::Ignored) => OpenContent::Ignored,
    };
    Options { reader, open, surface }
}

/// What is asked of every contract.
struct Asked<'a> {
    args: &'a CompareArgs,
    records: &'a [Record],
    /// Whether it is one of several contracts.
    several: bool,
    settled: Arc<Settings>,
}

fn one(
    name: &str,
    (old, new): (&Location, &Location),
    asked: Asked<'_>,
    common: &Common,
    console: &mut Console,
) -> Result<Compared, Failure> {
    let names = (old.to_string(), new.to_string());
    let policy = asked.settled.versions.clone().map(|policy| with_tags(policy, old)).transpose()?;
    // What was accepted lies beside the new version, where that is a file.
    let path = new.path().map(Path::to_owned);
    let (old, new) = (contract(common, old)?, contract(common, new)?);
    for (name, contract) in [(&names.0, &old), (&names.1, &new)] {
        told_of_faults(name, contract, console);
    }
    // Of several contracts, each has its own consumers.
    let records: Vec<&Record> =
        asked.records.iter().filter(|record| !asked.several || record.is_about(&old)).collect();
    let unknown = match records.as_slice() {
        [] => Vec::new(),
        records => mentions::unknown(records, &old, asked.several),
    };
    unknown.iter().for_each(|line| console.note(&format!("{line}\n")));
    let usages: Vec<Usage> = records.iter().map(|record| record.usage.clone()).collect();
    let found = compare_whole(&old, &new, options(asked.args, &asked.settled), &usages);
    let ways = ways(&names, (&old, &new), &found, (asked.args, &asked.settled, common.format));
    let (mut report, consequences) = (found.report, found.consequences);
    // A file of notation stands for a text that is nowhere to be seen.
    for (name, version) in [(&names.0, Version::Old), (&names.1, Version::New)] {
        if is_notation(name) {
            report.forget_places(version);
        }
    }
    if !report.related {
        let message = format!("{} and {} have no operation in common", names.0, names.1);
        return Err(Failure::new(message).help("are these two versions of one contract?"));
    }
    if let Some(path) = path {
        note_accepted(&path, &mut report, asked.args, common, console)?;
    }
    let allowed = match asked.args.allow {
        Some(OnlyArg::Keeps) => Verdict::Keeps,
        Some(OnlyArg::Bends) => Verdict::Bends,
        Some(OnlyArg::Breaks) => Verdict::Breaks,
        None => asked.settled.compare.allow.unwrap_or(Verdict::Bends),
    };
    let consumers = consumers::affected(common, &records, consequences, &report, (&old, &new))?;
    let records_are_right = unknown.is_empty();
    Ok(Compared {
        name: name.to_owned(),
        names,
        old,
        new,
        report,
        consumers,
        policy,
        allowed,
        records_are_right,
        ways,
        asked: Vec::new(),
    })
}

/// What is settled about versions, with what the repository says of them.
fn with_tags(policy: Policy, old: &Location) -> Result<Policy, Failure> {
    let (tagged, taken) = versions::tags(old)?;
    Ok(Policy { tagged, taken, ..policy })
}

/// The ways out, if they are shown.
fn ways(
    names: &(String, String),
    (old, new): (&Contract, &Contract),
    found: &charter_compare::Compared,
    (args, settled, format): (&CompareArgs, &Settings, Format),
) -> Ways {
    let shown = match format {
        Format::Sarif => false,
        Format::Text | Format::Junit => args.form != FormOfReport::Notes,
        Format::Json => true,
    };
    // A file of notation is not edited as XML.
    if !(shown || args.way_out) || is_notation(&names.1) {
        return Ways::default();
    }
    let ways = charter_remedy::ways_out(old, new, found, options(args, settled));
    let is_file = |contract: &Contract| contract.files.first().location.path().is_some();
    let files = (is_file(new) && is_file(old)).then(|| names.clone());
    Ways::new(ways, found.report.changes.len(), files)
}

/// Notes what somebody has accepted, now or before, beside the new version, and says which acceptances are over.
fn note_accepted(
    path: &Path,
    report: &mut Report,
    args: &CompareArgs,
    common: &Common,
    console: &mut Console,
) -> Result<(), Failure> {
    let mut accepted = exceptions::read(path)?;
    if !args.accept.is_empty() {
        accepted = exceptions::accept(
            &common.session.writers,
            path,
            (&args.accept, args.until.as_deref()),
            report,
            accepted,
        )?;
    }
    let today = jiff::Zoned::now().date().to_string();
    for (outdated, over) in report.accept(&accepted, &today) {
        let words = match (over, &outdated.until) {
            (Over::Ended, Some(until)) => format!("was accepted until {until}, which is over"),
            _ => "was accepted as it was then, and has changed again".to_owned(),
        };
        console.note(&format!(
            "{} {} {words}: {}\n",
            paint::warning("charter:"),
            outdated.path,
            outdated.reason
        ));
    }
    Ok(())
}

/// What a contract is called, wherever it lies: its namespace and its name.
fn identity(common: &Common, location: &Location) -> Option<String> {
    let contract = contract(common, location).ok()?;
    let (_, first) = contract.definitions.iter().next()?;
    let name = first.name.as_ref().map_or("", |name| &name.text);
    Some(format!("{{{}}}{name}", first.namespace))
}

/// A contract, or the one that a file of notation stands for.
fn contract(common: &Common, location: &Location) -> Result<Contract, Failure> {
    let shown = location.to_string();
    if let Location::Path(path) = location
        && is_notation(&shown)
        && path.exists()
    {
        let settings = common.session.settings(&shown)?;
        return Ok(NotationFile::open(&shown, &common.session.store, &settings)?.1);
    }
    let contract = common.session.load_at(location)?;
    charter_session::is_contract(&contract)?;
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
        text.push_str(&format!("  {} {}\n", Spot::of(contract, fault.place), fault.message));
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

/// Operations that are asked for must be there, in one of the versions: a slip would hide what breaks.
fn known_operations(asked: &[String], compared: &[Compared]) -> Result<(), Failure> {
    let contracts = compared.iter().flat_map(|one| [&one.old, &one.new]);
    let known: Vec<&str> = contracts
        .flat_map(|contract| contract.operations())
        .map(|(_, operation)| &*operation.name.text)
        .collect();
    let Some(name) = asked.iter().find(|name| !known.contains(&name.as_str())) else { return Ok(()) };
    let help = match nearest(name, known.iter().copied()) {
        Some(near) => format!("did you mean \"{near}\"?"),
        None => "charter show lists the operations of a contract".to_owned(),
    };
    Err(Failure::new(format!("neither version has an operation \"{name}\"")).help(help))
}

/// Whether a change is one of an operation as a whole, by the name that it has in either version.
fn is_of_whole_operation(both: Both<'_>, change: &Change, name: &str) -> bool {
    match (&change.what, change.subject.component) {
        (What::OperationRenamed { from, to } | What::OperationRenamedAlone { from, to }, _) => {
            from == name || to == name
        }
        (_, Component::Operation(id)) => {
            *both.of(change.subject.version).operation(id).name.text == *name && change.operations.is_empty()
        }
        _ => false,
    }
}

/// Leaves out of a report what was not asked for; the verdict stays that of the whole.
fn narrow(compared: &mut Compared, args: &CompareArgs) {
    let Compared { old, new, report, ways, asked, .. } = compared;
    let both = Both { old, new };
    let becomes = |name: &String| {
        let worst = report.changes.iter().filter_map(|it| worst_for(both, it, std::slice::from_ref(name)));
        (name.clone(), worst.max().unwrap_or(Verdict::Keeps))
    };
    *asked = args.operations.iter().map(becomes).collect();
    let wanted = args.only.map(|only| match only {
        OnlyArg::Keeps => Verdict::Keeps,
        OnlyArg::Bends => Verdict::Bends,
        OnlyArg::Breaks => Verdict::Breaks,
    });
    let is_wanted = |change: &Change| {
        // A change that does its worst elsewhere is no matter of this operation.
        let reaches = |name: &String| {
            is_of_whole_operation(both, change, name)
                || change.worst().any(|touched| both.operation_name(touched.at) == name)
        };
        wanted.is_none_or(|wanted| change.verdict == wanted)
            && (args.operations.is_empty() || args.operations.iter().any(reaches))
    };
    let kept: Vec<bool> = report.changes.iter().map(is_wanted).collect();
    ways.retain(&kept);
    let mut kept = kept.into_iter();
    report.changes.retain(|_| kept.next() == Some(true));
}

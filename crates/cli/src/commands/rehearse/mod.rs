//! `charter rehearse`

mod data;
mod junit;
mod live;
mod page;
mod plot;
mod text;
mod words;

use std::collections::BTreeMap;
use std::path::Path;

use charter_contract::Contract;
use charter_exchange::block_on;
use charter_exchange::rehearsal::{
    Beginning, Figures, Load, Rehearsal, Rehearsed, Runner, Unlike, beside, load, recorded,
};
use charter_exchange::server::Aside;
use charter_message::blocks::Added;
use charter_session::{Loaded, files, read, settings};
use serde_json::Value as Json;

use super::Outcome;
use super::answer::keeping::Keeping;
use super::message::chosen;
use super::send::reaching::{Reaching, Wanted, must_be_address};
use crate::args::{Format, RehearseArgs};
use crate::common::Common;
use crate::console::{Console, Failure, Status};
use crate::paint;
use live::Live;

/// What came of a rehearsal.
pub struct Report<'r> {
    pub contract: &'r Contract,
    /// What was rehearsed, and against whom.
    pub title: String,
    pub against: String,
    /// What the rehearsal is about.
    pub about: Option<String>,
    /// The exchanges, in their order.
    pub exchanges: Vec<Rehearsed>,
    /// What a second provider replied to each of them.
    pub beside: Option<Beside>,
    /// Wrong requests.
    pub hostile: Option<Vec<Rehearsed>>,
    /// What was measured.
    pub figures: Option<Figures>,
}

/// A second provider.
pub struct Beside {
    pub address: String,
    pub exchanges: Vec<Rehearsed>,
    /// How many values differ from one time to the next.
    pub left_out: usize,
}

impl Report<'_> {
    /// Whether all of it is as expected.
    pub fn is_right(&self) -> bool {
        let right = |all: &[Rehearsed]| all.iter().all(|one| one.unlike.is_empty());
        right(&self.exchanges)
            && self.hostile.as_deref().is_none_or(right)
            && self.figures.as_ref().is_none_or(|figures| figures.unlike == 0)
    }
}

pub fn run(args: &RehearseArgs, format: Format, common: &Common, console: &mut Console) -> Outcome {
    let loaded = common.session.open(&args.contract)?;
    let contract = loaded.contract();
    charter_session::is_contract(contract)?;
    let variables = variables(args, &loaded);
    let (rehearsal, written) = rehearsal(args, &loaded, &variables)?;
    if rehearsal.is_empty() {
        let (place, help) = match &args.rehearsal {
            Some(path) => (shown(path), "write [[exchange]], and below it operation = \"…\""),
            None => (
                args.contract.clone(),
                "no operation is bound to HTTP so that it can be asked: see `charter check`",
            ),
        };
        return Err(Failure::new("there is nothing to rehearse").at(place).help(help));
    }
    let own = own_stand_in(args, common)?;
    let to = own.as_ref().map(Aside::base).or(args.to.as_deref());
    let reaching = reaching(args, to, &loaded)?;
    let added = added(args, &reaching);
    let runner = Runner::of(
        &rehearsal,
        contract,
        loaded.engine(),
        &added,
        addresses(&rehearsal, &reaching, contract)?,
    );
    let mut rehearsing = Rehearsing {
        args,
        runner,
        reaching: &reaching,
        report: Report {
            contract,
            title: args.rehearsal.as_deref().map_or_else(|| args.contract.clone(), shown),
            against: against(args, own.is_some()),
            about: rehearsal.about.clone(),
            exchanges: Vec::new(),
            beside: None,
            hostile: None,
            figures: None,
        },
    };
    if let Some(path) = &args.record {
        return rehearsing.record(path, &rehearsal, written.as_deref(), common, console);
    }
    rehearsing.rehearse(&loaded, format, console)?;
    let report = rehearsing.report;
    show(args, &report, format, common, console)?;
    Ok(if report.is_right() { Status::Yes } else { Status::No })
}

/// The rehearsal, and its text if it has one.
fn rehearsal(
    args: &RehearseArgs,
    loaded: &Loaded,
    variables: &BTreeMap<String, Json>,
) -> Result<(Rehearsal, Option<String>), Failure> {
    let (contract, engine) = (loaded.contract(), loaded.engine());
    if let Some(port) = &args.port {
        chosen::must_offer(contract, port)?;
    }
    let Some(path) = &args.rehearsal else {
        return Ok((Rehearsal::of_all(contract, args.port.as_deref()), None));
    };
    let name = shown(path);
    let text = read::small(path).map_err(|error| {
        Failure::new(format!("the rehearsal cannot be read: {error}"))
            .at(name.as_str())
            .help(read::advice(&error, "check that the file may be read"))
    })?;
    let folder = path.parent().unwrap_or(Path::new(""));
    let rehearsal = Rehearsal::read(&text, folder, (contract, engine), variables)
        .map_err(|error| settings::failure(&name, &text, error))?;
    Ok((rehearsal, Some(text)))
}

/// What the variables of the environment stand for.
fn variables(args: &RehearseArgs, loaded: &Loaded) -> BTreeMap<String, Json> {
    let environments = loaded.settings().environments.iter();
    let named = environments.filter(|(name, _)| args.environment.as_ref() == Some(name));
    let variables = named.flat_map(|(_, environment)| environment.variables.iter());
    variables.map(|(name, value)| (name.clone(), Json::String(value.clone()))).collect()
}

/// A stand-in of its own, if no provider is named.
fn own_stand_in(args: &RehearseArgs, common: &Common) -> Result<Option<Aside>, Failure> {
    if args.to.is_some() || args.environment.is_some() {
        return Ok(None);
    }
    let loaded = common.session.open(&args.contract)?;
    // Each rehearsal begins anew.
    let stand_in = Keeping::in_memory().stand_in(loaded, args.script.as_deref())?;
    let aside = Aside::begin(stand_in).map_err(|error| Failure::new(error.to_string()))?;
    Ok(Some(aside))
}

fn reaching(args: &RehearseArgs, to: Option<&str>, loaded: &Loaded) -> Result<Reaching, Failure> {
    let wanted = Wanted { to, environment: args.environment.as_deref(), reach: &args.reach };
    Reaching::of(&wanted, loaded.settings())
}

/// What goes along with every request.
fn added(args: &RehearseArgs, reaching: &Reaching) -> Added {
    Added {
        addressing: args.reach.addressing,
        user: reaching.user.clone(),
        password: reaching.password.clone().filter(|_| reaching.user.is_some()),
        digest: args.reach.digest,
    }
}

fn addresses(
    rehearsal: &Rehearsal,
    reaching: &Reaching,
    contract: &Contract,
) -> Result<Vec<String>, Failure> {
    rehearsal.shapes().map(|shape| reaching.address(contract, shape)).collect()
}

fn against(args: &RehearseArgs, own: bool) -> String {
    match (&args.to, &args.environment) {
        (Some(to), _) => to.clone(),
        (_, Some(name)) => format!("the environment {name}"),
        _ if own && args.script.is_some() => "a stand-in of its own, by its script".to_owned(),
        _ => "a stand-in of its own".to_owned(),
    }
}

fn shown(path: &Path) -> String {
    path.display().to_string()
}

fn unsent(error: &std::io::Error) -> Failure {
    Failure::new(format!("nothing can be sent: {error}")).help("see what the system lacks")
}

/// A rehearsal that is under way.
struct Rehearsing<'r> {
    args: &'r RehearseArgs,
    runner: Runner<'r>,
    reaching: &'r Reaching,
    report: Report<'r>,
}

impl Rehearsing<'_> {
    /// Goes through it, in the way that the options ask for.
    fn rehearse(&mut self, loaded: &Loaded, format: Format, console: &mut Console) -> Result<(), Failure> {
        if let Some(other) = &self.args.beside {
            return self.beside(other, loaded);
        }
        if let Some(wanted) = self.load() {
            return self.measure(wanted, format, console);
        }
        let journal = self.args.journal.as_deref().map(super::answer::journal).transpose()?;
        let (runner, client) = (&self.runner, &self.reaching.client);
        let mut exchanges = Vec::new();
        block_on(runner.once(client, &mut |one| exchanges.push(one))).map_err(|error| unsent(&error))?;
        self.report.exchanges = exchanges;
        if self.args.hostile {
            let mut hostile = Vec::new();
            let sent = block_on(runner.hostile(client, &mut |one| hostile.push(one)));
            sent.map_err(|error| unsent(&error))?;
            self.report.hostile = Some(hostile);
        }
        if let Some(mut journal) = journal {
            let all = self.report.exchanges.iter().chain(self.report.hostile.iter().flatten());
            for exchange in all.filter_map(|one| one.exchange.as_ref()) {
                journal
                    .keep(exchange)
                    .map_err(|error| Failure::new(format!("the journal cannot be written: {error}")))?;
            }
        }
        Ok(())
    }

    /// Goes through it at two addresses.
    fn beside(&mut self, other: &str, loaded: &Loaded) -> Result<(), Failure> {
        must_be_address(other)?;
        let there = reaching(self.args, Some(other), loaded)?;
        let rehearsal = self.runner.rehearsal();
        let there = self.runner.at(addresses(rehearsal, &there, loaded.contract())?);
        let compared = block_on(beside(&self.runner, &there, &self.reaching.client));
        let (pairs, left_out) = compared.map_err(|error| unsent(&error))?;
        let (first, second) = pairs.into_iter().unzip();
        self.report.exchanges = first;
        self.report.beside = Some(Beside { address: other.to_owned(), exchanges: second, left_out });
        Ok(())
    }

    /// How often it is to be repeated, if at all.
    fn load(&self) -> Option<Load> {
        let RehearseArgs { repeat, together, long, .. } = *self.args;
        if repeat.is_none() && together.is_none() && long.is_none() {
            return None;
        }
        let together = together.unwrap_or(1) as usize;
        // Somebody who says how many at a time, and not how long, wants to see how that goes.
        let long = long.or_else(|| repeat.is_none().then(|| std::time::Duration::from_secs(10)));
        Some(Load { together, repeat, long })
    }

    fn measure(&mut self, wanted: Load, format: Format, console: &mut Console) -> Result<(), Failure> {
        let mut live = Live::begin(format);
        let told = &mut |progress| live.show(&progress);
        let figures = load(&self.runner, &self.reaching.client, wanted, told);
        live.clear();
        let figures = figures.map_err(|error| Failure::new(error.to_string()))?;
        if figures.exchanges == 0 {
            console.note("nothing was sent\n");
        }
        self.report.exchanges.clone_from(&figures.samples);
        self.report.figures = Some(figures);
        Ok(())
    }

    /// Writes down what comes, as what is expected from then on.
    fn record(
        &mut self,
        path: &Path,
        rehearsal: &Rehearsal,
        written: Option<&str>,
        common: &Common,
        console: &mut Console,
    ) -> Outcome {
        let client = &self.reaching.client;
        let (mut first, mut second) = (Vec::new(), Vec::new());
        for into in [&mut first, &mut second] {
            block_on(self.runner.once(client, &mut |one| into.push(one))).map_err(|error| unsent(&error))?;
        }
        // Nobody answers at all: that is one thing, and not one for each exchange.
        if let (true, Some([Unlike::Unsent(error), ..])) =
            (first.iter().all(|one| one.exchange.is_none()), first.first().map(|one| one.unlike.as_slice()))
        {
            return Err(Failure::new(error.to_string())
                .help("is it the right address, and does the provider run? Nothing was recorded"));
        }
        // What the rehearsal expects now is what is to be written anew; what did not come at all is told.
        let lost: Vec<&Rehearsed> = first.iter().filter(|one| one.exchange.is_none()).collect();
        for one in &lost {
            for unlike in &one.unlike {
                console
                    .fail(&Failure::new(words::of(self.report.contract, one, unlike)).of(one.name.clone()));
            }
        }
        let beginning = written.map_or(Beginning::Nothing, Beginning::Text);
        let text = recorded(beginning, self.report.contract, rehearsal, &first, &second)
            .map_err(|error| Failure::new(error.to_string()))?;
        let same = self.args.rehearsal.as_deref() == Some(path);
        match same {
            true => files::save(&common.session.writers, path, text.as_bytes())?,
            false => files::create(&common.session.writers, path, &text)?,
        }
        let count = crate::findings::of(first.len() - lost.len(), "exchange");
        console.note(&format!(
            "wrote {}: {count}, each of which expects what came. Look over it: what differed between two runs is marked \"varies\"\n",
            path.display()
        ));
        Ok(if lost.is_empty() { Status::Yes } else { Status::NoAnswer })
    }
}

/// Writes the report in the form that was asked for, where it was asked for.
fn show(
    args: &RehearseArgs,
    report: &Report<'_>,
    format: Format,
    common: &Common,
    console: &mut Console,
) -> Result<(), Failure> {
    let text = match (args.form, format) {
        (Some(_), _) => page::page(report),
        (None, Format::Json) => crate::console::escaped(&data::text(report)),
        (None, Format::Junit) => junit::report(report),
        (None, _) => text::report(report),
    };
    let people = args.form.is_none() && format == Format::Text;
    match &args.output {
        Some(file) => {
            files::save(&common.session.writers, file, paint::plain(&text).as_bytes())?;
            if !people {
                console.out(&text::summary(report));
            }
            console.note(&format!("wrote {}\n", file.display()));
        }
        None if people => console.out(&text),
        None => console.data(&text),
    }
    Ok(())
}

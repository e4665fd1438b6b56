//! `charter answer`

mod identity;
pub mod keeping;
mod learner;
pub mod lines;
mod reload;

use std::path::Path;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex, PoisonError, mpsc};

use charter_exchange::journal::{Journal, JournalError, line};
use charter_exchange::relay::{Relay, RelayError};
use charter_exchange::server::{Desk, ServeError, Server, Stop, Told};
use charter_exchange::stand_in::Place;
use charter_exchange::tls::Trust;
use charter_exchange::{Bounds, Exchange, Outcome as CameOf, Said};
use serde::Serialize;

use super::Outcome;
use super::send::reaching::bytes;
use crate::args::{AnswerArgs, Format};
use crate::common::Common;
use crate::console::{Console, Failure, Status};
use crate::paint;
use keeping::Keeping;
use learner::Learner;
use lines::{Happened, Lines};

/// What is said once it is known where the stand-in is reached.
#[derive(Serialize)]
struct Beginning {
    address: String,
    ports: Vec<PortJson>,
}

#[derive(Serialize)]
struct PortJson {
    service: String,
    port: String,
    soap: Option<&'static str>,
    address: String,
}

/// Something to be said while it serves.
enum News {
    /// An exchange, as it is shown.
    Happened(Box<Happened>),
    /// An exchange, as programs read it.
    Line(String),
    /// What both sides of an exchange say, to be learned.
    Said(Vec<Said>),
    /// What is no exchange.
    Note(String),
    /// Nothing more will come.
    End,
}

pub fn run(args: &AnswerArgs, common: &Common, console: &mut Console) -> Outcome {
    let loaded = common.session.open(&args.contract)?;
    charter_session::is_contract(loaded.contract())?;
    super::matching::told_of_errors(loaded.contract(), &args.contract, console);
    if loaded.contract().bindings.iter().next().is_none() {
        return Err(Failure::new("the contract has no binding, so nothing can be asked for")
            .at(args.contract.as_str())
            .help("add a binding to it, or answer for a contract that imports it"));
    }
    let server = Server::bind(&args.host, args.port).map_err(|error| unserved(&error))?;
    let journal = args.journal.as_deref().map(journal).transpose()?;
    let keeping = Keeping::of(args.store.as_deref(), args.script.as_deref())?;
    let stand_in = keeping.stand_in(loaded, args.script.as_deref())?;
    let places = stand_in.places();
    let some = stand_in.asks_for_certificates();
    let desk = Arc::new(match &args.relay {
        Some(address) => Desk::relay(stand_in, relay(address, args)?),
        None => Desk::stand_in(stand_in),
    });
    let server = match identity::of(args, some, console)? {
        Some(identity) => server.secured(&identity).map_err(|error| identity::unusable(&error, args))?,
        None => server,
    };
    begin(args, &places, &server.base(), common.format, console);
    if let Some(place) = keeping.place() {
        console.note(&paint::faint(&format!("rows are kept in {place}\n")));
    }
    let (news, heard) = mpsc::channel();
    let learning = args.learn.is_some().then(|| Arc::clone(&desk));
    let told = telling(news.clone(), journal, learning, common.format);
    let over = AtomicBool::new(false);
    let served = std::thread::scope(|scope| {
        let (reloading, desk, over, keeping) = (news.clone(), &desk, &over, &keeping);
        scope.spawn(move || reload::watch(args, common, (desk, keeping), &reloading, over));
        let serving = scope.spawn(move || {
            let served = server.serve(Arc::clone(desk), bounds(args), told, &Stop::on_signals());
            over.store(true, Ordering::Relaxed);
            let _ = news.send(News::End);
            served
        });
        let learner = args.learn.as_deref();
        let learner = learner.map(|record| Learner::of(&common.session.writers, record, &args.contract));
        tell(&heard, learner, common.format, console);
        serving.join()
    });
    match served {
        Ok(Ok(())) => Ok(Status::Yes),
        Ok(Err(error)) => Err(unserved(&error)),
        Err(panic) => std::panic::resume_unwind(panic),
    }
}

fn bounds(args: &AnswerArgs) -> Bounds {
    Bounds {
        body: (args.body_limit as usize) << 20,
        connections: args.connections as usize,
        patience: std::time::Duration::from_secs(args.patience),
        ..Bounds::default()
    }
}

/// Says where the stand-in is reached.
fn begin(args: &AnswerArgs, places: &[Place], base: &str, format: Format, console: &mut Console) {
    if format == Format::Json {
        let port = |place: &Place| PortJson {
            service: place.service.clone(),
            port: place.port.clone(),
            soap: place.soap,
            address: format!("{base}{}", place.target),
        };
        let beginning = Beginning { address: base.to_owned(), ports: places.iter().map(port).collect() };
        console.data(&format!("{}\n", serde_json::to_string(&beginning).unwrap_or_default()));
    } else {
        let carrier = |place: &Place| place.soap.map_or("HTTP".to_owned(), |soap| format!("SOAP {soap}"));
        let width = places.iter().map(|place| place.port.chars().count()).max().unwrap_or(0).max(12);
        let mut text = String::new();
        let mut service = "-";
        for place in places {
            if place.service != service {
                service = &place.service;
                let name = if service.is_empty() { "bindings that no port offers" } else { service };
                let (service, to) = (paint::strong(name), args.relay.as_deref());
                text.push_str(&match to {
                    Some(to) => format!("passing on to {service} at {to}\n"),
                    None => format!("answering for {service}\n"),
                });
            }
            let (port, carrier) = (&place.port, carrier(place));
            text.push_str(&format!("  {port:width$}  {carrier:8}  {base}{}\n", place.target));
        }
        if args.relay.is_some() {
            return say(&text, console);
        }
        let first = places.first().map_or("/", |place| place.target.split('?').next().unwrap_or("/"));
        text.push_str(&format!("  {:width$}  {:8}  {base}{first}?wsdl\n", "the contract", ""));
        text.push_str(&format!("  {:width$}  {:8}  {base}/\n", "in a browser", ""));
        return say(&text, console);
    }
    console.flush();
}

fn say(text: &str, console: &mut Console) {
    console.out(text);
    console.flush();
    console.note(&paint::faint("stop with Ctrl-C\n"));
}

/// What passes everything on.
fn relay(address: &str, args: &AnswerArgs) -> Result<Relay, Failure> {
    let trust = Trust {
        authorities: args.relay_authorities.as_deref().map(bytes).transpose()?,
        own: args.relay_certificate.as_deref().map(bytes).transpose()?,
    };
    Relay::to(address, &bounds(args), &trust).map_err(|error| {
        let help = match &error {
            RelayError::Address(_) if !address.contains("://") => format!("did you mean http://{address}?"),
            RelayError::Address(_) => "give the address of the provider: https://host/path".to_owned(),
            RelayError::Tls(_) => {
                "see the files of --relay-authorities and --relay-certificate: both are in PEM".to_owned()
            }
        };
        Failure::new(error.to_string()).help(help)
    })
}

/// Hears of exchanges: keeps them in the journal before their replies go out, and passes on what is to be shown.
fn telling(
    news: mpsc::Sender<News>,
    journal: Option<Journal>,
    learning: Option<Arc<Desk>>,
    format: Format,
) -> Told {
    let journal = Mutex::new(journal);
    let news = Mutex::new(news);
    Arc::new(move |exchange: Exchange| {
        let said = learning.as_ref().map(|desk| desk.now().said(&exchange.request, exchange.reply.as_ref()));
        let mut journal = journal.lock().unwrap_or_else(PoisonError::into_inner);
        // Whoever reads the contract, or the page, exchanges nothing.
        let counts = exchange.about.outcome != CameOf::Other;
        let journal_of = journal.as_mut().filter(|_| counts);
        let kept = journal_of.map_or(Ok(()), |journal| journal.keep(&exchange));
        let news = news.lock().unwrap_or_else(PoisonError::into_inner);
        // Whoever would show it is gone only when the program ends.
        if let Err(error) = kept {
            *journal = None;
            let words = format!("{} the journal ends here: {error}\n", paint::error("charter:"));
            let _ = news.send(News::Note(words));
        }
        if let Some(said) = said {
            let _ = news.send(News::Said(said));
        }
        let _ = news.send(match format {
            Format::Json => News::Line(line(&exchange)),
            _ => News::Happened(Box::new(Happened::of(&exchange))),
        });
    })
}

/// Shows what is heard, until nothing more comes.
fn tell(
    heard: &mpsc::Receiver<News>,
    mut learner: Option<Learner<'_>>,
    format: Format,
    console: &mut Console,
) {
    let mut lines = Lines::new();
    for news in heard {
        match news {
            News::Happened(happened) => lines.show(&happened, console),
            News::Line(line) => {
                console.data(&(line + "\n"));
                console.flush();
            }
            News::Said(said) => {
                let taken = learner.as_mut().map_or(Ok(()), |learner| learner.take(said));
                if let Err(failure) = taken {
                    // Once is enough: it would be the same the next time.
                    learner = None;
                    lines.clear();
                    console.fail(&failure);
                }
            }
            News::Note(words) => {
                lines.clear();
                console.note(&words);
            }
            News::End => break,
        }
    }
    if let Some(Err(failure)) = learner.map(Learner::end) {
        console.fail(&failure);
    }
    if format != Format::Json {
        lines.end(console);
    }
}

fn unserved(error: &ServeError) -> Failure {
    Failure::new(error.to_string()).help(match error {
        ServeError::Busy(_) => "give another one with --port, or --port 0 for any that is free",
        ServeError::Address { .. } => "give a host of this machine with --host, and a port that you may use",
        ServeError::System(_) => "close what you do not need, and try again",
    })
}

/// A journal in a file.
///
/// # Errors
/// If it cannot be written there.
pub fn journal(path: &Path) -> Result<Journal, Failure> {
    Journal::open(path).map_err(|error| {
        Failure::new(error.to_string()).at(path.display().to_string()).help(match error {
            JournalError::Exists => {
                "name another file, or one that ends in .jsonl, which goes on where it ended"
            }
            JournalError::System(_) => "name a file in a folder that may be written",
        })
    })
}

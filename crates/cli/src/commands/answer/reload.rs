//! Loads the contract again when one of its files changes. Until it can be read, the one that was there answers.

use std::path::PathBuf;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::mpsc;
use std::time::Duration;

use charter_exchange::StandIn;
use charter_exchange::server::Desk;
use charter_session::files;

use super::News;
use super::keeping::Keeping;
use crate::args::AnswerArgs;
use crate::common::Common;
use crate::paint;

/// How often files are looked at.
const PAUSE: Duration = Duration::from_millis(100);

/// Watches until the server is over.
pub fn watch(
    args: &AnswerArgs,
    common: &Common,
    (desk, keeping): (&Desk, &Keeping),
    news: &mpsc::Sender<News>,
    over: &AtomicBool,
) {
    if args.contract == "-" {
        return;
    }
    let sources = |stand_in: &StandIn| {
        let script = args.script.iter().cloned().collect();
        [stand_in.loaded().sources(), script, stand_in.files().to_vec()].concat()
    };
    let mut known = stamps(sources(&desk.now()));
    let mut last = known.clone();
    while !over.load(Ordering::Relaxed) {
        std::thread::sleep(PAUSE);
        let now = stamps(known.iter().map(|stamp| stamp.path.clone()).collect());
        // A file is written in several steps: it must be quiet before it is read.
        let quiet = now == last;
        last.clone_from(&now);
        if now == known || !quiet {
            continue;
        }
        let loaded = common.session.open(&args.contract);
        let usable = loaded.and_then(|loaded| {
            charter_session::is_contract(loaded.contract())?;
            keeping.stand_in(loaded, args.script.as_deref())
        });
        let words = match usable {
            Ok(stand_in) => {
                known = stamps(sources(&stand_in));
                desk.replace(stand_in);
                format!("{} was read again\n", args.contract)
            }
            Err(failure) => {
                known = now;
                let place = failure.place.as_ref().map_or(String::new(), |place| format!("{place}: "));
                format!("{} {place}{failure}; what was there before answers on\n", paint::warning("charter:"))
            }
        };
        let _ = news.send(News::Note(words));
    }
}

/// As what a file is found.
#[derive(Clone, PartialEq)]
struct Stamp {
    path: PathBuf,
    stamp: Option<String>,
    /// How long it is: within a tick of the system's clock, a file that was emptied and written again has one stamp.
    length: Option<u64>,
}

/// As what each file is found now.
fn stamps(paths: Vec<PathBuf>) -> Vec<Stamp> {
    let stamp = |path: PathBuf| Stamp {
        stamp: files::stamp(&path),
        length: std::fs::metadata(&path).ok().map(|facts| facts.len()),
        path,
    };
    paths.into_iter().map(stamp).collect()
}

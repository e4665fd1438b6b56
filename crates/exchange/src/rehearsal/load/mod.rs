//! Repeats a rehearsal, many at a time, and measures.
//!
//! A thread for each processor, with connections of its own; the repetitions that go on together are shared among them.
//! What is the same each time is made once, and a reply that came before, octet for octet, is judged once.

mod figures;
mod swift;

use std::cell::RefCell;
use std::sync::atomic::{AtomicBool, AtomicU64, Ordering};
use std::time::{Duration, Instant};

use futures_util::StreamExt;

use super::Runner;
use crate::{Client, ClientError};
use figures::Tally;
pub use figures::{Figures, Slice};
use swift::Swift;

/// How a rehearsal is repeated.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Load {
    /// How many repetitions go on at a time.
    pub together: usize,
    /// How often it is repeated, all together.
    pub repeat: Option<u64>,
    /// How long it is repeated.
    pub long: Option<Duration>,
}

/// How far a load has got.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Progress {
    /// How long it has gone on.
    pub after: Duration,
    /// Exchanges.
    pub exchanges: u64,
    /// Those that were not as expected.
    pub unlike: u64,
    /// How often the whole rehearsal was repeated.
    pub repetitions: u64,
}

/// How often somebody is told how far it has got.
const TOLD: Duration = Duration::from_millis(250);

/// What all repetitions have in common.
struct Shared {
    load: Load,
    began: Instant,
    begun: AtomicU64,
    done: AtomicU64,
    exchanges: AtomicU64,
    unlike: AtomicU64,
    over: AtomicBool,
}

impl Shared {
    /// The number of the next repetition, if there is one more.
    fn next(&self) -> Option<u64> {
        if self.is_over() {
            return None;
        }
        let number = self.begun.fetch_add(1, Ordering::Relaxed) + 1;
        self.load.repeat.is_none_or(|repeat| number <= repeat).then_some(number)
    }

    fn is_over(&self) -> bool {
        self.over.load(Ordering::Relaxed) || self.load.long.is_some_and(|long| self.began.elapsed() >= long)
    }

    fn progress(&self) -> Progress {
        Progress {
            after: self.began.elapsed(),
            exchanges: self.exchanges.load(Ordering::Relaxed),
            unlike: self.unlike.load(Ordering::Relaxed),
            repetitions: self.done.load(Ordering::Relaxed),
        }
    }
}

/// Repeats a rehearsal. `told` hears a few times a second how far it has got; if it says false, that is the end.
///
/// # Errors
/// If there is no client.
pub fn load(
    runner: &Runner<'_>,
    client: &Client,
    load: Load,
    told: &mut dyn FnMut(Progress) -> bool,
) -> Result<Figures, ClientError> {
    let threads = std::thread::available_parallelism().map_or(1, usize::from).min(load.together).max(1);
    let clients: Vec<Client> = (0..threads).map(|_| client.another()).collect::<Result<_, _>>()?;
    let shared = Shared {
        load,
        began: Instant::now(),
        begun: AtomicU64::new(0),
        done: AtomicU64::new(0),
        exchanges: AtomicU64::new(0),
        unlike: AtomicU64::new(0),
        over: AtomicBool::new(false),
    };
    let mut figures = std::thread::scope(|scope| {
        let shared = &shared;
        let working: Vec<_> = clients
            .into_iter()
            .enumerate()
            .map(|(number, client)| {
                // The first ones take what does not divide.
                let workers = load.together / threads + usize::from(number < load.together % threads);
                scope.spawn(move || worked(runner, client, workers, shared))
            })
            .collect();
        while !working.iter().all(std::thread::ScopedJoinHandle::is_finished) {
            std::thread::sleep(Duration::from_millis(10));
            if shared.began.elapsed().as_millis() % TOLD.as_millis() < 10 && !told(shared.progress()) {
                shared.over.store(true, Ordering::Relaxed);
            }
        }
        let tallies = working
            .into_iter()
            .map(|thread| thread.join().unwrap_or_else(|panic| std::panic::resume_unwind(panic)));
        Figures::of(tallies)
    });
    figures.took = shared.began.elapsed();
    figures.repetitions = shared.done.load(Ordering::Relaxed);
    Ok(figures)
}

/// What a thread does.
fn worked(runner: &Runner<'_>, client: Client, workers: usize, shared: &Shared) -> Tally {
    let tally = RefCell::new(Tally::begin());
    let swift = Swift::of(runner, &client);
    let all: futures_util::stream::FuturesUnordered<_> =
        (0..workers).map(|_| repeated(&swift, shared, &tally)).collect();
    // Without timers there would be no timeouts either, and nothing would have begun.
    if crate::block_on(all.collect::<()>()).is_err() {
        shared.over.store(true, Ordering::Relaxed);
    }
    drop(swift);
    tally.into_inner()
}

/// Repeats the rehearsal until it is over.
async fn repeated(swift: &Swift<'_>, shared: &Shared, tally: &RefCell<Tally>) {
    while let Some(count) = shared.next() {
        let mut kept = swift.runner.rehearsal.named();
        for (at, row) in swift.runner.all() {
            let done = swift.one(at, row, count, &mut kept).await;
            shared.exchanges.fetch_add(1, Ordering::Relaxed);
            shared.unlike.fetch_add(u64::from(done.is_unlike()), Ordering::Relaxed);
            tally.borrow_mut().take(shared.began.elapsed(), at, done);
            // Whoever has begun something finishes it only if there is time.
            if shared.is_over() {
                return;
            }
        }
        shared.done.fetch_add(1, Ordering::Relaxed);
    }
}

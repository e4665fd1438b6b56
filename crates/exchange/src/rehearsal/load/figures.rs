//! What was measured: how many exchanges there were, how long they took, and how that went over time.

use std::time::Duration;

use charter_source::Map;
use hdrhistogram::Histogram;

use super::swift::Done;
use crate::Outcome;
use crate::rehearsal::Rehearsed;

/// The time that a slice is of, at first; when there are too many, each two become one.
const SLICE: Duration = Duration::from_millis(100);
/// How many slices there are at most.
const SLICES: usize = 240;
/// How many exchanges that were not as expected are kept of each one of the rehearsal.
const KEPT: usize = 3;
/// What no exchange takes longer than, in microseconds.
const LONGEST: u64 = 3_600_000_000;

/// What was measured.
#[derive(Debug)]
pub struct Figures {
    /// How long all of it took.
    pub took: Duration,
    /// How often the whole rehearsal was repeated.
    pub repetitions: u64,
    /// How many exchanges there were.
    pub exchanges: u64,
    /// How many were not as expected.
    pub unlike: u64,
    /// How many there were of each outcome.
    pub outcomes: Vec<(Outcome, u64)>,
    /// How long they took, in microseconds.
    latency: Histogram<u64>,
    /// The same for each exchange of the rehearsal, by its place.
    pub each: Vec<(usize, Histogram<u64>)>,
    /// How it went over time.
    pub slices: Vec<Slice>,
    /// Some that were not as expected, at most three of each exchange of the rehearsal.
    pub samples: Vec<Rehearsed>,
}

/// What was measured in a while.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Slice {
    /// When it began.
    pub at: Duration,
    /// How many exchanges came to their end in it.
    pub exchanges: u64,
    /// How long half of them took at most.
    pub median: Duration,
    /// How long all but one in a hundred took at most.
    pub most: Duration,
    /// How long the slowest took.
    pub slowest: Duration,
}

impl Figures {
    pub(super) fn of(tallies: impl Iterator<Item = Tally>) -> Figures {
        let whole = tallies.reduce(Tally::and).unwrap_or_else(Tally::begin);
        let mut outcomes: Vec<(Outcome, u64)> = whole.outcomes.into_iter().collect();
        outcomes.sort_by_key(|(outcome, _)| Outcome::ALL.iter().position(|(known, _)| known == outcome));
        let mut each: Vec<_> = whole.each.into_iter().collect();
        each.sort_by_key(|(at, _)| *at);
        let width = whole.width;
        let slices = whole.slices.iter().enumerate().map(|(number, slice)| Slice {
            at: width * number as u32,
            exchanges: slice.len(),
            median: micros(slice.value_at_quantile(0.5)),
            most: micros(slice.value_at_quantile(0.99)),
            slowest: micros(slice.max()),
        });
        let mut samples = whole.samples;
        samples.sort_by_key(|sample| (sample.number, sample.row));
        Figures {
            took: Duration::ZERO,
            repetitions: 0,
            exchanges: whole.exchanges,
            unlike: whole.unlike,
            outcomes,
            slices: slices.collect(),
            latency: whole.latency,
            each,
            samples,
        }
    }

    /// Exchanges in a second.
    pub fn rate(&self) -> f64 {
        self.exchanges as f64 / self.took.as_secs_f64().max(1e-9)
    }

    /// How long a share of all exchanges took at most: 0.99 for all but one in a hundred.
    pub fn within(&self, share: f64) -> Duration {
        micros(self.latency.value_at_quantile(share))
    }

    /// How long the slowest took.
    pub fn slowest(&self) -> Duration {
        micros(self.latency.max())
    }
}

fn micros(value: u64) -> Duration {
    Duration::from_micros(value)
}

/// What one thread has measured.
pub(super) struct Tally {
    exchanges: u64,
    unlike: u64,
    outcomes: Map<Outcome, u64>,
    latency: Histogram<u64>,
    each: Map<usize, Histogram<u64>>,
    slices: Vec<Histogram<u64>>,
    width: Duration,
    samples: Vec<Rehearsed>,
}

/// A histogram that holds all times, each to a hundredth.
fn histogram() -> Histogram<u64> {
    Histogram::new(2).unwrap_or_else(|_| unreachable!("two digits are allowed"))
}

impl Tally {
    pub fn begin() -> Tally {
        Tally {
            exchanges: 0,
            unlike: 0,
            outcomes: Map::default(),
            latency: Histogram::new(3).unwrap_or_else(|_| histogram()),
            each: Map::default(),
            slices: Vec::new(),
            width: SLICE,
            samples: Vec::new(),
        }
    }

    /// Takes an exchange that was done so long after the beginning.
    pub fn take(&mut self, after: Duration, exchange: usize, done: Done) {
        self.exchanges += 1;
        *self.outcomes.entry(done.outcome).or_default() += 1;
        if let Some(took) = done.took {
            let took = (took.as_micros() as u64).min(LONGEST);
            record(&mut self.latency, took);
            record(self.each.entry(exchange).or_insert_with(histogram), took);
            record(self.slice(after), took);
        }
        if done.is_unlike() {
            self.unlike += 1;
            if let Some(whole) = done.whole {
                self.keep(*whole);
            }
        }
    }

    fn keep(&mut self, sample: Rehearsed) {
        let same = |kept: &&Rehearsed| kept.number == sample.number;
        if self.samples.iter().filter(same).count() < KEPT {
            self.samples.push(sample);
        }
    }

    /// The slice of a time.
    fn slice(&mut self, after: Duration) -> &mut Histogram<u64> {
        let number = |width: Duration| (after.as_micros() / width.as_micros()) as usize;
        while number(self.width) >= SLICES {
            self.widen();
        }
        let number = number(self.width);
        while self.slices.len() <= number {
            self.slices.push(histogram());
        }
        &mut self.slices[number]
    }

    /// Makes one slice of each two.
    fn widen(&mut self) {
        self.width *= 2;
        let narrow = std::mem::take(&mut self.slices);
        for pair in narrow.chunks(2) {
            let mut wide = pair[0].clone();
            for other in &pair[1..] {
                add(&mut wide, other);
            }
            self.slices.push(wide);
        }
    }

    fn and(mut self, mut other: Tally) -> Tally {
        while self.width < other.width {
            self.widen();
        }
        while other.width < self.width {
            other.widen();
        }
        self.exchanges += other.exchanges;
        self.unlike += other.unlike;
        for (outcome, count) in other.outcomes {
            *self.outcomes.entry(outcome).or_default() += count;
        }
        add(&mut self.latency, &other.latency);
        for (at, histogram) in other.each {
            add(self.each.entry(at).or_insert_with(self::histogram), &histogram);
        }
        for (number, slice) in other.slices.iter().enumerate() {
            match self.slices.get_mut(number) {
                Some(known) => add(known, slice),
                None => self.slices.push(slice.clone()),
            }
        }
        for sample in other.samples {
            self.keep(sample);
        }
        self
    }
}

/// Records a time; a histogram grows as it needs.
fn record(to: &mut Histogram<u64>, took: u64) {
    // It fails only for one that may not grow.
    let _ = to.record(took);
}

/// Adds what another has; both grow as they need.
fn add(to: &mut Histogram<u64>, other: &Histogram<u64>) {
    // It fails only for a histogram that may not grow.
    let _ = to.add(other);
}

#[cfg(test)]
mod tests {
    use super::*;

    fn done(took: u64) -> Done {
        Done::of(Duration::from_micros(took), Outcome::Replied)
    }

    #[test]
    fn slices_widen_when_there_are_too_many_and_nothing_is_lost() {
        let mut first = Tally::begin();
        let mut second = Tally::begin();
        for number in 0..1000u64 {
            let after = Duration::from_millis(number * 100);
            let tally = if number % 2 == 0 { &mut first } else { &mut second };
            tally.take(after, 0, done(1000 + number));
        }
        second.take(Duration::from_millis(1), 1, done(5));
        let figures = Figures::of([first, second].into_iter());
        assert_eq!(figures.exchanges, 1001);
        assert!(figures.slices.len() <= SLICES, "{}", figures.slices.len());
        assert_eq!(figures.slices.iter().map(|slice| slice.exchanges).sum::<u64>(), 1001);
        assert_eq!(figures.slices[1].at, Duration::from_millis(800));
        assert!(figures.within(0.5) >= Duration::from_micros(1490), "{:?}", figures.within(0.5));
        assert!(figures.within(0.5) <= Duration::from_micros(1510));
        assert_eq!(figures.each.len(), 2);
        assert!(figures.slowest() >= Duration::from_micros(1990));
    }
}

//! What is shown of exchanges: a line each, as far as anybody can read them, and counts at the end.

use std::io::{IsTerminal, Write};
use std::time::{Duration, Instant};

use charter_exchange::{Exchange, Finding, Outcome};
use charter_message::http::Start;
use charter_message::matching::Severity;

use crate::console::Console;
use crate::paint;

/// How many lines there are in a second; what comes beyond is counted.
const READABLE: usize = 20;
/// How many things that are wrong with one message are shown.
const SHOWN: usize = 3;
/// How much of a target is shown.
const LONGEST: usize = 40;

/// What is shown of an exchange.
pub struct Happened {
    time: String,
    what: String,
    port: String,
    status: Option<u16>,
    outcome: Outcome,
    took: Duration,
    wrong: Vec<Finding>,
}

impl Happened {
    pub fn of(exchange: &Exchange) -> Happened {
        let about = &exchange.about;
        let target = || match &exchange.request.start {
            Start::Request { method, target } => short(&format!("{method} {target}")),
            Start::Reply { .. } => String::new(),
        };
        let findings = about.request.iter().chain(&about.reply);
        Happened {
            time: exchange.began.to_zoned(jiff::tz::TimeZone::UTC).strftime("%H:%M:%S").to_string(),
            what: about.operation.as_deref().map_or_else(target, str::to_owned),
            port: about.port.as_deref().unwrap_or_default().to_owned(),
            status: exchange.reply.as_ref().and_then(|reply| reply.start.status()),
            outcome: about.outcome,
            took: exchange.took,
            wrong: findings.filter(|finding| finding.severity == Severity::Error).cloned().collect(),
        }
    }

    /// It, and what is wrong with it.
    pub fn text(&self) -> String {
        let outcome = format!("{:8}", self.outcome.word());
        let outcome = match self.outcome {
            Outcome::Replied | Outcome::Taken => paint::good(&outcome),
            Outcome::Refused | Outcome::Lost => paint::error(&outcome),
            Outcome::Fault => paint::warning(&outcome),
            Outcome::Other => paint::faint(&outcome),
        };
        let status = self.status.map_or("---".to_owned(), |status| status.to_string());
        let took = paint::faint(&format!("{:.1} ms", self.took.as_secs_f64() * 1000.0));
        let mut text = format!(
            "{}  {status}  {outcome}  {}  {:16}  {took}\n",
            paint::faint(&self.time),
            paint::path(&format!("{:24}", self.what)),
            self.port
        );
        for finding in self.wrong.iter().take(SHOWN) {
            text.push_str(&format!("          {}: {}\n", paint::path(&finding.path), finding.message));
        }
        if self.wrong.len() > SHOWN {
            text.push_str(&format!("          and {} more\n", self.wrong.len() - SHOWN));
        }
        text
    }
}

/// What fits a line.
fn short(text: &str) -> String {
    match text.char_indices().nth(LONGEST) {
        Some((end, _)) => format!("{}…", &text[..end]),
        None => text.to_owned(),
    }
}

/// Shows exchanges, and counts them.
pub struct Lines {
    counts: Vec<(Outcome, usize)>,
    /// When the second began in which lines are counted, and how many were shown and left out in it.
    second: Instant,
    shown: usize,
    left_out: usize,
    /// Whether counts stand below the lines, on a terminal.
    live: bool,
    standing: bool,
    redrawn: Instant,
}

impl Lines {
    pub fn new() -> Lines {
        let now = Instant::now();
        Lines {
            counts: Vec::new(),
            second: now,
            shown: 0,
            left_out: 0,
            live: std::io::stderr().is_terminal() && std::io::stdout().is_terminal(),
            standing: false,
            redrawn: now,
        }
    }

    pub fn show(&mut self, happened: &Happened, console: &mut Console) {
        match self.counts.iter_mut().find(|(outcome, _)| *outcome == happened.outcome) {
            Some((_, count)) => *count += 1,
            None => self.counts.push((happened.outcome, 1)),
        }
        if self.second.elapsed() >= Duration::from_secs(1) {
            self.rest(console);
            self.second = Instant::now();
            self.shown = 0;
        }
        if self.shown < READABLE {
            self.shown += 1;
            self.clear();
            console.out(&happened.text());
            console.flush();
            self.draw();
        } else {
            self.left_out += 1;
            if self.redrawn.elapsed() >= Duration::from_millis(250) {
                self.clear();
                self.draw();
            }
        }
    }

    /// Says how many were not shown.
    fn rest(&mut self, console: &mut Console) {
        if self.left_out > 0 {
            self.clear();
            console.out(&paint::faint(&format!("          and {} more in this second\n", self.left_out)));
            console.flush();
            self.left_out = 0;
        }
    }

    /// All that is known now, in one line.
    fn summary(&self) -> String {
        let all: usize = self.counts.iter().map(|(_, count)| count).sum();
        let named = Outcome::ALL.iter().filter_map(|(outcome, _)| {
            let count = self.counts.iter().find(|(known, _)| known == outcome)?.1;
            Some(format!("{count} {}", crate::findings::counted(*outcome, count as u64)))
        });
        let named: Vec<String> = named.collect();
        match named.as_slice() {
            [] => "no requests came".to_owned(),
            named => format!("{}: {}", crate::findings::of(all, "request"), named.join(", ")),
        }
    }

    /// Takes the counts off the terminal.
    pub fn clear(&mut self) {
        if self.standing {
            self.standing = false;
            let _ = write!(std::io::stderr(), "\r\x1b[K");
        }
    }

    fn draw(&mut self) {
        if self.live {
            self.standing = true;
            self.redrawn = Instant::now();
            let _ = write!(std::io::stderr(), "{}", self.summary());
            let _ = std::io::stderr().flush();
        }
    }

    pub fn end(&mut self, console: &mut Console) {
        self.clear();
        self.rest(console);
        console.out(&format!("{}\n", self.summary()));
    }
}

//! A table of what came of many requests.

use charter_exchange::{Exchange, Outcome};
use charter_message::matching::Severity;

use super::lost::Lost;
use super::shown;
use crate::console::Failure;
use crate::paint;

/// A table that grows.
#[derive(Default)]
pub struct Table {
    all: usize,
    right: usize,
    lost: Lost,
}

impl Table {
    /// A row that begins with `head`, and below it what is wrong.
    pub fn row(&mut self, head: &str, exchange: &Exchange) -> String {
        self.all += 1;
        self.right += usize::from(shown::is_right(exchange));
        let about = &exchange.about;
        let status = exchange.reply.as_ref().and_then(|reply| reply.start.status());
        let status = status.map_or("---".to_owned(), |status| status.to_string());
        let took = super::shown_time(exchange.took);
        let wrong = shown::errors(&about.reply);
        let came = match about.outcome {
            Outcome::Replied | Outcome::Taken if wrong == 0 => paint::good(about.outcome.word()),
            Outcome::Fault => format!("{}{}", paint::warning("fault"), shown::reason(exchange)),
            outcome => format!("{}, {}", paint::error(outcome.word()), crate::findings::count(wrong, 0, 0)),
        };
        let mut text = format!("{head}  {status}  {took:>9}  {came}\n");
        let found = about.request.iter().chain(&about.reply);
        for finding in found.filter(|finding| finding.severity == Severity::Error).take(3) {
            text.push_str(&format!("    {}: {}\n", paint::path(&finding.path), finding.message));
        }
        text
    }

    /// One that was not sent, or to which nothing came.
    pub fn lost(&mut self, name: &str, failure: Failure) {
        self.all += 1;
        self.lost.add(name, failure);
    }

    /// How many came out right.
    pub fn end(&self) -> String {
        format!("all: {} of {} came out right\n", self.right, self.all)
    }

    /// Why others came to nothing.
    pub fn failures(self) -> impl Iterator<Item = Failure> {
        self.lost.failures()
    }
}

//! A table of what came of many requests.

use charter_exchange::{Exchange, Outcome};

use super::asking::Asking;
use super::shown;
use crate::paint;

/// What the rows of a table are.
#[derive(Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// An operation by a port.
    Operations,
    /// A row of a CSV file.
    Rows,
}

/// A table that grows.
pub struct Table {
    kind: Kind,
    all: usize,
    right: usize,
}

impl Table {
    pub fn begin(kind: Kind) -> Table {
        Table { kind, all: 0, right: 0 }
    }

    /// A row, and below it what is wrong.
    pub fn row(&self, asking: &Asking, exchange: &Exchange) -> String {
        let about = &exchange.about;
        let status = exchange.reply.as_ref().and_then(|reply| reply.start.status());
        let status = status.map_or("---".to_owned(), |status| status.to_string());
        let took = super::shown_time(exchange.took);
        let what = match self.kind {
            Kind::Operations => {
                format!("{}  {:18}", paint::path(&format!("{:28}", asking.operation)), asking.port)
            }
            Kind::Rows => format!("{:10}", format!("row {}", asking.row.unwrap_or_default())),
        };
        let wrong = shown::errors(&about.reply);
        let came = match about.outcome {
            Outcome::Replied | Outcome::Taken if wrong == 0 => paint::good(about.outcome.word()),
            Outcome::Fault => format!("{}{}", paint::warning("fault"), shown::reason(exchange)),
            outcome => format!("{}, {}", paint::error(outcome.word()), crate::findings::count(wrong, 0, 0)),
        };
        let mut text = format!("{what}  {status}  {took:>9}  {came}\n");
        let found = about.request.iter().chain(&about.reply);
        for finding in
            found.filter(|finding| finding.severity == charter_message::matching::Severity::Error).take(3)
        {
            text.push_str(&format!("    {}: {}\n", paint::path(&finding.path), finding.message));
        }
        text
    }

    pub fn count(&mut self, exchange: &Exchange) {
        self.all += 1;
        self.right += usize::from(shown::is_right(exchange));
    }

    /// One that was not sent, or to which nothing came.
    pub fn lost(&mut self) {
        self.all += 1;
    }

    pub fn end(&self) -> String {
        format!("all: {} of {} came out right\n", self.right, self.all)
    }
}

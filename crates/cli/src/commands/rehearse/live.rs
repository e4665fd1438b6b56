//! How far a load has got, in one line of the terminal.

use std::io::{IsTerminal, Write};

use charter_exchange::rehearsal::Progress;

use super::text::grouped;
use crate::args::Format;

/// A line that is written over and over.
pub struct Live {
    shown: bool,
    before: Progress,
}

impl Live {
    pub fn begin(format: Format) -> Live {
        Live { shown: format == Format::Text && std::io::stderr().is_terminal(), before: Progress::default() }
    }

    /// Shows how far it has got; gives that it is to go on.
    pub fn show(&mut self, progress: &Progress) -> bool {
        if self.shown {
            let since = progress.after.saturating_sub(self.before.after).as_secs_f64();
            let rate = (progress.exchanges - self.before.exchanges) as f64 / since.max(1e-9);
            let unlike = match progress.unlike {
                0 => "all as expected".to_owned(),
                unlike => format!("{} not as expected", grouped(unlike)),
            };
            let line = format!(
                "{:.1} s  {} exchanges  {} a second now  {unlike}",
                progress.after.as_secs_f64(),
                grouped(progress.exchanges),
                grouped(rate.round() as u64)
            );
            let _ = write!(std::io::stderr(), "\r\x1b[K{line}");
            let _ = std::io::stderr().flush();
            self.before = *progress;
        }
        true
    }

    /// Takes it off the terminal.
    pub fn clear(&mut self) {
        if self.shown {
            let _ = write!(std::io::stderr(), "\r\x1b[K");
        }
    }
}

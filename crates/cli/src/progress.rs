//! How far something has got.

/// A bar on a terminal, for what takes more than a second.
pub struct Progress(indicatif::ProgressBar);

impl Progress {
    /// A bar over so many of something.
    pub fn over(count: usize, what: &str) -> Progress {
        let bar = indicatif::ProgressBar::with_draw_target(
            Some(count as u64),
            indicatif::ProgressDrawTarget::hidden(),
        );
        let style = indicatif::ProgressStyle::with_template(&format!(
            "{{pos}} of {{len}} {what} {{wide_bar}} {{elapsed}}"
        ));
        bar.set_style(
            style.unwrap_or_else(|_| indicatif::ProgressStyle::default_bar()).progress_chars("━╸ "),
        );
        Progress(bar)
    }

    /// One more is done; the bar comes once it has taken a second.
    pub fn step(&self) {
        self.0.inc(1);
        if self.0.is_hidden()
            && self.0.elapsed().as_secs() >= 1
            && std::io::IsTerminal::is_terminal(&std::io::stderr())
        {
            self.0.set_draw_target(indicatif::ProgressDrawTarget::stderr());
        }
    }

    /// So many more have come to light.
    pub fn more(&self, count: usize) {
        self.0.inc_length(count as u64);
    }

    /// Takes the bar away.
    pub fn done(&self) {
        self.0.finish_and_clear();
    }
}

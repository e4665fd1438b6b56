//! Where results and messages go, and what the program ends with.

use std::io::{BufWriter, IsTerminal, Write};
use std::process::ExitCode;

use crate::args::Color;
use crate::paint;

/// What a command ends with.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Status {
    /// The answer is yes.
    Yes,
    /// The answer is no.
    No,
    /// There is no answer.
    NoAnswer,
}

impl From<Status> for ExitCode {
    fn from(status: Status) -> ExitCode {
        ExitCode::from(match status {
            Status::Yes => 0,
            Status::No => 1,
            Status::NoAnswer => 2,
        })
    }
}

/// Why there is no answer.
#[derive(Debug)]
pub struct Failure {
    /// The file, with line and column where there are any.
    pub place: Option<String>,
    /// The component path.
    pub path: Option<String>,
    /// What is wrong, in one line.
    pub message: String,
    /// What to do about it, in one line.
    pub help: Option<String>,
}

impl Failure {
    /// A failure that stands nowhere.
    pub fn new(message: impl Into<String>) -> Self {
        Failure { place: None, path: None, message: message.into(), help: None }
    }

    /// The same failure at a place.
    pub fn at(mut self, place: impl Into<String>) -> Self {
        self.place = Some(place.into());
        self
    }

    /// The same failure, with the component that it is about.
    pub fn of(mut self, path: impl Into<String>) -> Self {
        self.path = Some(path.into());
        self
    }

    /// The same failure, with advice.
    pub fn help(mut self, help: impl Into<String>) -> Self {
        self.help = Some(help.into());
        self
    }
}

/// Standard output and standard error. Text comes with colours, which are taken out where they are not wanted.
pub struct Console {
    out: BufWriter<std::io::Stdout>,
    color_out: bool,
    color_err: bool,
}

impl Console {
    /// The console of the process.
    pub fn new(color: Color) -> Self {
        let wanted = |stream_wants: bool| match color {
            Color::Always => true,
            Color::Never => false,
            Color::Auto => stream_wants,
        };
        let auto = |choice: anstream::ColorChoice| !matches!(choice, anstream::ColorChoice::Never);
        Console {
            color_out: wanted(auto(anstream::AutoStream::choice(&std::io::stdout()))),
            color_err: wanted(auto(anstream::AutoStream::choice(&std::io::stderr()))),
            out: BufWriter::new(std::io::stdout()),
        }
    }

    /// Writes a piece of the result.
    pub fn out(&mut self, text: &str) {
        // Whoever closed standard output wants no more of it.
        let _ = if self.color_out {
            self.out.write_all(text.as_bytes())
        } else {
            write!(self.out, "{}", anstream::adapter::strip_str(text))
        };
    }

    /// Writes the result as it is.
    pub fn bytes(&mut self, bytes: &[u8]) {
        let _ = self.out.write_all(bytes);
    }

    /// Writes a JSON document as the result.
    pub fn json(&mut self, value: &impl serde::Serialize) {
        let _ = serde_json::to_writer_pretty(&mut self.out, value);
        let _ = self.out.write_all(b"\n");
    }

    /// Writes a message that is no part of the result.
    pub fn note(&mut self, text: &str) {
        // Both streams may lead to one screen, where the order counts.
        let _ = self.out.flush();
        let mut err = std::io::stderr().lock();
        let _ = if self.color_err {
            err.write_all(text.as_bytes())
        } else {
            write!(err, "{}", anstream::adapter::strip_str(text))
        };
    }

    /// Says why there is no answer.
    pub fn fail(&mut self, failure: &Failure) -> Status {
        let place = failure.place.as_ref().map_or(String::new(), |place| format!("{place}: "));
        let path = failure.path.as_ref().map_or(String::new(), |path| format!("{}: ", paint::path(path)));
        let mut text = format!("{} {place}{path}{}\n", paint::error("charter:"), failure.message);
        if let Some(help) = &failure.help {
            text.push_str(&format!("         {help}\n"));
        }
        self.note(&text);
        Status::NoAnswer
    }

    /// Writes out what is still held back.
    pub fn finish(&mut self) {
        let _ = self.out.flush();
    }

    /// How wide lines may be.
    pub fn width(&self) -> usize {
        let wide = std::env::var("COLUMNS").ok().and_then(|columns| columns.parse().ok());
        match wide {
            Some(columns) if std::io::stdout().is_terminal() => columns,
            _ => 110,
        }
    }
}

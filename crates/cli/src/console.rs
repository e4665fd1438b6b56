//! Where results and messages go, and what the program ends with.

use std::io::{BufWriter, IsTerminal, Write};
use std::process::ExitCode;

pub use charter_session::Failure;

use crate::args::Color;
use crate::paint::{self, Manner};
use crate::slips;

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

/// Writes a line that is no part of the result, where no console is at hand.
pub fn note(words: &str) {
    let _ = writeln!(std::io::stderr().lock(), "{}", paint::plain(words));
}

/// JSON with every character escaped that would do something to a terminal. Outside of texts there is none.
pub fn escaped(json: &str) -> String {
    let mut result = String::with_capacity(json.len());
    for c in json.chars() {
        match paint::picture(c) {
            Some(_) => result.push_str(&format!("\\u{:04x}", c as u32)),
            None => result.push(c),
        }
    }
    result
}

/// Writes JSON on, escaped in the same way. It comes in pieces of whole characters.
struct Escaping<W>(W);

impl<W: Write> Write for Escaping<W> {
    fn write(&mut self, bytes: &[u8]) -> std::io::Result<usize> {
        match std::str::from_utf8(bytes) {
            Ok(text) if text.chars().any(|c| paint::picture(c).is_some()) => {
                self.0.write_all(escaped(text).as_bytes())?;
            }
            _ => self.0.write_all(bytes)?,
        }
        Ok(bytes.len())
    }

    fn flush(&mut self) -> std::io::Result<()> {
        self.0.flush()
    }
}

/// Where the result goes.
enum Out {
    /// To standard output.
    Standard(BufWriter<std::io::Stdout>),
    /// Into memory, and messages with it.
    Kept(Vec<u8>),
}

impl Write for Out {
    fn write(&mut self, bytes: &[u8]) -> std::io::Result<usize> {
        match self {
            Out::Standard(out) => out.write(bytes),
            Out::Kept(kept) => kept.write(bytes),
        }
    }

    fn flush(&mut self) -> std::io::Result<()> {
        match self {
            Out::Standard(out) => out.flush(),
            Out::Kept(_) => Ok(()),
        }
    }
}

/// Standard output and standard error. Text comes with colours, which are taken out where they are not wanted.
pub struct Console {
    out: Out,
    /// Why the result could not be written.
    lost: Option<std::io::Error>,
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
            out: Out::Standard(BufWriter::new(std::io::stdout())),
            lost: None,
        }
    }

    /// A console that keeps what it is given, in the colours of this one.
    pub fn keeping(&self) -> Console {
        Console {
            out: Out::Kept(Vec::new()),
            lost: None,
            color_out: self.color_out,
            color_err: self.color_out,
        }
    }

    /// What such a console was given.
    pub fn kept(self) -> Vec<u8> {
        match self.out {
            Out::Standard(_) => Vec::new(),
            Out::Kept(kept) => kept,
        }
    }

    /// Writes a piece of the result.
    pub fn out(&mut self, text: &str) {
        self.write(text, true);
    }

    /// Writes a piece of the result that others read on: to a file or a pipe it goes character by character.
    pub fn data(&mut self, text: &str) {
        let to_eyes = self.color_out || std::io::stdout().is_terminal();
        self.write(text, to_eyes);
    }

    fn write(&mut self, text: &str, shown: bool) {
        let text = paint::written(text, Manner { colors: self.color_out, shown });
        let written = self.out.write_all(text.as_bytes());
        self.keep(written);
    }

    /// Remembers the first piece of the result that was lost.
    fn keep(&mut self, written: std::io::Result<()>) {
        if let Err(error) = written {
            self.lost.get_or_insert(error);
        }
    }

    /// Writes the result as it is.
    pub fn bytes(&mut self, bytes: &[u8]) {
        let written = self.out.write_all(bytes);
        self.keep(written);
    }

    /// Writes a JSON document as the result.
    pub fn json(&mut self, value: &impl serde::Serialize) {
        let written = serde_json::to_writer_pretty(Escaping(&mut self.out), value);
        self.keep(written.map_err(std::io::Error::from));
        self.bytes(b"\n");
    }

    /// Writes out what is still held back, for who waits for it.
    pub fn flush(&mut self) {
        let written = self.out.flush();
        self.keep(written);
    }

    /// Writes a message that is no part of the result.
    pub fn note(&mut self, text: &str) {
        // Both streams may lead to one screen, where the order counts.
        let written = self.out.flush();
        self.keep(written);
        let text = paint::written(text, Manner { colors: self.color_err, shown: true });
        // There is nowhere left to say that this failed.
        let _ = match &mut self.out {
            Out::Standard(_) => std::io::stderr().lock().write_all(text.as_bytes()),
            Out::Kept(kept) => kept.write_all(text.as_bytes()),
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
        if let Some(slips) = &failure.slips {
            text.push_str(&slips::errors_in_file(&slips.name, &slips.text, &slips.errors));
        }
        self.note(&text);
        Status::NoAnswer
    }

    /// Writes out what is still held back. Where the result did not come through, there is no answer.
    pub fn finish(&mut self, status: Status) -> Status {
        let written = self.out.flush();
        self.keep(written);
        match self.lost.take() {
            None => status,
            // Whoever closed standard output wants no more of it, and no word about that.
            Some(error) if error.kind() == std::io::ErrorKind::BrokenPipe => Status::NoAnswer,
            Some(error) => {
                let failure = Failure::new(format!("the result could not be written: {error}"));
                self.fail(&failure.help("see where standard output leads, and whether there is room"))
            }
        }
    }

    /// How wide lines may be: as wide as the terminal, if there is one.
    pub fn width(&self) -> usize {
        let terminal = || terminal_size::terminal_size_of(std::io::stdout());
        let said = || std::env::var("COLUMNS").ok()?.parse().ok();
        match terminal() {
            Some((width, _)) => said().unwrap_or(usize::from(width.0)),
            None => 110,
        }
    }
}

//! Journals: what happened, kept as it happens. `lines.rs` writes JSON Lines, an exchange a line; `archive.rs` HTTP archives
//! (HAR 1.2), which other tools read. `secrets.rs` takes out what nobody else may know.
//!
//! A journal is written before a reply goes out, in one piece for each exchange: whoever has a reply finds it there, and a
//! program that is killed leaves at most the last line cut.

mod archive;
mod lines;
mod secrets;

use std::fs::{File, OpenOptions};
use std::io::{Seek, SeekFrom, Write};
use std::path::Path;

use charter_message::http::HttpMessage;

use crate::Exchange;
pub use archive::archive;
pub use lines::line;

/// A journal that is being written.
pub struct Journal {
    file: File,
    form: Form,
}

enum Form {
    Lines,
    /// How many entries it has.
    Archive(usize),
}

/// Why there is no journal.
#[derive(Debug, thiserror::Error)]
pub enum JournalError {
    /// An archive is written anew, and what is there would be lost.
    #[error("there is a file of that name already")]
    Exists,
    /// The system refuses.
    #[error("the journal cannot be written: {0}")]
    System(#[from] std::io::Error),
}

impl Journal {
    /// Opens a journal: an archive if its name ends in `.har`, else JSON Lines, which go on where they ended.
    ///
    /// # Errors
    /// If it cannot be written, or is an archive that is there already.
    pub fn open(path: &Path) -> Result<Journal, JournalError> {
        let is_archive = path.extension().is_some_and(|ending| ending.eq_ignore_ascii_case("har"));
        let mut options = OpenOptions::new();
        match is_archive {
            true => options.write(true).create_new(true),
            false => options.read(true).append(true).create(true),
        };
        let mut file = options.open(path).map_err(|error| match error.kind() {
            std::io::ErrorKind::AlreadyExists => JournalError::Exists,
            _ => JournalError::System(error),
        })?;
        if is_archive {
            file.write_all(format!("{}{}", archive::HEAD, archive::TAIL).as_bytes())?;
            return Ok(Journal { file, form: Form::Archive(0) });
        }
        mend(&mut file)?;
        Ok(Journal { file, form: Form::Lines })
    }

    /// Keeps an exchange.
    ///
    /// # Errors
    /// If the system refuses.
    pub fn keep(&mut self, exchange: &Exchange) -> std::io::Result<()> {
        match &mut self.form {
            Form::Lines => self.file.write_all(&(line(exchange) + "\n").into_bytes()),
            Form::Archive(entries) => {
                let between = if *entries == 0 { "" } else { ",\n" };
                let text = format!("{between}{}{}", archive::entry(exchange), archive::TAIL);
                self.file.seek(SeekFrom::End(-(archive::TAIL.len() as i64)))?;
                self.file.write_all(text.as_bytes())?;
                *entries += 1;
                Ok(())
            }
        }
    }
}

/// A message as others may see it: unpacked, and without what proves who sent it.
pub fn without_secrets(message: &HttpMessage) -> HttpMessage {
    let fields = message.headers.iter().map(|(name, value)| (name.to_owned(), secrets::field(name, value)));
    HttpMessage { start: message.start.clone(), headers: fields.collect(), body: secrets::body(message) }
}

/// Ends the last line, if whoever wrote it was cut off.
fn mend(file: &mut File) -> std::io::Result<()> {
    use std::io::Read;
    if file.seek(SeekFrom::End(0))? == 0 {
        return Ok(());
    }
    file.seek(SeekFrom::End(-1))?;
    let mut last = [0];
    file.read_exact(&mut last)?;
    if last != *b"\n" { file.write_all(b"\n") } else { Ok(()) }
}

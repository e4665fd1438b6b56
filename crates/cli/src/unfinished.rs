//! Edits of several files that were cut off: found again by a note that lies beside each of the files, and brought to
//! their end before anything is read.
//!
//! The new texts are on disk before the first note is, and the notes are before the first file is replaced. So as long
//! as a note lies there, what is missing of the edit can be done; once all files are replaced, the notes go.

use std::fs;
use std::io::{self, Write};
use std::path::{Path, PathBuf};

use serde::{Deserialize, Serialize};

use crate::console::Failure;

/// What a note says: which files an edit replaces.
#[derive(Debug, Serialize, Deserialize)]
pub struct Note {
    files: Vec<Entry>,
}

#[derive(Debug, Serialize, Deserialize)]
struct Entry {
    /// The file.
    file: PathBuf,
    /// Its new text, in a file beside it.
    new: PathBuf,
    /// What it held before, as a checksum.
    before: String,
}

impl Note {
    /// The note of an edit: each file with the file that holds its new text, and what it held before.
    pub fn of<'f>(files: impl IntoIterator<Item = (&'f Path, &'f Path, &'f [u8])>) -> Note {
        let entries = files.into_iter().map(|(file, new, before)| Entry {
            file: file.to_owned(),
            new: new.to_owned(),
            before: checksum(before),
        });
        Note { files: entries.collect() }
    }

    /// Lays the note beside each of the files.
    pub fn write(&self) -> io::Result<()> {
        let text = serde_json::to_vec(self)?;
        for entry in &self.files {
            let folder = entry.file.parent().unwrap_or(Path::new("."));
            let mut temporary = tempfile::NamedTempFile::new_in(folder)?;
            temporary.write_all(&text)?;
            temporary.as_file().sync_all()?;
            temporary.persist(beside(&entry.file)).map_err(|error| error.error)?;
        }
        Ok(())
    }

    /// Takes the note away again.
    pub fn remove(&self) {
        for entry in &self.files {
            // A note that stays finds nothing to do.
            let _ = fs::remove_file(beside(&entry.file));
        }
    }

    /// Does what is missing of the edit; whether anything was.
    fn finish(&self) -> Result<bool, Failure> {
        let waiting: Vec<&Entry> = self.files.iter().filter(|entry| entry.new.exists()).collect();
        let changed = waiting
            .iter()
            .find(|entry| fs::read(&entry.file).map(|it| checksum(&it)).ok() != Some(entry.before.clone()));
        if let Some(entry) = changed {
            // Nothing was replaced yet, so the edit has not happened, and what was done since stands.
            if waiting.len() == self.files.len() {
                waiting.iter().for_each(|entry| _ = fs::remove_file(&entry.new));
                self.remove();
                return Ok(false);
            }
            let failure =
                Failure::new("an edit of several files was cut off, and this one has been changed since");
            return Err(failure.at(entry.file.display().to_string()).help(format!(
                "put into it what you need of {}, then remove that and {}",
                entry.new.display(),
                beside(&entry.file).display()
            )));
        }
        for entry in &waiting {
            match fs::rename(&entry.new, &entry.file) {
                // Another run was quicker.
                Err(error) if error.kind() == io::ErrorKind::NotFound => {}
                Err(error) => {
                    let failure = Failure::new(format!("an edit of several files was cut off: {error}"));
                    return Err(failure.at(entry.file.display().to_string()).help(
                        "see that the file and its folder may be written; then it is brought to its end",
                    ));
                }
                Ok(()) => {}
            }
        }
        self.remove();
        Ok(!waiting.is_empty())
    }
}

/// Brings the edit to its end whose note lies beside a file; the files that it is about, if there was anything to do.
pub fn finish(file: &Path) -> Result<Option<Vec<PathBuf>>, Failure> {
    let Ok(file) = fs::canonicalize(file) else { return Ok(None) };
    let Ok(text) = fs::read(beside(&file)) else { return Ok(None) };
    let Ok(note) = serde_json::from_slice::<Note>(&text) else {
        let failure = Failure::new("this is no note of an edit").at(beside(&file).display().to_string());
        return Err(failure.help("remove it"));
    };
    let done = note.finish()?;
    Ok(done.then(|| note.files.into_iter().map(|entry| entry.file).collect()))
}

/// Where the note about a file lies.
fn beside(file: &Path) -> PathBuf {
    let name = file.file_name().unwrap_or_default().to_string_lossy();
    file.with_file_name(format!(".{name}.charter-unfinished"))
}

/// The 64-bit FNV-1a checksum of a text, in hexadecimal digits.
fn checksum(bytes: &[u8]) -> String {
    let mut sum = 0xcbf2_9ce4_8422_2325_u64;
    for byte in bytes {
        sum = (sum ^ u64::from(*byte)).wrapping_mul(0x100_0000_01b3);
    }
    format!("{sum:016x}")
}

//! Edits that are cut off, and what the next edit makes of what they left.
//!
//! A new text lies on disk before the file it replaces is touched, in a file of our own beside it. Where a change needs
//! more than one step, because it is about several files or has to write over one where it stands, a note lies beside
//! each of them from then on, until all is done. So what is missing can be done later, or what was begun be undone.
//!
//! Notes and new texts may also come from elsewhere, in an archive or a checkout. So one is believed only if it proves to be
//! our own: plain names as we make them, in the folders of the files at hand, made by this user, no links, and with the
//! stamps that the system gave the new texts, which no copy can have. What does not prove that is told, and left.

use std::fs;
use std::io;
use std::path::{Path, PathBuf};

use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};

use super::place::{self, Lasting};

/// The ending of notes, and of new texts.
const NOTE: &str = "charter-unfinished";
const NEW: &str = "charter-new";
/// The form of notes that is written and understood.
const VERSION: u32 = 2;
/// A note is longer than this only if it is none.
const LONGEST: u64 = 1 << 20;

/// What a note says: which files a change replaces.
#[derive(Debug, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Note {
    version: u32,
    files: Vec<Replacement>,
}

/// One file of a change.
#[derive(Debug, Clone, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Replacement {
    folder: PathBuf,
    name: String,
    /// The name of the file beside it that holds its new text.
    new: String,
    /// What tells that file from every copy of it.
    stamp: String,
    /// What the file held before and holds afterwards, as checksums; nothing if it was not there.
    before: Option<String>,
    after: String,
    /// The file beside it that holds its old text, where the new one is written over it.
    #[serde(skip_serializing_if = "Option::is_none")]
    old: Option<(String, String)>,
    #[serde(skip, default = "at_once")]
    lasting: Lasting,
}

fn at_once() -> Lasting {
    Lasting::AtOnce
}

/// How far a change has come with a file.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Stage {
    Before,
    Midway,
    After,
    /// Somebody else has changed the file.
    Other,
}

impl Replacement {
    /// Lays the new text of a file on disk, beside it. `before` is what it holds now, if it is there.
    pub fn prepare(
        path: &Path,
        before: Option<&[u8]>,
        after: &[u8],
        lasting: Lasting,
    ) -> io::Result<Replacement> {
        let name = path.file_name().and_then(|name| name.to_str()).ok_or(io::ErrorKind::InvalidFilename)?;
        let folder = place::folder_of(path);
        let new = own_name(name, NEW);
        let like = before.is_some().then_some(path);
        let over = before.is_some() && !place::replaceable(path)?;
        place::fresh(&folder.join(&new), after, if over { None } else { like }, lasting)?;
        let mut entry = Replacement {
            folder: folder.to_owned(),
            name: name.to_owned(),
            stamp: place::stamp(&fs::symlink_metadata(folder.join(&new))?),
            new,
            before: before.map(checksum),
            after: checksum(after),
            old: None,
            lasting,
        };
        if let (true, Some(before)) = (over, before) {
            let old = own_name(name, NEW);
            let laid = place::fresh(&folder.join(&old), before, None, Lasting::AtOnce);
            let stamped = laid.and_then(|()| fs::symlink_metadata(folder.join(&old)));
            entry.old = Some((old, place::stamp(&stamped.inspect_err(|_| entry.clear())?)));
        }
        Ok(entry)
    }

    /// The file.
    pub fn path(&self) -> PathBuf {
        self.folder.join(&self.name)
    }

    /// Whether it takes more than one step to give the file its new text.
    pub fn takes_steps(&self) -> bool {
        self.old.is_some()
    }

    /// Gives the file its new text.
    pub fn apply(&self) -> io::Result<()> {
        let (new, path) = (self.folder.join(&self.new), self.path());
        match (&self.old, &self.before) {
            (Some(_), _) => place::overwrite(&path, &fs::read(new)?)?,
            (None, Some(_)) => fs::rename(new, path)?,
            // In one step, and not if somebody else was quicker.
            (None, None) => place::rename_new(new, &path)?,
        }
        if self.lasting == Lasting::AtOnce {
            place::sync(&self.folder);
        }
        Ok(())
    }

    /// Lays a note beside the file: whole, and only if none lies there.
    fn lay_note(&self, text: &[u8]) -> io::Result<()> {
        let laid = self.folder.join(own_name(&self.name, NEW));
        place::fresh(&laid, text, None, Lasting::AtOnce)?;
        place::rename_new(laid, &beside(&self.path()))
    }

    /// Takes away what was laid beside the file.
    pub fn clear(&self) {
        let _ = fs::remove_file(self.folder.join(&self.new));
        if let Some((old, _)) = &self.old {
            let _ = fs::remove_file(self.folder.join(old));
        }
    }

    fn stage(&self) -> io::Result<Stage> {
        let found = match fs::read(self.path()) {
            Ok(bytes) => bytes,
            Err(error) if error.kind() == io::ErrorKind::NotFound && self.before.is_none() => {
                return Ok(Stage::Before);
            }
            Err(error) => return Err(error),
        };
        let sum = checksum(&found);
        if sum == self.after {
            return Ok(Stage::After);
        }
        if Some(sum) == self.before {
            return Ok(Stage::Before);
        }
        let Some((old, _)) = &self.old else { return Ok(Stage::Other) };
        let (old, new) = (fs::read(self.folder.join(old))?, fs::read(self.folder.join(&self.new))?);
        // Written over from the start, but not to the end.
        let same = found.iter().zip(&new).take_while(|(a, b)| a == b).count();
        let midway = found.get(same..) == old.get(same..) || found.get(new.len()..) == old.get(new.len()..);
        Ok(if same > 0 && midway { Stage::Midway } else { Stage::Other })
    }

    /// Whether the entry can only be our own.
    fn is_proven(&self, note: &Path, folders: &[PathBuf]) -> bool {
        let stamped = |name: &str, stamp: &str| {
            is_own_name(&self.name, name, NEW)
                && match fs::symlink_metadata(self.folder.join(name)) {
                    Ok(facts) => place::is_own(&facts) && place::stamp(&facts) == stamp,
                    // It has taken the place of the file, or was cleared away.
                    Err(error) => error.kind() == io::ErrorKind::NotFound,
                }
        };
        let named = self.folder.join(&self.name).file_name() == Some(self.name.as_ref());
        let regular = match fs::symlink_metadata(self.path()) {
            Ok(facts) => facts.is_file(),
            Err(_) => self.before.is_none(),
        };
        let here = folders.contains(&self.folder) && note.parent().is_some();
        let old = self.old.as_ref().is_none_or(|(name, stamp)| stamped(name, stamp));
        named && here && regular && stamped(&self.new, &self.stamp) && old
    }

    fn waits(&self) -> bool {
        fs::symlink_metadata(self.folder.join(&self.new)).is_ok()
    }
}

impl Note {
    /// The note of a change.
    pub fn of(files: &[Replacement]) -> Note {
        Note { version: VERSION, files: files.to_vec() }
    }

    /// Lays the note beside each of the files: all, or none.
    pub fn write(&self) -> io::Result<()> {
        let text = serde_json::to_vec(self)?;
        for (written, entry) in self.files.iter().enumerate() {
            if let Err(error) = entry.lay_note(&text) {
                // What lies in the way is somebody else's.
                self.files[..written].iter().for_each(|entry| _ = fs::remove_file(beside(&entry.path())));
                return Err(match error.kind() {
                    io::ErrorKind::AlreadyExists => {
                        io::Error::other(format!("{} is in the way", beside(&entry.path()).display()))
                    }
                    _ => error,
                });
            }
        }
        for entry in &self.files {
            place::sync(&entry.folder);
        }
        Ok(())
    }

    /// Takes the note away again.
    pub fn remove(&self) {
        for entry in &self.files {
            // A note that stays finds nothing to do.
            let _ = fs::remove_file(beside(&entry.path()));
        }
    }

    fn clear(&self) {
        self.files.iter().for_each(Replacement::clear);
        self.remove();
    }

    /// Reads a note, if it can only be our own.
    fn proven(at: &Path, folders: &[PathBuf]) -> Option<Note> {
        let facts = fs::symlink_metadata(at).ok()?;
        if !place::is_own(&facts) || facts.len() > LONGEST {
            return None;
        }
        let note: Note = serde_json::from_slice(&fs::read(at).ok()?).ok()?;
        let about = note.files.iter().any(|entry| beside(&entry.path()) == at);
        let proven = note.version == VERSION && note.files.iter().all(|entry| entry.is_proven(at, folders));
        (about && proven).then_some(note)
    }
}

/// What was found to have been cut off.
#[derive(Debug)]
pub enum Found {
    /// A change that is done now.
    Finished(Vec<PathBuf>),
    /// A change that has not happened.
    Undone(Vec<PathBuf>),
    /// A change that can neither be finished nor undone: the file that was changed since, and the one with its new text.
    Stuck(PathBuf, PathBuf),
    /// Something that looks like ours, and does not prove to be.
    Foreign(PathBuf),
}

/// Finishes or undoes what edits that were cut off have left beside files, which all lie in `folders`. Nobody else may be
/// writing there meanwhile.
pub fn settle(files: &[PathBuf], folders: &[PathBuf]) -> io::Result<Vec<Found>> {
    let mut found = Vec::new();
    for file in files {
        let at = beside(file);
        if fs::symlink_metadata(&at).is_err() {
            continue;
        }
        match Note::proven(&at, folders) {
            Some(note) => found.extend(brought_to_an_end(&note)?),
            None => found.push(Found::Foreign(at)),
        }
    }
    // New texts without a note: the edit was cut off before it began.
    let held: Vec<PathBuf> = files.iter().map(|file| beside(file)).filter(|at| at.exists()).collect();
    if held.is_empty() {
        for folder in folders {
            clear_texts(folder, files);
        }
    }
    Ok(found)
}

fn brought_to_an_end(note: &Note) -> io::Result<Option<Found>> {
    let stages = note.files.iter().map(Replacement::stage).collect::<io::Result<Vec<_>>>()?;
    let paths = || note.files.iter().map(Replacement::path).collect();
    let begun = stages.iter().any(|stage| matches!(stage, Stage::Midway | Stage::After));
    let open = |(entry, stage): &(&Replacement, &Stage)| **stage != Stage::After && entry.waits();
    let rest: Vec<(&Replacement, &Stage)> = note.files.iter().zip(&stages).filter(open).collect();
    if let Some((entry, _)) = rest.iter().find(|(_, stage)| **stage == Stage::Other) {
        if begun {
            return Ok(Some(Found::Stuck(entry.path(), entry.folder.join(&entry.new))));
        }
        note.clear();
        return Ok(Some(Found::Undone(paths())));
    }
    for (entry, _) in &rest {
        entry.apply()?;
    }
    note.clear();
    Ok((!rest.is_empty()).then(|| Found::Finished(paths())))
}

/// Removes new texts of these files that no note speaks of.
fn clear_texts(folder: &Path, files: &[PathBuf]) {
    let names: Vec<&str> = files
        .iter()
        .filter(|file| file.parent() == Some(folder))
        .filter_map(|file| file.file_name()?.to_str())
        .collect();
    for entry in fs::read_dir(folder).into_iter().flatten().flatten() {
        let name = entry.file_name();
        let Some(name) = name.to_str().filter(|name| name.ends_with(NEW)) else { continue };
        let ours = names.iter().any(|file| is_own_name(file, name, NEW));
        if ours && fs::symlink_metadata(entry.path()).is_ok_and(|facts| place::is_own(&facts)) {
            let _ = fs::remove_file(entry.path());
        }
    }
}

/// Whether an edit of a file has begun and not ended.
pub fn is_open(file: &Path) -> bool {
    beside(&real(file)).symlink_metadata().is_ok()
}

/// How long ago the note beside a file was laid there.
pub fn age(file: &Path) -> Option<std::time::Duration> {
    beside(&real(file)).symlink_metadata().ok()?.modified().ok()?.elapsed().ok()
}

/// Where a file lies, for one that is only read.
fn real(file: &Path) -> PathBuf {
    if file.is_symlink() {
        place::resolved(file).unwrap_or_else(|_| file.to_owned())
    } else {
        file.to_owned()
    }
}

/// Where the note about a file lies.
pub fn beside(file: &Path) -> PathBuf {
    let mut name = std::ffi::OsString::from(".");
    name.push(file.file_name().unwrap_or_default());
    name.push(".");
    name.push(NOTE);
    file.with_file_name(name)
}

/// A name for a file of ours beside another.
fn own_name(file: &str, ending: &str) -> String {
    format!(".{file}.{:016x}.{ending}", uuid::Uuid::new_v4().as_u64_pair().0)
}

/// Whether we could have made that name.
fn is_own_name(file: &str, name: &str, ending: &str) -> bool {
    let middle = name.strip_prefix('.').and_then(|rest| rest.strip_prefix(file)?.strip_prefix('.'));
    let middle = middle.and_then(|rest| rest.strip_suffix(ending)?.strip_suffix('.'));
    middle
        .is_some_and(|id| id.len() == 16 && id.bytes().all(|byte| matches!(byte, b'0'..=b'9' | b'a'..=b'f')))
}

/// The SHA-256 checksum of a text, in hexadecimal digits.
fn checksum(bytes: &[u8]) -> String {
    Sha256::digest(bytes).iter().map(|byte| format!("{byte:02x}")).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_of_our_own_making_are_told_from_others() {
        let name = own_name("tides.wsdl", NEW);
        assert!(is_own_name("tides.wsdl", &name, NEW), "{name}");
        for other in [
            ".tides.wsdl.charter-new",
            ".tides.wsdl.0123456789abcdeg.charter-new",
            ".tides.wsdl.0123456789abcde.charter-new",
            "tides.wsdl.0123456789abcdef.charter-new",
            ".desk.wsdl.0123456789abcdef.charter-new",
            "../.tides.wsdl.0123456789abcdef.charter-new",
        ] {
            assert!(!is_own_name("tides.wsdl", other, NEW), "{other}");
        }
    }
}

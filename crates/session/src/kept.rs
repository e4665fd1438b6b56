//! A contract that is kept while its files change: by whoever serves for hours.

use std::path::{Path, PathBuf};

use charter_source::{Location, Map, ReadError, Store};

use crate::loaded::contract_of;
use crate::session::unread;
use crate::{Failure, Loaded, Session, settings};

/// What has happened to a file.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum FileEvent {
    /// It was written, made or removed on disk.
    Saved(PathBuf),
    /// Somebody is writing it, and this is what it holds in their editor.
    Typed(PathBuf, String),
    /// Nobody is writing it any more: what is on disk holds.
    Closed(PathBuf),
}

impl FileEvent {
    fn path(&self) -> &Path {
        match self {
            FileEvent::Saved(path) | FileEvent::Typed(path, _) | FileEvent::Closed(path) => path,
        }
    }
}

/// A contract that is kept, and loaded anew when one of its files is another.
///
/// ```
/// use charter_session::{FileEvent, Kept, Options, Session};
///
/// # let folder = tempfile::tempdir().unwrap();
/// # let file = folder.path().join("depth.xsd");
/// # std::fs::write(&file, "<schema xmlns='http://www.w3.org/2001/XMLSchema'/>").unwrap();
/// let session = Session::begin(&Options::default())?;
/// let mut kept = Kept::open(&session, &file)?;
/// let text = "<schema xmlns='http://www.w3.org/2001/XMLSchema'><element name='depth'/></schema>";
/// assert!(kept.tell(FileEvent::Typed(file.clone(), text.to_owned()))?);
/// assert_eq!(kept.loaded().contract().schemas.elements.iter().count(), 1);
/// // Nobody has saved it.
/// assert!(kept.tell(FileEvent::Closed(file))?);
/// assert_eq!(kept.loaded().contract().schemas.elements.iter().count(), 0);
/// # Ok::<(), charter_session::Failure>(())
/// ```
pub struct Kept<'s> {
    session: &'s Session,
    file: PathBuf,
    typed: Map<PathBuf, String>,
    loaded: Loaded,
}

impl<'s> Kept<'s> {
    /// Loads a contract or a schema to keep it.
    ///
    /// # Errors
    /// If the file cannot be read at all, or what is settled for it makes no sense.
    pub fn open(session: &'s Session, file: &Path) -> Result<Kept<'s>, Failure> {
        let typed = Map::default();
        let loaded = load(session, file, &typed)?;
        Ok(Kept { session, file: file.to_owned(), typed, loaded })
    }

    /// The contract as it is now.
    pub fn loaded(&self) -> &Loaded {
        &self.loaded
    }

    /// Tells of a change; whether the contract was loaded anew for it. One that cannot be loaded leaves what was there.
    ///
    /// # Errors
    /// If the contract can no longer be read, or what is settled for it no longer makes sense.
    pub fn tell(&mut self, event: FileEvent) -> Result<bool, Failure> {
        let concerned = self.is_concerned(event.path());
        let path = known_path(event.path());
        match event {
            FileEvent::Typed(_, text) => _ = self.typed.insert(path, text),
            FileEvent::Closed(_) => _ = self.typed.remove(&path),
            FileEvent::Saved(_) if self.typed.contains_key(&path) => return Ok(false),
            FileEvent::Saved(_) => {}
        }
        if concerned {
            self.loaded = load(self.session, &self.file, &self.typed)?;
        }
        Ok(concerned)
    }

    /// Whether a file is one of the contract's, one that it misses, or settles something for it.
    fn is_concerned(&self, path: &Path) -> bool {
        if path.file_name().is_some_and(|name| name == settings::NAME) {
            return true;
        }
        let path = known_path(path);
        self.loaded.sources().iter().any(|known| known_path(known) == path)
    }
}

/// A path by which a file is known, whatever is in front of it.
fn known_path(path: &Path) -> PathBuf {
    std::fs::canonicalize(path).or_else(|_| std::path::absolute(path)).unwrap_or_else(|_| path.to_owned())
}

fn load(session: &Session, file: &Path, typed: &Map<PathBuf, String>) -> Result<Loaded, Failure> {
    let settings = session.settings(&file.to_string_lossy())?;
    let location = Location::Path(file.to_owned());
    let store = Typed { texts: typed, below: &session.store };
    let files = session.at_one_time(&store, &location).map_err(|error| unread(&location, &error))?;
    Ok(Loaded::of(contract_of(files, &settings), settings))
}

/// What somebody is writing, over what is on disk.
struct Typed<'t> {
    texts: &'t Map<PathBuf, String>,
    below: &'t dyn Store,
}

impl Store for Typed<'_> {
    fn read(&self, location: &Location, limit: u64) -> Result<Vec<u8>, ReadError> {
        let typed = location.path().and_then(|path| self.texts.get(&known_path(path)));
        match typed {
            Some(text) if text.len() as u64 > limit => Err(ReadError::TooLarge { limit }),
            Some(text) => Ok(text.clone().into_bytes()),
            None => self.below.read(location, limit),
        }
    }

    fn below(&self) -> Option<&dyn Store> {
        Some(self.below)
    }
}

//! Where bytes come from.

use std::borrow::Cow;
use std::fs;

use crate::open::read_file;
use crate::{Encoded, Limits, Location, Map, ReadError, Text, Wanted};

/// A source of bytes: the disk, a set of edited texts, a revision.
pub trait Store {
    /// The bytes at a location.
    ///
    /// # Errors
    /// If there is nothing to read there, or more than `limit` bytes.
    fn read(&self, location: &Location, limit: u64) -> Result<Vec<u8>, ReadError>;

    /// The text at a location.
    ///
    /// # Errors
    /// If there is nothing to read there, or more than `limit` bytes.
    fn text(&self, location: &Location, limit: u64) -> Result<Text, ReadError> {
        self.read(location, limit).map(Text::decode)
    }

    /// The store that this one is laid over: what this one does not say for itself, that one says.
    fn below(&self) -> Option<&dyn Store> {
        None
    }

    /// A form of the location that is the same for every way to write it.
    fn identity(&self, location: &Location) -> Location {
        self.below().map_or_else(|| location.clone(), |below| below.identity(location))
    }

    /// How much is read from here at most.
    fn limits(&self) -> Limits {
        self.below().map_or_else(Limits::default, |below| below.limits())
    }

    /// Where to read what a reference names, should that be elsewhere than it says.
    fn redirect(&self, wanted: &Wanted<'_>) -> Option<Location> {
        self.below().and_then(|below| below.redirect(wanted))
    }
}

impl<S: Store + ?Sized> Store for &S {
    fn read(&self, location: &Location, limit: u64) -> Result<Vec<u8>, ReadError> {
        (**self).read(location, limit)
    }

    fn text(&self, location: &Location, limit: u64) -> Result<Text, ReadError> {
        (**self).text(location, limit)
    }

    fn identity(&self, location: &Location) -> Location {
        (**self).identity(location)
    }

    fn limits(&self) -> Limits {
        (**self).limits()
    }

    fn redirect(&self, wanted: &Wanted<'_>) -> Option<Location> {
        (**self).redirect(wanted)
    }
}

/// Files on disk.
#[derive(Debug, Clone, Copy, Default)]
pub struct Disk;

impl Store for Disk {
    fn read(&self, location: &Location, limit: u64) -> Result<Vec<u8>, ReadError> {
        match location {
            Location::Path(path) => read_file(path, limit),
            Location::Remote(_) => Err(ReadError::Remote),
            Location::Standard | Location::Known(_) | Location::Revision { .. } => Err(ReadError::Missing),
        }
    }

    fn identity(&self, location: &Location) -> Location {
        match location {
            Location::Path(path) => Location::Path(fs::canonicalize(path).unwrap_or_else(|_| path.clone())),
            other => other.clone(),
        }
    }
}

/// A store that holds nothing, to lay texts in memory over.
#[derive(Debug, Clone, Copy, Default)]
pub struct Nowhere;

impl Store for Nowhere {
    fn read(&self, location: &Location, _: u64) -> Result<Vec<u8>, ReadError> {
        Err(if matches!(location, Location::Remote(_)) { ReadError::Remote } else { ReadError::Missing })
    }
}

/// Texts in memory, laid over another store: an edit is read back through one before it is written.
#[derive(Debug)]
pub struct Overlay<S> {
    texts: Map<Location, Laid>,
    below: S,
}

/// What is laid over another store.
#[derive(Debug)]
enum Laid {
    Bytes(Vec<u8>),
    Text(Encoded),
}

impl Laid {
    fn bytes(&self) -> Cow<'_, [u8]> {
        match self {
            Laid::Bytes(bytes) => Cow::Borrowed(bytes),
            Laid::Text(text) => text.bytes(),
        }
    }
}

impl Overlay<Nowhere> {
    /// Texts by their paths, and nothing else.
    ///
    /// ```
    /// use charter_source::{Files, Limits, Location, Overlay};
    ///
    /// let store = Overlay::of(&[("port/tides.xml", "<tides/>")]);
    /// let files = Files::load(&store, &Location::from_argument("port/tides.xml"), Limits::default())?;
    /// assert!(files.first().has_root("", "tides"));
    /// # Ok::<(), charter_source::ReadError>(())
    /// ```
    pub fn of(texts: &[(&str, &str)]) -> Self {
        let mut store = Overlay::new(Nowhere);
        for (path, text) in texts {
            store.put(&Location::Path(path.into()), text.as_bytes().to_vec());
        }
        store
    }
}

impl<S: Store> Overlay<S> {
    /// Nothing yet, over `below`.
    pub fn new(below: S) -> Self {
        Overlay { texts: Map::default(), below }
    }

    /// Puts a text in front of what `below` has at the location.
    pub fn put(&mut self, location: &Location, bytes: Vec<u8>) {
        self.texts.insert(self.below.identity(location), Laid::Bytes(bytes));
    }

    /// The same with a text, which whoever reads it shares.
    pub fn put_text(&mut self, location: &Location, text: Encoded) {
        self.texts.insert(self.below.identity(location), Laid::Text(text));
    }

    /// What is laid there, if it is no more than `limit` bytes.
    fn laid(&self, location: &Location, limit: u64) -> Option<Result<&Laid, ReadError>> {
        let laid = self.texts.get(&self.below.identity(location))?;
        let fits = laid.bytes().len() as u64 <= limit;
        Some(if fits { Ok(laid) } else { Err(ReadError::TooLarge { limit }) })
    }
}

impl<S: Store> Store for Overlay<S> {
    fn read(&self, location: &Location, limit: u64) -> Result<Vec<u8>, ReadError> {
        match self.laid(location, limit) {
            Some(laid) => laid.map(|laid| laid.bytes().into_owned()),
            None => self.below.read(location, limit),
        }
    }

    fn text(&self, location: &Location, limit: u64) -> Result<Text, ReadError> {
        match self.laid(location, limit) {
            Some(laid) => laid.map(|laid| match laid {
                Laid::Bytes(bytes) => Text::decode(bytes.clone()),
                Laid::Text(text) => Text::of(text),
            }),
            None => self.below.text(location, limit),
        }
    }

    fn below(&self) -> Option<&dyn Store> {
        Some(&self.below)
    }
}

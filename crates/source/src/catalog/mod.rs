//! OASIS XML Catalogs 1.1: where to read what a contract names by its address on the network.
//!
//! A [`Catalogs`] is read once, with every catalog that it leads to; [`Catalogued`] lays it over a store. What an
//! entry means is in `read`, which entry applies to a reference in `search`.

mod identifier;
mod read;
mod search;

use crate::{Location, Position, ReadError, Store, Wanted};

/// The namespace of catalogs (XML Catalogs 1.1, section 6.5).
const NAMESPACE: &str = "urn:oasis:names:tc:entity:xmlns:xml:catalog";

/// Catalogs, in the order in which they are asked.
#[derive(Debug, Clone, Default)]
pub struct Catalogs {
    /// Each catalog file once; others refer to it by its index.
    files: Vec<CatalogFile>,
    /// Those that were asked for.
    start: Vec<usize>,
}

/// The entries of one catalog file, by kind and in the order of the text.
#[derive(Debug, Clone, Default)]
struct CatalogFile {
    system: Matchers,
    uri: Matchers,
    public: Vec<PublicEntry>,
    delegate_public: Vec<(String, usize, Prefer)>,
    next: Vec<usize>,
}

/// The entries that tell one resource by an address.
#[derive(Debug, Clone, Default)]
struct Matchers {
    exact: Vec<(String, Location)>,
    /// Beginnings, each with the base and the text that take its place.
    rewrite: Vec<(String, Location, String)>,
    suffix: Vec<(String, Location)>,
    delegate: Vec<(String, usize)>,
}

/// A `public` entry.
#[derive(Debug, Clone)]
struct PublicEntry {
    id: String,
    location: Location,
    prefer: Prefer,
}

/// Whether public identifiers count where there is an address too (section 4.1.1).
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Prefer {
    Public,
    System,
}

/// Why catalogs cannot be used.
#[derive(Debug, thiserror::Error)]
pub enum CatalogError {
    /// A catalog cannot be read.
    #[error("the catalog cannot be read: {error}")]
    Read {
        /// The catalog.
        location: Location,
        /// Why.
        error: ReadError,
    },
    /// A catalog is no catalog, or one of its entries says too little.
    #[error("{message}")]
    Content {
        /// The catalog.
        location: Location,
        /// Where in it.
        position: Position,
        /// What is wrong, in one line.
        message: String,
        /// What to do about it, in one line.
        help: String,
    },
}

impl Catalogs {
    /// Reads the catalogs at `locations`, and those that they lead to, each once.
    ///
    /// # Errors
    /// If one of them cannot be read, is no catalog, or has an entry without what its kind asks for.
    pub fn load(store: &dyn Store, locations: &[Location]) -> Result<Catalogs, CatalogError> {
        read::load(store, locations)
    }

    /// Where to read what a reference names, should a catalog know (sections 7.1 and 7.2).
    ///
    /// The address is looked for among the `uri` entries and their kin, then among the `system` entries, then the
    /// namespace among the `public` ones, then the namespace among the `uri` ones.
    ///
    /// ```
    /// use charter_source::{Catalogs, Location, Overlay, Wanted};
    ///
    /// let text = r#"<catalog xmlns="urn:oasis:names:tc:entity:xmlns:xml:catalog">
    ///   <rewriteURI uriStartString="http://saltmere.example/schemas/" rewritePrefix="local/"/>
    /// </catalog>"#;
    /// let store = Overlay::of(&[("port/catalog.xml", text)]);
    /// let catalogs = Catalogs::load(&store, &[Location::from_argument("port/catalog.xml")])?;
    /// let wanted = Wanted { reference: Some("http://saltmere.example/schemas/tide.xsd"), ..Wanted::default() };
    /// assert_eq!(catalogs.find(&wanted).unwrap().to_string(), "port/local/tide.xsd");
    /// # Ok::<(), charter_source::CatalogError>(())
    /// ```
    pub fn find(&self, wanted: &Wanted<'_>) -> Option<Location> {
        search::find(self, wanted)
    }

    /// Whether no catalog was asked for.
    pub fn is_empty(&self) -> bool {
        self.start.is_empty()
    }
}

/// A store, with catalogs that say where to look in it.
#[derive(Debug, Clone, Default)]
pub struct Catalogued<S> {
    catalogs: Catalogs,
    below: S,
}

impl<S: Store> Catalogued<S> {
    /// `below`, as `catalogs` lead to it.
    pub fn new(catalogs: Catalogs, below: S) -> Self {
        Catalogued { catalogs, below }
    }
}

impl<S: Store> Store for Catalogued<S> {
    fn read(&self, location: &Location, limit: u64) -> Result<Vec<u8>, ReadError> {
        self.below.read(location, limit)
    }

    fn below(&self) -> Option<&dyn Store> {
        Some(&self.below)
    }

    fn redirect(&self, wanted: &Wanted<'_>) -> Option<Location> {
        if self.catalogs.is_empty() { None } else { self.catalogs.find(wanted) }
    }
}

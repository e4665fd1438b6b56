//! A contract that is loaded, with everything that works on it.

use std::path::{Path, PathBuf};
use std::sync::Arc;

use charter_contract::Contract;
use charter_schema::Engine;
use charter_source::Files;
use self_cell::self_cell;

use crate::settings::{self, Settings};

self_cell!(
    /// A contract, and the engine that borrows it.
    struct Whole {
        owner: Contract,
        #[covariant]
        dependent: Engine,
    }
);

/// A contract that owns its files, its schemas and the engine that works on them, with what is settled for it. It may be kept
/// and handed on; when it is dropped, all of it goes.
///
/// ```
/// use charter_session::{Options, Session};
///
/// # let folder = tempfile::tempdir().unwrap();
/// # let file = folder.path().join("depth.xsd");
/// # std::fs::write(&file, r#"<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema"><xs:element name="depth" type="xs:decimal"/></xs:schema>"#).unwrap();
/// # let file = file.to_str().unwrap();
/// let loaded = Session::begin(&Options::default())?.open(file)?;
/// let (id, _) = loaded.contract().schemas.elements.iter().next().unwrap();
/// let datatype = loaded.engine().datatype(loaded.contract().schemas.element_type(id)).unwrap();
/// assert_eq!(datatype.builtin().unwrap().name(), "decimal");
/// # Ok::<(), charter_session::Failure>(())
/// ```
pub struct Loaded {
    whole: Whole,
    settings: Arc<Settings>,
}

/// The contract in files, whose samples say what is settled.
pub(crate) fn contract_of(files: Files, settings: &Settings) -> Contract {
    let mut contract = Contract::read(files);
    contract.schemas.vocabulary = Arc::clone(&settings.values);
    contract
}

impl Loaded {
    /// What was read, with an engine of its own.
    pub fn of(contract: Contract, settings: Arc<Settings>) -> Loaded {
        let whole = Whole::new(contract, |contract| Engine::new(&contract.files, &contract.schemas));
        Loaded { whole, settings }
    }

    /// The contract.
    pub fn contract(&self) -> &Contract {
        self.whole.borrow_owner()
    }

    /// What is settled for it.
    pub fn settings(&self) -> &Settings {
        &self.settings
    }

    /// The engine that works on it.
    pub fn engine(&self) -> &Engine<'_> {
        self.whole.borrow_dependent()
    }

    /// The files on disk that it comes from, and those that it misses: when one of them changes, or the `charter.toml` among
    /// them, another contract would be loaded.
    pub fn sources(&self) -> Vec<PathBuf> {
        let contract = self.contract();
        let read = contract.files.iter().filter_map(|file| file.location.path().map(Path::to_owned));
        let missed = contract.files.imports().iter().filter(|import| import.target.is_none());
        let missed = missed.filter_map(|import| {
            let from = contract.files.get(import.place.file);
            from.location.join(import.location.as_deref()?).path().map(Path::to_owned)
        });
        let beside = contract.files.first().location.path().and_then(Path::parent);
        let settings = self.settings.folder.as_deref().or(beside).map(|folder| folder.join(settings::NAME));
        read.chain(missed).chain(settings).collect()
    }
}

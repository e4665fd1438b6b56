//! What everything that is loaded has in common, and loading itself.

use std::cell::RefCell;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::time::Duration;

use charter_contract::{Component, Contract, DocumentKind, PathError};
use charter_source::{
    CatalogError, Catalogs, Catalogued, Fault, Files, Limits, Location, Overlay, ReadError, Store,
};

use crate::files::{self, Writers};
use crate::loaded::contract_of;
use crate::network::Web;
use crate::settings::{self, Settings};
use crate::{Failure, Loaded, Notice, Spot, notation_file, read};

/// How often files are read anew that change while they are read, and how long to wait each time.
const TRIES: usize = 100;
const NAP: Duration = Duration::from_millis(30);
/// A note of an edit that is older than this was left by one that was cut off.
const UNDERWAY: Duration = Duration::from_secs(2);

/// What a session begins with.
#[derive(Debug, Clone, Default)]
pub struct Options {
    /// Files of XML Catalogs, which lead imports to files at hand.
    pub catalogs: Vec<PathBuf>,
    /// Whether imports may be read from the network.
    pub online: bool,
    /// How many megabytes a file may have; otherwise what [`Limits`] says.
    pub size_limit: Option<u32>,
}

/// What everything that is loaded has in common: where files are read from, and where may be written. It lives as long as the
/// command, or as long as the server.
///
/// ```
/// use charter_session::{Options, Session};
///
/// let session = Session::begin(&Options::default())?;
/// let failure = session.contract("nowhere.wsdl").err().unwrap();
/// assert_eq!(failure.message, "there is no such file");
/// # Ok::<(), charter_session::Failure>(())
/// ```
pub struct Session {
    /// Where files are read from.
    pub store: Catalogued<Web>,
    /// Where this session may write.
    pub writers: Writers,
    /// Who hears of notices.
    heard_by: Option<fn(&Notice)>,
}

impl Session {
    /// Reads the catalogs that the options name.
    ///
    /// # Errors
    /// If one of them cannot be used.
    pub fn begin(options: &Options) -> Result<Session, Failure> {
        let locations: Vec<Location> = options.catalogs.iter().cloned().map(Location::Path).collect();
        let mut limits = Limits::default();
        if let Some(megabytes) = options.size_limit {
            limits.bytes = u64::from(megabytes) << 20;
        }
        let web = Web::new(options.online, limits);
        let catalogs = Catalogs::load(&web, &locations).map_err(|error| of_catalog(&error))?;
        Ok(Session { store: Catalogued::new(catalogs, web), writers: Writers::default(), heard_by: None })
    }

    /// The same session, whose notices somebody hears.
    pub fn heard_by(self, listener: fn(&Notice)) -> Session {
        Session { heard_by: Some(listener), ..self }
    }

    /// How much is read at most.
    pub fn limits(&self) -> Limits {
        self.store.limits()
    }

    /// What is settled for a file by the nearest `charter.toml`.
    ///
    /// # Errors
    /// The first thing in it that makes no sense.
    pub fn settings(&self, file: &str) -> Result<Arc<Settings>, Failure> {
        settings::holding_for(file)
    }

    /// A text of notation that an argument names; `-` is standard input.
    ///
    /// # Errors
    /// If it cannot be read.
    pub fn notation(&self, argument: &str) -> Result<String, Failure> {
        read::text(argument, self.limits()).map_err(|error| {
            let failure = Failure::new(format!("the notation cannot be read: {error}")).at(argument);
            failure.help(read::advice(&error, "give a text file in UTF-8, or - for standard input"))
        })
    }

    /// A file, with all that it imports.
    ///
    /// # Errors
    /// If the file itself cannot be read at all.
    pub fn files(&self, argument: &str) -> Result<Files, Failure> {
        if notation_file::is_notation(argument) && Path::new(argument).exists() {
            let failure = Failure::new("this is notation; a contract is wanted").at(argument);
            return Err(
                failure.help(format!("write the contract: charter new --from {argument} -o CONTRACT.wsdl"))
            );
        }
        self.files_at(&Location::from_argument(argument))
    }

    /// The same for a file wherever it is: on disk, or in a revision.
    ///
    /// # Errors
    /// If the file itself cannot be read at all.
    pub fn files_at(&self, location: &Location) -> Result<Files, Failure> {
        let loaded = match location {
            Location::Standard => {
                let mut store = Overlay::new(&self.store);
                read::bytes("-", self.limits()).and_then(|bytes| {
                    store.put(location, bytes);
                    Files::load(&store, location, self.limits())
                })
            }
            _ => self.at_one_time(&self.store, location),
        };
        loaded.map_err(|error| unread(location, &error))
    }

    /// Loads files as they were at one time: while an edit is replacing them, some could be old and some new.
    pub(crate) fn at_one_time(&self, store: &dyn Store, location: &Location) -> Result<Files, ReadError> {
        let watched = Watched { below: store, seen: RefCell::default() };
        for _ in 0..TRIES {
            let loaded = Files::load(&watched, location, self.limits());
            let seen = watched.seen.take();
            let changed = |(path, stamp): &(PathBuf, Option<String>)| {
                files::stamp(path) != *stamp || files::age(path).is_some_and(|age| age < UNDERWAY)
            };
            if !seen.iter().any(changed) {
                for (path, _) in seen.into_iter().filter(|(path, _)| files::is_open(path)) {
                    self.tell(&Notice::CutOff(path));
                }
                return loaded;
            }
            std::thread::sleep(NAP);
        }
        Err(ReadError::System(std::io::Error::other("it keeps changing while it is read")))
    }

    pub(crate) fn tell(&self, notice: &Notice) {
        if let Some(listener) = self.heard_by {
            listener(notice);
        }
    }

    /// A contract or a schema, or anything else that is XML.
    ///
    /// # Errors
    /// If the file cannot be read at all.
    pub fn load(&self, argument: &str) -> Result<Contract, Failure> {
        Ok(contract_of(self.files(argument)?, &*self.settings(argument)?))
    }

    /// The same for a file wherever it is; for one of a revision holds what is settled for the current folder.
    ///
    /// # Errors
    /// If the file cannot be read at all.
    pub fn load_at(&self, location: &Location) -> Result<Contract, Failure> {
        let settings = match location {
            Location::Path(path) => self.settings(&path.display().to_string()),
            _ => self.settings("."),
        };
        Ok(contract_of(self.files_at(location)?, &*settings?))
    }

    /// A WSDL contract.
    ///
    /// # Errors
    /// If the file cannot be read, or is anything else.
    pub fn contract(&self, argument: &str) -> Result<Contract, Failure> {
        let contract = self.load(argument)?;
        is_contract(&contract)?;
        Ok(contract)
    }

    /// A contract, or a schema by itself.
    ///
    /// # Errors
    /// If the file cannot be read, or is anything else.
    pub fn readable(&self, argument: &str) -> Result<Contract, Failure> {
        let contract = self.load(argument)?;
        match contract.kind() {
            DocumentKind::Contract | DocumentKind::Schema => Ok(contract),
            DocumentKind::Unreadable | DocumentKind::Other(_) => Err(unusable(&contract)),
        }
    }

    /// The same with the engine that works on it.
    ///
    /// # Errors
    /// As [`Session::readable`], and if what is settled for the file makes no sense.
    pub fn open(&self, argument: &str) -> Result<Loaded, Failure> {
        Ok(Loaded::of(self.readable(argument)?, self.settings(argument)?))
    }
}

/// A store that remembers as what each file was found when it was read.
struct Watched<'s> {
    below: &'s dyn Store,
    seen: RefCell<Vec<(PathBuf, Option<String>)>>,
}

impl Store for Watched<'_> {
    fn read(&self, location: &Location, limit: u64) -> Result<Vec<u8>, ReadError> {
        if let Location::Path(path) = location {
            self.seen.borrow_mut().push((path.clone(), files::stamp(path)));
        }
        self.below.read(location, limit)
    }

    fn below(&self) -> Option<&dyn Store> {
        Some(self.below)
    }
}

/// Why a file could not be read, as the user is told.
pub(crate) fn unread(location: &Location, error: &ReadError) -> Failure {
    let help = read::advice(error, "check that the file may be read");
    Failure::new(error.to_string()).at(location.to_string()).help(help)
}

/// Whether what was loaded is a WSDL contract.
///
/// # Errors
/// If it is not.
pub fn is_contract(contract: &Contract) -> Result<(), Failure> {
    match contract.kind() {
        DocumentKind::Contract => Ok(()),
        DocumentKind::Schema => Err(Failure::new("this is an XML Schema, not a contract")
            .at(contract.files.first().location.to_string())
            .help("give the WSDL file that imports it")),
        DocumentKind::Unreadable | DocumentKind::Other(_) => Err(unusable(contract)),
    }
}

fn unusable(contract: &Contract) -> Failure {
    match contract.faults().first() {
        Some(fault) => of_fault(contract, fault),
        None => Failure::new("this file cannot be used").at(contract.files.first().location.to_string()),
    }
}

fn of_fault(contract: &Contract, fault: &Fault) -> Failure {
    let failure = Failure::new(fault.message.clone()).at(Spot::of(contract, fault.place));
    match &fault.help {
        Some(help) => failure.help(help.clone()),
        None => failure,
    }
}

fn of_catalog(error: &CatalogError) -> Failure {
    let failure = Failure::new(error.to_string());
    match error {
        CatalogError::Read { location, error } => {
            let help = match error {
                ReadError::Remote => "save it as a file, and lead there",
                _ => "check the path in --catalog, or in the catalog that leads to it",
            };
            failure.at(location.to_string()).help(help)
        }
        CatalogError::Content { location, position, help, .. } => {
            let spot = Spot { file: location.to_string(), position: Some(*position) };
            failure.at(spot).help(help.clone())
        }
    }
}

/// The component that a path names.
///
/// # Errors
/// If there is none, or there are several.
pub fn find(contract: &Contract, path: &str) -> Result<Component, Failure> {
    if path == "contract" {
        return Ok(Component::Contract);
    }
    contract.find(path).map_err(|error| {
        let here = contract.files.first().location.to_string();
        let failure = Failure::new(error.to_string()).at(here.clone());
        match error {
            PathError::Missing { nearest: Some(nearest), .. } => {
                failure.help(format!("did you mean \"{nearest}\"?"))
            }
            PathError::Missing { .. } => failure.help(format!("charter show {here} lists what there is")),
            PathError::Ambiguous { .. } => failure.help("give one of these paths"),
            PathError::Kind(_) => failure.help("write it like type/Vessel or operation/requestPilot/input"),
        }
    })
}

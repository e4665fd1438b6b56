//! Loads the contracts that arguments name, and says plainly why one cannot be used.

use std::cell::RefCell;
use std::path::PathBuf;
use std::time::Duration;

use charter_contract::{Component, Contract, DocumentKind, PathError};
use charter_notation::Convention;
use charter_source::{
    CatalogError, Catalogs, Catalogued, Fault, Files, Limits, Location, Overlay, Place, ReadError, Store,
};

use crate::args::{Args, Format};
use crate::console::{Failure, note};
use crate::files::{self, Writers};
use crate::notation_file;
use crate::online::Web;
use crate::read;

/// What the options settle that all commands have in common.
pub struct Common {
    /// The form of the result.
    pub format: Format,
    /// Where files are read from.
    pub store: Catalogued<Web>,
    /// Where this run may write.
    pub writers: Writers,
}

impl Common {
    /// Reads the catalogs that the options name; one that cannot be used is a failure.
    pub fn of(args: &Args) -> Result<Common, Failure> {
        let locations: Vec<Location> =
            args.catalogs.iter().map(|path| Location::Path(path.clone())).collect();
        let mut limits = Limits::default();
        if let Some(megabytes) = args.size_limit {
            limits.bytes = u64::from(megabytes) << 20;
        }
        let web = Web::new(args.online, limits);
        let catalogs = Catalogs::load(&web, &locations).map_err(|error| catalog_failure(&error))?;
        Ok(Common { format: args.format, store: Catalogued::new(catalogs, web), writers: Writers::default() })
    }
}

impl Common {
    /// The naming convention that holds for a file.
    pub fn convention(&self, file: &str) -> Result<Convention, Failure> {
        crate::config::convention(file)
    }
}

fn catalog_failure(error: &CatalogError) -> Failure {
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
            failure.at(format!("{location}:{}:{}", position.line, position.column)).help(help.clone())
        }
    }
}

/// Reads a text of the notation.
pub fn notation(common: &Common, argument: &str) -> Result<String, Failure> {
    read::text(argument, common.store.limits()).map_err(|error| {
        let failure = Failure::new(format!("the notation cannot be read: {error}")).at(argument);
        failure.help(read::advice(&error, "give a text file in UTF-8, or - for standard input"))
    })
}

/// Loads a contract or a schema; a file that cannot be read at all is a failure.
pub fn load(common: &Common, argument: &str) -> Result<Contract, Failure> {
    Ok(Contract::read(files(common, argument)?))
}

/// Loads a file and what it imports; a file that cannot be read at all is a failure.
pub fn files(common: &Common, argument: &str) -> Result<Files, Failure> {
    let location = Location::from_argument(argument);
    if notation_file::is_notation(argument) && std::path::Path::new(argument).exists() {
        let failure = Failure::new("this is notation; a contract is wanted").at(argument);
        return Err(
            failure.help(format!("write the contract: charter new --from {argument} -o CONTRACT.wsdl"))
        );
    }
    files_at(common, &location)
}

/// How often files are read anew that change while they are read, and how long to wait each time.
const TRIES: usize = 100;
const NAP: Duration = Duration::from_millis(30);
/// A note of an edit that is older than this was left by one that was cut off.
const UNDERWAY: Duration = Duration::from_secs(2);

/// The same for a file wherever it is: on disk, or in a revision.
pub fn files_at(common: &Common, location: &Location) -> Result<Files, Failure> {
    let limits = common.store.limits();
    let loaded = if *location == Location::Standard {
        let mut store = Overlay::new(&common.store);
        read::bytes("-", limits).and_then(|bytes| {
            store.put(location, bytes);
            Files::load(&store, location, limits)
        })
    } else {
        at_one_time(common, location)
    };
    loaded.map_err(|error| {
        let help = read::advice(&error, "check that the file may be read");
        Failure::new(error.to_string()).at(location.to_string()).help(help)
    })
}

/// Loads files as they were at one time: while an edit is replacing them, some could be old and some new.
fn at_one_time(common: &Common, location: &Location) -> Result<Files, ReadError> {
    let watched = Watched { below: &common.store, seen: RefCell::default() };
    for _ in 0..TRIES {
        let loaded = Files::load(&watched, location, common.store.limits());
        let seen = watched.seen.take();
        let changed = |(path, stamp): &(PathBuf, Option<String>)| {
            files::stamp(path) != *stamp || files::age(path).is_some_and(|age| age < UNDERWAY)
        };
        if !seen.iter().any(changed) {
            for (path, _) in seen.iter().filter(|(path, _)| files::is_open(path)) {
                note(&format!(
                    "{}: an edit was cut off here, as a note beside it says; the next edit finishes or undoes it",
                    path.display()
                ));
            }
            return loaded;
        }
        std::thread::sleep(NAP);
    }
    Err(ReadError::System(std::io::Error::other("it keeps changing while it is read")))
}

/// A store that remembers as what each file was found when it was read.
struct Watched<'s> {
    below: &'s Catalogued<Web>,
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

/// Loads a WSDL contract; anything else is a failure.
pub fn load_contract(common: &Common, argument: &str) -> Result<Contract, Failure> {
    let contract = load(common, argument)?;
    is_contract(&contract)?;
    Ok(contract)
}

/// Whether what was loaded is a WSDL contract.
pub fn is_contract(contract: &Contract) -> Result<(), Failure> {
    match contract.kind() {
        DocumentKind::Contract => Ok(()),
        DocumentKind::Schema => Err(Failure::new("this is an XML Schema, not a contract")
            .at(contract.files.first().location.to_string())
            .help("give the WSDL file that imports it")),
        DocumentKind::Unreadable | DocumentKind::Other(_) => Err(unusable(contract)),
    }
}

/// Loads a contract or a schema by itself; anything else is a failure.
pub fn load_readable(common: &Common, argument: &str) -> Result<Contract, Failure> {
    let contract = load(common, argument)?;
    match contract.kind() {
        DocumentKind::Contract | DocumentKind::Schema => Ok(contract),
        DocumentKind::Unreadable | DocumentKind::Other(_) => Err(unusable(&contract)),
    }
}

fn unusable(contract: &Contract) -> Failure {
    let faults = contract.faults();
    match faults.first() {
        Some(fault) => of_fault(contract, fault),
        None => Failure::new("this file cannot be used").at(contract.files.first().location.to_string()),
    }
}

fn of_fault(contract: &Contract, fault: &Fault) -> Failure {
    let failure = Failure::new(fault.message.clone()).at(place(contract, fault.place));
    match &fault.help {
        Some(help) => failure.help(help.clone()),
        None => failure,
    }
}

/// A place as `file:line:column`.
pub fn place(contract: &Contract, place: Place) -> String {
    let file = contract.files.get(place.file);
    let position = file.text().position(place.span.start);
    format!("{}:{}:{}", file.location, position.line, position.column)
}

/// The component that a path names.
pub fn find(contract: &Contract, path: &str) -> Result<Component, Failure> {
    if path == "contract" {
        return Ok(Component::Contract);
    }
    contract.find(path).map_err(|error| {
        let failure = Failure::new(error.to_string()).at(contract.files.first().location.to_string());
        match error {
            PathError::Missing { nearest: Some(nearest), .. } => {
                failure.help(format!("did you mean \"{nearest}\"?"))
            }
            PathError::Missing { .. } => {
                failure.help(format!("charter show {} lists what there is", contract.files.first().location))
            }
            PathError::Ambiguous { .. } => failure.help("give one of these paths"),
            PathError::Kind(_) => failure.help("write it like type/Vessel or operation/requestPilot/input"),
        }
    })
}

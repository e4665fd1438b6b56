//! Loads the contracts that arguments name, and says plainly why one cannot be used.

use std::io::Read;

use charter_contract::{Component, Contract, DocumentKind, PathError};
use charter_notation::Convention;
use charter_source::{
    CatalogError, Catalogs, Catalogued, Fault, Files, Limits, Location, Overlay, Place, ReadError,
};

use crate::args::{Args, Format};
use crate::commands::notation_file;
use crate::console::Failure;
use crate::online::Web;
use crate::unfinished;

/// What the options settle that all commands have in common.
pub struct Common {
    /// The form of the result.
    pub format: Format,
    /// Where files are read from.
    pub store: Catalogued<Web>,
}

impl Common {
    /// Reads the catalogs that the options name; one that cannot be used is a failure.
    pub fn of(args: &Args) -> Result<Common, Failure> {
        let locations: Vec<Location> =
            args.catalogs.iter().map(|path| Location::Path(path.clone())).collect();
        let web = Web::new(args.online);
        let catalogs = Catalogs::load(&web, &locations).map_err(|error| catalog_failure(&error))?;
        Ok(Common { format: args.format, store: Catalogued::new(catalogs, web) })
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
pub fn notation(argument: &str) -> Result<String, Failure> {
    let read = if argument == "-" {
        let mut text = String::new();
        std::io::stdin().lock().read_to_string(&mut text).map(|_| text)
    } else {
        std::fs::read_to_string(argument)
    };
    read.map(|text| text.trim_start_matches('\u{feff}').to_owned()).map_err(|error| {
        let failure = Failure::new(format!("the notation cannot be read: {error}")).at(argument);
        failure.help("give a text file in UTF-8, or - for standard input")
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

/// The same for a file wherever it is: on disk, or in a revision.
pub fn files_at(common: &Common, location: &Location) -> Result<Files, Failure> {
    let limits = Limits::default();
    let loaded = if *location == Location::Standard {
        let mut bytes = Vec::new();
        let read = std::io::stdin().lock().take(limits.bytes + 1).read_to_end(&mut bytes);
        let mut store = Overlay::new(&common.store);
        store.put(location, bytes);
        read.map_err(ReadError::System).and_then(|_| Files::load(&store, location, limits))
    } else {
        Files::load(&common.store, location, limits)
    };
    let loaded = match loaded {
        Ok(files) if *location != Location::Standard && finished(&files)? => {
            Files::load(&common.store, location, limits)
        }
        loaded => loaded,
    };
    loaded.map_err(|error| {
        let help = match &error {
            ReadError::Missing => "check the path; - reads standard input",
            ReadError::Folder => "give one of the files in it",
            ReadError::TooLarge { .. } => "is it the right file?",
            ReadError::Remote => "save it as a file first",
            ReadError::Network(_) => "check the address, or save it as a file first",
            ReadError::System(_) => "check that the file may be read",
        };
        Failure::new(error.to_string()).at(location.to_string()).help(help)
    })
}

/// Whether an edit of several files was cut off in the middle of these, and is now brought to its end.
fn finished(files: &Files) -> Result<bool, Failure> {
    let mut any = false;
    for path in files.iter().filter_map(|file| file.location.path()) {
        if let Some(done) = unfinished::finish(path)? {
            let names: Vec<String> = done.iter().map(|file| file.display().to_string()).collect();
            anstream::eprintln!("an edit that was cut off is now done: {}", names.join(", "));
            any = true;
        }
    }
    Ok(any)
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

//! Where the rows of a stand-in are kept.

use std::path::{Path, PathBuf};
use std::sync::{Arc, OnceLock};

use charter_exchange::{StandIn, Store, StoreError};
use charter_session::{Loaded, Secret, read, settings};

use crate::console::Failure;

/// Where rows are kept, once somebody keeps some.
pub struct Keeping {
    wanted: Wanted,
    opened: OnceLock<Arc<Store>>,
}

enum Wanted {
    /// As long as the program runs.
    Memory,
    /// In a file.
    File(PathBuf),
    /// By a server, at an address that may hold a secret.
    Server(String),
}

impl Keeping {
    /// Rows that are gone in the end.
    pub fn in_memory() -> Keeping {
        Keeping { wanted: Wanted::Memory, opened: OnceLock::new() }
    }

    /// Rows that stay: where the option says, or beside the script.
    ///
    /// # Errors
    /// If a secret is not there.
    pub fn of(option: Option<&str>, script: Option<&Path>) -> Result<Keeping, Failure> {
        let address = match option {
            Some(option) => match Secret::parse(option) {
                Some(secret) => Some(secret.reveal()?),
                None => Some(option.to_owned()),
            },
            None => None,
        };
        let is_server = |text: &str| ["postgres://", "postgresql://"].iter().any(|it| text.starts_with(it));
        let wanted = match (address, script) {
            (Some(address), _) if is_server(&address) => Wanted::Server(address),
            (Some(address), _) if address.contains("://") => {
                return Err(Failure::new("rows are kept by SQLite or by PostgreSQL, and by nobody else")
                    .help("name a file, or give an address like postgres://user@host/database"));
            }
            (Some(path), _) => Wanted::File(path.into()),
            (None, Some(script)) => Wanted::File(script.with_extension("db")),
            (None, None) => Wanted::Memory,
        };
        Ok(Keeping { wanted, opened: OnceLock::new() })
    }

    /// Who stands in for a contract, by a script if there is one.
    ///
    /// # Errors
    /// If the script cannot be read, or makes no sense; if its rows cannot be kept.
    pub fn stand_in(&self, loaded: Loaded, script: Option<&Path>) -> Result<StandIn, Failure> {
        let Some(path) = script else { return Ok(StandIn::of(loaded)) };
        let shown = path.display().to_string();
        let text = read::small(path).map_err(|error| {
            Failure::new(format!("the script cannot be read: {error}"))
                .at(shown.as_str())
                .help(read::advice(&error, "check that the file may be read"))
        })?;
        let folder = path.parent().unwrap_or(Path::new(""));
        let stand_in = StandIn::scripted(loaded, &text, folder)
            .map_err(|error| settings::failure(&shown, &text, error))?;
        match stand_in.keeps_rows() {
            true => Ok(stand_in.with_store(self.store()?)),
            false => Ok(stand_in),
        }
    }

    fn store(&self) -> Result<Arc<Store>, Failure> {
        if let Some(store) = self.opened.get() {
            return Ok(Arc::clone(store));
        }
        let opened = match &self.wanted {
            Wanted::Memory => Store::memory(),
            Wanted::File(path) => Store::file(path),
            Wanted::Server(address) => Store::server(address),
        };
        let store = opened.map_err(|error| {
            Failure::new(error.to_string()).help(match error {
                StoreError::Foreign(_) => "give its rows a file of their own: --store FILE",
                _ => "say with --store where rows are kept: a file, or postgres://user@host/database",
            })
        })?;
        Ok(Arc::clone(self.opened.get_or_init(|| Arc::new(store))))
    }

    /// Where rows are kept, if somebody keeps some, as people are told.
    pub fn place(&self) -> Option<String> {
        self.opened.get()?;
        Some(match &self.wanted {
            Wanted::Memory => "memory".to_owned(),
            Wanted::File(path) => path.display().to_string(),
            // Its password is not shown.
            Wanted::Server(address) => {
                let (scheme, rest) = address.split_once("://").unwrap_or(("postgres", address));
                format!("{scheme}://{}", rest.rsplit_once('@').map_or(rest, |(_, host)| host))
            }
        })
    }
}

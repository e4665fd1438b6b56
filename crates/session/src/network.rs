//! Reads what lies on the network, if that is allowed: within a time and a size, each address once.

use std::io::Read;
use std::sync::{Mutex, OnceLock};
use std::time::{Duration, Instant};

use charter_source::{Disk, Limits, Location, Map, ReadError, Store};

/// How long an answer may take in all.
const PATIENCE: Duration = Duration::from_secs(20);
/// How long it may take until a connection is made.
const CONNECT: Duration = Duration::from_secs(5);
/// How many addresses are asked, and for how long in all.
const MOST_FILES: usize = 200;
const PATIENCE_IN_ALL: Duration = Duration::from_secs(60);
/// How many bytes of an answer are read at most, whatever files may have.
const MOST: u64 = 32 << 20;

/// The disk, and the network where it is allowed.
pub struct Web {
    allowed: bool,
    limits: Limits,
    /// What was read, or why it could not be.
    seen: Mutex<Map<String, Result<Vec<u8>, String>>>,
    /// When the first was asked for.
    began: OnceLock<Instant>,
}

impl Web {
    /// Reads from the network if `allowed`.
    pub fn new(allowed: bool, limits: Limits) -> Web {
        Web { allowed, limits, seen: Mutex::default(), began: OnceLock::new() }
    }

    fn fetch(&self, address: &str, limit: u64) -> Result<Vec<u8>, ReadError> {
        if !self.allowed {
            return Err(ReadError::Remote);
        }
        if !["http://", "https://"].iter().any(|scheme| address.starts_with(scheme)) {
            let words = "only addresses that begin with http: or https: are asked";
            return Err(ReadError::Network(words.to_owned()));
        }
        let mut seen = self.seen.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        // One address may lead to the next for ever, and each take its time.
        if !seen.contains_key(address) {
            let began = *self.began.get_or_init(Instant::now);
            if seen.len() >= MOST_FILES || began.elapsed() > PATIENCE_IN_ALL {
                let seconds = PATIENCE_IN_ALL.as_secs();
                let words =
                    format!("no more than {MOST_FILES} files are read, and for no longer than {seconds} s");
                return Err(ReadError::Network(words));
            }
        }
        let answer = seen.entry(address.to_owned()).or_insert_with(|| fetch(address, limit.min(MOST)));
        answer.clone().map_err(ReadError::Network)
    }
}

impl Store for Web {
    fn read(&self, location: &Location, limit: u64) -> Result<Vec<u8>, ReadError> {
        if let Location::Revision { revision, path } = location {
            return crate::git::read(revision, path, limit);
        }
        match location {
            Location::Remote(address) => self.fetch(address, limit),
            other => Disk.read(other, limit),
        }
    }

    fn identity(&self, location: &Location) -> Location {
        Disk.identity(location)
    }

    fn limits(&self) -> Limits {
        self.limits
    }
}

/// What an address answers with; otherwise why there is nothing to be had, in words.
fn fetch(address: &str, limit: u64) -> Result<Vec<u8>, String> {
    let agent = ureq::Agent::config_builder()
        .timeout_connect(Some(CONNECT))
        .timeout_global(Some(PATIENCE))
        .max_redirects(5)
        .http_status_as_error(false)
        .user_agent(concat!("charter/", env!("CARGO_PKG_VERSION")))
        .build()
        .new_agent();
    let mut answer = agent.get(address).call().map_err(|error| words(&error))?;
    let status = answer.status();
    if !status.is_success() {
        let reason = status.canonical_reason().map_or(String::new(), |reason| format!(" {reason}"));
        return Err(format!("the server answered {}{reason}", status.as_u16()));
    }
    let mut bytes = Vec::new();
    let mut body = answer.body_mut().as_reader().take(limit + 1);
    body.read_to_end(&mut bytes).map_err(|error| match error.downcast::<ureq::Error>() {
        Ok(error) => words(&error),
        Err(error) => error.to_string(),
    })?;
    if bytes.len() as u64 > limit {
        return Err(format!("the answer is larger than {} MB", limit >> 20));
    }
    Ok(bytes)
}

fn words(error: &ureq::Error) -> String {
    match error {
        ureq::Error::Timeout(_) => format!("there was no whole answer in {} s", PATIENCE.as_secs()),
        ureq::Error::HostNotFound => "there is no such host".to_owned(),
        ureq::Error::TooManyRedirects => {
            "the server leads from one address to the next without end".to_owned()
        }
        ureq::Error::ConnectionFailed => "no connection could be made".to_owned(),
        ureq::Error::Io(error) if error.kind() == std::io::ErrorKind::ConnectionRefused => {
            "nobody answers at this address".to_owned()
        }
        other => other.to_string(),
    }
}

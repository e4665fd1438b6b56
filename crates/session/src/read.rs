//! Reads what arguments and settings name, by the one way in: regular files only, and no more than was agreed.

use std::path::Path;

use charter_source::{Limits, ReadError, read_all, read_file};

/// What settings, records and notes may hold at most: they are written by people.
const SMALL: u64 = 16 << 20;

/// The bytes of a file, or of standard input for `-`.
///
/// # Errors
/// If it is no regular file, may not be read, or is larger than was agreed.
pub fn bytes(argument: &str, limits: Limits) -> Result<Vec<u8>, ReadError> {
    match argument {
        "-" => read_all(std::io::stdin().lock(), 0, limits.bytes),
        file => read_file(Path::new(file), limits.bytes),
    }
}

/// The text of a file in UTF-8, or of standard input for `-`, without a byte-order mark.
///
/// # Errors
/// As [`bytes`], and if it is not UTF-8.
pub fn text(argument: &str, limits: Limits) -> Result<String, ReadError> {
    utf8(bytes(argument, limits)?)
}

/// The text of a file that people write, such as settings.
///
/// # Errors
/// If it cannot be read, is larger than anybody writes, or is not UTF-8.
pub fn small(path: &Path) -> Result<String, ReadError> {
    utf8(read_file(path, SMALL)?)
}

fn utf8(mut bytes: Vec<u8>) -> Result<String, ReadError> {
    if bytes.starts_with(b"\xef\xbb\xbf") {
        bytes.drain(..3);
    }
    String::from_utf8(bytes).map_err(|error| {
        let at = error.utf8_error().valid_up_to();
        let line = error.as_bytes()[..at].iter().filter(|byte| **byte == b'\n').count() + 1;
        ReadError::System(std::io::Error::other(format!("it is not UTF-8: see line {line}")))
    })
}

/// What to do about a file that cannot be read; `otherwise` if it is nothing special.
pub fn advice(error: &ReadError, otherwise: &'static str) -> &'static str {
    match error {
        ReadError::Missing => "check the path; - reads standard input",
        ReadError::Folder => "give one of the files in it",
        ReadError::Special => "give a file, or - for standard input",
        ReadError::TooLarge { .. } => "is it the right file? --size-limit MB raises the limit",
        ReadError::Remote => "--online reads it from the network; or save it as a file first",
        ReadError::Network(_) => "check the address, or save it as a file first",
        ReadError::System(_) => otherwise,
    }
}

//! The one place that opens files to read them: regular files only, and no more of one than was agreed.

use std::io::Read;
use std::path::Path;
use std::{fs, io};

use crate::ReadError;

/// The bytes of a regular file, of at most `limit` bytes. A folder, a pipe, a socket or a device is never opened: it may
/// block, have no end, or do something on being read.
///
/// # Errors
/// If there is no such file, it is something else, it is larger, or the system refuses.
pub fn read_file(path: &Path, limit: u64) -> Result<Vec<u8>, ReadError> {
    regular(&fs::metadata(path).map_err(unreadable)?, limit)?;
    let file = fs::File::open(path).map_err(unreadable)?;
    // It may be another by now.
    let facts = file.metadata()?;
    regular(&facts, limit)?;
    read_all(file, facts.len(), limit)
}

/// All that a stream has, of at most `limit` bytes; `expected` is how much that may be.
///
/// # Errors
/// If there is more, or it cannot be read.
pub fn read_all(stream: impl Read, expected: u64, limit: u64) -> Result<Vec<u8>, ReadError> {
    let mut bytes = Vec::with_capacity(expected.min(limit) as usize);
    // What grows has no length to go by, so the limit is kept while reading as well.
    stream.take(limit + 1).read_to_end(&mut bytes)?;
    if bytes.len() as u64 > limit {
        return Err(ReadError::TooLarge { limit });
    }
    Ok(bytes)
}

fn unreadable(error: io::Error) -> ReadError {
    match error.kind() {
        io::ErrorKind::NotFound | io::ErrorKind::NotADirectory => ReadError::Missing,
        _ => ReadError::System(error),
    }
}

fn regular(facts: &fs::Metadata, limit: u64) -> Result<(), ReadError> {
    if facts.is_dir() {
        return Err(ReadError::Folder);
    }
    if !facts.is_file() {
        return Err(ReadError::Special);
    }
    if facts.len() > limit {
        return Err(ReadError::TooLarge { limit });
    }
    Ok(())
}

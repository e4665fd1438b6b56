//! Who may write in a folder: one edit at a time. The lock is the system's own and is held on the folder itself, so it
//! leaves nothing behind and dies with its owner. Whoever only reads never asks for it.

use std::fs::{File, TryLockError};
use std::path::{Path, PathBuf};
use std::sync::Mutex;
use std::time::{Duration, Instant};

use crate::Failure;

/// How long an edit waits for another one.
const PATIENCE: Duration = Duration::from_secs(5);
/// How long it sleeps between two tries.
const NAP: Duration = Duration::from_millis(5);

/// The folders that this run may write in, until it is dropped.
#[derive(Default)]
pub struct Writers {
    held: Mutex<Vec<(PathBuf, File)>>,
}

impl Writers {
    /// Lets others in again.
    pub fn leave(&self) {
        self.held.lock().unwrap_or_else(std::sync::PoisonError::into_inner).clear();
    }

    /// Waits until nobody else edits in a folder, and keeps others out from then on.
    ///
    /// # Errors
    /// If somebody else goes on for too long, or there is no such folder.
    pub fn enter(&self, folder: &Path) -> Result<(), Failure> {
        let folder = std::fs::canonicalize(folder).map_err(|error| {
            let failure = Failure::new(format!("it could not be written: {error}"));
            failure
                .at(folder.display().to_string())
                .help("nothing was changed; check the folder, and that it may be written to")
        })?;
        let mut held = self.held.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        if held.iter().any(|(known, _)| *known == folder) {
            return Ok(());
        }
        // A system that cannot lock a folder has no locks to wait for; what is written is compared once more anyway.
        let Ok(handle) = File::open(&folder) else { return Ok(()) };
        let began = Instant::now();
        loop {
            match handle.try_lock() {
                Ok(()) => break,
                Err(TryLockError::WouldBlock) if began.elapsed() < PATIENCE => std::thread::sleep(NAP),
                Err(TryLockError::WouldBlock) => {
                    let failure = Failure::new("somebody else is editing here");
                    return Err(failure
                        .at(folder.display().to_string())
                        .help("nothing was changed; run the command again"));
                }
                Err(TryLockError::Error(_)) => return Ok(()),
            }
        }
        held.push((folder, handle));
        Ok(())
    }
}

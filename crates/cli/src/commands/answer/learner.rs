//! A consumer record that grows while a consumer is at work.

use std::path::Path;
use std::time::{Duration, Instant};

use charter_exchange::Said;
use charter_session::files::Writers;

use crate::commands::matching::learn::{Learned, Lesson};
use crate::console::Failure;

/// How often the record is written while there is something new.
const PAUSE: Duration = Duration::from_secs(1);

/// Learns from exchanges.
pub struct Learner<'l> {
    writers: &'l Writers,
    record: &'l Path,
    contract: &'l str,
    learned: Learned,
    /// Whether there is something that is not written yet.
    new: bool,
    written: Option<Instant>,
}

impl<'l> Learner<'l> {
    pub fn of(writers: &'l Writers, record: &'l Path, contract: &'l str) -> Learner<'l> {
        Learner { writers, record, contract, learned: Learned::default(), new: false, written: None }
    }

    /// Takes in what both sides of an exchange say.
    ///
    /// # Errors
    /// If the record cannot be written.
    pub fn take(&mut self, said: Vec<Said>) -> Result<(), Failure> {
        for Said { operation, is_request, fault, values } in said {
            self.new |= self.learned.add(&operation, &Lesson { is_request, fault, values });
        }
        match self.written {
            Some(written) if written.elapsed() < PAUSE => Ok(()),
            _ if !self.new => Ok(()),
            _ => self.write().map(drop),
        }
    }

    fn write(&mut self) -> Result<String, Failure> {
        self.new = false;
        self.written = Some(Instant::now());
        self.learned.write(self.writers, self.record, self.contract)
    }

    /// Writes what is left.
    ///
    /// # Errors
    /// If the record cannot be written.
    pub fn end(mut self) -> Result<(), Failure> {
        if self.new { self.write().map(drop) } else { Ok(()) }
    }
}

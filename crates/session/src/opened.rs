//! A contract that is opened to be edited: nobody else edits it meanwhile, and it may be kept as notation.

use std::path::{Path, PathBuf};
use std::sync::Arc;

use charter_author::{Change, EditFailure, Editing};
use charter_contract::Contract;
use charter_source::Store;

use crate::{Failure, NotationFile, Session, Settings, files, is_notation};

/// A contract that is to be changed.
pub struct Opened<'s> {
    /// The contract.
    pub contract: Contract,
    /// What is settled for it.
    pub settings: Arc<Settings>,
    /// The file of notation that it is kept in, if it is.
    pub notation: Option<NotationFile<'s>>,
    session: &'s Session,
}

impl Session {
    /// Opens a contract or a schema to edit it. If it is to be written, others are kept from it from now on, and what an edit
    /// that was cut off has left is finished or undone first.
    ///
    /// # Errors
    /// If it cannot be read, is something else, or somebody else is editing it.
    pub fn edit(&self, file: &str, writes: bool) -> Result<Opened<'_>, Failure> {
        let settings = self.settings(file)?;
        let mut notation = None;
        let contract = self.load_to_edit(file, writes, |file| {
            if is_notation(file) {
                let (opened, contract) = NotationFile::open(file, &self.store, &settings)?;
                notation = Some(opened);
                return Ok(contract);
            }
            self.readable(file)
        })?;
        Ok(Opened { contract, settings, notation, session: self })
    }

    /// The same for whatever can be read, by a loader of one's own.
    ///
    /// # Errors
    /// As [`Session::edit`].
    pub fn load_to_edit(
        &self,
        file: &str,
        writes: bool,
        mut load: impl FnMut(&str) -> Result<Contract, Failure>,
    ) -> Result<Contract, Failure> {
        if !writes || file == "-" {
            return load(file);
        }
        let (notices, changed) = files::settle(&self.writers, &[PathBuf::from(file)])?;
        // What is about files that are not known yet is looked at once they are.
        let mut told = if changed { notices } else { Vec::new() };
        let mut contract = load(file)?;
        // An edit that was cut off may be about any of the files; so may the one that comes.
        let all = |contract: &Contract| -> Vec<PathBuf> {
            contract.files.iter().filter_map(|file| file.location.path()).map(Path::to_owned).collect()
        };
        let (notices, changed_too) = files::settle(&self.writers, &all(&contract))?;
        told.extend(notices);
        if changed || changed_too {
            contract = load(file)?;
        }
        told.dedup();
        told.iter().for_each(|notice| self.tell(notice));
        Ok(contract)
    }
}

impl Opened<'_> {
    /// What every edit of it needs to know.
    pub fn editing(&self, force: bool) -> Editing<'_> {
        let store: &dyn Store = match &self.notation {
            Some(notation) => &notation.store,
            None => &self.session.store,
        };
        Editing { force, ..Editing::of(&self.contract, store, &self.settings.names) }
    }

    /// The change as it is to be written; `whole` is the text of all of it, if that was given. The contract goes along, unless it
    /// is kept as notation, in which its places mean nothing.
    ///
    /// # Errors
    /// If it cannot be carried into the notation that the contract is kept in.
    pub fn into_change(
        self,
        change: Change,
        whole: Option<&str>,
    ) -> Result<(Change, Option<Contract>), EditFailure> {
        let Opened { contract, settings, notation, .. } = self;
        let Some(notation) = notation else { return Ok((change, Some(contract))) };
        // The contract that comes of it is as large.
        drop(contract);
        Ok((notation.change_of_text(change, &settings.names, whole)?, None))
    }
}

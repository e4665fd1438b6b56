//! Files of notation, edited in place: the edit is made on the contract that the text stands for, and carried back into
//! the text, whose layout and comments stay.

use charter_author::{Change, EditFailure, FileChange, SchemaPlace, Verb, fresh};
use charter_contract::Contract;
use charter_notation::{Convention, Prefixes, info_of, merged, read, text_of};
use charter_source::{Catalogued, Encoded, FileId, Files, Location, Overlay, Store, Text};

use crate::failure::Slips;
use crate::loaded::contract_of;
use crate::network::Web;
use crate::{Failure, Settings};

/// A contract that is kept as notation.
pub struct NotationFile<'s> {
    location: Location,
    text: Text,
    /// The contract that the text stands for, laid over the files that it imports.
    pub store: Overlay<&'s Catalogued<Web>>,
    made: Vec<Location>,
}

/// Whether a file holds notation, going by its name.
pub fn is_notation(file: &str) -> bool {
    std::path::Path::new(file).extension().is_some_and(|it| it == "charter")
}

impl<'s> NotationFile<'s> {
    /// Reads a file of notation, and the contract that it stands for.
    ///
    /// # Errors
    /// If it cannot be read, or is no notation yet: the failure says what is wrong in it.
    pub fn open(
        file: &str,
        store: &'s Catalogued<Web>,
        settings: &Settings,
    ) -> Result<(NotationFile<'s>, Contract), Failure> {
        let location = Location::from_argument(file);
        let unreadable = |error: &dyn std::fmt::Display| {
            Failure::new(error.to_string()).at(file).help("check the path, and that the file may be read")
        };
        let text = store.text(&location, store.limits().bytes).map_err(|error| unreadable(&error))?;
        let written = read(text.content(), &settings.names).map_err(|errors| {
            let failure = Failure::new("this is no notation yet").at(file).help("nothing was changed");
            let slips = Slips { name: file.to_owned(), text: text.content().to_owned(), errors };
            Failure { slips: Some(Box::new(slips)), ..failure }
        })?;
        let mut memory = Overlay::new(store);
        let mut made = Vec::new();
        for new in fresh(written.info, &written.prefixes, SchemaPlace::Embedded) {
            let place = new.name.map_or_else(|| location.clone(), |name| location.join(&name));
            memory.put_text(&place, Encoded::from(new.text));
            made.push(place);
        }
        let files = Files::load(&memory, &location, memory.limits()).map_err(|it| unreadable(&it))?;
        let contract = contract_of(files, settings);
        Ok((NotationFile { location, text, store: memory, made }, contract))
    }

    /// The text of the file.
    pub fn text(&self) -> &str {
        self.text.content()
    }

    /// A change of the contract as a change of the text: to `whole`, if that was given, or else to what the contract
    /// says then, with the layout and the comments that the text has.
    ///
    /// # Errors
    /// If the comments cannot be kept in their places, or the text cannot be written in its encoding.
    pub fn change_of_text(
        &self,
        mut change: Change,
        convention: &Convention,
        whole: Option<&str>,
    ) -> Result<Change, EditFailure> {
        let mut store = Overlay::new(&self.store);
        // The texts that the notation stands for are many times as long, and nobody sees them: they are gone when they were read.
        for file in std::mem::take(&mut change.files) {
            store.put_text(&file.location, file.after.clone());
            if !self.made.contains(&file.location) {
                change.files.push(file);
            }
        }
        let result = Contract::load(&store, &self.location, store.limits())?;
        drop(store);
        let (info, prefixes) = (info_of(&result), Prefixes::of(&result));
        // A contract, what it says, and how that is written are each as large: only two of them are there at one time.
        drop(result);
        let canonical = text_of(&info, &prefixes, convention);
        drop(info);
        let after = match whole {
            Some(text) => text.to_owned(),
            None => merged(self.text(), &canonical),
        };
        let said = |text: &str| read(text, convention).map(|it| it.info);
        if whole.is_none() && after != canonical && said(&after) != said(&canonical) {
            let why = "the comments cannot be kept in their places; edit the file by hand";
            return Err(EditFailure::Unsupported(why.to_owned()));
        }
        change.files.insert(0, self.file_change(after)?);
        // Places in the contract mean nothing to who reads its notation.
        change.places.clear();
        Ok(change)
    }

    /// The change of nothing but how the text is written.
    ///
    /// # Errors
    /// If the text cannot be written in its encoding.
    pub fn rewritten(&self, text: &str) -> Result<Change, EditFailure> {
        Ok(Change {
            files: vec![self.file_change(text.to_owned())?],
            places: Vec::new(),
            notes: vec!["only the way it is written changes".to_owned()],
            account: vec![(Verb::Changed, "contract".to_owned())],
            in_part: false,
        })
    }

    fn file_change(&self, after: String) -> Result<FileChange, EditFailure> {
        let (location, encoding) = (self.location.clone(), self.text.encoding());
        let name = encoding.name();
        let Some(before) = self.text.encoded() else {
            return Err(EditFailure::Unfaithful { location, encoding: name });
        };
        let Some(after) = Encoded::new(after, encoding) else {
            return Err(EditFailure::Encoding { location, encoding: name });
        };
        Ok(FileChange { file: FileId(0), location, before, after })
    }
}

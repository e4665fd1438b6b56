//! A change of files, made in memory and read back.

use charter_contract::{Contract, PathError};
use charter_schema::Engine;
use charter_source::{
    EditError, Fault, FileId, Files, Limits, Location, Map, Overlay, Place, ReadError, Store, TextEdit, apply,
};

/// A change that was read back and found to be what was meant.
#[derive(Debug, Clone)]
pub struct Change {
    /// The files that change.
    pub files: Vec<FileChange>,
    /// Each place that changes, in the old text.
    pub places: Vec<Place>,
    /// What the author should know, in one line each.
    pub notes: Vec<String>,
}

/// A file before and after.
#[derive(Debug, Clone)]
pub struct FileChange {
    /// The file.
    pub file: FileId,
    /// Where it is.
    pub location: Location,
    /// Its text before.
    pub before: String,
    /// Its text after.
    pub after: String,
    /// The bytes that it was read from.
    pub old_bytes: Vec<u8>,
    /// The bytes to write: in the encoding that it was read in.
    pub new_bytes: Vec<u8>,
}

/// Why an edit was not made.
#[derive(Debug, thiserror::Error)]
pub enum EditFailure {
    /// The component cannot be renamed.
    #[error("{0}")]
    Unsupported(String),
    /// The name is no NCName.
    #[error("\"{0}\" is not a name: begin with a letter or _, go on with letters, digits, -, _ and .")]
    Name(String),
    /// The namespace is no URI.
    #[error("\"{0}\" is not a namespace: write an absolute URI, such as urn:saltmere:pilotage:1")]
    Namespace(String),
    /// The name is taken.
    #[error("there is {0} of that name already")]
    Taken(String),
    /// A place does not hold the text that it should.
    #[error("the name is not written plainly here; change it by hand")]
    Disguised(Place),
    /// The edits contradict each other.
    #[error("{0}")]
    Edits(#[from] EditError),
    /// The new text has characters that the encoding of the file has not.
    #[error("the file {location} is in {encoding}, which has no character for the new name")]
    Encoding {
        /// The file.
        location: Location,
        /// Its encoding.
        encoding: &'static str,
    },
    /// The result could not be read.
    #[error("the changed contract could not be read: {0}")]
    Read(#[from] ReadError),
    /// The result is not what was meant.
    #[error("the change would do harm: {0}")]
    Harm(String),
    /// The component could not be found again.
    #[error("{0}")]
    Path(#[from] PathError),
}

/// Applies edits to the files of a contract, and reads the result.
///
/// # Errors
/// If the edits do not fit, or the result has faults that the contract did not have.
pub(crate) fn make(
    contract: &Contract,
    store: &dyn Store,
    edits: Vec<TextEdit>,
    notes: Vec<String>,
) -> Result<(Change, Contract), EditFailure> {
    let mut by_file: Map<FileId, Vec<TextEdit>> = Map::default();
    let mut places = Vec::new();
    for edit in edits {
        places.push(edit.place);
        by_file.entry(edit.place.file).or_default().push(edit);
    }
    places.sort_unstable();
    places.dedup();
    let mut files = Vec::new();
    for file in contract.files.iter() {
        if let Some(edits) = by_file.get(&file.id) {
            files.push(changed(&contract.files, file.id, edits)?);
        }
    }
    // What was read from standard input or a revision is not in the store, so every text is laid over it.
    let mut store = Overlay::new(store);
    for file in contract.files.iter().filter(|file| !file.is_known()) {
        let change = files.iter().find(|change| change.file == file.id);
        let same = || file.text().encoding().encode(file.text().content());
        if let Some(bytes) = change.map(|change| change.new_bytes.clone()).or_else(same) {
            store.put(&file.location, bytes);
        }
    }
    let result = Contract::load(&store, &contract.files.first().location, Limits::default())?;
    let (before, after) = (faults(contract), faults(&result));
    if after.len() > before.len() {
        let added = after.iter().find(|fault| !before.iter().any(|old| old.message == fault.message));
        return Err(EditFailure::Harm(added.unwrap_or(&after[0]).message.clone()));
    }
    Ok((Change { files, places, notes }, result))
}

/// Everything wrong with a contract that no edit may add to: what its readers found, and the clauses of XML Schema.
fn faults(contract: &Contract) -> Vec<Fault> {
    let read = contract.faults().into_iter().cloned();
    read.chain(Engine::new(&contract.files, &contract.schemas).judge()).collect()
}

fn changed(files: &Files, id: FileId, edits: &[TextEdit]) -> Result<FileChange, EditFailure> {
    let file = files.get(id);
    let text = file.text();
    let after = apply(text.content(), edits)?;
    let encoding = text.encoding();
    let encode = |text: &str| {
        let failure = || EditFailure::Encoding { location: file.location.clone(), encoding: encoding.name() };
        encoding.encode(text).ok_or_else(failure)
    };
    Ok(FileChange {
        file: id,
        location: file.location.clone(),
        before: text.content().to_owned(),
        old_bytes: encode(text.content())?,
        new_bytes: encode(&after)?,
        after,
    })
}

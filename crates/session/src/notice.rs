//! What is worth telling, though it changes no answer.

use std::path::PathBuf;

/// Something that is worth telling, though it changes no answer.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Notice {
    /// An edit of a file was cut off, as a note beside it says; the next edit finishes or undoes it.
    CutOff(PathBuf),
    /// An edit of these files that was cut off is done now.
    Finished(Vec<PathBuf>),
    /// An edit of these files that was cut off has not happened.
    Undone(Vec<PathBuf>),
    /// A note of an edit is not known to be this user's, so nothing is done about it.
    Foreign(PathBuf),
}

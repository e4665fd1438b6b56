//! What is asked for by an import: an address, a namespace, a public identifier.

use crate::Location;

/// What a reference says about the file that it wants.
#[derive(Debug, Clone, Copy, Default)]
pub struct Wanted<'a> {
    /// The address, as it is written.
    pub reference: Option<&'a str>,
    /// What the address means in the file that it is written in.
    pub location: Option<&'a Location>,
    /// The namespace, if the reference names one.
    pub namespace: Option<&'a str>,
}

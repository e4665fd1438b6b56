//! Where a file is, and what a reference in it points to.

use std::fmt;
use std::path::{Component, Path, PathBuf};
use std::sync::Arc;

use percent_encoding::percent_decode_str;

use crate::Address;

/// Where a text comes from.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub enum Location {
    /// A file.
    Path(PathBuf),
    /// Standard input; references in it are relative to the current folder.
    Standard,
    /// An address that names no local file.
    Remote(String),
    /// A schema that comes with the program, by its name.
    Known(&'static str),
    /// A file as a revision of its repository has it.
    Revision {
        /// The name of the revision.
        revision: Arc<str>,
        /// The path from the top of the repository.
        path: PathBuf,
    },
}

impl Location {
    /// A file, standard input for `-`, or an address on the network.
    pub fn from_argument(argument: &str) -> Self {
        match scheme(argument) {
            Some("http" | "https") if argument.contains("://") => Location::Remote(argument.to_owned()),
            _ if argument == "-" => Location::Standard,
            _ => Location::Path(argument.into()),
        }
    }

    /// What a relative or absolute reference in the text at this location means (RFC 3986, section 5, for
    /// files: a `file:` scheme and percent escapes are undone).
    pub fn join(&self, reference: &str) -> Location {
        let reference = reference.trim();
        let path = match scheme(reference) {
            // What comes from the network names no files of this machine.
            Some("file") if matches!(self, Location::Remote(_)) => {
                return Location::Remote(reference.to_owned());
            }
            Some("file") => {
                let rest = &reference["file:".len()..];
                let rest = rest.strip_prefix("//").map_or(rest, |rest| {
                    // What stands between the slashes is a host, which a local file does not need.
                    rest.find('/').map_or(rest, |at| &rest[at..])
                });
                unescape(rest)
            }
            Some(_) => return Location::Remote(reference.to_owned()),
            None => unescape(reference),
        };
        match self {
            Location::Path(base) => Location::Path(tidy(&base.parent().unwrap_or(Path::new("")).join(path))),
            Location::Standard | Location::Known(_) => Location::Path(tidy(Path::new(&path))),
            Location::Remote(base) => Location::Remote(joined(base, reference)),
            Location::Revision { revision, path: base } => Location::Revision {
                revision: revision.clone(),
                path: tidy(&base.parent().unwrap_or(Path::new("")).join(path)),
            },
        }
    }

    /// The path, if this is a file.
    pub fn path(&self) -> Option<&Path> {
        match self {
            Location::Path(path) => Some(path),
            _ => None,
        }
    }
}

/// A relative reference at an address, so that a file is the same however it is called for.
fn joined(base: &str, reference: &str) -> String {
    Address::parse(base).and_then(|base| base.join(reference)).unwrap_or_else(|| reference.to_owned())
}

impl fmt::Display for Location {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Location::Path(path) => write!(f, "{}", path.display()),
            Location::Standard => f.write_str("standard input"),
            Location::Remote(address) => f.write_str(address),
            Location::Known(name) => write!(f, "built-in {name}"),
            Location::Revision { revision, path } => write!(f, "{revision}:{}", path.display()),
        }
    }
}

/// The scheme of a URI; a single letter is a drive, not a scheme.
fn scheme(reference: &str) -> Option<&str> {
    let (scheme, _) = reference.split_once(':')?;
    let rest = |c: char| c.is_ascii_alphanumeric() || matches!(c, '+' | '-' | '.');
    (scheme.len() > 1 && scheme.starts_with(|c: char| c.is_ascii_alphabetic()) && scheme.chars().all(rest))
        .then_some(scheme)
}

/// A text without percent escapes (RFC 3986, section 2.1); what is none of a character stays.
fn unescape(text: &str) -> String {
    percent_decode_str(text).decode_utf8().map_or_else(|_| text.to_owned(), |text| text.into_owned())
}

/// The path without `.` and without `name/..`, so that messages show it as a person would write it.
pub(crate) fn tidy(path: &Path) -> PathBuf {
    let mut result = PathBuf::new();
    for component in path.components() {
        match component {
            Component::CurDir => {}
            Component::ParentDir if matches!(result.components().next_back(), Some(Component::Normal(_))) => {
                result.pop();
            }
            other => result.push(other),
        }
    }
    result
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn references_are_relative_to_the_file_that_makes_them() {
        let base = Location::Path("port/contracts/pilotage.wsdl".into());
        let joined = |reference: &str| base.join(reference).to_string();
        assert_eq!(joined("vessel.xsd"), "port/contracts/vessel.xsd");
        assert_eq!(joined("../types/./vessel%20types.xsd"), "port/types/vessel types.xsd");
        assert_eq!(joined("file:///port/vessel.xsd"), "/port/vessel.xsd");
        assert_eq!(joined("100%.xsd"), "port/contracts/100%.xsd");
        assert_eq!(base.join("http://localhost/v.xsd"), Location::Remote("http://localhost/v.xsd".into()));
        let base = Location::Remote("https://saltmere.example/port/pilotage.wsdl?wsdl".into());
        let joined = |reference: &str| base.join(reference).to_string();
        assert_eq!(joined("./vessel.xsd"), "https://saltmere.example/port/vessel.xsd");
        assert_eq!(joined("../types/vessel.xsd?v=1"), "https://saltmere.example/types/vessel.xsd?v=1");
        assert_eq!(joined("/vessel.xsd"), "https://saltmere.example/vessel.xsd");
        assert_eq!(joined("//tides.example/t.xsd"), "https://tides.example/t.xsd");
        let base = Location::Revision { revision: "v1.2".into(), path: "contracts/pilotage.wsdl".into() };
        let joined = |reference: &str| base.join(reference).to_string();
        assert_eq!(joined("vessel.xsd"), "v1.2:contracts/vessel.xsd");
        assert_eq!(joined("../types/vessel.xsd"), "v1.2:types/vessel.xsd");
        let base = Location::Remote("https://saltmere.example/port/pilotage.wsdl?wsdl".into());
        let joined = |reference: &str| base.join(reference).to_string();
        // No file here is read because somebody elsewhere names it.
        assert_eq!(joined("file:///etc/passwd"), "file:///etc/passwd");
        assert!(matches!(base.join("file:///etc/passwd"), Location::Remote(_)), "no file of this machine");
    }
}

//! Schemas that are known without a file: the namespaces of open standards that contracts name and seldom bring along.

use memchr::memmem;

use crate::imports::schemas_in;
use crate::{File, Location, ns};

/// A schema that comes with the program.
pub(crate) struct Known {
    /// Its target namespace.
    pub namespace: &'static str,
    /// What messages call it.
    name: &'static str,
    /// The whole of it.
    pub text: &'static str,
}

impl Known {
    pub fn location(&self) -> Location {
        Location::Known(self.name)
    }
}

/// Every schema that comes with the program.
const ALL: &[Known] = &[
    Known { namespace: ns::XML, name: "xml.xsd", text: include_str!("known/xml.xsd") },
    Known {
        namespace: ns::SOAP11_ENCODING,
        name: "soap-encoding-1.1.xsd",
        text: include_str!("known/soap-encoding-1.1.xsd"),
    },
    Known {
        namespace: ns::SOAP11_ENVELOPE,
        name: "soap-envelope-1.1.xsd",
        text: include_str!("known/soap-envelope-1.1.xsd"),
    },
    Known {
        namespace: ns::SOAP12_ENVELOPE,
        name: "soap-envelope-1.2.xsd",
        text: include_str!("known/soap-envelope-1.2.xsd"),
    },
    Known {
        namespace: ns::ADDRESSING,
        name: "addressing-1.0.xsd",
        text: include_str!("known/addressing-1.0.xsd"),
    },
];

/// The schema of a namespace.
pub(crate) fn known(namespace: &str) -> Option<&'static Known> {
    ALL.iter().find(|known| known.namespace == namespace)
}

/// The known schemas whose names the values of a file use: a reference may stand where no import can, or lack one.
pub(crate) fn mentioned(file: &File) -> impl Iterator<Item = &'static Known> {
    let text = file.text().content().as_bytes();
    ALL.iter()
        .filter(move |known| prefixes(file, known.namespace).iter().any(|prefix| names_with(text, prefix)))
}

/// The prefixes of a namespace, declared where contracts declare them: on the root and on embedded schemas.
fn prefixes<'a>(file: &'a File, namespace: &str) -> Vec<&'a str> {
    let Some(root) = file.root() else { return Vec::new() };
    if !matches!(root.tag_name().namespace(), Some(ns::WSDL | ns::XSD)) {
        return Vec::new();
    }
    if namespace == ns::XML {
        return vec!["xml"];
    }
    let nodes = std::iter::once(root).chain(schemas_in(file));
    let declared = nodes.flat_map(|node| node.namespaces()).filter(|declared| declared.uri() == namespace);
    let mut found: Vec<&str> = declared.filter_map(|declared| declared.name()).collect();
    found.sort_unstable();
    found.dedup();
    found
}

/// Whether the value of an attribute begins with the prefix.
fn names_with(text: &[u8], prefix: &str) -> bool {
    let needle = format!("{prefix}:");
    memmem::find_iter(text, needle.as_bytes()).any(|at| at > 0 && matches!(text[at - 1], b'"' | b'\''))
}

//! Which prefix stands for which namespace in the notation of one contract.

use crate::vocabulary::USUAL;
use charter_contract::Contract;
use charter_schema::Builtin;
use charter_source::{Map, QName, ns};

/// Names from the viewpoint of one namespace, whose names carry no prefix.
#[derive(Debug, Clone, Default)]
pub struct Prefixes {
    /// That namespace.
    pub own: String,
    /// Prefixes with their namespaces, in the order in which they are declared.
    declared: Vec<(String, String)>,
    by_namespace: Map<String, usize>,
    by_prefix: Map<String, usize>,
}

impl Prefixes {
    /// No prefixes yet.
    pub fn new(own: &str) -> Prefixes {
        Prefixes { own: own.to_owned(), ..Prefixes::default() }
    }

    /// The prefixes that the files of a contract use.
    pub fn of(contract: &Contract) -> Prefixes {
        let definitions = contract.definitions.iter().next().map(|(_, first)| first.namespace.to_string());
        let schema = contract.schemas.documents.first().map(|document| document.namespace.to_string());
        let mut prefixes = Prefixes::new(&definitions.or(schema).unwrap_or_default());
        for file in contract.files.iter().filter(|file| !file.is_known()) {
            // Most files declare everything at the root; a schema within may declare its own.
            let root = file.root();
            let documents = contract.schemas.documents.iter().filter(|document| document.file == file.id);
            let embedded = documents.filter_map(|document| file.tree.node(document.node));
            let embedded = embedded.filter(|node| Some(node.id()) != root.map(|root| root.id()));
            for node in root.into_iter().chain(embedded) {
                for declared in node.namespaces() {
                    if let Some(prefix) = declared.name() {
                        prefixes.suggest(prefix, declared.uri());
                    }
                }
            }
        }
        prefixes
    }

    /// The same prefixes, seen from another namespace.
    #[must_use]
    pub fn seen_from(&self, own: &str) -> Prefixes {
        Prefixes { own: own.to_owned(), ..self.clone() }
    }

    /// Declares a prefix for a namespace, unless it has one; another one if that is taken.
    pub fn suggest(&mut self, prefix: &str, namespace: &str) {
        if self.by_namespace.contains_key(namespace) || namespace == ns::XML || prefix == "xml" {
            return;
        }
        let mut free = prefix.to_owned();
        let mut number = 2;
        while self.by_prefix.contains_key(&free) {
            free = format!("{prefix}{number}");
            number += 1;
        }
        self.declare(&free, namespace);
    }

    /// Declares a prefix, in place of what it stood for.
    pub fn declare(&mut self, prefix: &str, namespace: &str) {
        if let Some(at) = self.by_prefix.get(prefix).copied() {
            self.by_namespace.remove(&self.declared[at].1);
            self.declared[at].1 = namespace.to_owned();
            self.by_namespace.insert(namespace.to_owned(), at);
            return;
        }
        self.by_namespace.entry(namespace.to_owned()).or_insert(self.declared.len());
        self.by_prefix.insert(prefix.to_owned(), self.declared.len());
        self.declared.push((prefix.to_owned(), namespace.to_owned()));
    }

    /// The prefix of a namespace.
    pub fn of_namespace(&self, namespace: &str) -> Option<&str> {
        if namespace == ns::XML {
            return Some("xml");
        }
        if let Some(at) = self.by_namespace.get(namespace) {
            return Some(&self.declared[*at].0);
        }
        let usual = USUAL.iter().find(|(_, known)| *known == namespace).map(|(prefix, _)| *prefix);
        usual.filter(|prefix| !self.by_prefix.contains_key(*prefix))
    }

    /// The namespace of a prefix.
    pub fn namespace(&self, prefix: &str) -> Option<&str> {
        if prefix == "xml" {
            return Some(ns::XML);
        }
        let declared = self.by_prefix.get(prefix).map(|at| &self.declared[*at]);
        let usual = || USUAL.iter().find(|(known, _)| *known == prefix).map(|(_, namespace)| *namespace);
        declared.map(|(_, namespace)| namespace.as_str()).or_else(usual)
    }

    /// All prefixes with their namespaces.
    pub fn all(&self) -> impl Iterator<Item = (&str, &str)> {
        self.declared.iter().map(|(prefix, namespace)| (prefix.as_str(), namespace.as_str()))
    }

    /// A name as the notation shows it.
    pub fn name(&self, name: &QName) -> String {
        if *name.namespace == *self.own {
            return word(&name.local);
        }
        match self.of_namespace(&name.namespace) {
            Some(prefix) => format!("{prefix}:{}", name.local),
            None => format!("{{{}}}{}", name.namespace, name.local),
        }
    }

    /// The name of a type: those of the standard carry no prefix.
    pub fn type_name(&self, name: &QName) -> String {
        let is_builtin = Builtin::from_name(&name.local).is_some();
        if is_builtin && *name.namespace == *ns::XSD {
            return name.local.to_string();
        }
        if is_builtin && *name.namespace == *self.own {
            // A type of one's own with a name of the standard.
            return match self.of_namespace(&name.namespace) {
                Some(prefix) => format!("{prefix}:{}", name.local),
                None => format!("{{{}}}{}", name.namespace, name.local),
            };
        }
        self.name(name)
    }
}

/// Words that begin something else than a name.
const RESERVED: [&str; 31] = [
    "about",
    "abstract",
    "all",
    "any",
    "attribute",
    "attributes",
    "binding",
    "choice",
    "contract",
    "either",
    "element",
    "elements",
    "empty",
    "extends",
    "group",
    "key",
    "key-reference",
    "list",
    "message",
    "mixed",
    "operation",
    "port",
    "prefix",
    "restricting",
    "restricts",
    "schema",
    "sequence",
    "service",
    "type",
    "unique",
    "xml",
];

/// A name, in backticks where it could be taken for a word of the notation.
pub(crate) fn word(name: &str) -> String {
    if RESERVED.contains(&name) { format!("`{name}`") } else { name.to_owned() }
}

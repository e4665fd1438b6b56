//! The element info of an XML element: what it says, apart from how it is written.
//!
//! Names are expanded, attributes that only repeat a default are left out, and so are comments and white space
//! between elements. The notation is written from element infos and read into element infos; an edit is the difference of two.

use std::cell::RefCell;
use std::sync::Arc;

use charter_source::{FileId, Interner, NodeId, QName, ns};

/// An element as the notation sees it.
#[derive(Debug, Clone)]
pub struct ElementInfo {
    /// Its name.
    pub name: Arc<QName>,
    /// Its attributes, in the order of the text.
    pub attributes: Vec<(Arc<QName>, Value)>,
    /// What stands in it.
    pub children: Vec<Child>,
    /// The element that it was read from.
    pub origin: Option<Origin>,
    /// For an element outside the vocabularies of contracts: the prefixes that it and its texts use.
    pub prefixes: Option<Box<[(String, String)]>>,
}

/// Where an element info was read.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Origin {
    /// The file.
    pub file: FileId,
    /// The element in its tree.
    pub node: NodeId,
}

/// What can stand in an element.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Child {
    /// An element.
    Element(ElementInfo),
    /// Text.
    Text(String),
    /// A comment, kept only where everything is.
    Comment(String),
}

/// The value of an attribute.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub enum Value {
    /// Text.
    Text(String),
    /// Names of components.
    Names(Vec<Arc<QName>>),
}

impl Value {
    /// The name of a component.
    pub fn name(name: &QName) -> Value {
        Value::Names(vec![shared(&name.namespace, &name.local)])
    }
}

/// Where something was read is not part of what it says.
impl PartialEq for ElementInfo {
    fn eq(&self, other: &ElementInfo) -> bool {
        self.name == other.name
            && self.attributes.len() == other.attributes.len()
            && self.attributes.iter().all(|(name, value)| other.attribute(name) == Some(value))
            && self.children == other.children
    }
}

impl Eq for ElementInfo {}

/// A name that shares its halves with all others of this thread: element infos are made by the hundred thousand, of few names.
pub(crate) fn shared(namespace: &str, local: &str) -> Arc<QName> {
    thread_local! {
        static NAMES: RefCell<Interner> = RefCell::default();
    }
    NAMES.with_borrow_mut(|names| {
        let name = names.qname(namespace, local);
        names.shared(name)
    })
}

/// Most elements have one child or two, and as many attributes; there may be a hundred thousand of them.
pub(crate) fn reserve<T>(list: &mut Vec<T>) {
    if list.len() < 2 {
        list.reserve_exact(1);
    }
}

impl ElementInfo {
    /// An element without attributes and content.
    pub fn new(namespace: &str, local: &str) -> ElementInfo {
        ElementInfo {
            name: shared(namespace, local),
            attributes: Vec::new(),
            children: Vec::new(),
            origin: None,
            prefixes: None,
        }
    }

    /// An element of XML Schema.
    pub fn xsd(local: &str) -> ElementInfo {
        ElementInfo::new(ns::XSD, local)
    }

    /// An element of WSDL 1.1.
    pub fn wsdl(local: &str) -> ElementInfo {
        ElementInfo::new(ns::WSDL, local)
    }

    /// The same with an attribute.
    #[must_use]
    pub fn with(mut self, name: &str, value: impl Into<String>) -> ElementInfo {
        self.set(name, Value::Text(value.into()));
        self
    }

    /// The same with an attribute that names a component.
    #[must_use]
    pub fn naming(mut self, name: &str, target: &QName) -> ElementInfo {
        self.set(name, Value::name(target));
        self
    }

    /// The same with a child.
    #[must_use]
    pub fn holding(mut self, child: ElementInfo) -> ElementInfo {
        self.push(child);
        self
    }

    /// Adds a child.
    pub fn push(&mut self, child: ElementInfo) {
        reserve(&mut self.children);
        self.children.push(Child::Element(child));
    }

    /// Gives an attribute a value.
    pub fn set(&mut self, name: &str, value: Value) {
        let name = shared("", name);
        match self.attributes.iter_mut().find(|(known, _)| *known == name) {
            Some((_, known)) => *known = value,
            None => {
                reserve(&mut self.attributes);
                self.attributes.push((name, value));
            }
        }
    }

    /// An attribute by its expanded name.
    pub fn attribute(&self, name: &QName) -> Option<&Value> {
        self.attributes.iter().find(|(known, _)| **known == *name).map(|(_, value)| value)
    }

    /// The text of an attribute in no namespace.
    pub fn text(&self, name: &str) -> Option<&str> {
        let found = self.attributes.iter().find(|(known, _)| known.is("", name));
        match found {
            Some((_, Value::Text(text))) => Some(text),
            _ => None,
        }
    }

    /// The component that an attribute names.
    pub fn named(&self, name: &str) -> Option<&QName> {
        match self.attributes.iter().find(|(known, _)| known.is("", name)) {
            Some((_, Value::Names(names))) => names.first().map(Arc::as_ref),
            _ => None,
        }
    }

    /// The elements in it.
    pub fn elements(&self) -> impl Iterator<Item = &ElementInfo> {
        self.children.iter().filter_map(|child| match child {
            Child::Element(info) => Some(info),
            _ => None,
        })
    }

    /// The elements in it, to be changed.
    pub fn elements_mut(&mut self) -> impl Iterator<Item = &mut ElementInfo> {
        self.children.iter_mut().filter_map(|child| match child {
            Child::Element(info) => Some(info),
            _ => None,
        })
    }

    /// The prefixes that it and its texts use, with their namespaces.
    pub fn used_prefixes(&self) -> &[(String, String)] {
        self.prefixes.as_deref().unwrap_or(&[])
    }

    /// Whether it has this name.
    pub fn is(&self, namespace: &str, local: &str) -> bool {
        self.name.is(namespace, local)
    }

    /// Whether it is this element of XML Schema.
    pub fn is_xsd(&self, local: &str) -> bool {
        self.is(ns::XSD, local)
    }

    /// Whether it is this element of WSDL 1.1.
    pub fn is_wsdl(&self, local: &str) -> bool {
        self.is(ns::WSDL, local)
    }

    /// The first element in it of a name.
    pub fn child(&self, namespace: &str, local: &str) -> Option<&ElementInfo> {
        self.elements().find(|child| child.is(namespace, local))
    }

    /// The text that stands right in it.
    pub fn content(&self) -> String {
        let texts = self.children.iter().filter_map(|child| match child {
            Child::Text(text) => Some(text.as_str()),
            _ => None,
        });
        texts.collect()
    }
}

//! Attributes of an element, and the namespaces that it declares.

use std::fmt;
use std::ops::Range;

use super::*;

/// An attribute of an element.
#[derive(Clone, Copy)]
pub struct Attribute<'a> {
    pub(super) document: &'a Document<'a>,
    pub(super) index: u32,
}

impl<'a> Attribute<'a> {
    fn data(&self) -> &'a AttributeData {
        &self.document.attributes[self.index as usize]
    }

    /// The namespace of its name.
    pub fn namespace(&self) -> Option<&'a str> {
        match self.data().name() {
            it if it == packed(NONE) => None,
            it if it == packed(XML_NAMESPACE) => Some(ns::XML),
            index => self.document.namespace(index),
        }
    }

    /// The local name.
    pub fn name(&self) -> &'a str {
        self.document.slice(self.data().local())
    }

    /// The value, normalized (XML 1.0, section 3.3.3).
    pub fn value(&self) -> &'a str {
        let data = self.data();
        if data.namespace & DECODED == 0 {
            return self.document.slice(data.value);
        }
        let owned = &self.document.owned;
        let at = owned.binary_search_by_key(&self.index, |(attribute, _)| *attribute);
        at.map_or("", |at| self.document.slice(owned[at].1))
    }

    /// Where it stands, from its name to its last quote.
    pub fn range(&self) -> Range<usize> {
        let data = self.data();
        self.document.written((data.start, data.value.1 + 1))
    }

    /// Where its name stands, with the prefix.
    pub fn range_qname(&self) -> Range<usize> {
        let data = self.data();
        self.document.written((data.start, data.local().1))
    }

    /// Where its value stands, without the quotes.
    pub fn range_value(&self) -> Range<usize> {
        self.document.written(self.data().value)
    }
}

impl PartialEq for Attribute<'_> {
    fn eq(&self, other: &Self) -> bool {
        self.index == other.index && std::ptr::eq(self.document, other.document)
    }
}

impl fmt::Debug for Attribute<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "Attribute({}={:?})", self.name(), self.value())
    }
}

/// A namespace that has a prefix.
#[derive(Clone, Copy)]
pub struct Namespace<'a> {
    pub(super) document: &'a Document<'a>,
    pub(super) declaration: Declaration,
}

impl<'a> Namespace<'a> {
    /// The prefix; nothing for the default namespace.
    pub fn name(&self) -> Option<&'a str> {
        Some(self.document.slice(self.declaration.prefix)).filter(|prefix| !prefix.is_empty())
    }

    /// The namespace; empty where the default one is taken back.
    pub fn uri(&self) -> &'a str {
        self.document.namespace(self.declaration.namespace).unwrap_or("")
    }
}

/// The attributes of an element.
#[derive(Debug, Clone)]
pub struct Attributes<'a> {
    pub(super) document: &'a Document<'a>,
    pub(super) from: usize,
    pub(super) to: usize,
}

impl<'a> Iterator for Attributes<'a> {
    type Item = Attribute<'a>;

    fn next(&mut self) -> Option<Attribute<'a>> {
        (self.from < self.to).then(|| {
            self.from += 1;
            Attribute { document: self.document, index: self.from as u32 - 1 }
        })
    }

    fn size_hint(&self) -> (usize, Option<usize>) {
        (self.to - self.from, Some(self.to - self.from))
    }
}

impl DoubleEndedIterator for Attributes<'_> {
    fn next_back(&mut self) -> Option<Self::Item> {
        (self.from < self.to).then(|| {
            self.to -= 1;
            Attribute { document: self.document, index: self.to as u32 }
        })
    }
}

impl ExactSizeIterator for Attributes<'_> {}

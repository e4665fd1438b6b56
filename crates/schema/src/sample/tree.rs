//! A message as a tree.

use charter_source::QName;

/// An element of a message.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Element {
    /// Its name.
    pub name: QName,
    /// Its attributes.
    pub attributes: Vec<(QName, Text)>,
    /// What it holds.
    pub children: Vec<Node>,
}

/// A child of an element.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Node {
    /// An element.
    Element(Element),
    /// Text.
    Text(Text),
}

/// A value.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Text {
    /// Characters.
    Plain(String),
    /// A name, whose prefix is chosen when it is written.
    Name(QName),
}

impl Element {
    /// An element without content.
    pub fn new(name: QName) -> Self {
        Element { name, attributes: Vec::new(), children: Vec::new() }
    }

    /// The same element with a child.
    pub fn with(mut self, child: Element) -> Self {
        self.children.push(Node::Element(child));
        self
    }

    /// The same element with text.
    pub fn text(mut self, text: impl Into<String>) -> Self {
        self.children.push(Node::Text(Text::Plain(text.into())));
        self
    }

    /// The child elements.
    pub fn elements(&self) -> impl Iterator<Item = &Element> {
        self.children.iter().filter_map(|child| match child {
            Node::Element(element) => Some(element),
            Node::Text(_) => None,
        })
    }
}

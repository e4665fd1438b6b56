//! A message as a tree.

use charter_source::QName;

use crate::TypeId;

/// An element of a message.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Element {
    /// Its name.
    pub name: QName,
    /// Its attributes.
    pub attributes: Vec<(QName, Text)>,
    /// What it holds.
    pub children: Vec<Node>,
    /// The type that it was made by; `None` where no schema says anything.
    pub ty: Option<TypeId>,
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
    /// A list of names.
    Names(Vec<QName>),
}

impl Element {
    /// An element without content.
    pub fn new(name: QName) -> Self {
        Element { name, attributes: Vec::new(), children: Vec::new(), ty: None }
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

    /// The same element with an attribute.
    pub fn attribute(mut self, name: QName, value: impl Into<String>) -> Self {
        self.attributes.push((name, Text::Plain(value.into())));
        self
    }

    /// The text of an element that holds nothing else; names without their namespaces.
    pub fn value(&self) -> String {
        let text = |node: &Node| match node {
            Node::Text(Text::Plain(text)) => text.clone(),
            Node::Text(text) => {
                let names: Vec<&str> = text.names().iter().map(|name| &*name.local).collect();
                names.join(" ")
            }
            Node::Element(_) => String::new(),
        };
        self.children.iter().map(text).collect()
    }

    /// The child elements.
    pub fn elements(&self) -> impl Iterator<Item = &Element> {
        self.children.iter().filter_map(|child| match child {
            Node::Element(element) => Some(element),
            Node::Text(_) => None,
        })
    }

    /// How much there is of it: elements, attributes and texts, its own and all within.
    pub fn weight(&self) -> usize {
        1 + self.attributes.len() + self.children.len() + self.elements().map(Element::weight).sum::<usize>()
    }
}

impl Text {
    /// The names in it that need a prefix.
    pub fn names(&self) -> &[QName] {
        match self {
            Text::Plain(_) => &[],
            Text::Name(name) => std::slice::from_ref(name),
            Text::Names(names) => names,
        }
    }
}

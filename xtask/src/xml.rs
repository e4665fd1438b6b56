//! Elements to build schemas and messages from, and to change.

use std::fmt::Write;

/// An element.
#[derive(Debug, Clone, Default)]
pub struct Xml {
    /// Its name, with a prefix.
    pub name: String,
    /// Its attributes.
    pub attributes: Vec<(String, String)>,
    /// What is in it.
    pub children: Vec<Xml>,
    /// Its text, if it has no children.
    pub text: String,
}

impl Xml {
    pub fn new(name: &str) -> Xml {
        Xml { name: name.to_owned(), ..Xml::default() }
    }

    pub fn with(mut self, name: &str, value: impl Into<String>) -> Xml {
        self.attributes.push((name.to_owned(), value.into()));
        self
    }

    pub fn holding(mut self, children: impl IntoIterator<Item = Xml>) -> Xml {
        self.children.extend(children);
        self
    }

    /// The element as text, a line for each.
    pub fn to_text(&self) -> String {
        let mut text = String::new();
        self.write(&mut text);
        text
    }

    fn write(&self, text: &mut String) {
        let _ = write!(text, "<{}", self.name);
        for (name, value) in &self.attributes {
            let _ = write!(text, " {name}=\"{}\"", escaped(value));
        }
        if self.children.is_empty() && self.text.is_empty() {
            text.push_str("/>");
            return;
        }
        text.push('>');
        text.push_str(&escaped(&self.text));
        for child in &self.children {
            child.write(text);
        }
        let _ = write!(text, "</{}>", self.name);
        if !self.children.is_empty() {
            text.push('\n');
        }
    }

    /// All elements from this one down, as paths of positions.
    pub fn paths(&self) -> Vec<Vec<usize>> {
        let mut found = vec![Vec::new()];
        for (at, child) in self.children.iter().enumerate() {
            found.extend(child.paths().into_iter().map(|mut path| {
                path.insert(0, at);
                path
            }));
        }
        found
    }

    /// The element at a path.
    pub fn at(&mut self, path: &[usize]) -> &mut Xml {
        match path.split_first() {
            None => self,
            Some((first, rest)) => self.children[*first].at(rest),
        }
    }

    /// The element that a parsed node is.
    pub fn read(node: roxmltree::Node<'_, '_>) -> Xml {
        let source = node.document().input_text();
        let tag = &source[node.range()][1..];
        let end = tag.find([' ', '/', '>', '\n', '\t']).unwrap_or(tag.len());
        let mut xml = Xml::new(&tag[..end]);
        let parent_namespaces: Vec<_> = node
            .parent_element()
            .map_or(Vec::new(), |parent| parent.namespaces().map(|it| (it.name(), it.uri())).collect());
        for namespace in node.namespaces().filter(|it| it.name() != Some("xml")) {
            if !parent_namespaces.contains(&(namespace.name(), namespace.uri())) {
                let name = namespace.name().map_or("xmlns".to_owned(), |prefix| format!("xmlns:{prefix}"));
                xml.attributes.push((name, namespace.uri().to_owned()));
            }
        }
        for attribute in node.attributes() {
            xml.attributes.push((source[attribute.range_qname()].to_owned(), attribute.value().to_owned()));
        }
        xml.children = node.children().filter(|child| child.is_element()).map(Xml::read).collect();
        if xml.children.is_empty() {
            xml.text = node.children().filter_map(|child| child.text()).collect();
        }
        xml
    }
}

fn escaped(text: &str) -> String {
    text.replace('&', "&amp;")
        .replace('<', "&lt;")
        .replace('>', "&gt;")
        .replace('"', "&quot;")
        .replace('\n', "&#10;")
        .replace('\t', "&#9;")
        .replace('\r', "&#13;")
}

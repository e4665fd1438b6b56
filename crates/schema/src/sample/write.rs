//! Writes a tree as XML, with as few prefixes as its reader needs.
//!
//! The root keeps a prefix. Below it, each element in a namespace of its own makes that namespace the default
//! one, so that a body reads without prefixes; other namespaces in it are declared there, under the prefix
//! that the contract uses for them.

use charter_source::xml::{Escape, escaped};
use charter_source::{Map, QName, Set, ns};

use super::{Element, Node, Text};

const VALUE: Escape = Escape::Value('"');

/// The element as indented XML. `wanted` gives the preferred prefix of a namespace; `envelope` is the prefix
/// of the root's own namespace.
pub fn to_xml(root: &Element, envelope: &str, wanted: &dyn Fn(&str) -> Option<String>) -> String {
    let mut writer =
        Writer { text: String::new(), wanted, scopes: Vec::new(), envelope: root.name.namespace.to_string() };
    let mut scope = Scope::default();
    scope.declare(&root.name.namespace, Some(envelope.to_owned()));
    let declaration = format!(" xmlns:{envelope}=\"{}\"", escaped(&root.name.namespace, VALUE));
    let mut own = namespaces(&Element { children: texts(root), ..root.clone() });
    own.retain(|namespace| !namespace.is_empty());
    let (scope, more) = writer.prefixed(scope, own);
    writer.scopes.push(scope);
    let declaration = declaration + &more;
    writer.element(root, &declaration, 0, true);
    writer.text
}

/// The element by itself, as it would stand in an envelope: its own namespace is the default one, where it can be.
pub fn to_fragment(element: &Element, wanted: &dyn Fn(&str) -> Option<String>) -> String {
    let scopes = vec![Scope::default()];
    let mut writer = Writer { text: String::new(), wanted, scopes, envelope: String::new() };
    writer.child(element, 0, false);
    writer.text
}

/// The element as a document of its own: all namespaces are declared at the root, each with a prefix.
pub fn to_document(root: &Element) -> String {
    let mut prefixes: Map<String, String> = Map::default();
    let mut declarations = String::new();
    let mut needed = Vec::new();
    every_namespace(root, &mut needed);
    for namespace in needed.into_iter().filter(|namespace| !namespace.is_empty() && namespace != ns::XML) {
        if prefixes.contains_key(&namespace) {
            continue;
        }
        let prefix = match namespace.as_str() {
            ns::XSI => "xsi".to_owned(),
            ns::XSD => "xs".to_owned(),
            other => free(&prefixes, other),
        };
        declarations.push_str(&format!(" xmlns:{prefix}=\"{}\"", escaped(&namespace, VALUE)));
        prefixes.insert(namespace, prefix);
    }
    prefixes.insert(ns::XML.to_owned(), "xml".to_owned());
    let mut text = String::new();
    write_plain(root, &prefixes, &declarations, 0, &mut text);
    text.push('\n');
    text
}

/// A prefix for a namespace, after the last word in it.
fn free(taken: &Map<String, String>, namespace: &str) -> String {
    let words = namespace.rsplit([':', '/', '#', '.']);
    let mut words = words.filter(|word| charter_source::is_ncname(word) && word.len() < 16);
    let word = words.next().map_or("n".to_owned(), str::to_lowercase);
    numbered(&word, |prefix| taken.values().any(|known| known == prefix))
}

/// The word as a prefix that is not taken, with a number if it must be. Prefixes that begin with `xml` are reserved
/// (Namespaces in XML, section 3), so such a beginning is left out.
fn numbered(word: &str, taken: impl Fn(&str) -> bool) -> String {
    let mut base = word;
    while let Some(rest) = base.get(..3).filter(|head| head.eq_ignore_ascii_case("xml")).map(|_| &base[3..]) {
        base = rest;
    }
    let base = if charter_source::is_ncname(base) { base.to_owned() } else { format!("n{base}") };
    let base = if charter_source::is_ncname(&base) { base } else { "n".to_owned() };
    let mut prefix = base.clone();
    let mut number = 2;
    while taken(&prefix) {
        prefix = format!("{base}{number}");
        number += 1;
    }
    prefix
}

/// The namespaces of all names in an element, in the order in which they come.
fn every_namespace(element: &Element, found: &mut Vec<String>) {
    let mut add = |name: &QName| {
        if found.last().is_none_or(|last| *last != *name.namespace) {
            found.push(name.namespace.to_string());
        }
    };
    add(&element.name);
    for (name, value) in &element.attributes {
        add(name);
        value.names().iter().for_each(&mut add);
    }
    for child in &element.children {
        match child {
            Node::Text(text) => found.extend(text.names().iter().map(|name| name.namespace.to_string())),
            Node::Element(child) => every_namespace(child, found),
        }
    }
}

fn write_plain(
    element: &Element,
    prefixes: &Map<String, String>,
    declarations: &str,
    depth: usize,
    text: &mut String,
) {
    let qualified = |name: &QName| match prefixes.get(&*name.namespace) {
        Some(prefix) => format!("{prefix}:{}", name.local),
        None => name.local.to_string(),
    };
    let value = |value: &Text, place: Escape| match value {
        Text::Plain(text) => escaped(text, place),
        Text::Name(name) => qualified(name),
        Text::Names(names) => names.iter().map(qualified).collect::<Vec<_>>().join(" "),
    };
    let name = qualified(&element.name);
    text.push_str(&format!("<{name}{declarations}"));
    for (attribute, content) in &element.attributes {
        text.push_str(&format!(" {}=\"{}\"", qualified(attribute), value(content, VALUE)));
    }
    if element.children.is_empty() {
        text.push_str("/>");
        return;
    }
    text.push('>');
    // White space between elements and text would be part of the content.
    let tidy = element.children.iter().all(|child| matches!(child, Node::Element(_)));
    for child in &element.children {
        match child {
            Node::Element(child) => {
                if tidy {
                    text.push_str(&format!("\n{}", "  ".repeat(depth + 1)));
                }
                write_plain(child, prefixes, "", depth + 1, text);
            }
            Node::Text(content) => text.push_str(&value(content, Escape::Text)),
        }
    }
    if tidy {
        text.push_str(&format!("\n{}", "  ".repeat(depth)));
    }
    text.push_str(&format!("</{name}>"));
}

/// The prefixes declared at one place: `None` is the default namespace.
#[derive(Default, Clone)]
struct Scope {
    prefixes: Map<String, Option<String>>,
}

impl Scope {
    fn declare(&mut self, namespace: &str, prefix: Option<String>) {
        self.prefixes.insert(namespace.to_owned(), prefix);
    }

    fn default_namespace(&self) -> Option<&str> {
        self.prefixes.iter().find(|(_, prefix)| prefix.is_none()).map(|(namespace, _)| namespace.as_str())
    }
}

struct Writer<'w> {
    text: String,
    wanted: &'w dyn Fn(&str) -> Option<String>,
    scopes: Vec<Scope>,
    /// The namespace of the root.
    envelope: String,
}

impl Writer<'_> {
    fn scope(&self) -> Scope {
        self.scopes.last().cloned().unwrap_or_default()
    }

    /// `frame` tells that the element belongs to the envelope and not to what it carries.
    fn element(&mut self, element: &Element, declarations: &str, depth: usize, frame: bool) {
        let name = self.name(&element.name);
        self.indent(depth);
        self.text.push_str(&format!("<{name}{declarations}"));
        for (attribute, value) in &element.attributes {
            let attribute = self.attribute_name(attribute);
            let value = self.value(value, VALUE);
            self.text.push_str(&format!(" {attribute}=\"{value}\""));
        }
        if element.children.is_empty() {
            self.text.push_str("/>\n");
            return;
        }
        self.text.push('>');
        // White space between elements and text would be part of the content.
        if element.children.iter().any(|child| matches!(child, Node::Text(_))) {
            for child in &element.children {
                match child {
                    Node::Text(text) => {
                        let value = self.value(text, Escape::Text);
                        self.text.push_str(&value);
                    }
                    Node::Element(child) => {
                        self.child(child, 0, frame);
                        self.text.truncate(self.text.trim_end_matches('\n').len());
                    }
                }
            }
        } else {
            self.text.push('\n');
            for child in &element.children {
                if let Node::Element(child) = child {
                    self.child(child, depth + 1, frame);
                }
            }
            self.indent(depth);
        }
        self.text.push_str(&format!("</{name}>\n"));
    }

    /// A child that is in a namespace not yet declared begins a block: it declares all that it needs.
    fn child(&mut self, child: &Element, depth: usize, in_frame: bool) {
        // The envelope's own elements, and those without a namespace that a fault has, declare nothing.
        let own = child.name.namespace.is_empty() || *child.name.namespace == *self.envelope;
        let scope = self.scope();
        if in_frame && own {
            // What stands in it declares what it needs itself.
            let bare = Element { children: texts(child), ..child.clone() };
            let mut needed = namespaces(&bare);
            needed.retain(|namespace| !namespace.is_empty());
            let (scope, declarations) = self.prefixed(scope, needed);
            self.scopes.push(scope);
            self.element(child, &declarations, depth, true);
            self.scopes.pop();
            return;
        }
        let known = match &*child.name.namespace {
            "" => scope.default_namespace().is_none_or(str::is_empty),
            namespace => scope.prefixes.contains_key(namespace),
        };
        let needed = namespaces(child);
        if known && needed.iter().all(|ns| ns.is_empty() || scope.prefixes.contains_key(ns)) {
            return self.element(child, "", depth, false);
        }
        let (scope, declarations) = self.declare(scope, child, needed);
        self.scopes.push(scope);
        self.element(child, &declarations, depth, false);
        self.scopes.pop();
    }

    fn declare(&self, mut scope: Scope, child: &Element, needed: Vec<String>) -> (Scope, String) {
        let own = &*child.name.namespace;
        let mut declarations = String::new();
        let unqualified = needed.iter().any(String::is_empty);
        if own.is_empty() {
            // A default namespace from outside must not catch names that have none.
            if scope.default_namespace().is_some_and(|default| !default.is_empty()) {
                scope.prefixes.retain(|_, prefix| prefix.is_some());
                declarations.push_str(" xmlns=\"\"");
            }
        } else if !unqualified && !scope.prefixes.contains_key(own) && !has_attribute_of(child, own) {
            scope.prefixes.retain(|_, prefix| prefix.is_some());
            scope.declare(own, None);
            declarations.push_str(&format!(" xmlns=\"{}\"", escaped(own, VALUE)));
        }
        let (scope, more) = self.prefixed(scope, needed);
        (scope, declarations + &more)
    }

    /// Declares a prefix for each namespace that has none.
    fn prefixed(&self, mut scope: Scope, needed: Vec<String>) -> (Scope, String) {
        let mut declarations = String::new();
        let mut taken: Set<String> = scope.prefixes.values().flatten().cloned().collect();
        for namespace in needed {
            if namespace.is_empty() || namespace == ns::XML || scope.prefixes.contains_key(&namespace) {
                continue;
            }
            let prefix = free_prefix(&namespace, (self.wanted)(&namespace), &taken);
            taken.insert(prefix.clone());
            declarations.push_str(&format!(" xmlns:{prefix}=\"{}\"", escaped(&namespace, VALUE)));
            scope.declare(&namespace, Some(prefix));
        }
        (scope, declarations)
    }

    fn name(&self, name: &QName) -> String {
        match self.scopes.last().and_then(|scope| scope.prefixes.get(&*name.namespace)) {
            Some(Some(prefix)) => format!("{prefix}:{}", name.local),
            _ => name.local.to_string(),
        }
    }

    /// An attribute without a prefix is in no namespace, whatever the default.
    fn attribute_name(&self, name: &QName) -> String {
        match &*name.namespace {
            "" => name.local.to_string(),
            ns::XML => format!("xml:{}", name.local),
            _ => self.name(name),
        }
    }

    fn value(&self, text: &Text, place: Escape) -> String {
        match text {
            Text::Plain(text) => escaped(text, place),
            Text::Name(name) => self.name(name),
            Text::Names(names) => names.iter().map(|name| self.name(name)).collect::<Vec<_>>().join(" "),
        }
    }

    fn indent(&mut self, depth: usize) {
        self.text.extend(std::iter::repeat_n("  ", depth));
    }
}

/// Whether an attribute in an element is in a namespace: it needs a prefix, the default one is not for it.
fn has_attribute_of(element: &Element, namespace: &str) -> bool {
    element.attributes.iter().any(|(name, _)| *name.namespace == *namespace)
        || element.elements().any(|child| has_attribute_of(child, namespace))
}

/// The texts among the children of an element.
fn texts(element: &Element) -> Vec<Node> {
    element.children.iter().filter(|child| matches!(child, Node::Text(_))).cloned().collect()
}

/// The namespaces that an element and all within it use, in document order. Attributes in a namespace need a
/// prefix, so theirs are listed apart if they are that of the element.
fn namespaces(element: &Element) -> Vec<String> {
    let mut found = Vec::new();
    let mut seen = Set::default();
    let mut waiting = vec![element];
    let mut add = |namespace: &str, found: &mut Vec<String>| {
        if seen.insert(namespace.to_owned()) {
            found.push(namespace.to_owned());
        }
    };
    while let Some(element) = waiting.pop() {
        add(&element.name.namespace, &mut found);
        for (name, value) in &element.attributes {
            if !name.namespace.is_empty() {
                add(&name.namespace, &mut found);
            }
            value.names().iter().for_each(|name| add(&name.namespace, &mut found));
        }
        for child in &element.children {
            if let Node::Text(text) = child {
                text.names().iter().for_each(|name| add(&name.namespace, &mut found));
            }
        }
        let children: Vec<&Element> = element.elements().collect();
        waiting.extend(children.into_iter().rev());
    }
    found
}

/// The wanted prefix, or one made from the namespace, with a number if it is taken.
fn free_prefix(namespace: &str, wanted: Option<String>, taken: &Set<String>) -> String {
    let made = || {
        let word = namespace
            .rsplit(|c: char| !c.is_ascii_alphanumeric())
            .find(|word| word.starts_with(|c: char| c.is_ascii_alphabetic()));
        word.map_or_else(|| "n".to_owned(), str::to_ascii_lowercase)
    };
    let base = match namespace {
        ns::XSI => "xsi".to_owned(),
        _ => wanted.unwrap_or_else(made),
    };
    numbered(&base, |prefix| taken.contains(prefix))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_written_is_read_as_the_same_names() {
        let unqualified = Element::new(QName::new("", "point")).text("north & south");
        let mut body = Element::new(QName::new("urn:a", "request")).with(unqualified);
        body.attributes.push((QName::new("urn:b", "mark"), Text::Plain("\"1\"".into())));
        body.attributes.push((QName::new(ns::XSI, "type"), Text::Name(QName::new("urn:a", "T"))));
        let inner = Element::new(QName::new("urn:c", "only")).with(Element::new(QName::new("urn:c", "leaf")));
        let root = Element::new(QName::new("urn:env", "Envelope"))
            .with(Element::new(QName::new("urn:env", "Body")).with(body).with(inner));
        let text = to_xml(&root, "env", &|_| None);
        let document = roxmltree::Document::parse(&text).unwrap();
        let names: Vec<String> = document
            .descendants()
            .filter(|node| node.is_element())
            .map(|node| format!("{}|{}", node.tag_name().namespace().unwrap_or(""), node.tag_name().name()))
            .collect();
        assert_eq!(
            names,
            ["urn:env|Envelope", "urn:env|Body", "urn:a|request", "|point", "urn:c|only", "urn:c|leaf"],
            "{text}"
        );
        let request = document.descendants().find(|node| node.has_tag_name("request")).unwrap();
        assert_eq!(request.attribute(("urn:b", "mark")), Some("\"1\""));
        let ty = request.attribute((ns::XSI, "type")).unwrap();
        let prefix = ty.split_once(':').unwrap().0;
        assert_eq!(request.lookup_namespace_uri(Some(prefix)), Some("urn:a"));
        assert_eq!(request.first_element_child().unwrap().text(), Some("north & south"));
    }
}

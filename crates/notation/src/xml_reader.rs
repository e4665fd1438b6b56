//! Reads element infos from XML.

use std::sync::Arc;

use charter_schema::SchemaDocument;
use charter_source::{FileId, Interner, Node, QName, ns, resolve_qname, words_before_colons};

use crate::info::{Child, ElementInfo, Origin, Value};
use crate::{paths, vocabulary};

/// The one copy of a name.
fn one(names: &mut Interner, namespace: Option<&str>, local: &str) -> Arc<QName> {
    let name = names.qname(namespace.unwrap_or(""), local);
    names.shared(name)
}

/// Reads elements of one file.
pub(crate) struct XmlReader<'f> {
    pub names: &'f mut Interner,
    /// The file, if what is read may be found there again.
    pub file: Option<FileId>,
    /// What holds for components of the schema that is being read.
    pub settings: Settings,
}

/// What a schema settles for the components in it, and what the schema that they are shown in settles.
#[derive(Debug, Clone, Default)]
pub(crate) struct Settings {
    /// The namespace of an including schema, which names without one take on.
    pub adopted: Option<Arc<str>>,
    /// How the document and the block that shows it qualify elements, then attributes.
    pub elements: (bool, bool),
    pub attributes: (bool, bool),
    /// What the document and the block say by default of `block` and `final`.
    pub block: (String, String),
    pub final_: (String, String),
}

impl Settings {
    /// The settings of a document that is shown in a block with the settings of another.
    pub fn of(document: &SchemaDocument, node: Node<'_>, block: Node<'_>) -> Settings {
        let qualified = |node: Node<'_>, name: &str| node.attribute(name).map(str::trim) == Some("qualified");
        let both = |name: &str| (qualified(node, name), qualified(block, name));
        let words = |name: &str| {
            let of = |node: Node<'_>| node.attribute(name).unwrap_or("").trim().to_owned();
            (of(node), of(block))
        };
        Settings {
            adopted: document.adopted.then(|| document.namespace.clone()),
            elements: both("elementFormDefault"),
            attributes: both("attributeFormDefault"),
            block: words("blockDefault"),
            final_: words("finalDefault"),
        }
    }
}

impl XmlReader<'_> {
    /// The element info of an element with everything in it.
    pub fn info(&mut self, node: Node<'_>) -> ElementInfo {
        let mut info = self.head(node);
        if vocabulary::is_known(&info.name.namespace) && !vocabulary::is_open(&info.name) {
            info.children = self.children(node);
        } else {
            info.children = open_children(self, node);
            info.prefixes =
                Some(prefixes(node, &info.name)).filter(|found| !found.is_empty()).map(Vec::into_boxed_slice);
        }
        info
    }

    /// The element info of an element without what stands in it.
    pub fn head(&mut self, node: Node<'_>) -> ElementInfo {
        let name = one(self.names, node.tag_name().namespace(), node.tag_name().name());
        let mut attributes = Vec::with_capacity(node.attributes().len() + 1);
        for attribute in node.attributes() {
            let own = one(self.names, attribute.namespace(), attribute.name());
            let value = match &*own.namespace {
                "" => self.value(node, &name, &own.local, attribute.value()),
                // What need not be understood is the rule.
                ns::WSDL if &*own.local == "required" && matches!(attribute.value(), "false" | "0") => None,
                _ => Some(Value::Text(attribute.value().to_owned())),
            };
            attributes.extend(value.map(|value| (own, value)));
        }
        self.settle(node, &name, &mut attributes);
        attributes.shrink_to_fit();
        let origin = self.file.map(|file| Origin { file, node: node.id() });
        ElementInfo { name, attributes, children: Vec::new(), origin, prefixes: None }
    }

    fn value(&mut self, node: Node<'_>, element: &QName, attribute: &str, value: &str) -> Option<Value> {
        if vocabulary::holds_names(element, attribute) {
            let names: Option<Vec<Arc<QName>>> =
                value.split_ascii_whitespace().map(|token| self.component(node, element, token)).collect();
            // A name whose prefix is not declared stays as it is written.
            return Some(names.map_or_else(|| Value::Text(value.to_owned()), Value::Names));
        }
        if vocabulary::holds_path(element, attribute) {
            let namespace = |prefix: &str| node.lookup_namespace_uri(Some(prefix)).map(str::to_owned);
            return Some(Value::Text(
                paths::expanded(value, &namespace).unwrap_or_else(|_| value.to_owned()),
            ));
        }
        vocabulary::said(element, attribute, value).map(Value::Text)
    }

    fn component(&mut self, node: Node<'_>, element: &QName, token: &str) -> Option<Arc<QName>> {
        let mut name = resolve_qname(self.names, node, token).ok()?;
        if let Some(adopted) = &self.settings.adopted
            && name.namespace.is_empty()
            && *element.namespace == *ns::XSD
        {
            name.namespace = adopted.clone();
        }
        Some(self.names.shared(name))
    }

    /// Says what the document of a component settles, where the block that shows it settles otherwise.
    fn settle(&mut self, node: Node<'_>, element: &QName, attributes: &mut Vec<(Arc<QName>, Value)>) {
        if matches!(&*element.namespace, ns::WSDL_SOAP11 | ns::WSDL_SOAP12)
            && &*element.local == "binding"
            && !attributes.iter().any(|(name, _)| name.is("", "style"))
        {
            attributes.push((one(self.names, None, "style"), Value::Text("document".to_owned())));
        }
        if *element.namespace != *ns::XSD {
            return;
        }
        let global = node.parent().is_some_and(|parent| {
            parent.has_tag_name((ns::XSD, "schema")) || parent.has_tag_name((ns::XSD, "redefine"))
        });
        let (own, shown) = match &*element.local {
            "element" => self.settings.elements,
            "attribute" => self.settings.attributes,
            _ => (false, false),
        };
        let position = attributes.iter().position(|(name, _)| name.is("", "form"));
        let is_local = !global && node.has_attribute("name");
        if is_local && matches!(&*element.local, "element" | "attribute") {
            let word = |qualified: bool| if qualified { "qualified" } else { "unqualified" };
            let said = position.map(|at| attributes.remove(at).1);
            let effective = said.unwrap_or_else(|| Value::Text(word(own).to_owned()));
            if effective != Value::Text(word(shown).to_owned()) {
                attributes.push((one(self.names, None, "form"), effective));
            }
        }
        for (name, (own, shown)) in [("block", &self.settings.block), ("final", &self.settings.final_)] {
            let applies = match (&*element.local, name) {
                ("element", "final") | ("simpleType", "final") | ("complexType", "final") => global,
                ("complexType", "block") => global,
                ("element", "block") => node.has_attribute("name"),
                _ => false,
            };
            let said = attributes.iter().any(|(known, _)| known.is("", name));
            if applies && !said && own != shown {
                attributes.push((one(self.names, None, name), Value::Text(own.clone())));
            }
        }
    }

    fn children(&mut self, node: Node<'_>) -> Vec<Child> {
        let text = |child: Node<'_>| {
            let text = child.text().filter(|_| child.is_text());
            text.map(str::trim).filter(|text| !text.is_empty()).map(str::to_owned)
        };
        let count = node.children().filter(|child| child.is_element() || text(*child).is_some()).count();
        // There are a hundred thousand of them: none has more room than it needs.
        let mut children = Vec::with_capacity(count);
        for child in node.children() {
            if child.is_element() {
                children.push(Child::Element(self.info(child)));
            } else {
                children.extend(text(child).map(Child::Text));
            }
        }
        children
    }
}

/// Everything in an element that is not of the contract itself. White space between elements says nothing; in
/// documentation neither does indentation.
fn open_children(reading: &mut XmlReader<'_>, node: Node<'_>) -> Vec<Child> {
    let is_blank = |text: Option<&str>| text.is_none_or(|text| text.trim().is_empty());
    let elements = node.children().any(|child| child.is_element() || child.is_comment());
    let mixed = node.children().any(|child| child.is_text() && !is_blank(child.text()));
    let mut children = Vec::new();
    for child in node.children() {
        if child.is_element() {
            children.push(Child::Element(reading.info(child)));
        } else if child.is_comment() {
            children.push(Child::Comment(child.text().unwrap_or("").to_owned()));
        } else if child.is_text() && (mixed || !elements) {
            match (children.last_mut(), child.text()) {
                (Some(Child::Text(before)), Some(text)) => before.push_str(text),
                (_, text) => children.push(Child::Text(text.unwrap_or("").to_owned())),
            }
        }
    }
    if let [Child::Text(text)] = children.as_mut_slice()
        && node.tag_name().name() == "documentation"
    {
        *text = tidy(text);
    }
    children.retain(|child| !matches!(child, Child::Text(text) if text.is_empty()));
    children
}

/// Words without the indentation of their lines.
pub(crate) fn tidy(text: &str) -> String {
    let lines: Vec<&str> = text.trim().lines().map(str::trim).collect();
    lines.join("\n")
}

/// The prefixes that an element needs from around it, in its own names or in its texts.
fn prefixes(node: Node<'_>, name: &QName) -> Vec<(String, String)> {
    let mut found: Vec<(String, String)> = Vec::new();
    let mut range = node.range();
    if vocabulary::is_open(name) {
        // Its own name has its usual prefix.
        let (Some(first), Some(last)) = (node.first_child(), node.last_child()) else { return found };
        range = first.range().start..last.range().end;
    }
    let source = &node.document().input_text()[range];
    for prefix in words_before_colons(source).into_iter().filter(|prefix| *prefix != "xml") {
        if let Some(namespace) = node.lookup_namespace_uri(Some(prefix)).filter(|_| !prefix.is_empty()) {
            found.push((prefix.to_owned(), namespace.to_owned()));
        }
    }
    found.sort();
    found
}

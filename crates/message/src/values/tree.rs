//! Elements of a document that was read, as elements that know their types.

use charter_contract::WireElement;
use charter_schema::{Assess, Engine, TypeId, expanded, targets};
use charter_source::NodeId;
use charter_source::{FileId, Map, Node as XmlNode, QName, ns};

use super::scalar::is_name;
use crate::{Element, Node, Text, WireContent};

/// What fills a wire shape, read from the elements that are its contents, in order.
pub fn wire_content<'r>(
    engine: &'r Engine<'r>,
    file: FileId,
    contents: &[(XmlNode<'r>, WireElement)],
    encoded: bool,
) -> WireContent {
    let elements = contents.iter().map(|(node, content)| element(engine, file, *node, content, encoded));
    WireContent { elements: elements.collect() }
}

/// An element of a document, with the types of all that it holds.
pub fn element<'r>(
    engine: &'r Engine<'r>,
    file: FileId,
    node: XmlNode<'r>,
    content: &WireElement,
    encoded: bool,
) -> Element {
    let (assess, declared) = match content {
        WireElement::Declared(id) => (Assess::By(*id), engine.schemas().element_type(*id)),
        WireElement::Typed { ty, .. } => (Assess::As(*ty), *ty),
    };
    let types = engine.types_of(file, &[(node, assess)], encoded);
    DocumentReader { engine, types, encoded, targets: std::cell::OnceCell::new() }.element(
        node,
        None,
        Some(declared),
        0,
    )
}

struct DocumentReader<'r> {
    engine: &'r Engine<'r>,
    types: Map<NodeId, TypeId>,
    encoded: bool,
    /// The values that references may lead to, once there is a reference.
    targets: std::cell::OnceCell<Map<&'r str, XmlNode<'r>>>,
}

/// References that are followed from one value to the next.
const MOST_FOLLOWED: usize = 50;

impl<'r> DocumentReader<'r> {
    /// The value that an encoded one refers to.
    fn referred(&self, node: XmlNode<'r>) -> Option<XmlNode<'r>> {
        let reference = node.attribute("href").or_else(|| node.attribute((ns::SOAP12_ENCODING, "ref")))?;
        let id = reference.trim().trim_start_matches('#');
        self.targets.get_or_init(|| targets(node)).get(id).copied()
    }

    /// `given` is the type of a member of an array; `declared` the type that the content model says.
    fn element(
        &self,
        node: XmlNode<'r>,
        given: Option<TypeId>,
        declared: Option<TypeId>,
        followed: usize,
    ) -> Element {
        let tag = node.tag_name();
        let name = QName::new(tag.namespace().unwrap_or(""), tag.name());
        if self.encoded
            && followed < MOST_FOLLOWED
            && let Some(target) = self.referred(node)
        {
            let mut element = self.element(target, given, declared, followed + 1);
            element.name = name;
            return element;
        }
        let mut element = Element::new(name);
        element.ty = self.types.get(&node.id()).copied().or(given);
        let array = element.ty.filter(|_| self.encoded).and_then(|ty| self.engine.encoded_array(ty));
        for attribute in node.attributes() {
            let name = QName::new(attribute.namespace().unwrap_or(""), attribute.name());
            let of_encoding = match &*name.namespace {
                "" => self.encoded && matches!(&*name.local, "id" | "href"),
                ns::SOAP11_ENCODING | ns::SOAP12_ENCODING => self.encoded,
                ns::SOAP11_ENVELOPE | ns::SOAP12_ENVELOPE => true,
                // An encoded value always names its type; only one that is not declared says something.
                ns::XSI => &*name.local == "type" && self.encoded && element.ty == declared.or(given),
                _ => false,
            };
            if !of_encoding {
                let text = self.attribute(node, element.ty, &name, attribute.value());
                element.attributes.push((name, text));
            }
        }
        let simple = element.ty.is_some_and(|ty| self.engine.schemas().has_simple_content(ty));
        let mixed = element
            .ty
            .is_none_or(|ty| self.engine.schemas().is_mixed(ty) || self.engine.schemas().is_any(ty));
        let has_elements = node.children().any(|child| child.is_element());
        for child in node.children() {
            if child.is_element() {
                let item = array.as_ref().filter(|array| array.inner.is_empty()).map(|array| array.item);
                let declared = item.or_else(|| self.declared_in(element.ty, child));
                element.children.push(Node::Element(self.element(child, item, declared, followed)));
            } else if child.is_text() {
                let text = child.text().unwrap_or("");
                let blank = text.trim().is_empty();
                // White space around elements is layout; around text in mixed content it may mean something.
                if simple || (mixed && array.is_none() && !(blank && has_elements)) {
                    element.children.push(Node::Text(Text::Plain(text.to_owned())));
                }
            }
        }
        if simple {
            self.as_names(&mut element, node);
        }
        element
    }

    /// The type that the content model gives a child.
    fn declared_in(&self, parent: Option<TypeId>, child: XmlNode<'_>) -> Option<TypeId> {
        let schemas = self.engine.schemas();
        let children = schemas.children(parent.filter(|_| self.encoded)?);
        let tag = child.tag_name();
        let name = QName::new(tag.namespace().unwrap_or(""), tag.name());
        let found = children.iter().find(|(id, _)| schemas.elements[*id].name == name).map(|(id, _)| *id);
        // One that stands for another, or that a wildcard lets in.
        let found = found.or_else(|| schemas.element_named(&name));
        found.map(|id| schemas.element_type(id))
    }

    fn attribute(&self, node: XmlNode<'_>, ty: Option<TypeId>, name: &QName, value: &str) -> Text {
        if name.is(ns::XSI, "type") {
            return expanded(node, value.trim()).map_or(Text::Plain(value.to_owned()), Text::Name);
        }
        let schemas = self.engine.schemas();
        let declared = ty.and_then(|ty| self.engine.attribute_type(ty, name));
        let global = || schemas.attribute_named(name).and_then(|id| schemas.attribute_decls[id].ty.target);
        let ty = declared.or_else(global);
        self.names(node, ty, value).unwrap_or_else(|| Text::Plain(value.to_owned()))
    }

    /// Replaces a text that is a name by the name.
    fn as_names(&self, element: &mut Element, node: XmlNode<'_>) {
        let text = element.value();
        if let Some(names) = self.names(node, element.ty, &text) {
            element.children = vec![Node::Text(names)];
        }
    }

    fn names(&self, node: XmlNode<'_>, ty: Option<TypeId>, text: &str) -> Option<Text> {
        let datatype = self.engine.datatype(ty?)?;
        if is_name(datatype) {
            return expanded(node, text.trim()).map(Text::Name);
        }
        match &datatype.variety {
            charter_schema::Variety::List(item) if is_name(item) => {
                let names = text.split_ascii_whitespace().map(|word| expanded(node, word));
                names.collect::<Option<Vec<_>>>().map(Text::Names)
            }
            _ => None,
        }
    }
}

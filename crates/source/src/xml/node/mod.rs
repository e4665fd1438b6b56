//! The tree of a text, and how it is looked at.

mod attribute;

use std::fmt;
use std::hash::{Hash, Hasher};
use std::ops::Range;

use super::scopes::XML_NAMESPACE;
use super::scopes::{Declaration, NONE, Scopes, Stretch};
use crate::{Set, ns};

pub use attribute::{Attribute, Attributes, Namespace};

/// The last attribute of an element.
pub(super) const LAST: u32 = 1 << 31;
/// An attribute whose value is not as it is written.
pub(super) const DECODED: u32 = 1 << 30;

/// A text as a tree. Its nodes are kept in the order of the text, so that a parent stands before its children.
pub struct Document<'t> {
    pub(super) text: &'t str,
    /// Texts of entities that are not written anywhere as they are.
    pub(super) texts: String,
    /// Texts and values that are not as they are written.
    pub(super) decoded: String,
    pub(super) nodes: Vec<NodeData>,
    pub(super) attributes: Vec<AttributeData>,
    /// Of attributes whose values are not as they are written, the values.
    pub(super) owned: Vec<(u32, Stretch)>,
    pub(super) scopes: Scopes,
    /// Where the texts of entities come from.
    pub(super) origins: Vec<(Stretch, Stretch)>,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum NodeKind {
    Root,
    Element,
    Text,
    Comment,
    Instruction,
}

/// A node, in as few bytes as may be: a file of megabytes has millions.
#[derive(Debug, Clone, Copy)]
pub(super) struct NodeData {
    parent: u32,
    /// The first node behind all that stands in this one.
    pub end_of_subtree: u32,
    pub place: Stretch,
    /// Of an element the lengths of its prefix and its local name, which is never 0; else 0.
    lengths: u32,
    /// Of an element its namespace, else its kind.
    what: u32,
    /// Of an element its scope, else where its text begins.
    from: u32,
    /// Of an element its first attribute, else where its text ends.
    to: u32,
}

impl NodeData {
    pub fn new(kind: NodeKind, parent: u32, place: Stretch) -> NodeData {
        NodeData { parent, end_of_subtree: 0, place, lengths: 0, what: kind as u32, from: 0, to: 0 }
    }

    pub fn set_text(&mut self, (from, to): Stretch) {
        (self.from, self.to) = (from, to);
    }

    pub fn text(&self) -> Stretch {
        (self.from, self.to)
    }

    pub fn set_element(
        &mut self,
        (prefix, local): (usize, usize),
        namespace: u32,
        scope: u32,
        attribute: u32,
    ) {
        self.lengths = (prefix as u32) << 16 | local as u32;
        (self.what, self.from, self.to) = (namespace, scope, attribute);
    }

    fn kind(&self) -> NodeKind {
        match self.what {
            _ if self.lengths != 0 => NodeKind::Element,
            it if it == NodeKind::Text as u32 => NodeKind::Text,
            it if it == NodeKind::Comment as u32 => NodeKind::Comment,
            it if it == NodeKind::Instruction as u32 => NodeKind::Instruction,
            _ => NodeKind::Root,
        }
    }

    fn is_element(&self) -> bool {
        self.lengths != 0
    }

    fn local(&self) -> Stretch {
        local(self.place.0 + 1, self.lengths)
    }
}

/// Where a local name stands whose qualified name begins at a place.
fn local(start: u32, lengths: u32) -> Stretch {
    let (prefix, local) = (lengths >> 16, lengths & 0xFFFF);
    let start = if prefix == 0 { start } else { start + prefix + 1 };
    (start, start + local)
}

/// An attribute.
#[derive(Debug, Clone, Copy)]
pub(super) struct AttributeData {
    /// Where its name begins.
    pub start: u32,
    lengths: u32,
    /// Its namespace, and two marks.
    pub namespace: u32,
    /// Its value as it is written.
    value: Stretch,
}

impl AttributeData {
    pub fn new(start: u32, (prefix, local): (usize, usize), value: Stretch) -> AttributeData {
        AttributeData { start, lengths: (prefix as u32) << 16 | local as u32, namespace: 0, value }
    }

    pub fn name(&self) -> u32 {
        packed(self.namespace)
    }

    pub fn local(&self) -> Stretch {
        local(self.start, self.lengths)
    }
}

impl<'t> Document<'t> {
    /// What stands around all: the root element, comments and instructions.
    pub fn root(&self) -> Node<'_> {
        Node { document: self, id: 0 }
    }

    /// The root element.
    pub fn root_element(&self) -> Node<'_> {
        self.root().first_element_child().unwrap_or_else(|| self.root())
    }

    /// The node of that number.
    pub fn get_node(&self, id: NodeId) -> Option<Node<'_>> {
        ((id.0 as usize) < self.nodes.len()).then_some(Node { document: self, id: id.0 })
    }

    /// All nodes, in the order of the text.
    pub fn descendants(&self) -> Descendants<'_> {
        self.root().descendants()
    }

    /// The text.
    pub fn input_text(&self) -> &'t str {
        self.text
    }

    fn slice(&self, (from, to): Stretch) -> &str {
        let (from, to) = (from as usize, to as usize);
        let written = self.text.len();
        if to <= written && (from < written || from == to) {
            return &self.text[from..to];
        }
        let texts = written + self.texts.len();
        if to <= texts && from < texts {
            return &self.texts[from - written..to - written];
        }
        &self.decoded[from - texts..to - texts]
    }

    /// Where something stands in the text itself.
    fn written(&self, (from, to): Stretch) -> Range<usize> {
        if (from as usize) < self.text.len() || self.origins.is_empty() {
            return from as usize..to as usize;
        }
        let at = self.origins.partition_point(|((start, _), _)| *start <= from);
        let (_, (from, to)) = self.origins[at.saturating_sub(1)];
        from as usize..to as usize
    }

    fn namespace(&self, index: u32) -> Option<&str> {
        match index {
            NONE => None,
            XML_NAMESPACE => Some(ns::XML),
            index => Some(self.slice(self.scopes.namespaces[index as usize])),
        }
    }
}

impl fmt::Debug for Document<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("Document").field("nodes", &self.nodes.len()).finish_non_exhaustive()
    }
}

/// The number of a node in its document.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Default)]
pub struct NodeId(u32);

impl NodeId {
    /// The node of that number.
    pub fn new(number: u32) -> NodeId {
        NodeId(number)
    }

    /// The number.
    pub fn get(self) -> u32 {
        self.0
    }
}

/// A name and its namespace, if it is in one.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct ExpandedName<'n> {
    namespace: Option<&'n str>,
    name: &'n str,
}

impl<'n> ExpandedName<'n> {
    /// The namespace.
    pub fn namespace(&self) -> Option<&'n str> {
        self.namespace
    }

    /// The local name.
    pub fn name(&self) -> &'n str {
        self.name
    }
}

/// A name in no namespace.
impl<'n> From<&'n str> for ExpandedName<'n> {
    fn from(name: &'n str) -> Self {
        ExpandedName { namespace: None, name }
    }
}

/// A namespace, which is none if it is empty, and a local name.
impl<'n> From<(&'n str, &'n str)> for ExpandedName<'n> {
    fn from((namespace, name): (&'n str, &'n str)) -> Self {
        ExpandedName { namespace: Some(namespace).filter(|it| !it.is_empty()), name }
    }
}

/// A node of a document.
#[derive(Clone, Copy)]
pub struct Node<'a> {
    document: &'a Document<'a>,
    id: u32,
}

impl<'a> Node<'a> {
    fn data(&self) -> &'a NodeData {
        &self.document.nodes[self.id as usize]
    }

    fn other(&self, id: u32) -> Node<'a> {
        Node { document: self.document, id }
    }

    /// The document.
    pub fn document(&self) -> &'a Document<'a> {
        self.document
    }

    /// Its number.
    pub fn id(&self) -> NodeId {
        NodeId(self.id)
    }

    /// Whether it is what stands around all.
    pub fn is_root(&self) -> bool {
        self.id == 0
    }

    /// Whether it is an element.
    pub fn is_element(&self) -> bool {
        self.data().is_element()
    }

    /// Whether it is text.
    pub fn is_text(&self) -> bool {
        self.data().kind() == NodeKind::Text
    }

    /// Whether it is a comment.
    pub fn is_comment(&self) -> bool {
        self.data().kind() == NodeKind::Comment
    }

    /// Whether it is a processing instruction.
    pub fn is_pi(&self) -> bool {
        self.data().kind() == NodeKind::Instruction
    }

    /// The expanded name of an element; an empty one for anything else.
    pub fn tag_name(&self) -> ExpandedName<'a> {
        let data = self.data();
        if !data.is_element() {
            return ExpandedName { namespace: None, name: "" };
        }
        ExpandedName {
            namespace: self.document.namespace(data.what),
            name: self.document.slice(data.local()),
        }
    }

    /// Whether it is an element of that name: by the expanded name, so that a local name alone is one in no namespace.
    pub fn has_tag_name<'n>(&self, name: impl Into<ExpandedName<'n>>) -> bool {
        let name = name.into();
        let data = self.data();
        data.is_element()
            && self.document.slice(data.local()) == name.name
            && self.document.namespace(data.what) == name.namespace
    }

    /// The attributes, in the order of the text; declarations of prefixes are none.
    pub fn attributes(&self) -> Attributes<'a> {
        let data = self.data();
        let (mut from, mut to) = (0, 0);
        if data.is_element() && data.to != NONE {
            from = data.to as usize;
            let rest = &self.document.attributes[from..];
            to = from + 1 + rest.iter().position(|it| it.namespace & LAST != 0).unwrap_or(rest.len() - 1);
        }
        Attributes { document: self.document, from, to }
    }

    /// The attribute of that name: by the expanded name, so that a local name alone is one in no namespace (Namespaces in
    /// XML, section 6.2).
    ///
    /// ```
    /// use charter_source::xml::{Bounds, Document};
    ///
    /// let text = "<type m:name='Ship' name='Vessel' xmlns:m='urn:saltmere:marks'/>";
    /// let document = Document::parse(text, Bounds::default())?;
    /// let root = document.root_element();
    /// assert_eq!(root.attribute("name"), Some("Vessel"));
    /// assert_eq!(root.attribute(("urn:saltmere:marks", "name")), Some("Ship"));
    /// # Ok::<(), charter_source::xml::XmlError>(())
    /// ```
    pub fn attribute<'n>(&self, name: impl Into<ExpandedName<'n>>) -> Option<&'a str> {
        self.attribute_node(name).map(|attribute| attribute.value())
    }

    /// The attribute of that name, with its place.
    pub fn attribute_node<'n>(&self, name: impl Into<ExpandedName<'n>>) -> Option<Attribute<'a>> {
        let name = name.into();
        let data = self.data();
        if !data.is_element() || data.to == NONE {
            return None;
        }
        let mut index = data.to;
        loop {
            let attribute = &self.document.attributes[index as usize];
            let found = Attribute { document: self.document, index };
            // What has no prefix is in no namespace.
            let is_plain = attribute.lengths >> 16 == 0;
            if is_plain == name.namespace.is_none()
                && self.document.slice(attribute.local()) == name.name
                && found.namespace() == name.namespace
            {
                return Some(found);
            }
            if attribute.namespace & LAST != 0 {
                return None;
            }
            index += 1;
        }
    }

    /// Whether there is an attribute of that name.
    pub fn has_attribute<'n>(&self, name: impl Into<ExpandedName<'n>>) -> bool {
        self.attribute_node(name).is_some()
    }

    /// What the element itself declares.
    fn declared(&self) -> &'a [Declaration] {
        let Some(scope) = self.scope() else { return &[] };
        let around = self.parent().and_then(|parent| parent.scope());
        if around == Some(scope) { &[] } else { self.document.scopes.declared(scope) }
    }

    fn scope(&self) -> Option<u32> {
        let data = self.data();
        Some(data.from).filter(|scope| data.is_element() && *scope != NONE)
    }

    /// The namespaces that are declared on this element itself.
    pub fn own_namespaces(&self) -> impl Iterator<Item = Namespace<'a>> + use<'a> {
        let document = self.document;
        self.declared().iter().map(move |declaration| Namespace { document, declaration: *declaration })
    }

    /// All namespaces that have a prefix here, or are the default one; those of the element itself first.
    pub fn namespaces(&self) -> impl Iterator<Item = Namespace<'a>> + use<'a> {
        let mut all = Vec::new();
        let mut seen: Set<&str> = Set::default();
        let mut scope = self.scope();
        while let Some(index) = scope {
            for declaration in self.document.scopes.declared(index) {
                if seen.insert(self.document.slice(declaration.prefix)) {
                    all.push(Namespace { document: self.document, declaration: *declaration });
                }
            }
            scope = Some(self.document.scopes.around(index)).filter(|around| *around != NONE);
        }
        all.into_iter()
    }

    /// The namespace that a prefix means here, or the default namespace.
    pub fn lookup_namespace_uri(&self, prefix: Option<&str>) -> Option<&'a str> {
        if prefix == Some("xml") {
            return Some(ns::XML);
        }
        let document = self.document;
        let find =
            |scope| document.scopes.find(scope, prefix.unwrap_or(""), |stretch| document.slice(stretch));
        self.element_here()?.scope().and_then(find).and_then(|found| document.namespace(found.namespace))
    }

    /// The namespace of elements without a prefix here.
    pub fn default_namespace(&self) -> Option<&'a str> {
        self.lookup_namespace_uri(None)
    }

    fn element_here(&self) -> Option<Node<'a>> {
        if self.is_element() { Some(*self) } else { self.parent_element() }
    }

    /// The text of a text, a comment or an instruction; of an element the text that it begins with.
    pub fn text(&self) -> Option<&'a str> {
        let data = self.data();
        match data.kind() {
            NodeKind::Root => None,
            NodeKind::Element => self.first_child().filter(Node::is_text).and_then(|child| child.text()),
            _ => Some(self.document.slice(data.text())),
        }
    }

    /// The text that stands directly behind.
    pub fn tail(&self) -> Option<&'a str> {
        self.next_sibling().filter(Node::is_text).and_then(|next| next.text())
    }

    /// What it stands in.
    pub fn parent(&self) -> Option<Node<'a>> {
        Some(self.data().parent).filter(|parent| *parent != NONE).map(|parent| self.other(parent))
    }

    /// The element that it stands in.
    pub fn parent_element(&self) -> Option<Node<'a>> {
        self.parent().filter(Node::is_element)
    }

    /// What stands behind it in the same element.
    pub fn next_sibling(&self) -> Option<Node<'a>> {
        let data = self.data();
        let next = data.end_of_subtree;
        let around = self.document.nodes.get(data.parent as usize)?;
        (next < around.end_of_subtree).then(|| self.other(next))
    }

    /// The first thing in it.
    pub fn first_child(&self) -> Option<Node<'a>> {
        (self.id + 1 < self.data().end_of_subtree).then(|| self.other(self.id + 1))
    }

    /// The last thing in it.
    pub fn last_child(&self) -> Option<Node<'a>> {
        self.children().last()
    }

    /// The first element in it.
    pub fn first_element_child(&self) -> Option<Node<'a>> {
        self.children().find(Node::is_element)
    }

    /// Whether anything stands in it.
    pub fn has_children(&self) -> bool {
        self.first_child().is_some()
    }

    /// What stands in it.
    pub fn children(&self) -> Children<'a> {
        Children { next: self.first_child() }
    }

    /// It, what stands in it, and so on down, in the order of the text.
    pub fn descendants(&self) -> Descendants<'a> {
        Descendants { document: self.document, from: self.id, to: self.data().end_of_subtree }
    }

    /// It, what it stands in, and so on up.
    pub fn ancestors(&self) -> Ancestors<'a> {
        Ancestors { next: Some(*self) }
    }

    /// Where it stands in the text, from its first byte to its last. What comes from an entity stands in the declaration of that.
    pub fn range(&self) -> Range<usize> {
        self.document.written(self.data().place)
    }
}

impl PartialEq for Node<'_> {
    fn eq(&self, other: &Self) -> bool {
        self.id == other.id && std::ptr::eq(self.document, other.document)
    }
}

impl Eq for Node<'_> {}

impl Hash for Node<'_> {
    fn hash<H: Hasher>(&self, state: &mut H) {
        self.id.hash(state);
        std::ptr::from_ref(self.document).cast::<()>().hash(state);
    }
}

impl fmt::Debug for Node<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "Node({:?} {:?})", self.id, self.tag_name().name)
    }
}

/// What stands in a node.
#[derive(Debug, Clone)]
pub struct Children<'a> {
    next: Option<Node<'a>>,
}

impl<'a> Iterator for Children<'a> {
    type Item = Node<'a>;

    fn next(&mut self) -> Option<Node<'a>> {
        let here = self.next?;
        self.next = here.next_sibling();
        Some(here)
    }
}

/// A node and all that stands in it.
#[derive(Debug, Clone)]
pub struct Descendants<'a> {
    document: &'a Document<'a>,
    from: u32,
    to: u32,
}

impl<'a> Iterator for Descendants<'a> {
    type Item = Node<'a>;

    fn next(&mut self) -> Option<Node<'a>> {
        (self.from < self.to).then(|| {
            self.from += 1;
            Node { document: self.document, id: self.from - 1 }
        })
    }
}

impl ExactSizeIterator for Descendants<'_> {
    fn len(&self) -> usize {
        (self.to - self.from) as usize
    }
}

/// A node and all that it stands in.
#[derive(Debug, Clone)]
pub struct Ancestors<'a> {
    next: Option<Node<'a>>,
}

impl<'a> Iterator for Ancestors<'a> {
    type Item = Node<'a>;

    fn next(&mut self) -> Option<Node<'a>> {
        let here = self.next?;
        self.next = here.parent();
        Some(here)
    }
}

/// A namespace in the bits that an attribute has for it.
pub(super) fn packed(namespace: u32) -> u32 {
    namespace & !(LAST | DECODED)
}

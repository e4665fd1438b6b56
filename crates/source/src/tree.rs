//! The tree of a text, with positions.

use crate::wellformed;
use crate::xml::{Attribute, Bounds, Document, Node, NodeId};
use crate::{Fault, FileId, Interner, Place, QName, Span, Text, ns};

type Parsed<'a> = Option<Document<'a>>;

self_cell::self_cell!(
    /// A text together with the tree that points into it.
    struct Cell {
        owner: Text,
        #[covariant]
        dependent: Parsed,
    }
);

/// A text and its tree; there is no tree if the text is not well-formed.
pub struct Tree(Cell);

impl Tree {
    /// Parses a text. What is wrong with it comes back as a fault of `file`. No element is nested deeper than `depth`, so that
    /// every reader of the tree may recurse safely.
    pub fn parse(text: Text, file: FileId, depth: usize) -> (Tree, Option<Fault>) {
        let mut fault = wellformed::encoding_fault(&text, file);
        let refused = fault.is_some();
        let cell = Cell::new(text, |text| {
            if refused {
                return None;
            }
            match Document::parse(text.content(), Bounds { depth, doctype: true }) {
                Ok(document) => Some(document),
                Err(error) => {
                    fault = Some(wellformed::explain(&error, text, file));
                    None
                }
            }
        });
        (Tree(cell), fault)
    }

    /// The text.
    pub fn text(&self) -> &Text {
        self.0.borrow_owner()
    }

    /// The root element, if the text is well-formed.
    pub fn root(&self) -> Option<Node<'_>> {
        self.0.borrow_dependent().as_ref().map(Document::root_element)
    }

    /// The node that an id of this tree names.
    pub fn node(&self, id: NodeId) -> Option<Node<'_>> {
        self.0.borrow_dependent().as_ref()?.get_node(id)
    }
}

/// The child elements of a node.
pub fn elements<'a>(node: Node<'a>) -> impl Iterator<Item = Node<'a>> {
    node.children().filter(|child| child.is_element())
}

/// The element whose start tag begins at an offset.
pub fn element_at(root: Node<'_>, offset: u32) -> Option<Node<'_>> {
    nodes_from(root, offset)
        .take_while(|node| node.range().start == offset as usize)
        .find(|node| node.is_element())
}

/// The innermost element that covers a stretch of the text, however many stand beside it.
///
/// ```
/// use charter_source::{Files, Limits, Location, Overlay, Span, element_around};
///
/// let store = Overlay::of(&[("port.xml", "<port><quay/><pier><crane/></pier></port>")]);
/// let files = Files::load(&store, &Location::from_argument("port.xml"), Limits::default())?;
/// let around = |start, end| element_around(files.first().root().unwrap(), Span::new(start, end)).unwrap();
/// assert_eq!(around(20, 25).tag_name().name(), "crane");
/// assert_eq!(around(20, 30).tag_name().name(), "pier");
/// assert_eq!(around(8, 20).tag_name().name(), "port");
/// # Ok::<(), charter_source::ReadError>(())
/// ```
pub fn element_around(root: Node<'_>, span: Span) -> Option<Node<'_>> {
    let document = root.document();
    // What covers it stands around the last node that begins no later than it does.
    let behind = first_from(root, span.start + 1);
    let last = document.get_node(NodeId::new(behind.checked_sub(1)?))?;
    let mut around = std::iter::successors(Some(last), |node| node.parent());
    around.find(|node| node.is_element() && Span::from(node.range()).covers(span))
}

/// The nodes of a document that begin at an offset or behind it, in the order of the text.
pub fn nodes_from(root: Node<'_>, offset: u32) -> impl Iterator<Item = Node<'_>> {
    let document = root.document();
    let end = document.descendants().len() as u32;
    (first_from(root, offset)..end).filter_map(|number| document.get_node(NodeId::new(number)))
}

/// The number of the first node of a document that begins at an offset or behind it.
fn first_from(root: Node<'_>, offset: u32) -> u32 {
    let document = root.document();
    // Nodes are numbered in the order of the text.
    let (mut from, mut to) = (0, document.descendants().len() as u32);
    while from < to {
        let middle = from + (to - from) / 2;
        let before = |node: Node<'_>| node.range().start < offset as usize;
        match document.get_node(NodeId::new(middle)).is_some_and(before) {
            true => from = middle + 1,
            false => to = middle,
        }
    }
    from
}

/// The place of the name of an element's start tag, with its `<`.
pub fn tag_place(file: FileId, node: Node<'_>) -> Place {
    Place { file, span: tag_span(node) }
}

fn tag_span(node: Node<'_>) -> Span {
    let range = node.range();
    let text = &node.document().input_text()[range.clone()];
    let ends = |byte: &u8| byte.is_ascii_whitespace() || matches!(byte, b'>' | b'/');
    let name = text.as_bytes().iter().position(ends).unwrap_or(text.len());
    Span::new(range.start, range.start + name)
}

/// The place of the value of an attribute, without its quotes.
pub fn attribute_place(file: FileId, attribute: &Attribute<'_>) -> Place {
    Place { file, span: attribute.range_value().into() }
}

/// The text of an element and all within it, joined and trimmed.
pub fn text_of(node: Node<'_>) -> String {
    let texts = node.descendants().filter(|child| child.is_text()).filter_map(|child| child.text());
    texts.collect::<String>().trim().to_owned()
}

/// The first of the [`qname_tokens`], which is mostly the whole value.
pub fn first_qname<'a>(file: FileId, node: Node<'a>, attribute: &Attribute<'a>) -> Option<(&'a str, Place)> {
    let range = attribute.range_value();
    let value = attribute.value();
    let written = node.document().input_text().get(range.clone())?;
    if written == value && !value.is_empty() && value.bytes().all(|byte| byte > b' ') {
        let local = memchr::memchr(b':', value.as_bytes()).map_or(0, |colon| colon + 1);
        return Some((value, Place { file, span: Span::new(range.start + local, range.end) }));
    }
    qname_tokens(file, node, attribute).next()
}

/// The white-space separated tokens of an attribute's value, each with the place of its local part, where a
/// rename would write. A value written with entities has one place for all its tokens.
pub fn qname_tokens<'a>(
    file: FileId,
    node: Node<'a>,
    attribute: &Attribute<'a>,
) -> impl Iterator<Item = (&'a str, Place)> {
    let range = attribute.range_value();
    let whole = Span::from(range.clone());
    let value = attribute.value();
    let written = node.document().input_text().get(range.clone()).unwrap_or("");
    // White space may be written in other ways than it is read; all else must be the same.
    let plain = written.split_ascii_whitespace().eq(value.split_ascii_whitespace());
    let mut places = written.split_ascii_whitespace().filter(move |_| plain).map(move |token| {
        let at = range.start + (token.as_ptr() as usize - written.as_ptr() as usize);
        let local = token.find(':').map_or(0, |colon| colon + 1);
        Span::new(at + local, at + token.len())
    });
    value
        .split_ascii_whitespace()
        .map(move |token| (token, Place { file, span: places.next().unwrap_or(whole) }))
}

/// The expanded name of a QName in content (XML Schema Part 2, 3.2.18: a name without prefix is in the
/// default namespace, if there is one). `Err` holds the prefix that is not declared.
///
/// # Errors
/// If the prefix is not declared at `node`.
pub fn resolve_qname<'t>(names: &mut Interner, node: Node<'_>, token: &'t str) -> Result<QName, &'t str> {
    match token.split_once(':') {
        None => Ok(names.qname(node.default_namespace().unwrap_or(""), token)),
        // Declared by the standard itself, in every document.
        Some(("xml", local)) => Ok(names.qname(ns::XML, local)),
        Some((prefix, local)) => match node.lookup_namespace_uri(Some(prefix)) {
            Some(namespace) => Ok(names.qname(namespace, local)),
            None => Err(prefix),
        },
    }
}

//! The grammar of WSDL 1.1 and of its SOAP, HTTP and MIME extensions, as the normative schemas have it (appendix A.4), as
//! one table: which elements stand in which, how often and in which order, with which attributes and values.

use Value::{Any, Bool, Name, Reference, Tokens, Uri};
use charter_source::{
    Fault, FileId, Node, attribute_place, elements, is_ncname, is_nmtoken, nearest, ns, tag_place,
};

/// What an attribute may hold.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Value {
    /// Anything, or something that the reader judges.
    Any,
    /// An NCName.
    Name,
    /// A QName.
    Reference,
    /// A list of NMTOKENs.
    Tokens,
    /// A URI reference.
    Uri,
    /// A boolean.
    Bool,
}

struct Attribute {
    name: &'static str,
    value: Value,
    required: bool,
}

/// How often a child may stand.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Often {
    Once,
    Many,
}

struct Child {
    often: Often,
    shape: &'static Shape,
}

/// An element: what may stand in it.
struct Shape {
    name: &'static str,
    attributes: &'static [Attribute],
    /// In the order in which they stand.
    children: &'static [Child],
    /// Whether an order of children is asked for.
    ordered: bool,
    /// Whether elements of other namespaces may stand in it (A.3).
    open: bool,
    /// The elements of the SOAP, HTTP and MIME bindings that may stand in it.
    bindings: &'static [&'static Shape],
}

const fn may(name: &'static str, value: Value) -> Attribute {
    Attribute { name, value, required: false }
}

const fn must(name: &'static str, value: Value) -> Attribute {
    Attribute { name, value, required: true }
}

const fn once(shape: &'static Shape) -> Child {
    Child { often: Often::Once, shape }
}

const fn many(shape: &'static Shape) -> Child {
    Child { often: Often::Many, shape }
}

const PLAIN: Shape =
    Shape { name: "", attributes: &[], children: &[], ordered: true, open: false, bindings: &[] };

/// What names itself, and must: the reader says so where it does not.
const NAMED: &[Attribute] = &[may("name", Any)];

static DEFINITIONS: Shape = Shape {
    name: "definitions",
    attributes: &[may("name", Name), may("targetNamespace", Uri)],
    children: &[
        many(&IMPORT),
        once(&TYPES),
        many(&MESSAGE),
        many(&PORT_TYPE),
        many(&BINDING),
        many(&SERVICE),
    ],
    open: true,
    ..PLAIN
};
static IMPORT: Shape =
    Shape { name: "import", attributes: &[must("namespace", Uri), may("location", Uri)], ..PLAIN };
static TYPES: Shape = Shape { name: "types", open: true, ..PLAIN };
static MESSAGE: Shape =
    Shape { name: "message", attributes: NAMED, children: &[many(&PART)], open: true, ..PLAIN };
static PART: Shape = Shape {
    name: "part",
    attributes: &[may("name", Any), may("element", Reference), may("type", Reference)],
    ..PLAIN
};
static PORT_TYPE: Shape =
    Shape { name: "portType", attributes: NAMED, children: &[many(&OPERATION)], ..PLAIN };
static OPERATION: Shape = Shape {
    name: "operation",
    attributes: &[may("name", Any), may("parameterOrder", Tokens)],
    children: &[once(&INPUT), once(&OUTPUT), many(&FAULT)],
    // Which of input and output comes first is the pattern of the operation.
    ordered: false,
    open: true,
    ..PLAIN
};
static INPUT: Shape = Shape { name: "input", attributes: USE, ..PLAIN };
static OUTPUT: Shape = Shape { name: "output", attributes: USE, ..PLAIN };
static FAULT: Shape =
    Shape { name: "fault", attributes: &[must("name", Name), may("message", Reference)], ..PLAIN };
const USE: &[Attribute] = &[may("name", Name), may("message", Reference)];
static BINDING: Shape = Shape {
    name: "binding",
    attributes: &[may("name", Any), may("type", Reference)],
    children: &[many(&BOUND_OPERATION)],
    open: true,
    bindings: &[&SOAP_BINDING, &HTTP_BINDING],
    ..PLAIN
};
static BOUND_OPERATION: Shape = Shape {
    name: "operation",
    attributes: NAMED,
    children: &[once(&BOUND_INPUT), once(&BOUND_OUTPUT), many(&BOUND_FAULT)],
    ordered: false,
    open: true,
    bindings: &[&SOAP_OPERATION, &HTTP_OPERATION],
};
static BOUND_INPUT: Shape =
    Shape { name: "input", attributes: &[may("name", Name)], open: true, bindings: SIDE, ..PLAIN };
static BOUND_OUTPUT: Shape = Shape { name: "output", ..copy(&BOUND_INPUT) };
static BOUND_FAULT: Shape =
    Shape { name: "fault", attributes: &[must("name", Name)], open: true, bindings: &[&SOAP_FAULT], ..PLAIN };
const SIDE: &[&Shape] =
    &[&SOAP_BODY, &SOAP_HEADER, &URL_ENCODED, &URL_REPLACEMENT, &MIME_CONTENT, &MULTIPART, &MIME_XML];
static SERVICE: Shape =
    Shape { name: "service", attributes: NAMED, children: &[many(&PORT)], open: true, ..PLAIN };
static PORT: Shape = Shape {
    name: "port",
    attributes: &[may("name", Any), may("binding", Reference)],
    open: true,
    bindings: &[&SOAP_ADDRESS, &HTTP_ADDRESS],
    ..PLAIN
};

static SOAP_BINDING: Shape =
    Shape { name: "binding", attributes: &[may("style", Any), may("transport", Uri)], ..PLAIN };
static SOAP_OPERATION: Shape = Shape {
    name: "operation",
    attributes: &[may("soapAction", Uri), may("style", Any), may("soapActionRequired", Bool)],
    ..PLAIN
};
static SOAP_BODY: Shape = Shape {
    name: "body",
    attributes: &[may("parts", Tokens), may("use", Any), may("encodingStyle", Any), may("namespace", Uri)],
    ..PLAIN
};
static SOAP_HEADER: Shape =
    Shape { name: "header", attributes: HEADER, children: &[many(&SOAP_HEADER_FAULT)], ..PLAIN };
static SOAP_HEADER_FAULT: Shape = Shape { name: "headerfault", attributes: HEADER, ..PLAIN };
const HEADER: &[Attribute] = &[
    may("message", Reference),
    must("part", Any),
    may("use", Any),
    may("encodingStyle", Any),
    may("namespace", Uri),
];
static SOAP_FAULT: Shape = Shape {
    name: "fault",
    attributes: &[must("name", Name), may("use", Any), may("encodingStyle", Any), may("namespace", Uri)],
    ..PLAIN
};
static SOAP_ADDRESS: Shape = Shape { name: "address", attributes: &[may("location", Any)], ..PLAIN };
static HTTP_BINDING: Shape = Shape { name: "binding", attributes: &[must("verb", Any)], ..PLAIN };
static HTTP_OPERATION: Shape = Shape { name: "operation", attributes: &[must("location", Any)], ..PLAIN };
static URL_ENCODED: Shape = Shape { name: "urlEncoded", ..PLAIN };
static URL_REPLACEMENT: Shape = Shape { name: "urlReplacement", ..PLAIN };
static HTTP_ADDRESS: Shape = Shape { name: "address", attributes: &[may("location", Any)], ..PLAIN };
static MIME_CONTENT: Shape =
    Shape { name: "content", attributes: &[may("part", Any), may("type", Any)], ..PLAIN };
static MULTIPART: Shape = Shape { name: "multipartRelated", children: &[many(&MIME_PART)], ..PLAIN };
static MIME_PART: Shape = Shape {
    name: "part",
    attributes: &[may("name", Any)],
    open: true,
    bindings: &[&SOAP_BODY, &SOAP_HEADER, &MIME_CONTENT, &MIME_XML],
    ..PLAIN
};
static MIME_XML: Shape = Shape { name: "mimeXml", attributes: &[may("part", Any)], ..PLAIN };

/// The bindings' elements by namespace, to tell those that stand in a wrong place from those that do not exist.
const SOAP: &[&Shape] = &[
    &SOAP_BINDING,
    &SOAP_OPERATION,
    &SOAP_BODY,
    &SOAP_HEADER,
    &SOAP_HEADER_FAULT,
    &SOAP_FAULT,
    &SOAP_ADDRESS,
];
const HTTP: &[&Shape] = &[&HTTP_BINDING, &HTTP_OPERATION, &URL_ENCODED, &URL_REPLACEMENT, &HTTP_ADDRESS];
const MIME: &[&Shape] = &[&MIME_CONTENT, &MULTIPART, &MIME_PART, &MIME_XML];

const fn copy(shape: &Shape) -> Shape {
    Shape {
        name: shape.name,
        attributes: shape.attributes,
        children: shape.children,
        ordered: shape.ordered,
        open: shape.open,
        bindings: shape.bindings,
    }
}

/// The elements that a namespace of an extension defines; `None` if it is not one of this tool's.
fn vocabulary(namespace: &str) -> Option<(&'static [&'static Shape], &'static str)> {
    Some(match namespace {
        ns::WSDL_SOAP11 => (SOAP, "the SOAP binding"),
        ns::WSDL_SOAP12 => (SOAP, "the SOAP 1.2 binding"),
        ns::WSDL_HTTP => (HTTP, "the HTTP binding"),
        ns::WSDL_MIME => (MIME, "the MIME binding"),
        _ => return None,
    })
}

/// Judges a whole contract file by the grammar.
pub(super) fn judge(file: FileId, root: Node<'_>, faults: &mut Vec<Fault>) {
    Judge { file, faults }.element(root, &DEFINITIONS);
}

struct Judge<'f> {
    file: FileId,
    faults: &'f mut Vec<Fault>,
}

impl Judge<'_> {
    fn fault(&mut self, rule: &'static str, node: Node<'_>, message: String, help: impl Into<String>) {
        self.faults.push(Fault::new(rule, tag_place(self.file, node), message).help(help));
    }

    fn element(&mut self, node: Node<'_>, shape: &'static Shape) {
        self.attributes(node, shape);
        self.text(node);
        let mut counts = [0u32; 8];
        let mut placed: Vec<(usize, Node<'_>)> = Vec::new();
        let mut seen_other = false;
        for child in elements(node) {
            let name = child.tag_name();
            match name.namespace() {
                Some(ns::WSDL) if name.name() == "documentation" => {
                    self.documentation(node, child, seen_other);
                    continue;
                }
                Some(namespace) if namespace == home(node) && owns(shape, node, name.name()) => {
                    placed.extend(self.known_child(child, shape, &mut counts).map(|at| (at, child)));
                }
                // What is in no namespace, or in that of WSDL inside of a binding's element, has no place anywhere.
                None | Some(ns::WSDL) => self.misplaced(child, node),
                Some(namespace) => self.extension(child, node, shape, namespace),
            }
            seen_other = true;
        }
        if shape.ordered {
            self.order(shape, &placed);
        }
    }

    /// The index of a child among those of a shape, once it has been judged; what does not belong there is said.
    fn known_child(
        &mut self,
        child: Node<'_>,
        shape: &'static Shape,
        counts: &mut [u32; 8],
    ) -> Option<usize> {
        let local = child.tag_name().name();
        let Some(at) = shape.children.iter().position(|known| known.shape.name == local) else {
            self.misplaced(child, child.parent_element()?);
            return None;
        };
        counts[at] += 1;
        if shape.children[at].often == Often::Once && counts[at] > 1 {
            let message = format!("{local} stands twice in {}", shape.name);
            self.fault("wsdl-structure", child, message, "join the two, or remove one of them");
            return None;
        }
        self.element(child, shape.children[at].shape);
        Some(at)
    }

    /// Says which children are out of order: as few as have to move for the others to be in it.
    fn order(&mut self, shape: &Shape, placed: &[(usize, Node<'_>)]) {
        if placed.is_sorted_by_key(|(rank, _)| *rank) {
            return;
        }
        let stays = in_order(placed);
        for (at, (rank, node)) in placed.iter().enumerate().filter(|(at, _)| !stays[*at]) {
            let staying = |range: std::ops::Range<usize>| range.filter(|at| stays[*at]).map(|at| placed[at]);
            let before = staying(0..at).find(|(other, _)| other > rank);
            let behind = staying(at + 1..placed.len()).rfind(|(other, _)| other < rank);
            let own = node.tag_name().name();
            let message = match (before, behind) {
                (Some((_, other)), _) => {
                    format!("{own} stands behind {}, and belongs before it", other.tag_name().name())
                }
                (None, Some((_, other))) => {
                    format!("{own} stands before {}, and belongs behind it", other.tag_name().name())
                }
                (None, None) => continue,
            };
            let order: Vec<&str> = shape.children.iter().map(|child| child.shape.name).collect();
            let help = format!("the order in {} is {}", shape.name, order.join(", "));
            self.fault("wsdl-order", *node, message, help);
        }
    }

    fn documentation(&mut self, parent: Node<'_>, node: Node<'_>, late: bool) {
        if late {
            let message = format!("documentation comes first in {}", parent.tag_name().name());
            self.fault("wsdl-order", node, message, "move it to the beginning of what it speaks of");
        }
    }

    fn misplaced(&mut self, node: Node<'_>, parent: Node<'_>) {
        let (own, around) = (node.tag_name().name(), parent.tag_name().name());
        let message = format!("the element {own} has no place in {around}");
        self.fault("wsdl-structure", node, message, "move it to where WSDL 1.1 allows it, or remove it");
    }

    /// An element of another namespace than that of the element it stands in.
    fn extension(&mut self, node: Node<'_>, parent: Node<'_>, shape: &Shape, namespace: &str) {
        let local = node.tag_name().name();
        let Some((known, of)) = vocabulary(namespace) else {
            if !shape.open && home(parent) == ns::WSDL {
                let message = format!("an element of another namespace stands in {}", shape.name);
                let help = format!(
                    "an attribute of another namespace may stand on {}, an element may not",
                    shape.name
                );
                self.fault("wsdl-extension-place", node, message, help);
            }
            return;
        };
        match shape.bindings.iter().find(|allowed| {
            allowed.name == local && known.iter().any(|known| std::ptr::eq(*known, **allowed))
        }) {
            Some(shape) => self.element(node, shape),
            None if known.iter().any(|known| known.name == local) => {
                let message =
                    format!("the element {local} of {of} has no place in {}", parent.tag_name().name());
                self.fault("extension-structure", node, message, place_of(local));
            }
            None => {
                let message = format!("{of} has no element {local}");
                let near = nearest(local, known.iter().map(|known| known.name));
                let help = near.map_or_else(
                    || {
                        let names: Vec<&str> = known.iter().map(|known| known.name).collect();
                        format!("it has {}", names.join(", "))
                    },
                    |near| format!("did you mean \"{near}\"?"),
                );
                self.fault("extension-structure", node, message, help);
            }
        }
    }

    fn attributes(&mut self, node: Node<'_>, shape: &Shape) {
        for attribute in node.attributes() {
            match attribute.namespace() {
                None => {}
                Some(ns::WSDL) if attribute.name() == "required" => {
                    self.value(attribute, Bool);
                    continue;
                }
                Some(namespace) if namespace == ns::WSDL || namespace == home(node) => {
                    let message = format!("the attribute {} carries a prefix", attribute.name());
                    self.attribute("wsdl-attribute", &attribute, message, "write it without its prefix");
                    continue;
                }
                Some(_) => continue,
            }
            match shape.attributes.iter().find(|known| known.name == attribute.name()) {
                Some(known) => self.value(attribute, known.value),
                None => {
                    let message = format!("{} has no attribute {}", shape.name, attribute.name());
                    let near = nearest(attribute.name(), shape.attributes.iter().map(|known| known.name));
                    let help = near
                        .map_or_else(|| "remove it".to_owned(), |near| format!("did you mean \"{near}\"?"));
                    self.attribute("wsdl-attribute", &attribute, message, &help);
                }
            }
        }
        for wanted in shape.attributes.iter().filter(|wanted| wanted.required) {
            if node.attribute(wanted.name).is_none() {
                let message = format!("this {} has no {}", shape.name, wanted.name);
                self.fault("wsdl-attribute", node, message, format!("add the attribute {}", wanted.name));
            }
        }
    }

    fn attribute(
        &mut self,
        rule: &'static str,
        attribute: &charter_source::Attribute<'_>,
        message: String,
        help: &str,
    ) {
        let place = attribute_place(self.file, attribute);
        self.faults.push(Fault::new(rule, place, message).help(help));
    }

    fn value(&mut self, attribute: charter_source::Attribute<'_>, value: Value) {
        let text = attribute.value().trim();
        let local = || text.split_once(':').map_or(text, |(_, local)| local);
        let (right, wanted) = match value {
            Any => (true, ""),
            Name => (is_ncname(text), "a name: a letter or _, then letters, digits, -, _ and ."),
            Reference => {
                (is_ncname(local()) && !text.starts_with(':'), "a name, with the prefix of its namespace")
            }
            Tokens => (text.split_ascii_whitespace().all(is_nmtoken), "names, apart by spaces"),
            Uri => (is_uri(text), "a URI, without spaces and with % only before two hexadecimal digits"),
            Bool => (matches!(text, "true" | "false" | "1" | "0"), "true or false"),
        };
        if !right {
            let message = format!("\"{text}\" is no value for {}", attribute.name());
            self.attribute("wsdl-value", &attribute, message, &format!("write {wanted}"));
        }
    }

    /// Text between elements, where only elements may stand.
    fn text(&mut self, node: Node<'_>) {
        let stray = node.children().find(|child| {
            child.is_text() && child.text().is_some_and(|text| !text.trim_matches(WHITE).is_empty())
        });
        if let Some(stray) = stray {
            let written = &node.document().input_text()[stray.range()];
            let lead = written.len() - written.trim_start().len();
            let start = stray.range().start + lead;
            let place = charter_source::Place {
                file: self.file,
                span: charter_source::Span::new(start, start + written.trim().len()),
            };
            let message = format!("text stands between the elements of {}", node.tag_name().name());
            let fault = Fault::new("wsdl-text", place, message);
            self.faults.push(fault.help("put it into documentation, or into a comment"));
        }
    }
}

/// Which of some children can stay: the longest run of them, with gaps, whose ranks do not fall.
fn in_order(placed: &[(usize, Node<'_>)]) -> Vec<bool> {
    // For each length of a run, the place of its last child that leaves most room for what follows.
    let mut ends: Vec<usize> = Vec::new();
    let mut before: Vec<Option<usize>> = Vec::with_capacity(placed.len());
    for (at, (rank, _)) in placed.iter().enumerate() {
        let length = ends.partition_point(|end| placed[*end].0 <= *rank);
        before.push(length.checked_sub(1).map(|shorter| ends[shorter]));
        if length == ends.len() { ends.push(at) } else { ends[length] = at }
    }
    let mut stays = vec![false; placed.len()];
    let mut here = ends.last().copied();
    while let Some(at) = here {
        stays[at] = true;
        here = before[at];
    }
    stays
}

const WHITE: [char; 4] = [' ', '\t', '\r', '\n'];

/// The namespace whose elements are the children that a shape lists.
fn home<'a>(node: Node<'a>) -> &'a str {
    node.tag_name().namespace().unwrap_or("")
}

/// Whether an element of the same namespace is one of the children that a shape lists, or ought to be. A part of a
/// multipart message holds elements of its own namespace as those of a binding.
fn owns(shape: &Shape, node: Node<'_>, local: &str) -> bool {
    home(node) == ns::WSDL || !shape.bindings.iter().any(|known| known.name == local)
}

fn place_of(local: &str) -> &'static str {
    match local {
        "binding" => "it stands in a binding, before its operations",
        "operation" => "it stands in an operation of a binding, before input and output",
        "body" | "header" => "it stands in an input or output of a binding",
        "headerfault" => "it stands in a header",
        "fault" => "it stands in a fault of a binding",
        "address" => "it stands in a port",
        "urlEncoded" | "urlReplacement" => "it stands in the input of a binding",
        "part" => "it stands in multipartRelated",
        _ => "it stands in an input or output of a binding, or in a part of multipartRelated",
    }
}

/// Whether a text can be a URI reference as `anyURI` has it (XML Schema Part 2, 3.2.17): what may not stand in one is
/// escaped by whoever uses it, so little is refused.
fn is_uri(text: &str) -> bool {
    let hex = |byte: Option<&u8>| byte.is_some_and(u8::is_ascii_hexdigit);
    let bytes = text.as_bytes();
    let escapes = bytes.iter().enumerate().filter(|(_, byte)| **byte == b'%');
    !text.contains(WHITE)
        && escapes.into_iter().all(|(at, _)| hex(bytes.get(at + 1)) && hex(bytes.get(at + 2)))
}

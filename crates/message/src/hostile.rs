//! Hostile messages: each breaks one thing that the contract asks for, and says which rule a judge must name.

use charter_contract::{Body, Carrier, HttpContent, WireElement, WireShape};
use charter_schema::sample::{HostileKind, Sampler, Size};
use charter_schema::{Assess, Engine};
use charter_source::{QName, ns};

use crate::values::HEADER;
use crate::{Element, Message, Node, Payload, SampleError, Text, WireContent, assemble, sample};

/// How much all messages may hold together, in elements, attributes and texts: of large ones there are fewer.
const MOST_HELD: usize = 200_000;
/// So many there are of messages of any size.
const FEWEST: usize = 20;

/// A message that must be refused, for one reason.
#[derive(Debug, Clone)]
pub struct HostileMessage {
    /// The rule that it breaks.
    pub rule: &'static str,
    /// Where: the wire path.
    pub path: String,
    /// What is wrong, in words.
    pub words: String,
    /// The message.
    pub message: Message,
    /// What kind of thing is wrong at what kind of place, if that is a matter of schemas.
    pub kind: Option<HostileKind>,
}

/// The first of each kind: one thing that is wrong, once for each kind of place.
pub fn one_of_each(all: Vec<HostileMessage>) -> Vec<HostileMessage> {
    HostileKind::first_of(all, |it| it.kind.as_ref())
}

/// Messages of a shape that break one thing each: first the schemas, then what the envelope asks for. `extra` are header
/// blocks as in [`assemble`].
///
/// # Errors
/// If there is no valid message to begin with.
pub fn hostile(
    engine: &Engine<'_>,
    shape: &WireShape,
    extra: &[Element],
) -> Result<Vec<HostileMessage>, SampleError> {
    let wire_content = sample(engine, shape, Size::Typical)?;
    let mut found = Vec::new();
    let Some(soap) = shape.soap() else {
        over_http(engine, shape, &wire_content, &mut found);
        return Ok(found);
    };
    let sampler = Sampler::new(engine, Size::Typical);
    let most = most_of(&wire_content);
    // What goes along is never what is wrong.
    let judged = wire_content.elements.len() - soap.attachments.len();
    for (at, content) in shape.contents().iter().enumerate().take(judged) {
        let encoded = match soap.headers.get(at) {
            Some(block) => block.encoding.is_some(),
            None => soap.encoding.is_some(),
        };
        // Where any value may be nil or stand for another, less is wrong. And the body element itself has no name.
        if encoded || wire_content.elements[at].name.local.is_empty() || found.len() >= most {
            continue;
        }
        let assess = match content {
            WireElement::Declared(id) => Assess::By(*id),
            WireElement::Typed { ty, .. } => Assess::As(*ty),
        };
        for hostile in sampler.hostile_to(&wire_content.elements[at], assess) {
            // Under another name it would be another message.
            if hostile.instance.name != wire_content.elements[at].name || found.len() >= most {
                continue;
            }
            let mut contents = wire_content.elements.clone();
            contents[at] = hostile.instance;
            let message = assemble(engine, shape, WireContent { elements: contents }, extra);
            let path =
                if at < soap.headers.len() { format!("{HEADER}/{}", hostile.path) } else { hostile.path };
            let kind = Some(hostile.kind);
            found.push(HostileMessage { rule: hostile.clause, path, words: hostile.message, message, kind });
        }
    }
    let base = assemble(engine, shape, wire_content, extra);
    if let Payload::Xml(envelope) = &base.payload {
        let mut add = |rule, path: &str, words: &str, envelope: Element| {
            let message = Message { payload: Payload::Xml(envelope), ..base.clone() };
            let (path, words) = (path.to_owned(), words.to_owned());
            found.push(HostileMessage { rule, path, words, message, kind: None });
        };
        around(shape, envelope, &mut add);
    }
    Ok(found)
}

/// How many messages there are at most, by how much one of them holds.
fn most_of(wire_content: &WireContent) -> usize {
    let whole: usize = wire_content.elements.iter().map(Element::weight).sum();
    FEWEST.max(MOST_HELD / whole.max(1))
}

/// What breaks a message over plain HTTP: its document, or one of its fields.
fn over_http(
    engine: &Engine<'_>,
    shape: &WireShape,
    wire_content: &WireContent,
    found: &mut Vec<HostileMessage>,
) {
    let Carrier::Http(http) = &shape.carrier else { return };
    let mut put = |rule, path: &str, words: String, contents: Vec<Element>, kind| {
        let message = assemble(engine, shape, WireContent { elements: contents }, &[]);
        found.push(HostileMessage { rule, path: path.to_owned(), words, message, kind });
    };
    match &http.content {
        HttpContent::Part(part) if part.xml => {
            let WireElement::Declared(id) = &part.content else { return };
            let sampler = Sampler::new(engine, Size::Typical);
            for it in sampler.hostile_to(&wire_content.elements[0], Assess::By(*id)) {
                if it.instance.name == wire_content.elements[0].name {
                    put(it.clause, &it.path, it.message, vec![it.instance], Some(it.kind));
                }
            }
        }
        HttpContent::Form(parts) | HttpContent::InPath(parts) => {
            for (at, part) in parts.iter().enumerate().take(most_of(wire_content)) {
                for value in ["~", "no-such-thing"] {
                    let mut contents = wire_content.elements.clone();
                    contents[at] = Element::new(contents[at].name.clone()).text(value);
                    if let Err((rule, words, _)) = crate::values::accepted(engine, part.ty, &contents[at]) {
                        put(rule, &part.name, words, contents, None);
                        break;
                    }
                }
                // In a path, every part has its place.
                if matches!(http.content, HttpContent::Form(_)) {
                    let mut contents = wire_content.elements.clone();
                    contents.remove(at);
                    put(
                        "part-missing",
                        &part.name,
                        format!("the part \"{}\" is missing", part.name),
                        contents,
                        None,
                    );
                }
            }
            if matches!(http.content, HttpContent::Form(_)) {
                let mut contents = wire_content.elements.clone();
                contents.push(Element::new(QName::new("", "unheardOf")).text("1"));
                let words = "there is no part \"unheardOf\"".to_owned();
                put("part-surplus", "unheardOf", words, contents, None);
            }
        }
        _ => {}
    }
}

/// What breaks the encoding of a value: a size that is not its own, a reference to nothing.
fn encoded(envelope: &Element, add: &mut dyn FnMut(&'static str, &str, &str, Element)) {
    let mut miscounted = envelope.clone();
    if let Some(array) = first_with(&mut miscounted, ns::SOAP11_ENCODING, "arrayType") {
        array.children.push(Node::Element(
            Element::new(QName::new("", "item")).attribute(QName::new(ns::XSI, "nil"), "true"),
        ));
        let path = array.name.local.to_string();
        add("encoded-array", &path, "the array has more members than it says", miscounted);
    }
    let mut dangling = envelope.clone();
    if let Some(value) = first_with(&mut dangling, ns::XSI, "type") {
        value.children.clear();
        value.attributes = vec![(QName::new("", "href"), Text::Plain("#nowhere".to_owned()))];
        let path = value.name.local.to_string();
        add("encoded-reference", &path, "the value refers to nothing", dangling);
    }
}

/// The first element in a body that has an attribute.
fn first_with<'e>(element: &'e mut Element, namespace: &str, local: &str) -> Option<&'e mut Element> {
    if element.attributes.iter().any(|(name, _)| name.is(namespace, local)) {
        return Some(element);
    }
    element.children.iter_mut().find_map(|child| match child {
        Node::Element(child) if &*child.name.local != "Header" => first_with(child, namespace, local),
        _ => None,
    })
}

/// What breaks an envelope and not the schemas in it.
fn around(shape: &WireShape, envelope: &Element, add: &mut dyn FnMut(&'static str, &str, &str, Element)) {
    let Some(soap) = shape.soap() else { return };
    let namespace = soap.version.envelope();
    let child = |element: &Element, local: &str| {
        element.children.iter().position(|node| matches!(node, Node::Element(it) if &*it.name.local == local))
    };
    let Some(body) = child(envelope, "Body") else { return };
    let mut without = envelope.clone();
    without.children.remove(body);
    add("envelope-structure", "Envelope", "the envelope has no body", without);
    let stranger = || Element::new(QName::new("urn:example:elsewhere", "unheardOf"));
    let mut with = envelope.clone();
    let must = stranger().attribute(QName::new(namespace, "mustUnderstand"), "1");
    match child(envelope, "Header") {
        Some(header) => inside(&mut with, header).children.push(Node::Element(must)),
        None => {
            let header = Element::new(QName::new(namespace, "Header")).with(must);
            with.children.insert(0, Node::Element(header));
        }
    }
    add("header-not-understood", "$header/unheardOf", "a header block is not known, and must be", with);
    if let (Some(header), Some(block)) = (child(envelope, "Header"), soap.headers.first())
        && soap.fault.is_none()
    {
        let mut without = envelope.clone();
        let blocks = inside(&mut without, header);
        // The declared blocks come last.
        let at = blocks.children.len() - soap.headers.len();
        blocks.children.remove(at);
        let path = format!("$header/{}", block.part);
        add("header-missing", &path, "a header block is missing", without);
    }
    if soap.fault.is_some() {
        return;
    }
    match &soap.body {
        Body::Elements(elements) if !elements.is_empty() => {
            let mut more = envelope.clone();
            inside(&mut more, body).children.push(Node::Element(stranger()));
            add("body-parts", "unheardOf", "the body holds one element too many", more);
        }
        Body::Wrapper { parts, .. } => {
            if soap.encoding.is_some() {
                encoded(envelope, add);
            }
            let mut wrong = |rule, words, change: &dyn Fn(&mut Element)| {
                let mut envelope = envelope.clone();
                if let Some(Node::Element(wrapper)) = inside(&mut envelope, body).children.first_mut() {
                    change(wrapper);
                }
                add(rule, "", words, envelope);
            };
            wrong("part-surplus", "a part is not known", &|wrapper| {
                wrapper.children.push(Node::Element(Element::new(QName::new("", "unheardOf"))));
            });
            if !parts.is_empty() {
                wrong("part-missing", "a part is missing", &|wrapper| drop(wrapper.children.remove(0)));
                wrong("part-namespace", "a part is in a namespace", &|wrapper| {
                    if let Some(Node::Element(part)) = wrapper.children.first_mut() {
                        part.name = QName::new("urn:example:elsewhere", &part.name.local);
                    }
                });
            }
            if parts.len() > 1 {
                wrong("part-order", "the parts are in another order", &|wrapper| wrapper.children.swap(0, 1));
            }
        }
        _ => {}
    }
}

/// The element at a place among the children of another.
fn inside(element: &mut Element, at: usize) -> &mut Element {
    if matches!(element.children[at], Node::Text(_)) {
        return element;
    }
    match &mut element.children[at] {
        Node::Element(child) => child,
        Node::Text(_) => unreachable!("this was an element a moment ago"),
    }
}

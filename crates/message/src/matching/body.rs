//! What stands in an envelope: the elements of a body, the accessors of an rpc wrapper, each handed to the schema engine.

use charter_contract::{Body, RpcPart, SoapShape, WireShape};
use charter_schema::Assess;
use charter_source::{Map, Node, elements, ns, tag_place};

use super::envelope::{Envelope, detail, parts, version};
use super::headers::ToAssess;
use super::names::has_name;
use super::standing::{Found, Standing};
use super::{Matched, Matcher, path_of, some};
use crate::captured::Captured;

impl Matcher<'_> {
    /// Judges the contents: header blocks, and what the body or the detail holds.
    pub(super) fn contents(&self, envelope: &Envelope<'_>, at: usize, matched: &mut Matched) {
        let Envelope { message, root, holder, .. } = envelope;
        let Some(soap) = self.soap(at) else { return };
        let (mut literal, mut encoded) = self.blocks(envelope, at, matched);
        let list = if soap.encoding.is_some() { &mut encoded } else { &mut literal };
        if let Some(holder) = holder {
            self.body(message, soap, *holder, list, matched);
        }
        for (list, as_encoded) in [(literal, false), (encoded, true)] {
            if !list.is_empty() {
                matched.add(self.engine.validate_parts(message.file.id, &list, as_encoded, self.most));
            }
        }
        self.attachments(message, soap, *root, matched);
    }

    /// The elements of a body that the schema engine is to judge.
    pub(super) fn body<'a>(
        &self,
        message: &Captured,
        soap: &SoapShape,
        holder: Node<'a>,
        list: &mut Vec<ToAssess<'a>>,
        matched: &mut Matched,
    ) {
        let children: Vec<Node<'a>> = elements(holder).collect();
        match &soap.body {
            Body::Content(ty) => list.push((holder, Assess::As(*ty))),
            Body::Wrapper { parts, .. } => {
                if let Some(wrapper) = children.first() {
                    if soap.encoding.is_none() {
                        self.nil_accessors(message, *wrapper, matched);
                    }
                    self.accessors(message, *wrapper, parts, list, matched);
                }
                self.surplus(message, &children, 1, matched);
            }
            Body::Elements(expected) => {
                for (child, element) in children.iter().zip(expected) {
                    list.push((*child, self.assess(*child, Some(element))));
                }
                for (number, (child, element)) in children.iter().zip(expected).enumerate().skip(1) {
                    let name = element.name(self.engine.schemas());
                    if !has_name(*child, name) {
                        let words =
                            format!("\"{}\" stands where \"{}\" should", child.tag_name().name(), name.local);
                        let help = format!("it is element {} of the body", number + 1);
                        matched.error(
                            "body-parts",
                            tag_place(message.file.id, *child),
                            &path_of(*child),
                            words,
                            help,
                        );
                    }
                }
                for element in expected.iter().skip(children.len()) {
                    let name = element.name(self.engine.schemas());
                    let words = format!("the element \"{}\" is missing", name.local);
                    matched.error(
                        "body-parts",
                        tag_place(message.file.id, holder),
                        &name.local.clone(),
                        words,
                        "add it to the body",
                    );
                }
                self.surplus(message, &children, expected.len(), matched);
            }
        }
    }

    fn surplus(&self, message: &Captured, children: &[Node<'_>], expected: usize, matched: &mut Matched) {
        for child in children.iter().skip(expected) {
            // An encoded body may hold the values that others refer to.
            if child.attribute("id").is_some() {
                continue;
            }
            let words = format!("\"{}\" is one element too many", child.tag_name().name());
            let help = if expected == 1 {
                "the body holds one element".to_owned()
            } else {
                format!("the body holds {expected} elements")
            };
            matched.error("body-parts", tag_place(message.file.id, *child), &path_of(*child), words, help);
        }
    }

    /// A literal accessor has no declaration that could let it be nil (Basic Profile 1.1, R2211).
    fn nil_accessors(&self, message: &Captured, wrapper: Node<'_>, matched: &mut Matched) {
        for child in elements(wrapper) {
            let nil = child.attribute((ns::XSI, "nil"));
            if nil.is_some_and(|nil| matches!(nil.trim(), "true" | "1")) {
                let words = format!("the part \"{}\" is nil", child.tag_name().name());
                let place = tag_place(message.file.id, child);
                matched.error(
                    "part-missing",
                    place,
                    &path_of(child),
                    words,
                    "give it a value: a part is always there",
                );
            }
        }
    }

    /// The accessors of an rpc wrapper: all there, by their names, without a namespace, in the order of the parts.
    fn accessors<'a>(
        &self,
        message: &Captured,
        wrapper: Node<'a>,
        parts: &[RpcPart],
        list: &mut Vec<ToAssess<'a>>,
        matched: &mut Matched,
    ) {
        let file = message.file.id;
        let names = || parts.iter().map(|part| part.name.as_str());
        // Of two parts of a name, the first is meant.
        let places: Map<&str, usize> =
            parts.iter().enumerate().rev().map(|(at, part)| (part.name.as_str(), at)).collect();
        let mut last = 0;
        let mut seen = vec![false; parts.len()];
        for child in elements(wrapper) {
            let tag = child.tag_name();
            let place = tag_place(file, child);
            // Worked out only where something is wrong.
            let path = || path_of(child);
            let Some(at) = places.get(tag.name()).copied() else {
                let help = match matched.suggestions.nearest(tag.name(), names()) {
                    Some(near) => format!("did you mean \"{near}\"?"),
                    None => format!("there are {}", some(names())),
                };
                matched.error(
                    "part-surplus",
                    place,
                    &path(),
                    format!("there is no part \"{}\"", tag.name()),
                    help,
                );
                continue;
            };
            if let Some(namespace) = tag.namespace() {
                let words = format!("the part \"{}\" is in {namespace}", tag.name());
                matched.error(
                    "part-namespace",
                    place,
                    &path(),
                    words,
                    "parts in rpc style are in no namespace: declare xmlns=\"\"",
                );
            }
            if seen[at] {
                matched.error(
                    "part-surplus",
                    place,
                    &path(),
                    format!("the part \"{}\" is there twice", tag.name()),
                    "leave one out",
                );
                continue;
            }
            seen[at] = true;
            if at < last {
                let help = format!("the order is {}", some(names()));
                matched.error(
                    "part-order",
                    place,
                    &path(),
                    format!("the part \"{}\" comes too late", tag.name()),
                    help,
                );
            }
            last = last.max(at);
            list.push((child, Assess::As(parts[at].ty)));
        }
        for (part, _) in parts.iter().zip(&seen).filter(|(_, seen)| !**seen) {
            let path = format!("{}/{}", wrapper.tag_name().name(), part.name);
            matched.error(
                "part-missing",
                tag_place(file, wrapper),
                &path,
                format!("the part \"{}\" is missing", part.name),
                "add it",
            );
        }
    }

    /// The elements that are the contents of a shape, in the order of [`WireShape::contents`], attachments left out, each
    /// with whether it is encoded.
    pub(super) fn nodes<'a>(&self, root: Node<'a>, shape: &WireShape) -> Option<Vec<(Node<'a>, bool)>> {
        let soap = shape.soap()?;
        let version = version(root)?;
        let parts = parts(root, version)?;
        let mut found = Vec::new();
        let blocks: Vec<Node<'a>> = parts.header.into_iter().flat_map(elements).collect();
        let mut standing = Standing::of(self.engine, &blocks);
        let taken = standing.take(self.engine, soap.headers.iter().map(|block| &block.content));
        for (block, taken) in soap.headers.iter().zip(taken) {
            let number = match taken {
                Found::Block(number) => number,
                // One block that two are declared to be has the values of both.
                Found::Shared => blocks.iter().position(|it| self.is_or_stands_for(*it, &block.content))?,
                Found::Nothing => return None,
            };
            found.push((blocks[number], block.encoding.is_some()));
        }
        let holder = match parts.fault {
            Some(fault) if soap.fault.is_some() => match detail(fault, version) {
                Some(detail) => detail,
                None => return Some(found),
            },
            _ => parts.body,
        };
        let encoded = soap.encoding.is_some();
        match &soap.body {
            Body::Content(_) => found.push((holder, encoded)),
            Body::Elements(expected) => {
                let children: Vec<Node<'a>> = elements(holder).take(expected.len()).collect();
                if children.len() < expected.len() {
                    return None;
                }
                found.extend(children.into_iter().map(|child| (child, encoded)));
            }
            Body::Wrapper { parts, .. } => {
                let wrapper = elements(holder).next()?;
                let mut by_name: Map<&str, Node<'a>> = Map::default();
                for node in elements(wrapper) {
                    by_name.entry(node.tag_name().name()).or_insert(node);
                }
                for part in parts {
                    found.push((*by_name.get(part.name.as_str())?, encoded));
                }
            }
        }
        Some(found)
    }
}

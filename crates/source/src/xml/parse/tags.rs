//! Tags: the names of elements, their attributes, and the namespaces that they declare.

use std::borrow::Cow;

use super::super::error::{Problem, XmlError};
use super::super::node::{AttributeData, DECODED, LAST, NodeKind};
use super::super::scopes::{Declaration, NONE, Stretch};
use super::super::stream::Stream;
use super::{Open, Parser, Reference, stretch};
use crate::xml::node::packed;
use crate::xml::scopes::XML_NAMESPACE;
use crate::{Set, ns};

/// The namespace of namespace declarations (Namespaces in XML, section 3).
const XMLNS: &str = "http://www.w3.org/2000/xmlns/";
/// How many attributes are compared with each other one by one.
const FEW: usize = 12;

impl<'s> Parser<'s> {
    pub(super) fn end_tag(&mut self, stream: &mut Stream<'s>, outside: usize) -> Result<(), XmlError> {
        let start = stream.at;
        self.run = None;
        if self.open.len() <= outside {
            let problem = lone_end(*stream)?;
            return Err(stream.error_at(start, problem));
        }
        stream.at += 2;
        let from = stream.at;
        // Nearly always it is the right one.
        let name = self.open.last().map_or("", |open| self.slice(open.name));
        if stream.take(name) && !matches!(stream.peek(), Some(b'>' | b' ' | b'\t' | b'\n' | b'\r')) {
            stream.at = from;
        }
        if stream.at == from {
            stream.qname()?;
        }
        let found = &stream.text[from..stream.at];
        stream.space();
        stream.expect(">", "\">\"")?;
        if found != name {
            let problem = Problem::WrongEndTag { open: name.to_owned(), found: found.to_owned() };
            return Err(stream.error_at(start, problem));
        }
        let all = self.nodes.len() as u32;
        if let Some(open) = self.open.pop() {
            let node = &mut self.nodes[open.node as usize];
            node.place.1 = stream.place() as u32;
            node.end_of_subtree = all;
            self.scope = open.scope;
            self.current.truncate(open.declared);
        }
        Ok(())
    }

    /// A start tag, or the tag of an empty element; whether the element is open now.
    pub(super) fn start_tag(&mut self, stream: &mut Stream<'s>) -> Result<bool, XmlError> {
        let start = stream.at;
        self.run = None;
        stream.at += 1;
        let from = stream.at;
        let (prefix, local) = stream.qname()?;
        let qname = &stream.text[from..stream.at];
        let name = ((stream.base + from) as u32, stream.place() as u32);
        let declared = self.current.len();
        let around = self.scope;
        let empty = self.attributes(stream, declared)?;
        if self.current.len() > declared {
            self.declare(declared);
        }
        let namespace = self.namespace(&qname[..prefix], stream, from)?;
        if self.open.is_empty() && self.doctype && qname.ends_with("Envelope") {
            let soap = [ns::SOAP11_ENVELOPE, ns::SOAP12_ENVELOPE];
            self.is_message = soap.iter().any(|soap| self.known.get(*soap) == Some(&namespace));
        }
        if self.open.len() >= self.bounds.depth {
            return Err(stream.error_at(start, Problem::TooDeep(self.bounds.depth)));
        }
        let first = self.resolve_attributes(stream)?;
        let node = self.add(NodeKind::Element, ((stream.base + start) as u32, stream.place() as u32));
        self.nodes[node as usize].set_element((prefix, local), namespace, self.scope, first);
        if empty {
            self.scope = around;
            self.current.truncate(declared);
            return Ok(false);
        }
        self.open.push(Open { node, name, scope: around, declared });
        Ok(true)
    }

    /// The attributes of a tag up to its end; whether the element is empty.
    fn attributes(&mut self, stream: &mut Stream<'s>, declared: usize) -> Result<bool, XmlError> {
        self.pending.clear();
        loop {
            let spaced = stream.space();
            match stream.peek() {
                Some(b'>') => {
                    stream.at += 1;
                    return Ok(false);
                }
                Some(b'/') => {
                    stream.at += 1;
                    stream.expect(">", "\">\"")?;
                    return Ok(true);
                }
                None => return Err(stream.error(Problem::Ends)),
                Some(_) if !spaced => {
                    return Err(stream.error(Problem::Expected("a space, \">\" or \"/>\"")));
                }
                Some(_) => {}
            }
            let start = stream.at;
            let (prefix, local) = stream.qname()?;
            let qname = &stream.text[start..stream.at];
            stream.space();
            stream.expect("=", "\"=\"")?;
            stream.space();
            let (from, to) = stream.quoted()?;
            if let Some(at) = memchr::memchr(b'<', &stream.bytes()[from..to]) {
                return Err(stream.error_at(from + at, Problem::LessThan));
            }
            let declares = match qname.strip_prefix("xmlns") {
                Some("") => Some(""),
                Some(rest) => rest.strip_prefix(':'),
                None => None,
            };
            let written = ((stream.base + from) as u32, (stream.base + to) as u32);
            let value = self.value(stream, from, to)?;
            if let Some(prefix) = declares {
                let value = value.unwrap_or(Cow::Borrowed(&stream.text[from..to]));
                if self.current.declares(declared, prefix) {
                    return Err(stream.error_at(start, Problem::PrefixTwice(prefix.to_owned())));
                }
                self.declaration(stream, start, prefix, value, written)?;
                continue;
            }
            let mut data = AttributeData::new((stream.base + start) as u32, (prefix, local), written);
            if let Some(value) = value {
                let from = self.decoded_at(self.decoded.len());
                self.decoded.push_str(&value);
                self.owned.push((NONE, (from, self.decoded_at(self.decoded.len()))));
                data.namespace |= DECODED;
            }
            self.pending.push((&stream.text[start..start + prefix], data));
        }
    }

    /// The value of an attribute (XML 1.0, section 3.3.3), if it is not as it is written.
    fn value(
        &mut self,
        stream: &Stream<'s>,
        from: usize,
        to: usize,
    ) -> Result<Option<Cow<'s, str>>, XmlError> {
        let bytes = &stream.bytes()[from..to];
        if memchr::memchr3(b'&', b'\n', b'\t', bytes).is_none() && memchr::memchr(b'\r', bytes).is_none() {
            return Ok(None);
        }
        let mut value = String::with_capacity(to - from);
        let mut inner = Stream { at: from, ..*stream };
        self.normalized(&mut inner, to, &mut value)?;
        Ok(Some(Cow::Owned(value)))
    }

    fn normalized(&mut self, stream: &mut Stream<'s>, to: usize, value: &mut String) -> Result<(), XmlError> {
        while stream.at < to {
            let rest = &stream.text[stream.at..to];
            let next = rest.find(['&', '\t', '\n', '\r', '<']).unwrap_or(rest.len());
            value.push_str(&rest[..next]);
            stream.at += next;
            match rest.as_bytes().get(next) {
                None => {}
                Some(b'&') => match self.reference(stream)? {
                    Reference::Character(c) => value.push(c),
                    Reference::Entity(name, text) => {
                        self.entities.push(name);
                        let mut inner = Stream::new(self.slice(text), text.0 as usize);
                        let end = inner.text.len();
                        self.normalized(&mut inner, end, value)?;
                        self.entities.pop();
                    }
                },
                Some(b'<') => return Err(stream.error(Problem::LessThan)),
                Some(b'\r') if rest[next + 1..].starts_with('\n') => {
                    value.push(' ');
                    stream.at += 2;
                }
                Some(_) => {
                    value.push(' ');
                    stream.at += 1;
                }
            }
            if stream.at > to {
                return Err(stream.error_at(to, Problem::LoneAmpersand));
            }
        }
        Ok(())
    }

    /// A declaration of a prefix, or of the default namespace (Namespaces in XML, section 3).
    fn declaration(
        &mut self,
        stream: &Stream<'s>,
        at: usize,
        prefix: &'s str,
        value: Cow<'s, str>,
        written: Stretch,
    ) -> Result<(), XmlError> {
        let begins = (stream.base + at + "xmlns:".len()) as u32;
        let place = if prefix.is_empty() { (0, 0) } else { (begins, begins + prefix.len() as u32) };
        let refuse = |words| Err(stream.error_at(at, Problem::ReservedNamespace(words)));
        match (prefix, &*value) {
            ("xmlns", _) => return refuse("the prefix \"xmlns\" may not be declared"),
            (_, XMLNS) => return refuse("this namespace may not be declared"),
            ("xml", ns::XML) => return Ok(()),
            ("xml", _) => return refuse("the prefix \"xml\" means one namespace only"),
            (_, ns::XML) => return refuse("only the prefix \"xml\" may mean this namespace"),
            ("", "") => {
                self.current.push("", Declaration { prefix: place, namespace: NONE });
                return Ok(());
            }
            (_, "") => return refuse("a prefix cannot mean no namespace"),
            _ => {}
        }
        let known = self.known.get(&*value).copied();
        let namespace = known.unwrap_or_else(|| {
            let stretch = match &value {
                Cow::Borrowed(_) => written,
                Cow::Owned(text) => {
                    let from = self.decoded_at(self.decoded.len());
                    self.decoded.push_str(text);
                    (from, self.decoded_at(self.decoded.len()))
                }
            };
            self.scopes.namespaces.push(stretch);
            let index = self.scopes.namespaces.len() as u32 - 1;
            self.known.insert(value, index);
            index
        });
        self.current.push(prefix, Declaration { prefix: place, namespace });
        Ok(())
    }

    /// Makes a scope of what the element declares.
    fn declare(&mut self, declared: usize) {
        let (text, texts) = (self.text, self.texts);
        self.scope =
            self.scopes.add(self.scope, &self.current.since(declared), |it| stretch(text, texts, it));
    }

    /// The namespace that a prefix means here.
    fn namespace(&self, prefix: &str, stream: &Stream<'s>, at: usize) -> Result<u32, XmlError> {
        match (prefix, self.current.find(prefix)) {
            ("xml", _) => Ok(XML_NAMESPACE),
            ("xmlns", _) => {
                let words = "no element and no attribute may have the prefix \"xmlns\"";
                Err(stream.error_at(at, Problem::ReservedNamespace(words)))
            }
            (_, Some(namespace)) => Ok(namespace),
            ("", None) => Ok(NONE),
            (prefix, None) => Err(stream.error_at(at, Problem::UnknownPrefix(prefix.to_owned()))),
        }
    }

    /// Gives the attributes of an element their namespaces; the first of them.
    fn resolve_attributes(&mut self, stream: &Stream<'s>) -> Result<u32, XmlError> {
        if self.pending.is_empty() {
            return Ok(NONE);
        }
        let first = self.attributes.len();
        let mut pending = std::mem::take(&mut self.pending);
        let many = pending.len() > FEW;
        let mut seen: Set<(&str, u32)> = Set::default();
        let mut owned = self.owned.partition_point(|(attribute, _)| *attribute != NONE);
        for (prefix, mut data) in pending.drain(..) {
            let at = data.start as usize - stream.base;
            let decoded = data.namespace & DECODED;
            let namespace = if prefix.is_empty() { NONE } else { self.namespace(prefix, stream, at)? };
            let name = self.slice(data.local());
            let twice = match many {
                true => !seen.insert((name, namespace)),
                false => self.attributes[first..]
                    .iter()
                    .any(|it| it.name() == packed(namespace) && self.slice(it.local()) == name),
            };
            if twice {
                return Err(stream.error_at(at, Problem::AttributeTwice(name.to_owned())));
            }
            data.namespace = packed(namespace) | decoded;
            if decoded != 0 {
                self.owned[owned].0 = self.attributes.len() as u32;
                owned += 1;
            }
            self.attributes.push(data);
        }
        self.pending = pending;
        if let Some(last) = self.attributes.last_mut() {
            last.namespace |= LAST;
        }
        Ok(first as u32)
    }
}

/// What is wrong with an end tag that closes nothing.
pub(super) fn lone_end(mut stream: Stream<'_>) -> Result<Problem, XmlError> {
    stream.at += 2;
    let from = stream.at;
    stream.qname()?;
    Ok(Problem::LoneEndTag(stream.text[from..stream.at].to_owned()))
}

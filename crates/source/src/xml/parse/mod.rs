//! Makes the tree of a text.

mod tags;

use std::borrow::Cow;

use super::dtd::{self, Dtd, ENTITY_DEPTH, Entity};
use super::error::{Problem, XmlError};
use super::node::{AttributeData, Document, NodeData, NodeId, NodeKind};
use super::scopes::{Current, NONE, Scopes, Stretch};
use super::stream::{Stream, bad_character};
use crate::Map;
use tags::lone_end;

/// How much is read at most.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Bounds {
    /// Elements nested in each other.
    pub depth: usize,
    /// Whether a document type declaration may stand there.
    pub doctype: bool,
}

impl Default for Bounds {
    fn default() -> Self {
        Bounds { depth: 500, doctype: true }
    }
}

impl Bounds {
    /// How many bytes entities may expand to in a text of that length: what documents that were written by people need, and no
    /// more than the text is worth.
    fn expansion(self, length: usize) -> usize {
        (1 << 20) + length.saturating_mul(2)
    }
}

impl<'t> Document<'t> {
    /// The tree of a text.
    ///
    /// # Errors
    /// If the text is not well-formed, or there is more of something than `bounds` allow.
    pub fn parse(text: &'t str, bounds: Bounds) -> Result<Document<'t>, XmlError> {
        let bad = bad_character(text);
        let problem = |(at, c): (usize, char)| XmlError { problem: Problem::BadCharacter(c), at };
        match parse(text, bounds) {
            // Whatever comes first is said.
            Err(error) => Err(bad.filter(|(at, _)| *at < error.at).map_or(error, problem)),
            Ok(document) => bad.map_or(Ok(document), |bad| Err(problem(bad))),
        }
    }
}

fn parse(text: &str, bounds: Bounds) -> Result<Document<'_>, XmlError> {
    // Where what is decoded begins must be known by 32 bits, as every place is.
    if text.len() > (u32::MAX - 1) as usize / 2 {
        return Err(XmlError { problem: Problem::TooLarge, at: 0 });
    }
    let mut stream = Stream::new(text, 0);
    let budget = bounds.expansion(text.len());
    let mut dtd = Dtd::default();
    // What stands before the root is read twice: first for the entities, whose texts must lie still afterwards.
    if let Some(read) = prolog(&mut stream, bounds, budget)? {
        dtd = read;
    }
    let texts = std::mem::take(&mut dtd.texts);
    let mut parser = Parser::new(text, &texts, &dtd, bounds, budget);
    // What is wrong within a text that is not written as it is, is wrong where that is declared.
    let written =
        |error: XmlError| match dtd.origins.iter().rfind(|((from, _), _)| *from as usize <= error.at) {
            Some((_, (from, _))) if error.at > text.len() => XmlError { at: *from as usize, ..error },
            _ => XmlError { at: error.at.min(text.len()), ..error },
        };
    parser.document(Stream::new(text, 0)).map_err(written)?;
    let Parser { nodes, attributes, owned, scopes, decoded, .. } = parser;
    let origins = dtd.origins;
    let mut document =
        Document { text, texts: String::new(), decoded, nodes, attributes, owned, scopes, origins };
    document.texts = texts;
    document.nodes.shrink_to_fit();
    document.attributes.shrink_to_fit();
    Ok(document)
}

/// The document type declaration, if there is one.
fn prolog(stream: &mut Stream<'_>, bounds: Bounds, budget: usize) -> Result<Option<Dtd>, XmlError> {
    if memchr::memmem::find(stream.bytes(), b"<!DOCTYPE").is_none() {
        return Ok(None);
    }
    if is_declared(stream) {
        dtd::xml_declaration(stream)?;
    }
    loop {
        stream.space();
        if stream.starts_with("<!--") {
            dtd::comment(stream)?;
        } else if stream.starts_with("<?") {
            dtd::instruction(stream)?;
        } else if stream.starts_with("<!DOCTYPE") {
            if !bounds.doctype {
                return Err(stream.error(Problem::Doctype));
            }
            return dtd::read(stream, stream.text.len(), budget).map(Some);
        } else {
            return Ok(None);
        }
    }
}

/// Whether an XML declaration begins here, and not an instruction whose name begins like one.
fn is_declared(stream: &Stream<'_>) -> bool {
    stream.starts_with("<?xml")
        && matches!(stream.bytes().get(stream.at + 5), Some(b' ' | b'\t' | b'\r' | b'\n' | b'?'))
}

/// An element whose end has not been reached.
struct Open {
    node: u32,
    /// Its name as it is written.
    name: Stretch,
    scope: u32,
    /// How many prefixes were declared around it.
    declared: usize,
}

/// Text that goes on: what was read of it is one node, whatever pieces it is written in.
struct Run {
    node: u32,
    /// Whether it is among what was decoded, and not as it is written.
    decoded: bool,
}

struct Parser<'s> {
    text: &'s str,
    texts: &'s str,
    dtd: &'s Dtd,
    bounds: Bounds,
    nodes: Vec<NodeData>,
    attributes: Vec<AttributeData>,
    /// The values of attributes that are not as they are written.
    owned: Vec<(u32, Stretch)>,
    scopes: Scopes,
    known: Map<Cow<'s, str>, u32>,
    decoded: String,
    open: Vec<Open>,
    scope: u32,
    current: Current<'s>,
    run: Option<Run>,
    /// The entities whose texts are being read.
    entities: Vec<&'s str>,
    left: usize,
    whole: usize,
    doctype: bool,
    /// Whether this is a SOAP message, whose entities are not for us to expand (SOAP 1.1, section 3; SOAP 1.2 part 1, section 5).
    is_message: bool,
    /// The attributes of the element that is being read, with the prefix of each.
    pending: Vec<(&'s str, AttributeData)>,
}

impl<'s> Parser<'s> {
    fn new(text: &'s str, texts: &'s str, dtd: &'s Dtd, bounds: Bounds, budget: usize) -> Self {
        // Memory that is not touched costs nothing, and moving a growing list does.
        let count = |byte| memchr::memchr_iter(byte, text.as_bytes()).count();
        let ends = memchr::memmem::find_iter(text.as_bytes(), b"</").count();
        let marks = count(b'<');
        let mut nodes = Vec::with_capacity(2 * marks - ends + 2);
        nodes.push(NodeData::new(NodeKind::Root, NONE, (0, text.len() as u32)));
        Parser {
            text,
            texts,
            dtd,
            bounds,
            nodes,
            attributes: Vec::with_capacity(count(b'=')),
            owned: Vec::new(),
            scopes: Scopes::default(),
            known: Map::default(),
            decoded: String::new(),
            open: Vec::new(),
            scope: NONE,
            current: Current::default(),
            run: None,
            entities: Vec::new(),
            left: budget,
            whole: budget,
            doctype: false,
            is_message: false,
            pending: Vec::new(),
        }
    }

    /// The text at a stretch of what the document keeps, as far as it is not decoded.
    fn slice(&self, place: Stretch) -> &'s str {
        stretch(self.text, self.texts, place)
    }

    fn decoded_at(&self, at: usize) -> u32 {
        (self.text.len() + self.texts.len() + at) as u32
    }

    fn document(&mut self, mut stream: Stream<'s>) -> Result<(), XmlError> {
        if is_declared(&stream) {
            dtd::xml_declaration(&mut stream)?;
        }
        let mut root = false;
        loop {
            stream.space();
            if stream.ended() {
                break;
            }
            if stream.starts_with("<!--") {
                self.comment(&mut stream)?;
            } else if stream.starts_with("<?") {
                self.instruction(&mut stream)?;
            } else if stream.starts_with("<!DOCTYPE") {
                if root || self.doctype {
                    return Err(stream.error(Problem::LateDoctype));
                }
                // It was read before.
                dtd::read(&mut stream, self.text.len(), self.whole)?;
                self.doctype = true;
            } else if stream.peek() == Some(b'<') && !root {
                root = true;
                if self.start_tag(&mut stream)? {
                    self.content(&mut stream, 0)?;
                }
            } else {
                let closes = stream.starts_with("</");
                let first = self.nodes.len() == 1 && !self.doctype && stream.peek() != Some(b'<');
                let problem = match (closes, first) {
                    (true, _) => lone_end(stream)?,
                    (false, true) => Problem::NoXml,
                    (false, false) => Problem::OutsideRoot,
                };
                return Err(stream.error(problem));
            }
        }
        if !root {
            return Err(stream.error(Problem::NoRoot));
        }
        let all = self.nodes.len() as u32;
        self.nodes[0].end_of_subtree = all;
        Ok(())
    }

    /// What stands in the elements that are open, until only `outside` are left or the text ends.
    fn content(&mut self, stream: &mut Stream<'s>, outside: usize) -> Result<(), XmlError> {
        while self.open.len() > outside || !self.entities.is_empty() {
            let Some(byte) = stream.peek() else {
                if self.open.len() == outside && !self.entities.is_empty() {
                    return Ok(());
                }
                return Err(stream.error(Problem::Ends));
            };
            if byte != b'<' {
                self.characters(stream)?;
                continue;
            }
            match stream.bytes().get(stream.at + 1) {
                Some(b'/') => self.end_tag(stream, outside)?,
                Some(b'!') if stream.starts_with("<!--") => self.comment(stream)?,
                Some(b'!') if stream.starts_with("<![CDATA[") => self.cdata(stream)?,
                Some(b'!') if stream.starts_with("<!DOCTYPE") => {
                    return Err(stream.error(Problem::LateDoctype));
                }
                Some(b'!') => return Err(stream.error(Problem::UnknownMarkup)),
                Some(b'?') => self.instruction(stream)?,
                _ => _ = self.start_tag(stream)?,
            }
        }
        Ok(())
    }

    fn add(&mut self, kind: NodeKind, place: Stretch) -> u32 {
        let parent = self.open.last().map_or(0, |open| open.node);
        self.nodes.push(NodeData::new(kind, parent, place));
        let id = self.nodes.len() as u32 - 1;
        self.nodes[id as usize].end_of_subtree = id + 1;
        id
    }

    fn comment(&mut self, stream: &mut Stream<'s>) -> Result<(), XmlError> {
        let start = stream.place() as u32;
        let text = dtd::comment(stream)?;
        self.run = None;
        let id = self.add(NodeKind::Comment, (start, stream.place() as u32));
        self.nodes[id as usize].set_text(text);
        Ok(())
    }

    fn instruction(&mut self, stream: &mut Stream<'s>) -> Result<(), XmlError> {
        let start = stream.place() as u32;
        let text = dtd::instruction(stream)?;
        self.run = None;
        let id = self.add(NodeKind::Instruction, (start, stream.place() as u32));
        self.nodes[id as usize].set_text(text);
        Ok(())
    }

    fn cdata(&mut self, stream: &mut Stream<'s>) -> Result<(), XmlError> {
        let start = stream.place() as u32;
        stream.take("<![CDATA[");
        let from = stream.at;
        let Some(end) = stream.find("]]>") else {
            return Err(stream.error_at(stream.text.len(), Problem::Ends));
        };
        stream.at = end + "]]>".len();
        let place = (start, stream.place() as u32);
        if from == end {
            return Ok(());
        }
        let text = &stream.text[from..end];
        if memchr::memchr(b'\r', text.as_bytes()).is_none() {
            self.put(((stream.base + from) as u32, (stream.base + end) as u32), place);
        } else {
            self.put_decoded(&with_line_feeds(text), place);
        }
        Ok(())
    }

    /// Adds text that is as it is written.
    fn put(&mut self, text: Stretch, place: Stretch) {
        match self.run {
            None => {
                let node = self.add(NodeKind::Text, place);
                self.nodes[node as usize].set_text(text);
                self.run = Some(Run { node, decoded: false });
            }
            Some(_) => self.put_decoded(self.slice(text), place),
        }
    }

    /// Adds text that is not as it is written.
    fn put_decoded(&mut self, text: &str, place: Stretch) {
        if text.is_empty() && self.run.is_none() {
            return;
        }
        let start = self.decoded_at(self.decoded.len());
        let run = match self.run.take() {
            None => {
                let node = self.add(NodeKind::Text, place);
                self.nodes[node as usize].set_text((start, start));
                Run { node, decoded: true }
            }
            Some(run) if !run.decoded => {
                let before = self.slice(self.nodes[run.node as usize].text());
                self.decoded.push_str(before);
                self.nodes[run.node as usize].set_text((start, start));
                Run { decoded: true, ..run }
            }
            Some(run) => run,
        };
        self.decoded.push_str(text);
        let end = self.decoded_at(self.decoded.len());
        let node = &mut self.nodes[run.node as usize];
        node.set_text((node.text().0, end));
        // What comes out of an entity stands elsewhere.
        if place.1 >= node.place.1 && self.entities.is_empty() {
            node.place.1 = place.1;
        }
        self.run = Some(run);
    }

    /// Text up to the next markup.
    fn characters(&mut self, stream: &mut Stream<'s>) -> Result<(), XmlError> {
        let start = stream.at;
        let rest = &stream.bytes()[start..];
        let end = memchr::memchr(b'<', rest).map_or(stream.text.len(), |at| start + at);
        let text = &stream.text[start..end];
        if let Some(at) = memchr::memchr(b']', text.as_bytes())
            && let Some(at) = memchr::memmem::find(&text.as_bytes()[at..], b"]]>").map(|found| at + found)
        {
            return Err(stream.error_at(start + at, Problem::CdataEnd));
        }
        let whole = ((stream.base + start) as u32, (stream.base + end) as u32);
        if memchr::memchr2(b'&', b'\r', text.as_bytes()).is_none() {
            self.put(whole, whole);
            stream.at = end;
            return Ok(());
        }
        while stream.at < end {
            let from = stream.at;
            let rest = &stream.bytes()[from..end];
            let next = memchr::memchr(b'&', rest).map_or(end, |at| from + at);
            if next > from {
                let piece = &stream.text[from..next];
                let place = ((stream.base + from) as u32, (stream.base + next) as u32);
                match memchr::memchr(b'\r', piece.as_bytes()) {
                    None => self.put(place, if self.run.is_none() { whole } else { place }),
                    Some(_) => self.put_decoded(&with_line_feeds(piece), whole),
                }
                stream.at = next;
                continue;
            }
            let c = match self.reference(stream)? {
                Reference::Character(c) => c,
                Reference::Entity(name, text) => {
                    self.entity(stream, from, name, text)?;
                    continue;
                }
            };
            self.put_decoded(c.encode_utf8(&mut [0; 4]), whole);
        }
        Ok(())
    }

    /// The content of an entity, which stands where it is called for.
    fn entity(
        &mut self,
        stream: &Stream<'s>,
        from: usize,
        name: &'s str,
        text: Stretch,
    ) -> Result<(), XmlError> {
        let outside = self.open.len();
        self.entities.push(name);
        let mut inner = Stream::new(self.slice(text), text.0 as usize);
        let read = self.content(&mut inner, outside);
        self.entities.pop();
        // What is wrong with it as a whole is told where it is called for.
        read.map_err(|error| match error.problem {
            Problem::Ends | Problem::LoneEndTag(_) => {
                stream.error_at(from, Problem::BrokenEntity(name.to_owned()))
            }
            Problem::EntityBudget(_) | Problem::EntityLoop(_) => stream.error_at(from, error.problem),
            _ => error,
        })
    }

    /// Goes over a reference, which has been paid for afterwards.
    fn reference(&mut self, stream: &mut Stream<'s>) -> Result<Reference<'s>, XmlError> {
        if stream.starts_with("&#") {
            return stream.character().map(Reference::Character);
        }
        let start = stream.at;
        let name = stream.entity()?;
        let known = match name {
            "lt" => '<',
            "gt" => '>',
            "amp" => '&',
            "quot" => '"',
            "apos" => '\'',
            _ => return self.declared(stream, start, name),
        };
        Ok(Reference::Character(known))
    }

    fn declared(
        &mut self,
        stream: &Stream<'s>,
        start: usize,
        name: &'s str,
    ) -> Result<Reference<'s>, XmlError> {
        if self.is_message {
            return Err(stream.error_at(start, Problem::Doctype));
        }
        match self.dtd.entities.get(name) {
            None if !self.dtd.unread => Err(stream.error_at(start, Problem::UnknownEntity(name.to_owned()))),
            None | Some(Entity::External) => {
                Err(stream.error_at(start, Problem::ExternalEntity(name.to_owned())))
            }
            Some(Entity::Internal(text)) => {
                if self.entities.contains(&name) {
                    return Err(stream.error_at(start, Problem::EntityLoop(name.to_owned())));
                }
                let cost = (text.1 - text.0) as usize + 1;
                let left = self.left.checked_sub(cost).filter(|_| self.entities.len() < ENTITY_DEPTH);
                self.left = left.ok_or_else(|| stream.error_at(start, Problem::EntityBudget(self.whole)))?;
                Ok(Reference::Entity(name, *text))
            }
        }
    }
}

/// The stretch of a text that texts of entities follow.
fn stretch<'s>(text: &'s str, texts: &'s str, (from, to): Stretch) -> &'s str {
    let (from, to, length) = (from as usize, to as usize, text.len());
    if to <= length { &text[from..to] } else { &texts[from - length..to - length] }
}

enum Reference<'s> {
    Character(char),
    Entity(&'s str, Stretch),
}

/// A text with each line end as a line feed (XML 1.0, section 2.11).
fn with_line_feeds(text: &str) -> String {
    text.replace("\r\n", "\n").replace('\r', "\n")
}

impl From<NodeId> for usize {
    fn from(id: NodeId) -> usize {
        id.get() as usize
    }
}

//! Finds out which operation and side a message is, and whether it is what the contract asks for.
//!
//! `shapes.rs` knows every wire shape of a contract by what its messages begin with. `envelope.rs` finds that of an
//! envelope; `structure.rs`, `headers.rs` and `body.rs` judge its pieces, `http.rs` what stands around it and messages
//! without one. A message that fits no
//! shape is held against the one that it comes nearest to (`nearest.rs`).

mod body;
mod envelope;
mod headers;
mod http;
mod names;
mod nearest;
mod shapes;
mod standing;
mod structure;

use charter_contract::{
    BindingId, Bound, Carrier, Contract, HttpContent, OperationId, PortId, Side, WireElement, WireShape,
};
use charter_schema::{Assess, ElementId, Engine, Paths, Report};
use charter_source::{Fault, Node, Place, Suggestions, tag_place};

use crate::blocks::Wanted;
use crate::captured::Captured;
use crate::{WireContent, values};
pub use shapes::Known;
use shapes::Shapes;

/// How serious it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Severity {
    /// The message is not what the contract asks for.
    Error,
    /// Somebody may refuse it.
    Warning,
    /// Worth knowing.
    Note,
}

/// Something about a message.
#[derive(Debug, Clone)]
pub struct Found {
    /// How serious it is.
    pub severity: Severity,
    /// The rule, the place and the words.
    pub fault: Fault,
    /// The wire path.
    pub path: String,
}

/// What a message turned out to be.
#[derive(Debug, Default)]
pub struct Matched {
    /// The number of its wire shape among [`Matcher::known`].
    pub shape: Option<usize>,
    /// Whether it is the body alone, without an envelope.
    pub body_alone: bool,
    /// Whether it is only held against that shape, since it fits none.
    pub nearest: bool,
    /// What there is to say, at most as much as was asked for.
    pub found: Vec<Found>,
    /// How many errors there are, those included that are not listed.
    pub errors: usize,
    /// Says what names may have meant.
    suggestions: Suggestions,
    /// What it is a reply to, where that is known.
    answers: Option<Answers>,
}

/// What a reply is a reply to.
#[derive(Debug, Clone, Copy)]
struct Answers {
    operation: OperationId,
    binding: BindingId,
    port: Option<PortId>,
}

impl Answers {
    fn of(request: &WireShape) -> Answers {
        Answers { operation: request.operation, binding: request.binding, port: request.port }
    }

    fn is_met_by(self, shape: &WireShape) -> bool {
        (self.operation, self.binding, self.port) == (shape.operation, shape.binding, shape.port)
    }
}

impl Matched {
    /// Whether it is what the contract asks for.
    pub fn is_valid(&self) -> bool {
        self.errors == 0
    }

    /// Says something about a message as a whole.
    fn of_whole(
        &mut self,
        severity: Severity,
        place: Place,
        rule: &'static str,
        words: impl Into<String>,
        help: impl Into<String>,
    ) {
        self.say(severity, "message", Fault::new(rule, place, words).help(help));
    }

    pub(crate) fn say(&mut self, severity: Severity, path: impl Into<String>, fault: Fault) {
        if severity == Severity::Error {
            self.errors += 1;
        }
        self.found.push(Found { severity, fault, path: path.into() });
    }

    pub(crate) fn error(
        &mut self,
        rule: &'static str,
        place: Place,
        path: &str,
        message: impl Into<String>,
        help: impl Into<String>,
    ) {
        self.say(Severity::Error, path, Fault::new(rule, place, message).help(help));
    }

    pub(crate) fn warning(
        &mut self,
        rule: &'static str,
        place: Place,
        path: &str,
        message: impl Into<String>,
        help: impl Into<String>,
    ) {
        self.say(Severity::Warning, path, Fault::new(rule, place, message).help(help));
    }

    /// Adds an error about the message as a whole.
    pub fn add_fault(&mut self, fault: Fault, path: &str) {
        self.say(Severity::Error, path, fault);
    }

    /// Adds what the schema engine found.
    pub fn add(&mut self, report: Report) {
        self.errors += report.count;
        for wrong in report.wrong {
            let path = wire_path(&wrong.path);
            self.found.push(Found { severity: Severity::Error, fault: wrong.fault, path });
        }
    }
}

/// The wire path for a path in a document: what stands around the body is left out.
fn wire_path(path: &str) -> String {
    let inside = path.strip_prefix("Envelope/").unwrap_or(path);
    if let Some(rest) = inside.strip_prefix("Header/") {
        return format!("{}/{rest}", values::HEADER);
    }
    let inside = inside.strip_prefix("Body/").unwrap_or(inside);
    let inside = inside
        .strip_prefix("Fault/detail/")
        .or_else(|| inside.strip_prefix("Fault/Detail/"))
        .unwrap_or(inside);
    inside.to_owned()
}

/// Matches messages against a contract.
pub struct Matcher<'c> {
    contract: &'c Contract,
    engine: &'c Engine<'c>,
    shapes: Shapes,
    /// How many things about one message are listed.
    most: usize,
    /// The namespaces whose header blocks are understood beside those of the contract.
    understood: &'c [&'c str],
}

impl<'c> Matcher<'c> {
    /// A matcher that lists at most so many things about each message.
    ///
    /// ```
    /// use charter_contract::Contract;
    /// use charter_message::captured::split;
    /// use charter_message::matching::Matcher;
    /// use charter_schema::Engine;
    /// use charter_source::{Limits, Location, Overlay};
    ///
    /// let text = r#"<definitions xmlns="http://schemas.xmlsoap.org/wsdl/" xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/"
    ///     xmlns:xs="http://www.w3.org/2001/XMLSchema" xmlns:t="urn:saltmere:tides:1" targetNamespace="urn:saltmere:tides:1">
    ///   <message name="ask"><part name="depth" type="xs:decimal"/></message>
    ///   <portType name="Tides"><operation name="nextTide"><input message="t:ask"/></operation></portType>
    ///   <binding name="B" type="t:Tides"><soap:binding style="rpc" transport="http://schemas.xmlsoap.org/soap/http"/>
    ///     <operation name="nextTide"><input><soap:body use="literal" namespace="urn:saltmere:tides:1"/></input></operation></binding>
    /// </definitions>"#;
    /// let store = Overlay::of(&[("tides.wsdl", text)]);
    /// let contract = Contract::load(&store, &Location::from_argument("tides.wsdl"), Limits::default())?;
    /// let engine = Engine::new(&contract.files, &contract.schemas);
    /// let envelope = r#"<e:Envelope xmlns:e="http://schemas.xmlsoap.org/soap/envelope/"><e:Body>
    ///   <t:nextTide xmlns:t="urn:saltmere:tides:1"><depth>deep</depth></t:nextTide></e:Body></e:Envelope>"#;
    /// let matched = Matcher::new(&contract, &engine, 10).judge(&split("ask.xml", envelope.as_bytes())[0].open());
    /// assert_eq!(matched.found[0].path, "nextTide/depth");
    /// assert_eq!(matched.found[0].fault.message, "\"deep\" is not a decimal");
    /// # Ok::<(), charter_source::ReadError>(())
    /// ```
    pub fn new(contract: &'c Contract, engine: &'c Engine<'c>, most: usize) -> Matcher<'c> {
        let shapes = Shapes::of(contract, engine.relatives(), &|_| true);
        Matcher { contract, engine, shapes, most, understood: &[] }
    }

    /// The same for some of the ways in which operations are offered: what goes by no other is unknown to it.
    pub fn of_ways(
        contract: &'c Contract,
        engine: &'c Engine<'c>,
        counts: &dyn Fn(&Bound<'_>) -> bool,
        most: usize,
    ) -> Matcher<'c> {
        let shapes = Shapes::of(contract, engine.relatives(), counts);
        Matcher { contract, engine, shapes, most, understood: &[] }
    }

    /// The same for a receiver that understands header blocks of some namespaces, whatever the contract says of them.
    pub fn understanding(self, namespaces: &'c [&'c str]) -> Matcher<'c> {
        Matcher { understood: namespaces, ..self }
    }

    /// The wire shapes of the contract.
    pub fn known(&self) -> &[Known] {
        &self.shapes.all
    }

    /// The operation and the side that a message was matched to.
    pub fn operation(&self, matched: &Matched) -> Option<(OperationId, Side)> {
        matched.shape.map(|at| (self.shapes.all[at].shape.operation, self.shapes.all[at].shape.side))
    }

    /// What a message is, and what is wrong with it.
    pub fn judge(&self, message: &Captured) -> Matched {
        self.judged(message, None)
    }

    /// The same of what came back for a request of some shape: of two operations with the same reply, it is that of the one
    /// that was asked for.
    pub fn judge_reply(&self, message: &Captured, request: &WireShape) -> Matched {
        self.judged(message, Some(request))
    }

    fn judged(&self, message: &Captured, request: Option<&WireShape>) -> Matched {
        let mut matched = Matched { answers: request.map(Answers::of), ..Matched::default() };
        if let Some(fault) = &message.fault {
            matched.say(Severity::Error, "message", fault.clone());
            return matched;
        }
        let Some(root) = message.file.root() else {
            self.without_xml(message, &mut matched);
            return matched;
        };
        match envelope::version(root) {
            Some(version) => self.envelope(message, root, version, &mut matched),
            None if root.tag_name().name() == "Envelope" => {
                let place = tag_place(message.file.id, root);
                let namespace = root.tag_name().namespace().unwrap_or("none");
                let words = format!("this envelope is of no version of SOAP: its namespace is {namespace}");
                let help = "SOAP 1.1 has http://schemas.xmlsoap.org/soap/envelope/, SOAP 1.2 http://www.w3.org/2003/05/soap-envelope";
                matched.error("envelope-version", place, "Envelope", words, help);
            }
            None => self.document(message, root, &mut matched),
        }
        matched.found.truncate(self.most);
        matched
    }

    /// A document without an envelope: a message over plain HTTP, the body of one, or any global element.
    fn document(&self, message: &Captured, root: Node<'_>, matched: &mut Matched) {
        if self.over_http(message, matched) {
            return;
        }
        let tag = root.tag_name();
        let name = charter_source::QName::new(tag.namespace().unwrap_or(""), tag.name());
        matched.shape = self.shapes.beginning_with(&name).first().copied();
        matched.body_alone = true;
        if let Some(start) = &message.start {
            let place = tag_place(message.file.id, root);
            let direction = match start {
                crate::http::Start::Request { .. } => "request",
                crate::http::Start::Reply { .. } => "reply",
            };
            let words = format!("this {direction} has no envelope");
            matched.error(
                "envelope-missing",
                place,
                tag.name(),
                words,
                "put the message into Envelope and Body",
            );
        }
        let report = match matched.shape {
            Some(at) => {
                let element = self.shapes.all[at].first.clone();
                self.engine.validate_parts(
                    message.file.id,
                    &[(root, self.assess(root, element.as_ref()))],
                    false,
                    self.most,
                )
            }
            None => self.engine.validate(message.file.id, root, self.most),
        };
        matched.add(report);
    }

    /// What fills the wire shape that a message was matched to, if all of it is there.
    pub fn wire_content(&self, message: &Captured, matched: &Matched) -> Option<WireContent> {
        let shape = &self.shapes.all[matched.shape?].shape;
        let root = message.file.root()?;
        let contents = shape.contents();
        if matched.body_alone {
            let [only] = contents.as_slice() else { return None };
            return Some(values::wire_content(self.engine, message.file.id, &[(root, only.clone())], false));
        }
        if let Carrier::Http(http) = &shape.carrier {
            // A document by itself; what else goes over plain HTTP is no tree.
            let HttpContent::Part(part) = &http.content else { return None };
            let content = [(root, part.content.clone())];
            return part.xml.then(|| values::wire_content(self.engine, message.file.id, &content, false));
        }
        let soap = shape.soap()?;
        let nodes = self.nodes(root, shape)?;
        let mut wire_content = Vec::new();
        for ((node, encoded), content) in nodes.into_iter().zip(&contents) {
            wire_content.push(values::element(self.engine, message.file.id, node, content, encoded));
        }
        for (part, content) in
            soap.attachments.iter().zip(&contents[contents.len() - soap.attachments.len()..])
        {
            wire_content.push(http::attached(self.engine, message, part, content)?);
        }
        Some(WireContent { elements: wire_content })
    }

    /// Which header blocks beside those of the binding are asked for.
    fn wanted(&self, at: usize) -> &Wanted {
        let known = &self.shapes.all[at];
        known.wanted.get_or_init(|| Wanted::of(self.contract, &known.shape))
    }
}

impl Matcher<'_> {
    /// How an element on the wire is judged: by its declaration, or by that of what may stand for it.
    fn assess(&self, node: Node<'_>, element: Option<&WireElement>) -> Assess {
        let Some(WireElement::Declared(id)) = element else { return assess(element) };
        Assess::By(self.substitute(node, *id).unwrap_or(*id))
    }

    /// The declaration of an element that stands for another by its substitution group.
    fn substitute(&self, node: Node<'_>, head: ElementId) -> Option<ElementId> {
        let tag = node.tag_name();
        let symbol = self.engine.symbol(tag.namespace().unwrap_or(""), tag.name());
        symbol.global.filter(|_| symbol.heads.iter().any(|(_, known)| *known == head))
    }

    /// Whether an element is the wanted one, or may stand for it.
    fn is_or_stands_for(&self, node: Node<'_>, wanted: &WireElement) -> bool {
        let by_name = names::has_name(node, wanted.name(self.engine.schemas()));
        by_name || matches!(wanted, WireElement::Declared(id) if self.substitute(node, *id).is_some())
    }
}

fn assess(element: Option<&WireElement>) -> Assess {
    match element {
        Some(WireElement::Declared(id)) => Assess::By(*id),
        Some(WireElement::Typed { ty, .. }) => Assess::As(*ty),
        None => Assess::Strict,
    }
}

/// How many names are listed.
const LISTED: usize = 12;

/// Names one after the other, the first of many.
fn some<'n>(names: impl Iterator<Item = &'n str>) -> String {
    let names: Vec<&str> = names.collect();
    let more = names.len().saturating_sub(LISTED);
    let first = names[..names.len() - more].join(", ");
    if more == 0 { first } else { format!("{first} and {more} more") }
}

/// The wire path of an element.
fn path_of(node: Node<'_>) -> String {
    wire_path(&Paths::default().of(node))
}

//! What stands around an envelope on HTTP, attachments, and messages over plain HTTP without one.

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use charter_contract::{
    Carrier, HttpContent, MediaPart, RpcPart, SoapShape, SoapVersion, WireElement, WireShape,
};
use charter_schema::{Builtin, Engine};
use charter_source::{Address, FileId, Map, Node, Place, Set, tag_place};

use super::{Matched, Matcher, Severity, some};
use crate::captured::Captured;
use crate::http::{Start, media_type, parameter};
use crate::{Element, form};

/// The action that the HTTP headers name (SOAP 1.1, 6.1.1; SOAP 1.2 Part 2, 6.5.3).
pub(super) fn action(message: &Captured, version: SoapVersion) -> Option<String> {
    match version {
        SoapVersion::V11 => {
            message.headers.get("SOAPAction").map(|value| value.trim().trim_matches('"').to_owned())
        }
        SoapVersion::V12 => {
            // Beside binary content in parts of its own, the type of the envelope stands in a parameter.
            let own = message.headers.media_parameter("action");
            own.or_else(|| parameter(&message.headers.media_parameter("start-info")?, "action"))
        }
    }
}

impl Matcher<'_> {
    /// Judges what stands around an envelope: method or status, media type, action.
    pub(super) fn around(&self, message: &Captured, root: Node<'_>, at: usize, matched: &mut Matched) {
        let shape = &self.shapes.all[at].shape;
        let Some(soap) = shape.soap() else { return };
        self.media_type(message, root, soap, matched);
        match &message.start {
            None => {}
            Some(Start::Request { method, .. }) => {
                if method != "POST" {
                    let words = format!("the method is {method}");
                    matched.of_whole(
                        Severity::Error,
                        tag_place(message.file.id, root),
                        "http-method",
                        words,
                        "an envelope is sent with POST".to_owned(),
                    );
                }
                self.action(message, root, soap, matched);
            }
            Some(Start::Reply { status }) => {
                let fault = soap.fault.is_some();
                let fine = if fault { matches!(status, 400 | 500) } else { matches!(status, 200..=299) };
                if !fine {
                    let words = format!("the status is {status}");
                    let help =
                        if fault { "a fault has the status 500" } else { "a reply has the status 200" };
                    matched.of_whole(
                        Severity::Warning,
                        tag_place(message.file.id, root),
                        "http-status",
                        words,
                        help.to_owned(),
                    );
                }
            }
        }
    }

    fn media_type(&self, message: &Captured, root: Node<'_>, soap: &SoapShape, matched: &mut Matched) {
        let Some(found) = message.headers.media_type() else { return };
        let expected = match soap.version {
            SoapVersion::V11 => "text/xml",
            SoapVersion::V12 => "application/soap+xml",
        };
        let found = match found.starts_with("multipart/") {
            true => message.headers.media_parameter("type").map_or(found, |inner| media_type(&inner)),
            false => found,
        };
        let packed = found == "application/xop+xml";
        if found != expected && !packed {
            let words = format!("the content type is {found}");
            let help = format!("SOAP {} has {expected}", soap.version.number());
            matched.of_whole(Severity::Error, tag_place(message.file.id, root), "content-type", words, help);
        }
    }

    fn action(&self, message: &Captured, root: Node<'_>, soap: &SoapShape, matched: &mut Matched) {
        let expected = soap.action.as_deref().unwrap_or("");
        let found = action(message, soap.version);
        match (found, soap.version) {
            (None, SoapVersion::V11) => {
                let help = format!("add SOAPAction: \"{expected}\"");
                matched.of_whole(
                    Severity::Error,
                    tag_place(message.file.id, root),
                    "action-missing",
                    "the header SOAPAction is missing".to_owned(),
                    help,
                );
            }
            (None, SoapVersion::V12) => {}
            (Some(found), _) if found != expected && !expected.is_empty() => {
                let words = if found.is_empty() {
                    "the action is empty".to_owned()
                } else {
                    format!("the action is \"{found}\"")
                };
                let help = format!("this message has the action \"{expected}\"");
                matched.of_whole(
                    Severity::Error,
                    tag_place(message.file.id, root),
                    "action-wrong",
                    words,
                    help,
                );
            }
            (Some(_), _) => {}
        }
    }

    /// Judges what came along with an envelope.
    pub(super) fn attachments(
        &self,
        message: &Captured,
        soap: &SoapShape,
        root: Node<'_>,
        matched: &mut Matched,
    ) {
        // An envelope that was kept alone says nothing about what came with it.
        if message.start.is_none() && message.attachments.is_empty() && message.headers.is_empty() {
            return;
        }
        for part in &soap.attachments {
            let Some(found) = attachment(message, &part.name) else {
                let words = format!("the attachment \"{}\" is missing", part.name);
                let help = format!("add a part of {} with Content-ID: <{}=…>", part.media_type, part.name);
                matched.of_whole(
                    Severity::Error,
                    tag_place(message.file.id, root),
                    "attachment-missing",
                    words,
                    help,
                );
                continue;
            };
            if !found.media_type.is_empty() && !part.allows(&found.media_type) {
                let words = format!("the attachment \"{}\" is {}", part.name, found.media_type);
                let help = format!("the binding says {}", part.allowed.join(" or "));
                matched.of_whole(
                    Severity::Warning,
                    tag_place(message.file.id, root),
                    "attachment-type",
                    words,
                    help,
                );
            }
        }
    }

    /// Judges a message over plain HTTP; whether it is one.
    pub(super) fn over_http(&self, message: &Captured, matched: &mut Matched) -> bool {
        let mut best: Option<(usize, usize, Matched)> = None;
        for at in self.shapes.plain.iter().copied() {
            let shape = &self.shapes.all[at].shape;
            if let Some(trial) = self.plain(message, shape) {
                // Of two that fit alike, the one that was asked for.
                let other = matched.answers.is_some_and(|answers| !answers.is_met_by(shape));
                let errors = trial.errors * 2 + usize::from(other);
                if best.as_ref().is_none_or(|(_, least, _)| errors < *least) {
                    best = Some((at, errors, trial));
                }
            }
        }
        let Some((at, _, trial)) = best else { return false };
        *matched = trial;
        matched.shape = Some(at);
        true
    }

    /// A message that is no XML.
    pub(super) fn without_xml(&self, message: &Captured, matched: &mut Matched) {
        if self.over_http(message, matched) {
            return;
        }
        let place = Place { file: FileId(0), span: charter_source::Span::default() };
        let (words, help) = match &message.start {
            None => (
                "this is no message: neither XML nor HTTP".to_owned(),
                "give an envelope, an HTTP exchange, or JSON Lines".to_owned(),
            ),
            Some(Start::Request { method, target }) if message.octets.is_empty() => {
                (format!("no operation is offered by {method} {target}"), self.addresses())
            }
            Some(Start::Reply { .. }) if message.octets.is_empty() => {
                ("the reply is empty".to_owned(), "an operation without output may be answered so".to_owned())
            }
            Some(_) => {
                ("the body is no envelope".to_owned(), "put the message into Envelope and Body".to_owned())
            }
        };
        let rule = if message.start.is_none() { "message-unreadable" } else { "envelope-missing" };
        // Accepted, with nothing to say: that is how a one-way request is answered.
        if matches!(message.start, Some(Start::Reply { status: 202 | 204 })) && message.octets.is_empty() {
            return;
        }
        matched.error(rule, place, "message", words, help);
    }

    fn addresses(&self) -> String {
        let shapes = self.shapes.plain.iter().map(|at| &self.shapes.all[*at].shape);
        let requests = shapes.filter(|shape| shape.is_request());
        let all = requests
            .filter_map(|shape| Some(format!("{} {}", shape.method, target(shape.address.as_deref()?))));
        let all: Vec<String> = all.take(6).collect();
        if all.is_empty() {
            "all operations take envelopes, sent with POST".to_owned()
        } else {
            format!("there are {}", all.join(", "))
        }
    }

    /// Judges a message by a shape over plain HTTP; `None` if it is something else.
    fn plain(&self, message: &Captured, shape: &WireShape) -> Option<Matched> {
        let Carrier::Http(http) = &shape.carrier else { return None };
        let mut matched = Matched::default();
        let mut query = String::new();
        match (&message.start, shape.is_request()) {
            (Some(Start::Request { method, target: found }), true) => {
                if method != shape.method {
                    return None;
                }
                let found = target(found);
                let (bare, after) = found.split_once('?').unwrap_or((&found, ""));
                query = after.to_owned();
                let wanted = target(shape.address.as_deref().unwrap_or("/"));
                let wanted = wanted.split('?').next().unwrap_or("");
                if let HttpContent::InPath(parts) = &http.content {
                    let values = form::in_path(wanted, bare)?;
                    self.fields(parts, &values, &mut matched);
                    return Some(matched);
                }
                if bare != wanted {
                    return None;
                }
            }
            (Some(Start::Reply { .. }), false) | (None, _) => {}
            _ => return None,
        }
        match &http.content {
            HttpContent::Form(parts) => {
                let body = String::from_utf8_lossy(&message.octets);
                let get = shape.method == "GET";
                message.start.as_ref()?;
                self.fields(parts, &form::decode(if get { &query } else { &body }), &mut matched);
            }
            HttpContent::Part(part) => self.part(message, part, &mut matched)?,
            HttpContent::Empty => {
                message.start.as_ref()?;
                if message.file.root().is_some() || !message.octets.is_empty() {
                    return None;
                }
            }
            HttpContent::InPath(_) => return None,
            HttpContent::Multipart(parts) => {
                message.start.as_ref()?;
                let found = parts.iter().filter(|part| attachment(message, &part.name).is_some()).count();
                // The first part is the root of the message.
                if found + 1 < parts.len() {
                    return None;
                }
            }
        }
        Some(matched)
    }

    /// Judges the body as a part by itself.
    fn part(&self, message: &Captured, part: &MediaPart, matched: &mut Matched) -> Option<()> {
        let schemas = self.engine.schemas();
        if part.xml {
            let root = message.file.root()?;
            let name = part.content.name(schemas);
            if !super::names::has_name(root, name) {
                return None;
            }
            let judged = [(root, self.assess(root, Some(&part.content)))];
            matched.add(self.engine.validate_parts(message.file.id, &judged, false, self.most));
            return Some(());
        }
        message.start.as_ref()?;
        let expected = media_type(&part.media_type);
        (message.headers.media_type()? == expected && message.file.root().is_none()).then_some(())
    }

    /// Judges the values of a form or of an address.
    fn fields(&self, parts: &[RpcPart], values: &[(String, String)], matched: &mut Matched) {
        let place = Place { file: FileId(0), span: charter_source::Span::default() };
        let names = || parts.iter().map(|part| part.name.as_str());
        let known: Map<&str, &RpcPart> = parts.iter().rev().map(|part| (part.name.as_str(), part)).collect();
        let mut given: Set<&str> = Set::default();
        for (name, value) in values {
            given.insert(name);
            let Some(part) = known.get(name.as_str()) else {
                let help = match matched.suggestions.nearest(name, names()) {
                    Some(near) => format!("did you mean \"{near}\"?"),
                    None => format!("there are {}", some(names())),
                };
                matched.error("part-surplus", place, name, format!("there is no part \"{name}\""), help);
                continue;
            };
            let element = Element::new(charter_source::QName::new("", name)).text(value.as_str());
            if let Err(error) = crate::values::accepted(self.engine, part.ty, &element) {
                matched.error(error.0, place, name, error.1, error.2);
            }
        }
        for part in parts.iter().filter(|part| !given.contains(part.name.as_str())) {
            matched.error(
                "part-missing",
                place,
                &part.name,
                format!("the part \"{}\" is missing", part.name),
                "add it",
            );
        }
    }
}

/// The path and the query of a target or an address, written as a request has them.
fn target(text: &str) -> String {
    let address = match text.starts_with('/') {
        true => Address::parse(&format!("http://host{text}")),
        false => Address::parse(text),
    };
    address.map_or_else(|| text.to_owned(), |address| address.target().to_owned())
}

/// The attachment of a message part, by its name (Attachments Profile 1.0, R2933).
fn attachment<'m>(message: &'m Captured, part: &str) -> Option<&'m crate::captured::Attachment> {
    let by_name = message.attachments.iter().find(|it| it.id.split('=').next() == Some(part));
    by_name.or(match message.attachments.as_slice() {
        [only] if !only.id.contains('=') => Some(only),
        _ => None,
    })
}

/// An attachment as the element that would hold its value.
pub(super) fn attached(
    engine: &Engine<'_>,
    message: &Captured,
    part: &MediaPart,
    content: &WireElement,
) -> Option<Element> {
    let found = attachment(message, &part.name)?;
    let ty = content.ty(engine.schemas());
    let builtin = engine.datatype(ty).and_then(|datatype| datatype.builtin()).map(Builtin::primitive);
    let text = match builtin {
        Some(Builtin::Base64Binary) => STANDARD.encode(&found.octets),
        Some(Builtin::HexBinary) => found.octets.iter().map(|byte| format!("{byte:02X}")).collect(),
        _ => String::from_utf8_lossy(&found.octets).into_owned(),
    };
    let mut element = Element::new(content.name(engine.schemas()).clone()).text(text);
    element.ty = Some(ty);
    Some(element)
}

//! Envelopes: their structure, which shape they have, and whether their body is what it asks for.

use charter_contract::{Body, RpcPart, SoapShape, SoapVersion, WireShape};
use charter_schema::Assess;
use charter_source::{Fault, Node, QName, elements, nearest, tag_place};

use super::headers::{Judged, has_name};
use super::{Matched, Matcher, Severity, path_of};
use crate::captured::{Captured, Start};

/// The version of an envelope; `None` if the element is none.
pub(super) fn version(root: Node<'_>) -> Option<SoapVersion> {
    let is = |version: &SoapVersion| root.has_tag_name((version.envelope(), "Envelope"));
    [SoapVersion::V11, SoapVersion::V12].into_iter().find(is)
}

/// What stands in an envelope.
#[derive(Clone, Copy)]
struct Parts<'a> {
    header: Option<Node<'a>>,
    body: Node<'a>,
    /// The fault in the body.
    fault: Option<Node<'a>>,
}

/// Finds header and body, wherever they stand.
fn parts<'a>(root: Node<'a>, version: SoapVersion) -> Option<Parts<'a>> {
    let named = |local: &str| elements(root).find(|child| child.has_tag_name((version.envelope(), local)));
    let body = named("Body")?;
    let fault = elements(body).find(|child| child.has_tag_name((version.envelope(), "Fault")));
    Some(Parts { header: named("Header"), body, fault })
}

/// The detail of a fault.
fn detail(fault: Node<'_>, version: SoapVersion) -> Option<Node<'_>> {
    elements(fault).find(|child| match version {
        SoapVersion::V11 => child.tag_name().name() == "detail" && child.tag_name().namespace().is_none(),
        SoapVersion::V12 => child.has_tag_name((version.envelope(), "Detail")),
    })
}

impl Matcher<'_> {
    /// Judges an envelope.
    pub(super) fn envelope(
        &self,
        message: &Captured,
        root: Node<'_>,
        version: SoapVersion,
        matched: &mut Matched,
    ) {
        self.structure(message, root, version, matched);
        let Some(parts) = parts(root, version) else { return };
        let holder = parts.fault.map_or(Some(parts.body), |fault| detail(fault, version));
        if let Some(fault) = parts.fault {
            self.fault_structure(message, fault, version, matched);
        }
        let candidates = self.candidates(message, &parts, holder, version);
        let chosen = self.choose(message, root, &parts, holder, &candidates, version);
        let chosen = chosen.or_else(|| self.nearly(message, &parts, holder, version, matched));
        let Some(at) = chosen else { return };
        matched.shape = Some(at);
        if self.version_fits(message, root, at, version, matched) {
            self.around(message, root, at, matched);
        }
        self.contents(message, root, &parts, holder, at, matched);
    }

    /// An envelope is an optional header and a body (SOAP 1.1, section 4; SOAP 1.2 Part 1, section 5).
    fn structure(&self, message: &Captured, root: Node<'_>, version: SoapVersion, matched: &mut Matched) {
        let file = message.file.id;
        if message.has_document_type() {
            let place = tag_place(file, root);
            let help = "take it out: entities in it can be made to do harm, so receivers refuse it";
            matched.error("R1008", place, "Envelope", "the message declares a document type", help);
        }
        let mut body = false;
        for (number, child) in elements(root).enumerate() {
            let name = child.tag_name().name();
            let own = child.tag_name().namespace() == Some(version.envelope());
            let place = tag_place(file, child);
            if own && name == "Body" && !body {
                body = true;
            } else if own && name == "Header" {
                if number > 0 {
                    let words = "the header comes after something else";
                    matched.error("envelope-structure", place, "Envelope/Header", words, "put it first");
                }
            } else {
                let words = format!("an envelope has no \"{name}\"");
                let help = "an envelope holds Header and Body, and nothing else";
                matched.error("envelope-structure", place, &format!("Envelope/{name}"), words, help);
            }
        }
        if !body {
            let help = match elements(root).find(|child| child.tag_name().name() == "Body") {
                Some(_) => "the Body that is here is in another namespace than the envelope",
                None => "put the message into Body",
            };
            matched.error(
                "envelope-structure",
                tag_place(file, root),
                "Envelope",
                "the envelope has no body",
                help,
            );
        }
    }

    /// A fault has a code and a reason, in this order (SOAP 1.1, 4.4; SOAP 1.2 Part 1, 5.4).
    fn fault_structure(
        &self,
        message: &Captured,
        fault: Node<'_>,
        version: SoapVersion,
        matched: &mut Matched,
    ) {
        let (names, required): (&[&str], &[&str]) = match version {
            SoapVersion::V11 => {
                (&["faultcode", "faultstring", "faultactor", "detail"], &["faultcode", "faultstring"])
            }
            SoapVersion::V12 => (&["Code", "Reason", "Node", "Role", "Detail"], &["Code", "Reason"]),
        };
        let namespace = (version == SoapVersion::V12).then(|| version.envelope());
        let mut last = 0;
        for child in elements(fault) {
            let tag = child.tag_name();
            let place = tag_place(message.file.id, child);
            let path = format!("Fault/{}", tag.name());
            let at = names.iter().position(|name| *name == tag.name());
            let Some(at) = at.filter(|_| tag.namespace() == namespace) else {
                let words = format!("a fault has no \"{}\"", tag.name());
                let words = if at.is_some() {
                    format!("\"{}\" is in the wrong namespace", tag.name())
                } else {
                    words
                };
                let help = match namespace {
                    Some(namespace) => format!("a fault holds {}, of {namespace}", names.join(", ")),
                    None => format!("a fault holds {}, without a namespace", names.join(", ")),
                };
                matched.error("fault-structure", place, &path, words, help);
                continue;
            };
            if at < last {
                let words = format!("\"{}\" comes too late", tag.name());
                matched.error(
                    "fault-structure",
                    place,
                    &path,
                    words,
                    format!("the order is {}", names.join(", ")),
                );
            }
            last = last.max(at);
        }
        for name in
            required.iter().filter(|name| elements(fault).all(|child| child.tag_name().name() != **name))
        {
            let place = tag_place(message.file.id, fault);
            let words = format!("the fault has no \"{name}\"");
            matched.error("fault-structure", place, "Fault", words, format!("add \"{name}\""));
        }
    }

    /// The shapes that a message may have, by what its body or its detail begins with.
    fn candidates(
        &self,
        message: &Captured,
        parts: &Parts<'_>,
        holder: Option<Node<'_>>,
        version: SoapVersion,
    ) -> Vec<usize> {
        let first = holder.and_then(|holder| elements(holder).next());
        let mut found: Vec<usize> = match (parts.fault, first) {
            (_, Some(first)) => self.shapes.beginning_with(&name_of(first)).to_vec(),
            (Some(_), None) => {
                let blocks = parts.header.into_iter().flat_map(elements);
                blocks.flat_map(|block| self.shapes.header_faults(&name_of(block)).to_vec()).collect()
            }
            (None, None) => self.shapes.empty.clone(),
        };
        let fits = |at: &usize| self.may_be(*at, parts.fault.is_some(), message.start.as_ref());
        found.retain(fits);
        let action = super::http::action(message, version).filter(|action| !action.is_empty());
        let named = |at: &usize| {
            action.is_some() && self.soap(*at).and_then(|soap| soap.action.as_deref()) == action.as_deref()
        };
        // What looks like the body of one operation may be the content of another, which the action tells.
        let of_content = || self.shapes.of_content.iter().copied().filter(|at| fits(at));
        if !found.iter().any(named) && of_content().any(|at| named(&at)) {
            found = of_content().filter(named).collect();
        }
        if found.is_empty() {
            found = self.shapes.of_content.iter().copied().filter(|at| fits(at)).collect();
        }
        let of_version = |at: &usize| self.soap(*at).is_some_and(|soap| soap.version == version);
        if found.iter().any(of_version) {
            found.retain(of_version);
        }
        found
    }

    /// Whether a shape may be that of a fault or not, and of a request or a reply.
    fn may_be(&self, at: usize, fault: bool, start: Option<&Start>) -> bool {
        let shape = &self.shapes.all[at].shape;
        let direction = match start {
            None => true,
            Some(Start::Request { .. }) => shape.is_request(),
            Some(Start::Reply { .. }) => !shape.is_request(),
        };
        direction && shape.fault().is_some() == fault
    }

    fn soap(&self, at: usize) -> Option<&SoapShape> {
        self.shapes.all[at].shape.soap()
    }

    /// The shape among the candidates that the action names, or that the message fits best.
    fn choose(
        &self,
        message: &Captured,
        root: Node<'_>,
        parts: &Parts<'_>,
        holder: Option<Node<'_>>,
        candidates: &[usize],
        version: SoapVersion,
    ) -> Option<usize> {
        let certain = |at: &usize| {
            self.shapes.all[*at].shape.soap().is_some_and(|soap| !matches!(soap.body, Body::Content(_)))
        };
        if let [only] = candidates
            && certain(only)
        {
            return Some(*only);
        }
        let action = super::http::action(message, version);
        let named = |at: &usize| {
            let own = self.soap(*at).and_then(|soap| soap.action.as_deref()).unwrap_or("");
            action.as_deref().is_some_and(|action| !action.is_empty() && action == own)
        };
        let mut left: Vec<usize> = candidates.to_vec();
        if left.iter().any(named) {
            left.retain(named);
        }
        let first = *left.first()?;
        let same = |at: &usize| {
            let (a, b) = (&self.shapes.all[*at].shape, &self.shapes.all[first].shape);
            (a.operation, a.side, a.binding) == (b.operation, b.side, b.binding)
        };
        if left.iter().all(same) && certain(&first) {
            return Some(first);
        }
        let errors = |at: &usize| {
            let mut trial = Matched::default();
            match (certain(at), holder, self.soap(*at)) {
                // Whether it is that content at all, the header cannot say.
                (false, Some(holder), Some(soap)) => {
                    let mut list = Vec::new();
                    self.body(message, soap, holder, &mut list, &mut trial);
                    trial.add(self.engine.validate_parts(message.file.id, &list, soap.encoding.is_some(), 0));
                }
                _ => self.contents(message, root, parts, holder, *at, &mut trial),
            }
            trial.errors
        };
        let best = left.into_iter().min_by_key(errors)?;
        // Any content at all might be that of a type; only what fits is taken for it.
        (certain(&best) || errors(&best) == 0).then_some(best)
    }

    /// The shape that a message comes nearest to, and what keeps it from being of that shape.
    fn nearly(
        &self,
        message: &Captured,
        parts: &Parts<'_>,
        holder: Option<Node<'_>>,
        version: SoapVersion,
        matched: &mut Matched,
    ) -> Option<usize> {
        let file = message.file.id;
        let Some(first) = holder.and_then(|holder| elements(holder).next()) else {
            if parts.fault.is_none() {
                let help = self.beginnings();
                matched.error(
                    "no-operation",
                    tag_place(file, parts.body),
                    "Body",
                    "the body is empty, and no operation has such a message",
                    help,
                );
            }
            return None;
        };
        let fault = parts.fault.is_some();
        let of_version = |at: usize| self.soap(at).is_some_and(|soap| soap.version == version);
        let may = |at: usize| self.may_be(at, fault, message.start.as_ref());
        let near = self.nearest(first, |at| may(at) && of_version(at)).or_else(|| self.nearest(first, may));
        let tag = first.tag_name();
        let place = tag_place(file, first);
        let found = name_of(first);
        let Some((at, name)) = near else {
            let words = format!("\"{}\" belongs to no operation", tag.name());
            // Whatever may stand in the detail of a fault, a consumer can read the fault.
            if fault {
                let words = format!("\"{}\" is no fault of the contract", tag.name());
                matched.warning("fault-unknown", place, tag.name(), words, self.faults());
                return None;
            }
            matched.error("no-operation", place, tag.name(), words, self.beginnings());
            return None;
        };
        let path = self.path(at);
        let (words, help) = if name.local == found.local {
            let is = if found.namespace.is_empty() {
                "no namespace".to_owned()
            } else {
                found.namespace.to_string()
            };
            (format!("\"{}\" is in {is}", tag.name()), format!("in {path} it is in {}", name.namespace))
        } else {
            let words = format!("\"{}\" belongs to no operation", tag.name());
            (words, format!("it comes nearest to {path}, where it is named \"{}\"", name.local))
        };
        matched.error("no-operation", place, tag.name(), words, help);
        matched.nearest = true;
        Some(at)
    }

    /// The component path of the side that a shape is of.
    fn path(&self, at: usize) -> String {
        let shape = &self.shapes.all[at].shape;
        let side = charter_contract::Component::OperationSide(shape.operation, shape.side);
        self.contract.path(side).to_string()
    }

    fn beginnings(&self) -> String {
        let names: Vec<String> =
            self.shapes.names().iter().map(|name| name.local.to_string()).take(8).collect();
        format!("bodies begin with {}", names.join(", "))
    }

    fn faults(&self) -> String {
        let faults = self.shapes.all.iter().filter_map(|known| known.shape.fault());
        let mut names: Vec<&str> = faults.map(|fault| fault.name.as_str()).collect();
        names.sort_unstable();
        names.dedup();
        names.truncate(8);
        if names.is_empty() {
            "the contract has no faults".to_owned()
        } else {
            format!("there are {}", names.join(", "))
        }
    }

    fn version_fits(
        &self,
        message: &Captured,
        root: Node<'_>,
        at: usize,
        version: SoapVersion,
        matched: &mut Matched,
    ) -> bool {
        let Some(soap) = self.soap(at) else { return false };
        if soap.version == version {
            return true;
        }
        let words = format!("this is an envelope of SOAP {}", version.number());
        let help = format!(
            "{} is offered by SOAP {}, whose envelope is in {}",
            self.path(at),
            soap.version.number(),
            soap.version.envelope()
        );
        matched.error("envelope-version", tag_place(message.file.id, root), "Envelope", words, help);
        false
    }

    /// Judges the contents: header blocks, and what the body or the detail holds.
    fn contents(
        &self,
        message: &Captured,
        root: Node<'_>,
        parts: &Parts<'_>,
        holder: Option<Node<'_>>,
        at: usize,
        matched: &mut Matched,
    ) {
        let Some(soap) = self.soap(at) else { return };
        let (mut literal, mut encoded) = self.blocks(message, parts.header, root, at, matched);
        let list = if soap.encoding.is_some() { &mut encoded } else { &mut literal };
        if let Some(holder) = holder {
            self.body(message, soap, holder, list, matched);
        }
        for (list, as_encoded) in [(literal, false), (encoded, true)] {
            if !list.is_empty() {
                matched.add(self.engine.validate_parts(message.file.id, &list, as_encoded, self.most));
            }
        }
        self.attachments(message, soap, root, matched);
    }

    /// The elements of a body that the schema engine is to judge.
    fn body<'a>(
        &self,
        message: &Captured,
        soap: &SoapShape,
        holder: Node<'a>,
        list: &mut Vec<Judged<'a>>,
        matched: &mut Matched,
    ) {
        let children: Vec<Node<'a>> = elements(holder).collect();
        match &soap.body {
            Body::Content(ty) => list.push((holder, Assess::As(*ty))),
            Body::Wrapper { parts, .. } => {
                if let Some(wrapper) = children.first() {
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

    /// The accessors of an rpc wrapper: all there, by their names, without a namespace, in the order of the parts.
    fn accessors<'a>(
        &self,
        message: &Captured,
        wrapper: Node<'a>,
        parts: &[RpcPart],
        list: &mut Vec<Judged<'a>>,
        matched: &mut Matched,
    ) {
        let file = message.file.id;
        let names = || parts.iter().map(|part| part.name.as_str());
        let mut last = 0;
        let mut seen = vec![false; parts.len()];
        for child in elements(wrapper) {
            let tag = child.tag_name();
            let place = tag_place(file, child);
            let path = path_of(child);
            let Some(at) = parts.iter().position(|part| part.name == tag.name()) else {
                let help = match nearest(tag.name(), names()) {
                    Some(near) => format!("did you mean \"{near}\"?"),
                    None => format!("there are {}", names().collect::<Vec<_>>().join(", ")),
                };
                matched.error(
                    "part-surplus",
                    place,
                    &path,
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
                    &path,
                    words,
                    "parts in rpc style are in no namespace: declare xmlns=\"\"",
                );
            }
            if seen[at] {
                matched.error(
                    "part-surplus",
                    place,
                    &path,
                    format!("the part \"{}\" is there twice", tag.name()),
                    "leave one out",
                );
                continue;
            }
            seen[at] = true;
            if at < last {
                let help = format!("the order is {}", names().collect::<Vec<_>>().join(", "));
                matched.error(
                    "part-order",
                    place,
                    &path,
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
        for block in &soap.headers {
            let blocks = parts.header.into_iter().flat_map(elements);
            let node = blocks.into_iter().find(|node| self.is_or_stands_for(*node, &block.content))?;
            found.push((node, block.encoding.is_some()));
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
                for part in parts {
                    let node = elements(wrapper).find(|node| node.tag_name().name() == part.name)?;
                    found.push((node, encoded));
                }
            }
        }
        Some(found)
    }

    /// Says something about a message as a whole.
    pub(super) fn of_whole(
        &self,
        message: &Captured,
        root: Node<'_>,
        severity: Severity,
        rule: &'static str,
        words: String,
        help: String,
        matched: &mut Matched,
    ) {
        let fault = Fault::new(rule, tag_place(message.file.id, root), words).help(help);
        matched.say(severity, "message", fault);
    }
}

fn name_of(node: Node<'_>) -> QName {
    let tag = node.tag_name();
    QName::new(tag.namespace().unwrap_or(""), tag.name())
}

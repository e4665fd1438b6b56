//! Envelopes: which shape they have.

use charter_contract::{Body, SoapShape, SoapVersion};
use charter_source::{Node, elements, tag_place};

use super::names::name_of;
use super::{Answers, Matched, Matcher};
use crate::captured::Captured;
use crate::http::Start;

/// The version of an envelope; `None` if the element is none.
pub(super) fn version(root: Node<'_>) -> Option<SoapVersion> {
    let is = |version: &SoapVersion| root.has_tag_name((version.envelope(), "Envelope"));
    [SoapVersion::V11, SoapVersion::V12].into_iter().find(is)
}

/// What stands in an envelope.
#[derive(Clone, Copy)]
pub(super) struct Parts<'a> {
    pub header: Option<Node<'a>>,
    pub body: Node<'a>,
    /// The fault in the body.
    pub fault: Option<Node<'a>>,
}

/// An envelope under judgement.
pub(super) struct Envelope<'a> {
    pub message: &'a Captured,
    pub root: Node<'a>,
    pub version: SoapVersion,
    pub parts: Parts<'a>,
    /// What holds the contents: the body, or the detail of a fault.
    pub holder: Option<Node<'a>>,
    /// What it is a reply to, where that is known.
    pub answers: Option<Answers>,
}

impl<'a> Envelope<'a> {
    /// The first element of the contents.
    fn first(&self) -> Option<Node<'a>> {
        self.holder.and_then(|holder| elements(holder).next())
    }

    /// The action that the HTTP headers name, if they name one.
    fn action(&self) -> Option<String> {
        super::http::action(self.message, self.version).filter(|action| !action.is_empty())
    }
}

/// Finds header and body, wherever they stand.
pub(super) fn parts<'a>(root: Node<'a>, version: SoapVersion) -> Option<Parts<'a>> {
    let named = |local: &str| elements(root).find(|child| child.has_tag_name((version.envelope(), local)));
    let body = named("Body")?;
    let fault = elements(body).find(|child| child.has_tag_name((version.envelope(), "Fault")));
    Some(Parts { header: named("Header"), body, fault })
}

/// The detail of a fault.
pub(super) fn detail(fault: Node<'_>, version: SoapVersion) -> Option<Node<'_>> {
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
        let envelope = Envelope { message, root, version, parts, holder, answers: matched.answers };
        let chosen = self.choose(&envelope);
        let chosen = chosen.or_else(|| self.nearly(&envelope, matched));
        let Some(at) = chosen else { return };
        matched.shape = Some(at);
        if self.version_fits(&envelope, at, matched) {
            self.around(message, root, at, matched);
        }
        self.contents(&envelope, at, matched);
    }

    /// The shapes that a message may have, by what its body or its detail begins with.
    fn candidates(&self, envelope: &Envelope<'_>) -> Vec<usize> {
        let Envelope { message, version, parts, .. } = envelope;
        let mut found: Vec<usize> = match (parts.fault, envelope.first()) {
            (_, Some(first)) => self.shapes.beginning_with(&name_of(first)).to_vec(),
            (Some(_), None) => {
                let blocks = parts.header.into_iter().flat_map(elements);
                blocks.flat_map(|block| self.shapes.header_faults(&name_of(block)).to_vec()).collect()
            }
            (None, None) => self.shapes.empty.clone(),
        };
        let fits = |at: &usize| self.may_be(*at, parts.fault.is_some(), message.start.as_ref());
        found.retain(fits);
        let action = envelope.action();
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
        let of_version = |at: &usize| self.soap(*at).is_some_and(|soap| soap.version == *version);
        if found.iter().any(of_version) {
            found.retain(of_version);
        }
        let answers = |at: &usize| {
            envelope.answers.is_some_and(|answers| answers.is_met_by(&self.shapes.all[*at].shape))
        };
        if found.iter().any(answers) {
            found.retain(answers);
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

    pub(super) fn soap(&self, at: usize) -> Option<&SoapShape> {
        self.shapes.all[at].shape.soap()
    }

    /// The shape among the candidates that the action names, or that the message fits best.
    fn choose(&self, envelope: &Envelope<'_>) -> Option<usize> {
        let candidates = self.candidates(envelope);
        let certain = |at: &usize| {
            self.shapes.all[*at].shape.soap().is_some_and(|soap| !matches!(soap.body, Body::Content(_)))
        };
        if let [only] = candidates.as_slice()
            && certain(only)
        {
            return Some(*only);
        }
        let action = envelope.action();
        let named = |at: &usize| {
            action.is_some() && self.soap(*at).and_then(|soap| soap.action.as_deref()) == action.as_deref()
        };
        let mut left = candidates;
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
            match (certain(at), envelope.holder, self.soap(*at)) {
                // Whether it is that content at all, the header cannot say.
                (false, Some(holder), Some(soap)) => {
                    let mut list = Vec::new();
                    self.body(envelope.message, soap, holder, &mut list, &mut trial);
                    trial.add(self.engine.validate_parts(
                        envelope.message.file.id,
                        &list,
                        soap.encoding.is_some(),
                        0,
                    ));
                }
                _ => self.contents(envelope, *at, &mut trial),
            }
            trial.errors
        };
        let best = left.into_iter().min_by_key(errors)?;
        // Any content at all might be that of a type; only what fits is taken for it.
        (certain(&best) || errors(&best) == 0).then_some(best)
    }

    /// The shape that a message comes nearest to, and what keeps it from being of that shape.
    fn nearly(&self, envelope: &Envelope<'_>, matched: &mut Matched) -> Option<usize> {
        let Envelope { message, version, parts, .. } = envelope;
        let file = message.file.id;
        let Some(first) = envelope.first() else {
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
        if self.goes_the_other_way(message, first, matched) {
            return None;
        }
        let fault = parts.fault.is_some();
        let of_version = |at: usize| self.soap(at).is_some_and(|soap| soap.version == *version);
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

    /// Whether a message is known, but not in this direction.
    fn goes_the_other_way(&self, message: &Captured, first: Node<'_>, matched: &mut Matched) -> bool {
        let this = match &message.start {
            Some(Start::Request { .. }) => "a request",
            Some(Start::Reply { .. }) => "a reply",
            None => return false,
        };
        let Some(at) = self.shapes.beginning_with(&name_of(first)).first() else { return false };
        let words =
            format!("\"{}\" is that of {}, and this is {this}", first.tag_name().name(), self.path(*at));
        let help = "is the exchange in the right order, and the contract the right one?";
        let place = tag_place(message.file.id, first);
        matched.error("no-operation", place, first.tag_name().name(), words, help);
        true
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

    fn version_fits(&self, envelope: &Envelope<'_>, at: usize, matched: &mut Matched) -> bool {
        let Envelope { message, root, version, .. } = envelope;
        let Some(soap) = self.soap(at) else { return false };
        if soap.version == *version {
            return true;
        }
        let words = format!("this is an envelope of SOAP {}", version.number());
        let help = format!(
            "{} is offered by SOAP {}, whose envelope is in {}",
            self.path(at),
            soap.version.number(),
            soap.version.envelope()
        );
        matched.error("envelope-version", tag_place(message.file.id, *root), "Envelope", words, help);
        false
    }
}

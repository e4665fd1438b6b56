//! The header blocks of an envelope: those that the binding calls for, those of addressing and security, and others.

use charter_contract::{Password, SoapShape, SoapVersion};
use charter_schema::Assess;
use charter_source::{Fault, Node, Place, QName, attribute_place, elements, ns, tag_place};

use super::envelope::Envelope;
use super::standing::{Found, Standing};
use super::{Matched, Matcher, Severity};
use crate::captured::Captured;
use crate::values::HEADER;

/// The header of a message, and the shape that it is to have.
#[derive(Clone, Copy)]
struct Header<'h, 'a> {
    message: &'a Captured,
    /// What stands in it.
    blocks: &'h [Node<'a>],
    /// The header itself, or what it is missing from.
    around: Node<'a>,
    /// The place of the shape.
    at: usize,
}

impl<'a> Header<'_, 'a> {
    /// The block of that name.
    fn block(&self, namespace: &str, local: &str) -> Option<Node<'a>> {
        self.blocks.iter().copied().find(|block| block.has_tag_name((namespace, local)))
    }

    /// The place of an element in it.
    fn place(&self, node: Node<'_>) -> Place {
        tag_place(self.message.file.id, node)
    }
}

/// An element of a message, and how it is judged.
pub(super) type ToAssess<'a> = (Node<'a>, Assess);

impl Matcher<'_> {
    /// Judges the blocks themselves; their contents are left to the schema engine. Encoded ones come apart.
    pub(super) fn blocks<'a>(
        &self,
        envelope: &Envelope<'a>,
        at: usize,
        matched: &mut Matched,
    ) -> (Vec<ToAssess<'a>>, Vec<ToAssess<'a>>) {
        let (message, inner) = (envelope.message, envelope.parts.header);
        let known = &self.shapes.all[at];
        let Some(soap) = known.shape.soap() else { return Default::default() };
        let blocks: Vec<Node<'a>> = inner.into_iter().flat_map(elements).collect();
        let header = Header { message, blocks: &blocks, around: inner.unwrap_or(envelope.root), at };
        let mut standing = Standing::of(self.engine, &blocks);
        let (mut literal, mut encoded) = (Vec::new(), Vec::new());
        let found = standing.take(self.engine, soap.headers.iter().map(|block| &block.content));
        for (declared, found) in soap.headers.iter().zip(found) {
            match found {
                Found::Block(number) => {
                    let block = blocks[number];
                    let list = if declared.encoding.is_some() { &mut encoded } else { &mut literal };
                    list.push((block, self.assess(block, Some(&declared.content))));
                }
                Found::Shared => {}
                Found::Nothing => {
                    let name = declared.content.name(self.engine.schemas());
                    missing(header, name, matched);
                }
            }
        }
        self.addressing(header, matched);
        self.credentials(header, matched);
        for (number, block) in blocks.iter().enumerate() {
            self.must_understand(message, *block, soap.version, matched);
            if standing.is_one_more(number) {
                self.one_more(message, *block, matched);
            } else if !standing.is_taken(number) {
                self.unknown(message, *block, soap, at, matched);
            }
        }
        (literal, encoded)
    }

    /// What WS-Addressing asks for, if the contract does; an action that is there must be the right one anyway.
    fn addressing(&self, header: Header<'_, '_>, matched: &mut Matched) {
        let at = header.at;
        let shape = &self.shapes.all[at].shape;
        let Some(action) = header.block(ns::ADDRESSING, "Action") else {
            if self.wanted(at).addressing {
                let place = header.place(header.around);
                let expected = self.expected_action(at);
                let help = format!("add Action of {} with {expected}", ns::ADDRESSING);
                let path = format!("{HEADER}/Action");
                matched.error(
                    "addressing-missing",
                    place,
                    &path,
                    "the policy asks for addressing, and there is no Action",
                    help,
                );
            }
            return;
        };
        // Any fault may have the action that the standard keeps for faults (SOAP Binding, section 6).
        let found = action.text().unwrap_or("").trim();
        let general = shape.fault().is_some() && found.starts_with(ns::ADDRESSING);
        let expected = self.expected_action(at);
        if found != expected && !general {
            let place = header.place(action);
            let words = format!("the action is \"{found}\"");
            let path = format!("{HEADER}/Action");
            matched.error(
                "action-wrong",
                place,
                &path,
                words,
                format!("this message has the action \"{expected}\""),
            );
        }
    }

    /// The user name that every way to satisfy the policies asks for (WS-Security, UsernameToken Profile 1.1, 3.1).
    fn credentials(&self, header: Header<'_, '_>, matched: &mut Matched) {
        let Some(password) = self.wanted(header.at).user_name else { return };
        let security = header.block(ns::WSSE, "Security");
        let child = |node, local| elements(node).find(|child| child.has_tag_name((ns::WSSE, local)));
        let token = security.and_then(|block| child(block, "UsernameToken"));
        let (lacks, node) = match token {
            None => ("user name", security.unwrap_or(header.around)),
            Some(token) if child(token, "Username").is_none() => ("user name", token),
            Some(token) if password != Password::None && child(token, "Password").is_none() => {
                ("password", token)
            }
            Some(_) => return,
        };
        let help = match lacks {
            "password" => "add Password to the UsernameToken".to_owned(),
            _ => format!("add Security of {} with a UsernameToken, as charter message shows it", ns::WSSE),
        };
        let place = header.place(node);
        let words = format!("the policy asks for a {lacks}, and there is none");
        matched.error("credentials-missing", place, &format!("{HEADER}/Security"), words, help);
    }

    fn expected_action(&self, at: usize) -> String {
        let shape = &self.shapes.all[at].shape;
        let soap_action = shape.soap().and_then(|soap| soap.action.as_deref());
        self.contract.addressing_action(shape.operation, shape.side, soap_action)
    }

    /// `mustUnderstand` is 0 or 1 in SOAP 1.1 (4.2.3), a boolean in SOAP 1.2 (Part 1, 5.2.3).
    fn must_understand(
        &self,
        message: &Captured,
        block: Node<'_>,
        version: SoapVersion,
        matched: &mut Matched,
    ) {
        let Some(attribute) = block.attribute_node((version.envelope(), "mustUnderstand")) else { return };
        let value = attribute.value().trim();
        let fine = match version {
            SoapVersion::V11 => matches!(value, "0" | "1"),
            SoapVersion::V12 => matches!(value, "0" | "1" | "true" | "false"),
        };
        if !fine {
            let place = attribute_place(message.file.id, &attribute);
            let path = format!("{HEADER}/{}/@mustUnderstand", block.tag_name().name());
            let words = format!("mustUnderstand is \"{value}\"");
            let help = format!(
                "SOAP {} has {}",
                version.number(),
                if version == SoapVersion::V11 { "0 and 1" } else { "true and false" }
            );
            matched.error("must-understand-value", place, &path, words, help);
        }
    }

    /// A block that the contract has, and that is there more often than the contract says.
    fn one_more(&self, message: &Captured, block: Node<'_>, matched: &mut Matched) {
        let local = block.tag_name().name();
        let place = tag_place(message.file.id, block);
        let words = format!("the header block \"{local}\" is there more often than the contract has it");
        let fault = Fault::new("header-unknown", place, words).help("leave it out");
        matched.say(Severity::Note, format!("{HEADER}/{local}"), fault);
    }

    fn unknown(
        &self,
        message: &Captured,
        block: Node<'_>,
        soap: &SoapShape,
        at: usize,
        matched: &mut Matched,
    ) {
        let tag = block.tag_name();
        let namespace = tag.namespace().unwrap_or("");
        let wanted = self.wanted(at);
        let secured = wanted.credentials.is_some() || wanted.timestamp;
        if (namespace == ns::ADDRESSING && wanted.addressing)
            || (namespace == ns::WSSE && secured)
            || self.understood.contains(&namespace)
        {
            return;
        }
        let must = block.attribute((soap.version.envelope(), "mustUnderstand"));
        let must = must.is_some_and(|value| matches!(value.trim(), "1" | "true"))
            && is_for_receiver(block, soap.version);
        let place = tag_place(message.file.id, block);
        let path = format!("{HEADER}/{}", tag.name());
        let names = soap.headers.iter().map(|header| &*header.content.name(self.engine.schemas()).local);
        let words = format!("the contract has no header block \"{}\"", tag.name());
        let advice = match matched.suggestions.nearest(tag.name(), names) {
            Some(near) => format!("did you mean \"{near}\"?"),
            None if must => {
                "a receiver must refuse what it does not know: leave it out, or mustUnderstand".to_owned()
            }
            None => "a receiver may ignore it".to_owned(),
        };
        if must {
            matched.error("header-not-understood", place, &path, words, advice);
        } else {
            matched.say(Severity::Note, path, Fault::new("header-unknown", place, words).help(advice));
        }
    }
}

/// Whether a block is meant for whoever receives the message in the end, and not for somebody on its way (SOAP 1.1, 4.2.2;
/// SOAP 1.2 Part 1, 5.2.2).
fn is_for_receiver(block: Node<'_>, version: SoapVersion) -> bool {
    let (attribute, next) = match version {
        SoapVersion::V11 => ("actor", "http://schemas.xmlsoap.org/soap/actor/next"),
        SoapVersion::V12 => ("role", "http://www.w3.org/2003/05/soap-envelope/role/next"),
    };
    let last = "http://www.w3.org/2003/05/soap-envelope/role/ultimateReceiver";
    let whose = block.attribute((version.envelope(), attribute)).unwrap_or("").trim();
    whose.is_empty() || whose == next || whose == last
}

/// A block that the binding calls for and that is not there.
fn missing(header: Header<'_, '_>, name: &QName, matched: &mut Matched) {
    let local = &*name.local;
    let path = format!("{HEADER}/{local}");
    let near = matched.suggestions.nearest(local, header.blocks.iter().map(|block| block.tag_name().name()));
    let help = match near {
        Some(near) if near == local => {
            format!("the one that is here is in another namespace; it belongs to {}", name.namespace)
        }
        Some(near) => format!("is \"{near}\" meant to be it?"),
        None => format!("add it to the header: an element \"{local}\" of {}", name.namespace),
    };
    matched.error(
        "header-missing",
        header.place(header.around),
        &path,
        format!("the header block \"{local}\" is missing"),
        help,
    );
}

//! The structure of an envelope and of a fault in it.

use charter_contract::SoapVersion;
use charter_source::{Node, elements, tag_place};

use super::{Matched, Matcher};
use crate::captured::Captured;

impl Matcher<'_> {
    /// An envelope is an optional header and a body (SOAP 1.1, section 4; SOAP 1.2 Part 1, section 5).
    pub(super) fn structure(
        &self,
        message: &Captured,
        root: Node<'_>,
        version: SoapVersion,
        matched: &mut Matched,
    ) {
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
    pub(super) fn fault_structure(
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
}

//! Bindings to MIME.

use charter_contract::{Contract, ExtensionKind, Label};
use charter_source::{Fault, Set};

use super::bound::{self, BoundSide};
use crate::example::{Example, Slot};
use crate::level::Level;
use crate::rule::{Family, Rule};

const RULE: Rule = Rule::of(Family::Mime, Level::Error);
const WARNS: Rule = Rule::of(Family::Mime, Level::Warning);

const RIGHT: &str = r#"<mime:multipartRelated>
        <mime:part><soap:body use="literal" parts="parameters"/></mime:part>
        <mime:part><mime:content part="chart" type="image/png"/></mime:part>
      </mime:multipartRelated>"#;

pub(crate) const RULES: &[Rule] = &[
    Rule {
        name: "mime-type",
        standard: "WSDL 1.1, section 5.3; RFC 2045, section 5.1",
        asks: "A media type is written as type/subtype, each of them a name or *.",
        why: "A receiver that compares it with the type of what it got finds no match.",
        example: Example::of(
            Slot::Mime,
            r#"<mime:multipartRelated>
        <mime:part><soap:body use="literal" parts="parameters"/></mime:part>
        <mime:part><mime:content part="chart" type="png"/></mime:part>
      </mime:multipartRelated>"#,
            RIGHT,
        ),
        look: Some(media_types),
        ..RULE
    },
    Rule {
        name: "mime-root",
        standard: "WSDL 1.1, section 5.4; Attachments Profile 1.0, R2911",
        asks: "Of the parts of a multipart message, one holds the soap:body.",
        why: "The envelope is the root of the message. Without it there is nothing that could refer to the attachments.",
        example: Example::of(
            Slot::Mime,
            r#"<mime:multipartRelated>
        <mime:part><mime:mimeXml part="parameters"/></mime:part>
        <mime:part><mime:content part="chart" type="image/png"/></mime:part>
      </mime:multipartRelated>"#,
            RIGHT,
        ),
        look: Some(roots),
        ..RULE
    },
    Rule {
        name: "mime-content-part",
        standard: "WSDL 1.1, section 5.3; Attachments Profile 1.0, R2903",
        asks: "Where a message has several parts, mime:content and mime:mimeXml say which of them they carry.",
        why: "Nobody can tell which part the attachment is.",
        example: Example::of(
            Slot::Mime,
            r#"<mime:multipartRelated>
        <mime:part><soap:body use="literal" parts="parameters"/></mime:part>
        <mime:part><mime:content type="image/png"/></mime:part>
      </mime:multipartRelated>"#,
            RIGHT,
        ),
        look: Some(named_parts),
        ..RULE
    },
    Rule {
        name: "mime-part-twice",
        standard: "WSDL 1.1, section 5.4",
        asks: "A part of a message stands in one part of a multipart message.",
        why: "It would be sent twice, and a receiver would not know which of the two holds.",
        example: Example::of(
            Slot::Mime,
            r#"<mime:multipartRelated>
        <mime:part><soap:body use="literal" parts="parameters"/></mime:part>
        <mime:part><mime:content part="chart" type="image/png"/></mime:part>
        <mime:part><mime:content part="chart" type="application/pdf"/></mime:part>
      </mime:multipartRelated>"#,
            r#"<mime:multipartRelated>
        <mime:part><soap:body use="literal" parts="parameters"/></mime:part>
        <mime:part>
          <mime:content part="chart" type="image/png"/>
          <mime:content part="chart" type="application/pdf"/>
        </mime:part>
      </mime:multipartRelated>"#,
        ),
        look: Some(carried_twice),
        ..RULE
    },
    Rule {
        name: "mime-alternatives",
        standard: "WSDL 1.1, section 5.4; Attachments Profile 1.0, R2909",
        asks: "The elements of one mime:part are ways to send the same part of the message.",
        why: "One part of a multipart message holds one thing. Two different ones in it cannot both be sent.",
        example: Example::of(
            Slot::Mime,
            r#"<mime:multipartRelated>
        <mime:part><soap:body use="literal" parts=""/></mime:part>
        <mime:part>
          <mime:content part="chart" type="image/png"/>
          <mime:content part="parameters" type="text/xml"/>
        </mime:part>
      </mime:multipartRelated>"#,
            RIGHT,
        ),
        look: Some(alternatives),
        ..WARNS
    },
];

fn content(kind: &ExtensionKind) -> Option<(Option<&Label>, Option<&Label>)> {
    match kind {
        ExtensionKind::MimeContent { part, media_type } => Some((part.as_ref(), media_type.as_ref())),
        ExtensionKind::MimeXml { part } => Some((part.as_ref(), None)),
        _ => None,
    }
}

fn media_types(contract: &Contract, faults: &mut Vec<Fault>) {
    for extension in bound::sides(contract).flat_map(BoundSide::all_extensions) {
        let Some((_, Some(label))) = content(&extension.kind) else { continue };
        if !is_media_type(&label.text) {
            let message = format!("\"{}\" is no media type", label.text);
            let fault = Fault::new("mime-type", label.place, message);
            faults.push(fault.help("write it as type/subtype, such as image/png or text/*"));
        }
    }
}

fn is_media_type(text: &str) -> bool {
    let token = |text: &str| {
        !text.is_empty()
            && text.bytes().all(|byte| byte.is_ascii_alphanumeric() || b"!#$&^_.+-*".contains(&byte))
    };
    let plain = text.split(';').next().unwrap_or("").trim();
    plain == "*" || plain.split_once('/').is_some_and(|(kind, subtype)| token(kind) && token(subtype))
}

fn roots(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in bound::sides(contract).filter(|side| side.of.soap.is_some()) {
        for extension in &side.bound.extensions {
            let ExtensionKind::MimeMultipart(parts) = &extension.kind else { continue };
            let bodies = parts.iter().flat_map(|part| &part.extensions);
            if !bodies.into_iter().any(|it| matches!(it.kind, ExtensionKind::SoapBody(_))) {
                let message = format!("no part of {} holds the envelope", side.of_operation());
                let fault = Fault::new("mime-root", extension.place, message);
                faults.push(fault.help("add a mime:part with a soap:body"));
            }
        }
    }
}

fn named_parts(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in bound::sides(contract) {
        let Some(message) = side.message.filter(|message| message.parts.len() > 1) else { continue };
        // Alone in an output, it stands for the whole of what comes back.
        let extensions = side.all_extensions().filter(|_| side.is_multipart());
        for extension in extensions.filter(|it| matches!(content(&it.kind), Some((None, _)))) {
            let text = format!(
                "this does not say which of the {} parts of \"{}\" it carries",
                message.parts.len(),
                message.name.local
            );
            let fault = Fault::new("mime-content-part", extension.place, text);
            faults.push(fault.help("add a part attribute"));
        }
    }
}

fn carried_twice(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in bound::sides(contract) {
        for extension in &side.bound.extensions {
            let ExtensionKind::MimeMultipart(parts) = &extension.kind else { continue };
            let mut seen: Set<&str> = Set::default();
            for part in parts {
                let labels = part.extensions.iter().flat_map(|extension| match &extension.kind {
                    ExtensionKind::SoapBody(body) => body.parts.iter().flatten().collect::<Vec<_>>(),
                    kind => content(kind).and_then(|(part, _)| part).into_iter().collect(),
                });
                let mut own: Vec<&Label> = labels.collect();
                own.dedup_by_key(|label| &label.text);
                for label in own {
                    if !seen.insert(&label.text) {
                        let message = format!("\"{}\" has a part of the message already", label.text);
                        let fault = Fault::new("mime-part-twice", label.place, message);
                        faults.push(fault.help("put both ways to send it into one mime:part"));
                    }
                }
            }
        }
    }
}

fn alternatives(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in bound::sides(contract) {
        for extension in &side.bound.extensions {
            let ExtensionKind::MimeMultipart(parts) = &extension.kind else { continue };
            for part in parts {
                let mut labels =
                    part.extensions.iter().filter_map(|it| content(&it.kind)).filter_map(|(part, _)| part);
                let Some(first) = labels.next() else { continue };
                if let Some(other) = labels.find(|label| label.text != first.text) {
                    let message = format!("\"{}\" and \"{}\" stand in one part", first.text, other.text);
                    let fault = Fault::new("mime-alternatives", other.place, message);
                    faults.push(fault.help("give each a mime:part of its own"));
                }
            }
        }
    }
}

//! Puts what fills a wire shape into the message around it: envelope, form, document or parts, with HTTP headers.

use charter_contract::{Body, Carrier, HttpContent, HttpShape, MediaPart, SoapShape, SoapVersion, WireShape};
use charter_schema::Engine;
use charter_source::{QName, ns};

use crate::encode::encoded;
use crate::http::{Headers, Start};
use crate::message::{Message, Payload, Piece};
use crate::{Element, Node, Text, WireContent, form, multipart};

/// The message of a wire shape with what fills it, and with header blocks that the contract itself does not name, such
/// as those of [`crate::blocks`].
pub fn assemble(
    engine: &Engine<'_>,
    shape: &WireShape,
    wire_content: WireContent,
    extra: &[Element],
) -> Message {
    let request = shape.is_request();
    let fault = shape.fault().is_some();
    let start = match request {
        true => Start::Request {
            method: shape.method.to_owned(),
            target: shape.address.clone().unwrap_or_default(),
        },
        false => Start::Reply { status: if fault { 500 } else { 200 } },
    };
    let mut message = Message { start, headers: Headers::default(), payload: Payload::Empty };
    let mut contents = wire_content.elements;
    match &shape.carrier {
        Carrier::Soap(soap) => {
            let attached = contents.split_off(contents.len().saturating_sub(soap.attachments.len()));
            let envelope = envelope(engine, soap, contents, extra);
            let headers = envelope_headers(soap, request);
            if soap.attachments.is_empty() {
                message.headers = headers;
                message.payload = Payload::Xml(envelope);
            } else {
                let pieces = pieces(engine, &soap.attachments, attached);
                multipart::related(&mut message, soap, headers, envelope, pieces);
            }
        }
        Carrier::Http(http) => over_http(engine, http, contents, &mut message),
    }
    message
}

/// The envelope: header blocks, and the body or the fault.
fn envelope(engine: &Engine<'_>, soap: &SoapShape, mut blocks: Vec<Element>, extra: &[Element]) -> Element {
    let named = |local: &str| Element::new(QName::new(soap.version.envelope(), local));
    let mut root = named("Envelope");
    let rest = blocks.split_off(soap.headers.len());
    if !blocks.is_empty() || !extra.is_empty() {
        let mut header = named("Header");
        header.children.extend(extra.iter().cloned().map(Node::Element));
        for (block, element) in soap.headers.iter().zip(blocks) {
            header = header.with(match &block.encoding {
                Some(style) => encoded(engine, &element, soap.version, Some(style)),
                None => element,
            });
        }
        root = root.with(header);
    }
    let mut body = named("Body");
    match &soap.fault {
        Some(fault) => {
            let mut detail = match soap.version {
                SoapVersion::V11 => Element::new(QName::new("", "detail")),
                SoapVersion::V12 => named("Detail"),
            };
            fill_body(engine, soap, rest, &mut detail);
            body = body.with(fault_element(soap.version, &fault.name, (!fault.of_header).then_some(detail)));
        }
        None => fill_body(engine, soap, rest, &mut body),
    }
    root.with(body)
}

fn fill_body(engine: &Engine<'_>, soap: &SoapShape, wire_content: Vec<Element>, into: &mut Element) {
    let style = soap.encoding.as_deref();
    let written = |element: Element, outermost: bool| match style {
        Some(style) => encoded(engine, &element, soap.version, outermost.then_some(style)),
        None => element,
    };
    let mut wire_content = wire_content.into_iter();
    match &soap.body {
        Body::Elements(elements) => {
            let wire_content = wire_content.take(elements.len());
            into.children.extend(wire_content.map(|element| Node::Element(written(element, true))));
        }
        Body::Content(_) => {
            if let Some(content) = wire_content.next() {
                into.attributes.extend(content.attributes);
                into.children.extend(content.children);
            }
        }
        Body::Wrapper { name, parts } => {
            let mut wrapper = Element::new(name.clone());
            if let Some(style) = style {
                let name = QName::new(soap.version.envelope(), "encodingStyle");
                wrapper.attributes.push((name, Text::Plain(style.to_owned())));
            }
            let wire_content = wire_content.take(parts.len());
            wrapper.children.extend(wire_content.map(|element| Node::Element(written(element, false))));
            into.children.push(Node::Element(wrapper));
        }
    }
}

/// Content type and action (SOAP 1.1, section 6; SOAP 1.2 part 2, section 7).
fn envelope_headers(soap: &SoapShape, request: bool) -> Headers {
    let action = soap.action.as_deref().unwrap_or("");
    let mut headers = Headers::default();
    match soap.version {
        SoapVersion::V11 => {
            headers.push("Content-Type", "text/xml; charset=utf-8");
            if request {
                headers.push("SOAPAction", format!("\"{action}\""));
            }
        }
        SoapVersion::V12 => {
            let mut media_type = "application/soap+xml; charset=utf-8".to_owned();
            if request && !action.is_empty() {
                media_type.push_str(&format!("; action=\"{action}\""));
            }
            headers.push("Content-Type", media_type);
        }
    }
    headers
}

/// `Fault` (SOAP 1.1, section 4.4; SOAP 1.2 part 1, section 5.4).
fn fault_element(version: SoapVersion, name: &str, detail: Option<Element>) -> Element {
    let envelope = version.envelope();
    let named = |local: &str| Element::new(QName::new(envelope, local));
    let code = |local: &str| Node::Text(Text::Name(QName::new(envelope, local)));
    let words = format!("The request was refused: {name}.");
    let fault = match version {
        SoapVersion::V11 => {
            let mut faultcode = Element::new(QName::new("", "faultcode"));
            faultcode.children.push(code("Server"));
            named("Fault").with(faultcode).with(Element::new(QName::new("", "faultstring")).text(words))
        }
        SoapVersion::V12 => {
            let mut value = named("Value");
            value.children.push(code("Receiver"));
            let text = named("Text").text(words).attribute(QName::new(ns::XML, "lang"), "en");
            named("Fault").with(named("Code").with(value)).with(named("Reason").with(text))
        }
    };
    match detail {
        Some(detail) => fault.with(detail),
        None => fault,
    }
}

fn over_http(engine: &Engine<'_>, shape: &HttpShape, mut contents: Vec<Element>, message: &mut Message) {
    let values =
        || -> Vec<(&str, String)> { contents.iter().map(|it| (&*it.name.local, it.value())).collect() };
    match &shape.content {
        HttpContent::Empty => {}
        HttpContent::Form(_) if message.start.method() == Some("GET") => {
            if let Some(address) = address(message) {
                form::add_query(address, &values());
            }
        }
        HttpContent::Form(_) => {
            message.headers.push("Content-Type", "application/x-www-form-urlencoded");
            message.payload = Payload::Plain(form::encode(&values()).into_bytes());
        }
        HttpContent::InPath(_) => {
            if let Some(address) = address(message) {
                *address = form::replaced(address, &values());
            }
        }
        HttpContent::Part(part) => {
            let content = contents.swap_remove(0);
            message.headers.push("Content-Type", content_type(part));
            message.payload = payload(engine, part, content);
        }
        HttpContent::Multipart(parts) => {
            let pieces = pieces(engine, parts, contents);
            multipart::mixed(message, pieces);
        }
    }
}

/// The address of a request, to be changed.
fn address(message: &mut Message) -> Option<&mut String> {
    match &mut message.start {
        Start::Request { target, .. } if !target.is_empty() => Some(target),
        _ => None,
    }
}

fn content_type(part: &MediaPart) -> String {
    match part.xml && !part.media_type.contains("charset") {
        true => format!("{}; charset=utf-8", part.media_type),
        false => part.media_type.clone(),
    }
}

/// A part as a document of its own.
fn payload(engine: &Engine<'_>, part: &MediaPart, content: Element) -> Payload {
    if part.xml {
        return Payload::Xml(content);
    }
    Payload::Plain(multipart::octets(engine, part, &content))
}

fn pieces(engine: &Engine<'_>, parts: &[MediaPart], contents: Vec<Element>) -> Vec<Piece> {
    let piece = |(part, content): (&MediaPart, Element)| {
        let payload = payload(engine, part, content);
        let mut headers = Headers::default();
        headers.push("Content-Type", content_type(part));
        headers.push("Content-ID", multipart::content_id(&part.name));
        let encoding = match &payload {
            Payload::Plain(bytes) if std::str::from_utf8(bytes).is_err() => "base64",
            _ => "8bit",
        };
        headers.push("Content-Transfer-Encoding", encoding);
        Piece { headers, payload }
    };
    parts.iter().zip(contents).map(piece).collect()
}

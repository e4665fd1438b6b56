//! The whole message: HTTP method and headers, envelope, header blocks, body.

use charter_contract::{Body, Contract, FaultShape, SoapVersion, WireElement, WireShape};
use charter_source::{Place, QName, ns};

use charter_schema::Engine;
use charter_schema::sample::Sampler;

use crate::{Element, Node, SampleError, Size, Text, to_xml};

/// A message as it goes over the wire.
#[derive(Debug, Clone)]
pub struct Message {
    /// The HTTP method of a request; `None` for a reply.
    pub method: Option<&'static str>,
    /// Where a request goes.
    pub address: Option<String>,
    /// The HTTP status of a reply.
    pub status: Option<u16>,
    /// The HTTP headers that SOAP asks for.
    pub headers: Vec<(&'static str, String)>,
    /// The envelope.
    pub envelope: Element,
}

/// A message of a wire shape.
///
/// # Errors
/// If no message of bearable size fits the schemas.
pub fn message(contract: &Contract, shape: &WireShape, size: Size) -> Result<Message, SampleError> {
    let envelope = shape.soap.envelope();
    let mut root = Element::new(QName::new(envelope, "Envelope"));
    if !shape.headers.is_empty() {
        let mut header = Element::new(QName::new(envelope, "Header"));
        for block in &shape.headers {
            header = header.with(sample_element(contract, &block.content, size)?);
        }
        root = root.with(header);
    }
    let mut body = Element::new(QName::new(envelope, "Body"));
    match &shape.fault {
        Some(fault) => body = body.with(fault_element(contract, shape, fault, size)?),
        None => fill_body(contract, &shape.body, size, &mut body)?,
    }
    let request = shape.action.is_some() || matches!(shape.side, charter_contract::Side::Input);
    Ok(Message {
        method: request.then_some(shape.method),
        address: shape.address.clone().filter(|_| request),
        status: (!request).then_some(if shape.fault.is_some() { 500 } else { 200 }),
        headers: http_headers(shape, request),
        envelope: root.with(body),
    })
}

impl Message {
    /// The envelope as indented XML, with the prefixes of the contract.
    pub fn to_xml(&self, contract: &Contract) -> String {
        to_xml(&self.envelope, "env", &|namespace| contract_prefix(contract, namespace))
    }
}

/// The prefix that the contract declares for a namespace, unless it only says "this namespace".
fn contract_prefix(contract: &Contract, namespace: &str) -> Option<String> {
    contract.files.iter().filter_map(|file| file.root()).find_map(|root| {
        let declared = root.namespaces().filter(|declared| declared.uri() == namespace);
        let mut named = declared.filter_map(|declared| declared.name());
        named.find(|prefix| !matches!(*prefix, "tns" | "this" | "env")).map(str::to_owned)
    })
}

/// A sample of an element on the wire.
///
/// ```
/// use charter_contract::{Component, Contract, WireElement};
/// use charter_message::{Size, sample_element};
/// use charter_source::{Limits, Location, Overlay};
///
/// let text = r#"<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema"><xs:element name="draught" type="xs:decimal"/></xs:schema>"#;
/// let store = Overlay::of(&[("port.xsd", text)]);
/// let contract = Contract::load(&store, &Location::from_argument("port.xsd"), Limits::default())?;
/// let Ok(Component::Element(id)) = contract.find("element/draught") else { unreachable!() };
/// let sample = sample_element(&contract, &WireElement::Declared(id), Size::Typical).unwrap();
/// assert_eq!(sample.children.len(), 1);
/// # Ok::<(), charter_source::ReadError>(())
/// ```
///
/// # Errors
/// If there is no such element, or none of bearable size.
pub fn sample_element(
    contract: &Contract,
    element: &WireElement,
    size: Size,
) -> Result<Element, SampleError> {
    let engine = Engine::new(&contract.files, &contract.schemas);
    let sampler = Sampler::new(&engine, size);
    match element {
        WireElement::Declared(id) => sampler.element(*id),
        WireElement::Typed { name, ty } => {
            let mut element = Element::new(name.clone());
            sampler.fill(&mut element, *ty, Place::default())?;
            Ok(element)
        }
    }
}

/// Content type and action (SOAP 1.1, section 6; SOAP 1.2 part 2, section 7).
fn http_headers(shape: &WireShape, request: bool) -> Vec<(&'static str, String)> {
    let action = shape.action.as_deref().unwrap_or("");
    match shape.soap {
        SoapVersion::V11 => {
            let mut headers = vec![("Content-Type", "text/xml; charset=utf-8".to_owned())];
            if request {
                headers.push(("SOAPAction", format!("\"{action}\"")));
            }
            headers
        }
        SoapVersion::V12 if request && !action.is_empty() => {
            vec![("Content-Type", format!("application/soap+xml; charset=utf-8; action=\"{action}\""))]
        }
        SoapVersion::V12 => vec![("Content-Type", "application/soap+xml; charset=utf-8".to_owned())],
    }
}

fn fill_body(contract: &Contract, content: &Body, size: Size, into: &mut Element) -> Result<(), SampleError> {
    match content {
        Body::Elements(elements) => {
            for element in elements {
                into.children.push(Node::Element(sample_element(contract, element, size)?));
            }
        }
        Body::Content(ty) => {
            let engine = Engine::new(&contract.files, &contract.schemas);
            Sampler::new(&engine, size).fill(into, *ty, Place::default())?;
        }
        Body::Wrapper { name, parts } => {
            let mut wrapper = Element::new(name.clone());
            for part in parts {
                let element = WireElement::Typed { name: QName::new("", &part.name), ty: part.ty };
                wrapper = wrapper.with(sample_element(contract, &element, size)?);
            }
            into.children.push(Node::Element(wrapper));
        }
    }
    Ok(())
}

/// `Fault` (SOAP 1.1, section 4.4; SOAP 1.2 part 1, section 5.4).
fn fault_element(
    contract: &Contract,
    shape: &WireShape,
    fault: &FaultShape,
    size: Size,
) -> Result<Element, SampleError> {
    let envelope = shape.soap.envelope();
    let named = |local: &str| Element::new(QName::new(envelope, local));
    let code = |local: &str| Node::Text(Text::Name(QName::new(envelope, local)));
    let words = format!("The request was refused: {}.", fault.name);
    Ok(match shape.soap {
        SoapVersion::V11 => {
            let mut faultcode = Element::new(QName::new("", "faultcode"));
            faultcode.children.push(code("Server"));
            let mut detail = Element::new(QName::new("", "detail"));
            fill_body(contract, &shape.body, size, &mut detail)?;
            named("Fault")
                .with(faultcode)
                .with(Element::new(QName::new("", "faultstring")).text(words))
                .with(detail)
        }
        SoapVersion::V12 => {
            let mut value = named("Value");
            value.children.push(code("Receiver"));
            let mut text = named("Text").text(words);
            text.attributes.push((QName::new(ns::XML, "lang"), Text::Plain("en".into())));
            let mut detail = named("Detail");
            fill_body(contract, &shape.body, size, &mut detail)?;
            named("Fault").with(named("Code").with(value)).with(named("Reason").with(text)).with(detail)
        }
    })
}

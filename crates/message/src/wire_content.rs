//! What fills a wire shape: an element for each of its contents.

use charter_contract::{Carrier, HttpContent, WireElement, WireShape};
use charter_schema::Engine;
use charter_schema::sample::{Sampler, Size};
use charter_source::Place;

use crate::{Element, SampleError};

/// What fills a wire shape: an element for each of [`WireShape::contents`], in that order.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct WireContent {
    /// The elements.
    pub elements: Vec<Element>,
}

/// Fills a wire shape with values that could be real.
///
/// ```
/// use charter_contract::{Contract, Side};
/// use charter_message::{Size, assemble, sample};
/// use charter_schema::Engine;
/// use charter_source::{Limits, Location, Overlay};
///
/// let text = r#"<definitions xmlns="http://schemas.xmlsoap.org/wsdl/" xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/"
///     xmlns:xs="http://www.w3.org/2001/XMLSchema" xmlns:t="urn:saltmere:tides:1" targetNamespace="urn:saltmere:tides:1">
///   <message name="ask"><part name="berth" type="xs:string"/></message>
///   <portType name="Tides"><operation name="nextTide"><input message="t:ask"/></operation></portType>
///   <binding name="B" type="t:Tides"><soap:binding style="rpc" transport="http://schemas.xmlsoap.org/soap/http"/>
///     <operation name="nextTide"><input><soap:body use="literal" namespace="urn:saltmere:tides:1"/></input></operation></binding>
/// </definitions>"#;
/// let store = Overlay::of(&[("tides.wsdl", text)]);
/// let contract = Contract::load(&store, &Location::from_argument("tides.wsdl"), Limits::default())?;
/// let (operation, _) = contract.operations().next().unwrap();
/// let shape = contract.wire_shape(operation, Side::Input, None).unwrap();
/// let engine = Engine::new(&contract.files, &contract.schemas);
/// let wire_content = sample(&engine, &shape, Size::Typical).unwrap();
/// let message = assemble(&engine, &shape, wire_content, &[]);
/// assert!(message.text(&contract).contains("<berth>berth</berth>"));
/// # Ok::<(), charter_source::ReadError>(())
/// ```
///
/// # Errors
/// If something in it has no valid instance of bearable size, or none was found.
pub fn sample(engine: &Engine<'_>, shape: &WireShape, size: Size) -> Result<WireContent, SampleError> {
    let contents = shape.contents();
    let in_path =
        matches!(&shape.carrier, Carrier::Http(http) if matches!(http.content, HttpContent::InPath(_)));
    let made = |(at, content)| {
        let element = sample_element(engine, content, size, (shape.is_encoded(at), at))?;
        // Whoever reads an address takes these steps out of it (RFC 3986, 5.2.4).
        let is_step = |element: &Element| in_path && matches!(&*element.value(), "." | "..");
        if !is_step(&element) {
            return Ok(element);
        }
        let other = sample_element(engine, content, Size::Typical, (shape.is_encoded(at), at))?;
        let name = other.name.local.to_string();
        match is_step(&other) {
            true => Err(SampleError::NoValue { name, place: Place::default() }),
            false => Ok(other),
        }
    };
    let elements = contents.iter().enumerate().map(made);
    Ok(WireContent { elements: elements.collect::<Result<_, _>>()? })
}

/// Values that one of the contents of a message has at most before identifiers might meet.
const VALUES: usize = 1000;

/// A sample of an element on the wire.
///
/// # Errors
/// If it has no valid instance of bearable size, or none was found.
pub(crate) fn sample_element(
    engine: &Engine<'_>,
    element: &WireElement,
    size: Size,
    (encoded, at): (bool, usize),
) -> Result<Element, SampleError> {
    let sampler = Sampler::new(engine, size).encoded(encoded).after(at * VALUES);
    match element {
        WireElement::Declared(id) => sampler.element(*id),
        WireElement::Typed { name, ty } => {
            let mut element = Element::new(name.clone());
            sampler.fill(&mut element, *ty, Place::default())?;
            Ok(element)
        }
    }
}

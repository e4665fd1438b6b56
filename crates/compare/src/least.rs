//! The least message of a side, to show what all its messages suffer.

use charter_contract::{Carrier, WireElement, WireShape};
use charter_schema::Engine;
use charter_schema::sample::{Element, Sampler, Size};
use charter_source::Place;

/// The first element that the body holds, or what stands for it in a message without an envelope.
pub(crate) fn body(engine: &Engine<'_>, shape: &WireShape) -> Option<Element> {
    let before = match &shape.carrier {
        Carrier::Soap(soap) => soap.headers.len(),
        Carrier::Http(_) => 0,
    };
    let contents = shape.contents();
    element(engine, contents.get(before)?)
}

/// The least element of a message.
pub(crate) fn element(engine: &Engine<'_>, content: &WireElement) -> Option<Element> {
    let sampler = Sampler::new(engine, Size::Least);
    match content {
        WireElement::Declared(id) => sampler.element(*id).ok(),
        WireElement::Typed { name, ty } => {
            let mut element = Element::new(name.clone());
            sampler.fill(&mut element, *ty, Place::default()).ok()?;
            Some(element)
        }
    }
}

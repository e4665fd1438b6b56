//! The least message of a side, to show what all its messages suffer.

use charter_contract::{Body, Carrier, WireElement, WireShape};
use charter_schema::Engine;
use charter_schema::sample::{Element, Node, Sampler, Size};
use charter_source::{Place, QName};

/// The first element that the body holds, with all that stands in it, or what stands for it in a message without an
/// envelope.
pub(crate) fn body(engine: &Engine<'_>, shape: &WireShape) -> Option<Element> {
    let before = match &shape.carrier {
        Carrier::Soap(soap) => {
            if let Body::Wrapper { name, parts } = &soap.body {
                let mut wrapper = Element::new(name.clone());
                for part in parts {
                    let typed = WireElement::Typed { name: QName::new("", &part.name), ty: part.ty };
                    wrapper.children.push(Node::Element(element(engine, &typed)?));
                }
                return Some(wrapper);
            }
            soap.headers.len()
        }
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

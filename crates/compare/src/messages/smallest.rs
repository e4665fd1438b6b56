//! The least message of a side, to show what all its messages suffer, and a typical one.

use charter_contract::{Body, Carrier, Contract, WireElement, WireShape};
use charter_schema::Engine;
use charter_schema::sample::{Element, Node, Sampler, SenderHabits, Size, to_fragment};
use charter_source::{Place, QName};

use crate::decide::paths;
use crate::versions::SideOf;

/// The least message of a side as text: the first element of its body, or what stands for it without an envelope. `None` if the
/// side has no such message, or none that holds anything.
pub fn least_body(contract: &Contract, engine: &Engine<'_>, at: SideOf) -> Option<String> {
    text(contract, engine, at, Size::Least)
}

/// What one sends first of a side as text, as [`least_body`] has the least.
pub fn typical_body(contract: &Contract, engine: &Engine<'_>, at: SideOf) -> Option<String> {
    text(contract, engine, at, Size::Typical)
}

fn text(contract: &Contract, engine: &Engine<'_>, at: SideOf, size: Size) -> Option<String> {
    let offer = contract.bound(at.operation).next()?;
    let shape = contract.shape_of(at.operation, at.side, offer).ok()?;
    sized(engine, &shape, None, size).map(|body| to_fragment(&body, &|_| None))
}

/// The first element that the body holds, with the least that stands in it, or what stands for it in a message without an
/// envelope; made of what is sent by these wire paths, as far as there is a choice.
pub(crate) fn body(engine: &Engine<'_>, shape: &WireShape, sends: Option<&[&[String]]>) -> Option<Element> {
    sized(engine, shape, sends, Size::Least)
}

fn sized(engine: &Engine<'_>, shape: &WireShape, sends: Option<&[&[String]]>, size: Size) -> Option<Element> {
    let habits = |name: &str| sends.and_then(|paths| paths::habits(&paths::beginning_in(name, paths)));
    let before = match &shape.carrier {
        Carrier::Soap(soap) => {
            if let Body::Wrapper { name, parts } = &soap.body {
                let mut wrapper = Element::new(name.clone());
                for part in parts {
                    let typed = WireElement::Typed { name: QName::new("", &part.name), ty: part.ty };
                    let made = element(engine, &typed, habits(&part.name).as_ref(), size)?;
                    wrapper.children.push(Node::Element(made));
                }
                return Some(wrapper);
            }
            soap.headers.len()
        }
        Carrier::Http(_) => 0,
    };
    let contents = shape.contents();
    let first = contents.get(before)?;
    element(engine, first, habits(&first.name(engine.schemas()).local).as_ref(), size)
}

/// An element of a message, made of what is `habits` within it.
fn element(
    engine: &Engine<'_>,
    content: &WireElement,
    habits: Option<&SenderHabits>,
    size: Size,
) -> Option<Element> {
    let sampler = Sampler::new(engine, size).preferring(habits);
    match content {
        WireElement::Declared(id) => sampler.element(*id).ok(),
        WireElement::Typed { name, ty } => {
            let mut element = Element::new(name.clone());
            sampler.fill(&mut element, *ty, Place::default()).ok()?;
            Some(element)
        }
    }
}

//! Writes a literal element by the encoding of SOAP (SOAP 1.1, section 5; SOAP 1.2 Part 2, section 3): every value names
//! its type, and an array says what it holds.

use charter_contract::SoapVersion;
use charter_schema::Engine;
use charter_source::{QName, ns};

use crate::{Element, Node, Text};

/// The element, encoded. `style` is written on it where it is the outermost.
pub(crate) fn encoded(
    engine: &Engine<'_>,
    element: &Element,
    version: SoapVersion,
    style: Option<&str>,
) -> Element {
    let mut result = Element { children: Vec::new(), ..element.clone() };
    if let Some(style) = style {
        let name = QName::new(version.envelope(), "encodingStyle");
        result.attributes.push((name, Text::Plain(style.to_owned())));
    }
    let xsi_type = QName::new(ns::XSI, "type");
    let named = result.attributes.iter().any(|(name, _)| *name == xsi_type);
    let type_name = element.ty.and_then(|ty| engine.schemas().types[ty].name.clone());
    if let (false, Some(name)) = (named, type_name.filter(|name| !name.local.contains(' '))) {
        result.attributes.push((xsi_type, Text::Name(name)));
    }
    if let Some(array) = element.ty.and_then(|ty| engine.encoded_array(ty)) {
        let count = element.elements().count();
        match version {
            // The size is written behind the name, so it goes where the name is given its prefix.
            SoapVersion::V11 => {
                let local = format!("{}{}[{count}]", array.item_name.local, array.inner);
                let value = Text::Name(QName::new(&array.item_name.namespace, &local));
                result.attributes.push((QName::new(ns::SOAP11_ENCODING, "arrayType"), value));
            }
            SoapVersion::V12 => {
                let item = Text::Name(array.item_name.clone());
                result.attributes.push((QName::new(ns::SOAP12_ENCODING, "itemType"), item));
                let size = Text::Plain(count.to_string());
                result.attributes.push((QName::new(ns::SOAP12_ENCODING, "arraySize"), size));
            }
        }
    }
    result.children = element
        .children
        .iter()
        .map(|child| match child {
            Node::Element(child) => Node::Element(encoded(engine, child, version, None)),
            text => text.clone(),
        })
        .collect();
    result
}

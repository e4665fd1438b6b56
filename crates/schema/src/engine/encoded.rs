//! Arrays of the encoding of SOAP: types derived from `soapenc:Array`, whose members `wsdl:arrayType` names
//! (WSDL 1.1, section 2.2).

use charter_source::{Files, QName, ns};

use super::{Engine, expanded};
use crate::{AttributeUse, Occurs, TypeId};

/// What an array holds.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct EncodedArray {
    /// The type of its members.
    pub item: TypeId,
    /// The name of that type, as an instance writes it.
    pub item_name: QName,
    /// The name of its members; they may have any.
    pub member: QName,
    /// The dimensions of its members, should these be arrays themselves: `[]`, `[,]`.
    pub inner: String,
    /// How many members the schema asks for.
    pub occurs: Occurs,
}

/// What `wsdl:arrayType` says on the use of an attribute: the type of the members, and the dimensions.
pub fn written_array_type(files: &Files, usage: &AttributeUse) -> Option<(QName, String)> {
    let node = files.get(usage.place.file).tree.node(usage.node)?;
    let text = node.attribute((ns::WSDL, "arrayType"))?;
    let (name, dimensions) = text.split_at(text.find('[')?);
    Some((expanded(node, name.trim())?, dimensions.to_owned()))
}

impl Engine<'_> {
    /// What an array of the encoding holds; `None` for a type that is none.
    pub fn encoded_array(&self, id: TypeId) -> Option<EncodedArray> {
        let schemas = self.schemas;
        let mut here = id;
        let mut found = None;
        loop {
            let complex = schemas.complex(here)?;
            if let Some(name) = &schemas.types[here].name
                && (name.is(ns::SOAP11_ENCODING, "Array") || name.is(ns::SOAP12_ENCODING, "Array"))
            {
                break;
            }
            for usage in &complex.attributes {
                found = found.or_else(|| written_array_type(self.files, usage));
            }
            here = complex.base.target.filter(|base| *base != here)?;
        }
        let member = schemas.children(id).first().copied();
        let (member_name, occurs) = match member {
            Some((element, occurs)) => (schemas.elements[element].name.clone(), occurs),
            None => (QName::new("", "item"), Occurs { min: 0, max: None }),
        };
        let by_member = || {
            let ty = schemas.element_type(member?.0);
            Some((ty, schemas.types[ty].name.clone()?, String::new()))
        };
        let by_attribute = |(name, dimensions): (QName, String)| {
            // The last brackets are those of the array itself.
            let inner = dimensions.rfind('[').map_or(String::new(), |last| dimensions[..last].to_owned());
            Some((schemas.type_named(&name)?, name, inner))
        };
        let (item, item_name, inner) = found.and_then(by_attribute).or_else(by_member)?;
        Some(EncodedArray { item, item_name, member: member_name, inner, occurs })
    }
}

//! What is allowed but does harm.

use charter_contract::{Contract, DocumentKind};
use charter_schema::{Owner, Ref};
use charter_source::{Fault, QName, Set, nearest, ns};

use crate::{Example, Family, Level, Rule, Slot};

pub(crate) const RULES: &[Rule] = &[
    Rule {
        name: "message-unused",
        family: Family::Hygiene,
        level: Level::Warning,
        standard: "good practice; no standard asks for it",
        asks: "Every message is used by an operation or a header.",
        why: "What nobody uses is read, kept up and generated all the same. It is often left over from a rename.",
        example: Some(Example {
            slot: Slot::Messages,
            wrong: "<wsdl:message name=\"closeBerth\"><wsdl:part name=\"parameters\" element=\"tns:findBerth\"/></wsdl:message>",
            right: "",
        }),
        look: Some(unused_messages),
        by_settings: None,
        fix: None,
    },
    Rule {
        name: "type-unused",
        family: Family::Hygiene,
        level: Level::Warning,
        standard: "good practice; no standard asks for it",
        asks: "Every type is used by an element, an attribute, a message or another type.",
        why: "What nobody uses is read, kept up and generated all the same. It may also show that an element \
              has the wrong type.",
        example: Some(Example {
            slot: Slot::Schema,
            wrong: "<xs:simpleType name=\"Draught\"><xs:restriction base=\"xs:decimal\"/></xs:simpleType>",
            right: "<xs:simpleType name=\"Draught\"><xs:restriction base=\"xs:decimal\"/></xs:simpleType>\n<xs:element name=\"draught\" type=\"tns:Draught\"/>",
        }),
        look: Some(unused_types),
        by_settings: None,
        fix: None,
    },
    Rule {
        name: "in-out-part",
        family: Family::Hygiene,
        level: Level::Warning,
        standard: "WSDL 1.1, section 2.4.6",
        asks: "In rpc style, input and output have no part of the same name.",
        why: "A part that stands in both is an in-out parameter: generated code passes one variable both ways, \
              and overwrites what the caller gave. Name them apart unless that is meant.",
        example: Some(Example {
            slot: Slot::Messages,
            wrong: "<wsdl:message name=\"tideInput\"><wsdl:part name=\"tide\" type=\"xs:date\"/></wsdl:message>\n<wsdl:message name=\"tideOutput\"><wsdl:part name=\"tide\" type=\"xs:date\"/></wsdl:message>\n<wsdl:portType name=\"Tides\">\n  <wsdl:operation name=\"nextTide\"><wsdl:input message=\"tns:tideInput\"/><wsdl:output message=\"tns:tideOutput\"/></wsdl:operation>\n</wsdl:portType>",
            right: "<wsdl:message name=\"tideInput\"><wsdl:part name=\"after\" type=\"xs:date\"/></wsdl:message>\n<wsdl:message name=\"tideOutput\"><wsdl:part name=\"tide\" type=\"xs:date\"/></wsdl:message>\n<wsdl:portType name=\"Tides\">\n  <wsdl:operation name=\"nextTide\"><wsdl:input message=\"tns:tideInput\"/><wsdl:output message=\"tns:tideOutput\"/></wsdl:operation>\n</wsdl:portType>",
        }),
        look: Some(in_out_parts),
        by_settings: None,
        fix: None,
    },
];

/// How many names that lead nowhere are looked at.
const SLIPS: usize = 50;

/// The names that a misspelt one most likely means: what only a slip keeps unused is no finding of its own.
fn meant<'c>(misspelt: impl Iterator<Item = &'c QName>, unused: &[&'c str]) -> Set<&'c str> {
    misspelt.take(SLIPS).filter_map(|name| nearest(&name.local, unused.iter().copied())).collect()
}

/// The names of references that lead nowhere.
fn dangling<'c, T: 'c>(references: impl Iterator<Item = &'c Ref<T>>) -> impl Iterator<Item = &'c QName> {
    references.filter(|reference| reference.target.is_none()).filter_map(|reference| reference.name.as_ref())
}

fn unused_messages(contract: &Contract, faults: &mut Vec<Fault>) {
    if contract.messages.is_empty() {
        return;
    }
    let usage = contract.usage();
    let unused: Vec<&str> = contract
        .messages
        .iter()
        .filter(|(id, _)| !usage.messages.contains(id))
        .map(|(_, message)| &*message.name.local)
        .collect();
    let sides = contract.operations().flat_map(|(_, operation)| operation.sides().map(|(_, usage)| usage));
    let slips = meant(dangling(sides.map(|usage| &usage.message)), &unused);
    for (id, message) in contract.messages.iter() {
        let first = contract.message_named(&message.name) == Some(id);
        if first && !usage.messages.contains(&id) && !slips.contains(&*message.name.local) {
            let text = format!("nothing uses the message \"{}\"", message.name.local);
            faults.push(
                Fault::new("message-unused", message.place, text)
                    .help("remove it, or use it in an operation"),
            );
        }
    }
}

/// Types in files that others may import as well are not judged: their users need not be in this contract.
fn unused_types(contract: &Contract, faults: &mut Vec<Fault>) {
    if contract.kind() != DocumentKind::Contract {
        return;
    }
    let usage = contract.usage();
    let schemas = &contract.schemas;
    let names = schemas.own_types().filter(|(id, _)| !usage.types.contains(id));
    let unused: Vec<&str> = names.filter_map(|(_, ty)| ty.name.as_ref()).map(|name| &*name.local).collect();
    let elements = schemas.elements.iter().map(|(_, element)| &element.ty);
    let attributes = schemas.attribute_decls.iter().map(|(_, attribute)| &attribute.ty);
    let parts = contract.messages.iter().flat_map(|(_, message)| &message.parts);
    let parts = parts.filter_map(|part| part.ty.as_ref());
    let slips = meant(dangling(elements.chain(attributes).chain(parts)), &unused);
    for (id, ty) in contract.schemas.own_types() {
        let embedded = contract.files.get(ty.place.file).has_root(ns::WSDL, "definitions");
        let Some(name) = ty.name.as_ref().filter(|_| embedded && ty.owner == Owner::Schema) else { continue };
        // Of two types of one name, only the first can be used; that there are two is said elsewhere.
        let first = schemas.type_named(name) == Some(id);
        if first && !usage.types.contains(&id) && !slips.contains(&*name.local) {
            let text = format!("nothing uses the type \"{}\"", name.local);
            faults
                .push(Fault::new("type-unused", ty.place, text).help("remove it, or give it to an element"));
        }
    }
}

/// Whether a part of the same name is carried both ways, told by the types that rpc style asks for.
fn in_out_parts(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, operation) in contract.operations() {
        let message = |usage: &Option<charter_contract::MessageUse>| {
            usage.as_ref().and_then(|usage| usage.message.target).map(|id| (id, &contract.messages[id]))
        };
        let (Some((_, input)), Some((_, output))) = (message(&operation.input), message(&operation.output))
        else {
            continue;
        };
        for part in output.parts.iter().filter(|part| part.element.is_none()) {
            let twin =
                input.parts.iter().find(|other| other.name.text == part.name.text && other.element.is_none());
            if twin.is_some() {
                let text = format!(
                    "\"{}\" is a part of both input and output of \"{}\": generated code makes it an in-out parameter",
                    part.name.text, operation.name.text
                );
                let fault = Fault::new("in-out-part", part.name.place, text);
                faults.push(fault.help("name the two parts apart"));
            }
        }
    }
}

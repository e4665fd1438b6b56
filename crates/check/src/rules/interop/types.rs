//! Types and schemas.

use charter_contract::Contract;
use charter_schema::{Owner, TypeKind};
use charter_source::{Fault, attribute_place, elements, ns, schemas_in, tag_place, types_in};

pub(super) fn nameless_schemas(contract: &Contract, faults: &mut Vec<Fault>) {
    for file in contract.files.iter() {
        for schema in schemas_in(file) {
            let only_imports =
                elements(schema).all(|child| matches!(child.tag_name().name(), "import" | "annotation"));
            if schema.attribute("targetNamespace").is_none_or(str::is_empty) && !only_imports {
                let fault =
                    Fault::new("R2105", tag_place(file.id, schema), "this schema has no target namespace");
                faults.push(fault.help("add targetNamespace"));
            }
        }
    }
}

pub(super) fn other_languages(contract: &Contract, faults: &mut Vec<Fault>) {
    for file in contract.files.iter() {
        let other =
            types_in(file).filter(|child| !matches!(child.tag_name().namespace(), Some(ns::XSD | ns::WSDL)));
        for child in other {
            let message = format!("{} is not a schema of XML Schema", child.tag_name().name());
            let fault = Fault::new("R2801", tag_place(file.id, child), message);
            faults.push(fault.help("define the types in xsd:schema"));
        }
    }
}

pub(super) fn encoded_arrays(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, ty) in contract.schemas.own_types() {
        let TypeKind::Complex(complex) = &ty.kind else { continue };
        let Some(base) = complex.base.name.as_ref() else { continue };
        if &*base.namespace == ns::SOAP11_ENCODING && &*base.local == "Array" {
            let fault = Fault::new("R2110", complex.base.place, "this type derives from an encoded array");
            faults.push(fault.help("write a sequence with an element that repeats"));
        }
    }
}

pub(super) fn array_types(contract: &Contract, faults: &mut Vec<Fault>) {
    // The attribute stands where an attribute is declared or used, which the components keep the nodes of.
    let groups = contract.schemas.attribute_groups.iter().flat_map(|(_, group)| &group.attributes);
    let types = contract.schemas.own_types().flat_map(|(_, ty)| match &ty.kind {
        TypeKind::Complex(complex) => complex.attributes.as_slice(),
        TypeKind::Simple(_) => &[],
    });
    for usage in groups.chain(types) {
        let file = contract.files.get(usage.place.file);
        let node = file.tree.node(usage.node);
        let found = node.and_then(|node| node.attribute_node((ns::WSDL, "arrayType")));
        if let Some(attribute) = found.filter(|_| !file.is_known()) {
            let place = attribute_place(usage.place.file, &attribute);
            let fault = Fault::new("R2111", place, "this attribute uses wsdl:arrayType");
            faults.push(fault.help("write a sequence with an element that repeats"));
        }
    }
}

pub(super) fn array_names(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, element) in contract.schemas.elements.iter() {
        let named = element.name.local.strip_prefix("ArrayOf").is_some_and(|rest| !rest.is_empty());
        if named && !contract.schemas.is_known(element.place) {
            let what = if element.owner == Owner::Schema { "the element" } else { "this element" };
            let message = format!("{what} is named \"{}\"", element.name.local);
            let fault = Fault::new("R2112", element.place, message);
            faults.push(fault.help("name it for what it holds"));
        }
    }
}

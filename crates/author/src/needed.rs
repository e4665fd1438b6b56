//! Settles what an edit need not do: what is there already is not put in again, and what something else uses stays.

use std::cell::LazyCell;

use charter_contract::{Component, Contract};
use charter_notation::{Addition, Child, Convention, ElementInfo, Piece};
use charter_source::{Place, QName, Set};

use crate::failure::EditFailure;
use crate::uses::Uses;

/// The difference of two element infos without what need not be done: what is there already is not put in again, and what
/// something else uses too is not taken out.
///
/// # Errors
/// If a name is taken by something else.
pub(crate) fn needed_difference(
    contract: &Contract,
    actual: &ElementInfo,
    base: ElementInfo,
    wanted: ElementInfo,
) -> Result<Addition, EditFailure> {
    let mut addition = Addition { actual: actual.clone(), base, wanted };
    operation_taken(contract, &addition)?;
    if !addition.wanted.is_wsdl("definitions") && !addition.wanted.is_wsdl("types") {
        return Ok(addition);
    }
    let target = addition.wanted.text("targetNamespace").unwrap_or("").to_owned();
    let Addition { base, wanted, .. } = &mut addition;
    let uses = LazyCell::new(|| Uses::of(contract));
    let gone = gone_messages(contract, &uses, actual, base, wanted, &target);
    put_in(contract, base, wanted, &target)?;
    let schemas = |info: &ElementInfo| -> Vec<ElementInfo> {
        let types =
            if info.is_wsdl("types") { Some(info) } else { info.elements().find(|it| it.is_wsdl("types")) };
        types.into_iter().flat_map(ElementInfo::elements).filter(|it| it.is_xsd("schema")).cloned().collect()
    };
    let before = schemas(base);
    let mut kept: Vec<QName> = Vec::new();
    let types = if wanted.is_wsdl("types") {
        Some(wanted)
    } else {
        wanted.elements_mut().find(|it| it.is_wsdl("types"))
    };
    let mut found: Set<String> = Set::default();
    for schema in types.into_iter().flat_map(ElementInfo::elements_mut).filter(|it| it.is_xsd("schema")) {
        let namespace = schema.text("targetNamespace").unwrap_or("").to_owned();
        let old = before.iter().find(|it| it.text("targetNamespace").unwrap_or("") == namespace);
        found.insert(namespace.clone());
        put_in(contract, old.unwrap_or(&ElementInfo::xsd("schema")), schema, &namespace)?;
        if let Some(old) = old {
            kept.extend(kept_elements(contract, &uses, actual, old, Some(schema), &namespace, &gone));
        }
    }
    for schema in &before {
        let namespace = schema.text("targetNamespace").unwrap_or("").to_owned();
        if !found.contains(&namespace) {
            kept.extend(kept_elements(contract, &uses, actual, schema, None, &namespace, &gone));
        }
    }
    let Addition { base, wanted, .. } = &mut addition;
    for schema in base.elements_mut().filter(|it| it.is_wsdl("types")).flat_map(ElementInfo::elements_mut) {
        let namespace = schema.text("targetNamespace").unwrap_or("").to_owned();
        schema.children.retain(|child| match child {
            Child::Element(info) => {
                !kept.iter().any(|name| name.is(&namespace, info.text("name").unwrap_or("")))
            }
            _ => true,
        });
    }
    keep_schemas(base, wanted);
    Ok(addition)
}

/// A schema that is no longer spoken of stays, though nothing may be left in it.
fn keep_schemas(base: &ElementInfo, wanted: &mut ElementInfo) {
    let empty = |info: &ElementInfo| ElementInfo { children: Vec::new(), ..info.clone() };
    let Some(types) = base.elements().find(|it| it.is_wsdl("types")) else { return };
    if wanted.is_wsdl("types") {
        return;
    }
    if !wanted.elements().any(|it| it.is_wsdl("types")) {
        wanted.children.insert(0, Child::Element(empty(types)));
    }
    if let Some(own) = wanted.elements_mut().find(|it| it.is_wsdl("types")) {
        for schema in types.elements().filter(|it| it.is_xsd("schema")) {
            if !own.elements().any(|it| key_of(it) == key_of(schema)) {
                own.push(empty(schema));
            }
        }
    }
}

/// Whether an operation that is put in has the name of one that is there, and no input to tell them apart.
fn operation_taken(contract: &Contract, addition: &Addition) -> Result<(), EditFailure> {
    for wanted in addition.wanted.elements().filter(|it| it.is_wsdl("portType")) {
        let base = addition.base.elements().find(|it| key_of(it) == key_of(wanted));
        let known = contract.port_types.iter().find(|(_, it)| wanted.text("name") == Some(&it.name.local));
        let (Some(base), Some((_, known))) = (base, known) else { continue };
        let is_new = |info: &ElementInfo| !base.elements().any(|it| key_of(it) == key_of(info));
        for name in wanted.elements().filter(|it| is_new(it)).filter_map(|it| it.text("name")) {
            let told_apart = wanted
                .elements()
                .filter(|it| it.text("name") == Some(name))
                .all(|it| it.elements().any(|side| side.is_wsdl("input") && side.text("name").is_some()));
            if !told_apart && known.operations.iter().any(|it| *it.name.text == *name) {
                return Err(EditFailure::Taken(format!("an operation \"{name}\"")));
            }
        }
    }
    Ok(())
}

/// The places of what an edit is about, so that references from there do not count.
fn own_places(actual: &ElementInfo, contract: &Contract) -> Vec<Place> {
    let containers = actual.elements().filter(|it| it.is_wsdl("portType") || it.is_wsdl("binding"));
    let operations = containers.flat_map(ElementInfo::elements).filter(|it| it.is_wsdl("operation"));
    operations.filter_map(|info| place_of(info, contract)).collect()
}

fn place_of(info: &ElementInfo, contract: &Contract) -> Option<Place> {
    let origin = info.origin?;
    let node = contract.files.get(origin.file).tree.node(origin.node)?;
    Some(Place { file: origin.file, span: node.range().into() })
}

fn used_elsewhere(uses: &[Place], own: &[Place]) -> bool {
    uses.iter().any(|place| !own.iter().any(|own| own.file == place.file && own.span.covers(place.span)))
}

/// The uses of all components, found when they are first asked for.
type LazyUses<'c> = dyn std::ops::Deref<Target = Uses> + 'c;

/// The names of the messages that go; those that are used elsewhere are spoken of no more.
fn gone_messages(
    contract: &Contract,
    uses: &LazyUses<'_>,
    actual: &ElementInfo,
    base: &mut ElementInfo,
    wanted: &ElementInfo,
    target: &str,
) -> Set<String> {
    let mut gone: Set<String> = Set::default();
    let is_missing = |info: &ElementInfo| {
        info.is_wsdl("message")
            && !wanted.elements().any(|it| key_of(it) == key_of(info) && it.is_wsdl("message"))
    };
    if !base.elements().any(is_missing) || !actual.elements().any(|it| it.is_wsdl("portType")) {
        return gone;
    }
    let own = own_places(actual, contract);
    base.children.retain(|child| {
        let Child::Element(info) = child else { return true };
        if !is_missing(info) {
            return true;
        }
        let name = QName::new(target, info.text("name").unwrap_or(""));
        let used = contract
            .message_named(&name)
            .is_some_and(|id| used_elsewhere(uses.of_declaration(contract.messages[id].place), &own));
        if !used {
            gone.insert(name.local.to_string());
        }
        !used
    });
    gone
}

/// The elements of an operation that are used by more than the messages that go.
fn kept_elements(
    contract: &Contract,
    uses: &LazyUses<'_>,
    actual: &ElementInfo,
    old: &ElementInfo,
    new: Option<&ElementInfo>,
    namespace: &str,
    gone: &Set<String>,
) -> Vec<QName> {
    let stays =
        |info: &&ElementInfo| new.is_some_and(|new| new.elements().any(|it| key_of(it) == key_of(info)));
    let missing: Vec<&ElementInfo> = old.elements().filter(|it| it.is_xsd("element") && !stays(it)).collect();
    if missing.is_empty() || !actual.elements().any(|it| it.is_wsdl("portType")) {
        return Vec::new();
    }
    let messages =
        actual.elements().filter(|it| it.is_wsdl("message") && gone.contains(it.text("name").unwrap_or("")));
    let own: Vec<Place> = messages.filter_map(|info| place_of(info, contract)).collect();
    let names = missing.iter().map(|info| QName::new(namespace, info.text("name").unwrap_or("")));
    let used = |name: &QName| {
        contract
            .schemas
            .element_named(name)
            .is_some_and(|id| used_elsewhere(uses.of_declaration(contract.schemas.elements[id].place), &own))
    };
    names.filter(used).collect()
}

/// Leaves out of what is put in what is there already.
fn put_in(
    contract: &Contract,
    base: &ElementInfo,
    wanted: &mut ElementInfo,
    namespace: &str,
) -> Result<(), EditFailure> {
    let mut failure = None;
    let known: Set<(&QName, Option<&str>)> = base.elements().map(|it| (&*it.name, it.text("name"))).collect();
    wanted.children.retain(|child| {
        let Child::Element(info) = child else { return true };
        let in_base = known.contains(&(&info.name, info.text("name")));
        let Some(name) = info.text("name").filter(|_| !in_base) else { return true };
        let name = QName::new(namespace, name);
        let Some(there) = component_named(contract, &info.name.local, &name) else { return true };
        let same = Piece::of(contract, there, &Convention::default()).is_some_and(|piece| {
            let mut here = piece.actual();
            while matches!(&*here.name.local, "definitions" | "types" | "schema")
                && let Some(inner) = here
                    .elements()
                    .find(|it| key_of(it) == key_of(info) || matches!(&*it.name.local, "types" | "schema"))
            {
                here = inner;
            }
            here == info
        });
        if !same {
            failure = Some(EditFailure::Taken(format!("{} \"{}\"", words(&info.name.local), name.local)));
        }
        !same
    });
    failure.map_or(Ok(()), Err)
}

pub(crate) fn key_of(info: &ElementInfo) -> String {
    crate::align::key(info)
}

/// The component of a contract with a name for all: of the kind that an element of that local name declares.
pub fn component_named(contract: &Contract, local: &str, name: &QName) -> Option<Component> {
    let schemas = &contract.schemas;
    match local {
        "message" => contract.message_named(name).map(Component::Message),
        "portType" => {
            contract.port_types.iter().find(|(_, it)| it.name == *name).map(|(id, _)| Component::PortType(id))
        }
        "binding" => {
            contract.bindings.iter().find(|(_, it)| it.name == *name).map(|(id, _)| Component::Binding(id))
        }
        "service" => {
            contract.services.iter().find(|(_, it)| it.name == *name).map(|(id, _)| Component::Service(id))
        }
        "simpleType" | "complexType" => schemas.type_named(name).map(Component::Type),
        "element" => schemas.element_named(name).map(Component::Element),
        "attribute" => schemas.attribute_named(name).map(Component::Attribute),
        "group" => schemas.group_named(name).map(Component::Group),
        "attributeGroup" => schemas.attribute_group_named(name).map(Component::AttributeGroup),
        _ => None,
    }
}

fn words(local: &str) -> &str {
    match local {
        "portType" => "a port type",
        "message" => "a message",
        "binding" => "a binding",
        "service" => "a service",
        "simpleType" | "complexType" => "a type",
        "element" => "an element",
        "attribute" => "an attribute",
        "group" => "a group",
        "attributeGroup" => "an attribute group",
        other => other,
    }
}

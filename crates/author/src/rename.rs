//! Renames a component with every reference to it, in every file.

use charter_contract::{BindingId, Component, Contract, Extension, ExtensionKind, MessageId, OperationId};
use charter_notation::{Convention, SideKind};
use charter_schema::{ElementDecl, ElementId, Owner, Ref, SimpleDerivation, Term, TypeDef, TypeId, TypeKind};
use charter_source::{Place, QName, Set, Store, TextEdit, is_ncname};

use crate::change::{Change, EditFailure, make};

/// The change that gives a component another name.
///
/// Operations, elements, types, messages and bindings can be renamed. The result is read again from `store`, which the
/// contract came from. What carries the old name only by
/// convention keeps it, and a note says so.
///
/// ```
/// use charter_contract::Contract;
/// use charter_source::{Limits, Location, Overlay};
///
/// let text = r#"<x:schema xmlns:x="http://www.w3.org/2001/XMLSchema"><x:simpleType name="Quay"><x:restriction base="x:string"/></x:simpleType><x:element name="quay" type="Quay"/></x:schema>"#;
/// let store = Overlay::of(&[("port.xsd", text)]);
/// let contract = Contract::load(&store, &Location::from_argument("port.xsd"), Limits::default())?;
/// let change = charter_author::rename(&contract, &store, contract.find("type/Quay").unwrap(), "Wharf").unwrap();
/// assert_eq!(change.files[0].after, text.replace("\"Quay\"", "\"Wharf\""));
/// # Ok::<(), charter_source::ReadError>(())
/// ```
///
/// # Errors
/// If the component cannot be renamed, the name is no name or taken, or the result would have faults that the
/// contract did not have.
pub fn rename(
    contract: &Contract,
    store: &dyn Store,
    component: Component,
    name: &str,
) -> Result<Change, EditFailure> {
    if !is_ncname(name) {
        return Err(EditFailure::Name(name.to_owned()));
    }
    if contract.is_built_in(component) {
        let path = contract.path(component);
        return Err(EditFailure::Unsupported(format!(
            "\"{path}\" comes with the program and cannot be renamed"
        )));
    }
    let (old, places, notes) = match component {
        Component::Operation(id) => operation(contract, id, name)?,
        Component::Message(id) => message(contract, id, name)?,
        Component::Binding(id) => binding(contract, id, name)?,
        Component::Type(id) => ty(contract, id, name)?,
        Component::Element(id) => element(contract, id, name)?,
        Component::ElementUse(id) => match contract.schemas.particle_element(id) {
            Some(element_id) => element(contract, element_id, name)?,
            None => return Err(unsupported(contract, component)),
        },
        _ => return Err(unsupported(contract, component)),
    };
    if old == name {
        return Err(EditFailure::Unsupported(format!("it is named \"{name}\" already")));
    }
    for place in &places {
        // A name written with a character reference, or by an entity, is not where it seems to be.
        if contract.files.slice(*place).trim() != old {
            return Err(EditFailure::Disguised(*place));
        }
    }
    let edits = places.into_iter().map(|place| TextEdit { place, replacement: name.to_owned() }).collect();
    let before = contract.path(component);
    let (change, result) = make(contract, store, edits, notes)?;
    let after = renamed_path(before.as_str(), &old, name);
    match result.find(&after) {
        Ok(found) if std::mem::discriminant(&found) == std::mem::discriminant(&component) => Ok(change),
        Ok(_) => Err(EditFailure::Harm(format!("\"{after}\" would be something else"))),
        // The new name may be shared with another component, so that the path alone does not tell them apart.
        Err(charter_contract::PathError::Ambiguous { .. }) => Ok(change),
        Err(error) => Err(EditFailure::Path(error)),
    }
}

type Found = (String, Vec<Place>, Vec<String>);

fn unsupported(contract: &Contract, component: Component) -> EditFailure {
    let path = contract.path(component);
    EditFailure::Unsupported(format!(
        "\"{path}\" cannot be renamed: only operations, elements, types, messages and bindings can"
    ))
}

/// The path of the component after it was renamed.
fn renamed_path(path: &str, old: &str, new: &str) -> String {
    let Some(at) = path.rfind(old) else { return path.to_owned() };
    // A bare name is enough where the old one needed its namespace, if the new one is unlike all others.
    format!("{}{new}", &path[..at])
}

fn operation(contract: &Contract, id: OperationId, name: &str) -> Result<Found, EditFailure> {
    let port_type = &contract.port_types[id.port_type];
    if port_type.operations.iter().any(|other| *other.name.text == *name) {
        return Err(EditFailure::Taken(format!("an operation \"{name}\" in \"{}\"", port_type.name.local)));
    }
    let operation = contract.operation(id);
    let old = operation.name.text.to_string();
    let mut places = vec![operation.name.place];
    for (_, binding) in contract.bindings.iter() {
        if binding.port_type.target == Some(id.port_type) {
            let bound = binding.operations.iter().filter(|bound| bound.operation == Some(id.index));
            places.extend(bound.map(|bound| bound.name.place));
        }
    }
    Ok((old, places, convention_notes(contract, id)))
}

/// What goes on carrying the old name of an operation, though it followed from it.
fn convention_notes(contract: &Contract, id: OperationId) -> Vec<String> {
    let operation = contract.operation(id);
    let old = &operation.name.text;
    let convention = Convention::default();
    let mut kept = Vec::new();
    for (side, usage) in [(SideKind::Input, &operation.input), (SideKind::Output, &operation.output)] {
        let Some(message) = usage.as_ref().and_then(|usage| usage.message.target) else { continue };
        if *contract.messages[message].name.local == convention.message(old, side) {
            kept.push(contract.path(Component::Message(message)).to_string());
        }
        for part in &contract.messages[message].parts {
            let Some(element) = part.element.as_ref().and_then(|element| element.target) else { continue };
            if *contract.schemas.elements[element].name.local == convention.element(old, side) {
                kept.push(contract.path(Component::Element(element)).to_string());
            }
        }
    }
    let mut notes = Vec::new();
    if !kept.is_empty() {
        notes.push(format!("still named after \"{old}\": {}", kept.join(", ")));
    }
    let action =
        contract.bound(id).flat_map(|bound| &bound.operation.extensions).find_map(
            |extension| match &extension.kind {
                ExtensionKind::SoapOperation { action: Some(action), .. } if action.text.contains(&**old) => {
                    Some(action.text.to_string())
                }
                _ => None,
            },
        );
    notes.extend(action.map(|action| format!("the action stays \"{action}\", so consumers go on working")));
    notes
}

fn message(contract: &Contract, id: MessageId, name: &str) -> Result<Found, EditFailure> {
    let message = &contract.messages[id];
    let taken = QName { namespace: message.name.namespace.clone(), local: name.into() };
    if contract.message_named(&taken).is_some() {
        return Err(EditFailure::Taken(format!("a message \"{name}\"")));
    }
    let mut places = vec![message.place];
    for (_, operation) in contract.operations() {
        let uses = operation.sides().filter(|(_, usage)| usage.message.target == Some(id));
        places.extend(uses.map(|(_, usage)| usage.message.place));
    }
    for (_, binding) in contract.bindings.iter() {
        for bound in &binding.operations {
            for (_, side) in bound.sides() {
                header_places(&side.extensions, id, &mut places);
            }
        }
    }
    Ok((message.name.local.to_string(), places, Vec::new()))
}

fn header_places(extensions: &[Extension], id: MessageId, places: &mut Vec<Place>) {
    for extension in extensions {
        match &extension.kind {
            ExtensionKind::SoapHeader(header) => {
                let all = std::iter::once(header).chain(&header.faults);
                let uses = all.filter(|header| header.message.target == Some(id));
                places.extend(uses.map(|header| header.message.place));
            }
            ExtensionKind::MimeMultipart(parts) => {
                parts.iter().for_each(|part| header_places(&part.extensions, id, places));
            }
            _ => {}
        }
    }
}

fn binding(contract: &Contract, id: BindingId, name: &str) -> Result<Found, EditFailure> {
    let binding = &contract.bindings[id];
    if contract.bindings.iter().any(|(_, other)| other.name.is(&binding.name.namespace, name)) {
        return Err(EditFailure::Taken(format!("a binding \"{name}\"")));
    }
    let mut places = vec![binding.place];
    let ports = contract.services.iter().flat_map(|(_, service)| &service.ports);
    places.extend(ports.filter(|port| port.binding.target == Some(id)).map(|port| port.binding.place));
    Ok((binding.name.local.to_string(), places, Vec::new()))
}

fn ty(contract: &Contract, id: TypeId, name: &str) -> Result<Found, EditFailure> {
    let schemas = &contract.schemas;
    let Some(old) =
        schemas.types[id].name.as_ref().filter(|_| charter_schema::Builtin::from_id(id).is_none())
    else {
        return Err(unsupported(contract, Component::Type(id)));
    };
    if schemas.type_named(&QName { namespace: old.namespace.clone(), local: name.into() }).is_some() {
        return Err(EditFailure::Taken(format!("a type \"{name}\"")));
    }
    // A schema that is included under two namespaces is read twice, so its types have twins.
    let place = schemas.types[id].place;
    let twins: Set<TypeId> =
        schemas.types.iter().filter(|(_, ty)| ty.place == place).map(|(id, _)| id).collect();
    let mut places = vec![place];
    let mut see = |reference: &Ref<TypeDef>| {
        if reference.name.is_some() && reference.target.is_some_and(|target| twins.contains(&target)) {
            places.push(reference.place);
        }
    };
    for (_, definition) in schemas.own_types() {
        match &definition.kind {
            TypeKind::Complex(complex) => see(&complex.base),
            TypeKind::Simple(simple) => match &simple.derivation {
                SimpleDerivation::Restriction(base) | SimpleDerivation::List(base) => see(base),
                SimpleDerivation::Union(members) => members.iter().for_each(&mut see),
            },
        }
    }
    schemas.elements.iter().for_each(|(_, element)| see(&element.ty));
    schemas.attribute_decls.iter().for_each(|(_, attribute)| see(&attribute.ty));
    let parts = contract.messages.iter().flat_map(|(_, message)| &message.parts);
    parts.filter_map(|part| part.ty.as_ref()).for_each(see);
    Ok((old.local.to_string(), places, Vec::new()))
}

fn element(contract: &Contract, id: ElementId, name: &str) -> Result<Found, EditFailure> {
    let schemas = &contract.schemas;
    let declared = &schemas.elements[id];
    let taken = QName { namespace: declared.name.namespace.clone(), local: name.into() };
    if declared.owner == Owner::Schema && schemas.element_named(&taken).is_some() {
        return Err(EditFailure::Taken(format!("an element \"{name}\"")));
    }
    let twins: Set<ElementId> = schemas
        .elements
        .iter()
        .filter(|(_, other)| other.place == declared.place)
        .map(|(id, _)| id)
        .collect();
    let mut places = vec![declared.place];
    let mut see = |reference: &Ref<ElementDecl>| {
        if reference.target.is_some_and(|target| twins.contains(&target)) {
            places.push(reference.place);
        }
    };
    for (_, particle) in schemas.particles.iter() {
        if let Term::ElementRef(reference) = &particle.term {
            see(reference);
        }
    }
    schemas
        .elements
        .iter()
        .filter_map(|(_, element)| element.substitution_group.as_deref())
        .for_each(&mut see);
    let parts = contract.messages.iter().flat_map(|(_, message)| &message.parts);
    parts.filter_map(|part| part.element.as_ref()).for_each(see);
    let old = declared.name.local.to_string();
    let notes = path_notes(contract, &old);
    Ok((old, places, notes))
}

/// Identity constraints whose paths mention a name: whether they mean this element is for the author to say.
fn path_notes(contract: &Contract, name: &str) -> Vec<String> {
    let mentions = |path: &str| {
        path.split(|c: char| !(c.is_alphanumeric() || "-_.".contains(c))).any(|step| step == name)
    };
    let constraints = contract.schemas.constraints.iter().filter(|(_, constraint)| {
        let paths = constraint.selector.iter().chain(&constraint.fields);
        paths.into_iter().any(|path| mentions(&path.text))
    });
    constraints
        .map(|(_, constraint)| {
            format!(
                "the paths of \"{}\" mention \"{name}\": see whether they mean this element",
                constraint.name.local
            )
        })
        .collect()
}

//! Renames a component with every reference to it, in every file.

use charter_contract::{Component, Contract, Extension, ExtensionKind, HeaderExtension, OperationId, Side};
use charter_notation::{Convention, SideKind, convention};
use charter_schema::{Builtin, Owner};
use charter_source::{Place, QName, Span, TextEdit, is_ncname};

use crate::change::{Change, checked_change};
use crate::editing::Editing;
use crate::failure::EditFailure;
use crate::uses::{Uses, declaration};

/// How a component is to be renamed.
#[derive(Debug, Clone, Copy)]
pub struct Renaming<'r> {
    /// Its new name.
    pub name: &'r str,
    /// Whether what is named after it by convention keeps its name.
    pub only: bool,
}

/// The change that gives a component another name, with every reference to it.
///
/// With an operation or a fault go the messages, elements and actions that are named after it by convention.
///
/// ```
/// use charter_author::{Editing, Renaming, rename};
/// use charter_contract::Contract;
/// use charter_notation::Convention;
/// use charter_source::{Limits, Location, Overlay};
///
/// let text = r#"<x:schema xmlns:x="http://www.w3.org/2001/XMLSchema"><x:simpleType name="Quay"><x:restriction base="x:string"/></x:simpleType><x:element name="quay" type="Quay"/></x:schema>"#;
/// let store = Overlay::of(&[("port.xsd", text)]);
/// let contract = Contract::load(&store, &Location::from_argument("port.xsd"), Limits::default())?;
/// let convention = Convention::default();
/// let editing = Editing::of(&contract, &store, &convention);
/// let renaming = Renaming { name: "Wharf", only: false };
/// let change = rename(editing, contract.find("type/Quay").unwrap(), renaming).unwrap();
/// assert_eq!(change.files[0].after.text(), text.replace("\"Quay\"", "\"Wharf\""));
/// # Ok::<(), charter_source::ReadError>(())
/// ```
///
/// # Errors
/// If the component cannot be renamed, the name is no name or taken, or the result would have faults that the
/// contract did not have.
pub fn rename(
    editing: Editing<'_>,
    component: Component,
    renaming: Renaming<'_>,
) -> Result<Change, EditFailure> {
    let (contract, name) = (editing.contract, renaming.name);
    if !is_ncname(name) {
        return Err(EditFailure::Name(name.to_owned()));
    }
    let path = contract.path(component);
    if contract.is_built_in(component) {
        return Err(EditFailure::Unsupported(format!(
            "\"{path}\" comes with the program and cannot be renamed"
        )));
    }
    let mut found = Renames {
        contract,
        convention: editing.convention,
        uses: Uses::of(contract),
        edits: Vec::new(),
        notes: Vec::new(),
    };
    let old = found.old_name(component)?;
    if old == name {
        return Err(EditFailure::Unsupported(format!("it is named \"{name}\" already")));
    }
    found.component(component, &old, name)?;
    match component {
        Component::Operation(id) => found.after_operation(id, &old, renaming)?,
        Component::OperationSide(id, Side::Fault(index)) => found.after_fault(id, index, &old, renaming)?,
        _ => {}
    }
    let Renames { edits, notes, .. } = found;
    let after = renamed_path(path.as_str(), &old, name);
    checked_change(editing, edits, notes, &|result| match result.find(&after) {
        Ok(found) if std::mem::discriminant(&found) == std::mem::discriminant(&component) => Ok(()),
        Ok(_) => Err(EditFailure::Harm(format!("\"{after}\" would be something else"))),
        // The new name may be shared with another component, so that the path alone does not tell them apart.
        Err(charter_contract::PathError::Ambiguous { .. }) => Ok(()),
        Err(error) => Err(EditFailure::Path(error)),
    })
}

/// The path of the component after it was renamed.
fn renamed_path(path: &str, old: &str, new: &str) -> String {
    let Some(at) = path.rfind(old) else { return path.to_owned() };
    // A bare name is enough where the old one needed its namespace, if the new one is unlike all others.
    format!("{}{new}", &path[..at])
}

/// The edits of a rename, as they are found.
struct Renames<'c> {
    contract: &'c Contract,
    convention: &'c Convention,
    uses: Uses,
    edits: Vec<TextEdit>,
    notes: Vec<String>,
}

impl Renames<'_> {
    fn old_name(&self, component: Component) -> Result<String, EditFailure> {
        let contract = self.contract;
        let schemas = &contract.schemas;
        let found = match component {
            Component::Message(id) => Some(contract.messages[id].name.local.to_string()),
            Component::Part(id, index) => Some(contract.messages[id].parts[index].name.text.to_string()),
            Component::PortType(id) => Some(contract.port_types[id].name.local.to_string()),
            Component::Operation(id) => Some(contract.operation(id).name.text.to_string()),
            Component::OperationSide(id, Side::Fault(index)) => {
                contract.operation(id).faults[index].name.as_ref().map(|name| name.text.to_string())
            }
            Component::Binding(id) => Some(contract.bindings[id].name.local.to_string()),
            Component::Service(id) => Some(contract.services[id].name.local.to_string()),
            Component::Port(id) => Some(contract.port(id).name.text.to_string()),
            Component::Type(id) if Builtin::from_id(id).is_none() => {
                schemas.types[id].name.as_ref().map(|name| name.local.to_string())
            }
            Component::Element(id) => Some(schemas.elements[id].name.local.to_string()),
            Component::ElementUse(id) => {
                let id = schemas.particle_element(id);
                id.map(|id| schemas.elements[id].name.local.to_string())
            }
            Component::Attribute(id) => Some(schemas.attribute_decls[id].name.local.to_string()),
            Component::Group(id) => Some(schemas.groups[id].name.local.to_string()),
            Component::AttributeGroup(id) => Some(schemas.attribute_groups[id].name.local.to_string()),
            _ => None,
        };
        found.ok_or_else(|| {
            let path = contract.path(component);
            EditFailure::Unsupported(format!("\"{path}\" has no name of its own to change"))
        })
    }

    /// A place that holds a name. One written with a character reference, or by an entity, is not where it seems to be.
    fn replace(&mut self, place: Place, old: &str, new: &str) -> Result<(), EditFailure> {
        if self.contract.files.slice(place).trim() != old {
            return Err(EditFailure::Disguised(place));
        }
        self.edits.push(TextEdit { place, replacement: new.to_owned() });
        Ok(())
    }

    /// A component and every reference to it.
    fn component(&mut self, component: Component, old: &str, new: &str) -> Result<(), EditFailure> {
        self.free(component, new)?;
        let component = match component {
            Component::ElementUse(id) => match self.contract.schemas.particle_element(id) {
                Some(element) => Component::Element(element),
                None => component,
            },
            other => other,
        };
        if let Some(place) = declaration(self.contract, component) {
            self.replace(place, old, new)?;
            for place in self.uses.of_declaration(place).to_vec() {
                self.replace(place, old, new)?;
            }
        }
        let contract = self.contract;
        match component {
            Component::Operation(id) => self.operation(id, old, new)?,
            Component::OperationSide(id, Side::Fault(index)) => self.fault(id, index, old, new)?,
            Component::Service(id) => self.replace(contract.services[id].place, old, new)?,
            Component::Port(id) => self.replace(contract.port(id).name.place, old, new)?,
            Component::Part(id, index) => self.part(id, index, old, new)?,
            Component::Element(_) | Component::Attribute(_) => self.notes.extend(path_notes(contract, old)),
            _ => {}
        }
        Ok(())
    }

    /// Whether a name is still free.
    fn free(&self, component: Component, name: &str) -> Result<(), EditFailure> {
        let contract = self.contract;
        let schemas = &contract.schemas;
        let beside = |namespace: &str| QName::new(namespace, name);
        let (taken, what) = match component {
            Component::Message(id) => (
                contract.message_named(&beside(&contract.messages[id].name.namespace)).is_some(),
                "a message",
            ),
            Component::Part(id, _) => {
                (contract.messages[id].parts.iter().any(|part| *part.name.text == *name), "a part")
            }
            Component::PortType(id) => {
                let wanted = beside(&contract.port_types[id].name.namespace);
                (contract.port_types.iter().any(|(_, it)| it.name == wanted), "a port type")
            }
            Component::Operation(id) => {
                let port_type = &contract.port_types[id.port_type];
                (port_type.operations.iter().any(|it| *it.name.text == *name), "an operation")
            }
            Component::OperationSide(id, _) => {
                let faults = &contract.operation(id).faults;
                (faults.iter().any(|it| it.name.as_ref().is_some_and(|it| *it.text == *name)), "a fault")
            }
            Component::Binding(id) => {
                let wanted = beside(&contract.bindings[id].name.namespace);
                (contract.bindings.iter().any(|(_, it)| it.name == wanted), "a binding")
            }
            Component::Service(id) => {
                let wanted = beside(&contract.services[id].name.namespace);
                (contract.services.iter().any(|(_, it)| it.name == wanted), "a service")
            }
            Component::Port(id) => {
                (contract.services[id.service].ports.iter().any(|it| *it.name.text == *name), "a port")
            }
            Component::Type(id) => {
                let namespace = schemas.types[id].name.as_ref().map_or("", |name| &name.namespace);
                (schemas.type_named(&beside(namespace)).is_some(), "a type")
            }
            Component::Element(id) => {
                let element = &schemas.elements[id];
                let wanted = beside(&element.name.namespace);
                (element.owner == Owner::Schema && schemas.element_named(&wanted).is_some(), "an element")
            }
            Component::Attribute(id) => {
                let attribute = &schemas.attribute_decls[id];
                let wanted = beside(&attribute.name.namespace);
                (
                    attribute.owner == Owner::Schema && schemas.attribute_named(&wanted).is_some(),
                    "an attribute",
                )
            }
            Component::Group(id) => {
                (schemas.group_named(&beside(&schemas.groups[id].name.namespace)).is_some(), "a group")
            }
            Component::AttributeGroup(id) => {
                let wanted = beside(&schemas.attribute_groups[id].name.namespace);
                (schemas.attribute_group_named(&wanted).is_some(), "an attribute group")
            }
            _ => (false, ""),
        };
        if taken { Err(EditFailure::Taken(format!("{what} \"{name}\""))) } else { Ok(()) }
    }

    fn operation(&mut self, id: OperationId, old: &str, new: &str) -> Result<(), EditFailure> {
        let contract = self.contract;
        self.replace(contract.operation(id).name.place, old, new)?;
        for (_, binding) in
            contract.bindings.iter().filter(|(_, it)| it.port_type.target == Some(id.port_type))
        {
            for bound in binding.operations.iter().filter(|bound| bound.operation == Some(id.index)) {
                self.replace(bound.name.place, old, new)?;
            }
        }
        Ok(())
    }

    /// A fault: in the operation, in its bindings, and in their extension elements.
    fn fault(&mut self, id: OperationId, index: usize, old: &str, new: &str) -> Result<(), EditFailure> {
        let contract = self.contract;
        if let Some(name) = &contract.operation(id).faults[index].name {
            self.replace(name.place, old, new)?;
        }
        for (_, binding) in
            contract.bindings.iter().filter(|(_, it)| it.port_type.target == Some(id.port_type))
        {
            let bound = binding.operations.iter().filter(|bound| bound.operation == Some(id.index));
            for fault in bound.flat_map(|bound| &bound.faults) {
                let own = fault.name.iter().filter(|name| *name.text == *old);
                let said = fault.extensions.iter().filter_map(|extension| match &extension.kind {
                    ExtensionKind::SoapFault(fault) => fault.name.as_ref().filter(|name| *name.text == *old),
                    _ => None,
                });
                for place in own.chain(said).map(|name| name.place).collect::<Vec<_>>() {
                    self.replace(place, old, new)?;
                }
            }
        }
        Ok(())
    }

    /// A part: in its message, in the order of parameters, and in everything that bindings say of it.
    fn part(
        &mut self,
        id: charter_contract::MessageId,
        index: usize,
        old: &str,
        new: &str,
    ) -> Result<(), EditFailure> {
        let contract = self.contract;
        self.replace(contract.messages[id].parts[index].name.place, old, new)?;
        for (operation_id, operation) in contract.operations() {
            let sides = operation.sides().filter(|(_, usage)| usage.message.target == Some(id));
            let sides: Vec<Side> = sides.map(|(side, _)| side).collect();
            if sides.is_empty() {
                continue;
            }
            for label in operation.parameter_order.iter().filter(|label| *label.text == *old) {
                self.replace(label.place, old, new)?;
            }
            for bound in contract.bound(operation_id) {
                for side in sides.iter().filter_map(|side| bound.operation.side(*side)) {
                    self.part_in(&side.extensions, old, new)?;
                }
            }
        }
        for (_, binding) in contract.bindings.iter() {
            for side in binding.operations.iter().flat_map(|bound| bound.sides()) {
                for extension in &side.1.extensions {
                    if let ExtensionKind::SoapHeader(header) = &extension.kind {
                        self.header_part(header, id, old, new)?;
                    }
                }
            }
        }
        Ok(())
    }

    fn part_in(&mut self, extensions: &[Extension], old: &str, new: &str) -> Result<(), EditFailure> {
        for extension in extensions {
            let labels = match &extension.kind {
                ExtensionKind::SoapBody(body) => body.parts.iter().flatten().collect(),
                ExtensionKind::MimeContent { part, .. } | ExtensionKind::MimeXml { part } => {
                    part.iter().collect::<Vec<_>>()
                }
                ExtensionKind::MimeMultipart(parts) => {
                    for part in parts {
                        self.part_in(&part.extensions, old, new)?;
                    }
                    Vec::new()
                }
                _ => Vec::new(),
            };
            for label in labels.into_iter().filter(|label| *label.text == *old) {
                self.replace(label.place, old, new)?;
            }
        }
        Ok(())
    }

    fn header_part(
        &mut self,
        header: &HeaderExtension,
        id: charter_contract::MessageId,
        old: &str,
        new: &str,
    ) -> Result<(), EditFailure> {
        if header.message.target == Some(id)
            && let Some(part) = header.part.as_ref().filter(|part| *part.text == *old)
        {
            self.replace(part.place, old, new)?;
        }
        for fault in &header.faults {
            self.header_part(fault, id, old, new)?;
        }
        Ok(())
    }

    /// What is named after an operation by convention: messages, elements, actions.
    fn after_operation(
        &mut self,
        id: OperationId,
        old: &str,
        renaming: Renaming<'_>,
    ) -> Result<(), EditFailure> {
        let operation = self.contract.operation(id);
        let sides = [(SideKind::Input, &operation.input), (SideKind::Output, &operation.output)];
        let mut kept = Vec::new();
        for (side, usage) in sides {
            if let Some(usage) = usage {
                self.after_side(usage, side, old, renaming, &mut kept)?;
            }
        }
        self.actions(id, old, renaming)?;
        self.tell(old, &kept);
        Ok(())
    }

    fn after_fault(
        &mut self,
        id: OperationId,
        index: usize,
        old: &str,
        renaming: Renaming<'_>,
    ) -> Result<(), EditFailure> {
        let mut kept = Vec::new();
        self.after_side(
            &self.contract.operation(id).faults[index],
            SideKind::Fault,
            old,
            renaming,
            &mut kept,
        )?;
        self.tell(old, &kept);
        Ok(())
    }

    fn tell(&mut self, old: &str, kept: &[String]) {
        if !kept.is_empty() {
            self.notes.push(format!("still named after \"{old}\": {}", kept.join(", ")));
        }
    }

    /// The message of a side and the element in it, if they are named after the operation or the fault, and belong to
    /// it alone.
    fn after_side(
        &mut self,
        usage: &charter_contract::MessageUse,
        side: SideKind,
        old: &str,
        renaming: Renaming<'_>,
        kept: &mut Vec<String>,
    ) -> Result<(), EditFailure> {
        let contract = self.contract;
        let convention = self.convention;
        let Some(message) = usage.message.target else { return Ok(()) };
        if *contract.messages[message].name.local == convention.message(old, side) {
            let component = Component::Message(message);
            let alone = self.uses.of_component(contract, component).len() == 1;
            let new = convention.message(renaming.name, side);
            self.follow(component, &convention.message(old, side), &new, alone && !renaming.only, kept)?;
        }
        for part in &contract.messages[message].parts {
            let Some(element) = part.element.as_ref().and_then(|element| element.target) else { continue };
            if *contract.schemas.elements[element].name.local == convention.element(old, side) {
                let component = Component::Element(element);
                let alone = self.uses.of_component(contract, component).len() == 1;
                let new = convention.element(renaming.name, side);
                self.follow(component, &convention.element(old, side), &new, alone && !renaming.only, kept)?;
            }
        }
        Ok(())
    }

    fn follow(
        &mut self,
        component: Component,
        old: &str,
        new: &str,
        goes: bool,
        kept: &mut Vec<String>,
    ) -> Result<(), EditFailure> {
        if !goes {
            kept.push(self.contract.path(component).to_string());
            return Ok(());
        }
        if old == new { Ok(()) } else { self.component(component, old, new) }
    }

    /// The actions, and the paths of HTTP, that follow from the name of an operation.
    fn actions(&mut self, id: OperationId, old: &str, renaming: Renaming<'_>) -> Result<(), EditFailure> {
        let contract = self.contract;
        let mut stays = None;
        for (_, binding) in
            contract.bindings.iter().filter(|(_, it)| it.port_type.target == Some(id.port_type))
        {
            let bound = binding.operations.iter().filter(|bound| bound.operation == Some(id.index));
            for extension in bound.flat_map(|bound| &bound.extensions) {
                let (label, followed, new) = match &extension.kind {
                    ExtensionKind::SoapOperation { action: Some(action), .. } => (
                        action,
                        convention::action(&binding.name.namespace, old),
                        convention::action(&binding.name.namespace, renaming.name),
                    ),
                    ExtensionKind::HttpOperation { location: Some(location) } => {
                        (location, format!("/{old}"), format!("/{}", renaming.name))
                    }
                    _ => continue,
                };
                if *label.text == *followed && !renaming.only {
                    self.replace(whole_value(contract, label.place), &followed, &new)?;
                } else if label.text.contains(old) {
                    stays = Some(label.text.to_string());
                }
            }
        }
        self.notes
            .extend(stays.map(|action| format!("the action stays \"{action}\", so consumers go on working")));
        Ok(())
    }
}

/// The whole value of an attribute, where a label may be only a part of it.
fn whole_value(contract: &Contract, place: Place) -> Place {
    let text = contract.files.get(place.file).text().content();
    let before = &text[..place.span.start as usize];
    let start = before.rfind(['"', '\'']).map_or(place.span.start as usize, |at| at + 1);
    Place { file: place.file, span: Span::new(start, place.span.end as usize) }
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

//! One component of a contract, as text to be changed and read again.

use charter_contract::{Component, Contract};
use charter_source::{Map, QName};

use crate::bound::{BodyParts, Departure, Headers, Protocol, bound_operation};
use crate::convention::Convention;
use crate::gather::{Gathering, in_order};
use crate::info::{Child, ElementInfo};
use crate::parse::bindings::{BoundReading, binding, bound_alone, port, service};
use crate::parse::cursor::{Cursor, NotationError, Parsed};
use crate::parse::operations::{Around, Listed, Made, OperationReading, message, operation, part, side};
use crate::parse::particles::{Local, attribute, particle_with_constraints};
use crate::parse::schema::SchemaReading;
use crate::parse::{contract, verbatim};
use crate::prefixes::Prefixes;
use crate::view::View;

/// A component, or the whole contract, that is about to be changed.
pub struct Piece<'c> {
    contract: &'c Contract,
    component: Component,
    convention: &'c Convention,
    prefixes: Prefixes,
    actual: ElementInfo,
}

impl<'c> Piece<'c> {
    /// The piece that a component is; `None` if it cannot be changed by itself.
    pub fn of(contract: &'c Contract, component: Component, convention: &'c Convention) -> Option<Piece<'c>> {
        let mut gathering = Gathering::new(contract);
        let mut prefixes = Prefixes::of(contract);
        let place = contract.extent_in_schema(component);
        let actual = match component {
            _ if contract.is_local(component) => gathering.at(place?)?,
            Component::Part(id, index) => gathering.at(contract.messages[id].parts[index].extent)?,
            _ => gathering.component(component)?,
        };
        if let Some(document) = place.and_then(|place| contract.schemas.document_of(place)) {
            prefixes.own = document.namespace.to_string();
        } else if let Some(target) = actual.text("targetNamespace") {
            prefixes.own = target.to_owned();
        }
        Some(Piece { contract, component, convention, prefixes, actual })
    }

    /// The element info that it has in the files.
    pub fn actual(&self) -> &ElementInfo {
        &self.actual
    }

    /// The prefixes that its notation uses.
    pub fn prefixes(&self) -> &Prefixes {
        &self.prefixes
    }

    /// Its notation.
    pub fn text(&self) -> String {
        crate::component(self.contract, self.component, self.convention)
    }

    /// The element info that a text gives to the same part of the contract.
    ///
    /// # Errors
    /// Everything that the notation does not allow, in the order of the text.
    pub fn read(&self, text: &str) -> Result<ElementInfo, Vec<NotationError>> {
        let mut cursor = Cursor::new(text, self.prefixes.clone());
        let read = self.parse(&mut cursor);
        if read.is_ok() && !cursor.at_end() {
            cursor.expected("nothing more");
        }
        let mut errors = cursor.errors;
        match read {
            Ok(info) if errors.is_empty() => Ok(info),
            _ => {
                errors.sort_by_key(|error| error.span);
                errors.dedup();
                Err(errors)
            }
        }
    }

    /// The settings of the schema around it.
    fn local(&self) -> Local {
        let place = self.contract.extent_in_schema(self.component);
        let schemas = &self.contract.schemas;
        let document = match place {
            Some(place) => schemas.document_of(place),
            None => schemas.documents.iter().find(|document| *document.namespace == *self.prefixes.own),
        };
        let first =
            document.and_then(|it| schemas.documents.iter().find(|first| first.namespace == it.namespace));
        Local {
            qualified: first.map_or((true, false), |it| (it.elements_qualified, it.attributes_qualified)),
        }
    }

    fn parse(&self, cursor: &mut Cursor<'_>) -> Parsed<ElementInfo> {
        cursor.space();
        match self.component {
            Component::Contract => contract::file(cursor, self.convention),
            _ if self.contract.is_local(self.component) => match self.component {
                Component::Attribute(_) if !verbatim::is_next(cursor) => attribute(cursor),
                _ => particle_with_constraints(cursor, self.local()),
            },
            Component::Type(_)
            | Component::Element(_)
            | Component::ElementUse(_)
            | Component::Attribute(_)
            | Component::Group(_)
            | Component::AttributeGroup(_) => self.globals(cursor),
            Component::Part(..) => part(cursor),
            Component::Message(_) => {
                let info = verbatim_or(cursor, message)?;
                Ok(self.head().holding(info))
            }
            Component::Operation(_) | Component::OperationSide(..) | Component::PortType(_) => {
                self.operations(cursor)
            }
            Component::Binding(_) => self.binding(cursor),
            Component::BindingOperation(..) | Component::BindingSide(..) => self.bound(cursor),
            Component::Service(_) => {
                let whole = self.service(cursor)?;
                Ok(self.head().holding(whole))
            }
            Component::Port(_) => {
                let port = port(cursor)?;
                let name = self.actual.elements().find(|it| it.is_wsdl("service"));
                let mut whole = name.map_or_else(|| ElementInfo::wsdl("service"), without_children);
                let protocol = self.protocol_of(&port.binding);
                whole.push(port.complete(protocol.as_ref(), cursor));
                Ok(self.head().holding(whole))
            }
        }
    }

    /// The definitions around it, without their content.
    fn head(&self) -> ElementInfo {
        without_children(&self.actual)
    }

    /// Global components of one schema.
    fn globals(&self, cursor: &mut Cursor<'_>) -> Parsed<ElementInfo> {
        let mut reading = SchemaReading::new(&self.prefixes.own);
        reading.local = self.local();
        items(cursor, |cursor| reading.item(cursor));
        let mut whole = self.actual.clone();
        let schema = schema_of(&mut whole);
        if let Some(schema) = schema {
            schema.children = reading.info.children;
        }
        Ok(whole)
    }

    /// An operation, one of its sides, or a port type with all of them.
    fn operations(&self, cursor: &mut Cursor<'_>) -> Parsed<ElementInfo> {
        let around =
            Around { convention: self.convention, target: &self.prefixes.own.clone(), local: self.local() };
        let mut made = Made::default();
        let actual = self.actual.elements().find(|it| it.is_wsdl("portType"));
        let mut port_type = actual.map_or_else(|| ElementInfo::wsdl("portType"), without_children);
        let mut operations: Vec<OperationReading> = Vec::new();
        match self.component {
            Component::PortType(_) => {
                (port_type, operations) = contract::port_type_alone(cursor, &around, &mut made)?;
            }
            Component::OperationSide(id, _) => {
                let name = &self.contract.operation(id).name.text;
                let read = side(cursor, &around, name)?;
                read.message.into_iter().for_each(|info| made.messages.push(info, read.span));
                read.element.into_iter().for_each(|info| made.elements.push(info, read.span));
                let info = ElementInfo::wsdl("operation").with("name", &**name).holding(read.usage);
                port_type.push(info);
            }
            _ if verbatim::is_next(cursor) => {
                let info = verbatim::xml(cursor, (true, false))?;
                operations.push(OperationReading {
                    info,
                    headers: Headers::default(),
                    parts: BodyParts::default(),
                });
            }
            _ => operations.push(operation(cursor, &around, &mut made)?),
        }
        Ok(self.assembled(port_type, operations, made))
    }

    /// The parts of a contract that operations are made of, with the bindings that follow from them.
    fn assembled(
        &self,
        mut port_type: ElementInfo,
        operations: Vec<OperationReading>,
        made: Made,
    ) -> ElementInfo {
        let mut whole = self.head();
        if let Some(types) = with_elements(&self.actual, &self.prefixes.own, made.elements) {
            whole.push(types);
        }
        whole.children.extend(made.messages.infos().map(Child::Element));
        for binding in self.actual.elements().filter(|it| it.is_wsdl("binding")) {
            let protocol = Protocol::of(binding);
            let mut info = without_operations(binding);
            for operation in &operations {
                info.push(bound_operation(
                    &protocol,
                    &operation.info,
                    &operation.headers,
                    &operation.parts,
                    &Departure::default(),
                    &self.prefixes.own,
                ));
            }
            whole.push(info);
        }
        port_type.children.extend(operations.into_iter().map(|operation| Child::Element(operation.info)));
        whole.push(port_type);
        in_order(&mut whole);
        whole
    }

    /// The operations of the contract as their bindings see them.
    pub(crate) fn bound_operations(&self, port_type: &QName) -> Vec<OperationReading> {
        let view = View::new(&self.actual, self.convention);
        let own = view.port_types.iter().find(|it| it.text("name") == Some(&port_type.local));
        let operations = own.into_iter().flat_map(|it| it.elements()).filter(|it| it.is_wsdl("operation"));
        operations
            .map(|operation| {
                let (headers, parts) = view.headers(&port_type.local, operation);
                OperationReading { info: operation.clone(), headers, parts }
            })
            .collect()
    }

    fn first_port_type(&self) -> QName {
        let first = self.contract.port_types.iter().next();
        first.map_or_else(|| QName::new(&self.prefixes.own, ""), |(_, first)| first.name.clone())
    }

    fn binding(&self, cursor: &mut Cursor<'_>) -> Parsed<ElementInfo> {
        if verbatim::is_next(cursor) {
            let info = verbatim::xml(cursor, (true, false))?;
            return Ok(self.head().holding(info));
        }
        let mut reading = binding(cursor)?;
        let port_type = reading.port_type.clone().unwrap_or_else(|| self.first_port_type());
        reading.info = reading.info.naming("type", &port_type);
        let operations = self.bound_operations(&port_type);
        let info = reading.complete(&operations, &self.prefixes.own, cursor);
        Ok(self.head().holding(info))
    }

    fn bound(&self, cursor: &mut Cursor<'_>) -> Parsed<ElementInfo> {
        let (id, index) = match self.component {
            Component::BindingOperation(id, index) | Component::BindingSide(id, index, _) => (id, index),
            _ => return Err(cursor.expected("an operation of a binding")),
        };
        let definition = &self.contract.bindings[id];
        let name = &definition.operations[index].name.text;
        let actual = self
            .actual
            .elements()
            .find(|it| it.is_wsdl("binding") && it.text("name") == Some(&definition.name.local));
        let Some(actual) = actual else { return Err(cursor.expected("an operation of a binding")) };
        let protocol = Protocol::of(actual);
        let read: BoundReading = bound_alone(cursor, &protocol)?;
        if read.name != **name {
            let message = format!("this is not the operation \"{name}\"");
            return Err(cursor.fail(
                read.span,
                message,
                Some("an operation is renamed by charter rename".to_owned()),
            ));
        }
        let port_type =
            definition.port_type.name.as_deref().cloned().unwrap_or_else(|| self.first_port_type());
        let operations = self.bound_operations(&port_type);
        let own = operations.iter().find(|operation| operation.info.text("name") == Some(name));
        let whole = crate::parse::bindings::bound_info(&protocol, own, read, &self.prefixes.own);
        Ok(self.head().holding(without_operations(actual).holding(whole)))
    }

    pub(crate) fn protocol_of(&self, binding: &QName) -> Option<Protocol> {
        let bindings: Map<QName, &ElementInfo> = self
            .actual
            .elements()
            .filter(|it| it.is_wsdl("binding"))
            .filter_map(|it| Some((QName::new(&self.prefixes.own, it.text("name")?), it)))
            .collect();
        if let Some(info) = bindings.get(binding) {
            return Some(Protocol::of(info));
        }
        let found = self.contract.bindings.iter().find(|(_, it)| it.name == *binding)?;
        let info = Gathering::new(self.contract).component(Component::Binding(found.0))?;
        let own =
            info.elements().find(|it| it.is_wsdl("binding") && it.text("name") == Some(&binding.local))?;
        Some(Protocol::of(own))
    }

    fn service(&self, cursor: &mut Cursor<'_>) -> Parsed<ElementInfo> {
        if verbatim::is_next(cursor) {
            return verbatim::xml(cursor, (true, false));
        }
        let read = service(cursor)?;
        let mut whole = read.info;
        for port in read.ports {
            let protocol = self.protocol_of(&port.binding);
            whole.push(port.complete(protocol.as_ref(), cursor));
        }
        Ok(whole)
    }
}

fn verbatim_or(
    cursor: &mut Cursor<'_>,
    read: impl Fn(&mut Cursor<'_>) -> Parsed<ElementInfo>,
) -> Parsed<ElementInfo> {
    if verbatim::is_next(cursor) { verbatim::xml(cursor, (true, false)) } else { read(cursor) }
}

/// Items one after the other, up to the end of the text.
pub(crate) fn items(cursor: &mut Cursor<'_>, mut item: impl FnMut(&mut Cursor<'_>) -> Parsed<()>) {
    while !cursor.at_end() {
        let before = cursor.at;
        if item(cursor).is_err() || !cursor.item_end() {
            cursor.recover();
            if cursor.at == before || cursor.peek() == Some('}') {
                cursor.at += cursor.peek().map_or(0, char::len_utf8);
            }
        }
    }
}

pub(crate) fn without_children(info: &ElementInfo) -> ElementInfo {
    ElementInfo {
        name: info.name.clone(),
        attributes: info.attributes.clone(),
        children: Vec::new(),
        origin: info.origin,
        prefixes: info.prefixes.clone(),
    }
}

fn without_operations(info: &ElementInfo) -> ElementInfo {
    let mut info = info.clone();
    info.children.retain(|child| !matches!(child, Child::Element(inner) if inner.is_wsdl("operation")));
    info
}

/// The first schema in a part of a contract.
fn schema_of(whole: &mut ElementInfo) -> Option<&mut ElementInfo> {
    if whole.is_wsdl("types") {
        return whole.elements_mut().find(|it| it.is_xsd("schema"));
    }
    let types = whole.elements_mut().find(|it| it.is_wsdl("types"))?;
    types.elements_mut().find(|it| it.is_xsd("schema"))
}

/// Elements in the schema of a contract's own namespace.
fn with_elements(actual: &ElementInfo, own: &str, elements: Listed) -> Option<ElementInfo> {
    let elements: Vec<Child> = elements.infos().map(Child::Element).collect();
    if elements.is_empty() {
        return None;
    }
    let types = actual.elements().find(|it| it.is_wsdl("types"));
    let schema = types.and_then(|types| {
        types.elements().find(|it| it.is_xsd("schema") && it.text("targetNamespace").unwrap_or("") == own)
    });
    let mut schema = schema.map_or_else(|| SchemaReading::new(own).info, without_children);
    schema.children = elements;
    Some(ElementInfo::wsdl("types").holding(schema))
}

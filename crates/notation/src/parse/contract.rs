//! Reads a whole contract.

use charter_source::{QName, Span, ns};

use super::bindings::{BindingReading, ServiceReading, binding, service};
use super::cursor::{Cursor, Parsed};
use super::operations::{Around, Made, OperationReading, message, operation};
use super::schema::{SchemaReading, is_schema_item, schema};
use super::{About, abouts, document, is_about, verbatim, with};
use crate::bound::{BodyParts, Headers, Protocol};
use crate::convention::Convention;
use crate::gather::in_order;
use crate::info::{Child, ElementInfo, Value};
use crate::view::stem;

/// A port type as it is read.
struct PortTypeReading {
    info: ElementInfo,
    operations: Vec<OperationReading>,
}

/// A contract as it is read.
struct ContractParser<'a> {
    convention: &'a Convention,
    head: ElementInfo,
    target: String,
    own: SchemaReading,
    schemas: Vec<ElementInfo>,
    made: Made,
    /// Messages that stand by themselves.
    messages: Vec<ElementInfo>,
    /// The operations that stand right in the contract.
    loose: Vec<OperationReading>,
    port_types: Vec<PortTypeReading>,
    bindings: Vec<BindingReading>,
    services: Vec<ServiceReading>,
    others: Vec<ElementInfo>,
}

/// What a text of the notation holds at its outermost: contracts or schemas.
pub(crate) fn file(cursor: &mut Cursor<'_>, convention: &Convention) -> Parsed<ElementInfo> {
    let mut types = ElementInfo::wsdl("types");
    let mut found = None;
    while !cursor.at_end() {
        let before = cursor.at;
        let done = match cursor.word() {
            Some("prefix") => prefix(cursor),
            Some("contract") if found.is_none() && types.children.is_empty() => {
                contract(cursor, convention).map(|info| found = Some(info))
            }
            Some("xml") if found.is_none() && verbatim::is_next(cursor) => {
                verbatim::xml(cursor, (true, false)).map(|info| {
                    if info.is_wsdl("definitions") { found = Some(info) } else { types.push(info) }
                })
            }
            Some("schema") if found.is_none() => schema(cursor).map(|schema| types.push(schema.info)),
            _ if found.is_some() => {
                let span = Span::new(cursor.at, cursor.at + cursor.peek().map_or(0, char::len_utf8));
                let help = "put it into the contract, before its last }".to_owned();
                Err(cursor.fail(span, "nothing can stand behind the contract".to_owned(), Some(help)))
            }
            _ => Err(cursor.expected("contract, schema or prefix")),
        };
        if done.is_err() || !cursor.item_end() {
            cursor.recover();
            // A brace too many.
            if cursor.at == before || cursor.peek() == Some('}') {
                cursor.at += cursor.peek().map_or(0, char::len_utf8);
            }
        }
    }
    if found.is_none() && types.children.is_empty() && cursor.errors.is_empty() {
        return Err(
            cursor.expected("a contract, such as contract Pilotage \"urn:saltmere:pilotage:1\" { … }")
        );
    }
    Ok(found.unwrap_or(types))
}

pub(crate) fn prefix(cursor: &mut Cursor<'_>) -> Parsed<()> {
    cursor.keyword("prefix");
    let name = cursor.name("a prefix")?;
    cursor.expect("=")?;
    let start = cursor.at;
    let namespace = cursor.string("a namespace")?;
    if namespace.contains(['{', '}']) {
        let span = charter_source::Span::new(start, cursor.at);
        return Err(cursor.fail(span, "a namespace has no braces".to_owned(), None));
    }
    cursor.prefixes.declare(&name, &namespace);
    Ok(())
}

fn contract(cursor: &mut Cursor<'_>, convention: &Convention) -> Parsed<ElementInfo> {
    cursor.keyword("contract");
    let mut head = ElementInfo::wsdl("definitions");
    cursor.blanks();
    if cursor.word().is_some_and(|word| word != "with") || cursor.peek() == Some('`') {
        head = head.with("name", cursor.name("the name of the contract")?);
    }
    let mut target = String::new();
    if cursor.at_string() {
        target = cursor.string("the target namespace")?;
        head = head.with("targetNamespace", target.as_str());
    }
    with(cursor, &mut head)?;
    let outer = std::mem::replace(&mut cursor.prefixes.own, target.clone());
    let mut reading = ContractParser {
        convention,
        own: SchemaReading::new(&target),
        head,
        target,
        schemas: Vec::new(),
        made: Made::default(),
        messages: Vec::new(),
        loose: Vec::new(),
        port_types: Vec::new(),
        bindings: Vec::new(),
        services: Vec::new(),
        others: Vec::new(),
    };
    let done = cursor.block(|cursor| reading.item(cursor));
    let info = reading.complete(cursor);
    cursor.prefixes.own = outer;
    done?;
    Ok(info)
}

impl ContractParser<'_> {
    fn item(&mut self, cursor: &mut Cursor<'_>) -> Parsed<()> {
        match cursor.word() {
            Some("about") => document(&mut self.head, &abouts(cursor, "about")?),
            Some("prefix") => prefix(cursor)?,
            Some("with") => with(cursor, &mut self.head)?,
            Some("schema") => {
                let read = schema(cursor)?;
                // The contract's own namespace may have a block too, for what only a block can say.
                if read.info.text("targetNamespace").unwrap_or("") == self.target && self.own.is_empty() {
                    self.own = read;
                } else {
                    self.schemas.push(read.info);
                }
            }
            Some("message") => {
                let info = message(cursor)?;
                self.messages.push(info);
            }
            Some("operation") => {
                let read = self.operation(cursor)?;
                self.loose.push(read);
            }
            Some("port-type") => self.port_type(cursor)?,
            Some("binding") => self.bindings.push(binding(cursor)?),
            Some("service") => self.services.push(service(cursor)?),
            Some("contract") => {
                let nested = contract(cursor, self.convention)?;
                self.others.push(nested);
            }
            _ if verbatim::is_next(cursor) => {
                let info = verbatim::xml(cursor, self.own.local.qualified)?;
                self.verbatim(info);
            }
            _ if SchemaReading::accepts(cursor) => self.own.item(cursor)?,
            _ => {
                return Err(cursor.expected(
                    "about, prefix, type, element, attributes, group, schema, message, operation, port-type, binding or service",
                ));
            }
        }
        Ok(())
    }

    /// Puts what stands as XML where it belongs.
    fn verbatim(&mut self, info: ElementInfo) {
        match &*info.name.local {
            _ if info.is_wsdl("documentation") => document(&mut self.head, &[About::Xml(info)]),
            _ if is_schema_item(&info) => self.own.info.push(info),
            "schema" if info.is_xsd("schema") => self.schemas.push(info),
            _ if *info.name.namespace != *ns::WSDL => self.others.push(info),
            "operation" => self.loose.push(verbatim_operation(info)),
            "message" => self.messages.push(info),
            "portType" => self.port_types.push(PortTypeReading { info, operations: Vec::new() }),
            "binding" => self.bindings.push(BindingReading::verbatim(info)),
            "service" => self.services.push(ServiceReading { info, ports: Vec::new() }),
            _ => self.others.push(info),
        }
    }

    fn operation(&mut self, cursor: &mut Cursor<'_>) -> Parsed<OperationReading> {
        let around = Around { convention: self.convention, target: &self.target, local: self.own.local };
        operation(cursor, &around, &mut self.made)
    }

    fn port_type(&mut self, cursor: &mut Cursor<'_>) -> Parsed<()> {
        let around = Around { convention: self.convention, target: &self.target, local: self.own.local };
        let (info, operations) = port_type_alone(cursor, &around, &mut self.made)?;
        self.port_types.push(PortTypeReading { info, operations });
        Ok(())
    }

    /// Puts together what had to wait until everything was read.
    fn complete(mut self, cursor: &mut Cursor<'_>) -> ElementInfo {
        let mut info = self.head;
        // Elements of operations come behind the types that they are made of.
        self.own.info.children.extend(self.made.elements.infos().map(Child::Element));
        let mut types = ElementInfo::wsdl("types");
        if !self.own.is_empty() {
            types.push(self.own.info);
        }
        types.children.extend(self.schemas.into_iter().map(Child::Element));
        let mut others = Vec::new();
        for other in self.others {
            if other.is_wsdl("definitions") || *other.name.namespace != *ns::WSDL && !is_types_item(&other) {
                others.push(other);
            } else if is_types_item(&other) {
                types.push(other);
            } else {
                others.push(other);
            }
        }
        if !types.children.is_empty() {
            info.push(types);
        }
        info.children.extend(others.into_iter().map(Child::Element));
        info.children.extend(self.messages.into_iter().map(Child::Element));
        info.children.extend(self.made.messages.infos().map(Child::Element));
        let conventional =
            Convention::apply(&self.convention.port_type, &stem_of(&info, &self.port_types, &self.services));
        if !self.loose.is_empty() {
            let loose = PortTypeReading {
                info: ElementInfo::wsdl("portType").with("name", conventional),
                operations: self.loose,
            };
            self.port_types.insert(0, loose);
        }
        let first =
            self.port_types.first().and_then(|first| first.info.text("name")).unwrap_or("").to_owned();
        let mut bindings = Vec::new();
        let mut protocols: Vec<(QName, Protocol)> = Vec::new();
        for mut binding in self.bindings {
            let name = QName::new(&self.target, binding.info.text("name").unwrap_or(""));
            protocols.push((name, binding.protocol.clone()));
            let port_type = binding.port_type.clone().unwrap_or_else(|| QName::new(&self.target, &first));
            if !binding.whole {
                binding.info.set("type", Value::name(&port_type));
            }
            let bound = self.port_types.iter().find(|it| {
                *port_type.namespace == *self.target && it.info.text("name") == Some(&port_type.local)
            });
            let operations = bound.map_or(&[][..], |it| &it.operations);
            bindings.push(binding.complete(operations, &self.target, cursor));
        }
        for PortTypeReading { info: mut port_type, operations } in self.port_types {
            port_type.children.extend(operations.into_iter().map(|it| Child::Element(it.info)));
            info.push(port_type);
        }
        info.children.extend(bindings.into_iter().map(Child::Element));
        for service in self.services {
            let mut whole = service.info;
            for port in service.ports {
                let protocol =
                    protocols.iter().find(|(name, _)| *name == port.binding).map(|(_, protocol)| protocol);
                let port = port.complete(protocol, cursor);
                whole.push(port);
            }
            info.push(whole);
        }
        in_order(&mut info);
        info
    }
}

/// A port type, apart from its operations.
pub(crate) fn port_type_alone(
    cursor: &mut Cursor<'_>,
    around: &Around<'_>,
    made: &mut Made,
) -> Parsed<(ElementInfo, Vec<OperationReading>)> {
    cursor.keyword("port-type");
    let mut info = ElementInfo::wsdl("portType").with("name", cursor.name("the name of the port type")?);
    with(cursor, &mut info)?;
    let mut operations = Vec::new();
    cursor.block(|cursor| {
        match cursor.word() {
            Some("about") => document(&mut info, &abouts(cursor, "about")?),
            Some("operation") => operations.push(operation(cursor, around, made)?),
            _ if verbatim::is_next(cursor) => {
                let xml = verbatim::xml(cursor, (true, false))?;
                if is_about(&xml) {
                    document(&mut info, &[About::Xml(xml)]);
                } else if xml.is_wsdl("operation") {
                    operations.push(verbatim_operation(xml));
                } else {
                    info.push(xml);
                }
            }
            _ => return Err(cursor.expected("about, operation or xml")),
        }
        Ok(())
    })?;
    Ok((info, operations))
}

/// An operation that stands as XML: its bindings spell out everything.
fn verbatim_operation(info: ElementInfo) -> OperationReading {
    OperationReading { info, headers: Headers::default(), parts: BodyParts::default() }
}

/// Whether XML in a contract stands among its schemas: a schema of another language.
fn is_types_item(info: &ElementInfo) -> bool {
    matches!(&*info.name.local, "schema" | "grammar") && *info.name.namespace != *ns::WSDL
}

fn stem_of(info: &ElementInfo, port_types: &[PortTypeReading], services: &[ServiceReading]) -> String {
    let name = info.text("name");
    let port_type = port_types.first().and_then(|first| first.info.text("name"));
    let service = services.first().and_then(|first| first.info.text("name"));
    name.or(port_type).or(service).map_or_else(|| stem(info), str::to_owned)
}

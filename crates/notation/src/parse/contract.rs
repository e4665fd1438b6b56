//! Reads a whole contract.

use charter_source::{QName, Span, ns};

use super::bindings::{BindingReading, ServiceReading, binding, service};
use super::cursor::{Cursor, Parsed};
use super::operations::{Around, Made, OperationReading, message, operation};
use super::schema::{SchemaReading, is_schema_item, schema};
use super::{About, abouts, document, is_about, verbatim, with};
use crate::bound::{BodyParts, Headers, Protocol};
use crate::convention::Convention;
use crate::form::{Child, Form, Value};
use crate::gather::in_order;
use crate::view::stem;

/// A port type as it is read.
struct PortTypeReading {
    form: Form,
    operations: Vec<OperationReading>,
}

/// A contract as it is read.
struct Reading<'a> {
    convention: &'a Convention,
    head: Form,
    target: String,
    own: SchemaReading,
    schemas: Vec<Form>,
    made: Made,
    /// Messages that stand by themselves.
    messages: Vec<Form>,
    /// The operations that stand right in the contract.
    loose: Vec<OperationReading>,
    port_types: Vec<PortTypeReading>,
    bindings: Vec<BindingReading>,
    services: Vec<ServiceReading>,
    others: Vec<Form>,
}

/// What a text of the notation holds at its outermost: contracts or schemas.
pub(crate) fn file(cursor: &mut Cursor<'_>, convention: &Convention) -> Parsed<Form> {
    let mut types = Form::wsdl("types");
    let mut found = None;
    while !cursor.at_end() {
        let before = cursor.at;
        let done = match cursor.word() {
            Some("prefix") => prefix(cursor),
            Some("contract") if found.is_none() && types.children.is_empty() => {
                contract(cursor, convention).map(|form| found = Some(form))
            }
            Some("xml") if found.is_none() && verbatim::is_next(cursor) => {
                verbatim::xml(cursor, (true, false)).map(|form| {
                    if form.is_wsdl("definitions") { found = Some(form) } else { types.push(form) }
                })
            }
            Some("schema") if found.is_none() => schema(cursor).map(|schema| types.push(schema.form)),
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

fn contract(cursor: &mut Cursor<'_>, convention: &Convention) -> Parsed<Form> {
    cursor.keyword("contract");
    let mut head = Form::wsdl("definitions");
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
    let mut reading = Reading {
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
    let form = reading.complete(cursor);
    cursor.prefixes.own = outer;
    done?;
    Ok(form)
}

impl Reading<'_> {
    fn item(&mut self, cursor: &mut Cursor<'_>) -> Parsed<()> {
        match cursor.word() {
            Some("about") => document(&mut self.head, &abouts(cursor, "about")?),
            Some("prefix") => prefix(cursor)?,
            Some("with") => with(cursor, &mut self.head)?,
            Some("schema") => {
                let read = schema(cursor)?;
                // The contract's own namespace may have a block too, for what only a block can say.
                if read.form.text("targetNamespace").unwrap_or("") == self.target && self.own.is_empty() {
                    self.own = read;
                } else {
                    self.schemas.push(read.form);
                }
            }
            Some("message") => {
                let form = message(cursor)?;
                self.messages.push(form);
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
                let form = verbatim::xml(cursor, self.own.local.qualified)?;
                self.verbatim(form);
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
    fn verbatim(&mut self, form: Form) {
        match &*form.name.local {
            _ if form.is_wsdl("documentation") => document(&mut self.head, &[About::Xml(form)]),
            _ if is_schema_item(&form) => self.own.form.push(form),
            "schema" if form.is_xsd("schema") => self.schemas.push(form),
            _ if *form.name.namespace != *ns::WSDL => self.others.push(form),
            "operation" => self.loose.push(verbatim_operation(form)),
            "message" => self.messages.push(form),
            "portType" => self.port_types.push(PortTypeReading { form, operations: Vec::new() }),
            "binding" => self.bindings.push(BindingReading::verbatim(form)),
            "service" => self.services.push(ServiceReading { form, ports: Vec::new() }),
            _ => self.others.push(form),
        }
    }

    fn operation(&mut self, cursor: &mut Cursor<'_>) -> Parsed<OperationReading> {
        let around = Around { convention: self.convention, target: &self.target, local: self.own.local };
        operation(cursor, &around, &mut self.made)
    }

    fn port_type(&mut self, cursor: &mut Cursor<'_>) -> Parsed<()> {
        let around = Around { convention: self.convention, target: &self.target, local: self.own.local };
        let (form, operations) = port_type_alone(cursor, &around, &mut self.made)?;
        self.port_types.push(PortTypeReading { form, operations });
        Ok(())
    }

    /// Puts together what had to wait until everything was read.
    fn complete(mut self, cursor: &mut Cursor<'_>) -> Form {
        let mut form = self.head;
        // Elements of operations come behind the types that they are made of.
        self.own.form.children.extend(self.made.elements.forms().map(Child::Element));
        let mut types = Form::wsdl("types");
        if !self.own.is_empty() {
            types.push(self.own.form);
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
            form.push(types);
        }
        form.children.extend(others.into_iter().map(Child::Element));
        form.children.extend(self.messages.into_iter().map(Child::Element));
        form.children.extend(self.made.messages.forms().map(Child::Element));
        let conventional =
            Convention::apply(&self.convention.port_type, &stem_of(&form, &self.port_types, &self.services));
        if !self.loose.is_empty() {
            let loose = PortTypeReading {
                form: Form::wsdl("portType").with("name", conventional),
                operations: self.loose,
            };
            self.port_types.insert(0, loose);
        }
        let first =
            self.port_types.first().and_then(|first| first.form.text("name")).unwrap_or("").to_owned();
        let mut bindings = Vec::new();
        let mut protocols: Vec<(QName, Protocol)> = Vec::new();
        for mut binding in self.bindings {
            let name = QName::new(&self.target, binding.form.text("name").unwrap_or(""));
            protocols.push((name, binding.protocol.clone()));
            let port_type = binding.port_type.clone().unwrap_or_else(|| QName::new(&self.target, &first));
            if !binding.whole {
                binding.form.set("type", Value::name(&port_type));
            }
            let bound = self.port_types.iter().find(|it| {
                *port_type.namespace == *self.target && it.form.text("name") == Some(&port_type.local)
            });
            let operations = bound.map_or(&[][..], |it| &it.operations);
            bindings.push(binding.complete(operations, &self.target, cursor));
        }
        for PortTypeReading { form: mut port_type, operations } in self.port_types {
            port_type.children.extend(operations.into_iter().map(|it| Child::Element(it.form)));
            form.push(port_type);
        }
        form.children.extend(bindings.into_iter().map(Child::Element));
        for service in self.services {
            let mut whole = service.form;
            for port in service.ports {
                let protocol =
                    protocols.iter().find(|(name, _)| *name == port.binding).map(|(_, protocol)| protocol);
                let port = port.complete(protocol, cursor);
                whole.push(port);
            }
            form.push(whole);
        }
        in_order(&mut form);
        form
    }
}

/// A port type, apart from its operations.
pub(crate) fn port_type_alone(
    cursor: &mut Cursor<'_>,
    around: &Around<'_>,
    made: &mut Made,
) -> Parsed<(Form, Vec<OperationReading>)> {
    cursor.keyword("port-type");
    let mut form = Form::wsdl("portType").with("name", cursor.name("the name of the port type")?);
    with(cursor, &mut form)?;
    let mut operations = Vec::new();
    cursor.block(|cursor| {
        match cursor.word() {
            Some("about") => document(&mut form, &abouts(cursor, "about")?),
            Some("operation") => operations.push(operation(cursor, around, made)?),
            _ if verbatim::is_next(cursor) => {
                let xml = verbatim::xml(cursor, (true, false))?;
                if is_about(&xml) {
                    document(&mut form, &[About::Xml(xml)]);
                } else if xml.is_wsdl("operation") {
                    operations.push(verbatim_operation(xml));
                } else {
                    form.push(xml);
                }
            }
            _ => return Err(cursor.expected("about, operation or xml")),
        }
        Ok(())
    })?;
    Ok((form, operations))
}

/// An operation that stands as XML: its bindings spell out everything.
fn verbatim_operation(form: Form) -> OperationReading {
    OperationReading { form, headers: Headers::default(), parts: BodyParts::default() }
}

/// Whether XML in a contract stands among its schemas: a schema of another language.
fn is_types_item(form: &Form) -> bool {
    matches!(&*form.name.local, "schema" | "grammar") && *form.name.namespace != *ns::WSDL
}

fn stem_of(form: &Form, port_types: &[PortTypeReading], services: &[ServiceReading]) -> String {
    let name = form.text("name");
    let port_type = port_types.first().and_then(|first| first.form.text("name"));
    let service = services.first().and_then(|first| first.form.text("name"));
    name.or(port_type).or(service).map_or_else(|| stem(form), str::to_owned)
}

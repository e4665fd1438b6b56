//! Reads bindings and services.

use charter_source::{Map, QName, Span, ns};

use super::cursor::{Cursor, Parsed};
use super::{About, abouts, document, is_about, verbatim, with};
use crate::bound::{Departure, Protocol, Soap, bound_operation};
use crate::info::{Child, ElementInfo};
use crate::parse::operations::OperationReading;

/// A binding as it is read: its operations wait until those of the port type are known.
pub(crate) struct BindingReading {
    pub info: ElementInfo,
    pub protocol: Protocol,
    /// Nothing if it binds the first port type.
    pub port_type: Option<QName>,
    pub operations: Vec<BoundReading>,
    /// Whether it stands as XML, so that nothing is to be added.
    pub whole: bool,
}

/// What a binding says of one operation.
pub(crate) struct BoundReading {
    pub name: String,
    pub span: Span,
    pub says: Says,
}

pub(crate) enum Says {
    /// That it does not have it.
    Omitted,
    /// How it departs from the convention.
    Departs(Departure),
    /// Everything.
    Whole(ElementInfo),
}

pub(crate) fn binding(cursor: &mut Cursor<'_>) -> Parsed<BindingReading> {
    cursor.keyword("binding");
    let mut info = ElementInfo::wsdl("binding").with("name", cursor.name("the name of the binding")?);
    let protocol = if cursor.mark("=") { protocol(cursor)? } else { Protocol::None };
    let port_type = if cursor.keyword("of") { Some(cursor.qname("the name of a port type")?) } else { None };
    with(cursor, &mut info)?;
    let mut said: Vec<About> = Vec::new();
    let mut strangers = Vec::new();
    let mut operations = Vec::new();
    cursor.blanks();
    if cursor.peek() == Some('{') {
        cursor.block(|cursor| {
            let start = cursor.at;
            match cursor.word() {
                Some("about") => said.extend(abouts(cursor, "about")?),
                Some("omit") => {
                    cursor.keyword("omit");
                    let name = cursor.name("the name of an operation")?;
                    operations.push(BoundReading {
                        name,
                        span: Span::new(start, cursor.at),
                        says: Says::Omitted,
                    });
                }
                Some("operation") => operations.push(bound(cursor, &protocol)?),
                _ if verbatim::is_next(cursor) => {
                    let info = verbatim::xml(cursor, (true, false))?;
                    if is_about(&info) {
                        said.push(About::Xml(info));
                    } else if info.is_wsdl("operation") {
                        let name = info.text("name").unwrap_or("").to_owned();
                        let span = Span::new(start, cursor.at);
                        operations.push(BoundReading { name, span, says: Says::Whole(info) });
                    } else {
                        strangers.push(info);
                    }
                }
                _ => return Err(cursor.expected("about, operation, omit or xml")),
            }
            Ok(())
        })?;
    }
    document(&mut info, &said);
    info.children.extend(strangers.into_iter().map(Child::Element));
    info.children.extend(protocol.extension().map(Child::Element));
    Ok(BindingReading { info, protocol, port_type, operations, whole: false })
}

fn protocol(cursor: &mut Cursor<'_>) -> Parsed<Protocol> {
    if cursor.keyword("http") {
        return Ok(Protocol::Http(cursor.name("GET or POST")?));
    }
    if !cursor.keyword("soap") {
        return Err(cursor.expected("soap 1.1, soap 1.2 or http"));
    }
    cursor.blanks();
    let namespace = if cursor.mark("1.1") {
        ns::WSDL_SOAP11
    } else if cursor.mark("1.2") {
        ns::WSDL_SOAP12
    } else {
        return Err(cursor.expected("1.1 or 1.2"));
    };
    let mut soap = Soap {
        namespace,
        style: "document".to_owned(),
        transport: Some(ns::SOAP_OVER_HTTP.to_owned()),
        usage: "literal".to_owned(),
        encoding: None,
        wrapper: None,
    };
    loop {
        match cursor.word() {
            Some(word @ ("document" | "rpc")) => {
                cursor.keyword(word);
                word.clone_into(&mut soap.style);
            }
            Some(word @ ("literal" | "encoded")) => {
                cursor.keyword(word);
                word.clone_into(&mut soap.usage);
            }
            Some("by") => {
                cursor.keyword("by");
                soap.encoding = Some(cursor.string("the URI of an encoding")?);
            }
            Some("namespace") => {
                cursor.keyword("namespace");
                soap.wrapper = Some(cursor.string("a namespace")?);
            }
            Some("over") => {
                cursor.keyword("over");
                soap.transport = if cursor.keyword("nothing") {
                    None
                } else {
                    Some(cursor.string("the URI of a transport")?)
                };
            }
            _ => return Ok(Protocol::Soap(soap)),
        }
    }
}

fn bound(cursor: &mut Cursor<'_>, protocol: &Protocol) -> Parsed<BoundReading> {
    let start = cursor.at;
    cursor.keyword("operation");
    let name = cursor.name("the name of an operation")?;
    let mut departure = Departure::default();
    let mut info = ElementInfo::wsdl("operation").with("name", name.as_str());
    loop {
        match cursor.word() {
            Some("action") => {
                cursor.keyword("action");
                departure.action = Some(Some(cursor.string("the action")?));
            }
            Some("without") => {
                cursor.keyword("without");
                if !cursor.keyword("action") {
                    return Err(cursor.expected("\"action\""));
                }
                departure.action = Some(None);
            }
            Some(word @ ("document" | "rpc")) => {
                cursor.keyword(word);
                departure.style = Some(word.to_owned());
            }
            Some("at") => {
                cursor.keyword("at");
                departure.location = Some(cursor.string("the path of the operation")?);
            }
            Some("with") if cursor.after_word() != Some(':') => with(cursor, &mut info)?,
            _ => break,
        }
    }
    cursor.blanks();
    if cursor.peek() != Some('{') {
        return Ok(BoundReading { name, span: Span::new(start, cursor.at), says: Says::Departs(departure) });
    }
    let mut said = Vec::new();
    let mut strangers = Vec::new();
    let mut sides = Vec::new();
    cursor.block(|cursor| {
        match cursor.word() {
            Some("about") => said.extend(abouts(cursor, "about")?),
            Some(word @ ("input" | "output" | "fault")) => sides.push(bound_side(cursor, word, protocol)?),
            _ if verbatim::is_next(cursor) => {
                let xml = verbatim::xml(cursor, (true, false))?;
                if is_about(&xml) { said.push(About::Xml(xml)) } else { strangers.push(xml) }
            }
            _ => return Err(cursor.expected("about, input, output, fault or xml")),
        }
        Ok(())
    })?;
    document(&mut info, &said);
    info.children.extend(strangers.into_iter().map(Child::Element));
    info.children.extend(departure.extension(protocol).map(Child::Element));
    info.children.extend(sides.into_iter().map(Child::Element));
    Ok(BoundReading { name, span: Span::new(start, cursor.at), says: Says::Whole(info) })
}

fn bound_side(cursor: &mut Cursor<'_>, word: &str, protocol: &Protocol) -> Parsed<ElementInfo> {
    cursor.keyword(word);
    let mut info = ElementInfo::wsdl(word);
    if word == "fault" || cursor.keyword("named") {
        info = info.with("name", cursor.name("the name of the message")?);
    }
    with(cursor, &mut info)?;
    let mut said = Vec::new();
    cursor.block(|cursor| {
        if cursor.word() == Some("about") {
            said.extend(abouts(cursor, "about")?);
        } else {
            let part = bound_part(cursor, protocol)?;
            if is_about(&part) { said.push(About::Xml(part)) } else { info.push(part) }
        }
        Ok(())
    })?;
    document(&mut info, &said);
    Ok(info)
}

/// An extension element of a bound message.
fn bound_part(cursor: &mut Cursor<'_>, protocol: &Protocol) -> Parsed<ElementInfo> {
    if verbatim::is_next(cursor) {
        return verbatim::xml(cursor, (true, false));
    }
    let soap = match protocol {
        Protocol::Soap(soap) => Some(soap.namespace),
        _ => None,
    };
    match (cursor.word(), soap) {
        (Some(word @ ("body" | "header" | "header-fault" | "fault")), Some(namespace)) => {
            soap_part(cursor, word, namespace, protocol)
        }
        (Some("url-encoded"), _) => {
            cursor.keyword("url-encoded");
            Ok(ElementInfo::new(ns::WSDL_HTTP, "urlEncoded"))
        }
        (Some("url-replacement"), _) => {
            cursor.keyword("url-replacement");
            Ok(ElementInfo::new(ns::WSDL_HTTP, "urlReplacement"))
        }
        (Some(word @ ("content" | "xml-content" | "multipart" | "part")), _) => {
            mime_part(cursor, word, protocol)
        }
        _ => Err(cursor.expected(
            "body, header, fault, content, xml-content, multipart, url-encoded, url-replacement or xml",
        )),
    }
}

fn soap_part(
    cursor: &mut Cursor<'_>,
    word: &str,
    namespace: &str,
    protocol: &Protocol,
) -> Parsed<ElementInfo> {
    cursor.keyword(word);
    let mut info = match word {
        "body" => {
            let info = ElementInfo::new(namespace, "body");
            if cursor.keyword("without") {
                if !cursor.keyword("parts") {
                    return Err(cursor.expected("\"parts\""));
                }
                info.with("parts", "")
            } else if cursor.keyword("parts") {
                info.with("parts", cursor.string("the names of the parts")?)
            } else {
                info
            }
        }
        "fault" => ElementInfo::new(namespace, "fault").with("name", cursor.name("the name of the fault")?),
        _ => {
            let local = if word == "header" { "header" } else { "headerfault" };
            let part = cursor.name("the name of a part")?;
            if !cursor.keyword("of") {
                return Err(cursor.expected("\"of\" and the name of a message"));
            }
            let message = cursor.qname("the name of a message")?;
            ElementInfo::new(namespace, local).naming("message", &message).with("part", part)
        }
    };
    for usage in ["literal", "encoded"] {
        if cursor.keyword(usage) {
            info = info.with("use", usage);
        }
    }
    if cursor.keyword("by") {
        info = info.with("encodingStyle", cursor.string("the URI of an encoding")?);
    }
    if cursor.keyword("namespace") {
        info = info.with("namespace", cursor.string("a namespace")?);
    }
    with(cursor, &mut info)?;
    cursor.blanks();
    if cursor.peek() == Some('{') {
        cursor.block(|cursor| {
            info.push(bound_part(cursor, protocol)?);
            Ok(())
        })?;
    }
    Ok(info)
}

fn mime_part(cursor: &mut Cursor<'_>, word: &str, protocol: &Protocol) -> Parsed<ElementInfo> {
    cursor.keyword(word);
    let local = match word {
        "content" => "content",
        "xml-content" => "mimeXml",
        "multipart" => "multipartRelated",
        _ => "part",
    };
    let mut info = ElementInfo::new(ns::WSDL_MIME, local);
    if cursor.keyword("named") {
        info = info.with("name", cursor.name("the name of the part")?);
    }
    if cursor.keyword("of") {
        info = info.with("part", cursor.name("the name of a message part")?);
    }
    if cursor.keyword("as") {
        info = info.with("type", cursor.string("a media type")?);
    }
    with(cursor, &mut info)?;
    if matches!(local, "multipartRelated" | "part") {
        cursor.block(|cursor| {
            info.push(bound_part(cursor, protocol)?);
            Ok(())
        })?;
    }
    Ok(info)
}

/// An operation of a binding by itself.
pub(crate) fn bound_alone(cursor: &mut Cursor<'_>, protocol: &Protocol) -> Parsed<BoundReading> {
    if !verbatim::is_next(cursor) {
        return bound(cursor, protocol);
    }
    let start = cursor.at;
    let info = verbatim::xml(cursor, (true, false))?;
    let name = info.text("name").unwrap_or("").to_owned();
    Ok(BoundReading { name, span: Span::new(start, cursor.at), says: Says::Whole(info) })
}

/// The element info of a bound operation: what was said of it, and for the rest what the convention has.
pub(crate) fn bound_info(
    protocol: &Protocol,
    operation: Option<&OperationReading>,
    read: BoundReading,
    target: &str,
) -> ElementInfo {
    let departure = match read.says {
        Says::Whole(info) => return info,
        Says::Departs(departure) => departure,
        Says::Omitted => Departure::default(),
    };
    match operation {
        Some(it) => bound_operation(protocol, &it.info, &it.headers, &it.parts, &departure, target),
        None => ElementInfo::wsdl("operation").with("name", read.name),
    }
}

impl BindingReading {
    /// A binding that stands as XML.
    pub fn verbatim(info: ElementInfo) -> BindingReading {
        let (protocol, port_type) = (Protocol::of(&info), info.named("type").cloned());
        BindingReading { info, protocol, port_type, operations: Vec::new(), whole: true }
    }

    /// The binding with all its operations: those of the port type as the convention has them, but for what it says.
    pub fn complete(
        mut self,
        operations: &[OperationReading],
        target: &str,
        cursor: &mut Cursor<'_>,
    ) -> ElementInfo {
        if self.whole {
            return self.info;
        }
        let mut namesakes: Map<&str, usize> = Map::default();
        for operation in operations {
            *namesakes.entry(operation.info.text("name").unwrap_or("")).or_default() += 1;
        }
        let mut named: Map<String, Vec<usize>> = Map::default();
        for (at, bound) in self.operations.iter().enumerate() {
            named.entry(bound.name.clone()).or_default().push(at);
        }
        let mut said: Vec<_> = self.operations.into_iter().map(Some).collect();
        for operation in operations {
            let name = operation.info.text("name").unwrap_or("");
            // Only of several operations of one name need the names of inputs tell which is meant.
            let alone = namesakes[name] == 1;
            let meant = |at: &&usize| {
                let bound = said[**at].as_ref();
                bound.is_some_and(|bound| alone || same_input(&bound.says, &operation.info))
            };
            let at = named.get(name).and_then(|all| all.iter().find(meant)).copied();
            let says = at.and_then(|at| said[at].take()).map(|bound| bound.says);
            let whole = match says {
                Some(Says::Omitted) => continue,
                Some(Says::Whole(info)) => info,
                Some(Says::Departs(departure)) => bound_operation(
                    &self.protocol,
                    &operation.info,
                    &operation.headers,
                    &operation.parts,
                    &departure,
                    target,
                ),
                None => bound_operation(
                    &self.protocol,
                    &operation.info,
                    &operation.headers,
                    &operation.parts,
                    &Departure::default(),
                    target,
                ),
            };
            self.info.push(whole);
        }
        for bound in said.into_iter().flatten() {
            match bound.says {
                Says::Whole(info) => self.info.push(info),
                _ => {
                    let message = format!("there is no operation \"{}\" in the port type", bound.name);
                    let names = operations.iter().filter_map(|operation| operation.info.text("name"));
                    let help = match charter_source::nearest(&bound.name, names) {
                        Some(near) => format!("did you mean {near}?"),
                        None => format!("add operation {} to it, or leave this out", bound.name),
                    };
                    cursor.fail(bound.span, message, Some(help));
                }
            }
        }
        self.info
    }
}

/// Whether what is said of an operation is about this one of several of its name.
fn same_input(says: &Says, operation: &ElementInfo) -> bool {
    let input = |info: &ElementInfo| {
        info.elements()
            .find(|side| side.is_wsdl("input"))
            .and_then(|side| side.text("name"))
            .map(str::to_owned)
    };
    match says {
        Says::Whole(info) => input(info) == input(operation),
        _ => true,
    }
}

/// A service as it is read: its addresses wait until the bindings are known.
pub(crate) struct ServiceReading {
    pub info: ElementInfo,
    pub ports: Vec<PortReading>,
}

pub(crate) struct PortReading {
    pub info: ElementInfo,
    pub binding: QName,
    /// Where it is, and by which protocol, if that is not the one of the binding.
    pub address: Option<(Option<&'static str>, String)>,
    pub strangers: Vec<ElementInfo>,
    pub span: Span,
}

pub(crate) fn service(cursor: &mut Cursor<'_>) -> Parsed<ServiceReading> {
    cursor.keyword("service");
    let mut info = ElementInfo::wsdl("service").with("name", cursor.name("the name of the service")?);
    with(cursor, &mut info)?;
    let mut said = Vec::new();
    let mut strangers = Vec::new();
    let mut ports = Vec::new();
    cursor.block(|cursor| {
        match cursor.word() {
            Some("about") => said.extend(abouts(cursor, "about")?),
            Some("port") => ports.push(port(cursor)?),
            _ if verbatim::is_next(cursor) => {
                let xml = verbatim::xml(cursor, (true, false))?;
                if is_about(&xml) { said.push(About::Xml(xml)) } else { strangers.push(xml) }
            }
            _ => return Err(cursor.expected("about, port or xml")),
        }
        Ok(())
    })?;
    document(&mut info, &said);
    // Ports that stand as XML are in their place among the others only if they are all so.
    info.children.extend(strangers.into_iter().map(Child::Element));
    Ok(ServiceReading { info, ports })
}

pub(crate) fn port(cursor: &mut Cursor<'_>) -> Parsed<PortReading> {
    let start = cursor.at;
    cursor.keyword("port");
    let mut info = ElementInfo::wsdl("port").with("name", cursor.name("the name of the port")?);
    cursor.expect("=")?;
    let binding = cursor.qname("the name of a binding")?;
    info = info.naming("binding", &binding);
    let span = Span::new(start, cursor.at);
    let mut address = None;
    if cursor.keyword("at") {
        let kind = if cursor.keyword("http") {
            Some(ns::WSDL_HTTP)
        } else if cursor.keyword("soap") {
            cursor.blanks();
            let first = cursor.mark("1.1");
            if !first && !cursor.mark("1.2") {
                return Err(cursor.expected("1.1 or 1.2"));
            }
            Some(if first { ns::WSDL_SOAP11 } else { ns::WSDL_SOAP12 })
        } else {
            None
        };
        address = Some((kind, cursor.string("the address")?));
    }
    with(cursor, &mut info)?;
    let mut strangers = Vec::new();
    cursor.blanks();
    if cursor.peek() == Some('{') {
        cursor.block(|cursor| {
            if !verbatim::is_next(cursor) {
                return Err(cursor.expected("xml"));
            }
            strangers.push(verbatim::xml(cursor, (true, false))?);
            Ok(())
        })?;
    }
    document(&mut info, &abouts(cursor, "about")?);
    Ok(PortReading { info, binding, address, strangers, span })
}

impl PortReading {
    /// The port with its address.
    pub fn complete(mut self, protocol: Option<&Protocol>, cursor: &mut Cursor<'_>) -> ElementInfo {
        self.info.children.extend(self.strangers.into_iter().map(Child::Element));
        let Some((kind, location)) = self.address else { return self.info };
        let address = match kind {
            Some(namespace) => Some(ElementInfo::new(namespace, "address").with("location", location)),
            None => protocol.and_then(|protocol| protocol.address(&location)),
        };
        if address.is_none() {
            let message =
                format!("it is not known how the binding \"{}\" writes addresses", self.binding.local);
            let help = "name a binding that there is, or write: at soap 1.1 \"…\"".to_owned();
            cursor.fail(self.span, message, Some(help));
        }
        self.info.children.extend(address.map(Child::Element));
        self.info
    }
}

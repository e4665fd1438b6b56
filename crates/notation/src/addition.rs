//! What is to be added to a contract: a piece of notation, and the component that it goes to.

use charter_contract::{Component, Contract};
use charter_source::{QName, Span};

use crate::convention::Convention;
use crate::gather::Gathering;
use crate::info::{Child, ElementInfo, Value};
use crate::parse::bindings::{binding, service};
use crate::parse::cursor::{Cursor, NotationError, Noted, Parsed};
use crate::parse::operations::{Around, Made, message, operation, part};
use crate::parse::schema::{SchemaReading, schema};
use crate::parse::simple::{TypeUse, type_use};
use crate::parse::{abouts, annotate, contract, document};
use crate::piece::{Piece, items, without_children};

/// An addition: the part of the contract that it touches as it is in the files, and what is added as the
/// difference of two element infos of that part.
#[derive(Debug, Clone)]
pub struct Addition {
    /// What is there.
    pub actual: ElementInfo,
    /// The same without what is added.
    pub base: ElementInfo,
    /// The same with it.
    pub wanted: ElementInfo,
}

/// Why something cannot be added.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum AdditionError {
    /// The notation does not allow it.
    Notation(Vec<NotationError>),
    /// It cannot stand there.
    Unfit(String),
}

/// The addition of a piece of notation to a component.
///
/// # Errors
/// If the text is no notation, or cannot stand in that component.
pub fn addition(
    contract: &Contract,
    to: Component,
    text: &str,
    convention: &Convention,
) -> Result<Addition, AdditionError> {
    if first_word(text) == "about" && contract.documentation(to).is_some() {
        return Err(unfit(
            "it has documentation already: charter set … about=\"…\" puts other words in its place",
        ));
    }
    match to {
        Component::Contract | Component::PortType(_) => to_contract(contract, to, text, convention),
        Component::Message(_) => to_message(contract, to, text, convention),
        _ => to_component(contract, to, text, convention),
    }
}

fn unfit(what: &str) -> AdditionError {
    AdditionError::Unfit(what.to_owned())
}

/// Reads with a cursor of the contract, as seen from its own namespace.
fn reading<T>(
    contract: &Contract,
    own: &str,
    text: &str,
    read: impl FnOnce(&mut Cursor<'_>) -> Parsed<T>,
) -> Result<T, AdditionError> {
    let prefixes = crate::prefixes::Prefixes::of(contract).seen_from(own);
    let mut cursor = Cursor::new(text, prefixes);
    cursor.space();
    let done = read(&mut cursor);
    if done.is_ok() && !cursor.at_end() {
        cursor.expected("nothing more");
    }
    match done {
        Ok(value) if cursor.errors.is_empty() => Ok(value),
        _ => {
            cursor.errors.sort_by_key(|error| error.span);
            cursor.errors.dedup();
            Err(AdditionError::Notation(cursor.errors))
        }
    }
}

fn first_word(text: &str) -> &str {
    let text = text.trim_start();
    &text[..text.find(|c: char| !(c.is_alphanumeric() || c == '-' || c == '@')).unwrap_or(text.len())]
}

fn to_contract(
    contract: &Contract,
    to: Component,
    text: &str,
    convention: &Convention,
) -> Result<Addition, AdditionError> {
    let word = first_word(text);
    let Some((_, first)) = contract.definitions.iter().next() else {
        return match word {
            "operation" | "message" | "binding" | "service" | "port-type" => Err(unfit(
                "this is a schema by itself: it has no operations, messages, bindings and services",
            )),
            _ => to_schema(contract, text),
        };
    };
    let own = first.namespace.to_string();
    let head =
        || Gathering::new(contract).head(first.file).ok_or_else(|| unfit("there is no contract to add to"));
    let beside = |base: ElementInfo, info: ElementInfo| Addition {
        actual: base.clone(),
        wanted: base.clone().holding(info),
        base,
    };
    match (word, to) {
        ("operation", _) => to_port_type(contract, to, text, convention),
        ("about", _) => about(contract, to, &own, text),
        (_, Component::PortType(_)) => Err(unfit("only an operation can be added to a port type")),
        ("message", _) => Ok(beside(head()?, reading(contract, &own, text, message)?)),
        ("port-type", _) => {
            let (info, made) = reading(contract, &own, text, |cursor| {
                let around = around(contract, &own, convention);
                let mut made = Made::default();
                let (mut info, operations) = contract::port_type_alone(cursor, &around, &mut made)?;
                info.children.extend(operations.into_iter().map(|it| Child::Element(it.info)));
                Ok((info, made))
            })?;
            let (base, wanted) = with_made(contract, head()?, made);
            Ok(Addition { actual: base.clone(), base, wanted: wanted.holding(info) })
        }
        ("binding", _) => to_bindings(contract, &own, text, convention),
        ("service", _) => Ok(beside(head()?, service_info(contract, &own, text, convention)?)),
        ("schema", _) => Ok(with_block(contract, head()?, reading(contract, &own, text, schema)?.info)),
        ("import", _) => import(contract, &own, text),
        _ => to_schema(contract, text),
    }
}

/// Documentation of the contract, or of a port type.
fn about(contract: &Contract, to: Component, own: &str, text: &str) -> Result<Addition, AdditionError> {
    let said = reading(contract, own, text, |cursor| abouts(cursor, "about"))?;
    let mut gathering = Gathering::new(contract);
    let file = contract.definitions.iter().next().map(|(_, first)| first.file);
    let base = match to {
        Component::PortType(_) => gathering.component(to),
        _ => file.and_then(|file| gathering.head(file)),
    };
    let base = base.ok_or_else(|| unfit("there is nothing to say anything about"))?;
    let mut wanted = base.clone();
    if to == Component::Contract {
        document(&mut wanted, &said);
    } else {
        wanted.elements_mut().filter(|it| it.is_wsdl("portType")).for_each(|it| document(it, &said));
    }
    Ok(Addition { actual: base.clone(), base, wanted })
}

/// A service with the addresses of its ports.
fn service_info(
    contract: &Contract,
    own: &str,
    text: &str,
    convention: &Convention,
) -> Result<ElementInfo, AdditionError> {
    let piece = Piece::of(contract, Component::Contract, convention).ok_or_else(|| unfit("no contract"))?;
    reading(contract, own, text, |cursor| {
        let read = service(cursor)?;
        let mut whole = read.info;
        for port in read.ports {
            let protocol = piece.protocol_of(&port.binding);
            whole.push(port.complete(protocol.as_ref(), cursor));
        }
        Ok(whole)
    })
}

/// A contract with a schema more.
fn with_block(contract: &Contract, mut base: ElementInfo, schema: ElementInfo) -> Addition {
    let types = Gathering::new(contract).types_head();
    let wanted = base.clone().holding(types.clone().holding(schema));
    if types.origin.is_some() {
        base.push(types);
    }
    Addition { actual: base.clone(), base, wanted }
}

fn around<'a>(contract: &Contract, own: &'a str, convention: &'a Convention) -> Around<'a> {
    let document = contract.schemas.documents.iter().find(|document| *document.namespace == *own);
    let qualified = document.map_or((true, false), |it| (it.elements_qualified, it.attributes_qualified));
    Around { convention, target: own, local: crate::parse::particles::Local { qualified } }
}

/// `import "urn:…" from "vessel.xsd"`.
fn import(contract: &Contract, own: &str, text: &str) -> Result<Addition, AdditionError> {
    let (namespace, location) = reading(contract, own, text, |cursor| {
        cursor.keyword("import");
        let namespace = cursor.string("a namespace")?;
        let location = if cursor.keyword("from") { Some(cursor.string("a location")?) } else { None };
        Ok((namespace, location))
    })?;
    if location.as_deref().is_some_and(|location| location.ends_with(".wsdl")) {
        let file = contract.definitions.iter().next().map(|(_, first)| first.file);
        let base =
            file.and_then(|file| Gathering::new(contract).head(file)).ok_or_else(|| unfit("no contract"))?;
        let info = ElementInfo::wsdl("import")
            .with("namespace", namespace)
            .with("location", location.unwrap_or_default());
        return Ok(Addition { actual: base.clone(), wanted: base.clone().holding(info), base });
    }
    let mut info = ElementInfo::xsd("import").with("namespace", namespace);
    if let Some(location) = location {
        info = info.with("schemaLocation", location);
    }
    Ok(with_schema(contract, vec![info]))
}

/// The contract's own schema with more in it.
fn with_schema(contract: &Contract, added: Vec<ElementInfo>) -> Addition {
    let mut gathering = Gathering::new(contract);
    let definitions = contract.definitions.iter().next();
    let own = match definitions {
        Some((_, first)) => first.namespace.to_string(),
        None => contract.schemas.documents.first().map_or_else(String::new, |it| it.namespace.to_string()),
    };
    let mut types = gathering.types_head();
    let document = contract
        .schemas
        .documents
        .iter()
        .find(|document| *document.namespace == *own && !contract.schemas.is_known(document.place));
    let head = document.and_then(|document| gathering.schema_head(document.place));
    let has_types = types.origin.is_some() || definitions.is_none();
    let mut wanted_types = types.clone();
    let mut schema = head.clone().unwrap_or_else(|| SchemaReading::new(&own).info);
    schema.children = added.into_iter().map(Child::Element).collect();
    wanted_types.push(schema);
    types.children.extend(head.map(Child::Element));
    let Some(whole) = definitions.and_then(|(_, first)| gathering.head(first.file)) else {
        return Addition { actual: types.clone(), base: types, wanted: wanted_types };
    };
    let base = if has_types { whole.clone().holding(types) } else { whole.clone() };
    Addition { actual: base.clone(), base, wanted: whole.holding(wanted_types) }
}

fn to_schema(contract: &Contract, text: &str) -> Result<Addition, AdditionError> {
    let own = match contract.definitions.iter().next() {
        Some((_, first)) => first.namespace.to_string(),
        None => contract.schemas.documents.first().map_or_else(String::new, |it| it.namespace.to_string()),
    };
    let convention = Convention::default();
    let local = around(contract, &own, &convention).local;
    let infos = reading(contract, &own, text, |cursor| {
        let mut reading = SchemaReading::new(&own);
        reading.local = local;
        if first_word(text) != "xml" && !SchemaReading::accepts(cursor) {
            return Err(cursor.expected(
                "type, element, attribute, attributes, group, operation, message, port-type, binding, service, schema, import or about",
            ));
        }
        items(cursor, |cursor| reading.item(cursor));
        Ok(reading.info.children)
    })?;
    let infos = infos.into_iter().filter_map(|child| match child {
        Child::Element(info) => Some(info),
        _ => None,
    });
    Ok(with_schema(contract, infos.collect()))
}

/// The parts of a contract around messages and elements that have been made.
fn with_made(contract: &Contract, head: ElementInfo, made: Made) -> (ElementInfo, ElementInfo) {
    let elements: Vec<ElementInfo> = made.elements.infos().collect();
    let (base, mut wanted) = if elements.is_empty() {
        (head.clone(), head)
    } else {
        let addition = with_schema(contract, elements);
        (addition.base, addition.wanted)
    };
    wanted.children.extend(made.messages.infos().map(Child::Element));
    (base, wanted)
}

fn to_port_type(
    contract: &Contract,
    to: Component,
    text: &str,
    convention: &Convention,
) -> Result<Addition, AdditionError> {
    let id = match to {
        Component::PortType(id) => id,
        _ => match contract.port_types.ids().collect::<Vec<_>>().as_slice() {
            [only] => *only,
            [] => {
                return Err(unfit(
                    "the contract has no port type: add one, such as port-type Pilotage { … }",
                ));
            }
            _ => {
                return Err(unfit(
                    "the contract has several port types: say to which, with --to port-type/NAME",
                ));
            }
        },
    };
    let own = contract.port_types[id].name.namespace.to_string();
    let (read, made) = reading(contract, &own, text, |cursor| {
        let around = around(contract, &own, convention);
        let mut made = Made::default();
        let mut found = Vec::new();
        items(cursor, |cursor| {
            found.push(operation(cursor, &around, &mut made)?);
            Ok(())
        });
        Ok((found, made))
    })?;
    let mut gathering = Gathering::new(contract);
    let whole = gathering.port_type_shell(id).ok_or_else(|| unfit("there is no such port type"))?;
    // Messages that are there already are used as they are.
    let mut made = made;
    let known = |info: &ElementInfo| {
        let name = QName::new(&own, info.text("name").unwrap_or(""));
        contract.message_named(&name).and_then(|id| Gathering::new(contract).at(contract.messages[id].extent))
    };
    made.messages = made.messages.filter(|info| known(info).is_none_or(|known| known != *info));
    let element = |info: &ElementInfo| {
        let name = QName::new(&own, info.text("name").unwrap_or(""));
        contract.schemas.element_named(&name).and_then(|id| Gathering::new(contract).element(id))
    };
    made.elements = made.elements.filter(|info| element(info).is_none_or(|known| known != *info));
    let head = without_children(&whole);
    let (mut base, mut wanted) = with_made(contract, head, made);
    for part in whole.elements() {
        let mut shell = part.clone();
        shell.children.retain(|child| !matches!(child, Child::Element(info) if info.is_wsdl("operation")));
        base.push(shell.clone());
        if part.is_wsdl("portType") {
            read.iter().for_each(|operation| shell.push(operation.info.clone()));
        } else {
            let protocol = crate::bound::Protocol::of(part);
            for it in &read {
                let departure = crate::bound::Departure::default();
                shell.push(crate::bound::bound_operation(
                    &protocol,
                    &it.info,
                    &it.headers,
                    &it.parts,
                    &departure,
                    &own,
                ));
            }
        }
        wanted.push(shell);
    }
    Ok(Addition { actual: base.clone(), base, wanted })
}

/// A new binding: of the first port type if it does not say, with all its operations.
fn to_bindings(
    contract: &Contract,
    own: &str,
    text: &str,
    convention: &Convention,
) -> Result<Addition, AdditionError> {
    let read = reading(contract, own, text, |cursor| {
        let mut reading = binding(cursor)?;
        let first = contract.port_types.iter().next().map(|(_, first)| first.name.clone());
        let port_type = reading.port_type.clone().or(first).unwrap_or_else(|| QName::new(own, ""));
        reading.info.set("type", Value::name(&port_type));
        let found = contract.port_types.iter().find(|(_, it)| it.name == port_type);
        let Some((id, _)) = found else {
            let span = Span::new(0, cursor.at);
            return Err(cursor.fail(
                span,
                format!("there is no port type \"{}\" to bind", port_type.local),
                None,
            ));
        };
        let piece = Piece::of(contract, Component::PortType(id), convention).ok_or(Noted)?;
        let operations = piece.bound_operations(&port_type);
        Ok(reading.complete(&operations, own, cursor))
    })?;
    let file = contract.definitions.iter().next().map(|(_, first)| first.file);
    let base =
        file.and_then(|file| Gathering::new(contract).head(file)).ok_or_else(|| unfit("no contract"))?;
    Ok(Addition { actual: base.clone(), wanted: base.clone().holding(read), base })
}

fn to_message(
    contract: &Contract,
    to: Component,
    text: &str,
    convention: &Convention,
) -> Result<Addition, AdditionError> {
    let piece = Piece::of(contract, to, convention).ok_or_else(|| unfit("there is no such message"))?;
    let own = piece.prefixes().own.clone();
    let base = piece.actual().clone();
    let mut wanted = base.clone();
    let Some(info) = wanted.elements_mut().find(|it| it.is_wsdl("message")) else {
        return Err(unfit("no message"));
    };
    if first_word(text) == "about" {
        document(info, &reading(contract, &own, text, |cursor| abouts(cursor, "about"))?);
    } else {
        let text = text.trim().strip_prefix("part ").unwrap_or(text);
        info.push(reading(contract, &own, text, part)?);
    }
    Ok(Addition { actual: base.clone(), base, wanted })
}

/// Something that stands in the block of a component, or behind it on its line.
fn to_component(
    contract: &Contract,
    to: Component,
    text: &str,
    convention: &Convention,
) -> Result<Addition, AdditionError> {
    let Some(piece) = Piece::of(contract, to, convention) else {
        return Err(unfit("nothing can be added to this"));
    };
    let before = piece.text();
    let base = piece.read(&before).map_err(AdditionError::Notation)?;
    if let Component::Type(id) = to
        && matches!(contract.schemas.types[id].kind, charter_schema::TypeKind::Simple(_))
    {
        return to_simple(contract, &piece, base, text);
    }
    let text = text.trim();
    let after = match in_block(&before, text) {
        Some(after) => after,
        None if first_word(text) == "about" => format!("{} {text}\n", before.trim_end()),
        None if matches!(to, Component::Type(_)) => format!("{} {{\n{text}\n}}\n", before.trim_end()),
        None => {
            return Err(unfit("it has no block to add to: add to its type, or change it with charter edit"));
        }
    };
    let wanted = piece
        .read(&after)
        .map_err(|errors| AdditionError::Notation(errors_in_piece(&before, &after, text, errors)))?;
    Ok(Addition { actual: piece.actual().clone(), base, wanted })
}

/// Errors in a text that was put into another, as they stand in that text alone.
fn errors_in_piece(
    before: &str,
    after: &str,
    text: &str,
    mut errors: Vec<NotationError>,
) -> Vec<NotationError> {
    let common = before.bytes().zip(after.bytes()).take_while(|(a, b)| a == b).count();
    let start = after[common.saturating_sub(1)..].find(text).map_or(0, |at| at + common.saturating_sub(1));
    for error in &mut errors {
        let clamp = |at: u32| (at as usize).saturating_sub(start).min(text.len());
        error.span = Span::new(clamp(error.span.start), clamp(error.span.end));
    }
    errors
}

/// A text with a line more in its first block; inside the group that is all there is in it, if that is so.
fn in_block(text: &str, line: &str) -> Option<String> {
    let (open, close) = braces(text)?;
    let inside = text[open + 1..close].trim();
    let is_group = ["choice {", "all {"].iter().any(|word| inside.starts_with(word));
    if is_group && let Some((inner_open, inner_close)) = braces(inside) {
        // Behind the group there may be attributes alone.
        let attributes = ["@", "attribute ", "attributes ", "any attribute"];
        let alone = inside[inner_close + 1..]
            .lines()
            .skip(1)
            .all(|line| attributes.iter().any(|word| line.trim_start().starts_with(word)));
        let is_field = first_word(line) != "about" && !line.starts_with('@');
        if alone && is_field && inner_open < inner_close {
            let grown = format!("{}\n{line}\n{}", &inside[..inner_close], &inside[inner_close..]);
            return Some(format!("{}\n{grown}\n{}", &text[..=open], &text[close..]));
        }
    }
    if first_word(line) == "about" {
        return Some(format!("{}\n{line}\n{}", &text[..=open], &text[open + 1..]));
    }
    // A sequence of nothing only says, before attributes, that there is one.
    let attributes = ["@", "attribute ", "attributes ", "any attribute"];
    let is_attribute = |line: &str| attributes.iter().any(|word| line.trim_start().starts_with(word));
    if let Some(rest) = inside.strip_prefix("sequence {}\n")
        && rest.lines().all(is_attribute)
        && !is_attribute(line)
    {
        return Some(format!("{}\n{line}\n{rest}\n{}", &text[..=open], &text[close..]));
    }
    Some(format!("{}\n{line}\n{}", &text[..close], &text[close..]))
}

/// The first brace outside quotes, and the one that closes it.
fn braces(text: &str) -> Option<(usize, usize)> {
    let mut cursor = Cursor::new(text, crate::prefixes::Prefixes::new(""));
    let mut open = Vec::new();
    while let Some(c) = cursor.peek() {
        match c {
            '"' => {
                cursor.string("text").ok()?;
                continue;
            }
            '{' => open.push(cursor.at),
            '}' => {
                let start = open.pop()?;
                if open.is_empty() {
                    return Some((start, cursor.at));
                }
            }
            _ => {}
        }
        cursor.at += c.len_utf8();
    }
    None
}

/// Values, facets or documentation of a simple type.
fn to_simple(
    contract: &Contract,
    piece: &Piece<'_>,
    base: ElementInfo,
    text: &str,
) -> Result<Addition, AdditionError> {
    let own = piece.prefixes().own.clone();
    let mut wanted = base.clone();
    let found = innermost(&mut wanted).ok_or_else(|| unfit("there is no such type"))?;
    if first_word(text) == "about" {
        annotate(found, &reading(contract, &own, text, |cursor| abouts(cursor, "about"))?);
        return Ok(Addition { actual: piece.actual().clone(), base, wanted });
    }
    let is_value = text.trim_start().starts_with('"');
    let words =
        if is_value { format!("string one-of {}", text.trim()) } else { format!("string {}", text.trim()) };
    let shift = words.len() - text.trim().len();
    let read =
        reading(contract, &own, &words, |cursor| type_use(cursor, None)).map_err(|error| match error {
            AdditionError::Notation(mut errors) => {
                for error in &mut errors {
                    let back = |at: u32| (at as usize).saturating_sub(shift);
                    error.span = Span::new(back(error.span.start), back(error.span.end));
                }
                AdditionError::Notation(errors)
            }
            other => other,
        })?;
    let TypeUse::Inline(read) = read else {
        return Err(unfit(
            "values in quotes, facets such as length 1..60, or about can be added to a simple type",
        ));
    };
    let facets: Vec<ElementInfo> = read.elements().flat_map(ElementInfo::elements).cloned().collect();
    let restriction = found.elements_mut().find(|it| it.is_xsd("restriction"));
    let Some(restriction) = restriction else {
        return Err(unfit("a list or a union has neither values nor facets of its own"));
    };
    let at = restriction.elements().filter(|it| it.is_xsd("enumeration")).count();
    let last = restriction
        .children
        .iter()
        .rposition(|child| matches!(child, Child::Element(info) if info.is_xsd("enumeration")));
    match last.filter(|_| is_value && at > 0) {
        Some(last) => {
            restriction.children.splice(last + 1..=last, facets.into_iter().map(Child::Element));
        }
        None => restriction.children.extend(facets.into_iter().map(Child::Element)),
    }
    Ok(Addition { actual: piece.actual().clone(), base, wanted })
}

/// The one global component in a part of a contract.
fn innermost(info: &mut ElementInfo) -> Option<&mut ElementInfo> {
    let mut here = info;
    while matches!(&*here.name.local, "definitions" | "types" | "schema") {
        here = here.elements_mut().next()?;
    }
    Some(here)
}

//! The notation: a contract that fills pages of XML, on one screen.
//!
//! [`contract`] writes a whole contract, [`component`] one component, and [`field`] and [`type_line`] a
//! single line, as a list of changes shows it. What follows the naming [`Convention`] is left out, what departs
//! from it is spelled out, and what has no short form stands as XML. [`read`] is the way back.
//!
//! Both ways lead through [`ElementInfo`]: the XML elements of a contract, apart from how they are written.

mod addition;
mod bound;
pub mod convention;
mod gather;
pub mod info;
mod layout;
mod merge;
mod parse;
pub mod paths;
mod piece;
mod prefixes;
mod print;
mod rewriting;
mod setting;
mod view;
mod vocabulary;
mod xml_reader;

use charter_contract::{Component, Contract, Side};
use charter_schema::{ElementId, Occurs, Owner, TypeId};
use charter_source::Place;

pub use addition::{Addition, AdditionError, addition};
pub use convention::{Convention, SideKind};
pub use info::{Child, ElementInfo, Origin, Value};
pub use layout::quoted;
pub use merge::merged;
pub use parse::cursor::NotationError;
pub use piece::Piece;
pub use prefixes::Prefixes;
pub use rewriting::{Rewriting, rewriting};
pub use setting::{bare_info, own_info, set, without_defaults};

use gather::Gathering;
use layout::Line;
use parse::cursor::Cursor;
use print::Printer;
use print::operation::{Covered, Operations};
use view::View;

/// The whole contract.
///
/// ```
/// use charter_contract::Contract;
/// use charter_notation::Convention;
/// use charter_source::{Limits, Location, Overlay};
///
/// let text = r#"<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema" targetNamespace="urn:saltmere:tide">
///   <xs:simpleType name="Gauge">
///     <xs:restriction base="xs:string"><xs:maxLength value="20"/></xs:restriction>
///   </xs:simpleType>
/// </xs:schema>"#;
/// let store = Overlay::of(&[("port.xsd", text)]);
/// let contract = Contract::load(&store, &Location::from_argument("port.xsd"), Limits::default())?;
/// assert!(charter_notation::contract(&contract, &Convention::default()).contains("type Gauge = string length ..20"));
/// # Ok::<(), charter_source::ReadError>(())
/// ```
pub fn contract(contract: &Contract, convention: &Convention) -> String {
    let info = info_of(contract);
    text_of(&info, &Prefixes::of(contract), convention)
}

/// The element info of a whole contract: a `definitions` element with everything in it, whatever file it came from. For
/// schemas by themselves, a `types` element.
pub fn info_of(contract: &Contract) -> ElementInfo {
    Gathering::new(contract).definitions()
}

/// The notation of an element info as [`info_of`] makes it.
pub fn text_of(info: &ElementInfo, prefixes: &Prefixes, convention: &Convention) -> String {
    let mut entries = if info.is_wsdl("definitions") {
        vec![print::wsdl::contract(info, prefixes, convention)]
    } else {
        let printer = Printer { prefixes };
        let schemas = info.elements().map(|schema| {
            if schema.is_xsd("schema") { printer.schema(schema) } else { printer.verbatim(schema) }
        });
        schemas.collect()
    };
    let mut lines: Vec<Line> = Vec::new();
    let mut used = Vec::new();
    entries.iter().for_each(|entry| prefixes_used(entry, &mut used));
    let is_usual = |it: &(&str, &str)| vocabulary::USUAL.contains(it);
    for (prefix, namespace) in prefixes.all().filter(|it| used.contains(&it.0) && !is_usual(it)) {
        lines.push(Line::of(format!("prefix {prefix} = {}", layout::quoted(namespace))));
    }
    if let Some(last) = lines.last_mut() {
        last.last = true;
    }
    match entries.first_mut().and_then(|entry| entry.block.as_mut()) {
        Some(block) if info.is_wsdl("definitions") => {
            let about = block.entries.iter().take_while(|entry| entry.head.starts_with("about ")).count();
            if let (Some(last), false) = (about.checked_sub(1), lines.is_empty()) {
                block.entries[last].last = true;
            }
            block.entries.splice(about..about, lines);
        }
        _ => {
            lines.append(&mut entries);
            entries = lines;
        }
    }
    layout::text(&entries)
}

/// The notation of the components of a schema, without a block around them.
pub fn components_of(schema: &ElementInfo, prefixes: &Prefixes) -> String {
    let own = prefixes.seen_from(schema.text("targetNamespace").unwrap_or(""));
    let printer = Printer { prefixes: &own };
    let entries: Vec<Line> = schema.elements().flat_map(|info| printer.global(info)).collect();
    layout::text(&entries)
}

/// Reads a contract, or schemas by themselves, from the notation: the element info that [`info_of`] would make of the WSDL.
///
/// ```
/// use charter_notation::{Convention, Prefixes, read, text_of};
///
/// let text = r#"contract Tides "urn:saltmere:tides:1" {
///   operation nextTide {
///     input { gauge: string length 1..20 }
///     output { high: dateTime, depth: decimal }
///   }
///
///   binding TidesOverSoap11 = soap 1.1 document literal
/// }
/// "#;
/// let read = read(text, &Convention::default()).unwrap();
/// assert_eq!(text_of(&read.info, &read.prefixes, &Convention::default()), text);
/// ```
///
/// # Errors
/// Everything that the notation does not allow, in the order of the text.
pub fn read(text: &str, convention: &Convention) -> Result<Written, Vec<NotationError>> {
    let mut cursor = Cursor::new(text, Prefixes::new(""));
    let info = parse::contract::file(&mut cursor, convention);
    let mut errors = cursor.errors;
    match info {
        Ok(info) if errors.is_empty() => Ok(Written { info, prefixes: cursor.prefixes }),
        _ => {
            errors.sort_by_key(|error| error.span);
            errors.dedup();
            Err(errors)
        }
    }
}

/// What was written in the notation.
#[derive(Debug, Clone)]
pub struct Written {
    /// Its element info.
    pub info: ElementInfo,
    /// The prefixes that it declares.
    pub prefixes: Prefixes,
}

/// The words of an entry that could be prefixes, outside of quotes and of XML.
fn prefixes_used<'e>(entry: &'e Line, found: &mut Vec<&'e str>) {
    let mut see = |words: &'e str| {
        let is_name = |c: char| c.is_alphanumeric() || matches!(c, '-' | '_' | '.');
        for (at, _) in words.match_indices(':') {
            let start = words[..at].char_indices().rev().take_while(|(_, c)| is_name(*c)).last();
            let follows = words[at + 1..].starts_with(|c: char| c.is_alphanumeric() || c == '_');
            if let Some((start, _)) = start.filter(|_| follows)
                && !found.contains(&&words[start..at])
                && !words.contains(&format!("xmlns:{}=", &words[start..at]))
            {
                found.push(&words[start..at]);
            }
        }
    };
    see(&entry.head);
    if let Some(block) = &entry.block {
        see(&block.tail);
        block.entries.iter().for_each(|entry| prefixes_used(entry, found));
    }
}

/// One component, as it stands in the notation of the whole.
pub fn component(contract: &Contract, component: Component, convention: &Convention) -> String {
    if component == Component::Contract {
        return self::contract(contract, convention);
    }
    let entries = entries_of(contract, component, convention);
    layout::text(&entries.unwrap_or_else(|| vec![Line::of("…")]))
}

/// The prefixes of a contract, as seen from what stands at a place.
fn prefixes_at(contract: &Contract, place: Place) -> Prefixes {
    let mut prefixes = Prefixes::of(contract);
    if let Some(document) = contract.schemas.document_of(place) {
        prefixes.own = document.namespace.to_string();
    }
    prefixes
}

fn entries_of(contract: &Contract, component: Component, convention: &Convention) -> Option<Vec<Line>> {
    let mut gathering = Gathering::new(contract);
    if let Some(place) = contract.extent_in_schema(component) {
        let prefixes = prefixes_at(contract, place);
        let info = gathering.at(place)?;
        return schema_entries(contract, component, &info, &Printer { prefixes: &prefixes });
    }
    let info = gathering.component(component)?;
    let prefixes = Prefixes::of(contract).seen_from(info.text("targetNamespace").unwrap_or(""));
    let view = View::new(&info, convention);
    let printer = Printer { prefixes: &prefixes };
    let mut operations = Operations { printer: printer.clone(), view: &view, shown: Covered::default() };
    let named = |local: &'static str, name: &str| {
        info.elements().find(|it| it.is_wsdl(local) && it.text("name") == Some(name))
    };
    let entry = match component {
        Component::Message(id) => {
            let info = named("message", &contract.messages[id].name.local)?;
            printer.or_verbatim(info, printer.message(info))
        }
        Component::Part(id, index) => {
            let info = named("message", &contract.messages[id].name.local)?;
            let part = info.elements().filter(|part| part.is_wsdl("part")).nth(index)?;
            printer.or_verbatim(part, printer.part(part).map(Line::of))
        }
        Component::PortType(id) => {
            let info = named("portType", &contract.port_types[id].name.local)?;
            let entry = printer.port_type(info, &mut operations);
            printer.or_verbatim(info, entry)
        }
        Component::Operation(id) => {
            let name = &contract.port_types[id.port_type].name.local;
            operations
                .operation(name, view.port_types.first()?.elements().find(|it| it.is_wsdl("operation"))?)
        }
        Component::OperationSide(id, side) => {
            let info = view.port_types.first()?.elements().find(|it| it.is_wsdl("operation"))?;
            let local = match side {
                Side::Input => "input",
                Side::Output => "output",
                Side::Fault(_) => "fault",
            };
            let index = if let Side::Fault(index) = side { index } else { 0 };
            let side = info.elements().filter(|it| it.is_wsdl(local)).nth(index)?;
            let (headers, _) = view.headers(&contract.port_types[id.port_type].name.local, info);
            let entry = operations.side(info.text("name").unwrap_or(""), side, &headers);
            printer.or_verbatim(side, entry)
        }
        Component::Binding(id) => {
            printer.binding(named("binding", &contract.bindings[id].name.local)?, &view, &Covered::default())
        }
        Component::BindingOperation(id, index) | Component::BindingSide(id, index, _) => {
            let bound = &contract.bindings[id].operations[index];
            printer.bound_operation(&view, &contract.bindings[id].name.local, &bound.name.text)?
        }
        Component::Service(id) => {
            let info = named("service", &contract.services[id].name.local)?;
            printer.or_verbatim(info, printer.service(info, &view))
        }
        Component::Port(id) => {
            let info = named("service", &contract.services[id.service].name.local)?;
            let port = info.elements().filter(|it| it.is_wsdl("port")).nth(id.index)?;
            printer.or_verbatim(port, printer.port(port, &view))
        }
        _ => return None,
    };
    Some(vec![entry])
}

fn schema_entries(
    contract: &Contract,
    component: Component,
    info: &ElementInfo,
    printer: &Printer<'_>,
) -> Option<Vec<Line>> {
    let owner = match component {
        Component::Type(id) => contract.schemas.types[id].owner,
        Component::Element(id) => contract.schemas.elements[id].owner,
        Component::Attribute(id) => contract.schemas.attribute_decls[id].owner,
        Component::ElementUse(_) => return Some(printer.particle(info)),
        _ => Owner::Schema,
    };
    Some(match (owner, component) {
        (Owner::Schema, _) => printer.global(info),
        (_, Component::Element(_)) => printer.particle(info),
        (_, Component::Attribute(_)) => vec![printer.or_verbatim(info, printer.attribute(info, "@", true))],
        _ if info.is_xsd("simpleType") => vec![Line::of(printer.inline_simple(info)?.text())],
        _ => {
            let element = ElementInfo::xsd("element").with("name", "x").holding(info.clone());
            let mut entries = printer.element(&element, "", false)?;
            if let Some(first) = entries.first_mut() {
                first.head = first.head.trim_start_matches("x:").trim_start().to_owned();
            }
            entries
        }
    })
}

/// An element as a line of the type that holds it; its content, if it is written in place, is left out.
///
/// ```text
/// draught: decimal? range 0..30
/// ```
pub fn field(contract: &Contract, element: ElementId, occurs: Occurs) -> String {
    let declared = &contract.schemas.elements[element];
    let name = declared.name.local.to_string();
    let prefixes = prefixes_at(contract, declared.extent);
    let Some(mut info) = Gathering::new(contract).element(element) else { return name };
    info.attributes.retain(|(name, _)| !name.is("", "minOccurs") && !name.is("", "maxOccurs"));
    info.children.retain(|child| !matches!(child, Child::Element(info) if info.is_xsd("annotation")));
    let max = occurs.max.map_or_else(|| "unbounded".to_owned(), |max| max.to_string());
    info.set("minOccurs", Value::Text(occurs.min.to_string()));
    info.set("maxOccurs", Value::Text(max));
    let entries = Printer { prefixes: &prefixes }.element(&info, "", true);
    entries.and_then(|entries| entries.into_iter().next()).map_or(name, first_line)
}

/// The first line of an entry.
fn first_line(entry: Line) -> String {
    let head = entry.head.replace('\n', " ");
    match entry.block {
        Some(block) => format!("{head} {{…}}{}", block.tail.replace('\n', " ")),
        None => head,
    }
}

/// The first line of a type: all of a simple type, the head of a complex one.
pub fn type_line(contract: &Contract, ty: TypeId) -> String {
    let place = contract.schemas.types[ty].extent;
    let prefixes = prefixes_at(contract, place);
    let printer = Printer { prefixes: &prefixes };
    let Some(mut info) = Gathering::new(contract).at(place) else { return String::new() };
    info.children.retain(|child| !matches!(child, Child::Element(info) if info.is_xsd("annotation")));
    let entries = schema_entries(contract, Component::Type(ty), &info, &printer);
    entries
        .and_then(|entries| entries.into_iter().next())
        .map_or(String::new(), |entry| entry.head.replace('\n', " "))
}

/// The name of a type as a field shows it.
pub fn type_name(contract: &Contract, ty: TypeId) -> String {
    match &contract.schemas.types[ty].name {
        Some(name) => Prefixes::of(contract).type_name(name),
        None => type_line(contract, ty),
    }
}

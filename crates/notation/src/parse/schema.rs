//! Reads schemas and their global components.

use charter_source::{Span, ns};

use super::cursor::{Cursor, Parsed};
use super::particles::{
    Local, body, complex, constraint, derivations, global_attribute, global_element, restricting, top,
    value_body,
};
use super::simple::{TypeUse, type_use};
use super::{About, abouts, annotate, verbatim, with};
use crate::info::{Child, ElementInfo, Value};

/// A schema as it is read.
pub(crate) struct SchemaReading {
    pub info: ElementInfo,
    pub local: Local,
}

impl SchemaReading {
    pub fn new(namespace: &str) -> SchemaReading {
        let mut info = ElementInfo::xsd("schema");
        if !namespace.is_empty() {
            info = info.with("targetNamespace", namespace);
        }
        SchemaReading {
            info: info.with("elementFormDefault", "qualified"),
            local: Local { qualified: (true, false) },
        }
    }

    /// Whether anything has been said of it.
    pub fn is_empty(&self) -> bool {
        self.info.children.is_empty() && self.local.qualified == (true, false)
    }

    /// Whether the word that comes next begins something that stands in a schema.
    pub fn accepts(cursor: &mut Cursor<'_>) -> bool {
        matches!(
            cursor.word(),
            Some(
                "type"
                    | "abstract"
                    | "mixed"
                    | "element"
                    | "attribute"
                    | "attributes"
                    | "group"
                    | "elements"
                    | "unique"
                    | "key"
                    | "key-reference"
            )
        )
    }

    /// One item of a schema.
    pub fn item(&mut self, cursor: &mut Cursor<'_>) -> Parsed<()> {
        match cursor.word() {
            Some("about") => annotate(&mut self.info, &abouts(cursor, "about")?),
            Some("elements") => {
                cursor.keyword("elements");
                self.local.qualified.0 = qualified(cursor)?;
                self.info.attributes.retain(|(name, _)| !name.is("", "elementFormDefault"));
                if self.local.qualified.0 {
                    self.info.set("elementFormDefault", Value::Text("qualified".to_owned()));
                }
            }
            Some("attributes") if is_setting(cursor) => {
                cursor.keyword("attributes");
                self.local.qualified.1 = qualified(cursor)?;
                if self.local.qualified.1 {
                    self.info.set("attributeFormDefault", Value::Text("qualified".to_owned()));
                }
            }
            Some(word @ ("block" | "final")) => {
                let mut set = ElementInfo::xsd("complexType");
                derivations(cursor, &mut set)?;
                let value = set.text(word).unwrap_or("").to_owned();
                self.info.set(&format!("{word}Default"), Value::Text(value));
            }
            Some("with") => with(cursor, &mut self.info)?,
            Some("unique" | "key" | "key-reference") => {
                let constraint = constraint(cursor)?;
                match self.info.children.last_mut() {
                    Some(Child::Element(last)) if last.is_xsd("element") => last.push(constraint),
                    _ => return Err(cursor.expected("an element before its constraint")),
                }
            }
            _ => {
                let info = global(cursor, self.local)?;
                if info.is_xsd("annotation") {
                    annotate(&mut self.info, &[About::Xml(info)]);
                } else {
                    self.info.push(info);
                }
            }
        }
        Ok(())
    }
}

/// Whether `attributes` says how attributes are qualified, and does not begin a group of them.
fn is_setting(cursor: &mut Cursor<'_>) -> bool {
    let start = cursor.at;
    cursor.keyword("attributes");
    let found =
        matches!(cursor.word(), Some("qualified" | "unqualified")) && cursor.after_word() != Some('{');
    cursor.at = start;
    found
}

fn qualified(cursor: &mut Cursor<'_>) -> Parsed<bool> {
    if cursor.keyword("qualified") {
        return Ok(true);
    }
    if cursor.keyword("unqualified") { Ok(false) } else { Err(cursor.expected("qualified or unqualified")) }
}

/// A global component.
pub(crate) fn global(cursor: &mut Cursor<'_>, local: Local) -> Parsed<ElementInfo> {
    if verbatim::is_next(cursor) {
        return verbatim::xml(cursor, local.qualified);
    }
    match cursor.word() {
        Some("type" | "abstract" | "mixed") => type_definition(cursor, local),
        Some("element") => {
            cursor.keyword("element");
            global_element(cursor, local)
        }
        Some("attribute") => {
            cursor.keyword("attribute");
            global_attribute(cursor)
        }
        Some("attributes") => attribute_group(cursor, local),
        Some("group") => group(cursor, local),
        _ => Err(cursor.expected("type, element, attribute, attributes, group or xml")),
    }
}

fn type_definition(cursor: &mut Cursor<'_>, local: Local) -> Parsed<ElementInfo> {
    cursor.blanks();
    let start = cursor.at;
    let is_abstract = cursor.keyword("abstract");
    let mixed = cursor.keyword("mixed");
    let before = Span::new(start, cursor.text[..cursor.at].trim_end().len());
    if !cursor.keyword("type") {
        return Err(cursor.expected("\"type\""));
    }
    let name = cursor.name("the name of the type")?;
    let mut head = ElementInfo::xsd("complexType").with("name", name);
    if is_abstract {
        head = head.with("abstract", "true");
    }
    if mixed {
        head = head.with("mixed", "true");
    }
    while matches!(cursor.word(), Some("block" | "final")) {
        derivations(cursor, &mut head)?;
    }
    with(cursor, &mut head)?;
    if !cursor.mark("=") {
        complex(cursor, &mut head, local)?;
        annotate(&mut head, &abouts(cursor, "about")?);
        return Ok(head);
    }
    cursor.space();
    if cursor.word() == Some("restricting") {
        restricting(cursor, &mut head, local)?;
        annotate(&mut head, &abouts(cursor, "about")?);
        return Ok(head);
    }
    let used = type_use(cursor, None)?;
    cursor.blanks();
    if cursor.peek() == Some('{')
        && let TypeUse::Named(base) = &used
    {
        value_body(cursor, &mut head, ElementInfo::xsd("extension").naming("base", base), local)?;
        return Ok(head);
    }
    let mut simple = match used {
        TypeUse::Named(name) => {
            ElementInfo::xsd("simpleType").holding(ElementInfo::xsd("restriction").naming("base", &name))
        }
        TypeUse::Inline(info) => info,
    };
    simple.attributes = head.attributes;
    if is_abstract || mixed {
        let help = Some("leave it out, or give the type attributes in a block".to_owned());
        return Err(cursor.fail(before, "a simple type is neither abstract nor mixed".to_owned(), help));
    }
    annotate(&mut simple, &abouts(cursor, "about")?);
    Ok(simple)
}

fn group(cursor: &mut Cursor<'_>, local: Local) -> Parsed<ElementInfo> {
    cursor.keyword("group");
    let mut info = ElementInfo::xsd("group").with("name", cursor.name("the name of the group")?);
    with(cursor, &mut info)?;
    let open = block_start(cursor);
    let body = body(cursor, local)?;
    if !body.attributes.is_empty() {
        let help = Some("put them into a group of their own: attributes Marks { @flag: string }".to_owned());
        return Err(cursor.fail(open, "a group of elements holds no attributes".to_owned(), help));
    }
    info.children.extend(top(body.particles, false).map(Child::Element));
    annotate(&mut info, &body.about);
    Ok(info)
}

fn attribute_group(cursor: &mut Cursor<'_>, local: Local) -> Parsed<ElementInfo> {
    cursor.keyword("attributes");
    let mut info = ElementInfo::xsd("attributeGroup").with("name", cursor.name("the name of the group")?);
    with(cursor, &mut info)?;
    let open = block_start(cursor);
    let body = body(cursor, local)?;
    if !body.particles.is_empty() {
        let help = Some("write attributes with an @, or put the elements into a group".to_owned());
        return Err(cursor.fail(open, "a group of attributes holds no elements".to_owned(), help));
    }
    info.children = body.attributes.into_iter().map(Child::Element).collect();
    annotate(&mut info, &body.about);
    Ok(info)
}

/// Where the block begins that follows.
fn block_start(cursor: &mut Cursor<'_>) -> Span {
    cursor.blanks();
    Span::new(cursor.at, (cursor.at + 1).min(cursor.text.len()))
}

/// A schema in a block of its own.
pub(crate) fn schema(cursor: &mut Cursor<'_>) -> Parsed<SchemaReading> {
    cursor.keyword("schema");
    let namespace = if cursor.at_string() { cursor.string("a namespace")? } else { String::new() };
    let outer = std::mem::replace(&mut cursor.prefixes.own, namespace.clone());
    let mut reading = SchemaReading::new(&namespace);
    let done = cursor.block(|cursor| reading.item(cursor));
    cursor.prefixes.own = outer;
    done?;
    Ok(reading)
}

/// Whether XML that stands in a contract belongs to its schema.
pub(crate) fn is_schema_item(info: &ElementInfo) -> bool {
    *info.name.namespace == *ns::XSD && !info.is_xsd("schema")
}

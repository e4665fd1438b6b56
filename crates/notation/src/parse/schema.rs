//! Reads schemas and their global components.

use charter_source::{Span, ns};

use super::cursor::{Cursor, Parsed};
use super::particles::{
    Local, body, complex, constraint, derivations, global_attribute, global_element, restricting, top,
    value_body,
};
use super::simple::{TypeUse, type_use};
use super::{About, abouts, annotate, verbatim, with};
use crate::form::{Child, Form, Value};

/// A schema as it is read.
pub(crate) struct SchemaReading {
    pub form: Form,
    pub local: Local,
}

impl SchemaReading {
    pub fn new(namespace: &str) -> SchemaReading {
        let mut form = Form::xsd("schema");
        if !namespace.is_empty() {
            form = form.with("targetNamespace", namespace);
        }
        SchemaReading {
            form: form.with("elementFormDefault", "qualified"),
            local: Local { qualified: (true, false) },
        }
    }

    /// Whether anything has been said of it.
    pub fn is_empty(&self) -> bool {
        self.form.children.is_empty() && self.local.qualified == (true, false)
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
            Some("about") => annotate(&mut self.form, &abouts(cursor, "about")?),
            Some("elements") => {
                cursor.keyword("elements");
                self.local.qualified.0 = qualified(cursor)?;
                self.form.attributes.retain(|(name, _)| !name.is("", "elementFormDefault"));
                if self.local.qualified.0 {
                    self.form.set("elementFormDefault", Value::Text("qualified".to_owned()));
                }
            }
            Some("attributes") if is_setting(cursor) => {
                cursor.keyword("attributes");
                self.local.qualified.1 = qualified(cursor)?;
                if self.local.qualified.1 {
                    self.form.set("attributeFormDefault", Value::Text("qualified".to_owned()));
                }
            }
            Some(word @ ("block" | "final")) => {
                let mut set = Form::xsd("complexType");
                derivations(cursor, &mut set)?;
                let value = set.text(word).unwrap_or("").to_owned();
                self.form.set(&format!("{word}Default"), Value::Text(value));
            }
            Some("with") => with(cursor, &mut self.form)?,
            Some("unique" | "key" | "key-reference") => {
                let constraint = constraint(cursor)?;
                match self.form.children.last_mut() {
                    Some(Child::Element(last)) if last.is_xsd("element") => last.push(constraint),
                    _ => return Err(cursor.expected("an element before its constraint")),
                }
            }
            _ => {
                let form = global(cursor, self.local)?;
                if form.is_xsd("annotation") {
                    annotate(&mut self.form, &[About::Xml(form)]);
                } else {
                    self.form.push(form);
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
pub(crate) fn global(cursor: &mut Cursor<'_>, local: Local) -> Parsed<Form> {
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

fn type_definition(cursor: &mut Cursor<'_>, local: Local) -> Parsed<Form> {
    cursor.blanks();
    let start = cursor.at;
    let is_abstract = cursor.keyword("abstract");
    let mixed = cursor.keyword("mixed");
    let before = Span::new(start, cursor.text[..cursor.at].trim_end().len());
    if !cursor.keyword("type") {
        return Err(cursor.expected("\"type\""));
    }
    let name = cursor.name("the name of the type")?;
    let mut head = Form::xsd("complexType").with("name", name);
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
        value_body(cursor, &mut head, Form::xsd("extension").naming("base", base), local)?;
        return Ok(head);
    }
    let mut simple = match used {
        TypeUse::Named(name) => {
            Form::xsd("simpleType").holding(Form::xsd("restriction").naming("base", &name))
        }
        TypeUse::Inline(form) => form,
    };
    simple.attributes = head.attributes;
    if is_abstract || mixed {
        let help = Some("leave it out, or give the type attributes in a block".to_owned());
        return Err(cursor.fail(before, "a simple type is neither abstract nor mixed".to_owned(), help));
    }
    annotate(&mut simple, &abouts(cursor, "about")?);
    Ok(simple)
}

fn group(cursor: &mut Cursor<'_>, local: Local) -> Parsed<Form> {
    cursor.keyword("group");
    let mut form = Form::xsd("group").with("name", cursor.name("the name of the group")?);
    with(cursor, &mut form)?;
    let open = block_start(cursor);
    let body = body(cursor, local)?;
    if !body.attributes.is_empty() {
        let help = Some("put them into a group of their own: attributes Marks { @flag: string }".to_owned());
        return Err(cursor.fail(open, "a group of elements holds no attributes".to_owned(), help));
    }
    form.children.extend(top(body.particles, false).map(Child::Element));
    annotate(&mut form, &body.about);
    Ok(form)
}

fn attribute_group(cursor: &mut Cursor<'_>, local: Local) -> Parsed<Form> {
    cursor.keyword("attributes");
    let mut form = Form::xsd("attributeGroup").with("name", cursor.name("the name of the group")?);
    with(cursor, &mut form)?;
    let open = block_start(cursor);
    let body = body(cursor, local)?;
    if !body.particles.is_empty() {
        let help = Some("write attributes with an @, or put the elements into a group".to_owned());
        return Err(cursor.fail(open, "a group of attributes holds no elements".to_owned(), help));
    }
    form.children = body.attributes.into_iter().map(Child::Element).collect();
    annotate(&mut form, &body.about);
    Ok(form)
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
pub(crate) fn is_schema_item(form: &Form) -> bool {
    *form.name.namespace == *ns::XSD && !form.is_xsd("schema")
}

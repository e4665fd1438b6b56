//! Reads what stands in a type: elements, groups, wildcards, attributes.

use super::cursor::{Cursor, Parsed};
use super::simple::{TypeUse, facets, type_name, type_use};
use super::{About, abouts, annotate, occurrence, verbatim, with};
use crate::info::{Child, ElementInfo, Value};
use crate::paths;

/// What a schema settles for what stands in it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Local {
    /// Whether local elements, then attributes, are qualified if they do not say.
    pub qualified: (bool, bool),
}

/// What stands in the braces of a type.
#[derive(Default)]
pub(crate) struct Body {
    pub about: Vec<About>,
    pub particles: Vec<ElementInfo>,
    pub attributes: Vec<ElementInfo>,
    /// Whether it says that there are no elements, not even an empty sequence.
    pub empty: bool,
}

impl Body {
    /// The particle at the top, then the attributes.
    fn children(self) -> Vec<Child> {
        let mut children = Vec::new();
        if let Some(top) = top(self.particles, self.empty || !self.attributes.is_empty()) {
            children.push(Child::Element(top));
        }
        children.extend(self.attributes.into_iter().map(Child::Element));
        children
    }
}

/// The particle at the top of a type: a group that stands alone is it, anything else stands in a sequence.
pub(crate) fn top(mut particles: Vec<ElementInfo>, may_be_absent: bool) -> Option<ElementInfo> {
    if particles.is_empty() && may_be_absent {
        return None;
    }
    let is_group =
        |info: &ElementInfo| ["sequence", "choice", "all", "group"].iter().any(|local| info.is_xsd(local));
    if particles.len() == 1 && is_group(&particles[0]) {
        return particles.pop();
    }
    let mut sequence = ElementInfo::xsd("sequence");
    sequence.children = particles.into_iter().map(Child::Element).collect();
    Some(sequence)
}

pub(crate) fn body(cursor: &mut Cursor<'_>, local: Local) -> Parsed<Body> {
    let mut body = Body::default();
    cursor.block(|cursor| member(cursor, local, &mut body))?;
    Ok(body)
}

/// Whether the next word begins a field, and is no word of the notation.
fn is_field(cursor: &mut Cursor<'_>) -> bool {
    let start = cursor.at;
    cursor.blanks();
    if cursor.peek() == Some('`') {
        return true;
    }
    let Some(word) = cursor.word() else { return false };
    let after = &cursor.text[cursor.at + word.len()..];
    let colon = after.starts_with(':') && !after[1..].starts_with(|c: char| c.is_alphabetic());
    let spaced = after.trim_start_matches([' ', '\t']).starts_with(':');
    cursor.at = start;
    colon || spaced
}

/// One item of a type.
fn member(cursor: &mut Cursor<'_>, local: Local, body: &mut Body) -> Parsed<()> {
    cursor.blanks();
    if cursor.peek() == Some('@') {
        body.attributes.push(attribute(cursor)?);
        return Ok(());
    }
    if !is_field(cursor) {
        match cursor.word() {
            Some("about") => {
                body.about.extend(abouts(cursor, "about")?);
                return Ok(());
            }
            Some("empty") => {
                cursor.keyword("empty");
                body.empty = true;
                return Ok(());
            }
            Some("attribute") => {
                body.attributes.push(attribute_reference(cursor)?);
                return Ok(());
            }
            Some("attributes") => {
                body.attributes.push(reference(cursor, "attributes", "attributeGroup")?);
                return Ok(());
            }
            Some("any") if is_any_attribute(cursor) => {
                body.attributes.push(wildcard(cursor, "anyAttribute")?);
                return Ok(());
            }
            Some("unique" | "key" | "key-reference")
                if body.particles.last().is_some_and(|last| last.is_xsd("element")) =>
            {
                let constraint = constraint(cursor)?;
                if let Some(last) = body.particles.last_mut() {
                    last.push(constraint);
                }
                return Ok(());
            }
            _ => {}
        }
    }
    let info = particle(cursor, local)?;
    if super::is_about(&info) {
        body.about.push(About::Xml(info));
        return Ok(());
    }
    let is_attribute = ["attribute", "attributeGroup", "anyAttribute"].iter().any(|it| info.is_xsd(it));
    if is_attribute {
        body.attributes.push(info)
    } else {
        body.particles.push(info)
    }
    Ok(())
}

fn is_any_attribute(cursor: &mut Cursor<'_>) -> bool {
    let start = cursor.at;
    let found = cursor.keyword("any") && cursor.word() == Some("attribute");
    cursor.at = start;
    found
}

/// A particle: a field, a group, the use of something global, a wildcard, or XML.
pub(crate) fn particle(cursor: &mut Cursor<'_>, local: Local) -> Parsed<ElementInfo> {
    if is_field(cursor) {
        return field(cursor, local);
    }
    if verbatim::is_next(cursor) {
        return verbatim::xml(cursor, local.qualified);
    }
    match cursor.word() {
        Some(word @ ("sequence" | "choice" | "all")) => model_group(cursor, word, local),
        Some("element") => reference(cursor, "element", "element"),
        Some("group") => reference(cursor, "group", "group"),
        Some("any") => wildcard(cursor, "any"),
        Some(_) => field(cursor, local),
        None => Err(cursor
            .expected("a field such as draught: decimal, a group, or an attribute such as @unit: string")),
    }
}

/// A particle with the identity constraints that stand behind it.
pub(crate) fn particle_with_constraints(cursor: &mut Cursor<'_>, local: Local) -> Parsed<ElementInfo> {
    let mut info = particle(cursor, local)?;
    loop {
        let before = cursor.at;
        cursor.space();
        if !matches!(cursor.word(), Some("unique" | "key" | "key-reference")) || !info.is_xsd("element") {
            cursor.at = before;
            return Ok(info);
        }
        info.push(constraint(cursor)?);
    }
}

fn model_group(cursor: &mut Cursor<'_>, word: &str, local: Local) -> Parsed<ElementInfo> {
    cursor.keyword(word);
    let mut info = ElementInfo::xsd(word);
    let mut body = Body::default();
    cursor.block(|cursor| {
        let before = body.attributes.len();
        member(cursor, local, &mut body)?;
        if body.attributes.len() > before {
            let span = charter_source::Span::new(cursor.at, cursor.at);
            let help = "put it behind the group".to_owned();
            return Err(cursor.fail(
                span,
                "an attribute cannot stand in a group of elements".to_owned(),
                Some(help),
            ));
        }
        Ok(())
    })?;
    info.children = body.particles.into_iter().map(Child::Element).collect();
    annotate(&mut info, &body.about);
    occurrence(cursor, &mut info)?;
    with(cursor, &mut info)?;
    Ok(info)
}

/// The use of something global: its kind, its name, how often.
fn reference(cursor: &mut Cursor<'_>, word: &str, local: &str) -> Parsed<ElementInfo> {
    cursor.keyword(word);
    let mut info = ElementInfo::xsd(local).naming("ref", &cursor.qname("the name of what is used here")?);
    occurrence(cursor, &mut info)?;
    with(cursor, &mut info)?;
    annotate(&mut info, &abouts(cursor, "about")?);
    Ok(info)
}

fn wildcard(cursor: &mut Cursor<'_>, local: &str) -> Parsed<ElementInfo> {
    cursor.keyword("any");
    let mut info = ElementInfo::xsd(local);
    if local == "any" {
        occurrence(cursor, &mut info)?
    } else {
        cursor.keyword("attribute");
    }
    if cursor.keyword("from") {
        let mut tokens = Vec::new();
        loop {
            tokens.push(match cursor.word() {
                Some(word @ ("other" | "this" | "no")) => {
                    cursor.keyword(word);
                    if !cursor.keyword("namespace") && !cursor.keyword("namespaces") {
                        return Err(cursor.expected("\"namespace\""));
                    }
                    match word {
                        "other" => "##other".to_owned(),
                        "this" => "##targetNamespace".to_owned(),
                        _ => "##local".to_owned(),
                    }
                }
                _ => cursor.string("other namespaces, this namespace, no namespace, or one")?,
            });
            if !cursor.mark(",") {
                break;
            }
        }
        info = info.with("namespace", tokens.join(" "));
    }
    for how in ["lax", "skip"] {
        if cursor.keyword(how) {
            info = info.with("processContents", how);
        }
    }
    with(cursor, &mut info)?;
    annotate(&mut info, &abouts(cursor, "about")?);
    Ok(info)
}

/// A local element.
fn field(cursor: &mut Cursor<'_>, local: Local) -> Parsed<ElementInfo> {
    let name = cursor.name("the name of an element")?;
    let mut info = ElementInfo::xsd("element").with("name", name);
    if cursor.mark(":") {
        typed(cursor, &mut info, local, true)?;
    } else {
        occurrence(cursor, &mut info)?;
    }
    element_tail(cursor, &mut info)?;
    Ok(info)
}

/// A global element, behind the word.
pub(crate) fn global_element(cursor: &mut Cursor<'_>, local: Local) -> Parsed<ElementInfo> {
    let name = cursor.name("the name of an element")?;
    let mut info = ElementInfo::xsd("element").with("name", name);
    if cursor.mark(":") || opens_type(cursor) {
        typed(cursor, &mut info, local, false)?;
    }
    element_tail(cursor, &mut info)?;
    Ok(info)
}

/// Whether a complex type follows right behind a name.
pub(crate) fn opens_type(cursor: &mut Cursor<'_>) -> bool {
    cursor.blanks();
    let block = cursor.peek() == Some('{') && !cursor.at_full_name();
    block || matches!(cursor.word(), Some("extends" | "restricts" | "mixed"))
}

/// The type of an element: a name, a simple type, or a complex type written in place.
pub(crate) fn typed(
    cursor: &mut Cursor<'_>,
    info: &mut ElementInfo,
    local: Local,
    counted: bool,
) -> Parsed<()> {
    cursor.blanks();
    let mut ty = ElementInfo::xsd("complexType");
    if cursor.keyword("mixed") {
        ty = ty.with("mixed", "true");
    }
    if opens_type(cursor) || cursor.word() == Some("restricting") {
        complex(cursor, &mut ty, local)?;
        if counted {
            occurrence(cursor, info)?;
        }
        info.push(ty);
        return Ok(());
    }
    let mut counts = ElementInfo::xsd("element");
    let used = type_use(cursor, counted.then_some(&mut counts))?;
    cursor.blanks();
    if cursor.peek() == Some('{')
        && let TypeUse::Named(base) = &used
    {
        value_body(cursor, &mut ty, ElementInfo::xsd("extension").naming("base", base), local)?;
        if counted {
            occurrence(cursor, info)?;
        }
        info.push(ty);
        return Ok(());
    }
    if !ty.attributes.is_empty() {
        return Err(cursor.expected("a block behind a mixed type"));
    }
    used.give(info);
    info.attributes.extend(counts.attributes);
    Ok(())
}

/// The attributes of a type with simple content.
pub(crate) fn value_body(
    cursor: &mut Cursor<'_>,
    ty: &mut ElementInfo,
    mut derivation: ElementInfo,
    local: Local,
) -> Parsed<()> {
    let at = cursor.at;
    let body = body(cursor, local)?;
    if !body.particles.is_empty() {
        let span = charter_source::Span::new(at, at + 1);
        let help = "a type that holds text can have attributes, such as @unit: string".to_owned();
        return Err(cursor.fail(
            span,
            "elements cannot stand in a type that holds text".to_owned(),
            Some(help),
        ));
    }
    derivation.children.extend(body.attributes.into_iter().map(Child::Element));
    ty.push(ElementInfo::xsd("simpleContent").holding(derivation));
    annotate(ty, &body.about);
    Ok(())
}

/// `restricting B as (…) facets { … }`: a type with simple content by restriction.
pub(crate) fn restricting(cursor: &mut Cursor<'_>, ty: &mut ElementInfo, local: Local) -> Parsed<()> {
    cursor.keyword("restricting");
    let mut derivation = ElementInfo::xsd("restriction").naming("base", &type_name(cursor)?);
    if cursor.keyword("as") {
        cursor.expect("(")?;
        let inline = type_use(cursor, None)?;
        cursor.expect(")")?;
        derivation.push(match inline {
            TypeUse::Inline(info) => info,
            TypeUse::Named(name) => {
                ElementInfo::xsd("simpleType").holding(ElementInfo::xsd("restriction").naming("base", &name))
            }
        });
    }
    derivation.children.extend(facets(cursor)?.into_iter().map(Child::Element));
    cursor.blanks();
    if cursor.peek() == Some('{') {
        return value_body(cursor, ty, derivation, local);
    }
    ty.push(ElementInfo::xsd("simpleContent").holding(derivation));
    Ok(())
}

/// What follows the name of a complex type: what it derives from, and its block.
pub(crate) fn complex(cursor: &mut Cursor<'_>, ty: &mut ElementInfo, local: Local) -> Parsed<()> {
    if cursor.word() == Some("restricting") {
        return restricting(cursor, ty, local);
    }
    let derivation = match cursor.word() {
        Some(word @ ("extends" | "restricts")) => {
            cursor.keyword(word);
            let name = type_name(cursor)?;
            let local = if word == "extends" { "extension" } else { "restriction" };
            Some(ElementInfo::xsd(local).naming("base", &name))
        }
        _ => None,
    };
    with(cursor, ty)?;
    cursor.blanks();
    if derivation.is_some() && cursor.peek() != Some('{') {
        ty.children
            .extend(derivation.map(|it| Child::Element(ElementInfo::xsd("complexContent").holding(it))));
        return Ok(());
    }
    let body = body(cursor, local)?;
    let about = body.about.clone();
    match derivation {
        Some(mut derivation) => {
            derivation.children = body.children();
            ty.push(ElementInfo::xsd("complexContent").holding(derivation));
        }
        None => ty.children.extend(body.children()),
    }
    annotate(ty, &about);
    Ok(())
}

/// What stands behind the type of an element.
pub(crate) fn element_tail(cursor: &mut Cursor<'_>, info: &mut ElementInfo) -> Parsed<()> {
    loop {
        let before = cursor.at;
        match cursor.word() {
            Some(word @ ("nillable" | "abstract")) => {
                cursor.keyword(word);
                info.set(word, Value::Text("true".to_owned()));
            }
            Some("replaces") => {
                cursor.keyword("replaces");
                let head = cursor.qname("the name of a global element")?;
                info.set("substitutionGroup", Value::name(&head));
            }
            Some("block" | "final") => derivations(cursor, info)?,
            _ => shared_tail(cursor, info)?,
        }
        // A word that begins something else is not taken.
        if cursor.at == before {
            return Ok(());
        }
    }
}

/// What stands behind the type of an element and of an attribute alike; nothing, if the next word is another.
fn shared_tail(cursor: &mut Cursor<'_>, info: &mut ElementInfo) -> Parsed<()> {
    match cursor.word() {
        Some(word @ ("qualified" | "unqualified")) => {
            cursor.keyword(word);
            info.set("form", Value::Text(word.to_owned()));
        }
        Some("default" | "fixed") => value(cursor, info)?,
        Some("with") => with(cursor, info)?,
        Some("about") => annotate(info, &abouts(cursor, "about")?),
        Some("xml") if verbatim::is_next(cursor) => annotate(info, &abouts(cursor, "about")?),
        _ => {}
    }
    Ok(())
}

/// A default or fixed value.
fn value(cursor: &mut Cursor<'_>, info: &mut ElementInfo) -> Parsed<()> {
    let word = if cursor.keyword("default") { "default" } else { "fixed" };
    cursor.keyword("fixed");
    let text = cursor.string("the value")?;
    info.set(word, Value::Text(text));
    Ok(())
}

/// `block` or `final`, and the derivations that it names.
pub(crate) fn derivations(cursor: &mut Cursor<'_>, info: &mut ElementInfo) -> Parsed<()> {
    let name = if cursor.keyword("block") { "block" } else { "final" };
    cursor.keyword("final");
    let mut set = Vec::new();
    while let Some(
        word @ ("all" | "none" | "extension" | "restriction" | "substitution" | "list" | "union"),
    ) = cursor.word()
    {
        cursor.keyword(word);
        set.push(match word {
            "all" => "#all",
            "none" => "",
            other => other,
        });
    }
    if set.is_empty() {
        return Err(cursor.expected("all, none, extension, restriction, substitution, list or union"));
    }
    info.set(name, Value::Text(set.join(" ")));
    Ok(())
}

/// `@name: type`, an attribute declared in place.
pub(crate) fn attribute(cursor: &mut Cursor<'_>) -> Parsed<ElementInfo> {
    cursor.mark("@");
    let name = cursor.name("the name of an attribute")?;
    let mut info = ElementInfo::xsd("attribute").with("name", name);
    if cursor.mark(":") {
        let mut usage = ElementInfo::xsd("attribute");
        let used = type_use(cursor, Some(&mut usage))?;
        used.give(&mut info);
        info.attributes.extend(usage.attributes);
    } else if cursor.peek() == Some('?') {
        cursor.at += 1;
    } else {
        info.set("use", Value::Text("required".to_owned()));
    }
    attribute_tail(cursor, &mut info)?;
    Ok(info)
}

/// `attribute name`, the use of a global attribute.
fn attribute_reference(cursor: &mut Cursor<'_>) -> Parsed<ElementInfo> {
    cursor.keyword("attribute");
    let mut info =
        ElementInfo::xsd("attribute").naming("ref", &cursor.qname("the name of a global attribute")?);
    if cursor.peek() == Some('?') {
        cursor.at += 1;
    } else {
        info.set("use", Value::Text("required".to_owned()));
    }
    attribute_tail(cursor, &mut info)?;
    Ok(info)
}

/// A global attribute, behind the word.
pub(crate) fn global_attribute(cursor: &mut Cursor<'_>) -> Parsed<ElementInfo> {
    let name = cursor.name("the name of an attribute")?;
    let mut info = ElementInfo::xsd("attribute").with("name", name);
    if cursor.mark(":") {
        type_use(cursor, None)?.give(&mut info);
    }
    attribute_tail(cursor, &mut info)?;
    Ok(info)
}

fn attribute_tail(cursor: &mut Cursor<'_>, info: &mut ElementInfo) -> Parsed<()> {
    loop {
        let before = cursor.at;
        match cursor.word() {
            Some("prohibited") => {
                cursor.keyword("prohibited");
                info.set("use", Value::Text("prohibited".to_owned()));
            }
            _ => shared_tail(cursor, info)?,
        }
        // A word that begins something else is not taken.
        if cursor.at == before {
            return Ok(());
        }
    }
}

/// An identity constraint of the element before it.
pub(crate) fn constraint(cursor: &mut Cursor<'_>) -> Parsed<ElementInfo> {
    let local = match cursor.word() {
        Some("unique") => "unique",
        Some("key") => "key",
        _ => "keyref",
    };
    let _ = cursor.keyword("unique") || cursor.keyword("key-reference") || cursor.keyword("key");
    let mut info = ElementInfo::xsd(local).with("name", cursor.name("the name of the constraint")?);
    let of = |cursor: &mut Cursor<'_>, word: &str| {
        if cursor.keyword(word) { Ok(()) } else { Err(cursor.expected(&format!("\"{word}\""))) }
    };
    of(cursor, "of")?;
    let path = path(cursor, "selector")?;
    info.push(path);
    of(cursor, "by")?;
    loop {
        let field = self::path(cursor, "field")?;
        info.push(field);
        if !cursor.mark(",") {
            break;
        }
        cursor.space();
    }
    if cursor.keyword("to") {
        let key = cursor.qname("the name of a key")?;
        info.set("refer", Value::name(&key));
    }
    annotate(&mut info, &abouts(cursor, "about")?);
    Ok(info)
}

/// A path in quotes, its prefixes replaced by namespaces in braces.
fn path(cursor: &mut Cursor<'_>, local: &str) -> Parsed<ElementInfo> {
    let start = cursor.at;
    let text = cursor.string("a path")?;
    let namespace = |prefix: &str| cursor.prefixes.namespace(prefix).map(str::to_owned);
    match paths::expanded(&text, &namespace) {
        Ok(path) => Ok(ElementInfo::xsd(local).with("xpath", path)),
        Err(prefix) => {
            let span = charter_source::Span::new(start, cursor.at);
            let help = format!("add a line: prefix {prefix} = \"…\"");
            Err(cursor.fail(span, format!("the prefix \"{prefix}\" is not declared"), Some(help)))
        }
    }
}

//! Reads simple types and their facets.

use charter_schema::Builtin;
use charter_source::{QName, ns};

use super::cursor::{Cursor, Parsed};
use super::{abouts, annotate, occurrence};
use crate::info::{Child, ElementInfo, Value, shared};

/// A type as it is used.
#[derive(Debug, Clone)]
pub(crate) enum TypeUse {
    /// By its name.
    Named(QName),
    /// A `simpleType` written in place.
    Inline(ElementInfo),
}

impl TypeUse {
    /// Gives an element or an attribute this type.
    pub fn give(self, info: &mut ElementInfo) {
        match self {
            TypeUse::Named(name) => info.set("type", Value::name(&name)),
            TypeUse::Inline(inline) => info.children.push(Child::Element(inline)),
        }
    }

    /// The type as a `simpleType` element.
    fn inline(self) -> ElementInfo {
        match self {
            TypeUse::Named(name) => {
                ElementInfo::xsd("simpleType").holding(ElementInfo::xsd("restriction").naming("base", &name))
            }
            TypeUse::Inline(info) => info,
        }
    }
}

/// The name of a type: one without a prefix is of the standard if there is such a one.
pub(crate) fn type_name(cursor: &mut Cursor<'_>) -> Parsed<QName> {
    cursor.blanks();
    let bare = cursor.word().filter(|word| {
        let follows = cursor.text[cursor.at + word.len()..].strip_prefix(':');
        !follows.is_some_and(|rest| rest.starts_with(|c: char| c.is_alphabetic() || c == '_'))
    });
    if let Some(word) = bare
        && Builtin::from_name(word).is_some()
    {
        cursor.at += word.len();
        return Ok(QName::new(ns::XSD, word));
    }
    cursor.qname("the name of a type")
}

/// A type with its facets; the mark of occurrence stands behind the name and goes to `occurs`.
pub(crate) fn type_use(cursor: &mut Cursor<'_>, occurs: Option<&mut ElementInfo>) -> Parsed<TypeUse> {
    cursor.within(|cursor| type_within(cursor, occurs))
}

fn type_within(cursor: &mut Cursor<'_>, occurs: Option<&mut ElementInfo>) -> Parsed<TypeUse> {
    if cursor.word() == Some("list") && cursor.keyword("list") {
        if !cursor.keyword("of") {
            return Err(cursor.expected("\"of\" and the type of the items"));
        }
        let list = match type_use(cursor, None)? {
            TypeUse::Named(name) => ElementInfo::xsd("list").naming("itemType", &name),
            TypeUse::Inline(inline) => ElementInfo::xsd("list").holding(inline),
        };
        if let Some(info) = occurs {
            mark(cursor, info)?;
        }
        return Ok(TypeUse::Inline(ElementInfo::xsd("simpleType").holding(list)));
    }
    if cursor.keyword("either") {
        let union = union(cursor)?;
        if let Some(info) = occurs {
            mark(cursor, info)?;
        }
        return Ok(union);
    }
    if cursor.mark("(") {
        let inner = type_use(cursor, None)?;
        cursor.expect(")")?;
        if let Some(info) = occurs {
            mark(cursor, info)?;
        }
        let facets = facets(cursor)?;
        let inner = inner.inline();
        if facets.is_empty() {
            return Ok(TypeUse::Inline(inner));
        }
        let mut restriction = ElementInfo::xsd("restriction").holding(inner);
        restriction.children.extend(facets.into_iter().map(Child::Element));
        return Ok(TypeUse::Inline(ElementInfo::xsd("simpleType").holding(restriction)));
    }
    let name = type_name(cursor)?;
    if let Some(info) = occurs {
        mark(cursor, info)?;
    }
    let facets = facets(cursor)?;
    if facets.is_empty() {
        return Ok(TypeUse::Named(name));
    }
    let mut restriction = ElementInfo::xsd("restriction").naming("base", &name);
    restriction.children.extend(facets.into_iter().map(Child::Element));
    Ok(TypeUse::Inline(ElementInfo::xsd("simpleType").holding(restriction)))
}

/// The mark of an element says how often, that of an attribute whether it may be left out.
fn mark(cursor: &mut Cursor<'_>, info: &mut ElementInfo) -> Parsed<()> {
    if info.is_xsd("attribute") {
        if cursor.peek() == Some('?') {
            cursor.at += 1;
        } else {
            info.set("use", Value::Text("required".to_owned()));
        }
        return Ok(());
    }
    occurrence(cursor, info)
}

fn union(cursor: &mut Cursor<'_>) -> Parsed<TypeUse> {
    let mut union = ElementInfo::xsd("union");
    let mut names = Vec::new();
    loop {
        match type_use(cursor, None)? {
            TypeUse::Named(name) => names.push(shared(&name.namespace, &name.local)),
            TypeUse::Inline(info) => union.push(info),
        }
        if !cursor.keyword("or") {
            break;
        }
        cursor.space();
    }
    if !names.is_empty() {
        union.set("memberTypes", Value::Names(names));
    }
    Ok(TypeUse::Inline(ElementInfo::xsd("simpleType").holding(union)))
}

/// The facets that come next.
pub(crate) fn facets(cursor: &mut Cursor<'_>) -> Parsed<Vec<ElementInfo>> {
    let mut found = Vec::new();
    loop {
        let Some(word) = cursor.word() else { return Ok(found) };
        if cursor.after_word() == Some(':') {
            return Ok(found);
        }
        match word {
            "length" => range(cursor, word, ["minLength", ""], ["maxLength", ""], &mut found)?,
            "range" => {
                range(
                    cursor,
                    word,
                    ["minInclusive", "minExclusive"],
                    ["maxInclusive", "maxExclusive"],
                    &mut found,
                )?;
            }
            "digits" => value(cursor, word, "totalDigits", &mut found)?,
            "decimals" => value(cursor, word, "fractionDigits", &mut found)?,
            "white-space" => value(cursor, word, "whiteSpace", &mut found)?,
            "like" => patterns(cursor, &mut found)?,
            "one-of" => enumeration(cursor, &mut found)?,
            _ => return Ok(found),
        }
    }
}

/// A value: in quotes, or bare up to a space or to the dots of a range.
fn bare_value(cursor: &mut Cursor<'_>) -> Parsed<Option<String>> {
    if cursor.peek() == Some('"') {
        return cursor.string("a value").map(Some);
    }
    let rest = cursor.rest();
    let plain = |c: char| c.is_ascii_alphanumeric() || matches!(c, '-' | '+' | '.' | ':');
    let end = rest.find(|c: char| !plain(c)).unwrap_or(rest.len());
    let word = &rest[..end];
    let word = word.find("..").map_or(word, |dots| &word[..dots]);
    cursor.at += word.len();
    Ok((!word.is_empty()).then(|| word.to_owned()))
}

fn facet(local: &str, value: String, fixed: bool) -> ElementInfo {
    let info = ElementInfo::xsd(local).with("value", value);
    if fixed { info.with("fixed", "true") } else { info }
}

/// Whether the facet is fixed; a fixed value of an element is another thing.
fn is_fixed(cursor: &mut Cursor<'_>) -> bool {
    if cursor.word() != Some("fixed") || cursor.after_word() == Some('"') {
        return false;
    }
    cursor.keyword("fixed")
}

fn value(cursor: &mut Cursor<'_>, word: &str, local: &str, found: &mut Vec<ElementInfo>) -> Parsed<()> {
    cursor.keyword(word);
    cursor.blanks();
    let Some(value) = bare_value(cursor)? else { return Err(cursor.expected("a value")) };
    let fixed = is_fixed(cursor);
    found.push(facet(local, value, fixed));
    Ok(())
}

fn range(
    cursor: &mut Cursor<'_>,
    word: &str,
    least: [&str; 2],
    most: [&str; 2],
    found: &mut Vec<ElementInfo>,
) -> Parsed<()> {
    cursor.keyword(word);
    cursor.blanks();
    let low = bare_value(cursor)?;
    let open = low.is_some() && !least[1].is_empty() && cursor.peek() == Some('<');
    if open {
        cursor.at += 1;
    }
    if !cursor.rest().starts_with("..") {
        return match low {
            Some(value) if word == "length" => {
                let fixed = is_fixed(cursor);
                found.push(facet("length", value, fixed));
                Ok(())
            }
            _ => Err(cursor.expected("a range, such as 0..30, 0<.. or ..<30")),
        };
    }
    cursor.at += 2;
    let strict = !most[1].is_empty() && cursor.peek() == Some('<');
    if strict {
        cursor.at += 1;
    }
    let high = bare_value(cursor)?;
    if low.is_none() && high.is_none() {
        return Err(cursor.expected("a bound on one side of the range at least"));
    }
    let fixed = is_fixed(cursor);
    found.extend(low.map(|value| facet(least[usize::from(open)], value, fixed)));
    found.extend(high.map(|value| facet(most[usize::from(strict)], value, fixed)));
    Ok(())
}

fn patterns(cursor: &mut Cursor<'_>, found: &mut Vec<ElementInfo>) -> Parsed<()> {
    cursor.keyword("like");
    loop {
        found.push(facet("pattern", cursor.string("a pattern")?, false));
        if cursor.word() != Some("or") {
            return Ok(());
        }
        cursor.keyword("or");
        cursor.space();
    }
}

fn enumeration(cursor: &mut Cursor<'_>, found: &mut Vec<ElementInfo>) -> Parsed<()> {
    cursor.keyword("one-of");
    cursor.space();
    loop {
        let mut value = facet("enumeration", cursor.string("a value")?, false);
        let meanings = abouts(cursor, "means")?;
        annotate(&mut value, &meanings);
        found.push(value);
        // A comma may also end the field that has this type.
        let before = cursor.at;
        if !cursor.mark(",") {
            return Ok(());
        }
        cursor.space();
        if cursor.peek() != Some('"') {
            cursor.at = before;
            return Ok(());
        }
    }
}

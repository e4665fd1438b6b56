//! Reads the notation: the way back from its text to element infos.

pub(crate) mod bindings;
pub(crate) mod contract;
pub(crate) mod cursor;
pub(crate) mod operations;
pub(crate) mod particles;
pub(crate) mod schema;
pub(crate) mod simple;
pub(crate) mod verbatim;

use charter_source::ns;

use crate::info::{Child, ElementInfo, Value, shared};
use cursor::{Cursor, Parsed};

/// The documentation that comes next, if any does; that of a value begins with another word.
fn about(cursor: &mut Cursor<'_>, word: &str) -> Parsed<Option<About>> {
    // What a value means always has its word, since the documentation of its type may follow.
    let start = cursor.at;
    let meaning = word == "means" && cursor.keyword(word);
    if (meaning || word != "means") && verbatim::is_next(cursor) {
        let info = verbatim::xml(cursor, (true, false))?;
        if is_about(&info) {
            return Ok(Some(About::Xml(info)));
        }
        let span = charter_source::Span::new(start, cursor.at);
        return Err(cursor.fail(span, "only an annotation can stand here".to_owned(), None));
    }
    if !meaning {
        if cursor.word() != Some(word) || matches!(cursor.after_word(), Some(':' | '?' | '*' | '+' | '[')) {
            return Ok(None);
        }
        cursor.keyword(word);
    }
    let language = if cursor.at_string() { None } else { Some(cursor.name("documentation in quotes")?) };
    let text = cursor.string("documentation")?;
    Ok(Some(About::Words { language, text: crate::xml_reader::tidy(&text) }))
}

/// All documentation that comes next on the line.
pub(crate) fn abouts(cursor: &mut Cursor<'_>, word: &str) -> Parsed<Vec<About>> {
    let mut found = Vec::new();
    while let Some(next) = about(cursor, word)? {
        found.push(next);
    }
    Ok(found)
}

/// Whether an element holds what an author says.
pub(crate) fn is_about(info: &ElementInfo) -> bool {
    info.is_xsd("annotation") || info.is_wsdl("documentation")
}

/// What an author says.
#[derive(Debug, Clone)]
pub(crate) enum About {
    /// Words, and their language.
    Words { language: Option<String>, text: String },
    /// More than words.
    Xml(ElementInfo),
}

/// Documentation in no particular language.
pub(crate) fn plain_about(text: &str) -> About {
    About::Words { language: None, text: crate::xml_reader::tidy(text) }
}

impl About {
    fn info(&self, namespace: &str) -> ElementInfo {
        let (language, text) = match self {
            About::Words { language, text } => (language, text),
            About::Xml(info) => return info.clone(),
        };
        let mut info = ElementInfo::new(namespace, "documentation");
        if let Some(language) = language {
            info.attributes.push((shared(ns::XML, "lang"), Value::Text(language.clone())));
        }
        if !text.is_empty() {
            info.children.push(Child::Text(text.clone()));
        }
        info
    }
}

/// Puts documentation at the beginning of an element of XML Schema.
pub(crate) fn annotate(info: &mut ElementInfo, abouts: &[About]) {
    for about in abouts {
        let said = about.info(ns::XSD);
        let first = match info.children.first_mut() {
            Some(Child::Element(first)) if first.is_xsd("annotation") => Some(first),
            _ => None,
        };
        match (first, said.is_xsd("annotation")) {
            (Some(annotation), false) => annotation.push(said),
            (None, false) => {
                info.children.insert(0, Child::Element(ElementInfo::xsd("annotation").holding(said)));
            }
            (first, true) => {
                let at = usize::from(first.is_some());
                info.children.insert(at, Child::Element(said));
            }
        }
    }
}

/// Puts documentation at the beginning of an element of WSDL.
pub(crate) fn document(info: &mut ElementInfo, abouts: &[About]) {
    let said = abouts.iter().map(|about| Child::Element(about.info(ns::WSDL)));
    let at = info.elements().take_while(|child| child.is_wsdl("documentation")).count();
    info.children.splice(at..at, said);
}

/// The attributes outside the vocabulary: `with id "x", s:note "y"`.
pub(crate) fn with(cursor: &mut Cursor<'_>, info: &mut ElementInfo) -> Parsed<()> {
    if cursor.word() != Some("with") || cursor.after_word() == Some(':') {
        return Ok(());
    }
    cursor.keyword("with");
    loop {
        let name = cursor.attribute_name()?;
        let value = cursor.string("the value of the attribute")?;
        info.attributes.retain(|(known, _)| **known != name);
        info.attributes.push((shared(&name.namespace, &name.local), Value::Text(value)));
        // A comma may also begin the next item of a line.
        let (before, errors) = (cursor.at, cursor.errors.len());
        if !cursor.mark(",") {
            return Ok(());
        }
        let follows = cursor.attribute_name().is_ok() && cursor.at_string();
        cursor.at = before;
        cursor.errors.truncate(errors);
        if !follows {
            return Ok(());
        }
        cursor.mark(",");
    }
}

/// How often, behind the name of a type.
pub(crate) fn occurrence(cursor: &mut Cursor<'_>, info: &mut ElementInfo) -> Parsed<()> {
    let mut bounds = |min: &str, max: &str| {
        if min != "1" {
            info.set("minOccurs", Value::Text(min.to_owned()));
        }
        if max != "1" {
            info.set("maxOccurs", Value::Text(max.to_owned()));
        }
    };
    // A mark stands right behind what it marks.
    match cursor.peek() {
        Some('?') => bounds("0", "1"),
        Some('*') => bounds("0", "unbounded"),
        Some('+') => bounds("1", "unbounded"),
        Some('[') => {
            let rest = cursor.rest();
            let inside = rest.find(']').map(|end| &rest[1..end]);
            let number = |text: &str| !text.is_empty() && text.bytes().all(|byte| byte.is_ascii_digit());
            match inside.map(|inside| (inside, inside.split_once(".."))) {
                Some((inside, None)) if number(inside) => bounds(inside, inside),
                Some((_, Some((min, "")))) if number(min) => bounds(min, "unbounded"),
                Some((_, Some((min, max)))) if number(min) && number(max) => bounds(min, max),
                _ => return Err(cursor.expected("a number of occurrences, such as [2..5], [2..] or [3]")),
            }
            cursor.at += inside.map_or(0, |inside| inside.len() + 1);
        }
        _ => return Ok(()),
    }
    cursor.at += 1;
    Ok(())
}

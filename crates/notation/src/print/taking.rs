//! Takes an element info apart, and knows whether anything was left that the notation has no words for.

use std::sync::Arc;

use charter_source::{QName, ns};

use super::Printer;
use crate::info::{Child, ElementInfo, Value};
use crate::layout::quoted;
use crate::prefixes::Prefixes;

/// An element info of which parts have been taken.
pub(crate) struct Taking<'f> {
    info: &'f ElementInfo,
    /// Which attributes are left.
    left: Vec<bool>,
    /// The first child that is left.
    at: usize,
}

impl<'f> Taking<'f> {
    pub fn new(info: &'f ElementInfo) -> Self {
        Taking { info, left: vec![true; info.attributes.len()], at: 0 }
    }

    fn value(&mut self, name: &str) -> Option<&'f Value> {
        let at = self.info.attributes.iter().position(|(known, _)| known.is("", name))?;
        self.left[at] = false;
        Some(&self.info.attributes[at].1)
    }

    /// Takes the text of an attribute; it stays if it is no text.
    pub fn text(&mut self, name: &str) -> Option<&'f str> {
        self.info.text(name)?;
        match self.value(name) {
            Some(Value::Text(text)) => Some(text),
            _ => None,
        }
    }

    /// Takes an attribute that holds a name; it stays if it does not.
    pub fn ncname(&mut self, name: &str) -> Option<&'f str> {
        self.info.text(name).filter(|text| charter_source::is_ncname(text))?;
        self.text(name)
    }

    /// Takes the names in an attribute; it stays if it does not hold names.
    pub fn names(&mut self, name: &str) -> Option<&'f [Arc<QName>]> {
        let found = self.info.attributes.iter().find(|(known, _)| known.is("", name));
        match found {
            Some((_, Value::Names(names))) if names.iter().all(|it| charter_source::is_ncname(&it.local)) => {
            }
            _ => return None,
        }
        match self.value(name) {
            Some(Value::Names(names)) => Some(names),
            _ => None,
        }
    }

    /// Takes the one name in an attribute.
    pub fn name(&mut self, name: &str) -> Option<&'f QName> {
        match self.names(name) {
            Some([only]) => Some(only),
            _ => None,
        }
    }

    /// Takes an attribute that can only be true.
    pub fn flag(&mut self, name: &str) -> bool {
        if self.info.text(name) != Some("true") {
            return false;
        }
        self.text(name).is_some()
    }

    /// The next child, not yet taken.
    pub fn peek(&self) -> Option<&'f ElementInfo> {
        match self.info.children.get(self.at) {
            Some(Child::Element(info)) => Some(info),
            _ => None,
        }
    }

    /// Takes the next child.
    pub fn next(&mut self) -> Option<&'f ElementInfo> {
        let found = self.peek()?;
        self.at += 1;
        Some(found)
    }

    /// Takes the next child if it has a name of XML Schema.
    pub fn xsd(&mut self, local: &str) -> Option<&'f ElementInfo> {
        self.peek().filter(|child| child.is_xsd(local))?;
        self.next()
    }

    /// Takes the documentation: of a contract's element, or in the annotation of a schema's. What is more than words
    /// stands as XML.
    pub fn about(&mut self, printer: &Printer<'_>) -> Option<Vec<String>> {
        let mut found = Vec::new();
        while let Some(next) = self.peek() {
            let words = if next.is_wsdl("documentation") {
                documentation(next).map(|words| vec![words])
            } else if next.is_xsd("annotation") && found.is_empty() {
                annotation(next)
            } else {
                break;
            };
            self.next();
            found.extend(words.unwrap_or_else(|| vec![printer.verbatim(next).head]));
        }
        Some(found)
    }

    /// The attributes that are left, as words; `None` if one of them holds names.
    pub fn others(&mut self, prefixes: &Prefixes) -> Option<String> {
        let mut words = Vec::new();
        for (at, (name, value)) in self.info.attributes.iter().enumerate() {
            if !self.left[at] {
                continue;
            }
            let Value::Text(text) = value else { return None };
            let shown = match &*name.namespace {
                "" => name.local.to_string(),
                namespace => match prefixes.of_namespace(namespace) {
                    Some(prefix) => format!("{prefix}:{}", name.local),
                    None => format!("{{{namespace}}}{}", name.local),
                },
            };
            self.left[at] = false;
            words.push(format!("{shown} {}", quoted(text)));
        }
        Some(if words.is_empty() { String::new() } else { format!(" with {}", words.join(", ")) })
    }

    /// Whether all has been taken.
    pub fn done(&self) -> Option<()> {
        (self.at == self.info.children.len() && !self.left.iter().any(|left| *left)).then_some(())
    }
}

/// The documentation in an annotation, if that is all it holds.
fn annotation(info: &ElementInfo) -> Option<Vec<String>> {
    let mut inside = Taking::new(info);
    let mut found = Vec::new();
    while let Some(child) = inside.xsd("documentation") {
        found.push(documentation(child)?);
    }
    inside.done()?;
    (!found.is_empty()).then_some(found)
}

/// One documentation as words: its text, with the language before it.
fn documentation(info: &ElementInfo) -> Option<String> {
    let mut language = None;
    for (name, value) in &info.attributes {
        match value {
            Value::Text(text) if name.is(ns::XML, "lang") && is_language(text) => language = Some(text),
            _ => return None,
        }
    }
    let text = match info.children.as_slice() {
        [] => "",
        [Child::Text(text)] => text,
        _ => return None,
    };
    let language = language.map_or(String::new(), |language| format!("{language} "));
    Some(format!("about {language}{}", paragraphs(text)))
}

fn is_language(text: &str) -> bool {
    !text.is_empty() && text.chars().all(|c| c.is_ascii_alphanumeric() || c == '-')
}

/// Text in quotes with its line breaks: how far the lines that follow are indented says nothing.
fn paragraphs(text: &str) -> String {
    let lines: Vec<String> = text.split('\n').map(quoted).collect();
    lines.join("\n").replace("\"\n\"", "\n")
}

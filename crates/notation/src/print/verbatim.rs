//! XML as it is, for what the notation has no words for.

use charter_source::xml::{Escape, escaped};
use charter_source::{QName, ns};

use super::Printer;
use crate::info::{Child, ElementInfo, Value};
use crate::layout::Line;
use crate::prefixes::Prefixes;
use crate::vocabulary::USUAL;
use crate::{paths, vocabulary};

const VALUE: Escape = Escape::Value('"');

/// The prefixes in a piece of XML.
struct Scope<'p> {
    contract: &'p Prefixes,
    /// Those that it declares itself.
    declared: Vec<(String, String)>,
}

impl Scope<'_> {
    /// The prefix of a namespace: one declared here, the usual one, or that of the contract.
    fn prefix(&self, namespace: &str) -> Option<&str> {
        if namespace == ns::XML {
            return Some("xml");
        }
        let declared = self.declared.iter().find(|(_, known)| known == namespace);
        if let Some((prefix, _)) = declared {
            return Some(prefix);
        }
        let usual = USUAL.iter().find(|(_, known)| *known == namespace).map(|(prefix, _)| *prefix);
        let outer = usual.or_else(|| self.contract.of_namespace(namespace))?;
        // It must not mean something else here, nor where the text is read again.
        let is_shadowed = self.declared.iter().any(|(prefix, _)| prefix == outer);
        let is_taken = self.contract.namespace(outer).is_some_and(|known| known != namespace);
        (!is_shadowed && !is_taken).then_some(outer)
    }

    fn name(&self, name: &QName) -> String {
        match self.prefix(&name.namespace) {
            Some(prefix) => format!("{prefix}:{}", name.local),
            None => name.local.to_string(),
        }
    }

    fn declare(&mut self, namespace: &str) {
        if !namespace.is_empty() && self.prefix(namespace).is_none() {
            let number = self.declared.len() + 1;
            self.declared.push((format!("n{number}"), namespace.to_owned()));
        }
    }

    /// Declares what the names in an element info need, and keeps what its texts need.
    fn collect(&mut self, info: &ElementInfo) {
        for (prefix, namespace) in info.used_prefixes() {
            if !self.declared.iter().any(|(known, _)| known == prefix) {
                self.declared.push((prefix.clone(), namespace.clone()));
            }
        }
        self.declare(&info.name.namespace);
        for (name, value) in &info.attributes {
            self.declare(&name.namespace);
            match value {
                Value::Names(names) => names.iter().for_each(|name| self.declare(&name.namespace)),
                Value::Text(text) if vocabulary::holds_path(&info.name, &name.local) => {
                    paths::namespaces(text).for_each(|namespace| self.declare(namespace));
                }
                Value::Text(_) => {}
            }
        }
        info.elements().for_each(|child| self.collect(child));
    }
}

impl Printer<'_> {
    /// An element info as XML that stands by itself, but for the prefixes of the contract and the usual ones.
    pub(crate) fn verbatim(&self, info: &ElementInfo) -> Line {
        let mut scope = Scope { contract: self.prefixes, declared: Vec::new() };
        scope.collect(info);
        let mut lines = Vec::new();
        element(info, &scope, true, 0, &mut lines);
        Line::of(format!("xml {}", lines.join("\n")))
    }
}

fn element(info: &ElementInfo, scope: &Scope<'_>, top: bool, depth: usize, lines: &mut Vec<String>) {
    let name = scope.name(&info.name);
    let mut tag = format!("{}<{name}", "  ".repeat(depth));
    for (own, value) in &info.attributes {
        let text = match value {
            Value::Text(text) if vocabulary::holds_path(&info.name, &own.local) => {
                paths::prefixed(text, &|namespace| scope.prefix(namespace).map(str::to_owned))
            }
            Value::Text(text) => text.clone(),
            Value::Names(names) => names.iter().map(|name| scope.name(name)).collect::<Vec<_>>().join(" "),
        };
        tag.push_str(&format!(" {}=\"{}\"", scope.name(own), escaped(&text, VALUE)));
    }
    if top {
        for (prefix, namespace) in &scope.declared {
            tag.push_str(&format!(" xmlns:{prefix}=\"{}\"", escaped(namespace, VALUE)));
        }
    }
    if info.children.is_empty() {
        lines.push(format!("{tag}/>"));
        return;
    }
    if info.children.iter().any(|child| matches!(child, Child::Text(_))) {
        let mut line = format!("{tag}>");
        info.children.iter().for_each(|child| flow(child, scope, &mut line));
        lines.push(format!("{line}</{name}>"));
        return;
    }
    lines.push(format!("{tag}>"));
    for child in &info.children {
        match child {
            Child::Element(child) => element(child, scope, false, depth + 1, lines),
            Child::Comment(text) => lines.push(format!("{}<!--{}-->", "  ".repeat(depth + 1), comment(text))),
            Child::Text(_) => {}
        }
    }
    lines.push(format!("{}</{name}>", "  ".repeat(depth)));
}

/// Content in which white space counts.
fn flow(child: &Child, scope: &Scope<'_>, line: &mut String) {
    match child {
        Child::Text(text) => line.push_str(&escaped(text, Escape::Line)),
        Child::Comment(text) => line.push_str(&format!("<!--{}-->", comment(text))),
        Child::Element(info) => {
            let mut inner = Vec::new();
            let plain = ElementInfo { children: Vec::new(), origin: None, ..info.clone() };
            element(&plain, scope, false, 0, &mut inner);
            let tag = inner.pop().unwrap_or_default();
            if info.children.is_empty() {
                line.push_str(&tag);
                return;
            }
            line.push_str(&tag.replace("/>", ">"));
            info.children.iter().for_each(|child| flow(child, scope, line));
            line.push_str(&format!("</{}>", scope.name(&info.name)));
        }
    }
}

/// A comment on one line, so that its lines are not moved.
fn comment(text: &str) -> String {
    text.split('\n').map(str::trim).collect::<Vec<_>>().join(" ")
}

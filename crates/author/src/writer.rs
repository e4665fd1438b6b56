//! Writes element infos as XML that fits in where it goes: with the prefixes in scope there, and the file's own layout.

use charter_notation::{Child, ElementInfo, Value, paths};
use charter_source::xml::{Escape, escaped};
use charter_source::{Node, QName, ns};

/// Prefixes by which the usual namespaces go where a file has none for them yet.
const USUAL: [(&str, &str); 7] = [
    ("xs", ns::XSD),
    ("wsdl", ns::WSDL),
    ("soap", ns::WSDL_SOAP11),
    ("soap12", ns::WSDL_SOAP12),
    ("http", ns::WSDL_HTTP),
    ("mime", ns::WSDL_MIME),
    ("soapenc", ns::SOAP11_ENCODING),
];

/// The namespaces in scope at a place: prefixes with what they stand for; the empty one is the default.
#[derive(Debug, Clone, Default)]
pub(crate) struct Scope {
    bound: Vec<(String, String)>,
}

impl Scope {
    /// What is in scope inside an element.
    pub fn of(node: Node<'_>) -> Scope {
        let bound = node.namespaces().map(|it| (it.name().unwrap_or("").to_owned(), it.uri().to_owned()));
        Scope { bound: bound.collect() }
    }

    /// Binds a prefix, in place of what it stood for.
    pub fn bind(&mut self, prefix: &str, namespace: &str) {
        self.bound.retain(|(known, _)| known != prefix);
        self.bound.push((prefix.to_owned(), namespace.to_owned()));
    }

    /// A prefix of a namespace; that of `like` if it is one.
    pub fn prefix(&self, namespace: &str, default: bool, like: Option<&str>) -> Option<&str> {
        if namespace == ns::XML {
            return Some("xml");
        }
        let mut all =
            self.bound.iter().filter(|(prefix, bound)| bound == namespace && (default || !prefix.is_empty()));
        let liked = all.clone().find(|(prefix, _)| Some(prefix.as_str()) == like);
        liked.or_else(|| all.next()).map(|(prefix, _)| prefix.as_str())
    }

    pub fn has_default(&self) -> bool {
        self.bound.iter().any(|(prefix, namespace)| prefix.is_empty() && !namespace.is_empty())
    }

    /// A prefix that is free here.
    pub fn free(&self, namespace: &str, wanted: Option<&str>) -> String {
        let usual = USUAL.iter().find(|(_, known)| *known == namespace).map(|(prefix, _)| *prefix);
        let stem = wanted.or(usual).unwrap_or("ns");
        let mut free = stem.to_owned();
        let mut number = 1;
        while free.is_empty() || self.bound.iter().any(|(known, _)| *known == free) {
            number += 1;
            free = format!("{stem}{number}");
        }
        free
    }
}

/// How a file is laid out.
#[derive(Debug, Clone)]
pub(crate) struct Layout {
    /// The indentation of one level.
    pub unit: String,
    pub line_end: &'static str,
    pub quote: char,
}

/// Writes one element and what stands in it.
pub(crate) struct Writer<'w> {
    pub layout: &'w Layout,
    /// Prefixes that the author of the notation chose.
    pub wished: &'w dyn Fn(&str) -> Option<String>,
    /// Whether elements that hold elements have lines of their own.
    pub lines: bool,
}

impl Writer<'_> {
    /// The text of an element info that stands in `scope`, on a line indented by `indent`. `like` is the prefix of what is
    /// around it.
    pub fn element(&self, info: &ElementInfo, scope: &Scope, indent: &str, like: Option<&str>) -> String {
        let mut scope = scope.clone();
        let mut declared = Vec::new();
        self.declare(info, &mut scope, &mut declared);
        let mut text = String::new();
        self.write(info, &scope, indent, like, &declared, &mut text);
        text
    }

    /// Declares what the names of an element info and of all in it need and the scope lacks.
    fn declare(&self, info: &ElementInfo, scope: &mut Scope, declared: &mut Vec<(String, String)>) {
        for (prefix, namespace) in info.used_prefixes() {
            let is_bound = scope.bound.iter().any(|(known, bound)| known == prefix && bound == namespace);
            if !is_bound {
                scope.bind(prefix, namespace);
                declared.push((prefix.clone(), namespace.clone()));
            }
        }
        let mut need = |namespace: &str, default: bool| {
            if !namespace.is_empty() && scope.prefix(namespace, default, None).is_none() {
                let prefix = scope.free(namespace, (self.wished)(namespace).as_deref());
                scope.bind(&prefix, namespace);
                declared.push((prefix, namespace.to_owned()));
            }
        };
        need(&info.name.namespace, true);
        for (name, value) in &info.attributes {
            need(&name.namespace, false);
            match value {
                Value::Names(names) => names.iter().for_each(|name| need(&name.namespace, true)),
                Value::Text(text) if is_path(info, name) => {
                    paths::namespaces(text).for_each(|namespace| need(namespace, false));
                }
                Value::Text(_) => {}
            }
        }
        info.elements().for_each(|child| self.declare(child, scope, declared));
    }

    fn write(
        &self,
        info: &ElementInfo,
        scope: &Scope,
        indent: &str,
        like: Option<&str>,
        declared: &[(String, String)],
        text: &mut String,
    ) {
        let prefix = scope.prefix(&info.name.namespace, true, like).unwrap_or("").to_owned();
        let name = qualified(&prefix, &info.name.local);
        text.push_str(&format!("<{name}"));
        for (own, value) in &info.attributes {
            let own_name = qualified(scope.prefix(&own.namespace, false, None).unwrap_or(""), &own.local);
            text.push_str(&format!(" {own_name}={}", self.quoted(&self.value(info, own, value, scope))));
        }
        for (prefix, namespace) in declared {
            text.push_str(&format!(" {}={}", qualified("xmlns", prefix), self.quoted(namespace)));
        }
        if info.children.is_empty() {
            text.push_str("/>");
            return;
        }
        text.push('>');
        let inner = format!("{indent}{}", self.layout.unit);
        let words = info.children.iter().any(|child| matches!(child, Child::Text(_)));
        if words || !self.lines {
            self.flow(info, scope, &inner, indent, &prefix, text);
        } else {
            for child in &info.children {
                text.push_str(self.layout.line_end);
                text.push_str(&inner);
                self.child(child, scope, &inner, &prefix, text);
            }
            text.push_str(self.layout.line_end);
            text.push_str(indent);
        }
        text.push_str(&format!("</{name}>"));
    }

    fn child(&self, child: &Child, scope: &Scope, indent: &str, like: &str, text: &mut String) {
        match child {
            Child::Element(info) => self.write(info, scope, indent, Some(like), &[], text),
            Child::Text(words) => text.push_str(&escaped(words, Escape::Text)),
            Child::Comment(words) => text.push_str(&format!("<!--{words}-->")),
        }
    }

    /// Content in which white space counts; documentation of several lines has them on lines of their own.
    fn flow(
        &self,
        info: &ElementInfo,
        scope: &Scope,
        inner: &str,
        indent: &str,
        like: &str,
        text: &mut String,
    ) {
        if let [Child::Text(words)] = info.children.as_slice()
            && words.contains('\n')
            && &*info.name.local == "documentation"
        {
            for line in words.split('\n') {
                text.push_str(self.layout.line_end);
                if !line.is_empty() {
                    text.push_str(inner);
                    text.push_str(&escaped(line, Escape::Text));
                }
            }
            text.push_str(self.layout.line_end);
            text.push_str(indent);
            return;
        }
        info.children.iter().for_each(|child| self.child(child, scope, inner, like, text));
    }

    /// The value of an attribute as it stands in the text, not yet escaped.
    pub fn value(&self, info: &ElementInfo, attribute: &QName, value: &Value, scope: &Scope) -> String {
        match value {
            Value::Text(text) if is_path(info, attribute) => {
                paths::prefixed(text, &|namespace| scope.prefix(namespace, false, None).map(str::to_owned))
            }
            Value::Text(text) => text.clone(),
            Value::Names(names) => {
                let each = names.iter().map(|name| {
                    let prefix = if name.namespace.is_empty() {
                        None
                    } else {
                        scope.prefix(&name.namespace, true, None)
                    };
                    qualified(prefix.unwrap_or(""), &name.local)
                });
                each.collect::<Vec<_>>().join(" ")
            }
        }
    }

    pub fn quoted(&self, value: &str) -> String {
        let quote = self.layout.quote;
        format!("{quote}{}{quote}", escaped(value, Escape::Value(quote)))
    }
}

/// Whether an attribute holds the path of an identity constraint.
fn is_path(info: &ElementInfo, attribute: &QName) -> bool {
    *info.name.namespace == *ns::XSD && attribute.is("", "xpath")
}

pub(crate) fn qualified(prefix: &str, local: &str) -> String {
    if prefix.is_empty() {
        local.to_owned()
    } else if local.is_empty() {
        prefix.to_owned()
    } else {
        format!("{prefix}:{local}")
    }
}

//! What the schema element around a component settles for it, and the reading of single attributes.

use std::sync::Arc;

use charter_source::{
    Fault, FileId, Interner, Node, Place, attribute_place, ns, qname_tokens, resolve_qname, tag_place,
};

use super::Reader;
use crate::component::{DerivationSet, Ref, ValueConstraint};
use crate::particle::{NamespaceConstraint, Occurs, Process, Wildcard};

/// The settings of a schema document.
pub(super) struct Scope {
    pub file: FileId,
    pub namespace: Arc<str>,
    /// Whether names without a namespace mean the namespace lent by an including schema.
    pub adopted: bool,
    pub elements_qualified: bool,
    pub attributes_qualified: bool,
    pub block: DerivationSet,
    pub final_: DerivationSet,
}

impl Scope {
    pub fn of_schema(names: &mut Interner, file: FileId, node: Node<'_>, lent: Option<Arc<str>>) -> Scope {
        let qualified = |attribute: &str| node.attribute(attribute).map(str::trim) == Some("qualified");
        let own = node.attribute("targetNamespace").unwrap_or("");
        let adopted = lent.is_some();
        Scope {
            file,
            namespace: lent.unwrap_or_else(|| names.intern(own)),
            adopted,
            elements_qualified: qualified("elementFormDefault"),
            attributes_qualified: qualified("attributeFormDefault"),
            block: derivation_set(node.attribute("blockDefault")),
            final_: derivation_set(node.attribute("finalDefault")),
        }
    }

    /// The set that an attribute of a component names, or the default of the schema.
    pub fn block(&self, node: Node<'_>) -> DerivationSet {
        node.attribute("block").map_or(self.block, |value| derivation_set(Some(value)))
    }

    pub fn final_(&self, node: Node<'_>) -> DerivationSet {
        node.attribute("final").map_or(self.final_, |value| derivation_set(Some(value)))
    }
}

fn derivation_set(value: Option<&str>) -> DerivationSet {
    let mut set = DerivationSet::default();
    for word in value.unwrap_or("").split_ascii_whitespace() {
        match word {
            "extension" => set.extension = true,
            "restriction" => set.restriction = true,
            "substitution" => set.substitution = true,
            "list" => set.list = true,
            "union" => set.union = true,
            "#all" => {
                set = DerivationSet {
                    extension: true,
                    restriction: true,
                    substitution: true,
                    list: true,
                    union: true,
                };
            }
            _ => {}
        }
    }
    set
}

/// Whether a boolean attribute says so.
pub(super) fn is_true(node: Node<'_>, attribute: &str) -> bool {
    matches!(node.attribute(attribute).map(str::trim), Some("true" | "1"))
}

/// The default or fixed value that an element or attribute declares.
pub(super) fn value_of(node: Node<'_>) -> Option<ValueConstraint> {
    let default = node.attribute("default").map(|value| ValueConstraint::Default(value.to_owned()));
    node.attribute("fixed").map(|value| ValueConstraint::Fixed(value.to_owned())).or(default)
}

impl Reader<'_> {
    /// The references that the tokens of an attribute make. One whose prefix is not declared is a fault, and
    /// has neither name nor target.
    pub(super) fn references<T>(&mut self, scope: &Scope, node: Node<'_>, attribute: &str) -> Vec<Ref<T>> {
        let Some(attribute) = node.attribute_node(attribute) else { return Vec::new() };
        let mut found = Vec::new();
        for (token, place) in qname_tokens(scope.file, node, &attribute) {
            match resolve_qname(&mut self.set.interner, node, token) {
                Ok(mut name) => {
                    if scope.adopted && name.namespace.is_empty() {
                        name.namespace = scope.namespace.clone();
                    }
                    found.push(Ref::named(name, place));
                }
                Err(prefix) => {
                    let message = format!("the prefix \"{prefix}\" is not declared");
                    let help = format!("add xmlns:{prefix}=\"…\" to this element or to one around it");
                    self.set.faults.push(Fault::new("xml-prefix", place, message).help(help));
                    found.push(Ref { name: None, place, target: None });
                }
            }
        }
        found
    }

    /// The one reference that an attribute makes.
    pub(super) fn reference<T>(&mut self, scope: &Scope, node: Node<'_>, attribute: &str) -> Option<Ref<T>> {
        self.references(scope, node, attribute).into_iter().next()
    }

    /// How often a particle occurs.
    pub(super) fn occurs(&mut self, scope: &Scope, node: Node<'_>) -> Occurs {
        let min = self.count(scope, node, "minOccurs").flatten().unwrap_or(1);
        let max = self.count(scope, node, "maxOccurs").unwrap_or(Some(1));
        if max.is_some_and(|max| max < min) {
            let message = format!("minOccurs {min} is more than maxOccurs {}", max.unwrap_or(0));
            let fault = Fault::new("schema-occurs", tag_place(scope.file, node), message);
            self.set.faults.push(fault.help("raise maxOccurs or lower minOccurs"));
        }
        Occurs { min, max }
    }

    /// The outer option is whether the attribute is there, the inner one whether it is bounded.
    fn count(&mut self, scope: &Scope, node: Node<'_>, name: &str) -> Option<Option<u32>> {
        let attribute = node.attribute_node(name)?;
        let value = attribute.value().trim();
        if value == "unbounded" && name == "maxOccurs" {
            return Some(None);
        }
        let digits = value.strip_prefix('+').unwrap_or(value);
        if !digits.is_empty() && digits.bytes().all(|byte| byte.is_ascii_digit()) {
            // More than four thousand million is as good as that many.
            return Some(Some(digits.parse().unwrap_or(u32::MAX)));
        }
        let message = format!("\"{value}\" is not a number of occurrences");
        let help = if name == "maxOccurs" {
            "write a whole number from 0, or unbounded"
        } else {
            "write a whole number from 0"
        };
        let fault = Fault::new("schema-occurs", attribute_place(scope.file, &attribute), message);
        self.set.faults.push(fault.help(help));
        None
    }

    /// `xsd:any` or `xsd:anyAttribute`.
    pub(super) fn wildcard(&mut self, scope: &Scope, node: Node<'_>) -> Wildcard {
        let namespaces = match node.attribute("namespace").map(str::trim) {
            None | Some("##any") => NamespaceConstraint::Any,
            Some("##other") => NamespaceConstraint::Not(scope.namespace.clone()),
            Some(list) => NamespaceConstraint::OneOf(
                list.split_ascii_whitespace()
                    .map(|word| match word {
                        "##targetNamespace" => scope.namespace.clone(),
                        "##local" => self.set.interner.intern(""),
                        namespace => self.set.interner.intern(namespace),
                    })
                    .collect(),
            ),
        };
        let process = match node.attribute("processContents").map(str::trim) {
            Some("lax") => Process::Lax,
            Some("skip") => Process::Skip,
            _ => Process::Strict,
        };
        Wildcard { namespaces, process, place: tag_place(scope.file, node) }
    }

    /// The child elements that are components: those of XML Schema, without annotations.
    pub(super) fn parts<'a>(&mut self, scope: &Scope, node: Node<'a>) -> Vec<Node<'a>> {
        let mut found = Vec::new();
        for child in charter_source::elements(node) {
            if child.tag_name().namespace() != Some(ns::XSD) {
                self.unexpected(scope, child);
            } else if child.tag_name().name() != "annotation" {
                found.push(child);
            }
        }
        found
    }
}

/// The whole of an element.
pub(super) fn extent(scope: &Scope, node: Node<'_>) -> Place {
    Place { file: scope.file, span: node.range().into() }
}

//! What the schema element around a component settles for it, and the reading of single attributes.

use std::sync::Arc;

use charter_source::{
    Fault, FileId, Interner, Node, Place, first_qname, ns, qname_tokens, resolve_qname, tag_place,
};

use super::SchemaReader;
use crate::component::{DerivationSet, Ref, ValueConstraint};
use crate::particle::Occurs;
use crate::wildcard::{NamespaceConstraint, Process, Wildcard};

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
    /// The namespaces that are imported.
    imported: Vec<Arc<str>>,
}

impl Scope {
    pub fn of_schema(names: &mut Interner, file: FileId, node: Node<'_>, lent: Option<Arc<str>>) -> Scope {
        let qualified = |attribute: &str| node.attribute(attribute).map(str::trim) == Some("qualified");
        let own = node.attribute("targetNamespace").unwrap_or("");
        let adopted = lent.is_some();
        let imports = charter_source::elements(node).filter(|child| child.has_tag_name((ns::XSD, "import")));
        let imported =
            imports.map(|import| names.intern(import.attribute("namespace").unwrap_or(""))).collect();
        Scope {
            file,
            namespace: lent.unwrap_or_else(|| names.intern(own)),
            adopted,
            elements_qualified: qualified("elementFormDefault"),
            attributes_qualified: qualified("attributeFormDefault"),
            block: derivation_set(node.attribute("blockDefault")),
            final_: derivation_set(node.attribute("finalDefault")),
            imported,
        }
    }

    /// Whether references into a namespace are allowed (Part 1, 3.15.3, src-resolve, 4).
    fn sees(&self, namespace: &str) -> bool {
        *self.namespace == *namespace
            || namespace == ns::XSD
            || self.imported.iter().any(|it| **it == *namespace)
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
pub(super) fn value_of(node: Node<'_>) -> Option<Box<ValueConstraint>> {
    let default = node.attribute("default").map(|value| ValueConstraint::Default(value.to_owned()));
    node.attribute("fixed").map(|value| ValueConstraint::Fixed(value.to_owned())).or(default).map(Box::new)
}

impl SchemaReader<'_> {
    /// The references that the tokens of an attribute make. One whose prefix is not declared is a fault, and
    /// has neither name nor target.
    pub(super) fn references<T>(&mut self, scope: &Scope, node: Node<'_>, attribute: &str) -> Vec<Ref<T>> {
        let Some(attribute) = node.attribute_node(attribute) else { return Vec::new() };
        let tokens = qname_tokens(scope.file, node, &attribute);
        tokens.map(|(token, place)| self.refer(scope, node, token, place)).collect()
    }

    /// The one reference that an attribute makes.
    pub(super) fn reference<T>(&mut self, scope: &Scope, node: Node<'_>, attribute: &str) -> Option<Ref<T>> {
        let attribute = node.attribute_node(attribute)?;
        let (token, place) = first_qname(scope.file, node, &attribute)?;
        Some(self.refer(scope, node, token, place))
    }

    fn refer<T>(&mut self, scope: &Scope, node: Node<'_>, token: &str, place: Place) -> Ref<T> {
        match resolve_qname(&mut self.set.interner, node, token) {
            Ok(mut name) => {
                if scope.adopted && name.namespace.is_empty() {
                    name.namespace = scope.namespace.clone();
                }
                if let Some(original) = self.original(&name, node) {
                    name = original;
                }
                if !scope.sees(&name.namespace) {
                    self.set.unseen.push((name.clone(), place));
                }
                Ref::named(self.set.interner.shared(name), place)
            }
            Err(prefix) => {
                let message = format!("the prefix \"{prefix}\" is not declared");
                let help = format!("add xmlns:{prefix}=\"…\" to this element or to one around it");
                self.set.faults.push(Fault::new("xml-prefix", place, message).help(help));
                Ref { name: None, place, target: None }
            }
        }
    }

    /// How often a particle occurs.
    pub(super) fn occurs(&mut self, scope: &Scope, node: Node<'_>) -> Occurs {
        let min = count_of(node, "minOccurs").flatten().unwrap_or(1);
        let max = count_of(node, "maxOccurs").unwrap_or(Some(1));
        if max.is_some_and(|max| max < min) {
            let message = format!("minOccurs {min} is more than maxOccurs {}", max.unwrap_or(0));
            let fault = Fault::new("p-props-correct", tag_place(scope.file, node), message);
            self.set.faults.push(fault.help("raise maxOccurs or lower minOccurs"));
        }
        Occurs { min, max }
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
}

/// The whole of an element.
pub(super) fn extent(scope: &Scope, node: Node<'_>) -> Place {
    Place { file: scope.file, span: node.range().into() }
}

/// The number in an attribute: the outer option is whether there is one, the inner one whether it is bounded.
#[allow(clippy::option_option, reason = "unbounded is a number of its own")]
fn count_of(node: Node<'_>, name: &str) -> Option<Option<u32>> {
    let value = node.attribute(name)?.trim();
    if value == "unbounded" && name == "maxOccurs" {
        return Some(None);
    }
    // More than four thousand million is as good as that many.
    crate::simple::count(value).map(|number| Some(u32::try_from(number).unwrap_or(u32::MAX)))
}

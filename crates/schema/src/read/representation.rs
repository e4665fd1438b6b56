//! What single elements of a schema document must say, beyond the grammar: the Schema Representation Constraints of
//! Part 1 and Part 2 that can be judged where they stand.

use charter_source::{Fault, Import, ImportKind, Node, attribute_place, ns, tag_place};

use super::scope::Scope;
use super::{SchemaReader, parts};

impl SchemaReader<'_> {
    pub(super) fn say(
        &mut self,
        rule: &'static str,
        scope: &Scope,
        node: Node<'_>,
        message: &str,
        help: &str,
    ) {
        self.set.faults.push(Fault::new(rule, tag_place(scope.file, node), message).help(help));
    }

    /// The attributes of `node` that exclude another one.
    fn excluded(&mut self, rule: &'static str, scope: &Scope, node: Node<'_>, names: &[&str], by: &str) {
        for attribute in names.iter().filter_map(|name| node.attribute_node(*name)) {
            let message = format!("{} has no place beside {by}", attribute.name());
            let fault = Fault::new(rule, attribute_place(scope.file, &attribute), message);
            self.set.faults.push(fault.help("what is referred to says it already: remove it"));
        }
    }

    fn default_and_fixed(&mut self, rule: &'static str, scope: &Scope, node: Node<'_>) {
        if node.has_attribute("default") && node.has_attribute("fixed") {
            self.say(
                rule,
                scope,
                node,
                "there is a default here and a fixed value as well",
                "keep one of the two",
            );
        }
    }

    /// Part 1, 3.3.3, src-element.
    pub(super) fn element_rules(&mut self, scope: &Scope, node: Node<'_>, global: bool) {
        const RULE: &str = "src-element";
        self.default_and_fixed(RULE, scope, node);
        if global {
            return;
        }
        match (node.has_attribute("name"), node.has_attribute("ref")) {
            (false, false) => {
                self.say(RULE, scope, node, "this element has neither name nor ref", "add one of the two");
            }
            (_, true) => {
                self.excluded(
                    RULE,
                    scope,
                    node,
                    &["name", "nillable", "default", "fixed", "form", "block", "type"],
                    "ref",
                );
                self.nothing_inside(RULE, scope, node);
            }
            (true, false) => {}
        }
    }

    /// Part 1, 3.2.3, src-attribute, and the two names that no attribute may have.
    pub(super) fn attribute_rules(&mut self, scope: &Scope, node: Node<'_>, global: bool) {
        const RULE: &str = "src-attribute";
        self.default_and_fixed(RULE, scope, node);
        let optional = node.attribute("use").is_none_or(|usage| usage.trim() == "optional");
        if node.has_attribute("default") && !optional {
            let help = "remove the default, or make the attribute optional";
            self.say(RULE, scope, node, "an attribute with a default must be optional", help);
        }
        if node.attribute("name").map(str::trim) == Some("xmlns") {
            self.say("no-xmlns", scope, node, "no attribute may be named xmlns", "choose another name");
        }
        if global {
            if &*scope.namespace == ns::XSI {
                self.no_xsi(scope, node);
            }
            return;
        }
        match (node.has_attribute("name"), node.has_attribute("ref")) {
            (false, false) => {
                self.say(RULE, scope, node, "this attribute has neither name nor ref", "add one of the two");
            }
            (_, true) => {
                self.excluded(RULE, scope, node, &["name", "form", "type"], "ref");
                self.nothing_inside(RULE, scope, node);
            }
            (true, false) => {
                if super::is_qualified(node, scope.attributes_qualified) && &*scope.namespace == ns::XSI {
                    self.no_xsi(scope, node);
                }
            }
        }
    }

    fn no_xsi(&mut self, scope: &Scope, node: Node<'_>) {
        let message = "no attribute may be declared in the namespace of xsi";
        self.say("no-xsi", scope, node, message, "choose another target namespace");
    }

    fn nothing_inside(&mut self, rule: &'static str, scope: &Scope, node: Node<'_>) {
        if let Some(inside) = parts(node).next() {
            let message = format!("{} has no place in a reference", inside.tag_name().name());
            self.say(rule, scope, inside, &message, "declare it where the component is declared");
        }
    }

    /// Part 1, 4.2.1 to 4.2.3: src-include, src-redefine and src-import, as far as the namespaces go.
    pub(super) fn import_rules(&mut self, scope: &Scope, import: &Import, node: Node<'_>) {
        if import.kind != ImportKind::Schema {
            return;
        }
        let named = import.namespace.as_deref();
        let own = &*scope.namespace;
        match named {
            None if own.is_empty() => {
                let help = "include it instead, or name the namespace to import";
                self.say(
                    "src-import",
                    scope,
                    node,
                    "a schema without a namespace cannot import one without",
                    help,
                );
            }
            Some(namespace) if namespace == own && !own.is_empty() => {
                let message = "a schema cannot import its own namespace";
                self.say(
                    "src-import",
                    scope,
                    node,
                    message,
                    "use xsd:include for a schema of the same namespace",
                );
            }
            _ => {}
        }
    }
}

//! The attributes of an element (Part 1, 3.2.4, cvc-attribute; 3.4.4, cvc-complex-type.3 to .5; 3.5.4, cvc-au).

use charter_source::{Attribute, NameKey, Node, Place, attribute_place, nearest, ns, tag_place};

use super::Validator;
use super::content::SHOWN;
use crate::engine::{Allowed, quoted};
use crate::{AttributeId, Builtin, Process, TypeId, ValueConstraint};

/// The attributes that any element may have.
const ALWAYS: &[&str] = &["type", "nil", "schemaLocation", "noNamespaceSchemaLocation"];

impl<'v, 'd> Validator<'v, 'd> {
    pub(super) fn attributes(&mut self, node: Node<'d>, ty: TypeId, complex: bool) {
        let engine = self.engine;
        let plain = node.attributes().len() == 0;
        if !complex {
            if !plain {
                self.none_allowed(node);
            }
            return;
        }
        let allowed = engine.allowed(ty);
        if plain && allowed.required.is_empty() {
            self.defaults(node, allowed);
            return;
        }
        let mut present = vec![false; allowed.all().len()];
        let mut wild_ids = 0;
        for attribute in node.attributes() {
            let namespace = attribute.namespace().unwrap_or("");
            if namespace == ns::XSI && ALWAYS.contains(&attribute.name()) || self.of_soap(&attribute) {
                continue;
            }
            match self.attribute_key(namespace, attribute.name()).and_then(|key| allowed.find(key)) {
                Some(at) => {
                    present[at] = true;
                    let known = &allowed.all()[at];
                    self.attribute(node, attribute, known.decl, known.ty, known.value.as_ref());
                }
                None => wild_ids += usize::from(self.other(node, attribute, allowed)),
            }
        }
        let own_ids =
            allowed.all().iter().zip(&present).filter(|(known, there)| **there && self.is_id(known.ty));
        if wild_ids > 1 || (wild_ids == 1 && own_ids.count() > 0) {
            let message = "only one attribute of an element may be an ID";
            self.wrong(
                "cvc-complex-type",
                tag_place(self.file, node),
                node,
                None,
                message,
                "keep one of them",
            );
        }
        for at in allowed.required.iter().filter(|at| !present[**at]) {
            // There may be thousands, of which a few are told.
            if !self.report.admits() {
                self.report.count += 1;
                continue;
            }
            let name = &engine.schemas.attribute_decls[allowed.all()[*at].decl].name;
            let message = format!("the attribute {} is missing", quoted(&name.local));
            let help = match engine.datatype(allowed.all()[*at].ty) {
                Some(datatype) => format!("add it; its value is {}", datatype.describe()),
                None => "add it".into(),
            };
            self.wrong("cvc-complex-type", tag_place(self.file, node), node, None, message, help);
        }
        for at in (0..present.len()).filter(|at| !present[*at]) {
            self.default(node, allowed, at);
        }
    }

    /// The key of an attribute's name, if the schemas know it.
    fn attribute_key(&self, namespace: &str, name: &str) -> Option<NameKey> {
        let names = &self.engine.schemas.interner;
        match namespace {
            "" => names.key_in(self.no_namespace?, name),
            namespace => names.key(namespace, name),
        }
    }

    fn is_id(&self, ty: TypeId) -> bool {
        let builtin = self.engine.datatype(ty).and_then(|datatype| datatype.builtin());
        builtin.is_some_and(|builtin| builtin.is_within(Builtin::Id))
    }

    /// The attributes of an element whose type is simple.
    fn none_allowed(&mut self, node: Node<'d>) {
        for attribute in node.attributes() {
            let always = attribute.namespace() == Some(ns::XSI) && ALWAYS.contains(&attribute.name());
            if !always && !self.of_soap(&attribute) {
                let place = attribute_place(self.file, &attribute);
                let message = format!("{} may have no attributes", quoted(node.tag_name().name()));
                self.wrong("cvc-type", place, node, Some(attribute.name()), message, "remove it");
            }
        }
    }

    /// An attribute that has a declaration.
    fn attribute(
        &mut self,
        node: Node<'d>,
        attribute: Attribute<'d>,
        decl: AttributeId,
        ty: TypeId,
        constraint: Option<&ValueConstraint>,
    ) {
        let engine = self.engine;
        let Some(datatype) = engine.datatype(ty) else { return };
        let file = self.file;
        let place = || attribute_place(file, &attribute);
        let name = &engine.schemas.attribute_decls[decl].name;
        let fixed = match constraint {
            Some(ValueConstraint::Fixed(fixed)) => Some(fixed),
            _ => None,
        };
        let field = self.tables.attribute_wanted(name, self.depth);
        let value = match datatype.accept(attribute.value(), &self.around(node), field || fixed.is_some()) {
            Err(violation) => {
                let place = place();
                self.wrong(violation.rule, place, node, Some(&name.local), violation.message, violation.help);
                return;
            }
            Ok(accepted) => {
                if !accepted.ids.is_empty() {
                    let place = place();
                    self.remember_ids(accepted.ids, place, node, Some(&name.local));
                }
                accepted.value
            }
        };
        if let Some(fixed) = fixed {
            let declared = &engine.schemas.attribute_decls[decl];
            let here = engine.here(declared.place, declared.node);
            if !datatype.accept(fixed, &here, true).is_ok_and(|asked| asked.value == value) {
                let place = place();
                let message = format!("the value of {} is fixed", quoted(&name.local));
                let help = format!("write {}", quoted(fixed));
                self.wrong("cvc-attribute", place, node, Some(&name.local), message, help);
            }
        }
        if field {
            self.tables.attribute(name, value, self.depth);
        }
    }

    /// An attribute without a declaration in the type; whether a wildcard let in an ID.
    fn other(&mut self, node: Node<'d>, attribute: Attribute<'d>, allowed: &Allowed) -> bool {
        let engine = self.engine;
        let namespace = attribute.namespace().unwrap_or("");
        let place = attribute_place(self.file, &attribute);
        let Some(wildcard) = allowed.wildcard.as_ref().filter(|any| any.namespaces.allows(namespace)) else {
            // There may be thousands, of which a few are told.
            if !self.report.admits() {
                self.report.count += 1;
                return false;
            }
            let names =
                allowed.all().iter().map(|known| &*engine.schemas.attribute_decls[known.decl].name.local);
            let mut names: Vec<&str> = names.collect();
            names.sort_unstable();
            let message =
                format!("{} has no attribute {}", quoted(node.tag_name().name()), quoted(attribute.name()));
            let help = match nearest(attribute.name(), names.iter().copied()) {
                Some(near) if near == attribute.name() => {
                    format!("{} is declared in another namespace: check its prefix", quoted(near))
                }
                Some(near) => format!("did you mean \"{near}\"?"),
                None if names.is_empty() => "remove it".into(),
                None if names.len() > SHOWN => {
                    let more = names.len() - SHOWN;
                    format!("remove it; there are {} and {more} more", names[..SHOWN].join(", "))
                }
                None => format!("remove it; there are {}", names.join(", ")),
            };
            self.wrong("cvc-complex-type", place, node, Some(attribute.name()), message, help);
            return false;
        };
        let key = self.attribute_key(namespace, attribute.name());
        let decl = key.and_then(|key| engine.global_attribute(key));
        match (wildcard.process, decl) {
            (Process::Skip, _) | (Process::Lax, None) => false,
            (Process::Strict, None) => {
                let message = format!("no schema declares an attribute {}", quoted(attribute.name()));
                let help = "declare it, or remove it";
                self.wrong("cvc-complex-type", place, node, Some(attribute.name()), message, help);
                false
            }
            (_, Some(decl)) => {
                let declared = &engine.schemas.attribute_decls[decl];
                let ty = declared.ty.target.unwrap_or(Builtin::AnySimpleType.id());
                self.attribute(node, attribute, decl, ty, declared.value.as_deref());
                self.is_id(ty)
            }
        }
    }

    /// The default values of attributes that are not written, where an identity constraint asks for them.
    fn defaults(&mut self, node: Node<'d>, allowed: &Allowed) {
        if self.tables.asks_for_attributes(self.depth) {
            (0..allowed.all().len()).for_each(|at| self.default(node, allowed, at));
        }
    }

    fn default(&mut self, node: Node<'d>, allowed: &Allowed, at: usize) {
        let engine = self.engine;
        let known = &allowed.all()[at];
        let Some(ValueConstraint::Default(text) | ValueConstraint::Fixed(text)) = &known.value else {
            return;
        };
        let Some(datatype) = engine.datatype(known.ty) else { return };
        let declared = &engine.schemas.attribute_decls[known.decl];
        let here = engine.here(declared.place, declared.node);
        let field = self.tables.attribute_wanted(&declared.name, self.depth);
        if !field && !datatype.has_ids() {
            return;
        }
        if let Ok(accepted) = datatype.accept(text, &here, field) {
            let place: Place = tag_place(self.file, node);
            self.remember_ids(accepted.ids, place, node, Some(&declared.name.local));
            if field {
                self.tables.attribute(&declared.name, accepted.value, self.depth);
            }
        }
    }
}

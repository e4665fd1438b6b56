//! An element: which declaration and type it is judged by, whether it is nil, what its simple content is
//! (Part 1, 3.3.4: cvc-elt, cvc-type, cvc-complex-type, cvc-simple-type).

use std::borrow::Cow;
use std::sync::Arc;

use charter_source::{NameKey, Node, Place, attribute_place, ns, tag_place};

use super::{Assess, Validator};
use crate::engine::{ContentKind, Datatype, expanded, quoted};
use crate::{Builtin, ElementId, TypeId, TypeKind, Value, ValueConstraint};

impl<'v, 'd> Validator<'v, 'd> {
    pub(super) fn element(&mut self, node: Node<'d>, assess: Assess) {
        self.depth += 1;
        self.assess(node, assess);
        self.depth -= 1;
    }

    fn assess(&mut self, node: Node<'d>, assess: Assess) {
        if self.encoded && self.refers(node, assess) {
            return;
        }
        let decl = match assess {
            Assess::By(id) => Some(id),
            Assess::As(_) => None,
            Assess::Strict | Assess::Lax => self.key_of(node).and_then(|key| self.engine.global_element(key)),
        };
        let plain = node.attributes().len() == 0;
        let wanted = if plain { None } else { self.named_type(node) };
        if decl.is_none() && assess == Assess::Strict && wanted.is_none() {
            let name = node.tag_name().name();
            let message = format!("no schema declares a global element {}", quoted(name));
            let help = self.advice_on_root(node);
            self.wrong("cvc-elt", tag_place(self.file, node), node, None, message, help);
        }
        let declared = match assess {
            Assess::As(ty) => ty,
            _ => decl.map_or(Builtin::AnyType.id(), |id| self.engine.schemas.element_type(id)),
        };
        if let Some(decl) = decl
            && self.engine.schemas.elements[decl].is_abstract
        {
            let message = format!(
                "{} is abstract: it stands for others, not for itself",
                quoted(node.tag_name().name())
            );
            self.wrong(
                "cvc-elt",
                tag_place(self.file, node),
                node,
                None,
                message,
                "write one of the elements that may take its place",
            );
        }
        let ty = self.actual_type(node, decl, declared, wanted);
        if let Some(typing) = &mut self.typing {
            typing.insert(node.id(), ty);
        }
        let nil = !plain && self.nil(node, decl);
        self.tables.enter(node, decl, self.depth);
        let value = self.by_type(node, decl, ty, nil);
        let nillable = decl.is_some_and(|id| self.engine.schemas.elements[id].nillable);
        let simple = self.engine.datatype(ty).is_some();
        let complaints = self.tables.leave(node, value, simple, nillable, self.depth);
        for complaint in complaints {
            let place = tag_place(self.file, complaint.node);
            self.wrong(
                "cvc-identity-constraint",
                place,
                complaint.node,
                None,
                complaint.message,
                complaint.help,
            );
        }
    }

    /// The key of an element's name, if the schemas know it.
    pub(super) fn key_of(&self, node: Node<'_>) -> Option<NameKey> {
        let name = node.tag_name();
        let namespace = name.namespace().unwrap_or("");
        // Elements that follow each other are mostly in one namespace, which the tree holds once.
        let (known, address) = self.last_namespace.get();
        let address = match known == namespace.as_ptr() as usize && !namespace.is_empty() {
            true => address,
            false => {
                let found = self.engine.schemas.interner.address(namespace);
                self.last_namespace.set((namespace.as_ptr() as usize, found));
                found
            }
        };
        self.engine.schemas.interner.key_in(address?, name.name())
    }

    fn advice_on_root(&self, node: Node<'d>) -> String {
        let name = node.tag_name();
        let namespace = name.namespace().unwrap_or("");
        let globals = || self.engine.schemas.element_names();
        if let Some(other) = globals().filter(|other| &*other.local == name.name()).min() {
            return match &*other.namespace {
                "" => "there is one without a namespace".into(),
                namespace => format!("there is one in {namespace}: is the namespace right?"),
            };
        }
        let mut near: Vec<&str> =
            globals().filter(|other| &*other.namespace == namespace).map(|other| &*other.local).collect();
        near.sort_unstable();
        match charter_source::nearest(name.name(), near) {
            Some(near) => format!("did you mean \"{near}\"?"),
            None => "begin with a global element of the schema".into(),
        }
    }

    /// The type that `xsi:type` names; the outer option is whether there is such an attribute.
    #[allow(clippy::option_option, reason = "a type that is not there is not the same as none named")]
    fn named_type(&mut self, node: Node<'d>) -> Option<Option<TypeId>> {
        let attribute = node.attribute_node((ns::XSI, "type"))?;
        let place = attribute_place(self.file, &attribute);
        let text = attribute.value().trim();
        let name = crate::is_lexical(Builtin::QName, text).then(|| expanded(node, text)).flatten();
        let Some(name) = name else {
            let message = format!("{} is not a name with a declared prefix", quoted(text));
            let help = "write the name of a type, with the prefix of its namespace";
            self.wrong("cvc-elt", place, node, Some("xsi:type"), message, help);
            return Some(None);
        };
        let found = self.engine.schemas.type_named(&name);
        if found.is_none() {
            let message = format!("there is no type \"{}\"", name.local);
            let near = self.engine.schemas.type_names().filter(|other| other.namespace == name.namespace);
            let mut near: Vec<&str> = near.map(|other| &*other.local).collect();
            near.sort_unstable();
            let help = match charter_source::nearest(&name.local, near) {
                Some(near) => format!("did you mean \"{near}\"?"),
                None => "name a type that the schema declares".into(),
            };
            self.wrong("cvc-elt", place, node, Some("xsi:type"), message, help);
        }
        Some(found)
    }

    /// The type that the element is judged by: its own, or that of `xsi:type` if it may stand there.
    fn actual_type(
        &mut self,
        node: Node<'d>,
        decl: Option<ElementId>,
        declared: TypeId,
        named: Option<Option<TypeId>>,
    ) -> TypeId {
        let schemas = self.engine.schemas;
        let mut ty = declared;
        if let Some(Some(named)) = named {
            let block = decl.map_or_else(Default::default, |id| schemas.elements[id].block);
            if schemas.may_stand_for(named, declared, block.with(schemas.prohibited(declared))) {
                ty = named;
            } else {
                let place = node.attribute_node((ns::XSI, "type"));
                let place =
                    place.map_or_else(|| tag_place(self.file, node), |a| attribute_place(self.file, &a));
                let base = schemas.types[declared].name.as_ref().map_or("the type here", |name| &name.local);
                let of = schemas.types[named].name.as_ref().map_or("", |name| &name.local);
                let message = match schemas.derivation(named, declared) {
                    Some(_) => format!("{} may not take the place of {base} here", quoted(of)),
                    None => format!("{} is not derived from {base}", quoted(of)),
                };
                self.wrong(
                    "cvc-elt",
                    place,
                    node,
                    Some("xsi:type"),
                    message,
                    format!("name {base} or a type derived from it"),
                );
            }
        }
        if schemas.complex(ty).is_some_and(|complex| complex.is_abstract) {
            let name = schemas.types[ty].name.as_ref().map_or("its type", |name| &name.local);
            let message = format!("the type {name} is abstract: no element has it itself");
            let help = "name a type derived from it with xsi:type";
            self.wrong("cvc-type", tag_place(self.file, node), node, None, message, help);
        }
        ty
    }

    /// Whether the element says that it is nil, and may.
    fn nil(&mut self, node: Node<'d>, decl: Option<ElementId>) -> bool {
        let Some(attribute) = node.attribute_node((ns::XSI, "nil")) else { return false };
        let place = attribute_place(self.file, &attribute);
        let text = attribute.value().trim();
        if !crate::is_lexical(Builtin::Boolean, text) {
            let message = format!("{} is not a boolean", quoted(text));
            self.wrong("cvc-datatype-valid", place, node, Some("xsi:nil"), message, "write true or false");
            return false;
        }
        let nil = matches!(text, "true" | "1");
        // An encoded value may always be nil. Else, without a declaration, there is nothing that could allow it.
        if self.encoded {
            return nil;
        }
        let Some(decl) = decl else { return false };
        let declared = &self.engine.schemas.elements[decl];
        if !declared.nillable {
            let message = format!("{} is not nillable", quoted(node.tag_name().name()));
            self.wrong("cvc-elt", place, node, Some("xsi:nil"), message, "leave xsi:nil out");
            return false;
        }
        if nil && matches!(declared.value.as_deref(), Some(ValueConstraint::Fixed(_))) {
            let message = "an element with a fixed value cannot be nil";
            self.wrong("cvc-elt", place, node, Some("xsi:nil"), message, "leave xsi:nil out");
        }
        nil
    }

    /// Judges attributes and content; the value of simple content, if an identity constraint asks for it.
    fn by_type(&mut self, node: Node<'d>, decl: Option<ElementId>, ty: TypeId, nil: bool) -> Option<Value> {
        let complex = matches!(self.engine.schemas.types[ty].kind, TypeKind::Complex(_));
        self.attributes(node, ty, complex);
        if nil {
            let filled = node.children().any(|child| {
                child.is_element() || child.text().is_some_and(|text| child.is_text() && !text.is_empty())
            });
            if filled {
                let message = "the element says that it is nil, and has content";
                self.wrong(
                    "cvc-elt",
                    tag_place(self.file, node),
                    node,
                    None,
                    message,
                    "remove the content, or xsi:nil",
                );
            }
            return None;
        }
        if self.encoded && self.array(node, ty) {
            return None;
        }
        let value = decl.and_then(|id| self.engine.schemas.elements[id].value.as_deref());
        match self.engine.content_kind(ty) {
            ContentKind::Simple => self.simple(node, decl, ty, value),
            ContentKind::Empty => {
                let content = node.children().find(|child| child.is_element() || child.is_text());
                if let Some(child) = content {
                    let place = if child.is_element() {
                        tag_place(self.file, child)
                    } else {
                        tag_place(self.file, node)
                    };
                    let message = format!("{} must be empty", quoted(node.tag_name().name()));
                    self.wrong(
                        "cvc-complex-type",
                        place,
                        node,
                        None,
                        message,
                        "remove its content, white space included",
                    );
                }
                node.children().filter(Node::is_element).for_each(|child| self.element(child, Assess::Lax));
                None
            }
            kind => {
                self.content(node, ty, kind == ContentKind::Mixed);
                self.mixed_value(node, value);
                None
            }
        }
    }

    /// Simple content: no elements, and a value that the type accepts.
    fn simple(
        &mut self,
        node: Node<'d>,
        decl: Option<ElementId>,
        ty: TypeId,
        constraint: Option<&ValueConstraint>,
    ) -> Option<Value> {
        if let Some(child) = node.children().find(Node::is_element) {
            let complex = matches!(self.engine.schemas.types[ty].kind, TypeKind::Complex(_));
            let rule = if complex { "cvc-complex-type" } else { "cvc-type" };
            let message = format!("{} has a value and no elements", quoted(node.tag_name().name()));
            let help = format!("remove the element {}", quoted(child.tag_name().name()));
            self.wrong(rule, tag_place(self.file, child), node, None, message, help);
            return None;
        }
        let engine = self.engine;
        let datatype = engine.datatype(ty)?;
        let (text, place) = self.text(node);
        let text = match constraint {
            Some(ValueConstraint::Default(value) | ValueConstraint::Fixed(value)) if text.is_empty() => {
                Cow::Borrowed(value.as_str())
            }
            _ => text,
        };
        let wanted =
            self.tables.asks_for(self.depth) || matches!(constraint, Some(ValueConstraint::Fixed(_)));
        let accepted = datatype.accept(&text, &self.around(node), wanted);
        match accepted {
            Err(violation) => {
                self.wrong(violation.rule, place, node, None, violation.message, violation.help);
                None
            }
            Ok(accepted) => {
                self.remember_ids(accepted.ids, place, node, None);
                if let (Some(ValueConstraint::Fixed(fixed)), Some(decl)) = (constraint, decl) {
                    self.fixed(node, decl, datatype, fixed, accepted.value.as_ref(), place);
                }
                accepted.value
            }
        }
    }

    /// Whether a value is the fixed one of its declaration.
    fn fixed(
        &mut self,
        node: Node<'d>,
        decl: ElementId,
        datatype: &Arc<Datatype>,
        fixed: &str,
        found: Option<&Value>,
        place: Place,
    ) {
        let declared = &self.engine.schemas.elements[decl];
        let here = self.engine.here(declared.place, declared.node);
        let same = datatype.accept(fixed, &here, true).is_ok_and(|asked| asked.value.as_ref() == found);
        if !same {
            let message = format!("the value of {} is fixed", quoted(node.tag_name().name()));
            self.wrong("cvc-elt", place, node, None, message, format!("write {}, or nothing", quoted(fixed)));
        }
    }

    /// The default or fixed value of an element with mixed content.
    fn mixed_value(&mut self, node: Node<'d>, constraint: Option<&ValueConstraint>) {
        let Some(ValueConstraint::Fixed(fixed)) = constraint else { return };
        let (text, place) = self.text(node);
        let has_elements = node.children().any(|child| child.is_element());
        if has_elements || (!text.is_empty() && text != *fixed) {
            let message = format!("the value of {} is fixed", quoted(node.tag_name().name()));
            self.wrong("cvc-elt", place, node, None, message, format!("write {}, or nothing", quoted(fixed)));
        }
    }

    /// The text of an element, and where it stands.
    fn text(&self, node: Node<'d>) -> (Cow<'d, str>, Place) {
        let mut texts = node.children().filter(Node::is_text);
        let Some(first) = texts.next() else { return (Cow::Borrowed(""), tag_place(self.file, node)) };
        let start = Place { file: self.file, span: first.range().into() };
        // Text in the tree borrows from the tree, which outlives this.
        let text = first.text().unwrap_or("");
        match texts.next() {
            None => (Cow::Borrowed(text), start),
            Some(second) => {
                let rest = std::iter::once(second).chain(texts).filter_map(|child| child.text());
                (Cow::Owned(std::iter::once(text).chain(rest).collect()), start)
            }
        }
    }
}

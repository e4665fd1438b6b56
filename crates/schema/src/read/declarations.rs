//! Elements, model groups, identity constraints and notations.

use charter_source::{Fault, Node, Place, QName, attribute_place, tag_place};

use super::scope::{Scope, extent, is_true, value_of};
use super::{SchemaReader, annotation_in, parts};
use crate::component::*;
use crate::{Builtin, ElementId};

impl SchemaReader<'_> {
    pub(super) fn global_element(&mut self, scope: &Scope, node: Node<'_>) -> Option<ElementId> {
        self.element_rules(scope, node, true);
        let (name, place) = self.global_name(scope, node)?;
        let id = self.element(scope, node, name.clone(), place, Owner::Schema);
        self.register("elements", |names| &mut names.elements, name, place, id);
        Some(id)
    }

    /// An element declared inside a content model.
    pub(super) fn local_element(&mut self, scope: &Scope, node: Node<'_>, owner: Owner) -> Option<ElementId> {
        let (name, place) = self.local_name(scope, node, scope.elements_qualified)?;
        Some(self.element(scope, node, name, place, owner))
    }

    fn element(
        &mut self,
        scope: &Scope,
        node: Node<'_>,
        name: QName,
        place: Place,
        owner: Owner,
    ) -> ElementId {
        let named = self.reference(scope, node, "type");
        let has_named = named.is_some();
        let substitution_group = self.reference(scope, node, "substitutionGroup");
        let inherits = substitution_group.is_some() && !has_named;
        let id = self.set.elements.add(ElementDecl {
            node: node.id(),
            name,
            place,
            extent: extent(scope, node),
            owner,
            // A member of a substitution group without a type of its own takes the type of the head, which is
            // not known before all names are.
            ty: named.unwrap_or(Ref {
                name: None,
                place,
                target: (!inherits).then_some(Builtin::AnyType.id()),
            }),
            nillable: is_true(node, "nillable"),
            is_abstract: is_true(node, "abstract"),
            value: value_of(node),
            block: scope.block(node),
            final_: scope.final_(node),
            substitution_group: substitution_group.map(Box::new),
            constraints: Vec::new(),
            annotation: annotation_in(node),
        });
        for child in parts(node) {
            match child.tag_name().name() {
                "complexType" | "simpleType" => {
                    let clause = ("src-element", scope);
                    if let Some(ty) = self.inline_type(clause, child, has_named, Owner::Element(id)) {
                        self.set.elements[id].ty = ty;
                    }
                }
                "unique" => self.constraint(scope, child, ConstraintKind::Unique, id),
                "key" => self.constraint(scope, child, ConstraintKind::Key, id),
                "keyref" => self.constraint(scope, child, ConstraintKind::KeyRef, id),
                _ => {}
            }
        }
        id
    }

    /// Says that a declaration has both a type attribute and a type inside.
    pub(super) fn two_types(&mut self, rule: &'static str, scope: &Scope, node: Node<'_>) {
        let message = "there is a type here and a type attribute as well";
        let fault = Fault::new(rule, tag_place(scope.file, node), message);
        self.set.faults.push(fault.help("keep one of the two"));
    }

    fn constraint(&mut self, scope: &Scope, node: Node<'_>, kind: ConstraintKind, element: ElementId) {
        let Some((name, place)) = self.global_name(scope, node) else { return };
        let path = |node: Node<'_>| {
            node.attribute_node("xpath").map(|attribute| WrittenPath {
                text: attribute.value().to_owned(),
                place: attribute_place(scope.file, &attribute),
                node: node.id(),
            })
        };
        let mut constraint = IdentityConstraint {
            name: name.clone(),
            place,
            kind,
            selector: None,
            fields: Vec::new(),
            refer: self.reference(scope, node, "refer"),
        };
        for child in parts(node) {
            match child.tag_name().name() {
                "selector" => constraint.selector = path(child),
                "field" => constraint.fields.extend(path(child)),
                _ => {}
            }
        }
        let id = self.set.constraints.add(constraint);
        self.register("identity constraints", |names| &mut names.constraints, name, place, id);
        self.set.elements[element].constraints.push(id);
    }

    pub(super) fn global_group(&mut self, scope: &Scope, node: Node<'_>) {
        let Some((name, place)) = self.global_name(scope, node) else { return };
        let id = self.set.groups.add(GroupDef {
            name: name.clone(),
            place,
            extent: extent(scope, node),
            particle: None,
            annotation: annotation_in(node),
        });
        for child in parts(node) {
            match self.particle(scope, child, Owner::Group(id)) {
                Some(particle) if self.set.groups[id].particle.is_none() => {
                    self.set.groups[id].particle = Some(particle);
                }
                _ => {}
            }
        }
        self.register("groups", |names| &mut names.groups, name, place, id);
    }

    pub(super) fn notation(&mut self, scope: &Scope, node: Node<'_>) {
        let Some((name, place)) = self.global_name(scope, node) else { return };
        let id = self.set.notations.add(NotationDecl {
            name: name.clone(),
            place,
            public: node.attribute("public").map(str::to_owned),
            system: node.attribute("system").map(str::to_owned),
        });
        self.register("notations", |names| &mut names.notations, name, place, id);
    }
}

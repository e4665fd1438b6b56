//! Attributes and attribute groups.

use charter_source::{Node, Place, QName, tag_place};

use super::scope::{Scope, extent, value_of};
use super::{SchemaReader, annotation_in, parts};
use crate::component::*;
use crate::{AttributeId, Builtin, Wildcard};

/// The attributes that a type or a group writes.
#[derive(Default)]
pub(super) struct Attributes {
    pub uses: Vec<AttributeUse>,
    pub groups: Vec<Ref<AttributeGroup>>,
    pub any: Option<Box<Wildcard>>,
}

impl SchemaReader<'_> {
    pub(super) fn global_attribute(&mut self, scope: &Scope, node: Node<'_>) -> Option<AttributeId> {
        self.attribute_rules(scope, node, true);
        let (name, place) = self.global_name(scope, node)?;
        let id = self.attribute(scope, node, name.clone(), place, Owner::Schema);
        self.register("attributes", |names| &mut names.attributes, name, place, id);
        Some(id)
    }

    fn attribute(
        &mut self,
        scope: &Scope,
        node: Node<'_>,
        name: QName,
        place: Place,
        owner: Owner,
    ) -> AttributeId {
        let named = self.reference(scope, node, "type");
        let has_named = named.is_some();
        let any = Ref { name: None, place, target: Some(Builtin::AnySimpleType.id()) };
        let id = self.set.attribute_decls.add(AttributeDecl {
            node: node.id(),
            name,
            place,
            extent: extent(scope, node),
            owner,
            ty: named.unwrap_or(any),
            value: value_of(node),
            annotation: annotation_in(node),
        });
        for child in parts(node).filter(|child| child.tag_name().name() == "simpleType") {
            let clause = ("src-attribute", scope);
            if let Some(ty) = self.inline_type(clause, child, has_named, Owner::Attribute(id)) {
                self.set.attribute_decls[id].ty = ty;
            }
        }
        id
    }

    /// Takes an element that writes an attribute, a group of them or a wildcard; whether it was one.
    pub(super) fn attribute_part(
        &mut self,
        scope: &Scope,
        node: Node<'_>,
        owner: Owner,
        into: &mut Attributes,
    ) -> bool {
        match node.tag_name().name() {
            "attribute" => into.uses.extend(self.attribute_use(scope, node, owner)),
            "attributeGroup" => into.groups.extend(self.reference(scope, node, "ref")),
            "anyAttribute" => into.any = Some(Box::new(self.wildcard(scope, node))),
            _ => return false,
        }
        true
    }

    fn attribute_use(&mut self, scope: &Scope, node: Node<'_>, owner: Owner) -> Option<AttributeUse> {
        self.attribute_rules(scope, node, false);
        let place = tag_place(scope.file, node);
        let attribute = match self.reference(scope, node, "ref") {
            Some(reference) => reference,
            None => {
                let (name, name_place) = self.local_name(scope, node, scope.attributes_qualified)?;
                Ref::inline(self.attribute(scope, node, name, name_place, owner), place)
            }
        };
        let usage = match node.attribute("use").map(str::trim) {
            Some("required") => Use::Required,
            Some("prohibited") => Use::Prohibited,
            _ => Use::Optional,
        };
        Some(AttributeUse { attribute, usage, value: value_of(node), place, node: node.id() })
    }

    pub(super) fn global_attribute_group(&mut self, scope: &Scope, node: Node<'_>) {
        let Some((name, place)) = self.global_name(scope, node) else { return };
        let id = self.set.attribute_groups.add(AttributeGroup {
            name: name.clone(),
            place,
            extent: extent(scope, node),
            attributes: Vec::new(),
            groups: Vec::new(),
            any_attribute: None,
            annotation: annotation_in(node),
        });
        let mut attributes = Attributes::default();
        for child in parts(node) {
            self.attribute_part(scope, child, Owner::AttributeGroup(id), &mut attributes);
        }
        let group = &mut self.set.attribute_groups[id];
        (group.attributes, group.groups, group.any_attribute) =
            (attributes.uses, attributes.groups, attributes.any);
        self.register("attribute groups", |names| &mut names.attribute_groups, name, place, id);
    }
}

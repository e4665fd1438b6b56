//! Simple and complex types.

use charter_source::{Node, Place, QName, attribute_place, tag_place};

use super::attributes::Attributes;
use super::scope::{Scope, extent, is_true};
use super::{SchemaReader, annotation_in, parts};
use crate::component::*;
use crate::facet::{Facet, FacetKind};
use crate::{Builtin, TypeId};

impl SchemaReader<'_> {
    pub(super) fn global_type(&mut self, scope: &Scope, node: Node<'_>) -> Option<TypeId> {
        let (name, place) = self.global_name(scope, node)?;
        let id = self.type_def(scope, node, Some(name.clone()), place, Owner::Schema);
        self.register("types", |names| &mut names.types, name, place, id);
        Some(id)
    }

    pub(super) fn anonymous_type(&mut self, scope: &Scope, node: Node<'_>, owner: Owner) -> TypeId {
        self.type_def(scope, node, None, tag_place(scope.file, node), owner)
    }

    fn type_def(
        &mut self,
        scope: &Scope,
        node: Node<'_>,
        name: Option<QName>,
        place: Place,
        owner: Owner,
    ) -> TypeId {
        // The id is needed by what stands inside, so the type is there before its content is known.
        let nothing = SimpleType { derivation: SimpleDerivation::Union(Vec::new()), facets: Vec::new() };
        let id = self.set.types.add(TypeDef {
            name,
            place,
            extent: extent(scope, node),
            owner,
            annotation: annotation_in(node),
            final_: scope.final_(node),
            kind: TypeKind::Simple(nothing),
        });
        self.set.types[id].kind = if node.tag_name().name() == "complexType" {
            TypeKind::Complex(self.complex_type(scope, node, id))
        } else {
            TypeKind::Simple(self.simple_type(scope, node, id))
        };
        id
    }

    fn simple_type(&mut self, scope: &Scope, node: Node<'_>, id: TypeId) -> SimpleType {
        let mut found = None;
        for child in parts(node) {
            match child.tag_name().name() {
                "restriction" if found.is_none() => found = Some(self.simple_restriction(scope, child, id)),
                "list" if found.is_none() => {
                    let item = self.simple_base(scope, child, "itemType", id);
                    found = Some(SimpleType { derivation: SimpleDerivation::List(item), facets: Vec::new() });
                }
                "union" if found.is_none() => {
                    let mut members = self.references(scope, child, "memberTypes");
                    for inner in parts(child) {
                        let member = self.anonymous_type(scope, inner, Owner::Type(id));
                        members.push(Ref::inline(member, tag_place(scope.file, inner)));
                    }
                    if members.is_empty() {
                        let message = "a union has neither memberTypes nor a simple type inside";
                        self.say("src-simple-type", scope, child, message, "name its members");
                    }
                    found =
                        Some(SimpleType { derivation: SimpleDerivation::Union(members), facets: Vec::new() });
                }
                _ => {}
            }
        }
        found.unwrap_or_else(|| {
            let derivation = SimpleDerivation::Restriction(any_simple(scope, node));
            SimpleType { derivation, facets: Vec::new() }
        })
    }

    fn simple_restriction(&mut self, scope: &Scope, node: Node<'_>, id: TypeId) -> SimpleType {
        let base = self.simple_base(scope, node, "base", id);
        let mut facets = Vec::new();
        for child in parts(node) {
            self.facet(scope, child, &mut facets);
        }
        facets.shrink_to_fit();
        SimpleType { derivation: SimpleDerivation::Restriction(base), facets }
    }

    /// The type that an attribute names, or the simple type written inside instead.
    fn simple_base(&mut self, scope: &Scope, node: Node<'_>, attribute: &str, id: TypeId) -> Ref<TypeDef> {
        let named = self.reference(scope, node, attribute);
        let inner = parts(node).find(|child| child.tag_name().name() == "simpleType");
        match (named, inner) {
            (Some(named), None) => named,
            (Some(named), Some(inner)) => {
                self.two_types("src-simple-type", scope, inner);
                named
            }
            (None, Some(inner)) => {
                let ty = self.anonymous_type(scope, inner, Owner::Type(id));
                Ref::inline(ty, tag_place(scope.file, inner))
            }
            (None, None) => {
                let message = format!("there is neither a {attribute} nor a simple type inside");
                let fault =
                    charter_source::Fault::new("src-simple-type", tag_place(scope.file, node), message);
                self.set.faults.push(fault.help(format!("add a {attribute} attribute")));
                any_simple(scope, node)
            }
        }
    }

    /// Takes a facet; whether the element was one.
    fn facet(&mut self, scope: &Scope, node: Node<'_>, into: &mut Vec<Facet>) -> bool {
        let Some(kind) = FacetKind::from_name(node.tag_name().name()) else { return false };
        let value = node.attribute_node("value");
        into.push(Facet {
            kind,
            value: value.map_or_else(String::new, |value| value.value().to_owned()),
            fixed: is_true(node, "fixed"),
            node: node.id(),
            place: value.map_or_else(|| tag_place(scope.file, node), |a| attribute_place(scope.file, &a)),
            annotation: annotation_in(node),
        });
        true
    }

    fn complex_type(&mut self, scope: &Scope, node: Node<'_>, id: TypeId) -> ComplexType {
        let any_type =
            Ref { name: None, place: tag_place(scope.file, node), target: Some(Builtin::AnyType.id()) };
        let mut complex = ComplexType {
            base: any_type,
            derivation: Derivation::Restriction,
            is_abstract: is_true(node, "abstract"),
            block: scope.block(node),
            mixed: is_true(node, "mixed"),
            content: Content::Empty,
            attributes: Vec::new(),
            attribute_groups: Vec::new(),
            any_attribute: None,
        };
        let mut attributes = Attributes::default();
        match parts(node).next().map(|part| (part, part.tag_name().name())) {
            Some((part, "simpleContent")) => {
                complex.content = Content::Simple { inline: None, facets: Vec::new() };
                self.derived_content(scope, part, id, &mut complex, &mut attributes);
            }
            Some((part, "complexContent")) => {
                complex.mixed = part.attribute("mixed").map_or(complex.mixed, |_| is_true(part, "mixed"));
                self.derived_content(scope, part, id, &mut complex, &mut attributes);
            }
            _ => self.content_parts(scope, node, id, &mut complex, &mut attributes),
        }
        // There are many types, and most have few attributes.
        attributes.uses.shrink_to_fit();
        complex.attributes = attributes.uses;
        complex.attribute_groups = attributes.groups;
        complex.any_attribute = attributes.any;
        complex
    }

    /// The extension or restriction inside `simpleContent` or `complexContent`.
    fn derived_content(
        &mut self,
        scope: &Scope,
        content: Node<'_>,
        id: TypeId,
        complex: &mut ComplexType,
        attributes: &mut Attributes,
    ) {
        for child in parts(content) {
            complex.derivation = match child.tag_name().name() {
                "extension" => Derivation::Extension,
                "restriction" => Derivation::Restriction,
                _ => continue,
            };
            if let Some(base) = self.reference(scope, child, "base") {
                complex.base = base;
            }
            self.content_parts(scope, child, id, complex, attributes);
        }
    }

    /// The particles, facets and attributes in an element, wherever they stand in a complex type.
    fn content_parts(
        &mut self,
        scope: &Scope,
        outer: Node<'_>,
        id: TypeId,
        complex: &mut ComplexType,
        attributes: &mut Attributes,
    ) {
        for part in parts(outer) {
            if self.attribute_part(scope, part, Owner::Type(id), attributes) {
                continue;
            }
            match &mut complex.content {
                Content::Simple { inline, .. } if part.tag_name().name() == "simpleType" => {
                    *inline = Some(self.anonymous_type(scope, part, Owner::Type(id)));
                }
                Content::Simple { facets, .. } => drop(self.facet(scope, part, facets)),
                Content::Empty if !matches!(part.tag_name().name(), "element" | "any") => {
                    if let Some(particle) = self.particle(scope, part, Owner::Type(id)) {
                        complex.content = Content::Elements(particle);
                    }
                }
                _ => {}
            }
        }
    }
}

fn any_simple(scope: &Scope, node: Node<'_>) -> Ref<TypeDef> {
    Ref { name: None, place: tag_place(scope.file, node), target: Some(Builtin::AnySimpleType.id()) }
}

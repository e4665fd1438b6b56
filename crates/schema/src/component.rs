//! The components of XML Schema 1.0 (Part 1, section 2.2), except particles, which have a module of their own.

use std::sync::Arc;

use charter_source::NodeId;
use charter_source::{FileId, Files, Place, QName, elements, text_of};

use crate::{
    AttributeGroupId, AttributeId, ConstraintId, ElementId, Facet, GroupId, Id, ParticleId, TypeId, Wildcard,
};

/// The use of one component by another: by name, or written in place.
#[derive(Debug)]
pub struct Ref<T> {
    /// The name it goes by; `None` for a component written in place.
    pub name: Option<Arc<QName>>,
    /// The name in the text, or the component itself.
    pub place: Place,
    /// The component; `None` if there is none of that name.
    pub target: Option<Id<T>>,
}

impl<T> Clone for Ref<T> {
    fn clone(&self) -> Self {
        Ref { name: self.name.clone(), place: self.place, target: self.target }
    }
}

impl<T> Ref<T> {
    /// A reference by name, not yet resolved.
    pub fn named(name: Arc<QName>, place: Place) -> Self {
        Ref { name: Some(name), place, target: None }
    }

    /// The use of a component that stands at `place` itself.
    pub fn inline(target: Id<T>, place: Place) -> Self {
        Ref { name: None, place, target: Some(target) }
    }
}

/// What a component stands in; its component path goes through it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Owner {
    /// A schema: the component is global.
    Schema,
    /// A type.
    Type(TypeId),
    /// An element declaration.
    Element(ElementId),
    /// An attribute declaration.
    Attribute(AttributeId),
    /// A model group definition.
    Group(GroupId),
    /// An attribute group definition.
    AttributeGroup(AttributeGroupId),
}

/// What an `xsd:annotation` says (Part 1, 3.13). Few ask for it, so components keep only where it is.
#[derive(Debug, Clone, Default)]
pub struct Annotation {
    /// The text of each `xsd:documentation`, trimmed.
    pub documentation: Vec<String>,
    /// The places of each `xsd:appinfo`.
    pub appinfo: Vec<Place>,
}

impl Annotation {
    /// Reads an annotation of a file.
    ///
    /// ```
    /// use charter_schema::{Annotation, Schemas};
    /// use charter_source::{Files, Limits, Location, Overlay, QName};
    ///
    /// let schema = r#"<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema">
    ///   <xs:element name="draught"><xs:annotation><xs:documentation>In metres.</xs:documentation></xs:annotation></xs:element>
    /// </xs:schema>"#;
    /// let store = Overlay::of(&[("port.xsd", schema)]);
    /// let files = Files::load(&store, &Location::from_argument("port.xsd"), Limits::default())?;
    /// let schemas = Schemas::read(&files, [(files.first().id, files.first().root().unwrap().id())]);
    /// let draught = &schemas.elements[schemas.element_named(&QName::new("", "draught")).unwrap()];
    /// let annotation = Annotation::read(&files, draught.place.file, draught.annotation);
    /// assert_eq!(annotation.documentation, ["In metres."]);
    /// # Ok::<(), charter_source::ReadError>(())
    /// ```
    pub fn read(files: &Files, file: FileId, node: Option<NodeId>) -> Annotation {
        let mut annotation = Annotation::default();
        let Some(node) = node.and_then(|node| files.get(file).tree.node(node)) else { return annotation };
        for child in elements(node) {
            match child.tag_name().name() {
                "documentation" => annotation.documentation.push(text_of(child)),
                "appinfo" => annotation.appinfo.push(Place { file, span: child.range().into() }),
                _ => {}
            }
        }
        annotation.documentation.retain(|text| !text.is_empty());
        annotation
    }
}

/// A default or fixed value.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum ValueConstraint {
    /// Stands in for an absent or empty value.
    Default(String),
    /// The only value allowed.
    Fixed(String),
}

/// A set of ways to derive, for `block` and `final`.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct DerivationSet {
    /// Derivation by extension.
    pub extension: bool,
    /// Derivation by restriction.
    pub restriction: bool,
    /// Substitution of elements.
    pub substitution: bool,
    /// Derivation as a list.
    pub list: bool,
    /// Derivation as a union.
    pub union: bool,
}

/// A type definition.
#[derive(Debug, Clone)]
pub struct TypeDef {
    /// Its name; `None` for an anonymous type.
    pub name: Option<QName>,
    /// The element that defines it; for a named one, its name.
    pub place: Place,
    /// The whole element that defines it.
    pub extent: Place,
    /// What it stands in.
    pub owner: Owner,
    /// The element in which its author says something about it.
    pub annotation: Option<NodeId>,
    /// Derivations that `final` forbids.
    pub final_: DerivationSet,
    /// Simple or complex.
    pub kind: TypeKind,
}

/// The two kinds of types.
#[derive(Debug, Clone)]
pub enum TypeKind {
    /// Allows text alone.
    Simple(SimpleType),
    /// Allows attributes and elements.
    Complex(ComplexType),
}

/// A simple type definition (Part 1, 3.14), as it is written.
#[derive(Debug, Clone)]
pub struct SimpleType {
    /// How it comes to be.
    pub derivation: SimpleDerivation,
    /// The facets of this step alone.
    pub facets: Vec<Facet>,
}

/// How a simple type is derived.
#[derive(Debug, Clone)]
pub enum SimpleDerivation {
    /// From another by facets. The base of `anySimpleType` and of the primitive types is itself a root.
    Restriction(Ref<TypeDef>),
    /// A list of items.
    List(Ref<TypeDef>),
    /// One of several.
    Union(Vec<Ref<TypeDef>>),
}

/// A complex type definition (Part 1, 3.4), as it is written.
#[derive(Debug, Clone)]
pub struct ComplexType {
    /// The type it derives from; `anyType` where nothing is said.
    pub base: Ref<TypeDef>,
    /// How it derives.
    pub derivation: Derivation,
    /// Whether elements of this very type are forbidden.
    pub is_abstract: bool,
    /// Derivations that may not stand in for it.
    pub block: DerivationSet,
    /// Whether text may stand between the elements.
    pub mixed: bool,
    /// The content that this step adds or restricts to.
    pub content: Content,
    /// The attributes written here.
    pub attributes: Vec<AttributeUse>,
    /// The attribute groups used here.
    pub attribute_groups: Vec<Ref<AttributeGroup>>,
    /// Any further attributes.
    pub any_attribute: Option<Box<Wildcard>>,
}

/// How a complex type derives from its base.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Derivation {
    /// More than the base.
    Extension,
    /// Less than the base.
    Restriction,
}

/// The content of a complex type at one step of its derivation.
#[derive(Debug, Clone)]
pub enum Content {
    /// No elements.
    Empty,
    /// Text of a simple type: facets narrow the base, or the inline type if there is one.
    Simple {
        /// The simple type written inside the restriction.
        inline: Option<TypeId>,
        /// The facets of this step.
        facets: Vec<Facet>,
    },
    /// Elements.
    Elements(ParticleId),
}

/// An element declaration (Part 1, 3.3).
#[derive(Debug, Clone)]
pub struct ElementDecl {
    /// The element that declares it, in the tree of its file.
    pub node: NodeId,
    /// Its expanded name.
    pub name: QName,
    /// Its name in the text.
    pub place: Place,
    /// The whole element that declares it.
    pub extent: Place,
    /// What it stands in.
    pub owner: Owner,
    /// Its type.
    pub ty: Ref<TypeDef>,
    /// Whether `xsi:nil` may leave it without content.
    pub nillable: bool,
    /// Whether only its substitutes may stand.
    pub is_abstract: bool,
    /// Its default or fixed value.
    pub value: Option<Box<ValueConstraint>>,
    /// What may not stand in for it.
    pub block: DerivationSet,
    /// What `final` forbids.
    pub final_: DerivationSet,
    /// The head of the substitution group it joins.
    pub substitution_group: Option<Box<Ref<ElementDecl>>>,
    /// Its identity constraints.
    pub constraints: Vec<ConstraintId>,
    /// The element in which its author says something about it.
    pub annotation: Option<NodeId>,
}

/// An attribute declaration (Part 1, 3.2).
#[derive(Debug, Clone)]
pub struct AttributeDecl {
    /// The element that declares it, in the tree of its file.
    pub node: NodeId,
    /// Its expanded name.
    pub name: QName,
    /// Its name in the text.
    pub place: Place,
    /// The whole element that declares it.
    pub extent: Place,
    /// What it stands in.
    pub owner: Owner,
    /// Its type.
    pub ty: Ref<TypeDef>,
    /// Its default or fixed value.
    pub value: Option<Box<ValueConstraint>>,
    /// The element in which its author says something about it.
    pub annotation: Option<NodeId>,
}

/// Whether an attribute must, may or must not be there.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Use {
    /// Must.
    Required,
    /// May.
    Optional,
    /// Must not, though the base type has it.
    Prohibited,
}

/// The use of an attribute in a type (Part 1, 3.5).
#[derive(Debug, Clone)]
pub struct AttributeUse {
    /// The attribute.
    pub attribute: Ref<AttributeDecl>,
    /// Must it be there?
    pub usage: Use,
    /// A default or fixed value of this use.
    pub value: Option<Box<ValueConstraint>>,
    /// The element that wrote it.
    pub place: Place,
    /// The same, in the tree of its file.
    pub node: NodeId,
}

/// A named model group (Part 1, 3.7).
#[derive(Debug, Clone)]
pub struct GroupDef {
    /// Its name.
    pub name: QName,
    /// Its name in the text.
    pub place: Place,
    /// The whole element that defines it.
    pub extent: Place,
    /// Its content.
    pub particle: Option<ParticleId>,
    /// The element in which its author says something about it.
    pub annotation: Option<NodeId>,
}

/// A named attribute group (Part 1, 3.6).
#[derive(Debug, Clone)]
pub struct AttributeGroup {
    /// Its name.
    pub name: QName,
    /// Its name in the text.
    pub place: Place,
    /// The whole element that defines it.
    pub extent: Place,
    /// The attributes written in it.
    pub attributes: Vec<AttributeUse>,
    /// The groups it uses itself.
    pub groups: Vec<Ref<AttributeGroup>>,
    /// Any further attributes.
    pub any_attribute: Option<Box<Wildcard>>,
    /// The element in which its author says something about it.
    pub annotation: Option<NodeId>,
}

/// Which identity constraint.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum ConstraintKind {
    /// `xsd:unique`.
    Unique,
    /// `xsd:key`.
    Key,
    /// `xsd:keyref`.
    KeyRef,
}

/// The path of a selector or a field, as it is written.
#[derive(Debug, Clone)]
pub struct WrittenPath {
    /// The path.
    pub text: String,
    /// Where it stands.
    pub place: Place,
    /// The element that says what its prefixes mean.
    pub node: NodeId,
}

/// An identity constraint (Part 1, 3.11).
#[derive(Debug, Clone)]
pub struct IdentityConstraint {
    /// Its name.
    pub name: QName,
    /// Its name in the text.
    pub place: Place,
    /// Which of the three.
    pub kind: ConstraintKind,
    /// The path to the elements it is about.
    pub selector: Option<WrittenPath>,
    /// The paths to the values.
    pub fields: Vec<WrittenPath>,
    /// The key that a keyref refers to.
    pub refer: Option<Ref<IdentityConstraint>>,
}

/// A notation declaration (Part 1, 3.12).
#[derive(Debug, Clone)]
pub struct NotationDecl {
    /// Its name.
    pub name: QName,
    /// Its name in the text.
    pub place: Place,
    /// Its public identifier.
    pub public: Option<String>,
    /// Its system identifier.
    pub system: Option<String>,
}

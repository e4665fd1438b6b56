//! The set of all components of the schemas that belong together.

use std::sync::Arc;

use charter_source::{Fault, FileId, Files, Interner, Map, Place, QName};

use crate::read::Reader;
use crate::{
    Arena, AttributeDecl, AttributeGroup, AttributeGroupId, AttributeId, Builtin, ElementDecl, ElementId,
    GroupDef, GroupId, IdentityConstraint, NotationDecl, Particle, TypeDef, TypeId,
};

/// One `xsd:schema` element, as it was read.
#[derive(Debug, Clone)]
pub struct SchemaDocument {
    /// The file that it stands in.
    pub file: FileId,
    /// The element in the tree of the file.
    pub node: roxmltree::NodeId,
    /// Its start tag.
    pub place: Place,
    /// The whole element.
    pub extent: Place,
    /// The namespace of its components: its own, or that of the schema that includes it.
    pub namespace: Arc<str>,
    /// Whether it took the namespace of the schema that includes it.
    pub adopted: bool,
    /// Whether local elements are in the namespace unless they say otherwise.
    pub elements_qualified: bool,
    /// Whether local attributes are in the namespace unless they say otherwise.
    pub attributes_qualified: bool,
    /// What its author says about it.
    pub documentation: Vec<String>,
}

/// All schema components of a contract.
#[derive(Debug, Default)]
pub struct Schemas {
    /// Types; the built-in ones first.
    pub types: Arena<TypeDef>,
    /// Element declarations, global and local.
    pub elements: Arena<ElementDecl>,
    /// Attribute declarations, global and local.
    pub attribute_decls: Arena<AttributeDecl>,
    /// Attribute groups.
    pub attribute_groups: Arena<AttributeGroup>,
    /// Model groups.
    pub groups: Arena<GroupDef>,
    /// Particles.
    pub particles: Arena<Particle>,
    /// Identity constraints.
    pub constraints: Arena<IdentityConstraint>,
    /// Notations.
    pub notations: Arena<NotationDecl>,
    /// The schemas they come from.
    pub documents: Vec<SchemaDocument>,
    pub(crate) names: GlobalNames,
    /// One copy of each name in the set.
    pub(crate) interner: Interner,
    /// Groups that were redefined, with those that they take the place of.
    pub(crate) redefined_groups: Vec<(GroupId, GroupId)>,
    /// Attribute groups likewise.
    pub(crate) redefined_attribute_groups: Vec<(AttributeGroupId, AttributeGroupId)>,
    /// References into namespaces that their schema does not import.
    pub(crate) unseen: Vec<(QName, Place)>,
    /// The files that come with the program.
    pub(crate) known: Vec<FileId>,
    pub(crate) faults: Vec<Fault>,
}

/// The global components by name.
#[derive(Debug, Default)]
pub(crate) struct GlobalNames {
    pub types: Map<QName, TypeId>,
    pub elements: Map<QName, ElementId>,
    pub attributes: Map<QName, AttributeId>,
    pub groups: Map<QName, GroupId>,
    pub attribute_groups: Map<QName, AttributeGroupId>,
    pub constraints: Map<QName, crate::ConstraintId>,
    pub notations: Map<QName, crate::NotationId>,
}

impl Schemas {
    /// Reads the schemas at the given elements and those they include or import, and resolves all references.
    pub fn read(files: &Files, roots: impl IntoIterator<Item = (FileId, roxmltree::NodeId)>) -> Schemas {
        let mut schemas = Reader::read_all(files, roots);
        crate::resolve::resolve(&mut schemas);
        schemas
    }

    /// What is wrong with the schemas.
    pub fn faults(&self) -> &[Fault] {
        &self.faults
    }

    /// The type of that name, built-in ones included.
    pub fn type_named(&self, name: &QName) -> Option<TypeId> {
        self.names.types.get(name).copied()
    }

    /// The global element of that name.
    pub fn element_named(&self, name: &QName) -> Option<ElementId> {
        self.names.elements.get(name).copied()
    }

    /// The global attribute of that name.
    pub fn attribute_named(&self, name: &QName) -> Option<AttributeId> {
        self.names.attributes.get(name).copied()
    }

    /// The model group of that name.
    pub fn group_named(&self, name: &QName) -> Option<GroupId> {
        self.names.groups.get(name).copied()
    }

    /// The attribute group of that name.
    pub fn attribute_group_named(&self, name: &QName) -> Option<AttributeGroupId> {
        self.names.attribute_groups.get(name).copied()
    }

    /// The names of all global elements.
    pub fn element_names(&self) -> impl Iterator<Item = &QName> {
        self.names.elements.keys()
    }

    /// The names of all global types.
    pub fn type_names(&self) -> impl Iterator<Item = &QName> {
        self.names.types.keys()
    }

    /// The types of the contract itself, named and anonymous.
    pub fn own_types(&self) -> impl Iterator<Item = (TypeId, &TypeDef)> {
        self.types.iter().filter(|(id, ty)| Builtin::from_id(*id).is_none() && !self.is_known(ty.place))
    }

    /// Whether what stands at a place comes with the program, and is no part of what the user wrote.
    pub fn is_known(&self, place: Place) -> bool {
        self.known.contains(&place.file)
    }

    /// The document that a place stands in; the innermost one, should a file hold several.
    pub fn document_of(&self, place: Place) -> Option<&SchemaDocument> {
        self.documents
            .iter()
            .find(|document| document.file == place.file && document.extent.span.covers(place.span))
    }
}

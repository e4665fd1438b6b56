//! The set of all components of the schemas that belong together.

use std::collections::hash_map::Entry;
use std::sync::Arc;

use charter_source::{Fault, FileId, Interner, Map, NameKey, Place, QName};

use crate::sample::Vocabulary;
use crate::{
    Arena, AttributeDecl, AttributeGroup, AttributeGroupId, AttributeId, Builtin, ElementDecl, ElementId,
    GroupDef, GroupId, Id, IdentityConstraint, NotationDecl, Particle, TypeDef, TypeId,
};

/// One `xsd:schema` element, as it was read.
#[derive(Debug, Clone)]
pub struct SchemaDocument {
    /// The file that it stands in.
    pub file: FileId,
    /// The element in the tree of the file.
    pub node: charter_source::NodeId,
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
    /// What samples say, where a team has its own words.
    pub vocabulary: Arc<Vocabulary>,
}

/// The global components by name.
#[derive(Debug, Default)]
pub(crate) struct GlobalNames {
    pub types: Names<TypeDef>,
    pub elements: Names<ElementDecl>,
    pub attributes: Names<AttributeDecl>,
    pub groups: Names<GroupDef>,
    pub attribute_groups: Names<AttributeGroup>,
    pub constraints: Names<IdentityConstraint>,
    pub notations: Names<NotationDecl>,
}

/// Global components of one kind. All names are interned, so their keys tell them apart.
#[derive(Debug)]
pub(crate) struct Names<T> {
    by_key: Map<NameKey, Id<T>>,
    /// The names as they came: whoever goes through all of them finds the same first each time.
    in_order: Vec<QName>,
}

impl<T> Default for Names<T> {
    fn default() -> Self {
        Names { by_key: Map::default(), in_order: Vec::new() }
    }
}

impl<T> Names<T> {
    pub fn get(&self, key: NameKey) -> Option<Id<T>> {
        self.by_key.get(&key).copied()
    }

    /// Makes a component known by a name; the one that was known by it before.
    pub fn insert(&mut self, name: QName, id: Id<T>) -> Option<Id<T>> {
        let before = self.by_key.insert(name.key(), id);
        if before.is_none() {
            self.in_order.push(name);
        }
        before
    }

    /// Makes a component known by a name that is free; whether it was.
    pub fn insert_new(&mut self, name: QName, id: Id<T>) -> bool {
        match self.by_key.entry(name.key()) {
            Entry::Vacant(free) => {
                free.insert(id);
                self.in_order.push(name);
                true
            }
            Entry::Occupied(_) => false,
        }
    }

    pub fn iter(&self) -> impl Iterator<Item = &QName> {
        self.in_order.iter()
    }
}

impl Schemas {
    /// What is wrong with the schemas.
    pub fn faults(&self) -> &[Fault] {
        &self.faults
    }

    /// The key of a name from elsewhere, if any component has such a name.
    fn key(&self, name: &QName) -> Option<NameKey> {
        self.interner.key(&name.namespace, &name.local)
    }

    /// The type of that name, built-in ones included.
    pub fn type_named(&self, name: &QName) -> Option<TypeId> {
        self.names.types.get(self.key(name)?)
    }

    /// The global element of that name.
    pub fn element_named(&self, name: &QName) -> Option<ElementId> {
        self.names.elements.get(self.key(name)?)
    }

    /// The global attribute of that name.
    pub fn attribute_named(&self, name: &QName) -> Option<AttributeId> {
        self.names.attributes.get(self.key(name)?)
    }

    /// The model group of that name.
    pub fn group_named(&self, name: &QName) -> Option<GroupId> {
        self.names.groups.get(self.key(name)?)
    }

    /// The attribute group of that name.
    pub fn attribute_group_named(&self, name: &QName) -> Option<AttributeGroupId> {
        self.names.attribute_groups.get(self.key(name)?)
    }

    /// Whether a notation of that name is declared.
    pub(crate) fn has_notation(&self, name: &QName) -> bool {
        self.key(name).is_some_and(|key| self.names.notations.get(key).is_some())
    }

    /// The names of all global elements.
    pub fn element_names(&self) -> impl Iterator<Item = &QName> {
        self.names.elements.iter()
    }

    /// The names of all global types.
    pub fn type_names(&self) -> impl Iterator<Item = &QName> {
        self.names.types.iter()
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

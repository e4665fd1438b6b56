//! The elements of a file that call for other files.

use std::sync::Arc;

use crate::{File, FileId, Node, Place, attribute_place, elements, ns, tag_place};

/// By which element a file calls for another.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum ImportKind {
    /// `wsdl:import`.
    Contract,
    /// `xsd:import`.
    Schema,
    /// `xsd:include`: same namespace.
    Include,
    /// `xsd:redefine`: same namespace, some components written anew.
    Redefine,
}

/// A call for another file.
#[derive(Debug, Clone)]
pub struct Import {
    /// The element that calls.
    pub kind: ImportKind,
    /// The value of its location, or its start tag if it has none.
    pub place: Place,
    /// The element, in the tree of the file of `place`.
    pub node: crate::NodeId,
    /// The namespace it names.
    pub namespace: Option<Arc<str>>,
    /// The location it names.
    pub location: Option<String>,
    /// The file that was loaded for it.
    pub target: Option<FileId>,
}

/// The elements of a file that call for others.
pub(crate) fn imports_of(file: &File) -> Vec<Import> {
    let Some(root) = file.root() else { return Vec::new() };
    let mut found = Vec::new();
    if root.has_tag_name((ns::WSDL, "definitions")) {
        for child in elements(root) {
            if child.has_tag_name((ns::WSDL, "import")) {
                found.push(import(file, child, ImportKind::Contract, "location"));
            } else if child.has_tag_name((ns::WSDL, "types")) {
                elements(child).for_each(|schema| schema_imports(file, schema, &mut found));
            }
        }
    } else {
        schema_imports(file, root, &mut found);
    }
    found
}

/// What stands in the types of a contract: schemas, most often.
pub fn types_in(file: &File) -> impl Iterator<Item = Node<'_>> {
    let contract = file.root().filter(|root| root.has_tag_name((ns::WSDL, "definitions")));
    let types = contract.into_iter().flat_map(elements).filter(|it| it.has_tag_name((ns::WSDL, "types")));
    types.flat_map(elements)
}

/// The schemas embedded in a contract.
pub fn schemas_in(file: &File) -> impl Iterator<Item = Node<'_>> {
    types_in(file).filter(|it| it.has_tag_name((ns::XSD, "schema")))
}

/// The schema elements of a file: its root, or those embedded in a contract.
pub(crate) fn schemas_of(file: &File) -> impl Iterator<Item = Node<'_>> {
    let alone = file.root().filter(|root| root.has_tag_name((ns::XSD, "schema")));
    alone.into_iter().chain(schemas_in(file))
}

fn schema_imports(file: &File, schema: Node<'_>, found: &mut Vec<Import>) {
    if !schema.has_tag_name((ns::XSD, "schema")) {
        return;
    }
    for child in elements(schema).filter(|child| child.tag_name().namespace() == Some(ns::XSD)) {
        let kind = match child.tag_name().name() {
            "import" => ImportKind::Schema,
            "include" => ImportKind::Include,
            "redefine" => ImportKind::Redefine,
            _ => continue,
        };
        found.push(import(file, child, kind, "schemaLocation"));
    }
}

fn import(file: &File, node: Node<'_>, kind: ImportKind, location: &str) -> Import {
    let attribute = node.attribute_node(location);
    Import {
        kind,
        place: attribute.map_or_else(|| tag_place(file.id, node), |a| attribute_place(file.id, &a)),
        node: node.id(),
        namespace: node.attribute("namespace").map(Into::into),
        location: attribute.map(|a| a.value().to_owned()),
        target: None,
    }
}

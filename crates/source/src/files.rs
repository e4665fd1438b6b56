//! Loads a file and everything it imports.

use std::collections::VecDeque;
use std::sync::Arc;

use crate::{
    Fault, FileId, Location, Map, Node, Place, ReadError, Store, Text, Tree, attribute_place, elements, ns,
    tag_place,
};

/// How much is read at most.
#[derive(Debug, Clone, Copy)]
pub struct Limits {
    /// Bytes in one file.
    pub bytes: u64,
    /// Elements nested in each other.
    pub depth: usize,
}

impl Default for Limits {
    fn default() -> Self {
        Limits { bytes: 256 << 20, depth: 500 }
    }
}

/// A loaded file.
pub struct File {
    /// Its number among the loaded files.
    pub id: FileId,
    /// Where it was read from, as messages show it.
    pub location: Location,
    /// Its text and tree.
    pub tree: Tree,
}

impl File {
    /// The text.
    pub fn text(&self) -> &Text {
        self.tree.text()
    }

    /// The root element, if the file is well-formed.
    pub fn root(&self) -> Option<Node<'_>> {
        self.tree.root()
    }

    /// Whether the root is the element of that name.
    pub fn has_root(&self, namespace: &str, local: &str) -> bool {
        self.root().is_some_and(|root| {
            let name = root.tag_name();
            name.name() == local && name.namespace().unwrap_or("") == namespace
        })
    }
}

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
    pub node: roxmltree::NodeId,
    /// The namespace it names.
    pub namespace: Option<Arc<str>>,
    /// The location it names.
    pub location: Option<String>,
    /// The file that was loaded for it.
    pub target: Option<FileId>,
}

/// A file and everything it imports, each loaded once, in the order in which they are first called for.
pub struct Files {
    files: Vec<File>,
    imports: Vec<Import>,
    by_node: Map<(FileId, roxmltree::NodeId), usize>,
    faults: Vec<Fault>,
}

impl Files {
    /// Loads the file at `start` and all that it imports. An import that fails is a fault, not an error.
    ///
    /// # Errors
    /// If the first file itself cannot be read.
    pub fn load(store: &dyn Store, start: &Location, limits: Limits) -> Result<Files, ReadError> {
        let bytes = store.read(start, limits.bytes)?;
        let mut loader = Loader {
            store,
            limits,
            known: Map::default(),
            waiting: VecDeque::new(),
            files: Files {
                files: Vec::new(),
                imports: Vec::new(),
                by_node: Map::default(),
                faults: Vec::new(),
            },
        };
        loader.admit(start.clone(), bytes);
        while let Some(id) = loader.waiting.pop_front() {
            for import in imports_of(loader.files.get(id)) {
                loader.follow(import);
            }
        }
        Ok(loader.files)
    }

    /// The file that was asked for.
    pub fn first(&self) -> &File {
        &self.files[0]
    }

    /// One of the files.
    pub fn get(&self, id: FileId) -> &File {
        &self.files[id.0 as usize]
    }

    /// All files, the first one first.
    pub fn iter(&self) -> impl Iterator<Item = &File> {
        self.files.iter()
    }

    /// All calls for other files.
    pub fn imports(&self) -> &[Import] {
        &self.imports
    }

    /// The call that an element makes.
    pub fn import_at(&self, file: FileId, node: roxmltree::NodeId) -> Option<&Import> {
        self.by_node.get(&(file, node)).map(|index| &self.imports[*index])
    }

    /// What was wrong with the files as texts, and the imports that failed.
    pub fn faults(&self) -> &[Fault] {
        &self.faults
    }

    /// The text at a place.
    pub fn slice(&self, place: Place) -> &str {
        self.get(place.file).text().slice(place.span)
    }
}

struct Loader<'s> {
    store: &'s dyn Store,
    limits: Limits,
    known: Map<Location, FileId>,
    waiting: VecDeque<FileId>,
    files: Files,
}

impl Loader<'_> {
    fn admit(&mut self, location: Location, bytes: Vec<u8>) -> FileId {
        let id = FileId(self.files.files.len() as u32);
        self.known.insert(self.store.identity(&location), id);
        let (tree, fault) = Tree::parse(Text::decode(bytes), id, self.limits.depth);
        self.files.faults.extend(fault);
        self.files.files.push(File { id, location, tree });
        self.waiting.push_back(id);
        id
    }

    fn follow(&mut self, mut import: Import) {
        if let Some(reference) = &import.location {
            let base = &self.files.get(import.place.file).location;
            let location = base.join(reference);
            import.target = match self.known.get(&self.store.identity(&location)) {
                Some(known) => Some(*known),
                None => match self.store.read(&location, self.limits.bytes) {
                    Ok(bytes) => Some(self.admit(location, bytes)),
                    Err(error) => {
                        self.files.faults.extend(import_fault(&import, &location, &error));
                        None
                    }
                },
            };
        }
        let key = (import.place.file, import.node);
        self.files.by_node.insert(key, self.files.imports.len());
        self.files.imports.push(import);
    }
}

fn import_fault(import: &Import, location: &Location, error: &ReadError) -> Option<Fault> {
    if matches!(error, ReadError::Remote) {
        // The attributes of the `xml:` prefix are known without a file.
        if import.namespace.as_deref() == Some(ns::XML) {
            return None;
        }
        let message = format!("{location} was not read: the network is not used");
        let help = "save the file beside this one and import it from there";
        return Some(Fault::new("import-remote", import.place, message).help(help));
    }
    let message = format!("{location} cannot be imported: {error}");
    Some(Fault::new("import-not-found", import.place, message).help("correct the location, or add the file"))
}

/// The elements of a file that call for others.
fn imports_of(file: &File) -> Vec<Import> {
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::Overlay;

    fn load(texts: &[(&str, &str)]) -> Files {
        Files::load(&Overlay::of(texts), &Location::Path(texts[0].0.into()), Limits::default()).unwrap()
    }

    #[test]
    fn each_file_is_loaded_once_and_loops_end() {
        let head = "<s:schema xmlns:s='http://www.w3.org/2001/XMLSchema'>";
        let a = format!(
            "{head}<s:include schemaLocation='b.xsd'/><s:include schemaLocation='./b.xsd'/></s:schema>"
        );
        let b = format!("{head}<s:include schemaLocation='a.xsd'/></s:schema>");
        let files = load(&[("memory/a.xsd", &a), ("memory/b.xsd", &b)]);
        assert_eq!(files.iter().count(), 2);
        assert_eq!(files.imports().len(), 3);
        assert!(files.imports().iter().all(|import| import.target.is_some()));
        assert!(files.faults().is_empty());
    }

    #[test]
    fn a_missing_import_is_a_fault_at_its_location() {
        let text = "<s:schema xmlns:s='http://www.w3.org/2001/XMLSchema'><s:import schemaLocation='gone.xsd'/></s:schema>";
        let files = load(&[("memory/a.xsd", text)]);
        assert_eq!(files.faults().len(), 1);
        assert_eq!(files.faults()[0].rule, "import-not-found");
        assert_eq!(files.slice(files.faults()[0].place), "gone.xsd");
    }

    #[test]
    fn deep_nesting_is_refused_without_recursion() {
        let text = "<a>".repeat(100_000) + &"</a>".repeat(100_000);
        let files = load(&[("memory/deep.xml", &text)]);
        assert_eq!(files.faults()[0].rule, "xml-depth");
        assert!(files.first().root().is_none());
    }
}

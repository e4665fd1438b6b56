//! Loads a file and everything it imports.

use std::collections::VecDeque;

use crate::imports::{imports_of, schemas_of};
use crate::known::{Known, known, mentioned};
use crate::{
    Fault, File, FileId, Import, ImportKind, Limits, Location, Map, Place, ReadError, Store, Text, TextEdit,
    Tree, Wanted, apply,
};

/// A file and everything it imports, each loaded once, in the order in which they are first called for.
#[derive(Default)]
pub struct Files {
    files: Vec<File>,
    imports: Vec<Import>,
    by_node: Map<(FileId, crate::NodeId), usize>,
    faults: Vec<Fault>,
}

impl Files {
    /// Loads the file at `start` and all that it imports. An import that fails is a fault, not an error.
    ///
    /// # Errors
    /// If the first file itself cannot be read.
    pub fn load(store: &dyn Store, start: &Location, limits: Limits) -> Result<Files, ReadError> {
        let text = store.text(start, limits.bytes)?;
        let mut loader = Loader {
            store,
            limits,
            ids: Map::default(),
            missing: Vec::new(),
            waiting: VecDeque::new(),
            files: Files {
                files: Vec::new(),
                imports: Vec::new(),
                by_node: Map::default(),
                faults: Vec::new(),
            },
        };
        loader.admit(start.clone(), text);
        loader.follow_all();
        while loader.add_known() {
            loader.follow_all();
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
    pub fn import_at(&self, file: FileId, node: crate::NodeId) -> Option<&Import> {
        self.by_node.get(&(file, node)).map(|index| &self.imports[*index])
    }

    /// What was wrong with the files as texts, and the imports that failed.
    pub fn faults(&self) -> &[Fault] {
        &self.faults
    }

    /// The same files with some of their text written otherwise, each import led to the file that it was led to before; nothing
    /// is read. `None` if the edits do not fit, or change which elements there are.
    pub fn rewritten(&self, edits: &[TextEdit]) -> Option<Files> {
        let mut rewritten =
            Files { imports: self.imports.clone(), faults: self.faults.clone(), ..Files::default() };
        for file in &self.files {
            let of_file: Vec<TextEdit> =
                edits.iter().filter(|edit| edit.place.file == file.id).cloned().collect();
            let text = apply(file.text().content(), &of_file).ok()?;
            let (tree, _) = Tree::parse(Text::from(text.as_str()), file.id, Limits::default().depth);
            rewritten.files.push(File { id: file.id, location: file.location.clone(), tree });
        }
        for file in &rewritten.files {
            let mut before = rewritten.imports.iter_mut().filter(|import| import.place.file == file.id);
            for import in imports_of(file) {
                let known = before.next().filter(|known| known.node == import.node)?;
                *known = Import { target: known.target, ..import };
            }
        }
        for (index, import) in rewritten.imports.iter().enumerate() {
            rewritten.by_node.insert((import.place.file, import.node), index);
        }
        Some(rewritten)
    }

    /// The text at a place.
    pub fn slice(&self, place: Place) -> &str {
        self.get(place.file).text().slice(place.span)
    }
}

struct Loader<'s> {
    store: &'s dyn Store,
    limits: Limits,
    ids: Map<Location, FileId>,
    /// The imports of known namespaces for which no file was found, by their index.
    missing: Vec<usize>,
    waiting: VecDeque<FileId>,
    files: Files,
}

impl Loader<'_> {
    fn admit(&mut self, location: Location, text: Text) -> FileId {
        let id = FileId(self.files.files.len() as u32);
        self.ids.insert(self.store.identity(&location), id);
        let (tree, fault) = Tree::parse(text, id, self.limits.depth);
        self.files.faults.extend(fault);
        self.files.files.push(File { id, location, tree });
        self.waiting.push_back(id);
        id
    }

    fn follow_all(&mut self) {
        while let Some(id) = self.waiting.pop_front() {
            for import in imports_of(self.files.get(id)) {
                self.follow(import);
            }
        }
    }

    fn follow(&mut self, mut import: Import) {
        let index = self.files.imports.len();
        let is_known =
            import.kind == ImportKind::Schema && import.namespace.as_deref().is_some_and(has_known);
        if let Some(location) = self.location_of(&import) {
            match self.ids.get(&self.store.identity(&location)) {
                Some(id) => import.target = Some(*id),
                None => match self.store.text(&location, self.limits.bytes) {
                    Ok(text) => import.target = Some(self.admit(location, text)),
                    // What lies on the network is as good as not named, if it is known anyway.
                    Err(ReadError::Remote | ReadError::Network(_)) if is_known => {}
                    Err(error) => self.files.faults.push(import_fault(&import, &location, &error)),
                },
            }
        }
        if is_known && import.target.is_none() {
            self.missing.push(index);
        }
        self.files.by_node.insert((import.place.file, import.node), index);
        self.files.imports.push(import);
    }

    /// Where an import leads: as a catalog says, else as it says itself.
    fn location_of(&self, import: &Import) -> Option<Location> {
        let base = &self.files.get(import.place.file).location;
        let written = import.location.as_deref();
        let location = written.map(|reference| base.join(reference));
        let namespace = import.namespace.as_deref();
        let wanted = Wanted { reference: written, location: location.as_ref(), namespace };
        self.store.redirect(&wanted).or(location)
    }

    /// Adds the known schemas that are called for and that no file provides; whether there were any.
    fn add_known(&mut self) -> bool {
        let mut wanted: Vec<&'static Known> = self.files.files.iter().flat_map(mentioned).collect();
        let missing = std::mem::take(&mut self.missing);
        let import_of =
            |files: &Files, index: usize| files.imports[index].namespace.as_deref().and_then(known);
        wanted.extend(missing.iter().filter_map(|index| import_of(&self.files, *index)));
        let before = self.files.files.len();
        for known in wanted {
            let location = known.location();
            if !self.ids.contains_key(&location) && !self.provides(known.namespace) {
                self.admit(location, Text::from(known.text));
            }
        }
        for index in missing {
            let location = import_of(&self.files, index).map(Known::location);
            self.files.imports[index].target = location.and_then(|location| self.ids.get(&location).copied());
        }
        self.files.files.len() > before
    }

    /// Whether a schema of that namespace has been loaded, by itself or in a contract.
    fn provides(&self, namespace: &str) -> bool {
        let schemas = self.files.files.iter().flat_map(schemas_of);
        schemas.map(|schema| schema.attribute("targetNamespace")).any(|target| target == Some(namespace))
    }
}

fn has_known(namespace: &str) -> bool {
    known(namespace).is_some()
}

fn import_fault(import: &Import, location: &Location, error: &ReadError) -> Fault {
    if matches!(error, ReadError::Remote) {
        let message = format!("{location} was not read: the network is not used");
        let help =
            "save it beside this file, name it in a catalog (--catalog), or allow the network (--online)";
        return Fault::new("import-remote", import.place, message).help(help);
    }
    let message = format!("{location} cannot be imported: {error}");
    let help = match error {
        ReadError::Network(_) => "save it beside this file, and import it from there",
        _ => "correct the location, or add the file",
    };
    Fault::new("import-not-found", import.place, message).help(help)
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

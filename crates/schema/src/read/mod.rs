//! Reads components from the trees of schema documents. References are kept by name; `resolve` follows them.

mod attributes;
mod declarations;
mod grammar;
mod particles;
mod redefine;
mod representation;
mod scope;
mod types;

use std::collections::VecDeque;
use std::sync::Arc;

use charter_source::{
    Fault, FileId, Files, ImportKind, Node, Place, QName, Set, attribute_place, elements, ns, tag_place,
};

use crate::component::*;
use crate::set::{GlobalNames, Names};
use crate::{Builtin, Id, Kind, Schemas};
use scope::Scope;

/// Bytes of a document that is worth a second thread.
const LARGE_DOCUMENT: usize = 256 << 10;

/// Fills a [`Schemas`] from the documents that belong to it.
pub(crate) struct SchemaReader<'f> {
    files: &'f Files,
    redefinitions: redefine::Redefinitions,
    set: Schemas,
}

/// A schema element still to be read, and the namespace that an including schema lends it.
struct Task {
    file: FileId,
    node: charter_source::NodeId,
    lent: Option<Arc<str>>,
}

impl Schemas {
    /// Reads the schemas at the given elements and those they include or import, and resolves all references.
    pub fn read(files: &Files, roots: impl IntoIterator<Item = (FileId, charter_source::NodeId)>) -> Schemas {
        let mut schemas = SchemaReader::read_all(files, roots);
        crate::resolve::resolve(&mut schemas);
        schemas
    }
}

impl<'f> SchemaReader<'f> {
    pub(crate) fn read_all(
        files: &'f Files,
        roots: impl IntoIterator<Item = (FileId, charter_source::NodeId)>,
    ) -> Schemas {
        let mut reader = SchemaReader { files, redefinitions: Default::default(), set: Schemas::default() };
        reader.add_builtins();
        let mut tasks: VecDeque<Task> =
            roots.into_iter().map(|(file, node)| Task { file, node, lent: None }).collect();
        // What comes with the program may be named without an import that leads to it.
        for (file, root) in files.iter().filter(|file| file.is_known()).filter_map(|f| Some((f, f.root()?))) {
            reader.set.known.push(file.id);
            tasks.push_back(Task { file: file.id, node: root.id(), lent: None });
        }
        let mut seen = Set::default();
        while let Some(task) = tasks.pop_front() {
            if seen.insert((task.file, task.node, task.lent.clone())) {
                reader.read_document(&task, &mut tasks);
            }
        }
        reader.put_redefinitions_in_place();
        reader.set
    }

    fn read_document(&mut self, task: &Task, tasks: &mut VecDeque<Task>) {
        let Some(node) = self.files.get(task.file).tree.node(task.node) else { return };
        let scope = Scope::of_schema(&mut self.set.interner, task.file, node, task.lent.clone());
        // The grammar needs nothing of what is read, so in a large document the two go side by side.
        let length = node.range().len();
        let large = length > LARGE_DOCUMENT;
        if large {
            self.reserve(length);
        }
        let mut faults = Vec::new();
        let documentation = match large {
            // The components stay on this thread, which will give their memory back.
            true => std::thread::scope(|threads| {
                threads.spawn(|| grammar::check(task.file, node, &mut faults));
                self.components(&scope, node, tasks)
            }),
            false => {
                grammar::check(task.file, node, &mut faults);
                self.components(&scope, node, tasks)
            }
        };
        self.set.faults.append(&mut faults);
        self.set.documents.push(crate::SchemaDocument {
            file: task.file,
            node: task.node,
            place: tag_place(task.file, node),
            extent: Place { file: task.file, span: node.range().into() },
            adopted: task.lent.is_some(),
            elements_qualified: scope.elements_qualified,
            attributes_qualified: scope.attributes_qualified,
            namespace: scope.namespace,
            documentation,
        });
    }

    /// Makes room for the components of a document of so many bytes; what is too much costs nothing.
    fn reserve(&mut self, length: usize) {
        self.set.elements.reserve(length / 100);
        self.set.particles.reserve(length / 100);
        self.set.types.reserve(length / 400);
        self.set.interner.reserve(length / 400);
    }

    /// Reads the global components of a document; what its author says about the whole of it.
    fn components(&mut self, scope: &Scope, node: Node<'_>, tasks: &mut VecDeque<Task>) -> Vec<String> {
        let mut documentation = Vec::new();
        for child in elements(node) {
            if child.tag_name().namespace() != Some(ns::XSD) {
                continue;
            }
            match child.tag_name().name() {
                "element" => drop(self.global_element(scope, child)),
                "complexType" | "simpleType" => drop(self.global_type(scope, child)),
                "attribute" => drop(self.global_attribute(scope, child)),
                "group" => self.global_group(scope, child),
                "attributeGroup" => self.global_attribute_group(scope, child),
                "notation" => self.notation(scope, child),
                "annotation" => {
                    let read = Annotation::read(self.files, scope.file, Some(child.id()));
                    documentation.extend(read.documentation);
                }
                "import" | "include" => self.follow(scope, child, tasks),
                "redefine" => {
                    self.follow(scope, child, tasks);
                    self.redefine(scope, child);
                }
                _ => {}
            }
        }
        documentation
    }

    /// Queues the schema that an import or include calls for.
    fn follow(&mut self, scope: &Scope, node: Node<'_>, tasks: &mut VecDeque<Task>) {
        let files = self.files;
        let Some(import) = files.import_at(scope.file, node.id()) else { return };
        self.import_rules(scope, import, node);
        let Some(target) = import.target else { return };
        let file = self.files.get(target);
        // A file that is not well-formed has its own fault.
        let Some(root) = file.root() else { return };
        if root.has_tag_name((ns::WSDL, "definitions")) {
            return;
        }
        let clause = match import.kind {
            ImportKind::Include => "src-include",
            ImportKind::Redefine => "src-redefine",
            _ => "src-import",
        };
        if !root.has_tag_name((ns::XSD, "schema")) {
            let message =
                format!("{} is not a schema: its root is {}", file.location, root.tag_name().name());
            let fault = Fault::new(clause, import.place, message).help("name the file of a schema");
            return self.set.faults.push(fault);
        }
        let own = root.attribute("targetNamespace").unwrap_or("");
        let included = matches!(import.kind, ImportKind::Include | ImportKind::Redefine);
        if included && !own.is_empty() && own != &*scope.namespace {
            let message =
                format!("{} has the namespace \"{own}\", not \"{}\"", file.location, scope.namespace);
            let help = "use xsd:import for a schema of another namespace";
            self.set.faults.push(Fault::new(clause, import.place, message).help(help));
        } else if import.kind == ImportKind::Schema && import.namespace.as_deref().unwrap_or("") != own {
            let wanted = import.namespace.as_deref().unwrap_or("");
            let message = format!("{} has the namespace \"{own}\", not \"{wanted}\"", file.location);
            let help = "name the namespace that the file declares as its target";
            self.set.faults.push(Fault::new(clause, import.place, message).help(help));
        }
        let lent =
            (included && own.is_empty() && !scope.namespace.is_empty()).then(|| scope.namespace.clone());
        tasks.push_back(Task { file: target, node: root.id(), lent });
    }

    fn add_builtins(&mut self) {
        let nowhere = Place::default();
        for builtin in Builtin::all() {
            let name = self.set.interner.qname(ns::XSD, builtin.name());
            let to = |builtin: Builtin| Ref { name: None, place: nowhere, target: Some(builtin.id()) };
            let kind = if builtin == Builtin::AnyType {
                TypeKind::Complex(ComplexType {
                    base: to(Builtin::AnyType),
                    derivation: Derivation::Restriction,
                    is_abstract: false,
                    block: DerivationSet::default(),
                    mixed: true,
                    content: Content::Empty,
                    attributes: Vec::new(),
                    attribute_groups: Vec::new(),
                    any_attribute: None,
                })
            } else {
                let derivation = match builtin.kind() {
                    Kind::List(item) => SimpleDerivation::List(to(item)),
                    _ => SimpleDerivation::Restriction(to(builtin.base())),
                };
                TypeKind::Simple(SimpleType { derivation, facets: Vec::new() })
            };
            let id = self.set.types.add(TypeDef {
                name: Some(name.clone()),
                place: nowhere,
                extent: nowhere,
                owner: Owner::Schema,
                annotation: None,
                final_: DerivationSet::default(),
                kind,
            });
            self.set.names.types.insert(name, id);
        }
    }

    /// The name that a component gives itself, and its place; a fault if it has none or it is no name.
    fn name_of(&mut self, scope: &Scope, node: Node<'_>) -> Option<(Arc<str>, Place)> {
        // Without one there is nothing to know it by; the grammar has said so.
        let attribute = node.attribute_node("name")?;
        let place = attribute_place(scope.file, &attribute);
        let name = attribute.value().trim();
        Some((self.set.interner.intern(name), place))
    }

    /// The expanded name of a global component.
    fn global_name(&mut self, scope: &Scope, node: Node<'_>) -> Option<(QName, Place)> {
        let (local, place) = self.name_of(scope, node)?;
        Some((QName { namespace: scope.namespace.clone(), local }, place))
    }

    /// The expanded name of a local element or attribute, which has a namespace only if it is qualified.
    fn local_name(&mut self, scope: &Scope, node: Node<'_>, usual: bool) -> Option<(QName, Place)> {
        let (local, place) = self.name_of(scope, node)?;
        let qualified = is_qualified(node, usual);
        let namespace = if qualified { scope.namespace.clone() } else { self.set.interner.intern("") };
        Some((QName { namespace, local }, place))
    }

    /// The type that stands in a declaration, unless that names one already.
    fn inline_type(
        &mut self,
        (clause, scope): (&'static str, &Scope),
        node: Node<'_>,
        has_named: bool,
        owner: Owner,
    ) -> Option<Ref<TypeDef>> {
        if has_named {
            self.two_types(clause, scope, node);
            return None;
        }
        let ty = self.anonymous_type(scope, node, owner);
        Some(Ref::inline(ty, tag_place(scope.file, node)))
    }

    /// Makes a global component known by its name, or says that the name is taken.
    fn register<T>(
        &mut self,
        kind: &str,
        names: impl Fn(&mut GlobalNames) -> &mut Names<T>,
        name: QName,
        place: Place,
        id: Id<T>,
    ) {
        // What redefines another takes its place when that one is known.
        if self.redefinitions.defer(&name, place, id.index()) {
            return;
        }
        let local = name.local.clone();
        if !names(&mut self.set.names).insert_new(name, id) {
            let message = format!("there are two {kind} named \"{local}\" in this namespace");
            let fault = Fault::new("sch-props-correct", place, message);
            self.set.faults.push(fault.help("rename or remove one of them"));
        }
    }
}

/// The annotation of a component: its first child, by the grammar.
fn annotation_in(node: Node<'_>) -> Option<charter_source::NodeId> {
    node.first_element_child()
        .filter(|child| child.has_tag_name((ns::XSD, "annotation")))
        .map(|child| child.id())
}

/// The child elements that are components: those of XML Schema, without annotations.
fn parts<'a>(node: Node<'a>) -> impl Iterator<Item = Node<'a>> {
    elements(node).filter(|child| {
        let name = child.tag_name();
        name.namespace() == Some(ns::XSD) && name.name() != "annotation"
    })
}

/// Whether a local element or attribute is qualified: as it says itself, or else as is usual in its schema.
fn is_qualified(node: Node<'_>, usual: bool) -> bool {
    match node.attribute("form").map(str::trim) {
        Some("qualified") => true,
        Some("unqualified") => false,
        _ => usual,
    }
}

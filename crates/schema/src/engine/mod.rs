//! The engine: everything about a set of schemas that is worked out from its components when it is first needed,
//! and kept. Validity of instances, validity of schemas, and generation all ask here.

mod accept;
mod allowed;
pub(crate) mod attribution;
mod budget;
mod content;
mod datatype;
mod derived;
mod encoded;
mod enumeration;
mod model;
mod models;
mod patterns;
mod prepare;
mod unread;
mod violation;
mod walk;
mod wording;

use std::sync::{Arc, OnceLock};

use charter_source::NodeId;
use charter_source::{Files, NameKey, Place, QName, ns};

use self::patterns::Automata;
use crate::xpath::XPath;
use crate::{AttributeId, ElementId, Relatives, Schemas, TypeId, WrittenPath};
pub use allowed::{Allowed, AllowedAttribute};
pub(crate) use budget::Budget;
pub(crate) use content::ContentKind;
pub use datatype::{Accepted, Context, Datatype, Limit, Variety};
pub(crate) use derived::stands_for;
pub use encoded::{EncodedArray, written_array_type};
pub use enumeration::{Enumeration, Texts};
pub use model::{Leaf, Model};
pub(crate) use model::{Node as ModelNode, Term as ModelTerm};
pub(crate) use patterns::ExampleOf;
pub use patterns::PatternStep;
pub use violation::Violation;
pub(crate) use walk::fits;
pub use walk::{Symbol, Walk};
pub(crate) use wording::quoted;

/// What is known about a set of schemas beyond what is written in them.
pub struct Engine<'s> {
    pub(crate) files: &'s Files,
    pub(crate) schemas: &'s Schemas,
    datatypes: Vec<OnceLock<Option<Arc<Datatype>>>>,
    models: Vec<OnceLock<Option<Arc<Model>>>>,
    allowed: Vec<OnceLock<Arc<Allowed>>>,
    kinds: Vec<OnceLock<ContentKind>>,
    /// Of elements: what each may stand for, and from which namespaces others may stand for it. Few contracts have any.
    heads: OnceLock<Vec<OnceLock<Heads>>>,
    namespaces: OnceLock<Vec<OnceLock<Namespaces>>>,
    /// For types that have no attributes at all, as most have none.
    no_attributes: Arc<Allowed>,
    relatives: OnceLock<Relatives>,
    /// Whether any element is in a substitution group.
    substitutes: OnceLock<bool>,
    budget: Arc<Budget>,
    pub(crate) automata: Arc<Automata>,
    unread: OnceLock<unread::Unread>,
}

/// The elements that one may stand for, with their keys.
type Heads = Box<[(NameKey, ElementId)]>;
/// The namespaces of those that may stand for one.
type Namespaces = Box<[Arc<str>]>;

/// So many places that are filled when they are needed.
fn empty<T>(count: usize) -> Vec<OnceLock<T>> {
    std::iter::repeat_with(OnceLock::new).take(count).collect()
}

impl<'s> Engine<'s> {
    /// An engine for the schemas that were read from these files.
    pub fn new(files: &'s Files, schemas: &'s Schemas) -> Engine<'s> {
        let bytes = files.iter().map(|file| file.text().content().len() as u64).sum();
        Engine {
            files,
            schemas,
            datatypes: empty(schemas.types.len()),
            models: empty(schemas.types.len()),
            allowed: empty(schemas.types.len()),
            kinds: empty(schemas.types.len()),
            heads: OnceLock::new(),
            namespaces: OnceLock::new(),
            no_attributes: Arc::default(),
            relatives: OnceLock::new(),
            substitutes: OnceLock::new(),
            unread: OnceLock::new(),
            budget: Arc::new(Budget::of(bytes)),
            automata: Arc::new(Automata::of_schemas(bytes)),
        }
    }

    /// How many bytes of text the schemas were read from.
    pub(crate) fn text_length(&self) -> u64 {
        self.files.iter().map(|file| file.text().content().len() as u64).sum()
    }

    /// What may still be spent.
    pub(crate) fn budget(&self) -> &Arc<Budget> {
        &self.budget
    }

    /// The schemas.
    pub fn schemas(&self) -> &'s Schemas {
        self.schemas
    }

    /// Who may stand for whom.
    pub fn relatives(&self) -> &Relatives {
        self.relatives.get_or_init(|| Relatives::of(self.schemas))
    }

    /// The content model of a type; `None` for one that allows anything, or whose model is too large.
    pub fn model(&self, id: TypeId) -> Option<&Arc<Model>> {
        self.models[id.index()].get_or_init(|| Model::build(self, id).map(Arc::new)).as_ref()
    }

    /// The attributes of a type.
    pub fn allowed(&self, id: TypeId) -> &Arc<Allowed> {
        self.allowed[id.index()].get_or_init(|| {
            let own = Allowed::of(self.schemas, id);
            if own.is_empty() { self.no_attributes.clone() } else { Arc::new(own) }
        })
    }

    /// The type of an attribute that a type declares.
    pub fn attribute_type(&self, id: TypeId, name: &QName) -> Option<TypeId> {
        let key = self.schemas.interner.key(&name.namespace, &name.local)?;
        let allowed = self.allowed(id);
        allowed.find(key).map(|at| allowed.all()[at].ty)
    }

    /// The elements that this one may stand for, itself not among them.
    pub fn heads(&self, id: ElementId) -> &[(NameKey, ElementId)] {
        if !self.has_substitutes() {
            return &[];
        }
        let all = self.heads.get_or_init(|| empty(self.schemas.elements.len()));
        all[id.index()].get_or_init(|| derived::heads(self.schemas, id))
    }

    /// The namespaces of the elements that may stand for this one.
    pub(crate) fn substitute_namespaces(&self, id: ElementId) -> &[Arc<str>] {
        if !self.has_substitutes() {
            return &[];
        }
        let all = self.namespaces.get_or_init(|| empty(self.schemas.elements.len()));
        all[id.index()].get_or_init(|| {
            let mut found: Vec<Arc<str>> = Vec::new();
            let mut waiting = self.relatives().substitutes(id).to_vec();
            while let Some(member) = waiting.pop() {
                waiting.extend(self.relatives().substitutes(member));
                let namespace = &self.schemas.elements[member].name.namespace;
                if !found.contains(namespace) && self.heads(member).iter().any(|(_, head)| *head == id) {
                    found.push(namespace.clone());
                }
            }
            found.into()
        })
    }

    /// The global element of a name.
    pub fn global_element(&self, key: NameKey) -> Option<ElementId> {
        self.schemas.names.elements.get(key)
    }

    /// The global attribute of a name.
    pub fn global_attribute(&self, key: NameKey) -> Option<AttributeId> {
        self.schemas.names.attributes.get(key)
    }

    /// An element of a name as a content model sees it.
    pub fn symbol<'n>(&'n self, namespace: &'n str, local: &str) -> Symbol<'n> {
        let key = self.schemas.interner.key(namespace, local);
        let global = key.filter(|_| self.has_substitutes()).and_then(|key| self.global_element(key));
        Symbol { key, namespace, global, heads: global.map_or(&[], |id| self.heads(id)) }
    }

    /// Whether any element may stand for another.
    pub fn has_substitutes(&self) -> bool {
        *self.substitutes.get_or_init(|| {
            self.schemas.elements.iter().any(|(_, element)| element.substitution_group.is_some())
        })
    }

    /// The path of a selector or a field.
    ///
    /// # Errors
    /// What is wrong with it, in words.
    pub(crate) fn xpath(&self, path: &WrittenPath, field: bool) -> Result<XPath, String> {
        let node = self.files.get(path.place.file).tree.node(path.node);
        let namespace = |prefix: &str| match prefix {
            "xml" => Some(ns::XML.to_owned()),
            prefix => node?.lookup_namespace_uri(Some(prefix)).map(str::to_owned),
        };
        XPath::parse(&path.text, field, &namespace)
    }

    /// The context of a value that a schema itself states.
    pub(crate) fn here(&self, place: Place, node: NodeId) -> Here<'_> {
        Here { engine: self, place, node }
    }

    /// Whether a notation of that name is declared.
    pub(crate) fn has_notation(&self, name: &QName) -> bool {
        self.schemas.has_notation(name)
    }
}

/// An element of a schema, as the context of values in it.
pub(crate) struct Here<'e> {
    pub engine: &'e Engine<'e>,
    pub place: Place,
    pub node: NodeId,
}

impl Context for Here<'_> {
    fn name(&self, text: &str) -> Option<QName> {
        let node = self.engine.files.get(self.place.file).tree.node(self.node)?;
        expanded(node, text)
    }

    fn has_notation(&self, name: &QName) -> bool {
        self.engine.has_notation(name)
    }

    fn has_entity(&self, _: &str) -> bool {
        // A schema cannot know the entities of its instances.
        true
    }
}

/// The expanded name that a QName has at a node; `None` if its prefix is not declared.
pub fn expanded(node: charter_source::Node<'_>, text: &str) -> Option<QName> {
    match text.split_once(':') {
        None => Some(QName::new(node.lookup_namespace_uri(None).unwrap_or(""), text)),
        Some(("xml", local)) => Some(QName::new(ns::XML, local)),
        Some((prefix, local)) => Some(QName::new(node.lookup_namespace_uri(Some(prefix))?, local)),
    }
}

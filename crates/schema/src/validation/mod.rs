//! Validity of instances (Part 1, the validation rules `cvc-*`; Part 2, `cvc-*-valid`).
//!
//! [`Engine::validate`] leads the elements of a document through the content models of their types, judges every
//! value, and keeps what is wrong as findings: place, path in the document, the clause, what was found and what
//! was allowed. [`Report`] keeps the first of them and counts the rest.

mod attributes;
mod content;
mod divided;
mod element;
mod encoded;
mod identity;
mod path;
mod report;

use std::cell::Cell;
use std::collections::hash_map::Entry;
use std::sync::{Arc, OnceLock};

use charter_source::{Fault, FileId, Map, NamespaceKey, Node, Place, QName, Set};

use crate::engine::{Context, Engine, expanded};
use crate::{Builtin, ElementId, TypeId, Violation};
use charter_source::NodeId;
pub use encoded::targets;
use identity::Tables;
pub use path::Paths;
use report::Findings;
pub use report::{Report, Wrong};

/// Bytes of a document that is worth several threads.
const LARGE_DOCUMENT: usize = 256 << 10;

impl Engine<'_> {
    /// Judges a document by the global element of its root's name.
    ///
    /// ```
    /// use charter_schema::{Engine, Schemas};
    /// use charter_source::{Files, Limits, Location, Overlay};
    ///
    /// let schema = r#"<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema">
    ///   <xs:element name="draught" type="xs:decimal"/>
    /// </xs:schema>"#;
    /// let store = Overlay::of(&[("port.xsd", schema), ("draught.xml", "<draught>deep</draught>")]);
    /// let load = |name| Files::load(&store, &Location::from_argument(name), Limits::default());
    /// let (files, instance) = (load("port.xsd")?, load("draught.xml")?);
    ///
    /// let root = files.first().root().unwrap();
    /// let schemas = Schemas::read(&files, [(files.first().id, root.id())]);
    /// let report = Engine::new(&files, &schemas).validate(instance.first().id, instance.first().root().unwrap(), 100);
    /// assert_eq!(report.count, 1);
    /// assert_eq!(report.wrong[0].fault.rule, "cvc-datatype-valid");
    /// assert_eq!(report.wrong[0].fault.message, "\"deep\" is not a decimal");
    /// # Ok::<(), charter_source::ReadError>(())
    /// ```
    pub fn validate(&self, file: FileId, root: Node<'_>, most: usize) -> Report {
        let mut validator = Validator::new(self, file, most);
        validator.divides = root.document().input_text().len() > LARGE_DOCUMENT
            // What identity constraints compare lies all over the document.
            && self.schemas.constraints.is_empty();
        validator.document(root);
        validator.report.report()
    }
}

impl Engine<'_> {
    /// Judges elements of a document, each by what is given, such as the blocks and the body of an envelope. If they are
    /// `encoded`, then by the encoding of SOAP 1.1, section 5: values may be references, arrays have members of any
    /// name, and anything may be nil.
    pub fn validate_parts(
        &self,
        file: FileId,
        parts: &[(Node<'_>, Assess)],
        encoded: bool,
        most: usize,
    ) -> Report {
        let mut validator = Validator::new(self, file, most);
        validator.encoded = encoded;
        validator.in_envelope = true;
        validator.parts(parts);
        validator.report.report()
    }

    /// The types by which the elements of a document are judged, each of the given ones by what is given.
    pub fn types_of(&self, file: FileId, parts: &[(Node<'_>, Assess)], encoded: bool) -> Map<NodeId, TypeId> {
        let mut validator = Validator::new(self, file, 0);
        validator.encoded = encoded;
        validator.typing = Some(Map::default());
        validator.parts(parts);
        validator.typing.unwrap_or_default()
    }
}

/// How an element is judged.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Assess {
    /// By this declaration.
    By(ElementId),
    /// By this type, whatever its name.
    As(TypeId),
    /// By the global declaration of its name, which must be there.
    Strict,
    /// By the global declaration of its name, if there is one.
    Lax,
}

/// Judges one document.
pub(crate) struct Validator<'v, 'd> {
    engine: &'v Engine<'v>,
    file: FileId,
    report: Findings<'d>,
    ids: Map<String, Place>,
    references: Vec<(String, Place, Node<'d>)>,
    entities: Arc<OnceLock<Set<String>>>,
    tables: Tables<'v, 'd>,
    depth: usize,
    /// Where the last namespace stands in the document, and the address it is known by.
    last_namespace: Cell<(usize, Option<NamespaceKey>)>,
    /// The address of no namespace, in which most attributes are.
    no_namespace: Option<NamespaceKey>,
    /// The types of elements, if somebody wants to know them.
    typing: Option<Map<NodeId, TypeId>>,
    /// Whether the children of an element may be judged side by side.
    divides: bool,
    /// The IDs found, if this judges only a part of the document.
    apart: Option<Vec<FoundId<'d>>>,
    /// Whether values are written by the encoding of SOAP.
    encoded: bool,
    /// Whether this judges what stands in an envelope.
    in_envelope: bool,
    /// The values that references may lead to, once there is a reference.
    targets: std::cell::OnceCell<Map<&'d str, Node<'d>>>,
    /// The references that are being followed, so that a circle of them ends.
    followed: Vec<NodeId>,
}

/// An ID or a reference to one, and where it stands.
struct FoundId<'d> {
    kind: Builtin,
    id: String,
    place: Place,
    node: Node<'d>,
    attribute: Option<String>,
}

impl<'v, 'd> Validator<'v, 'd> {
    fn new(engine: &'v Engine<'v>, file: FileId, most: usize) -> Self {
        Validator {
            engine,
            file,
            report: Findings::new(most),
            ids: Map::default(),
            references: Vec::new(),
            entities: Arc::default(),
            tables: Tables::new(engine),
            depth: 0,
            last_namespace: Cell::new((0, None)),
            no_namespace: engine.schemas.interner.address(""),
            typing: None,
            divides: false,
            apart: None,
            encoded: false,
            in_envelope: false,
            targets: std::cell::OnceCell::new(),
            followed: Vec::new(),
        }
    }

    fn document(&mut self, root: Node<'d>) {
        self.parts(&[(root, Assess::Strict)]);
    }

    fn parts(&mut self, parts: &[(Node<'d>, Assess)]) {
        parts.iter().for_each(|(node, assess)| self.element(*node, *assess));
        for (id, place, node) in std::mem::take(&mut self.references) {
            if !self.ids.contains_key(&id) {
                let message = format!("nothing here has the ID \"{id}\"");
                let help = "correct the reference, or give an element that ID";
                self.wrong("cvc-id", place, node, None, message, help);
            }
        }
    }

    /// Keeps what is wrong at an element, or at one of its attributes.
    fn wrong(
        &mut self,
        rule: &'static str,
        place: Place,
        node: Node<'d>,
        attribute: Option<&str>,
        message: impl Into<String>,
        help: impl Into<String>,
    ) {
        if self.report.admits() {
            let help = Some(help.into()).filter(|help| !help.is_empty());
            self.report.keep(Fault { rule, place, message: message.into(), help }, node, attribute);
        } else {
            self.report.count += 1;
            self.report.open += usize::from(rule == Violation::OPEN);
        }
    }

    /// Remembers the IDs and references in a value.
    fn remember_ids(
        &mut self,
        ids: Vec<(Builtin, String)>,
        place: Place,
        node: Node<'d>,
        attribute: Option<&str>,
    ) {
        for (kind, id) in ids {
            let found = FoundId { kind, id, place, node, attribute: attribute.map(str::to_owned) };
            match &mut self.apart {
                Some(apart) => apart.push(found),
                None => self.remember_id(found),
            }
        }
    }

    fn remember_id(&mut self, found: FoundId<'d>) {
        let FoundId { kind, id, place, node, attribute } = found;
        if !kind.is_within(Builtin::Id) {
            self.references.push((id, place, node));
            return;
        }
        match self.ids.entry(id) {
            Entry::Vacant(free) => drop(free.insert(place)),
            Entry::Occupied(taken) => {
                let message = format!("another element has the ID \"{}\" already", taken.key());
                let help = "give each element an ID of its own";
                self.wrong("cvc-id", place, node, attribute.as_deref(), message, help);
            }
        }
    }

    /// What the document says about names at a node.
    fn around(&self, node: Node<'d>) -> Around<'_> {
        Around { engine: self.engine, node, entities: &self.entities }
    }
}

/// An element of an instance, as the context of values in it.
struct Around<'a> {
    engine: &'a Engine<'a>,
    node: Node<'a>,
    entities: &'a OnceLock<Set<String>>,
}

impl Context for Around<'_> {
    fn name(&self, text: &str) -> Option<QName> {
        expanded(self.node, text)
    }

    fn has_notation(&self, name: &QName) -> bool {
        self.engine.has_notation(name)
    }

    fn has_entity(&self, name: &str) -> bool {
        self.entities.get_or_init(|| unparsed_entities(self.node.document().input_text())).contains(name)
    }
}

/// The names of the unparsed entities that the document type declares: `<!ENTITY name SYSTEM "…" NDATA notation>`.
fn unparsed_entities(text: &str) -> Set<String> {
    let Some(start) = text.find("<!DOCTYPE") else { return Set::default() };
    let declared = text[start..].split("<!ENTITY").skip(1).filter_map(|rest| {
        let declaration = &rest[..rest.find('>')?];
        let name = declaration.split_ascii_whitespace().next()?;
        declaration.contains("NDATA").then(|| name.to_owned())
    });
    declared.collect()
}

//! The grammar of schema documents: which elements stand where, with which attributes and values. It is what the
//! schema for schemas says (Part 1, appendix A), as one table.

use charter_source::{Fault, FileId, Node, Set, attribute_place, is_ncname, nearest, ns, tag_place};

use crate::simple::count;
use crate::{Builtin, is_lexical};

/// An element in its place.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Kind {
    Schema,
    Annotation,
    /// What is inside is nobody's business.
    Open,
    Include,
    Import,
    Redefine,
    GlobalElement,
    LocalElement,
    GlobalAttribute,
    LocalAttribute,
    GlobalSimple,
    LocalSimple,
    GlobalComplex,
    LocalComplex,
    SimpleRestriction,
    List,
    Union,
    SimpleContent,
    ComplexContent,
    ValueRestriction,
    ValueExtension,
    ContentRestriction,
    ContentExtension,
    GlobalGroup,
    GroupRef,
    GlobalAttributeGroup,
    AttributeGroupRef,
    Model,
    All,
    /// The group inside a named group, which occurs once.
    BareModel,
    BareAll,
    Any,
    AnyAttribute,
    Key,
    KeyRef,
    Selector,
    Facet,
    FixableFacet,
    Notation,
}

/// What the value of an attribute must be.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum ValueKind {
    Text,
    Boolean,
    Name,
    QName,
    QNames,
    Count,
    MaxCount,
    Uri,
    Id,
    Words(&'static [&'static str]),
    /// Any of the words, or `#all`.
    Set(&'static [&'static str]),
    Namespaces,
}

/// Children that may stand at one place: their names and what they are there, and whether more than one may.
struct Slot {
    names: &'static [(&'static str, Kind)],
    many: bool,
    required: bool,
}

/// The grammar of one kind.
struct Production {
    attributes: &'static [(&'static str, ValueKind)],
    required: &'static [&'static str],
    content: &'static [Slot],
    /// The other way to fill it, for those that have one.
    instead: &'static [Slot],
}

const fn maybe(names: &'static [(&'static str, Kind)]) -> Slot {
    Slot { names, many: false, required: false }
}

const fn many(names: &'static [(&'static str, Kind)]) -> Slot {
    Slot { names, many: true, required: false }
}

const fn one(names: &'static [(&'static str, Kind)]) -> Slot {
    Slot { names, many: false, required: true }
}

const NOTE: Slot = maybe(&[("annotation", Kind::Annotation)]);
const SIMPLE: &[(&str, Kind)] = &[("simpleType", Kind::LocalSimple)];
const TYPE: Slot = maybe(&[("simpleType", Kind::LocalSimple), ("complexType", Kind::LocalComplex)]);
const KEYS: Slot = many(&[("unique", Kind::Key), ("key", Kind::Key), ("keyref", Kind::KeyRef)]);
const CONTENT: Slot = maybe(&[
    ("group", Kind::GroupRef),
    ("all", Kind::All),
    ("choice", Kind::Model),
    ("sequence", Kind::Model),
]);
const ATTRIBUTES: Slot =
    many(&[("attribute", Kind::LocalAttribute), ("attributeGroup", Kind::AttributeGroupRef)]);
const ANY_ATTRIBUTE: Slot = maybe(&[("anyAttribute", Kind::AnyAttribute)]);
const FACETS: Slot = many(&[
    ("length", Kind::FixableFacet),
    ("minLength", Kind::FixableFacet),
    ("maxLength", Kind::FixableFacet),
    ("pattern", Kind::Facet),
    ("enumeration", Kind::Facet),
    ("whiteSpace", Kind::FixableFacet),
    ("maxInclusive", Kind::FixableFacet),
    ("maxExclusive", Kind::FixableFacet),
    ("minInclusive", Kind::FixableFacet),
    ("minExclusive", Kind::FixableFacet),
    ("totalDigits", Kind::FixableFacet),
    ("fractionDigits", Kind::FixableFacet),
]);
const FORM: ValueKind = ValueKind::Words(&["qualified", "unqualified"]);
const TYPE_SET: ValueKind = ValueKind::Set(&["extension", "restriction"]);
const ELEMENT_BLOCK: ValueKind = ValueKind::Set(&["extension", "restriction", "substitution"]);
const SIMPLE_FINAL: ValueKind = ValueKind::Set(&["list", "union", "restriction"]);
const SCHEMA_FINAL: ValueKind = ValueKind::Set(&["extension", "restriction", "list", "union"]);
const PROCESS: ValueKind = ValueKind::Words(&["strict", "lax", "skip"]);

/// The grammar of a kind.
fn entry(kind: Kind) -> &'static Production {
    macro_rules! grammar {
        ($($kind:pat => [$($name:literal $kind_of_value:expr),*] needs [$($required:literal),*] holds [$($slot:expr),*] $(or [$($other:expr),*])?;)*) => {
            match kind {
                $($kind => {
                    const ENTRY: &Production = &Production {
                        attributes: &[$(($name, $kind_of_value)),*],
                        required: &[$($required),*],
                        content: &[$($slot),*],
                        instead: &[$($($other),*)?],
                    };
                    ENTRY
                })*
            }
        };
    }
    use ValueKind::*;
    grammar! {
        Kind::Schema => ["targetNamespace" Uri, "version" Text, "elementFormDefault" FORM, "attributeFormDefault" FORM,
                "blockDefault" ELEMENT_BLOCK, "finalDefault" SCHEMA_FINAL] needs []
            holds [many(&[("include", Kind::Include), ("import", Kind::Import), ("redefine", Kind::Redefine), ("annotation", Kind::Annotation)]),
                many(&[("annotation", Kind::Annotation), ("simpleType", Kind::GlobalSimple), ("complexType", Kind::GlobalComplex),
                    ("group", Kind::GlobalGroup), ("attributeGroup", Kind::GlobalAttributeGroup), ("element", Kind::GlobalElement),
                    ("attribute", Kind::GlobalAttribute), ("notation", Kind::Notation)])];
        Kind::Annotation => [] needs [] holds [many(&[("documentation", Kind::Open), ("appinfo", Kind::Open)])];
        Kind::Open => ["source" Uri] needs [] holds [];
        Kind::Include => ["schemaLocation" Uri] needs ["schemaLocation"] holds [NOTE];
        Kind::Import => ["namespace" Uri, "schemaLocation" Uri] needs [] holds [NOTE];
        Kind::Redefine => ["schemaLocation" Uri] needs ["schemaLocation"]
            holds [many(&[("annotation", Kind::Annotation), ("simpleType", Kind::GlobalSimple), ("complexType", Kind::GlobalComplex),
                ("group", Kind::GlobalGroup), ("attributeGroup", Kind::GlobalAttributeGroup)])];
        Kind::GlobalElement => ["name" Name, "type" QName, "default" Text, "fixed" Text, "nillable" Boolean, "abstract" Boolean,
                "substitutionGroup" QName, "block" ELEMENT_BLOCK, "final" TYPE_SET] needs ["name"]
            holds [NOTE, TYPE, KEYS];
        Kind::LocalElement => ["name" Name, "ref" QName, "type" QName, "default" Text, "fixed" Text, "nillable" Boolean,
                "block" ELEMENT_BLOCK, "form" FORM, "minOccurs" Count, "maxOccurs" MaxCount] needs []
            holds [NOTE, TYPE, KEYS];
        Kind::GlobalAttribute => ["name" Name, "type" QName, "default" Text, "fixed" Text] needs ["name"]
            holds [NOTE, maybe(SIMPLE)];
        Kind::LocalAttribute => ["name" Name, "ref" QName, "type" QName, "default" Text, "fixed" Text, "form" FORM,
                "use" Words(&["optional", "required", "prohibited"])] needs []
            holds [NOTE, maybe(SIMPLE)];
        Kind::GlobalSimple => ["name" Name, "final" SIMPLE_FINAL] needs ["name"]
            holds [NOTE, one(&[("restriction", Kind::SimpleRestriction), ("list", Kind::List), ("union", Kind::Union)])];
        Kind::LocalSimple => [] needs []
            holds [NOTE, one(&[("restriction", Kind::SimpleRestriction), ("list", Kind::List), ("union", Kind::Union)])];
        Kind::GlobalComplex => ["name" Name, "mixed" Boolean, "abstract" Boolean, "block" TYPE_SET, "final" TYPE_SET] needs ["name"]
            holds [NOTE, CONTENT, ATTRIBUTES, ANY_ATTRIBUTE]
            or [NOTE, one(&[("simpleContent", Kind::SimpleContent), ("complexContent", Kind::ComplexContent)])];
        Kind::LocalComplex => ["mixed" Boolean] needs []
            holds [NOTE, CONTENT, ATTRIBUTES, ANY_ATTRIBUTE]
            or [NOTE, one(&[("simpleContent", Kind::SimpleContent), ("complexContent", Kind::ComplexContent)])];
        Kind::SimpleRestriction => ["base" QName] needs [] holds [NOTE, maybe(SIMPLE), FACETS];
        Kind::List => ["itemType" QName] needs [] holds [NOTE, maybe(SIMPLE)];
        Kind::Union => ["memberTypes" QNames] needs [] holds [NOTE, many(SIMPLE)];
        Kind::SimpleContent => [] needs []
            holds [NOTE, one(&[("restriction", Kind::ValueRestriction), ("extension", Kind::ValueExtension)])];
        Kind::ComplexContent => ["mixed" Boolean] needs []
            holds [NOTE, one(&[("restriction", Kind::ContentRestriction), ("extension", Kind::ContentExtension)])];
        Kind::ValueRestriction => ["base" QName] needs ["base"] holds [NOTE, maybe(SIMPLE), FACETS, ATTRIBUTES, ANY_ATTRIBUTE];
        Kind::ValueExtension => ["base" QName] needs ["base"] holds [NOTE, ATTRIBUTES, ANY_ATTRIBUTE];
        Kind::ContentRestriction | Kind::ContentExtension => ["base" QName] needs ["base"] holds [NOTE, CONTENT, ATTRIBUTES, ANY_ATTRIBUTE];
        Kind::GlobalGroup => ["name" Name] needs ["name"]
            holds [NOTE, one(&[("all", Kind::BareAll), ("choice", Kind::BareModel), ("sequence", Kind::BareModel)])];
        Kind::GroupRef => ["ref" QName, "minOccurs" Count, "maxOccurs" MaxCount] needs ["ref"] holds [NOTE];
        Kind::GlobalAttributeGroup => ["name" Name] needs ["name"] holds [NOTE, ATTRIBUTES, ANY_ATTRIBUTE];
        Kind::AttributeGroupRef => ["ref" QName] needs ["ref"] holds [NOTE];
        Kind::Model => ["minOccurs" Count, "maxOccurs" MaxCount] needs [] holds [NOTE, PARTICLES];
        Kind::BareModel => [] needs [] holds [NOTE, PARTICLES];
        Kind::All => ["minOccurs" Words(&["0", "1"]), "maxOccurs" Words(&["1"])] needs [] holds [NOTE, many(&[("element", Kind::LocalElement)])];
        Kind::BareAll => [] needs [] holds [NOTE, many(&[("element", Kind::LocalElement)])];
        Kind::Any => ["namespace" Namespaces, "processContents" PROCESS, "minOccurs" Count, "maxOccurs" MaxCount] needs [] holds [NOTE];
        Kind::AnyAttribute => ["namespace" Namespaces, "processContents" PROCESS] needs [] holds [NOTE];
        Kind::Key => ["name" Name] needs ["name"] holds [NOTE, one(&[("selector", Kind::Selector)]), FIELDS];
        Kind::KeyRef => ["name" Name, "refer" QName] needs ["name", "refer"] holds [NOTE, one(&[("selector", Kind::Selector)]), FIELDS];
        Kind::Selector => ["xpath" Text] needs ["xpath"] holds [NOTE];
        Kind::Facet => ["value" Text] needs ["value"] holds [NOTE];
        Kind::FixableFacet => ["value" Text, "fixed" Boolean] needs ["value"] holds [NOTE];
        Kind::Notation => ["name" Name, "public" Text, "system" Uri] needs ["name"] holds [NOTE];
    }
}

const PARTICLES: Slot = many(&[
    ("element", Kind::LocalElement),
    ("group", Kind::GroupRef),
    ("choice", Kind::Model),
    ("sequence", Kind::Model),
    ("any", Kind::Any),
]);
const FIELDS: Slot = Slot { names: &[("field", Kind::Selector)], many: true, required: true };

/// Elements and attributes of XML Schema 1.1, which 1.0 does not know.
const LATER: &[&str] = &[
    "assert",
    "assertion",
    "alternative",
    "openContent",
    "defaultOpenContent",
    "override",
    "explicitTimezone",
    "notQName",
    "notNamespace",
    "defaultAttributes",
    "defaultAttributesApply",
    "inheritable",
    "appliesToEmpty",
    "xpathDefaultNamespace",
    "targetNamespace",
    "minVersion",
    "maxVersion",
];

/// Checks a whole schema document.
pub(super) fn check(file: FileId, schema: Node<'_>, faults: &mut Vec<Fault>) {
    let mut grammar = Grammar { file, faults, ids: Set::default() };
    grammar.element(schema, Kind::Schema);
}

struct Grammar<'f> {
    file: FileId,
    faults: &'f mut Vec<Fault>,
    ids: Set<String>,
}

impl Grammar<'_> {
    fn say(
        &mut self,
        rule: &'static str,
        place: charter_source::Place,
        message: String,
        help: impl Into<String>,
    ) {
        self.faults.push(Fault::new(rule, place, message).help(help));
    }

    fn element(&mut self, node: Node<'_>, kind: Kind) {
        let entry = entry(kind);
        self.attributes(node, entry);
        if kind == Kind::Open {
            return;
        }
        if let Some(text) =
            node.children().find(|child| child.is_text() && !child.text().unwrap_or("").trim().is_empty())
        {
            let place = charter_source::Place { file: self.file, span: text.range().into() };
            let message = format!("text has no place in {}", node.tag_name().name());
            self.say("schema-structure", place, message, "put it into an annotation, or remove it");
        }
        let slots = if entry.instead.is_empty() || !derives(node) { entry.content } else { entry.instead };
        self.children(node, slots);
    }

    fn attributes(&mut self, node: Node<'_>, entry: &Production) {
        for attribute in node.attributes() {
            let place = attribute_place(self.file, &attribute);
            let name = attribute.name();
            match attribute.namespace() {
                None => match (entry.attributes.iter().find(|known| known.0 == name), name) {
                    (Some((_, kind_of_value)), _) => {
                        self.value(*kind_of_value, name, attribute.value(), place)
                    }
                    (None, "id") => self.value(ValueKind::Id, name, attribute.value(), place),
                    (None, _) => self.unknown_attribute(node, name, entry, place),
                },
                Some(ns::XSD) => {
                    let message = format!("the attribute {name} stands here with a prefix");
                    self.say("schema-attribute", place, message, "leave the prefix out");
                }
                Some(_) => {}
            }
        }
        for required in entry.required {
            if node.attribute(*required).is_none() {
                let kind = node.tag_name().name();
                let (rule, message) = match *required {
                    "name" => ("schema-name", format!("this {kind} has no name")),
                    other => ("schema-attribute", format!("this {kind} has no {other}")),
                };
                self.say(rule, tag_place(self.file, node), message, format!("add a {required} attribute"));
            }
        }
    }

    fn unknown_attribute(
        &mut self,
        node: Node<'_>,
        name: &str,
        entry: &Production,
        place: charter_source::Place,
    ) {
        let element = node.tag_name().name();
        if LATER.contains(&name) {
            let message = format!("the attribute {name} is of XML Schema 1.1");
            return self.say(
                "schema-version",
                place,
                message,
                "contracts are read by XML Schema 1.0: leave it out",
            );
        }
        let message = format!("the attribute {name} has no place on {element} here");
        let known = entry.attributes.iter().map(|known| known.0);
        let help = match nearest(name, known) {
            Some(near) => format!("did you mean \"{near}\"?"),
            None => "remove it".into(),
        };
        self.say("schema-attribute", place, message, help);
    }

    fn value(&mut self, kind_of_value: ValueKind, name: &str, value: &str, place: charter_source::Place) {
        let trimmed = value.trim_ascii();
        let is_count = |text: &str| count(text).is_some();
        let (fine, help): (bool, String) = match kind_of_value {
            ValueKind::Text => (true, String::new()),
            ValueKind::Boolean => (is_lexical(Builtin::Boolean, trimmed), "write true or false".into()),
            ValueKind::Name => {
                if !is_ncname(trimmed) {
                    let help = "begin with a letter or _, go on with letters, digits, -, _ and .";
                    self.say("name-syntax", place, format!("\"{trimmed}\" is not a name"), help);
                }
                return;
            }
            ValueKind::QName => {
                (is_lexical(Builtin::QName, trimmed), "write a name, with its prefix if it has one".into())
            }
            ValueKind::QNames => (
                trimmed.split_ascii_whitespace().all(|name| is_lexical(Builtin::QName, name)),
                "write names with spaces between them".into(),
            ),
            ValueKind::Count => (is_count(trimmed), "write a whole number from 0".into()),
            ValueKind::MaxCount => (
                trimmed == "unbounded" || is_count(trimmed),
                "write a whole number from 0, or unbounded".into(),
            ),
            ValueKind::Uri => (is_lexical(Builtin::AnyUri, trimmed), "write a URI".into()),
            ValueKind::Id => {
                if !self.ids.insert(trimmed.to_owned()) {
                    let message = format!("the id \"{trimmed}\" stands twice in this document");
                    self.say("schema-attribute", place, message, "give each element an id of its own");
                    return;
                }
                (is_ncname(trimmed), "write a name".into())
            }
            ValueKind::Words(words) => (
                words.contains(&trimmed) || (is_count(trimmed) && same_count(words, trimmed)),
                format!("write {}", words.join(" or ")),
            ),
            ValueKind::Set(words) => {
                let fine =
                    trimmed == "#all" || trimmed.split_ascii_whitespace().all(|word| words.contains(&word));
                (fine, format!("write #all, or any of {}", words.join(", ")))
            }
            ValueKind::Namespaces => {
                let item = |word: &str| {
                    matches!(word, "##targetNamespace" | "##local")
                        || (!word.starts_with("##") && is_lexical(Builtin::AnyUri, word))
                };
                let fine =
                    matches!(trimmed, "##any" | "##other") || trimmed.split_ascii_whitespace().all(item);
                (fine, "write ##any, ##other, or a list of namespaces, ##targetNamespace and ##local".into())
            }
        };
        if !fine {
            let rule = if matches!(kind_of_value, ValueKind::Count | ValueKind::MaxCount) {
                "schema-occurs"
            } else {
                "schema-attribute"
            };
            let message = match rule {
                "schema-occurs" => format!("\"{trimmed}\" is not a number of occurrences"),
                _ => format!("\"{trimmed}\" is no value for {name}"),
            };
            self.say(rule, place, message, help);
        }
    }

    fn children(&mut self, node: Node<'_>, slots: &'static [Slot]) {
        let mut at = 0;
        let mut filled = false;
        for child in charter_source::elements(node) {
            let name = child.tag_name().name();
            if child.tag_name().namespace() != Some(ns::XSD) {
                self.unexpected(child, slots);
                continue;
            }
            // The slot that takes the child, not before the one that is open.
            let takes = |slot: &Slot| slot.names.iter().find(|known| known.0 == name).map(|known| known.1);
            let mut found = None;
            for (number, slot) in slots.iter().enumerate().skip(at) {
                let free = number > at || slot.many || !filled;
                if let Some(kind) = takes(slot).filter(|_| free) {
                    found = Some((number, kind));
                    break;
                }
                let missing = slot.required && !(number == at && filled);
                if missing {
                    break;
                }
            }
            match found {
                Some((number, kind)) => {
                    (at, filled) = (number, true);
                    self.element(child, kind);
                }
                None => self.unexpected(child, slots),
            }
        }
        let missing = slots
            .iter()
            .enumerate()
            .skip(at)
            .find(|(number, slot)| slot.required && !(*number == at && filled));
        if let Some((_, slot)) = missing {
            let names: Vec<&str> = slot.names.iter().map(|known| known.0).collect();
            let message = format!("{} needs {} inside", node.tag_name().name(), names.join(" or "));
            self.say(
                "schema-structure",
                tag_place(self.file, node),
                message,
                format!("add an xsd:{}", names[0]),
            );
        }
    }

    fn unexpected(&mut self, node: Node<'_>, slots: &[Slot]) {
        let name = node.tag_name().name();
        let place = tag_place(self.file, node);
        let xsd = node.tag_name().namespace() == Some(ns::XSD);
        if xsd && LATER.contains(&name) {
            let message = format!("the element {name} is of XML Schema 1.1");
            return self.say(
                "schema-version",
                place,
                message,
                "contracts are read by XML Schema 1.0: leave it out",
            );
        }
        let parent = node.parent_element().map_or("", |parent| parent.tag_name().name());
        let known = slots.iter().flat_map(|slot| slot.names).any(|known| known.0 == name);
        let (message, help) = match xsd {
            true if known => (
                format!("the element {name} has no place here in {parent}"),
                "change the order, or keep only one",
            ),
            _ => (
                format!("the element {name} has no place in {parent}"),
                "move it to where XML Schema allows it, or remove it",
            ),
        };
        self.say("schema-structure", place, message, help);
    }
}

/// Whether a complex type says what it derives from.
fn derives(node: Node<'_>) -> bool {
    charter_source::elements(node)
        .find(|child| child.tag_name().name() != "annotation")
        .is_some_and(|child| matches!(child.tag_name().name(), "simpleContent" | "complexContent"))
}

/// Whether a number is one of those listed, written in another way.
fn same_count(words: &[&str], text: &str) -> bool {
    words.iter().any(|word| count(word).is_some() && count(word) == count(text))
}

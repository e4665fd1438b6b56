//! Types from example messages.

use std::collections::{BTreeSet, VecDeque};

use charter_contract::Contract;
use charter_notation::{Child, ElementInfo, Prefixes, Value};
use charter_schema::{Builtin, Engine};
use charter_source::{
    Files, Limits, Location, Map, Node, Overlay, Place, QName, Set, TextEdit, apply, elements, ns,
};

use super::values::{self, Type};
use super::{DeriveError, Derived, schema, type_name};
use crate::distinct::Distinct;
use crate::fresh::{SchemaPlace, fresh};

/// How many types that messages name are told by their names.
const NAMED: usize = 8;

/// Types that accept all of these messages. Of a SOAP envelope, what stands in its header and in its body counts.
///
/// ```
/// use charter_source::{Files, Limits, Location, Overlay};
///
/// let text = r#"<berth xmlns="urn:saltmere:b"><name>N1</name><depth>7.5</depth><depth>8</depth></berth>"#;
/// let store = Overlay::of(&[("a.xml", text)]);
/// let files = Files::load(&store, &Location::from_argument("a.xml"), Limits::default())?;
/// let notation = charter_author::from_messages(&[&files]).unwrap().notation();
/// assert!(notation.contains("depth: decimal+"), "{notation}");
/// # Ok::<(), charter_source::ReadError>(())
/// ```
///
/// # Errors
/// If there is nothing to derive from.
pub fn from_messages(messages: &[&Files]) -> Result<Derived, DeriveError> {
    // The types that elements name themselves are the best there are, if one declaration can go by all of them.
    derived(messages, true).or_else(|_| derived(messages, false))
}

/// The types; with `named`, those that elements with text name by `xsi:type` count, if XML Schema has them.
fn derived(messages: &[&Files], named: bool) -> Result<Derived, DeriveError> {
    let (plain, notes) = without_types(messages, named)?;
    let messages: Vec<&Files> =
        plain.iter().zip(messages).map(|(own, given)| own.as_ref().unwrap_or(given)).collect();
    let messages = messages.as_slice();
    let mut seen = Seen::default();
    let mut roots: Vec<(usize, Node<'_>)> = Vec::new();
    for (index, files) in messages.iter().enumerate() {
        let Some(root) = files.first().root() else { continue };
        roots.extend(payloads(root).into_iter().map(|node| (index, node)));
    }
    if roots.is_empty() {
        return Err(DeriveError::new("there is no message to derive from").help("give files that hold XML"));
    }
    for (_, root) in &roots {
        seen.roots.insert(name_of(*root));
        seen.element(*root, None);
    }
    seen.merge();
    let mut prefixes = Prefixes::new("");
    for (_, root) in &roots {
        for declared in
            root.descendants().filter(Node::is_element).take(200).flat_map(|node| node.namespaces())
        {
            if let Some(prefix) = declared.name().filter(|_| seen.uses(declared.uri())) {
                prefixes.suggest(prefix, declared.uri());
            }
        }
    }
    let derived = Derived { info: seen.types(), prefixes, notes };
    // All that was seen takes more room than what came of it.
    drop(seen);
    accepts(&derived, messages, &roots)?;
    Ok(derived)
}

/// Messages that name types of a schema that is not there, with those names left out, and a word on that. The names of
/// types of XML Schema are left in if they are to `keep`.
fn without_types(messages: &[&Files], keep: bool) -> Result<(Vec<Option<Files>>, Vec<String>), DeriveError> {
    let mut plain = Vec::new();
    let mut named: BTreeSet<String> = BTreeSet::new();
    for files in messages {
        let file = files.first();
        let nodes = file.root().into_iter().flat_map(|root| root.descendants()).filter(Node::is_element);
        let nodes = nodes.filter(|node| !keep || named_type(*node).is_none());
        let mut edits = Vec::new();
        for attribute in nodes.filter_map(|node| node.attribute_node((ns::XSI, "type"))) {
            named.insert(attribute.value().trim().to_owned());
            let place = Place { file: file.id, span: attribute.range().into() };
            edits.push(TextEdit { place, replacement: String::new() });
        }
        if edits.is_empty() {
            plain.push(None);
            continue;
        }
        let text =
            apply(file.text().content(), &edits).map_err(|error| DeriveError::new(error.to_string()))?;
        // The text is held in memory in UTF-8, whatever the file was in.
        let text = match text.strip_prefix("<?xml").and_then(|rest| rest.split_once("?>")) {
            Some((_, rest)) => rest.to_owned(),
            None => text,
        };
        let store = Overlay::of(&[("message.xml", &text)]);
        let read = Files::load(&store, &Location::from_argument("message.xml"), Limits::default());
        plain.push(Some(read.map_err(|error| DeriveError::new(error.to_string()))?));
    }
    let notes = if named.is_empty() {
        Vec::new()
    } else {
        vec![format!(
            "xsi:type names {}: what such elements hold was taken into the type of their name",
            listed(&named)
        )]
    };
    Ok((plain, notes))
}

/// The first few of some names, and how many more there are.
fn listed(names: &BTreeSet<String>) -> String {
    let first: Vec<&str> = names.iter().take(NAMED).map(String::as_str).collect();
    let more = names.len() - first.len();
    if more == 0 { first.join(", ") } else { format!("{} and {more} more", first.join(", ")) }
}

/// The type of XML Schema that an element with nothing but text names for itself.
fn named_type(node: Node<'_>) -> Option<Builtin> {
    let value = node.attribute((ns::XSI, "type"))?.trim();
    let (prefix, local) =
        value.split_once(':').map_or((None, value), |(prefix, local)| (Some(prefix), local));
    let plain =
        elements(node).next().is_none() && node.attributes().all(|it| it.namespace() == Some(ns::XSI));
    let is_own = node.lookup_namespace_uri(prefix) == Some(ns::XSD);
    Builtin::from_name(local).filter(|_| plain && is_own)
}

/// Whether what was derived accepts every example.
fn accepts(derived: &Derived, messages: &[&Files], roots: &[(usize, Node<'_>)]) -> Result<(), DeriveError> {
    let whole = ElementInfo::wsdl("definitions").holding(derived.info.clone());
    let written = fresh(whole, &derived.prefixes, SchemaPlace::Embedded);
    let store = Overlay::of(&[("derived.wsdl", &written[0].text)]);
    let read = Contract::load(&store, &Location::from_argument("derived.wsdl"), Limits::default());
    let Ok(contract) = read else { return Err(DeriveError::new("what was derived could not be read")) };
    let engine = Engine::new(&contract.files, &contract.schemas);
    for (index, root) in roots {
        let report = engine.validate(messages[*index].first().id, *root, 1);
        if let Some(wrong) = report.wrong.first() {
            let message = format!("no types were found that accept every message: {}", wrong.fault.message);
            return Err(DeriveError::new(message).help("give messages of one kind"));
        }
    }
    Ok(())
}

/// What a message is about: the element itself, or what a SOAP envelope holds.
fn payloads(root: Node<'_>) -> Vec<Node<'_>> {
    let soap = |node: &Node<'_>, local: &str| {
        let name = node.tag_name();
        matches!(name.namespace(), Some(ns::SOAP11_ENVELOPE | ns::SOAP12_ENVELOPE)) && name.name() == local
    };
    if !soap(&root, "Envelope") {
        return vec![root];
    }
    let parts = elements(root).filter(|node| soap(node, "Header") || soap(node, "Body"));
    let inside = parts.flat_map(elements).flat_map(|node| {
        if soap(&node, "Fault") {
            let details = elements(node).filter(|it| matches!(it.tag_name().name(), "detail" | "Detail"));
            details.flat_map(elements).collect()
        } else {
            vec![node]
        }
    });
    inside.collect()
}

fn name_of(node: Node<'_>) -> QName {
    QName::new(node.tag_name().namespace().unwrap_or(""), node.tag_name().name())
}

/// What has been seen of all elements of one name.
#[derive(Default)]
struct Group {
    /// The names of the children of each, in order.
    children: Vec<Vec<QName>>,
    /// How many of them had each attribute, and with which values.
    attributes: Vec<(QName, Vec<String>)>,
    /// The text of each that had no children.
    texts: Vec<String>,
    /// Whether one had text between its children.
    mixed: bool,
    nil: bool,
}

impl Group {
    fn is_complex(&self) -> bool {
        !self.attributes.is_empty() || self.children.iter().any(|children| !children.is_empty())
    }
}

/// Everything that has been seen.
#[derive(Default)]
struct Seen {
    /// By where it stands: in which element, or at the beginning of a message.
    contexts: Map<(Option<QName>, QName), Group>,
    /// What becomes a type: all elements of one name that are more than text where they stand.
    groups: Map<QName, Group>,
    /// The names in the order in which they came.
    order: Vec<QName>,
    known: Set<QName>,
    /// The elements that an element stands in, in the order in which they came.
    parents: Map<QName, Vec<QName>>,
    /// The namespaces in which elements are declared.
    homes: Map<QName, String>,
    /// The elements that begin a message.
    roots: Set<QName>,
    /// The texts of an element within another, and whether one of them was nil.
    within: Map<(QName, QName), (Vec<String>, bool)>,
    /// The types that elements within others name for themselves; nothing for one that names none.
    named: Map<(QName, QName), Set<Option<Builtin>>>,
}

impl Seen {
    fn element(&mut self, node: Node<'_>, parent: Option<&QName>) {
        let name = name_of(node);
        let nil = node.attribute((ns::XSI, "nil")).is_some_and(|value| matches!(value.trim(), "true" | "1"));
        let texts: String = node.children().filter(Node::is_text).filter_map(|child| child.text()).collect();
        let children: Vec<QName> = elements(node).map(name_of).collect();
        if self.known.insert(name.clone()) {
            self.order.push(name.clone());
        }
        let group = self.contexts.entry((parent.cloned(), name.clone())).or_default();
        for attribute in node.attributes().filter(|it| it.namespace() != Some(ns::XSI)) {
            let own = QName::new(attribute.namespace().unwrap_or(""), attribute.name());
            match group.attributes.iter_mut().find(|(known, _)| *known == own) {
                Some((_, values)) => values.push(attribute.value().to_owned()),
                None => group.attributes.push((own, vec![attribute.value().to_owned()])),
            }
        }
        group.nil |= nil;
        group.mixed |= !children.is_empty() && !texts.trim().is_empty();
        if children.is_empty() && !nil {
            group.texts.push(texts.clone());
        }
        group.children.push(children);
        if let Some(parent) = parent {
            self.named.entry((parent.clone(), name.clone())).or_default().insert(named_type(node));
            let (values, nils) = self.within.entry((parent.clone(), name.clone())).or_insert_with(|| {
                self.parents.entry(name.clone()).or_default().push(parent.clone());
                <_>::default()
            });
            *nils |= nil;
            if !nil {
                values.push(texts);
            }
        }
        elements(node).for_each(|child| self.element(child, Some(&name)));
    }

    /// Puts together what goes by one name. What is only text in one element and more in another has two types,
    /// unless it is declared by itself.
    fn merge(&mut self) {
        self.homes = self.found_homes();
        let globals: Set<QName> = self.order.iter().filter(|name| self.is_global(name)).cloned().collect();
        let contexts = std::mem::take(&mut self.contexts);
        let mut ordered: Vec<(&(Option<QName>, QName), &Group)> = contexts.iter().collect();
        ordered.sort_by_key(|(key, _)| (*key).clone());
        for ((_, name), group) in ordered {
            if !group.is_complex() && !globals.contains(name) {
                continue;
            }
            let whole = self.groups.entry(name.clone()).or_default();
            whole.children.extend(group.children.iter().cloned());
            whole.texts.extend(group.texts.iter().cloned());
            whole.mixed |= group.mixed;
            whole.nil |= group.nil;
            for (own, values) in &group.attributes {
                match whole.attributes.iter_mut().find(|(known, _)| known == own) {
                    Some((_, known)) => known.extend(values.iter().cloned()),
                    None => whole.attributes.push((own.clone(), values.clone())),
                }
            }
        }
        self.contexts = contexts;
    }

    /// Whether an element has a type of its name where it stands.
    fn is_complex_in(&self, parent: &QName, name: &QName) -> bool {
        self.contexts.get(&(Some(parent.clone()), name.clone())).is_some_and(Group::is_complex)
    }

    /// The type that all elements of a name within another go by, as far as they name theirs.
    fn named_for(&self, parent: &QName, name: &QName) -> Option<Builtin> {
        let all = self.named.get(&(parent.clone(), name.clone()))?;
        let mut named = all.iter().flatten();
        let first = *named.next()?;
        Some(if all.len() == 1 { first } else { Builtin::AnySimpleType })
    }

    fn uses(&self, namespace: &str) -> bool {
        self.order.iter().any(|name| *name.namespace == *namespace)
            || self
                .groups
                .values()
                .flat_map(|group| &group.attributes)
                .any(|(name, _)| *name.namespace == *namespace)
    }

    /// The namespace in which an element is declared: its own, or that of its parent if it has none.
    fn home(&self, name: &QName) -> &str {
        self.homes.get(name).map_or("", String::as_str)
    }

    /// From each element that has a namespace down to those within it that have none: the nearest one counts.
    fn found_homes(&self) -> Map<QName, String> {
        let mut within: Map<&QName, Vec<&QName>> = Map::default();
        for child in &self.order {
            for parent in self.parents.get(child).into_iter().flatten() {
                within.entry(parent).or_default().push(child);
            }
        }
        let mut homes: Map<QName, String> = Map::default();
        let has_own = |name: &&QName| !name.namespace.is_empty();
        let mut open: VecDeque<&QName> = self.order.iter().filter(has_own).collect();
        for name in self.order.iter().filter(|name| has_own(name) || self.roots.contains(name)) {
            homes.insert(name.clone(), name.namespace.to_string());
        }
        while let Some(parent) = open.pop_front() {
            let home = homes[parent].clone();
            for child in within.get(parent).into_iter().flatten() {
                if !homes.contains_key(*child) {
                    homes.insert((*child).clone(), home.clone());
                    open.push_back(child);
                }
            }
        }
        homes
    }

    /// The schemas of all namespaces.
    fn types(&self) -> ElementInfo {
        let names = self.type_names();
        let mut homes: Vec<&str> = Vec::new();
        let mut own: Map<&str, Vec<&QName>> = Map::default();
        for name in &self.order {
            let there = own.entry(self.home(name)).or_default();
            if there.is_empty() {
                homes.push(self.home(name));
            }
            there.push(name);
        }
        let attributes = self.groups.values().flat_map(|group| &group.attributes);
        let mut foreign: Vec<QName> = attributes
            .map(|(name, _)| name.clone())
            .filter(|it| !it.namespace.is_empty() && *it.namespace != *ns::XML)
            .collect();
        foreign.sort();
        foreign.dedup();
        let mut attributes: Map<&str, Vec<&QName>> = Map::default();
        for name in &foreign {
            let there = attributes.entry(&name.namespace).or_default();
            if there.is_empty() && !own.contains_key(&*name.namespace) {
                homes.push(&name.namespace);
            }
            there.push(name);
        }
        let qualified: Set<&str> = self
            .within
            .keys()
            .filter(|(parent, child)| *child.namespace == *self.home(parent))
            .map(|(parent, _)| self.home(parent))
            .collect();
        let mut types = ElementInfo::wsdl("types");
        for home in homes {
            let qualified = home.is_empty() || qualified.contains(home);
            let mut components = Vec::new();
            let own = own.get(home).map_or(&[][..], Vec::as_slice);
            for name in own.iter().filter(|name| self.is_global(name)) {
                let mut info = ElementInfo::xsd("element").with("name", &*name.local);
                let group = &self.groups[*name];
                let ty = names.get(*name);
                give(&mut info, ty, &group.texts, group.nil);
                components.push(info);
            }
            for name in attributes.get(home).into_iter().flatten() {
                components.push(
                    ElementInfo::xsd("attribute")
                        .with("name", &*name.local)
                        .naming("type", &values::name(charter_schema::Builtin::String)),
                );
            }
            for name in own.iter().filter(|name| names.contains_key(**name)) {
                components.push(self.complex(name, home, qualified, &names));
            }
            types.push(schema(home, qualified, components));
        }
        types
    }

    /// Whether an element is declared by itself: it begins a message, or stands in one of another namespace.
    fn is_global(&self, name: &QName) -> bool {
        let home = self.home(name);
        let is_elsewhere = |parent: &QName| self.home(parent) != home && !name.namespace.is_empty();
        self.roots.contains(name) || self.parents.get(name).into_iter().flatten().any(is_elsewhere)
    }

    /// The names of the types, each once in its namespace.
    fn type_names(&self) -> Map<QName, QName> {
        let mut found: Map<QName, QName> = Map::default();
        let mut taken: Map<&str, Distinct> = Map::default();
        for name in self.order.iter().filter(|name| self.groups.get(*name).is_some_and(Group::is_complex)) {
            let home = self.home(name);
            let own = taken.entry(home).or_default().name(type_name(&name.local));
            found.insert(name.clone(), QName::new(home, &own));
        }
        found
    }

    fn complex(&self, name: &QName, home: &str, qualified: bool, names: &Map<QName, QName>) -> ElementInfo {
        let group = &self.groups[name];
        let mut info = ElementInfo::xsd("complexType").with("name", &*names[name].local);
        let attributes: Vec<ElementInfo> =
            group.attributes.iter().map(|it| attribute(it, group.children.len())).collect();
        if group.children.iter().all(Vec::is_empty) {
            if group.texts.iter().all(|text| text.trim().is_empty()) {
                info.children.extend(attributes.into_iter().map(Child::Element));
                return info;
            }
            let base = match simple(&group.texts) {
                Type::Builtin(builtin) => builtin,
                Type::OneOf(_) => charter_schema::Builtin::String,
            };
            let mut extension = ElementInfo::xsd("extension").naming("base", &values::name(base));
            extension.children.extend(attributes.into_iter().map(Child::Element));
            return info.holding(ElementInfo::xsd("simpleContent").holding(extension));
        }
        if group.mixed {
            info = info.with("mixed", "true");
        }
        info.push(self.content(name, home, qualified, names));
        info.children.extend(attributes.into_iter().map(Child::Element));
        info
    }

    /// The children in their order, if they have one; else any of them, any number of times.
    fn content(&self, name: &QName, home: &str, qualified: bool, names: &Map<QName, QName>) -> ElementInfo {
        let instances = &self.groups[name].children;
        let order = in_order(instances);
        let counts = counts(instances);
        let mut kinds: Vec<QName> = Vec::new();
        let mut known: Set<&QName> = Set::default();
        kinds.extend(instances.iter().flatten().filter(|child| known.insert(*child)).cloned());
        let free = order.is_none();
        let mut group = ElementInfo::xsd(if free { "choice" } else { "sequence" });
        if free {
            let least = if instances.iter().any(Vec::is_empty) { "0" } else { "1" };
            group = group.with("minOccurs", least).with("maxOccurs", "unbounded");
            charter_notation::without_defaults(&mut group);
        }
        for child in order.unwrap_or(kinds) {
            let mut info = ElementInfo::xsd("element");
            if self.is_foreign(&child, home) {
                info = info.naming("ref", &child);
            } else {
                info = info.with("name", &*child.local);
                let (texts, nil) = &self.within[&(name.clone(), child.clone())];
                let ty = names.get(&child).filter(|_| self.is_complex_in(name, &child));
                match self.named_for(name, &child).filter(|_| ty.is_none()) {
                    Some(builtin) => give(&mut info, Some(&values::name(builtin)), texts, *nil),
                    None => give(&mut info, ty, texts, *nil),
                }
                if child.namespace.is_empty() && qualified && !home.is_empty() {
                    info.set("form", Value::Text("unqualified".to_owned()));
                }
            }
            if !free {
                let (having, most) = counts[&child];
                if having < instances.len() {
                    info.set("minOccurs", Value::Text("0".to_owned()));
                }
                if most > 1 {
                    info.set("maxOccurs", Value::Text("unbounded".to_owned()));
                }
            }
            group.push(info);
        }
        group
    }

    fn is_foreign(&self, child: &QName, home: &str) -> bool {
        !child.namespace.is_empty() && *child.namespace != *home
    }
}

/// Gives an element its type: the one of its name, or the simple type that its texts bear out.
fn give(info: &mut ElementInfo, ty: Option<&QName>, texts: &[String], nil: bool) {
    match ty {
        Some(ty) => info.set("type", Value::name(ty)),
        None => values::give(info, &simple(texts)),
    }
    if nil {
        info.set("nillable", Value::Text("true".to_owned()));
    }
}

/// The simple type of texts; one that is empty makes them strings.
fn simple(texts: &[String]) -> Type {
    values::of(texts.iter().map(String::as_str))
}

fn attribute((name, values): &(QName, Vec<String>), instances: usize) -> ElementInfo {
    let mut info = ElementInfo::xsd("attribute");
    if name.namespace.is_empty() {
        info = info.with("name", &*name.local);
        values::give(&mut info, &simple(values));
    } else {
        info = info.naming("ref", name);
    }
    if values.len() == instances {
        info.set("use", Value::Text("required".to_owned()));
    }
    info
}

/// How many of the instances have each child, and how often one of them has it at most.
fn counts(instances: &[Vec<QName>]) -> Map<QName, (usize, usize)> {
    let mut counts: Map<QName, (usize, usize)> = Map::default();
    for instance in instances {
        let mut own: Map<&QName, usize> = Map::default();
        instance.iter().for_each(|child| *own.entry(child).or_default() += 1);
        for (child, count) in own {
            let (having, most) = counts.entry(child.clone()).or_default();
            *having += 1;
            *most = count.max(*most);
        }
    }
    counts
}

/// One order that all instances keep, each name in one run; `None` if there is none.
fn in_order(instances: &[Vec<QName>]) -> Option<Vec<QName>> {
    let mut names: Vec<&QName> = Vec::new();
    let mut numbers: Map<&QName, usize> = Map::default();
    let mut after: Vec<Set<usize>> = Vec::new();
    let mut waits: Vec<usize> = Vec::new();
    for instance in instances {
        let mut last = None;
        let mut passed: Set<usize> = Set::default();
        for child in instance {
            let at = *numbers.entry(child).or_insert_with(|| {
                names.push(child);
                after.push(Set::default());
                waits.push(0);
                names.len() - 1
            });
            if last == Some(at) {
                continue;
            }
            if !passed.insert(at) {
                return None;
            }
            if last.is_some_and(|last: usize| after[last].insert(at)) {
                waits[at] += 1;
            }
            last = Some(at);
        }
    }
    // The first of those that nothing else must come before.
    let mut free: BTreeSet<usize> = (0..names.len()).filter(|at| waits[*at] == 0).collect();
    let mut order = Vec::new();
    while let Some(at) = free.pop_first() {
        order.push(names[at].clone());
        for next in &after[at] {
            waits[*next] -= 1;
            if waits[*next] == 0 {
                free.insert(*next);
            }
        }
    }
    (order.len() == names.len()).then_some(order)
}

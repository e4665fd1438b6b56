//! Hostile instances: each breaks exactly one constraint, and says which and where.
//!
//! A valid sample is changed at one place, in the ways that its declarations and types suggest. What comes of it
//! is judged, and kept only if that one thing and nothing else is wrong with it.

use std::mem::Discriminant;
use std::sync::Arc;

use charter_source::{Files, Limits, Location, Overlay, QName, Set, ns};

use super::{Element, Node, SampleError, Sampler, Size, Text, to_document};
use crate::engine::{Datatype, Engine, Variety};
use crate::{Assess, Builtin, ElementId, Report, Schemas, TypeId, Wrong};

/// Changes that are tried for one element declaration.
const MOST_TRIES: usize = 3_000;
/// Elements in all messages that are tried, and in all that are kept.
const MOST_READ: usize = 1_000_000;
const MOST_HELD: usize = 200_000;
/// Bytes of text that count as much as an element.
const BYTES: usize = 64;
/// Places in the sample where something is changed.
const MOST_PLACES: usize = 120;

/// An instance that breaks one constraint.
#[derive(Debug, Clone)]
pub struct Hostile {
    /// The clause that it breaks, a rule of the catalogue.
    pub clause: &'static str,
    /// Where: the path in the instance.
    pub path: String,
    /// What is wrong, in words.
    pub message: String,
    /// The instance.
    pub instance: Element,
    /// What kind of thing is wrong at what kind of place: the same for all places of one type.
    pub kind: HostileKind,
}

/// What kind of thing is wrong at what kind of place.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct HostileKind {
    clause: &'static str,
    change: Discriminant<Change>,
    /// The type of the place, or where it is if that is not known.
    of: Result<TypeId, String>,
    /// The child or the attribute that it is about.
    name: Option<QName>,
}

impl HostileKind {
    /// The first of each kind.
    pub fn first_of<T>(all: Vec<T>, kind: impl Fn(&T) -> Option<&HostileKind>) -> Vec<T> {
        let mut seen: Set<HostileKind> = Set::default();
        let mut is_new = |it: &T| kind(it).is_none_or(|kind| seen.insert(kind.clone()));
        all.into_iter().filter(|it| is_new(it)).collect()
    }
}

/// A change at one element.
#[derive(Debug, Clone)]
enum Change {
    Text(String),
    Remove,
    Double,
    Rename,
    AddChild,
    StrayText,
    AddAttribute(QName, String),
    SetAttribute(usize, String),
    RemoveAttribute(usize),
}

/// What a change is about.
struct About {
    /// Whether it is about the content that its element stands in.
    around: bool,
    /// The type that it is about, if that is not the element's own.
    ty: Option<TypeId>,
    name: Option<QName>,
}

impl Change {
    fn about(&self, element: &Element, schemas: &Schemas) -> About {
        let of_attribute = |number: &usize| element.attributes.get(*number).map(|(name, _)| name.clone());
        let (around, name) = match self {
            Change::Remove => (true, Some(element.name.clone())),
            Change::Double | Change::Rename => (true, None),
            Change::Text(_) | Change::AddChild | Change::StrayText => (false, None),
            Change::AddAttribute(name, _) => (false, Some(name.clone())),
            Change::SetAttribute(number, _) | Change::RemoveAttribute(number) => {
                (false, of_attribute(number))
            }
        };
        let declared = |name: &QName| schemas.attribute_decls.iter().find(|(_, decl)| decl.name == *name);
        match (self, name.as_ref().and_then(declared)) {
            // A value is that of its type, whatever it is called.
            (Change::SetAttribute(..), Some((_, decl))) => About { around, ty: decl.ty.target, name: None },
            _ => About { around, ty: None, name },
        }
    }
}

impl Sampler<'_> {
    /// Instances of an element that break one constraint each, a different clause or a different place every time.
    ///
    /// # Errors
    /// If there is no valid instance to begin with.
    pub fn hostile(&self, id: ElementId) -> Result<Vec<Hostile>, SampleError> {
        let base = Sampler::new(self.engine, Size::Typical).element(id)?;
        Ok(self.hostile_to(&base, Assess::Strict))
    }

    /// Instances that break one constraint each, made from a valid one that is judged as given.
    pub fn hostile_to(&self, base: &Element, assess: Assess) -> Vec<Hostile> {
        let types = types(self.engine, base, assess);
        let mut places = Vec::new();
        paths(base, &mut Vec::new(), &mut places);
        let mut seen: Set<(&'static str, String, String)> = Set::default();
        let mut found = Vec::new();
        let mut tries = 0;
        // Each try reads all of a message, and each that is kept is one: of large ones there are fewer.
        let whole = base.weight() + to_document(base).len() / BYTES;
        let (most_tries, most_kept) = (MOST_READ / whole.max(1), MOST_HELD / whole.max(1));
        for (number, place) in places.iter().enumerate().take(MOST_PLACES) {
            let own = types.get(number).copied().flatten();
            let around = place.split_last().and_then(|(_, parent)| places.iter().position(|it| it == parent));
            let parent = around.and_then(|at| types.get(at).copied().flatten());
            let datatype = own.and_then(|ty| self.engine.datatype(ty));
            for change in changes(self.engine, base, place, datatype) {
                tries += 1;
                if tries > MOST_TRIES.min(most_tries.max(20)) || found.len() > most_kept.max(10) {
                    return found;
                }
                let mut instance = base.clone();
                let element = at(base, place);
                let about = change.about(element, self.engine.schemas());
                let of_change = std::mem::discriminant(&change);
                let changed = match about.around {
                    true => parent,
                    false => about.ty.or(own),
                };
                apply(&mut instance, place, change);
                let Some(report) = judge(self.engine, &instance, assess) else { continue };
                let [wrong] = &report.wrong[..] else { continue };
                if report.count == 1 && report.is_refused() && seen.insert(kind(wrong)) {
                    let of = changed.ok_or_else(|| wrong.path.clone());
                    let (clause, change, name) = (wrong.fault.rule, of_change, about.name);
                    found.push(Hostile {
                        kind: HostileKind { clause, change, of, name },
                        clause: wrong.fault.rule,
                        path: wrong.path.clone(),
                        message: wrong.fault.message.clone(),
                        instance,
                    });
                }
            }
        }
        found
    }
}

/// What tells one thing that is wrong from another; the same in the second of two is nothing new.
fn kind(wrong: &Wrong) -> (&'static str, String, String) {
    let mut path = String::new();
    let mut inside = false;
    for c in wrong.path.chars() {
        inside = (inside || c == '[') && c != ']';
        if !inside && c != ']' {
            path.push(c);
        }
    }
    (wrong.fault.rule, path, wrong.fault.message.clone())
}

/// The verdict on an instance.
fn judge(engine: &Engine<'_>, instance: &Element, assess: Assess) -> Option<Report> {
    let files = files(instance)?;
    let root = files.first().root()?;
    Some(engine.validate_parts(files.first().id, &[(root, assess)], false, 2))
}

fn files(instance: &Element) -> Option<Files> {
    let text = to_document(instance);
    let store = Overlay::of(&[("sample.xml", &text)]);
    Files::load(&store, &Location::from_argument("sample.xml"), Limits::default()).ok()
}

/// The types of all elements of an instance, in document order.
fn types(engine: &Engine<'_>, instance: &Element, assess: Assess) -> Vec<Option<crate::TypeId>> {
    let Some(files) = files(instance) else { return Vec::new() };
    let Some(root) = files.first().root() else { return Vec::new() };
    let known = engine.types_of(files.first().id, &[(root, assess)], false);
    let elements = root.descendants().filter(|node| node.is_element());
    elements.map(|node| known.get(&node.id()).copied()).collect()
}

/// The paths of all elements, in document order.
fn paths(element: &Element, here: &mut Vec<usize>, found: &mut Vec<Vec<usize>>) {
    found.push(here.clone());
    for (number, child) in element.children.iter().enumerate() {
        if let Node::Element(child) = child {
            here.push(number);
            paths(child, here, found);
            here.pop();
        }
    }
}

fn at<'e>(element: &'e Element, path: &[usize]) -> &'e Element {
    match path.split_first().map(|(first, rest)| (&element.children[*first], rest)) {
        Some((Node::Element(child), rest)) => at(child, rest),
        _ => element,
    }
}

fn at_mut<'e>(element: &'e mut Element, path: &[usize]) -> &'e mut Element {
    let Some((first, rest)) = path.split_first() else { return element };
    if !matches!(element.children[*first], Node::Element(_)) {
        return element;
    }
    match &mut element.children[*first] {
        Node::Element(child) => at_mut(child, rest),
        Node::Text(_) => unreachable!("this was an element a moment ago"),
    }
}

/// What to try at one element.
fn changes(
    engine: &Engine<'_>,
    base: &Element,
    place: &[usize],
    datatype: Option<&Arc<Datatype>>,
) -> Vec<Change> {
    let element = at(base, place);
    let mut found = Vec::new();
    if let Some(datatype) = datatype {
        let text = match element.children.first() {
            Some(Node::Text(Text::Plain(text))) => text.as_str(),
            _ => "",
        };
        found.extend(wrong_values(datatype, text).into_iter().map(Change::Text));
    }
    found.extend([Change::Rename, Change::AddChild, Change::StrayText]);
    found.push(Change::AddAttribute(QName::new("", "unheardOf"), "yes".into()));
    found.push(Change::AddAttribute(QName::new(ns::XSI, "nil"), "true".into()));
    found.push(Change::AddAttribute(QName::new(ns::XSI, "type"), "NoSuchType".into()));
    if !place.is_empty() {
        found.extend([Change::Remove, Change::Double]);
    }
    for (number, (name, value)) in element.attributes.iter().enumerate() {
        found.push(Change::RemoveAttribute(number));
        let known = engine.schemas().attribute_decls.iter().find(|(_, decl)| decl.name == *name);
        let datatype = known.and_then(|(_, decl)| engine.datatype(decl.ty.target?));
        let text = if let Text::Plain(text) = value { text.as_str() } else { "" };
        let mut values =
            datatype.map_or_else(|| vec!["~".to_owned()], |datatype| wrong_values(datatype, text));
        // The value that another element has: an ID or a key cannot be there twice.
        same_attribute(base, name, &mut values);
        found.extend(values.into_iter().map(|value| Change::SetAttribute(number, value)));
    }
    found
}

/// The values of all attributes of a name.
fn same_attribute(element: &Element, name: &QName, found: &mut Vec<String>) {
    for (other, value) in &element.attributes {
        if let (true, Text::Plain(value)) = (other == name, value) {
            found.push(value.clone());
        }
    }
    element.elements().for_each(|child| same_attribute(child, name, found));
}

/// Values that a type might not accept, one for each of its facets, made from one that it does.
fn wrong_values(datatype: &Datatype, text: &str) -> Vec<String> {
    let mut found = vec!["~".to_owned(), String::new(), "no-such-thing".to_owned()];
    // As long as before, but of another form.
    found.push("~".repeat(text.chars().count()));
    found.extend([text.to_lowercase(), text.to_uppercase()]);
    let builtin = datatype.builtin().unwrap_or(Builtin::String);
    let letters = |count: u64| "S".repeat(count.min(10_000) as usize);
    let unit = if matches!(builtin.primitive(), Builtin::HexBinary) { 2 } else { 1 };
    if let Some(length) = datatype.length {
        found.extend([letters((length + 1) * unit), letters(length.saturating_sub(1) * unit)]);
    }
    if let Some(least) = datatype.min_length.filter(|least| *least > 0) {
        found.push(letters((least - 1) * unit));
    }
    if let Some(most) = datatype.max_length {
        found.push(letters((most + 1) * unit));
        found.push("1".repeat(((most + 1) * unit).min(10_000) as usize));
    }
    if let Variety::List(item) = &datatype.variety {
        let count = datatype.length.or(datatype.max_length).unwrap_or(0);
        let item =
            if item.builtin().is_some_and(|it| it.primitive() == Builtin::Decimal) { "1" } else { "S" };
        found.push(vec![item; (count + 1).min(1000) as usize].join(" "));
    }
    for (limit, step) in [(&datatype.min, -1.0), (&datatype.max, 1.0)] {
        let Some(limit) = limit else { continue };
        found.push(limit.text.to_string());
        if let Ok(number) = limit.text.parse::<f64>() {
            found.extend([format!("{}", number + step), format!("{}", number + step / 100.0)]);
        }
        found.extend(
            ["1000-01-01", "9000-01-01", "1000-01-01T00:00:00Z", "9000-01-01T00:00:00Z"].map(str::to_owned),
        );
    }
    if let Some(most) = datatype.total_digits {
        found.push("1".repeat((most + 1).min(1000) as usize));
        found.push(format!("0.{}", "1".repeat(most.min(1000) as usize + 1)));
    }
    if let Some(most) = datatype.fraction_digits {
        found.push(format!("1.{}", "1".repeat((most + 1).min(1000) as usize)));
    }
    found
}

fn apply(root: &mut Element, path: &[usize], change: Change) {
    let stranger = || Node::Element(Element::new(QName::new("urn:example:elsewhere", "unheardOf")));
    if let (Change::Remove | Change::Double, Some((last, parent))) = (&change, path.split_last()) {
        let parent = at_mut(root, parent);
        match change {
            Change::Remove => drop(parent.children.remove(*last)),
            _ => {
                let copy = parent.children[*last].clone();
                parent.children.insert(*last, copy);
            }
        }
        return;
    }
    let element = at_mut(root, path);
    match change {
        Change::Text(text) => element.children = vec![Node::Text(Text::Plain(text))],
        Change::Rename => {
            element.name = QName::new(&element.name.namespace, &format!("{}Unheard", element.name.local))
        }
        Change::AddChild => element.children.push(stranger()),
        Change::StrayText => element.children.push(Node::Text(Text::Plain("Some text.".into()))),
        Change::AddAttribute(name, value) => element.attributes.push((name, Text::Plain(value))),
        Change::SetAttribute(number, value) => element.attributes[number].1 = Text::Plain(value),
        Change::RemoveAttribute(number) => drop(element.attributes.remove(number)),
        Change::Remove | Change::Double => {}
    }
}

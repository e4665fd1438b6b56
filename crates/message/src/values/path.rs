//! Sets one value by its wire path: `vessel/draught`, `cargo[2]/class`, `@verified`, `$header/AgentCredentials/agent`.

use std::cell::Cell;

use charter_contract::{WireElement, WireShape};
use charter_schema::sample::{Sampler, Size};
use charter_schema::{ElementId, Engine, TypeId};
use serde_json::{Map, Value as Json};

use super::known::Found;
use super::order::arrange;
use super::read::attribute_of;
use super::write::as_object;
use super::{ATTACHED, BodyLayout, CONTENT, HEADER, Layout, Mapper, TEXT, TYPE, ValueError};

/// A step of a wire path: a key, and which of several.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Step {
    /// The key.
    pub key: String,
    /// Which of several, from 1.
    pub number: Option<usize>,
}

/// Elements stand no deeper in each other.
const MOST_STEPS: usize = 500;

/// The steps of a wire path. A namespace in braces may hold slashes.
///
/// ```
/// use charter_message::values::steps;
///
/// let steps = steps("cargo[2]/{urn:a/b}class").unwrap();
/// assert_eq!((steps[0].key.as_str(), steps[0].number), ("cargo", Some(2)));
/// assert_eq!(steps[1].key, "{urn:a/b}class");
/// ```
///
/// # Errors
/// If a step is empty, or its number is none; if there are more than elements may stand in each other.
pub fn steps(path: &str) -> Result<Vec<Step>, ValueError> {
    let mut parts = vec![String::new()];
    let mut inside = false;
    for c in path.chars() {
        match c {
            '{' => inside = true,
            '}' => inside = false,
            _ => {}
        }
        match (c, inside, parts.last_mut()) {
            ('/', false, _) => parts.push(String::new()),
            (c, _, Some(last)) => last.push(c),
            _ => {}
        }
    }
    let wrong =
        |message: &str| ValueError::new(path, message, "write it like vessel/draught or cargo[2]/@class");
    if parts.len() > MOST_STEPS {
        let begun: String = path.chars().take(60).collect();
        let message = format!("the path has more than {MOST_STEPS} steps");
        return Err(ValueError::new(
            &format!("{begun}…"),
            message,
            "elements do not stand as deep in each other",
        ));
    }
    let step = |part: &String| {
        let (key, number) = match part.strip_suffix(']').and_then(|rest| rest.rsplit_once('[')) {
            Some((key, number)) => match number.parse() {
                Ok(number) if number > 0 => (key, Some(number)),
                _ => return Err(wrong("the number of a step counts from 1")),
            },
            None => (part.as_str(), None),
        };
        if key.is_empty() {
            return Err(wrong("a step of the path is empty"));
        }
        Ok(Step { key: key.to_owned(), number })
    };
    parts.iter().map(step).collect()
}

/// The values in messages of a shape, by their wire paths. What is worked out for one path serves the next.
///
/// ```
/// use charter_contract::{Contract, Side};
/// use charter_message::values::ByPath;
/// use charter_schema::Engine;
/// use charter_source::{Limits, Location, Overlay};
///
/// let text = r#"<definitions xmlns="http://schemas.xmlsoap.org/wsdl/" xmlns:t="urn:saltmere:quay"
///     xmlns:s="http://schemas.xmlsoap.org/wsdl/soap/" targetNamespace="urn:saltmere:quay">
///   <types><schema xmlns="http://www.w3.org/2001/XMLSchema" targetNamespace="urn:saltmere:quay">
///     <element name="moor"><complexType><sequence><element name="berth" type="int"/></sequence></complexType></element>
///   </schema></types>
///   <message name="Moor"><part name="p" element="t:moor"/></message>
///   <portType name="Quay"><operation name="moor"><input message="t:Moor"/></operation></portType>
///   <binding name="QuayOverSoap11" type="t:Quay"><s:binding transport="http://schemas.xmlsoap.org/soap/http"/>
///     <operation name="moor"><input><s:body use="literal"/></input></operation></binding>
///   <service name="QuayService"><port name="Q" binding="t:QuayOverSoap11"><s:address location="http://quay.saltmere.example/"/></port></service>
/// </definitions>"#;
/// let store = Overlay::of(&[("quay.wsdl", text)]);
/// let contract = Contract::load(&store, &Location::from_argument("quay.wsdl"), Limits::default())?;
/// let engine = Engine::new(&contract.files, &contract.schemas);
/// let (operation, _) = contract.operations().next().unwrap();
/// let shape = contract.wire_shape(operation, Side::Input, None).unwrap();
/// let values = ByPath::of(&engine, &shape);
/// let mut all = serde_json::json!({});
/// values.set(&mut all, "berth", "4").unwrap();
/// assert_eq!(all, serde_json::json!({ "berth": "4" }));
/// assert_eq!(values.leads("bert").unwrap_err().help, "did you mean \"berth\"?");
/// # Ok::<(), charter_source::ReadError>(())
/// ```
pub struct ByPath<'e> {
    pub(super) mapper: Mapper<'e>,
    pub(super) layout: Layout,
    effort: Cell<u64>,
}

/// How many values may be looked at to find out which go together; with each text that is set, it grows.
const EFFORT: u64 = 10_000_000;
const EFFORT_FOR_EACH: u64 = 8;

impl<'e> ByPath<'e> {
    /// Those of a shape.
    pub fn of(engine: &'e Engine<'e>, shape: &WireShape) -> ByPath<'e> {
        ByPath {
            mapper: Mapper::new(engine),
            layout: Layout::of(engine.schemas(), shape),
            effort: Cell::new(EFFORT),
        }
    }

    /// Sets the value at a wire path; a value that is not there yet is put in, with what it needs. An empty text takes the
    /// value away.
    ///
    /// # Errors
    /// If there is no such place; the nearest is named.
    pub fn set(&self, values: &mut Json, path: &str, text: &str) -> Result<(), ValueError> {
        let steps = steps(path)?;
        self.effort.set(self.effort.get() + EFFORT_FOR_EACH * (path.len() + text.len()) as u64);
        self.begin(&steps);
        Setter { all: self, mapper: &self.mapper, path }.top(values, &steps, text)
    }

    /// Settles whether what the steps lead to is encoded.
    pub(super) fn begin(&self, steps: &[Step]) {
        // All contents of a body are encoded, or none is.
        let at = if steps[0].key == HEADER { 0 } else { self.layout.headers.len() };
        let encoded = self.layout.encoded.get(at).copied().unwrap_or(false);
        self.mapper.encoded.set(steps[0].key != ATTACHED && encoded);
    }
}

/// Levels below a place at which a name is looked for.
const DEEPER: usize = 5;

struct Setter<'s, 'e> {
    all: &'s ByPath<'e>,
    mapper: &'s Mapper<'e>,
    path: &'s str,
}

impl Setter<'_, '_> {
    fn top(&self, values: &mut Json, steps: &[Step], text: &str) -> Result<(), ValueError> {
        let (setter, layout, engine) = (self, &self.all.layout, self.mapper.engine);
        if !values.is_object() {
            *values = Json::Object(Map::new());
        }
        let Json::Object(top) = values else { return Ok(()) };
        match (steps[0].key.as_str(), &layout.body) {
            (HEADER, _) => setter.among(
                &layout.headers,
                top.entry(HEADER).or_insert_with(|| Json::Object(Map::new())),
                &steps[1..],
                text,
            ),
            (ATTACHED, _) => setter.among(
                &layout.attached,
                top.entry(ATTACHED).or_insert_with(|| Json::Object(Map::new())),
                &steps[1..],
                text,
            ),
            (_, BodyLayout::Named(entries)) => setter.among(entries, values, steps, text),
            (_, BodyLayout::Inline(element)) => {
                let ty = setter.actual(element.ty(engine.schemas()), top);
                // Findings name the body element too.
                let name = &element.name(engine.schemas()).local;
                let named = steps.len() > 1
                    && *steps[0].key == **name
                    && matches!(setter.mapper.known(ty).find(&steps[0].key), Found::Unknown);
                setter.within(ty, top, &steps[usize::from(named)..], text)
            }
        }
    }

    fn wrong<T>(&self, message: impl Into<String>, help: impl Into<String>) -> Result<T, ValueError> {
        Err(ValueError::new(self.path, message, help))
    }

    /// The type of an object: the one that it names, or the declared one.
    fn actual(&self, declared: TypeId, object: &Map<String, Json>) -> TypeId {
        let key = object.get(TYPE).and_then(Json::as_str);
        let named = key.and_then(|key| {
            let schemas = self.mapper.schemas;
            let name = schemas.type_names().find(|name| self.mapper.type_key(name) == key)?;
            schemas.type_named(name)
        });
        named.unwrap_or(declared)
    }

    /// Sets a value in contents that stand under their names.
    fn among(
        &self,
        entries: &[(String, WireElement)],
        values: &mut Json,
        steps: &[Step],
        text: &str,
    ) -> Result<(), ValueError> {
        let Some((first, rest)) = steps.split_first() else {
            return self.wrong("the path ends too early", "name one of its values");
        };
        let Some((key, element)) = entries.iter().find(|(key, _)| *key == first.key) else {
            let help =
                self.mapper.advice(&first.key, || entries.iter().map(|(key, _)| key.clone()).collect());
            return self.wrong(format!("there is no \"{}\"", first.key), help);
        };
        let Json::Object(object) = values else {
            return self.wrong("there is no object here", "write { … }");
        };
        let id = match element {
            WireElement::Declared(id) => Some(*id),
            WireElement::Typed { .. } => None,
        };
        let ty = element.ty(self.mapper.schemas);
        if !object.contains_key(key) {
            let made = crate::wire_content::sample_element(
                self.mapper.engine,
                element,
                Size::Typical,
                (self.mapper.encoded.get(), 0),
            );
            let made = made.map(|made| self.mapper.value(&made)).unwrap_or_default();
            object.insert(key.clone(), made);
        }
        match object.get_mut(key) {
            Some(value) => self.at(value, ty, id, rest, text),
            None => Ok(()),
        }
    }

    /// Sets a value at the end of the steps, below `value`.
    fn at(
        &self,
        value: &mut Json,
        ty: TypeId,
        id: Option<ElementId>,
        steps: &[Step],
        text: &str,
    ) -> Result<(), ValueError> {
        if !steps.is_empty() {
            if let Some(array) = self.mapper.array(ty) {
                return self.in_array(value, &array, steps, text);
            }
            if value.is_null() {
                // It was nil; now it has content.
                *value = self.sample_value(ty, id);
            }
            let taken = std::mem::take(value);
            let mut object = as_object(taken);
            let ty = self.actual(ty, &object);
            let outcome = self.within(ty, &mut object, steps, text);
            *value = Json::Object(object);
            return outcome;
        }
        let ty = value.as_object().map_or(ty, |object| self.actual(ty, object));
        if self.mapper.schemas.has_simple_content(ty) {
            match value {
                Json::Object(object) => drop(object.insert(TEXT.to_owned(), Json::String(text.to_owned()))),
                other => *other = Json::String(text.to_owned()),
            }
            return Ok(());
        }
        if self.mapper.schemas.is_any(ty) || self.mapper.schemas.is_mixed(ty) {
            *value = Json::String(text.to_owned());
            return Ok(());
        }
        let keys: Vec<String> = self.mapper.known(ty).keys().take(12).collect();
        self.wrong("this is no single value", format!("go on with one of {}", keys.join(", ")))
    }

    fn in_array(
        &self,
        value: &mut Json,
        array: &charter_schema::EncodedArray,
        steps: &[Step],
        text: &str,
    ) -> Result<(), ValueError> {
        let step = &steps[0];
        if step.key != *array.member.local {
            let help = format!("write {}[1]", array.member.local);
            return self.wrong(format!("there is no \"{}\"", step.key), help);
        }
        let Json::Array(members) = value else { return self.wrong("a list is wanted here", "write [ … ]") };
        self.nth(members, step, array.item, None, &steps[1..], text)
    }

    /// Sets a value in one of several.
    fn nth(
        &self,
        values: &mut Vec<Json>,
        step: &Step,
        ty: TypeId,
        id: Option<ElementId>,
        rest: &[Step],
        text: &str,
    ) -> Result<(), ValueError> {
        let at = step.number.unwrap_or(1) - 1;
        if at > values.len() {
            let help = format!("the next would be {}[{}]", step.key, values.len() + 1);
            return self.wrong(format!("there are only {} of \"{}\"", values.len(), step.key), help);
        }
        if text.is_empty() && rest.is_empty() {
            if at < values.len() {
                values.remove(at);
            }
            return Ok(());
        }
        if at == values.len() {
            values.push(self.sample_value(ty, id));
        }
        self.at(&mut values[at], ty, id, rest, text)
    }

    /// The value of a sample.
    fn sample_value(&self, ty: TypeId, id: Option<ElementId>) -> Json {
        let sampler = Sampler::new(self.mapper.engine, Size::Typical).encoded(self.mapper.encoded.get());
        let made = match id {
            Some(id) => sampler.element(id).ok(),
            None => {
                let mut element = crate::Element::new(charter_source::QName::new("", "item"));
                sampler.fill(&mut element, ty, charter_source::Place::default()).ok().map(|()| element)
            }
        };
        made.map(|made| self.mapper.value(&made)).unwrap_or_default()
    }

    /// Sets a value in an object of a type.
    fn within(
        &self,
        ty: TypeId,
        object: &mut Map<String, Json>,
        steps: &[Step],
        text: &str,
    ) -> Result<(), ValueError> {
        let (step, rest) = (&steps[0], &steps[1..]);
        if step.key.starts_with('@') {
            return self.attribute(ty, object, &step.key, text);
        }
        if step.key == TEXT && rest.is_empty() {
            object.insert(TEXT.to_owned(), Json::String(text.to_owned()));
            return Ok(());
        }
        let known = self.mapper.known(ty);
        let Found::PossibleChild(at) = known.find(&step.key) else {
            let help = match self.deeper(ty, &step.key) {
                Some(path) => format!("did you mean \"{}{path}\"?", self.before(steps)),
                None => self.mapper.advice(&step.key, || known.keys().collect()),
            };
            return self.wrong(format!("there is no \"{}\"", step.key), help);
        };
        let entry = known.entries[at].clone();
        let element_type = self.mapper.schemas.element_type(entry.element);
        let key = known.key(&entry.name);
        if let Some(Json::Array(content)) = object.get_mut(CONTENT) {
            let mut same = content.iter_mut().filter_map(|item| item.as_object_mut()?.get_mut(&key));
            return match same.nth(step.number.unwrap_or(1) - 1) {
                Some(value) => self.at(value, element_type, Some(entry.element), rest, text),
                None => self.wrong("the order of the content counts here", "give the whole as --values"),
            };
        }
        if entry.repeats {
            let values = object.entry(key.clone()).or_insert_with(|| Json::Array(Vec::new()));
            if !values.is_array() {
                *values = Json::Array(vec![std::mem::take(values)]);
            }
            if let Json::Array(values) = values {
                self.nth(values, step, element_type, Some(entry.element), rest, text)?;
                if values.is_empty() {
                    object.shift_remove(&key);
                    return Ok(());
                }
            }
            self.make_room(ty, object, &key);
            return Ok(());
        }
        if step.number.is_some_and(|number| number > 1) {
            return self.wrong(format!("\"{}\" is there only once", step.key), "leave the number out");
        }
        if text.is_empty() && rest.is_empty() {
            object.shift_remove(&key);
            return Ok(());
        }
        if !object.contains_key(&key) {
            object.insert(key.clone(), self.sample_value(element_type, Some(entry.element)));
            self.make_room(ty, object, &key);
        }
        match object.get_mut(&key) {
            Some(value) => self.at(value, element_type, Some(entry.element), rest, text),
            None => Ok(()),
        }
    }

    /// The part of the path that leads to the steps that are left.
    fn before(&self, steps: &[Step]) -> &str {
        let rest: usize = self.path.split('/').rev().take(steps.len()).map(|part| part.len() + 1).sum();
        &self.path[..(self.path.len() + 1).saturating_sub(rest)]
    }

    /// Where an element of that name stands further down, the shortest way.
    fn deeper(&self, ty: TypeId, key: &str) -> Option<String> {
        let mut level = vec![(ty, String::new())];
        let mut seen = charter_source::Set::default();
        for _ in 0..DEEPER {
            let mut next = Vec::new();
            for (ty, path) in level {
                for entry in &self.mapper.known(ty).entries {
                    let at = format!("{path}{}", entry.name.local);
                    if &*entry.name.local == key && !path.is_empty() {
                        return Some(at);
                    }
                    let inner = self.mapper.schemas.element_type(entry.element);
                    if seen.insert(inner) {
                        next.push((inner, at + "/"));
                    }
                }
            }
            level = next;
        }
        None
    }

    fn attribute(
        &self,
        ty: TypeId,
        object: &mut Map<String, Json>,
        key: &str,
        text: &str,
    ) -> Result<(), ValueError> {
        let engine = self.mapper.engine;
        let declared = engine.attribute_type(ty, &attribute_of(key)).is_some();
        if !declared && engine.allowed(ty).wildcard.is_none() {
            let help = self.mapper.advice(key, || self.mapper.attribute_keys(ty));
            return self.wrong(format!("there is no \"{key}\""), help);
        }
        match text {
            "" => drop(object.shift_remove(key)),
            text => drop(object.insert(key.to_owned(), Json::String(text.to_owned()))),
        }
        Ok(())
    }

    /// Takes away what does not go together with a new value: the other side of a choice.
    fn make_room(&self, ty: TypeId, object: &mut Map<String, Json>, new: &str) {
        let engine = self.mapper.engine;
        let Some(model) = engine.model(ty).filter(|model| model.has_choice()) else { return };
        let known = self.mapper.known(ty);
        let fits = |object: &Map<String, Json>| {
            // Where it takes too long to find out, what does not go together is told when all is put in order.
            let left = self.all.effort.get().checked_sub(object.len() as u64);
            self.all.effort.set(left.unwrap_or(0));
            if left.is_none() {
                return true;
            }
            let mut given: Vec<(usize, usize)> = Vec::new();
            for (key, value) in object {
                if let Found::PossibleChild(at) = known.find(key) {
                    given.push((
                        at,
                        value.as_array().filter(|_| known.entries[at].repeats).map_or(1, Vec::len),
                    ));
                }
            }
            given.sort_unstable();
            let symbol = |(at, count): &(usize, usize)| {
                let name = &known.entries[*at].name;
                (engine.symbol(&name.namespace, &name.local), *count)
            };
            arrange(model, &given.iter().map(symbol).collect::<Vec<_>>()).is_ok()
        };
        if fits(object) {
            return;
        }
        // The members of the other side go one after the other, as long as that helps in the end.
        let others: Vec<String> =
            object.keys().filter(|key| *key != new && !key.starts_with(['@', '$'])).cloned().collect();
        for first in 0..others.len() {
            let mut trial = object.clone();
            for key in &others[first..] {
                trial.shift_remove(key);
                if fits(&trial) {
                    *object = trial;
                    return;
                }
            }
        }
    }
}

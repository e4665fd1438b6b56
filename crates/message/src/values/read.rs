//! Makes elements of values.

use charter_contract::{WireElement, WireShape};
use charter_schema::{ElementId, Engine, TypeId, ValueConstraint};
use charter_source::{QName, Set, nearest, ns};
use serde_json::{Map, Value as Json};

use super::scalar::name_of;
use super::{ATTACHED, BodyLayout, CONTENT, HEADER, Layout, Mapper, NIL, TEXT, TYPE, ValueError};
use crate::{Element, Node, Text, WireContent};

/// Elements nested in each other; values that go deeper are refused.
const DEEPEST: usize = 250;

/// What fills a wire shape, made of values.
///
/// # Errors
/// Everything that is wrong with the values, each at its wire path.
pub fn read(engine: &Engine<'_>, shape: &WireShape, values: &Json) -> Result<WireContent, Vec<ValueError>> {
    let (contents, errors) = contents(engine, shape, values, false);
    if errors.is_empty() { Ok(WireContent { elements: contents }) } else { Err(errors) }
}

/// The same of values that are wrong, for a message that is to be refused: what types do not accept stands in it all the same,
/// what is missing is missing.
///
/// # Errors
/// Everything that is wrong with the values, if no message can be made of them.
pub fn read_anyway(
    engine: &Engine<'_>,
    shape: &WireShape,
    values: &Json,
) -> Result<WireContent, Vec<ValueError>> {
    let (contents, errors) = contents(engine, shape, values, true);
    let whole = contents.len() == shape.contents().len();
    if whole { Ok(WireContent { elements: contents }) } else { Err(errors) }
}

/// An element for each of the contents of a shape, as far as values say something, and what is wrong with them.
fn contents(
    engine: &Engine<'_>,
    shape: &WireShape,
    values: &Json,
    anyway: bool,
) -> (Vec<Element>, Vec<ValueError>) {
    let mapper = Mapper { anyway, ..Mapper::new(engine) };
    let mut reader = JsonReader { mapper, errors: Vec::new(), depth: 0, encoded: Vec::new() };
    let layout = Layout::of(engine.schemas(), shape);
    let Json::Object(all) = values else {
        return (
            Vec::new(),
            vec![ValueError::new("", "the values of a message are an object", "write { … }")],
        );
    };
    let mut rest = all.clone();
    let mut contents = Vec::new();
    let headers = rest.shift_remove(HEADER);
    let attached = rest.shift_remove(ATTACHED);
    reader.encoded.clone_from(&layout.encoded);
    reader.named(&layout.headers, headers.as_ref(), HEADER, &mut contents);
    match &layout.body {
        BodyLayout::Named(entries) => reader.named(entries, Some(&Json::Object(rest)), "", &mut contents),
        BodyLayout::Inline(element) => {
            let value = simplified(rest);
            reader.mapper.encoded.set(layout.encoded.get(contents.len()).copied().unwrap_or(false));
            contents.push(reader.content(element, &value, ""));
        }
    }
    reader.named(&layout.attached, attached.as_ref(), ATTACHED, &mut contents);
    (contents, reader.errors)
}

/// An object that holds nothing but a value is that value.
fn simplified(mut object: Map<String, Json>) -> Json {
    match object.len() {
        1 if object.contains_key(TEXT) => object.shift_remove(TEXT).unwrap_or_default(),
        1 if object.get(NIL) == Some(&Json::Bool(true)) => Json::Null,
        _ => Json::Object(object),
    }
}

pub(super) struct JsonReader<'e> {
    pub(super) mapper: Mapper<'e>,
    pub(super) errors: Vec<ValueError>,
    depth: usize,
    /// Which of the contents are encoded.
    encoded: Vec<bool>,
}

/// A path with one more step.
pub(super) fn below(path: &str, step: &str) -> String {
    if path.is_empty() { step.to_owned() } else { format!("{path}/{step}") }
}

impl JsonReader<'_> {
    pub(super) fn wrong(&mut self, path: &str, message: impl Into<String>, help: impl Into<String>) {
        self.errors.push(ValueError::new(path, message, help));
    }

    /// Contents that stand under their names.
    fn named(
        &mut self,
        entries: &[(String, WireElement)],
        values: Option<&Json>,
        path: &str,
        into: &mut Vec<Element>,
    ) {
        let nothing = Map::new();
        let object = match values {
            None => &nothing,
            Some(Json::Object(object)) => object,
            Some(_) => {
                self.wrong(path, "an object is wanted here", "write a value for each name");
                return;
            }
        };
        let keys = || entries.iter().map(|(key, _)| key.clone()).collect();
        let known: Set<&str> = entries.iter().map(|(key, _)| key.as_str()).collect();
        for key in object.keys().filter(|key| !known.contains(key.as_str())) {
            let help = self.mapper.advice(key, keys);
            self.wrong(&below(path, key), "there is no such value", help);
        }
        for (key, element) in entries {
            let at = below(path, key);
            match object.get(key) {
                Some(value) => {
                    self.mapper.encoded.set(self.encoded.get(into.len()).copied().unwrap_or(false));
                    into.push(self.content(element, value, &at));
                }
                None => {
                    let ty = element.ty(self.mapper.schemas);
                    let help = self.wanted(ty);
                    self.wrong(&at, "a value is missing", help);
                }
            }
        }
    }

    /// What a value of a type is, in a few words.
    pub(super) fn wanted(&self, ty: TypeId) -> String {
        match self.mapper.engine.datatype(ty) {
            Some(datatype) => format!("its value is {}", datatype.describe()),
            None => {
                let keys: Vec<String> = self.mapper.known(ty).keys().take(8).collect();
                if keys.is_empty() { "write {}".to_owned() } else { format!("it holds {}", keys.join(", ")) }
            }
        }
    }

    fn content(&mut self, element: &WireElement, value: &Json, path: &str) -> Element {
        match element {
            WireElement::Declared(id) => self.declared(*id, value, path),
            WireElement::Typed { name, ty } => self.element(name, *ty, None, value, path),
        }
    }

    pub(super) fn declared(&mut self, id: ElementId, value: &Json, path: &str) -> Element {
        let name = self.mapper.schemas.elements[id].name.clone();
        self.element(&name, self.mapper.schemas.element_type(id), Some(id), value, path)
    }

    pub(super) fn element(
        &mut self,
        name: &QName,
        ty: TypeId,
        decl: Option<ElementId>,
        value: &Json,
        path: &str,
    ) -> Element {
        let mut element = Element::new(name.clone());
        element.ty = Some(ty);
        if self.depth > DEEPEST {
            self.wrong(path, "the values go too deep", "leave something out");
            return element;
        }
        self.depth += 1;
        self.fill(&mut element, ty, decl, value, path);
        self.depth -= 1;
        element
    }

    fn fill(&mut self, element: &mut Element, ty: TypeId, decl: Option<ElementId>, value: &Json, path: &str) {
        let object = value.as_object();
        let ty = match object.and_then(|object| object.get(TYPE)) {
            Some(named) => self.named_type(element, ty, decl, named, path),
            None => ty,
        };
        element.ty = Some(ty);
        self.attributes(element, ty, object, path);
        let says_nil = object.and_then(|object| object.get(NIL)) == Some(&Json::Bool(true));
        if says_nil || value.is_null() {
            let nillable = decl.is_none_or(|id| self.mapper.schemas.elements[id].nillable);
            if !nillable {
                self.wrong(path, "it is not nillable", "give it a value, or leave it out if it is optional");
            }
            element.attributes.push((QName::new(ns::XSI, "nil"), Text::Plain("true".into())));
            return;
        }
        // A type that was named wrongly has been said already.
        let named = object.is_some_and(|object| object.contains_key(TYPE));
        if !named && self.mapper.schemas.complex(ty).is_some_and(|complex| complex.is_abstract) {
            let help = format!("name one with \"{TYPE}\": {}", self.derived(ty));
            return self.wrong(path, "its type is abstract", help);
        }
        let text = object.and_then(|object| object.get(TEXT));
        if let Some(array) = self.mapper.array(ty) {
            return self.members(element, &array, text.unwrap_or(value), path);
        }
        if self.mapper.schemas.has_simple_content(ty) {
            return self.simple(element, ty, object, text, value, path);
        }
        if self.mapper.schemas.is_any(ty) {
            return self.anything(element, object, value, path);
        }
        let mixed = self.mapper.schemas.is_mixed(ty);
        match value {
            Json::Object(object) => self.children(element, ty, object, path),
            Json::String(text) if mixed => {
                self.children(
                    element,
                    ty,
                    &Map::from_iter([(CONTENT.to_owned(), Json::from(vec![text.as_str()]))]),
                    path,
                );
            }
            _ => {
                let help = self.wanted(ty);
                self.wrong(path, "an object is wanted here", help);
            }
        }
    }

    fn simple(
        &mut self,
        element: &mut Element,
        ty: TypeId,
        object: Option<&Map<String, Json>>,
        text: Option<&Json>,
        value: &Json,
        path: &str,
    ) {
        let special = |key: &str| key.starts_with('@') || [TEXT, NIL, TYPE].contains(&key);
        if let Some(object) = object {
            for key in object.keys().filter(|key| !special(key)) {
                self.wrong(
                    &below(path, key),
                    "there is no such value",
                    format!("it holds a value: \"{TEXT}\""),
                );
            }
        }
        let value = match (object, text) {
            (Some(_), Some(text)) => text,
            // What it holds instead has been said already.
            (Some(object), None) if object.keys().any(|key| !special(key)) => return,
            (Some(_), None) => {
                let help = self.wanted(ty);
                return self.wrong(path, format!("its value is missing: \"{TEXT}\""), help);
            }
            _ => value,
        };
        match self.mapper.text(ty, value, path) {
            Ok(Text::Plain(text)) if text.is_empty() => {}
            Ok(text) => element.children.push(Node::Text(text)),
            Err(error) => self.errors.push(error),
        }
    }

    fn members(
        &mut self,
        element: &mut Element,
        array: &charter_schema::EncodedArray,
        value: &Json,
        path: &str,
    ) {
        let Json::Array(members) = value else {
            return self.wrong(path, "a list is wanted here", "write [ … ]");
        };
        for (number, member) in members.iter().enumerate() {
            let at = format!("{path}/{}[{}]", array.member.local, number + 1);
            let inner = array.inner.matches('[').count();
            let child = if inner == 0 {
                self.element(&array.member, array.item, None, member, &at)
            } else {
                let mut child = Element::new(array.member.clone());
                let within = charter_schema::EncodedArray { inner: "[]".repeat(inner - 1), ..array.clone() };
                self.members(&mut child, &within, member, &at);
                child
            };
            element.children.push(Node::Element(child));
        }
    }

    /// The type that a value names for itself.
    fn named_type(
        &mut self,
        element: &mut Element,
        ty: TypeId,
        decl: Option<ElementId>,
        named: &Json,
        path: &str,
    ) -> TypeId {
        let schemas = self.mapper.schemas;
        let key = named.as_str().unwrap_or("");
        let local: Vec<&QName> = schemas.type_names().filter(|name| &*name.local == key).collect();
        let name = match local.as_slice() {
            [only] => (*only).clone(),
            _ => name_of(key),
        };
        let block = decl.map_or_else(charter_schema::DerivationSet::default, |id| schemas.elements[id].block);
        let found = schemas.type_named(&name);
        match found {
            Some(found) if schemas.may_stand_for(found, ty, block) => {
                element.attributes.push((QName::new(ns::XSI, "type"), Text::Name(name)));
                found
            }
            Some(_) => {
                let help = format!("there are {}", self.derived(ty));
                self.wrong(&below(path, TYPE), format!("\"{key}\" may not stand here"), help);
                ty
            }
            None => {
                let help = format!("there are {}", self.derived(ty));
                self.wrong(&below(path, TYPE), format!("there is no type \"{key}\""), help);
                ty
            }
        }
    }

    /// The types that may stand for one.
    fn derived(&self, ty: TypeId) -> String {
        let schemas = self.mapper.schemas;
        let mut found = Vec::new();
        let mut waiting = self.mapper.engine.relatives().derived(ty).to_vec();
        while let Some(next) = waiting.pop() {
            waiting.extend(self.mapper.engine.relatives().derived(next));
            let is_abstract = schemas.complex(next).is_some_and(|complex| complex.is_abstract);
            if let Some(name) = schemas.types[next].name.as_ref().filter(|_| !is_abstract) {
                found.push(self.mapper.type_key(name));
            }
        }
        found.sort_unstable();
        found.truncate(8);
        if found.is_empty() { "none".to_owned() } else { found.join(", ") }
    }

    fn attributes(
        &mut self,
        element: &mut Element,
        ty: TypeId,
        object: Option<&Map<String, Json>>,
        path: &str,
    ) {
        let schemas = self.mapper.schemas;
        let allowed = self.mapper.engine.allowed(ty);
        let wildcard = &allowed.wildcard;
        let anything = schemas.is_any(ty);
        let given = object.into_iter().flatten().filter(|(key, _)| key.starts_with('@'));
        for (key, value) in given {
            let name = attribute_of(key);
            let at = below(path, key);
            let text = match self.mapper.engine.attribute_type(ty, &name) {
                Some(ty) => self.mapper.text(ty, value, &at),
                None if anything
                    || wildcard.as_ref().is_some_and(|any| any.namespaces.allows(&name.namespace)) =>
                {
                    let global = schemas.attribute_named(&name);
                    let ty = global.and_then(|id| schemas.attribute_decls[id].ty.target);
                    self.mapper.text(ty.unwrap_or(charter_schema::Builtin::AnySimpleType.id()), value, &at)
                }
                None => {
                    let advice = self.mapper.advice(key, || self.mapper.attribute_keys(ty));
                    Err(ValueError::new(&at, "there is no such attribute", advice))
                }
            };
            match text {
                Ok(text) => element.attributes.push((name, text)),
                Err(error) => self.errors.push(error),
            }
        }
        let there: Set<QName> = element.attributes.iter().map(|(name, _)| name.clone()).collect();
        for attribute in allowed.required.iter().map(|at| &allowed.all()[*at]) {
            let name = &schemas.attribute_decls[attribute.decl].name;
            if there.contains(name) {
                continue;
            }
            let key = super::write::attribute_key(name);
            match &attribute.value {
                Some(ValueConstraint::Fixed(text)) => {
                    element.attributes.push((name.clone(), Text::Plain(text.clone())));
                }
                _ => {
                    // What was given wrongly has been said already.
                    if object.is_none_or(|object| !object.contains_key(&key)) {
                        let help = self.wanted(attribute.ty);
                        self.wrong(&below(path, &key), "a value is missing", help);
                    }
                }
            }
        }
    }

    /// An element whose type lets in anything.
    fn anything(
        &mut self,
        element: &mut Element,
        object: Option<&Map<String, Json>>,
        value: &Json,
        path: &str,
    ) {
        let Some(object) = object else {
            match value {
                Json::String(text) if text.is_empty() => {}
                Json::String(text) => element.children.push(Node::Text(Text::Plain(text.clone()))),
                Json::Bool(_) | Json::Number(_) => {
                    element.children.push(Node::Text(Text::Plain(value.to_string())));
                }
                _ => self.wrong(path, "a string or an object is wanted here", "write the text, or { … }"),
            }
            return;
        };
        if let Some(Json::String(text)) =
            object.get(TEXT).filter(|text| **text != Json::String(String::new()))
        {
            element.children.push(Node::Text(Text::Plain(text.clone())));
        }
        for key in object.keys().filter(|key| !key.starts_with('@') && !key.starts_with('$')) {
            let help = format!("its type lets in anything: put elements into \"{CONTENT}\", in order");
            self.wrong(&below(path, key), "the order of this element is not known", help);
        }
        if let Some(content) = object.get(CONTENT) {
            self.one_by_one(element, None, content, path);
        }
    }
}

/// The name of the attribute that a key means.
pub(super) fn attribute_of(key: &str) -> QName {
    let key = key.strip_prefix('@').unwrap_or(key);
    match key.strip_prefix("xml:") {
        Some(local) => QName::new(ns::XML, local),
        None => name_of(key),
    }
}

/// What to do about a key that means nothing.
pub(super) fn advice(key: &str, keys: &[String]) -> String {
    match nearest(key, keys.iter().map(String::as_str)) {
        Some(near) => format!("did you mean \"{near}\"?"),
        None if keys.is_empty() => "leave it out".to_owned(),
        None => format!("there are {}", keys.iter().take(12).cloned().collect::<Vec<_>>().join(", ")),
    }
}

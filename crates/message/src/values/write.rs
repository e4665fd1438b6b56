//! Takes the values out of elements.

use charter_schema::TypeId;
use charter_source::{QName, ns};
use serde_json::{Map, Value as Json};

use super::order::arrange;
use super::scalar::name_value;
use super::{ATTACHED, BodyLayout, CONTENT, HEADER, Layout, Mapper, NIL, TEXT, TYPE};
use crate::{Element, Node, Text, WireContent};
use charter_contract::WireShape;
use charter_schema::Engine;

/// The values of what fills a wire shape.
pub fn write(engine: &Engine<'_>, shape: &WireShape, wire_content: &WireContent) -> Json {
    let mapper = Mapper::new(engine);
    let layout = Layout::of(engine.schemas(), shape);
    let mut contents = wire_content.elements.iter().zip(&layout.encoded);
    let mut named = |entries: &[(String, charter_contract::WireElement)]| -> Map<String, Json> {
        let pairs = entries.iter().zip(contents.by_ref());
        let value = |element, encoded: &bool| {
            mapper.encoded.set(*encoded);
            mapper.value(element)
        };
        pairs.map(|((key, _), (element, encoded))| (key.clone(), value(element, encoded))).collect()
    };
    let headers = named(&layout.headers);
    let mut all = Map::new();
    if !headers.is_empty() {
        all.insert(HEADER.to_owned(), Json::Object(headers));
    }
    match &layout.body {
        BodyLayout::Named(entries) => all.extend(named(entries)),
        BodyLayout::Inline(element) => {
            let mut one = named(&[(String::new(), element.clone())]);
            all.extend(as_object(one.remove("").unwrap_or_default()));
        }
    }
    let attached = named(&layout.attached);
    if !attached.is_empty() {
        all.insert(ATTACHED.to_owned(), Json::Object(attached));
    }
    Json::Object(all)
}

/// A value as an object, whatever it is.
pub(super) fn as_object(value: Json) -> Map<String, Json> {
    match value {
        Json::Object(object) => object,
        Json::Null => Map::from_iter([(NIL.to_owned(), Json::Bool(true))]),
        other => Map::from_iter([(TEXT.to_owned(), other)]),
    }
}

impl Mapper<'_> {
    /// The value of an element.
    pub(super) fn value(&self, element: &Element) -> Json {
        let mut object = Map::new();
        let mut nil = false;
        for (name, text) in &element.attributes {
            match (&*name.namespace, &*name.local, text) {
                (ns::XSI, "nil", Text::Plain(text)) => nil = matches!(text.trim(), "true" | "1"),
                (ns::XSI, "type", Text::Name(ty)) => {
                    object.insert(TYPE.to_owned(), Json::String(self.type_key(ty)));
                }
                (ns::XSI, _, _) => {}
                _ => {
                    let value = self.attribute_value(element.ty, name, text);
                    object.insert(attribute_key(name), value);
                }
            }
        }
        if nil {
            return match object.is_empty() {
                true => Json::Null,
                false => {
                    object.insert(NIL.to_owned(), Json::Bool(true));
                    Json::Object(object)
                }
            };
        }
        match element.ty {
            Some(ty) if self.array(ty).is_some() => {
                let members: Json = element.elements().map(|member| self.value(member)).collect();
                with_text(object, members)
            }
            Some(ty) if self.schemas.has_simple_content(ty) => {
                let text = whole_text(element);
                with_text(object, self.scalar(ty, &text))
            }
            Some(ty) if !self.schemas.is_any(ty) => {
                self.content(element, ty, &mut object);
                Json::Object(object)
            }
            _ => self.unknown(element, object),
        }
    }

    /// The value of an element of which no schema says anything.
    fn unknown(&self, element: &Element, mut object: Map<String, Json>) -> Json {
        if element.elements().next().is_none() {
            let text = match whole_text(element) {
                Text::Plain(text) => text,
                names => names.names().iter().map(name_value).collect::<Vec<_>>().join(" "),
            };
            return with_text(object, Json::String(text));
        }
        object.insert(CONTENT.to_owned(), self.in_order(element, None));
        Json::Object(object)
    }

    /// The children of an element by name, if their order follows from the content model; else one after the other.
    fn content(&self, element: &Element, ty: TypeId, object: &mut Map<String, Json>) {
        let known = self.known(ty);
        let text = |child: &Node| matches!(child, Node::Text(Text::Plain(text)) if text.is_empty());
        let only_elements =
            element.children.iter().all(|child| matches!(child, Node::Element(_)) || text(child));
        let follows = only_elements && self.follows(element, ty);
        if !follows {
            object.insert(CONTENT.to_owned(), self.in_order(element, Some(ty)));
            return;
        }
        for child in element.elements() {
            let key = known.key(&child.name);
            let value = self.value(child);
            let repeats = known.position(&child.name).is_none_or(|at| known.entries[at].repeats);
            if !repeats {
                object.insert(key, value);
                continue;
            }
            match object.get_mut(&key) {
                Some(Json::Array(values)) => values.push(value),
                _ => drop(object.insert(key, Json::Array(vec![value]))),
            }
        }
    }

    /// Whether the order of the children is the one that their names alone would get.
    fn follows(&self, element: &Element, ty: TypeId) -> bool {
        let Some(model) = self.engine.model(ty) else { return element.children.is_empty() };
        let mut names: Vec<(&QName, usize)> = Vec::new();
        let mut places: charter_source::Map<&QName, usize> = charter_source::Map::default();
        for child in element.elements() {
            match places.get(&child.name) {
                Some(at) => names[*at].1 += 1,
                None => {
                    places.insert(&child.name, names.len());
                    names.push((&child.name, 1));
                }
            }
        }
        let known = self.known(ty);
        names.sort_by_key(|(name, _)| (known.position(name).unwrap_or(usize::MAX), *name));
        let symbols: Vec<_> = names
            .iter()
            .map(|(name, count)| (self.engine.symbol(&name.namespace, &name.local), *count))
            .collect();
        let Ok(order) = arrange(model, &symbols) else { return false };
        order.iter().map(|(at, _)| names[*at].0).eq(element.elements().map(|child| &child.name))
    }

    /// The children one after the other: text as strings, elements as objects with one key.
    fn in_order(&self, element: &Element, ty: Option<TypeId>) -> Json {
        let known = ty.map(|ty| self.known(ty));
        let child = |child: &Node| match child {
            Node::Element(child) => {
                let key = known.as_ref().map_or_else(
                    || format!("{{{}}}{}", child.name.namespace, child.name.local),
                    |known| known.key(&child.name),
                );
                Json::Object(Map::from_iter([(key, self.value(child))]))
            }
            Node::Text(Text::Plain(text)) => Json::String(text.clone()),
            Node::Text(names) => names.names().iter().map(name_value).collect::<Vec<_>>().join(" ").into(),
        };
        element.children.iter().map(child).collect()
    }

    fn attribute_value(&self, ty: Option<TypeId>, name: &QName, text: &Text) -> Json {
        match ty.and_then(|ty| self.engine.attribute_type(ty, name)) {
            Some(ty) => self.scalar(ty, text),
            None => match text {
                Text::Plain(text) => Json::String(text.clone()),
                names => self.scalar(charter_schema::Builtin::AnySimpleType.id(), names),
            },
        }
    }

    /// The key of a type: its local name, if no other type has it.
    pub(super) fn type_key(&self, name: &QName) -> String {
        let same = self.schemas.type_names().filter(|other| other.local == name.local).count();
        if same == 1 { name.local.to_string() } else { name.to_string() }
    }
}

impl Mapper<'_> {
    /// The keys of all attributes of a type.
    pub(super) fn attribute_keys(&self, ty: TypeId) -> Vec<String> {
        self.schemas.attributes(ty).0.iter().map(|it| attribute_key(it.name)).collect()
    }
}

/// The key of an attribute.
pub(crate) fn attribute_key(name: &QName) -> String {
    match &*name.namespace {
        "" => format!("@{}", name.local),
        ns::XML => format!("@xml:{}", name.local),
        namespace => format!("@{{{namespace}}}{}", name.local),
    }
}

/// A value by itself, or beside attributes.
fn with_text(mut object: Map<String, Json>, value: Json) -> Json {
    if object.is_empty() {
        return value;
    }
    object.insert(TEXT.to_owned(), value);
    Json::Object(object)
}

/// The text of an element without elements.
fn whole_text(element: &Element) -> Text {
    match element.children.as_slice() {
        [Node::Text(text)] => text.clone(),
        children => {
            let plain = |child: &Node| match child {
                Node::Text(Text::Plain(text)) => text.clone(),
                _ => String::new(),
            };
            Text::Plain(children.iter().map(plain).collect())
        }
    }
}

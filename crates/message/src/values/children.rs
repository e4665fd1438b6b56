//! Makes the elements in an element of values: each under its key, in the order that the content model asks for.

use charter_schema::{Leaf, Process, TypeId};
use charter_source::QName;
use serde_json::{Map, Value as Json};

use super::known::{Found, Known};
use super::order::{Stuck, arrange};
use super::read::{JsonReader, below};
use super::scalar::name_of;
use super::{CONTENT, NIL, TYPE};
use crate::{Element, Node, Text};

/// Values under one key.
struct Given<'v> {
    key: &'v str,
    /// The number of the name in the order of the content model.
    rank: usize,
    name: QName,
    values: Vec<&'v Json>,
}

impl JsonReader<'_> {
    pub(super) fn children(
        &mut self,
        element: &mut Element,
        ty: TypeId,
        object: &Map<String, Json>,
        path: &str,
    ) {
        let known = self.mapper.known(ty);
        if let Some(content) = object.get(CONTENT) {
            let others = object.keys().find(|key| !key.starts_with('@') && !key.starts_with('$'));
            if let Some(key) = others {
                let help = format!("put it into \"{CONTENT}\" too");
                self.wrong(&below(path, key), format!("beside \"{CONTENT}\" nothing else may stand"), help);
            }
            return self.one_by_one(element, Some(ty), content, path);
        }
        let before = self.errors.len();
        let mut given: Vec<Given<'_>> = Vec::new();
        for (key, value) in object.iter().filter(|(key, _)| !key.starts_with('@')) {
            if [NIL, TYPE].contains(&key.as_str()) {
                continue;
            }
            let (rank, name, list) = match known.find(key) {
                Found::PossibleChild(at) => (at, known.entries[at].name.clone(), known.entries[at].repeats),
                Found::Wild(name) => (usize::MAX, name, true),
                Found::Several(names) => {
                    let help = format!("write one of {}", names.join(", "));
                    self.wrong(&below(path, key), "there are several of this name", help);
                    continue;
                }
                Found::Unknown => {
                    let help = self.mapper.advice(key, || known.keys().collect());
                    self.wrong(&below(path, key), "there is no such value", help);
                    continue;
                }
            };
            let values: Vec<&Json> = match value {
                Json::Array(values) if list => values.iter().collect(),
                single => vec![single],
            };
            given.push(Given { key, rank, name, values });
        }
        if self.errors.len() > before {
            return;
        }
        given.sort_by(|a, b| (a.rank, &a.name).cmp(&(b.rank, &b.name)));
        self.put_in_order(element, ty, &known, &given, path);
    }

    fn put_in_order(
        &mut self,
        element: &mut Element,
        ty: TypeId,
        known: &Known,
        given: &[Given<'_>],
        path: &str,
    ) {
        let engine = self.mapper.engine;
        let Some(model) = engine.model(ty) else { return };
        let symbols =
            given.iter().map(|it| (engine.symbol(&it.name.namespace, &it.name.local), it.values.len()));
        let symbols: Vec<_> = symbols.collect();
        match arrange(model, &symbols) {
            Ok(order) => {
                let mut next = vec![0; given.len()];
                for (at, leaf) in order {
                    let it = &given[at];
                    let many = it.values.len() > 1
                        || known.position(&it.name).is_none_or(|at| known.entries[at].repeats);
                    let step = if many { format!("{}[{}]", it.key, next[at] + 1) } else { it.key.to_owned() };
                    let value = it.values[next[at]];
                    next[at] += 1;
                    let child = self.matched(&leaf, &it.name, value, &below(path, &step));
                    element.children.push(Node::Element(child));
                }
            }
            Err(stuck) => self.stuck(known, given, &stuck, path),
        }
    }

    /// Says why the elements have no order.
    fn stuck(&mut self, known: &Known, given: &[Given<'_>], stuck: &Stuck<'_>, path: &str) {
        let schemas = self.mapper.schemas;
        let names = stuck.expected.iter().filter_map(|leaf| match leaf {
            Leaf::Element(id) => Some(&schemas.elements[*id].name),
            Leaf::Any(_) => None,
        });
        let names: Vec<&QName> = names.collect();
        // Of what may follow, that which is enough is what is missing.
        let is_enough = |name: &&QName| {
            let mut walk = stuck.walk.clone();
            let symbol = self.mapper.engine.symbol(&name.namespace, &name.local);
            walk.step(&symbol).is_some() && walk.complete()
        };
        let enough: Vec<&QName> = names.iter().copied().filter(is_enough).collect();
        let names = if stuck.left.is_empty() && !enough.is_empty() { enough } else { names };
        let names: Vec<String> = names.into_iter().map(|name| known.key(name)).collect();
        let missing = names.iter().find(|name| given.iter().all(|it| it.key != name.as_str()));
        // One more of what is there already.
        let missing = missing.or(names.first().filter(|_| stuck.left.is_empty()));
        let too_many = stuck.left.iter().find_map(|at| {
            let it = &given[*at];
            known
                .position(&it.name)
                .filter(|at| !known.entries[*at].repeats && it.values.len() > 1)
                .map(|_| it.key)
        });
        if let Some(key) = too_many {
            return self.wrong(&below(path, key), "it may be there only once", "give one value");
        }
        match (missing, stuck.left.first()) {
            (Some(name), None) => {
                let Found::PossibleChild(at) = known.find(name) else { return };
                let help = self.wanted(schemas.element_type(known.entries[at].element));
                let words = if names.len() > 1 {
                    format!("a value is missing: one of {}", names.join(", "))
                } else {
                    "a value is missing".to_owned()
                };
                self.wrong(&below(path, name), words, help);
            }
            (Some(name), Some(left)) => {
                let key = given[*left].key;
                let required = names.len() == 1;
                if required {
                    let Found::PossibleChild(at) = known.find(name) else { return };
                    let help = self.wanted(schemas.element_type(known.entries[at].element));
                    return self.wrong(&below(path, name), "a value is missing", help);
                }
                let message = "it does not go together with the others".to_owned();
                let help = format!(
                    "leave it out, or one of the others; after those there may follow {}",
                    names.join(", ")
                );
                self.wrong(&below(path, key), message, help);
            }
            (None, Some(left)) => {
                let it = &given[*left];
                let message = match it.values.len() {
                    0 | 1 => "it does not go together with the others",
                    _ => "there are too many, or they do not go together with the others",
                };
                self.wrong(&below(path, it.key), message, "leave one out");
            }
            (None, None) => {
                let keys: Vec<String> = known.keys().take(8).collect();
                let help = if keys.is_empty() {
                    "an element of another namespace is wanted".to_owned()
                } else {
                    format!("it holds {}", keys.join(", "))
                };
                self.wrong(path, "values are missing", help);
            }
        }
    }

    fn matched(&mut self, leaf: &Leaf<'_>, name: &QName, value: &Json, path: &str) -> Element {
        match leaf {
            Leaf::Element(id) => self.declared(*id, value, path),
            Leaf::Any(wildcard) => self.let_in(name, wildcard.process, value, path),
        }
    }

    /// An element that a wildcard lets in.
    fn let_in(&mut self, name: &QName, process: Process, value: &Json, path: &str) -> Element {
        let declared = self.mapper.schemas.element_named(name).filter(|_| process != Process::Skip);
        match declared {
            Some(id) => self.declared(id, value, path),
            None => {
                let mut element =
                    self.element(name, charter_schema::Builtin::AnyType.id(), None, value, path);
                element.ty = None;
                element
            }
        }
    }

    /// Content whose order counts: strings are text, objects with one key are elements.
    pub(super) fn one_by_one(
        &mut self,
        element: &mut Element,
        ty: Option<TypeId>,
        content: &Json,
        path: &str,
    ) {
        let Json::Array(items) = content else {
            return self.wrong(&below(path, CONTENT), "a list is wanted here", "write [ … ]");
        };
        let known = ty.map(|ty| self.mapper.known(ty));
        let engine = self.mapper.engine;
        let mut walk = ty.and_then(|ty| engine.model(ty)).map(|model| charter_schema::Walk::new(model));
        for (number, item) in items.iter().enumerate() {
            let at = below(path, &format!("{CONTENT}[{}]", number + 1));
            let (key, value) = match item {
                Json::String(text) => {
                    element.children.push(Node::Text(Text::Plain(text.clone())));
                    continue;
                }
                Json::Object(object) if object.len() == 1 => match object.iter().next() {
                    Some(pair) => pair,
                    None => continue,
                },
                _ => {
                    self.wrong(
                        &at,
                        "text, or an object with one key, is wanted here",
                        "write \"text\" or {\"name\": value}",
                    );
                    continue;
                }
            };
            let name = match known.as_ref().map(|known| (known, known.find(key))) {
                Some((known, Found::PossibleChild(at))) => known.entries[at].name.clone(),
                Some((_, Found::Wild(name))) => name,
                Some((known, _)) => {
                    let help = self.mapper.advice(key, || known.keys().collect());
                    self.wrong(&below(&at, key), "there is no such value", help);
                    continue;
                }
                None => name_of(key),
            };
            let child = match &mut walk {
                Some(walk) => match walk.step(&engine.symbol(&name.namespace, &name.local)) {
                    Some(leaf) => self.matched(&leaf, &name, value, &below(&at, key)),
                    None => {
                        self.wrong(
                            &below(&at, key),
                            "it has no place here",
                            "see the content model of the type",
                        );
                        continue;
                    }
                },
                None => self.let_in(&name, Process::Lax, value, &below(&at, key)),
            };
            element.children.push(Node::Element(child));
        }
        if walk.is_some_and(|walk| !walk.complete()) {
            self.wrong(&below(path, CONTENT), "it ends too early", "see the content model of the type");
        }
    }
}

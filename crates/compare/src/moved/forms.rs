//! Which local names of a namespace went into it, or out of it: one attribute of a schema says that of all of them
//! (Part 1, 3.15.2, `elementFormDefault` and `attributeFormDefault`).

use std::sync::Arc;

use charter_contract::Contract;
use charter_schema::{Owner, SchemaDocument, Schemas};
use charter_source::{Map, NodeId, Place, QName, Set, Span, TextEdit, attribute_place};

use super::Moves;

/// Local names.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Locals {
    Elements,
    Attributes,
}

impl Locals {
    const ALL: [Locals; 2] = [Locals::Elements, Locals::Attributes];

    /// The attribute of a schema that says whether they are in its namespace.
    pub fn attribute(self) -> &'static str {
        match self {
            Locals::Elements => "elementFormDefault",
            Locals::Attributes => "attributeFormDefault",
        }
    }

    fn are_qualified(self, document: &SchemaDocument) -> bool {
        match self {
            Locals::Elements => document.elements_qualified,
            Locals::Attributes => document.attributes_qualified,
        }
    }

    /// The names that schemas declare, global and local, in the order of their numbers.
    fn declared(self, schemas: &Schemas) -> Vec<Declared<'_>> {
        match self {
            Locals::Elements => {
                let all = schemas.elements.iter();
                all.map(|(_, it)| Declared {
                    name: &it.name,
                    place: it.place,
                    node: it.node,
                    owner: it.owner,
                })
                .collect()
            }
            Locals::Attributes => {
                let all = schemas.attribute_decls.iter();
                all.map(|(_, it)| Declared {
                    name: &it.name,
                    place: it.place,
                    node: it.node,
                    owner: it.owner,
                })
                .collect()
            }
        }
    }
}

/// A name that a schema declares.
struct Declared<'s> {
    name: &'s QName,
    place: Place,
    /// The element that declares it.
    node: NodeId,
    owner: Owner,
}

/// Local names of a namespace that went into it or out of it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Form {
    /// The namespace in the old version.
    pub was: Arc<str>,
    /// The namespace in the new version.
    pub is: Arc<str>,
    pub of: Locals,
    /// Whether they are in it now.
    pub qualified: bool,
}

impl Form {
    /// How many names went. The old version beyond the move has the same components under the same numbers.
    pub fn count(&self, original: &Schemas, moved: &Schemas) -> usize {
        let went = |(before, now): &(Declared<'_>, Declared<'_>)| {
            let (before, now) = (&before.name.namespace, &now.name.namespace);
            match self.qualified {
                true => before.is_empty() && *now == self.is,
                false => now.is_empty() && *before == self.was,
            }
        };
        let pairs = self.of.declared(original).into_iter().zip(self.of.declared(moved));
        pairs.filter(went).count()
    }
}

/// What the schemas of both versions say otherwise of all their local names, where most names bear it out.
pub(super) fn changed(old: &Contract, new: &Contract, moves: &Moves) -> Vec<Form> {
    let mut found = Vec::new();
    for of in Locals::ALL {
        let (was, is) = (defaults(of, &old.schemas), defaults(of, &new.schemas));
        let flipped = was.iter().filter_map(|(namespace, before)| {
            let to = moves.target(namespace).unwrap_or(namespace);
            let (before, qualified) = ((*before)?, (*is.get(to)?)?);
            let form = Form { was: (*namespace).clone(), is: to.clone(), of, qualified };
            (before != qualified).then_some(form)
        });
        let flipped: Vec<Form> = flipped.collect();
        // Only then it is worth looking at names.
        if !flipped.is_empty() {
            let (before, now) = (Names::of(of, old), Names::of(of, new));
            found.extend(flipped.into_iter().filter(|form| is_borne_out(form, &before, &now)));
        }
    }
    found.sort_by(|a, b| a.is.cmp(&b.is));
    found
}

/// What all documents of each namespace say; nothing where they do not agree.
fn defaults(of: Locals, schemas: &Schemas) -> Map<&Arc<str>, Option<bool>> {
    let mut found: Map<&Arc<str>, Option<bool>> = Map::default();
    let own = schemas.documents.iter().filter(|it| !it.namespace.is_empty() && !schemas.is_known(it.place));
    for document in own {
        let says = of.are_qualified(document);
        let known = found.entry(&document.namespace).or_insert(Some(says));
        *known = known.filter(|known| *known == says);
    }
    found
}

/// The local names by the namespace of their schema and by whether they are in it.
struct Names<'c> {
    all: Map<(&'c str, bool), Set<&'c str>>,
    /// Those that say nothing themselves.
    by_default: Map<&'c str, Set<&'c str>>,
}

impl<'c> Names<'c> {
    fn of(of: Locals, contract: &'c Contract) -> Names<'c> {
        let mut found = Names { all: Map::default(), by_default: Map::default() };
        let all = of.declared(&contract.schemas);
        for Declared { name, place, node, .. } in all.into_iter().filter(|it| it.owner != Owner::Schema) {
            let Some(document) = contract.schemas.document_of(place) else { continue };
            let namespace = &*document.namespace;
            found.all.entry((namespace, !name.namespace.is_empty())).or_default().insert(&*name.local);
            let node = contract.files.get(place.file).tree.node(node);
            if node.is_some_and(|node| node.attribute("form").is_none()) {
                found.by_default.entry(namespace).or_default().insert(&*name.local);
            }
        }
        found
    }

    fn has(&self, namespace: &str, qualified: bool, name: &str) -> bool {
        self.all.get(&(namespace, qualified)).is_some_and(|names| names.contains(name))
    }
}

/// Whether more of the names went than stayed: each may say for itself what it is.
fn is_borne_out(form: &Form, before: &Names<'_>, now: &Names<'_>) -> bool {
    let names = before.by_default.get(&*form.was).into_iter().flatten();
    let (mut went, mut stayed) = (0, 0);
    for name in names {
        match (now.has(&form.is, form.qualified, name), now.has(&form.is, !form.qualified, name)) {
            (true, false) => went += 1,
            (false, true) => stayed += 1,
            _ => {}
        }
    }
    went > stayed
}

/// Writes what the schemas of the old version say as the new version says it.
pub(super) fn written(old: &Contract, forms: &[Form]) -> Vec<TextEdit> {
    let mut edits = Vec::new();
    for form in forms {
        for document in old.schemas.documents.iter().filter(|it| it.namespace == form.was) {
            edits.extend(in_document(old, document, form));
        }
    }
    edits
}

fn in_document(old: &Contract, document: &SchemaDocument, form: &Form) -> Option<TextEdit> {
    let file = old.files.get(document.file);
    let node = file.tree.node(document.node)?;
    let name = form.of.attribute();
    let value = if form.qualified { "qualified" } else { "unqualified" };
    if let Some(attribute) = node.attribute_node(name) {
        let place = attribute_place(document.file, &attribute);
        return Some(TextEdit { place, replacement: value.to_owned() });
    }
    // Right behind the name of the element.
    let start = document.place.span.start as usize;
    let tag = file.text().content().get(start..)?;
    let length = tag.find(|c: char| c.is_ascii_whitespace() || matches!(c, '/' | '>'))?;
    let place = Place { file: document.file, span: Span::new(start + length, start + length) };
    Some(TextEdit { place, replacement: format!(" {name}=\"{value}\"") })
}

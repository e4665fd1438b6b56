//! Sets properties of components, among them the target namespace with every place that names it.

use charter_contract::{Component, Contract};
use charter_notation::{Addition, AdditionError, ElementInfo, Prefixes, bare_info, own_info};
use charter_source::{File, Node, Place, Span, TextEdit, elements, ns};

use crate::begin::is_absolute_uri;
use crate::change::{Change, checked_change};
use crate::edit::patched_change;
use crate::editing::Editing;
use crate::failure::EditFailure;
use crate::tags::Attributes;

/// The change that sets properties of a component, each given as a key and a value; an empty value takes it away.
///
/// # Errors
/// If the component has no such property, the value is none, or the result would be wrong.
pub fn set(
    editing: Editing<'_>,
    component: Component,
    settings: &[(&str, &str)],
) -> Result<Change, EditFailure> {
    let contract = editing.contract;
    if contract.is_built_in(component) {
        let path = contract.path(component);
        return Err(EditFailure::Unsupported(format!(
            "\"{path}\" comes with the program and cannot be changed"
        )));
    }
    if let [("namespace", namespace)] = settings
        && component == Component::Contract
    {
        return set_namespace(editing, namespace);
    }
    if settings.iter().any(|(key, _)| *key == "namespace") && component == Component::Contract {
        return Err(EditFailure::Unsupported(
            "the target namespace is set by itself, in a step of its own".to_owned(),
        ));
    }
    let place = match component {
        Component::Contract => place_of_whole(contract, settings)?,
        component => contract.extent(component).ok_or(EditFailure::Nothing)?,
    };
    let base = match component {
        // What stands in the whole has properties of its own.
        Component::Contract => bare_info(contract, place),
        _ => own_info(contract, place),
    };
    let base = base.ok_or(EditFailure::Nothing)?;
    let mut wanted = base.clone();
    for (key, value) in settings {
        charter_notation::set(contract, component, &mut wanted, key, value).map_err(|error| match error {
            AdditionError::Notation(errors) => EditFailure::Notation(errors),
            AdditionError::Unfit(why) => EditFailure::Unsupported(why),
        })?;
    }
    let addition = Addition { actual: base.clone(), base, wanted };
    let wanted = (component != Component::Contract).then(|| addition.wanted.clone());
    let meant = |result: &Contract| match &wanted {
        Some(wanted) => verify(contract, component, result, wanted),
        None => Ok(()),
    };
    patched_change(editing, addition, &Prefixes::of(contract), &meant)
}

/// Whether the component, found again, is what was wanted.
fn verify(
    contract: &Contract,
    component: Component,
    result: &Contract,
    wanted: &ElementInfo,
) -> Result<(), EditFailure> {
    let path = contract.path(component).to_string();
    let again = result.find(&path)?;
    let found = result.extent(again).and_then(|place| own_info(result, place));
    let mut wanted = wanted.clone();
    // A default that is spelled out says nothing.
    charter_notation::without_defaults(&mut wanted);
    if found.as_ref() == Some(&wanted) {
        return Ok(());
    }
    Err(EditFailure::Harm(format!("\"{path}\" would not be what was meant")))
}

/// The element that holds a property of the whole: the root, or the schema of its namespace.
fn place_of_whole(contract: &Contract, settings: &[(&str, &str)]) -> Result<Place, EditFailure> {
    let of_schema = settings.iter().any(|(key, _)| matches!(*key, "elements" | "attributes"));
    let own = contract.definitions.iter().next().map(|(_, first)| first);
    let document = match own {
        Some(first) => contract.schemas.documents.iter().find(|it| it.namespace == first.namespace),
        None => contract.schemas.documents.first(),
    };
    match (own, document) {
        (Some(first), _) if !of_schema => {
            let root = contract.files.get(first.file).root();
            root.map(|root| Place { file: first.file, span: root.range().into() }).ok_or(EditFailure::Nothing)
        }
        (_, Some(document)) => Ok(document.extent),
        _ => Err(EditFailure::Unsupported("the contract has no schema of its own yet".to_owned())),
    }
}

/// Changes the target namespace in every place that names it.
fn set_namespace(editing: Editing<'_>, namespace: &str) -> Result<Change, EditFailure> {
    if !is_absolute_uri(namespace) {
        return Err(EditFailure::Namespace(namespace.to_owned()));
    }
    let contract = editing.contract;
    let old = match contract.definitions.iter().next() {
        Some((_, first)) => first.namespace.to_string(),
        None => contract.schemas.documents.first().map_or_else(String::new, |it| it.namespace.to_string()),
    };
    if old.is_empty() {
        return Err(EditFailure::Unsupported("there is no target namespace to change".to_owned()));
    }
    if old == namespace {
        return Err(EditFailure::Nothing);
    }
    let in_use = contract.files.iter().filter_map(File::root).any(|root| {
        root.descendants()
            .filter(Node::is_element)
            .any(|node| node.attribute("targetNamespace") == Some(namespace))
    });
    if in_use {
        return Err(EditFailure::Taken(format!("a schema or a contract with the namespace \"{namespace}\"")));
    }
    let mut edits = Vec::new();
    for file in contract.files.iter().filter(|file| !file.is_known()) {
        if let Some(root) = file.root() {
            names(file, root, &old, namespace, &mut edits);
        }
    }
    checked_change(editing, edits, Vec::new(), &|result| {
        let new = match result.definitions.iter().next() {
            Some((_, first)) => first.namespace.to_string(),
            None => result.schemas.documents.first().map_or_else(String::new, |it| it.namespace.to_string()),
        };
        if new == namespace {
            return Ok(());
        }
        Err(EditFailure::Harm("the namespace would not be what was meant".to_owned()))
    })
}

/// The places in a tree that name a namespace.
fn names(file: &File, root: Node<'_>, old: &str, new: &str, edits: &mut Vec<TextEdit>) {
    let text = file.text().content();
    let mut open = vec![root];
    while let Some(node) = open.pop() {
        open.extend(elements(node));
        let start = node.range().start;
        for attribute in Attributes::of(&text[start..]) {
            let value = &text[start + attribute.value.0..start + attribute.value.1];
            let replacement = match attribute.name {
                name if name == "xmlns" || name.starts_with("xmlns:") => {
                    (value == old).then(|| new.to_owned())
                }
                "targetNamespace" => (value == old).then(|| new.to_owned()),
                "namespace" if value.split_ascii_whitespace().any(|token| token == old) => {
                    let tokens = value.split(' ').map(|token| if token == old { new } else { token });
                    Some(tokens.collect::<Vec<_>>().join(" "))
                }
                "soapAction" if node.tag_name().namespace() != Some(ns::WSDL) => {
                    let rest = value.strip_prefix(old).filter(|rest| {
                        old.ends_with(['/', ':', '#']) || !rest.starts_with(|c: char| c.is_alphanumeric())
                    });
                    rest.map(|rest| format!("{new}{rest}"))
                }
                _ => None,
            };
            if let Some(replacement) = replacement {
                let span = Span::new(start + attribute.value.0, start + attribute.value.1);
                edits.push(TextEdit { place: Place { file: file.id, span }, replacement });
            }
        }
    }
}

//! Changes what the notation of a component says, and adds to it.

use charter_contract::{Component, Contract, PathError};
use charter_notation::{
    Addition, AdditionError, Child, Convention, ElementInfo, Piece, Prefixes, Rewriting, Value, addition,
    own_info, rewriting,
};
use charter_source::{QName, Set, TextEdit, ns};

use crate::change::{Change, Meant, checked_change};
use crate::editing::Editing;
use crate::failure::EditFailure;
use crate::needed::{component_named, key_of, needed_difference};
use crate::patch::Patch;

/// The notation of a component, as it is to be edited.
///
/// # Errors
/// If the component cannot be edited by itself.
pub fn text_of(editing: Editing<'_>, component: Component) -> Result<String, EditFailure> {
    let contract = editing.contract;
    if contract.is_built_in(component) {
        let path = contract.path(component);
        return Err(EditFailure::Unsupported(format!(
            "\"{path}\" comes with the program and cannot be changed"
        )));
    }
    match Piece::of(contract, component, editing.convention) {
        Some(piece) => Ok(piece.text()),
        None => Err(EditFailure::Unsupported("this cannot be changed by itself".to_owned())),
    }
}

/// The change that makes a component what `text` says, and touches nothing that the text does not change.
///
/// ```
/// use charter_author::{Editing, edit};
/// use charter_contract::Contract;
/// use charter_notation::Convention;
/// use charter_source::{Limits, Location, Overlay};
///
/// let text = r#"<x:schema xmlns:x="http://www.w3.org/2001/XMLSchema">
///   <x:simpleType name="Quay"><!-- by name --><x:restriction base="x:string"/></x:simpleType>
/// </x:schema>"#;
/// let store = Overlay::of(&[("port.xsd", text)]);
/// let contract = Contract::load(&store, &Location::from_argument("port.xsd"), Limits::default())?;
/// let convention = Convention::default();
/// let editing = Editing::of(&contract, &store, &convention);
/// let change = edit(editing, contract.find("type/Quay").unwrap(), "type Quay = token").unwrap();
/// assert_eq!(change.files[0].after.text(), text.replace("x:string", "x:token"));
/// # Ok::<(), charter_source::ReadError>(())
/// ```
///
/// # Errors
/// If the text is no notation, changes nothing, or the result would not be what it says or would be wrong.
pub fn edit(editing: Editing<'_>, component: Component, text: &str) -> Result<Change, EditFailure> {
    let before = text_of(editing, component)?;
    let contract = editing.contract;
    let Some(piece) = Piece::of(contract, component, editing.convention) else {
        return Err(EditFailure::Nothing);
    };
    let base = piece.read(&before).map_err(EditFailure::Notation)?;
    let wanted = piece.read(text).map_err(EditFailure::Notation)?;
    let path = contract.path(component).to_string();
    let path = match renamed(&base, &wanted) {
        None => path,
        Some((old, new)) if contract.is_local(component) => {
            let at = path.rfind(&old).unwrap_or(path.len());
            format!("{}{new}", &path[..at])
        }
        Some((_, new)) if component != Component::Contract => {
            return Err(EditFailure::Unsupported(format!(
                "the name would change as well: first charter rename {} {path} {new}",
                contract.files.first().location
            )));
        }
        Some(_) => path,
    };
    let addition = needed_difference(contract, piece.actual(), base, wanted.clone())?;
    let wanted = sorted(wanted);
    let prefixes = piece.prefixes().clone();
    drop((piece, before));
    patched_change(editing, addition, &prefixes, &|result| {
        let again = match component {
            Component::Contract => Component::Contract,
            _ => found(result, &path)?,
        };
        let Some(after) = Piece::of(result, again, editing.convention) else {
            return Err(EditFailure::Harm(format!("\"{path}\" would be gone")));
        };
        let written = after.read(&after.text()).is_ok_and(|info| sorted(info) == wanted);
        let harm = || EditFailure::Harm(format!("\"{path}\" would not be what was written"));
        if written { Ok(()) } else { Err(harm()) }
    })
}

fn found(contract: &Contract, path: &str) -> Result<Component, EditFailure> {
    contract.find(path).map_err(|error| match error {
        PathError::Missing { .. } => EditFailure::Harm(format!("\"{path}\" would be gone")),
        other => EditFailure::Path(other),
    })
}

/// The one name that differs, of two element infos that are otherwise of the same component.
fn renamed(base: &ElementInfo, wanted: &ElementInfo) -> Option<(String, String)> {
    let is_container = |info: &ElementInfo| {
        matches!(&*info.name.local, "definitions" | "types" | "schema" | "portType" | "binding" | "service")
    };
    let (old, new) = (base.text("name"), wanted.text("name"));
    if let (Some(old), Some(new)) = (old, new)
        && old != new
    {
        return Some((old.to_owned(), new.to_owned()));
    }
    if !is_container(base) || base.elements().count() != 1 || wanted.elements().count() != 1 {
        return None;
    }
    renamed(base.elements().next()?, wanted.elements().next()?)
}

/// The change that adds a piece of notation to a component, or to the contract.
///
/// # Errors
/// If the text is no notation or cannot stand there, or the result would be wrong.
pub fn add(editing: Editing<'_>, to: Component, text: &str) -> Result<Change, EditFailure> {
    let contract = editing.contract;
    if contract.is_built_in(to) {
        let path = contract.path(to);
        return Err(EditFailure::Unsupported(format!(
            "\"{path}\" comes with the program and cannot be changed"
        )));
    }
    let addition = needed_addition(contract, to, text, editing.convention)?;
    let edits = patched(contract, &addition, &Prefixes::of(contract))?;
    checked_change(editing, edits, Vec::new(), &|result| {
        if to == Component::Contract && !holds(result, &addition) {
            return Err(EditFailure::Harm("what was added could not be found again".to_owned()));
        }
        Ok(())
    })
}

fn needed_addition(
    contract: &Contract,
    to: Component,
    text: &str,
    convention: &Convention,
) -> Result<Addition, EditFailure> {
    let addition = addition(contract, to, text, convention).map_err(|error| match error {
        AdditionError::Notation(errors) => EditFailure::Notation(errors),
        AdditionError::Unfit(why) => EditFailure::Unsupported(why),
    })?;
    needed_difference(contract, &addition.actual, addition.base, addition.wanted)
}

/// The edits that add a piece of notation to a contract; whoever asks for them has what comes of them read.
///
/// # Errors
/// If the text is no notation or cannot stand there.
pub fn edits_to_add(
    contract: &Contract,
    text: &str,
    convention: &Convention,
) -> Result<Vec<TextEdit>, EditFailure> {
    let addition = needed_addition(contract, Component::Contract, text, convention)?;
    patched(contract, &addition, &Prefixes::of(contract))
}

/// The edits that make a rewriting of a contract; whoever asks for them has what comes of them read.
///
/// # Errors
/// If a component is not where it should be, or there is no schema for one that comes.
pub fn edits_of(contract: &Contract, wanted: Rewriting) -> Result<Vec<TextEdit>, EditFailure> {
    let missing = || EditFailure::Unsupported("this is in none of the files".to_owned());
    let addition = rewriting(contract, wanted).ok_or_else(missing)?;
    patched(contract, &addition, &Prefixes::of(contract))
}

/// Whether what was added to a contract is in the result.
fn holds(result: &Contract, addition: &Addition) -> bool {
    let target = addition.wanted.text("targetNamespace").unwrap_or("");
    let in_list = |info: &ElementInfo, list: Option<&ElementInfo>| {
        list.is_some_and(|list| list.elements().any(|it| key_of(it) == key_of(info) && it == info))
    };
    let there = |info: &ElementInfo, namespace: &str| {
        let Some(name) = info.text("name") else { return true };
        let component = component_named(result, &info.name.local, &QName::new(namespace, name));
        let found = component.and_then(|it| result.extent(it)).and_then(|it| own_info(result, it));
        found.is_none_or(|found| found == *info)
            && (component.is_some() || *info.name.namespace != *ns::WSDL && !named_kind(info))
    };
    let types = |info: &ElementInfo| info.elements().find(|it| it.is_wsdl("types")).cloned();
    let types = if addition.wanted.is_wsdl("types") {
        Some(addition.wanted.clone())
    } else {
        types(&addition.wanted)
    };
    let schemas = types.iter().flat_map(ElementInfo::elements).filter(|it| it.is_xsd("schema"));
    for schema in schemas {
        let namespace = schema.text("targetNamespace").unwrap_or("");
        let before = schema_in(&addition.base, namespace);
        if !schema.elements().filter(|it| !in_list(it, before)).all(|info| there(info, namespace)) {
            return false;
        }
    }
    let parts =
        addition.wanted.elements().filter(|it| *it.name.namespace == *ns::WSDL && !it.is_wsdl("types"));
    parts.filter(|it| !in_list(it, Some(&addition.base))).all(|info| {
        let before = addition.base.elements().find(|it| key_of(it) == key_of(info) && it.name == info.name);
        match before {
            None => there(info, target),
            Some(before) => info.elements().filter(|it| !in_list(it, Some(before))).all(|child| {
                let name = child.text("name").unwrap_or("");
                let operation = || result.operations().any(|(_, it)| *it.name.text == *name);
                !child.is_wsdl("operation") || operation()
            }),
        }
    })
}

/// Whether an element info is of a kind that has a name for others to refer to.
fn named_kind(info: &ElementInfo) -> bool {
    ["simpleType", "complexType", "element", "attribute", "group", "attributeGroup"]
        .iter()
        .any(|local| info.is_xsd(local))
}

/// Carries the difference of two element infos into the files, and asks whether the result is what was `meant`. Element infos take much room: they
/// are gone before the result is read beside the contract.
pub(crate) fn patched_change(
    editing: Editing<'_>,
    addition: Addition,
    prefixes: &Prefixes,
    meant: Meant<'_>,
) -> Result<Change, EditFailure> {
    let edits = patched(editing.contract, &addition, prefixes)?;
    drop(addition);
    checked_change(editing, edits, Vec::new(), meant)
}

/// The edits that carry the difference of two element infos into the files.
fn patched(
    contract: &Contract,
    addition: &Addition,
    prefixes: &Prefixes,
) -> Result<Vec<TextEdit>, EditFailure> {
    let mut patch = Patch::new(contract, prefixes.clone());
    let wanted = with_imports(contract, addition);
    patch.change(&addition.actual, &addition.base, &wanted)?;
    Ok(patch.finish())
}

/// What is wanted, with an import for each namespace that a schema newly refers to.
fn with_imports(contract: &Contract, addition: &Addition) -> ElementInfo {
    let mut wanted = addition.wanted.clone();
    let types = if wanted.is_wsdl("types") {
        Some(&mut wanted)
    } else {
        wanted.elements_mut().find(|it| it.is_wsdl("types"))
    };
    let Some(types) = types else { return wanted };
    for schema in types.elements_mut().filter(|it| it.is_xsd("schema")) {
        let own = schema.text("targetNamespace").unwrap_or("").to_owned();
        let mut seen: Set<String> = Set::default();
        schema.elements().for_each(|info| namespaces(info, &mut seen));
        let mut needed: Vec<String> = seen.into_iter().filter(|it| *it != own && it != ns::XSD).collect();
        needed.sort();
        let there = schema_in(&addition.actual, &own);
        schema.origin = schema.origin.or(there.and_then(|there| there.origin));
        let document =
            schema.origin.and_then(|origin| contract.files.get(origin.file).tree.node(origin.node));
        for namespace in needed {
            let imports = |namespace: &str| {
                let written = document.is_some_and(|node| {
                    charter_source::elements(node).any(|it| {
                        it.has_tag_name((ns::XSD, "import"))
                            && it.attribute("namespace").unwrap_or("") == namespace
                    })
                });
                written
                    || schema
                        .elements()
                        .any(|it| it.is_xsd("import") && it.text("namespace").unwrap_or("") == namespace)
            };
            if imports(&namespace) {
                continue;
            }
            let mut info = ElementInfo::xsd("import");
            if !namespace.is_empty() {
                info = info.with("namespace", namespace.as_str());
            }
            if let Some(location) = location_of(contract, schema, &namespace) {
                info = info.with("schemaLocation", location);
            }
            let at = schema.elements().take_while(|it| it.is_xsd("annotation")).count();
            schema.children.insert(at, Child::Element(info));
        }
    }
    wanted
}

/// The schema of a namespace in a part of a contract.
fn schema_in<'f>(info: &'f ElementInfo, namespace: &str) -> Option<&'f ElementInfo> {
    let types =
        if info.is_wsdl("types") { Some(info) } else { info.elements().find(|it| it.is_wsdl("types")) };
    types?.elements().find(|it| it.is_xsd("schema") && it.text("targetNamespace").unwrap_or("") == namespace)
}

/// The namespaces of the components that an element info names.
pub(crate) fn namespaces(info: &ElementInfo, seen: &mut Set<String>) {
    for (_, value) in &info.attributes {
        if let Value::Names(names) = value {
            seen.extend(names.iter().map(|name| name.namespace.to_string()));
        }
    }
    info.elements().for_each(|child| namespaces(child, seen));
}

/// Where the schema of a namespace is, as seen from another: nothing if they stand in the same file.
fn location_of(contract: &Contract, schema: &ElementInfo, namespace: &str) -> Option<String> {
    let document = contract.schemas.documents.iter().find(|it| *it.namespace == *namespace)?;
    let file = contract.files.get(document.file);
    let origin = schema.origin?;
    if origin.file == document.file || file.is_known() {
        return None;
    }
    // As another schema says it, if one stands in the same folder.
    let own = contract.files.get(origin.file);
    let said = contract.files.imports().iter().find(|import| {
        import.target == Some(document.file)
            && contract.files.get(import.place.file).location.path().and_then(|it| it.parent())
                == own.location.path().and_then(|it| it.parent())
    });
    said.and_then(|import| import.location.clone())
}

/// An element info whose components are in an order that does not depend on where they are written.
pub(crate) fn sorted(mut info: ElementInfo) -> ElementInfo {
    sort(&mut info);
    info
}

fn sort(info: &mut ElementInfo) {
    let is_loose =
        ["definitions", "types", "schema", "binding"].iter().any(|local| &*info.name.local == *local);
    info.elements_mut().for_each(sort);
    if is_loose {
        info.children.retain(|child| !matches!(child, Child::Element(info) if info.is_xsd("import")));
        info.children.sort_by_cached_key(|child| match child {
            Child::Element(info) => crate::align::key(info),
            _ => String::new(),
        });
    }
}

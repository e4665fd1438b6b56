//! Begins a contract from another one of the house.

use std::path::{Component as Step, Path, PathBuf};

use charter_contract::Contract;
use charter_notation::{Child, ElementInfo, Prefixes, Value, info_of};
use charter_source::{Map, QName, Set, is_ncname, ns};

use crate::begin::is_absolute_uri;
use crate::failure::EditFailure;
use crate::fresh::{NewFile, Paper, SchemaPlace, fresh_with};
use crate::style::Style;

/// What a contract that is like another is to be.
#[derive(Debug, Clone, Copy)]
pub struct Likeness<'l> {
    /// Its name.
    pub name: &'l str,
    /// Its target namespace.
    pub namespace: &'l str,
    /// Whether it has the operations of the other.
    pub keep_operations: bool,
    /// Where its schemas stand; where those of the other do, if it is not said.
    pub schema: Option<SchemaPlace>,
    /// The folder that it is written to.
    pub folder: &'l Path,
}

/// The files of a contract like another: its bindings, the header blocks and faults that its operations share, its
/// types and names, with the name and the namespaces of its own in place of the other's. Schemas that the other
/// shares with more contracts are imported from where they are.
///
/// # Errors
/// If the name is no NCName, or the namespace is no absolute URI.
pub fn like(contract: &Contract, likeness: &Likeness<'_>) -> Result<Vec<NewFile>, EditFailure> {
    if !is_ncname(likeness.name) {
        return Err(EditFailure::Name(likeness.name.to_owned()));
    }
    if !is_absolute_uri(likeness.namespace) {
        return Err(EditFailure::Namespace(likeness.namespace.to_owned()));
    }
    let mut info = info_of(contract);
    let target = info.text("targetNamespace").unwrap_or("").to_owned();
    let stem = charter_notation::convention::contract_name(contract);
    if !likeness.keep_operations {
        without_operations(contract, &mut info);
    }
    let locations = shared_schemas(contract, &mut info, &target, likeness.folder);
    // What the other says of itself as a whole is not true of this one.
    let is_about = |child: &Child| matches!(child, Child::Element(info) if info.is_wsdl("documentation"));
    info.children.retain(|child| !is_about(child));
    for part in info.elements_mut().filter(|it| it.is_wsdl("portType") || it.is_wsdl("service")) {
        part.children.retain(|child| !is_about(child));
    }
    let replacing = Replacing { from: (&stem, &target), to: (likeness.name, likeness.namespace) };
    replacing.info(&mut info);
    info.set("name", Value::Text(likeness.name.to_owned()));
    let mut prefixes = Prefixes::new(likeness.namespace);
    for (prefix, namespace) in Prefixes::of(contract).all() {
        prefixes.suggest(prefix, &replacing.namespace(namespace));
    }
    let style = Style::of(contract.files.first());
    let place = likeness.schema.unwrap_or_else(|| place_of(contract, &target));
    Ok(fresh_with(info, &Paper { prefixes: &prefixes, style: &style }, place, &locations))
}

/// Takes out the operations, with the messages and elements that only one of them has.
fn without_operations(contract: &Contract, info: &mut ElementInfo) {
    let mut faults: Map<charter_contract::MessageId, usize> = Map::default();
    let mut sides: Set<QName> = Set::default();
    for (_, operation) in contract.operations() {
        for (side, usage) in operation.sides() {
            let Some(id) = usage.message.target else { continue };
            match side {
                charter_contract::Side::Fault(_) => *faults.entry(id).or_default() += 1,
                _ => {
                    sides.insert(contract.messages[id].name.clone());
                }
            }
        }
    }
    sides.extend(
        faults.iter().filter(|(_, count)| **count < 2).map(|(id, _)| contract.messages[*id].name.clone()),
    );
    let target = info.text("targetNamespace").unwrap_or("").to_owned();
    let is_side = |info: &ElementInfo| {
        info.is_wsdl("message") && sides.contains(&QName::new(&target, info.text("name").unwrap_or("")))
    };
    let elements = |messages: &mut dyn Iterator<Item = &ElementInfo>| -> Set<QName> {
        messages.flat_map(ElementInfo::elements).filter_map(|part| part.named("element")).cloned().collect()
    };
    let kept = elements(&mut info.elements().filter(|it| it.is_wsdl("message") && !is_side(it)));
    let mut gone = elements(&mut info.elements().filter(|it| is_side(it)));
    gone.retain(|name| !kept.contains(name) && !is_used(contract, name));
    info.children.retain(|child| !matches!(child, Child::Element(info) if is_side(info)));
    for part in info.elements_mut() {
        if part.is_wsdl("portType") || part.is_wsdl("binding") {
            part.children.retain(|child| !matches!(child, Child::Element(info) if info.is_wsdl("operation")));
        }
        for schema in part.elements_mut().filter(|it| it.is_xsd("schema")) {
            let namespace = schema.text("targetNamespace").unwrap_or("").to_owned();
            let is_gone = |info: &ElementInfo| {
                info.is_xsd("element")
                    && gone.contains(&QName::new(&namespace, info.text("name").unwrap_or("")))
            };
            schema.children.retain(|child| !matches!(child, Child::Element(info) if is_gone(info)));
        }
    }
}

/// Whether another schema component refers to an element.
fn is_used(contract: &Contract, name: &QName) -> bool {
    let schemas = &contract.schemas;
    let Some(id) = schemas.element_named(name) else { return false };
    let referred = schemas.particles.iter().any(|(_, particle)| {
        matches!(&particle.term, charter_schema::Term::ElementRef(reference) if reference.target == Some(id))
    });
    referred
        || schemas.elements.iter().any(|(_, element)| {
            element.substitution_group.as_ref().is_some_and(|head| head.target == Some(id))
        })
}

/// Leaves schemas of other namespaces that have files of their own where they are; where that is.
fn shared_schemas(
    contract: &Contract,
    info: &mut ElementInfo,
    target: &str,
    folder: &Path,
) -> Vec<(String, String)> {
    let mut locations = Vec::new();
    let main = contract.files.first().id;
    for document in &contract.schemas.documents {
        let file = contract.files.get(document.file);
        let shared = document.file != main && !file.is_known() && !belongs(&document.namespace, target);
        let known = locations.iter().any(|(namespace, _)| *namespace == *document.namespace);
        if let Some(path) = file.location.path().filter(|_| shared && !known) {
            locations.push((document.namespace.to_string(), relative(folder, path)));
        }
    }
    for types in info.elements_mut().filter(|it| it.is_wsdl("types")) {
        types.children.retain(|child| match child {
            Child::Element(schema) => {
                let namespace = schema.text("targetNamespace").unwrap_or("");
                !locations.iter().any(|(shared, _)| shared == namespace)
            }
            _ => true,
        });
    }
    locations
}

/// Where a contract has the schemas of its own.
fn place_of(contract: &Contract, target: &str) -> SchemaPlace {
    let main = contract.files.first().id;
    let mut own = contract.schemas.documents.iter().filter(|it| belongs(&it.namespace, target));
    if own.any(|document| document.file != main) { SchemaPlace::Beside } else { SchemaPlace::Embedded }
}

/// Whether a namespace is one of a contract's own: its target namespace, or one made by adding to that.
fn belongs(namespace: &str, target: &str) -> bool {
    namespace.strip_prefix(target).is_some_and(|rest| {
        rest.is_empty() || target.ends_with(['/', ':', '#']) || rest.starts_with(['/', ':', '#', '-', '.'])
    })
}

/// The path of a file as seen from a folder.
fn relative(folder: &Path, file: &Path) -> String {
    let whole = |path: &Path| -> PathBuf {
        let path = std::path::absolute(path).unwrap_or_else(|_| path.to_path_buf());
        let mut result = PathBuf::new();
        for step in path.components() {
            match step {
                Step::ParentDir => {
                    result.pop();
                }
                Step::CurDir => {}
                other => result.push(other),
            }
        }
        result
    };
    let (folder, file) = (whole(folder), whole(file));
    let common = folder.components().zip(file.components()).take_while(|(a, b)| a == b).count();
    let mut steps: Vec<String> = folder.components().skip(common).map(|_| "..".to_owned()).collect();
    steps.extend(
        file.components().skip(common).map(|step| step.as_os_str().to_string_lossy().replace(' ', "%20")),
    );
    steps.join("/")
}

/// Puts one contract's name and namespace in the place of another's.
struct Replacing<'r> {
    /// The old name, and the old namespace.
    from: (&'r str, &'r str),
    to: (&'r str, &'r str),
}

impl Replacing<'_> {
    fn namespace(&self, namespace: &str) -> String {
        if !self.from.1.is_empty() && belongs(namespace, self.from.1) {
            return format!("{}{}", self.to.1, &namespace[self.from.1.len()..]);
        }
        namespace.to_owned()
    }

    /// A name with the new one where the old one stands in it, as it is or with a small letter.
    fn local(&self, name: &str) -> String {
        let first = |text: &str| {
            let mut characters = text.chars();
            let first = characters.next().map(|c| c.to_lowercase().to_string()).unwrap_or_default();
            format!("{first}{}", characters.as_str())
        };
        let (old, new) = (self.from.0, self.to.0);
        let name = name.replace(old, new);
        if name.starts_with(&first(old)) { name.replacen(&first(old), &first(new), 1) } else { name }
    }

    fn qname(&self, name: &QName) -> QName {
        if belongs(&name.namespace, self.from.1) {
            QName::new(&self.namespace(&name.namespace), &self.local(&name.local))
        } else {
            name.clone()
        }
    }

    fn info(&self, info: &mut ElementInfo) {
        let is_soap = matches!(&*info.name.namespace, ns::WSDL_SOAP11 | ns::WSDL_SOAP12 | ns::WSDL_HTTP);
        let names_global = *info.name.namespace == *ns::WSDL
            || ["simpleType", "complexType", "group", "attributeGroup", "element"]
                .iter()
                .any(|it| info.is_xsd(it));
        let is_address = is_soap && &*info.name.local == "address";
        for (name, value) in &mut info.attributes {
            match value {
                Value::Names(names) => names.iter_mut().for_each(|name| *name = self.qname(name).into()),
                Value::Text(text) => match &*name.local {
                    "targetNamespace" | "namespace" | "soapAction" => *text = self.namespace(text),
                    "location" if is_address => {
                        *text = text.replace(&self.from.0.to_lowercase(), &self.to.0.to_lowercase());
                    }
                    "name" if names_global => *text = self.local(text),
                    _ => {}
                },
            }
        }
        info.elements_mut().for_each(|child| self.info(child));
    }
}

//! Files and what they import.

use charter_contract::{Contract, ExtensionKind, HeaderExtension};
use charter_schema::Ref;
use charter_source::{
    CodeUnits, Fault, File, ImportKind, Place, QName, Set, Span, attribute_place, elements, ns, places_of,
    schemas_in, tag_place, types_in,
};

use crate::rules::bound;
use crate::rules::operations::is_absolute;

pub(super) fn imported_schemas(contract: &Contract, faults: &mut Vec<Fault>) {
    for import in contract.files.imports().iter().filter(|import| import.kind == ImportKind::Contract) {
        let is_schema = import.target.is_some_and(|id| contract.files.get(id).has_root(ns::XSD, "schema"));
        if is_schema {
            let fault = Fault::new("R2001", import.place, "wsdl:import leads to a schema");
            faults.push(fault.help("import it by xsd:import, in a schema in types"));
        }
    }
}

pub(super) fn relative_imports(contract: &Contract, faults: &mut Vec<Fault>) {
    for import in contract.files.imports().iter().filter(|import| import.kind == ImportKind::Contract) {
        let Some(namespace) = import.namespace.as_deref().filter(|namespace| !is_absolute(namespace)) else {
            continue;
        };
        let node = contract.files.get(import.place.file).tree.node(import.node);
        let attribute = node.and_then(|node| node.attribute_node("namespace"));
        let place = attribute.map_or(import.place, |it| attribute_place(import.place.file, &it));
        let fault = Fault::new("R2803", place, format!("the namespace \"{namespace}\" is relative"));
        faults.push(fault.help("name an absolute URI"));
    }
}

pub(super) fn imports_in_types(contract: &Contract, faults: &mut Vec<Fault>) {
    for file in contracts(contract) {
        for import in types_in(file).filter(|it| it.has_tag_name((ns::XSD, "import"))) {
            let fault = Fault::new("R2003", tag_place(file.id, import), "this import stands in no schema");
            faults.push(fault.help("put it into a schema, at its beginning"));
        }
    }
}

fn contracts(contract: &Contract) -> impl Iterator<Item = &File> {
    contract.files.iter().filter(|file| file.has_root(ns::WSDL, "definitions"))
}

fn schemas(contract: &Contract) -> impl Iterator<Item = &File> {
    contract.files.iter().filter(|file| file.has_root(ns::XSD, "schema") && !file.is_known())
}

fn encoding(rule: &'static str, file: &File, faults: &mut Vec<Fault>) {
    let encoding = file.text().encoding();
    if let CodeUnits::Named(_) = encoding.units {
        let place = declaration(file, "encoding");
        let fault = Fault::new(rule, place, format!("this file is in {}", encoding.name()));
        faults.push(fault.help("save it in UTF-8, and say so in the XML declaration"));
    }
}

pub(super) fn contract_encodings(contract: &Contract, faults: &mut Vec<Fault>) {
    contracts(contract).for_each(|file| encoding("R4003", file, faults));
}

pub(super) fn schema_encodings(contract: &Contract, faults: &mut Vec<Fault>) {
    schemas(contract).for_each(|file| encoding("R2010", file, faults));
}

fn version(rule: &'static str, file: &File, faults: &mut Vec<Fault>) {
    let place = declaration(file, "version");
    let written = file.text().slice(place.span);
    if !place.span.is_empty() && written != "1.0" {
        let fault = Fault::new(rule, place, format!("this file is in XML {written}"));
        faults.push(fault.help("write version=\"1.0\""));
    }
}

pub(super) fn contract_versions(contract: &Contract, faults: &mut Vec<Fault>) {
    contracts(contract).for_each(|file| version("R4004", file, faults));
}

pub(super) fn schema_versions(contract: &Contract, faults: &mut Vec<Fault>) {
    schemas(contract).for_each(|file| version("R2011", file, faults));
}

/// The value of an attribute of the XML declaration; an empty place at the beginning if it is not there.
pub(crate) fn declaration(file: &File, name: &str) -> Place {
    let nowhere = Place { file: file.id, span: Span::new(0, 0) };
    let content = file.text().content();
    let Some(head) = content.strip_prefix("<?xml").and_then(|rest| rest.split("?>").next()) else {
        return nowhere;
    };
    let start = "<?xml".len();
    let value = head.find(name).and_then(|at| {
        let quote = head[at..].find(['"', '\''])? + at;
        let end = head[quote + 1..].find(&head[quote..=quote])? + quote + 1;
        Some(Span::new(start + quote + 1, start + end))
    });
    value.map_or(nowhere, |span| Place { file: file.id, span })
}

pub(super) fn declares_xml(contract: &Contract, faults: &mut Vec<Fault>) {
    contracts(contract).for_each(|file| xml_declared("R4005", file, faults));
}

/// Says where a file declares the prefix xml.
pub(crate) fn xml_declared(rule: &'static str, file: &File, faults: &mut Vec<Fault>) {
    let content = file.text().content();
    let end = file.root().map_or(0, |root| root.range().end);
    let found = "xmlns:xml";
    for at in places_of(content, found).filter(|at| *at < end) {
        let declares = content[at + found.len()..].trim_start().starts_with('=');
        if declares && content[..at].ends_with([' ', '\n', '\t', '\r']) {
            let place = Place { file: file.id, span: Span::new(at, at + found.len()) };
            let fault = Fault::new(rule, place, "the prefix xml is declared");
            faults.push(fault.help("remove the declaration: the prefix is there without it"));
        }
    }
}

/// The namespaces of a contract file: its own, and those that it imports itself.
fn imported(contract: &Contract, file: &File) -> Set<String> {
    let own = file.root().and_then(|root| root.attribute("targetNamespace")).unwrap_or("");
    let imports = contract.files.imports().iter();
    let imports = imports.filter(|it| it.kind == ImportKind::Contract && it.place.file == file.id);
    imports.filter_map(|import| import.namespace.as_deref()).chain([own]).map(str::to_owned).collect()
}

/// References between components whose namespace the file of the reference neither defines nor imports.
pub(super) fn foreign_components(contract: &Contract, faults: &mut Vec<Fault>) {
    // Only where several files come together can a namespace be there and not be imported.
    if contracts(contract).nth(1).is_none() {
        return;
    }
    let known: Vec<Set<String>> = contract.files.iter().map(|file| imported(contract, file)).collect();
    let mut see = |name: Option<&QName>, place: Place, found: bool| {
        let Some(name) = name.filter(|_| found) else { return };
        let there = known.get(place.file.0 as usize).is_none_or(|known| known.contains(&*name.namespace));
        if !there {
            let message = format!("{} is not imported by this file", name.namespace);
            let fault = Fault::new("R2101", place, message);
            faults.push(fault.help("import it here as well, though another file brings it"));
        }
    };
    for (_, operation) in contract.operations() {
        for (_, usage) in operation.sides() {
            see(usage.message.name.as_deref(), usage.message.place, usage.message.target.is_some());
        }
    }
    for (_, binding) in contract.bindings.iter() {
        let port_type = &binding.port_type;
        see(port_type.name.as_deref(), port_type.place, port_type.target.is_some());
    }
    for extension in bound::sides(contract).flat_map(bound::BoundSide::all_extensions) {
        let mut header = |it: &HeaderExtension| {
            see(it.message.name.as_deref(), it.message.place, it.message.target.is_some());
        };
        header_and_faults(extension, &mut header);
    }
    for (_, port) in contract.ports() {
        see(port.binding.name.as_deref(), port.binding.place, port.binding.target.is_some());
    }
}

fn header_and_faults(extension: &charter_contract::Extension, see: &mut dyn FnMut(&HeaderExtension)) {
    if let ExtensionKind::SoapHeader(header) = &extension.kind {
        see(header);
        header.faults.iter().for_each(see);
    }
}

/// References of parts whose namespace no schema of their file defines or imports.
pub(super) fn foreign_types(contract: &Contract, faults: &mut Vec<Fault>) {
    let known: Vec<Set<&str>> = contract.files.iter().map(schema_namespaces).collect();
    let mut see = |name: Option<&QName>, place: Place, found: bool| {
        let Some(name) = name.filter(|_| found) else { return };
        let there = known.get(place.file.0 as usize).is_none_or(|known| known.contains(&*name.namespace));
        if !there && &*name.namespace != ns::XSD {
            let message = format!("no schema of this file defines or imports {}", name.namespace);
            let fault = Fault::new("R2102", place, message);
            faults.push(fault.help("import it by xsd:import, in a schema in types"));
        }
    };
    for part in contract.messages.iter().flat_map(|(_, message)| &message.parts) {
        if let Some(Ref { name, place, target }) = &part.element {
            see(name.as_deref(), *place, target.is_some());
        }
        if let Some(Ref { name, place, target }) = &part.ty {
            see(name.as_deref(), *place, target.is_some());
        }
    }
}

/// The namespaces that the schemas in a contract file define or import.
fn schema_namespaces(file: &File) -> Set<&str> {
    let mut found = Set::default();
    for schema in schemas_in(file) {
        found.insert(schema.attribute("targetNamespace").unwrap_or(""));
        let imports = elements(schema).filter(|it| it.has_tag_name((ns::XSD, "import")));
        found.extend(imports.map(|import| import.attribute("namespace").unwrap_or("")));
    }
    // What wsdl:import brings from a schema is said to be wrong for that, and not once more for each part.
    if let Some(root) = file.root() {
        let imports = elements(root).filter(|it| it.has_tag_name((ns::WSDL, "import")));
        found.extend(imports.filter_map(|import| import.attribute("namespace")));
    }
    found
}

//! What nobody uses.

use charter_contract::{Contract, DocumentKind};
use charter_schema::{Owner, Ref};
use charter_source::{
    Fault, File, FileId, ImportKind, Map, Place, QName, Set, Span, mentions, nearest, ns, places_of,
    words_before_colons,
};

/// How many names that lead nowhere are looked at.
const SLIPS: usize = 50;

/// The names that a misspelt one most likely means: what only a slip keeps unused is no finding of its own.
fn meant<'c>(misspelt: impl Iterator<Item = &'c QName>, unused: &[&'c str]) -> Set<&'c str> {
    misspelt.take(SLIPS).filter_map(|name| nearest(&name.local, unused.iter().copied())).collect()
}

/// The names of references that lead nowhere.
fn dangling<'c, T: 'c>(references: impl Iterator<Item = &'c Ref<T>>) -> impl Iterator<Item = &'c QName> {
    references
        .filter(|reference| reference.target.is_none())
        .filter_map(|reference| reference.name.as_deref())
}

pub(super) fn messages(contract: &Contract, faults: &mut Vec<Fault>) {
    if contract.messages.is_empty() {
        return;
    }
    let usage = contract.usage();
    let unused: Vec<&str> = contract
        .messages
        .iter()
        .filter(|(id, _)| !usage.messages.contains(id))
        .map(|(_, message)| &*message.name.local)
        .collect();
    let sides = contract.operations().flat_map(|(_, operation)| operation.sides().map(|(_, usage)| usage));
    let slips = meant(dangling(sides.map(|usage| &usage.message)), &unused);
    for (id, message) in contract.messages.iter() {
        let first = contract.message_named(&message.name) == Some(id);
        if first && !usage.messages.contains(&id) && !slips.contains(&*message.name.local) {
            let text = format!("nothing uses the message \"{}\"", message.name.local);
            faults.push(
                Fault::new("message-unused", message.place, text)
                    .help("remove it, or use it in an operation"),
            );
        }
    }
}

/// Types in files that others may import as well are not judged: their users need not be in this contract.
pub(super) fn types(contract: &Contract, faults: &mut Vec<Fault>) {
    if contract.kind() != DocumentKind::Contract {
        return;
    }
    let usage = contract.usage();
    let schemas = &contract.schemas;
    let names = schemas.own_types().filter(|(id, _)| !usage.types.contains(id));
    let unused: Vec<&str> = names.filter_map(|(_, ty)| ty.name.as_ref()).map(|name| &*name.local).collect();
    let elements = schemas.elements.iter().map(|(_, element)| &element.ty);
    let attributes = schemas.attribute_decls.iter().map(|(_, attribute)| &attribute.ty);
    let parts = contract.messages.iter().flat_map(|(_, message)| &message.parts);
    let parts = parts.filter_map(|part| part.ty.as_ref());
    let slips = meant(dangling(elements.chain(attributes).chain(parts)), &unused);
    for (id, ty) in contract.schemas.own_types() {
        let embedded = contract.files.get(ty.place.file).has_root(ns::WSDL, "definitions");
        let Some(name) = ty.name.as_ref().filter(|_| embedded && ty.owner == Owner::Schema) else { continue };
        // Of two types of one name, only the first can be used; that there are two is said elsewhere.
        let first = schemas.type_named(name) == Some(id);
        if first && !usage.types.contains(&id) && !slips.contains(&*name.local) {
            let text = format!("nothing uses the type \"{}\"", name.local);
            faults
                .push(Fault::new("type-unused", ty.place, text).help("remove it, or give it to an element"));
        }
    }
}

pub(super) fn bindings(contract: &Contract, faults: &mut Vec<Fault>) {
    if contract.ports().next().is_none() {
        return;
    }
    let offered: Set<_> = contract.ports().filter_map(|(_, port)| port.binding.target).collect();
    // A port whose binding is misspelt means one of those that seem to be unused.
    let misspelt = contract.ports().any(|(_, port)| port.binding.target.is_none());
    for (id, binding) in contract.bindings.iter().filter(|_| !misspelt) {
        if !offered.contains(&id) {
            let message = format!("no port offers the binding \"{}\"", binding.name.local);
            let fault = Fault::new("binding-unused", binding.place, message);
            faults.push(fault.help("add a port, or remove the binding"));
        }
    }
}

/// A prefix as the text declares it.
struct Declared<'t> {
    prefix: &'t str,
    namespace: &'t str,
    /// The whole attribute.
    span: Span,
}

/// The declarations of prefixes in a text, wherever they stand.
fn declared(text: &str) -> Vec<Declared<'_>> {
    let mut found = Vec::new();
    let start = "xmlns:";
    for at in places_of(text, start) {
        if !text[..at].ends_with([' ', '\n', '\t', '\r']) {
            continue;
        }
        let rest = &text[at + start.len()..];
        let Some((prefix, value)) = rest.split_once('=') else { continue };
        let value = value.trim_start();
        let Some(quote) = value.chars().next().filter(|c| matches!(c, '"' | '\'')) else { continue };
        let Some(namespace) = value[1..].split(quote).next() else { continue };
        let end = namespace.as_ptr() as usize - text.as_ptr() as usize + namespace.len() + 1;
        found.push(Declared { prefix: prefix.trim(), namespace, span: Span::new(at, end) });
    }
    found
}

pub(super) fn prefixes(contract: &Contract, faults: &mut Vec<Fault>) {
    for file in contract.files.iter().filter(|file| file.root().is_some() && !file.is_known()) {
        let text = file.text().content();
        let used = words_before_colons(text);
        let mut seen: Set<&str> = Set::default();
        for Declared { prefix, span, .. } in declared(text) {
            // Declared in several places, it is used in one of them at least.
            if prefix != "xml" && seen.insert(prefix) && !used.contains(prefix) {
                let message = format!("nothing uses the prefix \"{prefix}\"");
                let fault = Fault::new("prefix-unused", Place { file: file.id, span }, message);
                faults.push(fault.help("remove its declaration"));
            }
        }
    }
}

/// The namespaces that a file mentions through a prefix, or has as a default.
struct Mentioned<'t> {
    text: &'t str,
    namespaces: Set<&'t str>,
}

impl<'t> Mentioned<'t> {
    fn of(file: &'t File) -> Mentioned<'t> {
        let text = file.text().content();
        let used = words_before_colons(text);
        let mut namespaces: Set<&str> =
            declared(text).into_iter().filter(|it| used.contains(it.prefix)).map(|it| it.namespace).collect();
        if used.contains("xml") {
            namespaces.insert(ns::XML);
        }
        Mentioned { text, namespaces }
    }

    fn names(&self, namespace: &str) -> bool {
        let by_default = format!("xmlns=\"{namespace}\"");
        self.namespaces.contains(namespace)
            || mentions(self.text, &by_default)
            || mentions(self.text, &by_default.replace('"', "'"))
    }
}

pub(super) fn imports(contract: &Contract, faults: &mut Vec<Fault>) {
    let imports = contract.files.imports().iter().filter(|import| import.kind == ImportKind::Schema);
    let mut mentioned: Map<FileId, Mentioned<'_>> = Map::default();
    for import in imports {
        let (Some(namespace), Some(target)) = (import.namespace.as_deref(), import.target) else { continue };
        let (file, target) = (contract.files.get(import.place.file), contract.files.get(target));
        // What refers to other namespaces itself may bring types that stand in for others, without being named.
        let alone = !contract.files.imports().iter().any(|it| it.place.file == target.id);
        if alone
            && target.root().is_some()
            && !file.is_known()
            && !mentioned.entry(file.id).or_insert_with(|| Mentioned::of(file)).names(namespace)
        {
            let message = format!("nothing here uses the namespace {namespace}");
            let node = file.tree.node(import.node);
            let place = node.map_or(import.place, |node| charter_source::tag_place(file.id, node));
            let fault = Fault::new("import-unused", place, message);
            faults.push(fault.help("remove the import"));
        }
    }
}

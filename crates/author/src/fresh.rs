//! Writes whole files from an element info: a contract with everything in it, or one with its schemas beside it.

use charter_notation::{Child, ElementInfo, Prefixes};
use charter_source::{Set, is_ncname, ns};

use crate::distinct::Distinct;
use crate::edit::namespaces;
use crate::style::Style;
use crate::writer::{Layout, Scope, Writer};

/// A file that is to be written.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NewFile {
    /// Its name, relative to the folder of the contract; nothing for the contract itself.
    pub name: Option<String>,
    /// Its text.
    pub text: String,
}

/// Where the schemas of a new contract stand.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum SchemaPlace {
    /// In the contract.
    Embedded,
    /// Each in a file of its own.
    Beside,
}

/// The files of a contract, or of schemas by themselves, laid out as a careful person would.
pub fn fresh(info: ElementInfo, prefixes: &Prefixes, place: SchemaPlace) -> Vec<NewFile> {
    fresh_with(info, &Paper { prefixes, style: &Style::own() }, place, &[])
}

/// What a text is written with.
pub(crate) struct Paper<'p> {
    pub prefixes: &'p Prefixes,
    pub style: &'p Style,
}

/// The same, where some namespaces are imported from files that are there already.
pub(crate) fn fresh_with(
    mut info: ElementInfo,
    paper: &Paper<'_>,
    place: SchemaPlace,
    locations: &[(String, String)],
) -> Vec<NewFile> {
    let mut files = Vec::new();
    let mut others: Vec<(String, String)> = Vec::new();
    if info.is_wsdl("types") {
        let schemas: Vec<ElementInfo> = info.elements().filter(|it| it.is_xsd("schema")).cloned().collect();
        let names: Vec<(String, String)> =
            schemas.iter().map(|schema| (target(schema), file_name(schema, "schema"))).collect();
        for (index, schema) in schemas.iter().enumerate() {
            let name = (index > 0).then(|| names[index].1.clone());
            files.push(NewFile { name, text: schema_file(schema, paper, &names) });
        }
        return files;
    }
    // Definitions in another namespace are files of their own.
    let nested: Vec<ElementInfo> = info.elements().filter(|it| it.is_wsdl("definitions")).cloned().collect();
    info.children.retain(|child| !matches!(child, Child::Element(it) if it.is_wsdl("definitions")));
    for inner in nested {
        let name = format!("{}.wsdl", inner.text("name").unwrap_or("definitions"));
        others.push((target(&inner), name.clone()));
        files.push(NewFile { name: Some(name), text: definitions_file(inner, paper, &[]) });
    }
    let stem = info.text("name").unwrap_or("contract").to_owned();
    if let Some(types) = info.elements_mut().find(|it| it.is_wsdl("types")) {
        if place == SchemaPlace::Beside {
            beside(types, paper, &stem, locations, &mut files);
        } else {
            for schema in types.elements_mut().filter(|it| it.is_xsd("schema")) {
                import(schema, locations);
            }
        }
    }
    files.insert(0, NewFile { name: None, text: definitions_file(info, paper, &others) });
    files
}

fn target(info: &ElementInfo) -> String {
    info.text("targetNamespace").unwrap_or("").to_owned()
}

/// A name for the file of a schema: after the last word of its namespace, else after the contract.
fn file_name(schema: &ElementInfo, stem: &str) -> String {
    let namespace = target(schema);
    let word =
        namespace.rsplit(['/', ':', '#']).find(|word| word.chars().any(char::is_alphabetic)).unwrap_or("");
    let word: String = word.chars().filter(|c| c.is_alphanumeric() || matches!(c, '-' | '_')).collect();
    format!("{}.xsd", if word.is_empty() { stem } else { &word })
}

/// Moves the schemas to files of their own, and leaves imports.
fn beside(
    types: &mut ElementInfo,
    paper: &Paper<'_>,
    stem: &str,
    locations: &[(String, String)],
    files: &mut Vec<NewFile>,
) {
    let schemas: Vec<ElementInfo> = types.elements().filter(|it| it.is_xsd("schema")).cloned().collect();
    let mut distinct = Distinct::default();
    let own_name = |schema: &ElementInfo| {
        let name = distinct.name(file_name(schema, stem).trim_end_matches(".xsd").to_owned());
        (target(schema), format!("{name}.xsd"))
    };
    let names: Vec<(String, String)> = schemas.iter().map(own_name).collect();
    let all: Vec<(String, String)> = names.iter().chain(locations).cloned().collect();
    let mut imports = ElementInfo::xsd("schema");
    for (schema, (namespace, name)) in schemas.iter().zip(&names) {
        files.push(NewFile { name: Some(name.clone()), text: schema_file(schema, paper, &all) });
        let mut import = ElementInfo::xsd("import");
        if !namespace.is_empty() {
            import = import.with("namespace", namespace.as_str());
        }
        imports.push(import.with("schemaLocation", name.as_str()));
    }
    types.children.retain(|child| !matches!(child, Child::Element(it) if it.is_xsd("schema")));
    types.children.insert(0, Child::Element(imports));
}

/// Imports what a schema refers to.
fn import(schema: &mut ElementInfo, locations: &[(String, String)]) {
    let own = target(schema);
    let mut seen: Set<String> = Set::default();
    schema.elements().for_each(|child| namespaces(child, &mut seen));
    let mut needed: Vec<String> = seen.into_iter().filter(|it| *it != own && it != ns::XSD).collect();
    needed.sort();
    let at = schema.elements().take_while(|it| it.is_xsd("annotation")).count();
    for namespace in needed.into_iter().rev() {
        let mut info = ElementInfo::xsd("import");
        if !namespace.is_empty() {
            info = info.with("namespace", namespace.as_str());
        }
        if let Some((_, location)) = locations.iter().find(|(known, _)| *known == namespace) {
            info = info.with("schemaLocation", location.as_str());
        }
        schema.children.insert(at, Child::Element(info));
    }
}

/// A writer of the elements in a file. Lines end as they do in memory until the whole text is there.
fn writer<'w>(layout: &'w Layout) -> Writer<'w> {
    Writer { layout, wished: &|_| None, lines: true }
}

fn in_memory(style: &Style) -> Layout {
    Layout { line_end: "\n", ..style.layout.clone() }
}

/// The prefixes that a file declares at its root: its own namespace, the standards, then the others.
fn scope_of(info: &ElementInfo, paper: &Paper<'_>) -> Vec<(String, String)> {
    let mut used: Set<String> = Set::default();
    all_namespaces(info, paper.prefixes, &mut used);
    let own = target(info);
    let mut declared: Vec<(String, String)> = Vec::new();
    // Only the root's own language can go without prefixes, since the other's names might have none.
    let root = if info.is_wsdl("definitions") { ns::WSDL } else { ns::XSD };
    if let Some(default) = paper.style.default.as_deref().filter(|default| *default == root) {
        declared.push((String::new(), default.to_owned()));
    }
    let mut declare = |prefix: &str, namespace: &str| {
        let taken = declared.iter().any(|(known, other)| known == prefix || other == namespace);
        if !taken && !prefix.is_empty() && !namespace.is_empty() {
            declared.push((prefix.to_owned(), namespace.to_owned()));
        }
    };
    if used.contains(&own) || info.is_wsdl("definitions") {
        declare(paper.prefixes.of_namespace(&own).unwrap_or("tns"), &own);
    }
    for (prefix, namespace) in paper.prefixes.all().filter(|(_, namespace)| used.contains(*namespace)) {
        declare(prefix, namespace);
    }
    let usual = [
        ("xs", ns::XSD),
        ("soap", ns::WSDL_SOAP11),
        ("soap12", ns::WSDL_SOAP12),
        ("http", ns::WSDL_HTTP),
        ("mime", ns::WSDL_MIME),
        ("wsdl", ns::WSDL),
    ];
    for (prefix, namespace) in usual.into_iter().filter(|(_, namespace)| used.contains(*namespace)) {
        declare(prefix, namespace);
    }
    declared
}

/// The namespaces of all names in an element info, and of what could be names in its texts.
fn all_namespaces(info: &ElementInfo, prefixes: &Prefixes, seen: &mut Set<String>) {
    seen.insert(info.name.namespace.to_string());
    for (name, value) in &info.attributes {
        seen.insert(name.namespace.to_string());
        match value {
            charter_notation::Value::Text(text) if name.is("", "xpath") => {
                seen.extend(charter_notation::paths::namespaces(text).map(str::to_owned));
            }
            charter_notation::Value::Names(names) => {
                seen.extend(names.iter().map(|name| name.namespace.to_string()))
            }
            // A value that could be a name needs its prefix, should it be one.
            charter_notation::Value::Text(text) => {
                if let Some((prefix, local)) = text.trim().split_once(':')
                    && is_ncname(local)
                    && let Some((_, namespace)) = prefixes.all().find(|(known, _)| *known == prefix)
                {
                    seen.insert(namespace.to_owned());
                }
            }
        }
    }
    info.elements().for_each(|child| all_namespaces(child, prefixes, seen));
}

/// What declares a prefix; the empty one is for names without.
fn declaration(prefix: &str) -> String {
    if prefix.is_empty() { "xmlns".to_owned() } else { format!("xmlns:{prefix}") }
}

/// The start tag of a root.
fn root_tag(info: &ElementInfo, name: &str, declared: &[(String, String)], paper: &Paper<'_>) -> String {
    let mut scope = Scope::default();
    declared.iter().for_each(|(prefix, namespace)| scope.bind(prefix, namespace));
    let layout = in_memory(paper.style);
    let writer = writer(&layout);
    let attributes = info.attributes.iter().map(|(own, value)| {
        let prefix = scope.prefix(&own.namespace, false, None).unwrap_or("").to_owned();
        let name = crate::writer::qualified(&prefix, &own.local);
        format!("{name}={}", writer.quoted(&writer.value(info, own, value, &scope)))
    });
    let prefixes = declared
        .iter()
        .map(|(prefix, namespace)| format!("{}={}", declaration(prefix), writer.quoted(namespace)));
    let all: Vec<String> = attributes.chain(prefixes).collect();
    let gap = match paper.style.root_lines {
        true => format!("\n{}", " ".repeat(name.len() + 2)),
        false => " ".to_owned(),
    };
    format!("<{name} {}>", all.join(&gap))
}

fn write_all(
    info: &ElementInfo,
    declared: &[(String, String)],
    own: (&str, &str),
    paper: &Paper<'_>,
) -> String {
    let mut scope = Scope::default();
    declared.iter().for_each(|(prefix, namespace)| scope.bind(prefix, namespace));
    let layout = in_memory(paper.style);
    let writer = writer(&layout);
    let prefix = scope.prefix(own.1, true, None).unwrap_or("").to_owned();
    let name = crate::writer::qualified(&prefix, own.0);
    let mut text = String::from("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n");
    text.push_str(&root_tag(info, &name, declared, paper));
    text.push('\n');
    let style = paper.style;
    let indent = style.indent(1);
    let mut blocks = Blocks { text, last: None, gap: style.gap() };
    for child in info.elements() {
        if child.is_wsdl("types") {
            blocks.put("types", &types_text(child, &writer, &scope, &prefix, style));
            continue;
        }
        let words = writer.element(child, &scope, &indent, Some(&prefix));
        blocks.put(&child.name.local, &format!("{indent}{words}\n"));
    }
    style.finished(format!("{}</{name}>\n", blocks.text))
}

/// Pieces of a text: set off from each other by a blank line, unless they are short ones of a kind.
struct Blocks {
    text: String,
    last: Option<String>,
    gap: &'static str,
}

impl Blocks {
    fn put(&mut self, kind: &str, words: &str) {
        let close = ["message", "import", "include"].contains(&kind) && self.last.as_deref() == Some(kind);
        if !close {
            self.text.push_str(self.gap);
        }
        self.text.push_str(words);
        self.last = Some(kind.to_owned());
    }
}

fn types_text(
    types: &ElementInfo,
    writer: &Writer<'_>,
    scope: &Scope,
    prefix: &str,
    style: &Style,
) -> String {
    let (outer, inner) = (style.indent(1), style.indent(2));
    let name = crate::writer::qualified(prefix, "types");
    let mut text = format!("{outer}<{name}>\n");
    for (index, schema) in types.elements().enumerate() {
        if index > 0 {
            text.push_str(style.gap());
        }
        if !schema.is_xsd("schema") || schema.elements().all(|it| it.is_xsd("import")) {
            text.push_str(&format!("{inner}{}\n", writer.element(schema, scope, &inner, None)));
            continue;
        }
        let whole =
            writer.element(&ElementInfo { children: Vec::new(), ..schema.clone() }, scope, &inner, None);
        let open = whole.trim_end_matches("/>");
        text.push_str(&format!("{inner}{open}>\n"));
        text.push_str(&globals(schema, writer, scope, &style.indent(3), style));
        let tag = open[1..].split_whitespace().next().unwrap_or("xs:schema");
        text.push_str(&format!("{inner}</{tag}>\n"));
    }
    format!("{text}{outer}</{name}>\n")
}

/// The components of a schema, set off from each other.
fn globals(schema: &ElementInfo, writer: &Writer<'_>, scope: &Scope, indent: &str, style: &Style) -> String {
    let mut text = String::new();
    let mut before: Option<(String, bool)> = None;
    for child in schema.elements() {
        let words = writer.element(child, scope, indent, None);
        let long = words.contains('\n');
        if let Some((kind, was_long)) = &before
            && (long || *was_long || *kind != *child.name.local)
        {
            text.push_str(style.gap());
        }
        text.push_str(&format!("{indent}{words}\n"));
        before = Some((child.name.local.to_string(), long));
    }
    text
}

fn definitions_file(mut info: ElementInfo, paper: &Paper<'_>, imports: &[(String, String)]) -> String {
    let at = info.elements().take_while(|it| it.is_wsdl("documentation")).count();
    let imports = imports.iter().map(|(namespace, location)| {
        let import = ElementInfo::wsdl("import").with("namespace", namespace.as_str());
        Child::Element(import.with("location", location.as_str()))
    });
    info.children.splice(at..at, imports);
    let declared = scope_of(&info, paper);
    write_all(&info, &declared, ("definitions", ns::WSDL), paper)
}

fn schema_file(schema: &ElementInfo, paper: &Paper<'_>, locations: &[(String, String)]) -> String {
    let mut schema = schema.clone();
    import(&mut schema, locations);
    let declared = scope_of(&schema, paper);
    let mut scope = Scope::default();
    declared.iter().for_each(|(prefix, namespace)| scope.bind(prefix, namespace));
    let layout = in_memory(paper.style);
    let writer = writer(&layout);
    let prefix = scope.prefix(ns::XSD, true, None).unwrap_or("xs").to_owned();
    let name = crate::writer::qualified(&prefix, "schema");
    let tag = root_tag(&schema, &name, &declared, paper);
    let style = paper.style;
    let inside = globals(&schema, &writer, &scope, &style.indent(1), style);
    let gap = style.gap();
    let head = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>";
    style.finished(format!("{head}\n{tag}\n{gap}{inside}{gap}</{name}>\n"))
}

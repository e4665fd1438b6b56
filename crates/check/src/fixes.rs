//! The safe ways to mend what rules find: each is a set of text edits that say what was plainly meant.

use charter_author::{Change, Editing, ReadBack};
use charter_contract::{Component, Contract, ExtensionKind, Operation, Style};
use charter_source::{
    File, Node, Place, Set, Span, TextEdit, attribute_place, element_around, element_at, elements, ns,
};

type Edits = Option<Vec<TextEdit>>;

/// The element whose start tag is at a place, with its file.
fn element(contract: &Contract, place: Place) -> Option<(&File, Node<'_>)> {
    let file = contract.files.get(place.file);
    Some((file, element_at(file.root()?, place.span.start)?))
}

fn edit(place: Place, replacement: impl Into<String>) -> TextEdit {
    TextEdit { place, replacement: replacement.into() }
}

/// An insertion at an offset.
fn insert(file: &File, at: usize, text: impl Into<String>) -> TextEdit {
    edit(Place { file: file.id, span: Span::new(at, at) }, text)
}

/// A stretch with the white space before it, and the line end behind it, if nothing else stands on its lines.
fn whole_lines(text: &str, span: std::ops::Range<usize>) -> std::ops::Range<usize> {
    let before = &text[..span.start];
    let start = before.trim_end_matches([' ', '\t']).len();
    let alone_before = start == 0 || text[..start].ends_with('\n');
    let after = &text[span.end..];
    let rest = after.trim_start_matches([' ', '\t']);
    let line_end = ["\r\n", "\n"].into_iter().find(|end| rest.starts_with(end));
    match (alone_before, line_end) {
        (true, Some(end)) => start..span.end + (after.len() - rest.len()) + end.len(),
        _ => span,
    }
}

/// The line end and the indentation that an element stands behind; nothing if it is not the first on its line.
fn lead(text: &str, at: usize) -> &str {
    let start = text[..at].trim_end_matches([' ', '\t']).len();
    match text[..start].strip_suffix('\n') {
        Some(rest) => &text[if rest.ends_with('\r') { start - 2 } else { start - 1 }..at],
        None => "",
    }
}

/// Moves an element of a contract to where the schema of WSDL has it.
pub(crate) fn order(editing: Editing<'_>, place: Place) -> Edits {
    let (file, node) = element(editing.contract, place)?;
    let parent = node.parent_element()?;
    let text = file.text().content();
    let lines = |node: Node<'_>| whole_lines(text, node.range());
    let at = if node.has_tag_name((ns::WSDL, "documentation")) {
        lines(elements(parent).find(|child| *child != node)?).start
    } else {
        const ORDER: [&str; 6] = ["import", "types", "message", "portType", "binding", "service"];
        let rank = |node: Node<'_>| {
            let name = node.tag_name();
            ORDER.iter().position(|known| name.namespace() == Some(ns::WSDL) && *known == name.name())
        };
        let own = rank(node).filter(|_| parent.has_tag_name((ns::WSDL, "definitions")))?;
        let start = node.range().start;
        let mut earlier = elements(parent).take_while(|child| child.range().start < start);
        let later = elements(parent).filter(|child| child.range().start > start);
        match earlier.find(|child| rank(*child).is_some_and(|rank| rank > own)) {
            Some(first) => lines(first).start,
            None => lines(later.filter(|child| rank(*child).is_some_and(|rank| rank < own)).last()?).end,
        }
    };
    let moved = lines(node);
    let cut = Place { file: file.id, span: moved.clone().into() };
    Some(vec![insert(file, at, &text[moved]), edit(cut, "")])
}

/// Takes out an attribute, of which the place is a piece.
fn attribute_out(file: &File, place: Place) -> Edits {
    let text = file.text().content();
    let white = |c: char| c.is_ascii_whitespace();
    let start = text[..place.span.start as usize].rfind(white)? + 1;
    let (name, rest) = text[start..].split_once('=')?;
    let value = rest.trim_start();
    let quote = value.chars().next().filter(|c| matches!(c, '"' | '\''))?;
    let length = value[1..].find(quote)?;
    // A value with white space in it, or an attribute with some around its equals sign, is not found this way.
    if name.is_empty() || name.contains(|c: char| white(c) || matches!(c, '<' | '>' | '"' | '\'')) {
        return None;
    }
    let end = text.len() - value.len() + 1 + length + 1;
    (end >= place.span.end as usize).then_some(())?;
    // The first on its line leaves the line to those behind it.
    let behind = text[end..].len() - text[end..].trim_start_matches([' ', '\t']).len();
    let first = text[..start].trim_end_matches([' ', '\t']).ends_with('\n');
    let followed = behind > 0 && !text[end + behind..].starts_with(['\r', '\n', '/', '>']);
    let span = if first && followed {
        Span::new(start, end + behind)
    } else {
        Span::new(text[..start].trim_end().len(), end)
    };
    Some(vec![edit(Place { file: file.id, span }, "")])
}

/// Takes out an attribute.
pub(crate) fn without_attribute(editing: Editing<'_>, place: Place) -> Edits {
    attribute_out(editing.contract.files.get(place.file), place)
}

/// Takes out the namespace attribute of a body, a header or a fault.
pub(crate) fn without_namespace(editing: Editing<'_>, place: Place) -> Edits {
    let file = editing.contract.files.get(place.file);
    let before = &file.text().content()[..place.span.start as usize];
    before.ends_with(['"', '\'']).then_some(())?;
    attribute_out(file, place)
}

/// Takes out an element, with the lines that it has for itself.
pub(crate) fn without_element(editing: Editing<'_>, place: Place) -> Edits {
    let (file, node) = element(editing.contract, place)?;
    let lines = whole_lines(file.text().content(), node.range());
    Some(vec![edit(Place { file: file.id, span: lines.into() }, "")])
}

/// Adds an attribute to a start tag.
fn with_attribute(file: &File, node: Node<'_>, attribute: &str) -> TextEdit {
    let last = node.attributes().map(|attribute| attribute.range().end).max();
    let name = charter_source::tag_place(file.id, node).span.end as usize;
    insert(file, last.unwrap_or(name).max(name), format!(" {attribute}"))
}

/// Adds an element to another, behind one of its children or before all of them.
fn with_child(file: &File, node: Node<'_>, behind: Option<Node<'_>>, child: &str) -> TextEdit {
    let text = file.text().content();
    if let Some(behind) = behind {
        let lead = lead(text, behind.range().start);
        return insert(file, behind.range().end, format!("{lead}{child}"));
    }
    let written = &text[node.range()];
    if let Some(body) = written.strip_suffix("/>") {
        let name = charter_source::tag_place(file.id, node).span;
        let name = &file.text().slice(name)[1..];
        let at = node.range().start + body.trim_end().len();
        let place = Place { file: file.id, span: Span::new(at, node.range().end) };
        return edit(place, format!(">{child}</{name}>"));
    }
    match elements(node).next() {
        Some(first) => {
            insert(file, first.range().start, format!("{child}{}", lead(text, first.range().start)))
        }
        None => {
            let at = node.range().start + written.rfind("</").unwrap_or(written.len());
            insert(file, at, child)
        }
    }
}

/// Says that something is literal.
pub(crate) fn literal(editing: Editing<'_>, place: Place) -> Edits {
    let (file, node) = element(editing.contract, place)?;
    Some(vec![with_attribute(file, node, "use=\"literal\"")])
}

/// Names an empty action, which is what no action comes to.
pub(crate) fn action(editing: Editing<'_>, place: Place) -> Edits {
    if let Some((file, node)) = element(editing.contract, place) {
        return Some(vec![with_attribute(file, node, "soapAction=\"\"")]);
    }
    // The place is the name of an operation that has no soap:operation at all.
    let (file, node) = holding(editing.contract, place)?;
    let prefix = soap_prefix(node.parent_element()?)?;
    let documentation = elements(node).find(|child| child.has_tag_name((ns::WSDL, "documentation")));
    let child = format!("<{prefix}operation soapAction=\"\"/>");
    Some(vec![with_child(file, node, documentation, &child)])
}

/// The innermost element that a place stands in.
fn holding(contract: &Contract, place: Place) -> Option<(&File, Node<'_>)> {
    let file = contract.files.get(place.file);
    let start = place.span.start as usize;
    Some((file, element_around(file.root()?, Span::new(start, start + 1))?))
}

/// The prefix of SOAP in a binding, with its colon.
fn soap_prefix(binding: Node<'_>) -> Option<String> {
    let own = elements(binding).find(|child| {
        child.tag_name().name() == "binding"
            && matches!(child.tag_name().namespace(), Some(ns::WSDL_SOAP11 | ns::WSDL_SOAP12))
    })?;
    let written = own.document().input_text()[own.range()].strip_prefix('<')?;
    let name = written.split([' ', '\n', '\t', '\r', '/', '>']).next()?;
    Some(name.strip_suffix("binding")?.to_owned())
}

/// Adds the body that a side has not.
pub(crate) fn body(editing: Editing<'_>, place: Place) -> Edits {
    let (file, node) = element(editing.contract, place)?;
    // Of two bodies, nobody can say which was meant.
    node.has_tag_name((ns::WSDL, node.tag_name().name())).then_some(())?;
    let binding = node.parent_element()?.parent_element()?;
    let child = format!("<{}body use=\"literal\"/>", soap_prefix(binding)?);
    Some(vec![with_child(file, node, elements(node).last(), &child)])
}

/// Gives a `soap:fault` the name of its fault, or adds it.
pub(crate) fn fault_name(editing: Editing<'_>, place: Place) -> Edits {
    if let Some((file, node)) = element(editing.contract, place) {
        let name = node.attribute("name")?;
        let binding = node.parent_element()?.parent_element()?;
        let child = format!("<{}fault name=\"{name}\" use=\"literal\"/>", soap_prefix(binding)?);
        return Some(vec![with_child(file, node, elements(node).last(), &child)]);
    }
    let (_, node) = holding(editing.contract, place)?;
    let name = node.parent_element()?.attribute("name")?;
    Some(vec![edit(place, name)])
}

/// The edits that a change of the author comes to.
fn edits_of(change: &Change) -> Vec<TextEdit> {
    let edits = change.files.iter().map(|file| {
        let (before, after) = (file.before.text(), file.after.text());
        let same = |(a, b): &((usize, char), (usize, char))| a.1 == b.1;
        let start = before.char_indices().zip(after.char_indices()).take_while(same).last();
        let start = start.map_or(0, |((at, c), _)| at + c.len_utf8());
        let ends = before[start..].chars().rev().zip(after[start..].chars().rev());
        let end: usize = ends.take_while(|(a, b)| a == b).map(|(c, _)| c.len_utf8()).sum();
        let place = Place { file: file.file, span: Span::new(start, before.len() - end) };
        edit(place, &after[start..after.len() - end])
    });
    edits.collect()
}

/// Binds what a binding leaves out of its port type.
pub(crate) fn bind(editing: Editing<'_>, place: Place) -> Edits {
    match editing.contract.component_at(place) {
        Component::Binding(id) => {
            let component = Component::Binding(id);
            let text = charter_author::text_of(editing, component).ok()?;
            let kept: Vec<&str> =
                text.lines().filter(|line| !line.trim_start().starts_with("omit ")).collect();
            // Whoever makes fixes has what comes of all of them read again.
            let force = Editing { force: true, read_back: ReadBack::Nothing, ..editing };
            Some(edits_of(&charter_author::edit(force, component, &kept.join("\n")).ok()?))
        }
        Component::BindingOperation(id, index) => {
            let contract = editing.contract;
            let binding = &contract.bindings[id];
            let port_type = &contract.port_types[binding.port_type.target?];
            let bound = &binding.operations[index];
            let operation = &port_type.operations[bound.operation?];
            let (file, node) = element(contract, bound.place)?;
            let prefixes = (wsdl_prefix(node)?, soap_prefix(node.parent_element()?)?);
            let (_, style) = contract.protocol(id)?;
            let namespace = contract.definitions[binding.definitions].namespace.clone();
            let missing = missing_sides(operation, bound, &prefixes, style, &namespace);
            if missing.is_empty() {
                return None;
            }
            let lead =
                elements(node).last().map_or("", |last| lead(file.text().content(), last.range().start));
            Some(vec![with_child(file, node, elements(node).last(), &missing.join(lead))])
        }
        _ => None,
    }
}

fn wsdl_prefix(node: Node<'_>) -> Option<String> {
    let written = node.document().input_text()[node.range()].strip_prefix('<')?;
    let name = written.split([' ', '\n', '\t', '\r', '/', '>']).next()?;
    Some(name.strip_suffix(node.tag_name().name())?.to_owned())
}

/// The sides of an operation that a binding has not, as XML.
fn missing_sides(
    operation: &Operation,
    bound: &charter_contract::BindingOperation,
    (wsdl, soap): &(String, String),
    style: Style,
    namespace: &str,
) -> Vec<String> {
    let own = bound.extensions.iter().find_map(|extension| match &extension.kind {
        ExtensionKind::SoapOperation { style, .. } => *style,
        _ => None,
    });
    let namespace = match own.unwrap_or(style) {
        Style::Rpc => format!(" namespace=\"{namespace}\""),
        Style::Document => String::new(),
    };
    let side =
        |local: &str| format!("<{wsdl}{local}><{soap}body use=\"literal\"{namespace}/></{wsdl}{local}>");
    let mut missing = Vec::new();
    if operation.input.is_some() && bound.input.is_none() {
        missing.push(side("input"));
    }
    if operation.output.is_some() && bound.output.is_none() {
        missing.push(side("output"));
    }
    let names = bound.faults.iter().filter_map(|fault| Some(&*fault.name.as_ref()?.text));
    let is_bound: Set<&str> = names.collect();
    for name in operation.faults.iter().filter_map(|fault| fault.name.as_ref()) {
        if !is_bound.contains(&*name.text) {
            let name = &name.text;
            missing.push(format!(
                "<{wsdl}fault name=\"{name}\"><{soap}fault name=\"{name}\" use=\"literal\"/></{wsdl}fault>"
            ));
        }
    }
    missing
}

/// Takes out what a binding binds and the port type has not.
pub(crate) fn without_bound(editing: Editing<'_>, place: Place) -> Edits {
    let (file, node) = holding(editing.contract, place)?;
    let known = ["operation", "fault"].iter().any(|local| node.has_tag_name((ns::WSDL, *local)));
    // Another operation may be the one that was meant: then this is a slip of the name, and nobody knows which.
    let meant = node.attribute_node("name").map(|name| attribute_place(file.id, &name)) == Some(place);
    if !known || !meant || is_slip(editing.contract, place) {
        return None;
    }
    let lines = whole_lines(file.text().content(), node.range());
    Some(vec![edit(Place { file: file.id, span: lines.into() }, "")])
}

/// How many pairs of names are looked at in one binding; beyond that each may be a slip for any.
const MOST_NAMES: usize = 1_000_000;

/// Whether the port type has an operation, or the operation a fault, whose name is nearly this one and is not bound.
fn is_slip(contract: &Contract, place: Place) -> bool {
    let word = contract.files.slice(place);
    let (binding, index) = match contract.component_at(place) {
        Component::BindingOperation(id, index) | Component::BindingSide(id, index, _) => (id, index),
        _ => return true,
    };
    let definition = &contract.bindings[binding];
    let Some(port_type) = definition.port_type.target.map(|id| &contract.port_types[id]) else { return true };
    let bound = &definition.operations[index];
    let (names, unknown): (Vec<&str>, usize) = match bound.operation {
        None => (
            port_type.operations.iter().map(|operation| &*operation.name.text).collect(),
            definition.operations.iter().filter(|bound| bound.operation.is_none()).count(),
        ),
        Some(own) => (
            port_type.operations[own].faults.iter().filter_map(|it| Some(&*it.name.as_ref()?.text)).collect(),
            bound.faults.iter().filter(|fault| fault.fault.is_none()).count(),
        ),
    };
    names.len() * unknown > MOST_NAMES || charter_source::nearest(word, names).is_some()
}

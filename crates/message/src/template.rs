//! Templates: a message whose leaves are places that a program fills in. What may be left out and what may be repeated
//! is marked by processing instructions, which no message has, so that a program can find them and must take them out.

use charter_contract::{Carrier, Contract, HttpContent, WireElement, WireShape};
use charter_schema::{Compositor, ElementId, Engine, Occurs, ParticleId, TypeId, ValueConstraint};
use charter_source::QName;

use crate::{Element, Node, Text, WireContent, assemble};

/// How places and marks are written.
#[derive(Debug, Clone)]
pub struct Marks {
    /// The form of a place; `PATH` stands for its wire path.
    pub place: String,
}

impl Default for Marks {
    fn default() -> Self {
        Marks { place: "|PATH|".to_owned() }
    }
}

/// The name of the elements that stand for marks until the text is written; no contract can have it.
const MARK: &str = "urn:mark";

/// The body of a message as a template.
pub fn template(
    contract: &Contract,
    engine: &Engine<'_>,
    shape: &WireShape,
    extra: &[Element],
    marks: &Marks,
) -> String {
    let layout = crate::values::Layout::of(engine.schemas(), shape);
    let writer = Writer { engine, marks };
    if let Some(text) = writer.fields(shape) {
        return text;
    }
    let mut contents = Vec::new();
    let mut named = |entries: &[(String, WireElement)], before: &str| {
        for (key, element) in entries {
            let path = if before.is_empty() { key.clone() } else { format!("{before}/{key}") };
            contents.push(writer.content(element, &path));
        }
    };
    named(&layout.headers, crate::values::HEADER);
    match &layout.body {
        crate::values::BodyLayout::Named(entries) => named(entries, ""),
        crate::values::BodyLayout::Inline(element) => contents.push(writer.content(element, "")),
    }
    let attached = &layout.attached;
    for (key, element) in attached {
        contents.push(writer.content(element, &format!("{}/{key}", crate::values::ATTACHED)));
    }
    let message = assemble(engine, shape, WireContent { elements: contents }, extra);
    marked(&message.text(contract))
}

struct Writer<'w> {
    engine: &'w Engine<'w>,
    marks: &'w Marks,
}

impl Writer<'_> {
    fn place(&self, path: &str) -> Text {
        let path = if path.is_empty() { "$text" } else { path };
        Text::Plain(self.marks.place.replace("PATH", path))
    }

    /// The address or the form of a message over plain HTTP, which holds its values alone. A value must be escaped when it
    /// is filled in, so a place is not.
    fn fields(&self, shape: &WireShape) -> Option<String> {
        let Carrier::Http(http) = &shape.carrier else { return None };
        let place = |name: &str| self.marks.place.replace("PATH", name);
        let address = shape.address.clone().unwrap_or_default();
        Some(match &http.content {
            HttpContent::InPath(parts) => {
                parts.iter().fold(address, |address, part| {
                    address.replace(&format!("({})", part.name), &place(&part.name))
                }) + "\n"
            }
            HttpContent::Form(parts) => {
                let pairs = parts.iter().map(|part| format!("{}={}", part.name, place(&part.name)));
                let pairs = pairs.collect::<Vec<_>>().join("&");
                if shape.method == "GET" { format!("{address}?{pairs}\n") } else { pairs }
            }
            _ => return None,
        })
    }

    fn content(&self, element: &WireElement, path: &str) -> Element {
        let schemas = self.engine.schemas();
        let mut made = Element::new(element.name(schemas).clone());
        let decl = match element {
            WireElement::Declared(id) => Some(*id),
            WireElement::Typed { .. } => None,
        };
        self.fill(&mut made, element.ty(schemas), decl, path, &mut Vec::new());
        made
    }

    fn fill(
        &self,
        element: &mut Element,
        ty: TypeId,
        decl: Option<ElementId>,
        path: &str,
        open: &mut Vec<TypeId>,
    ) {
        let schemas = self.engine.schemas();
        element.ty = Some(ty);
        let (attributes, _) = schemas.attributes(ty);
        for attribute in attributes {
            let key = crate::values::key_of_attribute(attribute.name);
            let text = match attribute.value {
                Some(ValueConstraint::Fixed(text)) => Text::Plain(text.clone()),
                _ => self.place(&below(path, &key)),
            };
            element.attributes.push((attribute.name.clone(), text));
        }
        if let Some(ValueConstraint::Fixed(text)) = decl.and_then(|id| schemas.elements[id].value.as_deref())
        {
            element.children.push(Node::Text(Text::Plain(text.clone())));
            return;
        }
        if schemas.has_simple_content(ty) || schemas.is_any(ty) {
            element.children.push(Node::Text(self.place(path)));
            return;
        }
        open.push(ty);
        for particle in schemas.content(ty) {
            self.particle(particle, Occurs::ONCE, path, &mut element.children, open);
        }
        open.pop();
        // A mark is written like what stands beside it, so that no prefix is declared for it.
        let beside = element.elements().find(|child| &*child.name.local != MARK);
        let namespace = beside.map_or(&element.name, |child| &child.name).namespace.clone();
        for child in &mut element.children {
            if let Node::Element(child) = child
                && &*child.name.local == MARK
            {
                child.name.namespace = namespace.clone();
            }
        }
    }

    fn particle(
        &self,
        id: ParticleId,
        around: Occurs,
        path: &str,
        into: &mut Vec<Node>,
        open: &mut Vec<TypeId>,
    ) {
        let schemas = self.engine.schemas();
        let occurs = schemas.particles[id].occurs;
        if occurs.max == Some(0) {
            return;
        }
        if let Some(element) = schemas.particle_element(id) {
            let within = if around == Occurs::ONCE { occurs } else { occurs.within(around) };
            return self.element(element, within, path, into, open);
        }
        let Some((compositor, members)) = schemas.particle_group(id) else { return };
        let several = members.len() > 1;
        let (word, end) = match (compositor, occurs == Occurs::ONCE) {
            (Compositor::Choice, _) if several => (Some(format!("one-of {}", bounds(occurs))), "end"),
            (_, false) if several => (Some(kind(occurs)), "end"),
            _ => (None, ""),
        };
        // A group of one member occurs as often as that does.
        let around = if several { Occurs::ONCE } else { occurs.within(around) };
        if let Some(word) = &word {
            into.push(mark(word));
        }
        for member in members {
            self.particle(*member, around, path, into, open);
        }
        if word.is_some() {
            into.push(mark(end));
        }
    }

    fn element(
        &self,
        id: ElementId,
        occurs: Occurs,
        path: &str,
        into: &mut Vec<Node>,
        open: &mut Vec<TypeId>,
    ) {
        let schemas = self.engine.schemas();
        let declared = &schemas.elements[id];
        let ty = schemas.element_type(id);
        // What holds itself is left to the program: it can fill in what it knows of the type.
        if open.contains(&ty) && schemas.complex(ty).is_some() {
            return;
        }
        let repeats = occurs.max != Some(1);
        let step =
            if repeats { format!("{}[n]", declared.name.local) } else { declared.name.local.to_string() };
        let at = below(path, &step);
        let framed = occurs != Occurs::ONCE;
        if framed {
            into.push(mark(&format!("{} {}", kind(occurs), declared.name.local)));
        }
        // An attribute has no place for a mark of its own, so it is named before its element.
        let (attributes, _) = schemas.attributes(ty);
        for attribute in attributes.iter().filter(|attribute| !attribute.required) {
            into.push(mark(&format!("optional {}", crate::values::key_of_attribute(attribute.name))));
        }
        let mut made = Element::new(declared.name.clone());
        self.fill(&mut made, ty, Some(id), &at, open);
        into.push(Node::Element(made));
        if framed {
            into.push(mark(&format!("end {}", declared.name.local)));
        }
    }
}

fn below(path: &str, step: &str) -> String {
    if path.is_empty() { step.to_owned() } else { format!("{path}/{step}") }
}

fn bounds(occurs: Occurs) -> String {
    let max = occurs.max.map_or_else(|| "*".to_owned(), |max| max.to_string());
    format!("{}..{max}", occurs.min)
}

fn kind(occurs: Occurs) -> String {
    match occurs.max {
        Some(1) => "optional".to_owned(),
        _ => format!("repeat {}", bounds(occurs)),
    }
}

/// A mark as an element without a namespace.
fn mark(words: &str) -> Node {
    Node::Element(Element::new(QName::new("", MARK)).text(words))
}

/// The text with every mark as a processing instruction.
fn marked(text: &str) -> String {
    let mut result = String::with_capacity(text.len());
    let mut rest = text;
    while let Some(at) = rest.find(MARK) {
        // The name may have a prefix.
        let start = rest[..at].rfind('<').unwrap_or(at);
        result.push_str(&rest[..start]);
        result.push_str(if rest[start..].starts_with("</") { "?>" } else { "<?charter " });
        rest = rest[at + MARK.len()..].trim_start_matches('>');
    }
    result + rest
}

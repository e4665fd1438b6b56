//! A contract's element info with its parts at hand: what the writer of operations and bindings looks up.

use charter_source::{Map, QName, Set, ns};

use crate::bound::{BodyParts, Header, Headers, Protocol};
use crate::convention::Convention;
use crate::info::{ElementInfo, Value};

/// The element info of a contract, by name.
pub(crate) struct View<'f> {
    pub convention: &'f Convention,
    /// What the names of the contract follow from.
    pub stem: String,
    /// Whether the contract has a name of its own.
    pub named: bool,
    /// Its target namespace.
    pub target: String,
    pub port_types: Vec<&'f ElementInfo>,
    pub bindings: Vec<Bound<'f>>,
    messages: Map<&'f str, &'f ElementInfo>,
    elements: Map<&'f str, &'f ElementInfo>,
}

/// A binding, with its operations by name.
pub(crate) struct Bound<'f> {
    pub info: &'f ElementInfo,
    pub protocol: Protocol,
    pub port_type: Option<&'f QName>,
    operations: Map<&'f str, Vec<&'f ElementInfo>>,
}

impl<'f> View<'f> {
    pub fn new(definitions: &'f ElementInfo, convention: &'f Convention) -> View<'f> {
        let target = definitions.text("targetNamespace").unwrap_or("").to_owned();
        let mut view = View {
            convention,
            stem: stem(definitions),
            named: definitions.text("name").is_some(),
            target,
            port_types: Vec::new(),
            bindings: Vec::new(),
            messages: Map::default(),
            elements: Map::default(),
        };
        for child in definitions.elements().filter(|child| *child.name.namespace == *ns::WSDL) {
            match &*child.name.local {
                "message" => {
                    if let Some(name) = child.text("name") {
                        view.messages.entry(name).or_insert(child);
                    }
                }
                "portType" => view.port_types.push(child),
                "binding" => view.bindings.push(Bound::new(child)),
                "types" => view.schemas(child),
                _ => {}
            }
        }
        view
    }

    fn schemas(&mut self, types: &'f ElementInfo) {
        let own = types.elements().filter(|schema| {
            schema.is_xsd("schema") && schema.text("targetNamespace").unwrap_or("") == self.target
        });
        for element in own.flat_map(ElementInfo::elements).filter(|child| child.is_xsd("element")) {
            if let Some(name) = element.text("name") {
                self.elements.entry(name).or_insert(element);
            }
        }
    }

    pub fn message(&self, name: &QName) -> Option<&'f ElementInfo> {
        (*name.namespace == *self.target).then(|| self.messages.get(&*name.local).copied()).flatten()
    }

    /// Whether a message is the one of its name, and among those that operations show.
    pub fn shows_message(&self, info: &ElementInfo, shown: &Set<String>) -> bool {
        let name = info.text("name").unwrap_or("");
        shown.contains(name) && self.messages.get(name).is_some_and(|first| std::ptr::eq(*first, info))
    }

    /// Whether an element is the one of its name, and among those that operations show.
    pub fn shows_element(&self, info: &ElementInfo, shown: &Set<String>) -> bool {
        let name = info.text("name").unwrap_or("");
        shown.contains(name) && self.elements.get(name).is_some_and(|first| std::ptr::eq(*first, info))
    }

    /// A global element in the namespace of the contract.
    pub fn element(&self, name: &QName) -> Option<&'f ElementInfo> {
        (*name.namespace == *self.target).then(|| self.elements.get(&*name.local).copied()).flatten()
    }

    /// A name in the namespace of the contract.
    pub fn own(&self, local: &str) -> QName {
        QName::new(&self.target, local)
    }

    /// The port type that a binding binds if it does not say.
    pub fn first_port_type(&self) -> Option<QName> {
        self.port_types.first().and_then(|first| first.text("name")).map(|name| self.own(name))
    }

    /// The bindings of a port type.
    pub fn bindings_of(&self, port_type: &str) -> impl Iterator<Item = &Bound<'f>> {
        let name = self.own(port_type);
        self.bindings.iter().filter(move |bound| bound.port_type == Some(&name))
    }

    /// The header blocks of an operation that all its SOAP bindings have, and the parts that they leave to the body.
    pub fn headers(&self, port_type: &str, operation: &ElementInfo) -> (Headers, BodyParts) {
        let mut all: Option<Headers> = None;
        for binding in self.bindings_of(port_type).filter(|it| matches!(it.protocol, Protocol::Soap(_))) {
            let Some(bound) = binding.operation(operation) else { return Default::default() };
            let Some(these) = headers_of(bound) else { return Default::default() };
            if all.as_ref().is_some_and(|known| *known != these) {
                return Default::default();
            }
            all = Some(these);
        }
        let headers = all.unwrap_or_default();
        let is_known = |header: &Header| {
            self.message(&header.message)
                .is_some_and(|message| message.elements().any(|part| part.text("name") == Some(&header.part)))
        };
        if !headers.request.iter().chain(&headers.reply).all(is_known) {
            return Default::default();
        }
        let parts = [
            self.body_parts(operation, "input", &headers.request),
            self.body_parts(operation, "output", &headers.reply),
        ];
        (headers, parts)
    }

    /// The parts of a side's message that are left to the body, if some of its parts are header blocks.
    fn body_parts(&self, operation: &ElementInfo, side: &str, headers: &[Header]) -> Option<String> {
        let usage = operation.elements().find(|it| it.is_wsdl(side))?;
        let name = usage.named("message")?;
        let own: Vec<&str> =
            headers.iter().filter(|it| it.message == *name).map(|it| it.part.as_str()).collect();
        if own.is_empty() {
            return None;
        }
        let parts = self.message(name)?.elements().filter_map(|part| part.text("name"));
        Some(parts.filter(|part| !own.contains(part)).collect::<Vec<_>>().join(" "))
    }
}

impl<'f> Bound<'f> {
    fn new(info: &'f ElementInfo) -> Bound<'f> {
        let mut operations: Map<&str, Vec<&ElementInfo>> = Map::default();
        for operation in info.elements().filter(|child| child.is_wsdl("operation")) {
            operations.entry(operation.text("name").unwrap_or("")).or_default().push(operation);
        }
        Bound { info, protocol: Protocol::of(info), port_type: info.named("type"), operations }
    }

    /// How it binds an operation of the port type.
    pub fn operation(&self, operation: &ElementInfo) -> Option<&'f ElementInfo> {
        let namesakes = self.operations.get(operation.text("name").unwrap_or(""))?;
        let input = |info: &ElementInfo| {
            info.elements()
                .find(|side| side.is_wsdl("input"))
                .and_then(|input| input.text("name"))
                .map(str::to_owned)
        };
        let same = namesakes.iter().find(|bound| input(bound) == input(operation));
        same.or(namesakes.first()).copied()
    }
}

/// The header blocks of a bound operation; `None` if one is out of the ordinary.
fn headers_of(bound: &ElementInfo) -> Option<Headers> {
    let mut headers = Headers::default();
    for (index, local) in ["input", "output"].into_iter().enumerate() {
        let Some(side) = bound.elements().find(|side| side.is_wsdl(local)) else { continue };
        for child in side.elements().filter(|child| &*child.name.local == "header") {
            let header =
                Header { message: child.named("message")?.clone(), part: child.text("part")?.to_owned() };
            if *child != crate::bound::header_info(&child.name.namespace, &header) {
                return None;
            }
            if index == 0 { headers.request.push(header) } else { headers.reply.push(header) }
        }
    }
    Some(headers)
}

/// What the names of a contract follow from: its own name, else that of its first port type or service.
pub(crate) fn stem(definitions: &ElementInfo) -> String {
    let named = |local: &str| {
        definitions.elements().find(|child| child.is_wsdl(local)).and_then(|child| child.text("name"))
    };
    let name = definitions.text("name").or_else(|| named("portType")).or_else(|| named("service"));
    name.unwrap_or("Contract").to_owned()
}

/// The one element that a part names.
pub(crate) fn part_element(part: &ElementInfo) -> Option<&QName> {
    match part.attributes.iter().find(|(name, _)| name.is("", "element"))? {
        (_, Value::Names(names)) => names.first().map(|name| &**name),
        _ => None,
    }
}

//! Gathers the element info of a contract, or of what one component needs, from its files.

use charter_contract::{BindingId, Component, Contract, MessageId, OperationId, PortTypeId};
use charter_schema::{Owner, SchemaDocument};
use charter_source::{File, FileId, ImportKind, Interner, Node, Place, QName, Set, elements, nodes_from, ns};

use crate::info::{Child, ElementInfo, Origin};
use crate::view::part_element;
use crate::xml_reader::{Settings, XmlReader};

/// How many operations of a binding are looked at to see how it binds them.
const TYPICAL: usize = 20;

/// Reads element infos of a contract.
pub(crate) struct Gathering<'c> {
    contract: &'c Contract,
    names: Interner,
}

impl<'c> Gathering<'c> {
    pub fn new(contract: &'c Contract) -> Self {
        Gathering { contract, names: Interner::default() }
    }

    fn reading(&mut self, file: &'c File) -> XmlReader<'_> {
        XmlReader { names: &mut self.names, file: Some(file.id), settings: Settings::default() }
    }

    /// The whole contract; for schemas by themselves, a `types` element that holds them.
    pub fn definitions(&mut self) -> ElementInfo {
        let contract = self.contract;
        let mut whole: Option<ElementInfo> = None;
        let mut nested: Vec<ElementInfo> = Vec::new();
        for (_, definitions) in contract.definitions.iter() {
            let file = contract.files.get(definitions.file);
            let Some(root) = file.root() else { continue };
            let mut info = self.reading(file).head(root);
            for child in elements(root) {
                if !is_import(child) && !child.has_tag_name((ns::WSDL, "types")) {
                    info.push(self.wsdl(file, child));
                }
            }
            match &mut whole {
                None => whole = Some(info),
                Some(first) if same_target(first, &info) => merge(first, info),
                Some(_) => match nested.iter_mut().find(|known| same_target(known, &info)) {
                    Some(known) => merge(known, info),
                    None => nested.push(info),
                },
            }
        }
        let types = self.types();
        let Some(mut whole) = whole else { return types };
        if !types.children.is_empty() {
            whole.push(types);
        }
        whole.children.extend(nested.into_iter().map(Child::Element));
        in_order(&mut whole);
        whole
    }

    /// A WSDL element with what stands in it, in the order that says nothing.
    fn wsdl(&mut self, file: &'c File, node: Node<'_>) -> ElementInfo {
        let mut info = self.reading(file).info(node);
        tidy(&mut info);
        info
    }

    fn types(&mut self) -> ElementInfo {
        let mut types = self.types_head();
        for (_, definitions) in self.contract.definitions.iter() {
            let file = self.contract.files.get(definitions.file);
            let inside = file.root().into_iter().flat_map(elements);
            for node in inside.filter(|it| it.has_tag_name((ns::WSDL, "types"))).flat_map(elements) {
                if !node.has_tag_name((ns::XSD, "schema")) {
                    types.push(self.reading(file).info(node));
                }
            }
        }
        let mut namespaces: Vec<&str> = Vec::new();
        let documents = self.documents();
        for document in &documents {
            if !namespaces.contains(&&*document.namespace) {
                namespaces.push(&document.namespace);
            }
        }
        for namespace in namespaces {
            let these = documents.iter().filter(|document| *document.namespace == *namespace);
            types.push(self.schema(&these.copied().collect::<Vec<_>>()));
        }
        types
    }

    /// The schema documents that the contract is made of, except those that another one writes anew.
    fn documents(&self) -> Vec<&'c SchemaDocument> {
        let contract = self.contract;
        let mut hidden: Set<FileId> = Set::default();
        let redefined = contract.files.imports().iter().filter(|import| import.kind == ImportKind::Redefine);
        let mut open: Vec<FileId> = redefined.filter_map(|import| import.target).collect();
        while let Some(file) = open.pop() {
            if hidden.insert(file) {
                let inside = contract.files.imports().iter().filter(|import| {
                    import.place.file == file
                        && matches!(import.kind, ImportKind::Include | ImportKind::Redefine)
                });
                open.extend(inside.filter_map(|import| import.target));
            }
        }
        let schemas = &contract.schemas;
        let shown = |document: &&SchemaDocument| {
            !schemas.is_known(document.place) && !hidden.contains(&document.file)
        };
        let all: Vec<&SchemaDocument> = schemas.documents.iter().filter(shown).collect();
        // A schema that only imports others says nothing, unless there is no other.
        let says = |document: &&&SchemaDocument| {
            let node = contract.files.get(document.file).tree.node(document.node);
            node.is_some_and(|node| elements(node).any(|child| !is_import(child)))
        };
        let telling: Vec<&SchemaDocument> = all.iter().filter(says).copied().collect();
        if telling.is_empty() { all.into_iter().take(1).collect() } else { telling }
    }

    /// The `types` element without its content.
    pub fn types_head(&self) -> ElementInfo {
        let mut types = ElementInfo::wsdl("types");
        for (_, definitions) in self.contract.definitions.iter() {
            let file = self.contract.files.get(definitions.file);
            let found =
                file.root().into_iter().flat_map(elements).find(|it| it.has_tag_name((ns::WSDL, "types")));
            if let Some(node) = found {
                types.origin = types.origin.or(Some(Origin { file: file.id, node: node.id() }));
            }
        }
        types
    }

    /// The schema of one namespace, from all its documents.
    fn schema(&mut self, documents: &[&'c SchemaDocument]) -> ElementInfo {
        let node_of =
            |document: &SchemaDocument| self.contract.files.get(document.file).tree.node(document.node);
        let mut whole: Option<ElementInfo> = None;
        let Some(first) = documents.first().and_then(|document| node_of(document)) else {
            return ElementInfo::xsd("schema");
        };
        for document in documents {
            let Some(node) = node_of(document) else { continue };
            let file = self.contract.files.get(document.file);
            let settings = Settings::of(document, node, first);
            let mut reading = XmlReader { names: &mut self.names, file: Some(file.id), settings };
            let info = whole.get_or_insert_with(|| {
                let mut head = reading.head(node);
                if document.adopted {
                    head.set("targetNamespace", crate::info::Value::Text(document.namespace.to_string()));
                }
                head
            });
            for child in elements(node).filter(|child| !is_import(*child)) {
                info.push(reading.info(child));
            }
        }
        whole.unwrap_or_else(|| ElementInfo::xsd("schema"))
    }

    /// The element info of the element at a place, as the schema block that shows it reads it.
    pub fn at(&mut self, place: Place) -> Option<ElementInfo> {
        let contract = self.contract;
        let file = contract.files.get(place.file);
        let node = node_at(file, place)?;
        self.node(file, node, place)
    }

    /// The same with nothing in it but what its author says about it.
    pub fn bare(&mut self, place: Place) -> Option<ElementInfo> {
        let file = self.contract.files.get(place.file);
        let node = node_at(file, place)?;
        let settings = self.settings(place)?;
        let mut reading = XmlReader { names: &mut self.names, file: Some(file.id), settings };
        let mut info = reading.head(node);
        let is_about = |child: &Node<'_>| {
            child.has_tag_name((ns::WSDL, "documentation")) || child.has_tag_name((ns::XSD, "annotation"))
        };
        elements(node).filter(is_about).for_each(|child| info.push(reading.info(child)));
        Some(info)
    }

    /// What is settled for the components at a place.
    fn settings(&self, place: Place) -> Option<Settings> {
        let contract = self.contract;
        Some(match contract.schemas.document_of(place) {
            Some(document) => {
                let first =
                    contract.schemas.documents.iter().find(|it| it.namespace == document.namespace)?;
                let node = |of: &SchemaDocument| contract.files.get(of.file).tree.node(of.node);
                Settings::of(document, node(document)?, node(first)?)
            }
            None => Settings::default(),
        })
    }

    fn node(&mut self, file: &'c File, node: Node<'_>, place: Place) -> Option<ElementInfo> {
        let settings = self.settings(place)?;
        let mut info = XmlReader { names: &mut self.names, file: Some(file.id), settings }.info(node);
        if *info.name.namespace == *ns::WSDL {
            tidy(&mut info);
        }
        Some(info)
    }

    /// The element info of an element declaration, wherever it stands.
    pub fn element(&mut self, id: charter_schema::ElementId) -> Option<ElementInfo> {
        let element = &self.contract.schemas.elements[id];
        let file = self.contract.files.get(element.extent.file);
        self.node(file, file.tree.node(element.node)?, element.extent)
    }

    /// The schema that a global component stands in, with that component alone.
    pub fn global(&mut self, place: Place, info: ElementInfo) -> Option<ElementInfo> {
        let mut schema = self.schema_head(place)?;
        schema.push(info);
        Some(schema)
    }

    /// The schema element around a place, without its content.
    pub fn schema_head(&mut self, place: Place) -> Option<ElementInfo> {
        let document = self.contract.schemas.document_of(place)?;
        let first = self.contract.schemas.documents.iter().find(|it| it.namespace == document.namespace)?;
        let file = self.contract.files.get(first.file);
        let mut head = self.reading(file).head(file.tree.node(first.node)?);
        head.set("targetNamespace", crate::info::Value::Text(document.namespace.to_string()));
        Some(head)
    }

    /// The definitions of the contract without their content; those of the file of a place.
    pub fn head(&mut self, file: FileId) -> Option<ElementInfo> {
        let file = self.contract.files.get(file);
        Some(self.reading(file).head(file.root()?))
    }

    /// What an operation is made of: its port type with it alone, its messages, elements, and the bindings with it alone.
    pub fn operation(&mut self, id: OperationId) -> Option<ElementInfo> {
        let contract = self.contract;
        let port_type = &contract.port_types[id.port_type];
        let mut whole = self.head(port_type.extent.file)?;
        let mut info = self.shell(port_type.extent)?;
        info.push(self.at(contract.operation(id).extent)?);
        whole.push(info);
        let mut bindings = Vec::new();
        for (_, binding) in
            contract.bindings.iter().filter(|(_, it)| it.port_type.target == Some(id.port_type))
        {
            let mut info = self.shell(binding.extent)?;
            for bound in binding.operations.iter().filter(|bound| bound.operation == Some(id.index)) {
                info.push(self.at(bound.extent)?);
            }
            bindings.push(info);
        }
        let mut wanted: Vec<QName> = Vec::new();
        for info in whole.elements().chain(&bindings) {
            messages_named(info, &mut wanted);
        }
        self.with_messages(&mut whole, &wanted)?;
        whole.children.extend(bindings.into_iter().map(Child::Element));
        in_order(&mut whole);
        Some(whole)
    }

    /// A port type or a binding without its operations.
    fn shell(&mut self, place: Place) -> Option<ElementInfo> {
        let file = self.contract.files.get(place.file);
        let node = node_at(file, place)?;
        let mut info = self.reading(file).head(node);
        for child in elements(node).filter(|child| !child.has_tag_name((ns::WSDL, "operation"))) {
            info.push(self.reading(file).info(child));
        }
        tidy(&mut info);
        Some(info)
    }

    /// Adds messages, and the global elements of their parts.
    fn with_messages(&mut self, whole: &mut ElementInfo, wanted: &[QName]) -> Option<()> {
        let contract = self.contract;
        let mut elements: Vec<charter_schema::ElementId> = Vec::new();
        for id in wanted.iter().filter_map(|name| contract.message_named(name)) {
            let info = self.at(contract.messages[id].extent)?;
            for name in info.elements().filter_map(part_element) {
                elements.extend(contract.schemas.element_named(name));
            }
            whole.push(info);
        }
        elements.sort_unstable();
        elements.dedup();
        let mut types = self.types_head();
        for id in elements {
            let extent = contract.schemas.elements[id].extent;
            if contract.schemas.is_known(extent) {
                continue;
            }
            let info = self.element(id)?;
            let head = self.schema_head(extent)?;
            let known = types
                .elements_mut()
                .find(|schema| schema.text("targetNamespace") == head.text("targetNamespace"));
            match known {
                Some(schema) => schema.push(info),
                None => types.push(head.holding(info)),
            }
        }
        if !types.children.is_empty() {
            whole.push(types);
        }
        Some(())
    }

    /// A component with what its notation speaks of, as a part of the contract.
    pub fn component(&mut self, component: Component) -> Option<ElementInfo> {
        let contract = self.contract;
        let schemas = &contract.schemas;
        let global = match component {
            Component::Contract => return Some(self.definitions()),
            Component::Operation(id) | Component::OperationSide(id, _) => return self.operation(id),
            Component::PortType(id) => return self.port_type(id),
            Component::Binding(id) => return self.binding(id),
            Component::BindingOperation(id, index) | Component::BindingSide(id, index, _) => {
                let operation = contract.bindings[id].operations[index].operation;
                return match (contract.bindings[id].port_type.target, operation) {
                    (Some(port_type), Some(index)) => self.operation(OperationId { port_type, index }),
                    _ => self.binding(id),
                };
            }
            Component::Message(id) | Component::Part(id, _) => return self.message(id),
            Component::Service(id) => return self.service(id),
            Component::Port(id) => return self.service(id.service),
            Component::Type(id) => (schemas.types[id].owner, schemas.types[id].extent),
            Component::Element(id) => (schemas.elements[id].owner, schemas.elements[id].extent),
            Component::ElementUse(id) => (schemas.particles[id].owner, schemas.particles[id].extent),
            Component::Attribute(id) => {
                (schemas.attribute_decls[id].owner, schemas.attribute_decls[id].extent)
            }
            Component::Group(id) => (Owner::Schema, schemas.groups[id].extent),
            Component::AttributeGroup(id) => (Owner::Schema, schemas.attribute_groups[id].extent),
        };
        let extent = match global {
            (Owner::Schema, extent) => extent,
            (owner, _) => self.outermost(owner),
        };
        let info = self.at(extent)?;
        let schema = self.global(extent, info)?;
        let types = self.types_head().holding(schema);
        let Some((_, first)) = contract.definitions.iter().next() else { return Some(types) };
        Some(self.head(first.file)?.holding(types))
    }

    /// The global component around a local one.
    fn outermost(&self, mut owner: Owner) -> Place {
        let schemas = &self.contract.schemas;
        let mut extent = Place::default();
        loop {
            (owner, extent) = match owner {
                Owner::Schema => return extent,
                Owner::Type(id) => (schemas.types[id].owner, schemas.types[id].extent),
                Owner::Element(id) => (schemas.elements[id].owner, schemas.elements[id].extent),
                Owner::Attribute(id) => {
                    (schemas.attribute_decls[id].owner, schemas.attribute_decls[id].extent)
                }
                Owner::Group(id) => (Owner::Schema, schemas.groups[id].extent),
                Owner::AttributeGroup(id) => (Owner::Schema, schemas.attribute_groups[id].extent),
            };
        }
    }

    fn message(&mut self, id: MessageId) -> Option<ElementInfo> {
        let extent = self.contract.messages[id].extent;
        let info = self.at(extent)?;
        Some(self.head(extent.file)?.holding(info))
    }

    fn port_type(&mut self, id: PortTypeId) -> Option<ElementInfo> {
        let contract = self.contract;
        let extent = contract.port_types[id].extent;
        let mut whole = self.head(extent.file)?;
        whole.push(self.at(extent)?);
        let mut bindings = Vec::new();
        for (_, binding) in contract.bindings.iter().filter(|(_, it)| it.port_type.target == Some(id)) {
            bindings.push(self.at(binding.extent)?);
        }
        let mut wanted = Vec::new();
        whole.elements().chain(&bindings).for_each(|info| messages_named(info, &mut wanted));
        self.with_messages(&mut whole, &wanted)?;
        whole.children.extend(bindings.into_iter().map(Child::Element));
        in_order(&mut whole);
        Some(whole)
    }

    /// A port type without its operations, and its bindings with the first few of theirs, which show how it speaks.
    pub fn port_type_shell(&mut self, id: PortTypeId) -> Option<ElementInfo> {
        let contract = self.contract;
        let extent = contract.port_types[id].extent;
        let mut whole = self.head(extent.file)?;
        let shell = self.shell(extent)?;
        whole.push(shell);
        for (_, binding) in contract.bindings.iter().filter(|(_, it)| it.port_type.target == Some(id)) {
            let mut info = self.shell(binding.extent)?;
            for bound in binding.operations.iter().take(TYPICAL) {
                info.push(self.at(bound.extent)?);
            }
            whole.push(info);
        }
        Some(whole)
    }

    fn binding(&mut self, id: BindingId) -> Option<ElementInfo> {
        let contract = self.contract;
        let binding = &contract.bindings[id];
        let mut whole = match binding.port_type.target {
            Some(port_type) => self.port_type(port_type)?,
            None => {
                let info = self.at(binding.extent)?;
                self.head(binding.extent.file)?.holding(info)
            }
        };
        // Only the first port type need not be said.
        if let (Some((first, _)), Some(own)) = (contract.port_types.iter().next(), binding.port_type.target)
            && first != own
        {
            let extent = contract.port_types[first].extent;
            let file = contract.files.get(extent.file);
            let head = self.reading(file).head(node_at(file, extent)?);
            whole.children.insert(0, Child::Element(head));
        }
        Some(whole)
    }

    fn service(&mut self, id: charter_contract::ServiceId) -> Option<ElementInfo> {
        let contract = self.contract;
        let service = &contract.services[id];
        let mut whole = self.head(service.extent.file)?;
        let mut bound: Vec<BindingId> = service.ports.iter().filter_map(|port| port.binding.target).collect();
        bound.sort_unstable();
        bound.dedup();
        for id in bound {
            whole.push(self.shell(contract.bindings[id].extent)?);
        }
        whole.push(self.at(service.extent)?);
        Some(whole)
    }
}

/// Whether an element calls for another file, which says nothing about components.
fn is_import(node: Node<'_>) -> bool {
    let name = node.tag_name();
    match name.namespace() {
        Some(ns::WSDL) => name.name() == "import",
        Some(ns::XSD) => matches!(name.name(), "import" | "include"),
        _ => false,
    }
}

fn same_target(a: &ElementInfo, b: &ElementInfo) -> bool {
    a.text("targetNamespace") == b.text("targetNamespace")
}

/// Adds what stands in the definitions of another file; what its author says about the file is about that file.
fn merge(into: &mut ElementInfo, other: ElementInfo) {
    let is_about = |child: &Child| matches!(child, Child::Element(info) if info.is_wsdl("documentation"));
    into.children.extend(other.children.into_iter().filter(|child| !is_about(child)));
}

/// The messages that the operations and header blocks in an element info name.
fn messages_named(info: &ElementInfo, found: &mut Vec<QName>) {
    if let Some(name) = info.named("message")
        && !found.contains(name)
    {
        found.push(name.clone());
    }
    info.elements().for_each(|child| messages_named(child, found));
}

/// Puts the parts of a contract in the order in which the standard has them.
pub(crate) fn in_order(definitions: &mut ElementInfo) {
    definitions.children.sort_by_key(|child| match child {
        Child::Element(info) if *info.name.namespace == *ns::WSDL => match &*info.name.local {
            "documentation" => 0,
            "types" => 2,
            "message" => 3,
            "portType" => 4,
            "binding" => 5,
            "service" => 6,
            "definitions" => 7,
            _ => 8,
        },
        _ => 1,
    });
}

/// Puts what stands in a WSDL element in an order that says nothing: strangers first, bodies before header blocks.
fn tidy(info: &mut ElementInfo) {
    info.children.sort_by_key(|child| match child {
        Child::Element(info) => match (&*info.name.namespace, &*info.name.local) {
            (ns::WSDL, "documentation") => 0,
            (ns::WSDL_SOAP11 | ns::WSDL_SOAP12, "body" | "binding" | "operation") => 2,
            (ns::WSDL_SOAP11 | ns::WSDL_SOAP12, _) => 3,
            (ns::WSDL | ns::WSDL_HTTP | ns::WSDL_MIME, _) => 4,
            _ => 1,
        },
        _ => 1,
    });
    info.elements_mut().filter(|child| *child.name.namespace == *ns::WSDL).for_each(tidy);
}

/// The element at a place.
pub(crate) fn node_at(file: &File, place: Place) -> Option<Node<'_>> {
    let wanted = place.span.range();
    nodes_from(file.root()?, place.span.start)
        .take_while(|node| node.range().start == wanted.start)
        .find(|node| node.is_element() && node.range() == wanted)
}

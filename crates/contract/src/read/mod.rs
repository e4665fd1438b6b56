//! Reads WSDL components from the trees of the files. References are kept by name; `resolve` follows them.

mod extensions;
mod grammar;

use std::sync::{Arc, OnceLock};

use charter_schema::{Arena, Ref, Schemas};
use charter_source::{
    Fault, FileId, Files, Interner, Limits, Location, Node, Place, QName, ReadError, Store, attribute_place,
    elements, is_ncname, ns, qname_tokens, resolve_qname, tag_place, text_of,
};

use crate::contract::Names;
use crate::{
    Binding, BindingMessage, BindingOperation, Contract, Definitions, DefinitionsId, DocumentKind, Extension,
    Label, Message, MessageUse, Operation, Part, Pattern, Port, PortType, Service,
};

impl Contract {
    /// Loads the contract at a location, and all that it imports.
    ///
    /// A contract with faults is still read as far as it can be understood.
    ///
    /// # Errors
    /// If the file itself cannot be read.
    ///
    /// ```no_run
    /// use charter_contract::Contract;
    /// use charter_source::{Disk, Limits, Location};
    ///
    /// let location = Location::Path("pilotage.wsdl".into());
    /// let contract = Contract::load(&Disk, &location, Limits::default())?;
    /// for (_, port_type) in contract.port_types.iter() {
    ///     assert!(!port_type.operations.is_empty());
    /// }
    /// # Ok::<(), charter_source::ReadError>(())
    /// ```
    pub fn load(store: &dyn Store, location: &Location, limits: Limits) -> Result<Contract, ReadError> {
        Ok(Contract::read(Files::load(store, location, limits)?))
    }

    /// Reads the components of loaded files.
    pub fn read(files: Files) -> Contract {
        let mut contract = read(files);
        crate::resolve::resolve(&mut contract);
        contract
    }
}

/// Reads all WSDL files among `files`, and the schemas in and beside them.
fn read(files: Files) -> Contract {
    let mut reader = ContractReader::new(&files);
    let mut roots = Vec::new();
    for file in files.iter() {
        let Some(root) = file.root() else { continue };
        if root.has_tag_name((ns::WSDL, "definitions")) {
            grammar::judge(file.id, root, &mut reader.faults);
            reader.definitions(file.id, root, &mut roots);
        } else if root.has_tag_name((ns::XSD, "schema")) && is_start(&files, file.id) {
            roots.push((file.id, root.id()));
        }
    }
    let mut contract = Contract {
        schemas: Schemas::read(&files, roots),
        definitions: reader.definitions,
        messages: reader.messages,
        port_types: reader.port_types,
        bindings: reader.bindings,
        services: reader.services,
        names: Names::default(),
        faults: reader.faults,
        index: crate::index::Index::default(),
        usage: OnceLock::new(),
        files,
    };
    if let DocumentKind::Other(name) = contract.kind() {
        contract.faults.push(wrong_root(&contract, &name));
    }
    contract
}

/// Whether a schema file is read for its own sake: it is the file asked for, or a WSDL import names it.
fn is_start(files: &Files, file: FileId) -> bool {
    file == files.first().id
        || files
            .imports()
            .iter()
            .any(|import| import.target == Some(file) && import.kind == charter_source::ImportKind::Contract)
}

fn wrong_root(contract: &Contract, name: &QName) -> Fault {
    let file = contract.files.first();
    let place = file.root().map_or(Place::default(), |root| tag_place(file.id, root));
    let message = format!("this is no contract: its root element is {name}");
    let help = match (&*name.namespace, &*name.local) {
        (ns::WSDL20, _) => "this is WSDL 2.0; contracts are read in WSDL 1.1".to_owned(),
        (_, "html") => "this is an HTML page: was it saved from an address that answers with one?".to_owned(),
        (ns::SOAP11_ENVELOPE | ns::SOAP12_ENVELOPE, _) => "this is a message, not its contract".to_owned(),
        _ => format!("give a file whose root is definitions in {}", ns::WSDL),
    };
    Fault::new("not-a-contract", place, message).help(help)
}

struct ContractReader<'f> {
    files: &'f Files,
    names: Interner,
    definitions: Arena<Definitions>,
    messages: Arena<Message>,
    port_types: Arena<PortType>,
    bindings: Arena<Binding>,
    services: Arena<Service>,
    faults: Vec<Fault>,
}

/// Where the components being read belong.
struct Scope {
    file: FileId,
    namespace: Arc<str>,
    definitions: DefinitionsId,
}

impl<'f> ContractReader<'f> {
    fn new(files: &'f Files) -> Self {
        ContractReader {
            files,
            names: Interner::default(),
            definitions: Arena::default(),
            messages: Arena::default(),
            port_types: Arena::default(),
            bindings: Arena::default(),
            services: Arena::default(),
            faults: Vec::new(),
        }
    }

    fn definitions(
        &mut self,
        file: FileId,
        root: Node<'_>,
        schemas: &mut Vec<(FileId, charter_source::NodeId)>,
    ) {
        let namespace = self.names.intern(root.attribute("targetNamespace").unwrap_or(""));
        let definitions = self.definitions.add(Definitions {
            file,
            name: None,
            namespace: namespace.clone(),
            place: tag_place(file, root),
            documentation: documentation(root),
            extensions: Vec::new(),
        });
        let scope = Scope { file, namespace, definitions };
        let name = self.label(&scope, root, "name");
        self.definitions[definitions].name = name;
        for child in elements(root) {
            if child.tag_name().namespace() != Some(ns::WSDL) {
                let extension = self.extension(&scope, child);
                self.definitions[definitions].extensions.push(extension);
                continue;
            }
            match child.tag_name().name() {
                "types" => schemas.extend(
                    elements(child)
                        .filter(|schema| schema.has_tag_name((ns::XSD, "schema")))
                        .map(|schema| (file, schema.id())),
                ),
                "message" => self.message(&scope, child),
                "portType" => self.port_type(&scope, child),
                "binding" => self.binding(&scope, child),
                "service" => self.service(&scope, child),
                "import" => self.import(&scope, child),
                _ => {}
            }
        }
    }

    fn import(&mut self, scope: &Scope, node: Node<'_>) {
        let Some(import) = self.files.import_at(scope.file, node.id()) else { return };
        if import.location.is_none() {
            let fault = Fault::new("import-not-found", import.place, "this import names no location");
            self.faults.push(fault.help("add a location attribute"));
        }
        let Some(file) = import.target.map(|target| self.files.get(target)) else { return };
        let Some(root) = file.root() else { return };
        if !file.has_root(ns::WSDL, "definitions") && !file.has_root(ns::XSD, "schema") {
            let name = root.tag_name().name();
            let message = format!("{} is neither a contract nor a schema: its root is {name}", file.location);
            let fault = Fault::new("import-kind", import.place, message);
            return self.faults.push(fault.help("name the file of a contract"));
        }
        let own = root.attribute("targetNamespace").unwrap_or("");
        let wanted = import.namespace.as_deref().unwrap_or("");
        if own != wanted {
            let message = format!("{} has the namespace \"{own}\", not \"{wanted}\"", file.location);
            let fault = Fault::new("import-namespace", import.place, message);
            self.faults.push(fault.help("name the namespace that the file declares as its target"));
        }
    }

    fn message(&mut self, scope: &Scope, node: Node<'_>) {
        let Some((name, place)) = self.global_name(scope, node) else { return };
        let mut parts = Vec::new();
        for child in self.wsdl_children(scope, node) {
            if child.tag_name().name() != "part" {
                continue;
            }
            let Some(name) = self.required_name(scope, child) else { continue };
            parts.push(Part {
                name,
                place: tag_place(scope.file, child),
                extent: extent(scope, child),
                element: self.reference(scope, child, "element"),
                ty: self.reference(scope, child, "type"),
                documentation: documentation(child),
            });
        }
        // Most messages have one part, and there are as many as sides of operations.
        parts.shrink_to_fit();
        let documentation = documentation(node);
        let definitions = scope.definitions;
        self.messages.add(Message {
            name,
            place,
            extent: extent(scope, node),
            definitions,
            parts,
            documentation,
        });
    }

    fn port_type(&mut self, scope: &Scope, node: Node<'_>) {
        let Some((name, place)) = self.global_name(scope, node) else { return };
        let mut operations = Vec::new();
        for child in self.wsdl_children(scope, node) {
            if child.tag_name().name() == "operation" {
                operations.extend(self.operation(scope, child));
            }
        }
        let documentation = documentation(node);
        let definitions = scope.definitions;
        let extent = extent(scope, node);
        self.port_types.add(PortType { name, place, extent, definitions, operations, documentation });
    }

    fn operation(&mut self, scope: &Scope, node: Node<'_>) -> Option<Operation> {
        let name = self.required_name(scope, node)?;
        let mut operation = Operation {
            name,
            place: tag_place(scope.file, node),
            extent: extent(scope, node),
            pattern: Pattern::Empty,
            parameter_order: self.labels(scope, node, "parameterOrder").unwrap_or_default(),
            input: None,
            output: None,
            faults: Vec::new(),
            documentation: documentation(node),
        };
        for child in self.wsdl_children(scope, node) {
            let side = child.tag_name().name();
            let taken = match side {
                "input" => operation.input.is_some(),
                "output" => operation.output.is_some(),
                "fault" => false,
                _ => true,
            };
            if taken {
                continue;
            }
            let usage = self.message_use(scope, child);
            operation.pattern = match (operation.pattern, side) {
                (Pattern::Empty, "input") => Pattern::OneWay,
                (Pattern::Empty, "output") => Pattern::Notification,
                (Pattern::OneWay, "output") => Pattern::RequestResponse,
                (Pattern::Notification, "input") => Pattern::SolicitResponse,
                (pattern, _) => pattern,
            };
            match side {
                "input" => operation.input = Some(usage),
                "output" => operation.output = Some(usage),
                _ => operation.faults.push(usage),
            }
        }
        Some(operation)
    }

    fn message_use(&mut self, scope: &Scope, node: Node<'_>) -> MessageUse {
        let place = tag_place(scope.file, node);
        let message = self.reference(scope, node, "message").unwrap_or_else(|| {
            let side = node.tag_name().name();
            let fault = Fault::new("message-unknown", place, format!("this {side} names no message"));
            self.faults.push(fault.help("add a message attribute"));
            Ref { name: None, place, target: None }
        });
        MessageUse {
            name: self.label(scope, node, "name"),
            message,
            place,
            extent: extent(scope, node),
            documentation: documentation(node),
        }
    }

    fn binding(&mut self, scope: &Scope, node: Node<'_>) {
        let Some((name, place)) = self.global_name(scope, node) else { return };
        let port_type = self.reference(scope, node, "type").unwrap_or_else(|| {
            let fault = Fault::new("port-type-unknown", place, "this binding names no port type");
            self.faults.push(fault.help("add a type attribute that names a port type"));
            Ref { name: None, place, target: None }
        });
        let extensions = self.extensions(scope, node);
        let mut operations = Vec::new();
        for child in self.wsdl_children(scope, node) {
            if child.tag_name().name() == "operation" {
                operations.extend(self.binding_operation(scope, child));
            }
        }
        self.bindings.add(Binding {
            name,
            place,
            extent: extent(scope, node),
            definitions: scope.definitions,
            port_type,
            extensions,
            operations,
            documentation: documentation(node),
        });
    }

    fn binding_operation(&mut self, scope: &Scope, node: Node<'_>) -> Option<BindingOperation> {
        let name = self.required_name(scope, node)?;
        let mut operation = BindingOperation {
            name,
            place: tag_place(scope.file, node),
            extent: extent(scope, node),
            operation: None,
            extensions: self.extensions(scope, node),
            input: None,
            output: None,
            faults: Vec::new(),
            documentation: documentation(node),
        };
        for child in self.wsdl_children(scope, node) {
            let message = BindingMessage {
                name: self.label(scope, child, "name"),
                fault: None,
                place: tag_place(scope.file, child),
                extent: extent(scope, child),
                extensions: self.extensions(scope, child),
            };
            match child.tag_name().name() {
                "input" if operation.input.is_none() => operation.input = Some(message),
                "output" if operation.output.is_none() => operation.output = Some(message),
                "fault" => operation.faults.push(message),
                _ => {}
            }
        }
        Some(operation)
    }

    fn service(&mut self, scope: &Scope, node: Node<'_>) {
        let Some((name, place)) = self.global_name(scope, node) else { return };
        let mut ports = Vec::new();
        for child in self.wsdl_children(scope, node) {
            if child.tag_name().name() != "port" {
                continue;
            }
            let Some(name) = self.required_name(scope, child) else { continue };
            let binding = self.reference(scope, child, "binding").unwrap_or_else(|| {
                let fault = Fault::new("binding-unknown", name.place, "this port names no binding");
                self.faults.push(fault.help("add a binding attribute"));
                Ref { name: None, place: name.place, target: None }
            });
            ports.push(Port {
                name,
                place: tag_place(scope.file, child),
                extent: extent(scope, child),
                binding,
                extensions: self.extensions(scope, child),
                documentation: documentation(child),
            });
        }
        let documentation = documentation(node);
        let definitions = scope.definitions;
        self.services.add(Service {
            name,
            place,
            extent: extent(scope, node),
            definitions,
            ports,
            documentation,
        });
    }

    /// The child elements in the WSDL namespace, without documentation.
    fn wsdl_children<'a>(&mut self, _: &Scope, node: Node<'a>) -> Vec<Node<'a>> {
        let own = |child: &Node<'a>| child.tag_name().namespace() == Some(ns::WSDL);
        elements(node).filter(own).filter(|child| child.tag_name().name() != "documentation").collect()
    }

    fn extensions(&mut self, scope: &Scope, node: Node<'_>) -> Vec<Extension> {
        let other = |child: &Node<'_>| child.tag_name().namespace() != Some(ns::WSDL);
        let mut found: Vec<Extension> =
            elements(node).filter(other).map(|child| self.extension(scope, child)).collect();
        // Most have one, and there are three for each bound operation.
        found.shrink_to_fit();
        found
    }

    fn label(&mut self, scope: &Scope, node: Node<'_>, attribute: &str) -> Option<Label> {
        let attribute = node.attribute_node(attribute)?;
        let text = self.names.intern(attribute.value().trim());
        Some(Label { text, place: attribute_place(scope.file, &attribute) })
    }

    /// The tokens of an attribute.
    fn labels(&mut self, scope: &Scope, node: Node<'_>, attribute: &str) -> Option<Vec<Label>> {
        let attribute = node.attribute_node(attribute)?;
        let tokens = qname_tokens(scope.file, node, &attribute);
        Some(tokens.map(|(token, place)| Label { text: self.names.intern(token), place }).collect())
    }

    fn required_name(&mut self, scope: &Scope, node: Node<'_>) -> Option<Label> {
        let Some(label) = self.label(scope, node, "name") else {
            let message = format!("this {} has no name", node.tag_name().name());
            let fault = Fault::new("wsdl-name", tag_place(scope.file, node), message);
            self.faults.push(fault.help("add a name attribute"));
            return None;
        };
        if !is_ncname(&label.text) {
            let fault = Fault::new("name-syntax", label.place, format!("\"{}\" is not a name", label.text));
            self.faults.push(fault.help("begin with a letter or _, go on with letters, digits, -, _ and ."));
        }
        Some(label)
    }

    fn global_name(&mut self, scope: &Scope, node: Node<'_>) -> Option<(QName, Place)> {
        let label = self.required_name(scope, node)?;
        Some((QName { namespace: scope.namespace.clone(), local: label.text }, label.place))
    }

    fn reference<T>(&mut self, scope: &Scope, node: Node<'_>, attribute: &str) -> Option<Ref<T>> {
        let attribute = node.attribute_node(attribute)?;
        let (token, place) = qname_tokens(scope.file, node, &attribute)
            .next()
            .unwrap_or(("", attribute_place(scope.file, &attribute)));
        Some(match resolve_qname(&mut self.names, node, token) {
            Ok(name) => Ref::named(self.names.shared(name), place),
            Err(prefix) => {
                let message = format!("the prefix \"{prefix}\" is not declared");
                let help = format!("add xmlns:{prefix}=\"…\" to this element or to one around it");
                self.faults.push(Fault::new("xml-prefix", place, message).help(help));
                Ref { name: None, place, target: None }
            }
        })
    }
}

fn extent(scope: &Scope, node: Node<'_>) -> Place {
    Place { file: scope.file, span: node.range().into() }
}

/// The text of the `wsdl:documentation` of an element.
fn documentation(node: Node<'_>) -> Option<String> {
    let texts: Vec<String> = elements(node)
        .filter(|child| child.has_tag_name((ns::WSDL, "documentation")))
        .map(text_of)
        .filter(|text| !text.is_empty())
        .collect();
    (!texts.is_empty()).then(|| texts.join("\n"))
}

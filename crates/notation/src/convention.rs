//! The naming convention: the names that need not be said, because they follow from others.

use charter_contract::Contract;

/// The names that follow from others, as patterns in which `*` stands for what they follow from.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Convention {
    /// The port type of a contract.
    pub port_type: String,
    /// Its SOAP 1.1 binding.
    pub binding: String,
    /// Its SOAP 1.2 binding.
    pub binding_12: String,
    /// Its binding to HTTP GET.
    pub binding_get: String,
    /// Its binding to HTTP POST.
    pub binding_post: String,
    /// Its service.
    pub service: String,
    /// The port of a binding, after what the name of the binding adds to that of the contract.
    pub port: String,
    /// The element in the body of a request, after the operation.
    pub request_element: String,
    /// The element in the body of a reply, after the operation.
    pub reply_element: String,
    /// The element that reports a fault, after the fault.
    pub fault_element: String,
    /// The message of a request, after the operation.
    pub request_message: String,
    /// The message of a reply, after the operation.
    pub reply_message: String,
    /// The message of a fault, after the fault.
    pub fault_message: String,
    /// The message of a header block, after its element.
    pub header_message: String,
    /// The part of a request or reply that holds its element.
    pub part: String,
    /// The part of a fault.
    pub fault_part: String,
    /// Types, after what they are.
    pub ty: String,
}

impl Default for Convention {
    fn default() -> Self {
        let text = str::to_owned;
        Convention {
            port_type: text("*"),
            binding: text("*OverSoap11"),
            binding_12: text("*OverSoap12"),
            binding_get: text("*OverGet"),
            binding_post: text("*OverPost"),
            service: text("*Service"),
            port: text("*Port"),
            request_element: text("*"),
            reply_element: text("*Response"),
            fault_element: text("*"),
            request_message: text("*Input"),
            reply_message: text("*Output"),
            fault_message: text("*Fault"),
            header_message: text("*Header"),
            part: text("parameters"),
            fault_part: text("fault"),
            ty: text("*"),
        }
    }
}

/// Which side of an operation a name is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum SideKind {
    /// The request.
    Input,
    /// The reply.
    Output,
    /// A fault.
    Fault,
}

impl Convention {
    /// A name after another.
    pub fn apply(pattern: &str, stem: &str) -> String {
        pattern.replace('*', stem)
    }

    /// The element in the body of a side; that of a fault is named after the fault.
    pub fn element(&self, name: &str, side: SideKind) -> String {
        let pattern = match side {
            SideKind::Input => &self.request_element,
            SideKind::Output => &self.reply_element,
            SideKind::Fault => &self.fault_element,
        };
        Self::apply(pattern, name)
    }

    /// The message of a side; that of a fault is named after the fault.
    pub fn message(&self, name: &str, side: SideKind) -> String {
        let pattern = match side {
            SideKind::Input => &self.request_message,
            SideKind::Output => &self.reply_message,
            SideKind::Fault => &self.fault_message,
        };
        Self::apply(pattern, name)
    }

    /// The part of a side that holds its element.
    pub fn part(&self, side: SideKind) -> &str {
        match side {
            SideKind::Input | SideKind::Output => &self.part,
            SideKind::Fault => &self.fault_part,
        }
    }

    /// The patterns by the names that they go by in `charter.toml`.
    pub fn table(&mut self) -> [(&'static str, &mut String); 17] {
        [
            ("port-type", &mut self.port_type),
            ("binding", &mut self.binding),
            ("binding-soap12", &mut self.binding_12),
            ("binding-http-get", &mut self.binding_get),
            ("binding-http-post", &mut self.binding_post),
            ("service", &mut self.service),
            ("port", &mut self.port),
            ("request-element", &mut self.request_element),
            ("reply-element", &mut self.reply_element),
            ("fault-element", &mut self.fault_element),
            ("request-message", &mut self.request_message),
            ("reply-message", &mut self.reply_message),
            ("fault-message", &mut self.fault_message),
            ("header-message", &mut self.header_message),
            ("part", &mut self.part),
            ("fault-part", &mut self.fault_part),
            ("type", &mut self.ty),
        ]
    }
}

/// The name of the whole contract: that of its definitions, else of its first port type or service.
pub fn contract_name(contract: &Contract) -> String {
    let definitions = contract.definitions.iter().next().and_then(|(_, first)| first.name.as_ref());
    let port_type = contract.port_types.iter().next().map(|(_, first)| &first.name.local);
    let service = contract.services.iter().next().map(|(_, first)| &first.name.local);
    let name = definitions.map(|name| &name.text).or(port_type).or(service);
    name.map_or_else(|| "Contract".to_owned(), |name| name.to_string())
}

/// The action of an operation.
pub fn action(namespace: &str, operation: &str) -> String {
    let separator = match namespace {
        urn if urn.starts_with("urn:") => ":",
        slash if slash.ends_with('/') => "",
        _ => "/",
    };
    format!("{namespace}{separator}{operation}")
}

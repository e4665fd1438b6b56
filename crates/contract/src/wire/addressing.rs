//! The action of a message by WS-Addressing 1.0 (Metadata, section 4.4).

use charter_source::ns;

use crate::{Contract, OperationId, Side};

impl Contract {
    /// The action that WS-Addressing gives a side of an operation: the one that the port type names, else that of SOAP
    /// if there is one, else the one that follows from the names.
    pub fn addressing_action(&self, id: OperationId, side: Side, soap_action: Option<&str>) -> String {
        let operation = self.operation(id);
        let usage = operation.side(side);
        if let Some(action) = usage.and_then(|usage| self.named_action(usage.extent)) {
            return action;
        }
        if let Some(action) = soap_action.filter(|action| !action.is_empty()) {
            return action.to_owned();
        }
        let port_type = &self.port_types[id.port_type];
        let namespace = &*port_type.name.namespace;
        let delimiter = if namespace.starts_with("urn:") { ":" } else { "/" };
        let trimmed = namespace.strip_suffix(delimiter).unwrap_or(namespace);
        let last = match side {
            Side::Input => operation.input_name().unwrap_or_default(),
            Side::Output => operation.output_name().unwrap_or_default(),
            Side::Fault(_) => {
                let name = usage.and_then(|usage| usage.name.as_ref()).map_or("", |name| &name.text);
                format!("{}{delimiter}Fault{delimiter}{name}", operation.name.text)
            }
        };
        format!("{trimmed}{delimiter}{}{delimiter}{last}", port_type.name.local)
    }

    /// The action that an attribute of an input, an output or a fault names.
    fn named_action(&self, extent: charter_source::Place) -> Option<String> {
        let root = self.files.get(extent.file).root()?;
        let node = charter_source::element_at(root, extent.span.start)?;
        let action = node.attribute((ns::WSAM, "Action")).or_else(|| node.attribute((ns::WSAW, "Action")));
        action.map(|action| action.trim().to_owned())
    }
}

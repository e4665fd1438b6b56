//! The components of WSDL 1.1, section 2.

use std::sync::Arc;

use charter_schema::Ref;
use charter_source::{FileId, Place, QName};

use crate::{DefinitionsId, Extension, Label, Message, Side};

/// `wsdl:definitions` (2.1): one for each file of the contract.
#[derive(Debug, Clone)]
pub struct Definitions {
    /// Its file.
    pub file: FileId,
    /// Its name, if it has one.
    pub name: Option<Label>,
    /// Its target namespace; empty if it has none.
    pub namespace: Arc<str>,
    /// Its start tag.
    pub place: Place,
    /// What its author says about it.
    pub documentation: Option<String>,
    /// Extension elements, such as policies.
    pub extensions: Vec<Extension>,
}

/// `wsdl:portType` (2.4).
#[derive(Debug, Clone)]
pub struct PortType {
    /// Its name.
    pub name: QName,
    /// Its name in the text.
    pub place: Place,
    /// The whole element.
    pub extent: Place,
    /// Where it is defined.
    pub definitions: DefinitionsId,
    /// Its operations.
    pub operations: Vec<Operation>,
    /// What its author says about it.
    pub documentation: Option<String>,
}

/// The transmission patterns (2.4.1 to 2.4.4).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Pattern {
    /// Only an input.
    OneWay,
    /// Input, then output.
    RequestResponse,
    /// Output, then input.
    SolicitResponse,
    /// Only an output.
    Notification,
    /// Neither.
    Empty,
}

/// `wsdl:operation` of a port type.
#[derive(Debug, Clone)]
pub struct Operation {
    /// Its name.
    pub name: Label,
    /// The start tag.
    pub place: Place,
    /// The whole element.
    pub extent: Place,
    /// Which side speaks, and in which order.
    pub pattern: Pattern,
    /// The part names in the order of a signature (2.4.6).
    pub parameter_order: Vec<Label>,
    /// What goes to the service.
    pub input: Option<MessageUse>,
    /// What comes from the service.
    pub output: Option<MessageUse>,
    /// What comes instead of an output.
    pub faults: Vec<MessageUse>,
    /// What its author says about it.
    pub documentation: Option<String>,
}

/// The sides that are there: input, output, then faults.
fn sides<'m, T>(
    input: &'m Option<T>,
    output: &'m Option<T>,
    faults: &'m [T],
) -> impl Iterator<Item = (Side, &'m T)> {
    let input = input.iter().map(|input| (Side::Input, input));
    let output = output.iter().map(|output| (Side::Output, output));
    input.chain(output).chain(faults.iter().enumerate().map(|(index, fault)| (Side::Fault(index), fault)))
}

impl Operation {
    /// The sides that it has: input, output, then faults.
    pub fn sides(&self) -> impl Iterator<Item = (Side, &MessageUse)> {
        sides(&self.input, &self.output, &self.faults)
    }

    /// One of its sides.
    pub fn side(&self, side: Side) -> Option<&MessageUse> {
        match side {
            Side::Input => self.input.as_ref(),
            Side::Output => self.output.as_ref(),
            Side::Fault(index) => self.faults.get(index),
        }
    }

    /// The name of its input: its own, or the default of section 2.4.5.
    pub fn input_name(&self) -> Option<String> {
        let input = self.input.as_ref()?;
        Some(match &input.name {
            Some(name) => name.text.to_string(),
            None if self.output.is_none() => self.name.text.to_string(),
            None if self.pattern == Pattern::SolicitResponse => format!("{}Response", self.name.text),
            None => format!("{}Request", self.name.text),
        })
    }

    /// The name of its output: its own, or the default of section 2.4.5.
    pub fn output_name(&self) -> Option<String> {
        let output = self.output.as_ref()?;
        Some(match &output.name {
            Some(name) => name.text.to_string(),
            None if self.input.is_none() => self.name.text.to_string(),
            None if self.pattern == Pattern::SolicitResponse => format!("{}Solicit", self.name.text),
            None => format!("{}Response", self.name.text),
        })
    }
}

/// `wsdl:input`, `wsdl:output` or `wsdl:fault` of a port type's operation.
#[derive(Debug, Clone)]
pub struct MessageUse {
    /// Its name.
    pub name: Option<Label>,
    /// Its message.
    pub message: Ref<Message>,
    /// The start tag.
    pub place: Place,
    /// The whole element.
    pub extent: Place,
    /// What its author says about it.
    pub documentation: Option<String>,
}

/// `wsdl:binding` (2.5).
#[derive(Debug, Clone)]
pub struct Binding {
    /// Its name.
    pub name: QName,
    /// Its name in the text.
    pub place: Place,
    /// The whole element.
    pub extent: Place,
    /// Where it is defined.
    pub definitions: DefinitionsId,
    /// The port type that it binds.
    pub port_type: Ref<PortType>,
    /// The protocol.
    pub extensions: Vec<Extension>,
    /// Its operations.
    pub operations: Vec<BindingOperation>,
    /// What its author says about it.
    pub documentation: Option<String>,
}

/// `wsdl:operation` of a binding.
#[derive(Debug, Clone)]
pub struct BindingOperation {
    /// Its name.
    pub name: Label,
    /// The start tag.
    pub place: Place,
    /// The whole element.
    pub extent: Place,
    /// Which operation of the port type it binds.
    pub operation: Option<usize>,
    /// How the operation is bound.
    pub extensions: Vec<Extension>,
    /// How its input is bound.
    pub input: Option<BindingMessage>,
    /// How its output is bound.
    pub output: Option<BindingMessage>,
    /// How its faults are bound.
    pub faults: Vec<BindingMessage>,
    /// What its author says about it.
    pub documentation: Option<String>,
}

impl BindingOperation {
    /// The sides that it binds: input, output, then faults.
    pub fn sides(&self) -> impl Iterator<Item = (Side, &BindingMessage)> {
        sides(&self.input, &self.output, &self.faults)
    }

    /// One of its sides.
    pub fn side(&self, side: Side) -> Option<&BindingMessage> {
        match side {
            Side::Input => self.input.as_ref(),
            Side::Output => self.output.as_ref(),
            Side::Fault(index) => self.faults.get(index),
        }
    }
}

/// `wsdl:input`, `wsdl:output` or `wsdl:fault` of a binding's operation.
#[derive(Debug, Clone)]
pub struct BindingMessage {
    /// Its name.
    pub name: Option<Label>,
    /// Of a fault, which of those of the port type's operation it binds.
    pub fault: Option<u32>,
    /// The start tag.
    pub place: Place,
    /// The whole element.
    pub extent: Place,
    /// How it is written on the wire.
    pub extensions: Vec<Extension>,
}

/// `wsdl:service` (2.7).
#[derive(Debug, Clone)]
pub struct Service {
    /// Its name.
    pub name: QName,
    /// Its name in the text.
    pub place: Place,
    /// The whole element.
    pub extent: Place,
    /// Where it is defined.
    pub definitions: DefinitionsId,
    /// Its ports.
    pub ports: Vec<Port>,
    /// What its author says about it.
    pub documentation: Option<String>,
}

/// `wsdl:port` (2.6).
#[derive(Debug, Clone)]
pub struct Port {
    /// Its name.
    pub name: Label,
    /// The start tag.
    pub place: Place,
    /// The whole element.
    pub extent: Place,
    /// Its binding.
    pub binding: Ref<crate::Binding>,
    /// Its address.
    pub extensions: Vec<Extension>,
    /// What its author says about it.
    pub documentation: Option<String>,
}

impl Port {
    /// The address that it names for SOAP or HTTP.
    pub fn address(&self) -> Option<&Label> {
        self.extensions.iter().find_map(Extension::address)
    }
}

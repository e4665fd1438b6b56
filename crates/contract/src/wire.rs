//! The wire shape: what one side of one operation really looks like on the network.

use charter_schema::{ElementId, TypeId};
use charter_source::{Place, QName};

use crate::{
    BindingId, BindingMessage, BindingOperation, Contract, Extension, ExtensionKind, HeaderExtension, Label,
    Message, OperationId, PortId, Side, SoapVersion, Style, UseKind,
};

/// What one side of one operation looks like on the network, bound by one port.
#[derive(Debug, Clone)]
pub struct WireShape {
    /// The operation.
    pub operation: OperationId,
    /// Which side.
    pub side: Side,
    /// The binding that decides.
    pub binding: BindingId,
    /// The port that offers it; `None` if no port uses the binding.
    pub port: Option<PortId>,
    /// Where the port is.
    pub address: Option<String>,
    /// The HTTP method.
    pub method: &'static str,
    /// The URI of the transport.
    pub transport: Option<String>,
    /// The version of the envelope.
    pub soap: SoapVersion,
    /// The style of the body.
    pub style: Style,
    /// The action URI; only a request carries it.
    pub action: Option<String>,
    /// The header blocks, in the order of the binding.
    pub headers: Vec<HeaderBlock>,
    /// What stands in the body, or in the detail of the fault.
    pub body: Body,
    /// Set if this is a fault: its body stands inside `Fault`.
    pub fault: Option<FaultShape>,
}

/// A fault on the wire.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct FaultShape {
    /// The name of the fault in the operation.
    pub name: String,
}

/// A header block.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct HeaderBlock {
    /// What it is.
    pub content: WireElement,
    /// The message part that declares it.
    pub part: String,
    /// Where the binding calls for it.
    pub place: Place,
}

/// An element on the wire.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum WireElement {
    /// One that a schema declares.
    Declared(ElementId),
    /// One that the binding names and a type fills.
    Typed {
        /// Its name.
        name: QName,
        /// Its type.
        ty: TypeId,
    },
}

/// The content of a body.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Body {
    /// Document style: one element for each part.
    Elements(Vec<WireElement>),
    /// Document style with a single part that names a type: the body element itself has that type.
    Content(TypeId),
    /// Rpc style: a wrapper with an accessor, in no namespace, for each part (Basic Profile 1.1, R2735).
    Wrapper {
        /// The name of the wrapper.
        name: QName,
        /// The accessors in order.
        parts: Vec<RpcPart>,
    },
}

/// An accessor of an rpc body.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RpcPart {
    /// The name of the part.
    pub name: String,
    /// Its type.
    pub ty: TypeId,
    /// Where the part is declared.
    pub place: Place,
}

/// Why a side of an operation has no wire shape.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{reason}")]
pub struct Unshaped {
    /// What is in the way.
    pub reason: String,
    /// Where.
    pub place: Place,
}

fn unshaped<T>(reason: impl Into<String>, place: Place) -> Result<T, Unshaped> {
    Err(Unshaped { reason: reason.into(), place })
}

/// An operation as a binding has it, and the port that offers it.
#[derive(Debug, Clone, Copy)]
pub struct Bound<'c> {
    /// The binding.
    pub binding: BindingId,
    /// The operation in it.
    pub operation: &'c BindingOperation,
    /// The port; `None` if no port uses the binding.
    pub port: Option<PortId>,
}

impl Contract {
    /// The ways in which an operation is offered: by each port of each service, then by bindings without port.
    pub fn bound(&self, id: OperationId) -> impl Iterator<Item = Bound<'_>> {
        self.offers(id).iter().map(|offer| Bound {
            binding: offer.binding,
            operation: &self.bindings[offer.binding].operations[offer.bound],
            port: offer.port,
        })
    }

    /// The sides that an operation has.
    pub fn sides(&self, id: OperationId) -> Vec<Side> {
        self.operation(id).sides().map(|(side, _)| side).collect()
    }

    /// A side of an operation as a person names it: `input`, `output`, or `fault` and its name.
    pub fn side_name(&self, id: OperationId, side: Side) -> String {
        let name = self.operation(id).side(side).and_then(|usage| usage.name.as_ref());
        match (side, name) {
            (Side::Input, _) => "input".to_owned(),
            (Side::Output, _) => "output".to_owned(),
            (Side::Fault(_), Some(name)) => format!("fault {}", name.text),
            (Side::Fault(_), None) => "fault".to_owned(),
        }
    }

    /// The wire shape of a side of an operation, as the first port offers it whose binding is SOAP; or as the
    /// given port does.
    ///
    /// # Errors
    /// If the operation is not bound, or bound in a way whose wire shape is not known.
    pub fn wire_shape(
        &self,
        id: OperationId,
        side: Side,
        port: Option<PortId>,
    ) -> Result<WireShape, Unshaped> {
        let mut first_error = None;
        for bound in self.bound(id).filter(|bound| port.is_none() || bound.port == port) {
            match self.shape(id, side, bound) {
                Ok(shape) => return Ok(shape),
                Err(error) => drop(first_error.get_or_insert(error)),
            }
        }
        let operation = self.operation(id);
        let unbound = || Unshaped {
            reason: format!("no binding offers the operation \"{}\"", operation.name.text),
            place: operation.place,
        };
        Err(first_error.unwrap_or_else(unbound))
    }

    fn shape(&self, id: OperationId, side: Side, offer: Bound<'_>) -> Result<WireShape, Unshaped> {
        let Bound { binding, operation: bound, port } = offer;
        let Some((soap, default_style)) = self.protocol(binding) else {
            let definition = &self.bindings[binding];
            let reason = format!("the binding \"{}\" is not a SOAP binding", definition.name.local);
            return unshaped(reason, definition.place);
        };
        let (action, own_style) = soap_operation(bound);
        let style = own_style.unwrap_or(default_style);
        let message = self.side_message(id, side)?;
        let address = port.and_then(|port| self.port(port).address());
        let mut shape = WireShape {
            operation: id,
            side,
            binding,
            port,
            address: address.map(|label| label.text.to_string()),
            method: "POST",
            transport: self.transport(binding),
            soap,
            style,
            action: (side == Side::Input).then(|| action.map(|label| label.text.to_string())).flatten(),
            headers: Vec::new(),
            body: Body::Elements(Vec::new()),
            fault: None,
        };
        let extensions = match side {
            Side::Input => side_extensions(bound.input.as_ref()),
            Side::Output => side_extensions(bound.output.as_ref()),
            Side::Fault(index) => {
                let name = self.operation(id).faults[index].name.as_ref().map_or("", |name| &name.text);
                shape.fault = Some(FaultShape { name: name.to_owned() });
                shape.body = self.elements_of(message, None)?;
                return Ok(shape);
            }
        };
        for extension in extensions {
            match &extension.kind {
                ExtensionKind::SoapHeader(header) => shape.headers.push(self.header_block(header)?),
                ExtensionKind::MimeMultipart(_) => {
                    return unshaped("the message is multipart", extension.place);
                }
                _ => {}
            }
        }
        let body = extensions.iter().find_map(|extension| match &extension.kind {
            ExtensionKind::SoapBody(body) => Some((body, extension.place)),
            _ => None,
        });
        if let Some((body, place)) = body
            && body.use_kind == Some(UseKind::Encoded)
        {
            return unshaped("the body is encoded, not literal", place);
        }
        let parts = body.and_then(|(body, _)| body.parts.as_deref());
        shape.body = match style {
            Style::Document => self.elements_of(message, parts)?,
            Style::Rpc => {
                let namespace = body.and_then(|(body, _)| body.namespace.as_ref());
                self.wrapper_of(id, side, message, parts, namespace)?
            }
        };
        Ok(shape)
    }

    /// The SOAP version and default style of a binding.
    pub fn protocol(&self, binding: BindingId) -> Option<(SoapVersion, Style)> {
        self.bindings[binding].extensions.iter().find_map(|extension| match &extension.kind {
            ExtensionKind::SoapBinding { version, style, .. } => {
                Some((*version, style.unwrap_or(Style::Document)))
            }
            _ => None,
        })
    }

    /// Whether a binding is one to plain HTTP.
    pub fn is_http(&self, binding: BindingId) -> bool {
        let extensions = &self.bindings[binding].extensions;
        extensions.iter().any(|extension| matches!(extension.kind, ExtensionKind::HttpBinding { .. }))
    }

    fn transport(&self, binding: BindingId) -> Option<String> {
        self.bindings[binding].extensions.iter().find_map(|extension| match &extension.kind {
            ExtensionKind::SoapBinding { transport, .. } => {
                transport.as_ref().map(|label| label.text.to_string())
            }
            _ => None,
        })
    }

    /// The message of a side of an operation.
    fn side_message(&self, id: OperationId, side: Side) -> Result<&Message, Unshaped> {
        let operation = self.operation(id);
        let usage = operation.side(side);
        let what = match side {
            Side::Input => "input",
            Side::Output => "output",
            Side::Fault(_) => "fault",
        };
        let Some(usage) = usage else {
            return unshaped(
                format!("the operation \"{}\" has no {what}", operation.name.text),
                operation.place,
            );
        };
        match usage.message.target {
            Some(message) => Ok(&self.messages[message]),
            None => unshaped(format!("the message of this {what} is not known"), usage.place),
        }
    }

    fn header_block(&self, header: &HeaderExtension) -> Result<HeaderBlock, Unshaped> {
        let message = header.message.target.map(|id| &self.messages[id]);
        let label = header.part.as_ref();
        let part = message
            .zip(label)
            .and_then(|(message, label)| message.parts.iter().find(|part| part.name.text == label.text));
        let Some(part) = part else { return unshaped("the part of this header is not known", header.place) };
        let content = self.wire_element(part, "")?;
        Ok(HeaderBlock { content, part: part.name.text.to_string(), place: header.place })
    }

    fn wire_element(&self, part: &crate::Part, namespace: &str) -> Result<WireElement, Unshaped> {
        if let Some(element) = &part.element {
            return match element.target {
                Some(element) => Ok(WireElement::Declared(element)),
                None => unshaped(
                    format!("the element of the part \"{}\" is not known", part.name.text),
                    part.place,
                ),
            };
        }
        match part.ty.as_ref().and_then(|ty| ty.target) {
            Some(ty) => Ok(WireElement::Typed { name: QName::new(namespace, &part.name.text), ty }),
            None => unshaped(format!("the type of the part \"{}\" is not known", part.name.text), part.place),
        }
    }

    fn elements_of(&self, message: &Message, parts: Option<&[Label]>) -> Result<Body, Unshaped> {
        let chosen = chosen_parts(message, parts);
        if let [only] = chosen.as_slice()
            && only.element.is_none()
            && let Some(ty) = only.ty.as_ref().and_then(|ty| ty.target)
        {
            return Ok(Body::Content(ty));
        }
        let elements = chosen.into_iter().map(|part| self.wire_element(part, ""));
        Ok(Body::Elements(elements.collect::<Result<_, _>>()?))
    }

    fn wrapper_of(
        &self,
        id: OperationId,
        side: Side,
        message: &Message,
        parts: Option<&[Label]>,
        namespace: Option<&Label>,
    ) -> Result<Body, Unshaped> {
        let operation = &self.operation(id).name.text;
        let local = match side {
            Side::Output => format!("{operation}Response"),
            _ => operation.to_string(),
        };
        let accessors = chosen_parts(message, parts).into_iter().map(|part| {
            let of_element = part.element.as_ref().and_then(|element| element.target);
            let ty = part.ty.as_ref().and_then(|ty| ty.target);
            match ty.or(of_element.map(|element| self.schemas.element_type(element))) {
                Some(ty) => Ok(RpcPart { name: part.name.text.to_string(), ty, place: part.place }),
                None => {
                    unshaped(format!("the type of the part \"{}\" is not known", part.name.text), part.place)
                }
            }
        });
        Ok(Body::Wrapper {
            name: QName::new(namespace.map_or("", |namespace| &namespace.text), &local),
            parts: accessors.collect::<Result<_, _>>()?,
        })
    }
}

fn side_extensions(side: Option<&BindingMessage>) -> &[Extension] {
    side.map_or(&[], |side| side.extensions.as_slice())
}

/// The action and style that `soap:operation` names.
fn soap_operation(bound: &BindingOperation) -> (Option<&Label>, Option<Style>) {
    let found = bound.extensions.iter().find_map(|extension| match &extension.kind {
        ExtensionKind::SoapOperation { action, style, .. } => Some((action.as_ref(), *style)),
        _ => None,
    });
    found.unwrap_or((None, None))
}

/// The parts that a body names, or all of them.
fn chosen_parts<'m>(message: &'m Message, parts: Option<&[Label]>) -> Vec<&'m crate::Part> {
    match parts {
        None => message.parts.iter().collect(),
        Some(labels) => labels
            .iter()
            .filter_map(|label| message.parts.iter().find(|part| part.name.text == label.text))
            .collect(),
    }
}

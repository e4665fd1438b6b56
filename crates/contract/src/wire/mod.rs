//! The wire shape: what one side of one operation really looks like on the network.
//!
//! [`Contract::wire_shape`] reads a binding once and for all: `soap.rs` what an envelope carries, `http.rs` what plain
//! HTTP does, `media.rs` the parts of a multipart message. Whoever deals with messages asks here.

mod addressing;
mod http;
mod media;
mod shape;
mod soap;

pub use shape::{
    Body, Carrier, Direction, FaultShape, HeaderBlock, HttpContent, HttpShape, MediaPart, RpcPart, SoapShape,
    Unshaped, WireElement, WireShape,
};

use std::sync::Arc;

use charter_source::{Place, QName};

use crate::{
    BindingId, BindingMessage, BindingOperation, Contract, Extension, ExtensionKind, Label, Message,
    OperationId, Part, Pattern, PortId, Side, SoapVersion, Style,
};

fn unshaped<T>(reason: impl Into<String>, place: Place) -> Result<T, Unshaped> {
    Err(Unshaped { reason: reason.into(), place, is_lost: false })
}

/// The same where a reference leads nowhere.
fn lost<T>(reason: impl Into<String>, place: Place) -> Result<T, Unshaped> {
    Err(Unshaped { reason: reason.into(), place, is_lost: true })
}

/// An operation as a binding has it, and the port that offers it.
#[derive(Debug, Clone, Copy)]
pub struct Bound<'c> {
    /// The binding.
    pub binding: BindingId,
    /// The operation in it.
    pub operation: &'c BindingOperation,
    /// The place of the operation among those of the binding.
    pub index: usize,
    /// The port; `None` if no port uses the binding.
    pub port: Option<PortId>,
}

impl Contract {
    /// The ways in which an operation is offered: by each port of each service, then by bindings without port.
    pub fn bound(&self, id: OperationId) -> impl Iterator<Item = Bound<'_>> {
        self.offers(id).iter().map(|offer| Bound {
            binding: offer.binding,
            operation: &self.bindings[offer.binding].operations[offer.bound],
            index: offer.bound,
            port: offer.port,
        })
    }

    /// What offers an operation, as people call it: the port, or the binding that no port uses.
    pub fn offered_by(&self, port: Option<PortId>, binding: BindingId) -> &Arc<str> {
        match port {
            Some(port) => &self.port(port).name.text,
            None => &self.bindings[binding].name.local,
        }
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

    /// The wire shape of a side of an operation, as the first port offers it that has one, those of SOAP before those
    /// of plain HTTP; or as the given port does.
    ///
    /// # Errors
    /// If the operation is not bound, or the binding does not say what goes over the wire.
    pub fn wire_shape(
        &self,
        id: OperationId,
        side: Side,
        port: Option<PortId>,
    ) -> Result<WireShape, Unshaped> {
        let mut first_error = None;
        let mut ways: Vec<Bound<'_>> =
            self.bound(id).filter(|bound| port.is_none() || bound.port == port).collect();
        ways.sort_by_key(|bound| self.protocol(bound.binding).is_none());
        for bound in ways {
            match self.shape_of(id, side, bound) {
                Ok(shape) => return Ok(shape),
                Err(error) => drop(first_error.get_or_insert(error)),
            }
        }
        let operation = self.operation(id);
        let unbound = || Unshaped {
            reason: format!("no binding offers the operation \"{}\"", operation.name.text),
            place: operation.place,
            is_lost: false,
        };
        Err(first_error.unwrap_or_else(unbound))
    }

    /// The wire shape of a side of an operation in one of the ways in which it is offered.
    ///
    /// # Errors
    /// If the binding does not say what goes over the wire.
    pub fn shape_of(&self, id: OperationId, side: Side, offer: Bound<'_>) -> Result<WireShape, Unshaped> {
        let message = self.side_message(id, side)?;
        let carrier = match self.protocol(offer.binding) {
            Some((version, style)) => {
                Carrier::Soap(self.soap_shape(id, side, offer, (version, style), message)?)
            }
            None if self.is_http(offer.binding) => {
                Carrier::Http(self.http_shape(id, side, offer.operation, message)?)
            }
            None => {
                let definition = &self.bindings[offer.binding];
                let reason =
                    format!("the binding \"{}\" is neither to SOAP nor to HTTP", definition.name.local);
                return unshaped(reason, definition.place);
            }
        };
        Ok(self.framed(id, side, offer, carrier))
    }

    /// The shape around what carries a message.
    fn framed(&self, id: OperationId, side: Side, offer: Bound<'_>, carrier: Carrier) -> WireShape {
        let begins = self.begins(id, side);
        // Where the service speaks first, nobody says where to.
        let address = match (side, offer.port) {
            (Side::Input, Some(port)) => self.port(port).address().map(|label| label.text.to_string()),
            _ => None,
        };
        let (address, method) = match &carrier {
            Carrier::Soap(_) => (address, "POST"),
            Carrier::Http(_) => {
                (self.http_address(address, offer.operation), self.http_method(offer.binding))
            }
        };
        WireShape {
            operation: id,
            side,
            binding: offer.binding,
            port: offer.port,
            address,
            method,
            direction: if begins { Direction::Request } else { Direction::Reply },
            carrier,
        }
    }

    /// Whether a side begins the exchange (2.4).
    fn begins(&self, id: OperationId, side: Side) -> bool {
        let pattern = self.operation(id).pattern;
        match side {
            Side::Input => pattern != Pattern::SolicitResponse,
            Side::Output => matches!(pattern, Pattern::SolicitResponse | Pattern::Notification),
            Side::Fault(_) => false,
        }
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
            None => lost(format!("the message of this {what} is not known"), usage.place),
        }
    }

    /// A part as an element: the one that it names, or one of its own name.
    fn wire_element(&self, part: &Part, namespace: &str) -> Result<WireElement, Unshaped> {
        if let Some(element) = &part.element {
            return match element.target {
                Some(element) => Ok(WireElement::Declared(element)),
                None => {
                    lost(format!("the element of the part \"{}\" is not known", part.name.text), part.place)
                }
            };
        }
        match part.ty.as_ref().and_then(|ty| ty.target) {
            Some(ty) => Ok(WireElement::Typed { name: QName::new(namespace, &part.name.text), ty }),
            None => lost(format!("the type of the part \"{}\" is not known", part.name.text), part.place),
        }
    }

    /// A part as something that goes by its own name.
    fn named_part(&self, part: &Part) -> Result<RpcPart, Unshaped> {
        let of_element = part.element.as_ref().and_then(|element| element.target);
        let ty = part.ty.as_ref().and_then(|ty| ty.target);
        match ty.or(of_element.map(|element| self.schemas.element_type(element))) {
            Some(ty) => Ok(RpcPart { name: part.name.text.to_string(), ty, place: part.place }),
            None => lost(format!("the type of the part \"{}\" is not known", part.name.text), part.place),
        }
    }
}

fn side_extensions(side: Option<&BindingMessage>) -> &[Extension] {
    side.map_or(&[], |side| side.extensions.as_slice())
}

/// The parts that a body names, or all of them.
fn chosen_parts<'m>(message: &'m Message, parts: Option<&[Label]>) -> Vec<&'m Part> {
    match parts {
        None => message.parts.iter().collect(),
        Some(labels) => labels
            .iter()
            .filter_map(|label| message.parts.iter().find(|part| part.name.text == label.text))
            .collect(),
    }
}

//! The sides of operations as bindings have them, which most rules of bindings walk along.

use charter_contract::{
    Binding, BindingId, BindingMessage, BindingOperation, BodyExtension, Contract, Extension, ExtensionKind,
    HeaderExtension, Message, Operation, Part, Side, SoapVersion, Style, UseKind,
};

/// An operation of a binding.
#[derive(Clone, Copy)]
pub(crate) struct BoundOperation<'c> {
    pub id: BindingId,
    pub binding: &'c Binding,
    pub bound: &'c BindingOperation,
    /// The operation of the port type, if it is known.
    pub operation: Option<&'c Operation>,
    /// Its SOAP version and style, if this is a SOAP binding.
    pub soap: Option<(SoapVersion, Style)>,
    /// Whether it is of another style than the binding, and the binding not of one style throughout.
    pub mixed: bool,
}

/// A side of an operation of a binding.
#[derive(Clone, Copy)]
pub(crate) struct BoundSide<'c> {
    pub of: BoundOperation<'c>,
    pub side: Side,
    pub bound: &'c BindingMessage,
    /// The message of that side of the port type's operation.
    pub message: Option<&'c Message>,
}

/// All operations of all bindings.
pub(crate) fn operations(contract: &Contract) -> impl Iterator<Item = BoundOperation<'_>> {
    contract.bindings.iter().flat_map(move |(id, binding)| {
        let protocol = contract.protocol(id);
        let port_type = binding.port_type.target.map(|id| &contract.port_types[id]);
        let style_of = move |bound: &BindingOperation| {
            let own = bound.extensions.iter().find_map(|extension| match &extension.kind {
                ExtensionKind::SoapOperation { style, .. } => *style,
                _ => None,
            });
            protocol.map(|(version, style)| (version, own.unwrap_or(style)))
        };
        let first = binding.operations.first().and_then(style_of);
        let uniform = binding.operations.iter().all(|bound| style_of(bound) == first);
        binding.operations.iter().map(move |bound| {
            let operation = port_type.zip(bound.operation).map(|(of, index)| &of.operations[index]);
            let soap = style_of(bound);
            BoundOperation { id, binding, bound, operation, soap, mixed: !uniform && soap != protocol }
        })
    })
}

impl<'c> BoundOperation<'c> {
    /// Its sides; a fault goes with the fault of its name.
    pub fn sides(self, contract: &'c Contract) -> impl Iterator<Item = BoundSide<'c>> {
        self.bound.sides().map(move |(side, bound)| {
            let usage = self.operation.and_then(|operation| match side {
                Side::Fault(_) => operation.faults.get(bound.fault? as usize),
                side => operation.side(side),
            });
            let message = usage.and_then(|usage| usage.message.target).map(|id| &contract.messages[id]);
            BoundSide { of: self, side, bound, message }
        })
    }

    /// Its style, where it is bound to SOAP.
    pub fn style(self) -> Option<Style> {
        self.soap.map(|(_, style)| style)
    }
}

/// All sides of all operations of all bindings.
pub(crate) fn sides(contract: &Contract) -> impl Iterator<Item = BoundSide<'_>> {
    operations(contract).flat_map(move |operation| operation.sides(contract))
}

impl<'c> BoundSide<'c> {
    /// Its extension elements, those in the parts of a multipart message among them.
    pub fn all_extensions(self) -> impl Iterator<Item = &'c Extension> {
        self.bound.extensions.iter().flat_map(|extension| {
            let inner = match &extension.kind {
                ExtensionKind::MimeMultipart(parts) => parts.as_slice(),
                _ => &[],
            };
            std::iter::once(extension).chain(inner.iter().flat_map(|part| &part.extensions))
        })
    }

    /// Its `soap:body`, if it has one.
    pub fn body(self) -> Option<(&'c Extension, &'c BodyExtension)> {
        self.all_extensions().find_map(|extension| match &extension.kind {
            ExtensionKind::SoapBody(body) => Some((extension, body)),
            _ => None,
        })
    }

    /// Its header blocks.
    pub fn headers(self) -> impl Iterator<Item = (&'c Extension, &'c HeaderExtension)> {
        self.all_extensions().filter_map(|extension| match &extension.kind {
            ExtensionKind::SoapHeader(header) => Some((extension, &**header)),
            _ => None,
        })
    }

    /// Whether it is multipart.
    pub fn is_multipart(self) -> bool {
        self.bound.extensions.iter().any(|it| matches!(it.kind, ExtensionKind::MimeMultipart(_)))
    }

    /// The parts that its body carries; none where there is no body, or it is encoded and `literal` is asked for.
    pub fn body_parts(self, literal: bool) -> Vec<&'c Part> {
        let (Some(message), Some((_, body))) = (self.message, self.body()) else { return Vec::new() };
        if literal && body.use_kind == Some(UseKind::Encoded) {
            return Vec::new();
        }
        let carried = self.carried_elsewhere();
        message
            .parts
            .iter()
            .filter(|part| match &body.parts {
                Some(chosen) => chosen.iter().any(|label| label.text == part.name.text),
                // In a multipart message, what has a part of its own does not stand in the body as well.
                None => !(self.is_multipart() && carried.contains(&&*part.name.text)),
            })
            .collect()
    }

    /// The names of the message's parts that `mime:content` or `mime:mimeXml` carry.
    pub fn carried_elsewhere(self) -> Vec<&'c str> {
        let names = self.all_extensions().filter_map(|extension| match &extension.kind {
            ExtensionKind::MimeContent { part: Some(part), .. }
            | ExtensionKind::MimeXml { part: Some(part) } => Some(&*part.text),
            _ => None,
        });
        names.collect()
    }

    /// `input`, `output` or `fault`.
    pub fn word(self) -> &'static str {
        match self.side {
            Side::Input => "input",
            Side::Output => "output",
            Side::Fault(_) => "fault",
        }
    }

    /// The side as a person names it, with its operation.
    pub fn of_operation(self) -> String {
        format!("the {} of \"{}\"", self.word(), self.of.bound.name.text)
    }
}

/// The part that a header names, if it is there.
pub(crate) fn header_part<'c>(contract: &'c Contract, header: &HeaderExtension) -> Option<&'c Part> {
    let (message, label) = (header.message.target?, header.part.as_ref()?);
    contract.messages[message].parts.iter().find(|part| part.name.text == label.text)
}

//! What an envelope carries (WSDL 1.1, section 3): style, use, header blocks, faults.

use charter_source::{Place, QName, ns};

use super::media::multipart;
use super::{
    Body, Bound, Carrier, FaultShape, HeaderBlock, MediaPart, SoapShape, Unshaped, WireElement, WireShape,
    chosen_parts, lost, side_extensions, unshaped,
};
use crate::{
    BindingId, BindingOperation, BodyExtension, Contract, Extension, ExtensionKind, FaultExtension,
    HeaderExtension, Label, Message, OperationId, Part, Side, SoapVersion, Style, UseKind,
};

impl Contract {
    /// What the envelope of a side carries.
    pub(super) fn soap_shape(
        &self,
        id: OperationId,
        side: Side,
        offer: Bound<'_>,
        (version, default_style): (SoapVersion, Style),
        message: &Message,
    ) -> Result<SoapShape, Unshaped> {
        let (action, own_style) = soap_operation(offer.operation);
        let mut shape = SoapShape {
            version,
            transport: self.transport(offer.binding),
            style: own_style.unwrap_or(default_style),
            action: action.filter(|_| self.begins(id, side)).map(|label| label.text.to_string()),
            headers: Vec::new(),
            body: Body::Elements(Vec::new()),
            encoding: None,
            fault: None,
            attachments: Vec::new(),
        };
        let extensions = match side {
            Side::Input => side_extensions(offer.operation.input.as_ref()),
            Side::Output => side_extensions(offer.operation.output.as_ref()),
            Side::Fault(index) => {
                self.fill_fault(id, index, offer.operation, message, &mut shape)?;
                return Ok(shape);
            }
        };
        let (extensions, attachments) = self.taken_apart(extensions, message)?;
        shape.attachments = attachments;
        for extension in &extensions {
            if let ExtensionKind::SoapHeader(header) = &extension.kind {
                shape.headers.push(self.header_block(header, version)?);
            }
        }
        let body = extensions.iter().find_map(|extension| match &extension.kind {
            ExtensionKind::SoapBody(body) => Some((body, extension.place)),
            _ => None,
        });
        shape.encoding =
            body.and_then(|(body, _)| encoding(body.use_kind, body.encoding_style.as_ref(), version));
        shape.body = self.body_of(id, side, message, body, &shape)?;
        Ok(shape)
    }

    /// The extensions that the envelope goes by, and what goes along with it.
    fn taken_apart<'c>(
        &self,
        extensions: &'c [Extension],
        message: &Message,
    ) -> Result<(Vec<&'c Extension>, Vec<MediaPart>), Unshaped> {
        let Some((parts, place)) = multipart(extensions) else {
            return Ok((extensions.iter().collect(), Vec::new()));
        };
        let has_body = |extension: &Extension| matches!(extension.kind, ExtensionKind::SoapBody(_));
        let Some(root) = parts.iter().find(|part| part.extensions.iter().any(has_body)) else {
            return unshaped("no part of the multipart message holds the envelope", place);
        };
        let others = parts.iter().filter(|part| !std::ptr::eq(*part, root));
        let attachments = others.map(|part| self.media_part(&part.extensions, message, place));
        let attachments: Vec<MediaPart> =
            attachments.collect::<Result<Vec<_>, _>>()?.into_iter().flatten().collect();
        // Header blocks may stand beside the multipart message as well as in its root.
        let around =
            extensions.iter().filter(|extension| matches!(extension.kind, ExtensionKind::SoapHeader(_)));
        Ok((around.chain(&root.extensions).collect(), attachments))
    }

    fn body_of(
        &self,
        id: OperationId,
        side: Side,
        message: &Message,
        body: Option<(&BodyExtension, Place)>,
        shape: &SoapShape,
    ) -> Result<Body, Unshaped> {
        let named = body.and_then(|(body, _)| body.parts.as_deref());
        let mut parts = chosen_parts(message, named);
        if named.is_none() {
            // What goes along is not in the body too.
            parts.retain(|part| !shape.attachments.iter().any(|other| *other.name == *part.name.text));
        }
        let namespace = body.and_then(|(body, _)| body.namespace.as_ref());
        let namespace = namespace.map_or("", |namespace| &namespace.text);
        match shape.style {
            Style::Document => self.elements_of(&parts, shape.encoding.as_ref().map(|_| namespace)),
            Style::Rpc => self.wrapper_of(id, side, &parts, namespace),
        }
    }

    fn fill_fault(
        &self,
        id: OperationId,
        index: usize,
        bound: &BindingOperation,
        message: &Message,
        shape: &mut SoapShape,
    ) -> Result<(), Unshaped> {
        let name = self.operation(id).faults[index].name.as_ref().map_or("", |name| &name.text);
        shape.fault = Some(FaultShape { name: name.to_owned(), of_header: false });
        let bound =
            bound.faults.iter().find(|fault| fault.name.as_ref().is_some_and(|label| &*label.text == name));
        let extension = side_extensions(bound).iter().find_map(|extension| match &extension.kind {
            ExtensionKind::SoapFault(fault) => Some(&**fault),
            _ => None,
        });
        let by =
            |fault: &FaultExtension| encoding(fault.use_kind, fault.encoding_style.as_ref(), shape.version);
        shape.encoding = extension.and_then(by);
        let namespace = extension.and_then(|fault| fault.namespace.as_ref()).map_or("", |label| &label.text);
        let parts: Vec<&Part> = message.parts.iter().collect();
        shape.body = self.elements_of(&parts, shape.encoding.as_ref().map(|_| namespace))?;
        Ok(())
    }

    /// The faults about header blocks that a side of an operation may be answered with (3.7), each as a shape.
    ///
    /// # Errors
    /// If the part of one is not known.
    pub fn header_faults(
        &self,
        id: OperationId,
        side: Side,
        offer: Bound<'_>,
    ) -> Result<Vec<WireShape>, Unshaped> {
        let Some((version, style)) = self.protocol(offer.binding) else { return Ok(Vec::new()) };
        let message = self.side_message(id, side)?;
        let extensions = side_extensions(offer.operation.side(side));
        let (extensions, _) = self.taken_apart(extensions, message)?;
        let headers = extensions.iter().filter_map(|extension| match &extension.kind {
            ExtensionKind::SoapHeader(header) => Some(header),
            _ => None,
        });
        let mut found = Vec::new();
        for fault in headers.flat_map(|header| &header.faults) {
            let block = self.header_block(fault, version)?;
            let carrier = SoapShape {
                version,
                transport: self.transport(offer.binding),
                style,
                action: None,
                fault: Some(FaultShape { name: block.part.clone(), of_header: true }),
                headers: vec![block],
                body: Body::Elements(Vec::new()),
                encoding: None,
                attachments: Vec::new(),
            };
            let mut shape = self.framed(id, Side::Output, offer, Carrier::Soap(carrier));
            shape.direction = super::Direction::Reply;
            found.push(shape);
        }
        Ok(found)
    }

    pub(super) fn transport(&self, binding: BindingId) -> Option<String> {
        self.bindings[binding].extensions.iter().find_map(|extension| match &extension.kind {
            ExtensionKind::SoapBinding { transport, .. } => {
                transport.as_ref().map(|label| label.text.to_string())
            }
            _ => None,
        })
    }

    fn header_block(&self, header: &HeaderExtension, version: SoapVersion) -> Result<HeaderBlock, Unshaped> {
        let message = header.message.target.map(|id| &self.messages[id]);
        let label = header.part.as_ref();
        let part = message
            .zip(label)
            .and_then(|(message, label)| message.parts.iter().find(|part| part.name.text == label.text));
        let Some(part) = part else { return lost("the part of this header is not known", header.place) };
        let encoding = encoding(header.use_kind, header.encoding_style.as_ref(), version);
        let namespace = header.namespace.as_ref().map_or("", |namespace| &namespace.text);
        let content = self.wire_element(part, namespace)?;
        Ok(HeaderBlock { content, part: part.name.text.to_string(), encoding, place: header.place })
    }

    /// The elements of a body in document style; encoded ones without a declaration are in the given namespace.
    fn elements_of(&self, parts: &[&Part], encoded_in: Option<&str>) -> Result<Body, Unshaped> {
        if let ([only], None) = (parts, encoded_in)
            && only.element.is_none()
            && let Some(ty) = only.ty.as_ref().and_then(|ty| ty.target)
        {
            return Ok(Body::Content(ty));
        }
        let elements = parts.iter().map(|part| self.wire_element(part, encoded_in.unwrap_or("")));
        Ok(Body::Elements(elements.collect::<Result<Vec<WireElement>, _>>()?))
    }

    fn wrapper_of(
        &self,
        id: OperationId,
        side: Side,
        parts: &[&Part],
        namespace: &str,
    ) -> Result<Body, Unshaped> {
        let operation = &self.operation(id).name.text;
        let local = match side {
            Side::Output => format!("{operation}Response"),
            _ => operation.to_string(),
        };
        let accessors = parts.iter().map(|part| self.named_part(part));
        Ok(Body::Wrapper { name: QName::new(namespace, &local), parts: accessors.collect::<Result<_, _>>()? })
    }
}

/// The encoding that `use` and `encodingStyle` ask for; the one of the standard where none is named.
fn encoding(use_kind: Option<UseKind>, style: Option<&Label>, version: SoapVersion) -> Option<String> {
    if use_kind != Some(UseKind::Encoded) {
        return None;
    }
    let standard = match version {
        SoapVersion::V11 => ns::SOAP11_ENCODING,
        SoapVersion::V12 => ns::SOAP12_ENCODING,
    };
    let named = style.and_then(|label| label.text.split_ascii_whitespace().next().map(str::to_owned));
    Some(named.unwrap_or_else(|| standard.to_owned()))
}

/// The action and style that `soap:operation` names.
fn soap_operation(bound: &BindingOperation) -> (Option<&Label>, Option<Style>) {
    let found = bound.extensions.iter().find_map(|extension| match &extension.kind {
        ExtensionKind::SoapOperation { action, style, .. } => Some((action.as_ref(), *style)),
        _ => None,
    });
    found.unwrap_or((None, None))
}

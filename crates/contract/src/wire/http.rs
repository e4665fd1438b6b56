//! What plain HTTP carries (WSDL 1.1, section 4).

use super::media::multipart;
use super::{HttpContent, HttpShape, MediaPart, RpcPart, Unshaped, side_extensions, unshaped};
use crate::{BindingId, BindingOperation, Contract, Extension, ExtensionKind, Message, OperationId, Side};

/// The media type of a form.
const FORM: &str = "application/x-www-form-urlencoded";

impl Contract {
    /// What a side holds over plain HTTP.
    pub(super) fn http_shape(
        &self,
        id: OperationId,
        side: Side,
        bound: &BindingOperation,
        message: &Message,
    ) -> Result<HttpShape, Unshaped> {
        let side_of_binding = match side {
            Side::Fault(index) => {
                let name = self.operation(id).faults[index].name.as_ref();
                bound
                    .faults
                    .iter()
                    .find(|fault| fault.name.as_ref().map(|it| &it.text) == name.map(|it| &it.text))
            }
            _ => bound.side(side),
        };
        let extensions = side_extensions(side_of_binding);
        if matches!(side, Side::Fault(_)) && extensions.is_empty() {
            return unshaped("the HTTP binding does not say what a fault looks like", bound.place);
        }
        Ok(HttpShape { content: self.http_content(extensions, message)? })
    }

    fn http_content(&self, extensions: &[Extension], message: &Message) -> Result<HttpContent, Unshaped> {
        let all = || message.parts.iter().map(|part| self.field(part)).collect::<Result<Vec<RpcPart>, _>>();
        for extension in extensions {
            match &extension.kind {
                ExtensionKind::HttpUrlEncoded => return all().map(HttpContent::Form),
                ExtensionKind::HttpUrlReplacement => return all().map(HttpContent::InPath),
                ExtensionKind::MimeContent { media_type: Some(label), .. } if &*label.text == FORM => {
                    return all().map(HttpContent::Form);
                }
                _ => {}
            }
        }
        if let Some((parts, place)) = multipart(extensions) {
            let parts = parts.iter().map(|part| self.media_part(&part.extensions, message, place));
            let parts: Vec<MediaPart> = parts.collect::<Result<Vec<_>, _>>()?.into_iter().flatten().collect();
            return Ok(HttpContent::Multipart(parts));
        }
        let place = extensions.first().map_or(message.place, |extension| extension.place);
        Ok(match self.media_part(extensions, message, place)? {
            Some(part) => HttpContent::Part(part),
            None => HttpContent::Empty,
        })
    }

    /// A part as a field: it has one value, since a form knows no structure (4.6).
    fn field(&self, part: &crate::Part) -> Result<RpcPart, Unshaped> {
        let field = self.named_part(part)?;
        if self.schemas.has_simple_content(field.ty) {
            return Ok(field);
        }
        let reason = format!(
            "the part \"{}\" has elements or attributes, and an address holds only values",
            part.name.text
        );
        unshaped(reason, part.place)
    }

    /// GET or POST.
    pub(super) fn http_method(&self, binding: BindingId) -> &'static str {
        let verb = self.bindings[binding].extensions.iter().find_map(|extension| match &extension.kind {
            ExtensionKind::HttpBinding { verb } => verb.as_ref(),
            _ => None,
        });
        if verb.is_some_and(|verb| &*verb.text == "GET") { "GET" } else { "POST" }
    }

    /// The address of an operation: that of the port, with the location of the operation after it (4.5).
    pub(super) fn http_address(&self, port: Option<String>, bound: &BindingOperation) -> Option<String> {
        let location = bound.extensions.iter().find_map(|extension| match &extension.kind {
            ExtensionKind::HttpOperation { location } => {
                location.as_ref().map(|label| label.text.to_string())
            }
            _ => None,
        });
        let (port, location) = (port?, location.unwrap_or_default());
        let absolute = location.starts_with("http://") || location.starts_with("https://");
        Some(match location.as_str() {
            "" => port,
            _ if absolute => location,
            _ => format!("{}/{}", port.trim_end_matches('/'), location.trim_start_matches('/')),
        })
    }
}

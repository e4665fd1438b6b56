//! Reads extension elements.

use charter_schema::Ref;
use charter_source::{Fault, Node, QName, elements, ns, tag_place};

use super::{ContractReader, Scope, extent};
use crate::{
    BodyExtension, Extension, ExtensionKind, FaultExtension, HeaderExtension, Label, MimePart, SoapVersion,
    Style, UseKind,
};

impl ContractReader<'_> {
    pub(super) fn extension(&mut self, scope: &Scope, node: Node<'_>) -> Extension {
        let namespace = node.tag_name().namespace().unwrap_or("");
        let local = node.tag_name().name();
        let kind = match namespace {
            ns::WSDL_SOAP11 => self.soap(scope, node, SoapVersion::V11, local),
            ns::WSDL_SOAP12 => self.soap(scope, node, SoapVersion::V12, local),
            ns::WSDL_HTTP => self.http(scope, node, local),
            ns::WSDL_MIME => self.mime(scope, node, local),
            _ => None,
        };
        Extension {
            place: tag_place(scope.file, node),
            extent: extent(scope, node),
            required: matches!(node.attribute((ns::WSDL, "required")), Some("true" | "1")),
            kind: kind.unwrap_or_else(|| ExtensionKind::Other(QName::new(namespace, local))),
        }
    }

    fn soap(
        &mut self,
        scope: &Scope,
        node: Node<'_>,
        version: SoapVersion,
        local: &str,
    ) -> Option<ExtensionKind> {
        Some(match local {
            "binding" => ExtensionKind::SoapBinding {
                version,
                style: self.style(scope, node),
                transport: self.label(scope, node, "transport"),
            },
            "operation" => ExtensionKind::SoapOperation {
                version,
                action: self.label(scope, node, "soapAction"),
                style: self.style(scope, node),
                required: self.label(scope, node, "soapActionRequired"),
            },
            "body" => ExtensionKind::SoapBody(BodyExtension {
                version,
                parts: self.labels(scope, node, "parts"),
                use_kind: self.use_kind(scope, node),
                encoding_style: self.label(scope, node, "encodingStyle"),
                namespace: self.label(scope, node, "namespace"),
            }),
            "header" => ExtensionKind::SoapHeader(Box::new(self.header(scope, node, version))),
            "fault" => ExtensionKind::SoapFault(Box::new(FaultExtension {
                version,
                name: self.label(scope, node, "name"),
                use_kind: self.use_kind(scope, node),
                encoding_style: self.label(scope, node, "encodingStyle"),
                namespace: self.label(scope, node, "namespace"),
            })),
            "address" => {
                ExtensionKind::SoapAddress { version, location: self.label(scope, node, "location") }
            }
            _ => return None,
        })
    }

    fn header(&mut self, scope: &Scope, node: Node<'_>, version: SoapVersion) -> HeaderExtension {
        let place = tag_place(scope.file, node);
        let message = self.reference(scope, node, "message").unwrap_or_else(|| {
            let fault = Fault::new("message-unknown", place, "this header names no message");
            self.faults.push(fault.help("add a message attribute"));
            Ref { name: None, place, target: None }
        });
        let faults =
            elements(node).filter(|child| child.tag_name().name() == "headerfault").collect::<Vec<_>>();
        HeaderExtension {
            version,
            message,
            part: self.label(scope, node, "part"),
            use_kind: self.use_kind(scope, node),
            encoding_style: self.label(scope, node, "encodingStyle"),
            namespace: self.label(scope, node, "namespace"),
            place,
            faults: faults.into_iter().map(|fault| self.header(scope, fault, version)).collect(),
        }
    }

    fn http(&mut self, scope: &Scope, node: Node<'_>, local: &str) -> Option<ExtensionKind> {
        Some(match local {
            "binding" => ExtensionKind::HttpBinding { verb: self.label(scope, node, "verb") },
            "operation" => ExtensionKind::HttpOperation { location: self.label(scope, node, "location") },
            "urlEncoded" => ExtensionKind::HttpUrlEncoded,
            "urlReplacement" => ExtensionKind::HttpUrlReplacement,
            "address" => ExtensionKind::HttpAddress { location: self.label(scope, node, "location") },
            _ => return None,
        })
    }

    fn mime(&mut self, scope: &Scope, node: Node<'_>, local: &str) -> Option<ExtensionKind> {
        Some(match local {
            "content" => ExtensionKind::MimeContent {
                part: self.label(scope, node, "part"),
                media_type: self.label(scope, node, "type"),
            },
            "mimeXml" => ExtensionKind::MimeXml { part: self.label(scope, node, "part") },
            "multipartRelated" => {
                let parts = elements(node).filter(|child| child.has_tag_name((ns::WSDL_MIME, "part")));
                let parts = parts.collect::<Vec<_>>().into_iter().map(|part| MimePart {
                    name: self.label(scope, part, "name"),
                    extensions: self.extensions(scope, part),
                });
                ExtensionKind::MimeMultipart(parts.collect())
            }
            _ => return None,
        })
    }

    fn style(&mut self, scope: &Scope, node: Node<'_>) -> Option<Style> {
        let label = self.label(scope, node, "style")?;
        match &*label.text {
            "document" => Some(Style::Document),
            "rpc" => Some(Style::Rpc),
            _ => {
                self.wrong_word(&label, "style", "document or rpc");
                None
            }
        }
    }

    fn use_kind(&mut self, scope: &Scope, node: Node<'_>) -> Option<UseKind> {
        let label = self.label(scope, node, "use")?;
        match &*label.text {
            "literal" => Some(UseKind::Literal),
            "encoded" => Some(UseKind::Encoded),
            _ => {
                self.wrong_word(&label, "use", "literal or encoded");
                None
            }
        }
    }

    fn wrong_word(&mut self, label: &Label, what: &str, allowed: &str) {
        let message = format!("\"{}\" is not a {what}", label.text);
        let fault = Fault::new("wsdl-value", label.place, message);
        self.faults.push(fault.help(format!("write {allowed}")));
    }
}

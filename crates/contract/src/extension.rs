//! Extension elements: the SOAP, HTTP and MIME bindings (WSDL 1.1, sections 3 to 5), and any other, kept as is.

use charter_schema::Ref;
use charter_source::{Place, QName};

use crate::{Label, Message};

/// An extension element.
#[derive(Debug, Clone)]
pub struct Extension {
    /// Its start tag.
    pub place: Place,
    /// The whole element.
    pub extent: Place,
    /// Whether `wsdl:required` says that whoever does not know it must give up.
    pub required: bool,
    /// What it says.
    pub kind: ExtensionKind,
}

/// What an extension element says.
#[derive(Debug, Clone)]
pub enum ExtensionKind {
    /// `soap:binding` (3.3).
    SoapBinding {
        /// Its SOAP version.
        version: SoapVersion,
        /// The style of operations that do not name their own.
        style: Option<Style>,
        /// The URI of the transport.
        transport: Option<Label>,
    },
    /// `soap:operation` (3.4).
    SoapOperation {
        /// Its SOAP version.
        version: SoapVersion,
        /// The action URI.
        action: Option<Label>,
        /// Its style.
        style: Option<Style>,
        /// Whether a message must carry the action (SOAP 1.2 alone).
        required: Option<Label>,
    },
    /// `soap:body` (3.5).
    SoapBody(BodyExtension),
    /// `soap:header` (3.7).
    SoapHeader(Box<HeaderExtension>),
    /// `soap:fault` (3.6).
    SoapFault(Box<FaultExtension>),
    /// `soap:address` (3.8).
    SoapAddress {
        /// Its SOAP version.
        version: SoapVersion,
        /// Where the service is.
        location: Option<Label>,
    },
    /// `http:binding` (4.4).
    HttpBinding {
        /// GET or POST.
        verb: Option<Label>,
    },
    /// `http:operation` (4.5).
    HttpOperation {
        /// The path after the address.
        location: Option<Label>,
    },
    /// `http:urlEncoded` (4.6).
    HttpUrlEncoded,
    /// `http:urlReplacement` (4.7).
    HttpUrlReplacement,
    /// `http:address` (4.3).
    HttpAddress {
        /// Where the service is.
        location: Option<Label>,
    },
    /// `mime:content` (5.3).
    MimeContent {
        /// The message part.
        part: Option<Label>,
        /// The media type.
        media_type: Option<Label>,
    },
    /// `mime:multipartRelated` (5.4).
    MimeMultipart(Vec<MimePart>),
    /// `mime:mimeXml` (5.6).
    MimeXml {
        /// The message part.
        part: Option<Label>,
    },
    /// Any other, such as a policy.
    Other(QName),
}

/// A `mime:part` (5.4).
#[derive(Debug, Clone)]
pub struct MimePart {
    /// Its name.
    pub name: Option<Label>,
    /// What it holds.
    pub extensions: Vec<Extension>,
}

/// `soap:body`.
#[derive(Debug, Clone)]
pub struct BodyExtension {
    /// Its SOAP version.
    pub version: SoapVersion,
    /// The parts in the body; all of them if it does not say.
    pub parts: Option<Vec<Label>>,
    /// Literal or encoded.
    pub use_kind: Option<UseKind>,
    /// The encodings, most restrictive first.
    pub encoding_style: Option<Label>,
    /// The namespace of an rpc wrapper.
    pub namespace: Option<Label>,
}

/// `soap:header` or `soap:headerfault`.
#[derive(Debug, Clone)]
pub struct HeaderExtension {
    /// Its SOAP version.
    pub version: SoapVersion,
    /// The message that holds its part.
    pub message: Ref<Message>,
    /// The part.
    pub part: Option<Label>,
    /// Literal or encoded.
    pub use_kind: Option<UseKind>,
    /// The encodings, most restrictive first.
    pub encoding_style: Option<Label>,
    /// The namespace of an encoded header block.
    pub namespace: Option<Label>,
    /// The place of its start tag.
    pub place: Place,
    /// The header blocks that report errors about this one.
    pub faults: Vec<HeaderExtension>,
}

impl HeaderExtension {
    /// It, and those that report errors about it.
    pub fn with_faults(&self) -> impl Iterator<Item = &HeaderExtension> {
        std::iter::once(self).chain(&self.faults)
    }
}

/// `soap:fault`.
#[derive(Debug, Clone)]
pub struct FaultExtension {
    /// Its SOAP version.
    pub version: SoapVersion,
    /// The fault of the operation.
    pub name: Option<Label>,
    /// Literal or encoded.
    pub use_kind: Option<UseKind>,
    /// The encodings, most restrictive first.
    pub encoding_style: Option<Label>,
    /// The namespace of an encoded fault.
    pub namespace: Option<Label>,
}

/// A version of SOAP.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum SoapVersion {
    /// SOAP 1.1.
    V11,
    /// SOAP 1.2.
    V12,
}

impl SoapVersion {
    /// `1.1` or `1.2`.
    pub fn number(self) -> &'static str {
        match self {
            SoapVersion::V11 => "1.1",
            SoapVersion::V12 => "1.2",
        }
    }

    /// The namespace of its envelope.
    pub fn envelope(self) -> &'static str {
        match self {
            SoapVersion::V11 => charter_source::ns::SOAP11_ENVELOPE,
            SoapVersion::V12 => charter_source::ns::SOAP12_ENVELOPE,
        }
    }
}

/// The style of an operation.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Style {
    /// The body holds the parts.
    Document,
    /// The body holds a wrapper named after the operation, with an accessor for each part.
    Rpc,
}

impl std::fmt::Display for SoapVersion {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(self.number())
    }
}

impl std::fmt::Display for Style {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(self.name())
    }
}

impl std::fmt::Display for UseKind {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(self.name())
    }
}

impl UseKind {
    /// `literal` or `encoded`.
    pub fn name(self) -> &'static str {
        match self {
            UseKind::Literal => "literal",
            UseKind::Encoded => "encoded",
        }
    }
}

impl Style {
    /// `document` or `rpc`.
    pub fn name(self) -> &'static str {
        match self {
            Style::Document => "document",
            Style::Rpc => "rpc",
        }
    }
}

/// Whether a message is written by its schema or by an encoding.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum UseKind {
    /// By its schema.
    Literal,
    /// By an encoding.
    Encoded,
}

impl Extension {
    /// The address, if this is one.
    pub fn address(&self) -> Option<&Label> {
        match &self.kind {
            ExtensionKind::SoapAddress { location, .. } | ExtensionKind::HttpAddress { location } => {
                location.as_ref()
            }
            _ => None,
        }
    }
}

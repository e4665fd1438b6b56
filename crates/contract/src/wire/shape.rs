//! The wire shape as data.

use charter_schema::{ElementId, TypeId};
use charter_source::{Place, QName};

use crate::{BindingId, OperationId, PortId, Side, SoapVersion, Style};

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
    /// Where a request goes: the address of the port, with what the operation adds to it over plain HTTP.
    pub address: Option<String>,
    /// The HTTP method of a request.
    pub method: &'static str,
    /// Whether this begins the exchange, or answers.
    pub direction: Direction,
    /// What carries it.
    pub carrier: Carrier,
}

/// Whether a message begins an exchange (WSDL 1.1, 2.4).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Direction {
    /// It begins it.
    Request,
    /// It answers.
    Reply,
}

/// What carries a message.
#[derive(Debug, Clone)]
pub enum Carrier {
    /// An envelope (WSDL 1.1, section 3).
    Soap(SoapShape),
    /// Plain HTTP (WSDL 1.1, section 4).
    Http(HttpShape),
}

/// A message in an envelope.
#[derive(Debug, Clone)]
pub struct SoapShape {
    /// The version of the envelope.
    pub version: SoapVersion,
    /// The URI of the transport.
    pub transport: Option<String>,
    /// The style of the body.
    pub style: Style,
    /// The action URI; only a request carries it.
    pub action: Option<String>,
    /// The header blocks, in the order of the binding.
    pub headers: Vec<HeaderBlock>,
    /// What stands in the body, or in the detail of the fault.
    pub body: Body,
    /// The encoding of the body; `None` if it is literal.
    pub encoding: Option<String>,
    /// Set if this is a fault: its body stands inside `Fault`.
    pub fault: Option<FaultShape>,
    /// What goes along with the envelope in a multipart message (WSDL 1.1, 5.4).
    pub attachments: Vec<MediaPart>,
}

/// A fault on the wire.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct FaultShape {
    /// The name of the fault in the operation, or of the part of a header fault.
    pub name: String,
    /// Whether it is about a header block, so that it stands in the header and there is no detail (3.7).
    pub of_header: bool,
}

/// A header block.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct HeaderBlock {
    /// What it is.
    pub content: WireElement,
    /// The message part that declares it.
    pub part: String,
    /// Its encoding; `None` if it is literal.
    pub encoding: Option<String>,
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

/// A message part that goes by its own name: an accessor of an rpc body, a field of a form.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RpcPart {
    /// The name of the part.
    pub name: String,
    /// Its type.
    pub ty: TypeId,
    /// Where the part is declared.
    pub place: Place,
}

/// A message over plain HTTP.
#[derive(Debug, Clone)]
pub struct HttpShape {
    /// What it holds.
    pub content: HttpContent,
}

/// What a message over plain HTTP holds.
#[derive(Debug, Clone)]
pub enum HttpContent {
    /// Nothing.
    Empty,
    /// Pairs of names and values: in the address of a GET, in the body of a POST (4.6).
    Form(Vec<RpcPart>),
    /// Values in the address, each in the place of its name in parentheses (4.7).
    InPath(Vec<RpcPart>),
    /// A part by itself.
    Part(MediaPart),
    /// Several parts (5.4).
    Multipart(Vec<MediaPart>),
}

/// A message part as a document of some media type.
#[derive(Debug, Clone)]
pub struct MediaPart {
    /// The message part.
    pub name: String,
    /// What fills it.
    pub content: WireElement,
    /// Its media type: the first that the binding allows.
    pub media_type: String,
    /// All media types that the binding allows, as it writes them: `image/*` is any of an image (WSDL 1.1, 5.3).
    pub allowed: Vec<String>,
    /// Whether it is an XML document; if not, it is the value alone.
    pub xml: bool,
}

impl MediaPart {
    /// Whether the part may be of a media type, or of all those that a pattern such as `image/*` stands for; parameters
    /// of media types do not count.
    pub fn allows(&self, media_type: &str) -> bool {
        let bare = |text: &str| text.split(';').next().unwrap_or("").trim().to_ascii_lowercase();
        let wanted = bare(media_type);
        let covers = |pattern: &String| match bare(pattern).as_str() {
            "*/*" | "*" | "" => true,
            pattern => match pattern.strip_suffix('*') {
                Some(kind) => wanted.starts_with(kind),
                None => pattern == wanted,
            },
        };
        self.allowed.iter().any(covers)
    }
}

/// Why a side of an operation has no wire shape.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{reason}")]
pub struct Unshaped {
    /// What is in the way.
    pub reason: String,
    /// Where.
    pub place: Place,
    /// Whether it is that something is not there which is referred to.
    pub is_lost: bool,
}

impl WireShape {
    /// The envelope, if one carries it.
    pub fn soap(&self) -> Option<&SoapShape> {
        match &self.carrier {
            Carrier::Soap(soap) => Some(soap),
            Carrier::Http(_) => None,
        }
    }

    /// The URI of its transport, if that is not HTTP: then nobody says here what stands around the envelope.
    pub fn other_transport(&self) -> Option<&str> {
        let transport = self.soap()?.transport.as_deref()?;
        let http = [charter_source::ns::SOAP_OVER_HTTP, charter_source::ns::SOAP12_OVER_HTTP];
        Some(transport).filter(|transport| !http.contains(transport) && !transport.is_empty())
    }

    /// Whether this begins the exchange.
    pub fn is_request(&self) -> bool {
        self.direction == Direction::Request
    }

    /// Whether this is a fault.
    pub fn fault(&self) -> Option<&FaultShape> {
        self.soap().and_then(|soap| soap.fault.as_ref())
    }

    /// Whether one of [`WireShape::contents`] is written by an encoding.
    pub fn is_encoded(&self, at: usize) -> bool {
        let Carrier::Soap(soap) = &self.carrier else { return false };
        match soap.headers.get(at) {
            Some(block) => block.encoding.is_some(),
            None => {
                let attached = at + soap.attachments.len() >= self.contents().len();
                soap.encoding.is_some() && !attached
            }
        }
    }

    /// All elements and types that fill it, the header blocks first.
    pub fn contents(&self) -> Vec<WireElement> {
        let typed = |part: &RpcPart| WireElement::Typed { name: QName::new("", &part.name), ty: part.ty };
        match &self.carrier {
            Carrier::Soap(soap) => {
                let mut all: Vec<WireElement> =
                    soap.headers.iter().map(|block| block.content.clone()).collect();
                match &soap.body {
                    Body::Elements(elements) => all.extend(elements.iter().cloned()),
                    Body::Content(ty) => all.push(WireElement::Typed { name: QName::new("", ""), ty: *ty }),
                    Body::Wrapper { parts, .. } => all.extend(parts.iter().map(typed)),
                }
                all.extend(soap.attachments.iter().map(|part| part.content.clone()));
                all
            }
            Carrier::Http(http) => match &http.content {
                HttpContent::Empty => Vec::new(),
                HttpContent::Form(parts) | HttpContent::InPath(parts) => parts.iter().map(typed).collect(),
                HttpContent::Part(part) => vec![part.content.clone()],
                HttpContent::Multipart(parts) => parts.iter().map(|part| part.content.clone()).collect(),
            },
        }
    }
}

impl SoapShape {
    /// Whether all of it is written by its schema, and nothing goes along: the one shape that every profile allows.
    pub fn is_plain(&self) -> bool {
        self.encoding.is_none()
            && self.attachments.is_empty()
            && self.headers.iter().all(|block| block.encoding.is_none())
    }
}

impl WireElement {
    /// Its name on the wire.
    pub fn name<'w>(&'w self, schemas: &'w charter_schema::Schemas) -> &'w QName {
        match self {
            WireElement::Declared(id) => &schemas.elements[*id].name,
            WireElement::Typed { name, .. } => name,
        }
    }

    /// Its type.
    pub fn ty(&self, schemas: &charter_schema::Schemas) -> TypeId {
        match self {
            WireElement::Declared(id) => schemas.element_type(*id),
            WireElement::Typed { ty, .. } => *ty,
        }
    }
}

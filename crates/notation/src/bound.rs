//! How a binding says that it binds an operation, if it says nothing out of the ordinary.

use charter_source::{QName, ns};

use crate::convention;
use crate::info::ElementInfo;

/// The protocol of a binding, and what its operations have in common.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) enum Protocol {
    Soap(Soap),
    /// The verb.
    Http(String),
    /// None that the notation knows.
    None,
}

#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Soap {
    /// The namespace of its extension elements.
    pub namespace: &'static str,
    pub style: String,
    pub transport: Option<String>,
    /// Literal or encoded.
    pub usage: String,
    pub encoding: Option<String>,
    /// The namespace of rpc wrappers.
    pub wrapper: Option<String>,
}

/// A header block that all SOAP bindings of an operation have.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Header {
    pub message: QName,
    pub part: String,
}

/// The header blocks of an operation.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub(crate) struct Headers {
    pub request: Vec<Header>,
    pub reply: Vec<Header>,
}

/// What a side's body is made of, where it is not the whole message: the names of the parts.
pub(crate) type BodyParts = [Option<String>; 2];

/// The words by which a bound operation departs on one line.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub(crate) struct Departure {
    /// The action, or that there is none.
    pub action: Option<Option<String>>,
    pub style: Option<String>,
    /// The path of HTTP.
    pub location: Option<String>,
}

impl Protocol {
    /// The protocol that a binding names; its element info may lack its operations.
    pub fn of(binding: &ElementInfo) -> Protocol {
        let Some(extension) = binding.elements().find(|child| &*child.name.local == "binding") else {
            return Protocol::None;
        };
        let namespace = match &*extension.name.namespace {
            ns::WSDL_SOAP11 => ns::WSDL_SOAP11,
            ns::WSDL_SOAP12 => ns::WSDL_SOAP12,
            ns::WSDL_HTTP => {
                return extension.text("verb").map_or(Protocol::None, |verb| Protocol::Http(verb.to_owned()));
            }
            _ => return Protocol::None,
        };
        let bodies: Vec<&ElementInfo> = bodies(binding).collect();
        let encoded = bodies.iter().find(|body| body.text("use") == Some("encoded"));
        let style = extension.text("style").unwrap_or("document").to_owned();
        let wrapper = bodies.iter().find_map(|body| body.text("namespace")).filter(|_| style == "rpc");
        Protocol::Soap(Soap {
            namespace,
            style,
            transport: extension.text("transport").map(str::to_owned),
            usage: if encoded.is_some() { "encoded" } else { "literal" }.to_owned(),
            encoding: encoded.and_then(|body| body.text("encodingStyle")).map(str::to_owned),
            wrapper: wrapper.map(str::to_owned),
        })
    }

    /// The extension element of the binding itself.
    pub fn extension(&self) -> Option<ElementInfo> {
        match self {
            Protocol::Soap(soap) => {
                let info = ElementInfo::new(soap.namespace, "binding").with("style", soap.style.as_str());
                Some(match &soap.transport {
                    Some(transport) => info.with("transport", transport.as_str()),
                    None => info,
                })
            }
            Protocol::Http(verb) => {
                Some(ElementInfo::new(ns::WSDL_HTTP, "binding").with("verb", verb.as_str()))
            }
            Protocol::None => None,
        }
    }

    /// The address of a port.
    pub fn address(&self, location: &str) -> Option<ElementInfo> {
        let namespace = match self {
            Protocol::Soap(soap) => soap.namespace,
            Protocol::Http(_) => ns::WSDL_HTTP,
            Protocol::None => return None,
        };
        Some(ElementInfo::new(namespace, "address").with("location", location))
    }
}

fn bodies(binding: &ElementInfo) -> impl Iterator<Item = &ElementInfo> {
    let operations = binding.elements().filter(|child| child.is_wsdl("operation"));
    let sides = operations.flat_map(ElementInfo::elements).filter(|side| *side.name.namespace == *ns::WSDL);
    sides.flat_map(ElementInfo::elements).filter(|child| &*child.name.local == "body")
}

/// An operation of a binding as the convention has it: `operation` is that of the port type.
pub(crate) fn bound_operation(
    protocol: &Protocol,
    operation: &ElementInfo,
    headers: &Headers,
    parts: &BodyParts,
    departure: &Departure,
    target: &str,
) -> ElementInfo {
    let name = operation.text("name").unwrap_or("");
    let mut bound = ElementInfo::wsdl("operation").with("name", name);
    match protocol {
        Protocol::Soap(soap) => {
            let mut extension = ElementInfo::new(soap.namespace, "operation");
            match &departure.action {
                None => extension = extension.with("soapAction", convention::action(target, name)),
                Some(Some(action)) => extension = extension.with("soapAction", action.as_str()),
                Some(None) => {}
            }
            if let Some(style) = &departure.style {
                extension = extension.with("style", style.as_str());
            }
            bound.push(extension);
        }
        Protocol::Http(_) => {
            let location = departure.location.clone().unwrap_or_else(|| format!("/{name}"));
            bound.push(ElementInfo::new(ns::WSDL_HTTP, "operation").with("location", location));
        }
        Protocol::None => {}
    }
    for side in operation.elements().filter(|side| *side.name.namespace == *ns::WSDL) {
        let mut own = match &*side.name.local {
            local @ ("input" | "output" | "fault") => ElementInfo::wsdl(local),
            _ => continue,
        };
        if let Some(name) = side.text("name") {
            own = own.with("name", name);
        }
        match protocol {
            Protocol::Soap(soap) => soap_side(soap, side, headers, parts, departure, target, &mut own),
            Protocol::Http(verb) => http_side(verb, side, &mut own),
            Protocol::None => {}
        }
        bound.push(own);
    }
    bound
}

fn soap_side(
    soap: &Soap,
    side: &ElementInfo,
    headers: &Headers,
    parts: &BodyParts,
    departure: &Departure,
    target: &str,
    own: &mut ElementInfo,
) {
    let encoded = |mut info: ElementInfo| {
        info = info.with("use", soap.usage.as_str());
        if let Some(encoding) = &soap.encoding {
            info = info.with("encodingStyle", encoding.as_str());
        }
        info
    };
    if side.is_wsdl("fault") {
        let fault = ElementInfo::new(soap.namespace, "fault").with("name", side.text("name").unwrap_or(""));
        own.push(encoded(fault));
        return;
    }
    let is_input = side.is_wsdl("input");
    let mut body = ElementInfo::new(soap.namespace, "body");
    if let Some(parts) = &parts[usize::from(!is_input)] {
        body = body.with("parts", parts.as_str());
    }
    body = encoded(body);
    if departure.style.as_ref().unwrap_or(&soap.style) == "rpc" {
        body = body.with("namespace", soap.wrapper.as_deref().unwrap_or(target));
    }
    own.push(body);
    for header in if is_input { &headers.request } else { &headers.reply } {
        own.push(header_info(soap.namespace, header));
    }
}

/// A header block as all bindings have it.
pub(crate) fn header_info(namespace: &str, header: &Header) -> ElementInfo {
    ElementInfo::new(namespace, "header")
        .naming("message", &header.message)
        .with("part", header.part.as_str())
        .with("use", "literal")
}

fn http_side(verb: &str, side: &ElementInfo, own: &mut ElementInfo) {
    match &*side.name.local {
        "input" if verb == "GET" => own.push(ElementInfo::new(ns::WSDL_HTTP, "urlEncoded")),
        "input" => {
            own.push(
                ElementInfo::new(ns::WSDL_MIME, "content").with("type", "application/x-www-form-urlencoded"),
            );
        }
        "output" => own.push(ElementInfo::new(ns::WSDL_MIME, "mimeXml")),
        _ => {}
    }
}

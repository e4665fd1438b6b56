//! How a binding says that it binds an operation, if it says nothing out of the ordinary.

use charter_source::{QName, ns};

use crate::convention;
use crate::form::Form;

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
    /// The protocol that a binding names; its form may lack its operations.
    pub fn of(binding: &Form) -> Protocol {
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
        let bodies: Vec<&Form> = bodies(binding).collect();
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
    pub fn extension(&self) -> Option<Form> {
        match self {
            Protocol::Soap(soap) => {
                let form = Form::new(soap.namespace, "binding").with("style", soap.style.as_str());
                Some(match &soap.transport {
                    Some(transport) => form.with("transport", transport.as_str()),
                    None => form,
                })
            }
            Protocol::Http(verb) => Some(Form::new(ns::WSDL_HTTP, "binding").with("verb", verb.as_str())),
            Protocol::None => None,
        }
    }

    /// The address of a port.
    pub fn address(&self, location: &str) -> Option<Form> {
        let namespace = match self {
            Protocol::Soap(soap) => soap.namespace,
            Protocol::Http(_) => ns::WSDL_HTTP,
            Protocol::None => return None,
        };
        Some(Form::new(namespace, "address").with("location", location))
    }
}

fn bodies(binding: &Form) -> impl Iterator<Item = &Form> {
    let operations = binding.elements().filter(|child| child.is_wsdl("operation"));
    let sides = operations.flat_map(Form::elements).filter(|side| *side.name.namespace == *ns::WSDL);
    sides.flat_map(Form::elements).filter(|child| &*child.name.local == "body")
}

/// An operation of a binding as the convention has it: `operation` is that of the port type.
pub(crate) fn bound_operation(
    protocol: &Protocol,
    operation: &Form,
    headers: &Headers,
    parts: &BodyParts,
    departure: &Departure,
    target: &str,
) -> Form {
    let name = operation.text("name").unwrap_or("");
    let mut bound = Form::wsdl("operation").with("name", name);
    match protocol {
        Protocol::Soap(soap) => {
            let mut extension = Form::new(soap.namespace, "operation");
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
            bound.push(Form::new(ns::WSDL_HTTP, "operation").with("location", location));
        }
        Protocol::None => {}
    }
    for side in operation.elements().filter(|side| *side.name.namespace == *ns::WSDL) {
        let mut own = match &*side.name.local {
            local @ ("input" | "output" | "fault") => Form::wsdl(local),
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
    side: &Form,
    headers: &Headers,
    parts: &BodyParts,
    departure: &Departure,
    target: &str,
    own: &mut Form,
) {
    let encoded = |mut form: Form| {
        form = form.with("use", soap.usage.as_str());
        if let Some(encoding) = &soap.encoding {
            form = form.with("encodingStyle", encoding.as_str());
        }
        form
    };
    if side.is_wsdl("fault") {
        let fault = Form::new(soap.namespace, "fault").with("name", side.text("name").unwrap_or(""));
        own.push(encoded(fault));
        return;
    }
    let is_input = side.is_wsdl("input");
    let mut body = Form::new(soap.namespace, "body");
    if let Some(parts) = &parts[usize::from(!is_input)] {
        body = body.with("parts", parts.as_str());
    }
    body = encoded(body);
    if departure.style.as_ref().unwrap_or(&soap.style) == "rpc" {
        body = body.with("namespace", soap.wrapper.as_deref().unwrap_or(target));
    }
    own.push(body);
    for header in if is_input { &headers.request } else { &headers.reply } {
        own.push(header_form(soap.namespace, header));
    }
}

/// A header block as all bindings have it.
pub(crate) fn header_form(namespace: &str, header: &Header) -> Form {
    Form::new(namespace, "header")
        .naming("message", &header.message)
        .with("part", header.part.as_str())
        .with("use", "literal")
}

fn http_side(verb: &str, side: &Form, own: &mut Form) {
    match &*side.name.local {
        "input" if verb == "GET" => own.push(Form::new(ns::WSDL_HTTP, "urlEncoded")),
        "input" => {
            own.push(Form::new(ns::WSDL_MIME, "content").with("type", "application/x-www-form-urlencoded"));
        }
        "output" => own.push(Form::new(ns::WSDL_MIME, "mimeXml")),
        _ => {}
    }
}

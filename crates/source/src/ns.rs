//! Namespace names of the open standards that contracts are made of.

/// XML Schema 1.0.
pub const XSD: &str = "http://www.w3.org/2001/XMLSchema";
/// Attributes for instances: `xsi:type`, `xsi:nil`.
pub const XSI: &str = "http://www.w3.org/2001/XMLSchema-instance";
/// The `xml:` prefix.
pub const XML: &str = "http://www.w3.org/XML/1998/namespace";
/// WSDL 1.1.
pub const WSDL: &str = "http://schemas.xmlsoap.org/wsdl/";
/// WSDL 2.0, recognised only to say that it is another language.
pub const WSDL20: &str = "http://www.w3.org/ns/wsdl";
/// The SOAP 1.1 binding of WSDL 1.1.
pub const WSDL_SOAP11: &str = "http://schemas.xmlsoap.org/wsdl/soap/";
/// The SOAP 1.2 binding of WSDL 1.1.
pub const WSDL_SOAP12: &str = "http://schemas.xmlsoap.org/wsdl/soap12/";
/// The HTTP binding of WSDL 1.1.
pub const WSDL_HTTP: &str = "http://schemas.xmlsoap.org/wsdl/http/";
/// The MIME binding of WSDL 1.1.
pub const WSDL_MIME: &str = "http://schemas.xmlsoap.org/wsdl/mime/";
/// The transport URI that means SOAP over HTTP.
pub const SOAP_OVER_HTTP: &str = "http://schemas.xmlsoap.org/soap/http";
/// The transport URI that some contracts use for SOAP 1.2 over HTTP.
pub const SOAP12_OVER_HTTP: &str = "http://www.w3.org/2003/05/soap/bindings/HTTP/";
/// The SOAP 1.1 envelope.
pub const SOAP11_ENVELOPE: &str = "http://schemas.xmlsoap.org/soap/envelope/";
/// The SOAP 1.1 encoding.
pub const SOAP11_ENCODING: &str = "http://schemas.xmlsoap.org/soap/encoding/";
/// The SOAP 1.2 envelope.
pub const SOAP12_ENVELOPE: &str = "http://www.w3.org/2003/05/soap-envelope";
/// The SOAP 1.2 encoding.
pub const SOAP12_ENCODING: &str = "http://www.w3.org/2003/05/soap-encoding";
/// WS-Addressing 1.0.
pub const ADDRESSING: &str = "http://www.w3.org/2005/08/addressing";
/// WS-Addressing 1.0, WSDL Binding: `wsaw:Action`, `wsaw:UsingAddressing`.
pub const WSAW: &str = "http://www.w3.org/2006/05/addressing/wsdl";
/// WS-Addressing 1.0, Metadata: `wsam:Action`, `wsam:Addressing`.
pub const WSAM: &str = "http://www.w3.org/2007/05/addressing/metadata";
/// WS-Policy 1.5, and 1.2, which many contracts still use.
pub const POLICY: [&str; 2] =
    ["http://www.w3.org/ns/ws-policy", "http://schemas.xmlsoap.org/ws/2004/09/policy"];
/// WS-SecurityPolicy 1.2 and 1.1.
pub const SECURITY_POLICY: [&str; 2] = [
    "http://docs.oasis-open.org/ws-sx/ws-securitypolicy/200702",
    "http://schemas.xmlsoap.org/ws/2005/07/securitypolicy",
];
/// WS-Security, utility: `wsu:Id`.
pub const WSU: &str = "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-utility-1.0.xsd";
/// WS-Security: `wsse:Security`, `wsse:UsernameToken`.
pub const WSSE: &str = "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-secext-1.0.xsd";
/// XML-binary Optimized Packaging.
pub const XOP: &str = "http://www.w3.org/2004/08/xop/include";

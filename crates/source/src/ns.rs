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
/// The SOAP 1.1 envelope.
pub const SOAP11_ENVELOPE: &str = "http://schemas.xmlsoap.org/soap/envelope/";
/// The SOAP 1.1 encoding.
pub const SOAP11_ENCODING: &str = "http://schemas.xmlsoap.org/soap/encoding/";
/// The SOAP 1.2 envelope.
pub const SOAP12_ENVELOPE: &str = "http://www.w3.org/2003/05/soap-envelope";
/// WS-Addressing 1.0.
pub const ADDRESSING: &str = "http://www.w3.org/2005/08/addressing";

//! What the notation knows of the attributes of contracts: which name components, and which values say nothing.

use charter_source::{QName, ns};

/// Prefixes that XML in the notation may use without declaring them.
pub(crate) const USUAL: [(&str, &str); 6] = [
    ("xs", ns::XSD),
    ("wsdl", ns::WSDL),
    ("soap", ns::WSDL_SOAP11),
    ("soap12", ns::WSDL_SOAP12),
    ("http", ns::WSDL_HTTP),
    ("mime", ns::WSDL_MIME),
];

/// Whether the elements of a namespace make up contracts, so that comments and white space in them say nothing.
pub(crate) fn is_known(namespace: &str) -> bool {
    USUAL.iter().any(|(_, known)| *known == namespace)
}

/// Whether an element holds words of the author instead of parts of the contract.
pub(crate) fn is_open(name: &QName) -> bool {
    name.is(ns::XSD, "documentation") || name.is(ns::XSD, "appinfo") || name.is(ns::WSDL, "documentation")
}

/// Whether an attribute holds names of components.
pub(crate) fn holds_names(element: &QName, attribute: &str) -> bool {
    match &*element.namespace {
        ns::XSD => matches!(
            attribute,
            "type" | "ref" | "base" | "itemType" | "memberTypes" | "substitutionGroup" | "refer"
        ),
        ns::WSDL => matches!(
            (&*element.local, attribute),
            ("part", "element" | "type")
                | ("input" | "output" | "fault", "message")
                | ("binding", "type")
                | ("port", "binding")
        ),
        ns::WSDL_SOAP11 | ns::WSDL_SOAP12 => {
            matches!((&*element.local, attribute), ("header" | "headerfault", "message"))
        }
        _ => false,
    }
}

/// Whether the paths of an identity constraint stand in an attribute.
pub(crate) fn holds_path(element: &QName, attribute: &str) -> bool {
    attribute == "xpath" && (element.is(ns::XSD, "selector") || element.is(ns::XSD, "field"))
}

/// Whether the value of an attribute is a truth value.
fn is_truth(element: &QName, attribute: &str) -> bool {
    match &*element.namespace {
        ns::XSD if attribute == "fixed" => !matches!(&*element.local, "element" | "attribute"),
        ns::XSD => matches!(attribute, "nillable" | "abstract" | "mixed"),
        _ => false,
    }
}

/// The value of an attribute in the way in which it is usually written; `None` if it says only what holds anyway.
pub(crate) fn said(element: &QName, attribute: &str, value: &str) -> Option<String> {
    if is_truth(element, attribute) {
        return match value.trim() {
            "0" | "false" => None,
            "1" | "true" => Some("true".to_owned()),
            _ => Some(value.to_owned()),
        };
    }
    let default = match (&*element.namespace, attribute) {
        (ns::XSD, "minOccurs" | "maxOccurs") => Some("1"),
        (ns::XSD, "use") => Some("optional"),
        (ns::XSD, "targetNamespace") => Some(""),
        (ns::XSD, "processContents") => Some("strict"),
        (ns::XSD, "namespace") if matches!(&*element.local, "any" | "anyAttribute") => Some("##any"),
        (ns::XSD, "elementFormDefault" | "attributeFormDefault") => Some("unqualified"),
        _ => None,
    };
    if default.is_some_and(|default| value.trim() == default) {
        return None;
    }
    let is_text = matches!(attribute, "default" | "fixed" | "value" | "xpath")
        || *element.namespace != *ns::XSD
        || matches!(attribute, "id" | "version" | "source");
    Some(if is_text { value.to_owned() } else { value.trim().to_owned() })
}

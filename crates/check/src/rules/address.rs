//! Addresses of ports.

use charter_contract::{Contract, Extension, ExtensionKind, Port};
use charter_source::Fault;

use crate::example::{Example, Slot};
use crate::level::Level;
use crate::rule::{Family, Rule};

const fn address(
    name: &'static str,
    standard: &'static str,
    asks: &'static str,
    why: &'static str,
    wrong: &'static str,
    look: fn(&Contract, &mut Vec<Fault>),
) -> Rule {
    let right = "<soap:address location=\"https://berths.saltmere.example/1\"/>";
    let example = Example::of(Slot::Port, wrong, right);
    Rule { name, standard, asks, why, example, look: Some(look), ..Rule::of(Family::Soap, Level::Error) }
}

pub(crate) const RULES: &[Rule] = &[
    address(
        "address-missing",
        "WSDL 1.1, sections 3.8 and 4.3",
        "Every port has an address.",
        "Nobody can call a port without one, and stubs that are generated from the contract do not compile or \
         do not connect.",
        "",
        missing_address,
    ),
    address(
        "address-scheme",
        "WSDL 1.1, section 3.8; RFC 3986, section 4.3",
        "An address is absolute, with a scheme such as https.",
        "A consumer has nothing that the address could be relative to.",
        "<soap:address location=\"berths.saltmere.example/1\"/>",
        address_scheme,
    ),
    address(
        "address-placeholder",
        "WSDL 1.1, section 3.8",
        "An address holds no placeholder that somebody was to replace.",
        "The contract went out before it was finished: every consumer must ask for the real address.",
        "<soap:address location=\"https://${host}/berths\"/>",
        address_placeholder,
    ),
    address(
        "address-twice",
        "WSDL 1.1, section 2.6",
        "A port has one address.",
        "A port is one endpoint. Of two addresses, tools take the first, the last or neither.",
        r#"<soap:address location="https://berths.saltmere.example/1"/>
    <soap:address location="https://berths.saltmere.example/old"/>"#,
        several_addresses,
    ),
    address(
        "address-protocol",
        "WSDL 1.1, sections 2.6, 3.8 and 4.3",
        "The address of a port is one of the protocol that its binding binds to.",
        "A reader of a SOAP binding looks for the address of that version of SOAP, and finds none.",
        r#"<soap12:address location="https://berths.saltmere.example/1"/>"#,
        address_protocol,
    ),
];

fn several_addresses(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, port) in contract.ports() {
        for second in port.extensions.iter().filter(|extension| is_address(extension)).skip(1) {
            let message = format!("the port \"{}\" has another address already", port.name.text);
            let fault = Fault::new("address-twice", second.place, message);
            faults.push(fault.help("write a port for each address"));
        }
    }
}

fn address_protocol(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, port) in contract.ports() {
        let (Some(binding), Some(address)) = (port.binding.target, only_address(port)) else { continue };
        let wanted = match contract.protocol(binding) {
            Some((version, _)) => format!("SOAP {}", version.number()),
            None if contract.is_http(binding) => "HTTP".to_owned(),
            None => continue,
        };
        let found = match &address.kind {
            ExtensionKind::SoapAddress { version, .. } => format!("SOAP {}", version.number()),
            _ => "HTTP".to_owned(),
        };
        if found != wanted {
            let message = format!("this address is one of {found}, but the port is bound to {wanted}");
            let fault = Fault::new("address-protocol", address.place, message);
            faults.push(fault.help("write the address with the prefix of the binding's protocol"));
        }
    }
}

fn only_address(port: &Port) -> Option<&Extension> {
    port.extensions.iter().find(|extension| is_address(extension))
}

fn addresses(contract: &Contract) -> impl Iterator<Item = &charter_contract::Label> {
    let ports = contract.services.iter().flat_map(|(_, service)| &service.ports);
    ports.filter_map(|port| port.address()).filter(|address| !address.text.is_empty())
}

fn missing_address(contract: &Contract, faults: &mut Vec<Fault>) {
    for port in contract.services.iter().flat_map(|(_, service)| &service.ports) {
        if port.address().is_none_or(|address| address.text.is_empty()) {
            let place = port
                .extensions
                .iter()
                .find(|e| is_address(e))
                .map_or(port.place, |extension| extension.place);
            let message = format!("the port \"{}\" has no address", port.name.text);
            let fault = Fault::new("address-missing", place, message);
            faults.push(fault.help("add the address of the service, such as https://…"));
        }
    }
}

fn is_address(extension: &Extension) -> bool {
    matches!(extension.kind, ExtensionKind::SoapAddress { .. } | ExtensionKind::HttpAddress { .. })
}

fn address_placeholder(contract: &Contract, faults: &mut Vec<Fault>) {
    for address in addresses(contract) {
        if let Some(placeholder) = placeholder(&address.text) {
            let message = format!("the address still holds the placeholder {placeholder}");
            let fault = Fault::new("address-placeholder", address.place, message);
            faults.push(fault.help("put the real address in its place"));
        }
    }
}

/// The part of an address that was meant to be replaced: something in brackets or between marks, a word such
/// as TODO, or a host or port in capitals.
fn placeholder(address: &str) -> Option<&str> {
    for (open, close) in [("${", '}'), ("{", '}'), ("<", '>'), ("[", ']'), ("@", '@'), ("%%", '%')] {
        // Brackets around a host mean a numeric address.
        if let Some(at) = address.find(open).filter(|_| !(open == "[" && address.contains("://["))) {
            let rest = &address[at + open.len()..];
            if let Some(end) = rest.find(close) {
                return Some(&address[at..at + open.len() + end + 1]);
            }
        }
    }
    let words = || {
        address.split(|c: char| !c.is_ascii_alphanumeric() && c != '_' && c != '-').filter(|w| !w.is_empty())
    };
    let telling = |word: &&str| {
        let lower = word.to_ascii_lowercase();
        [
            "replace",
            "changeme",
            "change_me",
            "change-me",
            "placeholder",
            "todo",
            "fixme",
            "yourhost",
            "yourserver",
        ]
        .iter()
        .any(|sign| lower.starts_with(sign))
            || lower.starts_with("your_")
            || lower.starts_with("your-")
            || (["HOST", "PORT", "SERVER", "HOSTNAME", "ADDRESS", "SERVERNAME"].contains(word))
    };
    words().find(telling)
}

/// Whether an address is one that somebody has written out, right or wrong.
pub(super) fn is_written(address: &str) -> bool {
    placeholder(address).is_none() && has_scheme(address)
}

fn address_scheme(contract: &Contract, faults: &mut Vec<Fault>) {
    for address in addresses(contract).filter(|address| placeholder(&address.text).is_none()) {
        if !has_scheme(&address.text) {
            let message = format!("the address \"{}\" has no scheme", address.text);
            let help = if address.text.starts_with('/') || address.text.starts_with('.') {
                "write the whole address, from https:// on".to_owned()
            } else {
                format!("write https://{}", address.text)
            };
            faults.push(Fault::new("address-scheme", address.place, message).help(help));
        }
    }
}

fn has_scheme(address: &str) -> bool {
    let Some((scheme, rest)) = address.split_once(':') else { return false };
    let named = scheme.starts_with(|c: char| c.is_ascii_alphabetic())
        && scheme.chars().all(|c| c.is_ascii_alphanumeric() || matches!(c, '+' | '-' | '.'));
    // A host and its port look like a scheme, but what follows is a number.
    let port = rest.chars().next().is_none_or(|c| c.is_ascii_digit());
    let slashes = !matches!(scheme.to_ascii_lowercase().as_str(), "http" | "https") || rest.starts_with("//");
    named && !port && slashes
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn placeholders_are_told_from_addresses() {
        for address in [
            "https://${host}/a",
            "http://{server}/a",
            "http://@HOST@/a",
            "HOST:PORT/a",
            "http://localhost:PORT/",
            "REPLACE_WITH_ACTUAL_URL",
            "http://your-server/a",
            "https://todo",
        ] {
            assert!(placeholder(address).is_some(), "{address}");
        }
        for address in
            ["https://berths.saltmere.example/1", "http://[::1]:80/hosts", "http://hostel.example/ports"]
        {
            assert_eq!(placeholder(address), None, "{address}");
        }
    }

    #[test]
    fn a_port_is_no_scheme() {
        for address in ["http://a/", "https://a", "jms:queue:berths", "urn:a:b"] {
            assert!(has_scheme(address), "{address}");
        }
        for address in ["localhost:8080/a", "a/b", "/a", "http:a", "://a", "http"] {
            assert!(!has_scheme(address), "{address}");
        }
    }
}

//! SOAP bindings and addresses.

use charter_contract::{
    BindingMessage, BindingOperation, Contract, Extension, ExtensionKind, Message, Part, Side, Style,
};
use charter_source::Fault;

use crate::{Example, Family, Level, Rule, Slot};

const RPC_RIGHT: &str = "<wsdl:message name=\"tide\"><wsdl:part name=\"day\" type=\"xs:date\"/></wsdl:message>\n<wsdl:portType name=\"Tides\">\n  <wsdl:operation name=\"reportTide\"><wsdl:input message=\"tns:tide\"/></wsdl:operation>\n</wsdl:portType>\n<wsdl:binding name=\"TidesSoap\" type=\"tns:Tides\">\n  <soap:binding style=\"rpc\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"reportTide\">\n    <soap:operation soapAction=\"\"/>\n    <wsdl:input><soap:body use=\"literal\" namespace=\"urn:saltmere:berths:1\"/></wsdl:input>\n  </wsdl:operation>\n</wsdl:binding>";

const RPC_WRONG: &str = "<wsdl:message name=\"tide\"><wsdl:part name=\"day\" element=\"tns:findBerth\"/></wsdl:message>\n<wsdl:portType name=\"Tides\">\n  <wsdl:operation name=\"reportTide\"><wsdl:input message=\"tns:tide\"/></wsdl:operation>\n</wsdl:portType>\n<wsdl:binding name=\"TidesSoap\" type=\"tns:Tides\">\n  <soap:binding style=\"rpc\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"reportTide\">\n    <soap:operation soapAction=\"\"/>\n    <wsdl:input><soap:body use=\"literal\" namespace=\"urn:saltmere:berths:1\"/></wsdl:input>\n  </wsdl:operation>\n</wsdl:binding>";

const DOCUMENT_WRONG: &str = "<wsdl:message name=\"tide\"><wsdl:part name=\"day\" type=\"xs:date\"/></wsdl:message>\n<wsdl:portType name=\"Tides\">\n  <wsdl:operation name=\"reportTide\"><wsdl:input message=\"tns:tide\"/></wsdl:operation>\n</wsdl:portType>\n<wsdl:binding name=\"TidesSoap\" type=\"tns:Tides\">\n  <soap:binding style=\"document\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"reportTide\">\n    <soap:operation soapAction=\"\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n  </wsdl:operation>\n</wsdl:binding>";

const DOCUMENT_RIGHT: &str = "<wsdl:message name=\"tide\"><wsdl:part name=\"day\" element=\"tns:findBerth\"/></wsdl:message>\n<wsdl:portType name=\"Tides\">\n  <wsdl:operation name=\"reportTide\"><wsdl:input message=\"tns:tide\"/></wsdl:operation>\n</wsdl:portType>\n<wsdl:binding name=\"TidesSoap\" type=\"tns:Tides\">\n  <soap:binding style=\"document\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"reportTide\">\n    <soap:operation soapAction=\"\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n  </wsdl:operation>\n</wsdl:binding>";

const fn address(
    name: &'static str,
    standard: &'static str,
    asks: &'static str,
    why: &'static str,
    wrong: &'static str,
    look: fn(&Contract, &mut Vec<Fault>),
) -> Rule {
    let right = "<wsdl:service name=\"BerthsService\">\n  <wsdl:port name=\"BerthsPort\" binding=\"tns:BerthsSoap\">\n    <soap:address location=\"https://berths.saltmere.example/1\"/>\n  </wsdl:port>\n</wsdl:service>";
    let example = Some(Example { slot: Slot::Service, wrong, right });
    Rule { name, family: Family::Soap, level: Level::Error, standard, asks, why, example, look: Some(look) }
}

pub(crate) const RULES: &[Rule] = &[
    Rule {
        name: "binding-protocol",
        family: Family::Soap,
        level: Level::Error,
        standard: "WSDL 1.1, sections 2.5, 3.3 and 4.4",
        asks: "Every binding says which protocol it binds to.",
        why: "Without a soap:binding or http:binding nobody knows how a message is sent.",
        example: Some(Example {
            slot: Slot::Binding,
            wrong: "<wsdl:binding name=\"BerthsSoap\" type=\"tns:Berths\">\n  <wsdl:operation name=\"findBerth\">\n    <wsdl:input/>\n    <wsdl:output/>\n  </wsdl:operation>\n</wsdl:binding>",
            right: "<wsdl:binding name=\"BerthsSoap\" type=\"tns:Berths\">\n  <soap:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"findBerth\">\n    <soap:operation soapAction=\"\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n</wsdl:binding>",
        }),
        look: Some(protocol),
    },
    Rule {
        name: "document-part-type",
        family: Family::Soap,
        level: Level::Error,
        standard: "Basic Profile 1.1, R2204; WSDL 1.1, section 3.5",
        asks: "In document style, the parts of a body name elements.",
        why: "A body whose part names a type has no element name of its own: the message cannot be told from \
              any other, and most tools refuse it.",
        example: Some(Example { slot: Slot::Messages, wrong: DOCUMENT_WRONG, right: DOCUMENT_RIGHT }),
        look: Some(document_parts),
    },
    Rule {
        name: "rpc-part-element",
        family: Family::Soap,
        level: Level::Error,
        standard: "Basic Profile 1.1, R2203; WSDL 1.1, section 3.5",
        asks: "In rpc style, the parts of a body name types.",
        why: "In rpc style the accessor is named after the part, so the element of the part would never appear.",
        example: Some(Example { slot: Slot::Messages, wrong: RPC_WRONG, right: RPC_RIGHT }),
        look: Some(rpc_parts),
    },
    Rule {
        name: "style-mixed",
        family: Family::Soap,
        level: Level::Error,
        standard: "Basic Profile 1.1, R2705",
        asks: "All operations of a binding have the same style.",
        why: "Code generators decide by binding, not by operation, so one of the two styles is generated wrongly.",
        example: Some(Example {
            slot: Slot::Binding,
            wrong: "<wsdl:binding name=\"BerthsSoap\" type=\"tns:Berths\">\n  <soap:binding style=\"rpc\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"findBerth\">\n    <soap:operation soapAction=\"\" style=\"document\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n</wsdl:binding>",
            right: "<wsdl:binding name=\"BerthsSoap\" type=\"tns:Berths\">\n  <soap:binding style=\"document\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"findBerth\">\n    <soap:operation soapAction=\"\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n</wsdl:binding>",
        }),
        look: Some(mixed_style),
    },
    address(
        "address-missing",
        "WSDL 1.1, sections 3.8 and 4.3",
        "Every port has an address.",
        "Nobody can call a port without one, and stubs that are generated from the contract do not compile or \
         do not connect.",
        "<wsdl:service name=\"BerthsService\">\n  <wsdl:port name=\"BerthsPort\" binding=\"tns:BerthsSoap\"/>\n</wsdl:service>",
        missing_address,
    ),
    address(
        "address-scheme",
        "WSDL 1.1, section 3.8; RFC 3986, section 4.3",
        "An address is absolute, with a scheme such as https.",
        "A consumer has nothing that the address could be relative to.",
        "<wsdl:service name=\"BerthsService\">\n  <wsdl:port name=\"BerthsPort\" binding=\"tns:BerthsSoap\">\n    <soap:address location=\"berths.saltmere.example/1\"/>\n  </wsdl:port>\n</wsdl:service>",
        address_scheme,
    ),
    address(
        "address-placeholder",
        "WSDL 1.1, section 3.8",
        "An address holds no placeholder that somebody was to replace.",
        "The contract went out before it was finished: every consumer must ask for the real address.",
        "<wsdl:service name=\"BerthsService\">\n  <wsdl:port name=\"BerthsPort\" binding=\"tns:BerthsSoap\">\n    <soap:address location=\"https://${host}/berths\"/>\n  </wsdl:port>\n</wsdl:service>",
        address_placeholder,
    ),
];

fn protocol(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, binding) in contract.bindings.iter() {
        if binding.extensions.is_empty() {
            let message = format!("the binding \"{}\" names no protocol", binding.name.local);
            let fault = Fault::new("binding-protocol", binding.place, message);
            faults.push(fault.help("add a soap:binding with its transport"));
        }
    }
}

/// The style of each bound operation of SOAP bindings.
fn styles(
    contract: &Contract,
) -> impl Iterator<Item = (&charter_contract::Binding, &BindingOperation, Style)> {
    contract.bindings.iter().filter_map(|(id, binding)| Some((binding, contract.protocol(id)?.1))).flat_map(
        |(binding, default)| {
            binding.operations.iter().map(move |bound| {
                let own = bound.extensions.iter().find_map(|extension| match &extension.kind {
                    ExtensionKind::SoapOperation { style, .. } => *style,
                    _ => None,
                });
                (binding, bound, own.unwrap_or(default))
            })
        },
    )
}

/// Each part that a body of that style carries, once for each binding.
fn body_parts(contract: &Contract, wanted: Style, mut see: impl FnMut(&Part, &BindingOperation)) {
    for (binding, bound, _) in styles(contract).filter(|(_, _, style)| *style == wanted) {
        let port_type = binding.port_type.target.map(|id| &contract.port_types[id]);
        let Some(operation) = port_type.zip(bound.operation).map(|(p, index)| &p.operations[index]) else {
            continue;
        };
        let sides =
            [(Side::Input, &operation.input, &bound.input), (Side::Output, &operation.output, &bound.output)];
        for (_, usage, side) in sides {
            let message = usage.as_ref().and_then(|usage| usage.message.target);
            if let (Some(message), Some(side)) = (message, side) {
                parts_in_body(&contract.messages[message], side).for_each(|part| see(part, bound));
            }
        }
    }
}

fn parts_in_body<'c>(message: &'c Message, side: &'c BindingMessage) -> impl Iterator<Item = &'c Part> {
    let chosen = side.extensions.iter().find_map(|extension| match &extension.kind {
        ExtensionKind::SoapBody(body) => body.parts.as_ref(),
        _ => None,
    });
    let in_body = move |part: &&Part| {
        chosen.is_none_or(|labels| labels.iter().any(|label| label.text == part.name.text))
    };
    message.parts.iter().filter(in_body)
}

fn document_parts(contract: &Contract, faults: &mut Vec<Fault>) {
    let mut seen = charter_source::Set::default();
    body_parts(contract, Style::Document, |part, bound| {
        if part.element.is_none() && part.ty.is_some() && seen.insert(part.place) {
            let message = format!(
                "the part \"{}\" names a type, but \"{}\" is bound in document style",
                part.name.text, bound.name.text
            );
            let fault = Fault::new("document-part-type", part.place, message);
            faults.push(fault.help("declare an element of that type and name it in the part"));
        }
    });
}

fn rpc_parts(contract: &Contract, faults: &mut Vec<Fault>) {
    let mut seen = charter_source::Set::default();
    body_parts(contract, Style::Rpc, |part, bound| {
        if part.element.is_some() && part.ty.is_none() && seen.insert(part.place) {
            let message = format!(
                "the part \"{}\" names an element, but \"{}\" is bound in rpc style",
                part.name.text, bound.name.text
            );
            let fault = Fault::new("rpc-part-element", part.place, message);
            faults.push(fault.help("name the type of the element instead"));
        }
    });
}

fn mixed_style(contract: &Contract, faults: &mut Vec<Fault>) {
    for (id, binding) in contract.bindings.iter() {
        let Some((_, default)) = contract.protocol(id) else { continue };
        for extension in binding.operations.iter().flat_map(|bound| &bound.extensions) {
            if let ExtensionKind::SoapOperation { style: Some(style), .. } = extension.kind
                && style != default
            {
                let message = format!(
                    "this operation is in {} style, its binding \"{}\" in {} style",
                    style.name(),
                    binding.name.local,
                    default.name()
                );
                let fault = Fault::new("style-mixed", extension.place, message);
                faults.push(
                    fault.help("put operations of another style into a port type and binding of their own"),
                );
            }
        }
    }
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

//! Contracts: the components of WSDL and what holds them together.

use charter_contract::Contract;
use charter_source::{Fault, Map, nearest};

use crate::{Example, Family, Level, Rule, Slot};

const fn found_by_reading(
    name: &'static str,
    standard: &'static str,
    asks: &'static str,
    why: &'static str,
    example: Example,
) -> Rule {
    let (family, level) = (Family::Wsdl, Level::Error);
    Rule { name, family, level, standard, asks, why, example: Some(example), look: None }
}

const fn messages(wrong: &'static str, right: &'static str) -> Example {
    Example { slot: Slot::Messages, wrong, right }
}

pub(crate) const RULES: &[Rule] = &[
    found_by_reading(
        "not-a-contract",
        "WSDL 1.1, section 2.1",
        "The file is a WSDL 1.1 contract or an XML Schema.",
        "The root element tells what a file is. Another root is often a web page, a message, or a contract in \
         WSDL 2.0, which is a language of its own.",
        Example {
            slot: Slot::File,
            wrong: "<berths xmlns=\"urn:saltmere:berths:1\"/>",
            right: "<wsdl:definitions xmlns:wsdl=\"http://schemas.xmlsoap.org/wsdl/\"/>",
        },
    ),
    found_by_reading(
        "wsdl-structure",
        "WSDL 1.1, appendix A.4.1",
        "Every element of a contract stands where WSDL allows it.",
        "What stands in a wrong place is ignored by one tool and refused by the next.",
        messages(
            "<wsdl:operation name=\"closeBerth\"/>",
            "<wsdl:message name=\"closeBerthInput\"><wsdl:part name=\"parameters\" element=\"tns:findBerth\"/></wsdl:message>",
        ),
    ),
    found_by_reading(
        "wsdl-name",
        "WSDL 1.1, section 2.1",
        "Every component that must have a name has one.",
        "Nothing can refer to it.",
        messages(
            "<wsdl:message><wsdl:part name=\"parameters\" element=\"tns:findBerth\"/></wsdl:message>",
            "<wsdl:message name=\"closeBerthInput\"><wsdl:part name=\"parameters\" element=\"tns:findBerth\"/></wsdl:message>",
        ),
    ),
    found_by_reading(
        "duplicate-name",
        "WSDL 1.1, section 2.1",
        "No two components of one kind share a name.",
        "A reference to the name could mean either. Tools take the first, the last or neither.",
        messages(
            "<wsdl:message name=\"findBerthInput\"/>",
            "<wsdl:message name=\"closeBerthInput\"><wsdl:part name=\"parameters\" element=\"tns:findBerth\"/></wsdl:message>",
        ),
    ),
    found_by_reading(
        "element-unknown",
        "WSDL 1.1, section 2.3.1",
        "Every element that a part names exists.",
        "Only global elements can be parts of a message. A part whose element is missing leaves the message undefined.",
        messages(
            "<wsdl:message name=\"closeBerthInput\"><wsdl:part name=\"parameters\" element=\"tns:findBirth\"/></wsdl:message>",
            "<wsdl:message name=\"closeBerthInput\"><wsdl:part name=\"parameters\" element=\"tns:findBerth\"/></wsdl:message>",
        ),
    ),
    found_by_reading(
        "type-unknown",
        "WSDL 1.1, section 2.3.1",
        "Every type that a part names exists.",
        "Without the type nobody knows what the part may hold. The name is most often misspelt, carries the wrong \
         prefix, or belongs to a schema that is not imported.",
        messages(
            "<wsdl:message name=\"closeBerthInput\"><wsdl:part name=\"number\" type=\"xs:integr\"/></wsdl:message>",
            "<wsdl:message name=\"closeBerthInput\"><wsdl:part name=\"number\" type=\"xs:integer\"/></wsdl:message>",
        ),
    ),
    found_by_reading(
        "message-unknown",
        "WSDL 1.1, section 2.4",
        "Every message that an operation or a header names exists.",
        "The operation has no content without it. The name is most often misspelt, or the message was renamed \
         in one place of several.",
        Example {
            slot: Slot::PortType,
            wrong: "<wsdl:portType name=\"Berths\">\n  <wsdl:operation name=\"findBerth\">\n    <wsdl:input message=\"tns:findBerthInputs\"/>\n    <wsdl:output message=\"tns:findBerthOutput\"/>\n  </wsdl:operation>\n</wsdl:portType>",
            right: "<wsdl:portType name=\"Berths\">\n  <wsdl:operation name=\"findBerth\">\n    <wsdl:input message=\"tns:findBerthInput\"/>\n    <wsdl:output message=\"tns:findBerthOutput\"/>\n  </wsdl:operation>\n</wsdl:portType>",
        },
    ),
    found_by_reading(
        "part-unknown",
        "WSDL 1.1, sections 2.4.6, 3.5 and 3.7",
        "Every part that a body, a header or a parameter order names is a part of its message.",
        "The binding would leave out what it means to send.",
        Example {
            slot: Slot::Binding,
            wrong: "<wsdl:binding name=\"BerthsSoap\" type=\"tns:Berths\">\n  <soap:binding style=\"document\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"findBerth\">\n    <soap:operation soapAction=\"urn:saltmere:berths:1:findBerth\"/>\n    <wsdl:input><soap:body parts=\"parameter\" use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n</wsdl:binding>",
            right: "<wsdl:binding name=\"BerthsSoap\" type=\"tns:Berths\">\n  <soap:binding style=\"document\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"findBerth\">\n    <soap:operation soapAction=\"urn:saltmere:berths:1:findBerth\"/>\n    <wsdl:input><soap:body parts=\"parameters\" use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n</wsdl:binding>",
        },
    ),
    found_by_reading(
        "port-type-unknown",
        "WSDL 1.1, section 2.5",
        "Every port type that a binding names exists.",
        "The binding binds nothing.",
        Example {
            slot: Slot::Binding,
            wrong: "<wsdl:binding name=\"BerthsSoap\" type=\"tns:Berth\">\n  <soap:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n</wsdl:binding>",
            right: "<wsdl:binding name=\"BerthsSoap\" type=\"tns:Berths\">\n  <soap:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"findBerth\">\n    <soap:operation soapAction=\"\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n</wsdl:binding>",
        },
    ),
    found_by_reading(
        "binding-unknown",
        "WSDL 1.1, section 2.6",
        "Every binding that a port names exists.",
        "Nobody can tell how to talk to the port.",
        Example {
            slot: Slot::Service,
            wrong: "<wsdl:service name=\"BerthsService\">\n  <wsdl:port name=\"BerthsPort\" binding=\"tns:BerthSoap\">\n    <soap:address location=\"https://berths.saltmere.example/1\"/>\n  </wsdl:port>\n</wsdl:service>",
            right: "<wsdl:service name=\"BerthsService\">\n  <wsdl:port name=\"BerthsPort\" binding=\"tns:BerthsSoap\">\n    <soap:address location=\"https://berths.saltmere.example/1\"/>\n  </wsdl:port>\n</wsdl:service>",
        },
    ),
    Rule {
        name: "duplicate-member",
        family: Family::Wsdl,
        level: Level::Error,
        standard: "WSDL 1.1, sections 2.3, 2.4.5, 2.6 and 2.7; Basic Profile 1.1, R2304",
        asks: "Parts of a message, operations of a port type, faults and ports have names of their own.",
        why: "Two parts or ports of one name cannot be told apart. Two operations of one name are allowed by \
              WSDL but by no profile, since most programming languages cannot tell them apart either.",
        example: Some(messages(
            "<wsdl:message name=\"tide\"><wsdl:part name=\"day\" element=\"tns:findBerth\"/><wsdl:part name=\"day\" element=\"tns:findBerth\"/></wsdl:message>",
            "<wsdl:message name=\"tide\"><wsdl:part name=\"day\" element=\"tns:findBerth\"/></wsdl:message>",
        )),
        look: Some(duplicate_members),
    },
    Rule {
        name: "part-content",
        family: Family::Wsdl,
        level: Level::Error,
        standard: "WSDL 1.1, section 2.3.1; Basic Profile 1.1, R2207",
        asks: "A part names an element or a type, and only one of the two.",
        why: "With both, tools choose differently; with neither, the part says nothing.",
        example: Some(messages(
            "<wsdl:message name=\"tide\"><wsdl:part name=\"day\" element=\"tns:findBerth\" type=\"xs:date\"/></wsdl:message>",
            "<wsdl:message name=\"tide\"><wsdl:part name=\"day\" element=\"tns:findBerth\"/></wsdl:message>",
        )),
        look: Some(part_content),
    },
    Rule {
        name: "binding-operation-unknown",
        family: Family::Wsdl,
        level: Level::Error,
        standard: "WSDL 1.1, section 2.5; Basic Profile 1.1, R2718",
        asks: "Every operation of a binding is one of its port type.",
        why: "The binding tells how to send an operation that does not exist. It was renamed or removed in the \
              port type, and the binding was forgotten.",
        example: Some(Example {
            slot: Slot::Binding,
            wrong: "<wsdl:binding name=\"BerthsSoap\" type=\"tns:Berths\">\n  <soap:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"seekBerth\">\n    <soap:operation soapAction=\"\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n</wsdl:binding>",
            right: "<wsdl:binding name=\"BerthsSoap\" type=\"tns:Berths\">\n  <soap:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"findBerth\">\n    <soap:operation soapAction=\"\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n</wsdl:binding>",
        }),
        look: Some(unknown_operations),
    },
    Rule {
        name: "binding-operation-missing",
        family: Family::Wsdl,
        level: Level::Error,
        standard: "WSDL 1.1, section 2.5; Basic Profile 1.1, R2718",
        asks: "A binding binds every operation of its port type, with each of its sides and faults.",
        why: "An operation that is declared but not bound cannot be called. Tools refuse the contract, or leave \
              the operation out without a word.",
        example: Some(Example {
            slot: Slot::Binding,
            wrong: "<wsdl:binding name=\"BerthsSoap\" type=\"tns:Berths\">\n  <soap:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n</wsdl:binding>",
            right: "<wsdl:binding name=\"BerthsSoap\" type=\"tns:Berths\">\n  <soap:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"findBerth\">\n    <soap:operation soapAction=\"\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n</wsdl:binding>",
        }),
        look: Some(missing_operations),
    },
];

fn duplicate_members(contract: &Contract, faults: &mut Vec<Fault>) {
    let mut twice = |kind: &str, labels: &mut dyn Iterator<Item = &charter_contract::Label>| {
        let mut seen: Map<&str, ()> = Map::default();
        for label in labels {
            if seen.insert(&label.text, ()).is_some() {
                let message = format!("there are two {kind} named \"{}\"", label.text);
                let fault = Fault::new("duplicate-member", label.place, message);
                faults.push(fault.help("rename or remove one of them"));
            }
        }
    };
    for (_, message) in contract.messages.iter() {
        twice("parts", &mut message.parts.iter().map(|part| &part.name));
    }
    for (_, port_type) in contract.port_types.iter() {
        twice("operations", &mut port_type.operations.iter().map(|operation| &operation.name));
        for operation in &port_type.operations {
            twice("faults", &mut operation.faults.iter().filter_map(|fault| fault.name.as_ref()));
        }
    }
    for (_, service) in contract.services.iter() {
        twice("ports", &mut service.ports.iter().map(|port| &port.name));
    }
}

fn part_content(contract: &Contract, faults: &mut Vec<Fault>) {
    for part in contract.messages.iter().flat_map(|(_, message)| &message.parts) {
        let (message, help) = match (&part.element, &part.ty) {
            (Some(_), Some(_)) => {
                ("names both an element and a type", "keep the element, or the type for rpc style")
            }
            (None, None) => {
                ("names neither an element nor a type", "add an element attribute, or a type for rpc style")
            }
            _ => continue,
        };
        let fault =
            Fault::new("part-content", part.place, format!("the part \"{}\" {message}", part.name.text));
        faults.push(fault.help(help));
    }
}

/// How many names that lead nowhere get a suggestion: each search looks at every name there is.
const SUGGESTIONS: usize = 50;

fn unknown_operations(contract: &Contract, faults: &mut Vec<Fault>) {
    let mut asked = 0;
    for (_, binding) in contract.bindings.iter() {
        let Some(port_type) = binding.port_type.target.map(|id| &contract.port_types[id]) else { continue };
        let names = || port_type.operations.iter().map(|operation| &*operation.name.text);
        for bound in &binding.operations {
            let Some(index) = bound.operation else {
                asked += 1;
                let near = (asked <= SUGGESTIONS).then(|| nearest(&bound.name.text, names())).flatten();
                let message = format!(
                    "the port type \"{}\" has no operation \"{}\"",
                    port_type.name.local, bound.name.text
                );
                let help = near.map_or_else(
                    || "remove it here, or add it to the port type".to_owned(),
                    |near| format!("did you mean \"{near}\"?"),
                );
                faults.push(Fault::new("binding-operation-unknown", bound.name.place, message).help(help));
                continue;
            };
            let operation = &port_type.operations[index];
            for fault in bound.faults.iter().filter_map(|fault| fault.name.as_ref()) {
                let known = operation.faults.iter().filter_map(|fault| fault.name.as_ref());
                if !known.clone().any(|known| known.text == fault.text) {
                    let near = nearest(&fault.text, known.map(|known| &*known.text));
                    let message =
                        format!("the operation \"{}\" has no fault \"{}\"", bound.name.text, fault.text);
                    let help = near.map_or_else(
                        || "remove it here, or add it to the port type".to_owned(),
                        |near| format!("did you mean \"{near}\"?"),
                    );
                    faults.push(Fault::new("binding-operation-unknown", fault.place, message).help(help));
                }
            }
        }
    }
}

fn missing_operations(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, binding) in contract.bindings.iter() {
        let Some(port_type) = binding.port_type.target.map(|id| &contract.port_types[id]) else { continue };
        let bound: Map<usize, _> =
            binding.operations.iter().filter_map(|bound| Some((bound.operation?, bound))).collect();
        for (index, operation) in port_type.operations.iter().enumerate() {
            let name = &operation.name.text;
            let mut missing = |place, what: String, help: &str| {
                let message = format!("the binding \"{}\" leaves out {what}", binding.name.local);
                faults.push(Fault::new("binding-operation-missing", place, message).help(help));
            };
            let Some(bound) = bound.get(&index) else {
                missing(
                    binding.place,
                    format!("the operation \"{name}\""),
                    "bind it, or remove it from the port type",
                );
                continue;
            };
            let sides = [
                (operation.input.is_some() && bound.input.is_none(), "input"),
                (operation.output.is_some() && bound.output.is_none(), "output"),
            ];
            for (_, side) in sides.into_iter().filter(|(gone, _)| *gone) {
                missing(bound.name.place, format!("the {side} of \"{name}\""), "add it with its body");
            }
            for fault in operation.faults.iter().filter_map(|fault| fault.name.as_ref()) {
                let mut known = bound.faults.iter().filter_map(|fault| fault.name.as_ref());
                if !known.any(|known| known.text == fault.text) {
                    missing(
                        bound.name.place,
                        format!("the fault \"{}\" of \"{name}\"", fault.text),
                        "add it with its soap:fault",
                    );
                }
            }
        }
    }
}

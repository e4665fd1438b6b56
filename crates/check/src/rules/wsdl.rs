//! Contracts: the components of WSDL and what holds them together.

use super::{bindings, operations};
use crate::example::{Example, Slot};
use crate::fixes;
use crate::level::Level;
use crate::rule::{Family, Fix, Rule};

const RULE: Rule = Rule::of(Family::Wsdl, Level::Error);
const WARNS: Rule = Rule::of(Family::Wsdl, Level::Warning);

const fn found_by_reading(
    name: &'static str,
    standard: &'static str,
    asks: &'static str,
    why: &'static str,
    example: Example,
) -> Rule {
    Rule { name, standard, asks, why, example: Some(example), ..RULE }
}

const fn messages(wrong: &'static str, right: &'static str) -> Example {
    Example::new(Slot::Messages, wrong, right)
}

pub(crate) const RULES: &[Rule] = &[
    found_by_reading(
        "not-a-contract",
        "WSDL 1.1, section 2.1",
        "The file is a WSDL 1.1 contract or an XML Schema.",
        "The root element tells what a file is. Another root is often a web page, a message, or a contract in \
         WSDL 2.0, which is a language of its own.",
        Example::new(
            Slot::File,
            "<berths xmlns=\"urn:saltmere:berths:1\"/>",
            "<wsdl:definitions xmlns:wsdl=\"http://schemas.xmlsoap.org/wsdl/\"/>",
        ),
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
            "<wsdl:message name=\"closeBerthInput\"><wsdl:part name=\"parameters\" element=\"tns:findBirth\"/></wsdl:message>\n<wsdl:portType name=\"Doors\"><wsdl:operation name=\"closeBerth\"><wsdl:input message=\"tns:closeBerthInput\"/></wsdl:operation></wsdl:portType>",
            "<wsdl:message name=\"closeBerthInput\"><wsdl:part name=\"parameters\" element=\"tns:findBerth\"/></wsdl:message>\n<wsdl:portType name=\"Doors\"><wsdl:operation name=\"closeBerth\"><wsdl:input message=\"tns:closeBerthInput\"/></wsdl:operation></wsdl:portType>",
        ),
    ),
    found_by_reading(
        "type-unknown",
        "WSDL 1.1, section 2.3.1",
        "Every type that a part names exists.",
        "Without the type nobody knows what the part may hold. The name is most often misspelt, carries the wrong \
         prefix, or belongs to a schema that is not imported.",
        messages(
            "<wsdl:message name=\"closeBerthInput\"><wsdl:part name=\"number\" type=\"xs:integr\"/></wsdl:message>\n<wsdl:portType name=\"Doors\"><wsdl:operation name=\"closeBerth\"><wsdl:input message=\"tns:closeBerthInput\"/></wsdl:operation></wsdl:portType>",
            "<wsdl:message name=\"closeBerthInput\"><wsdl:part name=\"number\" type=\"xs:integer\"/></wsdl:message>\n<wsdl:portType name=\"Doors\"><wsdl:operation name=\"closeBerth\"><wsdl:input message=\"tns:closeBerthInput\"/></wsdl:operation></wsdl:portType>",
        ),
    ),
    found_by_reading(
        "message-unknown",
        "WSDL 1.1, section 2.4",
        "Every message that an operation or a header names exists.",
        "The operation has no content without it. The name is most often misspelt, or the message was renamed \
         in one place of several.",
        Example::new(
            Slot::Operation,
            "<wsdl:input message=\"tns:findBerthInputs\"/>\n    <wsdl:output message=\"tns:findBerthOutput\"/>",
            "<wsdl:input message=\"tns:findBerthInput\"/>\n    <wsdl:output message=\"tns:findBerthOutput\"/>",
        ),
    ),
    found_by_reading(
        "part-unknown",
        "WSDL 1.1, sections 2.4.6, 3.5 and 3.7",
        "Every part that a body, a header or a parameter order names is a part of its message.",
        "The binding would leave out what it means to send.",
        Example::new(
            Slot::Binding,
            "<wsdl:binding name=\"BerthsOverSoap11\" type=\"tns:Berths\">\n  <soap:binding style=\"document\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"findBerth\">\n    <soap:operation soapAction=\"urn:saltmere:berths:1:findBerth\"/>\n    <wsdl:input><soap:body parts=\"parameter\" use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n</wsdl:binding>",
            "<wsdl:binding name=\"BerthsOverSoap11\" type=\"tns:Berths\">\n  <soap:binding style=\"document\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"findBerth\">\n    <soap:operation soapAction=\"urn:saltmere:berths:1:findBerth\"/>\n    <wsdl:input><soap:body parts=\"parameters\" use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n</wsdl:binding>",
        ),
    ),
    found_by_reading(
        "port-type-unknown",
        "WSDL 1.1, section 2.5",
        "Every port type that a binding names exists.",
        "The binding binds nothing.",
        Example::new(
            Slot::Binding,
            "<wsdl:binding name=\"BerthsOverSoap11\" type=\"tns:Berth\">\n  <soap:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n</wsdl:binding>",
            "<wsdl:binding name=\"BerthsOverSoap11\" type=\"tns:Berths\">\n  <soap:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"findBerth\">\n    <soap:operation soapAction=\"\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n</wsdl:binding>",
        ),
    ),
    found_by_reading(
        "binding-unknown",
        "WSDL 1.1, section 2.6",
        "Every binding that a port names exists.",
        "Nobody can tell how to talk to the port.",
        Example::new(
            Slot::Service,
            "<wsdl:service name=\"BerthsService\">\n  <wsdl:port name=\"BerthsPort\" binding=\"tns:BerthOverSoap11\">\n    <soap:address location=\"https://berths.saltmere.example/1\"/>\n  </wsdl:port>\n</wsdl:service>",
            "<wsdl:service name=\"BerthsService\">\n  <wsdl:port name=\"BerthsPort\" binding=\"tns:BerthsOverSoap11\">\n    <soap:address location=\"https://berths.saltmere.example/1\"/>\n  </wsdl:port>\n</wsdl:service>",
        ),
    ),
    Rule {
        name: "duplicate-member",
        standard: "WSDL 1.1, sections 2.3, 2.4.5, 2.6 and 2.7",
        asks: "Parts of a message, faults of an operation and ports of a service have names of their own.",
        why: "Two parts or ports of one name cannot be told apart: a reference to the name could mean either.",
        example: Some(messages(
            "<wsdl:message name=\"tide\"><wsdl:part name=\"day\" element=\"tns:findBerth\"/><wsdl:part name=\"day\" element=\"tns:findBerth\"/></wsdl:message>\n<wsdl:portType name=\"Doors\"><wsdl:operation name=\"closeBerth\"><wsdl:input message=\"tns:tide\"/></wsdl:operation></wsdl:portType>",
            "<wsdl:message name=\"tide\"><wsdl:part name=\"day\" element=\"tns:findBerth\"/></wsdl:message>\n<wsdl:portType name=\"Doors\"><wsdl:operation name=\"closeBerth\"><wsdl:input message=\"tns:tide\"/></wsdl:operation></wsdl:portType>",
        )),
        look: Some(operations::duplicate_members),
        ..Rule::of(Family::Wsdl, Level::Error)
    },
    Rule {
        name: "part-content",
        standard: "WSDL 1.1, section 2.3.1; Basic Profile 1.1, R2306",
        asks: "A part names an element or a type, and only one of the two.",
        why: "With both, tools choose differently; with neither, the part says nothing.",
        example: Some(messages(
            "<wsdl:message name=\"tide\"><wsdl:part name=\"day\" element=\"tns:findBerth\" type=\"xs:date\"/></wsdl:message>\n<wsdl:portType name=\"Doors\"><wsdl:operation name=\"closeBerth\"><wsdl:input message=\"tns:tide\"/></wsdl:operation></wsdl:portType>",
            "<wsdl:message name=\"tide\"><wsdl:part name=\"day\" element=\"tns:findBerth\"/></wsdl:message>\n<wsdl:portType name=\"Doors\"><wsdl:operation name=\"closeBerth\"><wsdl:input message=\"tns:tide\"/></wsdl:operation></wsdl:portType>",
        )),
        look: Some(operations::part_content),
        ..Rule::of(Family::Wsdl, Level::Error)
    },
    Rule {
        name: "binding-operation-unknown",
        standard: "WSDL 1.1, section 2.5; Basic Profile 1.1, R2718",
        asks: "Every operation of a binding is one of its port type.",
        why: "The binding tells how to send an operation that does not exist. It was renamed or removed in the \
              port type, and the binding was forgotten.",
        example: Example::of(
            Slot::Binding,
            "<wsdl:binding name=\"BerthsOverSoap11\" type=\"tns:Berths\">\n  <soap:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"findBerth\">\n    <soap:operation soapAction=\"\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n  <wsdl:operation name=\"seekBerth\">\n    <soap:operation soapAction=\"\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n</wsdl:binding>",
            "<wsdl:binding name=\"BerthsOverSoap11\" type=\"tns:Berths\">\n  <soap:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"findBerth\">\n    <soap:operation soapAction=\"\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n</wsdl:binding>",
        ),
        look: Some(bindings::unknown_operations),
        fix: Some(Fix::in_place(fixes::without_bound)),
        ..Rule::of(Family::Wsdl, Level::Error)
    },
    Rule {
        name: "binding-operation-missing",
        standard: "WSDL 1.1, section 2.5; Basic Profile 1.1, R2718",
        asks: "A binding binds every operation of its port type, with each of its sides and faults.",
        why: "An operation that is declared but not bound cannot be called. Tools refuse the contract, or leave \
              the operation out without a word.",
        example: Example::of(
            Slot::Binding,
            "<wsdl:binding name=\"BerthsOverSoap11\" type=\"tns:Berths\">\n  <soap:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n</wsdl:binding>",
            "<wsdl:binding name=\"BerthsOverSoap11\" type=\"tns:Berths\">\n  <soap:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"findBerth\">\n    <soap:operation soapAction=\"\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n</wsdl:binding>",
        ),
        look: Some(bindings::missing_operations),
        fix: Some(Fix::through_notation(fixes::bind)),
        ..Rule::of(Family::Wsdl, Level::Error)
    },
    Rule {
        name: "wsdl-order",
        standard: "WSDL 1.1, appendix A.4.1; Basic Profile 1.1, R2022 and R2023",
        asks: "The elements of a contract stand in the order of its schema: imports, types, messages, port types, bindings, services.",
        why: "Many readers go by the schema and refuse another order, and people look for things where they always stand. \
              Documentation comes first in what it speaks of.",
        example: Example::of(
            Slot::Service,
            "<wsdl:service name=\"BerthsService\">\n  <wsdl:port name=\"BerthsPort\" binding=\"tns:BerthsOverSoap11\">\n    <soap:address location=\"https://berths.saltmere.example/1\"/>\n  </wsdl:port>\n</wsdl:service>\n<wsdl:portType name=\"Lights\"/>",
            "<wsdl:service name=\"BerthsService\">\n  <wsdl:port name=\"BerthsPort\" binding=\"tns:BerthsOverSoap11\">\n    <soap:address location=\"https://berths.saltmere.example/1\"/>\n  </wsdl:port>\n</wsdl:service>",
        ),
        fix: Some(Fix::in_place(fixes::order)),
        ..WARNS
    },
    Rule {
        name: "wsdl-attribute",
        standard: "WSDL 1.1, appendix A.4",
        asks: "Every attribute of a contract is one that its element has, and those that it must have are there.",
        why: "A misspelt attribute is ignored or refused, and what it was to say is not said.",
        example: Example::of(
            Slot::Input,
            "<soap:body use=\"literal\" part=\"parameters\"/>",
            "<soap:body use=\"literal\" parts=\"parameters\"/>",
        ),
        ..RULE
    },
    Rule {
        name: "wsdl-value",
        standard: "WSDL 1.1, appendix A.4",
        asks: "Every attribute of a contract has a value that it may have.",
        why: "A reader that cannot make sense of a value stops, or goes on with one of its own.",
        example: Example::of(Slot::Input, "<soap:body use=\"verbatim\"/>", "<soap:body use=\"literal\"/>"),
        ..RULE
    },
    Rule {
        name: "wsdl-text",
        standard: "WSDL 1.1, appendix A.4.1",
        asks: "No text stands between the elements of a contract.",
        why: "It is neither documentation nor a comment, and readers that go by the schema refuse the whole file. It is \
              often what is left of an edit.",
        example: Example::of(Slot::Messages, "the berths of the east quay", ""),
        ..RULE
    },
    Rule {
        name: "wsdl-extension-place",
        standard: "WSDL 1.1, section 2.1.3 and appendix A.3",
        asks: "Elements of other namespaces stand only where WSDL lets them.",
        why: "A port type, a part, an import and the sides of an operation take attributes of other namespaces, but no \
              elements; readers that go by the schema refuse the file.",
        example: Example::of(
            Slot::PortType,
            "<wsdl:portType name=\"Berths\">\n  <port:office xmlns:port=\"urn:saltmere:port\"/>\n  <wsdl:operation name=\"findBerth\">\n    <wsdl:input message=\"tns:findBerthInput\"/>\n    <wsdl:output message=\"tns:findBerthOutput\"/>\n  </wsdl:operation>\n</wsdl:portType>",
            "<wsdl:portType name=\"Berths\" xmlns:port=\"urn:saltmere:port\" port:office=\"harbour\">\n  <wsdl:operation name=\"findBerth\">\n    <wsdl:input message=\"tns:findBerthInput\"/>\n    <wsdl:output message=\"tns:findBerthOutput\"/>\n  </wsdl:operation>\n</wsdl:portType>",
        ),
        ..WARNS
    },
    Rule {
        name: "extension-structure",
        standard: "WSDL 1.1, sections 3 to 5 and appendix A.4.2 to A.4.4",
        asks: "Every element of the SOAP, HTTP and MIME bindings stands where its binding allows it.",
        why: "An element in a wrong place binds nothing: a reader that knows the binding never looks for it there.",
        example: Example::of(
            Slot::Bound,
            "<soap:operation soapAction=\"urn:saltmere:berths:1:findBerth\"/>\n    <soap:body use=\"literal\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>",
            "<soap:operation soapAction=\"urn:saltmere:berths:1:findBerth\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>",
        ),
        ..RULE
    },
    Rule {
        name: "extension-required",
        standard: "WSDL 1.1, section 2.1.3; Basic Profile 1.1, R2026",
        asks: "No extension that must be understood is one that hardly anybody knows.",
        why: "wsdl:required says that whoever does not know the extension must give up the contract. Each consumer's tool \
              has to know it, or cannot be used.",
        example: Example::of(
            Slot::Imports,
            "<port:tariff xmlns:port=\"urn:saltmere:port\" wsdl:required=\"true\"/>",
            "<port:tariff xmlns:port=\"urn:saltmere:port\"/>",
        ),
        look: Some(operations::required_extensions),
        ..WARNS
    },
    Rule {
        name: "target-namespace",
        standard: "WSDL 1.1, section 2.1.1",
        asks: "A contract has a target namespace, and it is an absolute URI.",
        why: "References between components go by namespace. Without one they cannot be told from those of any other \
              contract; a relative one means something else in each place it is read from.",
        example: Example::of(
            Slot::File,
            "<wsdl:definitions targetNamespace=\"berths/1\" xmlns:wsdl=\"http://schemas.xmlsoap.org/wsdl/\">\n  <wsdl:portType name=\"Berths\"/>\n</wsdl:definitions>",
            "<wsdl:definitions targetNamespace=\"urn:saltmere:berths:1\" xmlns:wsdl=\"http://schemas.xmlsoap.org/wsdl/\">\n  <wsdl:portType name=\"Berths\"/>\n</wsdl:definitions>",
        ),
        look: Some(operations::target_namespace),
        ..RULE
    },
    Rule {
        name: "operation-pattern",
        standard: "WSDL 1.1, sections 2.4.1 to 2.4.4",
        asks: "An operation has an input, an output, or both; faults only where it has both.",
        why: "These are the four ways in which an operation can go. One without either cannot be called, and a fault needs \
              a reply that it can stand for.",
        example: Example::of(
            Slot::PortType,
            "<wsdl:portType name=\"Berths\">\n  <wsdl:operation name=\"findBerth\">\n    <wsdl:input message=\"tns:findBerthInput\"/>\n    <wsdl:output message=\"tns:findBerthOutput\"/>\n  </wsdl:operation>\n</wsdl:portType>\n<wsdl:portType name=\"Lights\">\n  <wsdl:operation name=\"dimLights\"/>\n</wsdl:portType>",
            "<wsdl:portType name=\"Berths\">\n  <wsdl:operation name=\"findBerth\">\n    <wsdl:input message=\"tns:findBerthInput\"/>\n    <wsdl:output message=\"tns:findBerthOutput\"/>\n  </wsdl:operation>\n</wsdl:portType>\n<wsdl:portType name=\"Lights\">\n  <wsdl:operation name=\"dimLights\">\n    <wsdl:input message=\"tns:findBerthInput\"/>\n  </wsdl:operation>\n</wsdl:portType>",
        ),
        look: Some(operations::patterns),
        ..RULE
    },
    Rule {
        name: "operation-overload",
        standard: "WSDL 1.1, sections 2.4.5 and 2.5",
        asks: "Operations of one name in a port type have inputs or outputs of different names.",
        why: "A binding tells two operations of one name apart by the names of their inputs and outputs. If these are the \
              same as well, nobody knows which of the two is bound.",
        example: Example::of(
            Slot::PortType,
            "<wsdl:portType name=\"Berths\">\n  <wsdl:operation name=\"findBerth\">\n    <wsdl:input message=\"tns:findBerthInput\"/>\n    <wsdl:output message=\"tns:findBerthOutput\"/>\n  </wsdl:operation>\n</wsdl:portType>\n<wsdl:portType name=\"Lights\">\n  <wsdl:operation name=\"dim\">\n    <wsdl:input message=\"tns:findBerthInput\"/>\n  </wsdl:operation>\n  <wsdl:operation name=\"dim\">\n    <wsdl:input message=\"tns:findBerthOutput\"/>\n  </wsdl:operation>\n</wsdl:portType>",
            "<wsdl:portType name=\"Berths\">\n  <wsdl:operation name=\"findBerth\">\n    <wsdl:input message=\"tns:findBerthInput\"/>\n    <wsdl:output message=\"tns:findBerthOutput\"/>\n  </wsdl:operation>\n</wsdl:portType>\n<wsdl:portType name=\"Lights\">\n  <wsdl:operation name=\"dim\">\n    <wsdl:input message=\"tns:findBerthInput\"/>\n  </wsdl:operation>\n  <wsdl:operation name=\"dimAll\">\n    <wsdl:input message=\"tns:findBerthOutput\"/>\n  </wsdl:operation>\n</wsdl:portType>",
        ),
        look: Some(operations::overloads),
        ..RULE
    },
    Rule {
        name: "side-name-twice",
        standard: "WSDL 1.1, section 2.4.5",
        asks: "Inputs and outputs of a port type have names of their own, those included that they have by default.",
        why: "The default of an input is the name of its operation with Request, of an output with Response. Where another \
              side is called just that, a name means two things.",
        example: Example::of(
            Slot::Operation,
            "<wsdl:input name=\"find\" message=\"tns:findBerthInput\"/>\n    <wsdl:output name=\"find\" message=\"tns:findBerthOutput\"/>",
            "<wsdl:input name=\"find\" message=\"tns:findBerthInput\"/>\n    <wsdl:output name=\"found\" message=\"tns:findBerthOutput\"/>",
        ),
        look: Some(operations::side_names),
        ..WARNS
    },
    Rule {
        name: "parameter-order",
        standard: "WSDL 1.1, section 2.4.6; Basic Profile 1.1, R2305",
        asks: "parameterOrder names every part of the input once, and of the output all but one at most.",
        why: "It is the signature that generated code gets: a part named twice, or left out, makes a method that nobody \
              can call. What the output alone has and the order leaves out is the return value.",
        example: Example::of(
            Slot::PortType,
            "<wsdl:portType name=\"Berths\">\n  <wsdl:operation name=\"findBerth\" parameterOrder=\"parameters parameters\">\n    <wsdl:input message=\"tns:findBerthInput\"/>\n    <wsdl:output message=\"tns:findBerthOutput\"/>\n  </wsdl:operation>\n</wsdl:portType>",
            "<wsdl:portType name=\"Berths\">\n  <wsdl:operation name=\"findBerth\" parameterOrder=\"parameters\">\n    <wsdl:input message=\"tns:findBerthInput\"/>\n    <wsdl:output message=\"tns:findBerthOutput\"/>\n  </wsdl:operation>\n</wsdl:portType>",
        ),
        look: Some(operations::parameter_order),
        ..WARNS
    },
    Rule {
        name: "binding-side-name",
        standard: "WSDL 1.1, sections 2.4.5 and 2.5",
        asks: "Where an input or output of a binding names itself, it has the name that it has in the port type.",
        why: "The name says which side is bound. One that differs binds nothing, or, where names are overloaded, \
              something else.",
        example: Example::of(
            Slot::Bound,
            "<soap:operation soapAction=\"urn:saltmere:berths:1:findBerth\"/>\n    <wsdl:input name=\"seekBerthRequest\"><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>",
            "<soap:operation soapAction=\"urn:saltmere:berths:1:findBerth\"/>\n    <wsdl:input name=\"findBerthRequest\"><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>",
        ),
        look: Some(bindings::side_names),
        ..RULE
    },
    Rule {
        name: "binding-operation-twice",
        standard: "WSDL 1.1, section 2.5; Basic Profile 1.1, R2718",
        asks: "A binding binds each operation once, and each of its faults once.",
        why: "Where the two differ, one tool sends what the first says and the next what the second says.",
        example: Example::of(
            Slot::Bound,
            "<soap:operation soapAction=\"urn:saltmere:berths:1:findBerth\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n  <wsdl:operation name=\"findBerth\">\n    <soap:operation soapAction=\"urn:saltmere:berths:1:findBerth\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>",
            "<soap:operation soapAction=\"urn:saltmere:berths:1:findBerth\"/>\n    <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>",
        ),
        look: Some(bindings::bound_twice),
        ..RULE
    },
];

//! What profiles ask of port types, bindings and ports.

use super::{NOTE, RULE, bindings};
use crate::example::{Example, Slot};
use crate::fixes;
use crate::level::Level;
use crate::rule::{Fix, Rule};

const BODY: &str = r#"<soap:body use="literal"/>"#;
const RPC_BODY: &str = r#"<soap:body use="literal" namespace="urn:saltmere:berths:1"/>"#;

/// An operation with a message of its own, bound in document style.
macro_rules! moorings {
    ($parts:literal, $input:literal) => {
        concat!(
            "<wsdl:message name=\"mooringInput\">",
            $parts,
            "</wsdl:message>\n<wsdl:portType name=\"Moorings\">\n  <wsdl:operation name=\"moor\"><wsdl:input \
             message=\"tns:mooringInput\"/></wsdl:operation>\n</wsdl:portType>\n<wsdl:binding name=\"MooringsOverSoap11\" \
             type=\"tns:Moorings\">\n  <soap:binding style=\"document\" \
             transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation name=\"moor\">\n    <soap:operation \
             soapAction=\"urn:saltmere:berths:1:moor\"/>\n    <wsdl:input>",
            $input,
            "</wsdl:input>\n  </wsdl:operation>\n</wsdl:binding>"
        )
    };
}

/// A binding whose operation is as it should be, after what stands first in it.
macro_rules! binding {
    ($first:literal) => {
        concat!(
            "<wsdl:binding name=\"BerthsOverSoap11\" type=\"tns:Berths\">\n  ",
            $first,
            "\n  <wsdl:operation name=\"findBerth\">\n    <soap:operation soapAction=\"\"/>\n    \
             <wsdl:input><soap:body use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body \
             use=\"literal\"/></wsdl:output>\n  </wsdl:operation>\n</wsdl:binding>"
        )
    };
}

const RIGHT_BINDING: &str =
    binding!("<soap:binding style=\"document\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>");

pub(crate) const RULES: &[Rule] = &[
    Rule {
        name: "R2201",
        standard: "Basic Profile, R2201",
        asks: "In document style, parts of a soap:body names one part at most.",
        why: "A body then has several children, of which most tools read the first alone.",
        example: Example::of(
            Slot::Messages,
            moorings!(
                "<wsdl:part name=\"vessel\" element=\"tns:findBerth\"/><wsdl:part name=\"berth\" element=\"tns:findBerthResponse\"/>",
                "<soap:body use=\"literal\" parts=\"vessel berth\"/>"
            ),
            moorings!(
                "<wsdl:part name=\"vessel\" element=\"tns:findBerth\"/>",
                "<soap:body use=\"literal\" parts=\"vessel\"/>"
            ),
        ),
        look: Some(bindings::listed_parts),
        ..RULE
    },
    Rule {
        name: "R2203",
        standard: "Basic Profile, R2203; WSDL 1.1, section 3.5",
        asks: "In rpc style, the parts of a body name types.",
        why: "In rpc style the accessor is named after the part, so the element of the part would never appear.",
        example: Example::edited(
            Slot::Messages,
            r#"<wsdl:message name="mooringInput"><wsdl:part name="vessel" type="xs:token"/></wsdl:message>
<wsdl:portType name="Moorings">
  <wsdl:operation name="moor"><wsdl:input message="tns:mooringInput"/></wsdl:operation>
</wsdl:portType>
<wsdl:binding name="MooringsOverSoap11" type="tns:Moorings">
  <soap:binding style="rpc" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="moor">
    <soap:operation soapAction=""/>
    <wsdl:input><soap:body use="literal" namespace="urn:saltmere:berths:1"/></wsdl:input>
  </wsdl:operation>
</wsdl:binding>"#,
            (r#"type="xs:token""#, r#"element="tns:findBerth""#),
        ),
        level: Level::Error,
        look: Some(bindings::rpc_parts),
        ..RULE
    },
    Rule {
        name: "R2204",
        standard: "Basic Profile, R2204; WSDL 1.1, section 3.5",
        asks: "In document style, the parts of a body name elements.",
        why: "A body whose part names a type has no element name of its own: the message cannot be told from \
              any other, and most tools refuse it.",
        example: Example::of(
            Slot::Messages,
            moorings!("<wsdl:part name=\"vessel\" type=\"xs:token\"/>", "<soap:body use=\"literal\"/>"),
            moorings!(
                "<wsdl:part name=\"vessel\" element=\"tns:findBerth\"/>",
                "<soap:body use=\"literal\"/>"
            ),
        ),
        level: Level::Error,
        look: Some(bindings::document_parts),
        ..RULE
    },
    Rule {
        name: "R2205",
        standard: "Basic Profile, R2205",
        asks: "The parts of headers, headerfaults and faults name elements.",
        why: "A header block and the detail of a fault are elements. Of a type alone nobody knows the name they bear.",
        example: Example::edited(
            Slot::Messages,
            r#"<wsdl:message name="licence"><wsdl:part name="number" element="tns:findBerthResponse"/></wsdl:message>
<wsdl:message name="mooringInput"><wsdl:part name="vessel" element="tns:findBerth"/></wsdl:message>
<wsdl:portType name="Moorings">
  <wsdl:operation name="moor"><wsdl:input message="tns:mooringInput"/></wsdl:operation>
</wsdl:portType>
<wsdl:binding name="MooringsOverSoap11" type="tns:Moorings">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="moor">
    <soap:operation soapAction=""/>
    <wsdl:input><soap:header message="tns:licence" part="number" use="literal"/><soap:body use="literal"/></wsdl:input>
  </wsdl:operation>
</wsdl:binding>"#,
            (r#"element="tns:findBerthResponse""#, r#"type="xs:token""#),
        ),
        look: Some(bindings::header_and_fault_parts),
        ..RULE
    },
    Rule {
        name: "R2209",
        standard: "Basic Profile, R2209",
        asks: "A binding binds every part of a message to a body, a header or a fault.",
        why: "A part that is bound to nothing is declared and never sent. It was often meant for a header.",
        example: Example::of(
            Slot::Messages,
            moorings!(
                "<wsdl:part name=\"vessel\" element=\"tns:findBerth\"/><wsdl:part name=\"berth\" element=\"tns:findBerthResponse\"/>",
                "<soap:body use=\"literal\" parts=\"vessel\"/>"
            ),
            moorings!(
                "<wsdl:part name=\"vessel\" element=\"tns:findBerth\"/>",
                "<soap:body use=\"literal\" parts=\"vessel\"/>"
            ),
        ),
        look: Some(bindings::unbound_parts),
        ..RULE
    },
    Rule {
        name: "R2210",
        standard: "Basic Profile, R2210",
        asks: "In document style, a message whose body does not name its parts has one part at most.",
        why: "All parts would stand in the body side by side, and most tools read the first alone.",
        example: Example::of(
            Slot::Messages,
            moorings!(
                "<wsdl:part name=\"vessel\" element=\"tns:findBerth\"/><wsdl:part name=\"berth\" element=\"tns:findBerthResponse\"/>",
                "<soap:body use=\"literal\"/>"
            ),
            moorings!(
                "<wsdl:part name=\"vessel\" element=\"tns:findBerth\"/>",
                "<soap:body use=\"literal\"/>"
            ),
        ),
        look: Some(bindings::several_parts),
        ..RULE
    },
    Rule {
        name: "R2303",
        standard: "Basic Profile, R2303; WSDL 1.1, section 2.4",
        asks: "It is always the consumer who begins: no operation begins with its output.",
        why: "WSDL defines no binding for operations that the provider begins, so every tool does something of its own.",
        example: Example::of(
            Slot::Operation,
            r#"<wsdl:output message="tns:findBerthOutput"/>
    <wsdl:input message="tns:findBerthInput"/>"#,
            r#"<wsdl:input message="tns:findBerthInput"/>
    <wsdl:output message="tns:findBerthOutput"/>"#,
        ),
        look: Some(bindings::begun_by_provider),
        ..RULE
    },
    Rule {
        name: "R2304",
        standard: "Basic Profile, R2304",
        asks: "The operations of a port type have names of their own.",
        why: "WSDL lets names be overloaded; many programming languages and most tools do not.",
        example: Example::edited(
            Slot::PortType,
            r#"<wsdl:portType name="Berths">
  <wsdl:operation name="findBerth">
    <wsdl:input message="tns:findBerthInput"/>
    <wsdl:output message="tns:findBerthOutput"/>
  </wsdl:operation>
</wsdl:portType>
<wsdl:portType name="Lights">
  <wsdl:operation name="dimOne"><wsdl:input message="tns:findBerthInput"/></wsdl:operation>
  <wsdl:operation name="dimAll"><wsdl:input message="tns:findBerthOutput"/></wsdl:operation>
</wsdl:portType>"#,
            (
                r#"  <wsdl:operation name="dimOne"><wsdl:input message="tns:findBerthInput"/></wsdl:operation>
  <wsdl:operation name="dimAll"><wsdl:input message="tns:findBerthOutput"/></wsdl:operation>"#,
                r#"  <wsdl:operation name="dim"><wsdl:input name="dimOne" message="tns:findBerthInput"/></wsdl:operation>
  <wsdl:operation name="dim"><wsdl:input name="dimAll" message="tns:findBerthOutput"/></wsdl:operation>"#,
            ),
        ),
        look: Some(bindings::overloaded),
        ..RULE
    },
    Rule {
        name: "R2401",
        standard: "Basic Profile, R2401",
        asks: "Every binding binds to SOAP, in the version of the profile.",
        why: "Plain HTTP bindings are read by few tools. Basic Profile 1.1 and 1.2 are about SOAP 1.1, 2.0 about SOAP 1.2.",
        example: Example::of(
            Slot::Binding,
            concat!(
                binding!(
                    "<soap:binding style=\"document\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>"
                ),
                r#"
<wsdl:binding name="BerthsHttp" type="tns:Berths">
  <http:binding verb="POST"/>
  <wsdl:operation name="findBerth">
    <http:operation location="berth"/>
    <wsdl:input><mime:mimeXml part="parameters"/></wsdl:input>
    <wsdl:output><mime:mimeXml part="parameters"/></wsdl:output>
  </wsdl:operation>
</wsdl:binding>"#
            ),
            RIGHT_BINDING,
        ),
        by_settings: Some(bindings::protocols),
        ..RULE
    },
    Rule {
        name: "R2701",
        standard: "Basic Profile, R2701; WSDL 1.1, section 3.3",
        asks: "A soap:binding names its transport.",
        why: "Without it, nobody knows whether the messages go over HTTP.",
        example: Example::of(Slot::Binding, binding!("<soap:binding style=\"document\"/>"), RIGHT_BINDING),
        look: Some(bindings::transport_missing),
        ..RULE
    },
    Rule {
        name: "R2702",
        standard: "Basic Profile, R2702",
        asks: "The transport is HTTP.",
        why: "Every consumer can send messages over HTTP; for another transport each needs a library of its own.",
        example: Example::of(
            Slot::Binding,
            binding!("<soap:binding style=\"document\" transport=\"urn:saltmere:semaphore\"/>"),
            RIGHT_BINDING,
        ),
        look: Some(bindings::other_transport),
        ..RULE
    },
    Rule {
        name: "R2705",
        standard: "Basic Profile, R2705",
        asks: "All operations of a binding have the same style.",
        why: "Code generators decide by binding, not by operation, so one of the two styles is generated wrongly.",
        example: Example::edited(
            Slot::Messages,
            r#"<wsdl:message name="mooringInput"/>
<wsdl:message name="castOffInput"><wsdl:part name="parameters" element="tns:findBerth"/></wsdl:message>
<wsdl:portType name="Moorings">
  <wsdl:operation name="moor"><wsdl:input message="tns:mooringInput"/></wsdl:operation>
  <wsdl:operation name="castOff"><wsdl:input message="tns:castOffInput"/></wsdl:operation>
</wsdl:portType>
<wsdl:binding name="MooringsOverSoap11" type="tns:Moorings">
  <soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="moor">
    <soap:operation soapAction=""/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
  </wsdl:operation>
  <wsdl:operation name="castOff">
    <soap:operation soapAction=""/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
  </wsdl:operation>
</wsdl:binding>"#,
            (
                r#"  <wsdl:operation name="moor">
    <soap:operation soapAction=""/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>"#,
                r#"  <wsdl:operation name="moor">
    <soap:operation soapAction="" style="rpc"/>
    <wsdl:input><soap:body use="literal" namespace="urn:saltmere:berths:1"/></wsdl:input>"#,
            ),
        ),
        level: Level::Error,
        look: Some(bindings::mixed_style),
        ..RULE
    },
    Rule {
        name: "R2706",
        standard: "Basic Profile, R2706 and R2723",
        asks: "Everything in a binding is literal.",
        why: "A literal message is what its schema says. What an encoded one looks like depends on who writes it.",
        example: Example::of(
            Slot::Rpc,
            r#"<soap:body use="encoded" namespace="urn:saltmere:berths:1" encodingStyle="http://schemas.xmlsoap.org/soap/encoding/"/>"#,
            RPC_BODY,
        ),
        look: Some(bindings::encoded),
        ..RULE
    },
    Rule {
        name: "R2710",
        standard: "Basic Profile, R2710",
        asks: "The operations of a binding look different on the wire.",
        why: "A provider tells operations apart by the element in the body. Two with the same one are one to it.",
        example: Example::of(
            Slot::Messages,
            r#"<wsdl:portType name="Lights">
  <wsdl:operation name="dim"><wsdl:input message="tns:findBerthInput"/></wsdl:operation>
  <wsdl:operation name="light"><wsdl:input message="tns:findBerthInput"/></wsdl:operation>
</wsdl:portType>
<wsdl:binding name="LightsOverSoap11" type="tns:Lights">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="dim">
    <soap:operation soapAction="urn:saltmere:berths:1:dim"/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
  </wsdl:operation>
  <wsdl:operation name="light">
    <soap:operation soapAction="urn:saltmere:berths:1:light"/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
  </wsdl:operation>
</wsdl:binding>"#,
            r#"<wsdl:portType name="Lights">
  <wsdl:operation name="dim"><wsdl:input message="tns:findBerthInput"/></wsdl:operation>
</wsdl:portType>
<wsdl:binding name="LightsOverSoap11" type="tns:Lights">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="dim">
    <soap:operation soapAction="urn:saltmere:berths:1:dim"/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
  </wsdl:operation>
</wsdl:binding>"#,
        ),
        look: Some(bindings::alike_on_the_wire),
        ..RULE
    },
    Rule {
        name: "R2711",
        standard: "Basic Profile, R2711",
        asks: "No two ports have the same address.",
        why: "The provider cannot tell which of the two a message is meant for. Ports of different versions of SOAP are \
              told apart by their envelopes, and may share one.",
        example: Example::edited(
            Slot::Service,
            r#"<wsdl:service name="BerthsService">
  <wsdl:port name="BerthsPort" binding="tns:BerthsOverSoap11">
    <soap:address location="https://berths.saltmere.example/1"/>
  </wsdl:port>
</wsdl:service>"#,
            (
                r#"  </wsdl:port>"#,
                r#"  </wsdl:port>
  <wsdl:port name="NightPort" binding="tns:BerthsOverSoap11">
    <soap:address location="https://berths.saltmere.example/1"/>
  </wsdl:port>"#,
            ),
        ),
        look: Some(bindings::shared_addresses),
        ..NOTE
    },
    Rule {
        name: "R2716",
        standard: "Basic Profile, R2716",
        asks: "In document style, no body, header or fault has a namespace attribute.",
        why: "The element of the part has a namespace of its own. Some tools put the element into the other one.",
        example: Example::of(Slot::Input, RPC_BODY, BODY),
        look: Some(bindings::document_namespaces),
        fix: Some(Fix::in_place(fixes::without_namespace)),
        ..RULE
    },
    Rule {
        name: "R2717",
        standard: "Basic Profile, R2717; WSDL 1.1, section 3.5",
        asks: "In rpc style, every soap:body has a namespace, an absolute URI.",
        why: "It is the namespace of the wrapper. Without it the wrapper is in none, or, by other tools, in that of the \
              contract.",
        example: Example::of(Slot::Rpc, BODY, RPC_BODY),
        look: Some(bindings::rpc_namespaces),
        ..RULE
    },
    Rule {
        name: "R2726",
        standard: "Basic Profile, R2726",
        asks: "In rpc style, no header or fault has a namespace attribute.",
        why: "These are elements with a namespace of their own in every style.",
        example: Example::of(
            Slot::Rpc,
            r#"<soap:header message="tns:findBerthInput" part="parameters" use="literal" namespace="urn:saltmere:berths:1"/><soap:body use="literal" namespace="urn:saltmere:berths:1"/>"#,
            r#"<soap:header message="tns:findBerthInput" part="parameters" use="literal"/><soap:body use="literal" namespace="urn:saltmere:berths:1"/>"#,
        ),
        look: Some(bindings::rpc_header_namespaces),
        fix: Some(Fix::in_place(fixes::without_namespace)),
        ..RULE
    },
    Rule {
        name: "R5001",
        standard: "Basic Profile, R5001",
        asks: "The address of a SOAP port over HTTP begins with http or https.",
        why: "With another scheme, a consumer that speaks HTTP does not know where to connect to.",
        example: Example::of(
            Slot::Port,
            r#"<soap:address location="ftp://berths.saltmere.example/1"/>"#,
            r#"<soap:address location="https://berths.saltmere.example/1"/>"#,
        ),
        look: Some(bindings::other_schemes),
        ..RULE
    },
];

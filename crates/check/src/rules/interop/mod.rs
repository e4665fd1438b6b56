//! What profiles ask of contracts, each under the number of its requirement. Requirements that say what the standards say
//! anyway are seen by the rules of those; `crate::profile` knows which.

mod bindings;
mod documents;
mod types;

pub(super) use documents::{declaration, xml_declared};

use crate::{Example, Family, Level, Rule, Slot, fixes};

const RULE: Rule = Rule::of(Family::Interop, Level::Warning);
const NOTE: Rule = Rule::of(Family::Interop, Level::Note);

const BODY: &str = r#"<soap:body use="literal"/>"#;
const RPC_BODY: &str = r#"<soap:body use="literal" namespace="urn:saltmere:berths:1"/>"#;

/// An operation with a message of its own, bound in document style.
macro_rules! moorings {
    ($parts:literal, $input:literal) => {
        concat!(
            "<wsdl:message name=\"mooringInput\">",
            $parts,
            "</wsdl:message>\n<wsdl:portType name=\"Moorings\">\n  <wsdl:operation name=\"moor\"><wsdl:input \
             message=\"tns:mooringInput\"/></wsdl:operation>\n</wsdl:portType>\n<wsdl:binding name=\"MooringsSoap\" \
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
            "<wsdl:binding name=\"BerthsSoap\" type=\"tns:Berths\">\n  ",
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
        name: "R2001",
        standard: "Basic Profile, R2001 and R2002",
        asks: "wsdl:import imports contracts, xsd:import imports schemas.",
        why: "WSDL does not say what a schema that wsdl:import brings would be part of: some tools read it, others do not.",
        example: Example::of(
            Slot::Imports,
            r#"<wsdl:import namespace="urn:saltmere:vessel:1" location="vessel.xsd"/>"#,
            r#"<wsdl:import namespace="urn:saltmere:tugs:1" location="tugs.wsdl"/>"#,
        ),
        look: Some(documents::imported_schemas),
        ..RULE
    },
    Rule {
        name: "R2003",
        standard: "Basic Profile, R2003",
        asks: "xsd:import stands in a schema.",
        why: "Directly in wsdl:types it is in no schema that could use what it imports; most tools pass over it.",
        example: Example::of(
            Slot::Types,
            r#"<xs:import namespace="urn:saltmere:vessel:1" schemaLocation="vessel.xsd"/>"#,
            r#"<xs:schema><xs:import namespace="urn:saltmere:vessel:1" schemaLocation="vessel.xsd"/></xs:schema>"#,
        ),
        look: Some(documents::imports_in_types),
        ..RULE
    },
    Rule {
        name: "R2010",
        standard: "Basic Profile, R2010",
        asks: "A schema is in UTF-8 or UTF-16.",
        why: "These are the encodings that every XML parser must know; any other may be refused.",
        example: Example::of(
            Slot::File,
            "<?xml version=\"1.0\" encoding=\"ISO-8859-1\"?>\n<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\"/>",
            "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\"/>",
        ),
        look: Some(documents::schema_encodings),
        ..RULE
    },
    Rule {
        name: "R2011",
        standard: "Basic Profile, R2011",
        asks: "A schema is in XML 1.0.",
        why: "Hardly any parser reads XML 1.1, and SOAP forbids it.",
        example: Example::of(
            Slot::File,
            "<?xml version=\"1.1\"?>\n<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\"/>",
            "<?xml version=\"1.0\"?>\n<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\"/>",
        ),
        look: Some(documents::schema_versions),
        ..RULE
    },
    Rule {
        name: "R2101",
        standard: "Basic Profile, R2101",
        asks: "A contract refers to components of namespaces that it defines, or imports itself.",
        why: "That a file imports another which imports a third does not bring the third: a reader that goes by the \
              imports of each file does not find it.",
        example: Example::of(
            Slot::File,
            r#"<wsdl:definitions targetNamespace="urn:saltmere:port:1" xmlns:t="urn:saltmere:tugs:1" xmlns:wsdl="http://schemas.xmlsoap.org/wsdl/">
  <wsdl:import namespace="urn:saltmere:quays:1" location="quays.wsdl"/>
  <wsdl:portType name="Port">
    <wsdl:operation name="callTug"><wsdl:input message="t:tugCall"/></wsdl:operation>
  </wsdl:portType>
</wsdl:definitions>"#,
            r#"<wsdl:definitions targetNamespace="urn:saltmere:port:1" xmlns:t="urn:saltmere:tugs:1" xmlns:wsdl="http://schemas.xmlsoap.org/wsdl/">
  <wsdl:import namespace="urn:saltmere:quays:1" location="quays.wsdl"/>
  <wsdl:import namespace="urn:saltmere:tugs:1" location="tugs.wsdl"/>
  <wsdl:portType name="Port">
    <wsdl:operation name="callTug"><wsdl:input message="t:tugCall"/></wsdl:operation>
  </wsdl:portType>
</wsdl:definitions>"#,
        ),
        look: Some(documents::foreign_components),
        ..RULE
    },
    Rule {
        name: "R2102",
        standard: "Basic Profile, R2102",
        asks: "A part names components of namespaces that a schema of the contract defines, or imports.",
        why: "What some other file happens to bring may not be there for another reader.",
        example: Example::of(
            Slot::File,
            r#"<wsdl:definitions targetNamespace="urn:saltmere:port:1" xmlns:tns="urn:saltmere:port:1" xmlns:q="urn:saltmere:quay:1"
    xmlns:wsdl="http://schemas.xmlsoap.org/wsdl/">
  <wsdl:import namespace="urn:saltmere:piers:1" location="piers.wsdl"/>
  <wsdl:message name="mooring"><wsdl:part name="quay" element="q:quay"/></wsdl:message>
  <wsdl:portType name="Port">
    <wsdl:operation name="moor"><wsdl:input message="tns:mooring"/></wsdl:operation>
  </wsdl:portType>
</wsdl:definitions>"#,
            r#"<wsdl:definitions targetNamespace="urn:saltmere:port:1" xmlns:tns="urn:saltmere:port:1" xmlns:q="urn:saltmere:quay:1"
    xmlns:wsdl="http://schemas.xmlsoap.org/wsdl/" xmlns:xs="http://www.w3.org/2001/XMLSchema">
  <wsdl:import namespace="urn:saltmere:piers:1" location="piers.wsdl"/>
  <wsdl:types>
    <xs:schema><xs:import namespace="urn:saltmere:quay:1"/></xs:schema>
  </wsdl:types>
  <wsdl:message name="mooring"><wsdl:part name="quay" element="q:quay"/></wsdl:message>
  <wsdl:portType name="Port">
    <wsdl:operation name="moor"><wsdl:input message="tns:mooring"/></wsdl:operation>
  </wsdl:portType>
</wsdl:definitions>"#,
        ),
        look: Some(documents::foreign_types),
        ..RULE
    },
    Rule {
        name: "R2105",
        standard: "Basic Profile, R2105",
        asks: "A schema in a contract has a target namespace, unless it does nothing but import.",
        why: "Elements in no namespace cannot be told apart once they stand in an envelope with others.",
        example: Example::of(
            Slot::Types,
            r#"<xs:schema><xs:element name="tide" type="xs:decimal"/></xs:schema>"#,
            r#"<xs:schema targetNamespace="urn:saltmere:tides:1"><xs:element name="tide" type="xs:decimal"/></xs:schema>"#,
        ),
        look: Some(types::nameless_schemas),
        ..RULE
    },
    Rule {
        name: "R2110",
        standard: "Basic Profile, R2110",
        asks: "No type extends or restricts the array of the SOAP encoding.",
        why: "It means something in an encoded body alone, where every tool writes it otherwise. An element that repeats \
              says the same, and everybody reads it.",
        example: Example::of(
            Slot::Types,
            r#"<xs:schema targetNamespace="urn:saltmere:quays:1" xmlns:q="urn:saltmere:quays:1">
  <xs:import namespace="http://schemas.xmlsoap.org/soap/encoding/"/>
  <xs:complexType name="Quays">
    <xs:complexContent><xs:extension base="enc:Array"/></xs:complexContent>
  </xs:complexType>
  <xs:element name="quays" type="q:Quays"/>
</xs:schema>"#,
            r#"<xs:schema targetNamespace="urn:saltmere:quays:1" xmlns:q="urn:saltmere:quays:1">
  <xs:complexType name="Quays">
    <xs:sequence><xs:element name="quay" type="xs:token" minOccurs="0" maxOccurs="unbounded"/></xs:sequence>
  </xs:complexType>
  <xs:element name="quays" type="q:Quays"/>
</xs:schema>"#,
        ),
        look: Some(types::encoded_arrays),
        ..RULE
    },
    Rule {
        name: "R2111",
        standard: "Basic Profile, R2111",
        asks: "No attribute of a type uses wsdl:arrayType.",
        why: "It says what an encoded array holds, in a way that no schema validator looks at.",
        example: Example::of(
            Slot::Schema,
            r#"<xs:element name="berths">
  <xs:complexType><xs:attribute name="size" type="xs:string" wsdl:arrayType="xs:token[]"/></xs:complexType>
</xs:element>"#,
            r#"<xs:element name="berths">
  <xs:complexType><xs:attribute name="size" type="xs:string"/></xs:complexType>
</xs:element>"#,
        ),
        look: Some(types::array_types),
        ..RULE
    },
    Rule {
        name: "R2112",
        standard: "Basic Profile, R2112",
        asks: "No element is named ArrayOf and something.",
        why: "The name comes from the SOAP encoding. Some tools still take it for a sign of one.",
        example: Example::of(
            Slot::Schema,
            r#"<xs:element name="ArrayOfBerth" type="xs:token"/>"#,
            r#"<xs:element name="berths" type="xs:token"/>"#,
        ),
        look: Some(types::array_names),
        ..NOTE
    },
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
        example: Example::of(
            Slot::Messages,
            r#"<wsdl:message name="mooringInput"><wsdl:part name="vessel" element="tns:findBerth"/></wsdl:message>
<wsdl:portType name="Moorings">
  <wsdl:operation name="moor"><wsdl:input message="tns:mooringInput"/></wsdl:operation>
</wsdl:portType>
<wsdl:binding name="MooringsSoap" type="tns:Moorings">
  <soap:binding style="rpc" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="moor">
    <soap:operation soapAction=""/>
    <wsdl:input><soap:body use="literal" namespace="urn:saltmere:berths:1"/></wsdl:input>
  </wsdl:operation>
</wsdl:binding>"#,
            r#"<wsdl:message name="mooringInput"><wsdl:part name="vessel" type="xs:token"/></wsdl:message>
<wsdl:portType name="Moorings">
  <wsdl:operation name="moor"><wsdl:input message="tns:mooringInput"/></wsdl:operation>
</wsdl:portType>
<wsdl:binding name="MooringsSoap" type="tns:Moorings">
  <soap:binding style="rpc" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="moor">
    <soap:operation soapAction=""/>
    <wsdl:input><soap:body use="literal" namespace="urn:saltmere:berths:1"/></wsdl:input>
  </wsdl:operation>
</wsdl:binding>"#,
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
        example: Example::of(
            Slot::Messages,
            r#"<wsdl:message name="licence"><wsdl:part name="number" type="xs:token"/></wsdl:message>
<wsdl:message name="mooringInput"><wsdl:part name="vessel" element="tns:findBerth"/></wsdl:message>
<wsdl:portType name="Moorings">
  <wsdl:operation name="moor"><wsdl:input message="tns:mooringInput"/></wsdl:operation>
</wsdl:portType>
<wsdl:binding name="MooringsSoap" type="tns:Moorings">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="moor">
    <soap:operation soapAction=""/>
    <wsdl:input><soap:header message="tns:licence" part="number" use="literal"/><soap:body use="literal"/></wsdl:input>
  </wsdl:operation>
</wsdl:binding>"#,
            r#"<wsdl:message name="licence"><wsdl:part name="number" element="tns:findBerthResponse"/></wsdl:message>
<wsdl:message name="mooringInput"><wsdl:part name="vessel" element="tns:findBerth"/></wsdl:message>
<wsdl:portType name="Moorings">
  <wsdl:operation name="moor"><wsdl:input message="tns:mooringInput"/></wsdl:operation>
</wsdl:portType>
<wsdl:binding name="MooringsSoap" type="tns:Moorings">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="moor">
    <soap:operation soapAction=""/>
    <wsdl:input><soap:header message="tns:licence" part="number" use="literal"/><soap:body use="literal"/></wsdl:input>
  </wsdl:operation>
</wsdl:binding>"#,
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
        example: Example::of(
            Slot::PortType,
            r#"<wsdl:portType name="Berths">
  <wsdl:operation name="findBerth">
    <wsdl:input message="tns:findBerthInput"/>
    <wsdl:output message="tns:findBerthOutput"/>
  </wsdl:operation>
</wsdl:portType>
<wsdl:portType name="Lights">
  <wsdl:operation name="dim"><wsdl:input name="dimOne" message="tns:findBerthInput"/></wsdl:operation>
  <wsdl:operation name="dim"><wsdl:input name="dimAll" message="tns:findBerthOutput"/></wsdl:operation>
</wsdl:portType>"#,
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
        example: Example::of(
            Slot::Messages,
            r#"<wsdl:message name="mooringInput"/>
<wsdl:message name="castOffInput"><wsdl:part name="parameters" element="tns:findBerth"/></wsdl:message>
<wsdl:portType name="Moorings">
  <wsdl:operation name="moor"><wsdl:input message="tns:mooringInput"/></wsdl:operation>
  <wsdl:operation name="castOff"><wsdl:input message="tns:castOffInput"/></wsdl:operation>
</wsdl:portType>
<wsdl:binding name="MooringsSoap" type="tns:Moorings">
  <soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="moor">
    <soap:operation soapAction="" style="rpc"/>
    <wsdl:input><soap:body use="literal" namespace="urn:saltmere:berths:1"/></wsdl:input>
  </wsdl:operation>
  <wsdl:operation name="castOff">
    <soap:operation soapAction=""/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
  </wsdl:operation>
</wsdl:binding>"#,
            r#"<wsdl:message name="mooringInput"/>
<wsdl:message name="castOffInput"><wsdl:part name="parameters" element="tns:findBerth"/></wsdl:message>
<wsdl:portType name="Moorings">
  <wsdl:operation name="moor"><wsdl:input message="tns:mooringInput"/></wsdl:operation>
  <wsdl:operation name="castOff"><wsdl:input message="tns:castOffInput"/></wsdl:operation>
</wsdl:portType>
<wsdl:binding name="MooringsSoap" type="tns:Moorings">
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
<wsdl:binding name="LightsSoap" type="tns:Lights">
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
<wsdl:binding name="LightsSoap" type="tns:Lights">
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
        example: Example::of(
            Slot::Service,
            r#"<wsdl:service name="BerthsService">
  <wsdl:port name="BerthsPort" binding="tns:BerthsSoap">
    <soap:address location="https://berths.saltmere.example/1"/>
  </wsdl:port>
  <wsdl:port name="NightPort" binding="tns:BerthsSoap">
    <soap:address location="https://berths.saltmere.example/1"/>
  </wsdl:port>
</wsdl:service>"#,
            r#"<wsdl:service name="BerthsService">
  <wsdl:port name="BerthsPort" binding="tns:BerthsSoap">
    <soap:address location="https://berths.saltmere.example/1"/>
  </wsdl:port>
</wsdl:service>"#,
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
        fix: Some(fixes::without_namespace),
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
        fix: Some(fixes::without_namespace),
        ..RULE
    },
    Rule {
        name: "R2801",
        standard: "Basic Profile, R2801",
        asks: "Types are defined in XML Schema 1.0.",
        why: "What stands in wsdl:types in another language is passed over by every tool that does not know it.",
        example: Example::of(
            Slot::Types,
            r#"<grammar xmlns="urn:saltmere:grammar"/>"#,
            r#"<xs:schema targetNamespace="urn:saltmere:tides:1"/>"#,
        ),
        look: Some(types::other_languages),
        ..RULE
    },
    Rule {
        name: "R2803",
        standard: "Basic Profile, R2803",
        asks: "The namespace of a wsdl:import is an absolute URI.",
        why: "A relative one is the same text and another namespace in each place.",
        example: Example::of(
            Slot::Imports,
            r#"<wsdl:import namespace="" location="loose.wsdl"/>"#,
            r#"<wsdl:import namespace="urn:saltmere:tugs:1" location="tugs.wsdl"/>"#,
        ),
        look: Some(documents::relative_imports),
        ..RULE
    },
    Rule {
        name: "R4003",
        standard: "Basic Profile, R4003",
        asks: "A contract is in UTF-8 or UTF-16.",
        why: "These are the encodings that every XML parser must know; any other may be refused.",
        example: Example::of(
            Slot::Prolog,
            "<?xml version=\"1.0\" encoding=\"ISO-8859-1\"?>\n",
            "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n",
        ),
        look: Some(documents::contract_encodings),
        ..RULE
    },
    Rule {
        name: "R4004",
        standard: "Basic Profile, R4004",
        asks: "A contract is in XML 1.0.",
        why: "Hardly any parser reads XML 1.1, and SOAP forbids it.",
        example: Example::of(Slot::Prolog, "<?xml version=\"1.1\"?>\n", "<?xml version=\"1.0\"?>\n"),
        look: Some(documents::contract_versions),
        ..RULE
    },
    Rule {
        name: "R4005",
        standard: "Basic Profile, R4005",
        asks: "A contract does not declare the prefix xml.",
        why: "It is declared in every document. Some older parsers refuse to see it declared again.",
        example: Example::of(Slot::Root, r#" xmlns:xml="http://www.w3.org/XML/1998/namespace""#, ""),
        look: Some(documents::declares_xml),
        fix: Some(fixes::without_attribute),
        ..NOTE
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

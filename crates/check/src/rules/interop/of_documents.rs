//! What profiles ask of files, imports, schemas and types.

use super::{NOTE, RULE, documents, types};
use crate::example::{Example, Slot};
use crate::fixes;
use crate::rule::{Fix, Rule};

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
        example: Example::edited(
            Slot::File,
            r#"<wsdl:definitions targetNamespace="urn:saltmere:port:1" xmlns:t="urn:saltmere:tugs:1" xmlns:wsdl="http://schemas.xmlsoap.org/wsdl/">
  <wsdl:import namespace="urn:saltmere:quays:1" location="quays.wsdl"/>
  <wsdl:import namespace="urn:saltmere:tugs:1" location="tugs.wsdl"/>
  <wsdl:portType name="Port">
    <wsdl:operation name="callTug"><wsdl:input message="t:tugCall"/></wsdl:operation>
  </wsdl:portType>
</wsdl:definitions>"#,
            (
                r#"  <wsdl:import namespace="urn:saltmere:quays:1" location="quays.wsdl"/>
  <wsdl:import namespace="urn:saltmere:tugs:1" location="tugs.wsdl"/>"#,
                r#"  <wsdl:import namespace="urn:saltmere:quays:1" location="quays.wsdl"/>"#,
            ),
        ),
        look: Some(documents::foreign_components),
        ..RULE
    },
    Rule {
        name: "R2102",
        standard: "Basic Profile, R2102",
        asks: "A part names components of namespaces that a schema of the contract defines, or imports.",
        why: "What some other file happens to bring may not be there for another reader.",
        example: Example::edited(
            Slot::File,
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
            (
                r#"    xmlns:wsdl="http://schemas.xmlsoap.org/wsdl/" xmlns:xs="http://www.w3.org/2001/XMLSchema">
  <wsdl:import namespace="urn:saltmere:piers:1" location="piers.wsdl"/>
  <wsdl:types>
    <xs:schema><xs:import namespace="urn:saltmere:quay:1"/></xs:schema>
  </wsdl:types>"#,
                r#"    xmlns:wsdl="http://schemas.xmlsoap.org/wsdl/">
  <wsdl:import namespace="urn:saltmere:piers:1" location="piers.wsdl"/>"#,
            ),
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
        example: Example::edited(
            Slot::Types,
            r#"<xs:schema targetNamespace="urn:saltmere:quays:1" xmlns:q="urn:saltmere:quays:1">
  <xs:complexType name="Quays">
    <xs:sequence><xs:element name="quay" type="xs:token" minOccurs="0" maxOccurs="unbounded"/></xs:sequence>
  </xs:complexType>
  <xs:element name="quays" type="q:Quays"/>
</xs:schema>"#,
            (
                r#"  <xs:complexType name="Quays">
    <xs:sequence><xs:element name="quay" type="xs:token" minOccurs="0" maxOccurs="unbounded"/></xs:sequence>"#,
                r#"  <xs:import namespace="http://schemas.xmlsoap.org/soap/encoding/"/>
  <xs:complexType name="Quays">
    <xs:complexContent><xs:extension base="enc:Array"/></xs:complexContent>"#,
            ),
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
        fix: Some(Fix::in_place(fixes::without_attribute)),
        ..NOTE
    },
];

//! What is allowed but does harm.

mod addresses;
mod names;
mod shapes;
mod unused;

use crate::example::{Example, Slot};
use crate::fixes;
use crate::level::Level;
use crate::rule::{Family, Fix, Rule};

const RULE: Rule = Rule::of(Family::Hygiene, Level::Warning);
const NOTE: Rule = Rule::of(Family::Hygiene, Level::Note);
const OURS: &str = "good practice; no standard asks for it";

pub(crate) const RULES: &[Rule] = &[
    Rule {
        name: "message-unused",
        standard: "good practice; no standard asks for it",
        asks: "Every message is used by an operation or a header.",
        why: "What nobody uses is read, kept up and generated all the same. It is often left over from a rename.",
        example: Example::of(
            Slot::Messages,
            "<wsdl:message name=\"closeBerth\"><wsdl:part name=\"parameters\" element=\"tns:findBerth\"/></wsdl:message>",
            "",
        ),
        look: Some(unused::messages),
        ..Rule::of(Family::Hygiene, Level::Warning)
    },
    Rule {
        name: "type-unused",
        standard: "good practice; no standard asks for it",
        asks: "Every type is used by an element, an attribute, a message or another type.",
        why: "What nobody uses is read, kept up and generated all the same. It may also show that an element \
              has the wrong type.",
        example: Example::of(
            Slot::Schema,
            "<xs:simpleType name=\"Draught\"><xs:restriction base=\"xs:decimal\"/></xs:simpleType>",
            "<xs:simpleType name=\"Draught\"><xs:restriction base=\"xs:decimal\"/></xs:simpleType>\n<xs:element name=\"draught\" type=\"tns:Draught\"/>",
        ),
        look: Some(unused::types),
        ..Rule::of(Family::Hygiene, Level::Warning)
    },
    Rule {
        name: "in-out-part",
        standard: "WSDL 1.1, section 2.4.6",
        asks: "In rpc style, input and output have no part of the same name.",
        why: "A part that stands in both is an in-out parameter: generated code passes one variable both ways, \
              and overwrites what the caller gave. Name them apart unless that is meant.",
        example: Example::of(
            Slot::Messages,
            "<wsdl:message name=\"tideInput\"><wsdl:part name=\"tide\" type=\"xs:date\"/></wsdl:message>\n<wsdl:message name=\"tideOutput\"><wsdl:part name=\"tide\" type=\"xs:date\"/></wsdl:message>\n<wsdl:portType name=\"Tides\">\n  <wsdl:operation name=\"nextTide\"><wsdl:input message=\"tns:tideInput\"/><wsdl:output message=\"tns:tideOutput\"/></wsdl:operation>\n</wsdl:portType>",
            "<wsdl:message name=\"tideInput\"><wsdl:part name=\"after\" type=\"xs:date\"/></wsdl:message>\n<wsdl:message name=\"tideOutput\"><wsdl:part name=\"tide\" type=\"xs:date\"/></wsdl:message>\n<wsdl:portType name=\"Tides\">\n  <wsdl:operation name=\"nextTide\"><wsdl:input message=\"tns:tideInput\"/><wsdl:output message=\"tns:tideOutput\"/></wsdl:operation>\n</wsdl:portType>",
        ),
        look: Some(shapes::in_out_parts),
        ..Rule::of(Family::Hygiene, Level::Warning)
    },
    Rule {
        name: "import-unused",
        standard: OURS,
        asks: "Every xsd:import brings a namespace that the file uses.",
        why: "Every reader has to find the imported file, though nothing in it matters. If it is gone, the contract cannot be \
              read, for nothing.",
        example: Example::of(
            Slot::SchemaImports,
            r#"<xs:import namespace="urn:saltmere:vessel:1" schemaLocation="vessel.xsd"/>"#,
            "",
        ),
        look: Some(unused::imports),
        fix: Some(Fix::in_place(fixes::without_element)),
        ..RULE
    },
    Rule {
        name: "prefix-unused",
        standard: OURS,
        asks: "Every prefix that is declared is used.",
        why: "Whoever reads the contract looks for what the namespace brings, and finds nothing. Copied on with each new \
              contract, such declarations never end.",
        example: Example::of(Slot::Root, r#" xmlns:tugs="urn:saltmere:tugs:1""#, ""),
        look: Some(unused::prefixes),
        fix: Some(Fix::in_place(fixes::without_attribute)),
        ..NOTE
    },
    Rule {
        name: "binding-unused",
        standard: OURS,
        asks: "Where a contract has services, each binding is offered by a port.",
        why: "Nobody can call what no port offers. It is often left from an older version, and misleads whoever reads it.",
        example: Example::of(
            Slot::Binding,
            r#"<wsdl:binding name="BerthsOverSoap11" type="tns:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="findBerth">
    <soap:operation soapAction=""/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
    <wsdl:output><soap:body use="literal"/></wsdl:output>
  </wsdl:operation>
</wsdl:binding>
<wsdl:binding name="OldBerthsOverSoap11" type="tns:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="findBerth">
    <soap:operation soapAction=""/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
    <wsdl:output><soap:body use="literal"/></wsdl:output>
  </wsdl:operation>
</wsdl:binding>"#,
            r#"<wsdl:binding name="BerthsOverSoap11" type="tns:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="findBerth">
    <soap:operation soapAction=""/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
    <wsdl:output><soap:body use="literal"/></wsdl:output>
  </wsdl:operation>
</wsdl:binding>"#,
        ),
        look: Some(unused::bindings),
        ..NOTE
    },
    Rule {
        name: "address-localhost",
        standard: OURS,
        asks: "No address names the machine that reads it.",
        why: "localhost is another machine for each consumer. The contract was published from where it was tried out.",
        example: Example::of(
            Slot::Port,
            r#"<soap:address location="http://localhost:8080/berths"/>"#,
            r#"<soap:address location="https://berths.saltmere.example/1"/>"#,
        ),
        look: Some(addresses::local),
        ..RULE
    },
    Rule {
        name: "address-open",
        standard: OURS,
        asks: "Where credentials travel, the address begins with https.",
        why: "A user name and a password in a header block can be read by everybody on the way.",
        example: Example::edited(
            Slot::Messages,
            r#"<wsdl:message name="passwordHeader"><wsdl:part name="password" element="tns:findBerthResponse"/></wsdl:message>
<wsdl:portType name="Locks">
  <wsdl:operation name="openLock"><wsdl:input message="tns:findBerthInput"/></wsdl:operation>
</wsdl:portType>
<wsdl:binding name="LocksOverSoap11" type="tns:Locks">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="openLock">
    <soap:operation soapAction=""/>
    <wsdl:input><soap:header message="tns:passwordHeader" part="password" use="literal"/><soap:body use="literal"/></wsdl:input>
  </wsdl:operation>
</wsdl:binding>
<wsdl:service name="LocksService">
  <wsdl:port name="LocksPort" binding="tns:LocksOverSoap11"><soap:address location="https://locks.saltmere.example/1"/></wsdl:port>
</wsdl:service>"#,
            (r#"location="https:"#, r#"location="http:"#),
        ),
        look: Some(addresses::open),
        ..RULE
    },
    Rule {
        name: "names-by-case",
        standard: OURS,
        asks: "No two operations, elements or types differ in capitals alone.",
        why: "Generated code makes files and classes of them, which overwrite each other where capitals do not count.",
        example: Example::of(
            Slot::Schema,
            r#"<xs:element name="tide" type="xs:decimal"/>
<xs:element name="Tide" type="xs:decimal"/>"#,
            r#"<xs:element name="tide" type="xs:decimal"/>
<xs:element name="ebb" type="xs:decimal"/>"#,
        ),
        look: Some(names::by_case),
        ..RULE
    },
    Rule {
        name: "documentation-missing",
        standard: "WSDL 1.1, section 2.1",
        asks: "Every operation says what it is for.",
        why: "The name of an operation seldom says what it changes, when it may be called, and what it answers. Whoever has \
              to guess calls it to find out.",
        example: Example::of(
            Slot::Operation,
            r#"<wsdl:input message="tns:findBerthInput"/>
    <wsdl:output message="tns:findBerthOutput"/>"#,
            r#"<wsdl:documentation>Finds a free berth.</wsdl:documentation>
    <wsdl:input message="tns:findBerthInput"/>
    <wsdl:output message="tns:findBerthOutput"/>"#,
        ),
        look: Some(names::undocumented),
        ..NOTE
    },
    Rule {
        name: "optional-nillable",
        standard: OURS,
        asks: "No element of a simple type is both optional and nillable.",
        why: "Then there are two ways to say nothing, and providers and consumers come to different ends over which means \
              what: of a boolean, yes, no, not there and nil.",
        example: Example::of(
            Slot::Schema,
            r#"<xs:element name="tide">
  <xs:complexType><xs:sequence><xs:element name="rising" type="xs:boolean" minOccurs="0" nillable="true"/></xs:sequence></xs:complexType>
</xs:element>"#,
            r#"<xs:element name="tide">
  <xs:complexType><xs:sequence><xs:element name="rising" type="xs:boolean" minOccurs="0"/></xs:sequence></xs:complexType>
</xs:element>"#,
        ),
        look: Some(shapes::optional_nillable),
        ..RULE
    },
    Rule {
        name: "reply-wildcard",
        standard: OURS,
        asks: "No reply holds xsd:any.",
        why: "The contract does not say what comes, so each consumer finds out by trying, and breaks when it changes.",
        example: Example::edited(
            Slot::File,
            r#"<wsdl:definitions targetNamespace="urn:saltmere:charts:1" xmlns:tns="urn:saltmere:charts:1"
    xmlns:xs="http://www.w3.org/2001/XMLSchema" xmlns:wsdl="http://schemas.xmlsoap.org/wsdl/">
  <wsdl:types>
    <xs:schema targetNamespace="urn:saltmere:charts:1" elementFormDefault="qualified">
      <xs:element name="drawChart"><xs:complexType><xs:sequence><xs:element name="buoy" type="xs:token" maxOccurs="50"/></xs:sequence></xs:complexType></xs:element>
      <xs:element name="chart"><xs:complexType><xs:sequence><xs:element name="sheet" type="xs:base64Binary"/></xs:sequence></xs:complexType></xs:element>
    </xs:schema>
  </wsdl:types>
  <wsdl:message name="drawChartInput"><wsdl:part name="parameters" element="tns:drawChart"/></wsdl:message>
  <wsdl:message name="drawChartOutput"><wsdl:part name="parameters" element="tns:chart"/></wsdl:message>
  <wsdl:portType name="Charts">
    <wsdl:operation name="drawChart">
      <wsdl:documentation>Draws a chart of the harbour.</wsdl:documentation>
      <wsdl:input message="tns:drawChartInput"/>
      <wsdl:output message="tns:drawChartOutput"/>
    </wsdl:operation>
  </wsdl:portType>
</wsdl:definitions>"#,
            (
                r#"name="chart"><xs:complexType><xs:sequence><xs:element name="sheet" type="xs:base64Binary""#,
                r#"name="chart"><xs:complexType><xs:sequence><xs:any processContents="lax""#,
            ),
        ),
        look: Some(shapes::open_replies),
        ..RULE
    },
    Rule {
        name: "list-unbounded",
        standard: OURS,
        asks: "Lists in requests have a bound.",
        why: "A consumer may send a list that fills the provider's memory, and be right by the contract. Say how many the \
              provider takes.",
        example: Example::edited(
            Slot::File,
            r#"<wsdl:definitions targetNamespace="urn:saltmere:charts:1" xmlns:tns="urn:saltmere:charts:1"
    xmlns:xs="http://www.w3.org/2001/XMLSchema" xmlns:wsdl="http://schemas.xmlsoap.org/wsdl/">
  <wsdl:types>
    <xs:schema targetNamespace="urn:saltmere:charts:1" elementFormDefault="qualified">
      <xs:element name="drawChart"><xs:complexType><xs:sequence><xs:element name="buoy" type="xs:token" maxOccurs="50"/></xs:sequence></xs:complexType></xs:element>
      <xs:element name="chart"><xs:complexType><xs:sequence><xs:element name="sheet" type="xs:base64Binary"/></xs:sequence></xs:complexType></xs:element>
    </xs:schema>
  </wsdl:types>
  <wsdl:message name="drawChartInput"><wsdl:part name="parameters" element="tns:drawChart"/></wsdl:message>
  <wsdl:message name="drawChartOutput"><wsdl:part name="parameters" element="tns:chart"/></wsdl:message>
  <wsdl:portType name="Charts">
    <wsdl:operation name="drawChart">
      <wsdl:documentation>Draws a chart of the harbour.</wsdl:documentation>
      <wsdl:input message="tns:drawChartInput"/>
      <wsdl:output message="tns:drawChartOutput"/>
    </wsdl:operation>
  </wsdl:portType>
</wsdl:definitions>"#,
            (r#"maxOccurs="50""#, r#"maxOccurs="unbounded""#),
        ),
        look: Some(shapes::unbounded_requests),
        ..NOTE
    },
    Rule {
        name: "type-any",
        standard: OURS,
        asks: "Every element has a type that says something.",
        why: "Without a type, or with anyType, an element may hold anything at all: generated code gives it as raw XML, and \
              no check of a message looks into it.",
        example: Example::of(
            Slot::Schema,
            r#"<xs:element name="tide" type="xs:anyType"/>"#,
            r#"<xs:element name="tide" type="xs:decimal"/>"#,
        ),
        look: Some(shapes::any_types),
        ..RULE
    },
    Rule {
        name: "money-float",
        standard: OURS,
        asks: "Money is no floating-point number.",
        why: "float and double have no exact tenth: sums of them are wrong by a little, and two sides come to different \
              totals. decimal is exact.",
        example: Example::of(
            Slot::Schema,
            r#"<xs:element name="price" type="xs:double"/>"#,
            r#"<xs:element name="price" type="xs:decimal"/>"#,
        ),
        look: Some(shapes::floating_money),
        ..RULE
    },
    Rule {
        name: "schema-unqualified",
        standard: "XML Schema Part 1, 3.2.2; good practice",
        asks: "A schema in a contract has elementFormDefault qualified.",
        why: "Local elements are in no namespace otherwise, which every tool that writes XML by hand gets wrong at first, \
              and which no default namespace can say.",
        example: Example::of(
            Slot::Types,
            r#"<xs:schema targetNamespace="urn:saltmere:tides:1">
  <xs:element name="tide"><xs:complexType><xs:sequence><xs:element name="height" type="xs:decimal"/></xs:sequence></xs:complexType></xs:element>
</xs:schema>"#,
            r#"<xs:schema targetNamespace="urn:saltmere:tides:1" elementFormDefault="qualified">
  <xs:element name="tide"><xs:complexType><xs:sequence><xs:element name="height" type="xs:decimal"/></xs:sequence></xs:complexType></xs:element>
</xs:schema>"#,
        ),
        look: Some(shapes::unqualified),
        ..NOTE
    },
];

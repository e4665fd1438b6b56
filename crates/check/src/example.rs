//! Examples: a fragment that breaks a rule and one that keeps it, each in its place in a small sound contract.

use std::borrow::Cow;

/// The place in the contract that the fragments of an example take.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Slot {
    /// The whole file.
    File,
    /// What stands before the root element.
    Prolog,
    /// More attributes on the root element.
    Root,
    /// What stands at the beginning of the contract, before its types.
    Imports,
    /// More in `wsdl:types`.
    Types,
    /// What stands at the beginning of the schema.
    SchemaImports,
    /// More components in the schema.
    Schema,
    /// More messages.
    Messages,
    /// The port type.
    PortType,
    /// What the operation of the port type holds.
    Operation,
    /// The binding.
    Binding,
    /// What the operation of the binding holds.
    Bound,
    /// What the input in the binding holds.
    Input,
    /// The service.
    Service,
    /// What the port holds.
    Port,
    /// What the binding of an operation in rpc style holds for its input.
    Rpc,
    /// The binding of an operation to HTTP.
    Http,
    /// What the binding of an operation whose reply is multipart holds for its output.
    Mime,
    /// The body of a captured envelope of SOAP 1.1, with all around it.
    Envelope,
    /// The small contract as it is; the fragments are settings of the house.
    House,
    /// A message, judged by the schema of [`Example::message_schema`].
    Message,
    /// A message as it was caught on the wire, matched by the contract of [`Example::exchange_contract`].
    Exchange,
}

/// A wrong and a right way.
#[derive(Debug, Clone, Copy)]
pub struct Example {
    /// Where the fragments stand.
    pub slot: Slot,
    wrong: Wrong,
    /// Keeps the rule.
    pub right: &'static str,
}

/// What breaks the rule.
#[derive(Debug, Clone, Copy)]
enum Wrong {
    /// A fragment of its own.
    Whole(&'static str),
    /// The right one, with a piece that is there once in the place of another.
    Edited(&'static str, &'static str),
}

impl Example {
    /// A wrong and a right way to fill a slot.
    pub(crate) const fn of(slot: Slot, wrong: &'static str, right: &'static str) -> Option<Example> {
        Some(Example::new(slot, wrong, right))
    }

    /// The same where there must be one.
    pub(crate) const fn new(slot: Slot, wrong: &'static str, right: &'static str) -> Example {
        Example { slot, wrong: Wrong::Whole(wrong), right }
    }

    /// A right way to fill a slot, and what of it is otherwise in the wrong one: a piece, and what stands in its place.
    pub(crate) const fn edited(
        slot: Slot,
        right: &'static str,
        (piece, wrong): (&'static str, &'static str),
    ) -> Option<Example> {
        Some(Example { slot, wrong: Wrong::Edited(piece, wrong), right })
    }

    /// The same in another place.
    pub(crate) const fn at(self, slot: Slot) -> Example {
        Example { slot, ..self }
    }

    /// Breaks the rule.
    pub fn wrong(&self) -> Cow<'static, str> {
        match self.wrong {
            Wrong::Whole(text) => text.into(),
            Wrong::Edited(piece, wrong) => self.right.replacen(piece, wrong, 1).into(),
        }
    }
}

/// Prefixes that a fragment may use; each is declared only where it is used.
const PREFIXES: &[(&str, &str)] = &[
    ("v", "urn:saltmere:vessel:1"),
    ("soap12", "http://schemas.xmlsoap.org/wsdl/soap12/"),
    ("http", "http://schemas.xmlsoap.org/wsdl/http/"),
    ("mime", "http://schemas.xmlsoap.org/wsdl/mime/"),
    ("enc", "http://schemas.xmlsoap.org/soap/encoding/"),
    ("wsp", "http://www.w3.org/ns/ws-policy"),
    ("wsam", "http://www.w3.org/2007/05/addressing/metadata"),
    ("wsaw", "http://www.w3.org/2006/05/addressing/wsdl"),
    ("sp", "http://docs.oasis-open.org/ws-sx/ws-securitypolicy/200702"),
    ("wsu", "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-utility-1.0.xsd"),
];

const OPERATION: &str = r#"<wsdl:input message="tns:findBerthInput"/>
    <wsdl:output message="tns:findBerthOutput"/>"#;

const INPUT: &str = r#"<soap:body use="literal"/>"#;

const PORT: &str = r#"<soap:address location="https://berths.saltmere.example/1"/>"#;

const SERVICE: &str = r#"<wsdl:service name="BerthsService">
  <wsdl:port name="BerthsPort" binding="tns:BerthsOverSoap11">
    {port}
  </wsdl:port>
</wsdl:service>"#;

const PORT_TYPE: &str = r#"<wsdl:portType name="Berths">
  <wsdl:operation name="findBerth">
    {operation}
  </wsdl:operation>
</wsdl:portType>"#;

const BOUND: &str = r#"<soap:operation soapAction="urn:saltmere:berths:1:findBerth"/>
    <wsdl:input>{input}</wsdl:input>
    <wsdl:output><soap:body use="literal"/></wsdl:output>"#;

const BINDING: &str = r#"<wsdl:binding name="BerthsOverSoap11" type="tns:Berths">
  <soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="findBerth">
    {bound}
  </wsdl:operation>
</wsdl:binding>"#;

/// An operation whose message has a part with a type, and what binds and offers it.
const TIDES: &str = r#"<wsdl:message name="tideReport">
  <wsdl:part name="day" type="xs:date"/>
  <wsdl:part name="height" type="xs:decimal"/>
</wsdl:message>
<wsdl:portType name="Tides">
  <wsdl:operation name="reportTide"><wsdl:input message="tns:tideReport"/></wsdl:operation>
</wsdl:portType>"#;

const RPC: &str = r#"<wsdl:binding name="TidesOverSoap11" type="tns:Tides">
  <soap:binding style="rpc" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="reportTide">
    <soap:operation soapAction="urn:saltmere:berths:1:reportTide"/>
    <wsdl:input>{fragment}</wsdl:input>
  </wsdl:operation>
</wsdl:binding>"#;

const CHARTS: &str = r#"<wsdl:message name="drawChartInput"><wsdl:part name="parameters" element="tns:findBerth"/></wsdl:message>
<wsdl:message name="drawChartOutput">
  <wsdl:part name="parameters" element="tns:findBerthResponse"/>
  <wsdl:part name="chart" type="xs:base64Binary"/>
</wsdl:message>
<wsdl:portType name="Charts">
  <wsdl:operation name="drawChart">
    <wsdl:input message="tns:drawChartInput"/>
    <wsdl:output message="tns:drawChartOutput"/>
  </wsdl:operation>
</wsdl:portType>"#;

const MIME: &str = r#"<wsdl:binding name="ChartsOverSoap11" type="tns:Charts">
  <soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="drawChart">
    <soap:operation soapAction="urn:saltmere:berths:1:drawChart"/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
    <wsdl:output>
      {fragment}
    </wsdl:output>
  </wsdl:operation>
</wsdl:binding>"#;

/// A fragment set into the small sound contract.
pub(crate) fn contract_with(slot: Slot, fragment: &str) -> String {
    if slot == Slot::House {
        return contract_with(Slot::Messages, "");
    }
    if matches!(slot, Slot::File | Slot::Message | Slot::Envelope | Slot::Exchange) {
        return fragment.to_owned();
    }
    let at = |this: Slot, default: &str| if this == slot { fragment.to_owned() } else { default.to_owned() };
    let bound = at(Slot::Bound, BOUND).replace("{input}", &at(Slot::Input, INPUT));
    let binding = at(Slot::Binding, BINDING).replace("{bound}", &bound);
    let port_type = at(Slot::PortType, PORT_TYPE).replace("{operation}", &at(Slot::Operation, OPERATION));
    let service = at(Slot::Service, SERVICE).replace("{port}", &at(Slot::Port, PORT));
    // Messages may come with a port type and bindings of theirs, which stand where such things stand.
    let at_binding = fragment.find("<wsdl:binding").filter(|_| slot == Slot::Messages);
    let (fragment, more) = fragment.split_at(at_binding.unwrap_or(fragment.len()));
    let at = |this: Slot, default: &str| if this == slot { fragment.to_owned() } else { default.to_owned() };
    let (abstracts, concrete) = beside(slot, fragment);
    let text = format!(
        r#"{prolog}<wsdl:definitions name="Berths" targetNamespace="urn:saltmere:berths:1"
    xmlns:tns="urn:saltmere:berths:1"{prefixes}
    xmlns:xs="http://www.w3.org/2001/XMLSchema"
    xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:wsdl="http://schemas.xmlsoap.org/wsdl/"{root}>
{imports}
<wsdl:types>
<xs:schema targetNamespace="urn:saltmere:berths:1" elementFormDefault="qualified">
{schema_imports}
<xs:element name="findBerth" type="xs:token"/>
<xs:element name="findBerthResponse" type="xs:token"/>
{schema}
</xs:schema>
{types}
</wsdl:types>
<wsdl:message name="findBerthInput"><wsdl:part name="parameters" element="tns:findBerth"/></wsdl:message>
<wsdl:message name="findBerthOutput"><wsdl:part name="parameters" element="tns:findBerthResponse"/></wsdl:message>
{messages}
{port_type}
{binding}
{service}
</wsdl:definitions>
"#,
        prolog = at(Slot::Prolog, ""),
        prefixes = "{prefixes}",
        root = at(Slot::Root, ""),
        imports = at(Slot::Imports, ""),
        schema_imports = at(Slot::SchemaImports, ""),
        schema = at(Slot::Schema, ""),
        types = at(Slot::Types, ""),
        messages = at(Slot::Messages, "") + &abstracts,
        binding = binding + "\n" + more + &concrete,
    );
    declared(&text)
}

/// What the operation of a slot with an operation of its own adds: messages with their port type, and the rest.
fn beside(slot: Slot, fragment: &str) -> (String, String) {
    let service = |binding: &str, address: &str| {
        format!(
            "<wsdl:service name=\"OtherService\">\n  <wsdl:port name=\"OtherPort\" binding=\"tns:{binding}\">\n    \
             <{address}:address location=\"https://berths.saltmere.example/2\"/>\n  </wsdl:port>\n</wsdl:service>"
        )
    };
    let (abstracts, binding, service) = match slot {
        Slot::Rpc => (TIDES, RPC.replace("{fragment}", fragment), service("TidesOverSoap11", "soap")),
        Slot::Http => (TIDES, fragment.to_owned(), service("TidesHttp", "http")),
        Slot::Mime => (CHARTS, MIME.replace("{fragment}", fragment), service("ChartsOverSoap11", "soap")),
        _ => return (String::new(), String::new()),
    };
    (abstracts.to_owned(), format!("\n{binding}\n{service}"))
}

/// The text with those prefixes declared that it uses.
fn declared(text: &str) -> String {
    let mut declarations = String::new();
    let used = charter_source::words_before_colons(text);
    for (prefix, namespace) in PREFIXES {
        if used.contains(prefix) && !text.contains(&format!("xmlns:{prefix}=")) {
            declarations.push_str(&format!(" xmlns:{prefix}=\"{namespace}\""));
        }
    }
    text.replacen("{prefixes}", &declarations, 1)
}

impl Example {
    /// The schema that examples of messages are judged by.
    pub fn message_schema() -> &'static str {
        MESSAGE_SCHEMA
    }

    /// The contract that examples of messages on the wire belong to.
    pub fn exchange_contract() -> &'static str {
        EXCHANGE_CONTRACT
    }

    /// The whole contract with the wrong fragment.
    pub fn wrong_whole(&self) -> String {
        contract_with(self.slot, &self.wrong())
    }

    /// The whole contract with the right fragment.
    pub fn right_whole(&self) -> String {
        contract_with(self.slot, self.right)
    }
}

/// The schema that the examples are judged by.
const MESSAGE_SCHEMA: &str = r#"<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema">
  <xs:element name="visit">
    <xs:complexType>
      <xs:sequence>
        <xs:element name="port" type="xs:token" fixed="Saltmere" minOccurs="0"/>
        <xs:element name="callSign" minOccurs="0">
          <xs:simpleType><xs:restriction base="xs:token"><xs:pattern value="[A-Z0-9]{4,7}"/></xs:restriction></xs:simpleType>
        </xs:element>
        <xs:element name="flag" minOccurs="0">
          <xs:simpleType><xs:restriction base="xs:token"><xs:length value="2"/></xs:restriction></xs:simpleType>
        </xs:element>
        <xs:element name="draught" minOccurs="0">
          <xs:simpleType><xs:restriction base="xs:decimal">
            <xs:minExclusive value="0"/><xs:maxExclusive value="30"/><xs:totalDigits value="4"/><xs:fractionDigits value="2"/>
          </xs:restriction></xs:simpleType>
        </xs:element>
        <xs:element name="tugs" minOccurs="0">
          <xs:simpleType><xs:restriction base="xs:int"><xs:minInclusive value="0"/><xs:maxInclusive value="6"/></xs:restriction></xs:simpleType>
        </xs:element>
        <xs:element name="quay" minOccurs="0">
          <xs:simpleType><xs:restriction base="xs:token"><xs:enumeration value="north"/><xs:enumeration value="south"/></xs:restriction></xs:simpleType>
        </xs:element>
        <xs:element name="berth" minOccurs="0" maxOccurs="unbounded">
          <xs:complexType>
            <xs:attribute name="number" type="xs:positiveInteger" use="required"/>
            <xs:attribute name="id" type="xs:ID"/>
            <xs:attribute name="near" type="xs:IDREF"/>
          </xs:complexType>
        </xs:element>
        <xs:element name="chart" type="xs:ENTITY" minOccurs="0"/>
        <xs:element name="remark" minOccurs="0">
          <xs:simpleType><xs:restriction base="xs:string"><xs:minLength value="3"/><xs:maxLength value="20"/></xs:restriction></xs:simpleType>
        </xs:element>
      </xs:sequence>
      <xs:attribute name="version" type="xs:int" fixed="1"/>
    </xs:complexType>
    <xs:unique name="berthNumber"><xs:selector xpath="berth"/><xs:field xpath="@number"/></xs:unique>
  </xs:element>
</xs:schema>"#;

/// The contract that the examples are messages of.
const EXCHANGE_CONTRACT: &str = r##"<wsdl:definitions name="Berths" targetNamespace="urn:saltmere:berths:1" xmlns:tns="urn:saltmere:berths:1"
    xmlns:xs="http://www.w3.org/2001/XMLSchema" xmlns:enc="http://schemas.xmlsoap.org/soap/encoding/"
    xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:soap12="http://schemas.xmlsoap.org/wsdl/soap12/"
    xmlns:mime="http://schemas.xmlsoap.org/wsdl/mime/" xmlns:wsaw="http://www.w3.org/2006/05/addressing/wsdl"
    xmlns:wsdl="http://schemas.xmlsoap.org/wsdl/">
<wsdl:types>
<xs:schema targetNamespace="urn:saltmere:berths:1" elementFormDefault="qualified">
  <xs:import namespace="http://schemas.xmlsoap.org/soap/encoding/"/>
  <xs:element name="findBerth"><xs:complexType><xs:sequence><xs:element name="quay" type="xs:token"/></xs:sequence></xs:complexType></xs:element>
  <xs:element name="findBerthResponse" type="xs:token"/>
  <xs:element name="desk" type="xs:token"/>
  <xs:element name="quayFull" type="xs:token"/>
  <xs:element name="drawChart" type="xs:token"/>
  <xs:element name="raiseSignal" type="xs:token"/>
  <xs:element name="logVisit" type="xs:token"/>
  <xs:complexType name="Depths"><xs:complexContent><xs:restriction base="enc:Array">
    <xs:attribute ref="enc:arrayType" wsdl:arrayType="xs:decimal[]"/>
  </xs:restriction></xs:complexContent></xs:complexType>
</xs:schema>
</wsdl:types>
<wsdl:message name="findBerthInput"><wsdl:part name="parameters" element="tns:findBerth"/></wsdl:message>
<wsdl:message name="findBerthOutput"><wsdl:part name="parameters" element="tns:findBerthResponse"/></wsdl:message>
<wsdl:message name="DeskHeader"><wsdl:part name="desk" element="tns:desk"/></wsdl:message>
<wsdl:message name="QuayFull"><wsdl:part name="fault" element="tns:quayFull"/></wsdl:message>
<wsdl:message name="tideReport"><wsdl:part name="day" type="xs:date"/><wsdl:part name="height" type="xs:decimal"/></wsdl:message>
<wsdl:message name="depthList"><wsdl:part name="depths" type="tns:Depths"/></wsdl:message>
<wsdl:message name="chartInput"><wsdl:part name="parameters" element="tns:drawChart"/><wsdl:part name="chart" type="xs:base64Binary"/></wsdl:message>
<wsdl:message name="signal"><wsdl:part name="parameters" element="tns:raiseSignal"/></wsdl:message>
<wsdl:message name="visit"><wsdl:part name="parameters" element="tns:logVisit"/></wsdl:message>
<wsdl:portType name="Berths">
  <wsdl:operation name="findBerth"><wsdl:input message="tns:findBerthInput"/><wsdl:output message="tns:findBerthOutput"/><wsdl:fault name="QuayFull" message="tns:QuayFull"/></wsdl:operation>
</wsdl:portType>
<wsdl:portType name="Tides"><wsdl:operation name="reportTide"><wsdl:input message="tns:tideReport"/></wsdl:operation></wsdl:portType>
<wsdl:portType name="Depths"><wsdl:operation name="listDepths"><wsdl:input message="tns:depthList"/></wsdl:operation></wsdl:portType>
<wsdl:portType name="Charts"><wsdl:operation name="drawChart"><wsdl:input message="tns:chartInput"/></wsdl:operation></wsdl:portType>
<wsdl:portType name="Visits"><wsdl:operation name="logVisit"><wsdl:input message="tns:visit"/></wsdl:operation></wsdl:portType>
<wsdl:portType name="Signals"><wsdl:operation name="raiseSignal"><wsdl:input message="tns:signal"/></wsdl:operation></wsdl:portType>
<wsdl:binding name="BerthsOverSoap11" type="tns:Berths"><soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="findBerth"><soap:operation soapAction="urn:saltmere:berths:1:findBerth"/>
    <wsdl:input><soap:header message="tns:DeskHeader" part="desk" use="literal"/><soap:body use="literal"/></wsdl:input>
    <wsdl:output><soap:body use="literal"/></wsdl:output>
    <wsdl:fault name="QuayFull"><soap:fault name="QuayFull" use="literal"/></wsdl:fault>
  </wsdl:operation>
</wsdl:binding>
<wsdl:binding name="TidesOverSoap11" type="tns:Tides"><soap:binding style="rpc" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="reportTide"><soap:operation soapAction="urn:saltmere:berths:1:reportTide"/>
    <wsdl:input><soap:body use="literal" namespace="urn:saltmere:berths:1"/></wsdl:input>
  </wsdl:operation>
</wsdl:binding>
<wsdl:binding name="DepthsOverSoap11" type="tns:Depths"><soap:binding style="rpc" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="listDepths"><soap:operation soapAction="urn:saltmere:berths:1:listDepths"/>
    <wsdl:input><soap:body use="encoded" namespace="urn:saltmere:berths:1" encodingStyle="http://schemas.xmlsoap.org/soap/encoding/"/></wsdl:input>
  </wsdl:operation>
</wsdl:binding>
<wsdl:binding name="ChartsOverSoap11" type="tns:Charts"><soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="drawChart"><soap:operation soapAction="urn:saltmere:berths:1:drawChart"/>
    <wsdl:input><mime:multipartRelated>
      <mime:part><soap:body parts="parameters" use="literal"/></mime:part>
      <mime:part><mime:content part="chart" type="image/png"/></mime:part>
    </mime:multipartRelated></wsdl:input>
  </wsdl:operation>
</wsdl:binding>
<wsdl:binding name="SignalsOverSoap11" type="tns:Signals"><soap12:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsaw:UsingAddressing wsdl:required="true"/>
  <wsdl:operation name="raiseSignal"><soap12:operation soapAction="urn:saltmere:berths:1:raiseSignal"/>
    <wsdl:input><soap12:body use="literal"/></wsdl:input>
  </wsdl:operation>
</wsdl:binding>
<wsdl:binding name="VisitsOverSoap11" type="tns:Visits">
  <wsp:Policy xmlns:wsp="http://www.w3.org/ns/ws-policy" xmlns:sp="http://docs.oasis-open.org/ws-sx/ws-securitypolicy/200702">
    <sp:SupportingTokens><wsp:Policy><sp:UsernameToken/></wsp:Policy></sp:SupportingTokens>
  </wsp:Policy>
  <soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="logVisit"><soap:operation soapAction="urn:saltmere:berths:1:logVisit"/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
  </wsdl:operation>
</wsdl:binding>
</wsdl:definitions>
"##;

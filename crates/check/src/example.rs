//! Examples: a fragment that breaks a rule and one that keeps it, each in its place in a small sound contract.

/// The place in the contract that the fragments of an example take.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Slot {
    /// The whole file.
    File,
    /// Imports of the contract.
    Imports,
    /// What stands at the beginning of the schema.
    SchemaImports,
    /// More components in the schema.
    Schema,
    /// More messages.
    Messages,
    /// The port type.
    PortType,
    /// The binding.
    Binding,
    /// The service.
    Service,
    /// A message, judged by the schema of [`Example::message_schema`].
    Message,
}

/// A wrong and a right way.
#[derive(Debug, Clone, Copy)]
pub struct Example {
    /// Where the fragments stand.
    pub slot: Slot,
    /// Breaks the rule.
    pub wrong: &'static str,
    /// Keeps it.
    pub right: &'static str,
}

const PORT_TYPE: &str = r#"<wsdl:portType name="Berths">
  <wsdl:operation name="findBerth">
    <wsdl:input message="tns:findBerthInput"/>
    <wsdl:output message="tns:findBerthOutput"/>
  </wsdl:operation>
</wsdl:portType>"#;

const BINDING: &str = r#"<wsdl:binding name="BerthsSoap" type="tns:Berths">
  <soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="findBerth">
    <soap:operation soapAction="urn:saltmere:berths:1:findBerth"/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
    <wsdl:output><soap:body use="literal"/></wsdl:output>
  </wsdl:operation>
</wsdl:binding>"#;

const SERVICE: &str = r#"<wsdl:service name="BerthsService">
  <wsdl:port name="BerthsPort" binding="tns:BerthsSoap">
    <soap:address location="https://berths.saltmere.example/1"/>
  </wsdl:port>
</wsdl:service>"#;

/// A fragment set into the small sound contract.
pub(crate) fn whole(slot: Slot, fragment: &str) -> String {
    if matches!(slot, Slot::File | Slot::Message) {
        return fragment.to_owned();
    }
    let at = |this: Slot, default: &str| if this == slot { fragment.to_owned() } else { default.to_owned() };
    format!(
        r#"<wsdl:definitions name="Berths" targetNamespace="urn:saltmere:berths:1"
    xmlns:tns="urn:saltmere:berths:1" xmlns:v="urn:saltmere:vessel:1"
    xmlns:xs="http://www.w3.org/2001/XMLSchema"
    xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:wsdl="http://schemas.xmlsoap.org/wsdl/">
{imports}
<wsdl:types>
<xs:schema targetNamespace="urn:saltmere:berths:1" elementFormDefault="qualified">
{schema_imports}
<xs:element name="findBerth" type="xs:token"/>
<xs:element name="findBerthResponse" type="xs:token"/>
{schema}
</xs:schema>
</wsdl:types>
<wsdl:message name="findBerthInput"><wsdl:part name="parameters" element="tns:findBerth"/></wsdl:message>
<wsdl:message name="findBerthOutput"><wsdl:part name="parameters" element="tns:findBerthResponse"/></wsdl:message>
{messages}
{port_type}
{binding}
{service}
</wsdl:definitions>
"#,
        imports = at(Slot::Imports, ""),
        schema_imports = at(Slot::SchemaImports, ""),
        schema = at(Slot::Schema, ""),
        messages = at(Slot::Messages, ""),
        port_type = at(Slot::PortType, PORT_TYPE),
        binding = at(Slot::Binding, BINDING),
        service = at(Slot::Service, SERVICE),
    )
}

impl Example {
    /// The schema that examples of messages are judged by.
    pub fn message_schema() -> &'static str {
        crate::rules::instance::SCHEMA
    }

    /// The whole contract with the wrong fragment.
    pub fn wrong_whole(&self) -> String {
        whole(self.slot, self.wrong)
    }

    /// The whole contract with the right fragment.
    pub fn right_whole(&self) -> String {
        whole(self.slot, self.right)
    }
}

//! Kinds of change around the schemas: protocol, header blocks, policies, parts.

use super::Concerns::{Both, Wire};
use super::{Concerns, Example, Kind, KindEntry, Slot, Topic};

const RPC: &str = r#"{rpc}
<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap:binding style="rpc" transport="http://schemas.xmlsoap.org/soap/http"/>
  <w:operation name="findBerth">
    <soap:operation soapAction=""/>
    <w:input><soap:body use="literal" namespace="urn:saltmere:berths:1"/></w:input>
    <w:output><soap:body use="literal" namespace="urn:saltmere:berths:1"/></w:output>
  </w:operation>
</w:binding>
{offer}"#;

const OVER_GET: &str = r#"{rpc}
<w:binding name="BerthsOverGet" type="t:Berths">
  <http:binding verb="GET"/>
  <w:operation name="findBerth">
    <http:operation location="/berths"/>
    <w:input><http:urlEncoded/></w:input>
    <w:output><mime:content part="berth" type="text/plain"/></w:output>
  </w:operation>
</w:binding>
<w:service name="BerthsService">
  <w:port name="BerthsPort" binding="t:BerthsOverGet">
    <http:address location="https://berths.saltmere.example/1"/>
  </w:port>
</w:service>"#;

const PART_ADDED: Example = Example::of(
    Slot::Contract,
    RPC,
    r#"<w:message name="findBerthInput"><w:part name="draught" type="x:decimal"/><w:part name="agent" type="x:string"/></w:message>
<w:message name="findBerthOutput"><w:part name="berth" type="x:string"/></w:message>
<w:portType name="Berths">
  {operation findBerth}
</w:portType>
<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap:binding style="rpc" transport="http://schemas.xmlsoap.org/soap/http"/>
  <w:operation name="findBerth">
    <soap:operation soapAction=""/>
    <w:input><soap:body use="literal" namespace="urn:saltmere:berths:1"/></w:input>
    <w:output><soap:body use="literal" namespace="urn:saltmere:berths:1"/></w:output>
  </w:operation>
</w:binding>
{offer}"#,
);

const HEADER_ADDED: Example = Example::of(
    Slot::Contract,
    r#"{messages}
<w:message name="findBerthInput2"><w:part name="agent" element="t:agent"/></w:message>
<w:portType name="Berths">
  {operation findBerth}
</w:portType>
{concrete}"#,
    r#"{messages}
<w:message name="findBerthInput2"><w:part name="agent" element="t:agent"/></w:message>
<w:portType name="Berths">
  {operation findBerth}
</w:portType>
<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <w:operation name="findBerth">
    <soap:operation soapAction="urn:saltmere:berths:1:findBerth"/>
    <w:input><soap:header message="t:findBerthInput2" part="agent" use="literal"/><soap:body use="literal"/></w:input>
    <w:output><soap:body use="literal"/></w:output>
  </w:operation>
</w:binding>
{offer}"#,
);

const HEADER_FAULT_ADDED: Example = Example::edited(
    Slot::Contract,
    r#"{messages}
<w:message name="findBerthInput2"><w:part name="agent" element="t:agent"/></w:message>
<w:portType name="Berths">
  {operation findBerth}
</w:portType>
<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <w:operation name="findBerth">
    <soap:operation soapAction="urn:saltmere:berths:1:findBerth"/>
    <w:input><soap:header message="t:findBerthInput2" part="agent" use="literal"></soap:header><soap:body use="literal"/></w:input>
    <w:output><soap:body use="literal"/></w:output>
  </w:operation>
</w:binding>
{offer}"#,
    r#"></s"#,
    r#"><soap:headerfault message="t:findBerthInput2" part="agent" use="literal"/></s"#,
);

pub(super) const KINDS: &[KindEntry] = &[
    entry(
        Kind::SoapVersionChanged,
        Wire,
        "The messages are of another version of SOAP.",
        "Envelope, media type and the place of the action are others: a request of the old version is refused (SOAP 1.2 Part 1, appendix A).",
        Example::of(
            Slot::Concrete,
            r#"{concrete}"#,
            r#"<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap12:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <w:operation name="findBerth">
    <soap12:operation soapAction="urn:saltmere:berths:1:findBerth"/>
    <w:input><soap12:body use="literal"/></w:input>
    <w:output><soap12:body use="literal"/></w:output>
  </w:operation>
</w:binding>
<w:service name="BerthsService">
  <w:port name="BerthsPort" binding="t:BerthsOverSoap11">
    <soap12:address location="https://berths.saltmere.example/1"/>
  </w:port>
</w:service>"#,
        ),
    ),
    entry(
        Kind::StyleChanged,
        Wire,
        "The style of a binding is another: document or rpc.",
        "In rpc style the body begins with the name of the operation, in document style with the element of the message.",
        Example::edited(Slot::Contract, RPC, r#""rpc"#, r#""document"#),
    ),
    entry(
        Kind::TransportChanged,
        Wire,
        "The messages travel by another transport.",
        "The URI of the transport names another protocol: consumers that speak the old one reach nobody.",
        Example::of(
            Slot::Binding,
            r#"<soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  {bound findBerth}"#,
            r#"<soap:binding transport="urn:saltmere:radio"/>
  {bound findBerth}"#,
        ),
    ),
    entry(
        Kind::ActionChanged,
        Wire,
        "The action of an operation is another.",
        "Providers that find the operation by its action refuse the old one. Where they do not look at it, the address can answer both.",
        Example::of(
            Slot::Binding,
            r#"<soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  {bound findBerth}"#,
            r#"<soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <w:operation name="findBerth">
    <soap:operation soapAction="urn:saltmere:berths:1:seekBerth"/>
    <w:input><soap:body use="literal"/></w:input>
    <w:output><soap:body use="literal"/></w:output>
  </w:operation>"#,
        ),
    ),
    entry(
        Kind::CarrierChanged,
        Wire,
        "The messages came into an envelope of SOAP, or out of one.",
        "All messages are others.",
        Example::of(
            Slot::Contract,
            OVER_GET,
            r#"{rpc}
<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap:binding style="rpc" transport="http://schemas.xmlsoap.org/soap/http"/>
  <w:operation name="findBerth">
    <soap:operation soapAction=""/>
    <w:input><soap:body use="literal" namespace="urn:saltmere:berths:1"/></w:input>
    <w:output><soap:body use="literal" namespace="urn:saltmere:berths:1"/></w:output>
  </w:operation>
</w:binding>
{offer}"#,
        ),
    ),
    entry(
        Kind::EncodingChanged,
        Wire,
        "A body or a header block is written by an encoding, or by its schema, or by another encoding.",
        "An encoding adds types and references that a reader of the schema does not expect.",
        Example::edited(
            Slot::Contract,
            RPC,
            r#"nput><soap:body use="literal" namespace="urn:sal"#,
            r#"nput><soap:body use="encoded" encodingStyle="http://schemas.xmlsoap.org/soap/encoding/" namespace="urn:sal"#,
        ),
    ),
    entry(
        Kind::BodyChanged,
        Wire,
        "The body is made in another way: another first element, more elements, or parts held otherwise.",
        "No message of the old version fits the new one.",
        Example::edited(
            Slot::Contract,
            RPC,
            r#"espace="urn:saltmere:berths:1"/></w:i"#,
            r#"espace="urn:saltmere:berths:2"/></w:i"#,
        ),
    ),
    entry(
        Kind::PartAdded,
        Both,
        "A message part is new.",
        "In rpc style each part is an accessor that must be there.",
        PART_ADDED,
    ),
    entry(
        Kind::PartRemoved,
        Both,
        "A message part is gone.",
        "What consumers send in it is refused, and what they read in it is missed.",
        PART_ADDED.reversed(),
    ),
    entry(
        Kind::MethodChanged,
        Wire,
        "An operation over plain HTTP has another method.",
        "A server answers the old one with status 405.",
        Example::edited(Slot::Contract, OVER_GET, r#"GET"#, r#"POST"#),
    ),
    entry(
        Kind::PathChanged,
        Wire,
        "An operation over plain HTTP has another path.",
        "A server answers the old one with status 404.",
        Example::edited(Slot::Contract, OVER_GET, r#""/berths"#, r#""/quays"#),
    ),
    entry(
        Kind::MediaTypeChanged,
        Wire,
        "A part may be of other media types.",
        "Consumers that cannot read the new one are left without it.",
        Example::edited(Slot::Contract, OVER_GET, r#"text/plain"#, r#"text/csv"#),
    ),
    entry(
        Kind::HeaderAdded,
        Wire,
        "A header block is new.",
        "In a request it must be sent from now on: no consumer does so yet.",
        HEADER_ADDED,
    ),
    entry(
        Kind::HeaderRemoved,
        Wire,
        "A header block is gone.",
        "Whoever still sends it depends on whether the provider takes what it does not ask for; whoever reads it misses it.",
        HEADER_ADDED.reversed(),
    ),
    entry(
        Kind::HeaderRenamed,
        Wire,
        "A header block goes by another name, or its name is in another namespace.",
        "The old block is not understood, and the new one is missing.",
        Example::of(
            Slot::File,
            r#"<w:definitions targetNamespace="urn:saltmere:berths:1" xmlns:t="urn:saltmere:berths:1"
    xmlns:x="http://www.w3.org/2001/XMLSchema" xmlns:w="http://schemas.xmlsoap.org/wsdl/" xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/">
<w:types><x:schema targetNamespace="urn:saltmere:berths:1">
<x:element name="findBerth" type="x:string"/>
<x:element name="findBerthResponse" type="x:string"/>
<x:element name="agent"><x:complexType><x:sequence><x:element name="name" type="x:string"/></x:sequence></x:complexType></x:element>
</x:schema></w:types>
{messages}
<w:message name="findBerthInput2"><w:part name="agent" element="t:agent"/></w:message>
<w:portType name="Berths">
  {operation findBerth}
</w:portType>
<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <w:operation name="findBerth">
    <soap:operation soapAction="urn:saltmere:berths:1:findBerth"/>
    <w:input><soap:header message="t:findBerthInput2" part="agent" use="literal"/><soap:body use="literal"/></w:input>
    <w:output><soap:body use="literal"/></w:output>
  </w:operation>
</w:binding>
{offer}
</w:definitions>"#,
            r#"<w:definitions targetNamespace="urn:saltmere:berths:1" xmlns:t="urn:saltmere:berths:1"
    xmlns:x="http://www.w3.org/2001/XMLSchema" xmlns:w="http://schemas.xmlsoap.org/wsdl/" xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/">
<w:types><x:schema targetNamespace="urn:saltmere:berths:1">
<x:element name="findBerth" type="x:string"/>
<x:element name="findBerthResponse" type="x:string"/>
<x:element name="broker"><x:complexType><x:sequence><x:element name="name" type="x:string"/></x:sequence></x:complexType></x:element>
</x:schema></w:types>
{messages}
<w:message name="findBerthInput2"><w:part name="agent" element="t:broker"/></w:message>
<w:portType name="Berths">
  {operation findBerth}
</w:portType>
<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <w:operation name="findBerth">
    <soap:operation soapAction="urn:saltmere:berths:1:findBerth"/>
    <w:input><soap:header message="t:findBerthInput2" part="agent" use="literal"/><soap:body use="literal"/></w:input>
    <w:output><soap:body use="literal"/></w:output>
  </w:operation>
</w:binding>
{offer}
</w:definitions>"#,
        ),
    ),
    entry(
        Kind::HeaderFaultAdded,
        Wire,
        "Requests may be answered by a fault about a header block that was not declared.",
        "Consumers do not know it by name (WSDL 1.1, 3.7).",
        HEADER_FAULT_ADDED,
    ),
    entry(
        Kind::HeaderFaultRemoved,
        Wire,
        "A fault about a header block is no longer declared.",
        "Consumers keep a case for it that never comes.",
        HEADER_FAULT_ADDED.reversed(),
    ),
    entry(
        Kind::DemandAdded,
        Wire,
        "A policy demands more of requests.",
        "Whoever satisfied the old demands does not satisfy the new ones: credentials, a certificate, a signature, an address that nobody sends yet.",
        Example::of(
            Slot::Binding,
            r#"<wsp:Policy><sp:TransportBinding><wsp:Policy><sp:TransportToken><wsp:Policy><sp:HttpsToken/></wsp:Policy></sp:TransportToken></wsp:Policy></sp:TransportBinding></wsp:Policy>
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  {bound findBerth}"#,
            r#"<wsp:Policy><sp:TransportBinding><wsp:Policy><sp:TransportToken><wsp:Policy><sp:HttpsToken/></wsp:Policy></sp:TransportToken><sp:IncludeTimestamp/></wsp:Policy></sp:TransportBinding></wsp:Policy>
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  {bound findBerth}"#,
        ),
    ),
    entry(
        Kind::DemandRemoved,
        Wire,
        "A policy no longer demands something.",
        "Whoever still sends it depends on whether the provider takes what it does not ask for.",
        Example::of(
            Slot::Binding,
            r#"<wsp:Policy><sp:TransportBinding><wsp:Policy><sp:TransportToken><wsp:Policy><sp:HttpsToken/></wsp:Policy></sp:TransportToken><sp:IncludeTimestamp/></wsp:Policy></sp:TransportBinding></wsp:Policy>
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  {bound findBerth}"#,
            r#"<wsp:Policy><sp:TransportBinding><wsp:Policy><sp:TransportToken><wsp:Policy><sp:HttpsToken/></wsp:Policy></sp:TransportToken></wsp:Policy></sp:TransportBinding></wsp:Policy>
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  {bound findBerth}"#,
        ),
    ),
    entry(
        Kind::DemandLoosened,
        Wire,
        "What a policy demands can be satisfied in another way too, or left out.",
        "Whoever satisfied the old demands satisfies the new ones.",
        Example::of(
            Slot::Binding,
            r#"<wsp:Policy><sp:TransportBinding><wsp:Policy><sp:TransportToken><wsp:Policy><sp:HttpsToken/></wsp:Policy></sp:TransportToken></wsp:Policy></sp:TransportBinding></wsp:Policy>
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  {bound findBerth}"#,
            r#"<wsp:Policy><wsp:ExactlyOne><wsp:All><sp:TransportBinding><wsp:Policy><sp:TransportToken><wsp:Policy><sp:HttpsToken/></wsp:Policy></sp:TransportToken></wsp:Policy></sp:TransportBinding></wsp:All><wsp:All/></wsp:ExactlyOne></wsp:Policy>
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  {bound findBerth}"#,
        ),
    ),
];

const fn entry(
    kind: Kind,
    concerns: Concerns,
    says: &'static str,
    why: &'static str,
    example: Example,
) -> KindEntry {
    KindEntry { kind, topic: Topic::Messages, concerns, says, why, example }
}

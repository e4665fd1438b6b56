//! Kinds of change of whole components: operations, faults, ports, services, types.

use super::Concerns::{Both, Code, Wire};
use super::{Concerns, Example, Kind, KindEntry, Slot, Topic};

const OPERATION_ADDED: Example = Example::of(
    Slot::Contract,
    r#"{abstract}
{concrete}"#,
    r#"{messages}
<w:portType name="Berths">
  {operation findBerth}
  {operation leaveBerth}
</w:portType>
<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  {bound findBerth}
  {bound leaveBerth}
</w:binding>
{offer}"#,
);

const SIDE_ADDED: Example = Example::of(
    Slot::Contract,
    r#"{messages}
<w:portType name="Berths">
  <w:operation name="findBerth">
    <w:input message="t:findBerthInput"/>
  </w:operation>
</w:portType>
<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <w:operation name="findBerth">
    <soap:operation soapAction="urn:saltmere:berths:1:findBerth"/>
    <w:input><soap:body use="literal"/></w:input>
  </w:operation>
</w:binding>
{offer}"#,
    r#"{abstract}
{concrete}"#,
);

const FAULT_ADDED: Example = Example::of(
    Slot::Contract,
    r#"{abstract}
{concrete}"#,
    r#"{messages}
<w:message name="harbourClosed"><w:part name="detail" element="t:harbourClosed"/></w:message>
<w:portType name="Berths">
  <w:operation name="findBerth">
    <w:input message="t:findBerthInput"/>
    <w:output message="t:findBerthOutput"/>
    <w:fault name="harbourClosed" message="t:harbourClosed"/>
  </w:operation>
</w:portType>
<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <w:operation name="findBerth">
    <soap:operation soapAction="urn:saltmere:berths:1:findBerth"/>
    <w:input><soap:body use="literal"/></w:input>
    <w:output><soap:body use="literal"/></w:output>
    <w:fault name="harbourClosed"><soap:fault name="harbourClosed" use="literal"/></w:fault>
  </w:operation>
</w:binding>
{offer}"#,
);

pub(super) const KINDS: &[KindEntry] = &[
    entry(Kind::OperationAdded, Both, "An operation is new.", "No consumer calls it yet.", OPERATION_ADDED),
    entry(
        Kind::OperationRemoved,
        Both,
        "An operation is gone.",
        "Whoever calls it gets a fault. Keep it until nobody calls it any more; consumer records say who does.",
        OPERATION_ADDED.reversed(),
    ),
    entry(
        Kind::OperationRenamed,
        Both,
        "An operation goes by another name.",
        "Where its elements and actions go by another name too, nobody who calls it by the old one is answered. Where they do not, only code sees it.",
        Example::of(
            Slot::Contract,
            r#"{abstract}
{concrete}"#,
            r#"{messages}
<w:portType name="Berths">
  {operation seekBerth}
</w:portType>
<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <w:operation name="seekBerth">
    <soap:operation soapAction="urn:saltmere:berths:1:findBerth"/>
    <w:input><soap:body use="literal"/></w:input>
    <w:output><soap:body use="literal"/></w:output>
  </w:operation>
</w:binding>
{offer}"#,
        ),
    ),
    entry(
        Kind::OperationUnbound,
        Wire,
        "A port no longer offers an operation.",
        "The operation is still described, but whoever calls it at that port gets a fault.",
        Example::edited(
            Slot::Contract,
            r#"{messages}
<w:portType name="Berths">
  {operation findBerth}
  {operation leaveBerth}
</w:portType>
<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  {bound findBerth}
  {bound leaveBerth}
</w:binding>
<w:binding name="NorthOverSoap11" type="t:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  {bound findBerth}
  {bound leaveBerth}
</w:binding>
<w:service name="BerthsService">
  <w:port name="BerthsPort" binding="t:BerthsOverSoap11">
    <soap:address location="https://berths.saltmere.example/1"/>
  </w:port>
  <w:port name="NorthPort" binding="t:NorthOverSoap11">
    <soap:address location="https://north.saltmere.example/1"/>
  </w:port>
</w:service>"#,
            r#"bound findBerth}
  {bound leaveBerth}
</w:binding>
<w:s"#,
            r#"bound findBerth}
</w:binding>
<w:s"#,
        ),
    ),
    entry(
        Kind::SideAdded,
        Both,
        "An operation has an input or an output that it had not.",
        "A call that was not answered is answered now, or an answer is asked for that consumers do not know: the exchange is another (WSDL 1.1, 2.4).",
        SIDE_ADDED,
    ),
    entry(
        Kind::SideRemoved,
        Both,
        "An operation has no input or no output any more.",
        "Whoever waits for the answer waits in vain.",
        SIDE_ADDED.reversed(),
    ),
    entry(
        Kind::FaultAdded,
        Both,
        "An operation may answer with a fault that was not declared.",
        "Every consumer must be ready for a fault, but none knows this one by name: it is handled like any failure.",
        FAULT_ADDED,
    ),
    entry(
        Kind::FaultRemoved,
        Both,
        "A fault is no longer declared.",
        "Consumers keep a case for it that never comes.",
        FAULT_ADDED.reversed(),
    ),
    entry(
        Kind::FaultRenamed,
        Code,
        "A fault goes by another name.",
        "The name of a fault is not on the wire, but code has a class of that name.",
        Example::of(
            Slot::Contract,
            r#"{messages}
<w:message name="harbourClosed"><w:part name="detail" element="t:findBerthResponse"/></w:message>
<w:portType name="Berths">
  <w:operation name="findBerth">
    <w:input message="t:findBerthInput"/>
    <w:output message="t:findBerthOutput"/>
    <w:fault name="harbourClosed" message="t:harbourClosed"/>
  </w:operation>
</w:portType>
<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <w:operation name="findBerth">
    <soap:operation soapAction="urn:saltmere:berths:1:findBerth"/>
    <w:input><soap:body use="literal"/></w:input>
    <w:output><soap:body use="literal"/></w:output>
    <w:fault name="harbourClosed"><soap:fault name="harbourClosed" use="literal"/></w:fault>
  </w:operation>
</w:binding>
{offer}"#,
            r#"{messages}
<w:message name="harbourClosed"><w:part name="detail" element="t:findBerthResponse"/></w:message>
<w:portType name="Berths">
  <w:operation name="findBerth">
    <w:input message="t:findBerthInput"/>
    <w:output message="t:findBerthOutput"/>
    <w:fault name="portClosed" message="t:harbourClosed"/>
  </w:operation>
</w:portType>
<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <w:operation name="findBerth">
    <soap:operation soapAction="urn:saltmere:berths:1:findBerth"/>
    <w:input><soap:body use="literal"/></w:input>
    <w:output><soap:body use="literal"/></w:output>
    <w:fault name="portClosed"><soap:fault name="portClosed" use="literal"/></w:fault>
  </w:operation>
</w:binding>
{offer}"#,
        ),
    ),
    entry(
        Kind::PortAdded,
        Both,
        "A port is new.",
        "There is one more address to call.",
        Example::of(
            Slot::Service,
            r#"  <w:port name="BerthsPort" binding="t:BerthsOverSoap11">
    <soap:address location="https://berths.saltmere.example/1"/>
  </w:port>"#,
            r#"  <w:port name="BerthsPort" binding="t:BerthsOverSoap11">
    <soap:address location="https://berths.saltmere.example/1"/>
  </w:port>
  <w:port name="BerthsPortNorth" binding="t:BerthsOverSoap11">
    <soap:address location="https://north.saltmere.example/1"/>
  </w:port>"#,
        ),
    ),
    entry(
        Kind::PortRemoved,
        Both,
        "A port is gone.",
        "Whoever calls its address is not answered any more.",
        Example::of(
            Slot::Service,
            r#"  <w:port name="BerthsPort" binding="t:BerthsOverSoap11">
    <soap:address location="https://berths.saltmere.example/1"/>
  </w:port>
  <w:port name="BerthsPortNorth" binding="t:BerthsOverSoap11">
    <soap:address location="https://north.saltmere.example/1"/>
  </w:port>"#,
            r#"  <w:port name="BerthsPort" binding="t:BerthsOverSoap11">
    <soap:address location="https://berths.saltmere.example/1"/>
  </w:port>"#,
        ),
    ),
    entry(
        Kind::PortRenamed,
        Code,
        "A port goes by another name, at the same address.",
        "Its name is not on the wire, but code has a method of that name.",
        Example::of(
            Slot::Service,
            r#"  <w:port name="BerthsPort" binding="t:BerthsOverSoap11">
    <soap:address location="https://berths.saltmere.example/1"/>
  </w:port>"#,
            r#"  <w:port name="BerthingPort" binding="t:BerthsOverSoap11">
    <soap:address location="https://berths.saltmere.example/1"/>
  </w:port>"#,
        ),
    ),
    entry(
        Kind::AddressChanged,
        Wire,
        "A port has another address.",
        "Consumers must be told, or the old address must go on answering.",
        Example::of(
            Slot::Service,
            r#"  <w:port name="BerthsPort" binding="t:BerthsOverSoap11">
    <soap:address location="https://berths.saltmere.example/1"/>
  </w:port>"#,
            r#"  <w:port name="BerthsPort" binding="t:BerthsOverSoap11">
    <soap:address location="https://berths.saltmere.example/2"/>
  </w:port>"#,
        ),
    ),
    entry(
        Kind::ServiceRenamed,
        Code,
        "A service goes by another name.",
        "Its name is not on the wire, but code has a class of that name.",
        Example::of(
            Slot::Contract,
            r#"{abstract}
{concrete}"#,
            r#"{abstract}
<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  {bound findBerth}
</w:binding>
<w:service name="BerthingService">
  <w:port name="BerthsPort" binding="t:BerthsOverSoap11">
    <soap:address location="https://berths.saltmere.example/1"/>
  </w:port>
</w:service>"#,
        ),
    ),
    entry(
        Kind::TypeAdded,
        Both,
        "A type is new in the schema.",
        "Nothing uses it, or what does is a change of its own.",
        Example::of(
            Slot::Schema,
            r#"<x:element name="findBerth" type="t:Ship"/>
<x:element name="findBerthResponse" type="x:string"/>
<x:complexType name="Ship"><x:sequence><x:element name="draught" type="x:decimal"/></x:sequence></x:complexType>"#,
            r#"<x:element name="findBerth" type="t:Ship"/>
<x:element name="findBerthResponse" type="x:string"/>
<x:complexType name="Ship"><x:sequence><x:element name="draught" type="x:decimal"/></x:sequence></x:complexType>
<x:complexType name="Buoy"><x:sequence><x:element name="number" type="x:int"/></x:sequence></x:complexType>"#,
        ),
    ),
    entry(
        Kind::TypeRemoved,
        Both,
        "A type is gone from the schema.",
        "Nothing uses it any more; what did is a change of its own.",
        Example::of(
            Slot::Schema,
            r#"<x:element name="findBerth" type="t:Ship"/>
<x:element name="findBerthResponse" type="x:string"/>
<x:complexType name="Ship"><x:sequence><x:element name="draught" type="x:decimal"/></x:sequence></x:complexType>
<x:complexType name="Buoy"><x:sequence><x:element name="number" type="x:int"/></x:sequence></x:complexType>"#,
            r#"<x:element name="findBerth" type="t:Ship"/>
<x:element name="findBerthResponse" type="x:string"/>
<x:complexType name="Ship"><x:sequence><x:element name="draught" type="x:decimal"/></x:sequence></x:complexType>"#,
        ),
    ),
    entry(
        Kind::TypeRenamed,
        Code,
        "A type goes by another name.",
        "The name of a type is not on the wire, unless something in its place is named by `xsi:type`; code has a class of that name.",
        Example::of(
            Slot::Schema,
            r#"<x:element name="findBerth" type="t:Ship"/>
<x:element name="findBerthResponse" type="x:string"/>
<x:complexType name="Ship"><x:sequence><x:element name="draught" type="x:decimal"/></x:sequence></x:complexType>"#,
            r#"<x:element name="findBerth" type="t:Vessel"/>
<x:element name="findBerthResponse" type="x:string"/>
<x:complexType name="Vessel"><x:sequence><x:element name="draught" type="x:decimal"/></x:sequence></x:complexType>"#,
        ),
    ),
    entry(
        Kind::NamespaceMoved,
        Wire,
        "Names went from one namespace to another together.",
        "A name in another namespace is another name: no message of the old version is one of the new. That is the rule for a version that breaks; where nothing else breaks, the namespace can stay.",
        Example::of(
            Slot::File,
            r#"<w:definitions targetNamespace="urn:saltmere:berths:1" xmlns:t="urn:saltmere:berths:1"
    xmlns:x="http://www.w3.org/2001/XMLSchema" xmlns:w="http://schemas.xmlsoap.org/wsdl/" xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/">
<w:types><x:schema targetNamespace="urn:saltmere:berths:1">
<x:element name="findBerth" type="x:string"/>
<x:element name="findBerthResponse" type="x:string"/>
</x:schema></w:types>
{abstract}
<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <w:operation name="findBerth">
    <soap:operation soapAction=""/>
    <w:input><soap:body use="literal"/></w:input>
    <w:output><soap:body use="literal"/></w:output>
  </w:operation>
</w:binding>
{offer}
</w:definitions>"#,
            r#"<w:definitions targetNamespace="urn:saltmere:berths:2" xmlns:t="urn:saltmere:berths:2"
    xmlns:x="http://www.w3.org/2001/XMLSchema" xmlns:w="http://schemas.xmlsoap.org/wsdl/" xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/">
<w:types><x:schema targetNamespace="urn:saltmere:berths:2">
<x:element name="findBerth" type="x:string"/>
<x:element name="findBerthResponse" type="x:string"/>
</x:schema></w:types>
{abstract}
<w:binding name="BerthsOverSoap11" type="t:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <w:operation name="findBerth">
    <soap:operation soapAction=""/>
    <w:input><soap:body use="literal"/></w:input>
    <w:output><soap:body use="literal"/></w:output>
  </w:operation>
</w:binding>
{offer}
</w:definitions>"#,
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
    KindEntry { kind, topic: Topic::Components, concerns, says, why, example }
}

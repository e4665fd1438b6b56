//! Kinds of change that only code sees which is generated from the contract.

use super::Concerns::Code;
use super::{Concerns, Example, Kind, KindEntry, Slot, Topic};

pub(super) const KINDS: &[KindEntry] = &[
    entry(
        Kind::PartRenamed,
        Code,
        "A message part that holds an element goes by another name.",
        "The name of such a part is not on the wire, but code has a parameter of that name.",
        Example::of(
            Slot::Contract,
            r#"{abstract}
{concrete}"#,
            r#"<w:message name="findBerthInput"><w:part name="request" element="t:findBerth"/></w:message>
<w:message name="findBerthOutput"><w:part name="parameters" element="t:findBerthResponse"/></w:message>
<w:portType name="Berths">
  {operation findBerth}
</w:portType>
{concrete}"#,
        ),
    ),
    entry(
        Kind::PortTypeRenamed,
        Code,
        "A port type goes by another name.",
        "Its name is not on the wire, but code has an interface of that name.",
        Example::of(
            Slot::Contract,
            r#"{abstract}
{concrete}"#,
            r#"{messages}
<w:portType name="Quays">
  {operation findBerth}
</w:portType>
<w:binding name="BerthsOverSoap11" type="t:Quays">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  {bound findBerth}
</w:binding>
{offer}"#,
        ),
    ),
    entry(
        Kind::NamespaceChanged,
        Code,
        "Port types and services are in another namespace, though no message is.",
        "Code is sorted into packages by it.",
        Example::edited(
            Slot::File,
            r#"<w:definitions targetNamespace="urn:saltmere:berths:1" xmlns:t="urn:saltmere:berths:1" xmlns:s="urn:saltmere:berths:types"
    xmlns:x="http://www.w3.org/2001/XMLSchema" xmlns:w="http://schemas.xmlsoap.org/wsdl/" xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/">
<w:types><x:schema targetNamespace="urn:saltmere:berths:types">
<x:element name="findBerth" type="x:string"/>
<x:element name="findBerthResponse" type="x:string"/>
</x:schema></w:types>
<w:message name="findBerthInput"><w:part name="parameters" element="s:findBerth"/></w:message>
<w:message name="findBerthOutput"><w:part name="parameters" element="s:findBerthResponse"/></w:message>
<w:portType name="Berths">
  {operation findBerth}
</w:portType>
{concrete}
</w:definitions>"#,
            r#"urn:saltmere:berths:1" xmlns:t="urn:saltmere:berths:1"#,
            r#"urn:saltmere:berths:2" xmlns:t="urn:saltmere:berths:2"#,
        ),
    ),
    entry(
        Kind::ParametersWrapped,
        Code,
        "An operation no longer takes its parameters one by one.",
        "Where request and reply are plain sequences of elements, code takes them apart into parameters; it now takes one object.",
        Example::of(
            Slot::Request,
            r#"<x:sequence><x:element name="draught" type="x:decimal"/></x:sequence>"#,
            r#"<x:choice><x:element name="draught" type="x:decimal"/></x:choice>"#,
        ),
    ),
    entry(
        Kind::ParametersUnwrapped,
        Code,
        "An operation takes its parameters one by one.",
        "Code that made one object for the request now passes what was in it.",
        Example::of(
            Slot::Request,
            r#"<x:choice><x:element name="draught" type="x:decimal"/></x:choice>"#,
            r#"<x:sequence><x:element name="draught" type="x:decimal"/></x:sequence>"#,
        ),
    ),
    entry(
        Kind::ParametersShared,
        Code,
        "A parameter of one name and type is in the request and in the reply.",
        "Code makes one parameter of both, which goes in and comes back: what was passed is overwritten.",
        Example::of(
            Slot::Schema,
            r#"<x:element name="findBerth"><x:complexType><x:sequence><x:element name="callSign" type="t:CallSign"/></x:sequence></x:complexType></x:element>
<x:element name="findBerthResponse"><x:complexType><x:sequence><x:element name="callSign" type="t:Name"/></x:sequence></x:complexType></x:element>
<x:simpleType name="CallSign"><x:restriction base="x:string"/></x:simpleType>
<x:simpleType name="Name"><x:restriction base="x:string"/></x:simpleType>"#,
            r#"<x:element name="findBerth"><x:complexType><x:sequence><x:element name="callSign" type="t:CallSign"/></x:sequence></x:complexType></x:element>
<x:element name="findBerthResponse"><x:complexType><x:sequence><x:element name="callSign" type="t:CallSign"/></x:sequence></x:complexType></x:element>
<x:simpleType name="CallSign"><x:restriction base="x:string"/></x:simpleType>
<x:simpleType name="Name"><x:restriction base="x:string"/></x:simpleType>"#,
        ),
    ),
    entry(
        Kind::ParametersParted,
        Code,
        "A parameter is no longer in the request and in the reply.",
        "Code has two things where it had one.",
        Example::of(
            Slot::Schema,
            r#"<x:element name="findBerth"><x:complexType><x:sequence><x:element name="callSign" type="t:CallSign"/></x:sequence></x:complexType></x:element>
<x:element name="findBerthResponse"><x:complexType><x:sequence><x:element name="callSign" type="t:CallSign"/></x:sequence></x:complexType></x:element>
<x:simpleType name="CallSign"><x:restriction base="x:string"/></x:simpleType>
<x:simpleType name="Name"><x:restriction base="x:string"/></x:simpleType>"#,
            r#"<x:element name="findBerth"><x:complexType><x:sequence><x:element name="callSign" type="t:CallSign"/></x:sequence></x:complexType></x:element>
<x:element name="findBerthResponse"><x:complexType><x:sequence><x:element name="callSign" type="t:Name"/></x:sequence></x:complexType></x:element>
<x:simpleType name="CallSign"><x:restriction base="x:string"/></x:simpleType>
<x:simpleType name="Name"><x:restriction base="x:string"/></x:simpleType>"#,
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
    KindEntry { kind, topic: Topic::Generated, concerns, says, why, example }
}

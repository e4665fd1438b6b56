//! What could not be decided.

use super::Concerns::{Both, Wire};
use super::{Concerns, Example, Kind, KindEntry, Slot, Topic};

pub(super) const KINDS: &[KindEntry] = &[
    entry(
        Kind::NotCompared,
        Wire,
        "Messages could not be compared, since one version does not say what goes over the wire, or what is demanded.",
        "A binding that is broken on one side, a policy that is not there, or more differences than are looked at. Whatever it is, no message was proved to fit.",
        Example::of(
            Slot::Binding,
            r#"<soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  {bound findBerth}"#,
            r##"<wsp:PolicyReference URI="#signed"/>
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  {bound findBerth}"##,
        ),
    ),
    entry(
        Kind::NotDecided,
        Wire,
        "It could not be decided within bounds what one version accepts and the other does not.",
        "Patterns, content models or lists of values that are too large, values whose meaning depends on something outside them. It counts as *bends*: there is no *keeps* without a proof.",
        Example::of(
            Slot::Value,
            r#"<x:restriction base="x:QName" xmlns:s="urn:saltmere:quays"><x:enumeration value="s:north"/></x:restriction>"#,
            r#"<x:restriction base="x:QName" xmlns:s="urn:saltmere:buoys"><x:enumeration value="s:north"/></x:restriction>"#,
        ),
    ),
    entry(
        Kind::NotRead,
        Both,
        "Something that is referred to is not there, in either version.",
        "A file that an import leads to was not found, or not read. What leads there may be anything. `--catalog` leads to files that lie elsewhere, `--online` fetches them.",
        Example::of(
            Slot::Schema,
            r#"<x:import namespace="urn:saltmere:ships" schemaLocation="ships.xsd"/>
<x:element name="findBerth"><x:complexType><x:sequence><x:element xmlns:s="urn:saltmere:ships" ref="s:ship"/></x:sequence></x:complexType></x:element>
<x:element name="findBerthResponse" type="x:string"/>"#,
            r#"<x:import namespace="urn:saltmere:ships" schemaLocation="ships.xsd"/>
<x:element name="findBerth"><x:complexType><x:sequence><x:element xmlns:s="urn:saltmere:ships" ref="s:ship"/></x:sequence></x:complexType></x:element>
<x:element name="findBerthResponse" type="x:string"/>"#,
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
    KindEntry { kind, topic: Topic::Undecided, concerns, says, why, example }
}

//! Kinds of change of elements, attributes, and how they are put together.

use super::Concerns::{Both, Wire};
use super::{Concerns, Example, Kind, KindEntry, Slot, Topic};

pub(super) const KINDS: &[KindEntry] = &[
    entry(
        Kind::ElementAdded,
        Both,
        "An element is new in a content, or declared for all to use.",
        "If it must be there, consumers that do not send it are refused. In a reply it depends on how they read: strict \
         readers refuse what they do not know.",
        (
            r#"<x:sequence><x:element name="draught" type="x:decimal"/></x:sequence>"#,
            r#"<x:sequence><x:element name="draught" type="x:decimal"/><x:element name="agent" type="x:string"/></x:sequence>"#,
        ),
    ),
    entry(
        Kind::ElementRemoved,
        Both,
        "An element is gone from a content, or from what is declared for all to use.",
        "Consumers that send it are refused, and those that read it miss it, even if it was optional. Make it optional first, \
         and take it out when nobody uses it any more.",
        (
            r#"<x:sequence><x:element name="draught" type="x:decimal"/><x:element name="agent" type="x:string"/></x:sequence>"#,
            r#"<x:sequence><x:element name="draught" type="x:decimal"/></x:sequence>"#,
        ),
    ),
    entry(
        Kind::ElementRenamed,
        Both,
        "An element goes by another name, or its name is in another namespace.",
        "To a validator these are two elements that have nothing to do with each other. The report says how sure it is that \
         one became the other.",
        (
            r#"<x:sequence><x:element name="draught" type="x:decimal"/></x:sequence>"#,
            r#"<x:sequence><x:element name="draft" type="x:decimal"/></x:sequence>"#,
        ),
    ),
    entry(
        Kind::OccurrenceTightened,
        Both,
        "Something must be there more often, or may be there less often.",
        "A request without it, or with too many, is refused.",
        (
            r#"<x:sequence><x:element name="draught" type="x:decimal" minOccurs="0"/></x:sequence>"#,
            r#"<x:sequence><x:element name="draught" type="x:decimal"/></x:sequence>"#,
        ),
    ),
    entry(
        Kind::OccurrenceLoosened,
        Both,
        "Something may be left out, or repeated more often.",
        "In a reply, consumers that count on it find it missing, or find several where they keep one. Code gets an optional \
         field, or a list.",
        (
            r#"<x:sequence><x:element name="draught" type="x:decimal"/></x:sequence>"#,
            r#"<x:sequence><x:element name="draught" type="x:decimal" minOccurs="0"/></x:sequence>"#,
        ),
    ),
    entry(
        Kind::ChoiceAdded,
        Both,
        "A choice has one more alternative.",
        "In a reply, consumers get something that they have no case for.",
        (
            r#"<x:choice><x:element name="berth" type="x:string"/><x:element name="buoy" type="x:string"/></x:choice>"#,
            r#"<x:choice><x:element name="berth" type="x:string"/><x:element name="buoy" type="x:string"/><x:element name="anchorage" type="x:string"/></x:choice>"#,
        ),
    ),
    entry(
        Kind::ChoiceRemoved,
        Both,
        "A choice has one alternative less.",
        "Consumers that send it are refused.",
        (
            r#"<x:choice><x:element name="berth" type="x:string"/><x:element name="buoy" type="x:string"/><x:element name="anchorage" type="x:string"/></x:choice>"#,
            r#"<x:choice><x:element name="berth" type="x:string"/><x:element name="buoy" type="x:string"/></x:choice>"#,
        ),
    ),
    entry(
        Kind::OrderChanged,
        Both,
        "Elements, or the parts of a call, stand in another order.",
        "Consumers that write and read by the schema keep to its order; each message in the old order is refused.",
        (
            r#"<x:sequence><x:element name="callSign" type="x:string"/><x:element name="draught" type="x:decimal"/></x:sequence>"#,
            r#"<x:sequence><x:element name="draught" type="x:decimal"/><x:element name="callSign" type="x:string"/></x:sequence>"#,
        ),
    ),
    entry(
        Kind::ContentChanged,
        Both,
        "A content is put together in another way.",
        "The two content models are compared as automata: the report says what one accepts and the other does not, however \
         differently they are written.",
        (
            r#"<x:sequence><x:element name="draught" type="x:decimal"/></x:sequence>"#,
            r#"<x:sequence><x:element name="draught" type="x:decimal"/><x:choice><x:element name="berth" type="x:string"/><x:element name="buoy" type="x:string"/></x:choice></x:sequence>"#,
        ),
    ),
    entry(
        Kind::WildcardChanged,
        Both,
        "A wildcard came or went, or lets in something else.",
        "What a wildcard lets in, nobody has described; whether anybody sends it only a captured message can tell.",
        (
            r#"<x:sequence><x:element name="draught" type="x:decimal"/></x:sequence>"#,
            r#"<x:sequence><x:element name="draught" type="x:decimal"/></x:sequence><x:anyAttribute namespace="urn:saltmere:notes"/>"#,
        ),
    ),
    entry(
        Kind::MixedChanged,
        Both,
        "Text may stand between the elements, or no longer.",
        "Readers that take the elements alone lose the text; code gets a list of anything in the place of fields.",
        (
            r#"<x:sequence><x:element name="draught" type="x:decimal"/></x:sequence>"#,
            r#"<x:complexContent mixed="true"><x:restriction base="x:anyType"><x:sequence><x:element name="draught" type="x:decimal"/></x:sequence></x:restriction></x:complexContent>"#,
        ),
    ),
    entry(
        Kind::NilAllowed,
        Both,
        "An element may be nil.",
        "In a reply, consumers read an element without a value, which they never had to.",
        (
            r#"<x:sequence><x:element name="draught" type="x:decimal"/></x:sequence>"#,
            r#"<x:sequence><x:element name="draught" type="x:decimal" nillable="true"/></x:sequence>"#,
        ),
    ),
    entry(
        Kind::NilRefused,
        Both,
        "An element may no longer be nil.",
        "Consumers that send `xsi:nil` for a value that they do not have are refused.",
        (
            r#"<x:sequence><x:element name="draught" type="x:decimal" nillable="true"/></x:sequence>"#,
            r#"<x:sequence><x:element name="draught" type="x:decimal"/></x:sequence>"#,
        ),
    ),
    entry(
        Kind::AttributeAdded,
        Both,
        "An attribute is new.",
        "If it must be there, consumers that do not send it are refused; in a reply, strict readers refuse what they do not know.",
        (r#"<x:sequence/>"#, r#"<x:sequence/><x:attribute name="unit" type="x:string"/>"#),
    ),
    entry(
        Kind::AttributeRemoved,
        Both,
        "An attribute is gone.",
        "Consumers that send it are refused, and those that read it miss it.",
        (r#"<x:sequence/><x:attribute name="unit" type="x:string"/>"#, r#"<x:sequence/>"#),
    ),
    entry(
        Kind::AttributeRenamed,
        Both,
        "An attribute goes by another name.",
        "Whoever reads it by its old name misses it, whatever else it ignores.",
        (
            r#"<x:sequence/><x:attribute name="unit" type="x:string"/>"#,
            r#"<x:sequence/><x:attribute name="units" type="x:string"/>"#,
        ),
    ),
    entry(
        Kind::AttributeRequired,
        Both,
        "An attribute must now be there.",
        "Requests without it are refused.",
        (
            r#"<x:sequence/><x:attribute name="unit" type="x:string"/>"#,
            r#"<x:sequence/><x:attribute name="unit" type="x:string" use="required"/>"#,
        ),
    ),
    entry(
        Kind::AttributeOptional,
        Both,
        "An attribute may now be left out.",
        "In a reply, consumers that count on it find it missing.",
        (
            r#"<x:sequence/><x:attribute name="unit" type="x:string" use="required"/>"#,
            r#"<x:sequence/><x:attribute name="unit" type="x:string"/>"#,
        ),
    ),
    in_schema(
        Kind::AbstractChanged,
        Both,
        "A type or an element became abstract, or is no longer.",
        "What is abstract cannot stand itself: messages that hold it, and nothing in its place, are refused.",
        (
            r#"<x:element name="findBerth" type="t:Ship"/>
<x:element name="findBerthResponse" type="x:string"/>
<x:complexType name="Ship"><x:sequence><x:element name="draught" type="x:decimal"/></x:sequence></x:complexType>
<x:complexType name="Tanker"><x:complexContent><x:extension base="t:Ship"/></x:complexContent></x:complexType>"#,
            r#"<x:element name="findBerth" type="t:Ship"/>
<x:element name="findBerthResponse" type="x:string"/>
<x:complexType name="Ship" abstract="true"><x:sequence><x:element name="draught" type="x:decimal"/></x:sequence></x:complexType>
<x:complexType name="Tanker"><x:complexContent><x:extension base="t:Ship"/></x:complexContent></x:complexType>"#,
        ),
    ),
    in_schema(
        Kind::OpenContentChanged,
        Wire,
        "What may stand in a message though no declaration names it there (by a wildcard or `anyType`) is judged otherwise.",
        "The contract does not say what consumers put there, so nobody can tell from it whether that matters. It is told once for each place, and bends; `--open-content` decides it otherwise, and a consumer record says what a consumer puts there.",
        (
            r#"<x:element name="findBerth"><x:complexType><x:sequence><x:any processContents="lax" minOccurs="0"/></x:sequence></x:complexType></x:element>
<x:element name="findBerthResponse" type="x:string"/>
<x:element name="ship" type="x:string"/>"#,
            r#"<x:element name="findBerth"><x:complexType><x:sequence><x:any processContents="lax" minOccurs="0"/></x:sequence></x:complexType></x:element>
<x:element name="findBerthResponse" type="x:string"/>
<x:element name="ship" type="x:int"/>"#,
        ),
    ),
    in_schema(
        Kind::DerivedChanged,
        Both,
        "Another type may stand in the place of a type (`xsi:type`), or one no longer may.",
        "In a reply, consumers get a type that they were never told of.",
        (
            r#"<x:element name="findBerth" type="t:Ship"/>
<x:element name="findBerthResponse" type="x:string"/>
<x:complexType name="Ship"><x:sequence><x:element name="draught" type="x:decimal"/></x:sequence></x:complexType>"#,
            r#"<x:element name="findBerth" type="t:Ship"/>
<x:element name="findBerthResponse" type="x:string"/>
<x:complexType name="Ship" block="extension"><x:sequence><x:element name="draught" type="x:decimal"/></x:sequence></x:complexType>"#,
        ),
    ),
    in_schema(
        Kind::SubstitutesChanged,
        Both,
        "Another element may stand in the place of an element (a substitution group), or one no longer may.",
        "In a reply, consumers get an element by a name that they do not look for.",
        (
            r#"<x:element name="findBerth"><x:complexType><x:sequence><x:element ref="t:ship"/></x:sequence></x:complexType></x:element>
<x:element name="findBerthResponse" type="x:string"/>
<x:element name="ship" type="x:string"/>
<x:element name="tanker" type="x:string"/>"#,
            r#"<x:element name="findBerth"><x:complexType><x:sequence><x:element ref="t:ship"/></x:sequence></x:complexType></x:element>
<x:element name="findBerthResponse" type="x:string"/>
<x:element name="ship" type="x:string"/>
<x:element name="tanker" type="x:string" substitutionGroup="t:ship"/>"#,
        ),
    ),
    in_schema(
        Kind::IdentityChanged,
        Wire,
        "What must be unique in a message, or refer to something in it, is another.",
        "A message that repeats a value, or refers to one that is not there, is refused though its form is right.",
        (
            r#"<x:element name="findBerth"><x:complexType><x:sequence><x:element name="ship" type="x:string" maxOccurs="9"/></x:sequence></x:complexType></x:element>
<x:element name="findBerthResponse" type="x:string"/>"#,
            r#"<x:element name="findBerth"><x:complexType><x:sequence><x:element name="ship" type="x:string" maxOccurs="9"/></x:sequence></x:complexType>
  <x:unique name="ships"><x:selector xpath="t:ship"/><x:field xpath="."/></x:unique></x:element>
<x:element name="findBerthResponse" type="x:string"/>"#,
        ),
    ),
];

const fn entry(
    kind: Kind,
    concerns: Concerns,
    says: &'static str,
    why: &'static str,
    (old, new): (&'static str, &'static str),
) -> KindEntry {
    KindEntry {
        kind,
        topic: Topic::Contents,
        concerns,
        says,
        why,
        example: Example::of(Slot::Request, old, new),
    }
}

const fn in_schema(
    kind: Kind,
    concerns: Concerns,
    says: &'static str,
    why: &'static str,
    (old, new): (&'static str, &'static str),
) -> KindEntry {
    KindEntry {
        kind,
        topic: Topic::Contents,
        concerns,
        says,
        why,
        example: Example::of(Slot::Schema, old, new),
    }
}

//! Kinds of change of what values are allowed.

use super::Concerns::{Both, Wire};
use super::{Concerns, Example, Kind, KindEntry, Slot, Topic};

pub(super) const KINDS: &[KindEntry] = &[
    entry(
        Kind::ValueAdded,
        Both,
        "A value is allowed that was not.",
        "In a request that harms nobody. In a reply, consumers get a value that they have no case for; code that was \
         generated from the list refuses it or takes it for none.",
        r#"<x:restriction base="x:string"><x:enumeration value="north"/></x:restriction>"#,
        r#"<x:restriction base="x:string"><x:enumeration value="north"/><x:enumeration value="south"/></x:restriction>"#,
    ),
    entry(
        Kind::ValueRemoved,
        Both,
        "A value is no longer allowed.",
        "Consumers that send it are refused. In a reply it is only missed. Keep the value until the last of them has stopped \
         sending it.",
        r#"<x:restriction base="x:string"><x:enumeration value="north"/><x:enumeration value="south"/></x:restriction>"#,
        r#"<x:restriction base="x:string"><x:enumeration value="north"/></x:restriction>"#,
    ),
    entry(
        Kind::RangeWidened,
        Wire,
        "The range of a value goes further than before.",
        "A request may hold more than it could. In a reply, consumers read a number or a date that they were told never comes.",
        r#"<x:restriction base="x:decimal"><x:maxInclusive value="20"/></x:restriction>"#,
        r#"<x:restriction base="x:decimal"><x:maxInclusive value="30"/></x:restriction>"#,
    ),
    entry(
        Kind::RangeNarrowed,
        Wire,
        "The range of a value is smaller than before.",
        "What consumers may send today is refused tomorrow. Look at what they really send (a consumer record says it) before \
         the range gets smaller.",
        r#"<x:restriction base="x:decimal"><x:maxInclusive value="30"/></x:restriction>"#,
        r#"<x:restriction base="x:decimal"><x:maxInclusive value="20"/></x:restriction>"#,
    ),
    entry(
        Kind::RangeChanged,
        Wire,
        "The range of a value has another end, of which it is open whether it lies further in or out.",
        "A date with a time zone and one without are in no order (XML Schema Part 2, 3.2.7.4), so each end allows something \
         that the other does not.",
        r#"<x:restriction base="x:date"><x:minInclusive value="2026-03-14Z"/></x:restriction>"#,
        r#"<x:restriction base="x:date"><x:minInclusive value="2026-03-14"/></x:restriction>"#,
    ),
    entry(
        Kind::LengthChanged,
        Wire,
        "The bounds of a length are others.",
        "A shorter text is refused where consumers send a longer one; a longer one overflows what they made room for.",
        r#"<x:restriction base="x:string"><x:maxLength value="7"/></x:restriction>"#,
        r#"<x:restriction base="x:string"><x:maxLength value="9"/></x:restriction>"#,
    ),
    entry(
        Kind::PatternChanged,
        Wire,
        "The pattern of a value is another.",
        "Both patterns are compared as automata, so the verdict says whether any text is refused that was accepted, and shows \
         the shortest.",
        r#"<x:restriction base="x:string"><x:pattern value="[A-Z]{4}"/></x:restriction>"#,
        r#"<x:restriction base="x:string"><x:pattern value="[A-Z]{4,7}"/></x:restriction>"#,
    ),
    entry(
        Kind::DigitsChanged,
        Wire,
        "A number may have more or fewer digits.",
        "More digits after the point are lost where a consumer keeps fewer; fewer are refused where it sends more.",
        r#"<x:restriction base="x:decimal"><x:fractionDigits value="2"/></x:restriction>"#,
        r#"<x:restriction base="x:decimal"><x:fractionDigits value="3"/></x:restriction>"#,
    ),
    entry(
        Kind::TypeChanged,
        Both,
        "A type is of another kind: another built-in type, a value where elements were, another type in its place.",
        "Each text that one of the two accepts and the other does not is a message that breaks. Code gets another type for it \
         even where every text is accepted.",
        r#"<x:restriction base="x:int"/>"#,
        r#"<x:restriction base="x:long"/>"#,
    ),
    KindEntry {
        example: Example::of(
            Slot::Request,
            r#"<x:sequence><x:element name="draught" type="x:decimal" fixed="7.5"/></x:sequence>"#,
            r#"<x:sequence><x:element name="draught" type="x:decimal"/></x:sequence>"#,
        ),
        ..entry(
            Kind::FixedChanged,
            Wire,
            "A value is fixed, or no longer, or to another value.",
            "Whoever sends another value than the fixed one is refused (XML Schema Part 1, 3.3.4).",
            "",
            "",
        )
    },
    KindEntry {
        example: Example::of(
            Slot::Request,
            r#"<x:sequence><x:element name="draught" type="x:decimal" default="7.5"/></x:sequence>"#,
            r#"<x:sequence><x:element name="draught" type="x:decimal" default="8.5"/></x:sequence>"#,
        ),
        ..entry(
            Kind::DefaultChanged,
            Wire,
            "What an empty element or a left-out attribute stands for is another.",
            "Every message fits as before and means something else. No validator will notice, and no test that looks at the \
             text alone.",
            "",
            "",
        )
    },
];

const fn entry(
    kind: Kind,
    concerns: Concerns,
    says: &'static str,
    why: &'static str,
    old: &'static str,
    new: &'static str,
) -> KindEntry {
    KindEntry { kind, topic: Topic::Values, concerns, says, why, example: Example::of(Slot::Value, old, new) }
}

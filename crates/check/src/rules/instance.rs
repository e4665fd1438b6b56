//! Instances: the validation rules of XML Schema, by which messages are judged.

use crate::example::{Example, Slot};
use crate::level::Level;
use crate::rule::{Family, Rule};

const fn rule(
    name: &'static str,
    standard: &'static str,
    asks: &'static str,
    why: &'static str,
    wrong: &'static str,
    right: &'static str,
) -> Rule {
    let example = Example::of(Slot::Message, wrong, right);
    Rule { name, standard, asks, why, example, ..Rule::of(Family::Instance, Level::Error) }
}

pub(crate) const RULES: &[Rule] = &[
    rule(
        "cvc-elt",
        "XML Schema Part 1, 3.3.4",
        "Every element has a declaration, and keeps to it.",
        "The root must be a global element of the schema. An abstract element stands for others; nil and xsi:type are \
         only allowed where the declaration allows them; a fixed value is the only one.",
        "<visit><port>Northmere</port></visit>",
        "<visit><port>Saltmere</port></visit>",
    ),
    rule(
        "cvc-type",
        "XML Schema Part 1, 3.3.4",
        "An element keeps to its type: a simple type leaves no room for attributes or elements.",
        "Readers take the text of such an element as its value and never look for anything else. An abstract type \
         is never the type of an element itself.",
        "<visit><remark lang=\"en\">Fog until noon</remark></visit>",
        "<visit><remark>Fog until noon</remark></visit>",
    ),
    rule(
        "cvc-complex-type",
        "XML Schema Part 1, 3.4.4",
        "The content and the attributes of an element are those that its type allows.",
        "Elements stand in the order of the content model, as often as it says, with nothing between them; every \
         required attribute is there, and no attribute that the type does not know.",
        "<visit><remark>Fog until noon</remark><callSign>SMPL4</callSign></visit>",
        "<visit><callSign>SMPL4</callSign><remark>Fog until noon</remark></visit>",
    ),
    rule(
        "cvc-simple-type",
        "XML Schema Part 1, 3.14.4",
        "A value of type ENTITY names an unparsed entity of the document.",
        "The entity is declared in the document type, with NDATA. Messages hardly ever have one.",
        "<visit><chart>harbour</chart></visit>",
        "<!DOCTYPE visit [<!NOTATION png SYSTEM \"image/png\"><!ENTITY harbour SYSTEM \"harbour.png\" NDATA png>]>\n<visit><chart>harbour</chart></visit>",
    ),
    rule(
        "cvc-datatype-valid",
        "XML Schema Part 2, 4.1.4",
        "A value is written as its type asks.",
        "A reader that expects a number or a date cannot do anything with other text.",
        "<visit><draught>deep</draught></visit>",
        "<visit><draught>9.4</draught></visit>",
    ),
    rule(
        "cvc-attribute",
        "XML Schema Part 1, 3.2.4 and 3.5.4",
        "An attribute with a fixed value has that value.",
        "The value is part of the contract; readers may not look at it at all.",
        "<visit version=\"2\"/>",
        "<visit version=\"1\"/>",
    ),
    rule(
        "cvc-id",
        "XML Schema Part 1, 3.15.4",
        "Each ID stands once in a document, and each IDREF names one.",
        "A reference to an ID that stands twice, or nowhere, leads to nothing in particular.",
        "<visit><berth number=\"1\" id=\"b1\"/><berth number=\"2\" near=\"b3\"/></visit>",
        "<visit><berth number=\"1\" id=\"b1\"/><berth number=\"2\" near=\"b1\"/></visit>",
    ),
    rule(
        "cvc-identity-constraint",
        "XML Schema Part 1, 3.11.4",
        "What a unique or a key names stands once; what a keyref names is there.",
        "These are the keys and the references of the data: a second row with the same key, or a reference to \
         none, cannot be stored or followed.",
        "<visit><berth number=\"7\"/><berth number=\"7\"/></visit>",
        "<visit><berth number=\"7\"/><berth number=\"8\"/></visit>",
    ),
    rule(
        "cvc-length-valid",
        "XML Schema Part 2, 4.3.1.4",
        "A value is exactly as long as its type asks.",
        "Length counts characters, octets of binary values, or items of lists.",
        "<visit><flag>NORWAY</flag></visit>",
        "<visit><flag>NO</flag></visit>",
    ),
    rule(
        "cvc-minLength-valid",
        "XML Schema Part 2, 4.3.2.4",
        "A value is at least as long as its type asks.",
        "An empty or very short value most often means that there was none.",
        "<visit><remark>-</remark></visit>",
        "<visit><remark>None</remark></visit>",
    ),
    rule(
        "cvc-maxLength-valid",
        "XML Schema Part 2, 4.3.3.4",
        "A value is at most as long as its type allows.",
        "Whoever stores the value has room for no more, and cuts it or fails.",
        "<visit><remark>The channel is closed until noon</remark></visit>",
        "<visit><remark>Closed until noon</remark></visit>",
    ),
    rule(
        "cvc-pattern-valid",
        "XML Schema Part 2, 4.3.4.4",
        "A value has the form that its pattern describes.",
        "A pattern is matched as a whole, after white space is treated. Each step of a derivation may add one, and \
         all must match.",
        "<visit><callSign>smpl4</callSign></visit>",
        "<visit><callSign>SMPL4</callSign></visit>",
    ),
    rule(
        "cvc-enumeration-valid",
        "XML Schema Part 2, 4.3.5.4",
        "A value is one of those that its type lists.",
        "Readers have a case for each of the listed values, and none for another. Values are compared, not texts: \
         1.0 is 1 for a decimal.",
        "<visit><quay>north quay</quay></visit>",
        "<visit><quay>north</quay></visit>",
    ),
    rule(
        "cvc-maxInclusive-valid",
        "XML Schema Part 2, 4.3.7.4",
        "A value is no more than the greatest that its type allows.",
        "A value that cannot be compared with the bound, such as a time without a zone, is outside as well.",
        "<visit><tugs>9</tugs></visit>",
        "<visit><tugs>4</tugs></visit>",
    ),
    rule(
        "cvc-maxExclusive-valid",
        "XML Schema Part 2, 4.3.8.4",
        "A value is less than the bound of its type.",
        "The bound itself is not allowed.",
        "<visit><draught>30</draught></visit>",
        "<visit><draught>29.5</draught></visit>",
    ),
    rule(
        "cvc-minExclusive-valid",
        "XML Schema Part 2, 4.3.9.4",
        "A value is more than the bound of its type.",
        "The bound itself is not allowed.",
        "<visit><draught>0</draught></visit>",
        "<visit><draught>0.1</draught></visit>",
    ),
    rule(
        "cvc-minInclusive-valid",
        "XML Schema Part 2, 4.3.10.4",
        "A value is no less than the least that its type allows.",
        "A value that cannot be compared with the bound, such as a time without a zone, is outside as well.",
        "<visit><tugs>-1</tugs></visit>",
        "<visit><tugs>0</tugs></visit>",
    ),
    rule(
        "cvc-totalDigits-valid",
        "XML Schema Part 2, 4.3.11.4",
        "A number has no more digits than its type allows.",
        "Leading zeros, and trailing ones after the point, do not count.",
        "<visit><draught>12.345</draught></visit>",
        "<visit><draught>12.34</draught></visit>",
    ),
    rule(
        "cvc-fractionDigits-valid",
        "XML Schema Part 2, 4.3.12.4",
        "A number has no more digits after the point than its type allows.",
        "Whoever stores it rounds the rest away, or refuses it.",
        "<visit><draught>9.445</draught></visit>",
        "<visit><draught>9.44</draught></visit>",
    ),
];

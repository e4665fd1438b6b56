//! Schemas.

use crate::{Example, Family, Level, Rule, Slot};

const fn rule(
    name: &'static str,
    standard: &'static str,
    asks: &'static str,
    why: &'static str,
    wrong: &'static str,
    right: &'static str,
) -> Rule {
    let example = Some(Example { slot: Slot::Schema, wrong, right });
    Rule { name, family: Family::Schema, level: Level::Error, standard, asks, why, example, look: None }
}

pub(crate) const RULES: &[Rule] = &[
    rule(
        "type-unknown",
        "XML Schema Part 1, src-resolve",
        "Every type that is named exists.",
        "Without the type nobody knows what the element or attribute may hold. The name is most often misspelt, \
         carries the wrong prefix, or belongs to a schema that is not imported.",
        "<xs:element name=\"tide\" type=\"xs:decimel\"/>",
        "<xs:element name=\"tide\" type=\"xs:decimal\"/>",
    ),
    rule(
        "element-unknown",
        "XML Schema Part 1, src-resolve; WSDL 1.1, section 2.3.1",
        "Every element that is named exists.",
        "Only global elements can be referred to. A message part or a reference whose element is missing \
         leaves the message undefined.",
        "<xs:complexType name=\"Row\"><xs:sequence><xs:element ref=\"tns:findBirth\"/></xs:sequence></xs:complexType>\n<xs:element name=\"row\" type=\"tns:Row\"/>",
        "<xs:complexType name=\"Row\"><xs:sequence><xs:element ref=\"tns:findBerth\"/></xs:sequence></xs:complexType>\n<xs:element name=\"row\" type=\"tns:Row\"/>",
    ),
    rule(
        "attribute-unknown",
        "XML Schema Part 1, src-resolve",
        "Every attribute that is named exists.",
        "Only global attributes can be referred to; a local one is declared with name and type.",
        "<xs:element name=\"tide\"><xs:complexType><xs:attribute ref=\"tns:unit\"/></xs:complexType></xs:element>",
        "<xs:element name=\"tide\"><xs:complexType><xs:attribute name=\"unit\" type=\"xs:token\"/></xs:complexType></xs:element>",
    ),
    rule(
        "group-unknown",
        "XML Schema Part 1, src-resolve",
        "Every model group that is named exists.",
        "The content of the type is not known without the group.",
        "<xs:element name=\"tide\"><xs:complexType><xs:group ref=\"tns:Times\"/></xs:complexType></xs:element>",
        "<xs:group name=\"Times\"><xs:sequence><xs:element name=\"high\" type=\"xs:time\"/></xs:sequence></xs:group>\n<xs:element name=\"tide\"><xs:complexType><xs:group ref=\"tns:Times\"/></xs:complexType></xs:element>",
    ),
    rule(
        "attribute-group-unknown",
        "XML Schema Part 1, src-resolve",
        "Every attribute group that is named exists.",
        "The attributes of the type are not known without the group.",
        "<xs:element name=\"tide\"><xs:complexType><xs:attributeGroup ref=\"tns:Source\"/></xs:complexType></xs:element>",
        "<xs:attributeGroup name=\"Source\"><xs:attribute name=\"gauge\" type=\"xs:token\"/></xs:attributeGroup>\n<xs:element name=\"tide\"><xs:complexType><xs:attributeGroup ref=\"tns:Source\"/></xs:complexType></xs:element>",
    ),
    rule(
        "key-unknown",
        "XML Schema Part 1, src-resolve",
        "Every key that a keyref names exists.",
        "A keyref without its key checks nothing.",
        "<xs:element name=\"day\" type=\"xs:date\"><xs:keyref name=\"byBerth\" refer=\"tns:berths\"><xs:selector xpath=\"*\"/><xs:field xpath=\".\"/></xs:keyref></xs:element>",
        "<xs:element name=\"day\" type=\"xs:date\"><xs:key name=\"berths\"><xs:selector xpath=\"*\"/><xs:field xpath=\".\"/></xs:key></xs:element>",
    ),
    rule(
        "circular-definition",
        "XML Schema Part 1, ct-props-correct.3, st-props-correct.2, mg-props-correct.2, e-props-correct.6",
        "No type, group or substitution group is defined by itself.",
        "A definition that needs itself has no meaning. An element may contain its own type; a type may not be \
         derived from itself.",
        "<xs:complexType name=\"Quay\"><xs:complexContent><xs:extension base=\"tns:Quay\"/></xs:complexContent></xs:complexType>\n<xs:element name=\"quay\" type=\"tns:Quay\"/>",
        "<xs:complexType name=\"Quay\"><xs:sequence><xs:element name=\"next\" type=\"tns:Quay\" minOccurs=\"0\"/></xs:sequence></xs:complexType>\n<xs:element name=\"quay\" type=\"tns:Quay\"/>",
    ),
    rule(
        "schema-structure",
        "XML Schema Part 1, the schema for schemas",
        "Every element of a schema stands where XML Schema allows it.",
        "What stands in a wrong place is ignored by one tool and refused by the next.",
        "<xs:element name=\"tide\"><xs:sequence/></xs:element>",
        "<xs:element name=\"tide\"><xs:complexType><xs:sequence/></xs:complexType></xs:element>",
    ),
    rule(
        "schema-name",
        "XML Schema Part 1, src-element.2 and the schema for schemas",
        "Every component that must have a name has one.",
        "Nothing can refer to it, and no message can contain it.",
        "<xs:element type=\"xs:decimal\"/>",
        "<xs:element name=\"tide\" type=\"xs:decimal\"/>",
    ),
    rule(
        "schema-two-types",
        "XML Schema Part 1, src-element.3 and src-attribute.4",
        "A declaration names a type or contains one, not both.",
        "Two types contradict each other, or one of them is idle.",
        "<xs:element name=\"tide\" type=\"xs:decimal\"><xs:simpleType><xs:restriction base=\"xs:decimal\"/></xs:simpleType></xs:element>",
        "<xs:element name=\"tide\"><xs:simpleType><xs:restriction base=\"xs:decimal\"/></xs:simpleType></xs:element>",
    ),
    rule(
        "schema-occurs",
        "XML Schema Part 1, p-props-correct",
        "minOccurs and maxOccurs are numbers, the first no larger than the second.",
        "No message can satisfy a content model that asks for more than it allows.",
        "<xs:element name=\"day\"><xs:complexType><xs:sequence><xs:element name=\"tide\" type=\"xs:time\" minOccurs=\"4\" maxOccurs=\"2\"/></xs:sequence></xs:complexType></xs:element>",
        "<xs:element name=\"day\"><xs:complexType><xs:sequence><xs:element name=\"tide\" type=\"xs:time\" minOccurs=\"2\" maxOccurs=\"4\"/></xs:sequence></xs:complexType></xs:element>",
    ),
    rule(
        "name-syntax",
        "Namespaces in XML 1.0, production 4 (NCName)",
        "Names begin with a letter or an underscore and contain no spaces or colons.",
        "A name that is not an NCName cannot be written as an element, nor referred to.",
        "<xs:element name=\"high tide\" type=\"xs:time\"/>",
        "<xs:element name=\"highTide\" type=\"xs:time\"/>",
    ),
    rule(
        "duplicate-name",
        "XML Schema Part 1, sch-props-correct.2; WSDL 1.1, section 2.1",
        "No two components of one kind share a name.",
        "A reference to the name could mean either. Tools take the first, the last or neither.",
        "<xs:element name=\"tide\" type=\"xs:time\"/>\n<xs:element name=\"tide\" type=\"xs:decimal\"/>",
        "<xs:element name=\"tideTime\" type=\"xs:time\"/>\n<xs:element name=\"tideHeight\" type=\"xs:decimal\"/>",
    ),
];

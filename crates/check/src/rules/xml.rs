//! Files, markup, namespaces.

use crate::example::{Example, Slot};
use crate::level::Level;
use crate::rule::{Family, Rule};

const fn rule(
    name: &'static str,
    standard: &'static str,
    asks: &'static str,
    why: &'static str,
    example: Option<Example>,
) -> Rule {
    Rule { name, standard, asks, why, example, ..Rule::of(Family::Xml, Level::Error) }
}

const fn file(wrong: &'static str, right: &'static str) -> Option<Example> {
    Example::of(Slot::File, wrong, right)
}

pub(crate) const RULES: &[Rule] = &[
    rule(
        "xml-well-formed",
        "XML 1.0, section 2.1",
        "The file is well-formed XML.",
        "A file that is not well-formed cannot be read by any tool. Mend the markup at the place shown; what \
         comes after it has not been looked at yet.",
        file(
            "<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\">\n  <xs:element name=\"berth\">\n</xs:schema>",
            "<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\">\n  <xs:element name=\"berth\"/>\n</xs:schema>",
        ),
    ),
    rule(
        "xml-encoding",
        "XML 1.0, section 4.3.3",
        "The bytes of the file are what its encoding allows.",
        "An XML declaration that names one encoding over bytes of another turns letters into rubbish, or stops \
         the reader. Save the file in the encoding that it names.",
        file(
            "<?xml version=\"1.0\" encoding=\"SEA-7\"?>\n<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\"/>",
            "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\"/>",
        ),
    ),
    rule(
        "xml-prefix",
        "Namespaces in XML 1.0, section 5",
        "Every prefix is declared.",
        "A prefix means nothing by itself: without its declaration no reader knows which component is meant. \
         This also holds for prefixes inside attribute values, which XML parsers do not see.",
        Example::of(
            Slot::Schema,
            "<xs:element name=\"tide\" type=\"sea:Tide\"/>",
            "<xs:element name=\"tide\" type=\"xs:decimal\"/>",
        ),
    ),
    rule(
        "xml-entity",
        "XML 1.0, section 4.4",
        "Every entity is declared in the file itself, and does not grow without bounds.",
        "Contracts come from strangers. External entities are never fetched, since they can reach files and \
         hosts that their author has no business with, and entities that multiply are not expanded.",
        file(
            "<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\" targetNamespace=\"urn:saltmere:&year;\"/>",
            "<!DOCTYPE xs:schema [<!ENTITY year \"2026\">]>\n<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\" targetNamespace=\"urn:saltmere:&year;\"/>",
        ),
    ),
    rule(
        "xml-depth",
        "a limit of this program",
        "Elements are nested no deeper than any contract needs.",
        "A file with hundreds of elements inside each other is damaged or meant to do damage. It is not read \
         further than the limit.",
        None,
    ),
    rule(
        "import-not-found",
        "WSDL 1.1, section 2.1.1; XML Schema Part 1, section 4.2",
        "Every import names a file that is there.",
        "A reader of the contract needs all of it. Locations are relative to the file that imports, so a \
         contract sent without its folder is incomplete.",
        Example::of(
            Slot::Imports,
            "<wsdl:import namespace=\"urn:saltmere:vessel:1\" location=\"tug.wsdl\"/>",
            "<wsdl:import namespace=\"urn:saltmere:tugs:1\" location=\"tugs.wsdl\"/>",
        ),
    ),
    Rule {
        name: "import-remote",
        standard: "a limit of this program",
        asks: "Imports can be read without the network.",
        why: "A contract that needs the network to be understood changes when somebody else changes their \
              file. Keep a copy beside the contract and import that.",
        example: Example::of(
            Slot::Imports,
            "<wsdl:import namespace=\"urn:saltmere:vessel:1\" location=\"https://saltmere.example/vessel.xsd\"/>",
            "<wsdl:import namespace=\"urn:saltmere:tugs:1\" location=\"tugs.wsdl\"/>",
        ),
        ..Rule::of(Family::Xml, Level::Warning)
    },
    rule(
        "import-kind",
        "WSDL 1.1, section 2.1.1; XML Schema Part 1, section 4.2",
        "Every import leads to a contract or a schema.",
        "An import that leads to anything else brings nothing. It often names a page that describes the \
         schema instead of the schema.",
        Example::of(
            Slot::Imports,
            "<wsdl:import namespace=\"urn:saltmere:tugs:1\" location=\"notice.xml\"/>",
            "<wsdl:import namespace=\"urn:saltmere:tugs:1\" location=\"tugs.wsdl\"/>",
        ),
    ),
    rule(
        "import-namespace",
        "WSDL 1.1, section 2.1.1; XML Schema Part 1, src-import.3 and src-include.2",
        "The namespace of an import is the target namespace of what it imports.",
        "References are resolved by namespace: if the import names another one than the file declares, they \
         lead nowhere.",
        Example::of(
            Slot::Imports,
            "<wsdl:import namespace=\"urn:saltmere:tug:1\" location=\"tugs.wsdl\"/>",
            "<wsdl:import namespace=\"urn:saltmere:tugs:1\" location=\"tugs.wsdl\"/>",
        ),
    ),
];

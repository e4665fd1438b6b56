//! Schemas as they come: in several files, embedded side by side, redefined, of a later version, with faults.

use crate::program::folder::Folder;

/// A schema document with a namespace of its own, or none.
fn schema(namespace: &str, content: &str) -> String {
    let target = match namespace {
        "" => String::new(),
        namespace => format!(" targetNamespace=\"{namespace}\" xmlns:t=\"{namespace}\""),
    };
    format!(
        "<x:schema xmlns:x=\"http://www.w3.org/2001/XMLSchema\"{target} elementFormDefault=\"qualified\">\n{content}\n</x:schema>\n"
    )
}

/// A contract with these schemas in it, whose one message has the element `t:ask`.
fn contract(schemas: &str) -> String {
    format!(
        r#"<w:definitions xmlns:w="http://schemas.xmlsoap.org/wsdl/" xmlns:s="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:t="urn:saltmere:a" name="Quays" targetNamespace="urn:saltmere:a">
<w:types>
{schemas}</w:types>
<w:message name="Ask"><w:part name="body" element="t:ask"/></w:message>
<w:portType name="Quays"><w:operation name="ask"><w:input message="t:Ask"/></w:operation></w:portType>
<w:binding name="QuaysOverSoap11" type="t:Quays"><s:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/><w:operation name="ask"><s:operation soapAction="urn:saltmere:a/ask"/><w:input><s:body use="literal"/></w:input></w:operation></w:binding>
<w:service name="QuayService"><w:port name="QuaysPort" binding="t:QuaysOverSoap11"><s:address location="http://localhost:8080/quays"/></w:port></w:service>
</w:definitions>
"#
    )
}

const QUAY: &str = "<x:simpleType name=\"Quay\"><x:restriction base=\"x:token\"><x:enumeration value=\"north quay\"/></x:restriction></x:simpleType>";

#[test]
fn embedded_schemas_see_each_other_by_import_without_location() {
    let folder = Folder::empty();
    let own = schema(
        "urn:saltmere:a",
        "<x:import namespace=\"urn:saltmere:b\"/><x:element name=\"ask\" type=\"b:Quay\" xmlns:b=\"urn:saltmere:b\"/>",
    );
    let other = schema("urn:saltmere:b", QUAY);
    folder.write("quays.wsdl", contract(&format!("{own}{other}")));
    folder.run("check quays.wsdl").ends(0).says("quays.wsdl: 1 warning").says("address-localhost");
    folder.run("message quays.wsdl ask").ends(0).says(">north quay</ask>");
    let blind = own.replace("<x:import namespace=\"urn:saltmere:b\"/>", "");
    folder.write("quays.wsdl", contract(&format!("{blind}{other}")));
    let run = folder.run("check quays.wsdl").ends(1);
    run.says("this schema does not import urn:saltmere:b").says("src-resolve");
}

#[test]
fn one_namespace_may_lie_in_several_embedded_schemas() {
    let folder = Folder::empty();
    let one = schema("urn:saltmere:a", "<x:element name=\"ask\" type=\"t:Quay\"/>");
    folder.write("quays.wsdl", contract(&format!("{one}{}", schema("urn:saltmere:a", QUAY))));
    folder.run("check quays.wsdl").ends(0).says("quays.wsdl: 1 warning").says("address-localhost");
    folder.write("quays.wsdl", contract(&format!("{one}{0}{0}", schema("urn:saltmere:a", QUAY))));
    folder
        .run("check quays.wsdl")
        .ends(1)
        .says("there are two types named \"Quay\"")
        .says("sch-props-correct");
}

#[test]
fn a_schema_without_a_namespace_takes_that_of_whoever_includes_it() {
    let folder = Folder::empty();
    folder.write("quay.xsd", schema("", &format!("{QUAY}<x:element name=\"quay\" type=\"Quay\"/>")));
    for name in ["a", "b"] {
        let namespace = format!("urn:saltmere:{name}");
        folder.write(&format!("{name}.xsd"), schema(&namespace, "<x:include schemaLocation=\"quay.xsd\"/>"));
        folder.run(&format!("check {name}.xsd")).ends(0);
        let run = folder.run(&format!("message {name}.xsd element/quay")).ends(0);
        run.says(&format!("=\"{namespace}\">north quay</"));
    }
    // Imported, it has no namespace at all.
    folder.write("c.xsd", schema("urn:saltmere:c", "<x:import schemaLocation=\"quay.xsd\"/><x:element name=\"berth\"><x:complexType><x:sequence><x:element ref=\"quay\"/></x:sequence></x:complexType></x:element>"));
    folder.run("message c.xsd element/berth").ends(0).says("north quay");
}

#[test]
fn a_redefined_type_takes_the_place_of_the_old_one_everywhere() {
    let folder = Folder::empty();
    let visit = "<x:complexType name=\"Visit\"><x:sequence><x:element name=\"pier\" type=\"x:token\"/></x:sequence></x:complexType><x:element name=\"visit\" type=\"t:Visit\"/>";
    folder.write("old.xsd", schema("urn:saltmere:v", visit));
    let redefine = "<x:redefine schemaLocation=\"old.xsd\"><x:complexType name=\"Visit\"><x:complexContent><x:extension base=\"t:Visit\"><x:sequence><x:element name=\"tug\" type=\"x:token\"/></x:sequence></x:extension></x:complexContent></x:complexType></x:redefine>";
    folder.write("new.xsd", schema("urn:saltmere:v", redefine));
    folder.run("check new.xsd").ends(0);
    folder.write("visit.xml", "<visit xmlns=\"urn:saltmere:v\"><pier>4</pier><tug>Sturdy</tug></visit>");
    folder.run("match new.xsd visit.xml").ends(0);
    folder.run("match old.xsd visit.xml").ends(1).says("visit/tug: \"tug\" has no place here");
    // One that goes back to itself is no circle: each file is read once.
    folder.write(
        "old.xsd",
        schema("urn:saltmere:v", &format!("<x:include schemaLocation=\"new.xsd\"/>{visit}")),
    );
    folder.run("match new.xsd visit.xml").ends(0);
    let astray = redefine.replace("base=\"t:Visit\"", "base=\"x:anyType\"");
    folder.write("new.xsd", schema("urn:saltmere:v", &astray));
    folder
        .run("check new.xsd")
        .ends(1)
        .says("a redefined type must be derived from itself")
        .says("src-redefine");
}

#[test]
fn what_a_later_version_brings_is_named_as_such() {
    let folder = Folder::empty();
    let later = "<x:complexType name=\"Visit\"><x:sequence><x:element name=\"a\" type=\"x:int\"/></x:sequence><x:assert test=\"a &gt; 0\"/></x:complexType><x:element name=\"visit\" type=\"t:Visit\"><x:alternative type=\"t:Visit\"/></x:element>";
    folder.write("later.xsd", schema("urn:saltmere:v", later));
    let run = folder.run("check later.xsd").ends(1);
    let run = run
        .says("the element assert is of XML Schema 1.1")
        .says("the element alternative is of XML Schema 1.1");
    run.says("schema-version").says("2 errors");
    folder.run("message later.xsd element/visit").ends(0).says("a>12</");
}

#[test]
fn a_schema_with_many_faults_is_still_of_use() {
    let folder = Folder::empty();
    let faulty = "<x:element name=\"visit\"><x:complexType><x:sequence>
<x:element name=\"pier\" type=\"t:Gone\"/>
<x:element name=\"tug\" type=\"x:token\" minOccurs=\"few\"/>
<x:element ref=\"t:missing\" minOccurs=\"0\"/>
<x:element name=\"draught\" type=\"x:decimal\"/>
</x:sequence><x:attribute name=\"a\" type=\"x:int\"/><x:attribute name=\"a\" type=\"x:int\"/></x:complexType></x:element>";
    folder.write("faulty.xsd", schema("urn:saltmere:v", faulty));
    let run = folder.run("check faulty.xsd").ends(1);
    let run = run.says("there is no type \"Gone\"").says("\"few\" is not a number of occurrences");
    run.says("there is no element \"missing\"")
        .says("two attributes named \"a\"")
        .says("faulty.xsd: 4 errors");
    folder.run("message faulty.xsd element/visit").ends(0).says("tug>").says("draught>");
    folder.run("show faulty.xsd").ends(0).says("draught: decimal");
}

#[test]
fn what_is_written_about_components_is_shown() {
    let folder = Folder::empty();
    let about =
        |text: &str| format!("<x:annotation><x:documentation>{text}</x:documentation></x:annotation>");
    let content = format!(
        "{}<x:complexType name=\"Visit\">{}<x:sequence><x:element name=\"pier\" type=\"x:token\">{}</x:element></x:sequence><x:attribute name=\"night\" type=\"x:boolean\">{}</x:attribute></x:complexType>",
        about("Visits of ships."),
        about("One visit."),
        about("Where she lies."),
        about("After dark.")
    );
    folder.write("visits.xsd", schema("urn:saltmere:v", &content));
    let run = folder.run("show visits.xsd").ends(0);
    let run = run.says("about \"Visits of ships.\"").says("about \"One visit.\"");
    run.says("pier: token about \"Where she lies.\"").says("@night: boolean? about \"After dark.\"");
    // What is for programs stands as it is.
    let code = "<x:annotation><x:appinfo>code</x:appinfo></x:annotation>";
    folder
        .write("code.xsd", schema("urn:saltmere:v", &format!("<x:element name=\"pier\">{code}</x:element>")));
    folder
        .run("show code.xsd")
        .ends(0)
        .says("element pier xml <xs:annotation>")
        .says("<xs:appinfo>code</xs:appinfo>");
}

#[test]
fn circles_of_every_kind_are_said_once_each() {
    let folder = Folder::empty();
    let content = "<x:simpleType name=\"U\"><x:union memberTypes=\"t:W\"/></x:simpleType><x:simpleType name=\"W\"><x:union memberTypes=\"t:U x:int\"/></x:simpleType>
<x:simpleType name=\"L\"><x:list itemType=\"t:L\"/></x:simpleType>
<x:group name=\"G\"><x:choice><x:element name=\"a\"/><x:group ref=\"t:H\"/></x:choice></x:group><x:group name=\"H\"><x:sequence><x:group ref=\"t:G\"/></x:sequence></x:group>
<x:attributeGroup name=\"P\"><x:attributeGroup ref=\"t:P\"/></x:attributeGroup>
<x:element name=\"e\" substitutionGroup=\"t:f\"/><x:element name=\"f\" substitutionGroup=\"t:e\"/>
<x:complexType name=\"A\"><x:complexContent><x:restriction base=\"t:A\"/></x:complexContent></x:complexType>
<x:element name=\"visit\"><x:complexType><x:group ref=\"t:G\"/><x:attributeGroup ref=\"t:P\"/></x:complexType></x:element>";
    folder.write("round.xsd", schema("urn:saltmere:v", content));
    let run = folder.run("check round.xsd").ends(1);
    assert_eq!(run.out.matches("is defined by itself").count(), 6, "{}", run.out);
    folder.run("message round.xsd element/visit").ends(0);
    folder.run("show round.xsd").ends(0);
}

#[test]
fn groups_nested_without_end_and_a_very_long_line_of_types_end_in_good_time() {
    let folder = Folder::empty();
    let nested = "<x:sequence>".repeat(10_000) + &"</x:sequence>".repeat(10_000);
    folder.write(
        "nested.xsd",
        schema("urn:saltmere:v", &format!("<x:complexType name=\"A\">{nested}</x:complexType>")),
    );
    folder
        .run("check nested.xsd")
        .ends(1)
        .says("elements are nested more than 500 deep here")
        .says("xml-depth");
    let extension = |n: usize| {
        format!(
            "<x:complexType name=\"T{n}\"><x:complexContent><x:extension base=\"t:T{}\"><x:sequence><x:element name=\"e{n}\" type=\"x:int\" minOccurs=\"0\"/></x:sequence><x:attribute name=\"a{n}\" type=\"x:int\"/></x:extension></x:complexContent></x:complexType>",
            n - 1
        )
    };
    let line: String = (1..20_000).map(extension).collect();
    let twice = "<x:complexType name=\"Last\"><x:complexContent><x:extension base=\"t:T19999\"><x:sequence><x:element name=\"e7\" type=\"x:int\"/></x:sequence></x:extension></x:complexContent></x:complexType>";
    folder.write("line.xsd", schema("urn:saltmere:v", &format!("<x:complexType name=\"T0\"/>{line}{twice}")));
    let run = folder.run("check line.xsd").ends(1);
    run.says("type/Last/e7").says("cos-nonambig").says("line.xsd: 1 error");
}

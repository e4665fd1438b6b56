//! `--catalog`, and the namespaces that are known without a file.

use crate::program::folder::Folder;

const CONTRACT: &str = r#"<w:definitions xmlns:w="http://schemas.xmlsoap.org/wsdl/" xmlns:s="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:x="http://www.w3.org/2001/XMLSchema" xmlns:t="urn:saltmere:tides" xmlns:wsa="http://www.w3.org/2005/08/addressing" xmlns:enc="http://schemas.xmlsoap.org/soap/encoding/" xmlns:c="urn:saltmere:common" name="Tides" targetNamespace="urn:saltmere:tides">
  <w:types>
    <x:schema targetNamespace="urn:saltmere:tides" elementFormDefault="qualified">
      <x:import namespace="http://schemas.xmlsoap.org/soap/encoding/"/>
      <x:import namespace="http://www.w3.org/2005/08/addressing" schemaLocation="http://www.w3.org/2005/08/addressing/ws-addr.xsd"/>
      <x:import namespace="urn:saltmere:common" schemaLocation="http://saltmere.example/schemas/common.xsd"/>
      <x:complexType name="Heights"><x:complexContent><x:restriction base="enc:Array"><x:attribute ref="enc:arrayType"/></x:restriction></x:complexContent></x:complexType>
      <x:element name="askTide"><x:complexType><x:sequence>
        <x:element name="heights" type="t:Heights"/>
        <x:element name="replyTo" type="wsa:EndpointReferenceType"/>
        <x:element name="gauge" type="c:Gauge"/>
      </x:sequence></x:complexType></x:element>
      <x:element name="tide" type="x:decimal"/>
    </x:schema>
  </w:types>
  <w:message name="AskTide"><w:part name="body" element="t:askTide"/></w:message>
  <w:message name="Addressing"><w:part name="id" element="wsa:MessageID"/></w:message>
  <w:message name="Tide"><w:part name="body" element="t:tide"/></w:message>
  <w:portType name="Tides"><w:operation name="askTide"><w:input message="t:AskTide"/><w:output message="t:Tide"/></w:operation></w:portType>
  <w:binding name="TidesOverSoap11" type="t:Tides">
    <s:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>
    <w:operation name="askTide">
      <s:operation soapAction=""/>
      <w:input><s:header message="t:Addressing" part="id" use="literal"/><s:body use="literal"/></w:input>
      <w:output><s:body use="literal"/></w:output>
    </w:operation>
  </w:binding>
  <w:service name="TideService"><w:port name="TidePort" binding="t:TidesOverSoap11"><s:address location="http://localhost:8080/tides"/></w:port></w:service>
</w:definitions>
"#;

const COMMON: &str = r#"<x:schema xmlns:x="http://www.w3.org/2001/XMLSchema" targetNamespace="urn:saltmere:common">
  <x:simpleType name="Gauge"><x:restriction base="x:token"><x:enumeration value="north mole"/></x:restriction></x:simpleType>
</x:schema>
"#;

fn catalog(entries: &str) -> String {
    format!("<catalog xmlns=\"urn:oasis:names:tc:entity:xmlns:xml:catalog\">{entries}</catalog>\n")
}

fn folder() -> Folder {
    let folder = Folder::empty();
    folder.write("tides.wsdl", CONTRACT);
    folder.write("lib/common.xsd", COMMON);
    folder.write("catalog.xml", catalog("<nextCatalog catalog=\"lib/saltmere.xml\"/>"));
    let rewrite = "<rewriteURI uriStartString=\"http://saltmere.example/schemas/\" rewritePrefix=\"\"/>";
    folder.write("lib/saltmere.xml", catalog(rewrite));
    folder
}

#[test]
fn a_catalog_finds_what_lies_on_the_network() {
    let folder = folder();
    let run = folder.run("check tides.wsdl").ends(1);
    run.says("import-remote  tides.wsdl:6:")
        .says("name it in a catalog (--catalog)")
        .says("no type \"Gauge\"");
    folder.run("check tides.wsdl --catalog catalog.xml").ends(0).says("tides.wsdl: 2 warnings");
    folder.run("show tides.wsdl type/Gauge --catalog catalog.xml").ends(0).says("one-of \"north mole\"");
    let run = folder.run("message tides.wsdl askTide --catalog catalog.xml").ends(0);
    run.says("<gauge>north mole</gauge>").says("<wsa:Address>https://example.org/1</wsa:Address>");
}

#[test]
fn several_catalogs_are_asked_in_order() {
    let folder = folder();
    folder.write("other.xsd", COMMON.replace("north mole", "south mole"));
    folder.write("first.xml", catalog("<uri name=\"urn:saltmere:common\" uri=\"other.xsd\"/>"));
    // The address counts before the namespace, whichever catalog comes first.
    let run = folder.run("show tides.wsdl type/Gauge --catalog first.xml --catalog catalog.xml").ends(0);
    run.says("north mole");
    folder.run("show tides.wsdl type/Gauge --catalog first.xml").ends(0).says("south mole");
}

#[test]
fn a_rename_goes_through_the_catalog_and_writes_the_file_it_leads_to() {
    let folder = folder();
    folder.run("rename tides.wsdl type/Gauge TideGauge --catalog catalog.xml").ends(0);
    assert_eq!(folder.read("lib/common.xsd"), COMMON.replace("\"Gauge\"", "\"TideGauge\""));
    assert_eq!(folder.read("tides.wsdl"), CONTRACT.replace("c:Gauge", "c:TideGauge"));
}

#[test]
fn compare_and_match_read_through_the_catalog() {
    let folder = folder();
    folder.run("compare tides.wsdl tides.wsdl --catalog catalog.xml").ends(0);
    folder.write("good.xml", "<tide xmlns=\"urn:saltmere:tides\">4.1</tide>");
    folder.run("match tides.wsdl good.xml --catalog catalog.xml").ends(0).says("good.xml: matches");
}

#[test]
fn a_catalog_that_cannot_be_used_is_said_at_its_place() {
    let folder = folder();
    let bad = |text: &str, said: &str| {
        folder.write("bad.xml", text);
        let run = folder.run("check tides.wsdl --catalog bad.xml").ends(2).complains(said);
        assert_eq!(run.out, "");
    };
    bad("<pilots/>", "bad.xml:1:1: this is no catalog: its root is pilots");
    bad("<catalog", "bad.xml:1:9: the file ends before all its elements are closed");
    bad("", "bad.xml:1:1: the file is empty");
    bad(&catalog("\n<uri name=\"x\"/>"), "bad.xml:2:1: this uri entry has no attribute uri");
    bad(
        &catalog("<nextCatalog catalog=\"gone.xml\"/>"),
        "gone.xml: the catalog cannot be read: there is no such file",
    );
    bad(&catalog("<nextCatalog catalog=\"http://saltmere.example/c.xml\"/>"), "this lies on the network");
    folder
        .run("check tides.wsdl --catalog lib")
        .ends(2)
        .complains("lib: the catalog cannot be read: this is a folder");
}

#[test]
fn a_catalog_that_leads_nowhere_is_a_finding_at_the_import() {
    let folder = folder();
    folder.write("bad.xml", catalog("<uri name=\"urn:saltmere:common\" uri=\"lib/gone.xsd\"/>"));
    let run = folder.run("check tides.wsdl --catalog bad.xml").ends(1);
    run.says("lib/gone.xsd cannot be imported: there is no such file")
        .says("import-not-found  tides.wsdl:6:");
}

#[test]
fn a_known_namespace_must_still_be_imported_by_a_schema() {
    let folder = folder();
    let import = "<x:import namespace=\"http://schemas.xmlsoap.org/soap/encoding/\"/>";
    folder.write("tides.wsdl", CONTRACT.replace(import, ""));
    let run = folder.run("check tides.wsdl --catalog catalog.xml").ends(1);
    run.says("this schema does not import http://schemas.xmlsoap.org/soap/encoding/").says("2 errors");
}

#[test]
fn a_file_of_a_known_namespace_goes_before_what_the_program_knows() {
    let folder = folder();
    let own = r#"<x:schema xmlns:x="http://www.w3.org/2001/XMLSchema" targetNamespace="http://www.w3.org/2005/08/addressing">
  <x:element name="MessageID" type="x:token"/>
  <x:complexType name="EndpointReferenceType"><x:sequence><x:element name="Berth" type="x:token"/></x:sequence></x:complexType>
</x:schema>"#;
    folder.write("lib/addressing.xsd", own);
    let remote = "http://www.w3.org/2005/08/addressing/ws-addr.xsd";
    folder.write("tides.wsdl", CONTRACT.replace(remote, "lib/addressing.xsd"));
    let run = folder.run("message tides.wsdl askTide --catalog catalog.xml").ends(0);
    run.says("Berth>").lacks("Address>");
}

#[test]
fn what_is_known_without_a_file_is_not_the_users() {
    let folder = folder();
    let run = folder.run("show tides.wsdl --catalog catalog.xml").ends(0);
    run.says("prefix wsa = \"http://www.w3.org/2005/08/addressing\"")
        .says("replyTo: wsa:EndpointReferenceType")
        .lacks("MetadataType");
    folder.run("show tides.wsdl element/MessageID --catalog catalog.xml").ends(0).says("element MessageID");
    folder
        .run("rename tides.wsdl element/MessageID Id --catalog catalog.xml")
        .ends(2)
        .complains("comes with the program and cannot be renamed");
    // A contract that begins to use it has gained no components of its own.
    folder.write(
        "before.wsdl",
        CONTRACT.replace(r#"<x:element name="replyTo" type="wsa:EndpointReferenceType"/>"#, ""),
    );
    let run = folder.run("compare before.wsdl tides.wsdl --catalog catalog.xml").ends(1);
    run.says("replyTo").lacks("MetadataType").lacks("type-added");
}

#[test]
fn the_envelopes_and_their_attributes_are_known() {
    let folder = Folder::empty();
    let schema = r#"<x:schema xmlns:x="http://www.w3.org/2001/XMLSchema" xmlns:a="http://schemas.xmlsoap.org/soap/envelope/" xmlns:b="http://www.w3.org/2003/05/soap-envelope" targetNamespace="urn:saltmere:log">
  <x:import namespace="http://schemas.xmlsoap.org/soap/envelope/"/>
  <x:import namespace="http://www.w3.org/2003/05/soap-envelope"/>
  <x:import namespace="http://www.w3.org/XML/1998/namespace"/>
  <x:element name="log"><x:complexType>
    <x:choice maxOccurs="unbounded"><x:element ref="a:Envelope"/><x:element ref="b:Envelope"/></x:choice>
    <x:attribute ref="xml:space"/><x:attribute ref="xml:lang"/>
  </x:complexType></x:element>
</x:schema>"#;
    folder.write("log.xsd", schema);
    folder.run("check log.xsd").ends(0).says("no findings");
    let entry = |space: &str, envelope: &str| {
        format!("<l:log xmlns:l='urn:saltmere:log' xml:lang='' xml:space='{space}'>{envelope}</l:log>")
    };
    let first = "<e:Envelope xmlns:e='http://schemas.xmlsoap.org/soap/envelope/'><e:Body><e:Fault><faultcode>e:Client</faultcode><faultstring>Fog.</faultstring></e:Fault></e:Body></e:Envelope>";
    let second = "<e:Envelope xmlns:e='http://www.w3.org/2003/05/soap-envelope'><e:Body><e:Fault><e:Code><e:Value>e:Sender</e:Value></e:Code><e:Reason><e:Text xml:lang='en'>Fog.</e:Text></e:Reason></e:Fault></e:Body></e:Envelope>";
    folder.write("good.xml", entry("preserve", &format!("{first}{second}")));
    folder.run("match log.xsd good.xml").ends(0);
    folder.write(
        "bad.xml",
        entry("keep", &second.replace("e:Sender", "e:Client").replace(" xml:lang='en'", "")),
    );
    let run = folder.run("match log.xsd bad.xml").ends(1);
    run.says("\"keep\"").says("\"e:Client\"").says("lang").says("3 errors");
}

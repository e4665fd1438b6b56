//! How much samples hold: what one sends first, all that can be sent, and what must be refused.

use std::fs;

use crate::program::folder::Folder;
use crate::program::hostile::port;

fn quay(content: &str, others: &str) -> String {
    port(&format!(
        "<xs:element name=\"moor\"><xs:complexType><xs:sequence>{content}</xs:sequence></xs:complexType></xs:element>{others}"
    ))
}

fn fields(count: usize) -> String {
    (0..count).map(|n| format!("<xs:element name=\"field{n}\" type=\"xs:int\" minOccurs=\"0\"/>")).collect()
}

/// A message of some size, which the contract takes.
fn sample(folder: &Folder, size: &str) -> String {
    let out = folder.run(&format!("message quay.wsdl moor --size {size}")).ends(0).out;
    folder.write("sample.xml", &out);
    folder.run("match quay.wsdl sample.xml").ends(0);
    out
}

#[test]
fn a_typical_sample_is_what_one_sends_first_and_the_fullest_has_all() {
    let folder = Folder::empty();
    let part = |name: &str, inner: &str| {
        format!("<xs:complexType name=\"{name}\"><xs:sequence>{inner}</xs:sequence></xs:complexType>")
    };
    let list = "<xs:element name=\"berth\" type=\"t:Berth\" maxOccurs=\"unbounded\"/>";
    let others = part("Berth", &format!("<xs:element name=\"no\" type=\"xs:int\"/>{}", fields(60)));
    folder.write(
        "quay.wsdl",
        quay(&format!("<xs:element name=\"ship\" type=\"xs:string\"/>{}{list}", fields(60)), &others),
    );
    let (least, typical, most) =
        (sample(&folder, "least"), sample(&folder, "typical"), sample(&folder, "most"));
    assert!(!least.contains("<field"), "{least}");
    assert!(most.contains("<field59>") && most.matches("<berth>").count() == 2, "{most}");
    // All that must be there, and the first of the rest.
    assert!(
        typical.contains("<ship>") && typical.contains("<no>") && typical.contains("<field0>"),
        "{typical}"
    );
    assert!(!typical.contains("<field59>"), "{typical}");
    assert!(typical.lines().count() <= 50, "{}", typical.lines().count());
    // What fits a screen is shown as it is.
    folder.write("quay.wsdl", quay(&fields(20), ""));
    assert!(sample(&folder, "typical").contains("<field19>"));
}

#[test]
fn nobody_begins_by_sending_something_empty() {
    let folder = Folder::empty();
    let more = "<xs:complexType name=\"More\"><xs:sequence><xs:any processContents=\"lax\" minOccurs=\"0\" maxOccurs=\"unbounded\"/></xs:sequence></xs:complexType>";
    let content = "<xs:element name=\"ship\" type=\"xs:string\"/><xs:element name=\"more\" type=\"t:More\" minOccurs=\"0\"/><xs:element name=\"urgent\" minOccurs=\"0\"><xs:complexType/></xs:element>";
    folder.write("quay.wsdl", quay(content, more));
    let typical = sample(&folder, "typical");
    // A mark that can hold nothing is another thing.
    assert!(!typical.contains("<more") && typical.contains("<urgent/>"), "{typical}");
    assert!(sample(&folder, "most").contains("<more>"));
}

#[test]
fn wildcards_stay_empty_unless_they_must_not() {
    let folder = Folder::empty();
    let others = "<xs:element name=\"convoy\"><xs:complexType><xs:sequence><xs:element name=\"ship\" type=\"xs:string\" maxOccurs=\"9\"/><xs:element name=\"remark\" type=\"xs:string\" minOccurs=\"0\"/></xs:sequence></xs:complexType></xs:element>";
    let any = |more: &str| {
        format!("<xs:element name=\"a\" type=\"xs:int\"/><xs:any namespace=\"##targetNamespace\" {more}/>")
    };
    folder.write("quay.wsdl", quay(&any("minOccurs=\"0\" maxOccurs=\"unbounded\""), others));
    assert!(!sample(&folder, "least").contains("convoy"));
    assert!(!sample(&folder, "typical").contains("convoy"));
    // The fullest shows that something may stand there, with one small thing.
    let most = sample(&folder, "most");
    assert!(most.matches("<convoy>").count() == 1 && !most.contains("remark"), "{most}");
    folder.write("quay.wsdl", quay(&any("maxOccurs=\"9\""), others));
    for size in ["least", "typical", "most"] {
        let text = sample(&folder, size);
        assert!(
            text.matches("<convoy>").count() == 1 && text.matches("<ship>").count() == 1,
            "{size}: {text}"
        );
        assert!(!text.contains("remark"), "{size}: {text}");
    }
}

#[test]
fn references_are_there_where_there_is_something_to_refer_to() {
    let folder = Folder::empty();
    let refers = "<xs:element name=\"next\" type=\"xs:IDREF\" minOccurs=\"0\"/><xs:element name=\"others\" type=\"xs:IDREFS\" minOccurs=\"0\"/>";
    folder.write("quay.wsdl", quay(&format!("<xs:element name=\"ship\" type=\"xs:string\"/>{refers}"), ""));
    for size in ["least", "typical", "most"] {
        let text = sample(&folder, size);
        assert!(!text.contains("<next") && !text.contains("<others"), "{size}: {text}");
    }
    folder.write("quay.wsdl", quay(&format!("<xs:element name=\"ship\" type=\"xs:ID\"/>{refers}"), ""));
    assert!(sample(&folder, "typical").contains("<next>"));
    // Nothing can be made where a reference must be there, and nothing else may.
    folder.write("quay.wsdl", quay("<xs:element name=\"next\" type=\"xs:IDREF\"/>", ""));
    folder.run("message quay.wsdl moor").ends(2).complains("next");
}

#[test]
fn one_thing_is_wrong_once_for_each_kind_of_place() {
    let folder = Folder::empty();
    let names = ["ship", "agent", "pilot", "berth"];
    let content: String =
        names.iter().map(|name| format!("<xs:element name=\"{name}\" type=\"t:Name\"/>")).collect();
    let ty = "<xs:simpleType name=\"Name\"><xs:restriction base=\"xs:string\"><xs:maxLength value=\"20\"/></xs:restriction></xs:simpleType>";
    folder.write("quay.wsdl", quay(&content, ty));
    let json = folder.run("message quay.wsdl moor --hostile --format json").ends(0).json();
    let all = json["hostile"].as_array().unwrap();
    let count = |words: &str| all.iter().filter(|it| it["message"].as_str().unwrap().contains(words)).count();
    assert_eq!(count("characters"), 1, "{json:#}");
    // Each of those that must be there is another thing that is missing.
    assert!(count("has no place here") >= names.len(), "{json:#}");
    // Text shows the lines around what is wrong; `-o` writes all of each.
    let text = folder.run("message quay.wsdl moor --hostile").ends(0).out;
    assert!(text.lines().count() < 18 * all.len(), "{text}");
    let words = format!("wrote {} messages into refused\n", all.len());
    folder.run("message quay.wsdl moor --hostile -o refused").ends(0).says(&words);
    let files = fs::read_dir(folder.path("refused")).unwrap().count();
    assert_eq!(files, all.len());
    let found = folder.run("match quay.wsdl refused --format json").ends(1).json();
    assert!(found["messages"].as_array().unwrap().iter().all(|message| message["valid"] == false));
}

/// A step to the same or the next folder would be taken out of an address by whoever reads it.
#[test]
fn a_random_value_in_a_path_is_no_step_of_it() {
    let folder = Folder::empty();
    let text = r#"<w:definitions name="Tides" targetNamespace="urn:saltmere:tides" xmlns:t="urn:saltmere:tides" xmlns:x="http://www.w3.org/2001/XMLSchema" xmlns:w="http://schemas.xmlsoap.org/wsdl/" xmlns:http="http://schemas.xmlsoap.org/wsdl/http/" xmlns:mime="http://schemas.xmlsoap.org/wsdl/mime/">
<w:types><x:schema targetNamespace="urn:saltmere:tides"><x:simpleType name="Berth"><x:restriction base="x:string"><x:pattern value="[.a]"/></x:restriction></x:simpleType></x:schema></w:types>
<w:message name="in"><w:part name="berth" type="t:Berth"/></w:message><w:message name="out"><w:part name="body" type="x:string"/></w:message>
<w:portType name="P"><w:operation name="ask"><w:input message="t:in"/><w:output message="t:out"/></w:operation></w:portType>
<w:binding name="B" type="t:P"><http:binding verb="GET"/><w:operation name="ask"><http:operation location="/tides/(berth)/now"/><w:input><http:urlReplacement/></w:input><w:output><mime:content type="text/plain"/></w:output></w:operation></w:binding>
<w:service name="S"><w:port name="Q" binding="t:B"><http:address location="http://localhost:8080"/></w:port></w:service></w:definitions>"#;
    folder.write("tides.wsdl", text);
    for seed in 1..20 {
        folder.run(&format!("message tides.wsdl ask --seed {seed}")).ends(0).says("GET /tides/a/now");
    }
    folder
        .run("message tides.wsdl ask berth=.")
        .ends(2)
        .complains("no operation is offered by GET /tides/now");
}

/// A type that a part of a document-style message names stands in the body without an element around it.
#[test]
fn what_stands_right_in_a_body_has_a_sample_too() {
    let folder = Folder::empty();
    let ty = "<xs:complexType name=\"Mooring\"><xs:sequence><xs:element name=\"ship\" type=\"xs:string\"/><xs:element name=\"berth\" type=\"xs:int\" minOccurs=\"0\"/></xs:sequence></xs:complexType>";
    folder.write("quay.wsdl", port(ty).replace("element=\"t:moor\"", "type=\"t:Mooring\""));
    assert!(sample(&folder, "typical").contains("<ship xmlns="));
    assert!(!sample(&folder, "least").contains("<berth"));
}

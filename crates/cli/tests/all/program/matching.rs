//! `charter match`, and what `check` and `message` do with a schema alone.

use crate::program::folder::Folder;

const SCHEMA: &str = r#"<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema" xmlns="urn:saltmere:visit" targetNamespace="urn:saltmere:visit" elementFormDefault="qualified">
  <xs:element name="visit">
    <xs:complexType>
      <xs:sequence>
        <xs:element name="callSign"><xs:simpleType><xs:restriction base="xs:token"><xs:pattern value="[A-Z0-9]{4,7}"/></xs:restriction></xs:simpleType></xs:element>
        <xs:element name="draught" type="xs:decimal" maxOccurs="unbounded"/>
      </xs:sequence>
      <xs:attribute name="verified" type="xs:boolean" use="required"/>
    </xs:complexType>
  </xs:element>
</xs:schema>
"#;

fn folder() -> Folder {
    let folder = Folder::empty();
    folder.write("visit.xsd", SCHEMA);
    folder.write("good.xml", visit("SMPL4", "9.4"));
    folder.write("bad.xml", visit("smpl4", "deep"));
    folder
}

fn visit(sign: &str, draught: &str) -> String {
    format!(
        "<visit xmlns=\"urn:saltmere:visit\" verified=\"true\">\n  <callSign>{sign}</callSign>\n  <draught>{draught}</draught>\n</visit>\n"
    )
}

#[test]
fn a_message_that_matches_and_one_that_does_not() {
    let folder = folder();
    folder.run("match visit.xsd good.xml").ends(0).says("good.xml: matches");
    let run = folder.run("match visit.xsd bad.xml").ends(1);
    let run = run.says("visit/callSign: \"smpl4\" does not have the required form");
    let run = run.says("it must match \"[A-Z0-9]{4,7}\"").says("cvc-pattern-valid  bad.xml:2:13");
    run.says("visit/draught: \"deep\" is not a decimal").says("bad.xml: does not match, 2 errors");
    folder.run("match visit.xsd good.xml bad.xml").ends(1).says("all: 1 of 2 match");
}

#[test]
fn json_has_what_scripts_need() {
    let json = folder().run("match visit.xsd good.xml bad.xml --format json").ends(1).json();
    let messages = json["messages"].as_array().unwrap();
    assert_eq!(messages.len(), 2);
    assert_eq!(messages[0]["valid"], true);
    assert_eq!(messages[0]["element"], "visit");
    assert!(messages[0]["operation"].is_null() && messages[0]["side"].is_null());
    let finding = &messages[1]["findings"][0];
    assert_eq!(finding["rule"], "cvc-pattern-valid");
    assert_eq!((finding["line"].as_u64(), finding["column"].as_u64()), (Some(2), Some(13)));
    assert_eq!(finding["path"], "visit/callSign");
    assert_eq!(finding["file"], "bad.xml");
}

#[test]
fn what_is_no_xml_does_not_match_and_what_is_not_there_has_no_answer() {
    let folder = folder();
    folder.write("torn.xml", "<visit>");
    folder.run("match visit.xsd torn.xml").ends(1).says("xml-well-formed").says("torn.xml: does not match");
    folder.run("match visit.xsd gone.xml").ends(2).complains("there is no such file");
    folder.run("match gone.xsd good.xml").ends(2).complains("there is no such file");
    folder.run("match good.xml good.xml").ends(2).complains("visit");
    folder.run("match - -").ends(2).complains("cannot be both");
    let run = folder.run_with("match visit.xsd -", visit("SMPL4", "1").as_bytes(), &[]);
    run.ends(0).says("-: matches");
}

#[test]
fn a_contract_lends_its_schemas() {
    let folder = Folder::with_demo();
    let file = "saltmere/v1/pilotage.wsdl";
    let body = folder.run(&format!("message {file} element/requestPilot")).ends(0).out;
    folder.write("body.xml", body);
    folder.run(&format!("match {file} body.xml")).ends(0).says("matches");
}

#[test]
fn a_schema_with_faults_is_still_used_and_said_to_have_them() {
    let folder = folder();
    folder.write("visit.xsd", SCHEMA.replace("type=\"xs:decimal\"", "type=\"xs:decimel\""));
    let run = folder.run("match visit.xsd good.xml").ends(0);
    assert!(
        run.err.contains("visit.xsd has an error, so verdicts may be wrong: charter check visit.xsd"),
        "{}",
        run.err
    );
    folder.run("check visit.xsd").ends(1).says("did you mean \"decimal\"?").says("src-resolve");
}

#[test]
fn a_hundred_thousand_errors_are_counted_and_a_hundred_shown() {
    let folder = folder();
    let many = visit("SMPL4", "x").replace("<draught>x</draught>", &"<draught>x</draught>\n".repeat(100_000));
    folder.write("many.xml", many);
    let run = folder.run("match visit.xsd many.xml").ends(1);
    let run = run.says("99900 more like these are not shown").says("does not match, 100000 errors");
    assert_eq!(run.out.matches("cvc-datatype-valid").count(), 100);
    let json = folder.run("match visit.xsd many.xml --format json").ends(1).json();
    assert_eq!(json["messages"][0]["errors"], 100_000);
    assert_eq!(json["messages"][0]["findings"].as_array().unwrap().len(), 100);
}

#[test]
fn hostile_documents_and_schemas_end_in_good_time() {
    let folder = folder();
    folder.write("deep.xml", "<a>".repeat(100_000) + &"</a>".repeat(100_000));
    folder.run("match visit.xsd deep.xml").ends(1).says("xml-depth");
    let group = |n: usize| {
        format!(
            "<xs:group name='G{n}'><xs:sequence><xs:group ref='G{}'/><xs:group ref='G{}'/></xs:sequence></xs:group>",
            n + 1,
            n + 1
        )
    };
    let doubling: String = (0..40).map(group).collect();
    let schema = |content: &str| {
        format!("<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema'>{content}</xs:schema>")
    };
    folder.write("double.xsd", schema(&format!("{doubling}<xs:group name='G40'><xs:sequence><xs:element name='e'/></xs:sequence></xs:group><xs:element name='a'><xs:complexType><xs:group ref='G0'/></xs:complexType></xs:element>")));
    folder.run("check double.xsd").ends(1).says("schema-size");
    let particles: String = (0..10_000)
        .map(|n| format!("<xs:element name='e{n}' minOccurs='0' maxOccurs='999999999'/>"))
        .collect();
    folder.write("wide.xsd", schema(&format!("<xs:element name='a'><xs:complexType><xs:sequence>{particles}</xs:sequence></xs:complexType></xs:element>")));
    folder.run("check wide.xsd").ends(0);
    folder.write("wide.xml", "<a><e0/><e0/><e9999/></a>");
    folder.run("match wide.xsd wide.xml").ends(0);
    let pattern = "<xs:element name='a'><xs:simpleType><xs:restriction base='xs:string'><xs:pattern value='(((x{99}){99}){99}){99}'/></xs:restriction></xs:simpleType></xs:element>";
    folder.write("pattern.xsd", schema(pattern));
    folder.run("check pattern.xsd").ends(1).says("the pattern repeats or nests too much");
}

#[test]
fn samples_of_every_size_and_hostile_ones() {
    let folder = folder();
    for size in ["least", "typical", "most", "random"] {
        let run = folder.run(&format!("message visit.xsd element/visit --size {size}")).ends(0);
        folder.write("sample.xml", &run.out);
        folder.run("match visit.xsd sample.xml").ends(0);
    }
    let seeded =
        |seed: u32| folder.run(&format!("message visit.xsd element/visit --seed {seed}")).ends(0).out;
    assert_eq!(seeded(4), seeded(4));
    assert_ne!(seeded(4), seeded(5));
    let json = folder.run("message visit.xsd element/visit --hostile --format json").ends(0).json();
    for hostile in json["hostile"].as_array().unwrap() {
        folder.write("hostile.xml", hostile["body"].as_str().unwrap());
        let found = folder.run("match visit.xsd hostile.xml --format json").ends(1).json();
        assert_eq!(found["messages"][0]["findings"][0]["rule"], hostile["rule"], "{hostile}");
        assert_eq!(found["messages"][0]["findings"][0]["path"], hostile["path"]);
    }
    folder.run("message visit.xsd element/visit --hostile").ends(0).says("messages that must be refused");
    folder.run("message visit.xsd element/vissit").ends(2).complains("did you mean \"element/visit\"?");
    folder.run("message visit.xsd visit").ends(2).complains("this is an XML Schema, not a contract");
}

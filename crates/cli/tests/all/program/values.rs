//! Values in and out: JSON, CSV, wire paths, templates, comments.

use serde_json::Value as Json;

use crate::program::folder::{Folder, Run};

const V1: &str = "saltmere/v1/pilotage.wsdl";

/// A contract whose one operation takes an element with this content, beside these types.
fn survey(folder: &Folder, content: &str, types: &str) {
    folder.write(
        "survey.wsdl",
        format!(
            r#"<wsdl:definitions name="Survey" targetNamespace="urn:saltmere:survey:1" xmlns:t="urn:saltmere:survey:1" xmlns:xs="http://www.w3.org/2001/XMLSchema" xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:wsdl="http://schemas.xmlsoap.org/wsdl/">
<wsdl:types><xs:schema targetNamespace="urn:saltmere:survey:1" elementFormDefault="qualified">
<xs:element name="survey"><xs:complexType>{content}</xs:complexType></xs:element>
{types}</xs:schema></wsdl:types>
<wsdl:message name="in"><wsdl:part name="p" element="t:survey"/></wsdl:message>
<wsdl:portType name="Survey"><wsdl:operation name="report"><wsdl:input message="t:in"/></wsdl:operation></wsdl:portType>
<wsdl:binding name="B" type="t:Survey"><soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/><wsdl:operation name="report"><soap:operation soapAction="urn:saltmere:survey:1:report"/><wsdl:input><soap:body use="literal"/></wsdl:input></wsdl:operation></wsdl:binding>
<wsdl:service name="S"><wsdl:port name="P" binding="t:B"><soap:address location="https://survey.saltmere.example/1"/></wsdl:port></wsdl:service>
</wsdl:definitions>"#
        ),
    );
}

/// Puts values in, takes them out of the message, and out of the wire again: each time the same.
fn there_and_back(folder: &Folder, values: &str) -> Run {
    folder.write("values.json", values);
    let given: Json = serde_json::from_str(values).unwrap();
    let run = folder.run("message survey.wsdl report --values values.json --as json").ends(0);
    assert_eq!(run.json(), given, "{}", run.out);
    let message = folder.run("message survey.wsdl report --values values.json").ends(0);
    folder.write("message.xml", &message.out);
    let run = folder.run("match survey.wsdl message.xml --values").ends(0);
    assert_eq!(run.json(), given, "{}\n{}", run.out, message.out);
    message
}

/// Why values are refused.
fn refused(folder: &Folder, values: &str) -> Run {
    folder.write("values.json", values);
    folder.run("message survey.wsdl report --values values.json").ends(2)
}

#[test]
fn every_kind_of_content_comes_back_as_it_was() {
    let folder = Folder::empty();
    survey(
        &folder,
        r###"<xs:sequence>
<xs:element name="depth" type="t:Depth" maxOccurs="unbounded"/>
<xs:element name="channels" type="t:Channels" minOccurs="0"/>
<xs:element name="pole" type="t:Pole" nillable="true" minOccurs="0"/>
<xs:element name="note" minOccurs="0"><xs:complexType mixed="true"><xs:sequence><xs:element name="buoy" type="xs:token" minOccurs="0" maxOccurs="unbounded"/></xs:sequence></xs:complexType></xs:element>
<xs:choice minOccurs="0" maxOccurs="unbounded"><xs:element name="up" type="xs:int"/><xs:element name="down" type="xs:int"/></xs:choice>
<xs:element name="kind" type="xs:QName" minOccurs="0"/>
<xs:element name="anything" minOccurs="0"/>
<xs:element ref="t:mark" minOccurs="0"/>
<xs:any namespace="##other" processContents="lax" minOccurs="0" maxOccurs="unbounded"/>
</xs:sequence><xs:attribute name="by" type="xs:token" use="required"/><xs:attribute ref="t:seal"/>"###,
        r#"<xs:attribute name="seal" type="xs:boolean"/>
<xs:element name="mark" type="xs:string"/><xs:element name="post" type="xs:string" substitutionGroup="t:mark"/>
<xs:complexType name="Depth"><xs:simpleContent><xs:extension base="xs:decimal"><xs:attribute name="unit" type="xs:token"/></xs:extension></xs:simpleContent></xs:complexType>
<xs:simpleType name="Channels"><xs:list itemType="t:Channel"/></xs:simpleType>
<xs:simpleType name="Channel"><xs:union memberTypes="xs:int xs:token"/></xs:simpleType>
<xs:complexType name="Pole"><xs:sequence><xs:element name="name" type="xs:string"/></xs:sequence><xs:attribute name="id" type="xs:int"/></xs:complexType>
<xs:complexType name="LitPole"><xs:complexContent><xs:extension base="t:Pole"><xs:sequence><xs:element name="lit" type="xs:boolean"/></xs:sequence></xs:extension></xs:complexContent></xs:complexType>"#,
    );
    there_and_back(&folder, r#"{"@by": "okker", "depth": [9.40]}"#).says(">9.40<");
    let run = there_and_back(
        &folder,
        r#"{"@by": "okker", "@{urn:saltmere:survey:1}seal": true,
 "depth": [{"@unit": "m", "$text": 9.4}, 12], "channels": [12, "north", 14],
 "pole": {"$type": "LitPole", "@id": 3, "name": "N & E", "lit": false},
 "note": {"$content": ["Between ", {"buoy": "N1"}, " and ", {"buoy": "N2"}]},
 "kind": "{urn:saltmere:survey:1}sounding", "anything": {"$content": [{"{urn:x}a": {"@b": "c", "$text": "d"}}]},
 "post": "east", "{urn:saltmere:notice}notice": ["closed", "open"]}"#,
    );
    run.says("xsi:type=").says("Between <t:buoy>N1</t:buoy> and <t:buoy>N2</t:buoy>").says("N &amp; E");
    // What is in order by its names is written by name; another order is spelled out.
    there_and_back(&folder, r#"{"@by": "a", "depth": [1], "up": [1, 2], "down": [3]}"#);
    there_and_back(&folder, r#"{"@by": "a", "$content": [{"depth": 1}, {"up": 1}, {"down": 2}, {"up": 3}]}"#);
    there_and_back(&folder, r#"{"@by": "a", "depth": [1], "pole": null}"#).says("nil=\"true\"");
    there_and_back(&folder, r#"{"@by": "a", "depth": [1], "pole": {"@id": 4, "$nil": true}}"#);
}

#[test]
fn values_that_do_not_fit_are_refused_at_their_path() {
    let folder = Folder::empty();
    survey(
        &folder,
        r#"<xs:sequence><xs:element name="depth" type="t:Depth"/><xs:element name="gauge" type="t:Gauge" minOccurs="0" maxOccurs="3"/><xs:choice><xs:element name="mark" type="xs:token"/><xs:element name="post" type="xs:int"/></xs:choice></xs:sequence>"#,
        r#"<xs:simpleType name="Depth"><xs:restriction base="xs:decimal"><xs:minInclusive value="0"/><xs:maxInclusive value="40"/></xs:restriction></xs:simpleType>
<xs:complexType name="Gauge" abstract="true"><xs:sequence><xs:element name="at" type="xs:date"/></xs:sequence></xs:complexType>
<xs:complexType name="Staff"><xs:complexContent><xs:extension base="t:Gauge"/></xs:complexContent></xs:complexType>"#,
    );
    there_and_back(
        &folder,
        r#"{"depth": 9.4, "gauge": [{"$type": "Staff", "at": "2026-03-14"}], "mark": "x"}"#,
    );
    let refuse = |values: &str| refused(&folder, values);
    refuse(r#"{"depth": 99, "mark": "x"}"#).complains("values.json: depth: \"99\" is not at most 40");
    refuse(r#"{"depth": "deep", "mark": "x"}"#).complains("depth: \"deep\" is not a decimal");
    refuse(r#"{"mark": "x"}"#).complains("depth: a value is missing").complains("a decimal from 0 to 40");
    refuse(r#"{"depth": 1}"#).complains("a value is missing: one of mark, post");
    refuse(r#"{"depth": 1, "mark": "x", "post": 2}"#).complains("does not go together with the others");
    refuse(r#"{"depth": 1, "marc": "x"}"#)
        .complains("marc: there is no such value")
        .complains("did you mean \"mark\"?");
    refuse(r#"{"depth": {"m": 1}, "mark": "x"}"#).complains("depth/m: there is no such value");
    refuse(r#"{"depth": [1, 2], "mark": "x"}"#).complains("depth: one value is wanted here, not a list");
    refuse(r#"{"depth": null, "mark": "x"}"#).complains("depth: it is not nillable");
    refuse(r#"{"depth": 1, "mark": "x", "gauge": {"at": "2026-03-14"}}"#)
        .complains("its type is abstract")
        .complains("Staff");
    refuse(r#"{"depth": 1, "mark": "x", "gauge": {"$type": "Stuff", "at": "2026-03-14"}}"#)
        .complains("there is no type \"Stuff\"");
    refuse(r#"{"depth": 1, "mark": "x", "gauge": [{"$type": "Staff", "at": "soon"}]}"#)
        .complains("gauge[1]/at: \"soon\" is not a date");
    refuse(r#"{"depth": 1, "@by": "x", "mark": "x"}"#).complains("@by: there is no such attribute");
    refuse(r#"[1]"#).complains("the values of a message are an object");
    refuse("{\n  \"depth\": 1,\n}").complains("values.json:3:1: this is not JSON");
    // All of them are told, not the first alone.
    let run = refuse(r#"{"depth": "deep", "gauge": [{"$type": "Staff", "at": "soon"}], "mark": "x"}"#);
    assert!(run.err.contains("is not a decimal") && run.err.contains("is not a date"), "{}", run.err);
    folder.run("message survey.wsdl report --values gone.json").ends(2).complains("there is no such file");
}

#[test]
fn values_go_in_by_wire_path() {
    let folder = Folder::with_demo();
    let run = folder.run(&format!(
        "message {V1} requestPilot vessel/dimensions/draught=8.1 vessel/hazard[2]/class=3 vessel/hazard[3]/tonnes=7 vessel/@verified=false remark= $header/AgentCredentials/agent=wick-daughters agent/contact[1]/radio=16 --as json"
    ));
    let json = run.ends(0).json();
    assert_eq!(json["vessel"]["dimensions"]["draught"].to_string(), "8.1");
    assert_eq!(json["vessel"]["hazard"][1]["class"], "3");
    // A third one came, with all that it needs.
    assert_eq!(json["vessel"]["hazard"][2]["tonnes"].to_string(), "7");
    assert_eq!(json["vessel"]["hazard"].as_array().unwrap().len(), 3);
    assert_eq!(json["vessel"]["@verified"], false);
    assert!(json.get("remark").is_none());
    assert_eq!(json["$header"]["AgentCredentials"]["agent"], "wick-daughters");
    // The other side of a choice makes room.
    assert!(json["agent"]["contact"][0].get("telephone").is_none(), "{json}");
    // A path may begin with the name of the body element, as findings show it.
    let run = folder.run(&format!("message {V1} declareCargo declareCargo/callSign=MHRS9")).ends(0);
    run.says("<callSign>MHRS9</callSign>");
}

#[test]
fn an_unknown_wire_path_is_answered_with_the_nearest() {
    let folder = Folder::with_demo();
    let set = |path: &str| folder.run(&format!("message {V1} requestPilot {path}")).ends(2);
    set("vessel/hazrd[1]/class=3").complains("there is no \"hazrd\"").complains("did you mean \"hazard\"?");
    set("vessel/draught=9").complains("did you mean \"vessel/dimensions/draught\"?");
    set("draught=9").complains("did you mean \"vessel/dimensions/draught\"?");
    set("vessel=9").complains("this is no single value").complains("callSign, name, kind");
    set("vessel/hazard[9]/class=3").complains("there are only 2").complains("the next would be hazard[3]");
    set("vessel[2]/name=x").complains("is there only once");
    set("vessel/@verifed=true").complains("did you mean \"@verified\"?");
    set("vessel//name=x").complains("a step of the path is empty");
    set("vessel/hazard[0]/class=3").complains("counts from 1");
    set("vessel/name").complains("sets nothing");
    set("$header/Credentials/agent=x").complains("there are AgentCredentials");
    set("eta=tomorrow").complains("eta: \"tomorrow\" is not a dateTime");
    set("vessel/callSign=").complains("vessel/callSign: a value is missing");
}

#[test]
fn rows_become_messages_and_a_bad_row_stops_no_other() {
    let folder = Folder::with_demo();
    folder.write(
        "rows.csv",
        "vessel/callSign,vessel/dimensions/draught,remark\nMHRS7,8.2,\nSALT2,999,Two tugs\nonly,two\nOKAY1,7.5,\"Fog, late\"\n",
    );
    let run = folder.run(&format!("message {V1} requestPilot --values rows.csv -o rows")).ends(2);
    let run = run.says("wrote 2 messages into rows");
    assert!(run.err.contains("vessel/dimensions/draught: row 3: \"999\" is not at most 500"), "{}", run.err);
    assert!(run.err.contains("row 4: it has 2 values, and the header has 3"), "{}", run.err);
    let first = folder.read("rows/row-2.xml");
    assert!(first.contains("<v:draught>8.2</v:draught>") && !first.contains("<remark>"), "{first}");
    assert!(folder.read("rows/row-5.xml").contains("<remark>Fog, late</remark>"));
    assert!(!folder.path("rows/row-3.xml").exists());
    folder.run(&format!("match {V1} rows")).ends(0).says("all: 2 of 2 match");
    folder.run(&format!("message {V1} requestPilot --values rows.csv")).ends(2).complains("-o DIR");
    folder.write("wrong.csv", "vessel/callSing\nMHRS7\n");
    let run = folder.run(&format!("message {V1} requestPilot --values wrong.csv -o rows")).ends(2);
    run.complains("did you mean \"callSign\"?");
    folder.write("empty.csv", "");
    folder
        .run(&format!("message {V1} requestPilot --values empty.csv -o rows"))
        .ends(2)
        .complains("the file is empty");
}

#[test]
fn a_sample_fills_up_what_values_leave_out() {
    let folder = Folder::with_demo();
    folder.write("some.json", r#"{"hazard": [{"class": 3, "tonnes": 1}]}"#);
    let run = folder.run(&format!("message {V1} declareCargo --values some.json")).ends(2);
    let words = "$header/AgentCredentials: a value is missing\n         it holds agent, licence";
    assert!(run.err.contains(words), "{}", run.err);
    let run = folder.run(&format!("message {V1} declareCargo --values some.json --fill")).ends(0);
    let run = run.says("<v:class>3</v:class>").says("<licence>HL-2041</licence>");
    assert_eq!(run.out.matches("<hazard>").count(), 1);
    let input = br#"{"callSign": "MHRS7"}"#;
    let words = format!("message {V1} declareCargo --fill --values -");
    folder.run_with(&words, input, &[]).ends(0).says("MHRS7");
}

#[test]
fn templates_name_their_places_and_mark_what_may_be_left_out() {
    let folder = Folder::with_demo();
    let run = folder.run(&format!("message {V1} requestPilot --as template")).ends(0);
    let run =
        run.says("<v:draught>|vessel/dimensions/draught|</v:draught>").says("<?charter optional remark?>");
    let run = run
        .says("<?charter repeat 0..* hazard?>")
        .says("|vessel/hazard[n]/class|")
        .says("<?charter end hazard?>");
    let run = run.says("<?charter one-of 1..1?>").says("verified=\"|vessel/@verified|\"");
    run.says("<?charter optional @verified?>").lacks("urn:mark");
    let office = "saltmere/office/harbour.wsdl";
    let run = folder.run(&format!("message {office} nextTide --as template")).ends(0);
    assert_eq!(run.out, "https://harbour.saltmere.example/tides/next?berth=|berth|&day=|day|\n");
    let run = folder.run(&format!("message {office} nextTide --as template --port TidesPathPort")).ends(0);
    run.says("/tides/at/|berth|/on/|day|");
    let run = folder.run(&format!("message {office} nextTide --as template --port TidesFormPort")).ends(0);
    assert_eq!(run.out, "berth=|berth|&day=|day|");
    // Every place is a path that can be set.
    let text = folder.run(&format!("message {V1} requestPilot --as template --place !PATH!")).ends(0).out;
    let places: Vec<&str> = text.split('!').skip(1).step_by(2).collect();
    assert!(places.len() > 15, "{places:?}");
    for place in places {
        let path = place.replace("[n]", "[1]");
        let run = folder.run(&format!("message {V1} requestPilot {path}=1 --as json"));
        assert!(!run.err.contains("there is no"), "{path}: {}", run.err);
    }
}

#[test]
fn comments_say_what_may_stand_there_and_come_only_on_request() {
    let folder = Folder::with_demo();
    let run = folder.run(&format!("message {V1} requestPilot --side output --comments")).ends(0);
    let run = run.says("<v:draught>9.4</v:draught>  <!-- v:Metres = decimal range 0..500 decimals 2 -->");
    let run = run
        .says("<!-- @revised: dateTime?, @revision: unsignedInt -->")
        .says("<language>en</language>  <!-- language* -->");
    folder.write("commented.xml", &run.out);
    folder.run(&format!("match {V1} commented.xml")).ends(0);
    let run = folder.run("message saltmere/office/harbour.wsdl listBerths --comments").ends(0);
    run.says("<!-- Quay = string one-of");
}

#[test]
fn two_contracts_are_shown_side_by_side() {
    let folder = Folder::with_demo();
    let words = |other: &str| format!("message {V1} requestPilot --side output --against {other}");
    folder.run(&words("saltmere/v1/pilotage.wsdl")).ends(0).says("operation/requestPilot/output: the same");
    let run = folder.run(&words("saltmere/v3/pilotage.wsdl")).ends(1);
    let renamed = run.out.lines().find(|line| line.contains("<pilot>")).unwrap();
    assert!(renamed.contains('≠') && renamed.contains("<assignedPilot>"), "{renamed}");
    let json = folder.run(&format!("{} --format json", words("saltmere/v3/pilotage.wsdl"))).ends(1).json();
    let lines = json["lines"].as_array().unwrap();
    assert!(lines.iter().any(|line| line["change"] == "added" && line["old"].is_null()));
    folder.run(&words("saltmere/v9/pilotage.wsdl")).ends(2).complains("there is no such file");
    let run =
        folder.run(&format!("message {V1} requestPilot --against saltmere/office/harbour.wsdl")).ends(2);
    run.complains("there is no \"operation/requestPilot\"");
}

/// The typical message of a survey with some content, where settings say so.
fn sampled(content: &str, settings: &str) -> Run {
    let folder = Folder::empty();
    survey(&folder, content, "");
    folder.write("charter.toml", settings);
    folder.run("message survey.wsdl report").ends(0)
}

const CONTENT: &str = r#"<xs:sequence>
<xs:element name="languageCode" type="xs:string"/><xs:element name="country" type="xs:string"/>
<xs:element name="remark" type="xs:string" maxOccurs="unbounded"/>
<xs:element name="draught" type="xs:decimal"/><xs:element name="sounding" type="xs:int"/>
<xs:element name="vessel"><xs:complexType><xs:sequence><xs:element name="name" type="xs:string"/></xs:sequence></xs:complexType></xs:element>
<xs:element name="surveyor"><xs:complexType><xs:sequence><xs:element name="firstName" type="xs:string"/></xs:sequence></xs:complexType></xs:element>
</xs:sequence>"#;

#[test]
fn samples_say_nothing_that_the_contract_does_not() {
    let run = sampled(CONTENT, "");
    for value in [">en<", ">NL<", ">A short remark.<", ">Another remark.<", ">First vessel<", ">Kim<"] {
        assert!(run.out.contains(value), "{value} is not in\n{}", run.out);
    }
    let said = run.out.replace("saltmere", "").to_lowercase();
    for word in ["tug", "pilot", "harrier", "tolland", "harbour", "quay"] {
        assert!(!said.contains(word), "{word} is in\n{}", run.out);
    }
}

#[test]
fn a_team_settles_what_samples_say() {
    let settings = r#"[values]
remark = ["Fog.", "Clear.", "Rain."]
draught = ["much", "9.4"]
sounding = ["none at all"]
"vessel/name" = "Marsh Harrier"
name = "Anyone"
"#;
    let run = sampled(CONTENT, settings);
    for value in [">Fog.<", ">Clear.<", ">9.4<", ">Marsh Harrier<", ">Anyone<"] {
        assert!(run.out.contains(value), "{value} is not in\n{}", run.out);
    }
    // What does not fit the type is left out.
    assert!(!run.out.contains("none at all") && !run.out.contains("much"), "{}", run.out);
    let folder = Folder::empty();
    survey(&folder, CONTENT, "");
    folder.write("charter.toml", "[values]\nremark = 4\n");
    folder.run("message survey.wsdl report").ends(2).complains("charter.toml:2:10: this is no text");
}

#[test]
fn witnesses_of_a_comparison_speak_the_words_of_the_team() {
    let folder = Folder::empty();
    survey(&folder, CONTENT, "");
    let text = folder.read("survey.wsdl");
    folder.write(
        "new.wsdl",
        text.replace("name=\"sounding\" type=\"xs:int\"", "name=\"sounding\" type=\"xs:date\""),
    );
    folder.write("charter.toml", "[values]\n\"vessel/name\" = \"Marsh Harrier\"\n");
    let run = folder.run("compare survey.wsdl new.wsdl --format json").ends(1);
    let body = run.json()["changes"][0]["witness"]["body"].as_str().unwrap().to_owned();
    assert!(body.contains("Marsh Harrier"), "{body}");
}

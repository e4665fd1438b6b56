//! What is proposed, and what it leaves alone.

use charter_compare::{Options, Verdict};
use charter_remedy::{NoWay, Remedy, Step, Way, WayOut, WaysOut};

use super::kinds::with_ways;

const HARBOUR: &str = r#"<w:definitions name="Harbour" targetNamespace="urn:saltmere:harbour:1" xmlns:t="urn:saltmere:harbour:1"
    xmlns:x="http://www.w3.org/2001/XMLSchema" xmlns:w="http://schemas.xmlsoap.org/wsdl/" xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/">
  <w:types><x:schema targetNamespace="urn:saltmere:harbour:1" elementFormDefault="qualified">
    <x:element name="moor"><x:complexType><x:sequence>
      <x:element name="callSign" type="x:string"/>
      <x:element name="quay" type="t:Quay"/>
    </x:sequence></x:complexType></x:element>
    <x:element name="moorResponse"><x:complexType><x:sequence>
      <x:element name="berth" type="x:string"/>
      <!-- in metres -->
      <x:element name="depth" type="x:decimal" minOccurs="0"/>
    </x:sequence></x:complexType></x:element>
    <x:simpleType name="Quay"><x:restriction base="x:string"><x:enumeration value="north"/><x:enumeration value="south"/></x:restriction></x:simpleType>
  </x:schema></w:types>
  <w:message name="moorInput"><w:part name="parameters" element="t:moor"/></w:message>
  <w:message name="moorOutput"><w:part name="parameters" element="t:moorResponse"/></w:message>
  <w:portType name="Harbour"><w:operation name="moor"><w:input message="t:moorInput"/><w:output message="t:moorOutput"/></w:operation></w:portType>
  <w:binding name="HarbourOverSoap11" type="t:Harbour">
    <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
    <w:operation name="moor"><soap:operation soapAction=""/><w:input><soap:body use="literal"/></w:input><w:output><soap:body use="literal"/></w:output></w:operation>
  </w:binding>
  <w:service name="HarbourService"><w:port name="HarbourPort" binding="t:HarbourOverSoap11"><soap:address location="https://harbour.saltmere.example/1"/></w:port></w:service>
</w:definitions>
"#;

fn edited(edits: &[(&str, &str)]) -> String {
    edits.iter().fold(HARBOUR.to_owned(), |text, (from, to)| {
        assert!(text.contains(from), "{from}");
        text.replace(from, to)
    })
}

/// The only way out of a revision.
fn way(ways: &WaysOut) -> &Way {
    match ways.all.as_slice() {
        [(_, WayOut::Edit(way))] => way,
        other => panic!("{other:?}"),
    }
}

#[test]
fn something_demanded_may_be_left_out_again() {
    let new = edited(&[(
        "<x:element name=\"quay\"",
        "<x:element name=\"agent\" type=\"x:string\"/>\n      <x:element name=\"quay\"",
    )]);
    let (_, ways, after) = with_ways(HARBOUR, &new, Options::default());
    let way = way(&ways);
    assert_eq!(way.remedy, Remedy::LetBeLeftOut("agent".to_owned()));
    assert_eq!(way.step, Step::Set { key: "occurs", value: "?".to_owned() });
    assert_eq!(way.path.as_str(), "element/moor/agent");
    assert_eq!(way.notation, ["agent: string?"]);
    assert_eq!(way.verdict, Verdict::Keeps);
    assert_eq!(
        after,
        new.replace(
            "name=\"agent\" type=\"x:string\"/>",
            "name=\"agent\" type=\"x:string\" minOccurs=\"0\"/>"
        )
    );
}

#[test]
fn a_value_comes_back_where_it_stood() {
    let new = edited(&[("<x:enumeration value=\"south\"/>", "")]);
    let (_, ways, after) = with_ways(HARBOUR, &new, Options::default());
    let way = way(&ways);
    assert_eq!(way.remedy.to_string(), "put \"south\" back");
    assert_eq!(way.step, Step::Set { key: "one-of", value: "\"north\", \"south\"".to_owned() });
    assert_eq!(way.notation, ["type Quay = string one-of \"north\", \"south\""]);
    assert_eq!(after, HARBOUR);
}

#[test]
fn an_element_that_went_with_its_type_comes_back_with_it() {
    let new = edited(&[
        ("      <x:element name=\"quay\" type=\"t:Quay\"/>\n", ""),
        (
            "<x:simpleType name=\"Quay\"><x:restriction base=\"x:string\"><x:enumeration value=\"north\"/><x:enumeration value=\"south\"/></x:restriction></x:simpleType>",
            "",
        ),
    ]);
    let (_, ways, after) = with_ways(HARBOUR, &new, Options::default());
    // Nobody has to send it, so the new version need not ask for it.
    assert_eq!(way(&ways).remedy, Remedy::PutBackOptional("quay".to_owned()));
    assert!(after.contains(r#"<x:element name="quay" type="t:Quay" minOccurs="0"/>"#), "{after}");
    assert!(after.contains(r#"<x:simpleType name="Quay">"#), "{after}");
}

#[test]
fn a_new_name_in_a_request_is_offered_by_a_choice_and_in_a_reply_beside_the_old_one() {
    let new = edited(&[("name=\"callSign\"", "name=\"radioCall\"")]);
    let (_, ways, after) = with_ways(HARBOUR, &new, Options::default());
    assert_eq!(way(&ways).remedy.to_string(), "let either \"callSign\" or \"radioCall\" be sent");
    let choice = after.split("<x:choice>").nth(1).and_then(|rest| rest.split("</x:choice>").next()).unwrap();
    assert!(choice.contains("name=\"callSign\"") && choice.contains("name=\"radioCall\""), "{after}");

    let new = edited(&[("name=\"berth\"", "name=\"place\"")]);
    let (_, ways, after) = with_ways(HARBOUR, &new, Options::default());
    let way = way(&ways);
    assert_eq!(way.remedy.to_string(), "keep \"berth\", and offer \"place\" beside it");
    assert_eq!(way.verdict, Verdict::Bends);
    assert!(after.contains(r#"<x:element name="place" type="x:string" minOccurs="0"/>"#), "{after}");
}

/// The same with one operation more, whose message says this about itself.
fn with_leave(about: &str) -> String {
    let message = format!(
        "<w:message name=\"leaveInput\">{about}<w:part name=\"parameters\" element=\"t:moor\"/></w:message>\n  <w:message name=\"moorInput\">"
    );
    edited(&[
        ("<w:message name=\"moorInput\">", message.as_str()),
        (
            "</w:operation></w:portType>",
            "</w:operation><w:operation name=\"leave\"><w:input message=\"t:leaveInput\"/></w:operation></w:portType>",
        ),
        (
            "</w:operation>\n  </w:binding>",
            "</w:operation>\n    <w:operation name=\"leave\"><soap:operation soapAction=\"leave\"/><w:input><soap:body use=\"literal\"/></w:input></w:operation>\n  </w:binding>",
        ),
    ])
}

#[test]
fn an_operation_comes_back_with_its_messages_and_how_it_is_bound() {
    let (_, ways, after) = with_ways(&with_leave(""), HARBOUR, Options::default());
    let way = way(&ways);
    assert!(matches!(&way.step, Step::Add { from } if from.as_str() == "operation/leave"));
    for part in
        ["<w:message name=\"leaveInput\">", "<w:input message=\"t:leaveInput\"/>", "soapAction=\"leave\""]
    {
        assert!(after.contains(part), "{part}: {after}");
    }
}

#[test]
fn what_its_notation_does_not_say_comes_back_by_the_diff_alone() {
    // The notation of an operation says nothing of what somebody wrote about its message.
    let old = with_leave("<w:documentation>Who leaves.</w:documentation>");
    let (_, ways, after) = with_ways(&old, HARBOUR, Options::default());
    assert_eq!(way(&ways).step, Step::Together);
    assert!(after.contains("Who leaves."), "{after}");
}

/// Two port types may have operations of one name.
#[test]
fn an_operation_comes_back_to_its_own_port_type() {
    let other = |inside: &str| {
        format!(
            "<w:portType name=\"Anchorage\"><w:operation name=\"anchor\"><w:input message=\"t:moorInput\"/></w:operation>{inside}</w:portType>\n  <w:portType name=\"Harbour\">"
        )
    };
    let moor = "<w:operation name=\"moor\"><w:input message=\"t:moorInput\"/></w:operation>";
    let old = edited(&[("<w:portType name=\"Harbour\">", other(moor).as_str())]);
    let new = edited(&[("<w:portType name=\"Harbour\">", other("").as_str())]);
    let (_, ways, after) = with_ways(&old, &new, Options::default());
    assert!(matches!(way(&ways).remedy, Remedy::PutBack(_)));
    let anchorage = after.split("<w:portType name=\"Anchorage\">").nth(1).unwrap();
    let anchorage = anchorage.split("</w:portType>").next().unwrap();
    assert!(anchorage.contains("name=\"moor\""), "{after}");
    assert_eq!(after.matches("<w:operation name=\"moor\">").count(), 3, "{after}");
}

#[test]
fn a_port_that_speaks_otherwise_stands_beside_the_old_one() {
    let new = edited(&[(
        "use=\"literal\"/></w:input>",
        "use=\"encoded\" encodingStyle=\"http://schemas.xmlsoap.org/soap/encoding/\"/></w:input>",
    )]);
    let (_, ways, after) = with_ways(HARBOUR, &new, Options::default());
    assert_eq!(way(&ways).remedy, Remedy::PortBeside(vec!["HarbourPort".to_owned()]));
    assert!(after.contains(r#"<w:port name="HarbourPort" binding="t:HarbourOverSoap11Before">"#), "{after}");
    assert!(after.contains(r#"<w:port name="HarbourPortNext" binding="t:HarbourOverSoap11">"#), "{after}");
    assert!(after.contains(r#"<w:binding name="HarbourOverSoap11Before""#), "{after}");
}

#[test]
fn what_does_not_break_stays_as_it_is() {
    // Three changes of one file, of which one breaks.
    let new = edited(&[
        (
            "type=\"x:decimal\" minOccurs=\"0\"/>",
            "type=\"x:decimal\" minOccurs=\"0\"/>\n      <x:element name=\"tide\" type=\"x:date\" minOccurs=\"0\"/>",
        ),
        (
            "<x:enumeration value=\"south\"/>",
            "<x:enumeration value=\"south\"/><x:enumeration value=\"west\"/>",
        ),
        ("name=\"callSign\" type=\"x:string\"", "name=\"callSign\" type=\"x:token\""),
    ]);
    let (compared, ways, after) = with_ways(HARBOUR, &new, Options::default());
    let breaking = compared.report.changes.iter().filter(|it| it.verdict == Verdict::Breaks).count();
    assert_eq!((breaking, ways.all.len()), (0, 0));
    assert_eq!(after, new);

    let new = new.replace("name=\"depth\" type=\"x:decimal\"", "name=\"depth\" type=\"x:string\"");
    let (_, ways, after) = with_ways(HARBOUR, &new, Options::default());
    let way = way(&ways);
    assert_eq!(way.step, Step::Set { key: "type", value: "decimal".to_owned() });
    assert_eq!(after, new.replace("name=\"depth\" type=\"x:string\"", "name=\"depth\" type=\"x:decimal\""));
    assert!(after.contains("<!-- in metres -->"));
}

#[test]
fn what_changed_beside_local_names_that_moved_has_a_way_out_of_its_own() {
    let new = edited(&[
        (" elementFormDefault=\"qualified\"", ""),
        (
            "<x:element name=\"quay\"",
            "<x:element name=\"agent\" type=\"x:string\"/>\n      <x:element name=\"quay\"",
        ),
    ]);
    let (compared, ways, after) = with_ways(HARBOUR, &new, Options::default());
    assert_eq!(ways.of(0), Some(&WayOut::None(NoWay::LocalNames)));
    let Some(WayOut::Edit(way)) = ways.of(1) else { panic!("{:?}", ways.of(1)) };
    assert_eq!(way.remedy, Remedy::LetBeLeftOut("agent".to_owned()));
    assert_eq!(compared.report.changes[1].path.as_str(), "element/moor/agent");
    assert!(after.contains("name=\"agent\" type=\"x:string\" minOccurs=\"0\""), "{after}");
}

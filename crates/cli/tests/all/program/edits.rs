//! The demo contract with one edit at a time, there and back: what is said of it, where it is pinned, and that every message
//! which shows a break is right by the one version and wrong by the other.

use serde_json::Value;

use crate::program::folder::Folder;

/// What is edited, and what comes of it there and back: each change as `verdict rule path`.
struct Edit {
    name: &'static str,
    file: &'static str,
    from: &'static str,
    to: &'static str,
    there: &'static [&'static str],
    back: &'static [&'static str],
}

#[rustfmt::skip]
const EDITS: &[Edit] = &[
    Edit {
        name: "a booking number of more digits",
        file: "pilotage.wsdl",
        from: r#"value="SM-[0-9]{6}""#,
        to: r#"value="SM-[0-9]{6,8}""#,
        there: &["breaks pattern-changed type/BookingNumber"],
        back: &["breaks pattern-changed type/BookingNumber"],
    },
    Edit {
        name: "a telephone number of fewer digits",
        file: "pilotage.wsdl",
        from: r#"value="\+?[0-9 ]{5,20}""#,
        to: r#"value="\+?[0-9 ]{5,15}""#,
        there: &["breaks pattern-changed type/Telephone"],
        back: &["keeps pattern-changed type/Telephone"],
    },
    Edit {
        name: "one more reason",
        file: "pilotage.wsdl",
        from: r#"<xs:enumeration value="tide"/>"#,
        to: r#"<xs:enumeration value="tide"/><xs:enumeration value="crew"/>"#,
        there: &["keeps value-added type/CancelReason"],
        back: &["breaks value-removed type/CancelReason"],
    },
    Edit {
        name: "one more state",
        file: "pilotage.wsdl",
        from: r#"<xs:enumeration value="aboard"/>"#,
        to: r#"<xs:enumeration value="aboard"/><xs:enumeration value="ashore"/>"#,
        there: &["breaks value-added type/BoardingState"],
        back: &["breaks value-removed type/BoardingState"],
    },
    Edit {
        name: "latitudes of the northern half alone",
        file: "pilotage.wsdl",
        from: r#"<xs:minInclusive value="-90"/>"#,
        to: r#"<xs:minInclusive value="0"/>"#,
        there: &["breaks range-narrowed type/Latitude"],
        back: &["keeps range-widened type/Latitude"],
    },
    Edit {
        name: "larger pages",
        file: "pilotage.wsdl",
        from: r#"<xs:maxInclusive value="500"/>"#,
        to: r#"<xs:maxInclusive value="1000"/>"#,
        there: &["keeps range-widened type/PageSize"],
        back: &["breaks range-narrowed type/PageSize"],
    },
    Edit {
        name: "amounts of fewer digits",
        file: "pilotage.wsdl",
        from: r#"<xs:totalDigits value="12"/>"#,
        to: r#"<xs:totalDigits value="9"/>"#,
        there: &["keeps digits-changed type/Amount"],
        back: &["breaks digits-changed type/Amount"],
    },
    Edit {
        name: "a tenth of a cent",
        file: "pilotage.wsdl",
        from: r#"<xs:fractionDigits value="2"/>"#,
        to: r#"<xs:fractionDigits value="3"/>"#,
        there: &["breaks digits-changed type/Amount"],
        back: &["keeps digits-changed type/Amount"],
    },
    Edit {
        name: "a call sign of three letters",
        file: "vessel.xsd",
        from: r"[A-Z0-9]{4,7}",
        to: r"[A-Z0-9]{3,7}",
        there: &["breaks pattern-changed type/CallSign"],
        back: &["breaks pattern-changed type/CallSign"],
    },
    Edit {
        name: "a vessel without a name",
        file: "vessel.xsd",
        from: r#"<xs:minLength value="1"/>"#,
        to: r#"<xs:minLength value="0"/>"#,
        there: &["breaks length-changed type/VesselName"],
        back: &["breaks length-changed type/VesselName"],
    },
    Edit {
        name: "a deeper draught",
        file: "vessel.xsd",
        from: r#"<xs:maxInclusive value="500"/>"#,
        to: r#"<xs:maxInclusive value="600"/>"#,
        there: &["breaks range-widened type/Metres"],
        back: &["breaks range-narrowed type/Metres"],
    },
    Edit {
        name: "no fishing vessels",
        file: "vessel.xsd",
        from: r#"      <xs:enumeration value="fishing"/>
"#,
        to: r"",
        there: &["breaks value-removed type/VesselKind"],
        back: &["breaks value-added type/VesselKind"],
    },
    Edit {
        name: "tonnes of nothing",
        file: "vessel.xsd",
        from: r#"<xs:minExclusive value="0"/>"#,
        to: r#"<xs:minInclusive value="0"/>"#,
        there: &["breaks range-widened type/Hazard/tonnes"],
        back: &["breaks range-narrowed type/Hazard/tonnes"],
    },
    Edit {
        name: "dimensions in order",
        file: "vessel.xsd",
        from: r"xs:all",
        to: r"xs:sequence",
        there: &["breaks order-changed type/Dimensions"],
        back: &["breaks order-changed type/Dimensions"],
    },
    Edit {
        name: "a last port is never nil",
        file: "vessel.xsd",
        from: r#" nillable="true""#,
        to: r"",
        there: &["breaks nil-refused type/Vessel/lastPort"],
        back: &["breaks nil-allowed type/Vessel/lastPort"],
    },
    Edit {
        name: "three hazards at most",
        file: "vessel.xsd",
        from: r#"minOccurs="0" maxOccurs="unbounded""#,
        to: r#"minOccurs="0" maxOccurs="3""#,
        there: &["breaks occurrence-tightened type/Vessel/hazard"],
        back: &["breaks occurrence-loosened type/Vessel/hazard"],
    },
    Edit {
        name: "a note must be there",
        file: "vessel.xsd",
        from: r#"<xs:element name="note" type="xs:string" minOccurs="0"/>"#,
        to: r#"<xs:element name="note" type="xs:string"/>"#,
        there: &["breaks occurrence-tightened type/Hazard/note"],
        back: &["breaks occurrence-loosened type/Hazard/note"],
    },
    Edit {
        name: "no note",
        file: "vessel.xsd",
        from: r#"      <xs:element name="note" type="xs:string" minOccurs="0"/>
"#,
        to: r"",
        there: &["breaks element-removed type/Hazard/note"],
        back: &["bends element-added type/Hazard/note"],
    },
    Edit {
        name: "a date for a time",
        file: "pilotage.wsdl",
        from: r#"<xs:element name="eta" type="xs:dateTime"/>"#,
        to: r#"<xs:element name="eta" type="xs:date"/>"#,
        there: &["breaks type-changed element/requestPilot/eta"],
        back: &["breaks type-changed element/requestPilot/eta"],
    },
    Edit {
        name: "more tugs",
        file: "pilotage.wsdl",
        from: r#"name="tugs" type="xs:unsignedByte""#,
        to: r#"name="tugs" type="xs:int""#,
        there: &["keeps type-changed element/requestPilot/tugs"],
        back: &["breaks type-changed element/requestPilot/tugs"],
    },
    Edit {
        name: "a remark that must be there",
        file: "pilotage.wsdl",
        from: r#"<xs:element name="eta" type="xs:dateTime"/>
            <xs:element name="agent" type="tns:Agent"/>
            <xs:element name="remark" type="xs:string" minOccurs="0"/>"#,
        to: r#"<xs:element name="eta" type="xs:dateTime"/>
            <xs:element name="agent" type="tns:Agent"/>
            <xs:element name="remark" type="xs:string"/>"#,
        there: &["breaks occurrence-tightened element/requestPilot/remark"],
        back: &["keeps occurrence-loosened element/requestPilot/remark"],
    },
    Edit {
        name: "one contact",
        file: "pilotage.wsdl",
        from: r#"type="tns:Contact" maxOccurs="unbounded""#,
        to: r#"type="tns:Contact""#,
        there: &["breaks occurrence-tightened type/Agent/contact"],
        back: &["keeps occurrence-loosened type/Agent/contact"],
    },
    Edit {
        name: "a third way to be reached",
        file: "pilotage.wsdl",
        from: r#"<xs:element name="radio" type="tns:RadioChannels"/>"#,
        to: r#"<xs:element name="radio" type="tns:RadioChannels"/><xs:element name="lamp" type="xs:string"/>"#,
        there: &["keeps choice-added type/Contact/lamp"],
        back: &["breaks choice-removed type/Contact/lamp"],
    },
    Edit {
        name: "an electronic address that must be there",
        file: "pilotage.wsdl",
        from: r#"<xs:element name="email" type="xs:string" minOccurs="0"/>"#,
        to: r#"<xs:element name="email" type="xs:string"/>"#,
        there: &["breaks occurrence-tightened type/Contact/email"],
        back: &["keeps occurrence-loosened type/Contact/email"],
    },
    Edit {
        name: "a person who is not abstract",
        file: "pilotage.wsdl",
        from: r#" abstract="true""#,
        to: r"",
        there: &[],
        back: &[],
    },
    Edit {
        name: "a window that ends first",
        file: "pilotage.wsdl",
        from: r#"<xs:element name="from" type="xs:dateTime"/>
          <xs:element name="until" type="xs:dateTime"/>"#,
        to: r#"<xs:element name="until" type="xs:dateTime"/>
          <xs:element name="from" type="xs:dateTime"/>"#,
        there: &["breaks order-changed type/TimeWindow"],
        back: &["breaks order-changed type/TimeWindow"],
    },
    Edit {
        name: "a currency that may be left out",
        file: "pilotage.wsdl",
        from: r#"type="tns:Currency" use="required""#,
        to: r#"type="tns:Currency""#,
        there: &["breaks attribute-optional type/Money/@currency"],
        back: &["keeps attribute-required type/Money/@currency"],
    },
    Edit {
        name: "a revision that has a default",
        file: "pilotage.wsdl",
        from: r#"<xs:attribute name="revised" type="xs:dateTime"/>"#,
        to: r#"<xs:attribute name="revised" type="xs:dateTime" use="required"/>"#,
        there: &["keeps attribute-required attribute-group/Revision/@revised"],
        back: &["breaks attribute-optional attribute-group/Revision/@revised"],
    },
    Edit {
        name: "no channel above 70",
        file: "pilotage.wsdl",
        from: r#"<xs:maxInclusive value="88"/>"#,
        to: r#"<xs:maxInclusive value="70"/>"#,
        there: &["breaks range-narrowed type/RadioChannels"],
        back: &["keeps range-widened type/RadioChannels"],
    },
    Edit {
        name: "a position that must be there",
        file: "pilotage.wsdl",
        from: r#"<xs:element name="position" type="tns:Position" minOccurs="0"/>"#,
        to: r#"<xs:element name="position" type="tns:Position"/>"#,
        there: &["breaks occurrence-tightened type/Passage/position"],
        back: &["keeps occurrence-loosened type/Passage/position"],
    },
    Edit {
        name: "whether it is passable goes by another name",
        file: "pilotage.wsdl",
        from: r#"<xs:element name="passable" type="xs:boolean"/>"#,
        to: r#"<xs:element name="open" type="xs:boolean"/>"#,
        there: &["breaks element-renamed type/TideWindow/open"],
        back: &["breaks element-renamed type/TideWindow/passable"],
    },
    Edit {
        name: "a total without a currency",
        file: "pilotage.wsdl",
        from: r#"<xs:element name="total" type="tns:Money"/>"#,
        to: r#"<xs:element name="total" type="tns:Amount"/>"#,
        there: &["breaks type-changed type/Statement/total", "breaks type-changed element/estimateDuesResponse/total"],
        back: &["breaks type-changed type/Statement/total", "bends type-changed element/estimateDuesResponse/total"],
    },
    Edit {
        name: "one state at a time",
        file: "pilotage.wsdl",
        from: r#"type="tns:BoardingState" minOccurs="0" maxOccurs="unbounded""#,
        to: r#"type="tns:BoardingState" minOccurs="0""#,
        there: &["breaks occurrence-tightened type/BoardingFilter/state"],
        back: &["keeps occurrence-loosened type/BoardingFilter/state"],
    },
    Edit {
        name: "licences are tokens",
        file: "pilotage.wsdl",
        from: r#"<xs:element name="licence" type="xs:string"/>"#,
        to: r#"<xs:element name="licence" type="xs:token"/>"#,
        there: &["bends type-changed element/AgentCredentials/licence"],
        back: &["bends type-changed element/AgentCredentials/licence"],
    },
    Edit {
        name: "credentials in another order",
        file: "pilotage.wsdl",
        from: r#"<xs:element name="agent" type="xs:token"/>
            <xs:element name="licence" type="xs:string"/>"#,
        to: r#"<xs:element name="licence" type="xs:string"/>
            <xs:element name="agent" type="xs:token"/>"#,
        there: &["breaks order-changed element/AgentCredentials"],
        back: &["breaks order-changed element/AgentCredentials"],
    },
];

/// The changes from one version to the other.
fn changes(folder: &Folder, from: &str, to: &str) -> Vec<Value> {
    let run = folder.run(&format!("compare {from}/pilotage.wsdl {to}/pilotage.wsdl --format json"));
    assert_eq!(run.err, "");
    run.json()["changes"].as_array().unwrap().clone()
}

fn shown(changes: &[Value]) -> Vec<String> {
    let word = |change: &Value, key: &str| change[key].as_str().unwrap().to_owned();
    changes
        .iter()
        .map(|change| {
            format!("{} {} {}", word(change, "verdict"), word(change, "rule"), word(change, "path"))
        })
        .collect()
}

/// Has the message of a change judged by both versions.
fn proven(folder: &Folder, change: &Value, name: &str) {
    let witness = &change["witness"];
    let body = witness["body"].as_str().unwrap_or_else(|| panic!("{name}: no message in {change:#}"));
    // A header block is no message by itself.
    if body.starts_with("<AgentCredentials") {
        return;
    }
    folder.write("body.xml", body);
    let (accepts, refuses) = if witness["accepted_by"] == "old" { ("old", "new") } else { ("new", "old") };
    let ends = |version: &str| folder.run(&format!("match {version}/pilotage.wsdl body.xml")).status;
    assert_eq!((ends(accepts), ends(refuses)), (0, 1), "{name}: {body}");
}

#[test]
fn each_edit_is_said_and_pinned_and_proven() {
    let folder = Folder::with_demo();
    let files = ["pilotage.wsdl", "vessel.xsd"];
    for edit in EDITS {
        for file in files {
            let text = folder.read(&format!("saltmere/v2/{file}"));
            assert!(file != edit.file || text.contains(edit.from), "{}", edit.name);
            let edited = if file == edit.file { text.replace(edit.from, edit.to) } else { text.clone() };
            folder.write(&format!("old/{file}"), &text);
            folder.write(&format!("new/{file}"), edited);
        }
        let (there, back) = (changes(&folder, "old", "new"), changes(&folder, "new", "old"));
        assert_eq!(shown(&there), edit.there, "{}", edit.name);
        assert_eq!(shown(&back), edit.back, "{} back", edit.name);
        for change in there.iter().filter(|change| change["verdict"] == "breaks") {
            proven(&folder, change, edit.name);
        }
    }
}

//! Comparisons of what the harbour office offers: rpc, encoded and literal, header faults, attachments, plain HTTP, policies.

use serde_json::Value;

use crate::program::folder::Folder;

/// What is changed in the contract of the office, and what comes of it there and back: each change as
/// `verdict rule path: sides`.
struct Row {
    name: &'static str,
    from: &'static str,
    to: &'static str,
    there: &'static [&'static str],
    back: &'static [&'static str],
}

#[rustfmt::skip]
const ROWS: &[Row] = &[
    Row {
        name: "a password is no longer demanded",
        from: "        <sp:UsernameToken><wsp:Policy><sp:HashPassword/></wsp:Policy></sp:UsernameToken>
",
        to: "",
        there: &["bends demand-removed binding/BerthingLiteral: listBerths input, reserveBerth input"],
        back: &["breaks demand-added binding/BerthingLiteral: listBerths input, reserveBerth input"],
    },
    Row {
        name: "addressing is no longer demanded",
        from: "    <wsam:Addressing/>
",
        to: "",
        there: &["bends demand-removed binding/BerthingLiteral: listBerths input, reserveBerth input"],
        back: &["breaks demand-added binding/BerthingLiteral: listBerths input, reserveBerth input"],
    },
    Row {
        name: "the policy is of the other binding too",
        from: r##"<wsdl:binding name="BerthingEncoded" type="tns:Berthing">"##,
        to: r##"<wsdl:binding name="BerthingEncoded" type="tns:Berthing"><wsp:PolicyReference URI="#Signed"/>"##,
        there: &["breaks demand-added binding/BerthingEncoded: listBerths input, reserveBerth input"],
        back: &["bends demand-removed binding/BerthingEncoded: listBerths input, reserveBerth input"],
    },
    Row {
        name: "the array holds something else",
        from: r##"wsdl:arrayType="tns:Berth[]""##,
        to: r##"wsdl:arrayType="tns:Stay[]""##,
        there: &["breaks type-changed type/Berths: listBerths output"],
        back: &["breaks type-changed type/Berths: listBerths output"],
    },
    Row {
        name: "the header is gone",
        from: r##"        <soap:header message="tns:DeskHeader" part="desk" use="encoded" namespace="urn:saltmere:harbour:1" encodingStyle="http://schemas.xmlsoap.org/soap/encoding/">
          <soap:headerfault message="tns:DeskHeader" part="closed" use="encoded" namespace="urn:saltmere:harbour:1" encodingStyle="http://schemas.xmlsoap.org/soap/encoding/"/>
        </soap:header>
"##,
        to: "",
        there: &["bends header-removed operation/reserveBerth/input: reserveBerth input", "keeps header-fault-removed operation/reserveBerth/output: reserveBerth output"],
        back: &["breaks header-added operation/reserveBerth/input: reserveBerth input", "bends header-fault-added operation/reserveBerth/output: reserveBerth output"],
    },
    Row {
        name: "the fault of the header is gone",
        from: r##"          <soap:headerfault message="tns:DeskHeader" part="closed" use="encoded" namespace="urn:saltmere:harbour:1" encodingStyle="http://schemas.xmlsoap.org/soap/encoding/"/>
"##,
        to: "",
        there: &["keeps header-fault-removed operation/reserveBerth/output: reserveBerth output"],
        back: &["bends header-fault-added operation/reserveBerth/output: reserveBerth output"],
    },
    Row {
        name: "the fault of the header is another type",
        from: r##"<xs:element name="opens" type="xs:time"/>"##,
        to: r##"<xs:element name="opens" type="xs:dateTime"/>"##,
        there: &["breaks type-changed type/DeskClosed/opens: reserveBerth output"],
        back: &["breaks type-changed type/DeskClosed/opens: reserveBerth output"],
    },
    Row {
        name: "the header holds more",
        from: r##"<xs:element name="shift" type="xs:int"/>"##,
        to: r##"<xs:element name="shift" type="xs:int"/><xs:element name="desk" type="xs:token"/>"##,
        there: &["breaks element-added type/Desk/desk: reserveBerth input"],
        back: &["breaks element-removed type/Desk/desk: reserveBerth input"],
    },
    Row {
        name: "a value less",
        from: r##"          <xs:enumeration value="fish"/>
"##,
        to: "",
        there: &["breaks value-removed type/Quay: listBerths input"],
        back: &["breaks value-added type/Quay: listBerths output"],
    },
    Row {
        name: "a wider range",
        from: r##"<xs:maxInclusive value="40"/>"##,
        to: r##"<xs:maxInclusive value="50"/>"##,
        there: &["breaks range-widened type/Metres: listBerths output, nextTide output"],
        back: &["breaks range-narrowed type/Metres: listBerths input"],
    },
    Row {
        name: "a part more",
        from: r##"<wsdl:part name="depth" type="tns:Metres"/>"##,
        to: r##"<wsdl:part name="depth" type="tns:Metres"/><wsdl:part name="lit" type="xs:boolean"/>"##,
        there: &["breaks part-added message/listBerthsInput/part/lit: listBerths input"],
        back: &["breaks part-removed message/listBerthsInput/part/lit: listBerths input"],
    },
    Row {
        name: "parts change places",
        from: r##"<wsdl:part name="quay" type="tns:Quay"/>
    <wsdl:part name="depth" type="tns:Metres"/>"##,
        to: r##"<wsdl:part name="depth" type="tns:Metres"/>
    <wsdl:part name="quay" type="tns:Quay"/>"##,
        there: &["breaks order-changed message/listBerthsInput: listBerths input"],
        back: &["breaks order-changed message/listBerthsInput: listBerths input"],
    },
    Row {
        name: "members of an array hold more",
        from: r##"<xs:element name="free" type="xs:boolean"/>"##,
        to: r##"<xs:element name="free" type="xs:boolean"/><xs:element name="power" type="xs:boolean"/>"##,
        there: &["bends element-added type/Berth/power: listBerths output"],
        back: &["breaks element-removed type/Berth/power: listBerths output"],
    },
    Row {
        name: "an encoded value of another type",
        from: r##"<wsdl:part name="reservation" type="xs:int"/>"##,
        to: r##"<wsdl:part name="reservation" type="xs:string"/>"##,
        there: &["breaks type-changed message/reserveBerthOutput/part/reservation: reserveBerth output"],
        back: &["bends type-changed message/reserveBerthOutput/part/reservation: reserveBerth output"],
    },
    Row {
        name: "a type of encoded values goes by another name",
        from: "Metres",
        to: "Span",
        there: &[
            "breaks type-changed type/Span: listBerths input, listBerths output",
            "keeps type-renamed type/Span: ",
        ],
        back: &[
            "breaks type-changed type/Metres: listBerths input, listBerths output",
            "keeps type-renamed type/Metres: ",
        ],
    },
    Row {
        name: "a wrapper in another namespace",
        from: r##"<wsdl:input><soap12:body use="literal" namespace="urn:saltmere:harbour:1"/></wsdl:input>"##,
        to: r##"<wsdl:input><soap12:body use="literal" namespace="urn:saltmere:harbour:2"/></wsdl:input>"##,
        there: &["breaks namespace-moved contract: listBerths input, reserveBerth input"],
        back: &["breaks namespace-moved contract: listBerths input, reserveBerth input"],
    },
    Row {
        name: "the fault is gone",
        from: r##"      <wsdl:fault name="BerthTaken" message="tns:BerthTaken"/>
"##,
        to: "",
        there: &["keeps fault-removed operation/reserveBerth/fault/BerthTaken: reserveBerth fault BerthTaken"],
        back: &["bends fault-added operation/reserveBerth/fault/BerthTaken: reserveBerth fault BerthTaken"],
    },
    Row {
        name: "the fault holds something else",
        from: r##"<xs:element name="freeFrom" type="xs:dateTime"/>"##,
        to: r##"<xs:element name="freeFrom" type="xs:dateTime" minOccurs="0"/>"##,
        there: &["breaks occurrence-loosened type/BerthTaken/freeFrom: reserveBerth fault BerthTaken"],
        back: &["keeps occurrence-tightened type/BerthTaken/freeFrom: reserveBerth fault BerthTaken"],
    },
    Row {
        name: "a picture of another type",
        from: r##"type="image/png""##,
        to: r##"type="image/gif""##,
        there: &["breaks media-type-changed operation/fileChart/input: fileChart input"],
        back: &["breaks media-type-changed operation/fileChart/input: fileChart input"],
    },
    Row {
        name: "a picture of either type",
        from: r##"<mime:content part="chart" type="image/png"/>"##,
        to: r##"<mime:content part="chart" type="image/gif"/><mime:content part="chart" type="image/png"/>"##,
        there: &["keeps media-type-changed operation/fileChart/input: fileChart input"],
        back: &["breaks media-type-changed operation/fileChart/input: fileChart input"],
    },
    Row {
        name: "any picture",
        from: r##"type="image/png"/>"##,
        to: r##"type="image/*"/>"##,
        there: &["keeps media-type-changed operation/fileChart/input: fileChart input"],
        back: &["breaks media-type-changed operation/fileChart/input: fileChart input"],
    },
    Row {
        name: "no attachment",
        from: r##"          <mime:part><mime:content part="chart" type="image/png"/></mime:part>
"##,
        to: "",
        there: &["breaks part-removed operation/fileChart/input: fileChart input"],
        back: &["breaks part-added operation/fileChart/input: fileChart input"],
    },
    Row {
        name: "another path",
        from: r##"location="form""##,
        to: r##"location="forms""##,
        there: &["breaks path-changed operation/nextTide/input: nextTide input"],
        back: &["breaks path-changed operation/nextTide/input: nextTide input"],
    },
    Row {
        name: "a path of other fields",
        from: "at/(berth)/on/(day)",
        to: "on/(day)/at/(berth)",
        there: &["breaks path-changed operation/nextTide/input: nextTide input"],
        back: &["breaks path-changed operation/nextTide/input: nextTide input"],
    },
    Row {
        name: "a field less",
        from: r##"    <wsdl:part name="berth" type="xs:string"/>
    <wsdl:part name="day" type="xs:date"/>
"##,
        to: r##"    <wsdl:part name="day" type="xs:date"/>
"##,
        there: &["breaks part-removed message/nextTideInput/part/berth: nextTide input"],
        back: &["breaks part-added message/nextTideInput/part/berth: nextTide input"],
    },
    Row {
        name: "a field of another type",
        from: r##"<wsdl:part name="day" type="xs:date"/>"##,
        to: r##"<wsdl:part name="day" type="xs:gYearMonth"/>"##,
        there: &["breaks type-changed message/nextTideInput/part/day: nextTide input"],
        back: &["breaks type-changed message/nextTideInput/part/day: nextTide input"],
    },
    Row {
        name: "the reply of plain HTTP holds more",
        from: r##"<xs:element name="height" type="tns:Metres"/>"##,
        to: r##"<xs:element name="height" type="tns:Metres"/><xs:element name="gauge" type="xs:token" minOccurs="0"/>"##,
        there: &["bends element-added element/tide/gauge: nextTide output"],
        back: &["bends element-removed element/tide/gauge: nextTide output"],
    },
    Row {
        name: "a port less",
        from: r##"    <wsdl:port name="TidesPathPort" binding="tns:TidesPath">
      <http:address location="https://harbour.saltmere.example/tides"/>
    </wsdl:port>
"##,
        to: "",
        there: &["breaks port-removed service/HarbourService/port/TidesPathPort: "],
        back: &["keeps port-added service/HarbourService/port/TidesPathPort: "],
    },
    Row {
        name: "another address",
        from: "harbour.saltmere.example/charts",
        to: "harbour.saltmere.example/chart-room",
        there: &["bends address-changed service/HarbourService/port/ChartsPort: "],
        back: &["bends address-changed service/HarbourService/port/ChartsPort: "],
    },
];

/// The changes from one text of the contract to another; every *breaks* of messages is shown, every *bends* says on what
/// it depends.
fn changes(folder: &Folder, old: &str, new: &str) -> Vec<String> {
    folder.write("old.wsdl", old);
    folder.write("new.wsdl", new);
    let json = folder.run("compare old.wsdl new.wsdl --format json").json();
    let text = |value: &Value| value.as_str().unwrap().to_owned();
    let shown = |change: &Value| {
        let verdict = text(&change["verdict"]);
        let sides = change["operations"].as_array().unwrap();
        assert!(verdict != "breaks" || sides.is_empty() || !change["witness"].is_null(), "{change}");
        assert!(verdict != "bends" || !change["depends_on"].is_null(), "{change}");
        let worst = sides.iter().filter(|side| side["verdict"] == change["verdict"]);
        let worst: Vec<String> =
            worst.map(|side| text(&side["operation"]) + " " + &text(&side["side"])).collect();
        format!("{verdict} {} {}: {}", text(&change["rule"]), text(&change["path"]), worst.join(", "))
    };
    json["changes"].as_array().unwrap().iter().map(shown).collect()
}

#[test]
fn what_the_office_offers() {
    let folder = Folder::with_demo();
    let old = folder.read("saltmere/office/harbour.wsdl");
    let mut wrong = Vec::new();
    for row in ROWS {
        assert!(old.contains(row.from), "{}", row.name);
        let new = old.replace(row.from, row.to);
        for (way, expected, found) in [
            ("there", row.there, changes(&folder, &old, &new)),
            ("back", row.back, changes(&folder, &new, &old)),
        ] {
            if found != expected {
                wrong.push(format!("{}, {way}: {found:#?}", row.name));
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn a_type_of_encoded_values_can_have_its_old_name_again() {
    let folder = Folder::with_demo();
    let old = folder.read("saltmere/office/harbour.wsdl");
    folder.write("old.wsdl", &old);
    folder.write("new.wsdl", old.replace("Metres", "Span"));
    let said = "its encoded values name the type \"Span\" now, and \"Metres\" before";
    let advice = "no way out: encoded values say the name of their type: give it the old name again, with charter rename";
    folder.run("compare old.wsdl new.wsdl").ends(1).says(said).says(advice);
    folder.run("rename new.wsdl type/Span Metres").ends(0);
    folder.run("compare old.wsdl new.wsdl").ends(0).says("nothing that consumers can see has changed");
}

#[test]
fn an_attachment_that_is_gone_from_the_message_too_is_pinned_to_it() {
    let folder = Folder::with_demo();
    let old = folder.read("saltmere/office/harbour.wsdl");
    let part = old.lines().find(|line| line.contains("<wsdl:part name=\"chart\"")).unwrap().to_owned();
    let bound = "          <mime:part><mime:content part=\"chart\" type=\"image/png\"/></mime:part>\n";
    folder.write("new.wsdl", old.replace(&format!("{part}\n"), "").replace(bound, ""));
    let json = folder.run("compare saltmere/office/harbour.wsdl new.wsdl --format json").ends(1).json();
    let change = &json["changes"][0];
    assert_eq!(change["rule"], "part-removed");
    let path = change["path"].as_str().unwrap();
    assert!(path.starts_with("message/") && path.ends_with("/part/chart"), "{path}");
    assert_eq!(json["changes"].as_array().unwrap().len(), 1, "{json:#}");
}

#[test]
fn the_office_is_itself() {
    let folder = Folder::with_demo();
    let office = folder.read("saltmere/office/harbour.wsdl");
    let other_names = office.replace("xmlns:tns", "xmlns:office").replace("tns:", "office:");
    assert_eq!(changes(&folder, &office, &other_names), [""; 0]);
}

#[test]
fn a_demand_is_shown_by_the_least_request_of_each_side() {
    let folder = Folder::with_demo();
    let old = folder.read("saltmere/office/harbour.wsdl");
    let bound = "<wsdl:binding name=\"BerthingEncoded\" type=\"tns:Berthing\">";
    folder.write("new.wsdl", old.replace(bound, &format!("{bound}<wsp:PolicyReference URI=\"#Signed\"/>")));
    let run = folder.run("compare saltmere/office/harbour.wsdl new.wsdl").ends(1);
    run.says("requests must now have: addressing, user name with hashed password")
        .says("<quay>")
        .says("2 of 4 operations no longer work as they did");
}

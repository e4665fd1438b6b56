//! `charter match` on messages that were caught on the wire.

use std::io::Write;

use flate2::Compression;
use flate2::write::GzEncoder;

use crate::program::folder::{Folder, Run};

const V1: &str = "saltmere/v1/pilotage.wsdl";
const OFFICE: &str = "saltmere/office/harbour.wsdl";

/// The demo data, and the typical message of an operation as a file.
fn with_message(words: &str, name: &str) -> Folder {
    let folder = Folder::with_demo();
    let text = folder.run(&format!("message {words}")).ends(0).out;
    folder.write(name, text);
    folder
}

/// The file with some of its text replaced.
fn changed(folder: &Folder, file: &str, from: &str, to: &str) -> String {
    let text = folder.read(file);
    assert!(text.contains(from), "{from} is not in {text}");
    text.replace(from, to)
}

fn judged(folder: &Folder, contract: &str, text: impl AsRef<[u8]>) -> Run {
    folder.write("captured", text);
    folder.run(&format!("match {contract} captured"))
}

#[test]
fn an_envelope_is_told_by_its_body_with_line_and_wire_path() {
    let folder = with_message(&format!("{V1} requestPilot"), "m.xml");
    folder
        .run(&format!("match {V1} m.xml"))
        .ends(0)
        .says("m.xml: matches operation/requestPilot/input by PilotagePort, SOAP 1.1");
    let text = changed(&folder, "m.xml", "<v:draught>9.4<", "<v:draught>deep<");
    let run = judged(&folder, V1, text)
        .ends(1)
        .says("requestPilot/vessel/dimensions/draught: \"deep\" is not a decimal");
    run.says("cvc-datatype-valid  captured:17:").says("does not match operation/requestPilot/input");
    let text = changed(&folder, "m.xml", "<licence>HL-2041</licence>", "");
    judged(&folder, V1, text).ends(1).says("$header/AgentCredentials: \"AgentCredentials\" ends too early");
    let twelve = changed(
        &folder,
        "m.xml",
        "http://schemas.xmlsoap.org/soap/envelope/",
        "http://www.w3.org/2003/05/soap-envelope",
    );
    judged(&folder, V1, twelve).ends(0).says("by PilotagePort12, SOAP 1.2");
}

#[test]
fn header_blocks_are_required_known_or_worth_a_note() {
    let folder = with_message(&format!("{V1} requestPilot"), "m.xml");
    let text = folder.read("m.xml");
    let (before, rest) = text.split_once("<env:Header>").unwrap();
    let (_, after) = rest.split_once("</env:Header>").unwrap();
    let run = judged(&folder, V1, format!("{before}{after}")).ends(1);
    run.says("$header/AgentCredentials: the header block \"AgentCredentials\" is missing")
        .says("header-missing");
    let pass = "<env:Header><p:pass xmlns:p=\"urn:saltmere:pass\"";
    let must =
        changed(&folder, "m.xml", "<env:Header>", &format!("{pass} env:mustUnderstand=\"1\">1</p:pass>"));
    judged(&folder, V1, must).ends(1).says("header-not-understood").says("$header/pass");
    let may = changed(&folder, "m.xml", "<env:Header>", &format!("{pass}>1</p:pass>"));
    judged(&folder, V1, &may).ends(0).lacks("header-unknown");
    folder.run(&format!("match {V1} captured --notes")).ends(0).says("header-unknown").says("1 note");
    let odd = changed(&folder, "m.xml", "<AgentCredentials", "<AgentCredentials env:mustUnderstand=\"yes\"");
    judged(&folder, V1, odd).ends(1).says("must-understand-value");
    let elsewhere = changed(
        &folder,
        "m.xml",
        "<AgentCredentials xmlns=\"urn:saltmere:pilotage:1\"",
        "<AgentCredentials xmlns=\"urn:saltmere:pilotage:2\"",
    );
    judged(&folder, V1, elsewhere).ends(1).says("the one that is here is in another namespace");
}

#[test]
fn a_message_that_fits_no_operation_is_held_against_the_nearest() {
    let folder = with_message(&format!("{V1} requestPilot"), "m.xml");
    let other = changed(&folder, "m.xml", "requestPilot", "bookPilotFor");
    let run = judged(&folder, V1, other).ends(1).says("\"bookPilotFor\" belongs to no operation");
    run.says("it comes nearest to operation/requestPilot/input, where it is named \"requestPilot\"");
    let json = folder.run(&format!("match {V1} captured --format json")).ends(1).json();
    assert!(json["messages"][0]["operation"].is_null());
    let namespace = changed(
        &folder,
        "m.xml",
        "<requestPilot xmlns=\"urn:saltmere:pilotage:1\"",
        "<requestPilot xmlns=\"urn:saltmere:pilotage:9\"",
    );
    judged(&folder, V1, namespace)
        .ends(1)
        .says("\"requestPilot\" is in urn:saltmere:pilotage:9")
        .says("it is in urn:saltmere:pilotage:1");
    let envelope = "<e:Envelope xmlns:e=\"http://schemas.xmlsoap.org/soap/envelope/\"><e:Body><towage/></e:Body></e:Envelope>";
    judged(&folder, V1, envelope)
        .ends(1)
        .says("\"towage\" belongs to no operation")
        .says("bodies begin with");
}

#[test]
fn a_renamed_element_is_named_as_such() {
    let folder = with_message("saltmere/v3/pilotage.wsdl requestPilot --side output", "m.xml");
    let run = judged(&folder, "saltmere/v2/pilotage.wsdl", folder.read("m.xml")).ends(1);
    let run = run.says("\"assignedPilot\" has no place here");
    run.says("it holds what \"pilot\" holds, which is missing: was it renamed?").says("output");
}

#[test]
fn faults_are_told_by_their_names() {
    let folder = with_message(&format!("{V1} requestPilot --fault NoPilotFree"), "m.xml");
    folder.run(&format!("match {V1} m.xml")).ends(0).says("matches operation/requestPilot/fault/NoPilotFree");
    let json = folder.run(&format!("match {V1} m.xml --format json")).ends(0).json();
    assert_eq!(json["messages"][0]["side"], "fault NoPilotFree");
    let strange = changed(&folder, "m.xml", "NoPilotFree", "StrikeOfPilots");
    let run = judged(&folder, V1, &strange);
    run.says("StrikeOfPilots").says("fault");
    let bare = "<e:Envelope xmlns:e=\"http://schemas.xmlsoap.org/soap/envelope/\"><e:Body><e:Fault><faultcode>e:Server</faultcode><faultstring>No.</faultstring></e:Fault></e:Body></e:Envelope>";
    judged(&folder, V1, bare).ends(0);
    judged(&folder, V1, bare.replace("<faultcode>e:Server</faultcode>", ""))
        .ends(1)
        .says("fault-structure")
        .says("faultcode");
    judged(&folder, V1, bare.replace("faultstring", "e:faultstring"))
        .ends(1)
        .says("is in the wrong namespace");
}

#[test]
fn an_http_exchange_is_judged_with_what_stands_around_it() {
    let folder = with_message(&format!("{V1} requestPilot --as http"), "m.http");
    let reply = folder.run(&format!("message {V1} requestPilot --side output --as http")).ends(0).out;
    let both = format!("{}\r\n{reply}", folder.read("m.http"));
    let run = judged(&folder, V1, both).ends(0).says("captured#1: matches operation/requestPilot/input");
    run.says("captured#2: matches operation/requestPilot/output").says("all: 2 of 2 match");
    let change = |from: &str, to: &str| judged(&folder, V1, changed(&folder, "m.http", from, to));
    change("Content-Type: text/xml", "Content-Type: application/json")
        .ends(1)
        .says("content-type")
        .says("SOAP 1.1 has text/xml");
    change(
        "SOAPAction: \"urn:saltmere:pilotage:1:requestPilot\"",
        "SOAPAction: \"urn:saltmere:pilotage:1:declareCargo\"",
    )
    .ends(1)
    .says("action-wrong");
    change("SOAPAction: \"urn:saltmere:pilotage:1:requestPilot\"\r\n", "").ends(1).says("action-missing");
    change("POST ", "PUT ").ends(1).says("http-method");
    // A line in the body is the line of the file.
    let run = change("<v:draught>9.4<", "<v:draught>deep<").ends(1);
    run.says("captured:23:");
    let odd = reply.replace("200 OK", "404 Not Found");
    judged(&folder, V1, odd).ends(0).says("http-status").says("1 warning");
}

#[test]
fn a_reply_that_is_sent_as_a_request_is_said_to_be_one() {
    let folder = with_message(&format!("{V1} requestPilot --side output"), "m.xml");
    let text = format!("POST /1 HTTP/1.1\r\nContent-Type: text/xml\r\n\r\n{}", folder.read("m.xml"));
    let run = judged(&folder, V1, text).ends(1);
    run.says("\"requestPilotResponse\" is that of operation/requestPilot/output, and this is a request");
}

#[test]
fn chunks_wrong_lengths_and_other_encodings_are_borne() {
    let folder = with_message(&format!("{V1} declareCargo --as http"), "m.http");
    let text = folder.read("m.http");
    let (head, body) = text.split_once("\r\n\r\n").unwrap();
    let length = body.len().to_string();
    let chunked = format!(
        "{}\r\n\r\n{:x}\r\n{}\r\n{:x}\r\n{}\r\n0\r\n\r\n",
        head.replace(&format!("Content-Length: {length}"), "Transfer-Encoding: chunked"),
        100,
        &body[..100],
        body.len() - 100,
        &body[100..]
    );
    judged(&folder, V1, chunked).ends(0).says("matches operation/declareCargo/input");
    judged(&folder, V1, text.replace(&length, "99999")).ends(0);
    judged(&folder, V1, text.replace("\r\n", "\n")).ends(0);
    let declared =
        format!("{head}\r\n\r\n<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n{body}").replace(&length, "99999");
    judged(&folder, V1, declared).ends(0);
    let wide: Vec<u8> = format!("\u{feff}{body}").encode_utf16().flat_map(u16::to_le_bytes).collect();
    judged(&folder, V1, &wide).ends(0);
    let mut http = format!("{head}\r\n\r\n").replace(&length, &wide.len().to_string()).into_bytes();
    http.extend(&wide);
    judged(&folder, V1, http).ends(0).says("matches operation/declareCargo/input");
}

#[test]
fn what_was_sent_compressed_is_unpacked_within_a_bound() {
    let folder = with_message(&format!("{V1} declareCargo --as http"), "m.http");
    let text = folder.read("m.http");
    let (head, body) = text.split_once("\r\n\r\n").unwrap();
    let length = format!("Content-Length: {}", body.len());
    assert!(head.contains(&length), "{head}");
    let sent = |body: &[u8], coding: &str| {
        let mut gzip = GzEncoder::new(Vec::new(), Compression::default());
        gzip.write_all(body).unwrap();
        let packed = gzip.finish().unwrap();
        let fields = format!("Content-Length: {}\r\nContent-Encoding: {coding}", packed.len());
        let mut http = format!("{}\r\n\r\n", head.replace(&length, &fields)).into_bytes();
        http.extend(&packed);
        judged(&folder, V1, http)
    };
    sent(body.as_bytes(), "gzip").ends(0).says("matches operation/declareCargo/input");
    sent(body.as_bytes(), "br").ends(1).says("compressed by br").says("before they were compressed");
    sent(body.as_bytes(), "deflate").ends(1).says("cannot be unpacked");
    sent(&vec![b' '; 64 << 20], "gzip").ends(1).says("unpacks to more than is read");
}

#[test]
fn plain_http_is_told_by_method_and_path() {
    let folder = Folder::with_demo();
    let request = |line: &str| judged(&folder, OFFICE, format!("{line} HTTP/1.1\r\nHost: a\r\n\r\n"));
    request("GET /tides/next?berth=N4&day=2026-03-14")
        .ends(0)
        .says("operation/nextTide/input by TidesGetPort, HTTP GET");
    request("GET /tides/at/N%204/on/2026-03-14").ends(0).says("by TidesPathPort");
    request("GET /tides/next?berth=N4&day=soon").ends(1).says("day: \"soon\" is not a date");
    request("GET /tides/next?berth=N4").ends(1).says("day: the part \"day\" is missing");
    request("GET /tides/next?birth=N4&day=2026-03-14").ends(1).says("did you mean \"berth\"?");
    request("GET /moon").ends(1).says("no operation is offered by GET /moon").says("GET /tides/next");
    let form = "POST /tides/form HTTP/1.1\r\nContent-Type: application/x-www-form-urlencoded\r\n\r\nberth=N+4&day=2026-03-14\n";
    judged(&folder, OFFICE, form).ends(0).says("by TidesFormPort");
}

#[test]
fn encoded_values_may_refer_to_each_other() {
    let folder = Folder::with_demo();
    let envelope = |parts: &str, more: &str| {
        format!(
            r##"<e:Envelope xmlns:e="http://schemas.xmlsoap.org/soap/envelope/" xmlns:c="http://schemas.xmlsoap.org/soap/encoding/" xmlns:h="urn:saltmere:harbour:1"><e:Body><h:listBerthsResponse e:encodingStyle="http://schemas.xmlsoap.org/soap/encoding/">{parts}</h:listBerthsResponse>{more}</e:Body></e:Envelope>"##
        )
    };
    let berth = "<name>N4</name><quay>north</quay><depth>9.4</depth><free>1</free>";
    let array =
        |members: &str, size: u8| format!("<berths c:arrayType=\"h:Berth[{size}]\">{members}</berths>");
    let whole = envelope(
        &array(&format!("<b>{berth}</b><b href=\"#b1\"/>"), 2),
        &format!("<m id=\"b1\">{berth}</m>"),
    );
    judged(&folder, OFFICE, &whole).ends(0).says("listBerths/output by BerthingPort");
    let run = folder.run(&format!("match {OFFICE} captured --values")).ends(0);
    assert_eq!(run.json()["berths"][1]["name"], "N4");
    judged(&folder, OFFICE, whole.replace("#b1", "#b2")).ends(1).says("encoded-reference");
    judged(&folder, OFFICE, envelope(&array(&format!("<b>{berth}</b>"), 3), ""))
        .ends(1)
        .says("encoded-array");
    let wrong = array(&format!("<b>{berth}</b>"), 1).replace("9.4", "deep");
    judged(&folder, OFFICE, envelope(&wrong, "")).ends(1).says("\"deep\" is not a decimal");
    // A circle of references ends.
    let circle = envelope(&array("<b href=\"#b1\"/>", 1), "<m id=\"b1\" href=\"#b1\"/>");
    judged(&folder, OFFICE, circle);
}

#[test]
fn parts_of_a_multipart_message_are_found_by_their_names() {
    let folder = with_message(&format!("{OFFICE} fileChart"), "m.http");
    let change = |from: &str, to: &str| judged(&folder, OFFICE, changed(&folder, "m.http", from, to));
    change("sheet", "sheet").ends(0).says("matches operation/fileChart/input by ChartsPort");
    let run = folder.run(&format!("match {OFFICE} m.http --values")).ends(0);
    assert_eq!(run.json()["$attached"]["chart"], "U2FtcGxl");
    change("<chart=", "<map=").ends(1).says("attachment-missing");
    change("image/png", "image/gif").ends(0).says("attachment-type");
}

#[test]
fn json_lines_hold_a_message_a_line() {
    let folder = with_message(&format!("{V1} declareCargo"), "m.xml");
    let text = folder.read("m.xml");
    let line = |value: serde_json::Value| value.to_string();
    let lines = [
        line(text.clone().into()),
        line(serde_json::json!({"body": text.replace("<v:tonnes>44<", "<v:tonnes>-44<")})),
        String::new(),
        line(
            serde_json::json!({"method": "POST", "target": "/1", "headers": {"SOAPAction": "\"wrong\"", "Content-Type": "text/xml"}, "body": text}),
        ),
        "{\"size\": 3}".to_owned(),
        "{broken".to_owned(),
    ];
    let run = judged(&folder, V1, lines.join("\n"))
        .ends(1)
        .says("captured#1: matches operation/declareCargo/input");
    let run = run.says("captured#2: does not match").says("captured#4: does not match").says("action-wrong");
    let run = run.says("this line has no message").says("this line is not JSON").says("all: 1 of 5 match");
    run.says("cvc-minExclusive-valid");
    // What the program itself writes can be read again.
    let json = folder.run(&format!("message {V1} declareCargo --format json")).ends(0).json();
    judged(&folder, V1, json.to_string()).ends(0);
}

#[test]
fn a_folder_of_messages_is_judged_whole() {
    let folder = Folder::with_demo();
    folder.run(&format!("message {V1} --all sent --port PilotagePort")).ends(0);
    folder.write("sent/deeper/more.xml", folder.read("saltmere/sent/declare-cargo.xml"));
    folder.write("sent/.hidden", "nothing");
    folder
        .run(&format!("match {V1} sent"))
        .ends(0)
        .says("all: 29 of 29 match")
        .says("declareCargo/input, the body alone");
    std::fs::create_dir(folder.path("empty")).unwrap();
    folder.run(&format!("match {V1} empty")).ends(2).complains("there is no message in this folder");
}

#[test]
fn what_is_no_message_is_said_in_clear_words() {
    let folder = with_message(&format!("{V1} declareCargo"), "m.xml");
    judged(&folder, V1, "").ends(1).says("this is no message: neither XML nor HTTP");
    judged(&folder, V1, "Fog until noon.").ends(1).says("message-unreadable");
    judged(&folder, V1, "<a><b></a>").ends(1).says("xml-well-formed");
    judged(&folder, V1, [0xff, 0xfe, 0x00]).ends(1);
    judged(&folder, V1, "<towage/>").ends(1).says("no schema declares a global element \"towage\"");
    let text = folder.read("m.xml");
    judged(&folder, V1, format!("<!DOCTYPE e [<!ENTITY a \"b\">]>\n{text}")).ends(1).says("R1008");
    let odd = text.replace("http://schemas.xmlsoap.org/soap/envelope/", "http://saltmere.example/envelope");
    judged(&folder, V1, odd)
        .ends(1)
        .says("this envelope is of no version of SOAP")
        .says("http://saltmere.example/envelope");
    let empty = "<e:Envelope xmlns:e=\"http://schemas.xmlsoap.org/soap/envelope/\"/>";
    judged(&folder, V1, empty).ends(1).says("the envelope has no body");
    let body = "<e:Envelope xmlns:e=\"http://schemas.xmlsoap.org/soap/envelope/\"><e:Body/></e:Envelope>";
    judged(&folder, V1, body).ends(1).says("the body is empty, and no operation has such a message");
    let bare = "POST /1 HTTP/1.1\r\nContent-Type: text/xml\r\n\r\n<p:declareCargo xmlns:p=\"urn:saltmere:pilotage:1\"/>";
    judged(&folder, V1, bare).ends(1).says("envelope-missing");
    let text = "POST /1 HTTP/1.1\r\nContent-Type: text/plain\r\n\r\nfog";
    judged(&folder, V1, text).ends(1).says("the body is no envelope");
    judged(&folder, V1, "HTTP/1.1 202 Accepted\r\n\r\n").ends(0);
}

#[test]
fn an_envelope_of_the_wrong_version_is_still_judged() {
    let folder = with_message(&format!("{OFFICE} fileChart --as envelope"), "m.xml");
    let text = changed(
        &folder,
        "m.xml",
        "http://schemas.xmlsoap.org/soap/envelope/",
        "http://www.w3.org/2003/05/soap-envelope",
    );
    let run = judged(&folder, OFFICE, text.replace("2026-03-14", "soon")).ends(1).says("envelope-version");
    run.says("is offered by SOAP 1.1").says("\"soon\" is not a date");
}

#[test]
fn thousands_of_messages_come_out_in_their_order() {
    let folder = with_message(&format!("{V1} declareCargo"), "m.xml");
    let good = serde_json::Value::from(folder.read("m.xml")).to_string();
    let bad = good.replace("<v:tonnes>44<", "<v:tonnes>x<");
    let lines: Vec<&str> =
        (0..3000).map(|n| if n % 1000 == 7 { bad.as_str() } else { good.as_str() }).collect();
    let run = judged(&folder, V1, lines.join("\n")).ends(1).says("all: 2997 of 3000 match");
    let order: Vec<&str> = run
        .out
        .lines()
        .filter(|line| line.contains("does not match"))
        .map(|line| line.split(':').next().unwrap())
        .collect();
    assert_eq!(order, ["captured#8", "captured#1008", "captured#2008"]);
}

#[test]
fn a_part_in_rpc_style_is_never_nil() {
    let folder = with_message(&format!("{OFFICE} listBerths --port BerthingPort12"), "m.xml");
    let nil = "<depth xmlns:i=\"http://www.w3.org/2001/XMLSchema-instance\" i:nil=\"true\">";
    judged(&folder, OFFICE, changed(&folder, "m.xml", "<depth>", nil))
        .ends(1)
        .says("the part \"depth\" is nil");
}

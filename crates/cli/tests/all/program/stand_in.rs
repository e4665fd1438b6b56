//! `charter answer`: what the stand-in replies.

use std::io::{BufReader, Read, Write};
use std::time::Duration;

use flate2::Compression;
use flate2::read::GzDecoder;
use flate2::write::GzEncoder;

use super::folder::{Folder, contract};
use super::serving::{Came, Serving, receive, send};

/// An envelope of SOAP 1.1 around some header blocks and a body.
pub fn envelope(header: &str, body: &str) -> String {
    let header = if header.is_empty() { String::new() } else { format!("<e:Header>{header}</e:Header>") };
    format!(
        "<e:Envelope xmlns:e=\"http://schemas.xmlsoap.org/soap/envelope/\" xmlns:t=\"urn:saltmere:tides:1\">{header}<e:Body>{body}</e:Body></e:Envelope>"
    )
}

pub const NEXT_TIDE: &str = "<t:nextTide><t:gauge>pier</t:gauge></t:nextTide>";
pub const ACTION: &str = "urn:saltmere:tides:1:nextTide";

/// A folder with the example contract, served.
fn tides(changes: &[(&str, &str)]) -> (Folder, Serving) {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(changes));
    let serving = folder.serve("answer tides.wsdl");
    (folder, serving)
}

/// The example contract over SOAP 1.2.
fn over_12() -> Vec<(&'static str, &'static str)> {
    vec![
        ("http://schemas.xmlsoap.org/wsdl/soap/", "http://schemas.xmlsoap.org/wsdl/soap12/"),
        ("http://www.w3.org/2001/XMLSchema\" xmlns:soap", "http://www.w3.org/2001/XMLSchema\" xmlns:soap"),
    ]
}

impl Came {
    /// The child of the body, if the reply is what the contract says.
    #[track_caller]
    fn matches(&self, folder: &Folder, file: &str) -> &Came {
        let mut bytes = self.head.clone().into_bytes();
        bytes.extend(&self.body);
        folder.write("came.http", bytes);
        folder.run(&format!("match {file} came.http")).ends(0);
        self
    }
}

#[test]
fn every_request_of_the_demo_gets_a_reply_that_is_right() {
    let folder = Folder::with_demo();
    for file in ["saltmere/v1/pilotage.wsdl", "saltmere/office/harbour.wsdl"] {
        let serving = folder.serve(&format!("answer {file} --journal {file}.jsonl"));
        folder.run(&format!("message {file} --all all --as http")).ends(0);
        let mut asked = 0;
        for entry in std::fs::read_dir(folder.path("all")).unwrap() {
            let path = entry.unwrap().path();
            let bytes = std::fs::read(&path).unwrap();
            if bytes.starts_with(b"HTTP/") {
                continue;
            }
            let mut stream = serving.connect();
            stream.write_all(&bytes).unwrap();
            let came = receive(&mut BufReader::new(stream));
            assert!(matches!(came.status, 200 | 202), "{}: {came:?}", path.display());
            asked += 1;
        }
        assert!(asked >= 8, "{asked}");
        let run = serving.stop().ends(0).lacks("refused");
        assert!(run.out.contains(&format!("{asked} requests: ")), "{}", run.out);
        // Both sides of each exchange are in the journal, and right.
        folder.run(&format!("match {file} {file}.jsonl")).ends(0).says("all: ");
        std::fs::remove_dir_all(folder.path("all")).unwrap();
    }
}

#[test]
fn it_says_where_it_answers() {
    let (_folder, serving) = tides(&[]);
    let began = &serving.began;
    assert!(began.contains("answering for TidesService\n"), "{began}");
    assert!(began.contains(&format!("TidesPort     SOAP 1.1  http://{}/1\n", serving.host)), "{began}");
    serving.post("/1", ACTION, &envelope("", NEXT_TIDE)).is(200).has("nextTideResponse");
    serving.stop().ends(0).says("replied   nextTide").says("1 request: 1 replied");
}

#[test]
fn a_wrong_request_gets_the_fault_of_its_version_with_what_was_found() {
    let (_folder, serving) = tides(&[]);
    let wrong = NEXT_TIDE.replace("pier", "peir");
    let came = serving.post("/1", ACTION, &envelope("", &wrong));
    came.is(500).has("Content-Type: text/xml").has("<faultcode>env:Client</faultcode>");
    came.has("rule=\"cvc-enumeration-valid\"").has("path=\"nextTide/gauge\" line=\"1\"").has("peir");
    // What is no XML, and what is no operation.
    serving.post("/1", ACTION, "<e:Envelope").is(500).has("env:Client");
    let came = serving.post("/1", ACTION, &envelope("", "<t:nextTides/>"));
    came.is(500).has("env:Client").has("it comes nearest to operation/nextTide/input");
    serving.post("/1", "urn:other", &envelope("", NEXT_TIDE)).is(500).has("env:Client").has("the action is");
    serving.stop().says("refused   nextTide").says("4 requests: 4 refused");
}

#[test]
fn soap_12_has_faults_of_its_own() {
    let (_folder, serving) = tides(&over_12());
    let envelope = |body: &str| {
        envelope("", body)
            .replace("http://schemas.xmlsoap.org/soap/envelope/", "http://www.w3.org/2003/05/soap-envelope")
    };
    serving.post_12("/1", &envelope(NEXT_TIDE)).is(200).has("Content-Type: application/soap+xml");
    let came = serving.post_12("/1", &envelope("<t:nextTide/>"));
    came.is(400)
        .has("<env:Value>env:Sender</env:Value>")
        .has("<env:Text xml:lang=\"en\">")
        .has("rule=\"cvc-complex-type\"");
}

#[test]
fn an_envelope_of_another_version_is_a_mismatch() {
    let (_folder, serving) = tides(&[]);
    let other = |namespace: &str| {
        envelope("", NEXT_TIDE).replace("http://schemas.xmlsoap.org/soap/envelope/", namespace)
    };
    let came = serving.post_12("/1", &other("http://www.w3.org/2003/05/soap-envelope"));
    came.is(500)
        .has("xmlns:env=\"http://schemas.xmlsoap.org/soap/envelope/\"")
        .has("env:VersionMismatch")
        .has_not("Upgrade");
    let came = serving.post("/1", ACTION, &other("urn:saltmere:envelope"));
    came.is(500).has("env:VersionMismatch").has_not("<detail>");
    let (_folder, serving) = tides(&over_12());
    let came = serving.post("/1", ACTION, &envelope("", NEXT_TIDE));
    // Whoever speaks only the older version must be able to read it, and learns what is understood.
    came.is(500)
        .has("xmlns:env=\"http://schemas.xmlsoap.org/soap/envelope/\"")
        .has("VersionMismatch")
        .has("SupportedEnvelope");
}

#[test]
fn what_must_be_understood_and_is_not_is_refused() {
    let (_folder, serving) = tides(&[]);
    let block =
        |more: &str| format!("<q:toll xmlns:q=\"urn:saltmere:quay\" e:mustUnderstand=\"1\"{more}>4</q:toll>");
    let came = serving.post("/1", ACTION, &envelope(&block(""), NEXT_TIDE));
    came.is(500).has("<faultcode>env:MustUnderstand</faultcode>").has("toll").has_not("<detail>");
    let next = block(" e:actor=\"http://schemas.xmlsoap.org/soap/actor/next\"");
    serving.post("/1", ACTION, &envelope(&next, NEXT_TIDE)).is(500).has("MustUnderstand");
    // What is meant for somebody on the way is none of its business; nor is what need not be understood.
    serving.post("/1", ACTION, &envelope(&block(" e:actor=\"urn:saltmere:gate\""), NEXT_TIDE)).is(200);
    serving.post("/1", ACTION, &envelope(&block("").replace("=\"1\"", "=\"0\""), NEXT_TIDE)).is(200);
}

#[test]
fn an_addressed_request_gets_a_reply_that_relates_to_it() {
    let (_folder, serving) = tides(&[]);
    let header = |more: &str| {
        format!(
            "<a:Action xmlns:a=\"http://www.w3.org/2005/08/addressing\" e:mustUnderstand=\"1\">{ACTION}</a:Action><a:MessageID xmlns:a=\"http://www.w3.org/2005/08/addressing\">urn:uuid:quay-4</a:MessageID>{more}"
        )
    };
    let reply_to = |address: &str| {
        header(&format!(
            "<a:ReplyTo xmlns:a=\"http://www.w3.org/2005/08/addressing\"><a:Address>{address}</a:Address></a:ReplyTo>"
        ))
    };
    let came = serving.post("/1", ACTION, &envelope(&header(""), NEXT_TIDE));
    came.is(200)
        .has(">urn:uuid:quay-4</RelatesTo>")
        .has("MessageID")
        .has(">urn:saltmere:tides:1:Tides:nextTideResponse<");
    let back = reply_to("http://www.w3.org/2005/08/addressing/anonymous");
    serving.post("/1", ACTION, &envelope(&back, NEXT_TIDE)).is(200).has("RelatesTo");
    let none = reply_to("http://www.w3.org/2005/08/addressing/none");
    let came = serving.post("/1", ACTION, &envelope(&none, NEXT_TIDE));
    assert!(came.is(202).body.is_empty());
    let came = serving.post("/1", ACTION, &envelope(&reply_to("http://quay.example/replies"), NEXT_TIDE));
    came.is(500).has("OnlyAnonymousAddressSupported").has("RelatesTo");
    let wrong = header("").replace(ACTION, "urn:other");
    serving.post("/1", ACTION, &envelope(&wrong, NEXT_TIDE)).is(500).has("wsa:ActionNotSupported");
}

#[test]
fn an_operation_without_output_is_taken() {
    let one_way = [
        ("      <wsdl:output message=\"tns:nextTideOutput\"/>\n", ""),
        ("      <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n", ""),
    ];
    let (_folder, serving) = tides(&one_way);
    let came = serving.post("/1", ACTION, &envelope("", NEXT_TIDE));
    assert!(came.is(202).body.is_empty());
    serving.stop().says("taken     nextTide");
}

#[test]
fn the_contract_comes_with_addresses_that_work() {
    let folder = Folder::with_demo();
    let serving = folder.serve("answer saltmere/v1/pilotage.wsdl");
    for target in ["/1?wsdl", "/1?WSDL", "/?wsdl", "/1?singleport=0&wsdl"] {
        let came = serving.get(target);
        came.is(200)
            .has("location=\"http://quay.example:81/1\"")
            .has("schemaLocation=\"http://quay.example:81/-/contract/1/vessel.xsd\"");
    }
    serving.get("/-/contract/1/vessel.xsd").is(200).has("targetNamespace=\"urn:saltmere:vessel:1\"");
    serving.get("/-/contract/7/vessel.xsd").is(404);
    // Whoever reads it from there has the same contract.
    folder.run(&format!("check http://{}/1?wsdl --online", serving.host)).ends(0).says("interoperable");
    let run = folder
        .run(&format!("compare saltmere/v1/pilotage.wsdl http://{}/1?wsdl --online", serving.host))
        .ends(0);
    assert!(!run.out.contains("breaks"), "{}", run.out);
    let kept = folder.run("show saltmere/v1/pilotage.wsdl").ends(0).out;
    let fetched = folder.run(&format!("show http://{}/1?wsdl --online", serving.host)).ends(0).out;
    let but_addresses =
        |text: &str| -> String { text.lines().filter(|line| !line.contains(" at ")).collect() };
    assert_eq!(but_addresses(&kept), but_addresses(&fetched));
}

#[test]
fn a_contract_in_another_encoding_is_handed_out_in_utf_8() {
    let text = contract(&[("UTF-8", "ISO-8859-1"), ("value=\"pier\"", "value=\"pi\u{e9}r\"")]);
    let folder = Folder::empty();
    let latin: Vec<u8> = text.chars().map(|c| c as u8).collect();
    folder.write("tides.wsdl", latin);
    let serving = folder.serve("answer tides.wsdl");
    serving.get("/1?wsdl").is(200).has("encoding=\"UTF-8\"").has("value=\"pi\u{e9}r\"");
}

#[test]
fn a_browser_gets_a_page_and_a_sample_for_each_port() {
    let folder = Folder::with_demo();
    let serving = folder.serve("answer saltmere/office/harbour.wsdl");
    let came = serving.get("/");
    came.is(200).has("Content-Type: text/html").has("<b>listBerths</b>").has("TidesFormPort").has("?wsdl");
    came.has("What the harbour office has offered over the years");
    serving.ask("GET /charts HTTP/1.1\nAccept: text/html", "").is(200).has("<b>fileChart</b>");
    let page = came.text();
    let samples: Vec<&str> = page.split("value=\"").skip(1).filter_map(|it| it.split('"').next()).collect();
    assert_eq!(samples.len(), 8, "{samples:?}");
    for sample in samples {
        let sample = sample.replace("&amp;", "&").replace("&#x2f;", "/");
        let came = serving.get(&sample);
        let sample: serde_json::Value = serde_json::from_slice(&came.is(200).body).unwrap();
        let mut head =
            format!("{} {} HTTP/1.1", sample["method"].as_str().unwrap(), sample["target"].as_str().unwrap());
        for pair in sample["headers"].as_array().unwrap() {
            head.push_str(&format!("\n{}: {}", pair[0].as_str().unwrap(), pair[1].as_str().unwrap()));
        }
        serving.ask(&head, sample["body"].as_str().unwrap()).is(200);
    }
    serving.get("/-/sample?operation=listBerth&port=BerthingPort").is(404);
}

#[test]
fn what_is_not_there_is_said_with_what_is() {
    let (_folder, serving) = tides(&[]);
    serving.get("/2").is(404).has("nothing is reached at /2").has("did you mean http://quay.example:81/1?");
    serving.get("/1").is(405).has("Allow: POST").has("/1?wsdl");
    let came = serving.ask("POST /1 HTTP/1.1\nContent-Type: application/json", "{}");
    came.is(415).has("the content type is application/json").has("text/xml");
    // At the top, any port answers.
    serving.post("/", ACTION, &envelope("", NEXT_TIDE)).is(200);
}

#[test]
fn plain_http_is_answered_as_it_is_bound() {
    let folder = Folder::with_demo();
    let serving = folder.serve("answer saltmere/office/harbour.wsdl");
    serving
        .get("/tides/next?berth=E2&day=2026-03-14")
        .is(200)
        .has("<height>")
        .matches(&folder, "saltmere/office/harbour.wsdl");
    serving.get("/tides/at/E2/on/2026-03-14").is(200);
    let form = "POST /tides/form HTTP/1.1\nContent-Type: application/x-www-form-urlencoded";
    serving.ask(form, "berth=E2&day=2026-03-14").is(200);
    let came = serving.ask(form, "berth=E2&day=soon");
    came.is(400).has("day: \"soon\" is not a date");
    serving.get("/tides/next?berth=E2").is(400).has("day: the part \"day\" is missing");
    serving.get("/tides/nowhere").is(404).has("GET /tides/next");
}

#[test]
fn bodies_come_and_go_packed_in_chunks_and_when_they_are_asked_for() {
    let (_folder, serving) = tides(&[]);
    let text = envelope("", NEXT_TIDE);
    let head = format!("POST /1 HTTP/1.1\nContent-Type: text/xml\nSOAPAction: \"{ACTION}\"");
    let mut gzip = GzEncoder::new(Vec::new(), Compression::default());
    gzip.write_all(text.as_bytes()).unwrap();
    serving
        .ask(&format!("{head}\nContent-Encoding: gzip"), gzip.finish().unwrap())
        .is(200)
        .has("nextTideResponse");
    serving
        .ask(&format!("{head}\nContent-Encoding: gzip"), "no such thing")
        .is(500)
        .has("cannot be unpacked");
    // What is long comes back packed, if that is wanted.
    let came = serving.ask("GET /1?wsdl HTTP/1.1\nAccept-Encoding: deflate, gzip", "");
    let mut contract = String::new();
    GzDecoder::new(came.is(200).has("Content-Encoding: gzip").body.as_slice())
        .read_to_string(&mut contract)
        .unwrap();
    assert!(contract.contains("TidesOverSoap11"), "{contract}");
    // Chunks, and a client that waits until it is told to go on.
    let mut stream = serving.connect();
    let head = head.replace('\n', "\r\n");
    write!(
        stream,
        "{head}\r\nHost: quay.example\r\nTransfer-Encoding: chunked\r\nExpect: 100-continue\r\n\r\n"
    )
    .unwrap();
    let mut reader = BufReader::new(stream.try_clone().unwrap());
    assert_eq!(receive(&mut reader).status, 100);
    let (first, second) = text.split_at(100);
    for chunk in [first, second, ""] {
        write!(stream, "{:x}\r\n{chunk}\r\n", chunk.len()).unwrap();
    }
    receive(&mut reader).is(200).has("nextTideResponse");
    // The same connection takes the next, several at once.
    for _ in 0..3 {
        send(&mut stream, &head.replace("\r\n", "\n"), text.as_bytes());
    }
    for _ in 0..3 {
        receive(&mut reader).is(200);
    }
}

#[test]
fn binary_content_comes_and_goes_in_parts_of_its_own() {
    let changes = [
        (
            "type=\"xs:dateTime\"/>",
            "type=\"xs:dateTime\"/>\n          <xs:element name=\"chart\" type=\"xs:base64Binary\"/>",
        ),
        (
            "<xs:element name=\"gauge\" type=\"tns:Gauge\"/>",
            "<xs:element name=\"gauge\" type=\"tns:Gauge\"/><xs:element name=\"chart\" type=\"xs:base64Binary\"/>",
        ),
    ];
    let (folder, serving) = tides(&changes);
    let include = "<t:nextTide><t:gauge>pier</t:gauge><t:chart><x:Include xmlns:x=\"http://www.w3.org/2004/08/xop/include\" href=\"cid:chart%40quay\"/></t:chart></t:nextTide>";
    let parts = |part: &str| {
        let mut body = format!("--b\r\nContent-Type: application/xop+xml; type=\"text/xml\"\r\nContent-ID: <root@quay>\r\n\r\n{}\r\n--b\r\nContent-ID: <{part}>\r\nContent-Type: image/png\r\nContent-Transfer-Encoding: binary\r\n\r\n", envelope("", include)).into_bytes();
        body.extend(b"\x89PNG\r\n\xff\x00\xfe");
        body.extend(b"\r\n--b--\r\n");
        body
    };
    let head = format!(
        "POST /1 HTTP/1.1\nSOAPAction: \"{ACTION}\"\nContent-Type: multipart/related; type=\"application/xop+xml\"; start=\"<root@quay>\"; start-info=\"text/xml\"; boundary=b"
    );
    let came = serving.ask(&head, parts("chart@quay"));
    came.is(200).has("multipart/related; type=\"application/xop+xml\"");
    assert!(
        String::from_utf8_lossy(&came.body).contains("href=\"cid:binary-1@message.invalid\""),
        "{came:?}"
    );
    came.matches(&folder, "tides.wsdl");
    // An inclusion that leads nowhere is no octets.
    serving.ask(&head, parts("other@quay")).is(500).has("env:Client").has("nextTide/chart");
    // Whoever sends it whole gets it whole.
    let whole = envelope("", "<t:nextTide><t:gauge>pier</t:gauge><t:chart>U2Fs</t:chart></t:nextTide>");
    serving.post("/1", ACTION, &whole).is(200).has_not("Include").has("<chart>");
}

#[test]
fn who_sends_too_much_or_too_slowly_is_refused_and_others_are_answered() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let serving = folder.serve("answer tides.wsdl --body-limit 1 --patience 1 --connections 20");
    let head = format!("POST /1 HTTP/1.1\nContent-Type: text/xml\nSOAPAction: \"{ACTION}\"");
    let large = envelope(&"<x/>".repeat(400_000), NEXT_TIDE);
    serving.ask(&head, &large).is(413).has("the body is larger than 1048576 octets");
    // The same without a length that could be believed.
    let mut stream = serving.connect();
    write!(stream, "{}\r\nHost: a\r\nTransfer-Encoding: chunked\r\n\r\n", head.replace('\n', "\r\n"))
        .unwrap();
    for _ in 0..200 {
        // It may have been refused, and closed, by now.
        let _ = write!(stream, "4000\r\n{}\r\n", "x".repeat(0x4000));
    }
    receive(&mut BufReader::new(stream)).is(413);
    serving.ask(&format!("GET /1 HTTP/1.1\nX-Quay: {}", "n".repeat(100_000)), "").is(431);
    let mut slow = serving.connect();
    write!(slow, "{}\r\nHost: a\r\nContent-Length: 400\r\n\r\n<e:", head.replace('\n', "\r\n")).unwrap();
    receive(&mut BufReader::new(slow)).is(408).has("within 1 s");
    // A head that never ends, and bytes that are no HTTP.
    let mut silent = serving.connect();
    write!(silent, "POST /1 HT").unwrap();
    let mut garbage = serving.connect();
    garbage.write_all(&[0xff; 600]).unwrap();
    let mut rest = Vec::new();
    let _ = garbage.read_to_end(&mut rest);
    let _ = silent.read_to_end(&mut rest);
    // Entities that grow are not even read.
    let bomb = format!(
        "<!DOCTYPE e [<!ENTITY a \"{}\"><!ENTITY b \"&a;&a;&a;\">]>{}",
        "n".repeat(100),
        envelope("", NEXT_TIDE)
    );
    serving.post("/1", ACTION, &bomb).is(500).has("env:Client").has("document type");
    serving.post("/1", ACTION, &envelope("", NEXT_TIDE)).is(200);
    serving.stop().ends(0);
}

#[test]
fn the_contract_is_read_again_when_it_changes() {
    let (folder, serving) = tides(&[]);
    serving.post("/1", ACTION, &envelope("", &NEXT_TIDE.replace("pier", "quay"))).is(500);
    folder.write("tides.wsdl", contract(&[("value=\"lock\"", "value=\"quay\"")]));
    let began = std::time::Instant::now();
    while serving.post("/1", ACTION, &envelope("", &NEXT_TIDE.replace("pier", "quay"))).status != 200 {
        assert!(began.elapsed() < Duration::from_secs(20), "it is not read again");
        std::thread::sleep(Duration::from_millis(50));
    }
    // One that cannot be read leaves the one before.
    folder.write("tides.wsdl", "<wsdl");
    std::thread::sleep(Duration::from_millis(600));
    serving.post("/1", ACTION, &envelope("", &NEXT_TIDE.replace("pier", "quay"))).is(200);
    let run = serving.stop().ends(0);
    assert!(run.err.contains("tides.wsdl was read again"), "{}", run.err);
    assert!(
        run.err.contains("tides.wsdl:1:6: ") && run.err.contains("what was there before answers on"),
        "{}",
        run.err
    );
}

#[test]
fn it_ends_when_it_is_asked_to_and_what_was_begun_is_done() {
    let (_folder, mut serving) = tides(&[]);
    let mut idle = serving.connect();
    let mut stream = serving.connect();
    let text = envelope("", NEXT_TIDE);
    let head = format!(
        "POST /1 HTTP/1.1\r\nContent-Type: text/xml\r\nSOAPAction: \"{ACTION}\"\r\nHost: a\r\nContent-Length: {}\r\n\r\n",
        text.len()
    );
    write!(stream, "{head}{}", &text[..50]).unwrap();
    std::thread::sleep(Duration::from_millis(300));
    serving.signal("TERM");
    std::thread::sleep(Duration::from_millis(300));
    stream.write_all(&text.as_bytes()[50..]).unwrap();
    receive(&mut BufReader::new(stream)).is(200);
    let run = serving.ended().ends(0);
    assert!(run.out.contains("1 request: 1 replied"), "{}", run.out);
    let mut rest = Vec::new();
    assert_eq!(idle.read_to_end(&mut rest).unwrap(), 0);
}

#[test]
fn what_cannot_be_served_is_said() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let serving = folder.serve("answer tides.wsdl");
    let port = serving.host.rsplit(':').next().unwrap();
    folder.run(&format!("answer tides.wsdl --port {port}")).ends(2).complains("somebody else listens at");
    folder
        .run("answer tides.wsdl --host 192.0.2.7 --port 0")
        .ends(2)
        .complains("nobody can listen at 192.0.2.7:0");
    folder.run("answer tides.wsdl --port 70000").ends(2);
    folder.run("answer nowhere.wsdl --port 0").ends(2).complains("there is no such file");
    let (start, end) = (contract(&[]), "  <wsdl:binding");
    folder.write("bare.wsdl", format!("{}</wsdl:definitions>", start.split(end).next().unwrap()));
    folder.run("answer bare.wsdl --port 0").ends(2).complains("no binding");
    folder
        .run("answer tides.wsdl --port 0 --relay quay.example:80")
        .ends(2)
        .complains("did you mean http://quay.example:80?");
}

#[test]
fn programs_read_what_happens_line_by_line() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let serving = folder.serve("answer tides.wsdl --format json");
    let began: serde_json::Value = serde_json::from_str(&serving.began).unwrap();
    assert_eq!(began["ports"][0]["port"], "TidesPort");
    serving.post("/1", ACTION, &envelope("", NEXT_TIDE)).is(200);
    let run = serving.stop().ends(0);
    let line: serde_json::Value = serde_json::from_str(run.out.trim()).unwrap();
    assert_eq!((&line["operation"], &line["outcome"]), (&"nextTide".into(), &"replied".into()));
    assert_eq!(line["reply"]["status"], 200);
}

#[test]
fn real_contracts_of_two_services_share_a_path() {
    let second = r#"    </wsdl:port>
  </wsdl:service>
  <wsdl:service name="SpringTides">
    <wsdl:port name="TidesPort" binding="tns:TidesOverSoap11">
      <soap:address location="REPLACE_WITH_ADDRESS"/>"#;
    let (_folder, serving) = tides(&[(
        "    </wsdl:port>\n  </wsdl:service>",
        &format!("{second}\n    </wsdl:port>\n  </wsdl:service>"),
    )]);
    assert!(serving.began.contains("/SpringTides/TidesPort"), "{}", serving.began);
    serving.post("/SpringTides/TidesPort", ACTION, &envelope("", NEXT_TIDE)).is(200);
    serving.post("/1", ACTION, &envelope("", NEXT_TIDE)).is(200);
    serving.get("/?wsdl").has("location=\"http://quay.example:81/SpringTides/TidesPort\"");
}

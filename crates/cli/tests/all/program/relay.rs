//! `charter answer --relay`: between a consumer and a real provider.

use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpListener;

use super::folder::{Folder, contract};
use super::serving::send;
use super::stand_in::{ACTION, NEXT_TIDE, envelope};

/// A provider that keeps the bytes of the requests it gets, and answers each with the same bytes.
fn provider(reply: Vec<u8>, requests: usize) -> (String, std::thread::JoinHandle<Vec<Vec<u8>>>) {
    let listener = TcpListener::bind("127.0.0.1:0").unwrap();
    let host = listener.local_addr().unwrap().to_string();
    let served = std::thread::spawn(move || {
        let mut kept = Vec::new();
        for _ in 0..requests {
            let (mut stream, _) = listener.accept().unwrap();
            let mut reader = BufReader::new(stream.try_clone().unwrap());
            let mut bytes = Vec::new();
            while !bytes.ends_with(b"\r\n\r\n") {
                assert!(reader.read_until(b'\n', &mut bytes).unwrap() > 0);
            }
            let head = String::from_utf8_lossy(&bytes).to_ascii_lowercase();
            let length = head.lines().find_map(|line| line.strip_prefix("content-length: ")?.parse().ok());
            let mut body = vec![0; length.unwrap_or(0)];
            reader.read_exact(&mut body).unwrap();
            bytes.extend(body);
            kept.push(bytes);
            stream.write_all(&reply).unwrap();
        }
        kept
    });
    (host, served)
}

#[test]
fn everything_goes_on_and_comes_back_as_it_was() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let reply = "<x:Envelope  xmlns:x='http://schemas.xmlsoap.org/soap/envelope/'>\r\n<x:Body><n:nextTideResponse\n xmlns:n=\"urn:saltmere:tides:1\"><n:high>2026-03-14T06:30:00Z</n:high></n:nextTideResponse></x:Body></x:Envelope>\n\n";
    let head = format!(
        "HTTP/1.1 200 Fine\r\nX-berth: N4\r\ncOnTent-tYpe: text/xml;charset=UTF-8\r\nX-berth: N5\r\nContent-Length: {}\r\nConnection: close\r\n\r\n",
        reply.len()
    );
    let (host, served) = provider(format!("{head}{reply}").into_bytes(), 1);
    let serving = folder.serve(&format!("answer tides.wsdl --relay http://{host} --journal day.jsonl"));
    assert!(
        serving.began.starts_with(&format!("passing on to TidesService at http://{host}\n")),
        "{}",
        serving.began
    );
    let text = envelope("", &format!("\r\n\t{NEXT_TIDE}<!-- as it is -->"));
    let asked = format!(
        "POST /1?quay=%41&x HTTP/1.1\ncontent-TYPE: text/xml; Charset=utf-8\nSOAPaction:   \"{ACTION}\"\nX-Empty:\nX-Twice: 1\nX-Twice: 2"
    );
    let came = serving.ask(&asked, &text);
    // The head of the reply keeps the case and the order of its fields.
    came.is(200)
        .has("X-berth: N4\r\n")
        .has("cOnTent-tYpe: text/xml;charset=UTF-8\r\n")
        .has("X-berth: N5\r\n");
    assert_eq!(came.body, reply.as_bytes());
    let kept = String::from_utf8(served.join().unwrap().remove(0)).unwrap();
    let (kept_head, kept_body) = kept.split_once("\r\n\r\n").unwrap();
    assert_eq!(kept_body, text);
    assert!(kept_head.starts_with("POST /1?quay=%41&x HTTP/1.1\r\n"), "{kept_head}");
    for field in ["content-TYPE: text/xml; Charset=utf-8", "X-Empty:", "X-Twice: 1", "X-Twice: 2"] {
        assert!(kept_head.split("\r\n").any(|line| line == field), "{field} is not in {kept_head}");
    }
    assert!(kept_head.to_lowercase().contains(&format!("host: {host}")), "{kept_head}");
    let run = serving.stop().ends(0).says("replied   nextTide");
    assert!(!run.out.contains("message:"), "{}", run.out);
    folder.run("match tides.wsdl day.jsonl").ends(0).says("all: 2 of 2 match");
}

#[test]
fn a_reply_that_no_longer_fits_is_said_at_once() {
    let folder = Folder::with_demo();
    // The platform was upgraded: what was named pilot is now named otherwise.
    let text = folder.read("saltmere/v1/pilotage.wsdl");
    assert!(text.contains("name=\"pilot\""));
    folder.write("saltmere/v1/upgraded.wsdl", text.replace("name=\"pilot\"", "name=\"assignedPilot\""));
    let provider = folder.serve("answer saltmere/v1/upgraded.wsdl");
    for to in [format!("http://{}", provider.host), format!("http://{}/1", provider.host)] {
        let serving =
            folder.serve(&format!("answer saltmere/v1/pilotage.wsdl --relay {to} --journal day.jsonl"));
        folder.run("message saltmere/v1/pilotage.wsdl amendBoarding -o ask.xml").ends(0);
        let action = "urn:saltmere:pilotage:1:amendBoarding";
        serving.post("/1", action, &folder.read("ask.xml")).is(200).has("assignedPilot");
        serving
            .stop()
            .ends(0)
            .says("amendBoardingResponse/boarding/assignedPilot: \"assignedPilot\" has no place here");
    }
    folder.run("match saltmere/v1/pilotage.wsdl day.jsonl --learn reader.toml").ends(1);
    provider.stop().lacks("refused");
}

#[test]
fn a_provider_that_is_not_there_or_says_no_message_is_told() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let gone = { TcpListener::bind("127.0.0.1:0").unwrap().local_addr().unwrap() };
    let serving = folder.serve(&format!("answer tides.wsdl --relay http://{gone}"));
    serving.post("/1", ACTION, &envelope("", NEXT_TIDE)).is(502).has("nobody answers there");
    serving.stop().says("lost      nextTide").says("cannot be reached: nobody answers there");
    let page = b"HTTP/1.1 503 Busy\r\nContent-Type: text/html\r\nContent-Length: 14\r\nConnection: close\r\n\r\n<p>Later.</p>\n";
    let (host, served) = provider(page.to_vec(), 1);
    let serving = folder.serve(&format!("answer tides.wsdl --relay http://{host}"));
    serving.post("/1", ACTION, &envelope("", NEXT_TIDE)).is(503).has("<p>Later.</p>");
    served.join().unwrap();
    serving.stop().says("refused   nextTide").says("the reply is a page for a browser, with the status 503");
    // One that ends in the middle.
    let cut =
        b"HTTP/1.1 200 OK\r\nContent-Type: text/xml\r\nContent-Length: 1400\r\n\r\n<e:Envelope".to_vec();
    let (host, served) = provider(cut, 1);
    let serving = folder.serve(&format!("answer tides.wsdl --relay http://{host}"));
    serving.post("/1", ACTION, &envelope("", NEXT_TIDE)).is(502).has("the connection ended in the middle");
    served.join().unwrap();
    // One that says nothing.
    let silent = TcpListener::bind("127.0.0.1:0").unwrap();
    let serving = folder
        .serve(&format!("answer tides.wsdl --patience 1 --relay http://{}", silent.local_addr().unwrap()));
    serving.post("/1", ACTION, &envelope("", NEXT_TIDE)).is(504).has("did not answer within 1 s");
}

#[test]
fn who_asks_a_wrong_thing_is_told_and_passed_on_all_the_same() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let provider = folder.serve("answer tides.wsdl");
    let serving = folder.serve(&format!("answer tides.wsdl --relay http://{}", provider.host));
    let mut stream = serving.connect();
    let head = format!("POST /1 HTTP/1.1\nContent-Type: text/xml\nSOAPAction: \"{ACTION}\"");
    // Several on one connection.
    for gauge in ["pier", "peir", "lock"] {
        send(&mut stream, &head, envelope("", &NEXT_TIDE.replace("pier", gauge)).as_bytes());
    }
    let mut reader = BufReader::new(stream);
    let came: Vec<u16> = (0..3).map(|_| super::serving::receive(&mut reader).status).collect();
    assert_eq!(came, [200, 500, 200]);
    serving.get("/1?wsdl").is(200).has("TidesOverSoap11");
    serving
        .stop()
        .ends(0)
        .says("fault     nextTide")
        .says("nextTide/gauge: \"peir\"")
        .says("4 requests: 2 replied, 1 fault, 1 other");
}

#[test]
fn a_record_grows_from_what_passes_by() {
    let folder = Folder::with_demo();
    let provider = folder.serve("answer saltmere/v1/pilotage.wsdl");
    let words =
        format!("answer saltmere/v1/pilotage.wsdl --relay http://{} --learn quay-board.toml", provider.host);
    let relay = folder.serve(&words);
    let send = |words: &str| {
        folder.run(&format!("send saltmere/v1/pilotage.wsdl {words} --to http://{}", relay.host))
    };
    send("listPilots").ends(0);
    // What is wrong teaches nothing.
    send("findBoarding booking=none --anyway").ends(1);
    relay.stop().ends(0);
    let record = folder.read("quay-board.toml");
    assert!(record.contains("[operations.listPilots]") && record.contains("\"pilot/grade\""), "{record}");
    assert!(!record.contains("findBoarding"), "{record}");
    // It goes on where it ended.
    let relay = folder.serve(&words);
    let send = |words: &str| {
        folder.run(&format!("send saltmere/v1/pilotage.wsdl {words} --to http://{}", relay.host))
    };
    send("findBoarding").ends(0);
    relay.stop().ends(0);
    let record = folder.read("quay-board.toml");
    assert!(
        record.contains("[operations.listPilots]") && record.contains("[operations.findBoarding]"),
        "{record}"
    );
    provider.stop();
    folder.write("broken.toml", "operations = 4\n");
    let words = words.replace("quay-board.toml", "broken.toml");
    let provider = folder.serve("answer saltmere/v1/pilotage.wsdl");
    let relay = folder.serve(
        &words.replace(words.split("http://").nth(1).unwrap().split(' ').next().unwrap(), &provider.host),
    );
    folder.run(&format!("send saltmere/v1/pilotage.wsdl listPilots --to http://{}", relay.host)).ends(0);
    let run = relay.stop().ends(0);
    assert!(run.err.contains("\"operations\" is no table"), "{}", run.err);
}

//! `charter send`: requests to a provider, and what comes back.

use std::io::{Read, Write};
use std::net::TcpListener;

use super::folder::{Folder, Run, contract};
use super::serving::Serving;
use super::stand_in::{NEXT_TIDE, envelope};

/// The example contract, and a stand-in that answers for it.
fn tides() -> (Folder, Serving) {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let serving = folder.serve("answer tides.wsdl");
    (folder, serving)
}

/// A provider that answers once with these bytes.
fn once(reply: impl Into<Vec<u8>>) -> String {
    let listener = TcpListener::bind("127.0.0.1:0").unwrap();
    let host = listener.local_addr().unwrap().to_string();
    let reply = reply.into();
    std::thread::spawn(move || {
        let (mut stream, _) = listener.accept().unwrap();
        let mut some = [0; 65536];
        let _ = stream.read(&mut some);
        let _ = stream.write_all(&reply);
    });
    host
}

fn reply(head: &str, body: &str) -> Vec<u8> {
    format!("HTTP/1.1 {head}\r\nContent-Length: {}\r\nConnection: close\r\n\r\n{body}", body.len())
        .into_bytes()
}

impl Run {
    #[track_caller]
    fn notes(self, words: &str) -> Run {
        assert!(self.err.contains(words), "{words:?} is not in\n{}", self.err);
        self
    }
}

#[test]
fn both_messages_are_shown_and_the_values_alone() {
    let (folder, serving) = tides();
    let run =
        folder.run(&format!("send tides.wsdl nextTide gauge=lock --to http://{}/1", serving.host)).ends(0);
    run.says(&format!("POST http://{}/1\n", serving.host))
        .says("SOAPAction: \"urn:saltmere:tides:1:nextTide\"")
        .says("<gauge>lock</gauge>")
        .says("HTTP 200  after ")
        .says("<nextTideResponse")
        .notes("operation/nextTide by TidesPort: replied, and the reply is what the contract says");
    let run =
        folder.run(&format!("send tides.wsdl nextTide --show reply --to http://{}/1", serving.host)).ends(0);
    assert!(!run.out.contains("POST"), "{}", run.out);
    let run =
        folder.run(&format!("send tides.wsdl nextTide --show values --to http://{}", serving.host)).ends(0);
    assert_eq!(run.json()["high"], "2026-03-14T06:30:00Z");
    let run =
        folder.run(&format!("--format json send tides.wsdl nextTide --to http://{}", serving.host)).ends(0);
    let one = &run.json()["exchanges"][0];
    assert_eq!(
        (&one["operation"], &one["outcome"], &one["right"]),
        (&"nextTide".into(), &"replied".into(), &true.into())
    );
    assert_eq!(one["values"]["high"], "2026-03-14T06:30:00Z");
}

#[test]
fn each_operation_is_tried_once_and_what_came_is_in_a_table() {
    let folder = Folder::with_demo();
    for (file, number) in [("saltmere/v1/pilotage.wsdl", 20), ("saltmere/office/harbour.wsdl", 8)] {
        let serving = folder.serve(&format!("answer {file}"));
        for more in ["--least", "--size most", "--seed 7", ""] {
            let run =
                folder.run(format!("send {file} --all --to http://{} {more}", serving.host).trim()).ends(0);
            assert!(run.out.contains(&format!("all: {number} of {number} came out right")), "{}", run.out);
        }
        let run = serving.stop().ends(0);
        assert!(!run.out.contains("refused"), "{}", run.out);
    }
}

#[test]
fn a_request_that_is_wrong_is_not_sent_unless_one_wants_it() {
    let (folder, serving) = tides();
    let to = format!("--to http://{}/1", serving.host);
    folder.run(&format!("send tides.wsdl nextTide gauge=peir {to}")).ends(2).complains("\"peir\"");
    folder.write("ask.xml", envelope("", &NEXT_TIDE.replace("pier", "peir")));
    let run = folder.run(&format!("send tides.wsdl nextTide --message ask.xml {to}")).ends(2);
    run.complains("the request is not what the contract asks for, so it was not sent")
        .notes("nextTide/gauge: \"peir\"");
    for words in ["nextTide --message ask.xml", "nextTide gauge=peir"] {
        let run = folder.run(&format!("send tides.wsdl {words} --anyway {to}")).ends(1);
        run.says("<faultcode>env:Client</faultcode>").notes("fault: Client, nextTide/gauge: \"peir\"");
    }
    // What is missing is missing.
    folder.run(&format!("send tides.wsdl nextTide gauge= --anyway {to}")).ends(1).says("env:Client");
    serving.stop().says("3 requests: 3 refused");
}

#[test]
fn a_message_in_a_file_goes_as_it_is() {
    let (folder, serving) = tides();
    let to = format!("--to http://{}/1", serving.host);
    let text = envelope("", &format!("{NEXT_TIDE}<!-- as  it is -->"));
    folder.write("ask.xml", &text);
    folder.write("ask.http", format!("POST /nowhere HTTP/1.1\r\nContent-Type: text/xml\r\nSOAPAction: \"urn:saltmere:tides:1:nextTide\"\r\nX-Quay: 4\r\n\r\n{text}"));
    folder.write("reply.http", "HTTP/1.1 200 OK\r\n\r\n<a/>");
    folder
        .run(&format!("send tides.wsdl nextTide --message ask.xml {to}"))
        .ends(0)
        .says("<!-- as  it is -->");
    folder.run(&format!("send tides.wsdl nextTide --message ask.http {to}")).ends(0).says("X-Quay: 4");
    folder
        .run(&format!("send tides.wsdl nextTide --message reply.http {to}"))
        .ends(2)
        .complains("this is a reply");
    folder
        .run(&format!("send tides.wsdl nextTide --message none.xml {to}"))
        .ends(2)
        .complains("there is no such file");
}

#[test]
fn each_row_is_a_request_and_a_wrong_one_stops_no_other() {
    let (folder, serving) = tides();
    folder.write("gauges.csv", "gauge\npier\npeir\nlock\nlock,pier\n");
    let run = folder
        .run(&format!(
            "send tides.wsdl nextTide --values gauges.csv --to http://{}/1 --journal day.jsonl",
            serving.host
        ))
        .ends(2);
    assert_eq!(run.out.matches("200").count(), 2, "{}", run.out);
    assert!(
        run.out.contains("row 2")
            && run.out.contains("row 4")
            && run.out.contains("all: 2 of 4 came out right"),
        "{}",
        run.out
    );
    assert!(
        run.err.contains("row 3: \"peir\"")
            && run.err.contains("row 5: it has 2 values, and the header has 1"),
        "{}",
        run.err
    );
    assert_eq!(folder.read("day.jsonl").lines().count(), 2);
    folder.run("match tides.wsdl day.jsonl").ends(0).says("all: 4 of 4 match");
}

#[test]
fn what_comes_back_wrong_is_said() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let send = |host: &str| folder.run(&format!("send tides.wsdl nextTide --timeout 2 --to http://{host}/1"));
    let text =
        envelope("", "<t:nextTideResponse><t:hight>2026-03-14T06:30:00Z</t:hight></t:nextTideResponse>");
    send(&once(reply("200 OK\r\nContent-Type: text/xml", &text)))
        .ends(1)
        .notes("error   reply, nextTideResponse/hight: \"hight\" has no place here")
        .notes("1 │ ")
        .notes("replied, 1 error in the reply");
    send(&once(reply("502 Bad Gateway\r\nContent-Type: text/html", "<p>Later.</p>")))
        .ends(1)
        .notes("the reply is a page for a browser, with the status 502");
    send(&once(reply("200 OK\r\nContent-Type: text/xml", ""))).ends(1).notes("the reply is empty");
    send(&once(reply("404 Not Found\r\nContent-Type: text/plain", "no")))
        .ends(1)
        .notes("the reply is no message; its status is 404");
    let other =
        text.replace("http://schemas.xmlsoap.org/soap/envelope/", "http://www.w3.org/2003/05/soap-envelope");
    send(&once(reply("200 OK\r\nContent-Type: application/soap+xml", &other)))
        .ends(1)
        .notes("this is an envelope of SOAP 1.2");
    let fault = envelope(
        "",
        "<e:Fault><faultcode>e:Server</faultcode><faultstring>Fog in\n the outer reach.</faultstring></e:Fault>",
    );
    send(&once(reply("500 Oops\r\nContent-Type: text/xml", &fault)))
        .ends(1)
        .notes("fault: Server, Fog in the outer reach.");
    send(&once(reply("301 Moved\r\nLocation: http://quay.example/", ""))).ends(1);
}

#[test]
fn what_is_the_same_for_many_requests_is_said_once() {
    let demo = Folder::with_demo();
    let gone = TcpListener::bind("127.0.0.1:0").unwrap().local_addr().unwrap();
    let run = demo.run(&format!("send saltmere/v1/pilotage.wsdl --all --to http://{gone}")).ends(2);
    assert_eq!(run.out.matches("nothing came").count(), 20, "{}", run.out);
    assert!(run.out.ends_with("all: 0 of 20 came out right\n"), "{}", run.out);
    let said = format!("findBoarding and 6 more: {gone} cannot be reached: nobody answers there\n");
    assert!(run.err.contains(&said) && run.err.lines().count() == 2, "{}", run.err);
    // Rows that are wrong each in its own way are told each.
    demo.write("draughts.csv", "draught\n4\n999\n5\n4,5\n6\n");
    let run = demo.run(&format!(
        "send saltmere/v1/pilotage.wsdl forecastTide --values draughts.csv --to http://{gone}"
    ));
    let said = format!("row 2, row 4 and row 6: {gone} cannot be reached");
    let run = run.ends(2);
    assert!(run.err.contains(&said), "{}", run.err);
    assert!(run.err.contains("row 3: \"999\" is not at most 500"), "{}", run.err);
    assert!(run.err.contains("row 5: it has 2 values, and the header has 1"), "{}", run.err);
    let run = demo.run(&format!("rehearse saltmere/v1/pilotage.wsdl --to http://{gone}")).ends(1);
    assert!(run.out.contains(&format!("each of these 20: {gone} cannot be reached")), "{}", run.out);
    assert_eq!(run.out.matches("nobody answers").count(), 1, "{}", run.out);
    // Wrong requests that nobody got were taken by nobody.
    let run = demo.run(&format!("rehearse saltmere/v1/pilotage.wsdl --hostile --to http://{gone}")).ends(1);
    assert!(run.out.ends_with(" neither refused nor taken\n") && !run.out.contains("taken  "), "{}", run.out);
    assert_eq!(run.out.matches("nobody answers").count(), 1 + 20, "{}", run.out);
}

#[test]
fn a_port_that_nothing_has_is_no_empty_success() {
    let demo = Folder::with_demo();
    for command in ["send saltmere/v1/pilotage.wsdl --all", "message saltmere/v1/pilotage.wsdl --all out"] {
        let run = demo.run(&format!("{command} --port PilotagePort11")).ends(2);
        run.complains("no port \"PilotagePort11\" offers anything").says("");
        demo.run(&format!("{command} --port Quay"))
            .ends(2)
            .complains("there is PilotagePort, PilotagePort12");
    }
    assert!(!demo.path("out").exists());
    // Of several that offer an operation, the first is asked, and the others are named.
    let serving = demo.serve("answer saltmere/v1/pilotage.wsdl");
    let send = format!("send saltmere/v1/pilotage.wsdl forecastTide --to http://{}", serving.host);
    demo.run(&send).ends(0).notes(
        "forecastTide by PilotagePort: replied, and the reply is what the contract says  (or --port PilotagePort12)\n",
    );
    demo.run(&format!("{send} --port PilotagePort12")).ends(0).notes("what the contract says\n");
}

#[test]
fn a_provider_that_cannot_be_reached_is_said_in_plain_words() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let send = |words: &str| folder.run(&format!("send tides.wsdl nextTide --timeout 1 {words}"));
    let gone = TcpListener::bind("127.0.0.1:0").unwrap().local_addr().unwrap();
    send(&format!("--to http://{gone}/1")).ends(2).complains("cannot be reached: nobody answers there");
    send("--to http://nowhere.invalid/1")
        .ends(2)
        .complains("nowhere.invalid cannot be reached: there is no such host");
    send(&format!("--to {gone}/1")).ends(2).complains(&format!("did you mean http://{gone}/1?"));
    send("--to quay.example/1").ends(2).complains("did you mean https://quay.example/1?");
    send("--to ftp://quay.example/1").ends(2).complains("no address to send to");
    // It says nothing, it says half of it, it says it for ever, it hangs up.
    let silent = TcpListener::bind("127.0.0.1:0").unwrap();
    send(&format!("--to http://{}/1", silent.local_addr().unwrap()))
        .ends(2)
        .complains("did not answer within 1 s");
    let half = once("HTTP/1.1 200 OK\r\nContent-Type: text/xml\r\nContent-Length: 999\r\n\r\n<e:Env");
    send(&format!("--to http://{half}/1")).ends(2).complains("broke off in the middle of its reply");
    let listener = TcpListener::bind("127.0.0.1:0").unwrap();
    let endless = listener.local_addr().unwrap();
    std::thread::spawn(move || {
        let (mut stream, _) = listener.accept().unwrap();
        let _ = stream.write_all(b"HTTP/1.1 200 OK\r\nContent-Type: text/xml\r\n\r\n<e>");
        while stream.write_all(&[b' '; 4096]).is_ok() {}
    });
    let run = send(&format!("--to http://{endless}/1 --timeout 60").replace("--timeout 1 ", "")).ends(2);
    assert!(run.err.contains("is larger than 64 MB") || run.err.contains("cannot be used"), "{}", run.err);
    let gone = once("");
    send(&format!("--to http://{gone}/1")).ends(2).complains("gave no reply of HTTP: the connection ended");
    send(&format!("--to http://{}/1", once("SSH-2.0-quay\r\n"))).ends(2).complains("gave no reply of HTTP");
    folder.write(
        "bare.wsdl",
        contract(&[("location=\"https://tides.saltmere.example/1\"", "location=\"PUT_ADDRESS_HERE\"")]),
    );
    folder
        .run("send bare.wsdl nextTide")
        .ends(2)
        .complains("has no address for the port TidesPort that could be asked");
    folder
        .run("send tides.wsdl nextTides --to http://127.0.0.1:9")
        .ends(2)
        .complains("did you mean \"operation/nextTide\"?");
    folder
        .run("send tides.wsdl nextTide --port TidePort --to http://127.0.0.1:9")
        .ends(2)
        .complains("did you mean \"TidesPort\"?");
}

#[test]
fn a_request_is_sent_again_only_if_one_asks_for_it() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let listener = TcpListener::bind("127.0.0.1:0").unwrap();
    let host = listener.local_addr().unwrap();
    let asked = std::thread::spawn(move || {
        let text =
            envelope("", "<t:nextTideResponse><t:high>2026-03-14T06:30:00Z</t:high></t:nextTideResponse>");
        let mut asked = 0;
        // The first is dropped, the second answered, the third dropped.
        for turn in 0..3 {
            let (mut stream, _) = listener.accept().unwrap();
            asked += 1;
            let mut some = [0; 65536];
            let _ = stream.read(&mut some);
            if turn == 1 {
                stream.write_all(&reply("200 OK\r\nContent-Type: text/xml", &text)).unwrap();
            }
        }
        asked
    });
    folder.run(&format!("send tides.wsdl nextTide --retries 2 --to http://{host}/1")).ends(0);
    folder.run(&format!("send tides.wsdl nextTide --to http://{host}/1")).ends(2);
    assert_eq!(asked.join().unwrap(), 3);
}

#[test]
fn an_environment_says_where_and_how() {
    let (folder, serving) = tides();
    let settings = format!(
        "[environments.test]\naddress = \"http://{{host}}/1\"\nvariables = {{ host = \"{}\", gauge = \"lock\" }}\nbasic = \"ines\"\npassword = \"env:QUAY_PASSWORD\"\nheaders = {{ X-Quay = \"at {{gauge}} {{{{4}}}}\" }}\ntimeout = 5\n\n[environments.far]\naddresses = {{ TidesPort = \"http://nowhere.invalid/1\" }}\n\n[environments.bad]\naddress = \"http://{{hots}}/1\"\n",
        serving.host
    );
    folder.write("charter.toml", settings);
    let run = folder.run_with(
        "send tides.wsdl nextTide gauge={gauge} --environment test --journal day.jsonl",
        b"",
        &[("QUAY_PASSWORD", "grey-heron-41")],
    );
    let run = run
        .ends(0)
        .says("<gauge>lock</gauge>")
        .says("X-Quay: at lock {4}")
        .says("Authorization: Basic (hidden)");
    let journal = folder.read("day.jsonl");
    for secret in ["grey-heron", "aW5lcz"] {
        assert!(
            !run.out.contains(secret) && !run.err.contains(secret) && !journal.contains(secret),
            "{secret}"
        );
    }
    folder.run("send tides.wsdl nextTide -e test").ends(2).complains("the variable QUAY_PASSWORD is not set");
    folder.run("send tides.wsdl nextTide -e far").ends(2).complains("there is no such host");
    folder.run("send tides.wsdl nextTide -e tset").ends(2).complains("did you mean \"test\"?");
    folder
        .run("send tides.wsdl nextTide -e bad")
        .ends(2)
        .complains("the environment has no variable \"hots\"");
    folder.run("send tides.wsdl nextTide -e test --to http://127.0.0.1:9").ends(2);
}

#[test]
fn settings_of_environments_that_make_no_sense_are_said() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    for (line, place, words) in [
        ("adress = \"http://quay.example\"", "charter.toml:2:1", "did you mean \"address\"?"),
        ("address = \"quay.example/1\"", "charter.toml:2:11", "did you mean \"https://quay.example/1\"?"),
        (
            "password = \"grey-heron-41\"",
            "charter.toml:2:12",
            "a secret does not stand in a file that others read",
        ),
        ("timeout = 0", "charter.toml:2:11", "this is no number of seconds"),
        (
            "addresses = \"http://quay.example\"",
            "charter.toml:2:13",
            "\"environments.test.addresses\" is no table",
        ),
        ("variables = { host = 4 }", "charter.toml:2:22", "this is no text"),
    ] {
        folder.write("charter.toml", format!("[environments.test]\n{line}\n"));
        let run = folder.run("send tides.wsdl nextTide -e test").ends(2);
        assert!(run.err.contains(place) && run.err.contains(words), "{line}: {}", run.err);
        assert!(!run.err.contains("grey-heron"), "{}", run.err);
    }
}

#[test]
fn who_asks_is_shown_as_it_is_wanted_and_secrets_are_not() {
    let (folder, serving) = tides();
    folder.write("secret.txt", "grey-heron-41\n");
    let to = format!("--to http://{}/1", serving.host);
    let run =
        folder.run(&format!("send tides.wsdl nextTide --user ines --password file:secret.txt {to}")).ends(1);
    // The contract says nothing of it, so its stand-in does not understand it.
    let run = run.says(">ines<").says(">(hidden)<").notes("MustUnderstand");
    assert!(!run.out.contains("grey-heron") && !run.err.contains("grey-heron"));
    let run = folder
        .run(&format!("send tides.wsdl nextTide --bearer file:secret.txt --header X-Quay:~4 {to}"))
        .ends(0);
    let run = run.says("Authorization: Bearer (hidden)").says("X-Quay: 4");
    assert!(!run.out.contains("grey-heron"));
    folder
        .run(&format!("send tides.wsdl nextTide --user ines --password grey-heron-41 {to}"))
        .ends(2)
        .complains("--password env:NAME");
    let run = folder.run(&format!("send tides.wsdl nextTide --basic ines {to}")).ends(2);
    run.complains("HTTP Basic takes a password");
    folder
        .run(&format!("send tides.wsdl nextTide --password file:none.txt --basic a {to}"))
        .ends(2)
        .complains("the secret cannot be read");
    folder
        .run(&format!("send tides.wsdl nextTide --header quay {to}"))
        .ends(2)
        .complains("\"quay\" is no header field");
    folder
        .run(&format!("send tides.wsdl nextTide --proxy :: {to}"))
        .ends(2)
        .complains("no address of a proxy");
    folder
        .run(&format!("send tides.wsdl nextTide --authorities secret.txt {to}"))
        .ends(2)
        .complains("no certificate");
}

#[test]
fn a_proxy_is_asked_first() {
    let (folder, serving) = tides();
    // The stand-in takes whole addresses as a proxy gets them.
    folder
        .run(&format!("send tides.wsdl nextTide --proxy http://{} --to http://tides.invalid/1", serving.host))
        .ends(0);
}

#[test]
fn exchanges_go_out_as_an_archive() {
    let (folder, serving) = tides();
    let run =
        folder.run(&format!("send tides.wsdl nextTide --as har --to http://{}/1", serving.host)).ends(0);
    folder.write("day.har", &run.out);
    folder.run("match tides.wsdl day.har").ends(0).says("all: 2 of 2 match");
    assert_eq!(run.json()["log"]["entries"][0]["request"]["url"], format!("http://{}/1", serving.host));
}

#[test]
fn a_contract_without_services_is_tried_all_the_same() {
    let folder = Folder::empty();
    let text = contract(&[]);
    let (start, _) = text.split_once("  <wsdl:service").unwrap();
    folder.write("tides.wsdl", format!("{start}</wsdl:definitions>"));
    let serving = folder.serve("answer tides.wsdl");
    assert!(
        serving.began.contains("bindings that no port offers") && serving.began.contains("/TidesOverSoap11"),
        "{}",
        serving.began
    );
    folder
        .run(&format!("send tides.wsdl --all --to http://{}", serving.host))
        .ends(0)
        .says("TidesOverSoap11")
        .says("1 of 1");
    folder.run(&format!("send tides.wsdl nextTide --to http://{}/TidesOverSoap11", serving.host)).ends(0);
    serving.get("/").is(200).has("Bindings that no port offers").has("<b>nextTide</b>");
    // Whoever reads it there finds its way.
    let run = folder.run(&format!("--online send http://{0}/?wsdl nextTide", serving.host)).ends(0);
    assert!(run.err.contains("by TidesOverSoap11: replied"), "{}", run.err);
}

#[test]
fn a_reply_that_two_operations_have_is_that_of_the_one_asked_for() {
    let twice = |text: &str, from: &str, to: &str| {
        let (start, rest) = text.split_once(from).unwrap();
        let (piece, end) = rest.split_once(to).unwrap();
        let piece = format!("{from}{piece}{to}");
        let second =
            piece.replace("name=\"nextTide\"", "name=\"laterTide\"").replace(":nextTide\"", ":laterTide\"");
        format!("{start}{piece}{second}{end}")
    };
    let text = contract(&[]);
    let text =
        twice(&text, "    <wsdl:operation name=\"nextTide\">\n      <wsdl:input ", "    </wsdl:operation>\n");
    let text = twice(
        &text,
        "    <wsdl:operation name=\"nextTide\">\n      <soap:operation",
        "    </wsdl:operation>\n",
    );
    let folder = Folder::empty();
    folder.write("tides.wsdl", text);
    let serving = folder.serve("answer tides.wsdl");
    let run = folder.run(&format!("send tides.wsdl --all --to http://{}", serving.host)).ends(0);
    assert!(run.out.contains("laterTide") && run.out.contains("2 of 2"), "{}", run.out);
}

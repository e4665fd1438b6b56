//! `charter answer --script`: what a stand-in replies instead of what is typical.

use std::io::{BufRead, BufReader, Read};
use std::time::{Duration, Instant};

use super::folder::{Folder, contract};
use super::serving::{Serving, send};
use super::stand_in::{ACTION, NEXT_TIDE, envelope};

/// The example contract with a fault, and a stand-in that answers by a script.
fn scripted(script: &str) -> (Folder, Serving) {
    let folder = Folder::empty();
    let detail = "      <xs:element name=\"gaugeDown\"><xs:complexType><xs:sequence><xs:element name=\"reason\" type=\"xs:string\"/></xs:sequence></xs:complexType></xs:element>\n    </xs:schema>";
    let message = "  <wsdl:message name=\"down\"><wsdl:part name=\"fault\" element=\"tns:gaugeDown\"/></wsdl:message>\n  <wsdl:portType";
    let declared = "<wsdl:output message=\"tns:nextTideOutput\"/>\n      <wsdl:fault name=\"GaugeDown\" message=\"tns:down\"/>";
    let bound = "<wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n      <wsdl:fault name=\"GaugeDown\"><soap:fault name=\"GaugeDown\" use=\"literal\"/></wsdl:fault>";
    let changes = [
        ("    </xs:schema>", detail),
        ("  <wsdl:portType", message),
        ("<wsdl:output message=\"tns:nextTideOutput\"/>", declared),
        ("<wsdl:output><soap:body use=\"literal\"/></wsdl:output>", bound),
    ];
    folder.write("tides.wsdl", contract(&changes));
    folder.write("answers.toml", script);
    let serving = folder.serve("answer tides.wsdl --script answers.toml");
    (folder, serving)
}

fn ask(serving: &Serving, gauge: &str) -> super::serving::Came {
    serving.post("/1", ACTION, &envelope("", &NEXT_TIDE.replace("pier", gauge)))
}

#[test]
fn the_first_reply_that_fits_answers_with_values_of_its_own() {
    let (folder, serving) = scripted(
        r#"
[[reply]]
operation = "nextTide"
when = { gauge = "lock" }
values = { height = "{random 4..4}.{counter 10}", "@gauge" = "{gauge}", high = "{now + 2h}" }

[[reply]]
operation = "nextTide"
when = { gauge = { not = "lock", begins = "p" } }
times = 1
values = { height = "", high = "2026-03-14T18:52:00Z" }
"#,
    );
    ask(&serving, "lock")
        .is(200)
        .has("<height>4.10</height>")
        .has("gauge=\"lock\"")
        .has_not("2026-03-14T06:30:00Z");
    ask(&serving, "lock").is(200).has("<height>4.11</height>");
    ask(&serving, "pier").is(200).has("18:52:00Z").has_not("height");
    // Once is enough; then what is typical answers.
    ask(&serving, "pier").is(200).has("2026-03-14T06:30:00Z").has("height");
    let run = folder.run(&format!("send tides.wsdl nextTide gauge=lock --to http://{}", serving.host));
    run.ends(0);
}

#[test]
fn faults_and_refusals_are_those_of_the_contract_and_of_soap() {
    let (folder, serving) = scripted(
        r#"
[[reply]]
operation = "nextTide"
when = { gauge = "lock" }
fault = "GaugeDown"
values = { reason = "No reading at {gauge}." }

[[reply]]
operation = "nextTide"
times = 1
refuse = "Closed until noon: {gauge}."

[[reply]]
operation = "nextTide"
not-implemented = true
"#,
    );
    ask(&serving, "lock").is(500).has("<gaugeDown").has("No reading at lock.");
    let run = folder.run(&format!("send tides.wsdl nextTide gauge=lock --to http://{}", serving.host));
    let run = run.ends(1);
    assert!(run.err.contains("fault: Server") && !run.err.contains("error "), "{}", run.err);
    ask(&serving, "pier").is(500).has("<faultcode>env:Server</faultcode>").has("Closed until noon: pier.");
    ask(&serving, "pier").is(500).has("the operation nextTide is not implemented");
    // What is wrong is refused before the script is asked.
    ask(&serving, "peir").is(500).has("env:Client");
    serving.stop().says("fault     nextTide").says("5 requests: 4 faults, 1 refused");
}

#[test]
fn replies_come_late_or_not_at_all_or_half_or_wrong() {
    let (folder, serving) = scripted(
        r#"
[[reply]]
operation = "nextTide"
times = 1
after = "300ms..400ms"

[[reply]]
operation = "nextTide"
times = 1
lose = "reply"

[[reply]]
operation = "nextTide"
times = 1
lose = "half"

[[reply]]
operation = "nextTide"
anyway = true
values = { height = "high" }
"#,
    );
    let began = Instant::now();
    ask(&serving, "pier").is(200);
    let took = began.elapsed();
    assert!(took >= Duration::from_millis(300), "{took:?}");
    let head = format!("POST /1 HTTP/1.1\nContent-Type: text/xml\nSOAPAction: \"{ACTION}\"");
    let mut stream = serving.connect();
    send(&mut stream, &head, envelope("", NEXT_TIDE).as_bytes());
    let mut rest = Vec::new();
    let _ = stream.read_to_end(&mut rest);
    assert!(rest.is_empty(), "{}", String::from_utf8_lossy(&rest));
    let mut stream = serving.connect();
    send(&mut stream, &head, envelope("", NEXT_TIDE).as_bytes());
    let mut reader = BufReader::new(stream);
    let mut first = String::new();
    reader.read_line(&mut first).unwrap();
    assert!(first.starts_with("HTTP/1.1 200"), "{first}");
    let mut rest = Vec::new();
    let _ = reader.read_to_end(&mut rest);
    let rest = String::from_utf8_lossy(&rest);
    assert!(rest.contains("nextTideResponse") && !rest.contains("</env:Envelope>"), "{rest}");
    let run = folder.run(&format!("send tides.wsdl nextTide --to http://{}", serving.host)).ends(1);
    assert!(run.err.contains("\"high\" is not a decimal"), "{}", run.err);
    serving.stop().says("lost      nextTide").says("4 requests: 2 replied, 2 lost");
}

#[test]
fn a_reply_that_cannot_be_made_says_which_and_why() {
    let (_folder, serving) = scripted(
        "[[reply]]\noperation = \"nextTide\"\nwhen = { gauge = \"lock\" }\nvalues = { height = \"{gauge}\" }\n\n[[reply]]\noperation = \"nextTide\"\nvalues = { height = \"{gauge}\" }\n",
    );
    ask(&serving, "pier")
        .is(500)
        .has("reply 2 of the script cannot be made: height: \"pier\" is not a decimal");
    serving.stop().says("reply 2 of the script cannot be made");
}

#[test]
fn a_script_that_makes_no_sense_is_said_before_anybody_asks() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let reply = "[[reply]]\noperation = \"nextTide\"\n";
    for (script, place, words) in [
        ("[[replies]]\n".to_owned(), "1:3", "there is users, access, tables, reply"),
        ("[[reply]]\n".to_owned(), "1:1", "the reply names no operation"),
        ("[[reply]]\noperation = \"nextTides\"\n".to_owned(), "2:13", "did you mean \"nextTide\"?"),
        (format!("{reply}port = \"TidePort\"\n"), "3:8", "did you mean \"TidesPort\"?"),
        (format!("{reply}when = {{ gage = 4 }}\n"), "3:17", "did you mean \"gauge\"?"),
        (format!("{reply}when = {{ gauge = {{ abvoe = 4 }} }}\n"), "3:20", "did you mean \"above\"?"),
        (format!("{reply}values = {{ hieght = 4 }}\n"), "3:21", "did you mean \"height\"?"),
        (format!("{reply}values = {{ height = \"{{gage}}\" }}\n"), "3:21", "did you mean \"gauge\"?"),
        (
            format!("{reply}values = {{ height = \"{{now + 2}}\" }}\n"),
            "3:21",
            "\"now + 2\" means nothing in braces",
        ),
        (format!("{reply}fault = \"Down\"\n"), "3:9", "the operation has no faults"),
        (format!("{reply}after = \"soon\"\n"), "3:9", "\"soon\" is no time"),
        (format!("{reply}times = 0\n"), "3:9", "no number of requests"),
        (format!("{reply}lose = \"head\"\n"), "3:8", "\"head\" cannot be lost"),
        (format!("{reply}anyway = 4\n"), "3:10", "neither true nor false"),
        ("[[reply]\n".to_owned(), "1:9", "the file is in TOML"),
    ] {
        folder.write("answers.toml", &script);
        let run = folder.run("answer tides.wsdl --script answers.toml --port 0").ends(2);
        let run = run.complains(words);
        assert!(run.err.contains(&format!("answers.toml:{place}: ")), "{script}{}", run.err);
    }
    folder
        .run("answer tides.wsdl --script none.toml --port 0")
        .ends(2)
        .complains("the script cannot be read");
}

#[test]
fn a_script_is_read_again_when_it_changes() {
    let (folder, serving) = scripted("[[reply]]\noperation = \"nextTide\"\nvalues = { height = 4 }\n");
    ask(&serving, "pier").is(200).has("<height>4</height>");
    folder.write("answers.toml", "[[reply]]\noperation = \"nextTide\"\nvalues = { height = 5 }\n");
    let began = Instant::now();
    while !ask(&serving, "pier").text().contains("<height>5</height>") {
        assert!(began.elapsed() < Duration::from_secs(20), "it is not read again");
        std::thread::sleep(Duration::from_millis(50));
    }
    folder.write("answers.toml", "[[reply]]\noperation = \"nextTime\"\n");
    std::thread::sleep(Duration::from_millis(600));
    ask(&serving, "pier").is(200).has("<height>5</height>");
    let run = serving.stop().ends(0);
    assert!(run.err.contains("answers.toml:2:13: there is no operation \"nextTime\""), "{}", run.err);
}

//! `charter rehearse`: exchanges, each against what is expected of it.

use serde_json::Value as Json;

use super::folder::{Folder, contract};

const BOOKING: &str = "rehearse saltmere/v1/pilotage.wsdl saltmere/rehearsals/booking.toml";

/// The example contract with a rehearsal of it.
fn tides(rehearsal: &str) -> Folder {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    folder.write("tides.toml", rehearsal);
    folder
}

const EXCHANGE: &str = "[[exchange]]\noperation = \"nextTide\"\n";

#[test]
fn the_rehearsal_of_the_demo_comes_out_as_expected_and_so_it_does_again() {
    let folder = Folder::with_demo();
    let run = folder.run(&format!("{BOOKING} --script saltmere/answers.toml")).ends(0);
    let run = run.says("against a stand-in of its own, by its script").says("8 exchanges: all as expected");
    assert!(run.out.contains("vessels of all kinds are taken, row 4  200"), "{}", run.out);
    // A stand-in that keeps rows in a file knows other bookings already.
    let serving = folder.serve("answer saltmere/v1/pilotage.wsdl --script saltmere/answers.toml");
    for _ in 0..2 {
        folder.run(&format!("{BOOKING} --to http://{}", serving.host)).ends(0);
    }
    serving.stop().says("16 requests: 14 replied, 2 faults");
    // Without the script, nothing is kept.
    let run = folder.run(BOOKING).ends(1);
    run.says("differs      the boarding is found")
        .says("expected \"Grey Plover\", came \"Marsh Harrier\"")
        .says("expected the fault UnknownBooking, came a reply")
        .says("not as expected");
}

#[test]
fn each_difference_is_said_once_with_its_path_and_programs_can_read_it() {
    let folder = tides(&format!(
        "{EXCHANGE}name = \"all of it\"\nvalues = {{ gauge = \"lock\" }}\n[exchange.reply]\n\
         height = {{ above = 100, below = 200 }}\nhigh = {{ like = \"2027.*\" }}\n\"@gauge\" = \"{{gauge}}\"\n\n\
         {EXCHANGE}refused = true\n\n{EXCHANGE}name = \"quick\"\nwithin = \"0ms\"\nreply = {{ height = {{ there = false }} }}\n\n\
         {EXCHANGE}name = \"wrong\"\nanyway = true\nvalues = {{ gauge = \"harbour\" }}\nrefused = true\n"
    ));
    let words = "rehearse tides.wsdl tides.toml";
    let run = folder.run(words).ends(1);
    let run = run
        .says("height: expected more than 100 and less than 200, came 31.2")
        .says("high: expected what is like \"2027.*\", came \"2026-03-14T06:30:00Z\"")
        .says("expected a refusal, came a reply")
        .says("and 0.0 ms is allowed")
        .says("height: expected none, came 31.2")
        .says("as expected  wrong")
        .says("4 exchanges: 3 not as expected");
    assert_eq!(run.out.matches("2027").count(), 1, "{}", run.out);
    let json = folder.run(&format!("{words} --format json")).ends(1).json();
    assert_eq!(json["right"], false);
    let first = &json["exchanges"][0];
    assert_eq!((&first["name"], &first["operation"]), (&Json::from("all of it"), &Json::from("nextTide")));
    let paths: Vec<&str> =
        first["unlike"].as_array().unwrap().iter().map(|it| it["path"].as_str().unwrap()).collect();
    assert!(paths.contains(&"height") && paths.contains(&"high"), "{paths:?}");
    assert_eq!(first["exchange"]["reply"]["status"], 200);
    assert_eq!(json["exchanges"][3]["right"], true);
    let junit = folder.run(&format!("{words} --format junit")).ends(1);
    let junit =
        junit.says("tests=\"4\" failures=\"3\"").says("<failure type=\"value\" message=\"height: expected");
    assert!(roxmltree::Document::parse(&junit.out).is_ok(), "{}", junit.out);
    folder.run(&format!("{words} --as page -o report.html")).ends(1).says("3 not as expected");
    let page = folder.read("report.html");
    for shown in ["&lt;env:Envelope", "the reply", "more than 100 and less than 200", "POST http:"] {
        assert!(page.contains(shown), "{shown}");
    }
}

#[test]
fn what_came_is_recorded_and_what_varies_is_marked_as_such() {
    let folder = tides("");
    folder.write(
        "answers.toml",
        "[[reply]]\noperation = \"nextTide\"\nvalues = { height = \"{counter 4}\" }\n",
    );
    let run = folder.run("rehearse tides.wsdl --script answers.toml --record recorded.toml").ends(0);
    assert!(
        run.err.contains("wrote recorded.toml: 1 exchange, each of which expects what came"),
        "{}",
        run.err
    );
    assert!(run.out.is_empty(), "{}", run.out);
    let recorded = folder.read("recorded.toml");
    assert!(recorded.contains("height = { varies = true }"), "{recorded}");
    assert!(recorded.contains("high = \"2026-03-14T06:30:00Z\""), "{recorded}");
    folder.run("rehearse tides.wsdl recorded.toml --script answers.toml").ends(0);
    // What is there already is not written over, unless it is the rehearsal itself.
    folder.run("rehearse tides.wsdl --record recorded.toml").ends(2).complains("recorded.toml");
    assert_eq!(folder.read("recorded.toml"), recorded);
    // What a person has written stays.
    let own = format!(
        "# Agreed with the harbour office.\n{EXCHANGE}reply = {{ high = {{ begins = \"20\" }} }} # any day\n\n{EXCHANGE}values = {{ gauge = \"lock\" }}\nfault = \"Gone\"\n"
    );
    folder.write("own.toml", own.replace("fault = \"Gone\"\n", ""));
    folder.run("rehearse tides.wsdl own.toml --record own.toml").ends(0);
    let recorded = folder.read("own.toml");
    assert!(recorded.starts_with("# Agreed with the harbour office.\n"), "{recorded}");
    assert!(recorded.contains("high = { begins = \"20\" }"), "{recorded}");
    assert!(recorded.contains("values = { gauge = \"lock\" }"), "{recorded}");
    assert_eq!(recorded.matches("height = 31.2").count(), 2, "{recorded}");
    folder.run("rehearse tides.wsdl own.toml").ends(0);
}

#[test]
fn a_binding_without_a_port_is_rehearsed_by_its_own_name() {
    let folder = Folder::empty();
    let whole = contract(&[]);
    let (above, service) = whole.split_once("  <wsdl:service").unwrap();
    assert!(service.contains("</wsdl:service>"));
    folder.write("tides.wsdl", format!("{above}</wsdl:definitions>"));
    folder.run("rehearse tides.wsdl --record all.toml").ends(0);
    assert!(folder.read("all.toml").contains("port = \"TidesOverSoap11\""), "{}", folder.read("all.toml"));
    folder.run("rehearse tides.wsdl all.toml").ends(0).says("1 exchange: all as expected");
}

#[test]
fn a_fault_is_recorded_by_its_name() {
    let folder = Folder::with_demo();
    folder.write(
        "gone.toml",
        "[[exchange]]\noperation = \"findBoarding\"\n\n[[exchange]]\noperation = \"listPilots\"\nanyway = true\nvalues = { day = \"never\" }\n",
    );
    let words = "rehearse saltmere/v1/pilotage.wsdl gone.toml --script saltmere/answers.toml";
    folder.run(words).ends(1);
    folder.run(&format!("{words} --record gone.toml")).ends(0);
    let recorded = folder.read("gone.toml");
    assert!(recorded.contains("fault = \"UnknownBooking\""), "{recorded}");
    assert!(recorded.contains("refused = true"), "{recorded}");
    folder.run(words).ends(0);
}

#[test]
fn a_row_that_is_wrong_has_its_number_and_the_others_go() {
    let folder = tides(&format!("{EXCHANGE}rows = \"gauges.csv\"\n"));
    folder.write("gauges.csv", "gauge,reply height\npier,31.20\nlock\nharbour,\nlock,5\n");
    folder
        .run("rehearse tides.wsdl tides.toml")
        .ends(1)
        .says("as expected  nextTide, row 2")
        .says("row 3: it has 1 values, and the header has 2")
        .says("the request cannot be made: gauge: \"harbour\"")
        .says("height: expected \"5\", came 31.2")
        .says("4 exchanges: 3 not as expected");
}

#[test]
fn a_provider_that_swallows_bad_input_is_found() {
    let folder = tides(EXCHANGE);
    let lax = contract(&[(
        "<xs:element name=\"gauge\" type=\"tns:Gauge\"/>",
        "<xs:element name=\"gauge\" type=\"xs:string\"/>",
    )]);
    assert_ne!(lax, contract(&[]));
    folder.write("lax.wsdl", lax);
    let strict = folder.serve("answer tides.wsdl");
    let run =
        folder.run(&format!("rehearse tides.wsdl tides.toml --hostile --to http://{}", strict.host)).ends(0);
    run.says("all refused").says("refused      nextTide by TidesPort: all of ");
    strict.stop();
    let lax = folder.serve("answer lax.wsdl");
    let run =
        folder.run(&format!("rehearse tides.wsdl tides.toml --hostile --to http://{}", lax.host)).ends(1);
    run.says("1 exchange: all as expected")
        .says("taken        nextTide by TidesPort: ")
        .says("gauge: ")
        .says("and it was taken");
    lax.stop();
}

#[test]
fn two_providers_are_compared_by_the_values_of_their_replies() {
    let folder = Folder::with_demo();
    folder.write(
        "late.toml",
        "[[reply]]\noperation = \"findBoarding\"\nvalues = { \"boarding/booking\" = \"SM-{counter 500000}\", \"boarding/pilot/name\" = \"Bram Okker\" }\n",
    );
    folder.write(
        "one.toml",
        "[[exchange]]\noperation = \"findBoarding\"\n\n[[exchange]]\noperation = \"forecastTide\"\n",
    );
    let here = folder.serve("answer saltmere/v1/pilotage.wsdl --script late.toml");
    let there = folder.serve("answer saltmere/v1/pilotage.wsdl");
    let words = format!(
        "rehearse saltmere/v1/pilotage.wsdl one.toml --to http://{} --beside http://{}",
        here.host, there.host
    );
    folder
        .run(&words)
        .ends(1)
        .says("boarding/pilot/name: here \"Bram Okker\", there \"Ines Calloway\"")
        .lacks("SM-5")
        .says("the same     forecastTide")
        .says("2 exchanges: 1 differ; 1 value left out, which vary by themselves");
    let json = folder.run(&format!("{words} --format json")).ends(1).json();
    assert_eq!(json["beside"]["left_out"], 1);
    assert_eq!(json["exchanges"][0]["unlike"][0]["found"], "\"Ines Calloway\"");
    folder.run(&format!("{words} --as page -o page.html")).ends(1);
    assert!(folder.read("page.html").contains("the reply there"));
    here.stop();
    let same = format!(
        "rehearse saltmere/v1/pilotage.wsdl one.toml --to http://{0} --beside http://{0}",
        there.host
    );
    folder.run(&same).ends(0).says("2 exchanges: all the same");
    folder
        .run("rehearse saltmere/v1/pilotage.wsdl one.toml --beside 127.0.0.1:1")
        .ends(2)
        .complains("did you mean http://127.0.0.1:1?");
    there.stop();
}

#[test]
fn a_load_is_measured_and_drawn() {
    let folder = Folder::with_demo();
    let words =
        "rehearse saltmere/v1/pilotage.wsdl saltmere/rehearsals/booking.toml --script saltmere/answers.toml";
    let json = folder.run(&format!("{words} --repeat 12 --together 5 --format json")).ends(0).json();
    let figures = &json["figures"];
    assert_eq!((&figures["exchanges"], &figures["repetitions"]), (&Json::from(96), &Json::from(12)));
    assert_eq!(
        (&figures["outcomes"]["replied"], &figures["outcomes"]["fault"]),
        (&Json::from(84), &Json::from(12))
    );
    assert!(figures["p99_ms"].as_f64() >= figures["median_ms"].as_f64(), "{figures}");
    assert_eq!(figures["unlike"], 0);
    let run = folder
        .run("rehearse saltmere/v1/pilotage.wsdl --port PilotagePort --for 1s --as page -o load.html")
        .ends(0);
    run.says("all as expected");
    let page = folder.read("load.html");
    assert!(page.contains("<svg") && page.contains("99 % within"), "{page}");
    // What is not as expected is counted, and some of it is shown.
    let run =
        folder.run("rehearse saltmere/v1/pilotage.wsdl saltmere/rehearsals/booking.toml --repeat 20").ends(1);
    let run = run.says("some that were not as expected:").says("exchanges             160 in ");
    assert_eq!(run.out.matches("differs      the boarding is found").count(), 3, "{}", run.out);
}

#[test]
fn what_cannot_go_on_says_why() {
    let folder = tides(&format!("{EXCHANGE}fault = \"Down\"\n"));
    folder.run("rehearse tides.wsdl tides.toml").ends(2).complains("the operation has no faults");
    // Nothing was kept, since nothing came.
    let demo = Folder::with_demo();
    let run = demo
        .run("rehearse saltmere/v1/pilotage.wsdl saltmere/rehearsals/booking.toml --to http://127.0.0.1:1")
        .ends(1);
    run.says("127.0.0.1:1 cannot be reached: nobody answers there");
    demo.write("fog.toml", "[[reply]]\noperation = \"requestPilot\"\nfault = \"NoPilotFree\"\n");
    let run = demo
        .run("rehearse saltmere/v1/pilotage.wsdl saltmere/rehearsals/booking.toml --script fog.toml")
        .ends(1);
    run.says("expected a reply, came the fault NoPilotFree")
        .says("\"booking\" was not kept: see the exchange that is to keep it");
    let run = demo.run("rehearse saltmere/v1/pilotage.wsdl --record new.toml --to http://127.0.0.1:1 --port PilotagePort").ends(2);
    run.complains("127.0.0.1:1 cannot be reached");
    demo.run("rehearse saltmere/v1/pilotage.wsdl --to localhost:8080")
        .ends(2)
        .complains("did you mean http://localhost:8080?");
    let run = demo.run("rehearse saltmere/v1/pilotage.wsdl --for soon").ends(2);
    assert!(run.err.contains("write it like 10s or 5m"), "{}", run.err);
    demo.run("rehearse saltmere/v1/pilotage.wsdl none.toml")
        .ends(2)
        .complains("the rehearsal cannot be read");
    demo.run("rehearse saltmere/v1/pilotage.wsdl --port PilotagePorts")
        .ends(2)
        .complains("did you mean \"PilotagePort\"?");
    demo.write("empty.toml", "about = \"nothing yet\"\n");
    demo.run("rehearse saltmere/v1/pilotage.wsdl empty.toml")
        .ends(2)
        .complains("there is nothing to rehearse")
        .complains("write [[exchange]]");
    demo.run("rehearse saltmere/v1/pilotage.wsdl --format sarif").ends(2).complains("write SARIF");
}

#[test]
fn a_rehearsal_that_makes_no_sense_is_said_before_anything_is_sent() {
    let folder = tides("");
    folder.write("short.csv", "gage\npier\n");
    folder.write("empty.csv", "");
    folder.write("bad.json", "{");
    for (rehearsal, place, words) in [
        ("[[exchanges]]\n".to_owned(), "1:3", "did you mean \"exchange\"?"),
        ("[[exchange]]\n".to_owned(), "1:1", "the exchange names no operation"),
        ("[[exchange]]\noperation = \"nextTides\"\n".to_owned(), "2:13", "did you mean \"nextTide\"?"),
        (format!("{EXCHANGE}port = \"TidePort\"\n"), "3:8", "did you mean \"TidesPort\"?"),
        (format!("{EXCHANGE}size = \"huge\"\n"), "3:8", "\"huge\" is no size"),
        (format!("{EXCHANGE}seed = \"x\"\n"), "3:8", "this is no seed"),
        (format!("{EXCHANGE}values = {{ gage = 4 }}\n"), "3:19", "did you mean \"gauge\"?"),
        (format!("{EXCHANGE}values = {{ gauge = \"{{row.x}}\" }}\n"), "3:20", "there are no rows here"),
        (format!("{EXCHANGE}reply = {{ hieght = 4 }}\n"), "3:20", "did you mean \"height\"?"),
        (format!("{EXCHANGE}reply = {{ height = \"{{gage}}\" }}\n"), "3:20", "did you mean \"gauge\"?"),
        (format!("{EXCHANGE}reply = {{ height = {{ abvoe = 4 }} }}\n"), "3:22", "did you mean \"above\"?"),
        (
            format!("{EXCHANGE}reply = {{ height = {{ between = [5, 4] }} }}\n"),
            "3:32",
            "nothing lies between these",
        ),
        (format!("{EXCHANGE}reply = {{ height = {{ between = 5 }} }}\n"), "3:32", "not two numbers"),
        (format!("{EXCHANGE}reply = {{ height = {{ like = \"[\" }} }}\n"), "3:29", "this is no pattern"),
        (format!("{EXCHANGE}reply = {{ height = {{ varies = false }} }}\n"), "3:31", "does not vary"),
        (
            format!("{EXCHANGE}refused = true\nreply = {{ height = 4 }}\n"),
            "4:20",
            "a fault of SOAP itself has no values",
        ),
        (format!("{EXCHANGE}keep = {{ tide = \"hihg\" }}\n"), "3:17", "did you mean \"high\"?"),
        (format!("{EXCHANGE}within = \"soon\"\n"), "3:10", "\"soon\" is no time"),
        (format!("{EXCHANGE}rows = \"none.csv\"\n"), "3:8", "the file cannot be read"),
        (format!("{EXCHANGE}rows = \"empty.csv\"\n"), "3:8", "the file is empty"),
        (format!("{EXCHANGE}rows = \"short.csv\"\n"), "3:8", "column \"gage\" of the file"),
        (format!("{EXCHANGE}file = \"bad.json\"\n"), "3:8", "the file is not JSON"),
    ] {
        folder.write("tides.toml", &rehearsal);
        let run = folder.run("rehearse tides.wsdl tides.toml").ends(2).complains(words);
        assert!(run.err.contains(&format!("tides.toml:{place}: ")), "{rehearsal}{}", run.err);
    }
}

#[test]
fn values_come_from_files_environments_and_earlier_replies() {
    let folder = tides(&format!(
        "{EXCHANGE}values = {{ gauge = \"{{gauge-of-today}}\" }}\nkeep = {{ seen = \"@gauge\" }}\n\n\
         {EXCHANGE}file = \"values.json\"\n\n\
         {EXCHANGE}message = \"sent.xml\"\nreply = {{ \"@gauge\" = {{ not = \"{{seen}}x\" }}, \"nextTideResponse/height\" = 31.20 }}\n\n\
         {EXCHANGE}size = \"least\"\nvalues = {{ gauge = \"{{seen}}\" }}\n"
    ));
    folder.write("values.json", "{ \"gauge\": \"lock\" }");
    folder.write("charter.toml", "[environments.test]\naddress = \"http://127.0.0.1:PORT\"\nvariables = { gauge-of-today = \"lock\" }\n");
    let sent = folder.run("message tides.wsdl nextTide").ends(0);
    folder.write("sent.xml", sent.out);
    let serving = folder.serve("answer tides.wsdl --journal day.jsonl");
    let port = serving.host.rsplit(':').next().unwrap().to_owned();
    folder.write("charter.toml", folder.read("charter.toml").replace("PORT", &format!("{port}/1")));
    folder
        .run("rehearse tides.wsdl tides.toml --environment test --journal own.har")
        .ends(0)
        .says("4 exchanges: all as expected");
    serving.stop();
    let journal = folder.read("day.jsonl");
    let first = journal.lines().next().unwrap();
    assert!(first.contains("<tns:gauge>lock</tns:gauge>") || first.contains(">lock<"), "{first}");
    assert!(folder.read("own.har").contains("\"entries\""));
    folder.run("rehearse tides.wsdl tides.toml").ends(2).complains("gauge-of-today");
}

//! What a team has settled in `charter.toml`, as every command sees it.

use crate::program::folder::Folder;

const V1: &str = "saltmere/v1/pilotage.wsdl";
const V2: &str = "saltmere/v2/pilotage.wsdl";

/// Commands that look at what is settled, each of which would end well or with a mere no.
fn commands() -> Vec<String> {
    [
        "show V1",
        "show V1 operation/requestPilot",
        "check V1",
        "check V1 V2 --format json",
        "message V1 requestPilot",
        "message V1 requestPilot --as json",
        "message V1 --all made",
        "match V1 saltmere/sent/declare-cargo.xml",
        "compare V1 V2",
        "compare V1 V2 --format json",
        "set V1 service/PilotageService/port/PilotagePort address=https://quay.saltmere.example/ --dry-run",
        "rename V1 operation/requestPilot askForPilot --dry-run",
        "remove V1 service/PilotageService/port/PilotagePort12 --dry-run",
        "check V1 --fix --dry-run",
    ]
    .into_iter()
    .map(|line| line.replace("V1", V1).replace("V2", V2))
    .collect()
}

#[test]
fn what_makes_no_sense_is_said_alike_by_every_command() {
    let folder = Folder::with_demo();
    for line in commands() {
        assert!(folder.run(&line).status < 2, "{line}");
    }
    for (text, place, words) in [
        ("[values]\nremark = 4\n", "2:10", "this is no text"),
        ("[names]\nservice = \"Desk\"\n", "2:11", "\"Desk\" makes no names"),
        ("[check.levels]\ntype-unused = \"loud\"\n", "2:15", "\"loud\" is no level"),
        ("[compare]\nreader = \"slow\"\n", "2:10", "\"slow\" is not known here"),
        ("[house]\nsoap = [\"1.3\"]\n", "2:9", "there is no SOAP 1.3"),
        ("[tides]\nhigh = 4\n", "1:2", "there is nothing named \"tides\" to settle"),
        ("values = 4\n", "1:10", "\"values\" is no table"),
    ] {
        folder.write("saltmere/charter.toml", text);
        for line in commands() {
            let run = folder.run(&line).ends(2);
            let run = run.complains(&format!("charter.toml:{place}: ")).complains(words);
            assert_eq!(run.err.matches(words).count(), 1, "{line}: {}", run.err);
            // A document of many files has what could be said of each: of none, here.
            assert!(
                run.out.is_empty() || run.json()["files"] == serde_json::json!([]),
                "{line}: {}",
                run.out
            );
        }
    }
}

#[test]
fn nothing_is_written_while_settings_make_no_sense() {
    let folder = Folder::with_demo();
    let before = folder.read(V1);
    folder.write("saltmere/charter.toml", "[names]\nservice = 4\n");
    for line in [
        format!("rename {V1} operation/requestPilot askForPilot"),
        format!("set {V1} service/PilotageService/port/PilotagePort address=https://quay.saltmere.example/"),
        format!("check {V1} --fix"),
        format!("message {V1} requestPilot -o made.xml"),
    ] {
        folder.run(&line).ends(2);
    }
    assert_eq!(folder.read(V1), before);
    assert!(!folder.path("made.xml").exists());
}

#[test]
fn the_nearest_settings_hold() {
    let folder = Folder::with_demo();
    folder.write("charter.toml", "[values]\nremark = \"from afar\"\n");
    // The demo has its own.
    folder.run(&format!("message {V1} requestPilot")).ends(0).lacks("from afar").says("Two tugs on arrival.");
    folder.write("saltmere/v1/charter.toml", "[values]\nremark = \"from nearby\"\n");
    folder.run(&format!("message {V1} requestPilot")).ends(0).says("from nearby").lacks("Two tugs");
    folder
        .run(&format!("message {V2} requestPilot"))
        .ends(0)
        .lacks("from nearby")
        .says("Two tugs on arrival.");
}

#[test]
fn values_of_a_team_are_taken_only_where_they_fit() {
    let folder = Folder::with_demo();
    folder.write(
        "saltmere/charter.toml",
        "[values]\ncallSign = [\"no call sign\", \"QUAY77\"]\ndraught = [\"deep\", \"999\", \"8.125\", \"8.1\"]\n\"vessel/name\" = \"Night Heron\"\n",
    );
    let run = folder.run(&format!("message {V1} requestPilot")).ends(0);
    // A call sign is of capitals and digits, and a draught is below five hundred metres, to the centimetre.
    let run = run.says(">QUAY77<").says(">8.1<").says(">Night Heron<");
    let run = run.lacks("no call sign").lacks(">deep<").lacks(">999<").lacks(">8.125<");
    folder.write("sent.xml", &run.out);
    folder.run(&format!("match {V1} sent.xml")).ends(0);
    // A value that is given is nobody else's business.
    folder.run(&format!("message {V1} requestPilot vessel/name=Plover")).ends(0).says(">Plover<");
}

#[test]
fn random_messages_hold_no_words_of_a_team() {
    let folder = Folder::with_demo();
    let run = folder.run(&format!("message {V1} requestPilot --size random --seed 7")).ends(0);
    let same = folder.run(&format!("message {V1} requestPilot --size random --seed 7")).ends(0);
    assert_eq!(run.out, same.out);
    run.lacks("Two tugs on arrival.");
}

#[test]
fn addresses_are_judged_by_their_hosts() {
    let folder = Folder::with_demo();
    let text = folder.read(V1);
    let rules = |address: &str| -> Vec<String> {
        folder.write(V1, text.replace("https://pilotage.saltmere.example/1", address));
        let json = folder.run(&format!("check {V1} --notes --format json")).json();
        let all = json["findings"].as_array().unwrap().iter();
        let mut found: Vec<String> = all
            .filter(|finding| finding["path"].as_str().is_some_and(|path| path.starts_with("service")))
            .map(|finding| finding["rule"].as_str().unwrap().to_owned())
            .filter(|rule| rule.starts_with("address"))
            .collect();
        found.sort();
        found.dedup();
        found
    };
    for local in [
        "https://localhost/1",
        "https://LOCALHOST:8443/1",
        "https://pilot.localhost/1",
        "https://127.0.0.1/1",
        "https://127.9.9.9:80/1",
        "https://[::1]:8080/1",
        "https://user@localhost/1",
        "https://0.0.0.0/1",
    ] {
        assert_eq!(rules(local), ["address-localhost"], "{local}");
    }
    for fine in [
        "https://quay.saltmere.example/1",
        "https://quay.saltmere.example:8443/1?a=b#c",
        "https://localhost.saltmere.example/1",
        "https://[2001:db8::1]/1",
        "https://192.0.2.7/1",
    ] {
        assert_eq!(rules(fine), [""; 0], "{fine}");
    }
    // What is sent in the clear is said where others could read it.
    assert_eq!(rules("http://quay.saltmere.example/1"), ["address-open"]);
    assert_eq!(rules("HTTP://quay.saltmere.example/1"), ["address-open"]);
    assert_eq!(rules("http://localhost/1"), ["address-localhost"]);
    for placeholder in ["https://${host}/1", "https://HOST/1", "http://your-server/1"] {
        assert!(rules(placeholder).contains(&"address-placeholder".to_owned()), "{placeholder}");
    }
    for relative in ["quay.saltmere.example/1", "/1", "localhost:8080/1"] {
        assert_eq!(rules(relative), ["address-scheme"], "{relative}");
    }
}

#[test]
fn hidden_files_are_nobodys_business() {
    let folder = Folder::with_demo();
    folder.write("saltmere/v1/.draft.wsdl", "<torn");
    folder.write("saltmere/v1/.git/other.wsdl", "<torn");
    folder.run("check saltmere/v1").ends(0).lacks("draft").lacks("other");
    folder.write("sent/.draft.xml", "<torn");
    folder.write("sent/one.xml", folder.read("saltmere/sent/declare-cargo.xml"));
    folder.run(&format!("match {V1} sent")).lacks("draft").says("one.xml");
    // By its name, whatever is meant is meant.
    folder.run("check saltmere/v1/.draft.wsdl").ends(1);
}

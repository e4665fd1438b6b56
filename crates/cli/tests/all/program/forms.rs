//! `message --as`: each form of each message of the demo, held against the others and against `match`.

use crate::program::folder::{Folder, Run};

const CONTRACT: &str = "saltmere/v1/pilotage.wsdl";

/// One side of an operation by one port, as the program names it.
struct Shown {
    operation: String,
    side: String,
    fault: Option<String>,
    port: String,
}

impl Shown {
    /// Of a file of `message --all`: `operation.side.Port.xml`.
    fn of(name: &str) -> Shown {
        let mut words = name.split('.');
        let mut next = || words.next().unwrap().to_owned();
        let (operation, side, port) = (next(), next(), next());
        let (side, fault) = match side.split_once('-') {
            Some((side, fault)) => (side.to_owned(), Some(fault.to_owned())),
            None => (side, None),
        };
        Shown { operation, side, fault, port }
    }

    /// The arguments that show it.
    fn words(&self) -> String {
        let fault = self.fault.as_ref().map_or(String::new(), |fault| format!(" --fault {fault}"));
        format!("message {CONTRACT} {} --side {}{fault} --port {}", self.operation, self.side, self.port)
    }

    fn run(&self, folder: &Folder, more: &str) -> Run {
        folder.run(&format!("{} {more}", self.words())).ends(0)
    }
}

/// The demo, with every message of its contract in `all`, and what these are.
fn demo() -> (Folder, Vec<Shown>) {
    let folder = Folder::with_demo();
    folder.run(&format!("message {CONTRACT} --all all")).ends(0).says("wrote 56 messages");
    let shown = names(&folder).iter().map(|name| Shown::of(name)).collect();
    (folder, shown)
}

/// The lines of a text without their indentation.
fn lines(text: &str) -> Vec<&str> {
    text.lines().map(str::trim).filter(|line| !line.is_empty()).collect()
}

#[test]
fn what_all_writes_is_what_each_shows_and_matches() {
    let (folder, all) = demo();
    assert_eq!(all.len(), 56);
    for (shown, name) in all.iter().zip(names(&folder)) {
        let envelope = shown.run(&folder, "--as envelope").out;
        assert_eq!(envelope, folder.read(&format!("all/{name}")), "{}", shown.words());
        let json = folder.run(&format!("match {CONTRACT} all/{name} --format json")).ends(0).json();
        let message = &json["messages"][0];
        // A fault may be that of several operations.
        assert!(shown.fault.is_some() || message["operation"] == *shown.operation, "{name}: {message}");
        assert_eq!(message["valid"], true, "{name}: {message}");
        let side = message["side"].as_str().unwrap();
        assert!(side.starts_with(&*shown.side), "{name}: {side}");
    }
}

fn names(folder: &Folder) -> Vec<String> {
    let entries = std::fs::read_dir(folder.path("all")).unwrap();
    let mut names: Vec<String> = entries.map(|it| it.unwrap().file_name().into_string().unwrap()).collect();
    names.sort();
    names
}

#[test]
fn a_body_is_the_part_of_the_envelope_that_the_operation_is_about() {
    let (folder, all) = demo();
    for shown in all.iter().filter(|shown| shown.fault.is_none()) {
        let (body, envelope) = (shown.run(&folder, "--as body").out, shown.run(&folder, "--as envelope").out);
        let inside = envelope.split_once("Body>").unwrap().1;
        let inside = inside.rsplit_once("</").unwrap().0.rsplit_once("</").unwrap().0;
        // Prefixes are declared where they are first needed, so the start tag may be another.
        assert_eq!(lines(&body)[1..], lines(inside)[1..], "{}", shown.words());
        assert!(!body.contains("Envelope"), "{body}");
        // By itself it is judged as the same message.
        folder.write("body.xml", &body);
        let run = folder.run(&format!("match {CONTRACT} body.xml"));
        assert!(run.out.contains(&shown.operation), "{}{}", run.out, run.err);
    }
}

#[test]
fn an_http_message_says_how_long_it_is_and_matches_with_what_stands_around_it() {
    let (folder, all) = demo();
    for shown in &all {
        let http = shown.run(&folder, "--as http").out;
        let (head, body) = http.split_once("\r\n\r\n").unwrap();
        let field = |name: &str| {
            let found = head.lines().find_map(|line| line.strip_prefix(name)?.strip_prefix(": "));
            found.map(str::to_owned)
        };
        assert_eq!(field("Content-Length").unwrap(), body.len().to_string(), "{head}");
        let version = if shown.port.ends_with("12") { "application/soap+xml" } else { "text/xml" };
        assert!(field("Content-Type").unwrap().starts_with(version), "{head}");
        let first = head.lines().next().unwrap();
        let request = shown.side == "input";
        assert_eq!(first.starts_with("POST /"), request, "{first}");
        assert_eq!(first.starts_with("HTTP/1.1 "), !request, "{first}");
        assert_eq!(field("Host").is_some(), request, "{head}");
        // The version before the newest names the action in a header of its own.
        assert_eq!(field("SOAPAction").is_some(), request && version == "text/xml", "{head}");
        assert!(head.lines().all(|line| !line.trim_end_matches('\r').contains('\r')), "{head:?}");
        folder.write("message.http", &http);
        let json = folder.run(&format!("match {CONTRACT} message.http --format json")).ends(0).json();
        let message = &json["messages"][0];
        assert!(shown.fault.is_some() || message["operation"] == *shown.operation, "{message}");
        assert_eq!(message["valid"], true, "{message}");
    }
}

#[test]
fn values_make_the_message_that_they_were_taken_from() {
    let (folder, all) = demo();
    for shown in &all {
        let envelope = shown.run(&folder, "--as envelope").out;
        let values = shown.run(&folder, "--as json").out;
        let _: serde_json::Value = serde_json::from_str(&values).unwrap();
        folder.write("values.json", &values);
        let again = shown.run(&folder, "--values values.json --as envelope").out;
        assert_eq!(again, envelope, "{}", shown.words());
        // Those that a captured message holds are the same.
        folder.write("message.xml", &envelope);
        let taken = folder.run(&format!("match {CONTRACT} message.xml --values")).ends(0);
        let taken: serde_json::Value = serde_json::from_str(&taken.out).unwrap();
        let made: serde_json::Value = serde_json::from_str(&values).unwrap();
        assert!(taken.to_string().contains(&made.to_string()), "{taken}\n{made}");
    }
}

#[test]
fn every_place_of_a_template_is_a_wire_path_that_takes_a_value() {
    let (folder, all) = demo();
    let mut tried = 0;
    for shown in all.iter().filter(|shown| shown.side == "input" && !shown.port.ends_with("12")) {
        let template = shown.run(&folder, "--as template").out;
        let values = shown.run(&folder, "--as envelope").out;
        let places: Vec<&str> = template.split('|').skip(1).step_by(2).collect();
        assert!(!places.is_empty(), "{template}");
        for place in places {
            assert!(!place.contains(['<', '>', '\n']), "{place:?} in {template}");
            // An attribute or an element of any kind: what is left out by its path is what the schema lets be left out.
            let run = folder.run(&format!("{} {place}=~ --as envelope", shown.words()));
            assert!((0..=2).contains(&run.status), "{place}: {}", run.err);
            assert!(!run.err.contains("there is no"), "{place} leads nowhere: {}", run.err);
            tried += 1;
        }
        assert!(!values.contains('|'), "{values}");
    }
    assert!(tried > 50, "{tried}");
}

#[test]
fn a_line_for_a_shell_holds_the_message_and_only_requests_have_one() {
    let (folder, all) = demo();
    for shown in &all {
        let run = folder.run(&format!("{} --as curl", shown.words()));
        if shown.side != "input" {
            run.ends(2).complains("cannot be sent");
            continue;
        }
        let run = run.ends(0).says("curl \\\n").says("--url 'https://pilotage.saltmere.example/");
        let envelope = shown.run(&folder, "--as envelope").out;
        let data = run.out.split_once("--data-raw '").unwrap().1.rsplit_once("'").unwrap().0;
        let data = data.split_once("' \\\n").map_or(data, |(data, _)| data);
        assert_eq!(data.trim_end(), envelope.trim_end(), "{}", shown.words());
    }
}

#[test]
fn random_messages_are_the_same_for_the_same_number_and_valid_for_every_number() {
    let folder = Folder::with_demo();
    for seed in 1..=15 {
        for operation in ["requestPilot", "declareCargo", "forecastTide", "settleDues"] {
            for side in ["input", "output"] {
                let words = format!(
                    "message {CONTRACT} {operation} --side {side} --size random --seed {seed} --as envelope"
                );
                let run = folder.run(&words).ends(0);
                assert_eq!(run.out, folder.run(&words).ends(0).out, "{words}");
                folder.write("message.xml", &run.out);
                folder.run(&format!("match {CONTRACT} message.xml")).ends(0);
            }
        }
    }
}

#[test]
fn sizes_are_in_their_order() {
    let (folder, all) = demo();
    for shown in &all {
        let size =
            |size: &str| shown.run(&folder, &format!("--size {size} --as envelope")).out.lines().count();
        let (least, typical, most) = (size("least"), size("typical"), size("most"));
        assert!(least <= typical, "{}: {least} {typical}", shown.words());
        assert!(least <= most, "{}: {least} {most}", shown.words());
    }
}

//! What comes over a wire, or stands in a file, with bytes changed by chance: everything ends with an answer, and what is right goes on.

use std::io::{BufRead, BufReader, Read, Write};
use std::net::{Shutdown, TcpListener, TcpStream};
use std::sync::{Arc, Mutex};
use std::time::Duration;

use serde_json::Value as Json;

use super::folder::{Folder, Run, contract};
use super::stand_in::{ACTION, NEXT_TIDE, envelope};

/// What some put where it does not belong.
const ODD: [&[u8]; 12] = [
    b"<",
    b"&#0;",
    b"&undeclared;",
    b"]]>",
    b"\0",
    b"\xff\xfe",
    b"\r\n\r\n",
    b"\"",
    b"{{",
    b"<!DOCTYPE a [<!ENTITY b \"b\">]>",
    b"99999999999999999999",
    "\u{202e}".as_bytes(),
];

/// The same bytes but for a few changes.
fn garbled(bytes: &[u8], rng: &mut fastrand::Rng) -> Vec<u8> {
    let mut bytes = bytes.to_vec();
    for _ in 0..rng.usize(1..5) {
        let at = rng.usize(0..=bytes.len());
        let end = (at + rng.usize(0..20)).min(bytes.len());
        match rng.u8(0..4) {
            0 => drop(bytes.drain(at..end)),
            1 => {
                let again = bytes[at..end].to_vec();
                bytes.splice(at..at, again);
            }
            2 => drop(bytes.splice(at..at, rng.choice(ODD).unwrap().iter().copied())),
            _ => {
                if let Some(byte) = bytes.get_mut(at) {
                    *byte = rng.u8(..);
                }
            }
        }
    }
    bytes
}

impl Run {
    /// It has ended as it says that it ends, whatever was in its way.
    #[track_caller]
    fn ends_well(&self, why: &str) {
        assert!((0..=2).contains(&self.status), "{why}: {}\n{}{}", self.status, self.out, self.err);
        assert!(!self.err.contains("panicked"), "{why}: {}", self.err);
        assert!(self.status != 2 || !self.err.is_empty(), "{why}: nothing says why");
    }
}

/// A provider that answers each request with the next of some replies, and hangs up. Kept are the requests.
pub fn provider(replies: Vec<Vec<u8>>) -> (String, Arc<Mutex<Vec<Vec<u8>>>>) {
    let listener = TcpListener::bind("127.0.0.1:0").unwrap();
    let host = listener.local_addr().unwrap().to_string();
    let kept = Arc::new(Mutex::new(Vec::new()));
    let requests = Arc::clone(&kept);
    std::thread::spawn(move || {
        for reply in replies.iter().cycle() {
            let (mut stream, _) = listener.accept().unwrap();
            let Some(bytes) = request(&stream) else { continue };
            requests.lock().unwrap().push(bytes);
            let _ = stream.write_all(reply);
        }
    });
    (host, kept)
}

/// A request whose length is given.
fn request(stream: &TcpStream) -> Option<Vec<u8>> {
    let mut reader = BufReader::new(stream);
    let mut bytes = Vec::new();
    while !bytes.ends_with(b"\r\n\r\n") {
        if reader.read_until(b'\n', &mut bytes).ok()? == 0 {
            return None;
        }
    }
    let head = String::from_utf8_lossy(&bytes).to_ascii_lowercase();
    let length = head.lines().find_map(|line| line.strip_prefix("content-length: ")?.parse().ok());
    let mut body = vec![0; length.unwrap_or(0)];
    reader.read_exact(&mut body).ok()?;
    bytes.extend(body);
    Some(bytes)
}

/// A whole HTTP message of the demo, as the program prints it.
fn printed(folder: &Folder, words: &str) -> String {
    folder.run(&format!("message saltmere/v1/pilotage.wsdl {words} --as http")).ends(0).out
}

/// The same as it goes over a connection that ends with it.
fn over_the_wire(text: &str) -> Vec<u8> {
    let (head, body) = text.split_once("\r\n\r\n").unwrap();
    let fields = head.lines().filter(|line| !line.starts_with("Content-Length"));
    let fields: String = fields.map(|line| format!("{line}\r\n")).collect();
    format!("{fields}Content-Length: {}\r\nConnection: close\r\n\r\n{body}", body.len()).into_bytes()
}

#[test]
fn garbled_requests_are_answered_and_so_are_those_after_them() {
    let folder = Folder::with_demo();
    let serving = folder.serve(
        "answer saltmere/v1/pilotage.wsdl --script saltmere/answers.toml --journal day.jsonl --patience 2",
    );
    let right: Vec<Vec<u8>> =
        ["requestPilot", "declareCargo", "listPilots", "reportPassage --port PilotagePort12"]
            .into_iter()
            .map(|words| over_the_wire(&printed(&folder, words)))
            .collect();
    let mut rng = fastrand::Rng::with_seed(7);
    let mut answered = 0;
    for round in 0..300 {
        let bytes = garbled(&right[round % right.len()], &mut rng);
        let mut stream = serving.connect();
        // It may have seen enough before all of it was said.
        let _ = stream.write_all(&bytes);
        let _ = stream.shutdown(Shutdown::Write);
        let mut came = Vec::new();
        let _ = stream.read_to_end(&mut came);
        let said = String::from_utf8_lossy(&came);
        if said.is_empty() {
            continue;
        }
        answered += 1;
        let status: u16 = said.split(' ').nth(1).unwrap().parse().unwrap();
        assert!((200..=505).contains(&status), "{round}: {said}");
    }
    assert!(answered > 200, "{answered}");
    for bytes in &right {
        let mut stream = serving.connect();
        stream.write_all(bytes).unwrap();
        let mut came = String::new();
        stream.read_to_string(&mut came).unwrap();
        assert!(came.starts_with("HTTP/1.1 20"), "{came}");
    }
    serving.stop().ends_well("the stand-in");
    let journal = folder.read("day.jsonl");
    for line in journal.lines() {
        assert!(serde_json::from_str::<Json>(line).is_ok(), "{line}");
    }
    folder.run("match saltmere/v1/pilotage.wsdl day.jsonl").ends_well("its journal");
}

#[test]
fn garbled_replies_are_told_for_what_they_are() {
    let folder = Folder::with_demo();
    let operations = ["requestPilot", "findBoarding", "listPilots", "settleDues", "forecastTide"];
    let whole: Vec<Vec<u8>> = operations
        .into_iter()
        .map(|operation| over_the_wire(&printed(&folder, &format!("{operation} --side output"))))
        .collect();
    let mut rng = fastrand::Rng::with_seed(11);
    let replies: Vec<Vec<u8>> = (0..160).map(|at| garbled(&whole[at % whole.len()], &mut rng)).collect();
    let (host, asked) = provider(replies);
    let words = format!("rehearse saltmere/v1/pilotage.wsdl --to http://{host} --timeout 2");
    for form in [
        "",
        " --format json",
        " --format junit",
        " --as page",
        " --journal day.jsonl",
        " --record came.toml",
        " --hostile",
    ] {
        let run = folder.run(&format!("{words}{form}"));
        run.ends_well(form);
        match form {
            " --format json" => assert_eq!(run.json()["exchanges"].as_array().unwrap().len(), 20),
            " --as page" => assert!(run.out.starts_with("<!DOCTYPE html>") && run.out.contains("</html>")),
            _ => {}
        }
        let odd = |c: char| c.is_control() && c != '\n' && c != '\t' || c == '\u{202e}';
        // What acts on a terminal is in nothing that people read.
        assert!(
            form.contains("json") || !run.out.chars().any(odd),
            "{form}: {:?}",
            run.out.chars().find(|c| odd(*c))
        );
    }
    assert!(asked.lock().unwrap().len() > 140, "{}", asked.lock().unwrap().len());
    // What was written down can be rehearsed.
    if folder.path("came.toml").exists() {
        folder.run("rehearse saltmere/v1/pilotage.wsdl came.toml").ends_well("what was written down");
    }
    for line in folder.read("day.jsonl").lines() {
        assert!(serde_json::from_str::<Json>(line).is_ok(), "{line}");
    }
}

#[test]
fn garbled_scripts_and_rehearsals_say_where_they_are_wrong() {
    let folder = Folder::with_demo();
    let mut rng = fastrand::Rng::with_seed(13);
    let mut wrong = 0;
    for file in ["saltmere/answers.toml", "saltmere/rehearsals/booking.toml"] {
        let whole = folder.read(file);
        for round in 0..50 {
            folder.write(file, garbled(whole.as_bytes(), &mut rng));
            let run = folder.run("rehearse saltmere/v1/pilotage.wsdl saltmere/rehearsals/booking.toml --script saltmere/answers.toml");
            run.ends_well(&format!("{file}, {round}"));
            if run.status == 2 {
                wrong += 1;
                assert!(run.err.contains(&format!("charter: {file}")), "{round}: {}", run.err);
            }
        }
        folder.write(file, whole);
    }
    assert!(wrong > 50, "{wrong}");
}

#[test]
fn whatever_bytes_a_relay_is_given_it_passes_on() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let mut rng = fastrand::Rng::with_seed(17);
    let right = envelope("", NEXT_TIDE).into_bytes();
    let bodies: Vec<Vec<u8>> = (0..60)
        .map(|round| match round % 3 {
            0 => garbled(&right, &mut rng),
            1 => (0..rng.usize(0..5000)).map(|_| rng.u8(..)).collect(),
            _ => vec![rng.u8(..); rng.usize(0..300_000)],
        })
        .collect();
    let reply = |body: &Vec<u8>| {
        let mut bytes = format!(
            "HTTP/1.1 200 OK\r\nContent-Type: text/xml\r\nContent-Length: {}\r\nConnection: close\r\n\r\n",
            body.len()
        )
        .into_bytes();
        bytes.extend(body);
        bytes
    };
    let (host, asked) = provider(bodies.iter().rev().map(reply).collect());
    let serving = folder.serve(&format!("answer tides.wsdl --relay http://{host}"));
    let head = format!("POST /1 HTTP/1.1\nContent-Type: text/xml\nSOAPAction: \"{ACTION}\"");
    for (round, (sent, expected)) in bodies.iter().zip(bodies.iter().rev()).enumerate() {
        let came = serving.ask(&head, sent);
        assert!(came.status == 200 && came.body == *expected, "{round}: {} octets came", came.body.len());
    }
    let asked = asked.lock().unwrap();
    assert_eq!(asked.len(), bodies.len());
    for (round, (sent, arrived)) in bodies.iter().zip(asked.iter()).enumerate() {
        assert!(arrived.ends_with(sent), "{round}: {} octets were sent", sent.len());
    }
    drop(asked);
    serving.stop().ends_well("the relay");
}

#[test]
fn a_value_that_changed_is_the_one_that_differs() {
    let folder = Folder::with_demo();
    let mut changed = 0;
    for (operation, seed) in
        [("findBoarding", 1), ("requestPilot", 2), ("listPilots", 3), ("settleDues", 4), ("forecastTide", 5)]
    {
        let came = printed(&folder, &format!("{operation} --side output --port PilotagePort --seed {seed}"));
        let others: Vec<String> = (20..24)
            .map(|seed| {
                printed(&folder, &format!("{operation} --side output --port PilotagePort --seed {seed}"))
            })
            .collect();
        folder.write(
            "now.toml",
            format!("[[exchange]]\noperation = \"{operation}\"\nport = \"PilotagePort\"\n"),
        );
        let (host, _) = provider(vec![over_the_wire(&came)]);
        let words = "rehearse saltmere/v1/pilotage.wsdl now.toml";
        folder.run(&format!("{words} --record now.toml --to http://{host}")).ends(0);
        folder.run(&format!("{words} --to http://{host}")).ends(0).says("1 exchange: all as expected");
        for (name, from, to) in values(&came) {
            let mine = &came[from..to];
            // The same element of another reply is right here too.
            let theirs = others.iter().find_map(|other| {
                let found =
                    values(other).find(|(known, from, to)| *known == name && other[*from..*to] != *mine)?;
                Some(&other[found.1..found.2])
            });
            let Some(theirs) = theirs else { continue };
            let (host, _) =
                provider(vec![over_the_wire(&format!("{}{theirs}{}", &came[..from], &came[to..]))]);
            let run = folder.run(&format!("{words} --to http://{host} --format json"));
            let unlike = run.json()["exchanges"][0]["unlike"].as_array().unwrap().clone();
            // Numbers and times may be written in several ways.
            if unlike.is_empty() {
                continue;
            }
            changed += 1;
            let of_value: Vec<&str> = unlike
                .iter()
                .filter(|one| one["kind"] == "value")
                .map(|one| one["path"].as_str().unwrap())
                .collect();
            let [path] = of_value[..] else { panic!("{name}: {unlike:?}") };
            let last = path.rsplit('/').next().unwrap().split('[').next().unwrap();
            assert_eq!(last, name, "{mine} -> {theirs}: {path}");
        }
    }
    assert!(changed > 15, "{changed}");
}

/// The elements of a text that hold nothing but text: the local name of each, and where its text begins and ends.
fn values(text: &str) -> impl Iterator<Item = (&str, usize, usize)> {
    text.match_indices("</").filter_map(|(end, _)| {
        let begin = text[..end].rfind('>')? + 1;
        let name = text[end + 2..].split('>').next()?;
        let opened = text[..begin - 1].rfind('<')?;
        let is_its_own = text[opened + 1..begin - 1].split([' ', '/']).next() == Some(name);
        let local = name.rsplit(':').next()?;
        (is_its_own && begin < end).then_some((local, begin, end))
    })
}

/// Nobody waits for ever for a provider that says half of what it promised.
#[test]
fn a_provider_that_stops_in_the_middle_is_waited_for_no_longer_than_one_wants() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let listener = TcpListener::bind("127.0.0.1:0").unwrap();
    let host = listener.local_addr().unwrap();
    std::thread::spawn(move || {
        let mut kept = Vec::new();
        for stream in listener.incoming() {
            let mut stream = stream.unwrap();
            request(&stream).unwrap();
            let _ = stream
                .write_all(b"HTTP/1.1 200 OK\r\nContent-Type: text/xml\r\nContent-Length: 50\r\n\r\n<e");
            kept.push(stream);
        }
    });
    let began = std::time::Instant::now();
    let run = folder.run(&format!("send tides.wsdl --all --timeout 1 --to http://{host}")).ends(2);
    run.complains("did not answer within 1 s");
    let run = folder.run(&format!("rehearse tides.wsdl --timeout 1 --to http://{host}")).ends(1);
    run.says("did not answer within 1 s");
    assert!(began.elapsed() < Duration::from_secs(20), "{:?}", began.elapsed());
}

//! The lines of `--as curl` run as they are printed, against a server that records what arrives. The server knows nothing
//! of the program: it reads bytes.

use std::io::{Read, Write};
use std::net::TcpListener;
use std::process::Command;
use std::thread::JoinHandle;

use crate::program::folder::Folder;

/// A server for one request: its port, and what came.
fn server() -> (u16, JoinHandle<Vec<u8>>) {
    let listener = TcpListener::bind("127.0.0.1:0").unwrap();
    let port = listener.local_addr().unwrap().port();
    let thread = std::thread::spawn(move || {
        let (mut stream, _) = listener.accept().unwrap();
        let mut came = Vec::new();
        let mut buffer = [0; 4096];
        loop {
            let count = stream.read(&mut buffer).unwrap();
            came.extend_from_slice(&buffer[..count]);
            let head = came.windows(4).position(|four| four == b"\r\n\r\n");
            let Some(head) = head else { continue };
            let text = String::from_utf8_lossy(&came[..head]).to_lowercase();
            let length = text.lines().find_map(|line| line.strip_prefix("content-length:"));
            let length: usize = length.map_or(0, |length| length.trim().parse().unwrap());
            if count == 0 || came.len() >= head + 4 + length {
                break;
            }
        }
        stream.write_all(b"HTTP/1.1 200 OK\r\nContent-Length: 2\r\nConnection: close\r\n\r\nok").unwrap();
        came
    });
    (port, thread)
}

/// Runs the printed line in a shell; the head and the body of what the server got.
fn sent(contract: &str, words: &str) -> (String, Vec<u8>) {
    let folder = Folder::with_demo();
    let (port, thread) = server();
    let text = folder
        .read(contract)
        .replace("https://pilotage.saltmere.example", &format!("http://127.0.0.1:{port}"));
    let text = text.replace("https://harbour.saltmere.example", &format!("http://127.0.0.1:{port}"));
    folder.write(contract, text);
    folder.write(
        "chart.json",
        r#"{"sheet": "SM-1", "surveyed": "2026-03-14", "$attached": {"chart": "AP/+AQ=="}}"#,
    );
    let line = folder.run(&format!("message {contract} {words} --as curl")).ends(0).out;
    assert!(line.starts_with("curl") || line.starts_with("printf"), "{line}");
    let output = Command::new("sh").arg("-c").arg(&line).current_dir(folder.path(".")).output().unwrap();
    let errors = String::from_utf8_lossy(&output.stderr);
    assert!(output.status.success(), "is curl installed? {errors}\n{line}");
    assert_eq!(output.stdout, b"ok");
    let came = thread.join().unwrap();
    let head = came.windows(4).position(|four| four == b"\r\n\r\n").unwrap();
    (String::from_utf8(came[..head].to_vec()).unwrap(), came[head + 4..].to_vec())
}

#[test]
fn an_envelope_arrives_byte_for_byte_with_its_headers() {
    let contract = "saltmere/v1/pilotage.wsdl";
    let (head, body) = sent(contract, "requestPilot");
    assert!(head.starts_with("POST /1 HTTP/1.1\r\n"), "{head}");
    assert!(head.contains("\r\nContent-Type: text/xml; charset=utf-8"), "{head}");
    assert!(head.contains("\r\nSOAPAction: \"urn:saltmere:pilotage:1:requestPilot\""), "{head}");
    let shown = Folder::with_demo().run(&format!("message {contract} requestPilot")).ends(0).out;
    assert_eq!(String::from_utf8(body).unwrap(), shown);
    let (head, _) = sent(contract, "requestPilot --port PilotagePort12");
    assert!(
        head.contains("application/soap+xml; charset=utf-8; action=\"urn:saltmere:pilotage:1:requestPilot\""),
        "{head}"
    );
}

#[test]
fn no_value_means_anything_to_the_shell() {
    let (_, body) = sent("saltmere/v1/pilotage.wsdl", "requestPilot remark=it's$HOME`id`\\n@%{x}é");
    let text = String::from_utf8(body).unwrap();
    assert!(text.contains("<remark>it's$HOME`id`\\n@%{x}é</remark>"), "{text}");
}

#[test]
fn queries_paths_forms_and_octets_arrive() {
    let office = "saltmere/office/harbour.wsdl";
    let (head, body) = sent(office, "nextTide berth=N&4[a-b]");
    assert!(head.starts_with("GET /tides/next?berth=N%264%5Ba-b%5D&day=2026-03-14 HTTP/1.1"), "{head}");
    assert!(body.is_empty());
    let (head, _) = sent(office, "nextTide berth=N/4 --port TidesPathPort");
    assert!(head.starts_with("GET /tides/at/N%2F4/on/2026-03-14 HTTP/1.1"), "{head}");
    let (head, body) = sent(office, "nextTide berth=N/4 --port TidesFormPort");
    assert!(head.starts_with("POST /tides/form HTTP/1.1"), "{head}");
    assert!(head.contains("Content-Type: application/x-www-form-urlencoded"), "{head}");
    assert_eq!(body, b"berth=N%2F4&day=2026-03-14");
    let (head, body) = sent(office, "fileChart --values chart.json");
    assert!(head.contains("multipart/related"), "{head}");
    // Octets that are no text go in base64, with a header that says so.
    let text = String::from_utf8(body).unwrap();
    assert!(text.contains("Content-Transfer-Encoding: base64\r\n\r\nAP/+AQ==\r\n--"), "{text}");
}

#[test]
fn a_reply_cannot_be_sent() {
    let folder = Folder::with_demo();
    let run = folder.run("message saltmere/v1/pilotage.wsdl requestPilot --side output --as curl").ends(2);
    run.complains("a reply cannot be sent");
    folder.run("message saltmere/v1/pilotage.wsdl --all out --as curl").ends(0).says("wrote 20 messages");
}

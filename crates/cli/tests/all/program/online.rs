//! What contracts import from the network: only where that is allowed, and within bounds. All servers are on this machine.

use std::io::{BufRead, BufReader, Write};
use std::net::{TcpListener, TcpStream};
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};

use crate::program::folder::{Folder, contract};

/// A server, and the paths that it was asked for.
struct Server {
    address: String,
    asked: Arc<Mutex<Vec<String>>>,
}

impl Server {
    /// Answers each request by its path, one after the other.
    fn that(answers: impl Fn(&str, &mut TcpStream) + Send + 'static) -> Server {
        let listener = TcpListener::bind("127.0.0.1:0").unwrap();
        let address = format!("http://{}", listener.local_addr().unwrap());
        let asked = Arc::new(Mutex::new(Vec::new()));
        let seen = Arc::clone(&asked);
        std::thread::spawn(move || {
            for stream in listener.incoming() {
                let mut stream = stream.unwrap();
                let mut lines = BufReader::new(stream.try_clone().unwrap()).lines();
                let first = lines.next().unwrap_or_else(|| Ok(String::new())).unwrap_or_default();
                while lines.next().is_some_and(|line| line.is_ok_and(|line| !line.is_empty())) {}
                let path = first.split(' ').nth(1).unwrap_or_default().to_owned();
                seen.lock().unwrap().push(path.clone());
                answers(&path, &mut stream);
            }
        });
        Server { address, asked }
    }

    /// Answers each request with the same bytes.
    fn saying(answer: &'static str) -> Server {
        Server::that(move |_, stream| {
            let _ = stream.write_all(answer.as_bytes());
        })
    }

    fn asked(&self) -> Vec<String> {
        self.asked.lock().unwrap().clone()
    }

    fn schema(&self) -> String {
        format!("{}/common.xsd", self.address)
    }
}

fn answer(stream: &mut TcpStream, body: &str) {
    let head = "HTTP/1.1 200 OK\r\nContent-Type: text/xml\r\nConnection: close\r\n\r\n";
    let _ = stream.write_all(format!("{head}{body}").as_bytes());
}

/// A schema with a type, and imports of others.
fn gauges(inside: &str) -> String {
    format!(
        "<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\" targetNamespace=\"urn:c\">{inside}<xs:simpleType name=\"Gauge\"><xs:restriction base=\"xs:token\"/></xs:simpleType></xs:schema>"
    )
}

/// A schema that imports what lies at an address.
fn importing(address: &str) -> String {
    format!(
        "<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\" xmlns:c=\"urn:c\"><xs:import namespace=\"urn:c\" schemaLocation=\"{address}\"/><xs:element name=\"gauge\" type=\"c:Gauge\"/></xs:schema>"
    )
}

#[test]
fn the_network_is_used_only_where_that_is_allowed() {
    let folder = Folder::empty();
    let server = Server::that(|_, stream| answer(stream, &gauges("")));
    folder.write("a.xsd", importing(&server.schema()));
    folder.run("check a.xsd").ends(1).says("the network is not used").says("allow the network (--online)");
    // Whatever reads it, nobody was asked.
    folder.run("show a.xsd");
    folder.run("message a.xsd element/gauge");
    folder.run("set a.xsd element/gauge about=Tides --dry-run");
    assert_eq!(server.asked(), [""; 0]);
    folder.run("check a.xsd --online").ends(0).says("a.xsd: no findings");
    assert_eq!(server.asked(), ["/common.xsd"]);
    folder.run("message a.xsd element/gauge --online").ends(0).says("<gauge");
    assert_eq!(server.asked().len(), 2);
}

#[test]
fn what_is_no_answer_is_said_in_words() {
    let folder = Folder::empty();
    for (answer, words) in [
        (
            "HTTP/1.1 404 Not Found\r\nContent-Length: 0\r\nConnection: close\r\n\r\n",
            "the server answered 404 Not Found",
        ),
        (
            "HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nConnection: close\r\n\r\n<html><body><br></body></html>",
            "this looks like an HTML page",
        ),
        (
            "HTTP/1.1 302 Found\r\nLocation: /common.xsd\r\nContent-Length: 0\r\nConnection: close\r\n\r\n",
            "without end",
        ),
        ("no HTTP at all", "cannot be imported"),
        ("HTTP/1.1 200 OK\r\nConnection: close\r\n\r\n", "common.xsd"),
        ("HTTP/1.1 200 OK\r\nConnection: close\r\n\r\n\u{1b}]0;harm\u{7}", "common.xsd"),
    ] {
        folder.write("a.xsd", importing(&Server::saying(answer).schema()));
        folder.run("check a.xsd --online").ends(1).says(words).lacks("\u{1b}");
    }
    // Nobody listens here any more.
    let gone = TcpListener::bind("127.0.0.1:0").unwrap().local_addr().unwrap();
    folder.write("a.xsd", importing(&format!("http://{gone}/c.xsd")));
    folder.run("check a.xsd --online").ends(1).says("nobody answers at this address");
}

#[test]
fn answers_are_bounded_in_size_and_time() {
    let folder = Folder::empty();
    let endless = Server::that(|_, stream| {
        answer(stream, "");
        while stream.write_all(&[b' '; 65_536]).is_ok() {}
    });
    folder.write("a.xsd", importing(&endless.schema()));
    folder.run("check a.xsd --online").ends(1).says("the answer is larger than 32 MB");
    let slow = Server::that(|_, _| std::thread::sleep(Duration::from_secs(60)));
    folder.write("a.xsd", importing(&slow.schema()));
    folder.run("check a.xsd --online").ends(1).says("there was no whole answer in 20 s");
}

#[test]
fn a_chain_of_imports_ends() {
    let folder = Folder::empty();
    let server = Server::that(|path, stream| {
        let number: usize = path.trim_start_matches("/s").trim_end_matches(".xsd").parse().unwrap_or(0);
        answer(stream, &gauges(&format!("<xs:include schemaLocation=\"s{}.xsd\"/>", number + 1)));
    });
    folder.write("a.xsd", importing(&format!("{}/s0.xsd", server.address)));
    let started = Instant::now();
    folder
        .run("check a.xsd --online")
        .ends(1)
        .says("no more than 200 files are read, and for no longer than 60 s");
    assert!(started.elapsed() < Duration::from_secs(50), "{:?}", started.elapsed());
    assert_eq!(server.asked().len(), 200);
}

#[test]
fn addresses_on_the_network_are_relative_to_where_they_stand() {
    let folder = Folder::empty();
    let server = Server::that(|path, stream| match path {
        "/port/common.xsd" => {
            let more = "<xs:include schemaLocation=\"../shared/more.xsd\"/><xs:include schemaLocation=\"/top.xsd\"/><xs:include schemaLocation=\"common.xsd\"/>";
            answer(stream, &gauges(more));
        }
        "/shared/more.xsd" => answer(stream, &gauges("").replace("Gauge", "Pier")),
        "/top.xsd" => answer(stream, &gauges("").replace("Gauge", "Lock")),
        _ => drop(stream.write_all(b"HTTP/1.1 404 Not Found\r\nConnection: close\r\n\r\n")),
    });
    let elements =
        "<xs:element name=\"pier\" type=\"c:Pier\"/><xs:element name=\"lock\" type=\"c:Lock\"/></xs:schema>";
    let schema = importing(&format!("{}/port/common.xsd", server.address)).replace("</xs:schema>", elements);
    folder.write("a.xsd", schema);
    folder.run("check a.xsd --online").ends(0).says("no findings");
    let mut asked = server.asked();
    asked.sort();
    assert_eq!(asked, ["/port/common.xsd", "/shared/more.xsd", "/top.xsd"]);
}

#[test]
fn what_comes_from_the_network_cannot_be_edited_and_reads_no_file() {
    let folder = Folder::empty();
    folder.write("private.xsd", gauges(""));
    let path = folder.path("private.xsd");
    let server = Server::that(move |_, stream| {
        let local = path.display();
        answer(
            stream,
            &gauges("").replace(
                "<xs:simpleType",
                &format!("<xs:include schemaLocation=\"file://{local}\"/><xs:simpleType"),
            ),
        );
    });
    folder.write("a.xsd", importing(&server.schema()));
    let before = folder.read("private.xsd");
    folder
        .run("check a.xsd --online")
        .ends(1)
        .says("only addresses that begin with http: or https: are asked");
    assert_eq!(server.asked(), ["/common.xsd"]);
    let run = folder.run("set a.xsd type/Gauge about=Tides --online").ends(2);
    assert!(run.err.contains("common.xsd"), "{}", run.err);
    assert_eq!(folder.read("private.xsd"), before);
}

#[test]
fn the_network_may_have_the_schemas_of_a_contract() {
    let folder = Folder::empty();
    let types = contract(&[]);
    let (from, to) = (types.find("<xs:schema").unwrap(), types.find("</xs:schema>").unwrap() + 12);
    let schema = types[from..to].replace(
        "<xs:schema",
        "<xs:schema xmlns:tns=\"urn:saltmere:tides:1\" xmlns:xs=\"http://www.w3.org/2001/XMLSchema\"",
    );
    let server = Server::that(move |_, stream| answer(stream, &schema));
    let import = format!(
        "<xs:schema><xs:import namespace=\"urn:saltmere:tides:1\" schemaLocation=\"{}\"/></xs:schema>",
        server.schema()
    );
    folder.write("tides.wsdl", types[..from].to_owned() + &import + &types[to..]);
    folder.run("message tides.wsdl nextTide").ends(2).complains("tides.wsdl");
    let message = folder.run("message tides.wsdl nextTide --online").ends(0).says("<gauge>").out;
    folder.write("message.xml", message);
    folder.run("match tides.wsdl message.xml --online").ends(0);
    folder.run("check tides.wsdl --online").ends(0);
    // Without the network, nothing is decided; with it, each version asks once.
    folder.run("compare tides.wsdl tides.wsdl").ends(0).says("bends  it was not decided");
    let before = server.asked().len();
    folder.run("compare tides.wsdl tides.wsdl --online").ends(0).says("keeps");
    assert!(server.asked().len() <= before + 2, "{:?}", server.asked());
}

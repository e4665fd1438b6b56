//! A program that serves in a folder, and connections to it.

use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

use super::folder::{Folder, Run};

/// A program that serves until it is stopped, or the test ends.
pub struct Serving {
    child: Child,
    out: Option<std::thread::JoinHandle<String>>,
    err: Option<std::thread::JoinHandle<String>>,
    /// What it said before it served.
    pub began: String,
    /// Where it serves: `127.0.0.1:40123`.
    pub host: String,
}

/// What came back over a connection.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Came {
    pub status: u16,
    pub head: String,
    pub body: Vec<u8>,
}

impl Folder {
    /// Starts the program on words separated by spaces, on a port that is free, and waits until it says where it serves.
    pub fn serve(&self, words: &str) -> Serving {
        let mut child = Command::new(env!("CARGO_BIN_EXE_charter"))
            .args(words.split(' '))
            .args(["--port", "0"])
            .current_dir(self.path(""))
            .stdin(Stdio::null())
            .stdout(Stdio::piped())
            .stderr(Stdio::piped())
            .spawn()
            .unwrap();
        let mut out = BufReader::new(child.stdout.take().unwrap());
        let mut err = child.stderr.take().unwrap();
        let err = std::thread::spawn(move || {
            let mut text = String::new();
            let _ = err.read_to_string(&mut text);
            text
        });
        // It says all of it at once.
        let said = out.fill_buf().unwrap().to_vec();
        out.consume(said.len());
        let began = String::from_utf8(said).unwrap();
        if began.is_empty() {
            panic!("it does not serve: {}", err.join().unwrap());
        }
        let own = began.lines().find(|line| line.starts_with([' ', '{'])).unwrap();
        let host = own.split_once("://127.0.0.1:").unwrap().1;
        let port: String = host.chars().take_while(char::is_ascii_digit).collect();
        let out = std::thread::spawn(move || {
            let mut text = String::new();
            let _ = out.read_to_string(&mut text);
            text
        });
        Serving { child, out: Some(out), err: Some(err), began, host: format!("127.0.0.1:{port}") }
    }
}

impl Serving {
    /// Stops it with a signal, as Ctrl-C does, and gives what it said while it served.
    pub fn stop(mut self) -> Run {
        self.signal("INT");
        self.ended()
    }

    pub fn signal(&self, name: &str) {
        let sent = Command::new("kill").args([format!("-{name}"), self.child.id().to_string()]).status();
        assert!(sent.unwrap().success());
    }

    /// What it said, once it has ended; that must be soon.
    pub fn ended(&mut self) -> Run {
        let began = Instant::now();
        let status = loop {
            if let Some(status) = self.child.try_wait().unwrap() {
                break status;
            }
            assert!(began.elapsed() < Duration::from_secs(30), "it does not end");
            std::thread::sleep(Duration::from_millis(10));
        };
        let text = |it: &mut Option<std::thread::JoinHandle<String>>| it.take().unwrap().join().unwrap();
        Run { status: status.code().unwrap_or(-1), out: text(&mut self.out), err: text(&mut self.err) }
    }

    /// A connection to it.
    pub fn connect(&self) -> TcpStream {
        let stream = TcpStream::connect(&self.host).unwrap();
        stream.set_read_timeout(Some(Duration::from_secs(60))).unwrap();
        stream.set_nodelay(true).unwrap();
        stream
    }

    /// Sends a request over a connection of its own. `head` is what stands before the header fields about host and length.
    pub fn ask(&self, head: &str, body: impl AsRef<[u8]>) -> Came {
        let mut stream = self.connect();
        send(&mut stream, head, body.as_ref());
        receive(&mut BufReader::new(stream))
    }

    /// Posts an envelope of SOAP 1.1 to a path.
    pub fn post(&self, path: &str, action: &str, envelope: &str) -> Came {
        self.ask(&format!("POST {path} HTTP/1.1\nContent-Type: text/xml\nSOAPAction: \"{action}\""), envelope)
    }

    /// Posts an envelope of SOAP 1.2 to a path.
    pub fn post_12(&self, path: &str, envelope: &str) -> Came {
        self.ask(&format!("POST {path} HTTP/1.1\nContent-Type: application/soap+xml"), envelope)
    }

    pub fn get(&self, path: &str) -> Came {
        self.ask(&format!("GET {path} HTTP/1.1"), "")
    }
}

impl Drop for Serving {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

/// Writes a request.
pub fn send(stream: &mut TcpStream, head: &str, body: &[u8]) {
    let length = match body {
        [] => String::new(),
        body => format!("Content-Length: {}\r\n", body.len()),
    };
    let head = head.replace('\n', "\r\n");
    let mut bytes = format!("{head}\r\nHost: quay.example:81\r\n{length}\r\n").into_bytes();
    bytes.extend(body);
    // It may be refused before all of it is read.
    let _ = stream.write_all(&bytes);
}

/// Reads a reply whose length is given, or that ends with the connection.
pub fn receive(stream: &mut impl BufRead) -> Came {
    let mut head = String::new();
    while !head.ends_with("\r\n\r\n") {
        let read = stream.read_line(&mut head).unwrap();
        assert!(read > 0, "the connection ended: {head:?}");
    }
    let status = head.split(' ').nth(1).unwrap().parse().unwrap();
    let length = head
        .lines()
        .find_map(|line| line.to_ascii_lowercase().strip_prefix("content-length: ")?.parse().ok());
    let mut body = vec![0; length.unwrap_or(0)];
    stream.read_exact(&mut body).unwrap();
    Came { status, head, body }
}

impl Came {
    pub fn text(&self) -> String {
        String::from_utf8(self.body.clone()).unwrap()
    }

    #[track_caller]
    pub fn is(&self, status: u16) -> &Came {
        assert_eq!(self.status, status, "\n{}{}", self.head, String::from_utf8_lossy(&self.body));
        self
    }

    #[track_caller]
    pub fn has(&self, words: &str) -> &Came {
        let text = format!("{}{}", self.head, String::from_utf8_lossy(&self.body));
        assert!(text.contains(words), "{words:?} is not in\n{text}");
        self
    }

    #[track_caller]
    pub fn has_not(&self, words: &str) -> &Came {
        let text = format!("{}{}", self.head, String::from_utf8_lossy(&self.body));
        assert!(!text.contains(words), "{words:?} is in\n{text}");
        self
    }
}

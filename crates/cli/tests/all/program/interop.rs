//! Clients and servers that share no code with the program: curl, and what the standard library of Python brings.

use std::io::{BufRead, BufReader};
use std::process::{Child, Command, Stdio};

use super::folder::{Folder, contract};
use super::stand_in::{ACTION, NEXT_TIDE, envelope};

/// Runs a text of Python, and gives what it prints.
#[track_caller]
pub fn python(folder: &Folder, text: &str, words: &[&str]) -> String {
    let done = Command::new("python3")
        .arg("-c")
        .arg(text)
        .args(words)
        .current_dir(folder.path(""))
        .output()
        .unwrap();
    assert!(done.status.success(), "{}", String::from_utf8_lossy(&done.stderr));
    String::from_utf8(done.stdout).unwrap()
}

/// A server in Python that answers every POST with a reply of the example contract, over TLS if it is given a certificate.
struct PythonServer {
    child: Child,
    port: String,
}

const SERVER: &str = r#"
import http.server, ssl, sys
class Answers(http.server.BaseHTTPRequestHandler):
    protocol_version = "HTTP/1.1"
    def do_POST(self):
        asked = self.rfile.read(int(self.headers["Content-Length"]))
        right = b"<gauge>pier</gauge>" in asked and self.headers["SOAPAction"] == '"urn:saltmere:tides:1:nextTide"'
        body = open("reply.xml", "rb").read()
        self.send_response(200 if right else 400)
        self.send_header("Content-Type", "text/xml; charset=utf-8")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)
    def log_message(self, *_):
        pass
server = http.server.HTTPServer(("127.0.0.1", 0), Answers)
if len(sys.argv) > 1:
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.load_cert_chain("server.pem")
    if len(sys.argv) > 2:
        context.verify_mode = ssl.CERT_REQUIRED
        context.load_verify_locations("authority.pem")
    server.socket = context.wrap_socket(server.socket, server_side=True)
print(server.server_address[1], flush=True)
server.serve_forever()
"#;

impl PythonServer {
    fn start(folder: &Folder, words: &[&str]) -> PythonServer {
        let mut child = Command::new("python3")
            .arg("-c")
            .arg(SERVER)
            .args(words)
            .current_dir(folder.path(""))
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .unwrap();
        let mut port = String::new();
        BufReader::new(child.stdout.take().unwrap()).read_line(&mut port).unwrap();
        PythonServer { child, port: port.trim().to_owned() }
    }
}

impl Drop for PythonServer {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

/// The example contract, and a reply of it.
fn folder() -> Folder {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    folder.write(
        "reply.xml",
        envelope("", "<t:nextTideResponse><t:high>2026-03-14T06:30:00Z</t:high></t:nextTideResponse>"),
    );
    folder
}

#[test]
fn python_asks_and_is_answered() {
    let folder = folder();
    let serving = folder.serve("answer tides.wsdl");
    folder.write("ask.xml", envelope("", NEXT_TIDE));
    let client = r#"
import sys, urllib.request, urllib.error, xml.etree.ElementTree as tree
def ask(body):
    request = urllib.request.Request(sys.argv[1], body, {"Content-Type": "text/xml", "SOAPAction": '"urn:saltmere:tides:1:nextTide"'})
    try:
        with urllib.request.urlopen(request) as reply:
            return reply.status, tree.fromstring(reply.read())
    except urllib.error.HTTPError as error:
        return error.code, tree.fromstring(error.read())
body = open("ask.xml", "rb").read()
status, root = ask(body)
print(status, root.find(".//{urn:saltmere:tides:1}high").text)
status, root = ask(body.replace(b"pier", b"peir"))
print(status, root.find(".//faultcode").text)
with urllib.request.urlopen(sys.argv[1] + "?wsdl") as reply:
    print(tree.fromstring(reply.read()).tag)
"#;
    let said = python(&folder, client, &[&format!("http://{}/1", serving.host)]);
    assert_eq!(
        said,
        "200 2026-03-14T06:30:00Z\n500 env:Client\n{http://schemas.xmlsoap.org/wsdl/}definitions\n"
    );
}

#[test]
fn python_answers_and_is_understood() {
    let folder = folder();
    let server = PythonServer::start(&folder, &[]);
    let to = format!("--to http://127.0.0.1:{}/1", server.port);
    folder.run(&format!("send tides.wsdl nextTide {to}")).ends(0).says("2026-03-14T06:30:00Z");
    // And a relay between.
    let serving = folder.serve(&format!("answer tides.wsdl --relay http://127.0.0.1:{}", server.port));
    folder.run(&format!("send tides.wsdl nextTide --to http://{}", serving.host)).ends(0);
    serving.stop().says("replied   nextTide");
}

#[test]
fn a_secure_connection_is_made_to_whom_one_trusts() {
    let folder = folder();
    let authority_key = rcgen::KeyPair::generate().unwrap();
    let mut authority = rcgen::CertificateParams::new(Vec::new()).unwrap();
    authority.distinguished_name.push(rcgen::DnType::CommonName, "Saltmere Quays");
    authority.is_ca = rcgen::IsCa::Ca(rcgen::BasicConstraints::Unconstrained);
    let certificate = authority.self_signed(&authority_key).unwrap();
    folder.write("authority.pem", certificate.pem());
    let issuer = rcgen::Issuer::new(authority, authority_key);
    for (file, name) in [("server.pem", "localhost"), ("consumer.pem", "ines.saltmere.example")] {
        let key = rcgen::KeyPair::generate().unwrap();
        let mut params = rcgen::CertificateParams::new(vec![name.to_owned()]).unwrap();
        params.distinguished_name.push(rcgen::DnType::CommonName, name);
        let signed = params.signed_by(&key, &issuer).unwrap();
        folder.write(file, format!("{}{}", signed.pem(), key.serialize_pem()));
    }
    let server = PythonServer::start(&folder, &["tls"]);
    let to = format!("--to https://localhost:{}/1", server.port);
    folder.run(&format!("send tides.wsdl nextTide --authorities authority.pem {to}")).ends(0);
    // Whom nobody vouches for is not spoken to, nor who goes by another name.
    let run = folder.run(&format!("send tides.wsdl nextTide {to}")).ends(2);
    run.complains("nobody who is trusted here vouches for its certificate");
    let other = to.replace("localhost", "127.0.0.1");
    folder
        .run(&format!("send tides.wsdl nextTide --authorities authority.pem {other}"))
        .ends(2)
        .complains("its certificate is for another name");
    let server = PythonServer::start(&folder, &["tls", "both"]);
    let to = format!("--authorities authority.pem --to https://localhost:{}/1", server.port);
    folder.run(&format!("send tides.wsdl nextTide --certificate consumer.pem {to}")).ends(0);
    folder.run(&format!("send tides.wsdl nextTide {to}")).ends(2).complains("does it ask for a certificate?");
    folder
        .run(&format!("send tides.wsdl nextTide --certificate authority.pem {to}"))
        .ends(2)
        .complains("no private key");
}

#[test]
fn curl_sends_what_the_program_prints_for_it() {
    let folder = Folder::with_demo();
    let serving = folder.serve("answer saltmere/office/harbour.wsdl");
    for (operation, port) in [
        ("nextTide", "TidesGetPort"),
        ("nextTide", "TidesFormPort"),
        ("listBerths", "BerthingPort12"),
        ("fileChart", "ChartsPort"),
    ] {
        let line = folder
            .run(&format!("message saltmere/office/harbour.wsdl {operation} --port {port} --as curl"))
            .ends(0)
            .out;
        let line = line.replace("https://harbour.saltmere.example", &format!("http://{}", serving.host));
        let done = Command::new("sh")
            .args(["-c", &line.replacen("curl", "curl -s -w ' %{http_code}'", 1)])
            .output()
            .unwrap();
        let said = String::from_utf8_lossy(&done.stdout).into_owned();
        assert!(said.ends_with(" 200"), "{line}{said}");
    }
    let sent = format!(
        "curl -s --compressed -H 'Expect: 100-continue' -H 'Content-Type: text/xml' -H 'SOAPAction: \"{ACTION}\"' -d '<a/>' http://{}/berthing",
        serving.host
    );
    let done = Command::new("sh").args(["-c", &sent]).output().unwrap();
    assert!(String::from_utf8_lossy(&done.stdout).contains("env:Client"), "{done:?}");
}

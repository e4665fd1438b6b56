//! A message as text: the body alone, the whole HTTP message, and a line for a shell.

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use charter_contract::Contract;
use charter_schema::sample::{to_fragment, to_xml};
use charter_source::Address;

use crate::http::{Headers, HttpMessage, Start, field};
use crate::notes::as_comments;
use crate::{Element, Message, Payload, Piece};

impl Message {
    /// The body: an envelope, a document, a form, or the parts of a multipart message.
    pub fn body(&self, contract: &Contract) -> Vec<u8> {
        match &self.payload {
            Payload::Empty => Vec::new(),
            Payload::Xml(element) => as_document(element, contract).into_bytes(),
            Payload::Plain(bytes) => bytes.clone(),
            Payload::Parts { boundary, pieces } => {
                let mut bytes = Vec::new();
                for piece in pieces {
                    bytes.extend(format!("--{boundary}\r\n").into_bytes());
                    bytes.extend(piece_text(piece, contract));
                    bytes.extend(b"\r\n");
                }
                bytes.extend(format!("--{boundary}--\r\n").into_bytes());
                bytes
            }
        }
    }

    /// The body for people: bytes that are no text are shown in base64.
    pub fn text(&self, contract: &Contract) -> String {
        String::from_utf8(self.body(contract)).unwrap_or_else(|error| STANDARD.encode(error.as_bytes()))
    }

    /// The whole HTTP message, as it is sent.
    pub fn http(&self, contract: &Contract) -> HttpMessage {
        let body = self.body(contract);
        let mut headers = Headers::default();
        let start = match &self.start {
            Start::Request { method, target } => {
                let (host, target) = host_and_target(target);
                headers.push("Host", host);
                Start::Request { method: method.clone(), target }
            }
            reply => reply.clone(),
        };
        for (name, value) in self.headers.iter() {
            headers.push(name, value);
        }
        if !body.is_empty() || start.method() != Some("GET") {
            headers.push("Content-Length", body.len().to_string());
        }
        HttpMessage { start, headers, body }
    }

    /// A line for a shell that sends the request with curl.
    pub fn curl(&self, contract: &Contract) -> String {
        let mut words = vec!["curl".to_owned()];
        let method = self.start.method().unwrap_or("POST");
        let body = self.body(contract);
        if method != if body.is_empty() { "GET" } else { "POST" } {
            words.push(format!("--request {method}"));
        }
        for (name, value) in self.headers.iter() {
            words.push(format!("--header {}", quoted(&format!("{name}: {}", field(value)))));
        }
        let mut before = String::new();
        if !body.is_empty() {
            match String::from_utf8(body) {
                Ok(text) => words.push(format!("--data-raw {}", quoted(&text))),
                Err(error) => {
                    let octal: String = error.as_bytes().iter().map(|byte| format!("\\{byte:03o}")).collect();
                    before = format!("printf '{octal}' | ");
                    words.push("--data-binary @-".to_owned());
                }
            }
        }
        // Brackets and braces in an address would mean several addresses.
        let address = self.address().unwrap_or("http://localhost/");
        if address.contains(['[', ']', '{', '}']) {
            words.push("--globoff".to_owned());
        }
        // By its name, an address is no option, whatever it begins with.
        words.push(format!("--url {}", quoted(&in_target(address))));
        // What fits on a line stands on one.
        let short =
            words.iter().map(String::len).sum::<usize>() < 100 && !words.iter().any(|it| it.contains('\n'));
        format!("{before}{}\n", words.join(if short { " " } else { " \\\n  " }))
    }
}

/// A part with its headers.
fn piece_text(piece: &Piece, contract: &Contract) -> Vec<u8> {
    let mut head = String::new();
    for (name, value) in piece.headers.iter() {
        head.push_str(&format!("{name}: {}\r\n", field(value)));
    }
    head.push_str("\r\n");
    let mut bytes = head.into_bytes();
    match &piece.payload {
        Payload::Xml(element) => bytes.extend(as_document(element, contract).trim_end().bytes()),
        Payload::Plain(octets)
            if std::str::from_utf8(octets).is_err()
                && piece.headers.get("Content-Transfer-Encoding") != Some("binary") =>
        {
            let text = STANDARD.encode(octets);
            let lines = text.as_bytes().chunks(76).map(<[u8]>::to_vec).collect::<Vec<_>>();
            bytes.extend(lines.join(&b"\r\n"[..]));
        }
        Payload::Plain(octets) => bytes.extend(octets),
        Payload::Empty | Payload::Parts { .. } => {}
    }
    bytes
}

/// An element as indented XML, with the prefixes of the contract.
pub fn as_document(element: &Element, contract: &Contract) -> String {
    let wanted = |namespace: &str| contract_prefix(contract, namespace);
    as_comments(match &*element.name.local {
        "Envelope" => to_xml(element, "env", &wanted),
        _ => to_fragment(element, &wanted),
    })
}

/// The prefix that the contract declares for a namespace, unless it only says "this namespace".
fn contract_prefix(contract: &Contract, namespace: &str) -> Option<String> {
    use charter_source::ns;
    let usual = match namespace {
        ns::XSD => Some("xs"),
        ns::SOAP11_ENCODING | ns::SOAP12_ENCODING => Some("enc"),
        ns::ADDRESSING => Some("wsa"),
        ns::WSSE => Some("wsse"),
        ns::WSU => Some("wsu"),
        _ => None,
    };
    if let Some(usual) = usual {
        return Some(usual.to_owned());
    }
    contract.files.iter().filter_map(|file| file.root()).find_map(|root| {
        let declared = root.namespaces().filter(|declared| declared.uri() == namespace);
        let mut named = declared.filter_map(|declared| declared.name());
        named.find(|prefix| !matches!(*prefix, "tns" | "this" | "env")).map(str::to_owned)
    })
}

/// The host and the target of an address. One that is not written as an address is sent as it stands.
fn host_and_target(address: &str) -> (String, String) {
    let parsed = Address::parse(address);
    match parsed.or_else(|| Address::parse(&format!("http://{address}"))) {
        Some(address) => (address.authority().to_owned(), address.target().to_owned()),
        None if address.is_empty() => (String::new(), "/".to_owned()),
        None => (String::new(), in_target(address)),
    }
}

/// An address or a target, in which nothing ends it: white space and controls are escaped (RFC 3986, section 2.1).
fn in_target(text: &str) -> String {
    let mut result = String::with_capacity(text.len());
    for c in text.chars() {
        if c.is_control() || c.is_whitespace() {
            let mut bytes = [0; 4];
            c.encode_utf8(&mut bytes).bytes().for_each(|byte| result.push_str(&format!("%{byte:02X}")));
        } else {
            result.push(c);
        }
    }
    result
}

/// A word as a shell needs it.
fn quoted(word: &str) -> String {
    format!("'{}'", word.replace('\'', "'\\''"))
}

//! One HTTP message: its first line, its header fields and its body (RFC 9112), as it is sent and as it was caught.
//!
//! `head.rs` reads what stands before a body, `chunks.rs` and `coding.rs` undo what was done to one on its way, `parts.rs`
//! cuts one of several parts. What a body means is left to [`crate::captured`] and [`crate::matching`].

mod chunks;
mod coding;
mod head;
mod headers;
mod parts;

pub use coding::NotDecoded;
pub(crate) use head::{after, begins_at, fields, read};
pub(crate) use headers::media_type;
pub use headers::{Headers, parameter};
pub(crate) use parts::{bare, parts};

/// How an HTTP message begins.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Start {
    /// A request.
    Request {
        /// The method.
        method: String,
        /// Its target: the path and the query, or the whole address.
        target: String,
    },
    /// A reply.
    Reply {
        /// The status.
        status: u16,
    },
}

impl Start {
    /// The method of a request.
    pub fn method(&self) -> Option<&str> {
        match self {
            Start::Request { method, .. } => Some(method),
            Start::Reply { .. } => None,
        }
    }

    /// The status of a reply.
    pub fn status(&self) -> Option<u16> {
        match self {
            Start::Request { .. } => None,
            Start::Reply { status } => Some(*status),
        }
    }

    /// Whether this is a request.
    pub fn is_request(&self) -> bool {
        matches!(self, Start::Request { .. })
    }
}

/// An HTTP message.
///
/// ```
/// use charter_message::http::{HttpMessage, Start};
///
/// let reply = HttpMessage::read(b"HTTP/1.1 200 OK\r\nTransfer-Encoding: chunked\r\n\r\n7\r\n<tide/>\r\n0\r\n\r\n").unwrap();
/// assert_eq!(reply.start, Start::Reply { status: 200 });
/// assert_eq!(reply.headers.get("transfer-encoding"), Some("chunked"));
/// assert_eq!(reply.content().unwrap().octets, b"<tide/>");
/// ```
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct HttpMessage {
    /// The first line.
    pub start: Start,
    /// The header fields.
    pub headers: Headers,
    /// The body as it stands on the wire.
    pub body: Vec<u8>,
}

/// What a body holds, once nothing of its way is left.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Content {
    /// The octets.
    pub octets: Vec<u8>,
    /// Where the first of them stands in the body.
    pub from: usize,
}

impl HttpMessage {
    /// Reads a message of which all is there: what follows its head is its body. `None` if it does not begin with a first
    /// line of HTTP.
    pub fn read(bytes: &[u8]) -> Option<HttpMessage> {
        let body = after(bytes, 0);
        let (start, headers) = head::read(&bytes[..body]);
        Some(HttpMessage { start: start?, headers, body: bytes[body..].to_vec() })
    }

    /// What the body holds: its chunks joined, and unpacked (RFC 9112, section 7.1; RFC 9110, section 8.4).
    ///
    /// # Errors
    /// If it was packed in a way that is not read, is damaged, or unpacks to more than any message needs.
    pub fn content(self) -> Result<Content, NotDecoded> {
        let chunked = self.headers.get("Transfer-Encoding");
        let chunked = chunked.is_some_and(|value| value.to_ascii_lowercase().contains("chunked"));
        let Content { octets, from } =
            if chunked { chunks::joined(self.body) } else { Content { octets: self.body, from: 0 } };
        let coding = self.headers.get("Content-Encoding").unwrap_or_default();
        Ok(Content { octets: coding::decoded(octets, coding)?, from })
    }

    /// The message as it goes over the wire.
    pub fn to_bytes(&self) -> Vec<u8> {
        let mut head = match &self.start {
            Start::Request { method, target } => format!("{method} {target} HTTP/1.1\r\n"),
            Start::Reply { status } => format!("HTTP/1.1 {status} {}\r\n", reason(*status)),
        };
        for (name, value) in self.headers.iter() {
            head.push_str(&format!("{name}: {}\r\n", field(value)));
        }
        head.push_str("\r\n");
        let mut bytes = head.into_bytes();
        bytes.extend(&self.body);
        bytes
    }
}

/// The value of a header field: what would end it is a space (RFC 9110, section 5.5).
pub(crate) fn field(value: &str) -> String {
    value.chars().map(|c| if c.is_control() && c != '\t' { ' ' } else { c }).collect()
}

/// The words of a status (RFC 9110, section 15).
fn reason(status: u16) -> &'static str {
    match status {
        200 => "OK",
        202 => "Accepted",
        204 => "No Content",
        400 => "Bad Request",
        401 => "Unauthorized",
        404 => "Not Found",
        405 => "Method Not Allowed",
        415 => "Unsupported Media Type",
        500 => "Internal Server Error",
        _ => "",
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_written_is_read_back() {
        let mut headers = Headers::default();
        headers.push("Content-Type", "text/xml; charset=utf-8");
        headers.push("SOAPAction", "\"tide\"");
        let target = "/tides?day=1".to_owned();
        for start in [Start::Request { method: "POST".to_owned(), target }, Start::Reply { status: 418 }] {
            for body in ["", "<tide/>", "\r\n\r\nHTTP/1.1 200 OK\r\n"] {
                let message =
                    HttpMessage { start: start.clone(), headers: headers.clone(), body: body.into() };
                assert_eq!(HttpMessage::read(&message.to_bytes()), Some(message));
            }
        }
    }

    #[test]
    fn no_value_ends_its_field() {
        let mut headers = Headers::default();
        headers.push("SOAPAction", "tide\r\nX-Other: 1\u{7f}\tend");
        let message = HttpMessage { start: Start::Reply { status: 200 }, headers, body: Vec::new() };
        let text = String::from_utf8(message.to_bytes()).unwrap();
        assert_eq!(text, "HTTP/1.1 200 OK\r\nSOAPAction: tide  X-Other: 1 \tend\r\n\r\n");
    }

    #[test]
    fn what_does_not_begin_as_http_is_no_message() {
        for text in ["", "<tide/>", "POST", "tide / HTTP/1.1\r\n\r\n", "HTTP/1.1 high\r\n\r\n", "\r\n\r\n"] {
            assert_eq!(HttpMessage::read(text.as_bytes()), None, "{text}");
        }
    }
}

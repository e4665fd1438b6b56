//! The head of a message: its first line and its header fields.
//!
//! A message that somebody kept may have lost its carriage returns, hold a line that is no field, or name a version that is
//! not written in lines at all; what can be read of it is read.

use httparse::{EMPTY_HEADER, ParserConfig, Request, Response};

use super::{Headers, Start};

/// Whether a first line of HTTP begins at an offset.
pub(crate) fn begins_at(bytes: &[u8], at: usize) -> bool {
    first_line(line(&bytes[at..])).is_some()
}

/// The first line of some bytes, without what ends it.
fn line(bytes: &[u8]) -> &[u8] {
    let end = memchr::memchr(b'\n', bytes).unwrap_or(bytes.len());
    bytes[..end].trim_ascii_end()
}

/// What a first line says.
fn first_line(line: &[u8]) -> Option<Start> {
    // Any version is read as the one whose lines these are.
    let as_known = |before: &[u8], after: &[u8]| [before, b"HTTP/1.1", after, b"\r\n\r\n"].concat();
    if let Some(rest) = line.strip_prefix(b"HTTP/") {
        let version = rest.iter().position(|byte| *byte == b' ')?;
        let text = as_known(b"", &rest[version..]);
        let mut reply = Response::new(&mut []);
        reply.parse(&text).ok()?;
        return Some(Start::Reply { status: reply.code? });
    }
    // Most lines of a body are no first line, and are not looked at further.
    if !line.first().is_some_and(u8::is_ascii_uppercase) {
        return None;
    }
    let version = memchr::memrchr(b' ', line)? + 1;
    if !line[version..].starts_with(b"HTTP/") {
        return None;
    }
    let text = as_known(&line[..version], b"");
    let mut request = Request::new(&mut []);
    request.parse(&text).ok()?;
    let (method, target) = (request.method?, request.path?);
    let is_method = method.bytes().all(|byte| byte.is_ascii_uppercase());
    is_method.then(|| Start::Request { method: method.to_owned(), target: target.to_owned() })
}

/// Where the body begins after the head at `from`: behind the first empty line.
pub(crate) fn after(bytes: &[u8], from: usize) -> usize {
    let mut at = from;
    while at < bytes.len() {
        let end = memchr::memchr(b'\n', &bytes[at..]).map_or(bytes.len(), |end| at + end + 1);
        if bytes[at..end].iter().all(u8::is_ascii_whitespace) {
            return end;
        }
        at = end;
    }
    bytes.len()
}

/// The first line and the fields of a head.
pub(crate) fn read(head: &[u8]) -> (Option<Start>, Headers) {
    let first = memchr::memchr(b'\n', head).map_or(head.len(), |end| end + 1);
    (first_line(line(head)), fields(&head[first..]))
}

/// The fields in lines of their own. What is none is left out, and a value may go on in the next line (RFC 9112, 5.2).
pub(crate) fn fields(lines: &[u8]) -> Headers {
    let text = [b"HTTP/1.1 200 OK\r\n", lines.trim_ascii_end(), b"\r\n\r\n"].concat();
    let most = memchr::memchr_iter(b'\n', &text).count();
    let mut found = vec![EMPTY_HEADER; most];
    let mut reply = Response::new(&mut found);
    let mut config = ParserConfig::default();
    config
        .allow_obsolete_multiline_headers_in_responses(true)
        .allow_spaces_after_header_name_in_responses(true)
        .ignore_invalid_headers_in_responses(true);
    if config.parse_response(&mut reply, &text).is_err() {
        return Headers::default();
    }
    let value = |bytes: &[u8]| {
        let text = String::from_utf8_lossy(bytes);
        text.lines().map(str::trim).collect::<Vec<_>>().join(" ")
    };
    reply.headers.iter().map(|field| (field.name, value(field.value))).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn first_lines_are_told_from_others() {
        for line in
            ["GET / HTTP/1.1", "POST http://quay/a?b HTTP/1.0", "M-SEARCH * HTTP/2", "OPTIONS * HTTP/1.1"]
        {
            let found = first_line(line.as_bytes());
            // Only letters make a method of those that are in use for messages.
            assert_eq!(found.is_some(), !line.starts_with("M-"), "{line}");
        }
        for line in ["HTTP/1.1 200", "HTTP/1.0 404 Not there", "HTTP/2 500", "HTTP/3 100 "] {
            assert!(first_line(line.trim_end().as_bytes()).is_some(), "{line}");
        }
        for line in [
            "",
            "get / HTTP/1.1",
            "GET /",
            "GET HTTP/1.1",
            "GET / HTTP/1.1 x",
            "HTTP/1.1",
            "HTTP/1.1 tide",
            "Tide / HTTP/1.1",
        ] {
            assert_eq!(first_line(line.as_bytes()), None, "{line}");
        }
    }

    #[test]
    fn fields_are_read_whatever_stands_between_them() {
        let lines = "a: 1\r\nno field\r\nB :2\n\u{e4}: 3\r\nc:\t\r\nd: 4\r\n\t5  \r\n 6\r\ne: gr\u{f6}\u{df}e\r\n: 7\r\nf: \u{1}8\r\na: 9";
        let found = fields(lines.as_bytes());
        let all: Vec<_> = found.iter().collect();
        assert_eq!(
            all,
            [("a", "1"), ("B", "2"), ("c", ""), ("d", "4 5 6"), ("e", "gr\u{f6}\u{df}e"), ("a", "9")]
        );
        assert!(fields(b"").is_empty());
    }

    #[test]
    fn there_may_be_any_number_of_fields() {
        let lines = "tide: 4\r\n".repeat(3_000);
        assert_eq!(fields(lines.as_bytes()).iter().count(), 3_000);
    }
}

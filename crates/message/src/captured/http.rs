//! Raw HTTP exchanges (RFC 9112): requests and replies one after the other, as they came.

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;

use charter_source::{Fault, FileId, Place};

use super::{Attachment, Captured, Form, Raw, Start, numbered, packed, parameter};

/// Whether a first line of HTTP begins at an offset.
pub(super) fn starts_at(bytes: &[u8], at: usize) -> bool {
    let end = memchr::memchr(b'\n', &bytes[at..]).map_or(bytes.len(), |end| at + end);
    std::str::from_utf8(&bytes[at..end]).is_ok_and(|line| start(line.trim_end()).is_some())
}

/// What a first line says.
fn start(line: &str) -> Option<Start> {
    if let Some(rest) = line.strip_prefix("HTTP/") {
        let status = rest.split(' ').nth(1)?.parse().ok()?;
        return Some(Start::Reply { status });
    }
    let mut words = line.split(' ');
    let (method, target, version) = (words.next()?, words.next()?, words.next()?);
    let is_method = !method.is_empty() && method.bytes().all(|byte| byte.is_ascii_uppercase());
    let fits = is_method && version.starts_with("HTTP/") && words.next().is_none();
    fits.then(|| Start::Request { method: method.to_owned(), target: target.to_owned() })
}

/// Where the body begins after the head at `from`: behind the first empty line.
fn body_after(bytes: &[u8], from: usize) -> usize {
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

fn headers(head: &str) -> Vec<(String, String)> {
    let mut found: Vec<(String, String)> = Vec::new();
    for line in head.lines().skip(1) {
        match (line.starts_with([' ', '\t']), found.last_mut()) {
            // A long value may go on in the next line.
            (true, Some((_, value))) => {
                value.push(' ');
                value.push_str(line.trim());
            }
            _ => {
                if let Some((name, value)) = line.split_once(':') {
                    found.push((name.trim().to_owned(), value.trim().to_owned()));
                }
            }
        }
    }
    found
}

/// The messages of a file: each ends where its length says, or where the next begins.
pub(super) fn split<'b>(name: &str, bytes: &'b [u8]) -> Vec<Raw<'b>> {
    let mut found = Vec::new();
    let mut from = skip_space(bytes, 0);
    let mut lines = line_ends(&bytes[..from]);
    while from < bytes.len() {
        let body = body_after(bytes, from);
        let head = String::from_utf8_lossy(&bytes[from..body]);
        let length = headers(&head).iter().find_map(|(name, value)| {
            name.eq_ignore_ascii_case("Content-Length").then(|| value.parse::<usize>().ok()).flatten()
        });
        let by_length = length.map(|length| body.saturating_add(length)).filter(|end| {
            // A length that an editor has made wrong leads into the middle of something.
            let after = skip_space(bytes, (*end).min(bytes.len()));
            *end <= bytes.len() && (after == bytes.len() || starts_at(bytes, after))
        });
        let to = by_length.unwrap_or_else(|| next_start(bytes, body));
        found.push((from, lines, body, to));
        let next = skip_space(bytes, to);
        lines += line_ends(&bytes[from..next]);
        from = next;
    }
    let many = found.len() > 1;
    let raw = |(number, (from, lines, body, to))| Raw {
        label: numbered(name, number + 1, many),
        form: Form::Http { whole: bytes, from, lines, body, to },
    };
    found.into_iter().enumerate().map(raw).collect()
}

fn skip_space(bytes: &[u8], from: usize) -> usize {
    bytes[from..].iter().position(|byte| !byte.is_ascii_whitespace()).map_or(bytes.len(), |at| from + at)
}

/// Where the next message begins at the beginning of a line.
fn next_start(bytes: &[u8], from: usize) -> usize {
    let mut at = from;
    while let Some(end) = memchr::memchr(b'\n', &bytes[at..]) {
        at += end + 1;
        if starts_at(bytes, at) {
            return at;
        }
    }
    bytes.len()
}

/// Takes a message apart, before which so many lines stand in its file.
pub(super) fn open(
    label: &str,
    whole: &[u8],
    (from, lines): (usize, usize),
    body: usize,
    to: usize,
) -> Captured {
    let head = String::from_utf8_lossy(&whole[from..body]);
    let headers = headers(&head);
    let first = start(head.lines().next().unwrap_or("").trim_end());
    let value = |name: &str| {
        let found = headers.iter().find(|(known, _)| known.eq_ignore_ascii_case(name));
        found.map(|(_, value)| value.clone())
    };
    let chunked =
        value("Transfer-Encoding").is_some_and(|value| value.to_ascii_lowercase().contains("chunked"));
    let content_type = value("Content-Type").unwrap_or_default();
    let coding = value("Content-Encoding").unwrap_or_default();
    let boundary = parameter(&content_type, "boundary")
        .filter(|_| content_type.trim().to_ascii_lowercase().starts_with("multipart/"));
    let mut captured = match (chunked, boundary) {
        (true, _) => {
            let (joined, begins) = joined_chunks(&whole[body..to]);
            let lines = lines + line_ends(&whole[from..body + begins]);
            unpacked_body(label, (joined, lines), &coding, &content_type)
        }
        (false, None) if !coding.is_empty() => {
            let lines = lines + line_ends(&whole[from..body]);
            unpacked_body(label, (whole[body..to].to_vec(), lines), &coding, &content_type)
        }
        (false, None) => body_of(label, stretch(whole, (from, lines), body, to), &content_type),
        (false, Some(boundary)) => {
            let pieces = pieces(whole, body, to, &boundary);
            let start = parameter(&content_type, "start");
            of_pieces(label, whole, (from, lines), pieces, start.as_deref())
        }
    };
    captured.start = first;
    captured.headers = headers;
    captured
}

/// A body that may have been sent compressed.
fn unpacked_body(
    label: &str,
    (bytes, lines): (Vec<u8>, usize),
    coding: &str,
    content_type: &str,
) -> Captured {
    match packed::unpacked(&bytes, coding) {
        Ok(unpacked) => body_of(label, (unpacked, lines), content_type),
        Err(message) => {
            let mut captured = Captured::behind(label, Vec::new(), lines, true);
            let place = Place { file: FileId(0), span: charter_source::Span::default() };
            let help = "keep messages as they were before they were compressed";
            captured.fault = Some(Fault::new("message-unreadable", place, message).help(help));
            captured
        }
    }
}

fn body_of(label: &str, (bytes, lines): (Vec<u8>, usize), content_type: &str) -> Captured {
    let xml = content_type.contains("xml") && bytes.iter().any(|byte| !byte.is_ascii_whitespace());
    let mut captured = Captured::behind(label, bytes, lines, xml);
    let start = captured.octets.iter().position(|byte| !byte.is_ascii_whitespace());
    let start = start.unwrap_or(captured.octets.len());
    captured.octets.drain(..start);
    captured
}

/// A stretch of a file, and how many lines of the file stand before it, if `lines` stand before `from`. White space before a
/// declaration of XML is left out, which may only stand at the very beginning.
fn stretch(whole: &[u8], (from, lines): (usize, usize), body: usize, to: usize) -> (Vec<u8>, usize) {
    let begin = skip_space(&whole[..to], body);
    let body = if whole[begin..to].starts_with(b"<?xml") { begin } else { body };
    (whole[body..to].to_vec(), lines + line_ends(&whole[from.min(body)..body]))
}

fn line_ends(bytes: &[u8]) -> usize {
    memchr::memchr_iter(b'\n', bytes).count()
}

/// The body of a message that was sent in chunks (RFC 9112, 7.1), and where its first chunk begins.
fn joined_chunks(mut bytes: &[u8]) -> (Vec<u8>, usize) {
    let whole = bytes;
    let mut joined = Vec::new();
    let mut begins = 0;
    while let Some(end) = memchr::memchr(b'\n', bytes) {
        let line = String::from_utf8_lossy(&bytes[..end]);
        let size = line.trim().split(';').next().unwrap_or("").trim();
        let Ok(size) = usize::from_str_radix(size, 16) else { break };
        let from = end + 1;
        if size == 0 || from >= bytes.len() {
            return (joined, begins);
        }
        if joined.is_empty() {
            begins = from;
        }
        // A size may be any number: what is there is what there is.
        let to = from.saturating_add(size).min(bytes.len());
        joined.extend(&bytes[from..to]);
        bytes = &bytes[to..];
        let line_end = memchr::memchr(b'\n', bytes).map_or(bytes.len(), |at| at + 1);
        bytes = &bytes[line_end..];
    }
    // Whoever kept the message may have put the chunks together already.
    if joined.is_empty() { (whole.to_vec(), 0) } else { (joined, begins) }
}

/// A part of a multipart message: its headers, and where its content stands.
struct Stretch {
    headers: Vec<(String, String)>,
    from: usize,
    to: usize,
}

/// The parts of a multipart body (RFC 2046, 5.1).
fn pieces(whole: &[u8], body: usize, to: usize, boundary: &str) -> Vec<Stretch> {
    let line = format!("--{boundary}");
    let mut found = Vec::new();
    let mut open: Option<usize> = None;
    let mut at = body;
    while at < to {
        let end = memchr::memchr(b'\n', &whole[at..to]).map_or(to, |end| at + end + 1);
        if whole[at..end].starts_with(line.as_bytes()) {
            if let Some(from) = open {
                let content = body_after(&whole[..at], from);
                let head = format!("part\n{}", String::from_utf8_lossy(&whole[from..content]));
                // The line end before the boundary belongs to the boundary.
                let mut stop = at;
                for byte in [b'\n', b'\r'] {
                    if stop > content && whole[stop - 1] == byte {
                        stop -= 1;
                    }
                }
                found.push(Stretch { headers: headers(&head), from: content, to: stop });
            }
            let last = whole[at..end].starts_with(format!("{line}--").as_bytes());
            open = (!last).then_some(end);
        }
        at = end;
    }
    found
}

/// The message of several parts: the one that `start` names is its root, or else the first.
fn of_pieces(
    label: &str,
    whole: &[u8],
    begins: (usize, usize),
    pieces: Vec<Stretch>,
    start: Option<&str>,
) -> Captured {
    let value = |piece: &Stretch, name: &str| {
        let found = piece.headers.iter().find(|(known, _)| known.eq_ignore_ascii_case(name));
        found.map_or(String::new(), |(_, value)| value.clone())
    };
    let id = |piece: &Stretch| value(piece, "Content-ID").trim_matches(['<', '>', ' ']).to_owned();
    let root = start.and_then(|start| {
        let start = start.trim_matches(['<', '>', ' ']);
        pieces.iter().position(|piece| id(piece) == start)
    });
    let root = root.unwrap_or(0);
    let Some(first) = pieces.get(root) else { return Captured::of(label, Vec::new(), true) };
    let mut captured =
        body_of(label, stretch(whole, begins, first.from, first.to), &value(first, "Content-Type"));
    for piece in pieces.iter().enumerate().filter(|(at, _)| *at != root).map(|(_, piece)| piece) {
        let content = &whole[piece.from..piece.to];
        let octets = match value(piece, "Content-Transfer-Encoding").to_ascii_lowercase().as_str() {
            "base64" => {
                let bare: Vec<u8> =
                    content.iter().copied().filter(|byte| !byte.is_ascii_whitespace()).collect();
                STANDARD.decode(bare).unwrap_or_else(|_| content.to_vec())
            }
            _ => content.to_vec(),
        };
        let media_type = value(piece, "Content-Type");
        let media_type = media_type.split(';').next().unwrap_or("").trim().to_ascii_lowercase();
        captured.attachments.push(Attachment { id: id(piece), media_type, octets });
    }
    captured
}

#[cfg(test)]
mod tests {
    use super::super::split;
    use super::*;

    #[test]
    fn an_exchange_is_two_messages_whose_lines_stay() {
        let text = "POST /1 HTTP/1.1\r\nHost: a\r\nContent-Length: 4\r\n\r\n<a/>\r\nHTTP/1.1 200 OK\r\nContent-Type: text/xml\r\n\r\n<?xml version=\"1.0\"?>\n<b/>";
        let raw = split("x", text.as_bytes());
        assert_eq!(raw.iter().map(|raw| raw.label.as_str()).collect::<Vec<_>>(), ["x#1", "x#2"]);
        let (request, reply) = (raw[0].open(), raw[1].open());
        assert_eq!(request.start, Some(Start::Request { method: "POST".into(), target: "/1".into() }));
        assert_eq!(request.header("host"), Some("a"));
        assert_eq!(reply.start, Some(Start::Reply { status: 200 }));
        let root = reply.file.root().unwrap();
        assert_eq!(reply.file.text().position(root.range().start as u32).line, 10);
    }

    #[test]
    fn chunks_are_joined_and_a_wrong_length_is_borne() {
        let chunked =
            "HTTP/1.1 200 OK\nTransfer-Encoding: chunked\nContent-Type: text/xml\n\n3\n<a>\n4\n</a>\n0\n\n";
        assert!(split("x", chunked.as_bytes())[0].open().file.has_root("", "a"));
        let wrong = "POST / HTTP/1.1\nContent-Length: 999\n\n<a/>\nPOST / HTTP/1.1\n\n<b/>";
        let raw = split("x", wrong.as_bytes());
        assert_eq!(raw.len(), 2);
        assert!(raw[1].open().file.has_root("", "b"));
    }

    #[test]
    fn the_root_of_several_parts_is_the_one_that_is_named() {
        let text = "POST / HTTP/1.1\r\nContent-Type: multipart/related; start=\"<e>\"; boundary=b\r\n\r\n--b\r\nContent-Type: image/png\r\nContent-ID: <chart=1@s>\r\nContent-Transfer-Encoding: base64\r\n\r\nU2Fs\r\n--b\r\nContent-Type: text/xml\r\nContent-ID: <e>\r\n\r\n<a/>\r\n--b--\r\n";
        let captured = split("x", text.as_bytes())[0].open();
        assert!(captured.file.has_root("", "a"));
        let one =
            Attachment { id: "chart=1@s".into(), media_type: "image/png".into(), octets: b"Sal".to_vec() };
        assert_eq!(captured.attachments, [one]);
    }
}

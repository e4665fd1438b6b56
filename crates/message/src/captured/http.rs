//! Raw HTTP exchanges (RFC 9112): requests and replies one after the other, as they came.

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;

use charter_source::{Fault, FileId, Place};

use super::{Attachment, Captured, Raw, Source, numbered, xop};
use crate::http::{HttpMessage, NotDecoded, after, bare, begins_at, parts, read};

/// The messages of a file: each ends where its length says, or where the next begins.
pub(super) fn split<'b>(name: &str, bytes: &'b [u8]) -> Vec<Raw<'b>> {
    let mut found = Vec::new();
    let mut from = skip_space(bytes, 0);
    let mut lines = line_ends(&bytes[..from]);
    while from < bytes.len() {
        let body = after(bytes, from);
        let (_, headers) = read(&bytes[from..body]);
        let length = headers.get("Content-Length").and_then(|value| value.parse::<usize>().ok());
        let by_length = length.map(|length| body.saturating_add(length)).filter(|end| {
            // A length that an editor has made wrong leads into the middle of something.
            let after = skip_space(bytes, (*end).min(bytes.len()));
            *end <= bytes.len() && (after == bytes.len() || begins_at(bytes, after))
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
        source: Source::Http { whole: bytes, from, lines, body, to },
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
        if begins_at(bytes, at) {
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
    let lines = lines + line_ends(&whole[from..body]);
    match HttpMessage::read(&whole[from..to]) {
        Some(message) => received(label, message, lines),
        None => Captured::behind(label, whole[body..to].to_vec(), lines, false),
    }
}

/// Takes apart a message whose body has so many lines before it.
pub(super) fn received(label: &str, message: HttpMessage, lines: usize) -> Captured {
    let HttpMessage { start, headers, .. } = &message;
    let (start, headers) = (start.clone(), headers.clone());
    // What was done to the body on its way is undone; lines are counted in it as it came.
    let plain = headers.get("Transfer-Encoding").is_none() && headers.get("Content-Encoding").is_none();
    let (octets, lines) = match plain {
        true => (message.body, lines),
        false => {
            let body = message.body.clone();
            match message.content() {
                Ok(content) => (content.octets, lines + line_ends(&body[..content.from])),
                Err(error) => return refused(label, lines, &error).with(start, headers),
            }
        }
    };
    let is_multipart = headers.media_type().is_some_and(|kind| kind.starts_with("multipart/"));
    let boundary = headers.media_parameter("boundary").filter(|_| is_multipart);
    let captured = match boundary {
        None => {
            let media_type = headers.get("Content-Type").unwrap_or_default();
            body_of(label, stretch(&octets, lines, 0, octets.len()), media_type)
        }
        Some(boundary) => of_parts(label, &octets, lines, &boundary, headers.media_parameter("start")),
    };
    captured.with(start, headers)
}

/// A message whose body cannot be had as it was.
fn refused(label: &str, lines: usize, error: &NotDecoded) -> Captured {
    let mut captured = Captured::behind(label, Vec::new(), lines, true);
    let place = Place { file: FileId(0), span: charter_source::Span::default() };
    let help = "keep messages as they were before they were compressed";
    captured.fault = Some(Fault::new("message-unreadable", place, error.to_string()).help(help));
    captured
}

fn body_of(label: &str, (bytes, lines): (Vec<u8>, usize), content_type: &str) -> Captured {
    let xml = content_type.contains("xml") && bytes.iter().any(|byte| !byte.is_ascii_whitespace());
    let mut captured = Captured::behind(label, bytes, lines, xml);
    let start = captured.octets.iter().position(|byte| !byte.is_ascii_whitespace());
    let start = start.unwrap_or(captured.octets.len());
    captured.octets.drain(..start);
    captured
}

/// A stretch of a body, and how many lines of the file stand before it, if `lines` stand before the body. White space before
/// a declaration of XML is left out, which may only stand at the very beginning.
fn stretch(body: &[u8], lines: usize, from: usize, to: usize) -> (Vec<u8>, usize) {
    let begin = skip_space(&body[..to], from);
    let from = if body[begin..to].starts_with(b"<?xml") { begin } else { from };
    (body[from..to].to_vec(), lines + line_ends(&body[..from]))
}

fn line_ends(bytes: &[u8]) -> usize {
    memchr::memchr_iter(b'\n', bytes).count()
}

/// The message of several parts: the one that `start` names is its root, or else the first.
fn of_parts(label: &str, body: &[u8], lines: usize, boundary: &str, start: Option<String>) -> Captured {
    let parts = parts(body, boundary);
    let root = start.and_then(|start| parts.iter().position(|part| part.id() == bare(&start)));
    let root = root.unwrap_or(0);
    let Some(first) = parts.get(root) else { return Captured::of(label, Vec::new(), true) };
    let media_type = first.headers.get("Content-Type").unwrap_or_default();
    let (root_text, lines) = stretch(body, lines, first.from, first.to);
    let mut captured = body_of(label, (root_text, lines), media_type);
    for part in parts.iter().enumerate().filter(|(at, _)| *at != root).map(|(_, part)| part) {
        let content = &body[part.from..part.to];
        let encoding = part.headers.get("Content-Transfer-Encoding").unwrap_or_default();
        let octets = match encoding.eq_ignore_ascii_case("base64") {
            true => {
                let bare: Vec<u8> =
                    content.iter().copied().filter(|byte| !byte.is_ascii_whitespace()).collect();
                STANDARD.decode(bare).unwrap_or_else(|_| content.to_vec())
            }
            false => content.to_vec(),
        };
        let media_type = part.headers.media_type().unwrap_or_default();
        captured.attachments.push(Attachment { id: part.id().to_owned(), media_type, octets });
    }
    match crate::http::media_type(media_type).as_str() {
        xop::MEDIA_TYPE => xop::filled(captured, lines),
        _ => captured,
    }
}

#[cfg(test)]
mod tests {
    use super::super::split;
    use super::*;
    use crate::http::Start;

    #[test]
    fn an_exchange_is_two_messages_whose_lines_stay() {
        let text = "POST /1 HTTP/1.1\r\nHost: a\r\nContent-Length: 4\r\n\r\n<a/>\r\nHTTP/1.1 200 OK\r\nContent-Type: text/xml\r\n\r\n<?xml version=\"1.0\"?>\n<b/>";
        let raw = split("x", text.as_bytes());
        assert_eq!(raw.iter().map(|raw| raw.label.as_str()).collect::<Vec<_>>(), ["x#1", "x#2"]);
        let (request, reply) = (raw[0].open(), raw[1].open());
        assert_eq!(request.start, Some(Start::Request { method: "POST".into(), target: "/1".into() }));
        assert_eq!(request.headers.get("host"), Some("a"));
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

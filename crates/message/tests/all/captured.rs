//! Messages as they were caught on the wire: heads, chunks, codings, parts.

use std::io::Write as _;

use charter_message::captured::{Captured, split};
use charter_message::http::{HttpMessage, Start};
use flate2::Compression;
use flate2::write::{GzEncoder, ZlibEncoder};

fn open(bytes: &[u8]) -> Captured {
    let raw = split("tide", bytes);
    assert_eq!(raw.len(), 1);
    raw[0].open()
}

/// A reply with a body in chunks, as it is written.
fn chunked(body: &str) -> Captured {
    open(
        format!("HTTP/1.1 200 OK\r\nTransfer-Encoding: chunked\r\nContent-Type: text/xml\r\n\r\n{body}")
            .as_bytes(),
    )
}

fn is_tide(captured: &Captured) -> bool {
    captured.fault.is_none() && captured.file.has_root("", "tide")
}

#[test]
fn chunks_are_joined_however_they_are_cut() {
    for body in [
        "7\r\n<tide/>\r\n0\r\n\r\n",
        "1\r\n<\r\n5\r\ntide/\r\n1\r\n>\r\n0\r\n\r\n",
        // Sizes are hexadecimal, and zeros before them say nothing.
        "0007\r\n<tide/>\r\n000\r\n\r\n",
        "A\r\n<tide>1</t\r\na\r\nide>      \r\n0\r\n\r\n",
        // A chunk may say more about itself, and fields may follow the last.
        "7;quay=north\r\n<tide/>\r\n0;end\r\n\r\n",
        "7\r\n<tide/>\r\n0\r\nDigest: none\r\n\r\n",
        // Line ends may have lost their carriage returns in a file.
        "7\n<tide/>\n0\n\n",
        // The last chunk may be missing where a capture was cut off.
        "7\r\n<tide/>\r\n",
        "7\r\n<tide/>",
        // And a tool may have put the chunks together already.
        "<tide/>",
        "<tide>\n  <height>4</height>\n</tide>\n",
    ] {
        assert!(is_tide(&chunked(body)), "{body:?}");
    }
}

#[test]
fn chunks_that_promise_more_than_there_is_give_what_there_is() {
    for size in ["ff", "7fffffffffffffff", "ffffffffffffffff"] {
        assert!(is_tide(&chunked(&format!("{size}\r\n<tide/>"))), "{size}");
    }
    // A size that is none is no chunk.
    assert!(!is_tide(&chunked("fathoms\r\n<tide/>\r\n0\r\n\r\n")));
    assert!(!is_tide(&chunked("-1\r\n<tide/>\r\n0\r\n\r\n")));
}

#[test]
fn lines_are_those_of_the_file() {
    let captured = chunked("b\r\n<tide>\n<hei\r\n10\r\nght/></tide>    \r\n0\r\n\r\n");
    let root = captured.file.root().unwrap();
    assert_eq!(captured.file.text().position(root.range().start as u32).line, 6);
}

#[test]
fn heads_are_read_with_whatever_case_and_folding_they_have() {
    let request = "POST /tides?day=2026-03-14 HTTP/1.1\r\nhost: tides.saltmere.example\r\nSOAPAction:\t\"next\"\r\nX-Note: first\r\n  and second\r\nno colon here\r\n\r\n";
    let captured = open(request.as_bytes());
    let target = "/tides?day=2026-03-14".to_owned();
    assert_eq!(captured.start, Some(Start::Request { method: "POST".into(), target }));
    assert_eq!(captured.headers.get("HOST"), Some("tides.saltmere.example"));
    assert_eq!(captured.headers.get("soapaction"), Some("\"next\""));
    assert_eq!(captured.headers.get("x-note"), Some("first and second"));
    assert_eq!(captured.headers.get("no colon here"), None);
}

#[test]
fn replies_may_come_without_words_and_by_other_versions() {
    for (line, status) in [
        ("HTTP/1.1 200 OK", 200),
        ("HTTP/1.0 500 Internal Server Error", 500),
        ("HTTP/2 202", 202),
        ("HTTP/1.1 404 ", 404),
    ] {
        let captured = open(format!("{line}\r\nContent-Type: text/xml\r\n\r\n<tide/>").as_bytes());
        assert_eq!(captured.start, Some(Start::Reply { status }), "{line}");
        assert!(is_tide(&captured), "{line}");
    }
}

fn coded(coding: &str, body: &[u8]) -> Captured {
    let head = format!(
        "HTTP/1.1 200 OK\r\nContent-Encoding: {coding}\r\nContent-Type: text/xml\r\nContent-Length: {}\r\n\r\n",
        body.len()
    );
    open(&[head.as_bytes(), body].concat())
}

#[test]
fn what_was_packed_is_unpacked() {
    let mut gzip = GzEncoder::new(Vec::new(), Compression::default());
    gzip.write_all(b"<tide/>").unwrap();
    assert!(is_tide(&coded("gzip", &gzip.finish().unwrap())));
    let mut zlib = ZlibEncoder::new(Vec::new(), Compression::default());
    zlib.write_all(b"<tide/>").unwrap();
    assert!(is_tide(&coded("deflate", &zlib.finish().unwrap())));
    assert!(is_tide(&coded("identity", b"<tide/>")));
}

#[test]
fn what_cannot_be_unpacked_says_so() {
    for coding in ["gzip", "deflate", "tides"] {
        let captured = coded(coding, b"\x00\x01\x02 no such thing");
        let fault = captured.fault.as_ref().unwrap_or_else(|| panic!("{coding}"));
        assert_eq!(fault.rule, "message-unreadable");
        assert!(fault.help.as_ref().unwrap().contains("before they were compressed"));
    }
}

#[test]
fn messages_that_follow_each_other_are_parted_by_length_or_by_their_first_lines() {
    let one = "POST /a HTTP/1.1\r\nContent-Length: 7\r\n\r\n<tide/>";
    let log = format!("\r\n{one}\r\n\r\nHTTP/1.1 200 OK\r\n\r\n<ebb/>\r\n{one}\r\n");
    let raw = split("log", log.as_bytes());
    assert_eq!(raw.iter().map(|it| it.label.as_str()).collect::<Vec<_>>(), ["log#1", "log#2", "log#3"]);
    let roots: Vec<String> = raw
        .iter()
        .map(|it| it.open().file.root().map_or_else(String::new, |root| root.tag_name().name().to_owned()))
        .collect();
    // Without a media type, what looks like XML is not taken for it.
    assert_eq!(roots.len(), 3);
    // What looks like a first line within a body of a known length is no message.
    let inner = "POST / HTTP/1.1\r\nContent-Length: 31\r\n\r\n<a>\nHTTP/1.1 200 OK\nmore text</a>";
    let inner = inner.replace("Content-Length: 31", "Content-Length: 33");
    assert_eq!(split("log", inner.as_bytes()).len(), 1);
}

#[test]
fn a_message_that_was_received_is_read_like_one_that_was_kept() {
    let mut gzip = GzEncoder::new(Vec::new(), Compression::default());
    gzip.write_all(b"<tide/>").unwrap();
    let fields =
        [("Content-Type", "text/xml"), ("Content-Encoding", "gzip"), ("Transfer-Encoding", "Chunked")];
    let packed = gzip.finish().unwrap();
    let body = [format!("{:x}\r\n", packed.len()).as_bytes(), &packed, b"\r\n0\r\n\r\n"].concat();
    let message =
        HttpMessage { start: Start::Reply { status: 200 }, headers: fields.into_iter().collect(), body };
    let kept = open(&message.to_bytes());
    let received = Captured::received("tide", message);
    assert!(is_tide(&kept) && is_tide(&received));
    assert_eq!((kept.start, kept.headers), (received.start, received.headers));
}

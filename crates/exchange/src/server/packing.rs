//! Packs a reply for its way, where the consumer takes it so (RFC 9110, section 12.5.3).

use std::io::Write;

use charter_message::http::{Headers, HttpMessage};
use flate2::Compression;
use flate2::write::GzEncoder;

/// What is shorter is not packed: it would hardly be shorter.
const WORTH_IT: usize = 1024;

/// Packs the body of a reply with gzip, if the request takes that.
pub(super) fn packed(mut reply: HttpMessage, request: &Headers) -> HttpMessage {
    let long = reply.body.len() >= WORTH_IT && reply.headers.get("Content-Encoding").is_none();
    if !long || !takes_gzip(request) {
        return reply;
    }
    let mut gzip = GzEncoder::new(Vec::with_capacity(reply.body.len() / 4), Compression::fast());
    let packed = gzip.write_all(&reply.body).and_then(|()| gzip.finish());
    if let Ok(packed) = packed {
        reply.body = packed;
        reply.headers.push("Content-Encoding", "gzip");
        reply.headers.push("Vary", "Accept-Encoding");
    }
    reply
}

fn takes_gzip(request: &Headers) -> bool {
    let codings = request.get("Accept-Encoding").unwrap_or_default().split(',');
    codings.into_iter().any(|coding| {
        let mut words = coding.split(';').map(str::trim);
        let name = words.next().unwrap_or_default();
        let refused = words.any(|word| {
            word.strip_prefix("q=").and_then(|q| q.parse::<f32>().ok()).is_some_and(|q| q <= 0.0)
        });
        name.eq_ignore_ascii_case("gzip") && !refused
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_a_consumer_takes_is_what_it_says() {
        let takes = |value: &str| takes_gzip(&[("Accept-Encoding", value)].into_iter().collect());
        for yes in ["gzip", "deflate, gzip", "GZIP;q=0.5", "br;q=1, gzip ; q=0.1"] {
            assert!(takes(yes), "{yes}");
        }
        for no in ["", "deflate", "gzip;q=0", "gzip; q=0.0", "identity"] {
            assert!(!takes(no), "{no}");
        }
    }
}

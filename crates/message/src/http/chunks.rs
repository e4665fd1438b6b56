//! Bodies that were sent in chunks (RFC 9112, section 7.1).

use httparse::{Status, parse_chunk_size};

use super::Content;

/// A line that says how large a chunk is holds no more than this.
const LONGEST_LINE: usize = 4096;

/// The chunks of a body, joined.
pub(super) fn joined(body: Vec<u8>) -> Content {
    let mut octets = Vec::new();
    let (mut at, mut begins) = (0, 0);
    while let Some((from, size)) = chunk(&body, at) {
        if size == 0 || from >= body.len() {
            return Content { octets, from: begins };
        }
        if octets.is_empty() {
            begins = from;
        }
        // What a capture holds may have been cut off: what is there is what there is.
        let to = from.saturating_add(size).min(body.len());
        octets.extend(&body[from..to]);
        at = line_end(&body, to);
    }
    // Whoever kept the message may have put the chunks together already.
    if octets.is_empty() { Content { octets: body, from: 0 } } else { Content { octets, from: begins } }
}

/// Behind the end of a line.
fn line_end(bytes: &[u8], at: usize) -> usize {
    memchr::memchr(b'\n', &bytes[at..]).map_or(bytes.len(), |end| at + end + 1)
}

/// Where the chunk begins whose size stands at an offset, and its size.
fn chunk(bytes: &[u8], at: usize) -> Option<(usize, usize)> {
    let end = at + memchr::memchr(b'\n', &bytes[at..])?;
    if end - at > LONGEST_LINE {
        return None;
    }
    // Line ends may have lost their carriage returns in a file.
    let line = [bytes[at..end].trim_ascii(), b"\r\n"].concat();
    let Ok(Status::Complete((_, size))) = parse_chunk_size(&line) else { return None };
    Some((end + 1, usize::try_from(size).unwrap_or(usize::MAX)))
}

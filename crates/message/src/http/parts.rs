//! The parts of a multipart body (RFC 2046, section 5.1).

use super::{Headers, after, fields};

/// A part: its header fields, and where in the body its content stands.
pub(crate) struct Part {
    pub(crate) headers: Headers,
    pub(crate) from: usize,
    pub(crate) to: usize,
}

impl Part {
    /// The name by which others speak of it (RFC 2392), without its angle brackets.
    pub(crate) fn id(&self) -> &str {
        bare(self.headers.get("Content-ID").unwrap_or_default())
    }
}

/// An identifier without its angle brackets.
pub(crate) fn bare(id: &str) -> &str {
    id.trim_matches(['<', '>', ' '])
}

/// The parts of a body, as the line between them says.
pub(crate) fn parts(body: &[u8], boundary: &str) -> Vec<Part> {
    let line = format!("--{boundary}");
    let mut found = Vec::new();
    let mut open: Option<usize> = None;
    let mut at = 0;
    while at < body.len() {
        let end = memchr::memchr(b'\n', &body[at..]).map_or(body.len(), |end| at + end + 1);
        if let Some(rest) = body[at..end].strip_prefix(line.as_bytes()) {
            if let Some(from) = open {
                let content = after(&body[..at], from);
                // The line end before the boundary belongs to the boundary.
                let mut to = at;
                for byte in [b'\n', b'\r'] {
                    if to > content && body[to - 1] == byte {
                        to -= 1;
                    }
                }
                found.push(Part { headers: fields(&body[from..content]), from: content, to });
            }
            open = (!rest.starts_with(b"--")).then_some(end);
        }
        at = end;
    }
    found
}

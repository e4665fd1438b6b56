//! Binary content that came in parts of its own (XOP 1.0; MTOM): it is put back where the root only includes it, so that
//! the message reads as if it had never been taken out.

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use charter_source::{FileId, Limits, Node, Text, Tree, ns};
use percent_encoding::percent_decode_str;

use super::Captured;
use crate::http::bare;

/// The media type of a root with such inclusions (XOP 1.0, section 4.1).
pub(super) const MEDIA_TYPE: &str = "application/xop+xml";

/// A message whose inclusions are filled from its attachments, which are used up by that. `lines` stand before its text.
pub(super) fn filled(mut captured: Captured, lines: usize) -> Captured {
    let Some(root) = captured.file.root() else { return captured };
    let mut used = vec![false; captured.attachments.len()];
    let mut pieces: Vec<(std::ops::Range<usize>, String)> = Vec::new();
    for include in root.descendants().filter(|node| node.has_tag_name((ns::XOP, "Include"))) {
        let part = href(include).and_then(|id| captured.attachments.iter().position(|part| part.id == id));
        if let Some(at) = part {
            used[at] = true;
            pieces.push((include.range(), STANDARD.encode(&captured.attachments[at].octets)));
        }
    }
    if pieces.is_empty() {
        return captured;
    }
    let old = captured.file.text().content();
    let mut text = String::with_capacity(old.len());
    let mut from = 0;
    for (range, content) in pieces {
        // One inside another is no inclusion of its own.
        if range.start >= from {
            text.push_str(&old[from..range.start]);
            text.push_str(&content);
            from = range.end;
        }
    }
    text.push_str(&old[from..]);
    let text = Text::from(text.as_str()).behind_lines(lines);
    let (tree, fault) = Tree::parse(text, FileId(0), Limits::default().depth);
    captured.file.tree = tree;
    captured.fault = fault;
    let mut used = used.into_iter();
    captured.attachments.retain(|_| !used.next().unwrap_or(false));
    captured
}

/// The name of the part that is included (XOP 1.0, section 2.1; RFC 2392).
fn href(include: Node<'_>) -> Option<String> {
    let id = include.attribute("href")?.trim().strip_prefix("cid:")?;
    Some(bare(&percent_decode_str(id).decode_utf8_lossy()).to_owned())
}

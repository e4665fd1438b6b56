//! The markup in a stretch of XML as it is written: for looking at a piece of a file without a tree of its own. Whether it is
//! well-formed is not asked.

use std::ops::Range;

/// What a piece of markup is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum MarkupKind {
    /// A start tag, which may be that of an empty element.
    Start,
    /// The tag of an element without content.
    Empty,
    /// An end tag.
    End,
    /// A comment, a section of character data, a processing instruction or a declaration.
    Other,
}

/// A piece of markup.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Markup {
    /// What it is.
    pub kind: MarkupKind,
    /// Where it stands in the stretch, its brackets included.
    pub range: Range<usize>,
    /// Whether it ends in the stretch.
    pub ends: bool,
}

/// The markup of a stretch, in order.
///
/// ```
/// use charter_source::xml::{MarkupKind, markup};
///
/// let text = "<a b='1 > 0'><!-- <c/> --><d/></a>";
/// let pieces: Vec<&str> = markup(text).map(|piece| &text[piece.range]).collect();
/// assert_eq!(pieces, ["<a b='1 > 0'>", "<!-- <c/> -->", "<d/>", "</a>"]);
/// assert_eq!(markup(text).nth(2).unwrap().kind, MarkupKind::Empty);
/// ```
pub fn markup(text: &str) -> impl Iterator<Item = Markup> {
    let mut at = 0;
    std::iter::from_fn(move || {
        let begin = at + memchr::memchr(b'<', &text.as_bytes()[at..])?;
        let piece = piece(text, begin);
        at = piece.range.end;
        Some(piece)
    })
}

/// What begins with something other than a name, and how it ends.
const OTHERS: [(&str, &str); 4] = [("<!--", "-->"), ("<![CDATA[", "]]>"), ("<?", "?>"), ("<!", ">")];

fn piece(text: &str, begin: usize) -> Markup {
    let rest = &text[begin..];
    let (kind, length) = match OTHERS.iter().find(|(opening, _)| rest.starts_with(opening)) {
        Some((opening, end)) => {
            let found = rest[opening.len()..].find(end);
            (MarkupKind::Other, found.map(|at| opening.len() + at + end.len()))
        }
        None if rest.starts_with("</") => (MarkupKind::End, rest.find('>').map(|at| at + 1)),
        None => {
            let length = tag_length(rest);
            let is_empty = length.is_some_and(|length| rest[..length].ends_with("/>"));
            (if is_empty { MarkupKind::Empty } else { MarkupKind::Start }, length)
        }
    };
    Markup { kind, range: begin..begin + length.unwrap_or(rest.len()), ends: length.is_some() }
}

/// How long a start tag is: a bracket in a value does not end it.
fn tag_length(text: &str) -> Option<usize> {
    let mut quote = None;
    for (at, byte) in text.bytes().enumerate() {
        match (quote, byte) {
            (None, b'"' | b'\'') => quote = Some(byte),
            (Some(open), byte) if open == byte => quote = None,
            (None, b'>') => return Some(at + 1),
            _ => {}
        }
    }
    None
}

#[cfg(test)]
mod tests {
    use super::*;

    fn kinds(text: &str) -> Vec<(MarkupKind, &str, bool)> {
        markup(text).map(|piece| (piece.kind, &text[piece.range], piece.ends)).collect()
    }

    #[test]
    fn every_kind_is_told() {
        let text = "a <?x >?><!DOCTYPE b><b c=\"</b>\">text<![CDATA[<no>]]></b ><!---->";
        let found = kinds(text);
        assert_eq!(found[0], (MarkupKind::Other, "<?x >?>", true));
        assert_eq!(found[1], (MarkupKind::Other, "<!DOCTYPE b>", true));
        assert_eq!(found[2], (MarkupKind::Start, "<b c=\"</b>\">", true));
        assert_eq!(found[3], (MarkupKind::Other, "<![CDATA[<no>]]>", true));
        assert_eq!(found[4], (MarkupKind::End, "</b >", true));
        assert_eq!(found[5], (MarkupKind::Other, "<!---->", true));
        assert_eq!(found.len(), 6);
    }

    #[test]
    fn what_is_cut_off_goes_to_the_end() {
        for text in
            ["<", "<a", "<a b='", "<a b='>", "<!--", "<!-- ->", "</", "</a", "<?x", "<![CDATA[]]", "<!x"]
        {
            let found = kinds(text);
            assert_eq!(found.len(), 1, "{text}");
            assert_eq!((found[0].1, found[0].2), (text, false));
        }
        assert!(kinds("no markup at all > here").is_empty());
    }
}

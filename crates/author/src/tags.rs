//! The tags of a stretch of XML as they are written: for looking at a piece of a file without a tree of its own.

use charter_source::xml::{MarkupKind, markup};

/// A start tag.
pub(crate) struct Tag<'t> {
    /// Its local name.
    pub local: &'t str,
    /// The local name of the element around it, if that is in the stretch.
    pub around: Option<&'t str>,
    text: &'t str,
}

/// An attribute of a start tag: its name, and where its value stands, counted from the `<`.
pub(crate) struct Written<'t> {
    pub name: &'t str,
    pub value: (usize, usize),
}

impl<'t> Tag<'t> {
    /// The attributes with their values as they are written, declarations of prefixes included.
    pub fn attributes(&self) -> impl Iterator<Item = (&'t str, &'t str)> {
        let text = self.text;
        Attributes::of(text).map(move |it| (it.name, &text[it.value.0..it.value.1]))
    }
}

/// The attributes of the start tag that a text begins with.
pub(crate) struct Attributes<'t> {
    text: &'t str,
    at: usize,
}

impl<'t> Attributes<'t> {
    pub fn of(text: &'t str) -> Self {
        let ends = |byte: &u8| byte.is_ascii_whitespace() || matches!(byte, b'>' | b'/');
        let name = text.as_bytes().iter().skip(1).position(ends).map_or(text.len(), |at| at + 1);
        Attributes { text, at: name }
    }
}

impl<'t> Iterator for Attributes<'t> {
    type Item = Written<'t>;

    fn next(&mut self) -> Option<Written<'t>> {
        let rest = &self.text[self.at..];
        let begin = self.at + rest.len() - rest.trim_start().len();
        self.at = begin;
        let rest = &self.text[begin..];
        if rest.is_empty() || rest.starts_with(['>', '/']) {
            return None;
        }
        let equals = rest.find('=')?;
        let quote = equals + 1 + rest[equals + 1..].find(['"', '\''])?;
        let length = rest[quote + 1..].find(&rest[quote..=quote])?;
        let value = (begin + quote + 1, begin + quote + 1 + length);
        self.at = value.1 + 1;
        Some(Written { name: rest[..equals].trim(), value })
    }
}

/// The start tags of a stretch of well-formed XML, in order. Comments and the like are passed over.
pub(crate) fn tags(text: &str) -> impl Iterator<Item = Tag<'_>> {
    let mut open: Vec<&str> = Vec::new();
    markup(text).filter_map(move |piece| {
        let text = &text[piece.range];
        let around = open.last().copied();
        match piece.kind {
            MarkupKind::Other => None,
            MarkupKind::End => {
                open.pop();
                None
            }
            MarkupKind::Start | MarkupKind::Empty => {
                let local = local(&text[1..Attributes::of(text).at]);
                if piece.kind == MarkupKind::Start {
                    open.push(local);
                }
                Some(Tag { local, around, text })
            }
        }
    })
}

/// A name without its prefix.
pub(crate) fn local(name: &str) -> &str {
    name.rsplit_once(':').map_or(name, |(_, local)| local)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn tags_are_found_with_what_is_around_them() {
        let text =
            "<!-- <no/> --><s:a x='1 > 0' xmlns:s=\"u\"><b\n y = '2'/><![CDATA[<no>]]><c></c></s:a><d/>";
        let found: Vec<_> = tags(text).map(|tag| (tag.local, tag.around)).collect();
        assert_eq!(found, [("a", None), ("b", Some("a")), ("c", Some("a")), ("d", None)]);
        let attributes: Vec<_> = tags(text).flat_map(|tag| tag.attributes().collect::<Vec<_>>()).collect();
        assert_eq!(attributes, [("x", "1 > 0"), ("xmlns:s", "u"), ("y", "2")]);
    }

    #[test]
    fn what_is_cut_off_ends_the_tags() {
        for text in ["<", "<a", "<a b", "<a b=", "<a b='", "<!--", "</", "<a b='1'", "<?x"] {
            assert!(tags(text).count() <= 1, "{text}");
        }
    }
}

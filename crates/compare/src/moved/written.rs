//! Where a namespace is written in a text.

use charter_source::Span;
use charter_source::xml::{Escape, escaped};

/// Where a namespace stands in a text, alone in quotes or in a list.
pub(super) fn written_as<'t>(text: &'t str, namespace: &str) -> impl Iterator<Item = Span> + use<'t> {
    let written = escaped(namespace, Escape::Value('"'));
    let length = written.len();
    let found: Vec<usize> = text.match_indices(&*written).map(|(at, _)| at).collect();
    let ends = |byte: Option<&u8>| {
        byte.is_some_and(|byte| byte.is_ascii_whitespace() || matches!(byte, b'"' | b'\''))
    };
    let stands = move |at: &usize| {
        let bytes = text.as_bytes();
        *at > 0 && ends(bytes.get(at - 1)) && ends(bytes.get(at + length))
    };
    found.into_iter().filter(stands).map(move |at| Span::new(at, at + length))
}

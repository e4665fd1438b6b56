//! Text as it is written in XML.

/// Where text is to stand.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Escape {
    /// Between tags.
    Text,
    /// Between tags, on one line: no layout moves its line breaks.
    Line,
    /// In an attribute, within this quotation mark.
    Value(char),
}

/// Text as it is written in XML so that reading gives the same text back: line ends and the white space of attributes
/// too, which readers change (XML 1.0, sections 2.11 and 3.3.3).
///
/// ```
/// use charter_source::xml::{Escape, escaped};
///
/// assert_eq!(escaped("north & \"south\"\n", Escape::Text), "north &amp; \"south\"\n");
/// assert_eq!(escaped("north & \"south\"\n", Escape::Value('"')), "north &amp; &quot;south&quot;&#10;");
/// ```
pub fn escaped(text: &str, place: Escape) -> String {
    let quote = match place {
        Escape::Value(quote) => Some(quote),
        Escape::Text | Escape::Line => None,
    };
    let mut result = String::with_capacity(text.len());
    for c in text.chars() {
        match c {
            '&' => result.push_str("&amp;"),
            '<' => result.push_str("&lt;"),
            '>' if quote.is_none() => result.push_str("&gt;"),
            '"' if quote == Some('"') => result.push_str("&quot;"),
            '\'' if quote == Some('\'') => result.push_str("&apos;"),
            '\n' if place != Escape::Text => result.push_str("&#10;"),
            '\t' if quote.is_some() => result.push_str("&#9;"),
            '\r' => result.push_str("&#13;"),
            other => result.push(other),
        }
    }
    result
}

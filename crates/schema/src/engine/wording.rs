//! Values and names as they are spoken of.

/// How many listed values are shown.
pub(super) const LISTED: usize = 8;
/// How much of a value is shown.
const LONGEST: usize = 60;

/// A value in quotes, cut if it is long.
pub(crate) fn quoted(text: &str) -> String {
    match text.char_indices().nth(LONGEST) {
        Some((at, _)) => format!("\"{}…\"", &text[..at]),
        None => format!("\"{text}\""),
    }
}

/// Values in quotes, with commas, no more than a few.
pub(crate) fn shown<'t>(texts: impl Iterator<Item = &'t str>, count: usize) -> String {
    let first: Vec<String> = texts.take(LISTED).map(quoted).collect();
    let more = count.saturating_sub(LISTED);
    if more > 0 { format!("{} and {more} more", first.join(", ")) } else { first.join(", ") }
}

/// A noun with its article.
pub(crate) fn article(name: &str) -> String {
    let vowel = name.starts_with(['a', 'e', 'i', 'o', 'A', 'E', 'I', 'O']);
    format!("{} {name}", if vowel { "an" } else { "a" })
}

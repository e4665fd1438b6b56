//! Characters that act instead of standing there, and what is shown of them.

use std::borrow::Cow;

/// What is shown of a character that would do something instead of standing there: move the cursor of a terminal, begin a
/// command of it, turn the direction of the text. `None` for every other, and for the end of a line and tabs.
///
/// ```
/// assert_eq!(charter_source::picture('\u{1B}').as_deref(), Some("␛"));
/// assert_eq!(charter_source::picture('\u{202E}').as_deref(), Some("‹U+202E›"));
/// assert_eq!(charter_source::picture('é'), None);
/// ```
pub fn picture(c: char) -> Option<String> {
    match c {
        '\t' | '\n' => None,
        '\u{0}'..='\u{1F}' => char::from_u32(0x2400 + c as u32).map(String::from),
        '\u{7F}' => Some('\u{2421}'.to_string()),
        '\u{80}'..='\u{9F}'
        | '\u{61C}'
        | '\u{200E}'
        | '\u{200F}'
        | '\u{2028}'..='\u{202E}'
        | '\u{2066}'..='\u{2069}' => Some(format!("‹U+{:04X}›", c as u32)),
        _ => None,
    }
}

/// A text in which nothing acts. Lines end with a line feed alone.
///
/// ```
/// assert_eq!(charter_source::pictured("fog\r\non \u{1B}[31mthe\0 reach"), "fog\non ␛[31mthe␀ reach");
/// ```
pub fn pictured(text: &str) -> Cow<'_, str> {
    if !text.chars().any(|c| picture(c).is_some()) {
        return Cow::Borrowed(text);
    }
    let mut result = String::with_capacity(text.len() + 16);
    for c in text.replace("\r\n", "\n").chars() {
        match picture(c) {
            Some(picture) => result.push_str(&picture),
            None => result.push(c),
        }
    }
    Cow::Owned(result)
}

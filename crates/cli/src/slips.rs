//! What is wrong in a text of notation, with its line and a mark under the place.

use charter_notation::NotationError;
use charter_source::Text;

use crate::{findings, paint};

/// How many errors of a text are shown: whoever mends these sees the others next.
const SHOWN: usize = 20;
/// How wide a line of a text is shown at most.
const WIDE: usize = 100;

/// Errors of the notation, each with its line and a mark under the place. A text of which nothing could be read is something
/// else, and none of it is shown.
pub fn errors_in_file(name: &str, text: &str, errors: &[NotationError]) -> String {
    let begins = (text.len() - text.trim_start().len()) as u32;
    match errors.first() {
        Some(first) if first.span.start <= begins => {
            let first = NotationError { message: "this is no notation".to_owned(), ..first.clone() };
            errors_with(name, text, &[first], false)
        }
        _ => errors_shown(name, text, errors),
    }
}

/// The same of a text that was typed here and now.
pub fn errors_shown(name: &str, text: &str, errors: &[NotationError]) -> String {
    errors_with(name, text, errors, true)
}

fn errors_with(name: &str, text: &str, errors: &[NotationError], excerpts: bool) -> String {
    let source = Text::from(text);
    let mut shown = String::new();
    for error in &errors[..errors.len().min(SHOWN)] {
        let position = source.position(error.span.start);
        let message = &error.message;
        let place = format!("{name}:{}:{}", position.line, position.column);
        shown.push_str(&format!("{} {place}: {message}\n", paint::error("charter:")));
        let excerpt = findings::Excerpt::of(text, error.span.range(), WIDE).filter(|_| excerpts);
        if let Some(excerpt) = excerpt {
            shown.push_str(&format!("         | {}\n", excerpt.line));
            let marks = "^".repeat(excerpt.marked.max(1));
            shown.push_str(&format!("         | {}{marks}\n", " ".repeat(excerpt.before)));
        }
        if let Some(help) = &error.help {
            shown.push_str(&format!("         {help}\n"));
        }
    }
    if errors.len() > SHOWN {
        shown.push_str(&format!("         and {} more\n", errors.len() - SHOWN));
    }
    shown
}

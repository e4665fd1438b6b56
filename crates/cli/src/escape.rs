//! Text of others within the formats that we write: each format has its one function here, and nothing else puts such text
//! into it. JSON is escaped by its writer.

use charter_source::pictured;
use minijinja::{Environment, Value};

use crate::paint;

/// A page in HTML: a template of ours with values that it escapes.
pub fn page(template: &str, values: Value) -> String {
    let mut environment = Environment::new();
    environment.set_trim_blocks(true);
    environment.set_lstrip_blocks(true);
    // The name says how values are escaped. The template is part of the program, and every test of its page would fail with it.
    let made = environment.render_named_str("page.html", template, values);
    made.map_or_else(|error| error.to_string(), |page| pictured(&page).into_owned())
}

/// Text or the value of an attribute in XML. What has no place there, escaped or not, is shown as what it is.
pub fn xml(text: &str) -> String {
    let mut result = String::with_capacity(text.len());
    for c in text.chars() {
        match c {
            '&' => result.push_str("&amp;"),
            '<' => result.push_str("&lt;"),
            '>' => result.push_str("&gt;"),
            '"' => result.push_str("&quot;"),
            '\u{FFFE}' | '\u{FFFF}' => result.push('\u{FFFD}'),
            c => match paint::picture(c) {
                Some(picture) => result.push_str(&picture),
                None => result.push(c),
            },
        }
    }
    result
}

/// Words in Markdown, in which nothing means anything to it, in one line.
pub fn markdown(text: &str) -> String {
    let mut result = String::with_capacity(text.len());
    for c in text.chars() {
        match c {
            '<' => result.push_str("&lt;"),
            '&' => result.push_str("&amp;"),
            '*' | '_' | '`' | '[' | ']' | '\\' | '|' | '#' | '~' => result.extend(['\\', c]),
            '\n' | '\r' => result.push(' '),
            c => match paint::picture(c) {
                Some(picture) => result.push_str(&picture),
                None => result.push(c),
            },
        }
    }
    result
}

/// A piece of code within a line of Markdown.
pub fn code(text: &str) -> String {
    let text = paint::plain(text).replace(['\n', '\r'], " ");
    let mark = "`".repeat(longest_run(&text) + 1);
    let gap = if text.starts_with('`') || text.ends_with('`') { " " } else { "" };
    format!("{mark}{gap}{text}{gap}{mark}")
}

/// A block of code in Markdown, in a language, each line behind the indent.
pub fn block(language: &str, text: &str, indent: &str) -> String {
    let text = paint::plain(text);
    let fence = "`".repeat(longest_run(&text).max(2) + 1);
    let lines: String = text.lines().map(|line| format!("{indent}{line}\n")).collect();
    format!("{indent}{fence}{language}\n{lines}{indent}{fence}\n")
}

/// The most backticks that stand side by side.
fn longest_run(text: &str) -> usize {
    text.split(|c| c != '`').map(str::len).max().unwrap_or(0)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn nothing_gets_out_of_what_it_stands_in() {
        assert_eq!(xml("<a b=\"&\">\u{1b}\u{202e}"), "&lt;a b=&quot;&amp;&quot;&gt;␛‹U+202E›");
        assert_eq!(markdown("<b>*x* [y](z)\n# h | `c`"), "&lt;b>\\*x\\* \\[y\\](z) \\# h \\| \\`c\\`");
        assert_eq!(code("a"), "`a`");
        assert_eq!(code("`a``b`"), "``` `a``b` ```");
        assert_eq!(code("a\n\nb"), "`a  b`");
        assert_eq!(block("diff", "a\n```\nb", "  "), "  ````diff\n  a\n  ```\n  b\n  ````\n");
    }
}

//! Colours: few, each with one meaning.

pub use charter_source::picture;
use std::sync::OnceLock;

use anstyle::{AnsiColor, Style};
use charter_compare::Verdict;
use charter_source::xml::markup;

/// What a stretch of text is.
#[derive(Debug, Clone, Copy)]
enum Tone {
    Error,
    Warning,
    Good,
    Path,
    Faint,
    Strong,
    Removed,
    Added,
}

const ERROR: Tone = Tone::Error;
const WARNING: Tone = Tone::Warning;
const GOOD: Tone = Tone::Good;
const PATH: Tone = Tone::Path;
const FAINT: Tone = Tone::Faint;
const STRONG: Tone = Tone::Strong;
const REMOVED: Tone = Tone::Removed;
const ADDED: Tone = Tone::Added;

impl Tone {
    /// Every tone, with the letter that stands for it in a mark.
    const ALL: [(char, Tone); 8] = [
        ('e', ERROR),
        ('w', WARNING),
        ('g', GOOD),
        ('p', PATH),
        ('f', FAINT),
        ('s', STRONG),
        ('r', REMOVED),
        ('a', ADDED),
    ];

    fn letter(self) -> char {
        let same = |it: &&(char, Tone)| std::mem::discriminant(&it.1) == std::mem::discriminant(&self);
        Tone::ALL.iter().find(same).map_or('s', |(letter, _)| *letter)
    }

    fn style(self) -> Style {
        match self {
            Tone::Error => AnsiColor::Red.on_default().bold(),
            Tone::Warning => AnsiColor::Yellow.on_default().bold(),
            Tone::Good => AnsiColor::Green.on_default().bold(),
            Tone::Path => AnsiColor::Cyan.on_default(),
            Tone::Faint => Style::new().dimmed(),
            Tone::Strong => Style::new().bold(),
            Tone::Removed => AnsiColor::Red.on_default(),
            Tone::Added => AnsiColor::Green.on_default(),
        }
    }
}

/// The letter of the mark that ends a tone.
const END: char = '.';

/// What every mark begins with: no character of a text, and then something that nobody can foresee, so that a text of
/// others cannot hold it.
fn mark() -> &'static str {
    static MARK: OnceLock<String> = OnceLock::new();
    MARK.get_or_init(|| format!("{}{:08x}", '\u{FDD0}', uuid::Uuid::new_v4().as_fields().0))
}

fn styled(tone: Tone, text: &str) -> String {
    let mark = mark();
    format!("{mark}{}{text}{mark}{END}", tone.letter())
}

/// How a text is written out.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Manner {
    /// With colours.
    pub colors: bool,
    /// For eyes: characters that would do something to a terminal are shown as what they are.
    pub shown: bool,
}

/// A text as it is written out: marks become colours or go, and what would do something to a terminal is shown.
pub fn written(text: &str, manner: Manner) -> String {
    let mark = mark();
    let mut result = String::with_capacity(text.len());
    let mut rest = text;
    while let Some(at) = rest.bytes().position(is_suspect) {
        result.push_str(&rest[..at]);
        rest = &rest[at..];
        if let Some(marked) = rest.strip_prefix(mark) {
            let letter = marked.chars().next().unwrap_or(END);
            if manner.colors {
                let tone = Tone::ALL.iter().find(|(known, _)| *known == letter);
                match tone {
                    Some((_, tone)) => result.push_str(&tone.style().render().to_string()),
                    None => result.push_str(&anstyle::Reset.render().to_string()),
                }
            }
            rest = marked.get(letter.len_utf8()..).unwrap_or("");
            continue;
        }
        let Some(c) = rest.chars().next() else { break };
        rest = &rest[c.len_utf8()..];
        match picture(c).filter(|_| manner.shown && !(c == '\r' && rest.starts_with('\n'))) {
            Some(picture) => result.push_str(&picture),
            None => result.push(c),
        }
    }
    result.push_str(rest);
    result
}

/// A text without marks, as the eye is to see it.
pub fn plain(text: &str) -> String {
    written(text, Manner { colors: false, shown: true })
}

/// Whether a byte may begin a mark, or a character that has a picture.
fn is_suspect(byte: u8) -> bool {
    matches!(byte, 0x00..=0x08 | 0x0B..=0x1F | 0x7F | 0xC2 | 0xD8 | 0xE2 | 0xEF)
}

/// Something wrong.
pub fn error(text: &str) -> String {
    styled(ERROR, text)
}

/// Something doubtful.
pub fn warning(text: &str) -> String {
    styled(WARNING, text)
}

/// Something worth knowing.
pub fn note(text: &str) -> String {
    styled(PATH, text)
}

/// Something right.
pub fn good(text: &str) -> String {
    styled(GOOD, text)
}

/// A component path.
pub fn path(text: &str) -> String {
    styled(PATH, text)
}

/// Something beside the point.
pub fn faint(text: &str) -> String {
    styled(FAINT, text)
}

/// A heading.
pub fn strong(text: &str) -> String {
    styled(STRONG, text)
}

/// What stood there before.
pub fn removed(text: &str) -> String {
    styled(REMOVED, text)
}

/// What stands there now.
pub fn added(text: &str) -> String {
    styled(ADDED, text)
}

/// A verdict, as wide as the widest.
pub fn verdict(verdict: Verdict) -> String {
    let text = format!("{:6}", verdict.name());
    match verdict {
        Verdict::Keeps => good(&text),
        Verdict::Bends => warning(&text),
        Verdict::Breaks => error(&text),
    }
}

/// The line under what is wrong.
pub fn underlined(level: charter_check::Level, text: &str) -> String {
    match level {
        charter_check::Level::Error => error(text),
        charter_check::Level::Warning => warning(text),
        charter_check::Level::Note => note(text),
    }
}

/// XML: the markup steps back behind what it holds.
pub fn xml(text: &str) -> String {
    let mut result = String::with_capacity(text.len() * 2);
    let mut written = 0;
    for piece in markup(text) {
        result.push_str(&text[written..piece.range.start]);
        result.push_str(&faint(&text[piece.range.clone()]));
        written = piece.range.end;
    }
    result + &text[written..]
}

/// A unified diff.
pub fn diff(text: &str) -> String {
    let line = |line: &str| match line.as_bytes().first() {
        Some(b'-') if !line.starts_with("---") => removed(line),
        Some(b'+') if !line.starts_with("+++") => added(line),
        Some(b'@') => path(line),
        _ => line.to_owned(),
    };
    text.split_inclusive('\n')
        .map(|full| match full.strip_suffix('\n') {
            Some(body) => line(body) + "\n",
            None => line(full),
        })
        .collect()
}

/// The notation: names of components stand out, what is quoted steps back.
pub fn notation(text: &str) -> String {
    const WORDS: [&str; 17] = [
        "abstract",
        "attribute",
        "attributes",
        "binding",
        "contract",
        "element",
        "fault",
        "group",
        "message",
        "mixed",
        "operation",
        "port",
        "port-type",
        "prefix",
        "schema",
        "service",
        "type",
    ];
    let mut result = String::with_capacity(text.len() * 2);
    for line in text.split_inclusive('\n') {
        let indent = line.len() - line.trim_start().len();
        let rest = &line[indent..];
        result.push_str(&line[..indent]);
        let word = rest.split([' ', '\n']).next().unwrap_or("");
        let rest = if WORDS.contains(&word) {
            result.push_str(&styled(PATH, word));
            &rest[word.len()..]
        } else {
            rest
        };
        let mut quoted = false;
        for piece in rest.split_inclusive('"') {
            let (style, ends) = (quoted, piece.ends_with('"'));
            if style {
                result.push_str(&styled(ADDED, piece));
            } else if ends {
                result.push_str(&piece[..piece.len() - 1]);
                result.push_str(&styled(ADDED, "\""));
            } else {
                result.push_str(piece);
            }
            quoted ^= ends;
        }
    }
    result
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn colours_are_ours_alone_and_everything_else_is_shown() {
        let text = format!("{} \u{1b}[31mred\u{9b}2J \u{202e}evil\r\u{7f}\tü\r\n", path("type/Vessel"));
        let bare = "type/Vessel ␛[31mred‹U+009B›2J ‹U+202E›evil␍␡\tü\r\n";
        assert_eq!(plain(&text), bare);
        let colored = written(&text, Manner { colors: true, shown: true });
        assert_eq!(colored.matches('\u{1b}').count(), 2, "{colored:?}");
        assert_eq!(anstream::adapter::strip_str(&colored).to_string(), bare);
        // Data keeps every character of its own.
        let data = written(&text, Manner { colors: false, shown: false });
        assert_eq!(data, "type/Vessel \u{1b}[31mred\u{9b}2J \u{202e}evil\r\u{7f}\tü\r\n");
    }

    #[test]
    fn a_mark_that_somebody_else_wrote_is_text() {
        assert_eq!(plain("\u{FDD0}00000000e"), "\u{FDD0}00000000e");
    }
}

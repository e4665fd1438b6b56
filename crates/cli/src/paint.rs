//! Colours: few, each with one meaning.

use anstyle::{AnsiColor, Style};
use charter_compare::Verdict;

const ERROR: Style = AnsiColor::Red.on_default().bold();
const WARNING: Style = AnsiColor::Yellow.on_default().bold();
const GOOD: Style = AnsiColor::Green.on_default().bold();
const PATH: Style = AnsiColor::Cyan.on_default();
const FAINT: Style = Style::new().dimmed();
const STRONG: Style = Style::new().bold();
const REMOVED: Style = AnsiColor::Red.on_default();
const ADDED: Style = AnsiColor::Green.on_default();

fn styled(style: Style, text: &str) -> String {
    format!("{style}{text}{style:#}")
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
    let mut rest = text;
    while let Some(open) = rest.find('<') {
        let close = rest[open..].find('>').map_or(rest.len(), |at| open + at + 1);
        result.push_str(&rest[..open]);
        result.push_str(&faint(&rest[open..close]));
        rest = &rest[close..];
    }
    result + rest
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
